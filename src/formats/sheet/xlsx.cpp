#include <minizip/unzip.h>
#include <xlsxwriter.h>

#include <fmt/format.h>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <optional>
#include <pugixml.hpp>
#include <set>

#include "core/base/whole.h"
#include "formats/encoding.h"
#include "formats/late_library.h"
#include "formats/sheet/sheet_file.h"

namespace pecorra {
namespace {

constexpr std::uint64_t most_bytes = 200u << 20;

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

std::string all_text(const pugi::xml_node& node) {
  std::string text;
  // Of rich text every run; not how it is spoken.
  for (const pugi::xml_node& t : node.children("t")) text += t.text().get();
  for (const pugi::xml_node& run : node.children("r")) text += run.child("t").text().get();
  if (const pugi::xml_node inside = node.child("is")) text += all_text(inside);
  return as_utf8(text);
}

// "C12" -> 2
int column_of(const char* reference) {
  int column = 0;
  for (; *reference >= 'A' && *reference <= 'Z' && column < 20000; ++reference)
    column = column * 26 + (*reference - 'A' + 1);
  return column - 1;
}

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

// A figure as people would write it: 0.1 and not 0.10000000000000001.
std::string figure_text(const char* stored) {
  char* end = nullptr;
  const double value = std::strtod(stored, &end);
  if (end == stored || *end != '\0' || !std::isfinite(value)) return as_utf8(stored);
  return fmt::format("{:.15g}", value);
}

}  // namespace

tl::expected<Sheet, FormatFault> read_xlsx(const std::string& file) {
  Archive archive(file);
  const auto refuse = [&](const char* text) {
    return tl::unexpected(
        FormatFault{"", archive.is_open() && archive.too_large() ? "unpacks to more than 200 MB" : text});
  };
  if (!archive.is_open()) return refuse("is no XLSX file");
  const auto workbook = archive.part("xl/workbook.xml"), links = archive.part("xl/_rels/workbook.xml.rels");
  pugi::xml_document book, relations, strings;
  if (!workbook || !links || !book.load_buffer(workbook->data(), workbook->size()) ||
      !relations.load_buffer(links->data(), links->size()))
    return refuse("is no XLSX workbook");
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
    path = path.front() == '/' ? path.substr(1) : "xl/" + path;
    const auto xml = archive.part(path);
    pugi::xml_document document;
    if (!xml || !document.load_buffer(xml->data(), xml->size())) {
      if (archive.too_large()) return refuse("");
      continue;
    }
    Sheet sheet;
    sheet.name = as_utf8(entry.attribute("name").as_string());
    bool any = false;
    for (const pugi::xml_node& row : document.document_element().child("sheetData").children("row")) {
      const int number = row.attribute("r").as_int(static_cast<int>(sheet.lines.size()) + 1);
      if (number < 1 || number > 1'100'000) continue;
      if (static_cast<int>(sheet.lines.size()) < number) sheet.lines.resize(static_cast<std::size_t>(number));
      auto& cells = sheet.lines[static_cast<std::size_t>(number) - 1];
      for (const pugi::xml_node& cell : row.children("c")) {
        const int column =
            cell.attribute("r") ? column_of(cell.attribute("r").as_string()) : static_cast<int>(cells.size());
        if (column < 0 || column > 16384) continue;
        const std::string_view type = cell.attribute("t").as_string();
        std::string text;
        if (type == "s") {
          const auto place = cell.child("v").text().as_uint();
          if (place < shared.size()) text = shared[place];
        } else if (type == "inlineStr") {
          text = all_text(cell);
        } else if (type == "b") {
          text = cell.child("v").text().as_int() ? "yes" : "no";
        } else if (type == "str" || type == "e") {
          text = as_utf8(cell.child("v").text().get());
        } else if (const char* stored = cell.child("v").text().get(); *stored) {
          const auto style = cell.attribute("s").as_uint();
          text = style < dates.size() && dates[style] ? date_text(std::strtod(stored, nullptr)) : figure_text(stored);
        }
        if (text.empty()) continue;
        any = true;
        if (static_cast<int>(cells.size()) <= column) cells.resize(static_cast<std::size_t>(column) + 1);
        cells[static_cast<std::size_t>(column)] = std::move(text);
      }
    }
    if (any) return sheet;
  }
  return refuse("has no sheet with anything in it");
}

