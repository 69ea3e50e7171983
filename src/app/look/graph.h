// The plot all curves share: two axes, grid, figures, and points that can be dragged.
#pragma once

#include <QPainter>
#include <QRectF>
#include <cmath>
#include <utility>

#include "app/look/look.h"

namespace pecorra {

struct Graph {
  QRectF field;  // inside the axes
  double from_x = 0, to_x = 1, to_y = 1;
  QPointF at(double x, double y) const {
    return {field.left() + field.width() * (x - from_x) / (to_x - from_x), field.bottom() - field.height() * y / to_y};
  }
  double x_at(double pixel) const { return from_x + (pixel - field.left()) / field.width() * (to_x - from_x); }
  double y_at(double pixel) const { return (field.bottom() - pixel) / field.height() * to_y; }
};

// A line across at each step from nothing up, with `text(y)` between `left` and the field.
template <class Text>
void paint_grid(QPainter& p, const Graph& g, double left, double step, const Colours& d, double pixel, Text&& text) {
  const double letter = QFontMetricsF(p.font(), p.device()).height();
  for (double y = 0; y <= g.to_y * 1.0001; y += step) {
    const QPointF at = g.at(g.from_x, y);
    p.setPen(QPen(d.line, pixel));
    p.drawLine(at, QPointF(g.field.right(), at.y()));
    p.setPen(d.quiet);
    p.drawText(QRectF(left, at.y() - letter / 2, g.field.left() - left - 4 * pixel, letter),
               Qt::AlignRight | Qt::AlignVCenter, text(y));
  }
}

constexpr double handle_reach = 9;  // how near in pixels a point can be grabbed

// A point of the curve that can be taken; filled where it is the one in front.
inline void paint_handle(QPainter& p, QPointF at, const QColor& colour, bool in_front, const Colours& d) {
  p.setPen(QPen(colour, 1.6));
  p.setBrush(in_front ? colour : d.raised);
  const double radius = in_front ? 5.5 : 4.2;
  p.drawEllipse(at, radius, radius);
}

inline bool takes(QPointF handle, QPointF pointer) {
  return std::hypot(handle.x() - pointer.x(), handle.y() - pointer.y()) < handle_reach;
}

}  // namespace pecorra
