// Cutting forces over one turn by the mechanistic model (formula 11; Altintas, Manufacturing Automation; Kienzle 1952): at each
// height of each tooth dFt = kc(h)·fz·sin φ·dz with h = fz·sin κ·sin φ, the force out of the edge 0.3 of it, split by κ into
// radial and axial, and the axial pull of the helix. Where the mean chip is under the floor of formula 7, all chips count
// thicker in proportion, so that forces and power stay in step. x points along the feed, y across it (climbing: away from the wall), z up
// the axis. Forces act on the cutter, in N; torque in N·m; angles in radians.
#pragma once

#include <array>
#include <cstddef>
#include <vector>

#include "core/mechanics/chip.h"

namespace pecorra {

inline constexpr double outward_share = 0.3;  // of the tangential force; common practice

struct ForceInput {
  std::vector<EdgePiece> pieces;
  int teeth = 1;
  double fz_mm = 0;
  double mean_chip_mm = 0; // of the whole edge, for the floor of formula 7
  double kc11_n_mm2 = 0;  // with rake and wear in it
  double mc = 0;
  double helix_rad = 0;
  double lag_radius_mm = 0;  // where the helix angle is measured; 0: no lag
  double ae_mm = 0;
  bool facing = false;
  Engagement face;           // of a face; else each height is engaged `ae` wide from the wall
  bool conventional = false; // the chip starts thin; climb milling ends thin
};

struct Force {
  double x = 0, y = 0, z = 0, torque = 0;
  double across() const;
  Force& operator+=(const Force& f) {
    x += f.x, y += f.y, z += f.z, torque += f.torque;
    return *this;
  }
};

// Of one tooth; the others are the same, a pitch further.
class ToothForce {
 public:
  explicit ToothForce(const ForceInput& input);
  // The tip of the tooth at this angle, any number; its upper part lags behind.
  Force at(double angle) const;
  double pitch() const { return pitch_; }
  int teeth() const { return teeth_; }
  // Angles within a pitch that show its course: fewer where a helix smooths it.
  int telling_steps() const;

 private:
  // Running integrals of p = sin φ to the power 1 − mc over the widest engagement; every height has them times a factor.
  static constexpr std::size_t steps = 256;
  struct Integral {
    double cosine = 0, sine = 0, plain = 0;  // of p·cos φ, p·sin φ and p
  };
  struct Slice {
    EdgePiece piece;
    double from_rad = 0, to_rad = 0;  // engaged
    double factor = 0;                // N per mm of height where p is 1
  };
  Integral read(const Slice&, double angle) const;
  Force force_of(const Slice&, const Integral&) const;

  std::vector<Slice> slices_;
  std::array<Integral, steps + 1> integrals_{};
  double low_ = 0, width_ = 0;
  double pitch_ = 0, lag_per_mm_ = 0, helix_tangent_ = 0;
  int teeth_ = 1;
};

// All teeth at `count` angles that go through one pitch (`whole_turn`: through a turn).
std::vector<Force> force_over_turn(const ToothForce& tooth, int count, bool whole_turn);

struct ForceFigures {
  double mean_n = 0, peak_n = 0;              // across the axis, of |(x, y)|
  double mean_x_n = 0, mean_y_n = 0;
  double mean_torque_nm = 0, peak_torque_nm = 0;
  double peak_axial_n = 0;                    // the greatest pull or push
};
ForceFigures force_figures(const ToothForce& tooth);

}  // namespace pecorra
