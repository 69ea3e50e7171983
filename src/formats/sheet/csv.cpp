#include <csv.h>

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <cstring>
#include <future>
#include <iterator>
#include <optional>

#include "formats/encoding.h"
#include "formats/sheet/sheet_file.h"

namespace pecorra {
namespace {

constexpr std::size_t most_csv_lines = 2'000'000, most_csv_cells = 12'000'000;

// UTF-16 without a mark: every other byte of the first characters is zero.
std::optional<bool> unmarked_utf16(std::string_view text) {
  std::size_t zeros[2] = {0, 0};
  const std::size_t looked = std::min<std::size_t>(text.size(), 200) & ~std::size_t{1};
  for (std::size_t i = 0; i < looked; ++i) zeros[i % 2] += text[i] == '\0';
  if (looked < 4) return std::nullopt;
  if (zeros[1] * 4 >= looked && zeros[0] == 0) return false;
  if (zeros[0] * 4 >= looked && zeros[1] == 0) return true;
  return std::nullopt;
}

// What a spreadsheet would take for a formula starts with one of these; such a cell, and one that starts with the mark
// against it, gets an apostrophe in front, which is taken off again when it is read.
constexpr std::string_view formula_starts = "=+-@\t\r";
bool wants_apostrophe(std::string_view cell) {
  if (cell.size() < 2) return !cell.empty() && cell != "-" && formula_starts.find(cell[0]) != std::string_view::npos;
  if (cell[0] == '\'') return formula_starts.find(cell[1]) != std::string_view::npos || cell[1] == '\'';
  if (formula_starts.find(cell[0]) == std::string_view::npos) return false;
  double number = 0;
  const auto [end, fault] = std::from_chars(cell.data(), cell.data() + cell.size(), number);
  return !(fault == std::errc() && end == cell.data() + cell.size());  // -0.25 is a number
}
bool has_apostrophe(std::string_view cell) {
  return cell.size() > 1 && cell[0] == '\'' && wants_apostrophe(cell.substr(1));
}

// The mark that stands most often outside quotes in the first lines.
char separator_of(std::string_view text) {
  std::array<std::pair<char, int>, 3> marks{{{'\t', 0}, {';', 0}, {',', 0}}};
  bool quoted = false;
  int lines = 0;
  for (const char c : text) {
    if (c == '"') quoted = !quoted;
    if (quoted) continue;
    if (c == '\n' && ++lines == 10) break;
    for (auto& [mark, count] : marks) count += c == mark;
  }
  // A decimal comma is no separator where there is another one.
  if (marks[0].second > 0) return '\t';
  return marks[1].second > 0 ? ';' : ',';
}

void drop_returns(std::string& text) {
  std::size_t to = text.find('\r');
  for (std::size_t from = to; from != std::string::npos && from < text.size();) {
    ++from;
    const std::size_t next = std::min(text.find('\r', from), text.size());
    std::memmove(text.data() + to, text.data() + from, next - from);
    to += next - from;
    from = next;
  }
  if (to != std::string::npos) text.resize(to);
}

// Splits what it is given, piece by piece.
class Splitter {
 public:
  explicit Splitter(char separator) {
    stands_ = csv_init(&parser_, CSV_REPALL_NL) == 0;
    csv_set_delim(&parser_, static_cast<unsigned char>(separator));
    // A tab is no blank to be dropped when it parts the cells.
    csv_set_space_func(&parser_, [](unsigned char c) -> int { return c == ' '; });
  }
  ~Splitter() { csv_free(&parser_); }
  Splitter(const Splitter&) = delete;
  Splitter& operator=(const Splitter&) = delete;

  void take(std::string_view text) {
    stands_ = stands_ && csv_parse(&parser_, text.data(), text.size(), cell, line, this) == text.size();
  }
  void finish() { stands_ = stands_ && csv_fini(&parser_, cell, line, this) == 0; }
  bool stands() const { return stands_; }
  std::vector<std::vector<std::string>>& lines() { return lines_; }

