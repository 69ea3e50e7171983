// Toolpaths -> ISO 6983 program text, as a dialect wants it.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/operation/operation.h"
#include "core/program/dialect.h"

namespace pecorra {

// What turns in the spindle while an operation runs.
struct ProgramTool {
  int t = 0;
  int number = 0;      // in its library
  std::string holder;  // its name
  std::optional<double> stickout_mm;
  bool measured = false;  // the stick-out
  // Asked for by the assembly and possible in the machine; beyond the tolerance the control stops.
  bool measures_length = false, measures_radius = false, checks_breakage = false;
  double length_tolerance_mm = 0, radius_tolerance_mm = 0, breakage_tolerance_mm = 0;
};

// Where a clamping counts from, in the path's coordinates.
struct ProgramSetup {
  int index = 0;
  std::string name;
  double zero_x = 0, zero_y = 0, zero_z = 0;
  std::string work_offset{};  // G54 …; empty: the dialect's first
};

struct ProgramOperation {
  const Operation* operation = nullptr;
  const Toolpath* path = nullptr;
  ProgramTool tool{};
  ProgramSetup setup{};
  int number = 0;                       // in the job; 0: as they come
  std::vector<std::string> warnings{};  // for the operator
};

struct ProgramHead {
  std::string job;
  std::string material;
  std::string machine;
  UnitSystem units = UnitSystem::metric;
  std::string hazard{};  // what is dangerous in the material, for the operator
  std::string shop{};
  std::string revision{};  // of the job, and when that was
  std::string setup{};     // where the program is of one of several
  int number = 0;          // of the program; 0: the dialect's lowest
};

// Which operation (its place in what was written) and which move of its path a block is of; negative: none.
struct BlockOrigin {
  std::int32_t operation = -1, move = -1;
};
struct WrittenProgram {
  std::string text;
  std::vector<BlockOrigin> blocks;
  std::vector<int> numbers;  // in the job, of the operations written
};
WrittenProgram write_program(const ProgramHead& head, const std::vector<ProgramOperation>& operations,
                             const Dialect& dialect);

// Of a program number: within the dialect's range, by its digits.
std::string program_name(const Dialect& dialect, int number);

}  // namespace pecorra
