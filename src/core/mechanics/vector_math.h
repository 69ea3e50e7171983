// Arithmetic over many numbers at once, compiled to vector instructions.
#pragma once

#include <span>

namespace pecorra {

// Each to the power, in place; what is not above 0 becomes 0.
void raise_to(std::span<double> values, double exponent);

}  // namespace pecorra
