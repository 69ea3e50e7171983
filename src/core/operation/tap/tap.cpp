// Threads by a tap: the feed is the pitch at every turn.
#include <algorithm>
#include <cmath>

#include "core/cutter/kinds/threads.h"
#include "core/operation/holes.h"
#include "core/thread/thread.h"

namespace pecorra {
namespace {

double lead_of(const Operation& o) { return o.cutter.lead_threads.value_or(3) * o.cutter.pitch_mm.value_or(0); }
double bottom_of(const Operation& o, const BoundHole& hole, double top, double depth) {
  return top - depth_at(o, hole, depth) - lead_of(o) - o.breakthrough_mm.value_or(0);
}

std::string joined_class(const Thread& t) {
  return t.tolerance_class.empty() ? t.designation : t.designation + " " + t.tolerance_class;
}

// Empty: the tap makes this thread.
void misfits_thread(const std::string& stated, const Cutter& cutter, std::vector<Message>& messages) {
  const auto thread = parse_thread(stated);
  if (!thread) {
    messages.push_back(
        {Severity::error, "thread_unknown", "thread", {{"thread", stated}, {"why", thread.error().text}}});
    return;
  }
  const auto is = thread_of(cutter);
  // A tap of another class cuts another width; where one of both states none it may be right.
  const bool other_class = is && !is->tolerance_class.empty() && !thread->tolerance_class.empty() &&
                           is->tolerance_class != thread->tolerance_class;
  const bool same = is ? is->designation == thread->designation && !other_class
                       : cutter.pitch_mm && std::abs(*cutter.pitch_mm - thread->pitch_mm) < 1e-3 &&
                             std::abs(*cutter.diameter_mm - thread->major_mm) < 0.02 * thread->major_mm;
  if (!same)
    messages.push_back({Severity::error,
                        "tap_not_of_thread",
                        "thread",
                        {{"thread", joined_class(*thread)},
                         {"tap", is ? joined_class(*is) : cutter.name},
                         {"pitch_mm", thread->pitch_mm}}});
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_places(input, messages);
  const HolesBefore drilled(input);
  const double top = top_of(o, input), depth = depth_of(o, input).value_or(0);
  bool thread = false, size = false;
  for (const BoundHole& hole : input.holes) {
    if (!thread && !hole.thread.empty()) {
      const std::size_t before = messages.size();
      misfits_thread(hole.thread, o.cutter, messages);
      thread = messages.size() > before;
    }
    const DrilledHole* before = drilled.at(hole.at);
    check_hole_before(input, hole, before, bottom_of(o, hole, top, depth), hole.through ? 0 : lead_of(o), messages);
    const double pitch = o.cutter.pitch_mm.value_or(0);
    if (const double under = before ? bottom_of(o, hole, top, depth) - before->bottom_z : pitch;
        !hole.through && under >= -1e-6 && under < pitch * (1 - 1e-6) &&
        std::none_of(messages.begin(), messages.end(), [](const Message& m) { return m.code == "tap_near_bottom"; }))
      messages.push_back({Severity::warning,
                          "tap_near_bottom",
                          "depth_mm",
                          {{"under_mm", std::max(0.0, under)}, {"pitch_mm", pitch}}});
    const auto right = tapping_drill_mm(o.cutter);
    if (size || !before || !right || before->diameter_mm >= *right - 0.1 * o.cutter.pitch_mm.value_or(0) - 0.06)
      continue;
    size = true;
    messages.push_back(
        {Severity::error, "hole_under_thread", "features", {{"hole_mm", before->diameter_mm}, {"right_mm", *right}}});
  }
  if (o.leave_wall_mm) messages.push_back({Severity::warning, "without_effect", "leave_wall_mm", {}});
  // Typed values have to be in step.
  const double n = o.taken.n_rpm.value_or(0), pitch = o.cutter.pitch_mm.value_or(0);
  if (o.taken.vf_mm_min && n > 0 && std::abs(*o.taken.vf_mm_min - n * pitch) > 1e-6 * n * pitch)
    messages.push_back({Severity::error,
                        "tap_out_of_step",
                        "own_vf_mm_min",
                        {{"vf_mm_min", *o.taken.vf_mm_min}, {"right_mm_min", n * pitch}, {"pitch_mm", pitch}}});
}

void trace(PathContext& c) {
  const Operation& o = c.operation;
  trace_holes(c, [&](const BoundHole& hole) {
    CycleCall cycle;
    cycle.kind = CycleKind::tap;
    cycle.left_hand = o.cutter.rotation == Rotation::counter_clockwise;
    cycle.floating = o.tapping == TappingKind::floating;
    cycle.bottom_z = bottom_of(o, hole, c.top, c.depth);
    cycle.dwell_s = o.dwell_s.value_or(0);
    cycle.feed_mm_min = o.taken.n_rpm.value_or(0) * o.cutter.pitch_mm.value_or(0);
    return cycle;
  });
}

constexpr std::string_view parameters[] = {"name",    "depth_mm", "top_mm",     "breakthrough_mm", "tapping",
                                           "dwell_s", "pace",     "source",     "own_coolant",     "tool_number",
                                           "comment", "stop",     "stickout_mm"};
constexpr Role roles[] = {Role::hole};

std::vector<std::string> propose(const Offer& offer, Operation& o) {
  for (const Feature* f : offer.features)
    if (f->kind == FeatureKind::holes && !f->thread.empty()) {
      if (!f->depth_mm && !f->through && offer.stock_height_mm > 0) o.depth_mm = offer.stock_height_mm;
      return {f->key};
    }
  return holes_to_depth(offer, o);
}

void misfits(const Operation&, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  for (const BoundHole& hole : input.holes) {
    if (!hole.thread.empty()) misfits_thread(hole.thread, cutter, messages);
    else if (const auto drill = tapping_drill_mm(cutter); drill && hole.diameter_mm > 0)
      if (std::abs(*drill - hole.diameter_mm) > hole_size_tolerance_mm)
        messages.push_back({Severity::error,
                            *drill > hole.diameter_mm ? "cutter_over_hole" : "cutter_under_hole",
                            "diameter_mm",
                            {{"cutter_mm", *drill}, {"hole_mm", hole.diameter_mm}}});
    if (!messages.empty()) return;
  }
}

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  for (const BoundHole& hole : input.holes)
    if (const auto thread = parse_thread(hole.thread))
      return WantedCutter{CutterKind::tap, thread->major_mm, joined_class(*thread),
                          depth_of(o, input).value_or(0) + 3 * thread->pitch_mm};
  return std::nullopt;
}

}  // namespace

namespace kinds {
const OperationDeclaration tap{
    .kind = PathKind::tap,
    .about = "threads in drilled holes",
    .manners = set_of(OperationKind::tap),
    .usual = OperationKind::tap,
    .parameters = parameters,
    .roles = roles,
    .milling = false,
    .stage = 8,
    .needs = needs_hole,
    .margin_mm = half_the_cutter,
    .propose = propose,
    .beyond_depth_mm = [](const Operation& o,
                          const OperationInput&) { return lead_of(o) + o.breakthrough_mm.value_or(0); },
    .wanted = wanted,
    .misfits = misfits,
    .check = check,
    .trace = trace};
}  // namespace kinds

}  // namespace pecorra
