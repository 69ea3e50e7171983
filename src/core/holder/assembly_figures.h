// Everything derived from an assembly: lengths, weight, clearance beside a wall, stiffness. Lengths in mm.
#pragma once

#include <optional>

#include "core/holder/clearance.h"

namespace pecorra {

// A wall with a draft angle; the tip is on its floor.
struct Wall {
  double height_mm = 0;
  double draft_deg = 0;
  bool operator==(const Wall&) const = default;
};

// Absent if its inputs are not known.
struct AssemblyFigures {
  std::optional<double> gauge_length_mm, safe_stickout_mm, weight_kg;
  std::optional<double> tip_stiffness_n_um, natural_frequency_hz;
  bool rigid = true;  // the clamping is unknown, so those two are optimistic
  std::optional<double>
      reach_beside_wall_mm;            // for the wall's draft, upright without a wall; infinite where nothing is wider
  std::optional<Clearance> clearance;  // from the wall
};
AssemblyFigures figures_of(const Cutter& cutter, const Holder* holder, const Assembly& assembly,
                           const std::optional<Wall>& wall);

}  // namespace pecorra
