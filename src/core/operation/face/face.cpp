// The top of the stock, or of an outline's box, in rows or as a spiral from outside in.
#include <algorithm>
#include <cmath>

#include "core/base/whole.h"
#include "core/operation/ring.h"

namespace pecorra {
namespace {

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  if (!(input.stock.width() > 0) || !(input.stock.depth() > 0))
    messages.push_back({Severity::error, "no_stock", "features", {}});
  if (o.taken.ae_mm && *o.taken.ae_mm > 0 &&
      std::max(input.stock.width(), input.stock.depth()) / *o.taken.ae_mm > 10000)
    messages.push_back(
        {Severity::error,
         "too_many_passes",
         "taken",
         {{"whole_mm", std::max(input.stock.width(), input.stock.depth())}, {"each_mm", *o.taken.ae_mm}}});
}

class Face {
 public:
  Face(PathContext& c, const Box& box) : c_(c), climb_(climbs_with_m3(c.operation)), box_(box) {
    along_x_ = box_.width() >= box_.depth();
    length_ = along_x_ ? box_.width() : box_.depth();
    across_ = along_x_ ? box_.depth() : box_.width();
    // Only what is flat of the cutter leaves a floor; a wider step of a spiral would leave its corners standing.
    const double corner = std::min(c.operation.cutter.corner_radius_mm.value_or(0), 0.9 * c.radius);
    const bool spiral = c.operation.pattern == FacePattern::spiral;
    const double widest = std::min(2 * (c.radius - corner), spiral ? widest_spiral_per_r * c.radius : 2 * c.radius);
    const double width = std::min(std::max(c.operation.taken.ae_mm.value_or(c.radius), 0.01), std::max(widest, 1e-3));
    rows_ = whole_within(std::ceil(across_ / width - 1e-9), 1, 1 << 30);
    step_ = across_ / rows_;
  }

  void run() {
    const double depth = c_.depth - c_.operation.leave_floor_mm.value_or(0);
    const int levels = levels_of(depth, c_.depth_step_mm);
    c_.tracer.distances().overrun_mm = c_.input.rules.overrun_mm;
    for (int level = 0; level < levels && !c_.tracer.too_long() && !has_error(c_.messages); ++level) {
      const double z = c_.top - depth * (level + 1) / levels;
      if (c_.operation.pattern == FacePattern::spiral) spiral(z);
      else rows(z);
    }
  }

 private:
  static constexpr double widest_spiral_per_r = 1.7;  // up to √2 + 2 / 2 a ring's corner is reached by the next

  // From lengths along and across the rows; across runs so that `along` turned left by 90° is `across`.
  Point2 place(double along, double across) const {
    return along_x_ ? Point2{box_.low_x + along, box_.low_y + across}
                    : Point2{box_.high_x - across, box_.low_y + along};
  }
  double overrun() const { return c_.radius + c_.input.rules.overrun_mm; }
  // Past the edge where nothing stands, else as far as the outline goes.
  double end_beyond(bool at_start, double across, double z) const {
    const Point2 p = place(at_start ? -overrun() : length_ + overrun(), across);
    return c_.tracer.is_clear(p, z) ? overrun() : 0;
  }

  // Down at the first end, from outside or on a slope along the row. False: it is the other end where the tip is now.
  bool enter(Point2 from, Point2 to, double z) {
    Tracer& t = c_.tracer;
    t.move_above(from);
    if (t.is_clear(from, z)) {
      t.go_down(z);
      return true;
    }
    t.go_down(std::max(z, std::min(c_.top, t.stock().highest(from, c_.radius))));
    const Contour line =
        t.ramp_along({false, {{from.x, from.y, 0}, {to.x, to.y, 0}}}, z, ramp_rad(c_.operation, c_.input.rules));
    return std::hypot(line.vertices.front().x - from.x, line.vertices.front().y - from.y) < 1e-6;
  }

  void rows(double z) {
    Tracer& t = c_.tracer;
    // Rows go up from the lower edge; what is left lies on the left of one that runs forward. Climbing with M3 has the
    // material on the right.
    bool forward = !climb_;
    for (int row = 0; row < rows_ && !t.too_long(); ++row) {
      const double across = -c_.radius + step_ * (row + 1);
      const double low = -end_beyond(true, across, z), high = length_ + end_beyond(false, across, z);
      const Point2 from = place(forward ? low : high, across), to = place(forward ? high : low, across);
      if (row > 0 && c_.operation.pattern == FacePattern::to_and_fro) {
        t.line(MoveKind::link, from, z);
      } else if (!enter(from, to, z)) {
        t.line(MoveKind::cut, from, z);
        if (c_.operation.pattern == FacePattern::to_and_fro) continue;  // at its first end again, forward stays
        t.retract();
        continue;
      }
      t.line(MoveKind::cut, to, z);
      if (c_.operation.pattern == FacePattern::to_and_fro) forward = !forward;
      else t.retract();
    }
    t.retract();
  }

