// Recesses on the far side of a through hole: the bar goes in beside the axis and cuts upwards.
#include <algorithm>
#include <cmath>

#include "core/operation/holes.h"

namespace pecorra {
namespace {

double d_of(const Operation& o) { return o.cutter.diameter_mm.value_or(0); }
double neck_of(const Cutter& c) { return c.neck_diameter_mm.value_or(0); }
double head_of(const Operation& o) { return o.cutter.flute_length_mm.value_or(0); }

// Edge on one side and neck on the other: so wide is what has to go through, and so far from the axis is its middle.
double passing_mm(const Cutter& c) { return c.diameter_mm.value_or(0) / 2 + neck_of(c) / 2; }
double shift_of(const Operation& o) { return o.shift_mm.value_or((d_of(o) - neck_of(o.cutter)) / 4); }

// The tip below the part, clear of its underside.
double below(const Operation& o, const OperationInput& input) {
  return input.stock_bottom - o.breakthrough_mm.value_or(0) - head_of(o) - input.rules.feed_height_mm;
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  if (!(input.stock_top > input.stock_bottom)) {
    messages.push_back({Severity::error, "stock_height_unknown", "features", {}});
    return;
  }
  const double whole = top_of(o, input) - below(o, input);
  if (o.stickout_mm && whole > *o.stickout_mm)
    messages.push_back(
        {Severity::error, "deeper_than_stickout", "depth_mm", {{"depth_mm", whole}, {"stickout_mm", *o.stickout_mm}}});
  const double depth = depth_of(o, input).value_or(0), stock = top_of(o, input) - input.stock_bottom;
  if (depth >= stock)
    messages.push_back(
        {Severity::error, "back_bore_below_stock", "depth_mm", {{"depth_mm", depth}, {"stock_mm", stock}}});
  for (const BoundHole& hole : input.holes) {
    if (o.diameter_mm && std::abs(left_of(o, *o.diameter_mm) - d_of(o)) > hole_size_tolerance_mm) {
      misfits_size(o.cutter, left_of(o, *o.diameter_mm), hole_size_tolerance_mm, messages);
      return;
    }
    if (hole.diameter_mm > 0 && passing_mm(o.cutter) >= hole.diameter_mm) {
      messages.push_back({Severity::error,
                          "bar_does_not_pass",
                          "cutter",
                          {{"bar_mm", passing_mm(o.cutter)}, {"hole_mm", hole.diameter_mm}}});
      return;
    }
  }
}

void trace(PathContext& c) {
  const Operation& o = c.operation;
  trace_holes(c, [&](const BoundHole& hole) {
    CycleCall cycle;
    cycle.kind = CycleKind::back_bore;
    cycle.retract_z = below(o, c.input);
    // Its upper edge cuts the shoulder; what is left is below it.
    cycle.bottom_z = c.top - depth_at(o, hole, c.depth) - 2 * o.leave_floor_mm.value_or(0) - head_of(o);
    cycle.shift_mm = shift_of(o);
    cycle.dwell_s = o.dwell_s.value_or(0);
    cycle.feed_mm_min = c.tracer.feeds().cut;
    return cycle;
  });
}

constexpr std::string_view parameters[] = {
    "name",   "depth_mm",    "top_mm",      "diameter_mm", "shift_mm", "breakthrough_mm", "dwell_s", "pace",
    "source", "own_coolant", "tool_number", "comment",     "stop",     "stickout_mm"};
constexpr Role roles[] = {Role::hole};

std::vector<std::string> propose(const Offer& offer, Operation& o) {
  if (offer.stock_height_mm > 0) o.depth_mm = std::max(offer.stock_height_mm / 2, offer.stock_height_mm - 5);
  return holes_offered(offer);
}

void misfits(const Operation& o, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  if (o.diameter_mm) misfits_size(cutter, left_of(o, *o.diameter_mm), hole_size_tolerance_mm, messages);
  for (const BoundHole& hole : input.holes)
    if (messages.empty() && hole.diameter_mm > 0 && passing_mm(cutter) >= hole.diameter_mm)
      messages.push_back({Severity::error,
                          "bar_does_not_pass",
                          "neck_diameter_mm",
                          {{"bar_mm", passing_mm(cutter)}, {"hole_mm", hole.diameter_mm}}});
}

// As wide as goes through the hole, where nothing is said.
std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  if (input.holes.empty()) return std::nullopt;
  const double hole = input.holes.front().diameter_mm, d = o.diameter_mm.value_or(hole * 1.2);
  if (!(d > 0)) return std::nullopt;
  return WantedCutter{CutterKind::back_boring_bar, d, {}, input.stock_top - input.stock_bottom};
}

}  // namespace

namespace kinds {
const OperationDeclaration back_bore{.kind = PathKind::back_bore,
                                     .about = "recesses the far side of through holes",
                                     .manners = set_of(OperationKind::back_bore),
                                     .usual = OperationKind::back_bore,
                                     .parameters = parameters,
                                     .roles = roles,
                                     .milling = false,
                                     .stage = 6,
                                     .needs = needs_hole,
                                     .margin_mm = half_the_cutter,
                                     .propose = propose,
                                     .cleared_mm = [](const Operation&) { return 0.0; },
                                     .wanted = wanted,
                                     .misfits = misfits,
                                     .check = check,
                                     .trace = trace};
}  // namespace kinds

}  // namespace pecorra
