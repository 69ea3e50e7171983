#include "core/toolpath/toolpath.h"

#include "core/toolpath/stock_field.h"

#include <algorithm>
#include <cmath>
#include <exception>
#include <numbers>

#include "core/cutter/kinds/drills.h"

namespace pecorra {
namespace {

using std::numbers::pi;
constexpr double arc_tolerance_mm = 0.003;
constexpr std::size_t most_moves = 3'000'000;  // of an operation
constexpr double feed_height_mm = 1;           // rapids end this far above what is cut
// Where the cutter states no greatest ramp: safe for any end mill that cuts to the centre, and for one that does not.
// Common practice, no source.
constexpr double usual_ramp_deg = 3, usual_ramp_not_to_centre_deg = 1;

double arc_length(double x0, double y0, const Move& m) {
  const double r = std::hypot(x0 - m.centre_x, y0 - m.centre_y);
  double swept = std::atan2(m.y - m.centre_y, m.x - m.centre_x) - std::atan2(y0 - m.centre_y, x0 - m.centre_x);
  if (m.shape == MoveShape::counter_clockwise && swept <= 1e-9) swept += 2 * pi;
  if (m.shape == MoveShape::clockwise && swept >= -1e-9) swept -= 2 * pi;
  return r * std::abs(swept);
}

// Appends moves.
class Pen {
 public:
  Pen(Toolpath& path, const TakenConditions& taken) : path_(path), taken_(taken) {}

  void rapid(double x, double y, double z) { line(MoveKind::rapid, x, y, z, 0); }
  void line(MoveKind kind, double x, double y, double z, double feed) {
    if (!path_.moves.empty() && x == x_ && y == y_ && z == z_) return;
    path_.moves.push_back({kind, MoveShape::line, x, y, z, 0, 0, feed});
    set(x, y, z);
  }
  void arc(MoveKind kind, bool counter_clockwise, double x, double y, double z, Point2 centre, double feed) {
    path_.moves.push_back({kind, counter_clockwise ? MoveShape::counter_clockwise : MoveShape::clockwise, x, y, z,
                           centre.x, centre.y, feed});
    set(x, y, z);
  }
  void segment(MoveKind kind, const Vertex& from, Point2 to, double z, double feed) {
    if (from.bulge == 0) line(kind, to.x, to.y, z, feed);
    else arc(kind, from.bulge > 0, to.x, to.y, z, arc_of(from, to).centre, feed);
  }
  double vf() const { return *taken_.vf_mm_min; }
  double plunge() const { return taken_.plunge_mm_min.value_or(vf() * 0.4); }
  double ramp() const { return taken_.ramp_mm_min.value_or(vf() * 0.5); }
  double lead() const { return taken_.lead_mm_min.value_or(vf()); }

 private:
  void set(double x, double y, double z) { x_ = x, y_ = y, z_ = z; }
  Toolpath& path_;
  const TakenConditions& taken_;
  double x_ = 0, y_ = 0, z_ = 0;
};

// Turns a ring so that it starts in the middle of the edge that `score` likes best, the longest of equals.
template <class Score>
std::vector<Point2> from_best_edge(std::vector<Point2> ring, Score score) {
  std::size_t best = 0;
  double best_score = -1e300, length = -1;
  for (std::size_t i = 0; i < ring.size(); ++i) {
    const Point2 &a = ring[i], &b = ring[(i + 1) % ring.size()];
    const double l = std::hypot(b.x - a.x, b.y - a.y);
    if (l < 1e-9) continue;
    const double s = score(Point2{(a.x + b.x) / 2, (a.y + b.y) / 2}, Point2{(b.x - a.x) / l, (b.y - a.y) / l});
    if (s < best_score - 1e-6 || (s < best_score + 1e-6 && l <= length)) continue;
    best_score = s;
    length = l;
    best = i;
  }
  const Point2 a = ring[best], b = ring[(best + 1) % ring.size()];
  std::rotate(ring.begin(), ring.begin() + static_cast<std::ptrdiff_t>((best + 1) % ring.size()), ring.end());
  ring.insert(ring.begin(), {(a.x + b.x) / 2, (a.y + b.y) / 2});
  return ring;
}

// How far a point lies outside the block of stock, which is laid around the middle of the drawing; negative inside.
double outside_stock(const Job& job, Point2 p) {
  const Box b = stock_box(job);
  const double dx = std::max(b.low_x - p.x, p.x - b.high_x), dy = std::max(b.low_y - p.y, p.y - b.high_y);
  return dx > 0 && dy > 0 ? std::hypot(dx, dy) : std::max(dx, dy);
}

Point2 end_of(const Contour& contour, std::size_t i) {
  const Vertex& v = contour.vertices[(i + 1) % contour.vertices.size()];
  return {v.x, v.y};
}
std::size_t segment_count(const Contour& contour) {
  return contour.closed ? contour.vertices.size() : contour.vertices.size() - 1;
}

// An offset ring, from where it starts, as lines and exact arcs.
Contour contour_of(const std::vector<Point2>& ring, const Contour& original, double distance_mm) {
  Contour contour = with_arcs(ring, true, arc_tolerance_mm);
  snap_arcs(contour, original, distance_mm);
  return contour;
}

class ProfilePath {
 public:
  ProfilePath(const Job& job, const Operation& o, Toolpath& path)
      : job_(job),
        o_(o),
        path_(path),
        pen_(path, o.taken),
        radius_(*o.cutter.diameter_mm / 2),
        climb_(climbs_with_m3(o)) {
    const double usual = cuts_to_centre(o.cutter) ? usual_ramp_deg : usual_ramp_not_to_centre_deg;
    ramp_rad_ = std::min(usual, o.cutter.max_ramp_deg.value_or(usual)) * pi / 180;
  }

