// Tables of cutting conditions: rows keyed by what cuts what how, over the diameter of the cutter.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/cutter/cutter.h"
#include "core/cutter/operation_kind.h"
#include "core/machine/machine.h"
#include "core/material/work_material.h"

namespace pecorra {

enum class TableLevel { shop, maker, starter };
template <>
std::span<const Choice> choices_of<TableLevel>();

// What the feed of a row states.
enum class FeedKind { per_tooth, per_revolution, chip_thickness };
template <>
std::span<const Choice> choices_of<FeedKind>();

struct ConditionRow {
  Id id;
  // Key. Without a material the row is for the whole group, perhaps for a range of hardness.
  CutterKind kind = CutterKind::end_mill;
  std::optional<ToolMaterial> tool_material;
  std::string coating;
  OperationKind operation = OperationKind::side_rough;
  Id material;
  MaterialGroup group = MaterialGroup::P;
  std::optional<double> hardness_from_hb, hardness_to_hb;
  std::optional<int> flutes;
  std::optional<DutyClass> duty;  // of the machine
  // Depth, width and stick-out up to which it holds.
  std::optional<double> holds_ap_mm, holds_ap_per_d, holds_ae_mm, holds_ae_per_d, holds_length_mm, holds_length_per_d;
  std::optional<double> diameter_mm;
  // Values: target, and the range it may be paced in.
  std::optional<double> vc_m_min, vc_low_m_min, vc_high_m_min;
  FeedKind feed_kind = FeedKind::per_tooth;
  std::optional<double> feed_mm, feed_low_mm, feed_high_mm;
  std::optional<double> ap_mm, ap_per_d, ae_mm, ae_per_d;  // absolute overrides relative
  std::optional<double> finish_vc_m_min, finish_feed_mm;   // of the finishing pass that goes with it
  // Each as a factor of the table feed, a feed per tooth, or a table feed; the last that is given counts.
  std::optional<double> plunge_factor, plunge_feed_mm, plunge_mm_min;
  std::optional<double> ramp_factor, ramp_feed_mm, ramp_mm_min, ramp_n_rpm;
  std::optional<double> lead_factor, lead_feed_mm, lead_mm_min;
  // Tool life at the target values, and Taylor's exponents around it (formula 20): vc·T^m·f^a·ap^b = const.
  std::optional<double> life_min, taylor_m, taylor_feed, taylor_depth;
  Coolant coolant = Coolant::off;
  bool proven = false;
  // What it was proven with; what is empty was not kept. Names, as they were called then.
  std::string proven_in, proven_on, proven_holder;
  std::optional<double> proven_stickout_mm, proven_hardness_hb;
  std::string note, source, author, date;
  std::map<std::string, std::string, std::less<>> typed;

  bool operator==(const ConditionRow&) const = default;
};
inline constexpr std::size_t row_property_count = 55;
template <>
std::span<const Property<ConditionRow>> properties<ConditionRow>();
// Whether the row states its own plunge, ramp or lead other than by a factor.
bool has_detail_feeds(const ConditionRow& row);
// Whether it holds only up to a depth, width or length.
bool is_conditional(const ConditionRow& row);

struct ConditionTable {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  TableLevel level = TableLevel::shop;
  std::string maker, series;
  std::string source;
  bool no_factors = false;  // its values are never scaled by a factor
  std::vector<ConditionRow> rows;
  bool operator==(const ConditionTable&) const = default;
};
template <>
std::span<const Property<ConditionTable>> properties<ConditionTable>();

// Nothing where the table has no such row.
const ConditionRow* find_row(const ConditionTable& table, const Id& row);
// What is wrong with a row by itself, and beside its neighbours of the same key.
std::vector<Message> check_row(const ConditionRow& row);
// Factor between this row's value and what its neighbours' line gives, where it is a telling one (25.4, 3.28, the
// number of flutes); faults carry the row in `property`.
std::vector<Message> check_table(const ConditionTable& table);

// Rows that differ only in diameter and values stand on one curve (what the feed states belongs to the key): the
// indices of each curve's rows in their order, the curves in the order of their first rows.
std::vector<std::vector<std::size_t>> curves_of(const ConditionTable& table);

}  // namespace pecorra
