// A cutter's drawing as an SVG file.
#pragma once

#include <string>

#include "core/drawing/cutter_sheet.h"

namespace pecorra {

// As large as the wish's paper, one user unit a pixel; the outline is one path with true arcs, and groups are named by
// what they show.
std::string svg_of_sheet(const CutterSheet& sheet, const SheetWish& wish);

}  // namespace pecorra
