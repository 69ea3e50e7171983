#include <minizip/unzip.h>

#include <fmt/format.h>
#include <charconv>
#include <chrono>
#include <cmath>
#include <optional>
#include <pugixml.hpp>
#include <set>

#include "core/base/whole.h"
#include "formats/documents/documents.h"
#include "formats/encoding.h"
#include "formats/sheet/sheet_file.h"

namespace pecorra {
namespace {

constexpr std::uint64_t most_bytes = 200u << 20;
constexpr std::size_t most_cells = 5'000'000;
constexpr int last_column = 16384, last_row = 1'048'576;  // XFD

class Archive {
 public:
  explicit Archive(const std::string& file) : zip_(unzOpen64(file.c_str())) {}
  ~Archive() {
    if (zip_) unzClose(zip_);
  }
  Archive(const Archive&) = delete;
  Archive& operator=(const Archive&) = delete;
  bool is_open() const { return zip_ != nullptr; }
  // Nothing where there is no such part; too large ones and all after them are not unpacked.
  std::optional<std::string> part(const std::string& name) {
    if (unzLocateFile(zip_, name.c_str(), 0) != UNZ_OK) return std::nullopt;
    unz_file_info64 info{};
    if (unzGetCurrentFileInfo64(zip_, &info, nullptr, 0, nullptr, 0, nullptr, 0) != UNZ_OK ||
        info.uncompressed_size > most_bytes - unpacked_) {
      too_large_ = true;
      return std::nullopt;
    }
    unpacked_ += info.uncompressed_size;
    if (unzOpenCurrentFile(zip_) != UNZ_OK) return std::nullopt;
    std::string text(info.uncompressed_size, '\0');
    std::size_t got = 0;
    while (got < text.size()) {
      const int n = unzReadCurrentFile(zip_, text.data() + got,
                                       static_cast<unsigned>(std::min<std::size_t>(text.size() - got, 1u << 20)));
      if (n <= 0) break;
      got += static_cast<std::size_t>(n);
    }
    const bool whole = got == text.size() && unzCloseCurrentFile(zip_) == UNZ_OK;
    return whole ? std::optional(std::move(text)) : std::nullopt;
  }
  bool too_large() const { return too_large_; }

 private:
  unzFile zip_;
  std::uint64_t unpacked_ = 0;
  bool too_large_ = false;
};

// Every run of rich text, without phonetic hints.
std::string all_text(const pugi::xml_node& node) {
  std::string text;
  for (const pugi::xml_node& t : node.children("t")) text += t.text().get();
  for (const pugi::xml_node& run : node.children("r")) text += run.child("t").text().get();
  return as_utf8(text);
}

// "C12" -> 2; what is past the last column stays so.
int column_of(const char* reference) {
  int column = 0;
  for (; *reference >= 'A' && *reference <= 'Z' && column <= last_column; ++reference)
    column = column * 26 + (*reference - 'A' + 1);
  return column - 1;
}

// What a sheet may hold altogether, and where it may stand.
class Budget {
 public:
  // Why this cell cannot be held (the empty ones before it count too), in words.
  std::optional<std::string> refuse(long long row, int column, const char* reference, std::size_t fresh_cells,
                                    std::size_t text_bytes) {
    if (row < 1 || row > last_row) return fmt::format("has a row {}; rows are 1 to {}", row, last_row);
    if (column < 0 || column >= last_column)
      return fmt::format("has a cell “{}”; columns are A to XFD", as_utf8(std::string(reference).substr(0, 20)));
    cells_ += fresh_cells;
    bytes_ += text_bytes;
    if (cells_ > most_cells) return fmt::format("has more than {} cells", most_cells);
    if (bytes_ > most_bytes) return std::string("holds more than 200 MB of text");
    return std::nullopt;
  }

 private:
  std::size_t cells_ = 0, bytes_ = 0;
};

// Days since 30 December 1899, as spreadsheets count, up to the end of 9999.
std::string date_text(double serial) {
  const std::chrono::sys_days day =
      std::chrono::sys_days(std::chrono::year(1899) / 12 / 30) + std::chrono::days(whole_within(serial, 0, 2958465));
  const std::chrono::year_month_day ymd(day);
  return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(ymd.year()), static_cast<unsigned>(ymd.month()),
                     static_cast<unsigned>(ymd.day()));
}

// Which cell styles are dates.
std::vector<bool> date_styles(const std::string& xml) {
  pugi::xml_document document;
  std::vector<bool> dates;
  if (!document.load_buffer(xml.data(), xml.size())) return dates;
  std::set<int> formats;
  for (int i = 14; i <= 17; ++i) formats.insert(i);
  formats.insert(22);
  const pugi::xml_node root = document.document_element();
  for (const pugi::xml_node& f : root.child("numFmts").children("numFmt")) {
    const std::string code = f.attribute("formatCode").as_string();
    if (code.find("yy") != std::string::npos ||
        (code.find('d') != std::string::npos && code.find('m') != std::string::npos))
      formats.insert(f.attribute("numFmtId").as_int());
  }
  for (const pugi::xml_node& xf : root.child("cellXfs").children("xf"))
    dates.push_back(formats.count(xf.attribute("numFmtId").as_int()) > 0);
  return dates;
}

// Whatever the desktop's decimal sign is.
std::optional<double> number_of(std::string_view text) {
  double value = 0;
  const auto [end, trouble] = std::from_chars(text.data(), text.data() + text.size(), value);
  const bool whole = trouble == std::errc() && end == text.data() + text.size() && std::isfinite(value);
  return whole ? std::optional(value) : std::nullopt;
}

// A figure as people would write it: 0.1 and not 0.10000000000000001.
std::string figure_text(const char* stored) {
  const auto value = number_of(stored);
  if (!value) return as_utf8(stored);
  return fmt::format("{:.15g}", *value);
}

}  // namespace

