// Every kind of cutter: its shape where the trade and geometry say what it must be, and each of its checks.
#include <catch2/catch.hpp>
#include <cmath>
#include <functional>
#include <numbers>
#include <set>

#include "../support/random_cutters.h"
#include "../support/says.h"
#include "core/cutter/name_pattern.h"
#include "core/mechanics/chip.h"

using namespace pecorra;

namespace {

using std::numbers::pi;

double d_eff(const Cutter& c, double ap) { return effective_diameter_mm(*edge_shape(c), ap, 0, 0).value_or(-1); }

// Widest place of the cutting part.
double widest(const Cutter& c) { return 2 * largest_radius_mm(silhouette(c), 1e9); }

bool says(const Cutter& c, const char* code, const char* property, Severity severity) {
  return test::says(check_cutter(c), code, property, severity);
}

Cutter made(CutterKind kind, double d, const std::function<void(Cutter&)>& change) {
  Cutter c = proposed_cutter(kind, d);
  change(c);
  return c;
}

}  // namespace

TEST_CASE("the cutting part of every kind is as wide as its diameter says") {
  std::mt19937 random(3);
  for (const CutterKind kind : cutter_kinds()) {
    if (kind == CutterKind::probe) continue;
    for (int i = 0; i < 40; ++i) {
      const Cutter c = random_cutter(kind, random);
      INFO(suggested_name(c));
      const double d = *c.diameter_mm;
      if (kind == CutterKind::face_mill || kind == CutterKind::high_feed) {
        // DC is at the lower end of the edges; they reach out by the depth over tan κr (formula 3).
        const double kappa = *c.cutting_edge_angle_deg * pi / 180;
        CHECK(widest(c) == Approx(d + (kappa < pi / 2 - 1e-9 ? 2 * *c.flute_length_mm / std::tan(kappa) : 0)));
        CHECK(d_eff(c, *c.flute_length_mm) == Approx(widest(c)));
      } else if (kind == CutterKind::tapered) {
        CHECK(widest(c) <= d + 1e-9);
      } else if (kind == CutterKind::dovetail && c.corner_radius_mm.value_or(0) > 0) {
        CHECK(widest(c) < d);
      } else {
        CHECK(widest(c) == Approx(d));
      }
      // The effective diameter grows with the depth and ends at the widest place.
      double before = 0;
      for (const double share : {0.1, 0.3, 0.5, 0.8, 1.0}) {
        const double now = d_eff(c, share * *c.flute_length_mm);
        CHECK(now >= before - 1e-9);
        before = now;
      }
    }
  }
}

TEST_CASE("a taper reaches its diameter at the end of its flutes, and its tip can be square, rounded or a ball") {
  // 5.71° over 30 mm from a tip of 4 gives 10 at the top: tan 5.71° = 0.1.
  Cutter c = made(CutterKind::tapered, 10, [](Cutter& t) {
    t.tip_diameter_mm = 4;
    t.taper_half_angle_deg = std::atan(0.1) * 180 / pi;
    t.flute_length_mm = 30;
    t.reach_mm = 35;
  });
  CHECK(check_cutter(c).empty());
  CHECK(d_eff(c, 15) == Approx(7));
  CHECK(edge_angle_deg(silhouette(c), 15) == Approx(90 - *c.taper_half_angle_deg));
  // The greatest rounding makes a ball whose lowest point is on the axis: r = t/2 · cos α / (1 − sin α).
  const double a = std::atan(0.1), ball = 2 * std::cos(a) / (1 - std::sin(a));
  c.corner_radius_mm = ball;
  const Profile profile = silhouette(c);
  const std::size_t tip = profile.front().arc ? 0 : 1;  // a flat of no width may remain
  REQUIRE(profile[tip].arc);
  CHECK(profile[tip].from.x == Approx(0).margin(1e-9));
  CHECK(length_of(profile[tip]) == Approx(ball * (pi / 2 - a)));
  CHECK(edge_angle_deg(profile, 1e-9) == Approx(0).margin(0.1));
  c.corner_radius_mm = ball * 1.01;
  CHECK(says(c, "rounding_over_tip", "corner_radius_mm", Severity::error));
  c.corner_radius_mm = 1;
  const Profile bull = silhouette(c);
  REQUIRE(bull[1].arc);
  // Tangent at both ends: flat below, the flank above.
  CHECK(bull[1].from.x == Approx(bull[1].centre.x));
  CHECK(std::atan2(bull[1].to.y - bull[1].centre.y, bull[1].to.x - bull[1].centre.x) == Approx(-a));
}

