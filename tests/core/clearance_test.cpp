// Holders and assemblies: relations, what fits, weight, and clearance beside a wall against plain sampling of both
// outlines.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "../support/random_cutters.h"
#include "../support/says.h"
#include "core/cutter/name_pattern.h"
#include "core/holder/clearance.h"

using namespace pecorra;
using test::says;

namespace {

Holder collet_chuck() {
  Holder h;
  h.name = "ER32";
  h.form = HolderForm::collet;
  h.stations = {{0, 50}, {22, 50}, {22, 44}, {70, 44}};
  h.clamp_from_mm = 2;
  h.clamp_to_mm = 20;
  h.clamp_length_mm = 30;
  return h;
}

// The least distance by thousands of places on both, and whether any of them lies in the work.
double sampled(const Profile& assembly, double diameter, double height, double draft_deg) {
  const double slope = std::tan(draft_deg * std::numbers::pi / 180), foot = diameter / 2,
               across = std::cos(std::atan(slope));
  double nearest = 1e9, deepest = 0;
  std::vector<ProfilePoint> wall;
  for (int i = 0; i <= 600; ++i) wall.push_back({foot + height * slope * i / 600, height * i / 600});
  for (int i = 0; i <= 600; ++i) wall.push_back({foot + height * slope + i * 0.2, height});
  for (std::size_t i = 0; i < assembly.size(); ++i) {
    const ProfileSegment& s = assembly[i];
    if (s.role == ProfileRole::cutting) continue;
    if (i > 0 && assembly[i - 1].role == ProfileRole::cutting && s.from.y == s.to.y && s.to.x < s.from.x)
      continue;  // the step in from the edge
    for (int k = 0; k <= 300; ++k) {
      const ProfilePoint p = point_on(s, k / 300.0);
      if (p.y <= height) deepest = std::min(deepest, (foot + p.y * slope - p.x) * across);
      for (const ProfilePoint& q : wall) nearest = std::min(nearest, std::hypot(p.x - q.x, p.y - q.y));
    }
  }
  return deepest < -1e-6 ? deepest : nearest;
}

}  // namespace

TEST_CASE("an assembly says what does not go together") {
  const Holder holder = collet_chuck();
  Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  Assembly a;
  a.stickout_mm = 42;
  CHECK(check_assembly(c, &holder, a).empty());
  a.stickout_mm = *c.overall_length_mm - 20;
  CHECK(says(check_assembly(c, &holder, a), "stickout_leaves_no_clamping"));
  // An extension clamps in place of the holder.
  a.extension_length_mm = 25;
  CHECK_FALSE(says(check_assembly(c, &holder, a), "stickout_leaves_no_clamping"));
  a.extension_length_mm = 100;
  CHECK(says(check_assembly(c, &holder, a), "extension_over_stickout"));
  a = {};
  a.stickout_mm = 42;
  a.measured_stickout_mm = 44.2;
  CHECK(says(check_assembly(c, &holder, a), "measured_off_planned"));
  CHECK(stickout_of(a) == 44.2);
  CHECK(safe_stickout_mm(a) == 44);
  CHECK(gauge_length_mm(holder, a) == Approx(114.2));
  a.set_diameter_mm = 11.8;  // reground
  CHECK_FALSE(says(check_assembly(c, &holder, a), "outside_range"));
  CHECK(as_set(c, a).diameter_mm == 11.8);
  a.set_diameter_mm = 12.5;
  CHECK(says(check_assembly(c, &holder, a), "outside_range"));
  Cutter bar = proposed_cutter(CutterKind::boring_bar, 20);
  bar.diameter_from_mm = 18;
  bar.diameter_to_mm = 26;
  a.set_diameter_mm = 25;
  CHECK_FALSE(says(check_assembly(bar, &holder, a), "outside_range"));
}

