#include "core/iso/block_writer.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>
#include <vector>

namespace pecorra {
namespace {

constexpr std::int64_t powers[] = {1, 10, 100, 1000, 10000, 100000, 1000000, 10000000};

void strip_end(std::string_view& text) {
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
}

// The text in pieces of at most so many letters, parted where two blanks stand, else at a blank, else anywhere.
std::vector<std::string_view> parted(std::string_view text, std::size_t most) {
  std::vector<std::string_view> pieces;
  strip_end(text);
  while (text.size() > most) {
    std::size_t at = text.rfind("  ", most);
    if (at == std::string_view::npos || at < most / 3) at = text.rfind(' ', most);
    if (at == std::string_view::npos || at == 0) at = most;
    pieces.push_back(text.substr(0, at));
    strip_end(pieces.back());
    text.remove_prefix(at);
    text.remove_prefix(std::min(text.find_first_not_of(' '), text.size()));
  }
  if (!text.empty() || pieces.empty()) pieces.push_back(text);
  return pieces;
}

}  // namespace

std::int64_t in_steps(double value, int decimals) {
  constexpr double most = 9e15;  // far beyond any machine, within a whole number
  return std::llround(std::clamp(value * static_cast<double>(powers[decimals]), -most, most));
}

void BlockWriter::append_number(std::string& out, std::int64_t steps, int decimals, Point point, bool leading_zero) {
  char digits[32];
  char* at = digits + sizeof digits;
  const bool negative = steps < 0;
  std::uint64_t rest = negative ? 0 - static_cast<std::uint64_t>(steps) : static_cast<std::uint64_t>(steps);
  bool written = point == Point::full;
  for (int i = 0; i < decimals; ++i) {
    const int digit = static_cast<int>(rest % 10);
    rest /= 10;
    written = written || digit != 0;
    if (written) *--at = static_cast<char>('0' + digit);
  }
  const bool fraction = at != digits + sizeof digits;
  if (fraction || point == Point::always) *--at = '.';
  if (rest == 0 && (leading_zero || !fraction)) *--at = '0';
  for (; rest > 0; rest /= 10) *--at = static_cast<char>('0' + rest % 10);
  if (negative) *--at = '-';
  out.append(at, digits + sizeof digits);
}

void BlockWriter::gap() {
  if (style_.blanks && !block_.empty()) block_ += ' ';
}

void BlockWriter::word(std::string_view text) {
  if (text.empty()) return;
  gap();
  block_ += text;
}

void BlockWriter::code(char letter, int code) {
  gap();
  block_ += letter;
  if (style_.two_digit_codes && code < 10) block_ += '0';
  append_number(block_, code, 0, Point::where_needed, true);
}

void BlockWriter::word(std::string_view letter, std::int64_t steps, int decimals, Point point) {
  gap();
  block_ += letter;
  append_number(block_, steps, decimals, point, style_.leading_zero);
}

void BlockWriter::end(bool numbered) {
  if (block_.empty()) return;
  if (numbered && !style_.block_letter.empty()) {
    out_ += style_.block_letter;
    append_number(out_, number_, 0, Point::where_needed, true);
    if (style_.blanks) out_ += ' ';
    number_ += style_.block_step;
    if (number_ > style_.block_last) number_ = style_.block_first;
  }
  out_ += block_;
  out_ += style_.line_end;
  block_.clear();
  ++blocks_;
}

void BlockWriter::lines(std::string_view text, bool numbered) {
  while (!text.empty()) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    const std::string_view line = text.substr(0, end);
    block_ += line;
    // Tape marks and comments by themselves have no number.
    this->end(numbered && line != "%" && !line.starts_with(style_.comment_open));
    text.remove_prefix(std::min(end + 1, text.size()));
  }
}

void BlockWriter::comment(std::string_view text) {
  const std::string ascii = comment_text(text, style_.upper_case);
  const std::size_t most = style_.longest_comment > 0 ? static_cast<std::size_t>(style_.longest_comment) : ascii.size();
  for (const std::string_view piece : parted(ascii, std::max<std::size_t>(1, most))) {
    block_ += style_.comment_open;
    block_ += piece;
    block_ += style_.comment_close;
    end(false);
  }
}

void BlockWriter::comment_here(std::string_view text) {
  std::string ascii = comment_text(text, style_.upper_case);
  if (style_.longest_comment > 0)
    ascii.resize(std::min(ascii.size(), static_cast<std::size_t>(style_.longest_comment)));
  gap();
  block_ += style_.comment_open + ascii + style_.comment_close;
}

std::string comment_text(std::string_view text, bool upper_case) {
  static constexpr std::pair<std::string_view, std::string_view> known[] = {
      {"Ø", "D"},  {"×", "X"},  {"°", " DEG"}, {"″", "IN"},    {"\"", "IN"}, {"–", "-"},
      {"ä", "ae"}, {"ö", "oe"}, {"ü", "ue"},   {"Ä", "AE"},    {"Ö", "OE"},  {"Ü", "UE"},
      {"ß", "ss"}, {"é", "e"},  {"è", "e"},    {" %", " PCT"}, {"%", " PCT"}};
  std::string out;
  for (std::size_t i = 0; i < text.size();) {
    const auto found = std::find_if(std::begin(known), std::end(known),
                                    [&](const auto& k) { return text.substr(i, k.first.size()) == k.first; });
    if (found != std::end(known)) {
      out += found->second;
      i += found->first.size();
      continue;
    }
    const unsigned char c = static_cast<unsigned char>(text[i++]);
    if (c == '(' || c == ')' || c < 32 || c == '%' || c == ';') out += ' ';
    else if (c < 127) out += static_cast<char>(c);
    else if ((c & 0xC0) == 0xC0) out += ' ';  // one blank for a whole character
  }
  if (upper_case)
    for (char& c : out)
      if (c >= 'a' && c <= 'z') c = static_cast<char>(c - 32);
  return out;
}

}  // namespace pecorra
