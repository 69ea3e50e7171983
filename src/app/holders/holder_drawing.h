// A holder to scale, cutter side down; its stations can be dragged.
#pragma once

#include <QWidget>
#include <optional>

#include "core/holder/holder.h"
#include "core/quantity/units.h"

namespace pecorra {

class HolderDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit HolderDrawing(QWidget* parent = nullptr);
  void show_holder(const Holder* holder, UnitSystem units);
  void set_lit(int station);
  // Where a station is on the screen, on the right of the axis.
  QPointF place_of(std::size_t station) const;
  QSize sizeHint() const override { return {370, 240}; }

 signals:
  void station_clicked(int station);
  void station_dragged(int station, double distance_mm, double diameter_mm, bool done);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  double scale() const;
  int station_at(QPointF point) const;

  std::optional<Holder> holder_;
  UnitSystem units_ = UnitSystem::metric;
  int lit_ = -1, dragged_ = -1;
  bool moved_ = false;
  double frozen_scale_ = 0;  // while dragging
  Station last_;
};

}  // namespace pecorra