TEST_CASE("holders take the shanks that they are made for") {
  Holder h = collet_chuck();
  Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  CHECK(holds(h, c));
  c.shank_diameter_mm = 25;
  CHECK_FALSE(holds(h, c));
  c.shank_diameter_mm = 12;
  h.form = HolderForm::side_lock;
  h.clamp_from_mm = h.clamp_to_mm = 12;
  CHECK(holds(h, c));
  c.shank_form = ShankForm::plain;
  CHECK_FALSE(holds(h, c));
  c.shank_form = ShankForm::flat;
  CHECK(holds(h, c));
  h.form = HolderForm::shrink;
  CHECK_FALSE(holds(h, c));
  Cutter face = proposed_cutter(CutterKind::face_mill, 54);
  face.shank_diameter_mm = 22;
  CHECK_FALSE(holds(h, face));
  h.form = HolderForm::shell_mill;
  h.clamp_from_mm = h.clamp_to_mm = 22;
  CHECK(holds(h, face));
  CHECK_FALSE(holds(h, c));
}

TEST_CASE("a holder's stations rise and have diameters") {
  Holder h = collet_chuck();
  CHECK(check_holder(h).empty());
  h.stations[2].distance_mm = 10;
  CHECK(says(check_holder(h), "stations_not_rising"));
  h = collet_chuck();
  h.stations[1].diameter_mm = 0;
  CHECK(says(check_holder(h), "station_without_size"));
  h = collet_chuck();
  h.clamp_from_mm = 30;
  CHECK(says(check_holder(h), "range_reversed"));
  h.stations.clear();
  CHECK(says(check_holder(h), "holder_without_profile"));
}

TEST_CASE("weight is that of the cylinders it is made of") {
  Cutter c = proposed_cutter(CutterKind::end_mill, 10);
  c.reach_mm.reset();
  c.neck_diameter_mm.reset();
  Assembly a;
  a.stickout_mm = 40;
  const double pi = std::numbers::pi, inside = std::min(*c.overall_length_mm - 40, 70.0);
  const double fluted = pi / 4 * 100 * *c.flute_length_mm / 3;  // flutes take a third away (common practice, no source)
  const double expected = ((pi / 4 * 100 * *c.overall_length_mm - fluted) * 14.5 +
                           (pi / 4 * (2500 * 22 + 1936 * 48) - pi / 4 * 100 * inside) * 7.85) /
                          1e6;
  CHECK(weight_kg(c, collet_chuck(), a) == Approx(expected));
}

TEST_CASE("a straight wall: the neck clears by its step, the holder by its height") {
  const Holder holder = collet_chuck();
  const Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  Assembly a;
  a.stickout_mm = 42;
  const Profile profile = assembly_profile(c, holder, a);
  REQUIRE_FALSE(profile.empty());
  // The shank is as thick as the cutter: it touches above the reach of 37.2.
  CHECK(reach_beside_wall_mm(profile, 12, 0) == Approx(42));
  CHECK(reach_beside_wall_mm(profile, 12, 0, 0.1) == Approx(*c.reach_mm - 0.1));
  CHECK(clearance(profile, 12, 30, 0)->distance_mm == Approx((12 - *c.neck_diameter_mm) / 2));
  CHECK(clearance(profile, 12, 41, 0)->distance_mm == Approx(0).margin(1e-9));
  // 3 mm into the holder's nose: 25 − 6 inside the wall.
  CHECK(clearance(profile, 12, 45, 0)->distance_mm == Approx(6 - 25));
  // A draft that the holder stays under: at 45° the nose of 25 at 42 mm clears by (42 + 6 − 25)·cos 45°, the neck is
  // nearer.
  CHECK(reach_beside_wall_mm(profile, 12, 45) == std::numeric_limits<double>::infinity());
  // 10°: foot 6 + 42·tan 10° = 13.4 < 25: the holder meets the wall at its own face.
  CHECK(reach_beside_wall_mm(profile, 12, 10) == Approx(42));
}