  std::vector<Message> run() {
    const double ap = o_.taken.ap_mm.value_or(*o_.cutter.diameter_mm);
    const int levels = std::max(1, static_cast<int>(std::ceil(*o_.depth_mm / ap - 1e-9)));
    for (const int index : o_.contours) {
      const Contour contour = *line_at(job_.drawing, index);
      const bool empty = o_.where == ProfileWhere::around   ? !around(contour, levels)
                         : o_.where == ProfileWhere::within ? !within(contour, levels)
                                                            : !along(contour, levels);
      if (plunges_into_solid_) return {{Severity::error, "plunges_into_solid", "cutter", {{"name", o_.cutter.name}}}};
      if (path_.moves.size() > most_moves)
        return {{Severity::error, "path_too_long", "contours", {{"moves", static_cast<double>(most_moves)}}}};
      if (empty)
        return {{Severity::error,
                 "path_empty",
                 "cutter",
                 {{"diameter_mm", *o_.cutter.diameter_mm}, {"contour", static_cast<double>(index + 1)}}}};
    }
    return {};
  }

 private:
  double level_z(int level, int levels) const { return -*o_.depth_mm * (level + 1) / levels; }

  // Passes from outside in, each with a tangential arc in and out.
  bool around(const Contour& contour, int levels) {
    const double width = std::max(0.01, std::min(o_.taken.ae_mm.value_or(radius_), 2 * radius_));
    const double stock = o_.side_stock_mm.value_or(width);
    const int passes = std::max(1, static_cast<int>(std::ceil(stock / width - 1e-9)));
    std::vector<Point2> outline = flattened(contour, 0.0005);
    if (signed_area(outline) < 0) std::reverse(outline.begin(), outline.end());
    for (int level = 0; level < levels && path_.moves.size() <= most_moves; ++level) {
      const double z = level_z(level, levels);
      const double above = (level == 0 ? 0 : level_z(level - 1, levels)) + feed_height_mm;
      for (int pass = passes - 1; pass >= 0; --pass) {
        const double distance = radius_ + o_.leave_mm.value_or(0) + stock / passes * pass;
        auto rings = offset_rings({outline}, distance);
        if (rings.empty()) return false;
        for (auto& ring : rings) {
          if (signed_area(ring) < 0) continue;  // a hole of the offset: nothing to cut from outside
          // Clockwise keeps the part on the right: climb milling with M3.
          if (climb_) std::reverse(ring.begin(), ring.end());
          // The cutter goes down where it is clear of the stock, if there is such a place.
          ring = from_best_edge(std::move(ring), [&](Point2 middle, Point2 t) {
            return std::min(radius_, outside_stock(job_, lead_in(middle, t)));
          });
          loop_with_lead(contour_of(ring, contour, distance), z, above);
        }
      }
    }
    return true;
  }

  double lead_radius() const { return std::max(0.5, radius_ * 0.5); }
  Point2 lead_centre(Point2 start, Point2 t) const {
    const double side = climb_ ? 1 : -1;  // away from the part: left when climbing
    return {start.x - t.y * side * lead_radius(), start.y + t.x * side * lead_radius()};
  }
  // Where the cutter goes down before it swings in.
  Point2 lead_in(Point2 start, Point2 t) const {
    const Point2 centre = lead_centre(start, t);
    return {centre.x - t.x * lead_radius(), centre.y - t.y * lead_radius()};
  }

