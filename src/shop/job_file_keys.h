// Keys of the values typed in an operation, as job files call them.
#pragma once

#include <vector>

#include "core/operation/operation.h"

namespace pecorra {

struct OwnKey {
  const char* key;
  std::optional<double> Operation::*member;
};
inline constexpr OwnKey own_keys[] = {{"n_rpm", &Operation::own_n_rpm},
                                      {"vf_mm_min", &Operation::own_vf_mm_min},
                                      {"plunge_mm_min", &Operation::own_plunge_mm_min},
                                      {"ramp_mm_min", &Operation::own_ramp_mm_min},
                                      {"ap_mm", &Operation::own_ap_mm},
                                      {"ae_mm", &Operation::own_ae_mm}};

// Of a cutter that no library has, all but ids and number.
inline std::span<const Property<Cutter>> generic_properties() {
  static const std::vector<Property<Cutter>> list = [] {
    std::vector<Property<Cutter>> own;
    for (const Property<Cutter>& p : properties<Cutter>())
      if (p.quantity != Quantity::id && p.key != "number") own.push_back(p);
    return own;
  }();
  return list;
}

}  // namespace pecorra