TEST_CASE("clearance is what sampling both outlines finds, for random assemblies, walls and drafts") {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> part(0, 1);
  const Holder holder = collet_chuck();
  for (const CutterKind kind : {CutterKind::end_mill, CutterKind::ball, CutterKind::undercut_ball, CutterKind::tapered,
                                CutterKind::barrel, CutterKind::t_slot, CutterKind::probe, CutterKind::drill})
    for (int i = 0; i < 4; ++i) {
      const Cutter c = random_cutter(kind, random);
      Assembly a;
      a.stickout_mm = proposed_stickout_mm(c, &holder);
      if (i % 2) {
        a.extension_diameter_mm = *c.shank_diameter_mm * 1.5;
        a.extension_length_mm = *a.stickout_mm * 0.3;
      }
      const Profile profile = assembly_profile(c, holder, a);
      if (profile.empty()) continue;
      const double height = *a.stickout_mm * (0.2 + part(random)), draft = part(random) * 20;
      const auto exact = clearance(profile, *c.diameter_mm, height, draft);
      REQUIRE(exact.has_value());
      const double found = sampled(profile, *c.diameter_mm, height, draft);
      INFO(suggested_name(c) << ", wall " << height << " at " << draft << "°");
      CHECK(exact->distance_mm == Approx(found).margin(0.02 + 0.01 * std::abs(found) + *c.overall_length_mm / 600));
      // The reach is where clearance ends.
      const double reach = reach_beside_wall_mm(profile, *c.diameter_mm, draft);
      if (std::isfinite(reach) && reach > 0.1) {
        CHECK(sampled(profile, *c.diameter_mm, reach * 0.99, draft) > -0.02);
        CHECK(clearance(profile, *c.diameter_mm, reach + 5, draft)->distance_mm < 1e-6);
      }
    }
}

TEST_CASE("facts of clearance: more stick-out reaches further, more draft gives more room, a margin takes room away") {
  // Common practice, no source.
  const Holder holder = collet_chuck();
  std::mt19937 random(21);
  for (int i = 0; i < 40; ++i) {
    const Cutter c = random_cutter(CutterKind::end_mill, random);
    Assembly a;
    a.stickout_mm = proposed_stickout_mm(c, &holder);
    Assembly longer = a;
    longer.stickout_mm = std::min(*c.overall_length_mm, *a.stickout_mm + 5);
    const Profile near = assembly_profile(c, holder, a), far = assembly_profile(c, holder, longer);
    if (near.empty() || far.empty()) continue;
    const double d = *c.diameter_mm;
    INFO(suggested_name(c));
    double before = -1;
    for (const double draft : {0.0, 1.0, 3.0, 8.0, 20.0, 45.0}) {
      const double reach = reach_beside_wall_mm(near, d, draft);
      CHECK(reach >= before - 1e-9);
      CHECK(reach_beside_wall_mm(far, d, draft) >= reach - 1e-9);
      CHECK(reach_beside_wall_mm(near, d, draft, 0.3) <= reach + 1e-9);
      before = reach;
    }
    for (const double height : {1.0, *c.flute_length_mm, *a.stickout_mm * 0.9}) {
      const auto straight = clearance(near, d, height, 0), leaning = clearance(near, d, height, 5);
      if (straight && leaning && straight->distance_mm > 0)
        CHECK(leaning->distance_mm >= straight->distance_mm * std::cos(5 * std::numbers::pi / 180) - 1e-9);
    }
  }
}

TEST_CASE("without stick-out, stations or fitting sizes there is no assembly to look at") {
  const Holder holder = collet_chuck();
  Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  Assembly a;
  CHECK(assembly_profile(c, holder, a).empty());
  CHECK_FALSE(safe_stickout_mm(a).has_value());
  CHECK_FALSE(weight_kg(c, holder, a).has_value());
  a.stickout_mm = 42;
  CHECK(assembly_profile(c, Holder{}, a).empty());
  CHECK_FALSE(gauge_length_mm(Holder{}, a).has_value());
  c.flute_length_mm = 500;
  CHECK(assembly_profile(c, holder, a).empty());
  CHECK_FALSE(clearance({}, 12, 30, 0).has_value());
  CHECK(reach_beside_wall_mm({}, 12, 0) == std::numeric_limits<double>::infinity());
}

TEST_CASE("a retired holder or collet still holds what is in it: it is only not offered any more") {
  Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  c.shank_form = ShankForm::plain;
  Holder h;
  h.form = HolderForm::collet;
  h.clamp_from_mm = 2;
  h.clamp_to_mm = 20;
  h.retired = true;
  Collet o;
  o.clamp_from_mm = 11;
  o.clamp_to_mm = 12;
  o.retired = true;
  Assembly a;
  a.stickout_mm = 42;
  CHECK(holds(h, c));
  CHECK(takes(o, 12));
  CHECK_FALSE(has_error(check_assembly(c, &h, a, &o)));
  o.clamp_to_mm = 11.5;
  CHECK(has_error(check_assembly(c, &h, a, &o)));
}
