#include "core/cutter/profile.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace pecorra {
namespace {

using std::numbers::pi;

// Calls visit(angle) for each place of the arc at this height.
template <class Visit>
void arc_at_height(const ProfileSegment& s, double y, Visit&& visit) {
  const double r = radius_of(s), sine = (y - s.centre.y) / r;
  if (!(std::abs(sine) <= 1)) return;
  const double start = angle_at(s, s.from), sweep = swept_angle(s);
  for (const double a : {std::asin(sine), pi - std::asin(sine)}) {
    // Within the sweep, counted from the start in its direction.
    double way = std::remainder(a - start, 2 * pi);
    if (sweep > 0 && way < -1e-9) way += 2 * pi;
    if (sweep < 0 && way > 1e-9) way -= 2 * pi;
    if (std::abs(way) <= std::abs(sweep) + 1e-9) visit(a);
  }
}

}  // namespace

double radius_of(const ProfileSegment& s) { return std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y); }
double angle_at(const ProfileSegment& s, const ProfilePoint& p) {
  return std::atan2(p.y - s.centre.y, p.x - s.centre.x);
}

double swept_angle(const ProfileSegment& s) { return std::remainder(angle_at(s, s.to) - angle_at(s, s.from), 2 * pi); }

double length_of(const ProfileSegment& s) {
  if (!s.arc) return std::hypot(s.to.x - s.from.x, s.to.y - s.from.y);
  return radius_of(s) * std::abs(swept_angle(s));
}

ProfilePoint point_on(const ProfileSegment& s, double share) {
  if (!s.arc) return {s.from.x + (s.to.x - s.from.x) * share, s.from.y + (s.to.y - s.from.y) * share};
  const double a = angle_at(s, s.from) + swept_angle(s) * share, r = radius_of(s);
  return {s.centre.x + r * std::cos(a), s.centre.y + r * std::sin(a)};
}

// Green's theorem: area ∫ x dy, moments ∫ x²/2 dy and ∫ x·y dy along the profile; the return path runs along the axis,
// where x is 0.
Section half_section(const Profile& profile) {
  double area = 0, about_y = 0, about_x = 0;
  for (const ProfileSegment& s : profile) {
    if (!s.arc) {
      const double dy = s.to.y - s.from.y, x0 = s.from.x, x1 = s.to.x, y0 = s.from.y, y1 = s.to.y;
      area += (x0 + x1) / 2 * dy;
      about_y += (x0 * x0 + x0 * x1 + x1 * x1) / 6 * dy;
      about_x += (x0 * (2 * y0 + y1) + x1 * (y0 + 2 * y1)) / 6 * dy;
      continue;
    }
    // x = c + r·cos a, dy = r·cos a da.
    const double r = radius_of(s), cx = s.centre.x, cy = s.centre.y, a = angle_at(s, s.from), b = a + swept_angle(s);
    const double sine = std::sin(b) - std::sin(a), turn = b - a;
    const double cos2 = turn / 2 + (std::sin(2 * b) - std::sin(2 * a)) / 4;                // ∫cos²
    const double cos3 = sine - (std::pow(std::sin(b), 3) - std::pow(std::sin(a), 3)) / 3;  // ∫cos³
    const double sin_cos = (std::pow(std::sin(b), 2) - std::pow(std::sin(a), 2)) / 2;      // ∫sin·cos
    const double sin_cos2 = -(std::pow(std::cos(b), 3) - std::pow(std::cos(a), 3)) / 3;    // ∫sin·cos²
    area += r * (cx * sine + r * cos2);
    about_y += r / 2 * (cx * cx * sine + 2 * cx * r * cos2 + r * r * cos3);
    about_x += r * (cx * cy * sine + cx * r * sin_cos + cy * r * cos2 + r * r * sin_cos2);
  }
  if (!(std::abs(area) > 0)) return {};
  return {area, about_y / area, about_x / area};
}

double volume_mm3(const Profile& profile) {
  const Section section = half_section(profile);
  return 2 * pi * section.area_mm2 * section.centroid_x_mm;
}

double largest_radius_mm(const Profile& profile, double height) {
  double largest = 0;
  for (const ProfileSegment& s : profile) {
    if (s.role != ProfileRole::cutting) continue;
    for (const ProfilePoint& p : {s.from, s.to})
      if (p.y <= height) largest = std::max(largest, p.x);
    if (s.arc) {
      arc_at_height(s, height, [&](double a) { largest = std::max(largest, s.centre.x + radius_of(s) * std::cos(a)); });
      if (s.centre.y <= height)  // the outermost place of the circle
        arc_at_height(s, s.centre.y,
                      [&](double a) { largest = std::max(largest, s.centre.x + radius_of(s) * std::cos(a)); });
    } else if (std::min(s.from.y, s.to.y) < height && std::max(s.from.y, s.to.y) > height) {
      largest = std::max(largest, s.from.x + (s.to.x - s.from.x) * (height - s.from.y) / (s.to.y - s.from.y));
    }
  }
  return largest;
}

double edge_angle_deg(const Profile& profile, double height) {
  double outermost = -1, angle = 90;
  for (const ProfileSegment& s : profile) {
    if (s.role != ProfileRole::cutting) continue;
    if (s.arc) {
      arc_at_height(s, height, [&](double a) {
        const double x = s.centre.x + radius_of(s) * std::cos(a);
        if (x <= outermost) return;
        outermost = x;
        angle = std::abs(std::remainder(a + pi / 2, pi)) * 180 / pi;  // the tangent, against the plane across the axis
      });
    } else if (std::min(s.from.y, s.to.y) <= height && std::max(s.from.y, s.to.y) >= height) {
      const double dy = s.to.y - s.from.y;
      const double x = dy == 0 ? std::max(s.from.x, s.to.x) : s.from.x + (s.to.x - s.from.x) * (height - s.from.y) / dy;
      if (x <= outermost) continue;
      outermost = x;
      angle = std::atan2(std::abs(dy), std::abs(s.to.x - s.from.x)) * 180 / pi;
    }
  }
  return angle;
}

}  // namespace pecorra