 private:
  static void cell(void* data, std::size_t size, void* to) {
    std::string_view content(static_cast<const char*>(data), size);
    if (has_apostrophe(content)) content.remove_prefix(1);
    static_cast<Splitter*>(to)->line_.emplace_back(content);
  }
  static void line(int, void* to) {
    auto* s = static_cast<Splitter*>(to);
    const std::size_t cells = s->line_.size();
    s->lines_.push_back(std::move(s->line_));
    s->line_.clear();
    s->line_.reserve(cells);
  }
  csv_parser parser_{};
  bool stands_ = false;
  std::vector<std::vector<std::string>> lines_;
  std::vector<std::string> line_;
};

// Long texts are split in two halves at once. Whether the end of line in the middle stands inside quotation marks only
// the first half can tell: where it does, what the second half made of its part is thrown away.
std::optional<std::vector<std::vector<std::string>>> split(std::string_view text, char separator) {
  constexpr std::size_t long_text = 1 << 20;
  Splitter first(separator), second(separator);
  const std::size_t middle = text.size() < long_text ? std::string_view::npos : text.find('\n', text.size() / 2);
  if (middle == std::string_view::npos) {
    first.take(text);
    first.finish();
    return first.stands() ? std::optional(std::move(first.lines())) : std::nullopt;
  }
  auto other = std::async(std::launch::async, [&, rest = text.substr(middle + 1)] {
    second.take(rest);
    second.finish();
  });
  first.take(text.substr(0, middle));
  const std::size_t before = first.lines().size();
  first.take(text.substr(middle, 1));
  const bool ends_here = first.lines().size() > before;
  other.get();
  if (!ends_here) {
    first.take(text.substr(middle + 1));
    first.finish();
    return first.stands() ? std::optional(std::move(first.lines())) : std::nullopt;
  }
  if (!first.stands() || !second.stands()) return std::nullopt;
  auto& lines = first.lines();
  lines.insert(lines.end(), std::make_move_iterator(second.lines().begin()),
               std::make_move_iterator(second.lines().end()));
  return std::move(lines);
}

}  // namespace

tl::expected<Sheet, FormatFault> read_csv(std::string_view text) {
  std::string converted;
  const bool marked = text.starts_with("\xff\xfe") || text.starts_with("\xfe\xff");
  if (const auto order = marked ? std::optional(text[0] == '\xfe') : unmarked_utf16(text)) {
    if (marked) text.remove_prefix(2);
    auto decoded = from_utf16(text, *order);
    if (!decoded) return tl::unexpected(FormatFault{"", "is damaged UTF-16; save it as UTF-8"});
    converted = std::move(*decoded);
  } else {
    if (text.starts_with("\xef\xbb\xbf")) text.remove_prefix(3);
    converted = as_utf8(text);
  }
  if (converted.find('\0') != std::string::npos)
    return tl::unexpected(FormatFault{"", "is not a text file; expected CSV"});
  if (converted.find('\n') == std::string::npos) std::replace(converted.begin(), converted.end(), '\r', '\n');
  else drop_returns(converted);
  const char separator = separator_of(converted);
  std::size_t line_ends = 0, cells = 0;
  for (const char c : converted) {
    line_ends += c == '\n';
    cells += c == '\n' || c == separator;
  }
  if (line_ends > most_csv_lines)
    return tl::unexpected(FormatFault{"", fmt::format("has more than {} lines", most_csv_lines)});
  if (cells > most_csv_cells)
    return tl::unexpected(FormatFault{"", fmt::format("has more than {} cells", most_csv_cells)});
  auto lines = split(converted, separator);
  if (!lines) return tl::unexpected(FormatFault{"", "is not valid CSV: quotation marks do not match"});
  if (lines->empty()) return tl::unexpected(FormatFault{"", "is empty"});
  return Sheet{{}, std::move(*lines)};
}

std::string csv_text(const Sheet& sheet, std::string_view line_end) {
  std::string out;
  for (const auto& line : sheet.lines) {
    for (std::size_t i = 0; i < line.size(); ++i) {
      if (i > 0) out += ',';
      const bool guarded = wants_apostrophe(line[i]);
      if (!guarded && line[i].find_first_of(",;\"\r\n\t") == std::string::npos &&
          (line[i].empty() || (line[i].front() != ' ' && line[i].back() != ' '))) {
        out += line[i];
        continue;
      }
      const std::string cell = guarded ? "'" + line[i] : line[i];
      std::string quoted(2 * cell.size() + 2, '\0');
      quoted.resize(csv_write(quoted.data(), quoted.size(), cell.data(), cell.size()));
      out += quoted;
    }
    out += line_end;
  }
  return out;
}

}  // namespace pecorra
