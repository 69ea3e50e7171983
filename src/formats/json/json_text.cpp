#include "formats/json/json_text.h"

#include <fmt/compile.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cstring>
#include <utility>

namespace pecorra {
namespace {

// What JSON does not take as it is.
constexpr auto is_special = [] {
  std::array<bool, 256> special{};
  for (int c = 0; c < 0x20; ++c) special[static_cast<std::size_t>(c)] = true;
  special['"'] = special['\\'] = true;
  return special;
}();

// Needs room for six characters for each of the text, and two.
char* write_quoted(char* to, std::string_view text) {
  static constexpr char digits[] = "0123456789abcdef";
  *to++ = '"';
  for (const char c : text) {
    if (!is_special[static_cast<unsigned char>(c)]) {
      *to++ = c;
      continue;
    }
    *to++ = '\\';
    switch (c) {
      case '"':
      case '\\': *to++ = c; break;
      case '\b': *to++ = 'b'; break;
      case '\f': *to++ = 'f'; break;
      case '\n': *to++ = 'n'; break;
      case '\r': *to++ = 'r'; break;
      case '\t': *to++ = 't'; break;
      default:
        for (const char d : {'u', '0', '0', digits[c >> 4], digits[c & 15]}) *to++ = d;
    }
  }
  *to++ = '"';
  return to;
}

}  // namespace

void put_json_text(std::string& out, std::string_view text) {
  if (std::none_of(text.begin(), text.end(), [](char c) { return is_special[static_cast<unsigned char>(c)]; })) {
    out += '"';
    out.append(text);
    out += '"';
    return;
  }
  const std::size_t from = out.size();
  out.resize(from + 6 * text.size() + 2);
  out.resize(static_cast<std::size_t>(write_quoted(out.data() + from, text) - out.data()));
}

char* JsonText::room(std::size_t characters) {
  if (size_ + characters > room_) {
    room_ = 2 * (size_ + characters);
    std::unique_ptr<char[]> more(new char[room_]);
    std::memcpy(more.get(), text_.get(), size_);
    text_ = std::move(more);
  }
  return text_.get() + size_;
}

void JsonText::append(std::string_view text) {
  std::memcpy(room(text.size()), text.data(), text.size());
  size_ += text.size();
}

void JsonText::append_quoted(std::string_view text) { written(write_quoted(room(6 * text.size() + 2), text)); }

void JsonText::line() {
  const std::size_t blanks = 2 * static_cast<std::size_t>(level_);
  char* at = room(blanks + 1);
  *at = '\n';
  std::memset(at + 1, ' ', blanks);
  size_ += blanks + 1;
}

void JsonText::next() {
  if (std::exchange(after_key_, false)) return;
  if (!std::exchange(first_, false)) append(',');
  if (level_ > 0) line();
}

std::size_t JsonText::begin(char bracket) {
  next();
  const std::size_t from = size_;
  append(bracket);
  ++level_;
  first_ = true;
  return from;
}

void JsonText::put_written(std::string_view object) {
  next();
  append(object);
}

void JsonText::end(char bracket) {
  --level_;
  if (!std::exchange(first_, false)) line();
  append(bracket);
}

void JsonText::key(std::string_view key) {
  next();
  char* at = write_quoted(room(6 * key.size() + 4), key);
  *at++ = ':', *at++ = ' ';
  written(at);
  after_key_ = true;
}

void JsonText::put(double number) {
  next();
  constexpr std::size_t most = 64;
  const double size = std::abs(number);
  char* const at = room(most);
  char* end = at;
  if (size < 1e15 && number == std::floor(number)) {
    end = std::to_chars(at, at + most, static_cast<std::int64_t>(number)).ptr;
    *end++ = '.', *end++ = '0';
  } else {
    // As a document writes it; between these bounds without an exponent.
    end = size >= 1e-4 && size < 1e15 ? fmt::format_to(at, FMT_COMPILE("{}"), number)
                                      : std::to_chars(at, at + most, number, std::chars_format::scientific).ptr;
  }
  written(end);
}

void JsonText::put(std::int64_t number) {
  next();
  constexpr std::size_t most = 24;
  char* const at = room(most);
  written(std::to_chars(at, at + most, number).ptr);
}

void JsonText::put(bool flag) {
  next();
  append(flag ? "true" : "false");
}

void JsonText::put(std::string_view text) {
  next();
  append_quoted(text);
}

void JsonText::put(const Details& details) {
  begin_object();
  for (const auto& [name, detail] : details) {
    if (const std::string* text = std::get_if<std::string>(&detail)) {
      if (!text->empty()) put(name, *text);
    } else {
      put_known(name, std::get<double>(detail));
    }
  }
  end_object();
}

}  // namespace pecorra
