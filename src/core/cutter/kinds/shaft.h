// What all cutters with a shank share: the silhouette above the cutting part, and the checks of lengths.
#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

// Diameter of the neck; the cutting diameter where none is stated.
double neck_mm(const Cutter& cutter);
// Appends flank, neck and shank from `at` (on the cutting diameter) to the end of the shank.
void append_shaft(Profile& profile, const Cutter& cutter, ProfilePoint at);
// Flutes, reach, neck, shank and overall length against each other.
void check_shaft(const Cutter& cutter, std::vector<Message>& messages);

Message fault(Severity severity, std::string code, std::string property, Details values);

}  // namespace pecorra
