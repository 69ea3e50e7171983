#include "core/conditions/resolver.h"

#include "core/conditions/resolver_draft.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <numbers>

namespace pecorra {
namespace {

using std::numbers::pi;

constexpr Choice source_choices[] = {{"own", "own values"},
                                     {"own_for_cutter", "own for this cutter"},
                                     {"proven_step", "proven step"},
                                     {"recipe", "recipe"},
                                     {"maker_table", "maker table"},
                                     {"shop_table", "shop table"},
                                     {"starter_table", "starter table"},
                                     {"none", "none"}};

SourceKind source_of(TableLevel level) {
  switch (level) {
    case TableLevel::shop: return SourceKind::shop_table;
    case TableLevel::maker: return SourceKind::maker_table;
    case TableLevel::starter: return SourceKind::starter_table;
  }
  return SourceKind::none;
}

}  // namespace

std::string_view key_of(NoAnswer reason) {
  switch (reason) {
    case NoAnswer::cannot_do: return "cutter_cannot";
    case NoAnswer::draft: return "cutter_is_draft";
    case NoAnswer::no_row: return "no_row";
    case NoAnswer::below_least_speed: return "below_least_speed";
    case NoAnswer::no_speed: return "never_turns";
    case NoAnswer::never: return "never_rule";
    case NoAnswer::none: break;
  }
  return "none";
}

template <>
std::span<const Choice> choices_of<SourceKind>() {
  return source_choices;
}

double round_down_small(double value, const Step& step) {
  if (!(value > 0) || !(step.size > 0) || value * step.inverse >= 1e15) return value;
  double size = step.size;
  while (value < 10 * size && size > 1e-3) size /= 10;
  return std::floor(value / size * (1 + 1e-12)) * size;
}

// Kept out of the search loop, which it would slow down.
[[gnu::noinline, gnu::cold]] bool Resolver::special_fits(const Curve& curve, const CutterKey& c,
                                                         const MachineKey& machine, const Query& q) const {
  return (curve.duty == 0 || curve.duty == machine.duty) && (!curve.conditional || holds(curve, c, q));
}

bool Resolver::holds(const Curve& curve, const CutterKey& c, const Query& q) const {
  const double d = c.diameter_mm;
  const Bounds& b = bounds_[curve.bounds];
  // A depth or width not asked for comes from the row itself, so it is within the bounds.
  const auto over = [](double value, double limit) { return value > limit * (1 + 1e-9); };
  const double ae = q.operation == OperationKind::slot ? d : q.ae_mm;
  const double ap = given(q.hole_depth_mm) ? q.hole_depth_mm : q.ap_mm;
  return !over(ap, b.ap_mm) && !over(ap, b.ap_per_d * d) && !over(ae, b.ae_mm) && !over(ae, b.ae_per_d * d) &&
         !over(c.stickout_mm, b.length_mm) && !over(c.stickout_mm, b.length_per_d * d);
}

unsigned Resolver::misfit(const Curve& curve, const CutterKey& c, const MaterialKey& m, const MachineKey& machine,
                          const Query& q) const {
  unsigned wrong = 0;
  const auto asks = [&](std::uint64_t mask, std::uint64_t curve_value, std::uint64_t cutter_value) {
    return ((curve_value ^ cutter_value) & mask) != 0;
  };
  const KeyMatch& cutter = c.match;
  if (curve.material >= 0 ? curve.material != m.material : curve.group != m.group) wrong |= wrong_material;
  if (asks(curve.mask.rest & 0xff0000, curve.match.rest, cutter.rest)) wrong |= wrong_tool_material;
  if (asks(curve.mask.rest & 0xffffffff00000000ull, curve.match.rest, cutter.rest)) wrong |= wrong_coating;
  if (asks(curve.mask.maker_series, curve.match.maker_series, cutter.maker_series)) wrong |= wrong_maker;
  if (asks(curve.mask.rest & 0xffff, curve.match.rest, cutter.rest)) wrong |= wrong_flutes;
  if (curve.ranged && !(m.hardness_hb >= curve.hardness_from && m.hardness_hb <= curve.hardness_to))
    wrong |= wrong_hardness;
  if (curve.duty != 0 && curve.duty != machine.duty) wrong |= wrong_duty;
  if (curve.conditional && !holds(curve, c, q)) wrong |= wrong_cut;
  return wrong;
}

const ConditionRow& Resolver::row_of(const Curve& curve, const Point& point) const {
  return (*tables_)[static_cast<std::size_t>(curve.table)].rows[static_cast<std::size_t>(point.row)];
}

// One lexicographic key: level, narrowness of the row's key, distance of the diameter. Each range is sorted by the
// first two, so that a search ends where they change behind a hit. For the trail all that would fit are collected.
template <class Reporter>
inline Resolver::Found Resolver::find(const CutterKey& c, const MaterialKey& m, const MachineKey& machine,
                                      const Query& q, std::vector<const Curve*>* fitting) const {
  Found found;
  const std::uint32_t group = static_cast<std::uint32_t>(m.group);
  for (std::uint32_t slot = m.material >= 0 ? material_group_count + static_cast<std::uint32_t>(m.material) : group;;
       slot = group) {
    for (const Curve& curve : curves_of(c.kind, q.operation, slot, slot + 1)) {
      const bool behind = found.curve && curve.rank > found.curve->rank;
      if (!Reporter::on && behind) break;
      if (!curve.match.fits(curve.mask, c.match)) continue;
      if (curve.ranged && !(m.hardness_hb >= curve.hardness_from && m.hardness_hb <= curve.hardness_to)) continue;
      if (curve.special && !special_fits(curve, c, machine, q)) continue;
      if (q.only && *q.only != source_of(curve.level)) continue;
      if constexpr (Reporter::on) fitting->push_back(&curve);
      if (behind) continue;
      const double distance = std::max({0.0, curve.low_mm - c.diameter_mm, c.diameter_mm - curve.high_mm});
      if (found.curve && curve.rank == found.curve->rank && distance >= found.distance_mm) continue;
      found.curve = &curve;
      found.distance_mm = distance;
    }
    if (slot == group) return found;
  }
}

// The first `count` values at this diameter.
template <int count>
inline Resolver::Reading Resolver::read(const Curve& curve, double d) const {
  const Point* p = &points_[curve.first];
  const Point* const last = p + curve.count - 1;
  while (p != last && (p + 1)->diameter_mm <= d) ++p;
  const double offset = p == last ? 0 : std::max(0.0, d - p->diameter_mm);
  Reading out;
  out.lo = p;
  out.hi = offset > 0 ? p + 1 : p;
  if (!p->one_sided) {
    for (int k = 0; k < count; ++k) out.values[k] = p->values[k] + p->slopes[k] * offset;
    return out;
  }
  // A NaN slope must not turn its value into NaN.
  for (int k = 0; k < count; ++k) {
    const double between = p->values[k] + p->slopes[k] * offset;
    out.values[k] = offset > 0 && given(between)         ? between
                    : given(p->values[k]) || offset <= 0 ? p->values[k]
                                                         : out.hi->values[k];
  }
  return out;
}

// The explanations read curves too.
template Resolver::Reading Resolver::read<Resolver::value_count>(const Curve&, double) const;

template <class Reporter>
[[gnu::noinline]] bool Resolver::is_proven_here(const ConditionRow& row, const Draft& w, Reporter& report) {
  const auto other = [](const std::string& then, const std::string& now) {
    return !then.empty() && !now.empty() && then != now;
  };
  const bool material = other(row.proven_in, w.m.name), machine = other(row.proven_on, w.machine.name),
             holder = other(row.proven_holder, w.c.holder);
  const bool stickout = row.proven_stickout_mm && w.c.stickout_mm > *row.proven_stickout_mm * (1 + 1e-6);
  const bool hardness =
      row.proven_hardness_hb && std::abs(w.m.hardness_hb - *row.proven_hardness_hb) > 0.005 * *row.proven_hardness_hb;
  if (!material && !machine && !holder && !stickout && !hardness) return true;
  if constexpr (Reporter::on)
    report.add("not_proven", {{"material", material ? row.proven_in : std::string()},
                              {"machine", machine ? row.proven_on : std::string()},
                              {"holder", holder ? row.proven_holder : std::string()},
                              {"stickout_mm", stickout ? *row.proven_stickout_mm : not_given},
                              {"hb", hardness ? *row.proven_hardness_hb : not_given}});
  return false;
}
template bool Resolver::is_proven_here(const ConditionRow&, const Draft&, Silent&);
template bool Resolver::is_proven_here(const ConditionRow&, const Draft&, Recorder&);

// Inlined into take_row: a call costs a tenth of a resolution.
template <class Reporter>
[[gnu::always_inline]] inline void Resolver::take_curve(Draft& w, const Found& found, double speed_factor,
                                                        double feed_factor, Reporter& report) const {
  const Curve* curve = found.curve;
  const double d = w.c.diameter_mm;
  const bool ranges = Reporter::on || w.q.pace != 100;
  const Reading at = ranges ? read<value_count>(*curve, d) : read<without_ranges>(*curve, d);
  const Values& r = at.values;
  if (ranges) {
    w.speed_low = r[vc_low];
    w.speed_high = r[vc_high];
    w.load_high = r[feed_high];
  }
  w.speed = r[vc];
  w.load = r[feed];
  w.plunge = r[plunge];
  w.ramp = r[ramp];
  w.feed_kind = curve->feed_kind;
  w.v.ap_mm = given(r[ap_mm]) ? r[ap_mm] : r[ap_per_d] * d;
  w.v.ae_mm = given(r[ae_mm]) ? r[ae_mm] : r[ae_per_d] * d;
  const Point& nearest = at.hi != at.lo && d > at.lo->half_way_mm ? *at.hi : *at.lo;
  const bool outside = found.distance_mm > 0;
  w.out.source = source_of(curve->level);
  w.out.table = table_ids_[static_cast<std::size_t>(curve->table)];
  w.out.row = row_ids_[static_cast<std::size_t>(&nearest - points_.data())];
  w.out.guess = curve->level == TableLevel::starter || outside;
  w.out.proven = at.lo->proven && at.hi->proven && !w.out.guess && !curve->finish;
  if (curve->detailed) w.details = &row_of(*curve, nearest);
  // A cutter smaller than any row takes a smaller chip; a larger one is not fed faster.
  if (d < curve->low_mm) {
    w.load *= d / curve->low_mm;
    w.load_high *= d / curve->low_mm;
  }
  if constexpr (Reporter::on) {
    const ConditionTable& table = (*tables_)[static_cast<std::size_t>(curve->table)];
    const ConditionRow& row = row_of(*curve, nearest);
    const TrailTarget target{table.id, row.id};
    report.add("source",
               {{"level", std::string(pecorra::key_of(curve->level))},
                {"table", table.name},
                {"diameter_mm", nearest.diameter_mm},
                {"vc_m_min", nearest.values[vc]},
                {"feed_mm", nearest.values[feed]},
                {"feed_kind", std::string(pecorra::key_of(curve->feed_kind))},
                {"this_material", curve->material >= 0 ? 1.0 : 0.0},
                {"group", std::string(pecorra::key_of(curve->group))},
                {"proven", row.proven ? 1.0 : 0.0},
                {"finish", curve->finish ? 1.0 : 0.0},
                {"author", row.author},
                {"date", row.date},
                {"note", row.note},
                {"source", row.source.empty() ? table.source : row.source}},
               target);
    if (outside)
      report.add("beyond_rows",
                 {{"diameter_mm", d}, {"row_mm", nearest.diameter_mm}, {"vc_m_min", w.speed}, {"feed_mm", w.load}},
                 target);
    else if (at.hi != at.lo)
      report.add("interpolated",
                 {{"low_mm", at.lo->diameter_mm},
                  {"high_mm", at.hi->diameter_mm},
                  {"diameter_mm", d},
                  {"vc_m_min", w.speed},
                  {"feed_mm", w.load}},
                 target);
    if (w.milling() && (given(w.v.ap_mm) || given(w.v.ae_mm)))
      report.add("depth_width", {{"ap_mm", w.v.ap_mm},
                                 {"ae_mm", w.v.ae_mm},
                                 {"ap_per_d", given(r[ap_mm]) ? not_given : r[ap_per_d]},
                                 {"ae_per_d", given(r[ae_mm]) ? not_given : r[ae_per_d]}});
  }
  if (w.out.proven) {
    w.out.proven = is_proven_here(row_of(*curve, *at.lo), w, report);
    if (w.out.proven && at.hi != at.lo) w.out.proven = is_proven_here(row_of(*curve, *at.hi), w, report);
  }
  take_coolant(w, curve->coolant, curve->level == TableLevel::starter, report);
  if (speed_factor != 1 || feed_factor != 1) {
    w.speed *= speed_factor;
    w.speed_low *= speed_factor;
    w.speed_high *= speed_factor;
    w.load *= feed_factor;
    w.load_high *= feed_factor;
    if constexpr (Reporter::on)
      report.add("factor", {{"speed_factor", speed_factor},
                            {"feed_factor", feed_factor},
                            {"vc_m_min", w.speed},
                            {"feed_mm", w.load},
                            {"tool_material",
                             w.c.match.rest >> 16 & 0xff
                                 ? std::string(label_of(static_cast<ToolMaterial>((w.c.match.rest >> 16 & 0xff) - 1)))
                                 : std::string()},
                            {"hb", w.m.hardness_hb}});
  }
  // Values of the shop or a maker are never scaled.
  if (curve->level == TableLevel::starter) {
    w.starter = true;
    if (!curve->no_factors && !w.c.no_factors) scale_starter(w, curve->material < 0 && !curve->ranged, report);
  }
}

// If nothing fits at all: the nearest row for the same kind and operation, scaled by the ratio of the starter values.
// Never a proven row.
template <class Reporter>
[[gnu::noinline, gnu::cold]] bool Resolver::take_factor(Draft& w, Reporter& report) const {
  const StarterQuestion question = question_of(w.c, w.m, w.q.operation);
  const auto here = starter_values(question);
  if (!here) return false;
  Found found;
  unsigned least = ~0u;
  double speed_factor = 1, feed_factor = 1;
  for (const Curve& curve : curves_of(w.c.kind, w.q.operation, 0, slots_)) {
    const unsigned wrong = misfit(curve, w.c, w.m, w.machine, w.q);
    if (curve.no_factors || (wrong & (wrong_maker | wrong_duty | wrong_cut)) != 0 || curve.group != w.m.group) continue;
    const double distance = std::max({0.0, curve.low_mm - w.c.diameter_mm, w.c.diameter_mm - curve.high_mm});
    const Reading at = read<value_count>(curve, w.c.diameter_mm);
    if (at.lo->proven || at.hi->proven) continue;
    const unsigned score =
        static_cast<unsigned>(std::popcount(wrong)) * 100000 + static_cast<unsigned>(std::min(distance, 999.0) * 10);
    if (score >= least) continue;
    StarterQuestion there = question;
    if (const auto tool = (curve.match.rest & curve.mask.rest) >> 16 & 0xff)
      there.tool_material = static_cast<ToolMaterial>(tool - 1);
    const auto other = starter_values(there);
    if (!other || other->feed_kind != here->feed_kind) continue;
    least = score;
    found = {&curve, distance};
    speed_factor = here->vc_m_min / other->vc_m_min;
    feed_factor = here->feed_mm / other->feed_mm;
    // Harder than the row's range: slower in proportion. Another material of the group: a fifth slower.
    if (wrong & wrong_hardness)
      speed_factor *= w.m.hardness_hb > curve.hardness_to ? curve.hardness_to / w.m.hardness_hb : 1;
    if (wrong & wrong_material) speed_factor *= 0.8;
  }
  if (!found.curve) return false;
  take_curve(w, found, std::min(speed_factor, 1.5), std::min(feed_factor, 1.5), report);
  w.out.guess = true;
  w.out.proven = false;
  return true;
}

// Forbidden: no answer, with the rule as the reason. A warning: an answer, with the rule in the trail.
template <class Reporter>
[[gnu::noinline, gnu::cold]] bool Resolver::is_forbidden(const CutterKey& c, const MaterialKey& m, const Query& q,
                                                         Resolution& out, Reporter& report) const {
  bool forbidden = false;
  for (const NeverRule* rule : options_.never->broken(c.never, m.never, q.operation)) {
    // Stepped plunging leaves no core while the step is within the reach of the edges.
    if (rule->not_to_centre && q.operation == OperationKind::plunge && q.ae_mm <= c.plunge_reach_mm * (1 + 1e-9))
      continue;
    const bool never = rule->verdict == Verdict::never;
    forbidden = forbidden || never;
    if constexpr (Reporter::on)
      report.add(never ? "never_rule" : "never_warning",
                 {{"rule", rule->name}, {"reason", rule->why}, {"instead", rule->instead}, {"source", rule->source}});
    else if (never) break;
  }
  if (forbidden) out.reason = NoAnswer::never;
  return forbidden;
}

template <class Reporter>
inline bool Resolver::take_row(Draft& w, Reporter& report) const {
  if ((w.c.recipes != 0 || w.q.recipe >= 0) && !w.q.no_recipes && (!w.q.only || *w.q.only == SourceKind::recipe) &&
      take_recipe(w, report))
    return true;
  if (w.q.recipe >= 0 && !w.q.no_recipes && (!w.q.only || *w.q.only == SourceKind::recipe)) {
    w.out.reason = NoAnswer::no_row;  // asked for by name, but made for a very different material
    return false;
  }
  if constexpr (Reporter::on) {
    std::vector<const Curve*> fitting;
    if (const Found found = find<Reporter>(w.c, w.m, w.machine, w.q, &fitting); found.curve) {
      take_curve(w, found, 1, 1, report);
      explain_beaten(w.c, *found.curve, found.distance_mm, fitting, report);
      return true;
    }
  } else if (const Found found = find<Reporter>(w.c, w.m, w.machine, w.q, nullptr); found.curve) {
    take_curve(w, found, 1, 1, report);
    return true;
  }
  if (options_.starter_rules && options_.starters && (!w.q.only || *w.q.only == SourceKind::starter_table) &&
      take_rule(w, report))
    return true;
  if (options_.factors && !w.c.no_factors && !w.q.only && take_factor(w, report)) return true;
  w.out.reason = NoAnswer::no_row;
  return false;
}

// The speed limited, then rounded down; the feed from the rounded speed, limited, then rounded down.
template <class Reporter>
inline bool Resolver::limit_and_round(Draft& w, Reporter& report) const {
  Conditions& v = w.v;
  const double asked = w.c.depth_counts ? 1000 * w.speed / (pi * v.d_eff_mm) : w.speed * w.c.rpm_per_speed;
  double n = asked;
  if constexpr (Reporter::on) report.add("speed", {{"vc_m_min", w.speed}, {"d_eff_mm", v.d_eff_mm}, {"n_rpm", n}});
  const double most = std::min(w.machine.max_rpm, w.c.max_rpm);
  const auto refuse = [&](const char* step, double n_rpm, double least_rpm) {
    if constexpr (Reporter::on) report.add(step, {{"n_rpm", n_rpm}, {"min_rpm", least_rpm}});
    w.out = Resolution{};
    w.out.reason = NoAnswer::below_least_speed;
    return false;
  };
  // The least that the machine can turn at: no cutter is turned faster than it is made for.
  const double least = w.machine.dial_rpm && !w.machine.dial_rpm->empty()
                           ? std::max(w.machine.min_rpm, w.machine.dial_rpm->front())
                           : w.machine.min_rpm;
  if (n < w.machine.min_rpm) return refuse("below_least_speed", n, w.machine.min_rpm);
  if (most < least * (1 - 1e-9)) return refuse("cutter_below_least_speed", most, least);
  if (n > most) {
    n = most;
    w.out.held_speed = true;
    if constexpr (Reporter::on)
      report.add("held_speed", {{"asked_rpm", asked},
                                {"n_rpm", n},
                                {"by", std::string(w.c.max_rpm < w.machine.max_rpm ? "cutter" : "machine")}});
  }
  if (w.machine.dial_rpm) turn_dial(w, n, report);
  else v.n_rpm = round_down(n, w.q.rounding.n);
  if (v.n_rpm < w.machine.min_rpm) v.n_rpm = std::max(w.machine.min_rpm, std::floor(n));
  if (w.feed_kind == FeedKind::per_revolution) v.fn_mm = w.load;
  else if (w.c.flutes > 0) v.fn_mm = w.fz * w.c.flutes;
  const double vf_edge = v.n_rpm * v.fn_mm, vf_asked = vf_edge * w.path_factor;
  double vf = vf_asked;
  const auto group = static_cast<std::size_t>(w.m.group);
  const double most_feed = w.milling() ? w.machine.plane_feed_mm_min[group] : w.machine.axis_feed_mm_min[group];
  if (vf > most_feed) {
    vf = most_feed;
    w.out.held_feed = true;
    // A tap is fed by its pitch, so its speed gives way.
    if (w.process == Process::tapping) {
      const double axis_rpm = vf / v.fn_mm;
      if (axis_rpm < least * (1 - 1e-9)) return refuse("axis_below_least_speed", axis_rpm, least);
      if (w.machine.dial_rpm) {
        const auto& dial = *w.machine.dial_rpm;
        for (std::size_t i = 0; i < dial.size() && dial[i] <= axis_rpm * (1 + 1e-9); ++i)
          v.n_rpm = dial[i], v.dial_position = static_cast<int>(i) + 1;
      } else {
        v.n_rpm = round_down(axis_rpm, w.q.rounding.n);
        if (v.n_rpm < w.machine.min_rpm) v.n_rpm = std::max(w.machine.min_rpm, std::floor(axis_rpm));
      }
      vf = v.n_rpm * v.fn_mm;
    }
  }
  v.vf_mm_min = w.process == Process::tapping ? vf : round_down(vf, w.q.rounding.vf);
  if constexpr (Reporter::on) {
    report.add("feed", {{"n_rpm", v.n_rpm},
                        {"fz_mm", w.fz},
                        {"flutes", static_cast<double>(w.c.flutes)},
                        {"fn_mm", v.fn_mm},
                        {"feed_kind", std::string(pecorra::key_of(w.feed_kind))},
                        {"vf_mm_min", vf_edge}});
    if (w.path_factor != 1)
      report.add("centre_feed", {{"vf_mm_min", vf_edge},
                                 {"vf_centre_mm_min", vf_asked},
                                 {"path_mm", v.path_diameter_mm},
                                 {"diameter_mm", w.c.diameter_mm},
                                 {"assumed", given(w.q.path_diameter_mm) || given(w.c.thread_mm) ? 0.0 : 1.0}});
    if (w.out.held_feed)
      report.add(
          "held_feed",
          {{"asked_mm_min", vf_asked},
           {"vf_mm_min", vf},
           {"by", std::string(pecorra::key_of(w.milling() ? w.machine.plane_by[group] : w.machine.axis_by[group]))},
           {"group", std::string(pecorra::key_of(w.m.group))}});
    if ((v.n_rpm != n && !w.machine.dial_rpm) || v.vf_mm_min != vf)
      report.add("rounded",
                 {{"n_asked_rpm", n}, {"n_rpm", v.n_rpm}, {"vf_asked_mm_min", vf}, {"vf_mm_min", v.vf_mm_min}});
  }
  return true;
}

template <class Reporter>
Resolution Resolver::run(const CutterKey& c, const MaterialKey& m, const MachineKey& machine, const Query& q,
                         Reporter& report) const {
  Resolution out;
  if ((c.operations & bit(q.operation)) == 0) {
    out.reason = c.operations == 0 ? NoAnswer::no_speed : NoAnswer::cannot_do;
    return out;
  }
  if (c.draft) {
    out.reason = NoAnswer::draft;
    return out;
  }
  if (NeverRules::meet(c.never, m.never) && is_forbidden(c, m, q, out, report)) return out;
  Draft w(c, m, machine, q, process_of(q.operation), out);
  Conditions& v = out.conditions;
  const bool own = given(q.own_n_rpm) && given(q.own_vf_mm_min);
  if (own) out.source = SourceKind::own;
  else if (!take_row(w, report)) return out;

  if (!w.milling()) v.ae_mm = not_given;
  const bool pecks = q.operation == OperationKind::peck;
  if (!w.milling() && w.process != Process::enlarging && !pecks) v.ap_mm = not_given;
  if (pecks && !own && !given(v.ap_mm)) {
    // A diameter at a time where no row says it (common practice, no source).
    v.ap_mm = c.diameter_mm;
    if constexpr (Reporter::on) report.add("peck_depth", {{"ap_mm", v.ap_mm}});
  }
  if (q.operation == OperationKind::slot) v.ae_mm = c.diameter_mm;
  if (given(q.ap_mm) || given(q.ae_mm)) {
    const double ap = v.ap_mm, ae = v.ae_mm;
    if (given(q.ap_mm)) v.ap_mm = q.ap_mm;
    if (given(q.ae_mm)) v.ae_mm = std::min(q.ae_mm, c.diameter_mm);
    if constexpr (Reporter::on) report.add("asked", {{"ap_mm", v.ap_mm}, {"ae_mm", v.ae_mm}});
    const auto other = [](double now, double before) {
      return given(before) && std::abs(now - before) > 1e-6 * before;
    };
    if (out.proven && (other(v.ap_mm, ap) || other(v.ae_mm, ae))) {
      out.proven = false;
      if constexpr (Reporter::on) report.add("not_proven", {{"ap_mm", ap}, {"ae_mm", ae}});
    }
  }
  if (!own && q.pace != 100) pace(w, report);
  if (!own && q.skin) {
    // Common practice, no source: a fifth slower in the skin of castings and forgings.
    constexpr double factor = 0.8;
    w.speed *= factor;
    if constexpr (Reporter::on) report.add("skin", {{"factor", factor}, {"vc_m_min", w.speed}});
  }
  if (w.milling()) circular_path(w, report);
  if (w.starter) fit_starter(w, report);

  v.d_eff_mm = c.diameter_mm;
  if (c.depth_counts && w.milling()) {
    v.d_eff_mm = effective_diameter_mm(c.edge, given(v.ap_mm) ? std::optional(v.ap_mm) : std::nullopt, 0, 0)
                     .value_or(c.diameter_mm);
    if constexpr (Reporter::on)
      if (std::abs(v.d_eff_mm - c.diameter_mm) > 1e-9)
        report.add("effective_diameter",
                   {{"d_eff_mm", v.d_eff_mm}, {"ap_mm", v.ap_mm}, {"diameter_mm", c.diameter_mm}});
  }
  if (own) {
    v.n_rpm = q.own_n_rpm;
    v.vf_mm_min = q.own_vf_mm_min;
    take_coolant(w, v.coolant, false, report);
    if constexpr (Reporter::on) report.add("own", {{"n_rpm", v.n_rpm}, {"vf_mm_min", v.vf_mm_min}});
  } else {
    w.fz = w.feed_kind == FeedKind::per_revolution ? w.load * c.per_flute : w.load;
    if (w.feed_kind == FeedKind::chip_thickness) thin_chip(w, report);
    if (!limit_and_round(w, report)) return out;
  }
  // What the rounded values mean.
  v.vc_m_min = c.depth_counts ? pi * v.d_eff_mm * v.n_rpm / 1000 : v.n_rpm * c.speed_per_rpm;
  if (w.path_factor != 1) v.vf_edge_mm_min = v.vf_mm_min / w.path_factor;
  v.fn_mm = v.n_rpm > 0 ? v.vf_mm_min / w.path_factor / v.n_rpm : not_given;
  v.fz_mm = v.fn_mm * c.per_flute;
  if (w.milling()) {
    const double down = given(w.plunge) ? w.plunge : w.machine.plunge, slope = given(w.ramp) ? w.ramp : w.machine.ramp;
    const double axis_most = w.machine.axis_feed_mm_min[static_cast<std::size_t>(m.group)];
    v.plunge_mm_min = round_down(std::min(v.vf_mm_min * down, axis_most), q.rounding.vf);
    v.ramp_mm_min = round_down(v.vf_mm_min * slope, q.rounding.vf);
    v.lead_mm_min = w.machine.lead == 1 ? v.vf_mm_min : round_down(v.vf_mm_min * w.machine.lead, q.rounding.vf);
    if constexpr (Reporter::on)
      report.add("plunge", {{"plunge_mm_min", v.plunge_mm_min},
                            {"ramp_mm_min", v.ramp_mm_min},
                            {"plunge_factor", down},
                            {"ramp_factor", slope},
                            {"lead_mm_min", v.lead_mm_min},
                            {"by_machine", !given(w.plunge) && machine.own_rules ? 1.0 : 0.0}});
    if (w.details) detail_feeds(w, report);
  } else {
    v.plunge_mm_min = v.vf_mm_min;
  }
  if constexpr (Reporter::on)
    if (q.own_coolant && *q.own_coolant == v.coolant)
      report.add("own_coolant", {{"coolant", std::string(label_of(*q.own_coolant))}});
  if constexpr (Reporter::on) report.add("result", {{"n_rpm", v.n_rpm}, {"vf_mm_min", v.vf_mm_min}});
  return out;
}

Resolution Resolver::resolve(const CutterKey& c, const MaterialKey& m, const MachineKey& machine,
                             const Query& q) const {
  Silent silent;
  return run(c, m, machine, q, silent);
}

Resolution Resolver::resolve(const CutterKey& c, const MaterialKey& m, const MachineKey& machine, const Query& q,
                             Trail& trail) const {
  trail.reserve(12);
  Recorder recorder{trail};
  Resolution out = run(c, m, machine, q, recorder);
  if (out.reason == NoAnswer::no_row) explain_no_row(c, m, machine, q, trail);
  return out;
}

}  // namespace pecorra
