// Along a line at the cutter's full width; wider slots are finished on both walls.
#include <algorithm>
#include <cmath>

#include "core/operation/ring.h"

namespace pecorra {
namespace {

constexpr double arc_tolerance_mm = 0.001, flat_tolerance_mm = 0.0005;

struct SlotShape {
  Contour middle;
  double width_mm = 0;  // of the outline; 0: not stated by it
};

// The middle and the width of an outline of two parallel lines and two half circles; else the line itself.
SlotShape shape_of(const Contour& line) {
  if (!line.closed || line.vertices.size() != 4) return {line, 0};
  for (const std::size_t first : {std::size_t{0}, std::size_t{1}}) {
    const auto half_circle = [&](std::size_t i) { return std::abs(std::abs(line.vertices[i].bulge) - 1) < 1e-4; };
    if (!half_circle(first) || !half_circle(first + 2) || line.vertices[1 - first].bulge != 0) continue;
    const ArcShape a = arc_of(line.vertices[first], line.end_of(first)),
                   b = arc_of(line.vertices[first + 2], line.end_of(first + 2));
    if (std::abs(a.radius - b.radius) > 1e-3) continue;
    return {{false, {{a.centre.x, a.centre.y, 0}, {b.centre.x, b.centre.y, 0}}}, 2 * a.radius};
  }
  return {line, 0};
}

double width_of(const Operation& o, const SlotShape& shape) {
  if (o.width_mm) return *o.width_mm;
  return shape.width_mm > 0 ? shape.width_mm : o.cutter.diameter_mm.value_or(0);
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  if (input.lines.empty()) messages.push_back({Severity::error, "no_contour", "features", {}});
  for (const BoundLine& line : input.lines) {
    const double width = width_of(o, shape_of(line.contour));
    if (o.cutter.diameter_mm && width < *o.cutter.diameter_mm * (1 - 1e-9))
      messages.push_back({Severity::error,
                          "cutter_over_slot",
                          "cutter",
                          {{"cutter_mm", *o.cutter.diameter_mm}, {"width_mm", width}, {"contour", line.key}}});
  }
}

class Slot {
 public:
  explicit Slot(PathContext& c) : c_(c), climb_(climbs_with_m3(c.operation)) {}

  void run(const Contour& line) {
    const Operation& o = c_.operation;
    const SlotShape shape = shape_of(line);
    const double beside = width_of(o, shape) / 2 - c_.radius - o.leave_wall_mm.value_or(0);
    if (beside < -1e-9)
      return c_.messages.push_back({Severity::error,
                                    "cutter_over_slot",
                                    "cutter",
                                    {{"cutter_mm", 2 * (c_.radius + o.leave_wall_mm.value_or(0))},
                                     {"width_mm", width_of(o, shape)},
                                     {"contour", std::string()}}});
    const double depth = c_.depth - o.leave_floor_mm.value_or(0);
    const int levels = levels_of(depth, c_.depth_step_mm);
    const double width = std::clamp(o.taken.ae_mm.value_or(c_.radius), 0.01, c_.radius);
    const int passes = beside > 1e-6 ? static_cast<int>(std::ceil(beside / width - 1e-9)) : 0;
    RingCutter middle(
        c_, [](Point2) { return false; }, climb_);
    for (int level = 0; level < levels; ++level) {
      const double z = c_.top - depth * (level + 1) / levels;
      if (shape.middle.closed) middle.cut_closed(shape.middle, z);
      else middle.cut_open(shape.middle, z);
      for (int pass = 1; pass <= passes && !has_error(c_.messages); ++pass)
        widen(shape.middle, beside * pass / passes, z);
      if (has_error(c_.messages) || c_.tracer.too_long()) return;
    }
  }

 private:
  // Where the tip may be while the slot is so much wider than the cutter, on either side.
  static Region room(const Contour& middle, double beside) {
    Ring line = flattened(middle, flat_tolerance_mm);
    if (!middle.closed) return Region::strip(line, beside);
    const Region inside = Region::inside({line});
    return inside.offset(beside).without(inside.offset(-beside));
  }

  void widen(const Contour& middle, double beside, double z) {
    const Region area = room(middle, beside);
    const Region keep = area.offset(0.002);
    RingCutter cutter(
        c_, [&](Point2 p) { return keep.contains(p); }, climb_);
    for (Ring& ring : area.rings()) {
      if (!climb_) std::reverse(ring.begin(), ring.end());
      cutter.cut_closed(with_arcs(ring, true, arc_tolerance_mm), z);
    }
  }

  PathContext& c_;
  bool climb_;
};

constexpr std::string_view parameters[] = {"name",
                                           "operation",
                                           "depth_mm",
                                           "top_mm",
                                           "width_mm",
                                           "leave_wall_mm",
                                           "leave_floor_mm",
                                           "breakthrough_mm",
                                           "entry",
                                           "climb",
                                           "permitted_deflection_mm",
                                           "pace",
                                           "source",
                                           "own_coolant",
                                           "tool_number",
                                           "comment",
                                           "stop",
                                           "stickout_mm"};
constexpr Role roles[] = {Role::any_line};

std::vector<std::string> propose(const Offer& offer, Operation& o) {
  for (const Feature* f : offer.features)
    if (f->kind == FeatureKind::slot) {
      if (!f->depth_mm && !f->through) o.depth_mm = 5;
      return {f->key};
    }
  o.depth_mm = 5;
  return first_opening(offer);
}

void misfits(const Operation& o, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  for (const BoundLine& line : input.lines) {
    const double shaped = shape_of(line.contour).width_mm, width = o.width_mm.value_or(shaped);
    if (width > 0 && *cutter.diameter_mm > width * (1 + 1e-9))
      messages.push_back({Severity::error,
                          "cutter_over_slot",
                          "diameter_mm",
                          {{"cutter_mm", *cutter.diameter_mm}, {"width_mm", width}, {"contour", line.key}}});
  }
}

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  double narrowest = o.width_mm.value_or(0);
  if (!o.width_mm)
    for (const BoundLine& line : input.lines)
      if (const double width = shape_of(line.contour).width_mm; width > 0)
        narrowest = narrowest == 0 ? width : std::min(narrowest, width);
  if (!(narrowest > 0)) return std::nullopt;
  return WantedCutter{CutterKind::end_mill, narrowest, {}, depth_of(o, input).value_or(0)};
}

}  // namespace

namespace kinds {
const OperationDeclaration slot{.kind = PathKind::slot,
                                .about = "along a line at full width",
                                .manners = set_of(OperationKind::slot),
                                .usual = OperationKind::slot,
                                .parameters = parameters,
                                .roles = roles,
                                .needs = needed_by_mill,
                                .leaves = left_by_mill,
                                .margin_mm =
                                    [](const Operation& o, const OperationInput&) {
                                      const double d = o.cutter.diameter_mm.value_or(0);
                                      return std::max(d, o.width_mm.value_or(d)) / 2 + d;
                                    },
                                .propose = propose,
                                .wanted = wanted,
                                .misfits = misfits,
                                .check = check,
                                .trace =
                                    [](PathContext& c) {
                                      for (const BoundLine& line : c.input.lines) {
                                        PathContext one = c;
                                        one.depth = depth_of_feature(c.operation, c.input, line, c.depth);
                                        Slot(one).run(line.contour);
                                        if (has_error(c.messages) || c.tracer.too_long()) return;
                                      }
                                    }};
}  // namespace kinds

}  // namespace pecorra
