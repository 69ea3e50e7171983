// The assembly as a stepped cantilever at the holder's face: deflection and first bending mode (formulas 17 and 18;
// bending only, no shear). Clamped rigidly it is optimistic; a stiffness of holder and spindle can be given. Lengths in
// mm.
#pragma once

#include <optional>
#include <vector>

#include "core/holder/holder.h"

namespace pecorra {

// A round piece of beam, from the tip upwards.
struct BeamSection {
  double length_mm = 0;
  double diameter_mm = 0;
  double youngs_modulus_n_mm2 = 0;
  double density_g_cm3 = 0;
  bool operator==(const BeamSection&) const = default;
};

// The beam of an assembly. The fluted part has its equivalent diameter (0.8·D unless the cutter states its core); a
// missing neck or shank has the cutting diameter; cones are sliced; without a flute length everything that sticks out
// counts as fluted, the weakest case. Empty if diameter or stick-out is missing, or nothing sticks out.
std::vector<BeamSection> beam_of(const Cutter& cutter, const Assembly& assembly);

// Deflection at the tip, mm, under a load across the axis at `from_tip_mm`. `holding_n_mm`: a spring across the axis at
// the holder's face; 0: rigid.
double tip_deflection_mm(const std::vector<BeamSection>& beam, double load_n, double from_tip_mm,
                         double holding_n_mm = 0);
// N/mm at the tip.
double tip_stiffness_n_mm(const std::vector<BeamSection>& beam, double holding_n_mm = 0);

// First bending mode, as a single mass on a spring at the tip; finite elements with consistent mass. Zeros for an empty
// beam.
struct BeamMode {
  double frequency_hz = 0;
  double stiffness_n_mm = 0;
};
BeamMode first_mode(const std::vector<BeamSection>& beam, double holding_n_mm = 0);

// Compliance of an assembly's tip: measured, else calculated. `rigid`: the holder's stiffness is unknown, so the
// figures are optimistic. Nothing without tool material, diameter and stick-out.
struct TipDynamics {
  std::vector<BeamSection> beam;
  double holding_n_mm = 0;    // 0: rigid
  double stiffness_n_mm = 0;  // static, at the tip
  double damping = 0.03;      // of critical
  bool rigid = true;
};
std::optional<TipDynamics> tip_dynamics(const Cutter& cutter, const Assembly& assembly);
BeamMode mode_of(const TipDynamics& tip, const Assembly& assembly);
// Greatest bending stress in the beam under a load across the axis at `from_tip_mm` (formula 23), N/mm².
double bending_stress_n_mm2(const std::vector<BeamSection>& beam, double load_n, double from_tip_mm);

// Under a load at a height above the tip.
double deflection_mm(const TipDynamics& tip, const Assembly& assembly, double load_n, double from_tip_mm);

}  // namespace pecorra
