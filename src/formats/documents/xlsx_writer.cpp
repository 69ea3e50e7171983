#include <locale.h>
#include <sys/mman.h>
#include <unistd.h>
#include <xlsxwriter.h>

#include <charconv>
#include <cmath>
#include <optional>
#include <string>

#include "formats/documents/module.h"

namespace pecorra::module {
namespace {

// The library prints figures with the thread's decimal sign; a workbook has points.
class PlainFigures {
 public:
  PlainFigures() : plain_(newlocale(LC_ALL_MASK, "C", nullptr)), before_(uselocale(plain_)) {}
  ~PlainFigures() {
    uselocale(before_);
    freelocale(plain_);
  }
  PlainFigures(const PlainFigures&) = delete;
  PlainFigures& operator=(const PlainFigures&) = delete;

 private:
  locale_t plain_, before_;
};

// A file without a name, in memory: nothing to guess and nothing to clean up.
class MemoryFile {
 public:
  MemoryFile() : handle_(memfd_create("workbook", MFD_CLOEXEC)) {}
  ~MemoryFile() {
    if (handle_ >= 0) close(handle_);
  }
  MemoryFile(const MemoryFile&) = delete;
  MemoryFile& operator=(const MemoryFile&) = delete;
  std::string path() const { return "/proc/self/fd/" + std::to_string(handle_); }
  // Nothing where it could not be read whole.
  std::string bytes() const {
    const off_t size = handle_ < 0 ? 0 : lseek(handle_, 0, SEEK_END);
    std::string text(size > 0 ? static_cast<std::size_t>(size) : 0, '\0');
    std::size_t got = 0;
    while (got < text.size()) {
      const ssize_t n = pread(handle_, text.data() + got, text.size() - got, static_cast<off_t>(got));
      if (n <= 0) return {};
      got += static_cast<std::size_t>(n);
    }
    return text;
  }

 private:
  int handle_;
};

// Sheet names take 31 characters and not all of them.
std::string page_name(const std::string& wanted) {
  std::string name;
  for (const char c : wanted)
    if (std::string_view("[]:*?/\\'").find(c) == std::string_view::npos && name.size() < 28 &&
        static_cast<unsigned char>(c) < 0x80)
      name += c;
  return name;
}

std::optional<double> figure(const std::string& text) {
  double value = 0;
  const auto [end, trouble] = std::from_chars(text.data(), text.data() + text.size(), value);
  const bool whole = trouble == std::errc() && end == text.data() + text.size() && std::isfinite(value) &&
                     text.find_first_not_of("0123456789.-") == std::string::npos;
  return whole ? std::optional(value) : std::nullopt;
}

}  // namespace

tl::expected<std::string, FormatFault> xlsx_of(const Sheet& sheet) {
  const PlainFigures plain;
  const MemoryFile file;
  lxw_workbook* book = workbook_new(file.path().c_str());
  if (!book) return tl::unexpected(FormatFault{"", "cannot be made: no memory for a workbook"});
  const std::string name = page_name(sheet.name);
  lxw_worksheet* page = workbook_add_worksheet(book, name.empty() ? "Sheet" : name.c_str());
  if (!page) page = workbook_add_worksheet(book, nullptr);
  lxw_format* bold = workbook_add_format(book);
  format_set_bold(bold);
  for (std::size_t r = 0; r < sheet.lines.size(); ++r)
    for (std::size_t c = 0; c < sheet.lines[r].size(); ++c) {
      const std::string& text = sheet.lines[r][c];
      const auto row = static_cast<lxw_row_t>(r);
      const auto column = static_cast<lxw_col_t>(c);
      if (text.empty()) continue;
      if (const auto value = figure(text)) worksheet_write_number(page, row, column, *value, nullptr);
      else worksheet_write_string(page, row, column, text.c_str(), r == 0 ? bold : nullptr);
    }
  worksheet_freeze_panes(page, 1, 0);
  const lxw_error error = workbook_close(book);
  std::string bytes = error == LXW_NO_ERROR ? file.bytes() : std::string();
  if (!bytes.empty()) return bytes;
  return tl::unexpected(FormatFault{"", std::string("cannot be made: ") + lxw_strerror(error)});
}

}  // namespace pecorra::module
