// What a shop decides for all its work: rounding, wear, where new programs go by default.
#pragma once

#include "core/base/property.h"

namespace pecorra {

struct ShopSettings {
  Id id;
  std::int64_t revision = 0;
  std::string name;                 // of the shop
  double n_step_rpm = 10;           // spindle speeds are rounded down to this
  double vf_step_mm_min = 10;       // table feeds likewise
  double wear_factor = 1.3;         // worn edges take more force; common practice
  bool operator==(const ShopSettings&) const = default;
};
template <> std::span<const Property<ShopSettings>> properties<ShopSettings>();

}  // namespace pecorra
