// Chatter: the stability lobe diagram of the zero-order solution (formula 19; Altintas & Budak 1995, CIRP Annals 44/1,
// from memory): limit of the axial depth over the spindle speed for one mode of the tip in each direction of the plane.
#pragma once

#include <optional>
#include <vector>

#include "core/mechanics/cut_model.h"

namespace pecorra {

struct TipMode {
  double frequency_hz = 0;
  double stiffness_n_mm = 0;
  double damping = 0.03;  // of critical
};

struct StabilityInput {
  double cutting_n_mm2 = 0;  // tangential, per mm² of chip that the waves add: the slope of the force over the chip
  double outward = 0.3;      // radial over tangential
  int teeth = 1;
  Engagement arc;  // as the teeth go through it, from the normal to the feed
  TipMode x, y;    // along the feed and across it
};

struct StabilityDiagram {
  // The envelope: the greatest stable depth at evenly spaced speeds. Infinite where no lobe reaches.
  double from_rpm = 0, to_rpm = 0;
  std::vector<double> stable_mm;
  double always_mm = 0;  // stable at every speed; 0: nothing was found
  // Below this speed there are more than ten waves between two teeth. The flank of the edge then damps them, which is
  // not calculated, and far more is stable than shown (common practice, no source).
  double damped_below_rpm = 0;

  // Between the points of the envelope; nothing outside its speeds.
  std::optional<double> stable_at(double n_rpm) const;
  // The speed nearest to `n_rpm` at which this depth is stable with a tenth to spare.
  std::optional<double> nearest_stable_rpm(double n_rpm, double ap_mm) const;
};
// Empty without an arc of engagement or a mode.
StabilityDiagram stability_lobes(const StabilityInput& input, double from_rpm, double to_rpm, int points = 360);

// Of a cut: both directions have the tip's mode, and the force grows with the chip as the slope of Kienzle's force at
// the mean chip says, (1 − mc)·kc of a sharp edge: what wear adds does not follow the waves. Nothing without a mode, or
// where the cut is no milling.
std::optional<StabilityInput> stability_input(const CutModel& model, const Cut& cut, const CutResults& results);

}  // namespace pecorra
