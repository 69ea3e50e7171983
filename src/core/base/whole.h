// Whole numbers from untrusted values.
#pragma once

#include <algorithm>

namespace pecorra {

// Truncated towards zero and clamped to the bounds; not-a-number gives `low`.
constexpr int whole_within(double value, int low, int high) {
  return value >= low ? static_cast<int>(std::min(value, static_cast<double>(high))) : low;
}

}  // namespace pecorra