  void loop_with_lead(const Contour& ring, double z, double above) {
    const Vertex start = ring.vertices[0];
    const Point2 next = end_of(ring, 0);
    const double direction =
        std::atan2(next.y - start.y, next.x - start.x) - 2 * std::atan(start.bulge);  // of the tangent
    const Point2 t{std::cos(direction), std::sin(direction)};
    const double r = lead_radius();
    const Point2 centre = lead_centre({start.x, start.y}, t);
    const double in_x = centre.x - t.x * r, in_y = centre.y - t.y * r;
    pen_.rapid(in_x, in_y, path_.safe_z);
    pen_.rapid(in_x, in_y, above);
    pen_.line(MoveKind::plunge, in_x, in_y, z, pen_.plunge());
    if (!cuts_to_centre(o_.cutter) && outside_stock(job_, {in_x, in_y}) < radius_) plunges_into_solid_ = true;
    pen_.arc(MoveKind::lead, climb_, start.x, start.y, z, centre, pen_.lead());
    for (std::size_t i = 0; i < segment_count(ring); ++i)
      pen_.segment(MoveKind::cut, ring.vertices[i], end_of(ring, i), z, pen_.vf());
    pen_.arc(MoveKind::lead, climb_, centre.x + t.x * r, centre.y + t.y * r, z, centre, pen_.lead());
    pen_.line(MoveKind::retract, centre.x + t.x * r, centre.y + t.y * r, path_.safe_z, 0);
  }

  bool within(const Contour& contour, int levels) {
    std::vector<Point2> outline = flattened(contour, 0.0005);
    if (signed_area(outline) < 0) std::reverse(outline.begin(), outline.end());
    const double distance = radius_ + o_.leave_mm.value_or(0);
    auto rings = offset_rings({outline}, -distance);
    if (rings.empty()) return false;
    for (auto& ring : rings) {
      // Counter-clockwise inside keeps the wall on the right: climb milling with M3.
      if (!climb_) std::reverse(ring.begin(), ring.end());
      descend(contour_of(from_best_edge(std::move(ring), [](Point2, Point2) { return 0.0; }), contour, distance),
              levels);
    }
    return true;
  }

  bool along(const Contour& contour, int levels) {
    if (contour.vertices.size() < 2) return false;
    descend(contour, levels);
    return true;
  }

  // Ramps down along the line, then cuts it level, for each level.
  void descend(const Contour& line, int levels) {
    std::vector<Point2> points = flattened(line, arc_tolerance_mm);
    if (line.closed) points.push_back(points.front());
    double whole = 0;
    for (std::size_t i = 1; i < points.size(); ++i)
      whole += std::hypot(points[i].x - points[i - 1].x, points[i].y - points[i - 1].y);
    pen_.rapid(points[0].x, points[0].y, path_.safe_z);
    pen_.rapid(points[0].x, points[0].y, feed_height_mm);
    pen_.line(MoveKind::plunge, points[0].x, points[0].y, 0, pen_.plunge());
    double z = 0;
    bool forward = true;
    for (int level = 0; level < levels && path_.moves.size() <= most_moves; ++level) {
      const double target = level_z(level, levels);
      // Down along the line, as often to and fro (or round) as the ramp angle needs.
      while (z > target + 1e-9 && path_.moves.size() <= most_moves) {
        const double drop = std::min(z - target, whole * std::tan(ramp_rad_));
        const double start_z = z;
        double gone = 0;
        const double ramp_length = drop / std::tan(ramp_rad_);
        const std::size_t n = points.size();
        for (std::size_t i = 1; i < n; ++i) {
          const Point2 a = points[forward ? i - 1 : n - i], b = points[forward ? i : n - 1 - i];
          gone += std::hypot(b.x - a.x, b.y - a.y);
          z = std::max(target, start_z - drop * std::min(1.0, gone / ramp_length));
          pen_.line(MoveKind::ramp, b.x, b.y, z, pen_.ramp());
        }
        if (!line.closed) forward = !forward;
      }
      z = target;
      // Level, all the way: what the ramp left standing.
      if (line.closed || forward) {
        for (std::size_t i = 0; i < segment_count(line); ++i)
          pen_.segment(MoveKind::cut, line.vertices[i], end_of(line, i), z, pen_.vf());
      } else {
        for (std::size_t i = segment_count(line); i-- > 0;) {
          Vertex from{line.vertices[i + 1].x, line.vertices[i + 1].y, -line.vertices[i].bulge};
          pen_.segment(MoveKind::cut, from, {line.vertices[i].x, line.vertices[i].y}, z, pen_.vf());
        }
      }
      if (!line.closed) forward = !forward;
    }
    const Move& last = path_.moves.back();
    pen_.line(MoveKind::retract, last.x, last.y, path_.safe_z, 0);
  }

