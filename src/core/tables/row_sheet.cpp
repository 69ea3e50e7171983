#include "core/tables/row_sheet.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/quantity/print.h"

namespace pecorra {
namespace {

using Row = ConditionRow;

constexpr std::array synonyms = std::to_array<Synonym>({{"tooltype", "kind"},
                                                        // Headings of our own that older exports have.
                                                        {"madeof", "tool_material"},
                                                        {"feedis", "feed_kind"},
                                                        {"type", "kind"},
                                                        {"tool", "kind"},
                                                        {"cuttertype", "kind"},
                                                        {"toolmaterial", "tool_material"},
                                                        {"substrate", "tool_material"},
                                                        {"grade", "tool_material"},
                                                        {"manner", "operation"},
                                                        {"op", "operation"},
                                                        {"workmaterial", "material"},
                                                        {"workpiece", "material"},
                                                        {"werkstoff", "material"},
                                                        {"isogroup", "group"},
                                                        {"iso", "group"},
                                                        {"isop", "group"},
                                                        {"hbmin", "hardness_from_hb"},
                                                        {"hbmax", "hardness_to_hb"},
                                                        {"hbfrom", "hardness_from_hb"},
                                                        {"hbto", "hardness_to_hb"},
                                                        {"z", "flutes"},
                                                        {"teeth", "flutes"},
                                                        {"numberofflutes", "flutes"},
                                                        {"zefp", "flutes"},
                                                        {"vcmin", "vc_low_m_min"},
                                                        {"vcmax", "vc_high_m_min"},
                                                        {"vclow", "vc_low_m_min"},
                                                        {"vchigh", "vc_high_m_min"},
                                                        {"speedmin", "vc_low_m_min"},
                                                        {"speedmax", "vc_high_m_min"},
                                                        {"fzmin", "feed_low_mm"},
                                                        {"fzmax", "feed_high_mm"},
                                                        {"fzlow", "feed_low_mm"},
                                                        {"fzhigh", "feed_high_mm"},
                                                        {"fmin", "feed_low_mm"},
                                                        {"fmax", "feed_high_mm"},
                                                        {"apxd", "ap_per_d"},
                                                        {"aexd", "ae_per_d"},
                                                        {"apd", "ap_per_d"},
                                                        {"aed", "ae_per_d"},
                                                        {"cooling", "coolant"},
                                                        {"remark", "note"},
                                                        {"remarks", "note"},
                                                        {"notes", "note"},
                                                        {"comment", "note"},
                                                        {"author", "author"},
                                                        {"who", "author"},
                                                        {"date", "date"},
                                                        {"when", "date"}});

// Fields that can be typed either way round, by their headings.
struct FieldWord {
  std::string_view word;
  RowField field;
  std::optional<FeedKind> feed_kind = {};
};
constexpr std::array field_words =
    std::to_array<FieldWord>({{"d", RowField::diameter},
                              {"dc", RowField::diameter},
                              {"dia", RowField::diameter},
                              {"diam", RowField::diameter},
                              {"diameter", RowField::diameter},
                              {"diametermm", RowField::diameter},
                              {"dmm", RowField::diameter},
                              {"vc", RowField::vc},
                              {"vcmmin", RowField::vc},
                              {"cuttingspeed", RowField::vc},
                              {"surfacespeed", RowField::vc},
                              {"speed", RowField::vc},
                              {"sfm", RowField::vc},
                              {"v", RowField::vc},
                              {"n", RowField::n},
                              {"nrpm", RowField::n},
                              {"rpm", RowField::n},
                              {"spindlespeed", RowField::n},
                              {"s", RowField::n},
                              {"feed", RowField::feed},
                              {"feedmm", RowField::feed},
                              {"fz", RowField::feed, FeedKind::per_tooth},
                              {"fzmm", RowField::feed, FeedKind::per_tooth},
                              {"feedpertooth", RowField::feed, FeedKind::per_tooth},
                              {"chipload", RowField::feed, FeedKind::per_tooth},
                              {"ipt", RowField::feed, FeedKind::per_tooth},
                              {"fn", RowField::feed, FeedKind::per_revolution},
                              {"fnmm", RowField::feed, FeedKind::per_revolution},
                              {"f", RowField::feed, FeedKind::per_revolution},
                              {"feedperrevolution", RowField::feed, FeedKind::per_revolution},
                              {"feedperrev", RowField::feed, FeedKind::per_revolution},
                              {"ipr", RowField::feed, FeedKind::per_revolution},
                              {"hex", RowField::feed, FeedKind::chip_thickness},
                              {"chipthickness", RowField::feed, FeedKind::chip_thickness},
                              {"vf", RowField::vf},
                              {"vfmmmin", RowField::vf},
                              {"tablefeed", RowField::vf},
                              {"ipm", RowField::vf},
                              {"ap", RowField::ap},
                              {"apmm", RowField::ap},
                              {"depth", RowField::ap},
                              {"depthofcut", RowField::ap},
                              {"doc", RowField::ap},
                              {"ae", RowField::ae},
                              {"aemm", RowField::ae},
                              {"width", RowField::ae},
                              {"widthofcut", RowField::ae},
                              {"woc", RowField::ae}});

// What a proven row is proven for.
constexpr std::array<std::string_view, 6> value_keys{"vc_m_min", "feed_mm", "ap_mm", "ap_per_d", "ae_mm", "ae_per_d"};
constexpr std::string_view keys_of_fields[row_field_count] = {"diameter_mm", "vc_m_min", "vc_m_min", "feed_mm",
                                                              "feed_mm",     "ap_mm",    "ae_mm"};
// A speed needs the diameter, a table feed the speed and the flutes: they are read in this order.
constexpr RowField field_order[] = {RowField::diameter, RowField::vc, RowField::n, RowField::feed,
                                    RowField::vf,       RowField::ap, RowField::ae};

std::pair<RowColumn, std::optional<FeedKind>> column_headed(const std::string& text, UnitSystem units) {
  RowColumn column;
  column.heading = trimmed(text);
  column.units = units;
  const Heading heading = heading_of(text);
  if (const auto system = system_of(heading.unit)) column.units = *system;
  std::optional<FeedKind> kind;
  for (const FieldWord& w : field_words)
    if (w.word == heading.word) column.field = w.field, kind = w.feed_kind;
  // A table feed has units of its own.
  if (column.field == RowField::vf)
    for (const auto& [unit, system] : {std::pair{"m/min", UnitSystem::metric_m_min},
                                       {"mm/s", UnitSystem::metric_mm_s},
                                       {"ft/min", UnitSystem::inch_ft_min}})
      if (heading.unit == unit) column.units = system;
  // The words of these columns say the unit.
  for (const char* inch : {"ipt", "ipr", "ipm", "sfm"})
    if (heading.word == inch) column.units = UnitSystem::inch;
  if (!column.field) column.property = property_headed<Row>(heading, synonyms);
  if (column.property && column.property->key == "id") column.property = nullptr;
  return {column, kind};
}

void give(SheetLine<Row>& line, std::string_view key) {
  const Property<Row>* p = find_property<Row>(key);
  if (std::find(line.given.begin(), line.given.end(), p) == line.given.end()) line.given.push_back(p);
}

SheetLine<Row> read_line(const std::vector<std::string>& cells, int number, const std::vector<RowColumn>& columns,
                         const Row& base, const IdLookup& ids) {
  SheetLine<Row> line;
  line.line = number;
  line.value = base;
  line.value.typed.clear();
  const auto cell = [&](std::size_t i) { return i < cells.size() ? trimmed(cells[i]) : std::string(); };
  const auto fault = [&](std::size_t i, const std::string& text) {
    line.faults.push_back({number, columns[i].heading, text});
  };
  for (std::size_t i = 0; i < columns.size(); ++i) {
    if (!columns[i].property || cell(i).empty() || cell(i) == "-") continue;
    std::string text = cell(i);
    const std::string_view key = columns[i].property->key;
    // A material that is none by name may be a group.
    if (key == "material" && (!ids || !ids(key, text))) {
      Row as_group = line.value;
      const auto& group = *find_property<Row>("group");
      if (!read_cell(as_group, group, text, columns[i].units, ids)) {
        line.value.group = as_group.group;
        line.value.material = {};
        give(line, "group");
        give(line, "material");
        continue;
      }
    }
    if (const auto wrong = read_cell(line.value, *columns[i].property, text, columns[i].units, ids)) fault(i, *wrong);
    else give(line, key);
  }
  for (const RowField field : field_order)
    for (std::size_t i = 0; i < columns.size(); ++i) {
      if (columns[i].field != field || cell(i).empty() || cell(i) == "-") continue;
      const auto entered = with_entry(line.value, field, cell(i), columns[i].units);
      if (!entered) {
        fault(i, "“" + cell(i) + "”: " + entered.error().text);
        continue;
      }
      line.value = *entered;
      give(line, keys_of_fields[static_cast<int>(field)]);
      if (field == RowField::ap) give(line, "ap_per_d");
      if (field == RowField::ae) give(line, "ae_per_d");
    }
  // Figures that were read are not texts somebody typed.
  for (const char* key : {"vc_m_min", "feed_mm", "ap_mm", "ae_mm"}) line.value.typed.erase(key);
  if (line.faults.empty())
    for (const Message& m : check_row(line.value))
      if (m.severity == Severity::error) {
        const Property<Row>* p = find_property<Row>(m.property);
        line.faults.push_back({number, p ? std::string(p->label) : m.property,
                               m.code == "missing"         ? "is missing"
                               : m.code == "low_over_high" ? "low, target and high do not rise"
                                                           : "is out of range"});
      }
  return line;
}

RowSheet read_lines(const Sheet& sheet, std::size_t first, const std::vector<RowColumn>& columns, const Row& base,
                    const IdLookup& ids) {
  RowSheet out;
  for (std::size_t i = first; i < sheet.lines.size(); ++i) {
    const auto& cells = sheet.lines[i];
    if (std::all_of(cells.begin(), cells.end(), [](const std::string& c) { return trimmed(c).empty(); })) continue;
    out.lines.push_back(read_line(cells, static_cast<int>(i) + 1, columns, base, ids));
  }
  return out;
}

}  // namespace

RowSheet read_row_sheet(const Sheet& sheet, const Row& base, UnitSystem units, const IdLookup& ids) {
  // The first line in which at least three columns mean something is the line of headings.
  for (std::size_t at = 0; at < sheet.lines.size() && at < 20; ++at) {
    std::vector<RowColumn> columns;
    int known = 0;
    Row pattern = base;
    for (const std::string& text : sheet.lines[at]) {
      auto [column, kind] = column_headed(text, units);
      if (column.means_something()) ++known;
      if (kind) pattern.feed_kind = *kind;
      columns.push_back(column);
    }
    if (known < 3 && !(known >= 2 && known == static_cast<int>(columns.size()))) continue;
    std::size_t first = at + 1;
    if (first < sheet.lines.size() && is_unit_line(sheet.lines[first])) {
      for (std::size_t i = 0; i < columns.size() && i < sheet.lines[first].size(); ++i) {
        if (const auto system = system_of(bare_unit(sheet.lines[first][i]))) columns[i].units = *system;
      }
      ++first;
    }
    RowSheet out = read_lines(sheet, first, columns, pattern, ids);
    for (const RowColumn& c : columns)
      if (!c.means_something() && !c.heading.empty()) out.unknown.push_back(c.heading);
    return out;
  }
  RowSheet out;
  out.headed = false;
  return out;
}

bool same_row(const Row& a, const Row& b) {
  // A named material is enough: its group is not compared.
  for (const Property<Row>& p : properties<Row>()) {
    if (!(p.key == "group" && !a.material.is_null()) && !same_value(p.get(a), p.get(b))) return false;
    if (p.key == "diameter_mm") break;  // behind it stand the values
  }
  return a.feed_kind == b.feed_kind;
}

std::vector<SheetLine<Row>> preview_rows(const ConditionTable& into, const RowSheet& sheet) {
  MergeRules<Row> rules;
  rules.same_thing = same_row;
  rules.objection = [](const Row& before, const Row& after) -> std::string {
    const auto changed = differences(before, after);
    const bool values = std::any_of(changed.begin(), changed.end(), [](const Property<Row>* p) {
      return p->key != "note" && p->key != "source" && p->key != "author" && p->key != "date";
    });
    if (before.proven && values) return "the row here is proven";
    if (!after.date.empty() && !before.date.empty() && after.date < before.date)
      return "the row here is newer, of " + before.date;
    return {};
  };
  rules.carry = [](Row& after, const Row& read, std::span<const Property<Row>* const>) {
    for (const char* key : {"n_rpm", "vf_mm_min", "diameter_mm"}) {
      after.typed.erase(key);
      if (const auto typed = read.typed.find(key); typed != read.typed.end()) after.typed[key] = typed->second;
    }
    for (const char* key : {"vc_m_min", "feed_mm", "ap_mm", "ae_mm"}) after.typed.erase(key);
  };
  rules.keys = [](const Row& r, bool looked_for, std::vector<std::uint64_t>& keys) {
    const std::uint64_t base = (static_cast<std::uint64_t>(r.kind) << 8 | static_cast<std::uint64_t>(r.operation)) ^
                               (r.material.high * 0x9E3779B97F4A7C15ull + r.material.low);
    // Diameters that differ by less than can be typed are equal: a match may be on either side.
    const double thousandths = std::clamp(r.diameter_mm.value_or(-1), -1.0, 1e6) * 1000;
    for (const double side : {-1e-3, 1e-3}) {
      const auto place = static_cast<std::uint64_t>(std::llround(thousandths + (looked_for ? side : 0)) + 2000);
      const std::uint64_t key = base ^ place * 0xD6E8FEB86659FD93ull;
      if (keys.empty() || keys.back() != key) keys.push_back(key);
    }
  };
  std::vector<SheetLine<Row>> lines = sheet.lines;
  merge_lines<Row>(into.rows, lines, rules);
  return lines;
}

ConditionTable with_rows(const ConditionTable& into, const std::vector<SheetLine<Row>>& lines,
                         const std::function<Id()>& new_id, const std::string& author, const std::string& date) {
  ConditionTable out = into;
  for (const SheetLine<Row>& m : lines) {
    if (!m.picked || m.state == MergeState::faulty || m.state == MergeState::same) continue;
    Row row = m.value;
    // Other values are not what was found good, unless the sheet says so itself.
    const auto changes = [&](std::string_view key) {
      return std::any_of(m.changes.begin(), m.changes.end(), [&](const Property<Row>* p) { return p->key == key; });
    };
    if (m.target && m.state == MergeState::conflict && into.rows[*m.target].proven && !changes("proven") &&
        std::any_of(value_keys.begin(), value_keys.end(), changes))
      row.proven = false;
    const bool says_who = std::any_of(m.changes.begin(), m.changes.end(),
                                      [](const Property<Row>* p) { return p->key == "author" || p->key == "date"; });
    if (row.author.empty() || (m.target && !says_who)) row.author = author;
    if (row.date.empty() || (m.target && !says_who)) row.date = date;
    if (m.target) {
      out.rows[*m.target] = std::move(row);
      continue;
    }
    row.id = new_id();
    out.rows.push_back(std::move(row));
  }
  return out;
}

Sheet row_sheet(const ConditionTable& table, UnitSystem units, const std::function<std::string(const Id&)>& name_of) {
  Sheet sheet;
  sheet.name = table.name;
  // Columns that no row uses are left out.
  std::vector<const Property<Row>*> used;
  for (const Property<Row>& p : properties<Row>())
    if (std::any_of(table.rows.begin(), table.rows.end(),
                    [&](const Row& r) { return !same_value(p.get(r), Value{}); }) ||
        p.key == "diameter_mm")
      used.push_back(&p);
  std::vector<std::string> heads;
  for (const Property<Row>* p : used) {
    const std::string unit = p->choices.empty() && p->quantity != Quantity::number && p->quantity != Quantity::count
                                 ? unit_text(p->quantity, units)
                                 : std::string();
    heads.push_back(std::string(p->label) + (unit.empty() ? "" : " (" + unit + ")"));
  }
  sheet.lines.push_back(std::move(heads));
  for (const Row& row : table.rows) {
    std::vector<std::string> cells;
    for (const Property<Row>* p : used) {
      const Value value = p->get(row);
      std::string text;
      if (const double* number = std::get_if<double>(&value))
        text = fmt::format("{:.9g}", *number / stored_per_shown(p->quantity, units));
      else if (const bool* flag = std::get_if<bool>(&value)) text = *flag ? "yes" : "no";
      else if (const std::string* s = std::get_if<std::string>(&value)) {
        text = *s;
        if (p->quantity == Quantity::id) text = row.material.is_null() ? "" : name_of(row.material);
        for (const Choice& c : p->choices)
          if (c.key == *s) text = std::string(c.label);
      }
      cells.push_back(std::move(text));
    }
    sheet.lines.push_back(std::move(cells));
  }
  return sheet;
}

}  // namespace pecorra
