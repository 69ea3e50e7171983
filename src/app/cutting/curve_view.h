// One curve of a cut. Its working point is dragged where the horizontal axis is something that can be tried; the
// pointer reads the curves off.
#pragma once

#include <QWidget>

#include "app/cutting/curve_painter.h"

namespace pecorra {

class CurveView : public QWidget {
  Q_OBJECT
 public:
  explicit CurveView(CurveKind kind, QWidget* parent = nullptr);
  // Nothing: what it needs is not known, and `why` says what.
  void show_curve(std::optional<Curve> curve, const QString& why, UnitSystem units);
  const std::optional<Curve>& curve() const { return curve_; }
  // Position of the working point; for dragging and for tests.
  QPointF working_place() const;

 signals:
  // x of the curve at the pointer.
  void dragged(double x);
  void better_wanted(double x);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent*) override { held_ = false; }
  void leaveEvent(QEvent*) override;

 private:
  Graph frame() const;
  CurveLook look() const;
  QRectF better_box() const;

  CurveKind kind_;
  std::optional<Curve> curve_;
  QString why_;
  UnitSystem units_ = UnitSystem::metric;
  std::optional<double> pointer_x_;
  bool held_ = false;
};

}  // namespace pecorra
