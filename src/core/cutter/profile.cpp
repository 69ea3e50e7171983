#include "core/cutter/profile.h"

#include <cmath>
#include <numbers>

namespace pecorra {
namespace {

double swept_angle(const ProfileSegment& s) {
  const double a = std::atan2(s.from.y - s.centre.y, s.from.x - s.centre.x);
  const double b = std::atan2(s.to.y - s.centre.y, s.to.x - s.centre.x);
  return std::remainder(b - a, 2 * std::numbers::pi);
}

}  // namespace

double length_of(const ProfileSegment& s) {
  if (!s.arc) return std::hypot(s.to.x - s.from.x, s.to.y - s.from.y);
  return std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y) * std::abs(swept_angle(s));
}

double half_area(const Profile& profile) {
  double area = 0;
  for (const ProfileSegment& s : profile) {
    area += (s.from.x + s.to.x) / 2 * (s.to.y - s.from.y);
    if (s.arc) {  // the circular segment between chord and arc
      const double r = std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y);
      const double angle = swept_angle(s);
      area += r * r / 2 * (angle - std::sin(angle));
    }
  }
  return area;
}

}  // namespace pecorra
