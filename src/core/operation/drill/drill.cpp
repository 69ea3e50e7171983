// Holes by a drill: in one go, pecking, or breaking the chip.
#include <algorithm>
#include <cmath>

#include "core/cutter/kinds/drills.h"
#include "core/operation/holes.h"
#include "core/tables/starter_rules.h"
#include "core/thread/thread.h"

namespace pecorra {
namespace {

double point_of(const Operation& o) { return point_height_mm(o.cutter).value_or(0); }

// Beyond the depth: the point where the full diameter counts, and what a through hole needs.
double beyond(const Operation& o, bool through) {
  return o.breakthrough_mm.value_or(0) + (o.depth_to == DepthTo::full_diameter || through ? point_of(o) : 0);
}

// Of a hole this deep. A peck that is typed is one.
DrillCycle cycle_at(const Operation& o, const OperationInput& input, double depth) {
  if (follows_cycle(o)) return cycle_for(depth, o.cutter.diameter_mm.value_or(0), input.straight_mm);
  return o.cycle == DrillCycle::chip_break          ? DrillCycle::chip_break
         : o.cycle == DrillCycle::peck || o.peck_mm ? DrillCycle::peck
                                                    : DrillCycle::straight;
}
bool pecks(const Operation& o) {
  return o.cycle == DrillCycle::peck || o.cycle == DrillCycle::chip_break || o.peck_mm.has_value();
}
// Typed, also as depth of cut, else that of a row for pecking, else the diameter.
double peck_of(const Operation& o) {
  if (o.peck_mm) return *o.peck_mm;
  if (o.own_ap_mm) return *o.own_ap_mm;
  const bool of_row = o.operation == OperationKind::peck && o.taken.ap_mm;
  return of_row ? *o.taken.ap_mm : o.cutter.diameter_mm.value_or(1);
}

// The drill of a hole: typed, else as the hole is stated, less what a fine tolerance leaves for the reamer, else the
// tapping drill of its thread.
double wanted_mm(const Operation& o, const BoundHole& hole) {
  if (o.diameter_mm) return left_of(o, *o.diameter_mm);
  if (hole.diameter_mm > 0 && is_fine(hole.tolerance))
    return left_of(o, hole.diameter_mm - allowance_mm(OperationKind::ream, hole.diameter_mm));
  if (hole.diameter_mm > 0 || hole.thread.empty()) return hole.diameter_mm > 0 ? left_of(o, hole.diameter_mm) : 0;
  const auto thread = parse_thread(hole.thread);
  return thread ? left_of(o, thread->tapping_drill_mm) : 0;
}

bool is_finished_later(const BoundHole& hole) { return !hole.thread.empty() || is_fine(hole.tolerance); }

// A thread whose crests are drilled away holds less than its class promises; of other than metric ones a fifth of the
// pitch counts, as 6H has it.
void check_thread(const BoundHole& hole, double drill_mm, std::vector<Message>& messages) {
  const auto thread = parse_thread(hole.thread);
  if (!thread) return;  // told of the feature
  const double permitted = thread->minor_tolerance_mm > 0 ? thread->minor_tolerance_mm : 0.2 * thread->pitch_mm;
  const double most = std::max(thread->forming_drill_mm() + 0.1, thread->minor_mm() + thread->deviation_mm + permitted);
  if (drill_mm > most + 1e-6)
    messages.push_back(
        {Severity::error,
         "drill_over_thread",
         "cutter",
         {{"cutter_mm", drill_mm}, {"thread", thread->designation}, {"right_mm", thread->tapping_drill_mm}}});
  else if (drill_mm < thread->tapping_drill_mm - 0.1 * thread->pitch_mm - hole_size_tolerance_mm)
    messages.push_back(
        {Severity::warning,
         "drill_under_thread",
         "cutter",
         {{"cutter_mm", drill_mm}, {"thread", thread->designation}, {"right_mm", thread->tapping_drill_mm}}});
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  const HolesBefore drilled(input);
  const double top = top_of(o, input), whole_depth = depth_of(o, input).value_or(0);
  bool over = false, under = false, thread = false, again = false;
  for (const BoundHole& hole : input.holes) {
    const DrilledHole* before = again ? nullptr : drilled.at(hole.at);
    if (before && before->diameter_mm >= o.cutter.diameter_mm.value_or(0) - hole_size_tolerance_mm &&
        before->bottom_z <= top - depth_at(o, hole, whole_depth) - beyond(o, hole.through) + point_of(o) + 1e-6) {
      again = true;
      messages.push_back({Severity::warning,
                          "hole_made_already",
                          "features",
                          {{"feature", hole.key}, {"x_mm", hole.at.x}, {"y_mm", hole.at.y}}});
    }
    const double wanted = wanted_mm(o, hole), cutter = o.cutter.diameter_mm.value_or(wanted);
    if (!thread && !hole.thread.empty()) {
      thread = true;
      check_thread(hole, cutter, messages);
    }
    const double most = left_of(o, hole.diameter_mm);
    if (!over && hole.diameter_mm > 0 && cutter > most + 1e-6) {
      over = true;
      messages.push_back({Severity::error, "cutter_over_hole", "cutter", {{"cutter_mm", cutter}, {"hole_mm", most}}});
    } else if (!under && (o.diameter_mm || !is_finished_later(hole)) && cutter < wanted - 0.5) {
      under = true;
      messages.push_back(
          {Severity::warning, "cutter_under_hole", "cutter", {{"cutter_mm", cutter}, {"hole_mm", wanted}}});
    }
  }
  const auto depth = depth_of(o, input);
  if (!depth) return;
  const DrillCycle cycle = cycle_at(o, input, *depth);
  if (cycle != DrillCycle::straight && *depth / peck_of(o) > 10000)
    messages.push_back(
        {Severity::error, "too_many_passes", "peck_mm", {{"whole_mm", *depth}, {"each_mm", peck_of(o)}}});
  if (const double d = o.cutter.diameter_mm.value_or(0); d > 0 && follows_cycle(o) && cycle != DrillCycle::straight)
    messages.push_back({Severity::note,
                        "cycle_chosen",
                        "cycle",
                        {{"cycle", std::string(label_of(cycle))},
                         {"peck_mm", peck_of(o)},
                         {"per_d", *depth / d},
                         {"straight_mm", *input.straight_mm}}});
  const bool through =
      std::any_of(input.holes.begin(), input.holes.end(), [](const BoundHole& h) { return h.through; });
  const double whole = *depth + beyond(o, through);
  if (const double d = o.cutter.diameter_mm.value_or(0);
      d > 0 && *depth > deepest_without_pilot_d * d &&
      std::any_of(input.holes.begin(), input.holes.end(), [&](const BoundHole& hole) { return !drilled.at(hole.at); }))
    messages.push_back({Severity::warning,
                        "deep_without_pilot",
                        "depth_mm",
                        {{"per_d", *depth / d}, {"diameter_mm", d}, {"pilot_mm", pilot_d * d}}});
  if (o.cutter.flute_length_mm && whole > *o.cutter.flute_length_mm * (1 + 1e-9))
    messages.push_back({Severity::warning,
                        "deeper_than_flutes",
                        "cutter",
                        {{"depth_mm", whole}, {"flutes_mm", *o.cutter.flute_length_mm}}});
}

void trace(PathContext& c) {
  const Operation& o = c.operation;
  trace_holes(c, [&](const BoundHole& hole) {
    CycleCall cycle;
    const DrillCycle way = cycle_at(o, c.input, depth_at(o, hole, c.depth));
    cycle.kind = way == DrillCycle::chip_break ? CycleKind::chip_break
                 : way == DrillCycle::peck     ? CycleKind::peck
                                               : CycleKind::drill;
    cycle.bottom_z = c.top - depth_at(o, hole, c.depth) - beyond(o, hole.through);
    if (way != DrillCycle::straight) {
      cycle.peck_mm = peck_of(o);
      // As far as it goes in one go, then a peck at a time; counted from where the cycle begins.
      if (c.input.first_pecks && c.input.straight_mm && !o.peck_mm && *c.input.straight_mm > cycle.peck_mm)
        cycle.first_peck_mm = *c.input.straight_mm;
    }
    cycle.dwell_s = o.dwell_s.value_or(0);
    cycle.feed_mm_min = c.tracer.feeds().cut;
    cycle.surface_z = c.top;
    cycle.slow_entry_mm = o.slow_entry_mm.value_or(0);
    cycle.slow_exit_mm = o.slow_exit_mm.value_or(0);
    cycle.slow_feed_mm_min = cycle.feed_mm_min * o.slow_feed_pct.value_or(50) / 100;
    return cycle;
  });
}

constexpr std::string_view parameters[] = {
    "name",    "operation",       "diameter_mm",   "depth_mm",     "top_mm",        "depth_to",   "cycle",
    "peck_mm", "breakthrough_mm", "slow_entry_mm", "slow_exit_mm", "slow_feed_pct", "dwell_s",    "pace",
    "source",  "own_coolant",     "tool_number",   "comment",      "stop",          "stickout_mm"};
constexpr Role roles[] = {Role::hole};

std::vector<std::string> propose(const Offer& offer, Operation& o) {
  o.depth_to = DepthTo::full_diameter;
  o.breakthrough_mm = 1;
  const Feature* f = nullptr;
  std::vector<std::string> holes = holes_offered(offer, &f);
  const bool stated = f && (f->depth_mm || f->through);
  if (!stated && offer.stock_height_mm > 0) o.depth_mm = offer.stock_height_mm;
  if (f && f->depth_mm && !f->through) o.breakthrough_mm.reset();
  return holes;
}

// A drill has the size of its hole; one that is finished later leaves something.
void misfits(const Operation& o, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  // Its flutes carry the chips out of the whole hole.
  const double whole =
      depth_of(o, input).value_or(0) + o.breakthrough_mm.value_or(0) + point_height_mm(cutter).value_or(0);
  if (cutter.flute_length_mm && *cutter.flute_length_mm < whole)
    messages.push_back({Severity::error,
                        "deeper_than_flutes",
                        "flute_length_mm",
                        {{"depth_mm", whole}, {"flutes_mm", *cutter.flute_length_mm}}});
  const std::size_t before = messages.size();
  for (const BoundHole& hole : input.holes) {
    if (!(wanted_mm(o, hole) > 0)) continue;
    misfits_size(cutter, wanted_mm(o, hole), hole_size_tolerance_mm, messages);
    if (messages.size() > before) return;
  }
}

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  if (input.holes.empty()) return std::nullopt;
  const double d = wanted_mm(o, input.holes.front());
  if (!(d > 0)) return std::nullopt;
  return WantedCutter{CutterKind::drill, d, {}, depth_of(o, input).value_or(0) + o.breakthrough_mm.value_or(0) + d};
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
    .stage = 3,
    .manner = [](const Operation& o) { return pecks(o) ? OperationKind::peck : OperationKind::drill; },
    .needs = [](const Operation&) { return faced | marked; },
    .leaves = [](const Operation&) { return hole_made; },
    .meets_skin = [](const Operation&) { return true; },
    .margin_mm = half_the_cutter,
    .propose = propose,
    .beyond_depth_mm =
        [](const Operation& o, const OperationInput& input) {
          return beyond(o, std::any_of(input.holes.begin(), input.holes.end(),
                                       [](const BoundHole& hole) { return hole.through; }));
        },
    .hole_bottom =
        [](const Operation& o, const BoundHole& hole, double top, double depth) {
          return std::optional(top - depth_at(o, hole, depth) - beyond(o, hole.through) + point_of(o));
        },
    .wanted = wanted,
    .misfits = misfits,
    .check = check,
    .trace = trace};
}  // namespace kinds

}  // namespace pecorra
