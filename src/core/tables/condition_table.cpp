#include "core/tables/condition_table.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <string_view>
#include <tuple>

#include "core/base/check.h"

namespace pecorra {
namespace {

constexpr Choice level_choices[] = {{"shop", "shop table"}, {"maker", "maker table"}, {"starter", "starter table"}};
constexpr Choice feed_choices[] = {
    {"per_tooth", "per tooth"}, {"per_revolution", "per revolution"}, {"chip_thickness", "chip thickness"}};
using enum Quantity;
using Row = ConditionRow;

constexpr std::array row_list{
    field<&Row::kind>("kind", "", "Cutter", choice, "Kind of cutter the row is for"),
    field<&Row::tool_material>("tool_material", "", "Tool material", choice, "Empty: any"),
    field<&Row::coating>("coating", "", "Coating", text, "Empty: any"),
    field<&Row::operation>("operation", "", "Operation", choice, "Operation of this cut"),
    field<&Row::material>("material", "", "Material", id, "Empty: the whole group"),
    field<&Row::group>("group", "", "Group", choice, "Used where no material is named"),
    field<&Row::hardness_from_hb>("hardness_from_hb", "HB from", "Hardness from", number, "Brinell").above(0),
    field<&Row::hardness_to_hb>("hardness_to_hb", "HB to", "Hardness to", number, "Brinell").above(0),
    field<&Row::flutes>("flutes", "NOF", "Flutes", count, "Empty: any").within(1, 1000),
    field<&Row::duty>("duty", "", "Machine duty", choice, "Empty: any machine"),
    field<&Row::holds_ap_mm>("holds_ap_mm", "", "Up to depth", length, "Not valid for deeper cuts").above(0),
    field<&Row::holds_ap_per_d>("holds_ap_per_d", "", "Up to depth × D", number, "Not valid for deeper cuts").above(0),
    field<&Row::holds_ae_mm>("holds_ae_mm", "", "Up to width", length, "Not valid for wider cuts").above(0),
    field<&Row::holds_ae_per_d>("holds_ae_per_d", "", "Up to width × D", number, "Not valid for wider cuts")
        .above(0)
        .within(0, 1),
    field<&Row::holds_length_mm>("holds_length_mm", "", "Up to stick-out", length, "Not valid for longer stick-outs")
        .above(0),
    field<&Row::holds_length_per_d>("holds_length_per_d", "", "Up to stick-out × D", number,
                                    "Not valid for longer stick-outs")
        .above(0),
    field<&Row::diameter_mm>("diameter_mm", "DC", "Diameter", length,
                             "Diameter of the row; values between rows are interpolated")
        .above(0),
    field<&Row::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, "Target").above(0),
    field<&Row::vc_low_m_min>("vc_low_m_min", "vc low", "Speed, low", cutting_speed, "Careful end of the range")
        .above(0),
    field<&Row::vc_high_m_min>("vc_high_m_min", "vc high", "Speed, high", cutting_speed, "Bold end of the range")
        .above(0),
    field<&Row::feed_kind>("feed_kind", "", "Feed type", choice, "Per tooth, per revolution, or a chip thickness"),
    field<&Row::feed_mm>("feed_mm", "f", "Feed", feed_per_tooth, "Target").above(0),
    field<&Row::feed_low_mm>("feed_low_mm", "f low", "Feed, low", feed_per_tooth, "Careful end of the range").above(0),
    field<&Row::feed_high_mm>("feed_high_mm", "f high", "Feed, high", feed_per_tooth, "Bold end of the range").above(0),
    field<&Row::ap_mm>("ap_mm", "ap", "Depth of cut", length, "Absolute").above(0),
    field<&Row::ap_per_d>("ap_per_d", "ap/D", "Depth × D", number, "Relative to the diameter").above(0),
    field<&Row::ae_mm>("ae_mm", "ae", "Width of cut", length, "Absolute").above(0),
    field<&Row::ae_per_d>("ae_per_d", "ae/D", "Width × D", number, "Relative to the diameter").above(0).within(0, 1),
    field<&Row::finish_vc_m_min>("finish_vc_m_min", "", "Finish speed", cutting_speed,
                                 "Of the finishing pass that goes with it")
        .above(0),
    field<&Row::finish_feed_mm>("finish_feed_mm", "", "Finish feed", feed_per_tooth,
                                "Of the finishing pass that goes with it")
        .above(0),
    field<&Row::plunge_factor>("plunge_factor", "", "Plunge × feed", number,
                               "Straight down, as a fraction of the table feed")
        .above(0)
        .within(0, 1),
    field<&Row::plunge_feed_mm>("plunge_feed_mm", "", "Plunge per tooth", feed_per_tooth,
                                "Straight down; overrides the factor")
        .above(0),
    field<&Row::plunge_mm_min>("plunge_mm_min", "", "Plunge feed", table_feed, "Straight down; overrides both")
        .above(0),
    field<&Row::ramp_factor>("ramp_factor", "", "Ramp × feed", number, "Ramping, as a fraction of the table feed")
        .above(0)
        .within(0, 1),
    field<&Row::ramp_feed_mm>("ramp_feed_mm", "", "Ramp per tooth", feed_per_tooth, "Ramping; overrides the factor")
        .above(0),
    field<&Row::ramp_mm_min>("ramp_mm_min", "", "Ramp feed", table_feed, "Ramping; overrides both").above(0),
    field<&Row::ramp_n_rpm>("ramp_n_rpm", "", "Ramp speed", spindle_speed, "Spindle speed used for ramping only")
        .above(0),
    field<&Row::lead_factor>("lead_factor", "", "Lead × feed", number,
                             "Lead-in and lead-out, as a fraction of the table feed")
        .above(0)
        .within(0, 2),
    field<&Row::lead_feed_mm>("lead_feed_mm", "", "Lead per tooth", feed_per_tooth,
                              "Lead-in and lead-out; overrides the factor")
        .above(0),
    field<&Row::lead_mm_min>("lead_mm_min", "", "Lead feed", table_feed, "Lead-in and lead-out; overrides both")
        .above(0),
    field<&Row::life_min>("life_min", "T", "Tool life", duration, "Time in the cut at the target values").above(0),
    field<&Row::taylor_m>(
        "taylor_m", "m", "Taylor exponent", number,
        "How steeply life falls with speed: vc·T^m is constant; empty: the usual value for the tool material")
        .above(0)
        .within(0.01, 0.99),
    field<&Row::taylor_feed>("taylor_feed", "", "Life, feed exponent", number,
                             "vc·T^m·f^a is constant; empty: feed has no effect")
        .within(0, 2),
    field<&Row::taylor_depth>("taylor_depth", "", "Life, depth exponent", number,
                              "vc·T^m·ap^b is constant; empty: depth has no effect")
        .within(0, 2),
    field<&Row::coolant>("coolant", "", "Coolant", choice, "Preferred"),
    field<&Row::proven>("proven", "", "Proven", flag, "Proven at the machine"),
    field<&Row::proven_in>("proven_in", "", "Proven in", text, "Work material; another one is not proven"),
    field<&Row::proven_on>("proven_on", "", "Proven on", text, "Machine; another one is not proven"),
    field<&Row::proven_holder>("proven_holder", "", "Proven in holder", text, "Another one is not proven"),
    field<&Row::proven_stickout_mm>("proven_stickout_mm", "", "Proven stick-out", length, "A longer one is not proven")
        .above(0),
    field<&Row::proven_hardness_hb>("proven_hardness_hb", "", "Proven hardness", hardness, "Another one is not proven")
        .above(0),
    field<&Row::note>("note", "", "Note", text, ""),
    field<&Row::source>("source", "", "Source", text, "Source of the values"),
    field<&Row::author>("author", "", "By", text, "Who entered them"),
    field<&Row::date>("date", "", "On", text, "When")};
static_assert(row_list.size() == row_property_count);

constexpr std::array table_list{
    field<&ConditionTable::name>("name", "", "Name", text, "Everyday name"),
    field<&ConditionTable::level>("level", "", "Level", choice, "Shop, maker or shipped starter table"),
    field<&ConditionTable::maker>("maker", "", "Maker", text, "Maker whose cutters it is for"),
    field<&ConditionTable::series>("series", "", "Series", text, "Series it is for"),
    field<&ConditionTable::source>("source", "", "Source", text, "Source of the values"),
    field<&ConditionTable::no_factors>("no_factors", "", "Do not scale", flag, "No factors are applied to its values")};

Message row_fault(Severity severity, const char* code, const char* property, Details values = {}) {
  return {severity, code, property, std::move(values)};
}

}  // namespace

