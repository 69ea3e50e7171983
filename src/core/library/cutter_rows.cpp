#include "core/library/cutter_rows.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <atomic>
#include <thread>
#include <unordered_map>

#include "core/base/large_memory.h"
#include "core/base/parallel.h"
#include "core/cutter/kinds.h"
#include "core/quantity/print.h"

namespace pecorra {
namespace {

using Cell = Property<Cutter>;

struct RoleKey {
  std::string_view key;
  CutterColumnRole role;
};
constexpr RoleKey role_keys[] = {{"id", CutterColumnRole::id},
                                 {"holder", CutterColumnRole::holder},
                                 {"stickout_mm", CutterColumnRole::stickout},
                                 {"lead_angle_deg", CutterColumnRole::lead_angle},
                                 {"threads_per_inch", CutterColumnRole::threads_per_inch}};

// Possible headings of a cell, as word_of() gives them.
struct CellWords {
  std::string key, label, symbol;
};
const std::vector<CellWords>& cell_words() {
  static const std::vector<CellWords> list = [] {
    std::vector<CellWords> all;
    for (const Cell& cell : cutter_cells())
      all.push_back({word_of(cell.key), word_of(cell.label), word_of(cell.symbol)});
    return all;
  }();
  return list;
}

// Headings with two possible meanings, as lists of cutters use them.
CutterColumn column_headed(const std::string& text) {
  CutterColumn column;
  column.heading = trimmed(text);
  Heading heading = heading_of(text);
  // "Bought in": that word is no unit.
  const std::string whole = word_of(text);
  for (const CellWords& words : cell_words())
    if (words.label == whole) heading = {whole, {}};
  column.units = system_of(heading.unit);
  // Our own keys say the unit they are kept in.
  for (const auto& [ending, system] :
       {std::pair{"_mm", UnitSystem::metric}, {"_in", UnitSystem::inch}, {"_inch", UnitSystem::inch}})
    if (column.heading.ends_with(ending)) {
      column.units = system;
      if (const std::string without = word_of(
              std::string_view(column.heading).substr(0, column.heading.size() - std::string_view(ending).size()));
          system == UnitSystem::inch)
        heading.word = without;
    }
  for (const auto& [key, role] : role_keys)
    if (heading.word == word_of(key)) set_column_key(column, key);
  for (std::size_t i = 0; i < cutter_cells().size() && !column.role && !heading.word.empty(); ++i) {
    const CellWords& words = cell_words()[i];
    if (words.key == heading.word || words.label == heading.word || words.symbol == heading.word)
      set_column_key(column, cutter_cells()[i].key);
  }
  for (const Synonym& s : cutter_headings())
    if (!column.role && s.word == heading.word) set_column_key(column, s.key);
  if (column_key(column) == "library")
    column = {column.heading, std::nullopt, nullptr, column.units};  // it is the one it is read into
  return column;
}

bool is_empty_line(const std::vector<std::string>& cells) {
  return std::all_of(cells.begin(), cells.end(), [](const std::string& c) { return trimmed(c).empty(); });
}

// Reads lines of one form, caching the meaning of words, as a column repeats the same few.
class LineReader {
 public:
  LineReader(const CutterSheetForm& form, UnitSystem units, const IdLookup& ids)
      : form_(form), units_(units), ids_(ids), memory_(form.columns.size()), meanings_(form.columns.size()) {
    for (std::size_t i = 0; i < form.columns.size(); ++i) {
      const CutterColumn& c = form.columns[i];
      if (column_key(c) == "unit") unit_column_ = i;
      if (column_key(c) == "kind") has_kind_ = true;
      Meaning& m = meanings_[i];
      m.is_kind = column_key(c) == "kind";
      m.is_diameter = column_key(c) == "diameter_mm";
      m.is_alone =
          c.property && std::none_of(form.columns.begin(), form.columns.end(), [&](const CutterColumn& other) {
            return &other != &c && (other.property == c.property || other.role == CutterColumnRole::lead_angle ||
                                    other.role == CutterColumnRole::threads_per_inch);
          });
    }
    for (std::size_t kind = 0; kind < needs_diameter_.size(); ++kind) {
      const ParameterUse* use = parameter_use(static_cast<CutterKind>(kind), "diameter_mm");
      needs_diameter_[kind] = use && use->required;
    }
  }

