#include "core/tables/condition_table.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <string_view>
#include <tuple>

namespace pecorra {
namespace {

constexpr Choice level_choices[] = {{"shop", "shop table"}, {"maker", "maker table"}, {"starter", "starter table"}};
constexpr Choice feed_choices[] = {{"per_tooth", "per tooth"}, {"per_revolution", "per revolution"},
                                   {"chip_thickness", "chip thickness"}};
using enum Quantity;
using Row = ConditionRow;

const std::array row_list{
    field<&Row::kind>("kind", "", "Cutter", choice, "Kind of cutter the row is for"),
    field<&Row::tool_material>("tool_material", "", "Made of", choice, "Empty: any"),
    field<&Row::coating>("coating", "", "Coating", text, "Empty: any"),
    field<&Row::operation>("operation", "", "Operation", choice, "What is done"),
    field<&Row::material>("material", "", "Material", id, "Empty: the whole group"),
    field<&Row::group>("group", "", "Group", choice, "Used where no material is named"),
    field<&Row::hardness_from_hb>("hardness_from_hb", "HB from", "Hardness from", number, "Brinell").above(0),
    field<&Row::hardness_to_hb>("hardness_to_hb", "HB to", "Hardness to", number, "Brinell").above(0),
    field<&Row::flutes>("flutes", "NOF", "Flutes", count, "Empty: any").within(1, 1000),
    field<&Row::diameter_mm>("diameter_mm", "DC", "Diameter", length, "Values between rows are interpolated").above(0),
    field<&Row::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, "Target").above(0),
    field<&Row::vc_low_m_min>("vc_low_m_min", "vc low", "Speed, low", cutting_speed, "Careful end").above(0),
    field<&Row::vc_high_m_min>("vc_high_m_min", "vc high", "Speed, high", cutting_speed, "Bold end").above(0),
    field<&Row::feed_kind>("feed_kind", "", "Feed is", choice, "Per tooth, per revolution, or a chip thickness"),
    field<&Row::feed_mm>("feed_mm", "f", "Feed", feed_per_tooth, "Target").above(0),
    field<&Row::feed_low_mm>("feed_low_mm", "f low", "Feed, low", feed_per_tooth, "Careful end").above(0),
    field<&Row::feed_high_mm>("feed_high_mm", "f high", "Feed, high", feed_per_tooth, "Bold end").above(0),
    field<&Row::ap_mm>("ap_mm", "ap", "Depth of cut", length, "Absolute").above(0),
    field<&Row::ap_per_d>("ap_per_d", "ap/D", "Depth × D", number, "Relative to the diameter").above(0),
    field<&Row::ae_mm>("ae_mm", "ae", "Width of cut", length, "Absolute").above(0),
    field<&Row::ae_per_d>("ae_per_d", "ae/D", "Width × D", number, "Relative to the diameter").above(0).within(0, 1),
    field<&Row::plunge_factor>("plunge_factor", "", "Plunge", number, "Plunge feed over table feed").above(0).within(0, 1),
    field<&Row::ramp_factor>("ramp_factor", "", "Ramp", number, "Ramp feed over table feed").above(0).within(0, 1),
    field<&Row::coolant>("coolant", "", "Coolant", choice, "Preferred"),
    field<&Row::proven>("proven", "", "Proven", flag, "Found good at the machine"),
    field<&Row::note>("note", "", "Note", text, ""),
    field<&Row::source>("source", "", "Source", text, "Where the values are from"),
    field<&Row::author>("author", "", "By", text, "Who entered them"),
    field<&Row::date>("date", "", "On", text, "When")};

const std::array table_list{
    field<&ConditionTable::name>("name", "", "Name", text, "What people call it"),
    field<&ConditionTable::level>("level", "", "Level", choice, "Of the shop, of a maker, or shipped to start from"),
    field<&ConditionTable::maker>("maker", "", "Maker", text, "Whose cutters it is for"),
    field<&ConditionTable::series>("series", "", "Series", text, "Which series it is for"),
    field<&ConditionTable::source>("source", "", "Source", text, "Where the values are from")};

Message row_fault(Severity severity, const char* code, const char* property, Details values = {}) {
  return {severity, code, property, std::move(values)};
}

}  // namespace

template <> std::span<const Choice> choices_of<TableLevel>() { return level_choices; }
template <> std::span<const Choice> choices_of<FeedKind>() { return feed_choices; }
template <> std::span<const Property<Row>> properties<Row>() { return row_list; }
template <> std::span<const Property<ConditionTable>> properties<ConditionTable>() { return table_list; }

