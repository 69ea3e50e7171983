// Text as the lines that an engraving cutter follows: one stroke wide, designed for this.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/geometry/contour.h"

namespace pecorra {

struct Lettering {
  std::vector<Contour> lines;
  double width_mm = 0;
  std::string unknown;  // letters that there are no lines for, each once
};
// `text` is UTF-8. `at`: left end of the baseline; `height_mm`: of capital letters; `angle_deg`: of the baseline.
Lettering lettering(std::string_view text, Point2 at, double height_mm, double angle_deg);

}  // namespace pecorra
