#include "shop/job_program.h"

#include <algorithm>

#include "shop/demo.h"

namespace pecorra {

bool PlannedProgram::has_faults() const {
  return std::any_of(faults.begin(), faults.end(), [](const auto& list) { return has_error(list); });
}

PlannedProgram plan_program(const Job& job) {
  PlannedProgram planned;
  for (const Operation& o : job.operations) {
    auto path = make_toolpath(job, o);
    planned.faults.push_back(path ? check_operation(job, o) : path.error());
    planned.paths.push_back(path ? std::move(*path) : Toolpath{});
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
  if (const WorkMaterial* material = state.materials.find(job.material)) head.material = material->name;
  if (const Machine* machine = state.machines.find(job.machine)) head.machine = machine->name;
  return head;
}

}  // namespace pecorra