TEST_CASE("a barrel's arc has its radius, its largest diameter in the middle, and a tangent tip") {
  const Cutter c = made(CutterKind::barrel, 10, [](Cutter& b) {
    b.profile_radius_mm = 85;
    b.flute_length_mm = 22;
    b.reach_mm = 25;
    b.corner_radius_mm = 2;
  });
  CHECK(check_cutter(c).empty());
  const Profile p = silhouette(c);
  REQUIRE(p[2].arc);
  CHECK(std::hypot(p[2].from.x - p[2].centre.x, p[2].from.y - p[2].centre.y) == Approx(85));
  CHECK(p[2].centre.x == Approx(5 - 85));
  CHECK(p[2].centre.y == Approx(11));
  CHECK(d_eff(c, 11) == Approx(10));
  CHECK(d_eff(c, 5) < 10);
  CHECK(edge_angle_deg(p, 11) == Approx(90));
  // Tangent arcs share the line through their centres.
  CHECK((p[1].to.x - p[1].centre.x) * (p[2].centre.y - p[1].centre.y) ==
        Approx((p[1].to.y - p[1].centre.y) * (p[2].centre.x - p[1].centre.x)));
  CHECK(std::hypot(p[1].to.x - p[1].centre.x, p[1].to.y - p[1].centre.y) == Approx(2));
}

TEST_CASE("undercutting kinds leave a neck, and their arcs are true") {
  const Cutter ball = made(CutterKind::undercut_ball, 10, [](Cutter& b) {
    b.neck_diameter_mm = 6;
    b.flute_length_mm = 9;
  });
  const Profile p = silhouette(ball);
  REQUIRE(p.front().arc);
  // The sphere meets a neck of 6 at 5 + √(25 − 9) = 9 mm above the tip.
  CHECK(p.front().to.x == Approx(3));
  CHECK(p.front().to.y == Approx(9));
  CHECK(d_eff(ball, 1) == Approx(2 * std::sqrt(1.0 * (10 - 1))));
  CHECK(d_eff(ball, 7) == Approx(10));
  CHECK(edge_angle_deg(p, 5) == Approx(90));

  const Cutter t = made(CutterKind::t_slot, 25, [](Cutter& s) {
    s.flute_length_mm = 11;
    s.neck_diameter_mm = 12;
    s.corner_radius_mm = 1;
  });
  CHECK_FALSE(has_error(check_cutter(t)));
  CHECK(d_eff(t, 3) == 25);  // the largest, wherever it cuts
  const Cutter dove = made(CutterKind::dovetail, 20, [](Cutter& s) {
    s.taper_half_angle_deg = 30;
    s.flute_length_mm = 5;
    s.neck_diameter_mm = 10;
  });
  const Profile flank = silhouette(dove);
  CHECK(flank[1].to.x == Approx(10 - 5 * std::tan(pi / 6)));
  CHECK(d_eff(dove, 5) == 20);
}

TEST_CASE("a corner-rounding cutter's hollow quarter fits the edge that it makes") {
  const Cutter c = made(CutterKind::corner_rounding, 10, [](Cutter& r) {
    r.tip_diameter_mm = 4;
    r.profile_radius_mm = 3;
  });
  CHECK(check_cutter(c).empty());
  const Profile p = silhouette(c);
  REQUIRE(p[1].arc);
  CHECK(p[1].centre.x == Approx(5));  // tip radius + R, on the level of the tip
  CHECK(p[1].centre.y == Approx(0).margin(1e-12));
  // 45° round the quarter: R·(1 − cos 45°) out from the tip, R·sin 45° up.
  CHECK(d_eff(c, 3 * std::sin(pi / 4)) == Approx(4 + 2 * 3 * (1 - std::cos(pi / 4))));
}

