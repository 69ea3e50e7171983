// Own profiles of form cutters: outlines become exact lines and arcs; faults are found with their place.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/cutter/form_profile.h"
#include "core/cutter/kinds.h"

using namespace pecorra;

namespace {

const double quarter = std::sqrt(2.0) - 1;  // bulge of a quarter turn

std::string codes(const std::vector<Vertex>& outline) {
  std::string all;
  for (const Message& m : check_outline(outline)) all += m.code + " ";
  return all;
}

double place(const Message& m, const char* key) {
  for (const auto& [name, value] : m.values)
    if (name == key) return std::get<double>(value);
  return std::nan("");
}

}  // namespace

TEST_CASE("bulges become arcs about the right centre, on the right side") {
  // A convex quarter from the floor to the wall bulges outwards: counter-clockwise about (2, 3).
  const Profile convex = profile_of_outline({{0, 0, 0}, {2, 0, quarter}, {5, 3, 0}, {5, 10, 0}});
  REQUIRE(convex.size() == 3);
  CHECK(convex[1].arc);
  CHECK(convex[1].centre.x == Approx(2));
  CHECK(convex[1].centre.y == Approx(3));
  CHECK(length_of(convex[1]) == Approx(3 * std::numbers::pi / 2));
  // The hollow quarter turns the other way, about (5, 0).
  const Profile hollow = profile_of_outline({{0, 0, 0}, {2, 0, -quarter}, {5, 3, 0}, {5, 10, 0}});
  CHECK(hollow[1].centre.x == Approx(5));
  CHECK(hollow[1].centre.y == Approx(0).margin(1e-12));
  CHECK(half_section(convex).area_mm2 - half_section(hollow).area_mm2 == Approx(2 * (9 * std::numbers::pi / 4 - 4.5)));
  // Half a turn is two arcs: from (4, 0) over (6, 2) to (4, 4).
  const Profile half = profile_of_outline({{0, 0, 0}, {4, 0, 1}, {4, 4, 0}});
  REQUIRE(half.size() == 3);
  CHECK(half[1].to.x == Approx(6));
  CHECK(half[1].to.y == Approx(2));
  CHECK(largest_radius_mm(half, 10) == Approx(6));
  CHECK(half_section(half).area_mm2 == Approx(16 + std::numbers::pi * 2));
}

TEST_CASE("an outline that begins beside the axis gets its floor") {
  const Profile p = profile_of_outline({{3, 0, 0}, {3, 8, 0}});
  REQUIRE(p.size() == 2);
  CHECK(p[0].from.x == 0);
  CHECK(p[0].to.x == 3);
  CHECK(codes({{3, 0, 0}, {3, 8, 0}}).empty());
}

TEST_CASE("faults of an outline are said with their place") {
  CHECK(codes({}) == "outline_missing ");
  CHECK(codes({{0, 0, 0}}) == "outline_missing ");
  CHECK(codes({{0, 0, 0}, {0, 0, 0}}) == "outline_missing ");
  CHECK(codes({{0, 0, 0}, {std::nan(""), 1, 0}}) == "outline_not_finite ");
  CHECK(codes({{0, 0, 0}, {4, 0, 0}, {4, 5, 0}}).empty());
  CHECK(codes({{0, 0, 0}, {4, 0, 0}, {-1, 5, 0}, {4, 8, 0}}).find("outline_beyond_axis") != std::string::npos);
  CHECK(codes({{0, 1, 0}, {4, 1, 0}, {4, 5, 0}}).find("outline_start_off_tip") != std::string::npos);
  CHECK(codes({{0, 0, 0}, {4, -1, 0}, {4, 5, 0}}).find("outline_below_tip") != std::string::npos);
  CHECK(codes({{0, 0, 0}, {0, 5, 0}}).find("outline_on_axis") != std::string::npos);
  // An arc that dips under the tip between two fine points.
  CHECK(codes({{0, 0, 0}, {1, 0, 0.8}, {6, 0, 0}, {6, 5, 0}}).find("outline_below_tip") != std::string::npos);
  // Crossing: the line from (5, 2) to (1, 6) meets the one from (1, 2) … (5, 6) at (3, 4).
  const auto crossed = check_outline({{0, 0, 0}, {1, 0, 0}, {1, 2, 0}, {5, 6, 0}, {5, 2, 0}, {1, 6, 0}, {1, 8, 0}});
  REQUIRE(crossed.size() == 1);
  CHECK(crossed[0].code == "outline_crosses_itself");
  CHECK(place(crossed[0], "x_mm") == Approx(3));
  CHECK(place(crossed[0], "y_mm") == Approx(4));
  // Neighbours that only touch are no fault.
  CHECK(codes({{0, 0, 0}, {2, 0, 0}, {2, 2, 0}, {4, 2, 0}, {4, 4, 0}, {2, 4, 0}, {2, 6, 0}}).empty());
}

TEST_CASE("a form cutter is held to its outline") {
  Cutter c = proposed_cutter(CutterKind::form, 20);
  CHECK_FALSE(has_error(check_cutter(c)));
  CHECK_FALSE(silhouette(c).empty());
  c.diameter_mm = 22;
  bool said = false;
  for (const Message& m : check_cutter(c)) said = said || (m.code == "diameter_not_of_outline" && m.property == "diameter_mm" && place(m, "right_mm") == Approx(20));
  CHECK(said);
  c = proposed_cutter(CutterKind::form, 20);
  c.outline.back().y += 1;
  CHECK(has_error(check_cutter(c)));
  c = proposed_cutter(CutterKind::form, 20);
  c.outline.clear();
  CHECK(silhouette(c).empty());
}
