// Cutting forces over one turn by the mechanistic model (formula 11; Altintas, Manufacturing Automation; Kienzle 1952):
// at each height of each tooth dFt = kc(h)·fz·sin φ·dz with h = fz·sin κ·sin φ, the force out of the edge 0.3 of it,
// split by κ into radial and axial, and the axial pull of the helix. Where the mean chip is under the floor of formula
// 7, all chips count thicker in proportion, so that forces and power stay in step. x points along the feed, y across it
// (climbing: away from the wall), z up the axis. Forces act on the cutter, in N; torque in N·m; angles in radians.
#pragma once

#include <vector>

#include "core/mechanics/chip.h"

namespace pecorra {

inline constexpr double outward_share = 0.3;  // of the tangential force; common practice

struct ForceInput {
  std::vector<EdgePiece> pieces;
  int teeth = 1;
  double fz_mm = 0;
  double mean_chip_mm = 0;  // of the whole edge, for the floor of formula 7
  double kc11_n_mm2 = 0;    // with rake and wear in it
  double mc = 0;
  double helix_rad = 0;
  double lag_radius_mm = 0;  // where the helix angle is measured; 0: no lag
  double ae_mm = 0;
  bool facing = false;
  Engagement face;            // of a face; else each height is engaged `ae` wide from the wall
  bool conventional = false;  // the chip starts thin; climb milling ends thin
};

struct Force {
  double x = 0, y = 0, z = 0, torque = 0;
  double across() const;
  Force& operator+=(const Force& f) {
    x += f.x, y += f.y, z += f.z, torque += f.torque;
    return *this;
  }
};

// The forces over one turn: of one tooth at evenly spaced angles of its tip; the others are the same, a pitch further.
struct TurnForces {
  int teeth = 1;
  std::vector<Force> tooth;  // a whole number of angles to a pitch

  int per_pitch() const { return static_cast<int>(tooth.size()) / teeth; }
  // Of tooth j, from 0, when the first stands at angle i.
  const Force& of(int j, int i) const {
    return tooth[static_cast<std::size_t>((i + j * per_pitch()) % static_cast<int>(tooth.size()))];
  }
  Force all(int i) const;  // i: less than a pitch
};
// At least this many angles in a turn.
TurnForces forces_over_turn(const ForceInput& input, int angles);

struct ForceFigures {
  double mean_n = 0, peak_n = 0;  // across the axis, of |(x, y)|
  double mean_x_n = 0, mean_y_n = 0;
  double mean_torque_nm = 0, peak_torque_nm = 0;
  double peak_axial_n = 0;  // the greatest pull or push
};
ForceFigures force_figures(const TurnForces& turn);
// At as many angles as show the course: fewer where a helix smooths it.
ForceFigures force_figures(const ForceInput& input);

}  // namespace pecorra
