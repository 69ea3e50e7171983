#include "formats/json/quick_write.h"

#include <charconv>
#include <cmath>

namespace pecorra {
namespace {

void put_text(std::string& out, std::string_view text) {
  static constexpr char digits[] = "0123456789abcdef";
  out += '"';
  std::size_t from = 0;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c >= 0x20 && c != '"' && c != '\\') continue;
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

// Shortest text that reads back as the same; whole numbers without a point.
void put_number(std::string& out, double value) {
  char buffer[40];
  const bool whole = std::abs(value) < 1e15 && value == std::floor(value);
  const auto end = whole ? std::to_chars(buffer, buffer + sizeof buffer, static_cast<std::int64_t>(value)).ptr : std::to_chars(buffer, buffer + sizeof buffer, value).ptr;
  out.append(buffer, end);
}

void put_key(std::string& out, std::string_view key) {
  out += out.back() == '{' ? "\"" : ",\"";
  out += key;
  out += "\":";
}

void put_texts(std::string& out, std::string_view key, const std::map<std::string, std::string, std::less<>>& texts) {
  if (texts.empty()) return;
  put_key(out, key);
  out += '{';
  for (const auto& [name, text] : texts) {
    if (out.back() != '{') out += ',';
    put_text(out, name);
    out += ':';
    put_text(out, text);
  }
  out += '}';
}

}  // namespace

void quick_write(std::string& out, const Cutter& c) {
  out += "{\"id\":\"";
  out += c.id.text();
  out += '"';
  for (const Property<Cutter>& p : properties<Cutter>()) {
    const Value value = p.get(c);
    if (const double* number = std::get_if<double>(&value)) {
      put_key(out, p.key);
      put_number(out, *number);
    } else if (const std::string* text = std::get_if<std::string>(&value)) {
      if (text->empty()) continue;
      put_key(out, p.key);
      put_text(out, *text);
    } else if (const bool* flag = std::get_if<bool>(&value)) {
      put_key(out, p.key);
      out += *flag ? "true" : "false";
    }
  }
  const auto put_groups = [&](std::string_view key, const auto& items, auto&& numbers) {
    if (items.empty()) return;
    put_key(out, key);
    out += '[';
    for (const auto& item : items) {
      out += out.back() == '[' ? "[" : ",[";
      for (const double n : numbers(item)) {
        if (out.back() != '[') out += ',';
        put_number(out, n);
      }
      out += ']';
    }
    out += ']';
  };
  put_groups("shank_sections", c.shank_sections, [](const ShankSection& s) { return std::vector<double>{s.length_mm, s.lower_mm, s.upper_mm}; });
  put_groups("outline", c.outline, [](const Vertex& v) { return v.bulge == 0 ? std::vector<double>{v.x, v.y} : std::vector<double>{v.x, v.y, v.bulge}; });
  if (!c.guesses.empty()) {
    put_key(out, "guesses");
    out += '[';
    for (const std::string& key : c.guesses) {
      if (out.back() != '[') out += ',';
      put_text(out, key);
    }
    out += ']';
  }
  put_texts(out, "accepted", c.accepted);
  put_texts(out, "typed", c.typed);
  out += '}';
}

}  // namespace pecorra
