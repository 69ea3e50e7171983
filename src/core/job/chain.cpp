#include "core/job/chain.h"

#include <algorithm>
#include <cmath>

#include "core/operation/cone_holes.h"
#include "core/operation/holes.h"
#include "core/tables/starter_rules.h"
#include "core/thread/thread.h"

namespace pecorra {
namespace {

// Common practice, no source: wider holes are milled, wider cones are sunk by a cutter of their own.
constexpr double widest_drilled_mm = 25, widest_reamed_mm = 20, widest_spot_mm = 16;
constexpr double left_on_walls_mm = 0.2, left_for_boring_mm = 0.5;

class Chain {
 public:
  Chain(const Job& job, const std::vector<std::string>& features, const ChainCutters& cutters)
      : job_(job), features_(features), cutters_(cutters) {}

  std::vector<Operation> run() {
    Operation all = started(kinds::drill);
    std::vector<Message> faults;
    const JobIndex index(job_);
    input_ = input_of(job_, index, all, {}, faults);
    if (has_error(faults)) {
      // Pockets are no holes.
      all = started(kinds::pocket);
      faults.clear();
      input_ = input_of(job_, index, all, {}, faults);
      if (!has_error(faults) && !input_.pockets.empty()) pocket();
      return std::move(out_);
    }
    if (input_.holes.empty()) return {};
    const auto alike = [](const BoundHole& a, const BoundHole& b) {
      return a.diameter_mm == b.diameter_mm && a.thread == b.thread && a.tolerance == b.tolerance &&
             a.chamfer_mm == b.chamfer_mm && a.through == b.through;
    };
    for (const BoundHole& hole : input_.holes)
      if (!alike(hole, input_.holes.front())) return {};
    holes(input_.holes.front());
    return std::move(out_);
  }

 private:
  Operation started(const OperationDeclaration& kind) const {
    Operation o;
    o.path = kind.kind;
    o.operation = kind.usual;
    o.name = std::string(label_of(kind.kind));
    for (const std::string& key : features_) o.features.push_back(use_of(job_, key));
    return o;
  }
  void add(Operation o) { out_.push_back(std::move(o)); }

  void holes(const BoundHole& hole) {
    const auto thread = hole.thread.empty() ? std::nullopt : [&]() -> std::optional<Thread> {
      auto parsed = parse_thread(hole.thread);
      return parsed ? std::optional(std::move(*parsed)) : std::nullopt;
    }();
    const double size = thread ? thread->major_mm : hole.diameter_mm;
    if (!(size > 0)) return;
    const bool fine = !thread && is_fine(hole.tolerance), bored = fine && size > widest_reamed_mm;
    const double tapping = cutters_.tapping_drill_mm > 0
                               ? std::max(cutters_.tapping_drill_mm, thread ? thread->forming_drill_mm() : 0.0)
                           : hole.diameter_mm > 0 ? hole.diameter_mm
                           : thread               ? thread->tapping_drill_mm
                                                  : 0;
    const double first = thread  ? tapping
                         : bored ? size - left_for_boring_mm
                         : fine  ? size - allowance_mm(OperationKind::ream, size)
                                 : size;
    // Threads get a chamfer just over their crests (common practice, no source).
    const double cone = hole.chamfer_mm ? edge_mm(hole) + 2 * *hole.chamfer_mm
                        : thread        ? std::ceil(thread->major_mm * 10.5) / 10
                                        : 0;
    // What a blind hole needs below its finished depth.
    // And a pitch of room under the tap (common practice, no source).
    const double lead =
        thread ? (cutters_.tap_lead_mm > 0 ? cutters_.tap_lead_mm : 3 * thread->pitch_mm) + thread->pitch_mm
        : fine ? cutters_.reamer_lead_mm
               : 0;
    const auto depth = stated_depth({}, input_);
    const bool milled = first > widest_drilled_mm;
    if (milled) {
      Operation o = started(kinds::helical_bore);
      if (first != hole.diameter_mm) o.diameter_mm = first;
      if (hole.through) o.breakthrough_mm = 1;
      if (depth && lead > 0 && !hole.through) o.depth_mm = *depth + lead;
      add(std::move(o));
    } else {
      Operation spot = started(kinds::spot);
      const bool sinks = cone > 0 && cone <= widest_spot_mm;
      if (sinks && !hole.chamfer_mm) spot.diameter_mm = cone;
      if (!sinks) spot.diameter_mm = std::min(0.8 * first, widest_spot_mm);
      add(std::move(spot));
      Operation drill = started(kinds::drill);
      if (first != hole.diameter_mm) drill.diameter_mm = first;
      drill.depth_to = DepthTo::full_diameter;
      if (hole.through) drill.breakthrough_mm = 1;
      if (depth && lead > 0 && !hole.through) drill.depth_mm = *depth + lead;
      if (depth && *depth > deepest_without_pilot_d * first) {
        Operation pilot = drill;
        pilot.name = "Pilot";
        pilot.depth_mm = pilot_d * first;
        pilot.breakthrough_mm.reset();
        pilot.depth_to = DepthTo::tip;
        add(std::move(pilot));
      }
      add(std::move(drill));
    }
    if (cone > widest_spot_mm || (milled && cone > 0)) {
      Operation sink = started(kinds::countersink);
      if (!hole.chamfer_mm) sink.diameter_mm = cone;
      add(std::move(sink));
    }
    if (thread) add(started(kinds::tap));
    else if (fine) add(started(bored ? kinds::bore : kinds::ream));
  }

  void pocket() {
    Operation rough = started(kinds::pocket);
    rough.name = std::string(label_of(OperationKind::pocket_rough));
    rough.leave_wall_mm = rough.leave_floor_mm = left_on_walls_mm;
    add(rough);
    Operation floor = started(kinds::pocket);
    floor.name = std::string(label_of(OperationKind::floor_finish));
    floor.operation = OperationKind::floor_finish;
    floor.leave_wall_mm = left_on_walls_mm;
    add(floor);
    Operation walls = started(kinds::profile);
    walls.name = std::string(label_of(OperationKind::side_finish));
    walls.operation = OperationKind::side_finish;
    walls.where = ProfileWhere::within;
    add(walls);
  }

  const Job& job_;
  const std::vector<std::string>& features_;
  const ChainCutters& cutters_;
  OperationInput input_;
  std::vector<Operation> out_;
};

}  // namespace

std::vector<Operation> chain_of(const Job& job, const std::vector<std::string>& features, const ChainCutters& cutters) {
  return Chain(job, features, cutters).run();
}

}  // namespace pecorra
