#include "core/holder/clearance.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

// The lower part of the profile, cut at this height.
Profile below(const Profile& profile, double height) {
  Profile out;
  for (const ProfileSegment& s : profile) {
    if (s.from.y <= height && s.to.y <= height) {
      out.push_back(s);
      continue;
    }
    if (s.from.y >= height) break;
    ProfileSegment part = s;  // rises through the height
    if (s.arc) {
      const double r = std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y);
      const double across = std::sqrt(std::max(0.0, r * r - (height - s.centre.y) * (height - s.centre.y)));
      part.to = {s.from.x + s.to.x >= 2 * s.centre.x ? s.centre.x + across : s.centre.x - across, height};
    } else {
      part.to = {s.from.x + (s.to.x - s.from.x) * (height - s.from.y) / (s.to.y - s.from.y), height};
    }
    out.push_back(part);
    break;
  }
  return out;
}

struct Line {
  ProfilePoint a, b;
};

ProfilePoint nearest_on(const Line& l, const ProfilePoint& p) {
  const double dx = l.b.x - l.a.x, dy = l.b.y - l.a.y, square = dx * dx + dy * dy;
  const double t = square > 0 ? std::clamp(((p.x - l.a.x) * dx + (p.y - l.a.y) * dy) / square, 0.0, 1.0) : 0;
  return {l.a.x + t * dx, l.a.y + t * dy};
}

double distance(const ProfilePoint& a, const ProfilePoint& b) { return std::hypot(a.x - b.x, a.y - b.y); }

// Whether the arc passes this place on its circle.
bool on_arc(const ProfileSegment& s, const ProfilePoint& p) {
  const double start = std::atan2(s.from.y - s.centre.y, s.from.x - s.centre.x), sweep = swept_angle(s);
  double way = std::remainder(std::atan2(p.y - s.centre.y, p.x - s.centre.x) - start, 2 * std::numbers::pi);
  if (sweep > 0 && way < -1e-12) way += 2 * std::numbers::pi;
  if (sweep < 0 && way > 1e-12) way -= 2 * std::numbers::pi;
  return std::abs(way) <= std::abs(sweep) + 1e-12;
}

void closest(const ProfileSegment& s, const Line& wall, Clearance& best) {
  const auto take = [&](const ProfilePoint& p, const ProfilePoint& q) {
    if (const double d = distance(p, q); d < best.distance_mm) best = {d, p, q};
  };
  for (const ProfilePoint& p : {s.from, s.to}) take(p, nearest_on(wall, p));
  if (!s.arc) {
    const Line own{s.from, s.to};
    for (const ProfilePoint& q : {wall.a, wall.b}) take(nearest_on(own, q), q);
    return;
  }
  // The point of the arc nearest to the wall, or one of its ends.
  const double r = std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y);
  for (const ProfilePoint& q : {nearest_on(wall, s.centre), wall.a, wall.b}) {
    const double d = distance(q, s.centre);
    if (d <= 0) continue;
    const ProfilePoint p{s.centre.x + (q.x - s.centre.x) * r / d, s.centre.y + (q.y - s.centre.y) * r / d};
    if (on_arc(s, p)) take(p, q);
  }
}

// How far the segment goes beyond the line x = foot + y·slope at heights up to `top`, measured at right angles to the
// wall.
void deepest(const ProfileSegment& s, double foot, double slope, double top, Clearance& worst) {
  const double across = std::cos(std::atan(slope));
  const auto look = [&](const ProfilePoint& p) {
    if (p.y > top) return;
    const double depth = (foot + p.y * slope - p.x) * across;
    if (depth < worst.distance_mm) worst = {depth, p, {foot + p.y * slope, p.y}};
  };
  look(s.from);
  look(s.to);
  if (s.arc) {
    const double r = std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y), a = -std::atan(slope);
    const ProfilePoint p{s.centre.x + r * std::cos(a), s.centre.y + r * std::sin(a)};
    if (on_arc(s, p)) look(p);
  } else if (s.from.y != s.to.y && std::min(s.from.y, s.to.y) < top && std::max(s.from.y, s.to.y) > top) {
    look({s.from.x + (s.to.x - s.from.x) * (top - s.from.y) / (s.to.y - s.from.y), top});
  }
}

