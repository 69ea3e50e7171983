#include "shop/job_program.h"

#include <algorithm>

#include "core/mechanics/chip.h"
#include "core/toolpath/engagement.h"
#include "core/toolpath/stock_field.h"

#include "shop/demo.h"
#include "shop/evaluation.h"
#include "shop/words.h"

namespace pecorra {

namespace {
bool any_error(const std::vector<std::vector<Message>>& faults) {
  return std::any_of(faults.begin(), faults.end(), [](const auto& list) { return has_error(list); });
}
}  // namespace

bool PlannedProgram::has_faults() const { return any_error(faults); }

PlannedProgram plan_program(const Job& job, const PlanProgress& go_on) {
  PlannedProgram planned;
  bool stopped = false;
  for (const Operation& o : job.operations) {
    if (stopped) {
      planned.faults.emplace_back();
      planned.paths.emplace_back();
      continue;
    }
    auto path = make_toolpath(job, o);
    planned.faults.push_back(path ? check_operation(job, o) : path.error());
    for (Message& m : never_messages(o.taken.trail, o.taken.source_text)) planned.faults.back().push_back(std::move(m));
    planned.paths.push_back(path ? std::move(*path) : Toolpath{});
    const double done = static_cast<double>(planned.paths.size()) / static_cast<double>(job.operations.size());
    stopped = go_on && !go_on(done);
  }
  return planned;
}

std::string program_text(const ProgramHead& head, const Job& job, const PlannedProgram& planned,
                         const Dialect& dialect) {
  std::vector<ProgramOperation> operations;
  for (std::size_t i = 0; i < job.operations.size(); ++i)
    if (!has_error(planned.faults[i])) operations.push_back({&job.operations[i], &planned.paths[i]});
  return write_program(head, operations, dialect);
}

const Dialect& dialect_of(const ShopState& state, const Job& job) {
  const Machine* machine = state.machines.find(job.machine);
  return dialect_named(machine ? machine->dialect : std::string());
}

ProgramHead head_of(const ShopState& state, const Job& job) {
  ProgramHead head;
  head.job = job.name;
  head.units = job.program_unit;
  if (const WorkMaterial* material = state.materials.find(job.material)) {
    head.material = material->name;
    if (const auto hazard = hazard_message(*material)) head.hazard = sentence(*hazard, head.units).toStdString();
  }
  if (const Machine* machine = state.machines.find(job.machine)) head.machine = machine->name;
  return head;
}

PlanRequest plan_request(const ShopState& state, const Job& job) {
  const Machine* machine = state.machines.find(job.machine);
  const double plane = machine ? machine->rapid_mm_min.value_or(0) : 0,
               z = machine ? machine->rapid_z_mm_min.value_or(0) : 0;
  return {job, head_of(state, job), dialect_of(state, job), {job.rapid_mm_min.value_or(plane), z}};
}

namespace {

// At inner corners of the path exactly; where the stock itself is wider than a pass, as found on the grid, which is not
// believed within a few degrees.
double tightest_growth(const Operation& o, const Toolpath& path, StockField& stock) {
  const double d = o.cutter.diameter_mm.value_or(0), ae = std::min(d, o.taken.ae_mm.value_or(0));
  const double engaged = stock.cut(path, d);
  if (o.path != PathKind::profile || !(d > 0) || !(ae > 0)) return 0;
  constexpr double grid_error_rad = 0.3;
  const double more = engaged - side_engagement(ae, d).angle();
  return std::max(corner_rad(path, climbs_with_m3(o), d, ae), more > grid_error_rad ? more : 0);
}

}  // namespace

JobPlan plan_job(const PlanRequest& request, const PlanProgress& go_on) {
  PlannedProgram planned = plan_program(request.job, go_on);
  JobPlan plan;
  StockField stock(request.job);
  for (std::size_t i = 0; i < planned.paths.size(); ++i) {
    const Operation& o = request.job.operations[i];
    plan.figures.push_back(figures_of(planned.paths[i], request.rapids));
    plan.corner_rad.push_back(tightest_growth(o, planned.paths[i], stock));
  }
  plan.program = program_text(request.head, request.job, planned, request.dialect);
  plan.faults = std::move(planned.faults);
  plan.paths = std::make_shared<const std::vector<Toolpath>>(std::move(planned.paths));
  return plan;
}

bool JobPlan::has_faults() const { return any_error(faults); }

}  // namespace pecorra
