// Holes brought to size and place by a boring bar.
#include <cmath>

#include "core/operation/holes.h"

namespace pecorra {
namespace {

constexpr double usual_shift_mm = 0.2;

// An adjustable bar is set to the hole.
bool can_be(const Cutter& c, double hole_mm) {
  if (c.diameter_from_mm && c.diameter_to_mm)
    return hole_mm >= *c.diameter_from_mm - 1e-6 && hole_mm <= *c.diameter_to_mm + 1e-6;
  return c.diameter_mm && std::abs(*c.diameter_mm - hole_mm) <= hole_size_tolerance_mm;
}

double bottom_of(const Operation& o, const BoundHole& hole, double top, double depth) {
  return top - depth_at(o, hole, depth) - o.breakthrough_mm.value_or(0);
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  const HolesBefore drilled(input);
  const double d = o.cutter.diameter_mm.value_or(0), top = top_of(o, input), depth = depth_of(o, input).value_or(0);
  for (const BoundHole& hole : input.holes) {
    const double wanted = left_of(o, o.diameter_mm.value_or(hole.diameter_mm));
    if (wanted > 0 && std::abs(d - wanted) > hole_size_tolerance_mm) {
      // Within its range it only has to be set.
      messages.push_back({can_be(o.cutter, wanted) ? Severity::warning : Severity::error,
                          can_be(o.cutter, wanted) ? "bar_to_be_set"
                          : d > wanted             ? "cutter_over_hole"
                                                   : "cutter_under_hole",
                          "cutter",
                          {{"cutter_mm", d}, {"hole_mm", wanted}}});
      return;
    }
    check_hole_before(input, hole, drilled.at(hole.at), bottom_of(o, hole, top, depth), 0, messages);
  }
}

void trace(PathContext& c) {
  const Operation& o = c.operation;
  trace_holes(c, [&](const BoundHole& hole) {
    CycleCall cycle;
    const bool orientated = o.bore_retract == BoreRetract::orientated;
    cycle.kind = orientated ? CycleKind::bore : CycleKind::feed_out;
    cycle.shift_mm = orientated ? o.shift_mm.value_or(usual_shift_mm) : 0;
    cycle.bottom_z = bottom_of(o, hole, c.top, c.depth);
    cycle.dwell_s = o.dwell_s.value_or(0);
    cycle.feed_mm_min = c.tracer.feeds().cut;
    return cycle;
  });
}

constexpr std::string_view parameters[] = {"name",        "depth_mm",        "top_mm",  "diameter_mm", "bore_retract",
                                           "shift_mm",    "breakthrough_mm", "dwell_s", "pace",        "source",
                                           "own_coolant", "tool_number",     "comment", "stop",        "stickout_mm"};
constexpr Role roles[] = {Role::hole};

void misfits(const Operation& o, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  for (const BoundHole& hole : input.holes) {
    const double wanted = left_of(o, o.diameter_mm.value_or(hole.diameter_mm));
    if (wanted > 0 && !can_be(cutter, wanted)) misfits_size(cutter, wanted, hole_size_tolerance_mm, messages);
    if (!messages.empty()) return;
  }
}

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  if (input.holes.empty()) return std::nullopt;
  const double d = left_of(o, o.diameter_mm.value_or(input.holes.front().diameter_mm));
  if (!(d > 0)) return std::nullopt;
  return WantedCutter{CutterKind::boring_bar, d, {}, depth_of(o, input).value_or(0)};
}

}  // namespace

namespace kinds {
const OperationDeclaration bore{
    .kind = PathKind::bore,
    .about = "brings holes to size and place",
    .manners = set_of(OperationKind::bore),
    .usual = OperationKind::bore,
    .parameters = parameters,
    .roles = roles,
    .milling = false,
    .stage = 7,
    .needs = needs_hole,
    .margin_mm = half_the_cutter,
    .propose = holes_to_depth,
    .beyond_depth_mm = [](const Operation& o, const OperationInput&) { return o.breakthrough_mm.value_or(0); },
    .wanted = wanted,
    .misfits = misfits,
    .check = check,
    .trace = trace};
}  // namespace kinds

}  // namespace pecorra
