// How a job stands: for lists of jobs.
#pragma once

#include "shop/planning.h"

namespace pecorra {

// The worst first.
enum class JobHealth { faulty, moved, warned, ready, empty };

struct JobSummary {
  Id job;
  int operations = 0, cutters = 0;
  int faulty = 0, warned = 0, moved = 0;  // operations
  double minutes = 0;
  std::string first_fault;  // of an operation that is in error, else with a warning: its name
  Message fault;
  JobHealth health = JobHealth::empty;
};
// Plans it, which takes its time; `cache` keeps the paths for the next time.
JobSummary summary_of(const ShopState& state, const Resolver& resolver, const Id& job, std::shared_ptr<PlanCache> cache,
                      const PlanProgress& go_on = {});
// "Ready", "2 in error", "1 changed at source"
QString health_text(const JobSummary& summary);

}  // namespace pecorra