  void read(SheetLine<Cutter>& line, const std::vector<std::string>& cells, int number, CutterLineExtra& extra) {
    line.line = number;
    line.given.reserve(form_.columns.size());
    UnitSystem units = units_;
    if (unit_column_ && *unit_column_ < cells.size()) {
      Cutter as_unit;
      const Cell& cell = *form_.columns[*unit_column_].property;
      if (const std::string text = trimmed(cells[*unit_column_]);
          !text.empty() && !read_cell(as_unit, cell, text == "\"" ? "inch" : text, units, ids_, cutter_choice_words()))
        units = as_unit.unit;
    }
    bool has_kind = false, has_id = false;
    line.value.unit = units;
    for (std::size_t i = 0; i < form_.columns.size() && i < cells.size(); ++i) {
      const CutterColumn& column = form_.columns[i];
      if (!column.role) continue;
      const std::string_view text = view_trimmed(cells[i]);
      if (text.empty() || text == "-" || text == "–") continue;
      const UnitSystem here = column.units.value_or(units);
      const auto fault = [&](std::string why) { line.faults.push_back({number, column.heading, std::move(why)}); };
      switch (*column.role) {
        case CutterColumnRole::id: {
          const auto id = Id::parse(text);
          if (!id) fault(fmt::format("“{}” is not a UUID", text));
          else line.value.id = *id, has_id = true;
          break;
        }
        case CutterColumnRole::holder: extra.holder = text; break;
        case CutterColumnRole::stickout: {
          const auto entry = parse_entry(text, Quantity::length, here);
          if (!entry || entry->stored < 0)
            fault(fmt::format("“{}” {}", text, entry ? "is out of range" : entry.error().text));
          else extra.stickout_mm = entry->stored;
          break;
        }
        case CutterColumnRole::lead_angle: {
          const auto entry = parse_entry(text, Quantity::angle, here);
          if (!entry || entry->stored < 0 || entry->stored >= 90)
            fault(fmt::format("“{}” {}", text,
                              entry ? "is out of range; it must be 0 to less than 90" : entry.error().text));
          else
            line.value.cutting_edge_angle_deg = 90 - entry->stored,
            give(line, find_property<Cutter>("cutting_edge_angle_deg"));
          break;
        }
        case CutterColumnRole::threads_per_inch: {
          const auto entry = parse_entry(text, Quantity::number, here);
          if (!entry || entry->stored <= 0)
            fault(fmt::format("“{}” {}", text, entry ? "is not possible; use more than 0" : entry.error().text));
          else line.value.pitch_mm = mm_per_inch / entry->stored, give(line, find_property<Cutter>("pitch_mm"));
          break;
        }
        case CutterColumnRole::property:
          if (auto wrong = set(line.value, i, text, here)) fault(std::move(*wrong));
          else if (meanings_[i].is_alone) line.given.push_back(column.property);
          else give(line, column.property);
          has_kind = has_kind || meanings_[i].is_kind;
          if (meanings_[i].is_diameter) {
            if (!unit_column_)
              line.value.unit = !says_unit(text)                            ? here
                                : text.find("mm") != std::string_view::npos ? UnitSystem::metric
                                                                            : UnitSystem::inch;
          }
      }
    }
    if (!has_kind) {
      if (const auto kind = kind_in_words(line.value.name)) {
        line.value.kind = *kind;
        give(line, find_property<Cutter>("kind"));
      } else if (std::none_of(line.faults.begin(), line.faults.end(),
                              [&](const CellFault& f) { return f.column == heading_of_key("kind"); })) {
        line.faults.push_back({number, heading_of_key("kind"),
                               has_kind_ ? "is empty; give the kind of cutter, such as end mill or drill"
                                         : "neither a column nor the name says what kind of cutter it is"});
      }
    }
    if (line.faults.empty() && !has_id && !line.value.diameter_mm &&
        needs_diameter_[static_cast<std::size_t>(line.value.kind)])
      line.faults.push_back({number, heading_of_key("diameter_mm"), "is missing"});
  }

