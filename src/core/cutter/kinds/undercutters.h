#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration t_slot_kind;
extern const KindDeclaration dovetail_kind;
extern const KindDeclaration undercut_ball_kind;
extern const KindDeclaration back_boring_bar_kind;

}  // namespace pecorra
