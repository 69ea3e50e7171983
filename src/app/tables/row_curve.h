// The curve that a row of a table stands on: cutting speed and feed over the diameter, with the range they may be paced
// in, and where the cutter of the context lies on it. Points are dragged where the table may be changed.
#pragma once

#include <QWidget>
#include <optional>

#include "app/look/graph.h"
#include "core/tables/condition_table.h"

namespace pecorra {

class RowCurve : public QWidget {
  Q_OBJECT
 public:
  explicit RowCurve(QWidget* parent = nullptr);
  // `rows`: of one curve. `cutter_mm`: where the context's cutter lies, if it is of this kind.
  void show_curve(std::vector<ConditionRow> rows, const Id& lit, std::optional<double> cutter_mm, bool editable,
                  UnitSystem units);
  QSize sizeHint() const override { return {360, 190}; }
  // Position of a row's value; for dragging and for tests.
  QPointF place(const ConditionRow& row, bool speed) const;

 signals:
  void row_clicked(const pecorra::Id& row);
  // `speed`: the cutting speed, else the feed; in m/min or mm.
  void dragged(const pecorra::Id& row, bool speed, double value);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  struct Pane : Graph {
    bool speed = true;
  };
  Pane pane(bool speed) const;
  static std::optional<double> value_of(const ConditionRow& row, bool speed);
  std::pair<int, bool> point_at(QPointF point) const;
  void draw_pane(QPainter& p, const Pane& pane) const;

  std::vector<ConditionRow> rows_;
  Id lit_;
  std::optional<double> cutter_mm_;
  bool editable_ = false;
  UnitSystem units_ = UnitSystem::metric;
  double low_mm_ = 0, high_mm_ = 1;
  std::optional<std::pair<int, bool>> held_;  // the point that is dragged
  bool moved_ = false;
};

}  // namespace pecorra
