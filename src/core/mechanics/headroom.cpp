// How much of each limit a cut uses.
#include <algorithm>
#include <cmath>

#include "core/mechanics/cut_model.h"

namespace pecorra {
namespace {

using enum Quantity;

class Limits {
 public:
  explicit Limits(CutReport& report) : report_(report) {}
  void add(Limit limit, const std::optional<double>& value, const std::optional<double>& limit_value, Quantity quantity,
           bool lower = false, bool of_force = false) {
    if (!value || !limit_value || !(*limit_value > 0) || (lower && !(*value > 0))) return;
    Headroom h{limit,
               *value,
               *limit_value,
               lower ? *limit_value / *value : *value / *limit_value,
               quantity,
               lower,
               std::nullopt,
               0,
               of_force ? report_.band : std::nullopt};
    if (std::isfinite(h.used) && std::isfinite(h.value)) report_.headroom.push_back(h);
  }

 private:
  CutReport& report_;
};

}  // namespace

void judge(const CutModel& model, const Cut& cut, Process process, CutReport& report) {
  const CutResults& r = report.results;
  const Cutter& c = model.cutter();
  const Machine& machine = model.machine();
  const bool milling = process == Process::milling;
  Limits limits(report);

  const bool too_slow =
      r.n_rpm && machine.min_rpm && *machine.min_rpm / *r.n_rpm > (machine.max_rpm ? *r.n_rpm / *machine.max_rpm : 0);
  if (too_slow) limits.add(Limit::spindle_speed, r.n_rpm, machine.min_rpm, spindle_speed, true);
  else limits.add(Limit::spindle_speed, r.n_rpm, machine.max_rpm, spindle_speed);
  limits.add(Limit::cutter_speed, r.n_rpm, c.max_rpm, spindle_speed);
  if (const GreatestFeed most = greatest_feed(machine, !milling, model.material().group); most.by != FeedLimit::none)
    limits.add(Limit::table_feed, r.vf_centre_mm_min ? r.vf_centre_mm_min : r.vf_mm_min, most.mm_min, table_feed);
  if (r.n_rpm)
    limits.add(Limit::spindle_power, r.motor_power_kw, power_at_kw(machine.power_curve, *r.n_rpm), Quantity::power,
               false, true);
  limits.add(Limit::spindle_torque, r.mc_nm, machine.max_torque_nm, torque, false, true);
  // Along the axis the thrust, else the peak force across it.
  limits.add(Limit::workholding, milling ? r.force_peak_n : r.thrust_n, machine.max_holding_n, force, false, true);
  limits.add(Limit::deflection, r.deflection_mm, cut.permitted_deflection_mm, length, false, true);
  if (cut.bending_safety && c.tool_material)
    limits.add(Limit::bending, r.bending_stress_n_mm2, bending_strength_n_mm2(c) / *cut.bending_safety, stress, false,
               true);
  // The edge with the most runout cuts what the others leave.
  const double runout = milling && c.flutes.value_or(1) > 1 ? c.runout_mm.value_or(0) : 0;
  limits.add(Limit::chip_max, r.h_ex_mm ? std::optional(*r.h_ex_mm + runout) : std::nullopt, c.max_chip_mm,
             feed_per_tooth);
  if (r.h_ex_mm && runout > *r.h_ex_mm)
    report.messages.push_back(
        {Severity::warning, "runout_over_chip", "", {{"runout_mm", runout}, {"chip_mm", *r.h_ex_mm}}});
  if (process != Process::tapping)
    limits.add(Limit::chip_min, r.h_ex_mm, c.edge_radius_mm ? c.edge_radius_mm : usual_edge_radius_mm(c),
               feed_per_tooth, true);
  if (milling) {
    limits.add(Limit::flute_length, cut.ap_mm, c.flute_length_mm, length);
    // All passes together must be within reach, or one pass if no more is known.
    limits.add(Limit::reach, cut.whole_depth_mm ? std::max(cut.whole_depth_mm, cut.ap_mm) : cut.ap_mm, c.reach_mm,
               length);
  }
  std::stable_sort(report.headroom.begin(), report.headroom.end(),
                   [](const Headroom& a, const Headroom& b) { return a.used > b.used; });

  static constexpr std::pair<Limit, const char*> said[] = {
      {Limit::chip_min, "below_min_chip"},        {Limit::flute_length, "depth_over_flutes"},
      {Limit::reach, "depth_over_reach"},         {Limit::spindle_power, "over_power"},
      {Limit::spindle_torque, "over_torque"},     {Limit::workholding, "over_workholding"},
      {Limit::chip_max, "over_max_chip"},         {Limit::spindle_speed, "outside_spindle_speed"},
      {Limit::cutter_speed, "over_cutter_speed"}, {Limit::table_feed, "over_table_feed"},
      {Limit::deflection, "over_deflection"},     {Limit::bending, "over_bending"}};
  for (const Headroom& h : report.headroom) {
    if (h.used <= 1 + 1e-9) {
      // The middle is inside; a worn edge may not be.
      if (h.band && h.used * h.band->high > 1 + 1e-9)
        report.messages.push_back({Severity::note,
                                   "band_over_limit",
                                   "",
                                   {{"limit", std::string(label_of(h.limit))},
                                    {"used", h.used * 100},
                                    {"high_used", h.used * h.band->high * 100}}});
      continue;
    }
    // The short-time rating is higher.
    if (h.limit == Limit::spindle_power)
      if (const auto peak = power_at_kw(machine.peak_curve, *r.n_rpm); peak && h.value <= *peak) {
        report.messages.push_back({Severity::warning,
                                   "over_continuous_power",
                                   "",
                                   {{"value", h.value}, {"limit", h.limit_value}, {"peak", *peak}}});
        continue;
      }
    for (const auto& [limit, code] : said)
      if (limit == h.limit)
        report.messages.push_back(
            {Severity::warning, code, "", {{"value", h.value}, {"limit", h.limit_value}, {"used", h.used}}});
  }
}

}  // namespace pecorra
