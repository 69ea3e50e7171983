// An outline cleared to a depth, with islands left standing: rings at the width of cut, from inside out.
#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "core/operation/ring.h"

namespace pecorra {
namespace {

constexpr double arc_tolerance_mm = 0.001, flat_tolerance_mm = 0.0005;
constexpr std::size_t most_rings = 20000;
constexpr double least_helix = 0.3;  // radius of its path, by the cutter's

Ring flat(const Contour& line) { return flattened(line, flat_tolerance_mm); }
Point2 begin_of(const Contour& c) { return {c.vertices.front().x, c.vertices.front().y}; }
double distance(Point2 a, Point2 b) { return std::hypot(a.x - b.x, a.y - b.y); }

// How far a point is from the edge of a region.
double room_at(const std::vector<Ring>& edges, Point2 p) {
  double least = std::numeric_limits<double>::infinity();
  for (const Ring& ring : edges) least = std::min(least, distance_to_ring(p, ring));
  return least;
}

// The ring begun where it comes nearest to a point.
Contour begun_near(const Contour& ring, Point2 p) {
  double best = 1e300, fraction = 0;
  std::size_t at = 0;
  for (std::size_t i = 0; i < ring.segments(); ++i) {
    const Vertex& v = ring.vertices[i];
    const Point2 to = ring.end_of(i);
    const double dx = to.x - v.x, dy = to.y - v.y, square = dx * dx + dy * dy;
    // The foot of the perpendicular on a line, the nearest of some places on an arc.
    if (v.bulge == 0) {
      const double f = square > 0 ? std::clamp(((p.x - v.x) * dx + (p.y - v.y) * dy) / square, 0.0, 1.0) : 0;
      if (const double d = distance(p, point_on(ring, i, f)); d < best) best = d, at = i, fraction = f;
      continue;
    }
    for (int k = 0; k <= 16; ++k)
      if (const double d = distance(p, point_on(ring, i, k / 16.0)); d < best) best = d, at = i, fraction = k / 16.0;
  }
  return started_at(ring, at, fraction);
}

Region area_of(const BoundPocket& pocket) {
  Region area = Region::inside({flat(pocket.outline)});
  for (const BoundLine& island : pocket.islands) area = area.without(Region::inside({flat(island.contour)}));
  return area;
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  if (input.pockets.empty()) messages.push_back({Severity::error, "no_pocket", "features", {}});
  for (const BoundPocket& pocket : input.pockets) {
    if (!pocket.outline.closed) {
      messages.push_back({Severity::error, "contour_open", "features", {{"contour", pocket.key}}});
      continue;
    }
    const auto outline = Region::simple(flat(pocket.outline));
    if (!outline) {
      messages.push_back({Severity::error, "contour_crosses_itself", "features", {{"contour", pocket.key}}});
      continue;
    }
    for (const BoundLine& island : pocket.islands) {
      const auto inner = island.contour.closed ? Region::simple(flat(island.contour)) : std::nullopt;
      if (!inner)
        messages.push_back({Severity::error,
                            island.contour.closed ? "contour_crosses_itself" : "contour_open",
                            "features",
                            {{"contour", island.key}}});
      else if (inner->without(*outline).area() > 1e-3)
        messages.push_back({Severity::warning, "island_outside", "features", {{"contour", island.key}}});
      else
        for (const BoundLine& other : pocket.islands)
          if (&other < &island && other.contour.closed &&
              inner->common(Region::inside({flat(other.contour)})).area() > 1e-3)
            messages.push_back(
                {Severity::warning, "islands_overlap", "features", {{"contour", island.key}, {"other", other.key}}});
    }
  }
  if (o.entry == EntryKind::predrilled && input.drilled.empty())
    messages.push_back({Severity::error, "no_drilled_hole", "entry", {}});
}

class Pocket {
 public:
  Pocket(PathContext& c, const BoundPocket& pocket)
      : c_(c), climb_(climbs_with_m3(c.operation)), area_(area_of(pocket)), key_(pocket.key) {}

  void run() {
    const Operation& o = c_.operation;
    const double wall = o.leave_wall_mm.value_or(0), finish = o.finish_pass_mm.value_or(0);
    whole_ = area_.offset(-(c_.radius + wall + finish));
    if (whole_.empty())
      return c_.messages.push_back(
          {Severity::error, "path_empty", "cutter", {{"diameter_mm", 2 * c_.radius}, {"contour", key_}}});
    say_rest(wall);
    edges_ = whole_.rings();
    const double depth = c_.depth - o.leave_floor_mm.value_or(0), floor = o.finish_floor_mm.value_or(0);
    const bool only_floor = o.operation == OperationKind::floor_finish;
    if (o.operation == OperationKind::side_finish) return finish_walls(wall, finish, depth);
    if (!clear(c_.top, depth - floor, only_floor ? depth : c_.depth_step_mm, o.taken.ae_mm)) return;
    const PathFeeds rough = c_.tracer.feeds();
    if (floor > 0) {
      take_feeds(c_, o.taken_floor);
      const bool apart = o.taken_floor.vf_mm_min && !o.has_own_speed();
      if (!clear(c_.top - depth + floor, floor, apart ? o.taken_floor.ap_mm.value_or(floor) : floor,
                 apart ? o.taken_floor.ae_mm : o.taken.ae_mm))
        return;
    }
    if (finish <= 0) return;
    c_.tracer.set_feeds(rough);
    take_feeds(c_, o.taken_finish);
    wall_levels(wall, depth, finishing_step(o, depth));
  }

