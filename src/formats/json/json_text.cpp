#include "formats/json/json_text.h"

#include <array>
#include <charconv>
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

}  // namespace

void put_json_text(std::string& out, std::string_view text) {
  static constexpr char digits[] = "0123456789abcdef";
  out += '"';
  std::size_t from = 0;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (!is_special[c]) continue;
    out.append(text.substr(from, i - from));
    from = i + 1;
    switch (c) {
      case '"': out += "\\\""; break;
      case '\\': out += "\\\\"; break;
      case '\b': out += "\\b"; break;
      case '\f': out += "\\f"; break;
      case '\n': out += "\\n"; break;
      case '\r': out += "\\r"; break;
      case '\t': out += "\\t"; break;
      default:
        out += "\\u00";
        out += digits[c >> 4];
        out += digits[c & 15];
    }
  }
  out.append(text.substr(from));
  out += '"';
}

void JsonText::line() {
  out_ += '\n';
  out_.append(static_cast<std::size_t>(2 * level_), ' ');
}

void JsonText::next() {
  if (std::exchange(after_key_, false)) return;
  if (!std::exchange(first_, false)) out_ += ',';
  if (level_ > 0) line();
}

std::size_t JsonText::begin(char bracket) {
  next();
  const std::size_t from = out_.size();
  out_ += bracket;
  ++level_;
  first_ = true;
  return from;
}

void JsonText::put_written(std::string_view object) {
  next();
  out_ += object;
}

void JsonText::end(char bracket) {
  --level_;
  if (!std::exchange(first_, false)) line();
  out_ += bracket;
}

void JsonText::key(std::string_view key) {
  next();
  put_json_text(out_, key);
  out_ += ": ";
  after_key_ = true;
}

void JsonText::put(double number) {
  next();
  char buffer[64];
  const double size = std::abs(number);
  char* end = buffer;
  if (size < 1e15 && number == std::floor(number)) {
    end = std::to_chars(buffer, buffer + sizeof buffer, static_cast<std::int64_t>(number)).ptr;
    *end++ = '.', *end++ = '0';
  } else {
    // As a document writes it.
    const auto form = size >= 1e-4 && size < 1e15 ? std::chars_format::fixed : std::chars_format::scientific;
    end = std::to_chars(buffer, buffer + sizeof buffer, number, form).ptr;
  }
  out_.append(buffer, end);
}

void JsonText::put(std::int64_t number) {
  next();
  char buffer[24];
  out_.append(buffer, std::to_chars(buffer, buffer + sizeof buffer, number).ptr);
}

void JsonText::put(bool flag) {
  next();
  out_ += flag ? "true" : "false";
}

void JsonText::put(std::string_view text) {
  next();
  put_json_text(out_, text);
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
