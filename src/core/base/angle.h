// Degrees, as they are typed, to radians.
#pragma once

#include <numbers>

namespace pecorra {

inline constexpr double radians(double degrees) { return degrees * std::numbers::pi / 180; }

}  // namespace pecorra
