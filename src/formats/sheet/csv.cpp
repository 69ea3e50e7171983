#include <csv.h>

#include <algorithm>
#include <array>

#include "formats/sheet/sheet_file.h"

namespace pecorra {
namespace {

bool is_utf8(std::string_view text) {
  for (std::size_t i = 0; i < text.size();) {
    const auto c = static_cast<unsigned char>(text[i]);
    const std::size_t more = c < 0x80 ? 0 : (c >> 5) == 6 ? 1 : (c >> 4) == 14 ? 2 : (c >> 3) == 30 ? 3 : 9;
    if (more == 9 || i + more >= text.size() + (more == 0)) return false;
    for (std::size_t k = 1; k <= more; ++k)
      if ((static_cast<unsigned char>(text[i + k]) >> 6) != 2) return false;
    i += more + 1;
  }
  return true;
}

void append_utf8(std::string& out, unsigned code) {
  if (code < 0x80) out += static_cast<char>(code);
  else if (code < 0x800) out += static_cast<char>(0xc0 | code >> 6), out += static_cast<char>(0x80 | (code & 0x3f));
  else out += static_cast<char>(0xe0 | code >> 12), out += static_cast<char>(0x80 | (code >> 6 & 0x3f)), out += static_cast<char>(0x80 | (code & 0x3f));
}

// Windows-1252, of which 0x80 to 0x9f are not Latin 1.
std::string from_windows(std::string_view text) {
  static constexpr unsigned middle[32] = {0x20ac, 0x81, 0x201a, 0x192, 0x201e, 0x2026, 0x2020, 0x2021, 0x2c6, 0x2030, 0x160, 0x2039, 0x152, 0x8d, 0x17d, 0x8f,
                                          0x90, 0x2018, 0x2019, 0x201c, 0x201d, 0x2022, 0x2013, 0x2014, 0x2dc, 0x2122, 0x161, 0x203a, 0x153, 0x9d, 0x17e, 0x178};
  std::string out;
  for (const char c : text) {
    const auto u = static_cast<unsigned char>(c);
    append_utf8(out, u >= 0x80 && u < 0xa0 ? middle[u - 0x80] : u);
  }
  return out;
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

struct Taking {
  Sheet sheet;
  std::vector<std::string> line;
};

}  // namespace

tl::expected<Sheet, FormatFault> read_csv(std::string_view text) {
  if (text.starts_with("\xff\xfe") || text.starts_with("\xfe\xff")) return tl::unexpected(FormatFault{"", "is UTF-16; save it as UTF-8"});
  if (text.find('\0') != std::string_view::npos) return tl::unexpected(FormatFault{"", "is no text; a CSV file is expected"});
  if (text.starts_with("\xef\xbb\xbf")) text.remove_prefix(3);
  std::string converted = is_utf8(text) ? std::string(text) : from_windows(text);
  std::erase(converted, '\r');
  csv_parser parser;
  if (csv_init(&parser, CSV_REPALL_NL) != 0) return tl::unexpected(FormatFault{"", "cannot be read now"});
  csv_set_delim(&parser, static_cast<unsigned char>(separator_of(converted)));
  // A tab is no blank to be dropped when it parts the cells.
  csv_set_space_func(&parser, [](unsigned char c) -> int { return c == ' '; });
  Taking taking;
  const auto cell = [](void* data, std::size_t size, void* to) { static_cast<Taking*>(to)->line.emplace_back(static_cast<const char*>(data), size); };
  const auto line = [](int, void* to) {
    auto* t = static_cast<Taking*>(to);
    t->sheet.lines.push_back(std::move(t->line));
    t->line.clear();
  };
  const bool read = csv_parse(&parser, converted.data(), converted.size(), cell, line, &taking) == converted.size() && csv_fini(&parser, cell, line, &taking) == 0;
  csv_free(&parser);
  if (!read) return tl::unexpected(FormatFault{"", "is no CSV: quotation marks do not match"});
  if (taking.sheet.lines.empty()) return tl::unexpected(FormatFault{"", "is empty"});
  return std::move(taking.sheet);
}

std::string csv_text(const Sheet& sheet) {
  std::string out;
  for (const auto& line : sheet.lines) {
    for (std::size_t i = 0; i < line.size(); ++i) {
      if (i > 0) out += ',';
      if (line[i].find_first_of(",;\"\r\n\t") == std::string::npos && (line[i].empty() || (line[i].front() != ' ' && line[i].back() != ' '))) {
        out += line[i];
        continue;
      }
      std::string quoted(2 * line[i].size() + 2, '\0');
      quoted.resize(csv_write(quoted.data(), quoted.size(), line[i].data(), line[i].size()));
      out += quoted;
    }
    out += "\r\n";
  }
  return out;
}

}  // namespace pecorra
