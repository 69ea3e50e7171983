// Points of flat outlines, in mm.
#pragma once

namespace pecorra {

struct Point2 {
  double x = 0;
  double y = 0;
  bool operator==(const Point2&) const = default;
};

// A vertex and what leads from it to the next one: bulge 0 is a line, else tan(quarter of the arc's angle), positive
// counter-clockwise (as DXF has it).
struct Vertex {
  double x = 0;
  double y = 0;
  double bulge = 0;
  bool operator==(const Vertex&) const = default;
};

}  // namespace pecorra
