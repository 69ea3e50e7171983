#include "core/toolpath/geometry.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <optional>
#include <polyclipping/clipper.hpp>

#include "core/base/whole.h"

namespace pecorra {
namespace {

using std::numbers::pi;
constexpr double clipper_per_mm = 1e5;  // 10 nm
constexpr double chord_tolerance_mm = 0.001;

std::optional<ArcShape> circle_through(Point2 a, Point2 b, Point2 c) {
  const double bx = b.x - a.x, by = b.y - a.y, cx = c.x - a.x, cy = c.y - a.y;
  const double det = 2 * (bx * cy - by * cx);
  if (std::abs(det) < 1e-9) return std::nullopt;
  const double b2 = bx * bx + by * by, c2 = cx * cx + cy * cy;
  const double ux = (cy * b2 - by * c2) / det, uy = (bx * c2 - cx * b2) / det;
  return ArcShape{{a.x + ux, a.y + uy}, std::hypot(ux, uy)};
}

double cross(Point2 a, Point2 b, Point2 c) { return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x); }

// The arc over points[first … last] if all of them lie on one, bending one way, less than 180° in all.
std::optional<double> bulge_over(const std::vector<Point2>& p, std::size_t first, std::size_t last, double tolerance) {
  if (last - first < 3) return std::nullopt;
  const auto arc = circle_through(p[first], p[(first + last) / 2], p[last]);
  if (!arc || arc->radius > 2000) return std::nullopt;
  const double way = cross(p[first], p[first + 1], p[first + 2]);
  double swept = 0;
  for (std::size_t i = first; i < last; ++i) {
    if (std::abs(std::hypot(p[i].x - arc->centre.x, p[i].y - arc->centre.y) - arc->radius) > tolerance)
      return std::nullopt;
    if (i > first && cross(p[i - 1], p[i], p[i + 1]) * way <= 0) return std::nullopt;
    // The chord between must not leave the arc either: that tells a corner from an arc.
    const double mx = (p[i].x + p[i + 1].x) / 2, my = (p[i].y + p[i + 1].y) / 2;
    if (std::abs(std::hypot(mx - arc->centre.x, my - arc->centre.y) - arc->radius) > 2 * tolerance) return std::nullopt;
    const double a = std::atan2(p[i].y - arc->centre.y, p[i].x - arc->centre.x);
    const double b = std::atan2(p[i + 1].y - arc->centre.y, p[i + 1].x - arc->centre.x);
    swept += std::remainder(b - a, 2 * pi);
  }
  if (std::abs(swept) > pi * 0.999) return std::nullopt;
  return std::tan(swept / 4);
}

}  // namespace

ArcShape arc_of(const Vertex& from, Point2 to) {
  const double dx = to.x - from.x, dy = to.y - from.y;
  const double side = (1 - from.bulge * from.bulge) / (4 * from.bulge);
  const Point2 centre{(from.x + to.x) / 2 - dy * side, (from.y + to.y) / 2 + dx * side};
  return {centre, std::hypot(from.x - centre.x, from.y - centre.y)};
}

std::vector<Point2> flattened(const Contour& contour, double tolerance) {
  std::vector<Point2> points;
  const std::size_t n = contour.vertices.size();
  for (std::size_t i = 0; i < n; ++i) {
    const Vertex& v = contour.vertices[i];
    points.push_back({v.x, v.y});
    const bool last = i + 1 == n;
    if (v.bulge == 0 || (last && !contour.closed)) continue;
    const Vertex& w = contour.vertices[last ? 0 : i + 1];
    const ArcShape arc = arc_of(v, {w.x, w.y});
    const double swept = 4 * std::atan(v.bulge);
    const double step = 2 * std::acos(std::clamp(1 - tolerance / arc.radius, -1.0, 1.0));
    const int pieces = whole_within(std::ceil(std::abs(swept) / std::max(step, 1e-3)), 2, 4000);
    const double start = std::atan2(v.y - arc.centre.y, v.x - arc.centre.x);
    for (int k = 1; k < pieces; ++k) {
      const double angle = start + swept * k / pieces;
      points.push_back({arc.centre.x + arc.radius * std::cos(angle), arc.centre.y + arc.radius * std::sin(angle)});
    }
  }
  return points;
}

double signed_area(const std::vector<Point2>& p) {
  double area = 0;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Point2 &a = p[i], &b = p[(i + 1) % p.size()];
    area += a.x * b.y - b.x * a.y;
  }
  return area / 2;
}

int line_count(const Drawing& drawing) { return static_cast<int>(drawing.contours.size() + drawing.circles.size()); }

std::optional<Contour> line_at(const Drawing& drawing, int index) {
  if (index < 0 || index >= line_count(drawing)) return std::nullopt;
  const std::size_t i = static_cast<std::size_t>(index);
  if (i < drawing.contours.size()) return drawing.contours[i];
  const Circle& c = drawing.circles[i - drawing.contours.size()];
  const double r = c.diameter_mm / 2;
  return Contour{true, {{c.x - r, c.y, 1}, {c.x + r, c.y, 1}}};
}

