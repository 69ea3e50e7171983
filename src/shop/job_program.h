// A job's operations as toolpaths and as a program; the window and the command line use the same.
#pragma once

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

PlannedProgram plan_program(const Job& job);
// Operations in error are left out.
std::string program_text(const ProgramHead& head, const Job& job, const PlannedProgram& planned,
                         const Dialect& dialect);
ProgramHead head_of(const ShopState& state, const Job& job);
// The dialect of the job's machine.
const Dialect& dialect_of(const ShopState& state, const Job& job);

}  // namespace pecorra
