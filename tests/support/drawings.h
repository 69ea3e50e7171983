// The lines and the circles of a drawing, apart.
#pragma once

#include "core/geometry/drawing.h"

namespace test {

inline std::vector<pecorra::Contour> lines_in(const pecorra::Drawing& drawing) {
  std::vector<pecorra::Contour> lines;
  for (const pecorra::DrawnLine& line : drawing.lines)
    if (!line.is_circle()) lines.push_back(line.contour);
  return lines;
}

struct Circle {
  double x = 0, y = 0, diameter_mm = 0;
};
inline std::vector<Circle> circles_in(const pecorra::Drawing& drawing) {
  std::vector<Circle> circles;
  for (const pecorra::DrawnLine& line : drawing.lines)
    if (line.is_circle()) circles.push_back({line.centre().x, line.centre().y, line.diameter_mm});
  return circles;
}

}  // namespace test