Box bounds(const Drawing& drawing) {
  constexpr double far = std::numeric_limits<double>::infinity();
  Box box{far, far, -far, -far};
  auto take = [&](double x, double y) {
    box = {std::min(box.low_x, x), std::min(box.low_y, y), std::max(box.high_x, x), std::max(box.high_y, y)};
  };
  for (const Contour& contour : drawing.contours)
    for (const Point2& p : flattened(contour, 0.01)) take(p.x, p.y);
  for (const Circle& circle : drawing.circles) {
    take(circle.x - circle.diameter_mm / 2, circle.y - circle.diameter_mm / 2);
    take(circle.x + circle.diameter_mm / 2, circle.y + circle.diameter_mm / 2);
  }
  return box.low_x > box.high_x ? Box{} : box;
}

std::vector<std::vector<Point2>> offset_rings(const std::vector<std::vector<Point2>>& rings, double distance) {
  ClipperLib::ClipperOffset offset(2.0, chord_tolerance_mm * clipper_per_mm);
  for (const auto& ring : rings) {
    ClipperLib::Path path;
    for (const Point2& p : ring)
      path.emplace_back(std::llround(p.x * clipper_per_mm), std::llround(p.y * clipper_per_mm));
    offset.AddPath(path, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
  }
  ClipperLib::Paths solution;
  offset.Execute(solution, distance * clipper_per_mm);
  std::vector<std::vector<Point2>> out;
  for (const ClipperLib::Path& path : solution) {
    std::vector<Point2> ring;
    for (const ClipperLib::IntPoint& p : path)
      ring.push_back({static_cast<double>(p.X) / clipper_per_mm, static_cast<double>(p.Y) / clipper_per_mm});
    out.push_back(std::move(ring));
  }
  return out;
}

Contour with_arcs(const std::vector<Point2>& points, bool closed, double tolerance) {
  Contour out;
  out.closed = closed;
  std::vector<Point2> p = points;
  if (closed && !p.empty()) p.push_back(p.front());
  std::size_t i = 0;
  while (i + 1 < p.size()) {
    // The longest arc from here.
    std::size_t best = 0;
    double bulge = 0;
    for (std::size_t reach = i + 3; reach < p.size(); ++reach) {
      const auto found = bulge_over(p, i, reach, tolerance);
      if (!found) break;
      best = reach;
      bulge = *found;
    }
    out.vertices.push_back({p[i].x, p[i].y, best ? bulge : 0});
    i = best ? best : i + 1;
  }
  if (!closed && !p.empty()) out.vertices.push_back({p.back().x, p.back().y, 0});
  return out;
}

void snap_arcs(Contour& offset, const Contour& original, double distance) {
  struct Candidate {
    Point2 centre;
    double radius;
  };
  constexpr double near_mm = 0.05;
  std::vector<Candidate> candidates;
  const std::size_t n = original.vertices.size();
  for (std::size_t i = 0; i < n; ++i) {
    const Vertex &v = original.vertices[i], &w = original.vertices[(i + 1) % n];
    candidates.push_back({{v.x, v.y}, std::abs(distance)});
    if (v.bulge == 0 || (!original.closed && i + 1 == n)) continue;
    const ArcShape arc = arc_of(v, {w.x, w.y});
    for (const double radius : {arc.radius + std::abs(distance), arc.radius - std::abs(distance)})
      if (radius > 0) candidates.push_back({arc.centre, radius});
  }
  const std::size_t m = offset.vertices.size();
  std::vector<const Candidate*> found(m, nullptr);
  for (std::size_t i = 0; i < m; ++i) {
    if (offset.vertices[i].bulge == 0 || (!offset.closed && i + 1 == m)) continue;
    const Vertex& w = offset.vertices[(i + 1) % m];
    const ArcShape arc = arc_of(offset.vertices[i], {w.x, w.y});
    for (const Candidate& c : candidates)
      if (std::hypot(arc.centre.x - c.centre.x, arc.centre.y - c.centre.y) < near_mm &&
          std::abs(arc.radius - c.radius) < near_mm)
        found[i] = &c;
  }
  auto put_on = [](Vertex& v, const Candidate& c) {
    const double r = std::hypot(v.x - c.centre.x, v.y - c.centre.y);
    v.x = c.centre.x + (v.x - c.centre.x) * c.radius / r;
    v.y = c.centre.y + (v.y - c.centre.y) * c.radius / r;
  };
  for (std::size_t i = 0; i < m; ++i) {
    if (!found[i]) continue;
    put_on(offset.vertices[i], *found[i]);
    put_on(offset.vertices[(i + 1) % m], *found[i]);
  }
  for (std::size_t i = 0; i < m; ++i) {
    if (!found[i]) continue;
    Vertex& v = offset.vertices[i];
    const Vertex& w = offset.vertices[(i + 1) % m];
    const Point2 c = found[i]->centre;
    double swept = std::atan2(w.y - c.y, w.x - c.x) - std::atan2(v.y - c.y, v.x - c.x);
    if (v.bulge > 0 && swept < 0) swept += 2 * pi;
    if (v.bulge < 0 && swept > 0) swept -= 2 * pi;
    v.bulge = std::tan(swept / 4);
  }
}

const Contour* longest_line(const Drawing& drawing) {
  const Contour* longest = nullptr;
  double most = -1;
  for (const Contour& contour : drawing.contours) {
    const auto points = flattened(contour, 0.05);
    double length = 0;
    for (std::size_t i = 1; i < points.size(); ++i)
      length += std::hypot(points[i].x - points[i - 1].x, points[i].y - points[i - 1].y);
    if (length <= most) continue;
    most = length;
    longest = &contour;
  }
  return longest;
}

}  // namespace pecorra
