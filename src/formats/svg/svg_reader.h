// Outlines from SVG files: paths, lines, polylines, polygons, rectangles and circles, with nested transforms. Curves
// become chords within a tolerance; circular arcs stay arcs. y is turned upwards.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "core/geometry/drawing.h"

namespace pecorra {

struct SvgFault {
  std::string text;  // what is wrong and what would be right
};

struct SvgReading {
  Drawing drawing;
  bool unit_known = false;  // width or height named one (mm, cm, in); else a user unit counts as a millimetre
};

tl::expected<SvgReading, SvgFault> read_svg(std::string_view text, double tolerance_mm = 0.01);

}  // namespace pecorra
