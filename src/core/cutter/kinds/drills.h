#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

extern const KindDeclaration drill_kind;

// Height of the point of a drill, mm; nothing while diameter or angle is missing.
std::optional<double> point_height_mm(const Cutter& cutter);

}  // namespace pecorra