TEST_CASE("drills, centre drills and step drills have the points that their angles make") {
  const Cutter drill = proposed_cutter(CutterKind::drill, 10);
  CHECK(edge_angle_deg(silhouette(drill), 0.5) == Approx(20));  // 140° point: 70° against the axis
  const Cutter step = made(CutterKind::step_drill, 9, [](Cutter& s) {
    s.step_diameter_mm = 5;
    s.step_length_mm = 12;
    s.step_angle_deg = 90;
    s.point_angle_deg = 118;
  });
  const Profile p = silhouette(step);
  CHECK(p[0].to.y == Approx(2.5 / std::tan(59 * pi / 180)));
  CHECK(p[2].from.y == 12);
  CHECK(p[2].to.y == Approx(12 + 2));  // 45° from 5 to 9
  // ISO 866 form A: 60° countersink above the pilot.
  const Cutter centre = made(CutterKind::centre_drill, 6.3, [](Cutter& s) {
    s.step_diameter_mm = 2.5;
    s.step_length_mm = 3.1;
    s.flute_length_mm = 7;
  });
  CHECK(check_cutter(centre).empty());
  CHECK(edge_angle_deg(silhouette(centre), 4) == Approx(60));
}

TEST_CASE("threads on taps and thread mills stand at their pitch and have the depth of ISO 68-1") {
  const Cutter tap = proposed_cutter(CutterKind::tap, 10);
  double least = 1e9;
  int crests = 0;
  for (const ProfileSegment& s : silhouette(tap))
    if (s.role == ProfileRole::cutting && s.from.y > 3 * 1.5 && s.to.y < *tap.flute_length_mm) {
      least = std::min({least, s.from.x, s.to.x});
      if (s.from.x == 5 && s.to.x == 5) {
        ++crests;
        CHECK(s.to.y - s.from.y == Approx(1.5 / 8));
      }
    }
  CHECK(5 - least == Approx(0.541266 * 1.5).epsilon(1e-5));
  CHECK(crests == static_cast<int>((*tap.flute_length_mm - 4.5) / 1.5));
  Cutter single = proposed_cutter(CutterKind::thread_mill, 8);
  single.flute_length_mm = single.pitch_mm;
  CHECK_FALSE(has_error(check_cutter(single)));
  single.thread = "G1/2";  // 55° flanks
  single.pitch_mm = 25.4 / 14;
  single.flute_length_mm = *single.pitch_mm;
  CHECK_FALSE(has_error(check_cutter(single)));
}

TEST_CASE("conical sections of a shank stand on the reach, as many as there are") {
  Cutter c = proposed_cutter(CutterKind::ball, 6);
  c.shank_diameter_mm = 12;
  c.overall_length_mm = 100;
  c.reach_mm = 20;
  c.shank_sections = {{10, 6, 8}, {20, 8, 8}, {15, 8, 12}};
  CHECK_FALSE(has_error(check_cutter(c)));
  const Profile p = silhouette(c);
  bool cone = false;
  for (const ProfileSegment& s : p) cone = cone || (s.from.x == 4 && s.from.y == 50 && s.to.x == 6 && s.to.y == 65);
  CHECK(cone);
  CHECK(p.back().from.y == 100);
  c.shank_sections.push_back({50, 12, 12});
  CHECK(says(c, "sections_over_overall", "shank_sections", Severity::error));
  c.shank_sections.back().length_mm = 35;
  CHECK(says(c, "sections_leave_no_shank", "shank_sections", Severity::warning));
}

