#include "core/holder/assembly_figures.h"

#include "core/mechanics/beam.h"

namespace pecorra {

AssemblyFigures figures_of(const Cutter& cutter, const Holder* holder, const Assembly& a,
                           const std::optional<Wall>& wall) {
  AssemblyFigures out;
  out.safe_stickout_mm = safe_stickout_mm(a);
  if (!holder) return out;
  const Cutter set = as_set(cutter, a);
  out.gauge_length_mm = gauge_length_mm(*holder, a);
  out.weight_kg = weight_kg(cutter, *holder, a);
  if (const auto tip = tip_dynamics(set, a)) {
    out.tip_stiffness_n_um = tip->stiffness_n_mm / 1000;
    out.natural_frequency_hz = mode_of(*tip, a).frequency_hz;
    out.rigid = tip->rigid;
  }
  const Profile profile = assembly_profile(set, *holder, a);
  if (profile.empty() || !set.diameter_mm) return out;
  out.reach_beside_wall_mm = reach_beside_wall_mm(profile, *set.diameter_mm, wall ? wall->draft_deg : 0);
  if (wall && wall->height_mm > 0)
    out.clearance = clearance(profile, *set.diameter_mm, wall->height_mm, wall->draft_deg);
  return out;
}

}  // namespace pecorra
