#include "core/geometry/contour.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <limits>
#include <numbers>
#include <optional>

#include "core/base/whole.h"

namespace pecorra {
namespace {

using std::numbers::pi;

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
  // Distances are compared by their squares.
  const auto off = [&](double x, double y, double by) {
    const double square = (x - arc->centre.x) * (x - arc->centre.x) + (y - arc->centre.y) * (y - arc->centre.y);
    const double least = std::max(0.0, arc->radius - by), most = arc->radius + by;
    return square < least * least || square > most * most;
  };
  for (std::size_t i = first; i < last; ++i) {
    if (off(p[i].x, p[i].y, tolerance)) return std::nullopt;
    if (i > first && cross(p[i - 1], p[i], p[i + 1]) * way <= 0) return std::nullopt;
    // The chord between must not leave the arc either: that tells a corner from an arc.
    if (off((p[i].x + p[i + 1].x) / 2, (p[i].y + p[i + 1].y) / 2, 2 * tolerance)) return std::nullopt;
  }
  const double ax = p[first].x - arc->centre.x, ay = p[first].y - arc->centre.y, bx = p[last].x - arc->centre.x,
               by = p[last].y - arc->centre.y;
  double swept = std::atan2(ax * by - ay * bx, ax * bx + ay * by);
  if (way > 0 && swept < 0) swept += 2 * pi;
  if (way < 0 && swept > 0) swept -= 2 * pi;
  if (std::abs(swept) > pi * 0.999 || swept * way <= 0) return std::nullopt;
  return std::tan(swept / 4);
}

}  // namespace

double Box::outside(Point2 p) const {
  const double dx = std::max(low_x - p.x, p.x - high_x), dy = std::max(low_y - p.y, p.y - high_y);
  return dx > 0 && dy > 0 ? std::hypot(dx, dy) : std::max(dx, dy);
}

bool Box::meets(const Box& o) const {
  return low_x <= o.high_x && o.low_x <= high_x && low_y <= o.high_y && o.low_y <= high_y;
}

ArcShape arc_of(const Vertex& from, Point2 to) {
  const double dx = to.x - from.x, dy = to.y - from.y;
  const double side = (1 - from.bulge * from.bulge) / (4 * from.bulge);
  const Point2 centre{(from.x + to.x) / 2 - dy * side, (from.y + to.y) / 2 + dx * side};
  return {centre, std::hypot(from.x - centre.x, from.y - centre.y)};
}

Contour circle_contour(Point2 centre, double diameter_mm) {
  const double r = diameter_mm / 2;
  return {true, {{centre.x + r, centre.y, 1}, {centre.x - r, centre.y, 1}}};
}

Contour straightened(Contour contour) {
  constexpr double least_mm = 1e-5;
  for (std::size_t i = 0; i < contour.vertices.size(); ++i) {
    Vertex& v = contour.vertices[i];
    if (v.bulge == 0) continue;
    const Point2 to = contour.end_of(i);
    if (std::abs(v.bulge) * std::hypot(to.x - v.x, to.y - v.y) / 2 < least_mm && std::abs(v.bulge) < 0.01) v.bulge = 0;
  }
  return contour;
}

Contour reversed(const Contour& contour) {
  Contour out{contour.closed, {}};
  const std::size_t n = contour.vertices.size();
  for (std::size_t i = n; i-- > 0;) {
    const Vertex& v = contour.vertices[i];
    // The segment that led here now leaves here.
    const bool leads = i > 0 || contour.closed;
    out.vertices.push_back({v.x, v.y, leads ? -contour.vertices[(i + n - 1) % n].bulge : 0});
  }
  return out;
}

double length_of(const Contour& contour) {
  double length = 0;
  for (std::size_t i = 0; i < contour.segments(); ++i) {
    const Vertex& v = contour.vertices[i];
    const Point2 to = contour.end_of(i);
    const double chord = std::hypot(to.x - v.x, to.y - v.y), angle = 4 * std::atan(std::abs(v.bulge));
    length += angle < 1e-9 ? chord : chord / 2 / std::sin(std::min(angle / 2, pi - 1e-12)) * angle;
  }
  return length;
}

Box bounds(const Contour& contour) {
  constexpr double far = std::numeric_limits<double>::infinity();
  Box box{far, far, -far, -far};
  for (const Point2& p : flattened(contour, 0.01))
    box = {std::min(box.low_x, p.x), std::min(box.low_y, p.y), std::max(box.high_x, p.x), std::max(box.high_y, p.y)};
  return box.low_x > box.high_x ? Box{} : box;
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

Contour with_arcs(const std::vector<Point2>& points, bool closed, double tolerance) {
  Contour out;
  out.closed = closed;
  std::vector<Point2> p = points;
  if (closed && !p.empty()) p.push_back(p.front());
  std::size_t i = 0;
  while (i + 1 < p.size()) {
    // The longest arc from here: twice as far as long as it is one, then in halves back to where it ends.
    std::size_t best = 0;
    double bulge = 0;
    const auto reaches = [&](std::size_t to) {
      const auto found = bulge_over(p, i, to, tolerance);
      if (found) best = to, bulge = *found;
      return found.has_value();
    };
    std::size_t ahead = 3, failed = p.size();
    while (i + ahead < p.size()) {
      if (!reaches(i + ahead)) {
        failed = i + ahead;
        break;
      }
      ahead *= 2;
    }
    while (best != 0 && failed - best > 1) {
      const std::size_t middle = best + (failed - best) / 2;
      if (!reaches(middle)) failed = middle;
    }
    out.vertices.push_back({p[i].x, p[i].y, best ? bulge : 0});
    i = best ? best : i + 1;
  }
  if (!closed && !p.empty()) out.vertices.push_back({p.back().x, p.back().y, 0});
  return out;
}

std::string print_of(const Contour& contour) {
  std::uint64_t print = 0xcbf29ce484222325u;  // FNV-1a
  const auto add = [&](std::int64_t value) {
    for (int i = 0; i < 8; ++i)
      print = (print ^ (static_cast<std::uint64_t>(value) >> (8 * i) & 0xff)) * 0x100000001b3u;
  };
  add(contour.closed);
  constexpr double most = 1e14;
  for (const Vertex& v : contour.vertices)
    for (const double value : {v.x * 1e4, v.y * 1e4, v.bulge * 1e6})
      add(std::isfinite(value) ? std::llround(std::clamp(value, -most, most)) : 0);
  return fmt::format("{:016x}", print);
}

}  // namespace pecorra