template <>
std::span<const Choice> choices_of<TableLevel>() {
  return level_choices;
}
template <>
std::span<const Choice> choices_of<FeedKind>() {
  return feed_choices;
}
template <>
std::span<const Property<Row>> properties<Row>() {
  return row_list;
}
template <>
std::span<const Property<ConditionTable>> properties<ConditionTable>() {
  return table_list;
}

bool has_detail_feeds(const Row& r) {
  return r.plunge_feed_mm || r.plunge_mm_min || r.ramp_feed_mm || r.ramp_mm_min || r.ramp_n_rpm || r.lead_factor ||
         r.lead_feed_mm || r.lead_mm_min;
}

bool is_conditional(const Row& r) {
  return r.holds_ap_mm || r.holds_ap_per_d || r.holds_ae_mm || r.holds_ae_per_d || r.holds_length_mm ||
         r.holds_length_per_d;
}

std::vector<std::vector<std::size_t>> curves_of(const ConditionTable& table) {
  const auto key = [&](std::size_t i) {
    const Row& r = table.rows[i];
    const MaterialGroup group = r.material.is_null() ? r.group : MaterialGroup::P;  // a named material says it all
    return std::tuple(r.kind, r.operation, r.feed_kind, r.material, group, r.tool_material, std::string_view(r.coating),
                      r.hardness_from_hb, r.hardness_to_hb, r.flutes, r.duty, r.holds_ap_mm, r.holds_ap_per_d,
                      r.holds_ae_mm, r.holds_ae_per_d, r.holds_length_mm, r.holds_length_per_d);
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

const ConditionRow* find_row(const ConditionTable& table, const Id& row) {
  const auto found = std::find_if(table.rows.begin(), table.rows.end(), [&](const Row& r) { return r.id == row; });
  return found == table.rows.end() ? nullptr : &*found;
}

std::vector<Message> check_row(const Row& row) {
  std::vector<Message> messages;
  check_ranges(row, messages);
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
  const double depth = row.ap_mm ? *row.ap_mm : row.ap_per_d.value_or(0) * row.diameter_mm.value_or(0);
  if (row.feed_kind != FeedKind::per_revolution && row.feed_mm && depth > 0 && *row.feed_mm > depth)
    messages.push_back(
        row_fault(Severity::warning, "feed_over_depth", "feed_mm", {{"feed_mm", *row.feed_mm}, {"ap_mm", depth}}));
  if (row.ap_mm && row.ap_per_d && row.diameter_mm && std::abs(*row.ap_mm - *row.ap_per_d * *row.diameter_mm) > 1e-6)
    messages.push_back(row_fault(Severity::warning, "depth_twice", "ap_per_d", {{"ap_mm", *row.ap_mm}}));
  if (row.ae_mm && row.ae_per_d && row.diameter_mm && std::abs(*row.ae_mm - *row.ae_per_d * *row.diameter_mm) > 1e-6)
    messages.push_back(row_fault(Severity::warning, "width_twice", "ae_per_d", {{"ae_mm", *row.ae_mm}}));
  if (row.ae_mm && row.diameter_mm && *row.ae_mm > *row.diameter_mm + 1e-9)
    messages.push_back(row_fault(Severity::warning, "width_over_diameter", "ae_mm",
                                 {{"ae_mm", *row.ae_mm}, {"diameter_mm", *row.diameter_mm}}));
  return messages;
}

namespace {

bool same_values(const Row& a, const Row& b) {
  return a.vc_m_min == b.vc_m_min && a.feed_mm == b.feed_mm && a.ap_mm == b.ap_mm && a.ap_per_d == b.ap_per_d &&
         a.ae_mm == b.ae_mm && a.ae_per_d == b.ae_per_d;
}

// Curves that differ in their hardness alone: ranges that overlap, and what no range covers between them.
void check_hardness_ranges(const ConditionTable& table, const std::vector<std::vector<std::size_t>>& curves,
                           std::vector<Message>& messages) {
  struct Range {
    double from, to;
    const Row* row;
  };
  std::map<std::string, std::vector<Range>> families;
  for (const auto& curve : curves) {
    const Row& row = table.rows[curve.front()];
    if (!row.hardness_from_hb && !row.hardness_to_hb) continue;
    std::string family;
    for (const Property<Row>& p : properties<Row>()) {
      if (p.key == "hardness_from_hb" || p.key == "hardness_to_hb") continue;
      if (p.key == "diameter_mm") break;  // behind it stand the values
      const Value value = p.get(row);
      if (const double* number = std::get_if<double>(&value)) family += std::to_string(*number);
      else if (const std::string* text = std::get_if<std::string>(&value)) family += *text;
      family += '|';
    }
    families[family].push_back({row.hardness_from_hb.value_or(0), row.hardness_to_hb.value_or(10000), &row});
  }
  for (auto& [family, ranges] : families) {
    std::stable_sort(ranges.begin(), ranges.end(), [](const Range& a, const Range& b) { return a.from < b.from; });
    for (std::size_t i = 1; i < ranges.size(); ++i) {
      const Range &a = ranges[i - 1], &b = ranges[i];
      const Details values{{"from", b.from}, {"to", std::min(a.to, b.to)}, {"gap_from", a.to}, {"gap_to", b.from}};
      if (b.from < a.to - 1e-9) messages.push_back({Severity::warning, "rows_overlap", b.row->id.text(), values});
      else if (b.from > a.to + 1 + 1e-9) messages.push_back({Severity::note, "rows_gap", b.row->id.text(), values});
    }
  }
}

}  // namespace

std::vector<Message> check_table(const ConditionTable& table) {
  std::vector<Message> messages;
  const std::vector<std::vector<std::size_t>> curves = curves_of(table);
  check_hardness_ranges(table, curves, messages);
  for (const std::vector<std::size_t>& curve : curves)
    for (std::size_t i = 0; i < curve.size(); ++i) {
      const Row& row = table.rows[curve[i]];
      if (!row.diameter_mm) continue;
      const Row* neighbour = nullptr;  // the nearest on the same curve
      const Row* below = nullptr;      // the next smaller one
      for (std::size_t k = 0; k < curve.size(); ++k) {
        const Row& other = table.rows[curve[k]];
        if (k == i || !other.diameter_mm) continue;
        if (k < i && other.diameter_mm == row.diameter_mm)
          messages.push_back({Severity::warning,
                              same_values(row, other) ? "row_twice" : "row_contradicts",
                              row.id.text(),
                              {{"diameter_mm", *row.diameter_mm},
                               {"vc_m_min", other.vc_m_min.value_or(0)},
                               {"feed_mm", other.feed_mm.value_or(0)}}});
        if (*other.diameter_mm < *row.diameter_mm && (!below || *other.diameter_mm > *below->diameter_mm))
          below = &other;
        if (!neighbour ||
            std::abs(*other.diameter_mm - *row.diameter_mm) < std::abs(*neighbour->diameter_mm - *row.diameter_mm))
          neighbour = &other;
      }
      if (below && *row.diameter_mm > 3 * *below->diameter_mm)
        messages.push_back({Severity::note,
                            "diameter_gap",
                            row.id.text(),
                            {{"from_mm", *below->diameter_mm}, {"to_mm", *row.diameter_mm}}});
      if (!neighbour) continue;
      auto telling = [&](const std::optional<double>& mine, const std::optional<double>& theirs, double factor,
                         const char* code) {
        if (!mine || !theirs || *theirs <= 0) return;
        const double ratio = *mine / *theirs;
        for (const double f : {factor, 1 / factor})
          if (std::abs(ratio / f - 1) < 0.25 && std::abs(ratio - 1) > 0.9 * std::abs(f - 1))
            messages.push_back({Severity::warning,
                                code,
                                row.id.text(),
                                {{"diameter_mm", *row.diameter_mm}, {"ratio", ratio}, {"factor", factor}}});
      };
      telling(row.vc_m_min, neighbour->vc_m_min, 3.281, "speed_looks_like_feet");
      telling(row.feed_mm, neighbour->feed_mm, 25.4, "feed_looks_like_inch");
      // Between rows of like size the feed changes little: the number of flutes off is another kind of feed.
      const double size = *row.diameter_mm / *neighbour->diameter_mm;
      if (const int flutes = row.flutes.value_or(0);
          flutes > 1 && size > 0.7 && size < 1.45 && row.feed_kind != FeedKind::chip_thickness)
        telling(row.feed_mm, neighbour->feed_mm, flutes, "feed_looks_per_revolution");
    }
  return messages;
}

}  // namespace pecorra
