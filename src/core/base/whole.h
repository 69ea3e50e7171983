// Whole numbers from untrusted values.
#pragma once

#include <algorithm>

namespace pecorra {

// Cut off towards zero and kept within the bounds; what is no number is `low`.
constexpr int whole_within(double value, int low, int high) {
  return value >= low ? static_cast<int>(std::min(value, static_cast<double>(high))) : low;
}

}  // namespace pecorra
