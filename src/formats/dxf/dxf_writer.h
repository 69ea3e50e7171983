// Outlines as DXF files (text, AC1009, millimetres).
#pragma once

#include <string>
#include <vector>

#include "core/cutter/profile.h"

namespace pecorra {

// The half outline on the right of the axis, as LINE and ARC entities on layers CUTTING, NECK and SHANK; x from the
// axis, y above the tip, in mm, exact to a millionth.
std::string dxf_of_profile(const Profile& profile);

// Several beside each other, each with its axis at x_mm and its label below the tip; layer LABELS.
struct PlacedProfile {
  Profile profile;
  double x_mm = 0;
  std::string label;
};
std::string dxf_of_profiles(const std::vector<PlacedProfile>& profiles);

}  // namespace pecorra
