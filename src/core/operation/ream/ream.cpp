// Holes brought to size by a reamer: down and up at the feed.
#include <cmath>
#include <numbers>

#include "core/operation/holes.h"
#include "core/tables/starter_rules.h"

namespace pecorra {
namespace {

double lead_of(const Operation& o) { return o.cutter.lead_length_mm.value_or(0); }

// Beyond the depth: its lead, where the full diameter counts or the hole goes through.
double beyond(const Operation& o, bool through) {
  return o.breakthrough_mm.value_or(0) + (o.depth_to == DepthTo::full_diameter || through ? lead_of(o) : 0);
}
double bottom_of(const Operation& o, const BoundHole& hole, double top, double depth) {
  return top - depth_at(o, hole, depth) - beyond(o, hole.through);
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  const HolesBefore drilled(input);
  const double d = o.cutter.diameter_mm.value_or(0), top = top_of(o, input), depth = depth_of(o, input).value_or(0);
  bool size = false, allowance = false;
  for (const BoundHole& hole : input.holes) {
    const double wanted = left_of(o, hole.diameter_mm);
    if (!size && hole.diameter_mm > 0 && std::abs(d - wanted) > 0.02) {
      size = true;
      messages.push_back({Severity::error,
                          d > wanted ? "cutter_over_hole" : "cutter_under_hole",
                          "cutter",
                          {{"cutter_mm", d}, {"hole_mm", wanted}}});
    }
    const DrilledHole* before = drilled.at(hole.at);
    check_hole_before(input, hole, before, bottom_of(o, hole, top, depth), hole.through ? 0 : lead_of(o), messages);
    if (!before || allowance) continue;
    const double left = d - before->diameter_mm, right = allowance_mm(OperationKind::ream, d);
    if (left > 1e-6 && left <= 3 * right) continue;
    allowance = true;
    messages.push_back({left > 1e-6 ? Severity::warning : Severity::error,
                        "reaming_allowance",
                        "cutter",
                        {{"left_mm", left}, {"drill_mm", d - right}, {"hole_mm", before->diameter_mm}}});
  }
}

void trace(PathContext& c) {
  trace_holes(c, [&](const BoundHole& hole) {
    CycleCall cycle;
    cycle.kind = CycleKind::feed_out;
    cycle.bottom_z = bottom_of(c.operation, hole, c.top, c.depth);
    cycle.dwell_s = c.operation.dwell_s.value_or(0);
    cycle.feed_mm_min = c.tracer.feeds().cut;
    return cycle;
  });
}

constexpr std::string_view parameters[] = {"name",    "depth_mm", "top_mm",     "depth_to",    "breakthrough_mm",
                                           "dwell_s", "pace",     "source",     "own_coolant", "tool_number",
                                           "comment", "stop",     "stickout_mm"};
constexpr Role roles[] = {Role::hole};

void misfits(const Operation& o, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  for (const BoundHole& hole : input.holes) {
    if (hole.diameter_mm > 0) misfits_size(cutter, left_of(o, hole.diameter_mm), 0.02, messages);
    if (!messages.empty()) return;
  }
}

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  if (input.holes.empty() || !(input.holes.front().diameter_mm > 0)) return std::nullopt;
  return WantedCutter{
      CutterKind::reamer, left_of(o, input.holes.front().diameter_mm), {}, depth_of(o, input).value_or(0)};
}

}  // namespace

namespace kinds {
const OperationDeclaration ream{.kind = PathKind::ream,
                                .about = "brings drilled holes to size",
                                .manners = set_of(OperationKind::ream),
                                .usual = OperationKind::ream,
                                .parameters = parameters,
                                .roles = roles,
                                .milling = false,
                                .stage = 7,
                                .needs = needs_hole,
                                .margin_mm = half_the_cutter,
                                .propose = holes_to_depth,
                                .beyond_depth_mm =
                                    [](const Operation& o, const OperationInput& input) {
                                      return beyond(o, !input.holes.empty() && input.holes.front().through);
                                    },
                                .wanted = wanted,
                                .misfits = misfits,
                                .check = check,
                                .trace = trace};
}  // namespace kinds

}  // namespace pecorra
