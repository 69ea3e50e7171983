// A curve as a picture: in the window, on paper, in a file.
#pragma once

#include <QPainter>

#include "app/look/graph.h"
#include "app/look/look.h"
#include "core/mechanics/curves.h"

namespace pecorra {

struct CurveLook {
  QFont plain, bold;  // of figures and titles
  Colours colours;
  double pixel = 1;  // of a line; more on paper
  QFont formulas{};  // with round brackets
};

// The axes of a curve in this box.
Graph frame_of(const Curve& curve, const QRectF& box, const CurveLook& look);
// `pointer_x`: where a figure is read off, in the curve's x; none: nowhere.
void paint_curve(QPainter& painter, const QRectF& box, const Curve& curve, UnitSystem units, const CurveLook& look,
                 const std::optional<double>& pointer_x = std::nullopt);
// "Power over speed, kW"
QString curve_title(const Curve& curve, UnitSystem units);

}  // namespace pecorra
