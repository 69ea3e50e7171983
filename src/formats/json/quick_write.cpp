#include "formats/json/quick_write.h"

#include "core/base/decimal.h"
#include "formats/json/json_text.h"

namespace pecorra {
namespace {

void put_number(std::string& out, double value) {
  char buffer[40];
  out.append(buffer, write_decimal(buffer, buffer + sizeof buffer, value));
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
    put_json_text(out, name);
    out += ':';
    put_json_text(out, text);
  }
  out += '}';
}

}  // namespace

void quick_write(std::string& out, const Cutter& c) {
  struct Written {
    const Property<Cutter>* property;
    std::string start;  // ,"key":
  };
  static const std::vector<Written> all = [] {
    std::vector<Written> list;
    for (const Property<Cutter>& p : properties<Cutter>())
      list.push_back({&p, std::string(",\"").append(p.key).append("\":")});
    return list;
  }();
  out += "{\"id\":\"";
  out += c.id.text();
  out += '"';
  for (const auto& [p, start] : all) {
    if (p->is_number()) {
      const std::optional<double> number = p->get_number(c);
      if (!number) continue;
      out += start;
      put_number(out, *number);
    } else if (p->is_text()) {
      const std::string_view text = p->get_text(c);
      if (text.empty()) continue;
      out += start;
      put_json_text(out, text);
    } else {
      const Value value = p->get(c);
      if (const bool* flag = std::get_if<bool>(&value)) {
        out += start;
        out += *flag ? "true" : "false";
      } else if (const std::string* id = std::get_if<std::string>(&value); id && !id->empty()) {
        out += start;
        put_json_text(out, *id);
      }
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
  put_groups("shank_sections", c.shank_sections, [](const ShankSection& s) {
    return std::vector<double>{s.length_mm, s.lower_mm, s.upper_mm};
  });
  put_groups("outline", c.outline, [](const Vertex& v) {
    return v.bulge == 0 ? std::vector<double>{v.x, v.y} : std::vector<double>{v.x, v.y, v.bulge};
  });
  if (!c.guesses.empty()) {
    put_key(out, "guesses");
    out += '[';
    for (const std::string& key : c.guesses) {
      if (out.back() != '[') out += ',';
      put_json_text(out, key);
    }
    out += ']';
  }
  put_texts(out, "accepted", c.accepted);
  put_texts(out, "typed", c.typed);
  out += '}';
}

}  // namespace pecorra
