// What starter values take besides their table or rule: the rule itself, factors of material, stick-out and edge, and
// the limits that they keep by themselves: the cutter's shape, rubbing and the power of the machine.
#include <algorithm>
#include <cmath>

#include "core/conditions/resolver_draft.h"
#include "core/mechanics/formulas.h"

namespace pecorra {

StarterQuestion question_of(const CutterKey& c, const MaterialKey& m, OperationKind operation) {
  StarterQuestion q;
  q.kind = c.kind;
  if (const auto tool = (c.match.rest >> 16) & 0xff) q.tool_material = static_cast<ToolMaterial>(tool - 1);
  q.group = m.group;
  q.operation = operation;
  q.diameter_mm = c.diameter_mm;
  q.flute_length_mm = c.flute_length_mm;
  q.pitch_mm = c.pitch_mm;
  q.flutes = c.flutes;
  q.tip_mm = c.tip_mm;
  return q;
}

template <class Reporter>
[[gnu::noinline, gnu::cold]] bool Resolver::take_rule(Draft& w, Reporter& report) const {
  const StarterQuestion question = question_of(w.c, w.m, w.q.operation);
  const auto rule = starter_values(question);
  if (!rule) return false;
  w.speed = rule->vc_m_min;
  w.load = rule->feed_mm;
  w.feed_kind = rule->feed_kind;
  w.plunge = rule->plunge_factor;
  w.ramp = rule->ramp_factor;
  w.v.ap_mm = rule->ap_mm.value_or(not_given);
  w.v.ae_mm = rule->ae_mm.value_or(not_given);
  w.out.source = SourceKind::starter_table;
  w.out.guess = true;
  w.out.proven = false;
  if constexpr (Reporter::on) {
    report.add(
        "starter_rule",
        {{"kind", std::string(label_of(w.c.kind))},
         {"tool_material", question.tool_material ? std::string(label_of(*question.tool_material)) : std::string()},
         {"group", std::string(label_of(w.m.group))},
         {"operation", std::string(label_of(w.q.operation))},
         {"vc_m_min", w.speed},
         {"feed_mm", w.load},
         {"feed_kind", std::string(pecorra::key_of(w.feed_kind))}},
        {starter_rules_id, starter_row_id(question)});
    if (w.milling()) report.add("depth_width", {{"ap_mm", w.v.ap_mm}, {"ae_mm", w.v.ae_mm}});
  }
  take_coolant(w, rule->coolant, true, report);
  w.starter = true;
  if (!w.c.no_factors) scale_starter(w, true, report);
  return true;
}

// Starter values are for a whole group at its usual hardness.
template <class Reporter>
[[gnu::noinline, gnu::cold]] void Resolver::scale_by_material(Draft& w, Reporter& report) const {
  const StarterQuestion q = question_of(w.c, w.m, w.q.operation);
  const StarterFactor kind = subgroup_factor(w.m.subgroup, q.tool_material);
  const StarterFactor hard = hardness_factor(w.m.group, w.m.subgroup, w.m.hardness_hb);
  const bool tapping = w.process == Process::tapping;
  const auto apply = [&](const StarterFactor& f) {
    w.speed *= f.speed;
    w.speed_low *= f.speed;
    w.speed_high *= f.speed;
    if (!tapping) w.load *= f.feed, w.load_high *= f.feed;
    w.depth_factor *= f.depth;
  };
  apply(kind);
  if constexpr (Reporter::on)
    if (!kind.is_one())
      report.add("subgroup", {{"subgroup", std::string(label_of(*w.m.subgroup))},
                              {"speed_factor", kind.speed},
                              {"feed_factor", tapping ? 1 : kind.feed},
                              {"vc_m_min", w.speed},
                              {"feed_mm", w.load}});
  apply(hard);
  if constexpr (Reporter::on)
    if (!hard.is_one())
      report.add("hardness", {{"hb", w.m.hardness_hb},
                              {"usual_hb", usual_hardness_hb(w.m.group, w.m.subgroup)},
                              {"factor", hard.speed},
                              {"feed_factor", tapping ? 1 : hard.feed},
                              {"depth_factor", hard.depth},
                              {"vc_m_min", w.speed},
                              {"feed_mm", w.load}});
}

// Starter values are for a usual stick-out and for climb milling. A cutter that gives more takes a smaller chip, by the
// cube root of the bending (a plain bar: in proportion to its length) and no less than half; conventional milling
// starts each chip at nothing, and runs a tenth slower. Common practice, no source.
template <class Reporter>
[[gnu::noinline, gnu::cold]] void Resolver::scale_by_manner(Draft& w, Reporter& report) const {
  if (w.c.bending > 1) {
    const double factor = std::max(0.5, 1 / std::cbrt(w.c.bending));
    w.load *= factor;
    w.load_high *= factor;
    if constexpr (Reporter::on)
      report.add("long_stickout", {{"stickout_mm", w.c.stickout_mm},
                                   {"bending", w.c.bending},
                                   {"usual_per_d", usual_stickout_per_d},
                                   {"factor", factor},
                                   {"feed_mm", w.load}});
  }
  if (w.q.conventional) {
    constexpr double factor = 0.9;
    w.speed *= factor;
    w.speed_low *= factor;
    w.speed_high *= factor;
    if constexpr (Reporter::on) report.add("conventional", {{"factor", factor}, {"vc_m_min", w.speed}});
  }
}

template <class Reporter>
[[gnu::noinline, gnu::cold]] void Resolver::scale_by_edge(Draft& w, Reporter& report) const {
  const EdgeFactor& factor = *w.c.edge_factor;
  w.speed *= factor.speed;
  w.speed_low *= factor.speed;
  w.speed_high *= factor.speed;
  w.load *= factor.feed;
  w.load_high *= factor.feed;
  if constexpr (Reporter::on)
    report.add("edge", {{"from", factor.from},
                        {"speed_factor", factor.speed},
                        {"feed_factor", factor.feed},
                        {"vc_m_min", w.speed},
                        {"feed_mm", w.load}});
}

template <class Reporter>
[[gnu::noinline, gnu::cold]] void Resolver::scale_starter(Draft& w, bool for_group, Reporter& report) const {
  if (options_.factors) {
    if (for_group) scale_by_material(w, report);
    if (w.milling() && (w.q.conventional || w.c.bending > 1)) scale_by_manner(w, report);
  }
  if (w.c.edge_factor) scale_by_edge(w, report);
}

namespace {
constexpr double slowest_gain = 1.6;
}

template <class Reporter>
[[gnu::noinline, gnu::cold]] void Resolver::fit_starter(Draft& w, Reporter& report) const {
  if (w.milling()) {
    double ap = w.v.ap_mm, ae = w.v.ae_mm;
    fit_engagement(question_of(w.c, w.m, w.q.operation), ap, ae);
    if (!cuts_whole_head(w.q.operation)) ap *= w.depth_factor;
    if (given(w.q.ap_mm)) ap = w.v.ap_mm;
    if (given(w.q.ae_mm) || w.q.operation == OperationKind::slot) ae = w.v.ae_mm;
    if constexpr (Reporter::on)
      if (ap != w.v.ap_mm || ae != w.v.ae_mm)
        report.add("fitted_engagement",
                   {{"ap_before_mm", w.v.ap_mm}, {"ae_before_mm", w.v.ae_mm}, {"ap_mm", ap}, {"ae_mm", ae}});
    w.v.ap_mm = ap;
    w.v.ae_mm = ae;
  } else if (const double n = rpm_of(w); n < w.machine.min_rpm && n * slowest_gain >= w.machine.min_rpm) {
    // Starter speeds are low in their range, so a machine that cannot go so slow is still within it.
    w.speed *= w.machine.min_rpm / n;
    if constexpr (Reporter::on)
      report.add("slowest_speed", {{"asked_rpm", n}, {"min_rpm", w.machine.min_rpm}, {"vc_m_min", w.speed}});
  }
  if (w.process == Process::tapping) return;
  fit_chip(w, report);
  if (w.m.force && w.machine.power) fit_power(w, report);
}

namespace {

// Chip thickness over feed per tooth, thickest and mean, at a width of cut.
template <class Draft>
ChipRatio starter_chip(const Draft& w, double ae_mm) {
  if (!w.milling()) return {w.c.axial_sine, w.c.axial_sine};
  return w.chip(w.v.ap_mm, std::min(ae_mm, w.c.diameter_mm));
}

double teeth_of(const CutterKey& c) { return c.flutes > 0 ? c.flutes : c.edge.form == CuttingForm::point ? 2 : 1; }

}  // namespace

// The edge must cut, not rub: the thickest chip is no thinner than the edge is rounded, whatever the rounding of the
// table feed takes away.
template <class Reporter>
void Resolver::fit_chip(Draft& w, Reporter& report) const {
  const ChipRatio ratio = starter_chip(w, w.v.ae_mm);
  const double teeth = teeth_of(w.c), per_tooth = w.feed_kind == FeedKind::per_revolution ? 1 / teeth : 1;
  const double chip = w.load * per_tooth * (w.feed_kind == FeedKind::chip_thickness ? 1 : ratio.greatest);
  const double least = w.c.edge_radius_mm;
  if (!(chip > 0) || !(ratio.greatest > 0) || chip > 2 * least) return;
  const double n = std::min({w.machine.max_rpm, w.c.max_rpm, rpm_of(w)});
  const double vf = n * teeth * least / ratio.greatest * w.path_factor;
  double step = w.q.rounding.vf.size;
  while (vf < 10 * step && step > 1e-3) step /= 10;
  constexpr double most = 8;
  const double wanted = least * (1.01 + step / vf);
  if (chip >= wanted) return;
  w.load *= std::min(most, wanted / chip);
  if constexpr (Reporter::on)
    report.add("chip_raised", {{"chip_mm", chip}, {"edge_radius_mm", least}, {"feed_mm", w.load}});
}

// The speed that is asked for, at the diameter that cuts.
double Resolver::rpm_of(const Draft& w) {
  const double d = w.c.diameter_mm;
  return formulas::spindle_speed_rpm(
      w.speed, w.c.depth_counts && w.milling() ? effective_diameter_mm(w.c.edge, w.v.ap_mm, 0, 0).value_or(d) : d);
}

// Of the motor's power at the speed it would run at, at the tightest place of the path; 0: not known.
double Resolver::power_used(const Draft& w) const {
  const double d = w.c.diameter_mm;
  const double n = std::min({w.machine.max_rpm, w.c.max_rpm, rpm_of(w)});
  const auto available = power_at_kw(*w.machine.power, n);
  if (!available || !(*available > 0)) return 0;
  const ChipRatio ratio = starter_chip(w, w.v.ae_mm);
  double fz = w.feed_kind == FeedKind::per_revolution ? w.load / teeth_of(w.c) : w.load;
  if (w.feed_kind == FeedKind::chip_thickness && ratio.greatest > 0) fz /= ratio.greatest;
  const double rake = given(w.c.rake_deg) ? formulas::rake_factor(w.c.rake_deg, w.m.rake_ref_deg) : 1;
  const auto kc = [&](double hm) { return w.m.force->at(hm, rake, options_.worn_factor).middle; };
  double pc = 0;
  if (w.milling()) {
    const auto group = static_cast<std::size_t>(w.m.group);
    const double vf = std::min(n * fz * std::max(1, w.c.flutes), w.machine.plane_feed_mm_min[group]);
    pc = formulas::power_kw(formulas::milling_rate_cm3_min(w.v.ap_mm, w.v.ae_mm, vf), kc(fz * ratio.mean));
    if (w.q.operation == OperationKind::pocket_rough) {
      const ChipRatio there = starter_chip(w, d);
      pc = std::max(pc, formulas::power_kw(formulas::milling_rate_cm3_min(w.v.ap_mm, d, vf), kc(fz * there.mean)));
    }
  } else {
    const double fn = fz * teeth_of(w.c), speed = formulas::cutting_speed_m_min(n, d);
    const double rate = w.process == Process::enlarging && given(w.v.ap_mm)
                            ? formulas::enlarging_rate_cm3_min(d, w.v.ap_mm, fn, speed)
                            : formulas::drilling_rate_cm3_min(d, fn, speed);
    pc = formulas::power_kw(rate, kc(fz * ratio.mean));
  }
  return pc / w.machine.efficiency / *available;
}

// No more than the machine has: a smaller depth, or a smaller feed where the depth is given by the cutter or the hole,
// down to rubbing; then a lower speed.
template <class Reporter>
void Resolver::fit_power(Draft& w, Reporter& report) const {
  if (w.milling() && (!given(w.v.ap_mm) || !given(w.v.ae_mm))) return;
  double used = power_used(w);
  if (!(used > 1)) return;
  const double before = used, ap = w.v.ap_mm, load = w.load, speed = w.speed;
  const ChipRatio ratio = starter_chip(w, w.v.ae_mm);
  const double teeth = w.feed_kind == FeedKind::per_revolution ? teeth_of(w.c) : 1;
  const double least_load =
      std::min(w.load, 1.03 * w.c.edge_radius_mm * teeth /
                           (w.feed_kind == FeedKind::chip_thickness ? 1 : std::max(ratio.greatest, 1e-3)));
  const bool deep = w.milling() && !given(w.q.ap_mm) && !cuts_whole_head(w.q.operation);
  const double least_ap = deep ? std::min(ap, 0.05 * w.c.diameter_mm) : ap;
  for (int i = 0; i < 12 && used > 1; ++i) {
    const double share = 0.97 / used;
    if (deep && w.v.ap_mm > least_ap) w.v.ap_mm = std::max(least_ap, w.v.ap_mm * share);
    else if (w.load > least_load) w.load = std::max(least_load, w.load * std::pow(share, 1.25));
    else w.speed *= std::max(0.5, share);
    used = power_used(w);
  }
  if constexpr (Reporter::on)
    report.add("power_fitted", {{"used", before * 100},
                                {"ap_before_mm", w.v.ap_mm != ap ? ap : not_given},
                                {"ap_mm", w.v.ap_mm},
                                {"feed_before_mm", w.load != load ? load : not_given},
                                {"feed_mm", w.load},
                                {"vc_before_m_min", w.speed != speed ? speed : not_given},
                                {"vc_m_min", w.speed}});
}

template bool Resolver::take_rule(Draft&, Silent&) const;
template void Resolver::scale_starter(Draft&, bool, Silent&) const;
template void Resolver::fit_starter(Draft&, Silent&) const;
template bool Resolver::take_rule(Draft&, Recorder&) const;
template void Resolver::scale_starter(Draft&, bool, Recorder&) const;
template void Resolver::fit_starter(Draft&, Recorder&) const;

}  // namespace pecorra
