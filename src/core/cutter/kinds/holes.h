#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration counterbore_kind;
extern const KindDeclaration reamer_kind;
extern const KindDeclaration boring_bar_kind;

}  // namespace pecorra