tl::expected<Sheet, FormatFault> read_xlsx(const std::string& file) {
  Archive archive(file);
  const auto refuse = [&](const char* text) {
    return tl::unexpected(
        FormatFault{"", archive.is_open() && archive.too_large() ? "unpacks to more than 200 MB" : text});
  };
  if (!archive.is_open()) return refuse("is not an XLSX file");
  const auto workbook = archive.part("xl/workbook.xml"), links = archive.part("xl/_rels/workbook.xml.rels");
  pugi::xml_document book, relations, strings;
  if (!workbook || !links || !book.load_buffer(workbook->data(), workbook->size()) ||
      !relations.load_buffer(links->data(), links->size()))
    return refuse("is not an XLSX workbook");
  std::vector<std::string> shared;
  if (const auto text = archive.part("xl/sharedStrings.xml"); text && strings.load_buffer(text->data(), text->size()))
    for (const pugi::xml_node& item : strings.document_element().children("si")) shared.push_back(all_text(item));
  std::vector<bool> dates;
  if (const auto styles = archive.part("xl/styles.xml")) dates = date_styles(*styles);
  for (const pugi::xml_node& entry : book.document_element().child("sheets").children("sheet")) {
    std::string path;
    for (const pugi::xml_node& r : relations.document_element().children("Relationship"))
      if (std::string_view(r.attribute("Id").as_string()) == entry.attribute("r:id").as_string())
        path = r.attribute("Target").as_string();
    if (path.empty()) continue;
    if (path.front() == '/') path.erase(0, 1);
    else path.insert(0, "xl/");
    const auto xml = archive.part(path);
    pugi::xml_document document;
    if (!xml || !document.load_buffer(xml->data(), xml->size())) {
      if (archive.too_large()) return refuse("");
      continue;
    }
    Sheet sheet;
    sheet.name = as_utf8(entry.attribute("name").as_string());
    bool any = false;
    Budget budget;
    for (const pugi::xml_node& row : document.document_element().child("sheetData").children("row")) {
      const long long number = row.attribute("r").as_llong(static_cast<long long>(sheet.lines.size()) + 1);
      if (const auto why = budget.refuse(number, 0, "", 0, 0)) return tl::unexpected(FormatFault{"", *why});
      if (static_cast<int>(sheet.lines.size()) < number) sheet.lines.resize(static_cast<std::size_t>(number));
      auto& cells = sheet.lines[static_cast<std::size_t>(number) - 1];
      for (const pugi::xml_node& cell : row.children("c")) {
        const int column =
            cell.attribute("r") ? column_of(cell.attribute("r").as_string()) : static_cast<int>(cells.size());
        const std::string_view type = cell.attribute("t").as_string();
        std::string text;
        if (type == "s") {
          const auto place = cell.child("v").text().as_uint();
          if (place < shared.size()) text = shared[place];
        } else if (type == "inlineStr") {
          text = all_text(cell.child("is"));
        } else if (type == "b") {
          text = cell.child("v").text().as_int() ? "yes" : "no";
        } else if (type == "str" || type == "e") {
          text = as_utf8(cell.child("v").text().get());
        } else if (const char* stored = cell.child("v").text().get(); *stored) {
          const auto style = cell.attribute("s").as_uint();
          text = style < dates.size() && dates[style] ? date_text(number_of(stored).value_or(0)) : figure_text(stored);
        }
        if (text.empty()) continue;
        any = true;
        const std::size_t fresh =
            column < static_cast<int>(cells.size()) ? 0 : static_cast<std::size_t>(column) + 1 - cells.size();
        if (const auto why = budget.refuse(number, column, cell.attribute("r").as_string(), fresh, text.size()))
          return tl::unexpected(FormatFault{"", *why});
        if (static_cast<int>(cells.size()) <= column) cells.resize(static_cast<std::size_t>(column) + 1);
        cells[static_cast<std::size_t>(column)] = std::move(text);
      }
    }
    if (any) return sheet;
  }
  return refuse("has no sheet with data");
}

tl::expected<std::string, FormatFault> xlsx_of(const Sheet& sheet) {
  return documents().and_then([&](const Documents* d) { return d->workbook_of(sheet); });
}

}  // namespace pecorra
