#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration drill_kind;
extern const KindDeclaration step_drill_kind;
extern const KindDeclaration centre_drill_kind;

// Height of the point of a drill, mm; of its first step where it has one. Nothing while diameter or angle is missing.
std::optional<double> point_height_mm(const Cutter& cutter);

}  // namespace pecorra