  void spiral(double z) {
    Tracer& t = c_.tracer;
    const double first = c_.radius - step_;
    const auto corner = [&](double out, int k) {  // counter-clockwise from the lower left
      const double low_a = -out, high_a = length_ + out, low_b = -out, high_b = across_ + out;
      switch (k % 4) {
        case 0: return place(low_a, low_b);
        case 1: return place(high_a, low_b);
        case 2: return place(high_a, high_b);
        default: return place(low_a, high_b);
      }
    };
    // Climbing with M3 keeps the material on the right: clockwise.
    const int turn = climb_ ? 3 : 1;
    bool begun = false;
    for (double out = first; across_ + 2 * (out + step_ - c_.radius) > 1e-9 && !t.too_long(); out -= step_) {
      const double inner = across_ + 2 * out;
      if (inner <= 1e-6) {  // only a line is left
        const double b = across_ / 2;
        const Point2 from = place(std::min(-out, length_ / 2), b), to = place(std::max(length_ + out, length_ / 2), b);
        if (begun) {
          t.line(MoveKind::link, from, z);
          t.line(MoveKind::cut, to, z);
          break;
        }
        const Point2 outside = place(-end_beyond(true, b, z), b);
        t.line(MoveKind::cut, enter(outside, to, z) ? to : outside, z);
        break;
      }
      const Point2 start = corner(out, 0), next = corner(out, turn);
      bool at_start = true;
      if (!begun) {
        const double length = std::hypot(next.x - start.x, next.y - start.y);
        const double before = std::max(0.0, overrun() - out);
        const Point2 outside{start.x - (next.x - start.x) / length * before,
                             start.y - (next.y - start.y) / length * before};
        if (t.is_clear(outside, z)) {
          t.move_above(outside);
          t.go_down(z);
          t.line(MoveKind::lead, start, z);
        } else {
          at_start = enter(start, next, z);
        }
        begun = true;
      } else {
        t.line(MoveKind::link, start, z);
      }
      if (!at_start) t.line(MoveKind::cut, start, z);
      for (int k = 1; k <= 4; ++k) t.line(MoveKind::cut, corner(out, k * turn), z);
    }
    t.retract();
  }

  PathContext& c_;
  bool climb_;
  Box box_;
  bool along_x_ = true;
  double length_ = 0, across_ = 0, step_ = 0;
  int rows_ = 1;
};

// The whole stock, or each outline by itself.
void trace(PathContext& c) {
  if (c.input.lines.empty()) return Face(c, c.input.stock).run();
  for (const BoundLine& line : c.input.lines) {
    PathContext one = c;
    one.depth = depth_of_feature(c.operation, c.input, line, c.depth);
    Face(one, bounds(line.contour)).run();
    if (has_error(c.messages) || c.tracer.too_long()) return;
  }
}

constexpr std::string_view parameters[] = {"name",           "operation", "pattern", "depth_mm",   "top_mm",
                                           "leave_floor_mm", "climb",     "pace",    "source",     "own_coolant",
                                           "tool_number",    "comment",   "stop",    "stickout_mm"};
constexpr Role roles[] = {Role::whole_stock, Role::closed_line};

std::vector<std::string> propose(const Offer& offer, Operation& o) {
  for (const Feature* f : offer.features)
    if (f->kind == FeatureKind::face) return {f->key};
  o.depth_mm = 1;
  return {};
}

// A third wider than the narrow side, as far as such heads go on small spindles.
std::optional<WantedCutter> wanted(const Operation&, const OperationInput& input, const std::vector<Room>&) {
  const double narrow = std::min(input.stock.width(), input.stock.depth());
  if (!(narrow > 0)) return std::nullopt;
  return WantedCutter{CutterKind::face_mill, std::clamp(1.3 * narrow, 16.0, 63.0), {}, 0};
}

}  // namespace

namespace kinds {
const OperationDeclaration face{.kind = PathKind::face,
                                .about = "the top of the stock",
                                .manners = set_of(OperationKind::face, OperationKind::floor_finish),
                                .usual = OperationKind::face,
                                .parameters = parameters,
                                .roles = roles,
                                .stage = 0,
                                .full_width = FullWidth::slotted,
                                .needs = [](const Operation&) { return WorkStates{0}; },
                                .leaves = [](const Operation&) { return faced; },
                                .meets_skin = [](const Operation&) { return true; },
                                .margin_mm =
                                    [](const Operation& o, const OperationInput& input) {
                                      return 3 * o.cutter.diameter_mm.value_or(0) + input.rules.overrun_mm;
                                    },
                                .propose = propose,
                                .wanted = wanted,
                                .check = check,
                                .trace = trace};
}  // namespace kinds

}  // namespace pecorra
