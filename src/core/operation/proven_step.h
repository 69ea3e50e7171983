// Operations that were proven together and are used again exactly: all their parameters, with their cutters or for any
// that fits.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/operation/operation.h"

namespace pecorra {

struct ProvenStep {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  Id material, machine;     // what it was proven in and on
  bool any_cutter = false;  // of the same kind and size; else the very ones
  std::string feature;      // what it makes, in words: "Hole M8, 18 deep"
  std::string source;       // where it was saved from
  std::string notes;
  // As they stood: without job, setup and features; `taken` is what is used.
  std::vector<Operation> operations;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const ProvenStep&) const = default;
};
template <>
std::span<const Property<ProvenStep>> properties<ProvenStep>();

// The operation of the step that this one was made from, by kind, name and cutter's size; null where none is.
const Operation* origin_in(const ProvenStep& step, const Operation& operation);
// Whether two cutters stand for each other in a step for any cutter: kind, diameter, corner radius, teeth, thread, tool
// material.
bool stands_for(const Cutter& a, const Cutter& b);

}  // namespace pecorra
