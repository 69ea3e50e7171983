// Coverage-guided fuzzing (libFuzzer) of the readers of files that come from outside; the environment's PECORRA_FUZZ
// names the format. Whatever comes in, the reader answers: no crash, no hang, no memory beyond the limit that
// tools/fuzz/run states.
#include <sys/mman.h>
#include <unistd.h>
#include <zlib.h>
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>
#include <vector>

#include "core/library/cutter_rows.h"
#include "formats/documents/form_sheet.h"
#include "formats/dxf/dxf_reader.h"
#include "formats/json/library_file.h"
#include "formats/mtconnect/assets.h"
#include "formats/sheet/sheet_file.h"
#include "formats/svg/svg_reader.h"
#include "fuzz_target.h"

using namespace pecorra;

namespace {

void read_as_cutters(const Sheet& sheet) {
  const CutterSheetForm form = guess_columns(sheet);
  if (form.headed) read_cutter_sheet(sheet, form, UnitSystem::metric, {});
}

// What is read has to be written and read again: a reader that takes what its writer cannot say loses it later.
void read_json(std::string_view text) {
  const auto read = read_library(text);
  if (!read) return;
  LibraryFile right = read->file;
  std::vector<Cutter> cutters;
  for (std::size_t i = 0; i < right.cutters.size(); ++i)
    if (read->faults[i].empty()) cutters.push_back(right.cutters[i]);
  right.cutters = std::move(cutters);
  if (!read_library(library_text(right))) std::abort();
}

void number(std::string& out, std::uint32_t value, int bytes) {
  for (int i = 0; i < bytes; ++i) out += static_cast<char>(value >> 8 * i);
}

// An archive without compression: changed bytes reach the reader of the parts.
std::string archive_of(const std::vector<std::pair<std::string, std::string>>& parts) {
  std::string out, directory;
  for (const auto& [name, text] : parts) {
    std::string head;
    number(head, 0, 2), number(head, 0, 2), number(head, 0, 4);
    number(head,
           static_cast<std::uint32_t>(
               crc32(0, reinterpret_cast<const Bytef*>(text.data()), static_cast<uInt>(text.size()))),
           4);
    number(head, static_cast<std::uint32_t>(text.size()), 4), number(head, static_cast<std::uint32_t>(text.size()), 4),
        number(head, static_cast<std::uint32_t>(name.size()), 2), number(head, 0, 2);
    directory += std::string("PK\1\2\24\0\24\0", 8) + head;
    number(directory, 0, 2), number(directory, 0, 2), number(directory, 0, 2), number(directory, 0, 4),
        number(directory, static_cast<std::uint32_t>(out.size()), 4);
    directory += name;
    out += std::string("PK\3\4\24\0", 6) + head + name + text;
  }
  const auto start = static_cast<std::uint32_t>(out.size()), count = static_cast<std::uint32_t>(parts.size());
  out += directory + std::string("PK\5\6\0\0\0\0", 8);
  number(out, count, 2), number(out, count, 2), number(out, static_cast<std::uint32_t>(directory.size()), 4),
      number(out, start, 4), number(out, 0, 2);
  return out;
}

void read_workbook(std::string_view bytes) {
  static const int file = memfd_create("workbook", 0);
  const auto read = [](std::string_view content) {
    if (ftruncate(file, 0) != 0 || pwrite(file, content.data(), content.size(), 0) < 0) return;
    if (const auto sheet = read_xlsx("/proc/self/fd/" + std::to_string(file))) read_as_cutters(*sheet);
  };
  if (bytes.starts_with("PK")) return read(bytes);
  // Texts of the parts, behind each other with a line of their own between.
  std::vector<std::string> texts(1);
  constexpr std::string_view between = "\n====\n";
  for (std::size_t at; (at = bytes.find(between)) != std::string_view::npos; bytes.remove_prefix(at + between.size())) {
    texts.back() = bytes.substr(0, at);
    texts.emplace_back();
  }
  texts.back() = bytes;
  texts.resize(5);
  read(archive_of(
      {{"xl/worksheets/sheet1.xml", texts[0]},
       {"xl/sharedStrings.xml", texts[1]},
       {"xl/styles.xml", texts[2]},
       {"xl/workbook.xml",
        texts[3].empty() ? "<workbook><sheets><sheet name=\"A\" r:id=\"rId1\"/></sheets></workbook>" : texts[3]},
       {"xl/_rels/workbook.xml.rels",
        texts[4].empty() ? "<Relationships><Relationship Id=\"rId1\" Target=\"worksheets/sheet1.xml\"/></Relationships>"
                         : texts[4]}}));
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const FuzzTarget target = fuzz_target({
      {"json", read_json},
      {"csv",
       [](std::string_view text) {
         if (const auto sheet = read_csv(text)) read_as_cutters(*sheet);
       }},
      {"xlsx", read_workbook},
      {"xml", [](std::string_view text) { read_mtconnect(text); }},
      {"dxf", [](std::string_view text) { read_dxf(std::string(text)); }},
      {"svg", [](std::string_view text) { read_svg(text); }},
      {"pdf",
       [](std::string_view text) {
         if (const auto sheet = read_pdf_form(text)) read_as_cutters(*sheet);
       }},
  });
  target({reinterpret_cast<const char*>(data), size});
  return 0;
}
