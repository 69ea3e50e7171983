// Flat-bottomed recesses around holes. The depth is that of the flat.
#include <cmath>

#include "core/operation/holes.h"

namespace pecorra {
namespace {

double pilot_of(const Operation& o) { return o.cutter.step_diameter_mm ? o.cutter.step_length_mm.value_or(0) : 0; }

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  const HolesBefore drilled(input);
  const double d = o.cutter.diameter_mm.value_or(0);
  if (o.diameter_mm) misfits_size(o.cutter, left_of(o, *o.diameter_mm), hole_size_tolerance_mm, messages);
  for (const BoundHole& hole : input.holes) {
    // The feature may be the hole or the recess itself.
    if (!o.diameter_mm && hole.diameter_mm > 0 && d < hole.diameter_mm - hole_size_tolerance_mm) {
      messages.push_back(
          {Severity::error, "cutter_under_hole", "cutter", {{"cutter_mm", d}, {"hole_mm", hole.diameter_mm}}});
      return;
    }
    const DrilledHole* before = drilled.at(hole.at);
    const double pilot = o.cutter.step_diameter_mm.value_or(0);
    if (before && pilot > before->diameter_mm) {
      messages.push_back(
          {Severity::error, "pilot_over_hole", "cutter", {{"pilot_mm", pilot}, {"hole_mm", before->diameter_mm}}});
      return;
    }
  }
}

void trace(PathContext& c) {
  const Operation& o = c.operation;
  trace_holes(c, [&](const BoundHole& hole) {
    CycleCall cycle;
    cycle.bottom_z = c.top - depth_at(o, hole, c.depth) - pilot_of(o);
    cycle.dwell_s = bottom_dwell_s(c);
    cycle.feed_mm_min = c.tracer.feeds().cut;
    return cycle;
  });
}

constexpr std::string_view parameters[] = {"name",        "depth_mm", "top_mm", "diameter_mm",
                                           "dwell_s",     "pace",     "source", "own_coolant",
                                           "tool_number", "comment",  "stop",   "stickout_mm"};
constexpr Role roles[] = {Role::hole};

void misfits(const Operation& o, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  for (const BoundHole& hole : input.holes) {
    const double wanted = left_of(o, o.diameter_mm.value_or(hole.diameter_mm));
    if (wanted > 0) misfits_size(cutter, wanted, hole_size_tolerance_mm, messages);
    if (!messages.empty()) return;
  }
}

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  if (input.holes.empty()) return std::nullopt;
  const double d = left_of(o, o.diameter_mm.value_or(input.holes.front().diameter_mm));
  if (!(d > 0)) return std::nullopt;
  return WantedCutter{CutterKind::counterbore, d, {}, depth_of(o, input).value_or(0)};
}

}  // namespace

namespace kinds {
const OperationDeclaration counterbore{
    .kind = PathKind::counterbore,
    .about = "flat recesses for screw heads",
    .manners = set_of(OperationKind::counterbore),
    .usual = OperationKind::counterbore,
    .parameters = parameters,
    .roles = roles,
    .milling = false,
    .stage = 6,
    .needs = needs_hole,
    .margin_mm = half_the_cutter,
    .propose =
        [](const Offer& offer, Operation& o) {
          o.depth_mm = 5;
          return holes_offered(offer);
        },
    .beyond_depth_mm = [](const Operation& o, const OperationInput&) { return pilot_of(o); },
    .hole_bottom = [](const Operation& o, const BoundHole& hole, double top,
                      double depth) { return std::optional(top - depth_at(o, hole, depth)); },
    .wanted = wanted,
    .misfits = misfits,
    .check = check,
    .trace = trace};
}  // namespace kinds

}  // namespace pecorra
