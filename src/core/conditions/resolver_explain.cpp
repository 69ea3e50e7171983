// The rest of a trail: which sources ranked lower, and why there is no answer.
#include <algorithm>
#include <bit>
#include <cmath>
#include <tuple>

#include "core/conditions/reporters.h"
#include "core/conditions/resolver.h"
#include "core/tables/starter_rules.h"

namespace pecorra {

// Each line says why the chosen source is preferred.
void Resolver::explain_beaten(const CutterKey& c, const Curve& taken, double distance_mm,
                              const std::vector<const Curve*>& fitting, Recorder& report) const {
  std::vector<const Curve*> beaten;
  for (const Curve* curve : fitting)
    if (curve != &taken) beaten.push_back(curve);
  std::stable_sort(beaten.begin(), beaten.end(), [](const Curve* a, const Curve* b) { return a->rank < b->rank; });
  constexpr std::size_t most = 4;
  for (std::size_t i = 0; i < beaten.size() && i < most; ++i) {
    const Curve& other = *beaten[i];
    const ConditionTable& table = (*tables_)[static_cast<std::size_t>(other.table)];
    const Reading at = read<value_count>(other, c.diameter_mm);
    const bool same_level = other.level_rank() == taken.level_rank();
    const char* why = !same_level ? "level" : other.rank != taken.rank ? "narrower" : "nearer";
    const double distance = std::max({0.0, other.low_mm - c.diameter_mm, c.diameter_mm - other.high_mm});
    report.add("beaten",
               {{"table", table.name},
                {"why", std::string(why)},
                {"level", std::string(pecorra::key_of(other.level))},
                {"this_material", other.material >= 0 ? 1.0 : 0.0},
                {"vc_m_min", at.values[vc]},
                {"feed_mm", at.values[feed]},
                {"distance_mm", distance},
                {"taken_distance_mm", distance_mm}},
               {table.id, row_of(other, *at.lo).id});
  }
  if (beaten.size() > most) report.add("beaten_more", {{"count", static_cast<double>(beaten.size() - most)}});
}

void Resolver::explain_no_row(const CutterKey& c, const MaterialKey& m, const MachineKey& machine, const Query& q,
                              Trail& trail) const {
  Recorder report{trail};
  if (options_.starter_rules && options_.starters) {
    NoStarter why;
    const StarterQuestion question = question_of(c, m, q.operation);
    starter_values(question, &why);
    if (why == NoStarter::tool_material_does_not_cut)
      report.add("no_starter",
                 {{"tool_material", std::string(label_of(question.tool_material.value_or(ToolMaterial::hss)))},
                  {"group", std::string(label_of(m.group))}});
    else if (why == NoStarter::pitch_missing) report.add("no_starter_pitch", {});
  }
  const std::span<const Curve> curves = curves_of(c.kind, q.operation, 0, slots_);
  if (curves.empty()) {
    report.add("no_row_for_kind",
               {{"kind", std::string(label_of(c.kind))}, {"operation", std::string(label_of(q.operation))}});
    return;
  }
  static constexpr std::pair<unsigned, const char*> keys[] = {
      {wrong_material, "material"},           {wrong_hardness, "hardness"},
      {wrong_tool_material, "tool material"}, {wrong_coating, "coating"},
      {wrong_maker, "maker and series"},      {wrong_flutes, "flutes"},
      {wrong_duty, "machine duty"},           {wrong_cut, "depth, width or stick-out"}};
  // The nearest are those with the fewest mismatched keys, then the nearest diameter.
  std::vector<const Curve*> near;
  for (const Curve& curve : curves)
    if (!curve.finish) near.push_back(&curve);
  const auto distance = [&](const Curve& curve) {
    return std::max({0.0, curve.low_mm - c.diameter_mm, c.diameter_mm - curve.high_mm});
  };
  const auto key = [&](const Curve* curve) {
    return std::tuple(std::popcount(misfit(*curve, c, m, machine, q)), distance(*curve), curve->rank);
  };
  const std::size_t shown = std::min<std::size_t>(near.size(), 3);
  std::partial_sort(near.begin(), near.begin() + static_cast<std::ptrdiff_t>(shown), near.end(),
                    [&](const Curve* a, const Curve* b) { return key(a) < key(b); });
  for (std::size_t i = 0; i < shown; ++i) {
    const Curve& curve = *near[i];
    const unsigned wrong = misfit(curve, c, m, machine, q);
    std::string failed;
    for (const auto& [flag, name] : keys)
      if (wrong & flag) failed += (failed.empty() ? "" : ", ") + std::string(name);
    const ConditionTable& table = (*tables_)[static_cast<std::size_t>(curve.table)];
    const Point* nearest = &points_[curve.first];
    for (const Point* p = nearest; p != nearest + curve.count; ++p)
      if (std::abs(p->diameter_mm - c.diameter_mm) < std::abs(nearest->diameter_mm - c.diameter_mm)) nearest = p;
    const ConditionRow& row = row_of(curve, *nearest);
    report.add(
        i == 0 ? "no_row" : "near_row",
        {{"failed", failed.empty() ? std::string("source") : failed},
         {"table", table.name},
         {"nearest_mm", nearest->diameter_mm},
         {"vc_m_min", nearest->values[vc]},
         {"feed_mm", nearest->values[feed]},
         {"nearest_group", std::string(pecorra::key_of(row.group))},
         {"nearest_tool_material", row.tool_material ? std::string(label_of(*row.tool_material)) : std::string("any")}},
        {table.id, row.id});
  }
}

}  // namespace pecorra
