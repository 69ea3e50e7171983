// A cutter that no library has, with the sizes an operation needs: it stands in until there is a real one.
#pragma once

#include "core/operation/declaration.h"

namespace pecorra {

// Named “Generic …”, without an id and of no library; long enough for the depth.
Cutter generic_cutter(const WantedCutter& wanted);

}  // namespace pecorra
