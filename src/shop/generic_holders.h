// The generic holders that ship: every machine side with every way to clamp, each size with its source.
#pragma once

#include <vector>

#include "core/holder/holder.h"

namespace pecorra {

// In the order of the machine sides, then of the noses; made once. Ids are fixed.
const std::vector<Holder>& generic_holders();

}  // namespace pecorra
