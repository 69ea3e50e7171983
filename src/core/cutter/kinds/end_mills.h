#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration end_mill_kind;
extern const KindDeclaration bull_nose_kind;
extern const KindDeclaration ball_kind;
extern const KindDeclaration rougher_kind;

}  // namespace pecorra
