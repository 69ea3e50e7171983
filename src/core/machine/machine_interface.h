// How a spindle takes its holders.
#pragma once

#include "core/base/property.h"

namespace pecorra {

// 7/24 tapers of ISO 7388-1 (form A) and -2 (form J), hollow tapers of ISO 12164, straight shanks.
enum class MachineInterface {
  taper_30_a,
  taper_40_a,
  taper_50_a,
  taper_30_j,
  taper_40_j,
  taper_50_j,
  hollow_40,
  hollow_63,
  hollow_100,
  straight
};
template <>
std::span<const Choice> choices_of<MachineInterface>();

}  // namespace pecorra
