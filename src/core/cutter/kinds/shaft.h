// What all cutters with a shank share: the silhouette above the cutting part (kinds/outline.h), and the checks of
// lengths.
#pragma once

#include "core/cutter/kinds.h"

namespace pecorra {

// Diameter of the neck; the cutting diameter where none is stated.
double neck_mm(const Cutter& cutter);
// Flutes, reach, neck, conical sections, shank and overall length against each other.
void check_shaft(const Cutter& cutter, std::vector<Message>& messages);
// Pilot or first step against the diameter and the flutes.
void check_step(const Cutter& cutter, std::vector<Message>& messages);
// The diameter within the range that an adjustable cutter can be set to.
void check_range(const Cutter& cutter, std::vector<Message>& messages);

Message fault(Severity severity, std::string code, std::string property, Details values);

}  // namespace pecorra
