#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration corner_rounding_kind;
extern const KindDeclaration barrel_kind;

}  // namespace pecorra
