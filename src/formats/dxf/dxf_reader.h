// Reads the flat geometry of a DXF file: lines, arcs, circles, polylines with bulges, ellipses and splines, also in
// blocks. Ends that meet are joined to contours. The result is in mm.
#pragma once

#include <istream>
#include <map>
#include <string>
#include <tl/expected.hpp>

#include "core/toolpath/geometry.h"

namespace pecorra {

struct DxfReading {
  Drawing drawing;
  std::map<std::string, int> entities;  // what stood in the file, used or not
  std::map<std::string, int> unused;    // with the number of entities that were not used
  std::string unit;                     // "mm", "inch" or "" where the file does not say
};

struct DxfFault {
  std::string code;  // "no_dxf", "too_large", "no_outline"
  std::map<std::string, int> entities;
};

struct DxfOptions {
  double unstated_unit_mm = 1;         // a file without unit is taken to be in this
  double join_mm = 0.001;              // ends closer than this belong together
  double spline_tolerance_mm = 0.005;  // of the chords of splines and ellipses
};

inline constexpr std::size_t largest_dxf_bytes = 64u << 20;

tl::expected<DxfReading, DxfFault> read_dxf(const std::string& text, const DxfOptions& options = {});

}  // namespace pecorra
