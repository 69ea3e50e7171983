// Outlines as DXF files (text, AC1009, millimetres).
#pragma once

#include <string>

#include "core/cutter/profile.h"

namespace pecorra {

// The half outline on the right of the axis, as LINE and ARC entities on layers CUTTING, NECK and SHANK; x from the axis,
// y above the tip, in mm, exact to a millionth.
std::string dxf_of_profile(const Profile& profile);

}  // namespace pecorra
