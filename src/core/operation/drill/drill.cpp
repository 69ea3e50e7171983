// Holes by a drill: in one go, pecking, or breaking the chip.
#include <fmt/format.h>
#include <algorithm>
#include <cmath>

#include "core/cutter/kinds/drills.h"
#include "core/operation/declaration.h"

namespace pecorra {
namespace {

constexpr double size_tolerance_mm = 0.06;

double bottom_of(const Operation& o, const BoundHole& hole, double top, double depth) {
  double bottom = top - o.depth_mm.value_or(hole.depth_mm.value_or(depth)) - o.breakthrough_mm.value_or(0);
  if (o.depth_to == DepthTo::full_diameter || hole.through) bottom -= point_height_mm(o.cutter).value_or(0);
  return bottom;
}

bool pecks(const Operation& o) { return o.cycle != CycleKind::straight || o.peck_mm.has_value(); }
double peck_of(const Operation& o) { return o.peck_mm.value_or(o.cutter.diameter_mm.value_or(1)); }

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  if (input.holes.empty()) messages.push_back({Severity::error, "no_holes", "features", {}});
  bool over = false, under = false;
  for (const BoundHole& hole : input.holes) {
    const double cutter = o.cutter.diameter_mm.value_or(hole.diameter_mm);
    if (!over && hole.diameter_mm > 0 && cutter > hole.diameter_mm + 1e-6) {
      over = true;
      messages.push_back(
          {Severity::error, "cutter_over_hole", "cutter", {{"cutter_mm", cutter}, {"hole_mm", hole.diameter_mm}}});
    } else if (!under && hole.thread.empty() && cutter < hole.diameter_mm - 0.5) {
      under = true;
      messages.push_back(
          {Severity::warning, "cutter_under_hole", "cutter", {{"cutter_mm", cutter}, {"hole_mm", hole.diameter_mm}}});
    }
  }
  const auto depth = depth_of(o, input);
  if (pecks(o) && depth && *depth / peck_of(o) > 10000)
    messages.push_back(
        {Severity::error, "too_many_passes", "peck_mm", {{"whole_mm", *depth}, {"each_mm", peck_of(o)}}});
}

// The nearest next.
std::vector<const BoundHole*> in_order(const std::vector<BoundHole>& holes) {
  std::vector<const BoundHole*> left, order;
  for (const BoundHole& hole : holes) left.push_back(&hole);
  Point2 at{0, 0};
  while (!left.empty()) {
    const auto nearest = std::min_element(left.begin(), left.end(), [&](const BoundHole* a, const BoundHole* b) {
      return std::hypot(a->at.x - at.x, a->at.y - at.y) < std::hypot(b->at.x - at.x, b->at.y - at.y);
    });
    at = (*nearest)->at;
    order.push_back(*nearest);
    left.erase(nearest);
  }
  return order;
}

void trace(PathContext& c) {
  const Operation& o = c.operation;
  for (const BoundHole* hole : in_order(c.input.holes)) {
    CycleCall cycle;
    cycle.kind = pecks(o) && o.cycle == CycleKind::straight ? CycleKind::peck : o.cycle;
    const double standing = c.tracer.stock().empty() ? c.top : c.tracer.stock().highest(hole->at, c.radius);
    cycle.retract_z = std::min(c.input.safe_z, std::max(c.top, standing) + 2 * c.input.rules.feed_height_mm);
    cycle.bottom_z = bottom_of(o, *hole, c.top, c.depth);
    cycle.peck_mm = pecks(o) ? peck_of(o) : 0;
    cycle.dwell_s = o.dwell_s.value_or(0);
    cycle.feed_mm_min = c.tracer.feeds().cut;
    c.tracer.move_above(hole->at);
    c.tracer.drill(cycle);
    if (c.tracer.too_long()) return;
  }
}

constexpr std::string_view parameters[] = {
    "name",    "operation", "depth_mm", "top_mm", "depth_to",    "breakthrough_mm", "cycle",
    "peck_mm", "dwell_s",   "pace",     "source", "own_coolant", "tool_number",     "stickout_mm"};
constexpr Role roles[] = {Role::hole};

std::vector<std::string> propose(const Offer& offer, Operation& o) {
  o.depth_to = DepthTo::full_diameter;
  o.breakthrough_mm = 1;
  for (const Feature* f : offer.features)
    if (f->kind == FeatureKind::holes) {
      if (!f->depth_mm && !f->through && offer.stock_height_mm > 0) o.depth_mm = offer.stock_height_mm;
      if (f->depth_mm && !f->through) o.breakthrough_mm.reset();
      return {f->key};
    }
  if (offer.stock_height_mm > 0) o.depth_mm = offer.stock_height_mm;
  // The most frequent diameter.
  std::vector<std::string> most;
  for (const OfferedLine& line : offer.lines) {
    if (line.diameter_mm <= 0) continue;
    std::vector<std::string> alike;
    for (const OfferedLine& other : offer.lines)
      if (std::abs(other.diameter_mm - line.diameter_mm) < 1e-4) alike.push_back(other.key);
    if (alike.size() > most.size()) most = std::move(alike);
  }
  return most;
}

// A drill has the size of its hole.
void misfits(const Operation&, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  if (input.holes.empty()) messages.push_back({Severity::error, "no_holes", "features", {}});
  for (const BoundHole& hole : input.holes) {
    const double over = *cutter.diameter_mm - hole.diameter_mm;
    if (std::abs(over) <= size_tolerance_mm) continue;
    messages.push_back({Severity::error,
                        over > 0 ? "cutter_over_hole" : "cutter_under_hole",
                        "diameter_mm",
                        {{"cutter_mm", *cutter.diameter_mm}, {"hole_mm", hole.diameter_mm}}});
    return;
  }
}

}  // namespace

namespace kinds {
const OperationDeclaration drill{
    .kind = PathKind::drill,
    .about = "at circles and holes",
    .manners = set_of(OperationKind::drill, OperationKind::peck),
    .usual = OperationKind::drill,
    .parameters = parameters,
    .roles = roles,
    .milling = false,
    .meets_skin = [](const Operation&) { return true; },
    .margin_mm = [](const Operation& o, const OperationInput&) { return o.cutter.diameter_mm.value_or(0) / 2; },
    .propose = propose,
    .misfits = misfits,
    .check = check,
    .trace = trace};
}  // namespace kinds

}  // namespace pecorra
