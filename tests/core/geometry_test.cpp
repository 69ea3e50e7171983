// Flat geometry: chords within their tolerance, offsets by Steiner's formula, arcs found again.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "../support/sample_job.h"
#include "core/geometry/drawing.h"
#include "core/geometry/region.h"

using namespace pecorra;
using std::numbers::pi;

namespace {

double length(const std::vector<Point2>& ring) {
  double sum = 0;
  for (std::size_t i = 0; i < ring.size(); ++i)
    sum += std::hypot(ring[i].x - ring[(i + 1) % ring.size()].x, ring[i].y - ring[(i + 1) % ring.size()].y);
  return sum;
}

}  // namespace

TEST_CASE("chords stay within their tolerance of the arc") {
  for (const double radius : {0.5, 5.0, 80.0})
    for (const double tolerance : {0.1, 0.01, 0.001}) {
      const Contour circle{true, {{-radius, 0, 1}, {radius, 0, 1}}};
      const auto points = flattened(circle, tolerance);
      for (std::size_t i = 0; i < points.size(); ++i) {
        const Point2 a = points[i], b = points[(i + 1) % points.size()];
        CHECK(std::hypot(a.x, a.y) == Approx(radius));
        CHECK(radius - std::hypot((a.x + b.x) / 2, (a.y + b.y) / 2) <= tolerance * 1.0001);
      }
      CHECK(signed_area(points) <= pi * radius * radius);
    }
}

TEST_CASE("centre and radius of a bulge, either way round") {
  for (const double bulge : {0.1, 0.41421356237309503, 1.0, -0.2, -1.0}) {
    const ArcShape arc = arc_of({0, 0, bulge}, {10, 0});
    CHECK(arc.radius == Approx(10 / (2 * std::abs(std::sin(2 * std::atan(bulge))))));
    CHECK(std::hypot(arc.centre.x - 10, arc.centre.y) == Approx(arc.radius));
    if (std::abs(bulge) < 1)
      CHECK((arc.centre.y > 0) == (bulge > 0));  // counter-clockwise turns about a centre on the left
  }
}

TEST_CASE("outward offsets of convex shapes grow by Steiner's formula") {
  for (const Contour& shape : {test::rounded_plate(100, 60, 8), Contour{true, {{0, 0, 0}, {40, 0, 0}, {40, 30, 0}}},
                               Contour{true, {{-20, 0, 1}, {20, 0, 1}}}}) {
    const auto ring = flattened(shape, 0.0005);
    const double area = std::abs(signed_area(ring)), perimeter = length(ring);
    for (const double d : {0.5, 3.0, 10.0}) {
      const auto grown = Region::inside({ring}).offset(d).rings();
      REQUIRE(grown.size() == 1);
      CHECK(std::abs(signed_area(grown[0])) == Approx(area + perimeter * d + pi * d * d).epsilon(1e-4));
      CHECK(length(grown[0]) == Approx(perimeter + 2 * pi * d).epsilon(1e-4));
    }
  }
}

TEST_CASE("inward offsets vanish where nothing fits") {
  const auto ring = flattened(test::rounded_plate(60, 20, 10), 0.001);
  CHECK_FALSE(Region::inside({ring}).offset(-9.9).empty());
  CHECK(Region::inside({ring}).offset(-10.1).empty());
}

TEST_CASE("corners are not taken for arcs") {
  std::vector<Point2> polygon;
  for (int i = 0; i < 8; ++i) polygon.push_back({20 * std::cos(i * pi / 4), 20 * std::sin(i * pi / 4)});
  for (const Vertex& v : with_arcs(polygon, true, 0.003).vertices) CHECK(v.bulge == 0);
  const Contour line = with_arcs({{0, 0}, {10, 0}, {10, 10}}, false, 0.003);
  CHECK_FALSE(line.closed);
  CHECK(line.vertices.size() == 3);
}

TEST_CASE("areas: pieces with their holes, ways that stay inside, outlines that cross themselves") {
  const Ring square{{0, 0}, {40, 0}, {40, 40}, {0, 40}}, hole{{10, 10}, {30, 10}, {30, 30}, {10, 30}};
  const Region frame = Region::inside({square}).without(Region::inside({hole}));
  CHECK(frame.area() == Approx(1600 - 400));
  CHECK(frame.pieces().size() == 1);
  CHECK(frame.contains({5, 5}));
  CHECK_FALSE(frame.contains({20, 20}));
  CHECK(frame.contains_way({5, 5}, {5, 35}));
  CHECK_FALSE(frame.contains_way({5, 20}, {35, 20}));
  CHECK(Region::simple(square));
  CHECK_FALSE(Region::simple({{0, 0}, {10, 10}, {10, 0}, {0, 10}}));
  // A strip along a line: its area by the line's length, and a circle for the ends.
  CHECK(Region::strip({{0, 0}, {30, 0}}, 5).area() == Approx(300 + pi * 25).epsilon(1e-3));
  // A dumbbell falls into two pieces once its bar is gone.
  const Region dumbbell = Region::inside({square})
                              .with(Region::inside({{{40, 18}, {60, 18}, {60, 22}, {40, 22}}}))
                              .with(Region::inside({{{60, 0}, {90, 0}, {90, 40}, {60, 40}}}));
  CHECK(dumbbell.pieces().size() == 1);
  CHECK(dumbbell.offset(-3).pieces().size() == 2);
}

TEST_CASE("lines reversed, begun elsewhere and measured") {
  const Contour plate = test::rounded_plate(100, 60, 8);
  CHECK(length_of(plate) == Approx(2 * (84 + 44) + 2 * pi * 8));
  CHECK(length_of(reversed(plate)) == Approx(length_of(plate)));
  CHECK(signed_area(flattened(reversed(plate), 0.001)) == Approx(-signed_area(flattened(plate, 0.001))));
  const Contour open{false, {{0, 0, 0.5}, {10, 0, 0}, {20, 0, 0}}};
  CHECK(reversed(reversed(open)).vertices == open.vertices);
  CHECK(print_of(plate) != print_of(open));
  CHECK(print_of(plate) == print_of(test::rounded_plate(100, 60, 8)));
}
