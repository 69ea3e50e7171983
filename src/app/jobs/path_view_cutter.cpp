// The cutter at work in the picture of a job.
#include <QPainter>

#include "app/jobs/path_view.h"
#include "app/look/look.h"

namespace pecorra {

void PathView::show_cutter(std::optional<CutterShown> cutter) {
  cutter_ = std::move(cutter);
  if (!cutter_) stock_left_ = {};
  update();
}

void PathView::show_stock(QImage image, QRectF plan) {
  if (!cutter_) return;  // put away meanwhile
  stock_left_ = std::move(image);
  stock_left_plan_ = plan;
  update();
}

void PathView::draw_stock(QPainter& p, const QTransform& t) const {
  const bool smooth = p.testRenderHint(QPainter::SmoothPixmapTransform);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.drawImage(t.mapRect(stock_left_plan_), stock_left_);
  p.setRenderHint(QPainter::SmoothPixmapTransform, smooth);
  p.setPen(QPen(colours().line, 1));
  p.setBrush(Qt::NoBrush);
  p.drawRect(t.mapRect(stock_left_plan_));
}

void PathView::draw_cutter(QPainter& p, const QTransform& t) const {
  const Colours& d = colours();
  const QPointF at = t.map(QPointF(cutter_->at.x, cutter_->at.y));
  double widest = 0;
  for (const QPointF& point : cutter_->holder) widest = std::max(widest, point.x());
  p.setBrush(Qt::NoBrush);
  if (widest > 0) {
    p.setPen(QPen(d.quiet, 1, Qt::DotLine));
    p.drawEllipse(at, widest * t.m11(), widest * t.m11());
  }
  QColor fill = cutter_->cuts ? d.accent : d.quiet;
  p.setPen(QPen(fill, 1.6));
  fill.setAlpha(70);
  p.setBrush(fill);
  const double r = std::max(2.0, cutter_->diameter_mm / 2 * t.m11());
  p.drawEllipse(at, r, r);
  p.drawLine(at - QPointF(4, 0), at + QPointF(4, 0));
  p.drawLine(at - QPointF(0, 4), at + QPointF(0, 4));
}

void PathView::draw_cutter_from_side(QPainter& p, const std::function<QPointF(double, double)>& to_screen) const {
  const Colours& d = colours();
  const auto whole = [&](const QPolygonF& half) {
    QPolygonF out;
    for (const QPointF& point : half) out << to_screen(cutter_->at.x + point.x(), cutter_->at.z + point.y());
    for (auto i = half.size(); i-- > 0;) out << to_screen(cutter_->at.x - half[i].x(), cutter_->at.z + half[i].y());
    return out;
  };
  QColor holder = d.quiet;
  p.setPen(QPen(holder, 1));
  holder.setAlpha(60);
  p.setBrush(holder);
  if (!cutter_->holder.isEmpty()) p.drawPolygon(whole(cutter_->holder));
  QColor cutter = cutter_->cuts ? d.accent : d.quiet;
  p.setPen(QPen(cutter, 1.4));
  cutter.setAlpha(110);
  p.setBrush(cutter);
  if (!cutter_->cutter.isEmpty()) p.drawPolygon(whole(cutter_->cutter));
  p.setBrush(Qt::NoBrush);
}

}  // namespace pecorra
