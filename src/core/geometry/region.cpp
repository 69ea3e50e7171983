#include "core/geometry/region.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace pecorra {
namespace {

using namespace ClipperLib;
constexpr double per_mm = 1e5;  // 10 nm

IntPoint point_of(Point2 p) { return {std::llround(p.x * per_mm), std::llround(p.y * per_mm)}; }

Path path_of(const Ring& ring) {
  Path path;
  path.reserve(ring.size());
  for (const Point2& p : ring) path.push_back(point_of(p));
  return path;
}

Paths solved(Clipper& clipper, ClipType type) {
  Paths out;
  clipper.Execute(type, out, pftNonZero, pftNonZero);
  return out;
}

// Whether segments a-b and c-d meet.
bool cross(const IntPoint& a, const IntPoint& b, const IntPoint& c, const IntPoint& d) {
  const auto side = [](const IntPoint& p, const IntPoint& q, const IntPoint& r) {
    const double turn = static_cast<double>(q.X - p.X) * static_cast<double>(r.Y - p.Y) -
                        static_cast<double>(q.Y - p.Y) * static_cast<double>(r.X - p.X);
    return (turn > 0) - (turn < 0);
  };
  if (std::max(a.X, b.X) < std::min(c.X, d.X) || std::max(c.X, d.X) < std::min(a.X, b.X)) return false;
  if (std::max(a.Y, b.Y) < std::min(c.Y, d.Y) || std::max(c.Y, d.Y) < std::min(a.Y, b.Y)) return false;
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

}  // namespace

double distance_to_segment(Point2 p, Point2 a, Point2 b) {
  const double dx = b.x - a.x, dy = b.y - a.y, square = dx * dx + dy * dy;
  const double s = square > 0 ? std::clamp(((p.x - a.x) * dx + (p.y - a.y) * dy) / square, 0.0, 1.0) : 0;
  return std::hypot(p.x - a.x - s * dx, p.y - a.y - s * dy);
}

double distance_to_ring(Point2 p, const Ring& ring) {
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < ring.size(); ++i)
    least = std::min(least, distance_to_segment(p, ring[i], ring[(i + 1) % ring.size()]));
  return least;
}

bool encloses(const Ring& ring, Point2 p) {
  bool in = false;
  for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++)
    if ((ring[i].y > p.y) != (ring[k].y > p.y) &&
        p.x < (ring[k].x - ring[i].x) * (p.y - ring[i].y) / (ring[k].y - ring[i].y) + ring[i].x)
      in = !in;
  return in;
}

Region Region::inside(const std::vector<Ring>& rings) {
  Clipper clipper;
  for (const Ring& ring : rings) {
    Path path = path_of(ring);
    if (!Orientation(path)) ReversePath(path);
    clipper.AddPath(path, ptSubject, true);
  }
  return Region(solved(clipper, ctUnion));
}

std::optional<Region> Region::simple(const Ring& ring) {
  Path path = path_of(ring);
  if (!Orientation(path)) ReversePath(path);
  Paths pieces;
  SimplifyPolygon(path, pieces, pftEvenOdd);
  if (pieces.size() != 1) return std::nullopt;
  const double whole = std::abs(Area(path)), kept = std::abs(Area(pieces[0]));
  // A lobe that is gone is more than a rounded corner.
  if (std::abs(whole - kept) > 1e-6 * whole + 4e4) return std::nullopt;
  if (!Orientation(pieces[0])) ReversePath(pieces[0]);
  return Region(std::move(pieces));
}

Region Region::strip(const Ring& line, double half_width) {
  ClipperOffset offset(2.0, chord_tolerance_mm * per_mm);
  offset.AddPath(path_of(line), jtRound, etOpenRound);
  Paths out;
  offset.Execute(out, half_width * per_mm);
  return Region(std::move(out));
}

Region Region::box(const Box& b) {
  return inside({{{b.low_x, b.low_y}, {b.high_x, b.low_y}, {b.high_x, b.high_y}, {b.low_x, b.high_y}}});
}

double Region::area() const {
  double sum = 0;
  for (const Path& path : paths_) sum += Area(path);
  return sum / per_mm / per_mm;
}

std::vector<Ring> Region::rings() const {
  std::vector<Ring> out;
  out.reserve(paths_.size());
  for (const Path& path : paths_) {
    Ring& ring = out.emplace_back();
    ring.reserve(path.size());
    for (const IntPoint& p : path)
      ring.push_back({static_cast<double>(p.X) / per_mm, static_cast<double>(p.Y) / per_mm});
  }
  return out;
}

std::vector<Region> Region::pieces() const {
  if (paths_.empty()) return {};
  if (paths_.size() == 1) return {*this};
  Clipper clipper;
  clipper.AddPaths(paths_, ptSubject, true);
  PolyTree tree;
  clipper.Execute(ctUnion, tree, pftNonZero, pftNonZero);
  std::vector<Region> out;
  const auto collect = [&](const auto& self, const PolyNode& node) -> void {
    for (const PolyNode* outer : node.Childs) {
      Region piece;
      piece.paths_.push_back(outer->Contour);
      for (const PolyNode* hole : outer->Childs) {
        piece.paths_.push_back(hole->Contour);
        self(self, *hole);
      }
      out.push_back(std::move(piece));
    }
  };
  collect(collect, tree);
  return out;
}