namespace {

// The library's functions, looked up when they are first wanted.
struct Writer {
  decltype(&workbook_new) new_book;
  decltype(&workbook_add_worksheet) add_page;
  decltype(&workbook_add_format) add_format;
  decltype(&format_set_bold) set_bold;
  decltype(&worksheet_write_number) number;
  decltype(&worksheet_write_string) string;
  decltype(&worksheet_freeze_panes) freeze;
  decltype(&workbook_close) close;
  decltype(&lxw_strerror) error_text;
};

const Writer* writer() {
  static const std::optional<Writer> found = []() -> std::optional<Writer> {
    LateLibrary library("libxlsxwriter.so.4");
    Writer w{};
    library.take(w.new_book, "workbook_new");
    library.take(w.add_page, "workbook_add_worksheet");
    library.take(w.add_format, "workbook_add_format");
    library.take(w.set_bold, "format_set_bold");
    library.take(w.number, "worksheet_write_number");
    library.take(w.string, "worksheet_write_string");
    library.take(w.freeze, "worksheet_freeze_panes");
    library.take(w.close, "workbook_close");
    library.take(w.error_text, "lxw_strerror");
    return library.is_whole() ? std::optional(w) : std::nullopt;
  }();
  return found ? &*found : nullptr;
}

}  // namespace

tl::expected<void, FormatFault> write_xlsx(const Sheet& sheet, const std::string& file) {
  const Writer* lxw = writer();
  if (!lxw) return tl::unexpected(FormatFault{file, "cannot be written: the library libxlsxwriter is not there"});
  const std::string making = file + ".new";
  lxw_workbook* book = lxw->new_book(making.c_str());
  if (!book) return tl::unexpected(FormatFault{file, "cannot be written"});
  // Sheet names take 31 characters and not all of them.
  std::string name;
  for (const char c : sheet.name)
    if (std::string_view("[]:*?/\\'").find(c) == std::string_view::npos && name.size() < 28 &&
        static_cast<unsigned char>(c) < 0x80)
      name += c;
  lxw_worksheet* page = lxw->add_page(book, name.empty() ? "Sheet" : name.c_str());
  if (!page) page = lxw->add_page(book, nullptr);
  lxw_format* bold = lxw->add_format(book);
  lxw->set_bold(bold);
  for (std::size_t r = 0; r < sheet.lines.size(); ++r)
    for (std::size_t c = 0; c < sheet.lines[r].size(); ++c) {
      const std::string& text = sheet.lines[r][c];
      if (text.empty()) continue;
      char* end = nullptr;
      const double value = std::strtod(text.c_str(), &end);
      const bool number =
          *end == '\0' && std::isfinite(value) && text.find_first_not_of("0123456789.-") == std::string::npos;
      if (number) lxw->number(page, static_cast<lxw_row_t>(r), static_cast<lxw_col_t>(c), value, nullptr);
      else
        lxw->string(page, static_cast<lxw_row_t>(r), static_cast<lxw_col_t>(c), text.c_str(), r == 0 ? bold : nullptr);
    }
  lxw->freeze(page, 1, 0);
  const lxw_error error = lxw->close(book);
  std::error_code trouble;
  if (error == LXW_NO_ERROR) std::filesystem::rename(making, file, trouble);
  if (error == LXW_NO_ERROR && !trouble) return {};
  std::filesystem::remove(making, trouble);
  return tl::unexpected(FormatFault{file, error == LXW_NO_ERROR
                                              ? "could not be given its name"
                                              : std::string("cannot be written: ") + lxw->error_text(error)});
}

}  // namespace pecorra
