#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration high_feed_kind;
extern const KindDeclaration face_mill_kind;
extern const KindDeclaration fly_cutter_kind;

}  // namespace pecorra