TEST_CASE("every relation that can be wrong says so, at its field, with a stable code") {
  using enum CutterKind;
  using S = Severity;
  struct Case {
    CutterKind kind;
    std::function<void(Cutter&)> change;
    const char* code;
    const char* property;
    Severity severity;
  };
  const std::vector<Case> cases{
      {end_mill, [](Cutter& c) { c.flute_length_mm = 500; }, "flutes_longer_than_overall", "flute_length_mm", S::error},
      {end_mill, [](Cutter& c) { c.reach_mm = 500; }, "reach_longer_than_overall", "reach_mm", S::error},
      {end_mill, [](Cutter& c) { c.neck_diameter_mm = 11; }, "neck_thicker_than_cutter", "neck_diameter_mm",
       S::warning},
      {end_mill, [](Cutter& c) { c.flutes = 0; }, "out_of_range", "flutes", S::error},
      {end_mill, [](Cutter& c) { c.shank_diameter_mm.reset(); }, "missing", "shank_diameter_mm", S::error},
      {end_mill, [](Cutter& c) { c.tool_material.reset(); }, "tool_material_missing", "tool_material", S::warning},
      {end_mill,
       [](Cutter& c) {
         c.neck_diameter_mm.reset();
         c.reach_mm = c.flute_length_mm;
         c.shank_diameter_mm = 3;
       },
       "shank_very_thin", "shank_diameter_mm", S::warning},
      {bull_nose, [](Cutter& c) { c.corner_radius_mm = 5.1; }, "corner_radius_over_half", "corner_radius_mm", S::error},
      {bull_nose, [](Cutter& c) { c.corner_radius_mm = 5; }, "sizes_fit_ball", "corner_radius_mm", S::warning},
      {bull_nose, [](Cutter& c) { c.corner_radius_mm = 0; }, "sizes_fit_square", "corner_radius_mm", S::warning},
      {ball, [](Cutter& c) { c.corner_radius_mm = 3; }, "sizes_fit_bull_nose", "corner_radius_mm", S::warning},
      {ball, [](Cutter& c) { c.flute_length_mm = 4; }, "flutes_shorter_than_radius", "flute_length_mm", S::error},
      {rougher, [](Cutter& c) { c.corner_radius_mm = 6; }, "rounding_over_edge", "corner_radius_mm", S::error},
      {rougher, [](Cutter& c) { c.pitch_mm = 6; }, "pitch_over_diameter", "pitch_mm", S::error},
      {high_feed, [](Cutter& c) { c.cutting_edge_angle_deg = 45; }, "edge_angle_not_high_feed",
       "cutting_edge_angle_deg", S::warning},
      {face_mill, [](Cutter& c) { c.corner_radius_mm = 6; }, "rounding_over_edge", "corner_radius_mm", S::error},
      {fly_cutter,
       [](Cutter& c) {
         c.diameter_from_mm = 12;
         c.diameter_to_mm = 20;
       },
       "outside_range", "diameter_mm", S::error},
      {fly_cutter,
       [](Cutter& c) {
         c.diameter_from_mm = 20;
         c.diameter_to_mm = 12;
       },
       "range_reversed", "diameter_to_mm", S::error},
      {tapered, [](Cutter& c) { c.tip_diameter_mm = 10; }, "tip_over_diameter", "tip_diameter_mm", S::error},
      {tapered, [](Cutter& c) { c.taper_half_angle_deg = 2; }, "taper_ends_below", "diameter_mm", S::warning},
      {tapered, [](Cutter& c) { c.taper_half_angle_deg = 20; }, "taper_ends_early", "diameter_mm", S::warning},
      {tapered, [](Cutter& c) { c.taper_half_angle_deg = 0; }, "sizes_fit_square", "taper_half_angle_deg", S::warning},
      {chamfer_mill, [](Cutter& c) { c.tip_diameter_mm = 11; }, "tip_over_diameter", "tip_diameter_mm", S::error},
      {engraver, [](Cutter& c) { c.point_angle_deg = 20; }, "point_longer_than_flutes", "flute_length_mm", S::error},
      {corner_rounding, [](Cutter& c) { c.profile_radius_mm = 3; }, "rounding_over_diameter", "profile_radius_mm",
       S::error},
      {corner_rounding,
       [](Cutter& c) {
         c.profile_radius_mm = 0.5;
         c.tip_diameter_mm = 3;
       },
       "rounding_under_diameter", "profile_radius_mm", S::warning},
      {corner_rounding, [](Cutter& c) { c.flute_length_mm = 2; }, "flutes_shorter_than_radius", "flute_length_mm",
       S::error},
      {t_slot, [](Cutter& c) { c.neck_diameter_mm = 10; }, "neck_not_thinner", "neck_diameter_mm", S::error},
      {t_slot, [](Cutter& c) { c.corner_radius_mm = 2; }, "rounding_over_edge", "corner_radius_mm", S::error},
      {t_slot, [](Cutter& c) { c.neck_diameter_mm.reset(); }, "missing", "neck_diameter_mm", S::error},
      {dovetail, [](Cutter& c) { c.neck_diameter_mm = 8; }, "flank_under_neck", "flute_length_mm", S::error},
      {dovetail, [](Cutter& c) { c.corner_radius_mm = 3; }, "rounding_over_edge", "corner_radius_mm", S::error},
      {undercut_ball, [](Cutter& c) { c.flute_length_mm = 5; }, "sizes_fit_ball_only", "flute_length_mm", S::warning},
      {undercut_ball,
       [](Cutter& c) {
         c.flute_length_mm = 10;
         c.reach_mm = 30;
       },
       "flutes_over_ball", "flute_length_mm", S::warning},
      {barrel, [](Cutter& c) { c.profile_radius_mm = 5; }, "barrel_radius_small", "profile_radius_mm", S::error},
      {barrel, [](Cutter& c) { c.profile_radius_mm = 10; }, "barrel_flutes_long", "flute_length_mm", S::error},
      {barrel, [](Cutter& c) { c.corner_radius_mm = 6; }, "rounding_over_edge", "corner_radius_mm", S::error},
      {thread_mill, [](Cutter& c) { c.flute_length_mm = 1; }, "flutes_under_pitch", "flute_length_mm", S::error},
      {thread_mill,
       [](Cutter& c) {
         c.pitch_mm = 12;
         c.flute_length_mm = 15;
       },
       "pitch_over_diameter", "pitch_mm", S::error},
      {drill, [](Cutter& c) { c.point_angle_deg = 50; }, "point_angle_unusual", "point_angle_deg", S::warning},
      {drill, [](Cutter& c) { c.flute_length_mm = 1; }, "point_longer_than_flutes", "flute_length_mm", S::error},
      {step_drill, [](Cutter& c) { c.step_diameter_mm = 10; }, "step_over_diameter", "step_diameter_mm", S::error},
      {step_drill, [](Cutter& c) { c.step_length_mm = 1; }, "point_longer_than_step", "step_length_mm", S::error},
      {step_drill, [](Cutter& c) { c.step_length_mm = *c.flute_length_mm - 1; }, "step_longer_than_flutes",
       "flute_length_mm", S::error},
      {counterbore, [](Cutter& c) { c.step_length_mm = 20; }, "step_longer_than_flutes", "step_length_mm", S::error},
      {reamer, [](Cutter& c) { c.lead_length_mm = 6; }, "lead_over_flutes", "lead_length_mm", S::error},
      {boring_bar, [](Cutter& c) { c.corner_radius_mm = 3; }, "rounding_over_edge", "corner_radius_mm", S::error},
      {back_boring_bar, [](Cutter& c) { c.diameter_from_mm = 11; }, "outside_range", "diameter_mm", S::error},
      {drag_knife, [](Cutter& c) { c.trail_mm = 6; }, "trail_over_blade", "trail_mm", S::error},
      {drag_knife, [](Cutter& c) { c.point_angle_deg = 5; }, "point_longer_than_flutes", "flute_length_mm", S::error},
      {probe, [](Cutter& c) { c.neck_diameter_mm = 10; }, "stem_not_thinner", "neck_diameter_mm", S::error},
      {probe, [](Cutter& c) { c.reach_mm = 5; }, "stem_under_ball", "reach_mm", S::error},
  };
  std::set<CutterKind> seen;
  for (const Case& c : cases) {
    const Cutter cutter = made(c.kind, 10, c.change);
    INFO(label_of(c.kind) << ": " << c.code);
    CHECK(says(cutter, c.code, c.property, c.severity));
    // Errors make it a draft without a silhouette; warnings do not.
    CHECK(silhouette(cutter).empty() == (c.severity == S::error));
    CHECK_FALSE(says(proposed_cutter(c.kind, 10), c.code, c.property, c.severity));
    seen.insert(c.kind);
  }
  CHECK(seen.size() == static_cast<std::size_t>(cutter_kind_count) -
                           5);  // the others are in the tests of threads, outlines and proportions
}

