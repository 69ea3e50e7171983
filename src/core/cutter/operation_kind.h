// What is done to the work: the operations that tables are keyed by and that cutters can do.
#pragma once

#include <cstdint>

#include "core/base/property.h"

namespace pecorra {

enum class OperationKind {
  face,
  slot,
  side_rough,
  side_finish,
  pocket_rough,
  constant_engagement,
  floor_finish,
  surface_finish,
  plunge,
  ramp,
  helix,
  drill,
  peck,
  spot,
  centre,
  ream,
  bore,
  back_bore,
  countersink,
  counterbore,
  tap,
  thread_mill,
  chamfer,
  engrave,
  t_slot,
  dovetail,
  undercut
};
inline constexpr int operation_count = 27;

template <>
std::span<const Choice> choices_of<OperationKind>();

// How chips are made, which decides the formulas.
enum class Process { milling, drilling, enlarging, tapping };
constexpr Process process_of(OperationKind operation) {
  using enum OperationKind;
  switch (operation) {
    case plunge:
    case drill:
    case peck:
    case spot:
    case centre: return Process::drilling;
    case ream:
    case bore:
    case back_bore:
    case countersink:
    case counterbore: return Process::enlarging;
    case tap: return Process::tapping;
    default: return Process::milling;
  }
}

// A set of operations.
using OperationSet = std::uint32_t;
constexpr OperationSet bit(OperationKind operation) { return 1u << static_cast<unsigned>(operation); }
template <class... Operations>
constexpr OperationSet set_of(Operations... operations) {
  return (bit(operations) | ... | 0u);
}

}  // namespace pecorra
