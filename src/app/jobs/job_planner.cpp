#include "app/jobs/job_planner.h"

namespace pecorra {

void JobPlanner::plan(PlanRequest request) {
  if (newest_) newest_->cancel();
  newest_ = tasks_.run(
      this, {},
      [request = std::move(request)](Task& task) {
        return plan_job(request, [&task](double done) { return task.report(done); });
      },
      [this, number = ++number_](const JobPlan& plan) {
        if (number != number_) return;  // the answer to an outdated request is ignored
        newest_.reset();
        emit planned(plan);
      });
}

}  // namespace pecorra

#include "moc_job_planner.cpp"