  const Job& job_;
  const Operation& o_;
  Toolpath& path_;
  Pen pen_;
  double radius_;
  bool climb_;  // as a cutter that turns with M3
  double ramp_rad_ = 0;
  bool plunges_into_solid_ = false;
};

void drilling_path(const Job& job, const Operation& o, Toolpath& path) {
  DrillCycle cycle;
  cycle.holes = ordered_holes(job.drawing, *o.hole_diameter_mm);
  cycle.retract_z = feed_height_mm * 2;
  cycle.bottom_z = -*o.depth_mm - o.breakthrough_mm.value_or(0);
  if (o.depth_to == DepthTo::full_diameter) cycle.bottom_z -= point_height_mm(o.cutter).value_or(0);
  cycle.peck_mm = o.peck_mm.value_or(0);
  cycle.feed_mm_min = *o.taken.vf_mm_min;
  Pen pen(path, o.taken);
  for (const Point2& hole : cycle.holes) {
    pen.rapid(hole.x, hole.y, path.safe_z);
    pen.rapid(hole.x, hole.y, cycle.retract_z);
    double z = cycle.retract_z, reached = 0;
    while (z > cycle.bottom_z + 1e-9) {
      const double next = cycle.peck_mm > 0 ? std::max(cycle.bottom_z, reached - cycle.peck_mm) : cycle.bottom_z;
      pen.line(MoveKind::cycle, hole.x, hole.y, next, cycle.feed_mm_min);
      z = reached = next;
      if (z > cycle.bottom_z + 1e-9) {
        pen.rapid(hole.x, hole.y, cycle.retract_z);
        pen.rapid(hole.x, hole.y, z + feed_height_mm);
      }
    }
    pen.line(MoveKind::retract, hole.x, hole.y, path.safe_z, 0);
  }
  path.cycles.push_back(std::move(cycle));
}

}  // namespace

std::vector<Point2> ordered_holes(const Drawing& drawing, double diameter) {
  std::vector<Point2> left, ordered;
  for (const Circle& c : drawing.circles)
    if (std::abs(c.diameter_mm - diameter) < 1e-4) left.push_back({c.x, c.y});
  Point2 at{0, 0};
  while (!left.empty()) {
    const auto nearest = std::min_element(left.begin(), left.end(), [&](const Point2& a, const Point2& b) {
      return std::hypot(a.x - at.x, a.y - at.y) < std::hypot(b.x - at.x, b.y - at.y);
    });
    at = *nearest;
    ordered.push_back(at);
    left.erase(nearest);
  }
  return ordered;
}

tl::expected<Toolpath, std::vector<Message>> make_toolpath(const Job& job, const Operation& o) {
  std::vector<Message> faults = check_operation(job, o);
  if (has_error(faults)) return tl::unexpected(std::move(faults));
  Toolpath path;
  path.safe_z = job.clearance_mm.value_or(10);
  try {
    if (o.path == PathKind::drilling) drilling_path(job, o, path);
    else faults = ProfilePath(job, o, path).run();
  } catch (const std::exception&) {  // of the polygon library, where places are too far apart for it
    faults.push_back({Severity::error, "path_fails", "contours", {}});
  }
  if (has_error(faults)) return tl::unexpected(std::move(faults));
  return path;
}

PathFigures figures_of(const Toolpath& path, const Rapids& rapids) {
  PathFigures figures;
  for (std::size_t i = 1; i < path.moves.size(); ++i) {
    const Move &a = path.moves[i - 1], &m = path.moves[i];
    const double flat = m.shape == MoveShape::line ? std::hypot(m.x - a.x, m.y - a.y) : arc_length(a.x, a.y, m);
    const double length = std::hypot(flat, m.z - a.z);
    if (m.feed_mm_min > 0) figures.cut_mm += length;
    if (m.feed_mm_min > 0) figures.minutes += length / m.feed_mm_min;
    else if (rapids.plane_mm_min > 0)
      figures.minutes += std::max(flat / rapids.plane_mm_min,
                                  std::abs(m.z - a.z) / (rapids.z_mm_min > 0 ? rapids.z_mm_min : rapids.plane_mm_min));
  }
  return figures;
}

}  // namespace pecorra
