// A job's operations as toolpaths and as a program, for the window and the command line.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "core/program/program.h"
#include "core/toolpath/toolpath.h"
#include "shop/state.h"

namespace pecorra {

struct PlannedProgram {
  std::vector<Toolpath> paths;               // one for each operation; empty where it has errors
  std::vector<std::vector<Message>> faults;  // likewise
  bool has_faults() const;
};

// `go_on` is called after each operation with the share done; false stops, and the rest has no path.
using PlanProgress = std::function<bool(double done)>;
PlannedProgram plan_program(const Job& job, const PlanProgress& go_on = {});
// Operations in error are left out.
std::string program_text(const ProgramHead& head, const Job& job, const PlannedProgram& planned,
                         const Dialect& dialect);
ProgramHead head_of(const ShopState& state, const Job& job);
// The dialect of the job's machine.
const Dialect& dialect_of(const ShopState& state, const Job& job);

// Everything derived from a job: paths, times and the program. The request holds copies of what it needs.
struct PlanRequest {
  Job job;
  ProgramHead head;
  Dialect dialect;
  Rapids rapids;
};
PlanRequest plan_request(const ShopState& state, const Job& job);

struct JobPlan {
  std::shared_ptr<const std::vector<Toolpath>> paths;
  std::vector<std::vector<Message>> faults;  // of each operation
  std::vector<PathFigures> figures;
  std::vector<double> corner_rad;  // engagement at the tightest corner of profiles, see core/toolpath/engagement.h
  std::string program;
  bool has_faults() const;
};
JobPlan plan_job(const PlanRequest& request, const PlanProgress& go_on = {});

}  // namespace pecorra
