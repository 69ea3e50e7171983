#include "core/operation/cone_holes.h"

#include <algorithm>
#include <cmath>

#include "core/thread/thread.h"

namespace pecorra {

double edge_mm(const BoundHole& hole) {
  const auto thread = parse_thread(hole.thread);
  return !hole.thread.empty() && thread ? std::max(thread->major_mm, hole.diameter_mm) : hole.diameter_mm;
}

std::optional<double> cone_mm(const Operation& o, const BoundHole& hole) {
  if (o.diameter_mm) return left_of(o, *o.diameter_mm);
  if (hole.chamfer_mm && edge_mm(hole) > 0) return left_of(o, edge_mm(hole) + 2 * *hole.chamfer_mm);
  return std::nullopt;
}

std::optional<double> cone_depth_at(const Operation& o, const BoundHole& hole) {
  if (o.depth_mm) return o.depth_mm;
  if (const auto wide = cone_mm(o, hole)) return cone_depth_mm(o.cutter, *wide);
  // A spot that is no wider than the hole leaves no edge.
  const double hole_mm = hole.diameter_mm > 0 ? hole.diameter_mm : edge_mm(hole);
  if (o.operation == OperationKind::spot && hole_mm > 0)
    return cone_depth_mm(o.cutter, std::min(hole_mm, o.cutter.diameter_mm.value_or(hole_mm)));
  return std::nullopt;
}

std::optional<double> cone_depth(const Operation& o, const OperationInput& input) {
  if (o.depth_mm) return o.depth_mm;
  std::optional<double> deepest;
  for (const BoundHole& hole : input.holes) {
    const auto depth = cone_depth_at(o, hole);
    if (!depth) return std::nullopt;
    if (!deepest || *depth > *deepest) deepest = depth;
  }
  return deepest;
}

void check_cones(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  misfits_cones(o, input, o.cutter, messages);
  const double d = o.cutter.diameter_mm.value_or(0);
  // Typed deeper than its cone is high.
  if (const auto most = cone_depth_mm(o.cutter, d); o.depth_mm && most && *o.depth_mm > *most + 1e-6)
    messages.push_back(
        {Severity::warning, "deeper_than_cone", "depth_mm", {{"depth_mm", *o.depth_mm}, {"most_mm", *most}}});
}

void misfits_cones(const Operation& o, const OperationInput& input, const Cutter& cutter,
                   std::vector<Message>& messages) {
  if (o.depth_mm && !o.diameter_mm) return;
  for (const BoundHole& hole : input.holes) {
    const auto wide = cone_mm(o, hole);
    if (!wide) continue;
    if (*cutter.diameter_mm < *wide - 1e-6)
      messages.push_back({Severity::error,
                          "cone_too_small",
                          "diameter_mm",
                          {{"cutter_mm", *cutter.diameter_mm}, {"wanted_mm", *wide}}});
    else if (cutter.tip_diameter_mm.value_or(0) > *wide + 1e-6)
      messages.push_back({Severity::error,
                          "cone_tip_too_large",
                          "tip_diameter_mm",
                          {{"tip_mm", *cutter.tip_diameter_mm}, {"wanted_mm", *wide}}});
    if (!messages.empty()) return;
  }
}

void trace_cones(PathContext& c) {
  const Operation& o = c.operation;
  trace_holes(c, [&](const BoundHole& hole) {
    CycleCall cycle;
    cycle.bottom_z = c.top - cone_depth_at(o, hole).value_or(c.depth) + o.leave_floor_mm.value_or(0);
    cycle.dwell_s = bottom_dwell_s(c);
    cycle.feed_mm_min = c.tracer.feeds().cut;
    return cycle;
  });
}

double cone_cleared_mm(const Operation& o) { return o.cutter.tip_diameter_mm.value_or(0); }

}  // namespace pecorra
