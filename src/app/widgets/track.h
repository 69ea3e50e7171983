// A slider for one quantity, with a tick at the resolved value. Dragging, the wheel and the arrow keys move it in round
// steps.
#pragma once

#include <QWidget>
#include <optional>

#include "core/base/property.h"
#include "core/quantity/units.h"

namespace pecorra {

class Track : public QWidget {
  Q_OBJECT
 public:
  explicit Track(QWidget* parent = nullptr);
  // `steep`: logarithmic (speeds, feeds per tooth).
  void set_range(double low, double high, bool steep);
  void show_value(std::optional<double> value, std::optional<double> usual, Quantity quantity, UnitSystem units);
  QSize sizeHint() const override { return {120, 18}; }
  double x_of(double value) const;

 signals:
  void moved(double value);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent*) override { held_ = false; }
  void keyPressEvent(QKeyEvent* event) override;

 private:
  double value_at(double x) const;
  // One pixel further is about this much.
  double step() const;
  void move_to(double value);

  double low_ = 0, high_ = 1;
  bool steep_ = false, held_ = false;
  std::optional<double> value_, usual_;
  Quantity quantity_ = Quantity::length;
  UnitSystem units_ = UnitSystem::metric;
};

}  // namespace pecorra
