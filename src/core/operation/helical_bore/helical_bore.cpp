// Holes milled on a helix, from the inside out where they are wider than two cutters.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/operation/holes.h"
#include "core/operation/ring.h"

namespace pecorra {
namespace {

using std::numbers::pi;

double bore_mm(const Operation& o, const BoundHole& hole) { return o.diameter_mm.value_or(hole.diameter_mm); }
double bottom_of(const Operation& o, const BoundHole& hole, double top, double depth) {
  return top - depth_at(o, hole, depth) - (hole.through ? o.breakthrough_mm.value_or(0) : 0);
}

class Bore {
 public:
  // `before`: what is drilled there already.
  Bore(PathContext& c, const BoundHole& hole, const DrilledHole* before)
      : c_(c),
        before_(before),
        o_(c.operation),
        at_(hole.at),
        left_(climbs_with_m3(c.operation)),
        bottom_(bottom_of(o_, hole, c.top, c.depth)) {
    wall_ = (bore_mm(o_, hole) - 2 * c.radius) / 2 - o_.leave_wall_mm.value_or(0);
    angle_ = ramp_rad(o_, c.input.rules);
  }

  // Radii of the tip's circles, rising, each a width of cut beyond the last.
  std::vector<double> circles() const {
    const double finish = std::min(o_.finish_pass_mm.value_or(0), std::max(0.0, wall_ - 0.05 * c_.radius)),
                 rough = wall_ - finish,
                 width = std::clamp(o_.taken.ae_mm.value_or(c_.radius), 0.02 * c_.radius, 2 * c_.radius);
    std::vector<double> all;
    // What the first leaves no core of is at most a cutter's radius from the axis.
    const double first = std::min(rough, c_.input.rules.helix_per_d * c_.radius);
    const int more = rough > first + 1e-9 ? levels_of(rough - first, width) : 0;
    for (int i = 0; i <= more; ++i) all.push_back(more == 0 ? rough : first + (rough - first) * i / more);
    if (finish > 0) all.push_back(wall_);
    // What is drilled there already is not cut again.
    if (before_ && before_->bottom_z <= bottom_ + 1e-6)
      while (all.size() > 1 && all.front() + c_.radius <= before_->diameter_mm / 2 + 1e-6) all.erase(all.begin());
    return all;
  }

  void run() {
    Tracer& t = c_.tracer;
    const std::vector<double> radii = circles();
    for (const double r : radii) {
      const bool is_first = r == radii.front();
      if (t.too_long()) return;
      const bool finish = o_.finish_pass_mm && radii.size() > 1 && r == radii.back();
      const PathFeeds before = t.feeds();
      if (finish) take_feeds(c_, o_.taken_finish);
      // In steps at a level: down in the middle, and out to the circle.
      const bool in_steps = o_.entry == EntryKind::plunge || o_.entry == EntryKind::predrilled;
      if (in_steps) steps(r, is_first);
      else helix(r);
      if (finish) t.set_feeds(before);
      if (has_error(c_.messages)) return;
    }
  }

 private:
  // Feeds of the centre, so that the edge has the feed on the machined circle (formula 14).
  void feeds_on(double r) {
    const double share = r / (r + c_.radius);
    PathFeeds f = usual_;
    f.cut *= share;
    // A helix cuts as the bore does, unless a ramp feed is typed.
    f.ramp = o_.own_ramp_mm_min ? *o_.own_ramp_mm_min * share : f.cut;
    f.lead = std::min(f.lead, f.cut);
    c_.tracer.set_feeds(f);
  }

  void circle(double r, double turns_z, int turns, MoveKind kind) {
    c_.tracer.arc(kind, left_, {at_.x + r, at_.y}, turns_z, at_, turns);
  }
  // From the circle to a place between it and the middle, without a mark.
  void leave(double r) {
    Tracer& t = c_.tracer;
    const double half = r / 2;
    t.arc(MoveKind::lead, left_, {at_.x, at_.y}, t.z(), {at_.x + half, at_.y});
  }

  void helix(double r) {
    Tracer& t = c_.tracer;
    usual_ = t.feeds();
    t.move_above({at_.x + r, at_.y});
    const double standing = std::min(c_.top, t.stock().highest(t.at(), c_.radius));
    t.go_down(std::max(bottom_, std::isfinite(standing) ? standing : c_.top));
    feeds_on(r);
    const double drop = t.z() - bottom_;
    // Where the middle is free it may go down by a whole depth of cut at each turn, but no steeper than it can.
    const double steepest = 2 * pi * r * std::tan(angle_), pitch = std::min(c_.depth_step_mm, steepest);
    if (drop > 1e-9 && pitch > 0) {
      const int turns = levels_of(drop, pitch);
      circle(r, bottom_, turns, MoveKind::ramp);
      t.note_ramp(std::atan(drop / turns / (2 * pi * r)) * 180 / pi, 2 * r);
    }
    circle(r, bottom_, 1, MoveKind::cut);
    leave(r);
    t.set_feeds(usual_);
  }