 private:
  struct Turn {
    Contour ring;
    bool opening = false;  // the innermost, in solid material
    bool wall = false;     // the outermost
  };

  // The walls alone, in what another operation cleared.
  void finish_walls(double wall, double finish, double depth) {
    if (finish > 0) wall_levels(wall + finish, depth, c_.depth_step_mm);
    if (!has_error(c_.messages)) wall_levels(wall, depth, c_.depth_step_mm);
  }

  void wall_levels(double left, double depth, double depth_step) {
    const int steps = levels_of(depth, depth_step);
    for (int level = 0; level < steps; ++level)
      for (const Contour& contour : contours_of(area_.offset(-(c_.radius + left)))) {
        wall_ring(contour, c_.top - depth * (level + 1) / steps, c_.input.rules.overlap_mm);
        if (has_error(c_.messages) || c_.tracer.too_long()) return;
      }
  }

  // All levels from `top` down, in rings at this width; false where it cannot go on.
  bool clear(double top, double depth, double depth_step, const std::optional<double>& width) {
    const double step = std::clamp(width.value_or(c_.radius), 0.01, 2 * c_.radius);
    if (order_.empty() || step != step_) {
      step_ = step;
      order_.clear();
      for (const Region& piece : whole_.pieces()) lay_out(piece, true);
    }
    if (too_many_) {
      c_.messages.push_back({Severity::error,
                             "too_many_passes",
                             "taken",
                             {{"whole_mm", std::sqrt(std::abs(area_.area()))}, {"each_mm", step_}}});
      return false;
    }
    const int levels = levels_of(depth, depth_step);
    for (int level = 0; level < levels; ++level) {
      const double z = top - depth * (level + 1) / levels;
      for (const Turn& turn : order_) {
        if (turn.opening) {
          // A slot, no deeper at once than a slot is cut.
          const int steps = levels_of(depth / levels, opening_step(depth / levels));
          for (int step = 1; step < steps; ++step) {
            open(turn.ring, z + depth / levels * (steps - step) / steps);
            ring(turn.ring, z + depth / levels * (steps - step) / steps, true);
            c_.tracer.retract();
          }
          open(turn.ring, z);
        }
        if (turn.wall) wall_ring(turn.ring, z);
        else ring(turn.ring, z, turn.opening);
        if (has_error(c_.messages) || c_.tracer.too_long()) return false;
      }
      c_.tracer.retract();
    }
    return true;
  }

  double opening_step(double step) const {
    const Operation& o = c_.operation;
    return o.is_own() || o.own_ap_mm ? step : o.taken_slot.ap_mm.value_or(step);
  }

  std::vector<Contour> contours_of(const Region& region) const {
    std::vector<Contour> out;
    for (Ring& ring : region.rings()) {
      // The area is on the left and the wall on the right: climb milling with M3.
      if (!climb_) std::reverse(ring.begin(), ring.end());
      out.push_back(with_arcs(ring, true, arc_tolerance_mm));
    }
    return out;
  }

  // The next ring inward. Where a wide step would leave a core between the rings, one of a radius.
  Region inner_of(const Region& region) const {
    Region inner = region.offset(-step_);
    if (step_ <= c_.radius) return inner;
    const Region missed = region.offset(-c_.radius * 0.999).without(inner.offset(c_.radius));
    return missed.area() < 1e-4 * c_.radius * c_.radius ? inner : region.offset(-0.98 * c_.radius);
  }