// What must not touch: everything that does not cut, except the step in from the edge itself.
Profile rubbing(const Profile& assembly) {
  Profile out;
  for (std::size_t i = 0; i < assembly.size(); ++i) {
    const ProfileSegment& s = assembly[i];
    if (s.role == ProfileRole::cutting) continue;
    if (i > 0 && assembly[i - 1].role == ProfileRole::cutting && s.from.y == s.to.y && s.to.x < s.from.x) continue;
    out.push_back(s);
  }
  return out;
}

// Where the profile first crosses the wall, going up.
double first_beyond(const ProfileSegment& s, double foot, double slope) {
  const auto beyond = [&](double x, double y) { return x - foot - y * slope; };
  const double a = beyond(s.from.x, s.from.y), b = beyond(s.to.x, s.to.y);
  double found = std::numeric_limits<double>::infinity();
  if (a > 1e-9) found = s.from.y;
  if (!s.arc) {
    if (a <= 1e-9 && b > 1e-9) found = std::min(found, s.from.y + (s.to.y - s.from.y) * std::max(0.0, -a) / (b - a));
    return found;
  }
  // Crossings of the circle with the wall's line.
  const double r = std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y);
  const double k = 1 + slope * slope, m = slope * (foot - s.centre.x) - s.centre.y,
               c = (foot - s.centre.x) * (foot - s.centre.x) + s.centre.y * s.centre.y - r * r;
  if (const double root = m * m - k * c; root > 1e-12)
    for (const double side : {-1.0, 1.0}) {
      const double y = (-m + side * std::sqrt(root)) / k;
      if (on_arc(s, {foot + y * slope, y})) found = std::min(found, y);
    }
  if (b > 1e-9) found = std::min(found, s.to.y);
  return found;
}

}  // namespace

Profile assembly_profile(const Cutter& cutter, const Holder& holder, const Assembly& assembly) {
  const auto stickout = stickout_of(assembly);
  if (!stickout || *stickout <= 0 || holder.stations.size() < 2) return {};
  Profile profile = silhouette(cutter);
  if (profile.empty()) return {};
  double face = *stickout;
  const bool extended = assembly.extension_diameter_mm && assembly.extension_length_mm;
  if (extended) face -= *assembly.extension_length_mm;
  Profile out = below(profile, face);
  if (out.empty()) return {};
  ProfilePoint at = out.back().to;
  const auto to = [&](double x, double y) {
    if (x != at.x || y != at.y) out.push_back({at, {x, y}, false, {}, ProfileRole::shank});
    at = {x, y};
  };
  if (extended) {
    to(*assembly.extension_diameter_mm / 2, face);
    to(*assembly.extension_diameter_mm / 2, *stickout);
  }
  for (const Station& s : holder.stations) to(s.diameter_mm / 2, *stickout + s.distance_mm);
  return out;
}

std::optional<Clearance> clearance(const Profile& assembly, double diameter_mm, double wall_height, double draft_deg) {
  if (assembly.empty() || !(wall_height > 0)) return std::nullopt;
  const double slope = std::tan(draft_deg * std::numbers::pi / 180), foot = diameter_mm / 2;
  const ProfilePoint edge{foot + wall_height * slope, wall_height};
  Clearance worst{0, {}, {}};
  Clearance best{std::numeric_limits<double>::infinity(), {}, {}};
  for (const ProfileSegment& s : rubbing(assembly)) {
    deepest(s, foot, slope, wall_height, worst);
    closest(s, {{foot, 0}, edge}, best);
    closest(s, {edge, {edge.x + 1e4, edge.y}}, best);
  }
  if (worst.distance_mm < -1e-9) return worst;
  return std::isfinite(best.distance_mm) ? std::optional(best) : std::nullopt;
}

double reach_beside_wall_mm(const Profile& assembly, double diameter_mm, double draft_deg, double margin) {
  const double slope = std::tan(draft_deg * std::numbers::pi / 180);
  double reach = std::numeric_limits<double>::infinity();
  for (const ProfileSegment& s : rubbing(assembly))
    reach = std::min(reach, first_beyond(s, diameter_mm / 2 - margin, slope));
  return std::isfinite(reach) ? std::max(0.0, reach - margin) : reach;
}

}  // namespace pecorra
