// A holder's stations from a drawn outline.
#pragma once

#include <tl/expected.hpp>
#include <vector>

#include <QString>

#include "core/holder/holder.h"
#include "core/toolpath/geometry.h"

namespace pecorra {

// The longest line of the drawing, x the distance from the axis at 0, y along it; its lower end is the face at the
// cutter's side. Arcs become chords within 0.02 mm. A sentence says why an outline does not serve.
tl::expected<std::vector<Station>, QString> stations_of(const Drawing& drawing);

}  // namespace pecorra
