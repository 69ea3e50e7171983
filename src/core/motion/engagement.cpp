#include "core/motion/engagement.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/mechanics/chip.h"

namespace pecorra {
namespace {

using std::numbers::pi;

double within_turn(double angle) { return angle - 2 * pi * std::round(angle / (2 * pi)); }

}  // namespace

double corner_rad(const Toolpath& path, bool climb, double cutter_mm, double ae_mm) {
  if (!(cutter_mm > 0) || !(ae_mm > 0)) return 0;
  const double inwards = climb ? 1 : -1;  // inner corners turn left when the wall is at the right
  double most = 0, x = 0, y = 0;
  double heading = 0;  // at the end of the move before
  bool cutting = false;
  for (const Move& m : path.moves) {
    double start = 0, end = 0;
    bool moves = std::hypot(m.x - x, m.y - y) > 1e-9;
    if (m.shape == MoveShape::line) {
      start = end = std::atan2(m.y - y, m.x - x);
    } else {
      const double side = m.shape == MoveShape::counter_clockwise ? pi / 2 : -pi / 2;
      const double from = std::atan2(y - m.centre_y, x - m.centre_x),
                   to = std::atan2(m.y - m.centre_y, m.x - m.centre_x);
      start = from + side;
      end = to + side;
      moves = true;
      if (m.kind == MoveKind::cut && (side > 0) == (inwards > 0)) {
        double swept = std::abs(to - from);
        if (side > 0 ? to < from : to > from) swept = 2 * pi - swept;
        const double radius = std::hypot(x - m.centre_x, y - m.centre_y);
        if (radius > 1e-6) {
          const double width = std::min(cutter_mm, ae_mm * (2 * radius + cutter_mm - ae_mm) / (2 * radius));
          most = std::max(most, std::min(swept, side_engagement(width, cutter_mm).angle() -
                                                    side_engagement(std::min(ae_mm, cutter_mm), cutter_mm).angle()));
        }
      }
    }
    if (m.kind == MoveKind::cut && moves) {
      if (cutting) most = std::max(most, inwards * within_turn(start - heading));
      heading = end;
      cutting = true;
    } else if (m.kind != MoveKind::cut) {
      cutting = false;
    }
    x = m.x;
    y = m.y;
  }
  return most < 1e-3 ? 0 : most;
}

}  // namespace pecorra
