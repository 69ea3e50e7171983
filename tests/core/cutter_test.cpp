// Cutter kinds: declarations, checks, silhouettes.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "../support/says.h"
#include "core/cutter/kinds.h"
#include "core/cutter/kinds/drills.h"
#include "core/cutter/name_pattern.h"
#include "core/holder/holder.h"

using namespace pecorra;
using test::says;

namespace {

Cutter end_mill(double d = 12) { return proposed_cutter(CutterKind::end_mill, d); }

}  // namespace

TEST_CASE("every kind is declared in the order of its enumerators") {
  for (int i = 0; i < 29; ++i) {
    const auto kind = static_cast<CutterKind>(i);
    CHECK(declaration(kind).kind == kind);
    CHECK(choice_from_key<CutterKind>(key_of(kind)) == kind);
    // Whatever a cutter is "for" is something it does, except what never turns.
    if (declaration(kind).operations != 0) CHECK(can_do(kind, declaration(kind).usual_operation));
  }
  CHECK(declaration(CutterKind::probe).operations == 0);
  CHECK(declaration(CutterKind::drag_knife).operations == 0);
}

TEST_CASE("proposed cutters are right by their own checks at every size") {
  for (const CutterKind kind : cutter_kinds())
    for (const double d : {0.5, 1.0, 3.0, 6.35, 10.0, 12.0, 20.0, 32.0, 50.0}) {
      const Cutter cutter = proposed_cutter(kind, d);
      INFO(suggested_name(cutter));
      CHECK_FALSE(has_error(check_cutter(cutter)));
      CHECK_FALSE(silhouette(cutter).empty());
    }
}

TEST_CASE("impossible geometry is an error that names the dimensions") {
  Cutter c = end_mill();
  c.flute_length_mm = 100;
  CHECK(says(check_cutter(c), "flutes_longer_than_overall", "flute_length_mm"));
  CHECK(silhouette(c).empty());
  c = end_mill();
  c.flutes = 0;
  CHECK(says(check_cutter(c), "out_of_range", "flutes"));
  c = end_mill();
  c.diameter_mm.reset();
  CHECK(says(check_cutter(c), "missing", "diameter_mm"));
  c = end_mill();
  c.reach_mm = *c.flute_length_mm - 1;
  CHECK(says(check_cutter(c), "flutes_longer_than_reach", "reach_mm"));
  Cutter bull = proposed_cutter(CutterKind::bull_nose, 10);
  bull.corner_radius_mm = 6;
  CHECK(says(check_cutter(bull), "corner_radius_over_half", "corner_radius_mm"));
  bull.corner_radius_mm = 5;
  CHECK(says(check_cutter(bull), "sizes_fit_ball"));
  CHECK_FALSE(has_error(check_cutter(bull)));
  Cutter drill = proposed_cutter(CutterKind::drill, 10);
  drill.flute_length_mm = 1;
  CHECK(says(check_cutter(drill), "point_longer_than_flutes", "flute_length_mm"));
}

TEST_CASE("a size typed in the wrong unit is found by its proportion") {
  Cutter c = end_mill(12);
  c.diameter_mm = 12 / 25.4;  // typed as if the field were in inches
  c.neck_diameter_mm.reset();
  CHECK(says(check_cutter(c), "diameter_looks_like_inch", "diameter_mm"));
  c = end_mill(12);
  c.flute_length_mm = 26 / 25.4;
  CHECK(says(check_cutter(c), "flutes_look_like_inch", "flute_length_mm"));
}