 private:
  static std::string_view view_trimmed(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t' || text.back() == '\r')) text.remove_suffix(1);
    while (text.starts_with("\xc2\xa0")) text.remove_prefix(2);
    while (text.ends_with("\xc2\xa0")) text.remove_suffix(2);
    return text;
  }
  static bool says_unit(std::string_view text) {
    return text.find_first_of("\"abcdefghijklmnopqrstuvwxyz") != std::string_view::npos ||
           text.find("″") != std::string_view::npos;
  }
  static void give(SheetLine<Cutter>& line, const Cell* property) {
    if (std::find(line.given.begin(), line.given.end(), property) == line.given.end()) line.given.push_back(property);
  }
  std::string heading_of_key(std::string_view key) const {
    for (const CutterColumn& c : form_.columns)
      if (column_key(c) == key) return c.heading;
    return std::string(find_property<Cutter>(key)->label);
  }

  std::optional<std::string> set(Cutter& cutter, std::size_t i, std::string_view text, UnitSystem units) {
    const Cell& cell = *form_.columns[i].property;
    if (cell.quantity == Quantity::text) {
      if (cell.is_text() ? cell.set_text(cutter, text) : cell.set(cutter, std::string(text))) return std::nullopt;
      return fmt::format("“{}” is not written as expected", text);
    }
    if (cell.quantity != Quantity::choice && cell.quantity != Quantity::flag && cell.quantity != Quantity::id) {
      const auto figure = plain_figure(text);
      if (figure && cell.accepts(*figure) && stored_per_shown(cell.quantity, units) == 1 &&
          (cell.quantity != Quantity::count || *figure == std::floor(*figure))) {
        cell.set_number(cutter, *figure);
        return std::nullopt;
      }
      if (text.find_first_of("0123456789") == std::string_view::npos &&
          text.find_first_of("\xc2\xe2") == std::string_view::npos)
        return fmt::format("“{}” is not a number", text);
      auto wrong = read_cell(cutter, cell, std::string(text), units, ids_);
      // Fractions and units are kept as typed, as in a field.
      if (!wrong && !figure && (text.find_first_of("/\"") != std::string_view::npos || says_unit(text)))
        cutter.typed[std::string(cell.key)] = text;
      return wrong;
    }
    const auto known = memory_[i].find(text);
    if (known != memory_[i].end()) {
      cell.set(cutter, known->second);
      return std::nullopt;
    }
    if (cell.key == "kind" || cell.key == "tool_material") {
      Cutter read;
      if (!read_cell(read, cell, std::string(text), units, ids_)) {
        memory_[i].emplace(text, cell.get(read));
        return cell.set(cutter, cell.get(read)), std::nullopt;
      }
      const auto kind = cell.key == "kind" ? kind_in_words(text) : std::nullopt;
      const auto material = cell.key == "kind" ? std::nullopt : tool_material_in_words(text);
      if (cell.key == "kind" && !kind)
        return fmt::format("“{}” is not a known kind of cutter, such as end mill, ball end mill, drill or tap", text);
      if (kind || material) {
        const Value value = kind ? std::string(key_of(*kind)) : std::string(key_of(*material));
        memory_[i].emplace(text, value);
        return cell.set(cutter, value), std::nullopt;
      }
    }
    if (auto wrong = read_cell(cutter, cell, std::string(text), units, ids_, cutter_choice_words())) return wrong;
    if (memory_[i].size() < 10000) memory_[i].emplace(text, cell.get(cutter));
    return std::nullopt;
  }