std::vector<std::vector<std::size_t>> curves_of(const ConditionTable& table) {
  const auto key = [&](std::size_t i) {
    const Row& r = table.rows[i];
    const MaterialGroup group = r.material.is_null() ? r.group : MaterialGroup::P;  // a named material says it all
    return std::tuple(r.kind, r.operation, r.feed_kind, r.material, group, r.tool_material, std::string_view(r.coating), r.hardness_from_hb, r.hardness_to_hb, r.flutes);
  };
  std::vector<std::size_t> order(table.rows.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return key(a) < key(b); });
  std::vector<std::vector<std::size_t>> curves;
  for (std::size_t i = 0; i < order.size(); ++i) {
    if (i == 0 || key(order[i - 1]) != key(order[i])) curves.emplace_back();
    curves.back().push_back(order[i]);
  }
  std::sort(curves.begin(), curves.end(), [](const auto& a, const auto& b) { return a.front() < b.front(); });
  return curves;
}

std::vector<Message> check_row(const Row& row) {
  std::vector<Message> messages;
  for (const Property<Row>& property : properties<Row>()) {
    const auto number = number_of(row, property);
    if (number && !property.accepts(*number))
      messages.push_back({Severity::error, "out_of_range", std::string(property.key),
                          {{"value", *number}, {"low", property.low}, {"high", property.high}}});
  }
  if (!row.diameter_mm) messages.push_back(row_fault(Severity::error, "missing", "diameter_mm"));
  if (!row.vc_m_min) messages.push_back(row_fault(Severity::error, "missing", "vc_m_min"));
  if (!row.feed_mm) messages.push_back(row_fault(Severity::error, "missing", "feed_mm"));
  auto ordered = [&](const std::optional<double>& low, const std::optional<double>& high, const char* property) {
    if (low && high && *low > *high)
      messages.push_back(row_fault(Severity::error, "low_over_high", property, {{"low", *low}, {"high", *high}}));
  };
  ordered(row.vc_low_m_min, row.vc_m_min, "vc_low_m_min");
  ordered(row.vc_m_min, row.vc_high_m_min, "vc_high_m_min");
  ordered(row.feed_low_mm, row.feed_mm, "feed_low_mm");
  ordered(row.feed_mm, row.feed_high_mm, "feed_high_mm");
  ordered(row.hardness_from_hb, row.hardness_to_hb, "hardness_from_hb");
  if (row.feed_mm && row.diameter_mm && *row.feed_mm > *row.diameter_mm / 4)
    messages.push_back(row_fault(Severity::warning, "feed_very_large", "feed_mm",
                                 {{"feed_mm", *row.feed_mm}, {"diameter_mm", *row.diameter_mm}}));
  return messages;
}

std::vector<Message> check_table(const ConditionTable& table) {
  std::vector<Message> messages;
  for (const std::vector<std::size_t>& curve : curves_of(table))
    for (std::size_t i = 0; i < curve.size(); ++i) {
      const Row& row = table.rows[curve[i]];
      if (!row.diameter_mm) continue;
      const Row* neighbour = nullptr;  // the nearest on the same curve
      for (std::size_t k = 0; k < curve.size(); ++k) {
        const Row& other = table.rows[curve[k]];
        if (k == i || !other.diameter_mm) continue;
        if (k < i && other.diameter_mm == row.diameter_mm)
          messages.push_back({Severity::warning, "row_twice", row.id.text(), {{"diameter_mm", *row.diameter_mm}}});
        if (!neighbour || std::abs(*other.diameter_mm - *row.diameter_mm) < std::abs(*neighbour->diameter_mm - *row.diameter_mm)) neighbour = &other;
      }
      if (!neighbour) continue;
      auto telling = [&](const std::optional<double>& mine, const std::optional<double>& theirs, double factor, const char* code) {
        if (!mine || !theirs || *theirs <= 0) return;
        const double ratio = *mine / *theirs;
        for (const double f : {factor, 1 / factor})
          if (std::abs(ratio / f - 1) < 0.25 && std::abs(ratio - 1) > 0.9 * std::abs(f - 1))
            messages.push_back({Severity::warning, code, row.id.text(), {{"diameter_mm", *row.diameter_mm}, {"ratio", ratio}, {"factor", factor}}});
      };
      telling(row.vc_m_min, neighbour->vc_m_min, 3.281, "speed_looks_like_feet");
      telling(row.feed_mm, neighbour->feed_mm, 25.4, "feed_looks_like_inch");
    }
  return messages;
}

}  // namespace pecorra
