// A curve as a picture: in the window, on paper, in a file.
#pragma once

#include <QPainter>

#include "app/look/look.h"
#include "core/mechanics/curves.h"

namespace pecorra {

struct CurveFrame {
  QRectF field;  // inside the axes
  double from_x = 0, to_x = 1, to_y = 1;
  QPointF at(double x, double y) const {
    return {field.left() + field.width() * (x - from_x) / (to_x - from_x), field.bottom() - field.height() * y / to_y};
  }
  double x_at(double pixel) const { return from_x + (pixel - field.left()) / field.width() * (to_x - from_x); }
};

struct CurveLook {
  QFont plain, bold;  // of figures and titles
  Dyes dyes;
  double pixel = 1;  // of a line; more on paper
  QFont formulas{};  // with round brackets
};

// The axes of a curve in this box.
CurveFrame frame_of(const Curve& curve, const QRectF& box, const CurveLook& look);
// `pointer_x`: where a figure is read off, in the curve's x; none: nowhere.
void paint_curve(QPainter& painter, const QRectF& box, const Curve& curve, UnitSystem units, const CurveLook& look,
                 const std::optional<double>& pointer_x = std::nullopt);
// "Power over speed, kW"
QString curve_title(const Curve& curve, UnitSystem units);

}  // namespace pecorra