  const CutterSheetForm& form_;
  UnitSystem units_;
  const IdLookup& ids_;
  struct Meaning {
    bool is_kind = false, is_diameter = false;
    bool is_alone = false;  // nothing else on the line says the same property
  };
  struct TextHash : std::hash<std::string_view> {
    using is_transparent = void;
  };
  std::vector<std::unordered_map<std::string, Value, TextHash, std::equal_to<>>> memory_;
  std::vector<Meaning> meanings_;
  std::vector<bool> needs_diameter_ = std::vector<bool>(choices_of<CutterKind>().size());
  std::optional<std::size_t> unit_column_;
  bool has_kind_ = false;
};

std::uint64_t mixed(std::uint64_t a, std::uint64_t b) {
  return (a ^ (b + 0x9E3779B97F4A7C15ull + (a << 6) + (a >> 2))) * 0xff51afd7ed558ccdull;
}

}  // namespace

bool set_column_key(CutterColumn& column, std::string_view key) {
  column.role.reset();
  column.property = nullptr;
  if (key.empty()) return true;
  for (const auto& [name, role] : role_keys)
    if (name == key) return column.role = role, true;
  for (const Cell& cell : cutter_cells())
    if (cell.key == key) {
      column.role = CutterColumnRole::property;
      column.property = &cell;
      return true;
    }
  return false;
}

std::string_view column_key(const CutterColumn& column) {
  if (column.property) return column.property->key;
  for (const auto& [name, role] : role_keys)
    if (column.role == role) return name;
  return {};
}

CutterSheetForm guess_columns(const Sheet& sheet) {
  CutterSheetForm form;
  // The line of headings is the one in which most columns mean something, and at least two.
  std::size_t best = 1;
  for (std::size_t at = 0; at < sheet.lines.size() && at < 20; ++at) {
    std::vector<CutterColumn> columns;
    std::size_t known = 0;
    for (const std::string& text : sheet.lines[at]) {
      CutterColumn column = column_headed(text);
      // Two columns for one thing: the first one counts.
      if (column.role && std::any_of(columns.begin(), columns.end(), [&](const CutterColumn& c) {
            return c.role == column.role && c.property == column.property;
          }))
        set_column_key(column, {});
      known += column.role.has_value();
      columns.push_back(std::move(column));
    }
    if (known <= best) continue;
    best = known;
    form.headed = true;
    form.heading_line = at;
    form.columns = std::move(columns);
  }
  if (!form.headed) return form;
  form.first_line = form.heading_line + 1;
  if (form.first_line < sheet.lines.size() && is_unit_line(sheet.lines[form.first_line])) {
    for (std::size_t i = 0; i < form.columns.size() && i < sheet.lines[form.first_line].size(); ++i)
      if (const auto system = system_of(bare_unit(sheet.lines[form.first_line][i]))) form.columns[i].units = *system;
    ++form.first_line;
  }
  // A column “ID” with figures holds numbers.
  for (std::size_t i = 0; i < form.columns.size(); ++i) {
    if (form.columns[i].role != CutterColumnRole::id) continue;
    for (std::size_t at = form.first_line; at < sheet.lines.size(); ++at) {
      const std::string text = i < sheet.lines[at].size() ? trimmed(sheet.lines[at][i]) : std::string();
      if (text.empty()) continue;
      const bool numbers_elsewhere = std::any_of(form.columns.begin(), form.columns.end(),
                                                 [](const CutterColumn& c) { return column_key(c) == "number"; });
      if (!Id::parse(text))
        set_column_key(form.columns[i], numbers_elsewhere ? "" : plain_figure(text) ? "number" : "order_code");
      break;
    }
  }
  return form;
}

std::string shape_of(const CutterSheetForm& form) {
  std::string out;
  for (const CutterColumn& c : form.columns) out += c.heading + "\n";
  return out;
}

CutterLines read_cutter_sheet(const Sheet& sheet, const CutterSheetForm& form, UnitSystem units, const IdLookup& ids,
                              const std::function<bool(std::size_t)>& step) {
  CutterLines out;
  const bool extras = std::any_of(form.columns.begin(), form.columns.end(), [](const CutterColumn& c) {
    return c.role == CutterColumnRole::holder || c.role == CutterColumnRole::stickout;
  });
  const std::size_t count = sheet.lines.size() - std::min(form.first_line, sheet.lines.size());
  reserve_large(out.lines, count);
  out.lines.resize(count);
  if (extras) out.extras.resize(count);
  std::atomic<std::size_t> done = 0;
  std::atomic<bool> stopped = false;
  const auto caller = std::this_thread::get_id();
  in_parts(count, 2000, [&](std::size_t from, std::size_t to) {
    LineReader reader(form, units, ids);
    CutterLineExtra extra;
    for (std::size_t i = from; i < to && !stopped; ++i) {
      if (++done % 1000 == 0 && step && std::this_thread::get_id() == caller && !step(done)) stopped = true;
      const std::size_t at = form.first_line + i;
      if (is_empty_line(sheet.lines[at])) continue;
      extra = {};
      reader.read(out.lines[i], sheet.lines[at], static_cast<int>(at) + 1, extra);
      if (extras) out.extras[i] = std::move(extra);
    }
  });
  // Empty lines have no number.
  std::size_t kept = 0;
  for (std::size_t i = 0; i < count; ++i) {
    if (out.lines[i].line == 0) continue;
    if (kept != i) {
      out.lines[kept] = std::move(out.lines[i]);
      if (extras) out.extras[kept] = std::move(out.extras[i]);
    }
    ++kept;
  }
  out.lines.erase(out.lines.begin() + static_cast<std::ptrdiff_t>(kept), out.lines.end());
  if (extras) out.extras.resize(kept);
  for (const CutterColumn& c : form.columns)
    if (!c.role && !c.heading.empty()) out.unknown.push_back(c.heading);
  return out;
}

MergeRules<Cutter> cutter_merge_rules() {
  MergeRules<Cutter> rules;
  rules.keys = [](const Cutter& c, bool looked_for, std::vector<std::uint64_t>& keys) {
    const std::uint64_t library = mixed(c.library.high, c.library.low);
    if (!c.id.is_null()) keys.push_back(mixed(mixed(1, c.id.high), c.id.low));
    if (c.number > 0) keys.push_back(mixed(mixed(library, 2), static_cast<std::uint64_t>(c.number)));
    if (looked_for && c.number > 0) return;
    if (!c.order_code.empty()) keys.push_back(mixed(mixed(library, 3), std::hash<std::string>()(c.order_code)));
    if (looked_for && !c.order_code.empty()) return;
    if (c.name.empty()) return;  // without number, order code or name it matches nothing
    keys.push_back(
        mixed(mixed(library, 4), mixed(std::hash<std::string>()(c.name), static_cast<std::uint64_t>(c.kind))));
  };
  rules.same_thing = [](const Cutter& there, const Cutter& read) {
    if (!read.id.is_null() && there.id == read.id) return true;
    if (there.library != read.library) return false;
    // A different UUID is a different cutter. If its number is taken, that is a conflict, not a match.
    if (!read.id.is_null() && !there.id.is_null()) return false;
    if (read.number > 0) return there.number == read.number;
    if (!read.order_code.empty()) return there.order_code == read.order_code && there.maker == read.maker;
    if (there.kind != read.kind || there.name != read.name || read.name.empty()) return false;
    for (const Cell& p : size_properties())
      if (const Value value = p.get(read);
          !std::holds_alternative<std::monostate>(value) && !same_value(value, p.get(there)))
        return false;
    return true;
  };
  rules.carry = [](Cutter& after, const Cutter& read, std::span<const Cell* const> given) {
    // A row that states what was typed keeps that text.
    for (const Cell* p : given)
      if (p->key == "typed") return;
    for (const Cell* p : given) {
      const auto typed = read.typed.find(p->key);
      if (typed != read.typed.end()) after.typed[typed->first] = typed->second;
      else if (const auto old = after.typed.find(p->key); old != after.typed.end())
        if (const auto entry = parse_entry(old->second, p->quantity, after.unit);
            !entry || !same_value(Value(entry->stored), p->get(after)))
          after.typed.erase(old);
    }
  };
  return rules;
}

Sheet cutter_sheet(std::span<const Cutter* const> cutters, const CutterSheetWish& wish) {
  Sheet sheet;
  std::vector<const Cell*> used;
  const std::size_t own = properties<Cutter>().size();
  // Without these a list of cutters that do not state them is the same, byte for byte, as earlier versions wrote it.
  const auto is_late = [](const Cell& cell) {
    return cell.key == "centre_cut" || cell.key == "made_for" || cell.key == "web";
  };
  for (std::size_t i = 0; i < cutter_cells().size(); ++i) {
    const Cell& cell = cutter_cells()[i];
    const auto says_something = [&](const Cutter* c) { return !same_value(cell.get(*c), Value{}); };
    const bool wanted =
        wish.keys.empty() ? cell.key != "library" && (i < own && !wish.words && !is_late(cell)
                                                          ? true
                                                          : std::any_of(cutters.begin(), cutters.end(), says_something))
                          : std::find(wish.keys.begin(), wish.keys.end(), cell.key) != wish.keys.end();
    if (wanted) used.push_back(&cell);
  }
  // The order asked for; by default number and name come first.
  const auto place = [&](const Cell* c) -> std::size_t {
    if (!wish.keys.empty())
      return static_cast<std::size_t>(std::find(wish.keys.begin(), wish.keys.end(), c->key) - wish.keys.begin());
    return c->key == "number" ? 0 : c->key == "name" ? 1 : 2;
  };
  if (!wish.keys.empty() || wish.words)
    std::stable_sort(used.begin(), used.end(), [&](const Cell* a, const Cell* b) { return place(a) < place(b); });
  const bool all_cells = wish.keys.empty();
  std::vector<std::string> heads;
  for (const Cell* p : used) {
    if (!wish.words) {
      heads.emplace_back(p->key);
      continue;
    }
    const std::string unit = p->choices.empty() && p->quantity != Quantity::number && p->quantity != Quantity::count
                                 ? unit_text(p->quantity, wish.units)
                                 : std::string();
    heads.push_back(std::string(p->label) + (unit.empty() ? "" : " (" + unit + ")"));
  }
  const std::string length_unit = wish.words ? " (" + std::string(unit_text(Quantity::length, wish.units)) + ")" : "";
  if (wish.extra) {
    heads.push_back(wish.words ? "Holder" : "holder");
    heads.push_back(wish.words ? "Stick-out" + length_unit : "stickout_mm");
  }
  if (all_cells) heads.push_back("id");
  sheet.lines.push_back(std::move(heads));
  const auto figure = [&](double stored, Quantity quantity) {
    const double per = stored_per_shown(quantity, wish.units);
    return per == 1 || !wish.words ? fmt::format("{}", stored) : fmt::format("{:.12g}", stored / per);
  };
  for (const Cutter* c : cutters) {
    std::vector<std::string> line;
    line.reserve(used.size() + 3);
    for (const Cell* p : used) {
      const Value value = p->get(*c);
      std::string text;
      if (const double* number = std::get_if<double>(&value)) text = figure(*number, p->quantity);
      else if (const bool* flag = std::get_if<bool>(&value))
        text = wish.words ? (*flag ? "yes" : "no") : (*flag ? "true" : "false");
      else if (const std::string* s = std::get_if<std::string>(&value)) {
        text = *s;
        if (p->quantity == Quantity::id) {
          const auto id = Id::parse(*s);
          text = id && !id->is_null() && wish.text_of_id ? wish.text_of_id(p->key, *id) : std::string();
        }
        if (wish.words)
          for (const Choice& choice : p->choices)
            if (choice.key == *s) text = std::string(choice.label);
      }
      line.push_back(std::move(text));
    }
    if (wish.extra) {
      const CutterLineExtra extra = wish.extra(*c);
      line.push_back(extra.holder);
      line.push_back(extra.stickout_mm ? figure(*extra.stickout_mm, Quantity::length) : std::string());
    }
    if (all_cells) line.push_back(c->id.text());
    sheet.lines.push_back(std::move(line));
  }
  return sheet;
}

}  // namespace pecorra
