// Clearance between an assembly and a wall: exact, from the silhouettes. Lengths in mm, heights above the tip.
#pragma once

#include <optional>

#include "core/cutter/profile.h"
#include "core/holder/holder.h"

namespace pecorra {

// Everything outside the spindle: cutter up to the holder's face, extension, holder. Empty if either outline is missing
// or nothing sticks out.
Profile assembly_profile(const Cutter& cutter, const Holder& holder, const Assembly& assembly);

// The cutter stands on the floor with its flank at the foot of a wall that leans away by `draft_deg` and is `height_mm`
// high, with level work above. Returns the least distance between the non-cutting parts and the work, negative if they
// collide.
struct Clearance {
  double distance_mm = 0;
  ProfilePoint on_assembly, on_wall;  // the nearest places
};
std::optional<Clearance> clearance(const Profile& assembly, double diameter_mm, double wall_height_mm,
                                   double draft_deg);

// The highest wall beside which only the cutting edges touch, with `margin_mm` to spare; infinite if nothing is in the
// way.
double reach_beside_wall_mm(const Profile& assembly, double diameter_mm, double draft_deg, double margin_mm = 0);

}  // namespace pecorra