  // Inside out: what is innermost is cut first. Where a region falls into pieces, each is cleared before what encloses
  // them.
  void lay_out(const Region& start, bool outermost) {
    std::vector<Region> chain{start};
    std::vector<Region> inner;
    while (true) {
      inner = inner_of(chain.back()).pieces();
      if (inner.size() != 1 || order_.size() + chain.size() > most_rings || c_.tracer.is_stopped()) break;
      chain.push_back(std::move(inner.front()));
    }
    too_many_ = too_many_ || order_.size() + chain.size() > most_rings;
    if (too_many_) return;
    // What is no wider than the cutter, beside something that is or larger, is cut from there when that is open.
    const auto largest = std::max_element(inner.begin(), inner.end(),
                                          [](const Region& a, const Region& b) { return a.area() < b.area(); });
    std::vector<const Region*> slivers;
    for (const Region& piece : inner)
      if (&piece != &*largest && is_sliver(piece)) slivers.push_back(&piece);
      else lay_out(piece, false);
    for (std::size_t i = chain.size(); i-- > 0;) {
      bool opening = inner.empty() && i + 1 == chain.size();
      // The outer ring first, then around the islands.
      for (Contour& contour : contours_of(chain[i])) {
        order_.push_back({std::move(contour), opening, outermost && i == 0});
        opening = false;
      }
      if (i + 1 < chain.size()) continue;
      for (const Region* piece : slivers) {
        const std::size_t first = order_.size();
        lay_out(*piece, false);
        for (std::size_t k = first; k < order_.size(); ++k) order_[k].opening = false;
        // From the open side inwards.
        std::reverse(order_.begin() + static_cast<std::ptrdiff_t>(first), order_.end());
      }
    }
  }

  // Of where the tip may be.
  bool is_sliver(const Region& piece) const { return piece.offset(-c_.radius).empty(); }

  // Down into solid material beside the innermost ring, at the conditions of a slot.
  void open(const Contour& ring, double z) {
    const Operation& o = c_.operation;
    const EntryKind entry = o.entry;
    if (entry == EntryKind::automatic || entry == EntryKind::predrilled) {
      for (const DrilledHole& hole : c_.input.drilled)
        if (whole_.contains(hole.at) && c_.tracer.is_clear(hole.at, z) &&
            whole_.contains_way(hole.at, begin_of(begun_near(ring, hole.at)))) {
          c_.tracer.move_above(hole.at);
          c_.tracer.go_down(z);
          return;
        }
      // A pocket that falls into several parts may have a hole in one of them.
      const bool any = std::any_of(c_.input.drilled.begin(), c_.input.drilled.end(), [&](const DrilledHole& hole) {
        return whole_.contains(hole.at) && c_.tracer.is_clear(hole.at, z);
      });
      if (entry == EntryKind::predrilled && !any) {
        c_.messages.push_back({Severity::error, "no_drilled_hole", "entry", {}});
        return;
      }
    }
    if (entry == EntryKind::plunge) {
      const Point2 p = begin_of(ring);
      if (!c_.tracer.is_clear(p, z) && !may_plunge(c_)) return;
      c_.tracer.move_above(p);
      c_.tracer.go_down(z);
      return;
    }
    if (entry == EntryKind::ramp) return;  // along the ring
    Point2 best = begin_of(ring);
    double room = 0;
    Point2 middle{};
    const std::size_t n = ring.vertices.size();
    for (const Vertex& v : ring.vertices)
      middle = {middle.x + v.x / static_cast<double>(n), middle.y + v.y / static_cast<double>(n)};
    std::vector<Point2> places{middle};
    for (std::size_t i = 0; i < n; i += std::max<std::size_t>(1, n / 32))
      places.push_back({ring.vertices[i].x, ring.vertices[i].y});
    for (const Point2& p : places) {
      if (!whole_.contains(p)) continue;
      if (const double here = room_at(edges_, p); here > room * 1.01) room = here, best = p;
    }
    const double radius = std::min(c_.input.rules.helix_per_d * c_.radius, room);
    if (radius < least_helix * c_.radius) {
      if (entry == EntryKind::helix)
        c_.messages.push_back({Severity::warning, "no_room_for_helix", "entry", {{"diameter_mm", 2 * c_.radius}}});
      return;
    }
    c_.tracer.move_above({best.x + radius, best.y});
    c_.tracer.go_down(std::max(z, std::min(c_.top, c_.tracer.stock().highest(c_.tracer.at(), c_.radius))));
    c_.tracer.helix(best, radius, z, ramp_rad(o, c_.input.rules));
  }

  bool way_is_clear(Point2 to, double spare) const {
    const Point2 from = c_.tracer.at();
    const double length = distance(from, to) - spare;
    for (double gone = 0; gone < length; gone += c_.radius / 2) {
      const double t = gone / (length + spare);
      if (!c_.tracer.is_cut({from.x + (to.x - from.x) * t, from.y + (to.y - from.y) * t}, c_.tracer.z())) return false;
    }
    return true;
  }

