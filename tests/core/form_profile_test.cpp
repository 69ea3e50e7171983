// Own profiles of form cutters: outlines become exact lines and arcs; faults are found with their place.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/cutter/form_profile.h"
#include "core/cutter/kinds.h"
#include "core/cutter/outline_text.h"

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
  for (const Message& m : check_cutter(c))
    said = said ||
           (m.code == "diameter_not_of_outline" && m.property == "diameter_mm" && place(m, "right_mm") == Approx(20));
  CHECK(said);
  c = proposed_cutter(CutterKind::form, 20);
  c.outline.back().y += 1;
  CHECK(has_error(check_cutter(c)));
  c = proposed_cutter(CutterKind::form, 20);
  c.outline.clear();
  CHECK(silhouette(c).empty());
}

TEST_CASE("outlines are typed as points, with numbers as in any field") {
  const auto typed = parse_outline("0 0\n4 0   # the floor\n\n4; 1/4 in\n6 8.35 -2\r\n6\t10\n", UnitSystem::metric);
  REQUIRE(typed.has_value());
  REQUIRE(typed->size() == 5);
  CHECK((*typed)[2].y == Approx(6.35));
  CHECK((*typed)[2].bulge == Approx(-quarter));
  CHECK((*typed)[4].x == 6);
  // Printed and read again it is the same.
  const auto again = parse_outline(outline_text(*typed, UnitSystem::metric), UnitSystem::metric);
  REQUIRE(again.has_value());
  for (std::size_t i = 0; i < typed->size(); ++i) {
    CHECK((*again)[i].x == Approx((*typed)[i].x).margin(1e-6));
    CHECK((*again)[i].y == Approx((*typed)[i].y).margin(1e-6));
    CHECK((*again)[i].bulge == Approx((*typed)[i].bulge).margin(1e-5));
  }
  const auto inches = parse_outline("0 0\n1/2 0\n", UnitSystem::inch);
  CHECK((*inches)[1].x == Approx(12.7));
  for (const auto& [text, line, says] : {std::tuple{"0 0\n5", 2, "height"},
                                         {"0 0\n1 2 3 4", 2, "more than"},
                                         {"0 0\n\nx 5", 3, "x"},
                                         {"0 0 5", 1, "first point"},
                                         {"0 0\n10 0 2", 2, "at least 5"},
                                         {"0 0\n0 0 2", 2, "same point"}}) {
    const auto refused = parse_outline(text, UnitSystem::metric);
    INFO(text);
    REQUIRE_FALSE(refused.has_value());
    CHECK(refused.error().line == line);
    CHECK(refused.error().text.find(says) != std::string::npos);
  }
  CHECK(parse_outline("", UnitSystem::metric)->empty());
}

TEST_CASE("the outline that a drawing holds is opened on the axis and turned upwards") {
  const std::vector<Vertex> right{{0, 0, 0}, {2, 0, quarter}, {5, 3, 0}, {5, 10, 0}};
  const auto same = [&](const std::vector<Vertex>& outline) {
    REQUIRE(outline.size() == right.size());
    for (std::size_t i = 0; i < right.size(); ++i) {
      CHECK(outline[i].x == Approx(right[i].x).margin(1e-9));
      CHECK(outline[i].y == Approx(right[i].y).margin(1e-9));
      CHECK(outline[i].bulge == Approx(right[i].bulge).margin(1e-9));
    }
  };
  same(outline_from(right, false));
  // Drawn from the top down, and elsewhere in height.
  same(outline_from({{5, 110, 0}, {5, 103, -quarter}, {2, 100, 0}, {0, 100, 0}}, false));
  // Closed over the top and the axis, either way round, started anywhere.
  same(outline_from({{5, 3, 0}, {5, 10, 0}, {0, 10, 0}, {0, 0, 0}, {2, 0, quarter}}, true));
  same(outline_from({{0, 0, 0}, {0, 10, 0}, {5, 10, 0}, {5, 3, -quarter}, {2, 0, 0}}, true));
  CHECK(outline_from({{1, 0, 0}, {5, 0, 0}, {5, 5, 0}}, true).empty());
  CHECK(outline_from({{1, 0, 0}}, false).empty());
}
