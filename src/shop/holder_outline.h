// A holder's stations from a drawing.
#pragma once

#include <tl/expected.hpp>
#include <vector>

#include <QString>

#include "core/geometry/drawing.h"
#include "core/holder/holder.h"

namespace pecorra {

// Reads the longest line of the drawing: x is the distance from the axis, y the height; its lower end is the face on
// the cutter's side. Arcs become chords within 0.02 mm. Fails with a sentence if the outline cannot be used.
tl::expected<std::vector<Station>, QString> stations_of(const Drawing& drawing);

}  // namespace pecorra
