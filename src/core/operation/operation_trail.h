// How the values of an operation came about. Kept beside it, so that a change of the operation stays small, and without
// a history of its own.
#pragma once

#include "core/operation/operation.h"

namespace pecorra {

struct OperationTrail {
  Id id;
  std::int64_t revision = 0;
  Id operation;
  SharedTrail cut, slot, finish, floor;

  bool empty() const { return cut.empty() && slot.empty() && finish.empty() && floor.empty(); }
  bool operator==(const OperationTrail&) const = default;
};
template <>
std::span<const Property<OperationTrail>> properties<OperationTrail>();

OperationTrail trail_of(const Operation& operation);
void put_trail(Operation& operation, const OperationTrail& trail);
// Of the trail that belongs to an operation.
Id trail_id(const Id& operation);

}  // namespace pecorra
