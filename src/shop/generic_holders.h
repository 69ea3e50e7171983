// The generic holders that ship: every spindle taper with every kind of clamping, each size with its source.
#pragma once

#include <vector>

#include "core/holder/holder.h"

namespace pecorra {

// Ordered by taper, then by nose; built once. Ids are fixed.
const std::vector<Holder>& generic_holders();

}  // namespace pecorra
