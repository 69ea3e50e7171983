// Toolpaths -> ISO 6983 program text.
#pragma once

#include <string>
#include <vector>

#include "core/operation/operation.h"

namespace pecorra {

// How a control wants its programs. Shipped as data/dialects/*.json.
struct Dialect {
  std::string key = "plain";
  std::string label;
  std::string before;         // lines before the first operation; {unit} is G21 or G20, {name} the job
  std::string tool_change;    // {t} the tool number, {name} the cutter's name
  std::string after;          // lines behind the last operation
  bool length_offset = true;  // G43 H with the first move down
  bool cycles = true;         // else the moves are written out
  std::string rigid_tapping;  // before a tapping cycle whose feed keeps step with the spindle; {n} its speed
  std::string orientated_stop = "M19";
  std::string flood = "M8", mist = "M7", mist_oil = "M7", air = "M7", through_liquid = "M8", through_air = "M7",
              coolant_off = "M9";
  bool operator==(const Dialect&) const = default;
};
template <>
std::span<const Property<Dialect>> properties<Dialect>();

// `zero`: what the program counts from, in the path's coordinates; `work_offset` is said before the first move after a
// change of it.
struct ProgramOperation {
  const Operation* operation = nullptr;
  const Toolpath* path = nullptr;
  double zero_x = 0, zero_y = 0, zero_z = 0;
  std::string work_offset{};
  int number = 0;  // in the job; 0: as they come
};

struct ProgramHead {
  std::string job;
  std::string material;
  std::string machine;
  UnitSystem units = UnitSystem::metric;
  std::string hazard{};  // what is dangerous in the material, for the operator
};

// Positions with three decimals of a millimetre or four of an inch, feeds whole or with two decimals. Comments are
// upper-case ASCII. Lines end with a line feed.
std::string write_program(const ProgramHead& head, const std::vector<ProgramOperation>& operations,
                          const Dialect& dialect);

// Upper-case ASCII for a comment: Ø becomes D, × becomes X, brackets and what has no counterpart become blanks.
std::string comment_text(const std::string& text);

// T of each operation: its own number, else the cutter's number in its library, else by order of use; two cutters never
// share one.
std::vector<int> tool_numbers(const std::vector<Operation>& operations);

}  // namespace pecorra
