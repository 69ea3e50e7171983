// How much more a cutter engages at the tightest place of its path, against sampling the path here.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/mechanics/cut_model.h"
#include "core/motion/engagement.h"

using namespace pecorra;

namespace {

using std::numbers::pi;

Move line(double x, double y) { return {MoveKind::cut, MoveShape::line, Plane::xy, 0, 0, x, y, -1, 0, 0, 100}; }
Move arc(bool left, double x, double y, double cx, double cy) {
  return {MoveKind::cut,
          left ? MoveShape::counter_clockwise : MoveShape::clockwise,
          Plane::xy,
          0,
          0,
          x,
          y,
          -1,
          cx,
          cy,
          100};
}

}  // namespace

TEST_CASE("inner corners lengthen the arc of engagement by the angle they turn, outer ones do not") {
  Toolpath path;
  path.moves = {line(100, 0), line(100, 50), line(50, 80)};  // left 90°, then left about 59°
  CHECK(corner_rad(path, true, 10, 2) == Approx(pi / 2));
  CHECK(corner_rad(path, false, 10, 2) == 0);  // the wall is on the other side
  path.moves = {line(100, 0), line(100, -50)};
  CHECK(corner_rad(path, true, 10, 2) == 0);
  CHECK(corner_rad(path, false, 10, 2) == Approx(pi / 2));
  path.moves = {line(100, 0)};
  CHECK(corner_rad(path, true, 10, 2) == 0);
  // A retract between two moves is no corner.
  path.moves = {line(100, 0), {MoveKind::retract, MoveShape::line, Plane::xy, 0, 100, 0, 5, 0, 0, 0}, line(100, 50)};
  CHECK(corner_rad(path, true, 10, 2) == 0);
}

TEST_CASE("an inner arc engages what the ring it removes gives") {
  // The centre goes round a quarter of radius 4; the wall is machined at 4 + 5, the stock inside it 2 thick.
  Toolpath path;
  path.moves = {line(10, 0), arc(true, 14, 4, 10, 4)};
  const double width = (81.0 - 49.0) / (2 * 4.0);  // ring area over the way of the centre: (9² − 7²)/(2·4)
  const double more = side_engagement(std::min(10.0, width), 10).angle() - side_engagement(2, 10).angle();
  CHECK(corner_rad(path, true, 10, 2) == Approx(std::min(pi / 2, more)));
  CHECK(corner_rad(path, false, 10, 2) == 0);
}

TEST_CASE("the worst width follows from the arc, never beyond a slot") {
  CHECK(width_in_corner_mm(10, 5, 0) == Approx(5));
  CHECK(width_in_corner_mm(10, 5, pi / 2) == Approx(10));
  CHECK(width_in_corner_mm(10, 2, 10) == Approx(10));
  // 20 % of the diameter and a square corner: 53.13° + 90°.
  CHECK(width_in_corner_mm(10, 2, pi / 2) == Approx(5 * (1 - std::cos(std::acos(0.6) + pi / 2))));
}