TEST_CASE("silhouettes enclose the volume of the solid they stand for") {
  // A square end mill without neck is a cylinder: half its section is D/2 · OAL.
  Cutter c = end_mill(10);
  c.reach_mm.reset();
  c.neck_diameter_mm.reset();
  CHECK(half_section(silhouette(c)).area_mm2 == Approx(5.0 * *c.overall_length_mm));
  // A ball takes a quarter disc off: r² − π r²/4.
  Cutter ball = proposed_cutter(CutterKind::ball, 10);
  ball.reach_mm.reset();
  ball.neck_diameter_mm.reset();
  CHECK(half_section(silhouette(ball)).area_mm2 ==
        Approx(5.0 * *ball.overall_length_mm - (25 - std::numbers::pi * 25 / 4)));
  Cutter bull = proposed_cutter(CutterKind::bull_nose, 10);
  bull.corner_radius_mm = 2;
  bull.reach_mm.reset();
  bull.neck_diameter_mm.reset();
  CHECK(half_section(silhouette(bull)).area_mm2 == Approx(5.0 * *bull.overall_length_mm - (4 - std::numbers::pi)));
  // The point of a drill takes a triangle off.
  Cutter drill = proposed_cutter(CutterKind::drill, 10);
  drill.reach_mm.reset();
  const double height = *point_height_mm(drill);
  CHECK(height == Approx(5 / std::tan(70 * std::numbers::pi / 180)));
  CHECK(half_section(silhouette(drill)).area_mm2 == Approx(5.0 * *drill.overall_length_mm - 5 * height / 2));
}

TEST_CASE("silhouettes are closed chains from the tip to the end of the shank") {
  for (const CutterKind kind : cutter_kinds()) {
    const Profile profile = silhouette(proposed_cutter(kind, 8));
    REQUIRE_FALSE(profile.empty());
    CHECK(profile.front().from.y == 0);
    CHECK(profile.back().to.x == 0);
    for (std::size_t i = 1; i < profile.size(); ++i) {
      CHECK(profile[i].from.x == profile[i - 1].to.x);
      CHECK(profile[i].from.y == profile[i - 1].to.y);
      CHECK(length_of(profile[i]) > 0);
    }
    const bool cuts = std::any_of(profile.begin(), profile.end(),
                                  [](const ProfileSegment& s) { return s.role == ProfileRole::cutting; });
    CHECK(cuts == (kind != CutterKind::probe));
  }
}

TEST_CASE("an assembly is checked against cutter and holder") {
  Holder holder;
  holder.name = "ER32";
  holder.clamp_from_mm = 2;
  holder.clamp_to_mm = 20;
  holder.clamp_length_mm = 30;
  holder.stations = {{0, 50}, {70, 50}};
  const Cutter c = end_mill(12);  // 85 overall
  Assembly a;
  a.stickout_mm = 42;
  CHECK(check_assembly(c, &holder, a).empty());
  CHECK(*gauge_length_mm(holder, a) == 112);
  a.stickout_mm = 60;
  CHECK(says(check_assembly(c, &holder, a), "stickout_leaves_no_clamping", "stickout_mm"));
  a.stickout_mm = 90;
  CHECK(says(check_assembly(c, &holder, a), "stickout_over_overall"));
  a.stickout_mm = 20;
  CHECK(says(check_assembly(c, &holder, a), "flutes_in_holder"));
  a.stickout_mm.reset();
  CHECK(says(check_assembly(c, &holder, a), "stickout_missing"));
  CHECK(says(check_assembly(end_mill(25), &holder, a), "shank_not_in_holder", "holder"));
  CHECK(proposed_stickout_mm(c, &holder) <= *c.overall_length_mm - 30);
}

TEST_CASE("properties read and write every type and refuse the wrong one") {
  Cutter c;
  CHECK(find_property<Cutter>("diameter_mm")->set(c, 12.0));
  CHECK(c.diameter_mm == 12.0);
  CHECK_FALSE(find_property<Cutter>("diameter_mm")->set(c, std::string("12")));
  CHECK(c.diameter_mm == 12.0);
  CHECK(find_property<Cutter>("tool_material")->set(c, std::string("hss_co")));
  CHECK_FALSE(find_property<Cutter>("tool_material")->set(c, std::string("HSS")));
  CHECK(c.tool_material == ToolMaterial::hss_co);
  CHECK(find_property<Cutter>("tool_material")->set(c, std::monostate{}));
  CHECK_FALSE(c.tool_material.has_value());
  CHECK(find_property<Cutter>("tool_material")->choices.size() == 9);
  CHECK(find_property<Cutter>("nothing") == nullptr);
}
