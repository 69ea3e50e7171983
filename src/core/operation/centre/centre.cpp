// Centre holes with a 60° cone: for centres, or to guide a drill.
#include <cmath>
#include <numbers>

#include "core/operation/holes.h"

namespace pecorra {
namespace {

// The tip's depth that makes the cone so wide at the top: pilot, then the cone.
std::optional<double> depth_for(const Cutter& c, double wide) {
  if (!c.step_diameter_mm || !c.step_length_mm) return std::nullopt;
  const double half = c.step_angle_deg.value_or(60) / 2 * std::numbers::pi / 180;
  return *c.step_length_mm + std::max(0.0, wide - *c.step_diameter_mm) / 2 / std::tan(half);
}

// ISO 6411 type A: the cone is 2.12 times as wide as the pilot (from memory).
std::optional<double> depth_of_centre(const Operation& o, const OperationInput&) {
  if (o.depth_mm) return o.depth_mm;
  if (!o.cutter.step_diameter_mm) return std::nullopt;
  return depth_for(o.cutter, left_of(o, o.diameter_mm.value_or(2.12 * *o.cutter.step_diameter_mm)));
}

void misfits(const Operation& o, const OperationInput&, const Cutter& cutter, std::vector<Message>& messages) {
  if (!o.diameter_mm) return;
  if (*o.diameter_mm > *cutter.diameter_mm + 1e-6)
    messages.push_back({Severity::error,
                        "cone_too_small",
                        "diameter_mm",
                        {{"cutter_mm", *cutter.diameter_mm}, {"wanted_mm", *o.diameter_mm}}});
  else if (cutter.step_diameter_mm && *cutter.step_diameter_mm > *o.diameter_mm)
    messages.push_back({Severity::error,
                        "cone_tip_too_large",
                        "step_diameter_mm",
                        {{"tip_mm", *cutter.step_diameter_mm}, {"wanted_mm", *o.diameter_mm}}});
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  misfits(o, input, o.cutter, messages);
}

void trace(PathContext& c) {
  trace_holes(c, [&](const BoundHole&) {
    CycleCall cycle;
    cycle.bottom_z = c.top - c.depth + c.operation.leave_floor_mm.value_or(0);
    cycle.dwell_s = c.operation.dwell_s.value_or(0);
    cycle.feed_mm_min = c.tracer.feeds().cut;
    return cycle;
  });
}

constexpr std::string_view parameters[] = {"name",        "depth_mm", "top_mm", "diameter_mm",
                                           "dwell_s",     "pace",     "source", "own_coolant",
                                           "tool_number", "comment",  "stop",   "stickout_mm"};
constexpr Role roles[] = {Role::hole};

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  if (input.holes.empty()) return std::nullopt;
  const double d = o.diameter_mm.value_or(input.holes.front().diameter_mm);
  if (!(d > 0)) return std::nullopt;
  return WantedCutter{CutterKind::centre_drill, d, {}, 0};
}

}  // namespace

namespace kinds {
const OperationDeclaration centre{.kind = PathKind::centre,
                                  .about = "centre holes with a 60° cone",
                                  .manners = set_of(OperationKind::centre),
                                  .usual = OperationKind::centre,
                                  .parameters = parameters,
                                  .roles = roles,
                                  .milling = false,
                                  .stage = 2,
                                  .leaves = [](const Operation&) { return marked; },
                                  .meets_skin = [](const Operation&) { return true; },
                                  .margin_mm = half_the_cutter,
                                  .propose = [](const Offer& offer, Operation&) { return holes_offered(offer); },
                                  .depth = depth_of_centre,
                                  .cleared_mm = [](const Operation&) { return 0.0; },
                                  .wanted = wanted,
                                  .misfits = misfits,
                                  .check = check,
                                  .trace = trace};
}  // namespace kinds

}  // namespace pecorra
