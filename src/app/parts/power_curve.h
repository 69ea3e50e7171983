// A spindle's power over its speed, drawn and edited on the curve: a point is dragged, a double click puts one in,
// Delete takes it out. The continuous curve, and behind it the one for a short time.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "app/look/graph.h"
#include "core/machine/machine.h"
#include "core/quantity/units.h"

namespace pecorra {

class PowerCurve : public QWidget {
  Q_OBJECT
 public:
  using Points = std::vector<PowerPoint>;
  explicit PowerCurve(QWidget* parent = nullptr);
  // `peak`: which of the two is edited.
  void show_curves(const Points& continuous, const Points& peak, double max_rpm, bool edit_peak);
  void set_lit(int point);
  // Drawn and dragged as torque instead of power; what is kept is power.
  void set_torque(bool torque);
  void set_units(UnitSystem units);
  QSize sizeHint() const override { return {360, 190}; }
  // Where a value stands in the picture, and the reverse.
  QPointF place(const PowerPoint& point) const;
  PowerPoint value(QPointF place) const;

 signals:
  void point_clicked(int point);
  // The edited curve as it would be; `done` when it is let go.
  void changed(const std::vector<pecorra::PowerPoint>& points, bool done, const QString& what);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent*) override;

 private:
  Points& edited() { return edit_peak_ ? peak_ : continuous_; }
  int point_at(QPointF place) const;
  Graph graph() const;
  // A round value, between its neighbours.
  PowerPoint snapped(PowerPoint value, std::size_t at) const;

  Points continuous_, peak_;
  bool edit_peak_ = false;
  // What a point is worth at the side: kW, or N·m.
  double side(const PowerPoint& point) const;
  double most_rpm_ = 10000, most_side_ = 10;
  bool torque_ = false;
  UnitSystem units_ = UnitSystem::metric;
  Quantity side_quantity() const { return torque_ ? Quantity::torque : Quantity::power; }
  int lit_ = -1;
  std::optional<int> dragged_;
  bool moved_ = false;
  std::optional<double> hovered_rpm_;
};

}  // namespace pecorra
