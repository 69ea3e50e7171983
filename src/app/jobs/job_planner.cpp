#include "app/jobs/job_planner.h"

#include <QtConcurrent/QtConcurrentRun>

#include "core/toolpath/engagement.h"

namespace pecorra {

PlanRequest plan_request(const ShopState& state, const Job& job) {
  const Machine* machine = state.machines.find(job.machine);
  const double plane = machine ? machine->rapid_mm_min.value_or(0) : 0,
               z = machine ? machine->rapid_z_mm_min.value_or(0) : 0;
  return {job, head_of(state, job), dialect_of(state, job), {job.rapid_mm_min.value_or(plane), z}};
}

JobPlan plan_job(const PlanRequest& request) {
  PlannedProgram planned = plan_program(request.job);
  JobPlan plan;
  for (std::size_t i = 0; i < planned.paths.size(); ++i) {
    const Operation& o = request.job.operations[i];
    plan.figures.push_back(figures_of(planned.paths[i], request.rapids));
    plan.corner_rad.push_back(
        o.path == PathKind::profile
            ? corner_rad(planned.paths[i], o.climb, o.cutter.diameter_mm.value_or(0), o.taken.ae_mm.value_or(0))
            : 0);
  }
  plan.program = program_text(request.head, request.job, planned, request.dialect);
  plan.faults = std::move(planned.faults);
  plan.paths = std::make_shared<const std::vector<Toolpath>>(std::move(planned.paths));
  return plan;
}

JobPlanner::JobPlanner(QObject* parent) : QObject(parent) {
  connect(&watcher_, &QFutureWatcher<JobPlan>::finished, this, [this] {
    if (waiting_) return start();  // an answer to an old question is no answer
    busy_ = false;
    emit planned(watcher_.result());
  });
}

JobPlanner::~JobPlanner() {
  waiting_.reset();
  watcher_.waitForFinished();
}

void JobPlanner::plan(PlanRequest request) {
  waiting_ = std::move(request);
  busy_ = true;
  if (!watcher_.isRunning()) start();
}

void JobPlanner::start() {
  watcher_.setFuture(QtConcurrent::run([request = std::move(*waiting_)] { return plan_job(request); }));
  waiting_.reset();
}

}  // namespace pecorra

#include "moc_job_planner.cpp"
