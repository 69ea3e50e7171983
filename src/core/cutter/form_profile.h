// The profile of a form cutter: vertices from the tip upwards, x from the axis, y above the tip, in mm.
#pragma once

#include <vector>

#include "core/base/message.h"
#include "core/base/vertex.h"
#include "core/cutter/profile.h"

namespace pecorra {

// Lines and arcs of the outline; an arc of half a turn or more in two parts. A start beside the axis gets its floor.
// Empty for fewer than two vertices or values that are not finite.
Profile profile_of_outline(const std::vector<Vertex>& outline);

// The outline that a drawing holds: its longest line, x the distance from the axis at 0, y upwards from its lower end.
// A closed line gives the part off the axis. Empty where there is no line; other faults are found by check_outline.
std::vector<Vertex> outline_from(const std::vector<Vertex>& line, bool closed);

// Faults, each with the `x_mm`, `y_mm` of its place: too few points, beyond the axis, below the tip, not starting at
// the tip, crossing itself.
std::vector<Message> check_outline(const std::vector<Vertex>& outline);

}  // namespace pecorra