  void ring(const Contour& contour, double z, bool opening) {
    Tracer& t = c_.tracer;
    const bool down = t.z() <= z + 1e-9;
    Contour begun = begun_near(contour, t.at());
    const Point2 start = begin_of(begun);
    if (down && whole_.contains_way(t.at(), start) &&
        (opening || way_is_clear(start, step_ * 1.2 + t.stock().cell()))) {
      t.line(MoveKind::link, start, z);
      return t.follow(MoveKind::cut, begun);
    }
    // Down where a ring beside it has cleared, and from there into this one.
    const Point2 heading = heading_at(begun, 0);
    const double side = climb_ ? 1 : -1;
    for (const double away : {step_, -step_}) {
      const Point2 beside{start.x - heading.y * side * away, start.y + heading.x * side * away};
      if (opening || !t.is_cut(beside, z) || !whole_.contains(beside)) continue;
      t.move_above(beside);
      t.go_down(z);
      t.line(MoveKind::link, start, z);
      return t.follow(MoveKind::cut, begun);
    }
    t.move_above(start);
    t.go_down(std::max(z, std::min(c_.top, t.stock().highest(start, c_.radius))));
    t.follow(MoveKind::cut, t.ramp_along(begun, z, ramp_rad(c_.operation, c_.input.rules)));
  }

  void wall_ring(const Contour& contour, double z, double overlap_mm = 0) {
    if (keep_.empty()) keep_ = area_.offset(-(c_.radius + c_.operation.leave_wall_mm.value_or(0) - 0.002));
    RingCutter(
        c_, [&](Point2 p) { return keep_.contains(p); }, climb_)
        .cut_closed(contour, z, nullptr, overlap_mm);
  }

  // What the cutter's radius leaves in corners.
  void say_rest(double wall) {
    const Region wanted = wall > 0 ? area_.offset(-wall) : area_;
    const bool same = c_.operation.finish_pass_mm.value_or(0) <= 0;
    const Region reached = (same ? whole_ : whole_of(wall)).offset(c_.radius + 0.01);
    std::size_t corners = 0;
    for (const Region& rest : wanted.without(reached).pieces()) corners += rest.area() > 1e-3 * c_.radius * c_.radius;
    if (corners > 0)
      c_.messages.push_back({Severity::note,
                             "rest_corners",
                             "cutter",
                             {{"corners", static_cast<double>(corners)}, {"radius_mm", c_.radius + wall}}});
  }
  Region whole_of(double wall) const { return area_.offset(-(c_.radius + wall)); }

  PathContext& c_;
  bool climb_;
  Region area_, whole_, keep_;  // to be cleared; where the tip may be, and where leads may lead it
  std::string key_;
  double step_ = 1;
  std::vector<Turn> order_;
  std::vector<Ring> edges_;
  bool too_many_ = false;
};

constexpr std::string_view parameters[] = {
    "name",           "operation",      "depth_mm",        "top_mm",      "leave_wall_mm", "breakthrough_mm",
    "leave_floor_mm", "finish_pass_mm", "finish_floor_mm", "entry",       "climb",         "permitted_deflection_mm",
    "pace",           "source",         "own_coolant",     "tool_number", "comment",       "stop",
    "stickout_mm"};
constexpr Role roles[] = {Role::pocket, Role::closed_line};

std::vector<std::string> propose(const Offer& offer, Operation& o) {
  for (const Feature* f : offer.features)
    if (f->kind == FeatureKind::pocket || f->kind == FeatureKind::rectangle) {
      if (!f->depth_mm && !f->through) o.depth_mm = 5;
      return {f->key};
    }
  o.depth_mm = 5;
  return first_opening(offer);
}

Outlines must_go_in(const Operation&, const OperationInput& input) {
  Outlines outlines;
  for (const BoundPocket& pocket : input.pockets) outlines.push_back({pocket.key, &pocket.outline, &pocket.islands});
  return outlines;
}

}  // namespace

namespace kinds {
const OperationDeclaration pocket{.kind = PathKind::pocket,
                                  .about = "clears an outline to a depth, around islands",
                                  .manners = set_of(OperationKind::pocket_rough, OperationKind::side_rough,
                                                    OperationKind::floor_finish, OperationKind::side_finish),
                                  .usual = OperationKind::pocket_rough,
                                  .parameters = parameters,
                                  .roles = roles,
                                  .full_width = FullWidth::slotted,
                                  .needs = needed_by_mill,
                                  .leaves = left_by_mill,
                                  .margin_mm = [](const Operation&, const OperationInput&) { return 0.0; },
                                  .propose = propose,
                                  .must_go_in = must_go_in,
                                  .wanted = wanted_inside,
                                  .check = check,
                                  .trace =
                                      [](PathContext& c) {
                                        const PathFeeds rough = c.tracer.feeds();
                                        for (const BoundPocket& shape : c.input.pockets) {
                                          PathContext one = c;
                                          one.depth = depth_of_feature(c.operation, c.input, shape, c.depth);
                                          c.tracer.set_feeds(rough);
                                          Pocket(one, shape).run();
                                          if (has_error(c.messages) || c.tracer.too_long()) return;
                                        }
                                      }};
}  // namespace kinds

}  // namespace pecorra
