// The picture of a job: the plan with stock, lines and toolpaths, and below it the side view, which shows how deep.
// Lines are clicked to pick or drop them for the operation in front.
#pragma once

#include <QPolygonF>
#include <QPushButton>
#include <QTransform>
#include <QWidget>
#include <memory>
#include <vector>

#include "app/jobs/path_trace.h"
#include "core/quantity/units.h"

namespace pecorra {

class PathView : public QWidget {
  Q_OBJECT
 public:
  explicit PathView(QWidget* parent = nullptr);
  void show_job(const std::optional<Job>& job, const PlannedOperations& planned, int operation, UnitSystem units);
  void set_colouring(PathColours colouring);
  void set_side_view(bool on);
  bool has_side_view() const { return side_on_; }
  QSize sizeHint() const override { return {400, 260}; }

 signals:
  void feature_clicked(const QString& key, bool alone);
  void look_changed();  // side view or colouring, for who remembers it

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent*) override;

 private:
  QRectF world() const;  // mm, the visible area
  QTransform to_screen() const;
  QRect plan_rect() const;
  QRect side_rect() const;
  QString feature_at(QPointF point) const;
  void draw_plan(QPainter& p) const;
  void draw_side(QPainter& p) const;
  void draw_legend(QPainter& p) const;
  void say_buttons();

  std::optional<Job> job_;
  std::vector<PathTrace> traces_;
  std::vector<FeatureOutline> outlines_;
  QPushButton *colours_button_, *side_button_;
  StockBlock stock_;
  int operation_ = 0;
  UnitSystem units_ = UnitSystem::metric;
  PathColours colouring_ = PathColours::by_move;
  bool side_on_ = true;
  double zoom_ = 1;
  QPointF moved_;  // pixels
  QPointF grabbed_, moved_before_;
  bool dragging_ = false;
  QString under_mouse_;
};

}  // namespace pecorra