  void steps(double r, bool is_first) {
    Tracer& t = c_.tracer;
    if (is_first && o_.entry == EntryKind::predrilled &&
        (!before_ || before_->diameter_mm < 2 * c_.radius - 1e-6 || before_->bottom_z > bottom_ + 1e-6)) {
      c_.messages.push_back({Severity::error, "no_drilled_hole", "entry", {}});
      return;
    }
    usual_ = t.feeds();
    const int levels = levels_of(c_.top - bottom_, c_.depth_step_mm);
    t.move_above(at_);
    for (int i = 1; i <= levels && !t.too_long(); ++i) {
      const double z = c_.top + (bottom_ - c_.top) * i / levels;
      if (!t.is_clear(at_, z) && !may_plunge(c_)) return;
      t.go_down(z);
      feeds_on(r);
      t.arc(MoveKind::cut, left_, {at_.x + r, at_.y}, z, {at_.x + r / 2, at_.y});
      circle(r, z, 1, MoveKind::cut);
      leave(r);
      t.set_feeds(usual_);
    }
    t.retract();
  }

  PathContext& c_;
  const DrilledHole* before_;
  const Operation& o_;
  Point2 at_;
  bool left_;
  double bottom_, wall_ = 0, angle_ = 0;
  PathFeeds usual_;
};

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  const double d = o.cutter.diameter_mm.value_or(0);
  for (const BoundHole& hole : input.holes) {
    const double bore = bore_mm(o, hole) - 2 * o.leave_wall_mm.value_or(0);
    if (!(bore > 0)) {
      messages.push_back({Severity::error, "no_diameter", "features", {{"feature", hole.key}}});
      return;
    }
    if (d < bore * 0.98) continue;
    messages.push_back({Severity::error, "cutter_over_hole", "cutter", {{"cutter_mm", d}, {"hole_mm", bore}}});
    return;
  }
}

void trace(PathContext& c) {
  const HolesBefore drilled(c.input);
  std::vector<Point2> places;
  for (const BoundHole& hole : c.input.holes) places.push_back(hole.at);
  for (const std::uint32_t i : short_way(places)) {
    const BoundHole& hole = c.input.holes[i];
    Bore(c, hole, drilled.at(hole.at)).run();
    if (c.tracer.too_long() || has_error(c.messages)) return;
  }
}

constexpr std::string_view parameters[] = {"name",
                                           "depth_mm",
                                           "top_mm",
                                           "diameter_mm",
                                           "leave_wall_mm",
                                           "leave_floor_mm",
                                           "entry",
                                           "finish_pass_mm",
                                           "breakthrough_mm",
                                           "climb",
                                           "permitted_deflection_mm",
                                           "pace",
                                           "source",
                                           "own_coolant",
                                           "tool_number",
                                           "comment",
                                           "stop",
                                           "stickout_mm"};
constexpr Role roles[] = {Role::hole};

double smallest_mm(const Operation& o, const OperationInput& input) {
  double least = 0;
  for (const BoundHole& hole : input.holes)
    if (const double d = bore_mm(o, hole) - 2 * o.leave_wall_mm.value_or(0); least == 0 || d < least) least = d;
  return least;
}

void misfits(const Operation& o, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  const double bore = smallest_mm(o, input);
  // The chips need room, and the helix a path that is not all ramp.
  if (bore > 0 && *cutter.diameter_mm > 0.9 * bore + 1e-6)
    messages.push_back({Severity::error,
                        "cutter_over_hole",
                        "diameter_mm",
                        {{"cutter_mm", *cutter.diameter_mm}, {"hole_mm", 0.9 * bore}}});
}

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  const double bore = smallest_mm(o, input);
  if (!(bore > 0)) return std::nullopt;
  return WantedCutter{CutterKind::end_mill, std::floor(bore * 0.65), {}, depth_of(o, input).value_or(0)};
}

}  // namespace

namespace kinds {
const OperationDeclaration helical_bore{
    .kind = PathKind::helical_bore,
    .about = "mills holes on a helix",
    .manners = set_of(OperationKind::helix),
    .usual = OperationKind::helix,
    .parameters = parameters,
    .roles = roles,
    .stage = 4,
    .circular = true,
    .leaves = [](const Operation&) { return hole_made; },
    .margin_mm =
        [](const Operation& o, const OperationInput& input) {
          double widest = o.diameter_mm.value_or(0);
          for (const BoundHole& hole : input.holes) widest = std::max(widest, hole.diameter_mm);
          return widest / 2;
        },
    .propose = holes_to_depth,
    .beyond_depth_mm =
        [](const Operation& o, const OperationInput& input) {
          return !input.holes.empty() && input.holes.front().through ? o.breakthrough_mm.value_or(0) : 0;
        },
    .hole_bottom = [](const Operation& o, const BoundHole& hole, double top,
                      double depth) { return std::optional(bottom_of(o, hole, top, depth)); },
    .hole_mm = [](const Operation& o,
                  const BoundHole& hole) { return bore_mm(o, hole) - 2 * o.leave_wall_mm.value_or(0); },
    .wanted = wanted,
    .misfits = misfits,
    .check = check,
    .trace = trace};
}  // namespace kinds

}  // namespace pecorra
