// The optional steps of a resolution: recipes, starter rules, factors of edge and hardness, pace, chip thinning, the
// dial, detail feeds. Kept apart from the path that every resolution takes.
#include <algorithm>
#include <cmath>

#include "core/conditions/resolver_draft.h"

namespace pecorra {
namespace {
constexpr double greatest_thinning_gain = 3, usual_helix_per_d = 1.8;

// Groups whose values say nothing about each other: metals and anything else, hardened and soft steel.
bool are_far(MaterialGroup a, MaterialGroup b) {
  const auto is_metal = [](MaterialGroup g) { return g <= MaterialGroup::H; };
  return is_metal(a) != is_metal(b) || (a == MaterialGroup::H) != (b == MaterialGroup::H);
}

}  // namespace

// A recipe of the cutter: the one that is asked for, else the first that is for this operation and material, or any.
template <class Reporter>
[[gnu::noinline, gnu::cold]] bool Resolver::take_recipe(Draft& w, Reporter& report) const {
  if (!options_.recipes) return false;
  const std::vector<Recipe>& all = *options_.recipes;
  const Recipe* taken = nullptr;
  std::string others;
  if (w.q.recipe >= 0) {
    taken = &all[static_cast<std::size_t>(w.q.recipe)];
    if (taken->material.is_null() && are_far(taken->group, w.m.group)) {
      if constexpr (Reporter::on)
        report.add("recipe_far",
                   {{"name", taken->name},
                    {"made_in", std::string(label_of(taken->group))},
                    {"group", std::string(label_of(w.m.group))}},
                   {Id{}, taken->id});
      return false;
    }
  } else {
    for (std::uint32_t i = w.c.first_recipe; i < w.c.first_recipe + w.c.recipes; ++i) {
      const Recipe& r = all[recipes_[i]];
      if (r.operation != w.q.operation || (!r.material.is_null() && r.material != w.m.id)) continue;
      if (r.material.is_null() && are_far(r.group, w.m.group)) continue;
      if (!taken) taken = &r;
      else others += (others.empty() ? "" : ", ") + r.name;
      if (!Reporter::on) break;
    }
  }
  if (!taken) return false;
  const Recipe& r = *taken;
  const double d = w.c.diameter_mm;
  const auto or_none = [](const std::optional<double>& v) { return v.value_or(not_given); };
  w.speed = *r.vc_m_min;
  w.speed_low = or_none(r.vc_low_m_min);
  w.speed_high = or_none(r.vc_high_m_min);
  w.load = *r.feed_mm;
  w.load_high = or_none(r.feed_high_mm);
  w.feed_kind = r.feed_kind;
  w.plunge = or_none(r.plunge_factor);
  w.ramp = or_none(r.ramp_factor);
  w.details = has_detail_feeds(r) ? &r : nullptr;
  w.v.ap_mm = r.ap_mm ? *r.ap_mm : or_none(r.ap_per_d) * d;
  w.v.ae_mm = r.ae_mm ? *r.ae_mm : or_none(r.ae_per_d) * d;
  w.out.source = SourceKind::recipe;
  w.out.row = r.id;
  const bool for_any = r.material.is_null();
  w.out.proven = r.proven && !for_any && r.material == w.m.id;
  const bool other_group = for_any && r.group != w.m.group;
  w.out.guess = other_group || (!for_any && r.material != w.m.id);
  if constexpr (Reporter::on) {
    report.add("recipe",
               {{"name", r.name},
                {"vc_m_min", w.speed},
                {"feed_mm", w.load},
                {"feed_kind", std::string(pecorra::key_of(r.feed_kind))},
                {"proven", r.proven ? 1.0 : 0.0},
                {"any_material", for_any ? 1.0 : 0.0},
                {"other_material", w.out.guess && !for_any ? 1.0 : 0.0},
                {"made_in", other_group ? std::string(label_of(r.group)) : std::string()},
                {"removal_cm3_min", or_none(r.removal_cm3_min)},
                {"author", r.author},
                {"date", r.date},
                {"note", r.note},
                {"source", r.source},
                {"others", others}},
               {Id{}, r.id});
    if (w.milling() && (given(w.v.ap_mm) || given(w.v.ae_mm)))
      report.add("depth_width", {{"ap_mm", w.v.ap_mm},
                                 {"ae_mm", w.v.ae_mm},
                                 {"ap_per_d", r.ap_mm ? not_given : or_none(r.ap_per_d)},
                                 {"ae_per_d", r.ae_mm ? not_given : or_none(r.ae_per_d)}});
  }
  if (w.out.proven) w.out.proven = is_proven_here(r, w, report);
  take_coolant(w, r.coolant, false, report);
  return true;
}

// 100 is the target. A lower pace reduces the speed first, down to the row's low value, then width and depth, and the
// chip last, never below the rubbing limit. A higher pace stays within the row's range.
template <class Reporter>
[[gnu::noinline]] void Resolver::pace(Draft& w, Reporter& report) const {
  const double share = std::clamp(w.q.pace, 1.0, 1000.0) / 100;
  const double speed_before = w.speed, load_before = w.load, ap_before = w.v.ap_mm, ae_before = w.v.ae_mm;
  if (share < 1) {
    const double floor_speed = given(w.speed_low) ? std::min(w.speed_low, w.speed) : w.speed * 0.6;
    w.speed = std::max(floor_speed, w.speed * share);
    double rest = share / (w.speed / speed_before);
    const auto take_from = [&](double& size) {
      const double part = std::max(rest, 0.5);
      size *= part;
      rest /= part;
    };
    if (rest < 1 && given(w.v.ae_mm) && w.q.operation != OperationKind::slot && !given(w.q.ae_mm)) take_from(w.v.ae_mm);
    if (rest < 1 && given(w.v.ap_mm) && !given(w.q.ap_mm)) take_from(w.v.ap_mm);
    if (rest < 1) {
      const double teeth = w.feed_kind == FeedKind::per_revolution && w.c.flutes > 0 ? w.c.flutes : 1;
      w.load = std::max(w.load * rest, std::min(w.load, w.c.edge_radius_mm * teeth));
    }
  } else {
    if (given(w.speed_high)) w.speed = std::max(w.speed, std::min(w.speed_high, w.speed * share));
    const double rest = share / (w.speed / speed_before);
    if (rest > 1 && given(w.load_high)) w.load = std::max(w.load, std::min(w.load_high, w.load * rest));
  }
  const auto differs = [](double a, double b) { return given(a) && a != b; };
  if (differs(w.speed, speed_before) || differs(w.load, load_before) || differs(w.v.ap_mm, ap_before) ||
      differs(w.v.ae_mm, ae_before))
    w.out.proven = false;
  if constexpr (Reporter::on)
    report.add("pace", {{"pace", w.q.pace},
                        {"vc_before_m_min", speed_before},
                        {"vc_m_min", w.speed},
                        {"feed_before_mm", load_before},
                        {"feed_mm", w.load},
                        {"ap_mm", w.v.ap_mm},
                        {"ae_mm", w.v.ae_mm}});
}

// Where the row asks for a chip thickness, the feed grows as the cut gets narrow (formula 6).
template <class Reporter>
[[gnu::noinline]] void Resolver::thin_chip(Draft& w, Reporter& report) const {
  if (!w.milling() || !given(w.v.ae_mm) || !given(w.v.ap_mm)) return;
  const double ratio = w.chip(w.v.ap_mm, w.v.ae_mm).greatest;
  const double gain = ratio > 0 ? 1 / ratio : greatest_thinning_gain;
  w.fz = w.load * std::min(gain, greatest_thinning_gain);
  if constexpr (Reporter::on)
    report.add("chip_thinning", {{"hex_mm", w.load},
                                 {"fz_mm", w.fz},
                                 {"ae_mm", w.v.ae_mm},
                                 {"capped", gain > greatest_thinning_gain ? 1.0 : 0.0}});
}

// On a circle the edge runs faster than the centre, whose feed the control is given (formula 14).
template <class Reporter>
void Resolver::circular_path(Draft& w, Reporter&) const {
  const bool helix = w.q.operation == OperationKind::helix;
  if (w.q.at_edge || (!helix && w.q.operation != OperationKind::thread_mill)) return;
  double path = w.q.path_diameter_mm;
  // A helix that opens a pocket makes a hole of 1.8 × D (common practice, no source).
  if (!given(path)) path = helix ? usual_helix_per_d * w.c.diameter_mm : w.c.thread_mm;
  if (!given(path) || !(path > w.c.diameter_mm)) return;
  w.v.path_diameter_mm = path;
  w.path_factor = (path - w.c.diameter_mm) / path;
}

// A dial has its own speeds: the nearest counts, no faster than cutter and machine allow.
template <class Reporter>
[[gnu::noinline, gnu::cold]] void Resolver::turn_dial(Draft& w, double asked, Reporter& report) const {
  const auto& dial = *w.machine.dial_rpm;
  const int position = nearest_dial_position(dial, asked, std::min(w.machine.max_rpm, w.c.max_rpm));
  w.v.dial_position = position;
  w.v.n_rpm = position > 0 ? dial[static_cast<std::size_t>(position) - 1] : dial.front();
  if constexpr (Reporter::on)
    report.add("dial", {{"position", static_cast<double>(position)}, {"asked_rpm", asked}, {"n_rpm", w.v.n_rpm}});
}

// Plunge, ramp and lead: a table feed, a feed per tooth, a factor of the row, or the machine's rule, whichever comes
// first.
template <class Reporter>
[[gnu::noinline, gnu::cold]] void Resolver::detail_feeds(Draft& w, Reporter& report) const {
  Conditions& v = w.v;
  const ConditionRow& row = *w.details;
  const double teeth = w.c.flutes > 0 ? w.c.flutes : 1;
  const auto group = static_cast<std::size_t>(w.m.group);
  const double most = w.machine.axis_feed_mm_min[group], most_plane = w.machine.plane_feed_mm_min[group];
  if (row.ramp_n_rpm) {
    const double fastest = std::min(w.machine.max_rpm, w.c.max_rpm);
    v.ramp_n_rpm = std::min(*row.ramp_n_rpm, fastest);
    if (w.machine.dial_rpm) {
      const int position = nearest_dial_position(*w.machine.dial_rpm, v.ramp_n_rpm, fastest);
      v.ramp_n_rpm = position > 0 ? (*w.machine.dial_rpm)[static_cast<std::size_t>(position) - 1] : v.n_rpm;
    }
    // The spindle cannot turn so slowly: then slopes go at the speed of the cut.
    if (v.ramp_n_rpm < w.machine.min_rpm) {
      if constexpr (Reporter::on)
        report.add("ramp_below_least_speed", {{"n_rpm", v.ramp_n_rpm}, {"min_rpm", w.machine.min_rpm}});
      v.ramp_n_rpm = not_given;
    }
  }
  const auto detail = [&](const std::optional<double>& table_feed, const std::optional<double>& per_tooth, double n,
                          double else_mm_min, double limit_mm_min) {
    const double vf = table_feed ? *table_feed : per_tooth ? *per_tooth * teeth * n : else_mm_min;
    return round_down(std::min(vf, limit_mm_min), w.q.rounding.vf);
  };
  v.plunge_mm_min = detail(row.plunge_mm_min, row.plunge_feed_mm, v.n_rpm, v.plunge_mm_min, most);
  v.ramp_mm_min =
      detail(row.ramp_mm_min, row.ramp_feed_mm, given(v.ramp_n_rpm) ? v.ramp_n_rpm : v.n_rpm, v.ramp_mm_min, most);
  v.lead_mm_min = detail(row.lead_mm_min, row.lead_feed_mm, v.n_rpm,
                         row.lead_factor ? *row.lead_factor * v.vf_mm_min : v.lead_mm_min, most_plane);
  if constexpr (Reporter::on)
    report.add("details", {{"plunge_mm_min", v.plunge_mm_min},
                           {"ramp_mm_min", v.ramp_mm_min},
                           {"lead_mm_min", v.lead_mm_min},
                           {"ramp_n_rpm", v.ramp_n_rpm}});
}

template bool Resolver::take_recipe(Draft&, Silent&) const;
template void Resolver::pace(Draft&, Silent&) const;
template void Resolver::thin_chip(Draft&, Silent&) const;
template void Resolver::circular_path(Draft&, Silent&) const;
template void Resolver::turn_dial(Draft&, double, Silent&) const;
template void Resolver::detail_feeds(Draft&, Silent&) const;
template bool Resolver::take_recipe(Draft&, Recorder&) const;
template void Resolver::pace(Draft&, Recorder&) const;
template void Resolver::thin_chip(Draft&, Recorder&) const;
template void Resolver::circular_path(Draft&, Recorder&) const;
template void Resolver::turn_dial(Draft&, double, Recorder&) const;
template void Resolver::detail_feeds(Draft&, Recorder&) const;

}  // namespace pecorra
