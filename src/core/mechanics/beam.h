// The assembly as a stepped cantilever clamped at the holder's face: deflection and first bending frequency (formulas 17
// and 18; bending only, no shear). Optimistic, since holder and spindle give as well. Lengths in mm.
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
};

// The fluted part counts with its equivalent diameter (0.8·D unless the cutter states its core); a missing neck or shank
// counts as the cutting diameter; cones in slices. Empty while diameter, flute length or stick-out is missing, or nothing
// sticks out.
std::vector<BeamSection> beam_of(const Cutter& cutter, const Assembly& assembly);

// Deflection at the tip, mm, under a load across the axis at `from_tip_mm`.
double tip_deflection_mm(const std::vector<BeamSection>& beam, double load_n, double from_tip_mm);
// N/mm at the tip.
double tip_stiffness_n_mm(const std::vector<BeamSection>& beam);
// First bending mode, Hz; finite elements with consistent mass. 0 for an empty beam.
double natural_frequency_hz(const std::vector<BeamSection>& beam);

}  // namespace pecorra
