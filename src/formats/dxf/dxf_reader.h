// Reads the flat geometry of a DXF file: lines, arcs, circles, polylines with bulges, ellipses and splines, also in
// blocks. Ends that meet are joined to contours. The result is in mm.
#pragma once

#include <istream>
#include <map>
#include <string>
#include <tl/expected.hpp>

#include "core/geometry/drawing.h"

namespace pecorra {

struct DxfReading {
  Drawing drawing;
  std::map<std::string, int> entities;  // what stood in the file, used or not
  std::map<std::string, int> unused;    // with the number of entities that were not used
  int hidden = 0;                       // entities on layers that are off or frozen, or in paper space; not read
  int gaps = 0;                         // open ends that nearly meet another one
  double widest_gap_mm = 0;
  std::string unit;  // "mm", "inch" or "" where the file does not say
};

struct DxfFault {
  std::string code;  // "no_dxf", "too_large", "no_outline"
  std::map<std::string, int> entities;
};

struct DxfOptions {
  double unstated_unit_mm = 1;         // a file without unit is taken to be in this
  double join_mm = 0.001;              // ends closer than this belong together
  bool join_layers = true;             // ends of different layers as well
  double gap_mm = 0.2;                 // ends closer than this, but not joined, are told
  double spline_tolerance_mm = 0.005;  // of the chords of splines and ellipses
};

inline constexpr std::size_t largest_dxf_bytes = 64u << 20;

tl::expected<DxfReading, DxfFault> read_dxf(const std::string& text, const DxfOptions& options = {});

}  // namespace pecorra
