// Points of flat outlines, in mm.
#pragma once

namespace pecorra {

struct Point2 {
  double x = 0;
  double y = 0;
  bool operator==(const Point2&) const = default;
};

// A vertex and the segment to the next one: bulge 0 is a line, otherwise tan(quarter of the arc's angle), positive
// counter-clockwise, as in DXF.
struct Vertex {
  double x = 0;
  double y = 0;
  double bulge = 0;
  bool operator==(const Vertex&) const = default;
};

}  // namespace pecorra
