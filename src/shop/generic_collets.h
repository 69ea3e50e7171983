// Collets of ISO 15488 type B in whole millimetres, to take a new one from.
#pragma once

#include <vector>

#include "core/holder/collet.h"

namespace pecorra {

// Sizes 11 to 40; ranges from memory. Without ids.
const std::vector<Collet>& generic_collets();

}  // namespace pecorra
