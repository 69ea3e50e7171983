// A job's operations as toolpaths and as a program, for the window and the command line.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "core/job/job.h"
#include "core/motion/path_time.h"
#include "core/program/program.h"
#include "shop/dialects.h"
#include "shop/evaluation.h"
#include "shop/limit_check.h"
#include "shop/tool_plan.h"

namespace pecorra {

struct PlannedOperation;
// When each move of a path ends on this machine, in seconds.
struct PathTime {
  std::shared_ptr<const PlannedOperation> of;
  MachineDynamics dynamics;
  std::shared_ptr<const std::vector<double>> ends;
  double seconds() const { return ends && !ends->empty() ? ends->back() : 0; }
};

// Seconds that an operation takes with all that belongs to it.
struct OperationTime {
  double simple_s = 0;  // moves at their feeds and rapids alone
  double path_s = 0;    // with acceleration and corners, where the machine states them
  double change_s = 0, spindle_s = 0, measuring_s = 0;
  double total_s() const { return path_s + change_s + spindle_s + measuring_s; }
};
// What besides its moves a machine takes time for.
struct MachineTimes {
  double change_s = 0, spindle_up_s = 0, max_rpm = 0, measure_s = 0;
  bool operator==(const MachineTimes&) const = default;
};

struct PlannedOperation {
  Operation operation;  // as it was planned, without what no path depends on
  OperationInput input;
  double grid_mm = 0;                                          // smallest cutter of the setup
  std::vector<std::shared_ptr<const PlannedOperation>> after;  // whose cuts it meets
  Box reach;
  Toolpath path;  // empty where there is an error
  std::vector<Message> messages;
  PathFacts as_cut;
  PathDistances distances;
  // Where its distances and angles come from, for the end of the trail.
  Trail trail() const;
  const PathFacts& facts() const { return as_cut; }
};
using PlannedOperations = std::vector<std::shared_ptr<const PlannedOperation>>;

// What was planned last, by operation: a path whose operation, geometry and stock are the same is not planned again.
// Safe from several threads.
class PlanCache {
 public:
  // `job`, `rules` and `holders`: what all of it was planned from. An operation that is the same there, on the same
  // ground, is known without binding its geometry again.
  struct Known {
    std::map<Id, std::shared_ptr<const PlannedOperation>> operations;
    std::map<Id, PathTime> times;
    std::shared_ptr<const Job> job;
    PathRules rules;
    FeedLimits limits;
    std::map<Id, std::vector<HolderStep>> holders;
    std::shared_ptr<const LimitCheck> limit_check;
    std::map<Id, std::vector<Message>> exceeded;  // by operation
  };
  std::shared_ptr<const Known> known() const;  // never null
  void keep(Known known);

 private:
  mutable std::mutex mutex_;
  std::shared_ptr<const Known> known_ = std::make_shared<const Known>();
};

PathRules path_rules(const ShopSettings& settings);

// `go_on` is called now and then with the share done; false stops, and the rest has no path.
using PlanProgress = std::function<bool(double done)>;

// Everything derived from a job: paths and times. The request holds copies of what it needs.
struct PlanRequest {
  std::shared_ptr<const Job> job;
  ProgramHead head;
  Dialect dialect;
  QString shop_file{};               // whose history tells the job's revision; empty: the program names none
  std::vector<ProgramTool> tools{};  // of each operation
  MachineDynamics dynamics;
  MachineTimes times;
  PathRules rules;
  FeedLimits limits;
  std::shared_ptr<PlanCache> cache;                 // none: everything is planned
  std::map<Id, std::vector<HolderStep>> holders{};  // by operation
  std::map<Id, double> straight_mm{};               // of drills: how deep without clearing chips
  std::shared_ptr<const LimitCheck> limit_check{};
  std::map<Id, std::vector<Message>> of_machine{};  // by operation: what the machine does not have
};
PlanRequest plan_request(const ShopState& state, const std::shared_ptr<const Job>& job,
                         std::shared_ptr<PlanCache> cache = {});
inline PlanRequest plan_request(const ShopState& state, Job job, std::shared_ptr<PlanCache> cache = {}) {
  const auto shared = std::make_shared<const Job>(std::move(job));
  return plan_request(state, shared, std::move(cache));
}

struct JobPlan {
  PlannedOperations operations;              // in the order of the job; never null
  std::vector<std::vector<Message>> faults;  // of each operation
  std::vector<PathFigures> figures;
  std::vector<PathTime> paths;       // of each operation
  std::vector<OperationTime> times;  // likewise
  double seconds() const;
  int planned_anew = 0;
  bool has_faults() const;
  std::vector<PathFacts> facts() const;
};
JobPlan plan_job(const PlanRequest& request, const PlanProgress& go_on = {});
// Operations in error are left out; so are those of other setups, where one is named by its place. Reads the shop's
// file.
WrittenProgram program_of(const PlanRequest& request, const JobPlan& plan, std::optional<std::size_t> setup = {});

ProgramHead head_of(const ShopState& state, const JobHead& job);

}  // namespace pecorra