TEST_CASE("a warning that was accepted with a reason is open no longer") {
  Cutter c = made(CutterKind::end_mill, 10, [](Cutter& e) {
    e.neck_diameter_mm = 11;
    e.tool_material.reset();
  });
  CHECK(open_warnings(c).size() == 2);
  c.accepted["neck_thicker_than_cutter"] = "measured twice, a special";
  REQUIRE(open_warnings(c).size() == 1);
  CHECK(open_warnings(c)[0].code == "tool_material_missing");
  CHECK(check_cutter(c).size() == 2);  // still said
}

TEST_CASE("what never cuts has no teeth, no operations and no numbers") {
  for (const CutterKind kind : {CutterKind::probe, CutterKind::drag_knife}) {
    CHECK(effective_teeth(proposed_cutter(kind, 6)) == 0);
    CHECK(declaration(kind).operations == 0);
  }
  CHECK(effective_teeth(proposed_cutter(CutterKind::fly_cutter, 40)) == 1);
  CHECK(effective_teeth(proposed_cutter(CutterKind::reamer, 10)) == 6);
}

TEST_CASE("proposals are figures that people would write") {
  for (const CutterKind kind : cutter_kinds())
    for (const double d : {0.8, 3.0, 6.35, 12.0, 63.0})
      for (const ParameterUse& use : declaration(kind).parameters) {
        const Cutter c = proposed_cutter(kind, d);
        const auto value = number_of(c, *find_property<Cutter>(use.key));
        if (!value || use.key == "diameter_mm" || use.per_diameter == 1 ||
            find_property<Cutter>(use.key)->quantity != Quantity::length)
          continue;
        INFO(label_of(kind) << " " << use.key << " " << *value);
        const double thousandths = *value * 1000;
        CHECK(std::abs(thousandths - std::round(thousandths)) < 1e-6);
      }
}

TEST_CASE("names say the kind and the sizes that tell cutters apart, in the unit they were bought in") {
  CHECK(suggested_name(made(CutterKind::t_slot, 25, [](Cutter& c) { c.flute_length_mm = 11; })) ==
        "T-slot cutter Ø25 × 11");
  CHECK(suggested_name(made(CutterKind::probe, 6, [](Cutter&) {})) == "Touch probe Ø6");
  Cutter inch = made(CutterKind::ball, 12.7, [](Cutter& c) {
    c.flute_length_mm = 25.4;
    c.unit = UnitSystem::inch;
  });
  CHECK(suggested_name(inch) == "Ball end mill Ø0.5\" × 1\"");
  inch.typed = {{"diameter_mm", "1/2\""}, {"flute_length_mm", "1"}};
  CHECK(suggested_name(inch) == "Ball end mill Ø1/2\" × 1\"");
  inch.typed["diameter_mm"] = "3/8\"";  // no longer what it is
  CHECK(suggested_name(inch) == "Ball end mill Ø0.5\" × 1\"");
  std::set<std::string> names;
  for (const CutterKind kind : cutter_kinds()) CHECK(names.insert(suggested_name(proposed_cutter(kind, 10))).second);
}
