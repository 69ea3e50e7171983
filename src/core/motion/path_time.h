// How long a path takes on a machine that has to speed up and slow down. Jerk is left out. Lengths in mm, times in s.
#pragma once

#include <vector>

#include "core/motion/motion.h"

namespace pecorra {

// What holds an axis back; 0: not known, as if it held nothing back.
struct MachineDynamics {
  double acceleration = 0, acceleration_z = 0;  // mm/s², of X and Y and of Z
  double corner_jump = 0;                       // mm/s that any axis may change its speed by at once, in a corner
  int look_ahead = 0;                           // blocks; 0: all of them
  double block_s = 0;                           // least time of a block
  Rapids rapids;                                // mm/min
  bool known() const { return acceleration > 0; }
  bool operator==(const MachineDynamics&) const = default;
};

// When each move ends, counted from the beginning of the path; dwells are in the move that follows them.
// Every move is a trapezoid of speed: no faster than its feed, than the centripetal acceleration permits on an arc
// (v² = a·r), than a corner permits where it begins and ends (jump over the greatest change of direction of an axis),
// and than can be stopped within the blocks that the control sees ahead. Without dynamics: length over feed.
std::vector<double> path_times(const Toolpath& path, const MachineDynamics& machine);

// Length of a move that starts at (x, y, z), with the rise of a helix.
double length_of(double x, double y, double z, const Move& move);
// Where the tip is a part of the way along a move.
struct Place3 {
  double x = 0, y = 0, z = 0;
};
Place3 place_on(double x, double y, double z, const Move& move, double part);

}  // namespace pecorra
