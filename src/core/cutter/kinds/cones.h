#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration tapered_kind;
extern const KindDeclaration chamfer_mill_kind;
extern const KindDeclaration engraver_kind;
extern const KindDeclaration spot_drill_kind;
extern const KindDeclaration countersink_kind;

}  // namespace pecorra