Region Region::offset(double distance) const {
  if (paths_.empty()) return {};
  ClipperOffset offset(2.0, chord_tolerance_mm * per_mm);
  offset.AddPaths(paths_, jtRound, etClosedPolygon);
  Paths out;
  offset.Execute(out, distance * per_mm);
  return Region(std::move(out)).cleaned();
}

Region Region::cleaned() const {
  Region out = *this;
  out.bands_.reset();
  // 0.1 µm: far below any tolerance, and enough to keep a row of offsets from growing.
  CleanPolygons(out.paths_, 10);
  std::erase_if(out.paths_, [](const Path& path) { return path.size() < 3 || std::abs(Area(path)) < 1e4; });
  return out;
}

Region Region::combined(const Region& other, ClipType type) const {
  Clipper clipper;
  clipper.AddPaths(paths_, ptSubject, true);
  clipper.AddPaths(other.paths_, ptClip, true);
  return Region(solved(clipper, type));
}
Region Region::without(const Region& other) const { return combined(other, ctDifference); }
Region Region::with(const Region& other) const { return combined(other, ctUnion); }
Region Region::common(const Region& other) const { return combined(other, ctIntersection); }

struct Region::Bands {
  using Edge = std::pair<IntPoint, IntPoint>;
  double low = 0, height = 1;
  std::vector<std::vector<Edge>> edges;  // of each band
  const std::vector<Edge>& in(double y) const {
    static const std::vector<Edge> none;
    const double band = (y - low) / height;
    if (!(band >= 0) || band >= static_cast<double>(edges.size())) return none;
    return edges[static_cast<std::size_t>(band)];
  }
};

const Region::Bands& Region::bands() const {
  if (bands_) return *bands_;
  auto made = std::make_shared<Bands>();
  std::size_t count = 0;
  cInt low = std::numeric_limits<cInt>::max(), high = std::numeric_limits<cInt>::min();
  for (const Path& path : paths_)
    for (const IntPoint& p : path) {
      low = std::min(low, p.Y);
      high = std::max(high, p.Y);
      ++count;
    }
  made->edges.resize(std::max<std::size_t>(1, count / 8));
  made->low = static_cast<double>(low);
  made->height = (static_cast<double>(high - low) + 1) / static_cast<double>(made->edges.size());
  const auto band_of = [&](cInt y) {
    return static_cast<std::size_t>((static_cast<double>(y) - made->low) / made->height);
  };
  for (const Path& path : paths_)
    for (std::size_t i = 0; i < path.size(); ++i) {
      const IntPoint &a = path[i], &b = path[(i + 1) % path.size()];
      const std::size_t last = std::min(made->edges.size() - 1, band_of(std::max(a.Y, b.Y)));
      for (std::size_t k = band_of(std::min(a.Y, b.Y)); k <= last; ++k) made->edges[k].emplace_back(a, b);
    }
  bands_ = std::move(made);
  return *bands_;
}

bool Region::contains(Point2 p) const {
  const IntPoint at = point_of(p);
  std::size_t vertices = 0;
  for (const Path& path : paths_) vertices += path.size();
  constexpr std::size_t large = 400;
  if (vertices > large) {
    // Outer rings and holes run against each other: how often the boundary goes round the point.
    int winding = 0;
    for (const auto& [a, b] : bands().in(static_cast<double>(at.Y))) {
      const double side = static_cast<double>(b.X - a.X) * static_cast<double>(at.Y - a.Y) -
                          static_cast<double>(at.X - a.X) * static_cast<double>(b.Y - a.Y);
      const bool beside = at.Y >= std::min(a.Y, b.Y) && at.Y <= std::max(a.Y, b.Y) && at.X >= std::min(a.X, b.X) &&
                          at.X <= std::max(a.X, b.X);
      if (side == 0 && beside) return true;  // on the edge
      if (a.Y <= at.Y && b.Y > at.Y && side > 0) ++winding;
      if (a.Y > at.Y && b.Y <= at.Y && side < 0) --winding;
    }
    return winding > 0;
  }
  int inside = 0;
  for (const Path& path : paths_) {
    const int where = PointInPolygon(at, path);
    if (where == -1) return true;  // on the edge
    inside += where == 1 ? (Orientation(path) ? 1 : -1) : 0;
  }
  return inside > 0;
}

bool Region::contains_way(Point2 a, Point2 b) const {
  const IntPoint from = point_of(a), to = point_of(b);
  for (const Path& path : paths_)
    for (std::size_t i = 0; i < path.size(); ++i)
      if (cross(from, to, path[i], path[(i + 1) % path.size()])) return false;
  return contains({(a.x + b.x) / 2, (a.y + b.y) / 2});
}

}  // namespace pecorra
