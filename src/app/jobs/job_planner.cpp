#include "app/jobs/job_planner.h"

namespace pecorra {

void JobPlanner::plan(PlanRequest request) {
  if (newest_) newest_->cancel();
  const auto asked = std::make_shared<const PlanRequest>(std::move(request));
  newest_ = tasks_.run(
      this, {}, [asked](Task& task) { return plan_job(*asked, [&task](double done) { return task.report(done); }); },
      [this, asked, number = ++number_](const JobPlan& plan) {
        if (number != number_) return;  // the answer to an outdated request is ignored
        // The text of a large program takes longer than its figures.
        newest_ = tasks_.run(
            this, {}, [asked, plan](Task&) { return std::make_shared<const WrittenProgram>(program_of(*asked, plan)); },
            [this, number](const std::shared_ptr<const WrittenProgram>& program) {
              if (number != number_) return;
              newest_.reset();
              emit written(program);
            });
        emit planned(plan);
      });
}

}  // namespace pecorra

#include "moc_job_planner.cpp"
