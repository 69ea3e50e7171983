#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration form_kind;
extern const KindDeclaration drag_knife_kind;
extern const KindDeclaration probe_kind;

}  // namespace pecorra
