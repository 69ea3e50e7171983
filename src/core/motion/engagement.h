// How the engagement of a cutter grows along its path.
#pragma once

#include "core/motion/motion.h"

namespace pecorra {

// By how much the arc of engagement is longer at the tightest place than beside a straight wall, radians: at an inner
// corner by the angle that the path turns, on an inner arc by what formula 14 gives for its width, no more than the arc
// turns. 0 on a path without either. `ae_mm`: beside a straight wall. Climbing, the wall is at the right.
double corner_rad(const Toolpath& path, bool climb, double cutter_mm, double ae_mm);

}  // namespace pecorra
