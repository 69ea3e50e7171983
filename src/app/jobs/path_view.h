// A job from above: stock, drawing and the paths of its operations, to scale. Wheel zooms, dragging moves, a double
// click shows all again; a click on a line of the drawing picks it.
#pragma once

#include <QTransform>
#include <QWidget>
#include <memory>
#include <vector>

#include "core/job/job.h"
#include "core/quantity/units.h"
#include "core/toolpath/toolpath.h"

namespace pecorra {

class PathView : public QWidget {
  Q_OBJECT
 public:
  explicit PathView(QWidget* parent = nullptr);
  void show_job(const std::optional<Job>& job, std::shared_ptr<const std::vector<Toolpath>> paths, int operation,
                UnitSystem units);
  QSize sizeHint() const override { return {400, 260}; }

 signals:
  void line_clicked(int line);

 protected:
  void paintEvent(QPaintEvent*) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent*) override;

 private:
  QRectF world() const;  // mm, the visible area
  QTransform to_screen() const;
  int line_at_point(QPointF point) const;

  std::optional<Job> job_;
  std::shared_ptr<const std::vector<Toolpath>> paths_;
  int operation_ = 0;
  UnitSystem units_ = UnitSystem::metric;
  double zoom_ = 1;
  QPointF moved_;  // pixels
  QPointF grabbed_, moved_before_;
  bool dragging_ = false;
  int under_mouse_ = -1;
};

}  // namespace pecorra
