// Cells of a cutter besides its properties, as text that reads back exactly.
#include <fmt/format.h>
#include <charconv>
#include <cmath>

#include "core/library/cutter_rows.h"

namespace pecorra {
namespace {

using Cell = Property<Cutter>;

// Numbers in stored units, as the shortest text that reads back as the same.
std::string numbers_text(std::span<const double> numbers) { return fmt::format("{}", fmt::join(numbers, " ")); }

// "0 0; 5 0 0.41": groups of `least` to `most` numbers; nothing where it is not that.
std::optional<std::vector<std::vector<double>>> number_groups(const std::string& text, std::size_t least,
                                                              std::size_t most) {
  std::vector<std::vector<double>> groups;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find(';', at), text.size());
    std::vector<double> group;
    for (std::size_t i = at; i < end;) {
      if (text[i] == ' ') {
        ++i;
        continue;
      }
      double value = 0;
      const auto [behind, fault] = std::from_chars(text.data() + i, text.data() + end, value);
      if (fault != std::errc() || !std::isfinite(value)) return std::nullopt;
      group.push_back(value);
      i = static_cast<std::size_t>(behind - text.data());
    }
    if (group.size() < least || group.size() > most) return std::nullopt;
    groups.push_back(std::move(group));
    at = end + 1;
  }
  return groups;
}

// "diameter_mm=7/16\"; reach_mm=…": "\" before ";", "=" and itself.
std::string map_text(const std::map<std::string, std::string, std::less<>>& map) {
  std::string out;
  const auto put = [&](const std::string& text) {
    for (const char c : text) {
      if (c == ';' || c == '=' || c == '\\') out += '\\';
      out += c;
    }
  };
  for (const auto& [key, value] : map) {
    if (!out.empty()) out += ';';
    put(key);
    out += '=';
    put(value);
  }
  return out;
}

bool read_map(std::map<std::string, std::string, std::less<>>& map, const std::string& text) {
  std::map<std::string, std::string, std::less<>> read;
  std::string key, value;
  bool in_value = false;
  const auto finish = [&] {
    if (key.empty() && !in_value) return true;
    if (!in_value) return false;
    read[key] = value;
    key.clear();
    value.clear();
    in_value = false;
    return true;
  };
  for (std::size_t i = 0; i < text.size(); ++i) {
    char c = text[i];
    if (c == ';') {
      if (!finish()) return false;
      continue;
    }
    if (c == '=' && !in_value) {
      in_value = true;
      continue;
    }
    if (c == '\\' && i + 1 < text.size()) c = text[++i];
    (in_value ? value : key) += c;
  }
  if (!finish()) return false;
  map = std::move(read);
  return true;
}

Cell text_cell(std::string_view key, std::string_view label, std::string_view help, Value (*get)(const Cutter&),
               bool (*set)(Cutter&, const Value&)) {
  Cell cell;
  cell.key = key;
  cell.label = label;
  cell.help = help;
  cell.member = Cell::OtherAccess{get, set};
  return cell;
}

const std::string* text_in(const Value& value) { return std::get_if<std::string>(&value); }

template <auto Member>
Cell map_cell(std::string_view key, std::string_view label, std::string_view help) {
  return text_cell(
      key, label, help, [](const Cutter& c) -> Value { return map_text(c.*Member); },
      [](Cutter& c, const Value& value) {
        const std::string* text = text_in(value);
        return text && read_map(c.*Member, *text);
      });
}

}  // namespace

std::span<const Cell> cutter_cells() {
  static const std::vector<Cell> list = [] {
    std::vector<Cell> all(properties<Cutter>().begin(), properties<Cutter>().end());
    all.push_back(text_cell(
        "outline", "Outline", "Points from the tip upwards: distance from the axis, height, bulge; mm",
        [](const Cutter& c) -> Value {
          std::string out;
          for (const Vertex& v : c.outline) {
            const double numbers[] = {v.x, v.y, v.bulge};
            out += (out.empty() ? "" : "; ") + numbers_text(std::span(numbers).first(v.bulge == 0 ? 2 : 3));
          }
          return out;
        },
        [](Cutter& c, const Value& value) {
          const auto groups = text_in(value) ? number_groups(*text_in(value), 2, 3) : std::nullopt;
          if (!groups) return false;
          c.outline.clear();
          for (const auto& g : *groups) c.outline.push_back({g[0], g[1], g.size() > 2 ? g[2] : 0});
          return true;
        }));
    all.push_back(text_cell(
        "shank_sections", "Shank sections", "Length, lower and upper diameter of each; mm",
        [](const Cutter& c) -> Value {
          std::string out;
          for (const ShankSection& s : c.shank_sections) {
            const double numbers[] = {s.length_mm, s.lower_mm, s.upper_mm};
            out += (out.empty() ? "" : "; ") + numbers_text(numbers);
          }
          return out;
        },
        [](Cutter& c, const Value& value) {
          const auto groups = text_in(value) ? number_groups(*text_in(value), 3, 3) : std::nullopt;
          if (!groups) return false;
          c.shank_sections.clear();
          for (const auto& g : *groups) c.shank_sections.push_back({g[0], g[1], g[2]});
          return true;
        }));
    all.push_back(text_cell(
        "guesses", "Guesses", "Keys of values that nobody has confirmed",
        [](const Cutter& c) -> Value { return fmt::format("{}", fmt::join(c.guesses, " ")); },
        [](Cutter& c, const Value& value) {
          if (!text_in(value)) return false;
          c.guesses.clear();
          std::string_view rest = *text_in(value);
          while (!rest.empty()) {
            const auto end = rest.find(' ');
            if (end != 0) c.guesses.emplace(rest.substr(0, end));
            rest.remove_prefix(end == std::string_view::npos ? rest.size() : end + 1);
          }
          return true;
        }));
    all.push_back(
        map_cell<&Cutter::accepted>("accepted", "Accepted", "Warnings that somebody accepted, with the reason"));
    all.push_back(map_cell<&Cutter::typed>("typed", "Typed", "Values as they were typed"));
    return all;
  }();
  return list;
}

}  // namespace pecorra
