#include "app/cutting/curve_view.h"

#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

CurveView::CurveView(CurveKind kind, QWidget* parent) : QWidget(parent), kind_(kind) {
  setMinimumSize(180, 120);
  setMouseTracking(true);
  setObjectName(QStringLiteral("curve_%1").arg(text_of(key_of(kind))));
  setAccessibleName(label_text(label_of(kind)));
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void CurveView::show_curve(std::optional<Curve> curve, const QString& why, UnitSystem units) {
  curve_ = std::move(curve);
  why_ = why;
  units_ = units;
  update();
}

CurveLook CurveView::look() const { return {Look::get().text(11), Look::get().text(12, true), colours(), 1, {}}; }
Graph CurveView::frame() const { return frame_of(*curve_, QRectF(rect()).adjusted(2, 2, -2, -2), look()); }

QPointF CurveView::working_place() const {
  return curve_ && curve_->working ? frame().at(curve_->working->x, curve_->working->y) : QPointF();
}

// The line that names the nearest stable speed, to be clicked.
QRectF CurveView::better_box() const {
  if (!curve_ || !curve_->better_x) return {};
  const Graph f = frame();
  return {f.field.left() + 2, f.field.bottom() - 19, f.field.width() - 4, 17};
}

void CurveView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(colours().line);
  p.setBrush(colours().raised);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
  const QRectF box = QRectF(rect()).adjusted(8, 5, -6, -4);
  if (!curve_) {
    p.setFont(look().bold);
    p.setPen(colours().heading);
    p.drawText(box, Qt::AlignLeft | Qt::AlignTop, label_text(label_of(kind_)));
    p.setFont(look().plain);
    p.setPen(colours().quiet);
    p.drawText(box.adjusted(6, 22, -6, 0), Qt::AlignCenter | Qt::TextWordWrap, why_);
    return;
  }
  paint_curve(p, QRectF(rect()).adjusted(6, 4, -4, -2), *curve_, units_, look(), held_ ? std::nullopt : pointer_x_);
  if (curve_->better_x) {
    const QRectF where = better_box();
    const QString text = tr("%1 rpm is stable here").arg(text_of(plain(*curve_->better_x, 0)));
    p.setFont(look().plain);
    const double wide = QFontMetricsF(look().plain).horizontalAdvance(text);
    const QRectF word(where.right() - wide - 6, where.top(), wide + 6, where.height());
    p.fillRect(word, colours().raised);
    p.setPen(colours().accent);
    p.drawText(word, Qt::AlignCenter, text);
    p.setPen(QPen(colours().accent, 1, Qt::DotLine));
    p.drawLine(QPointF(word.left() + 3, word.bottom() - 1.5), QPointF(word.right() - 3, word.bottom() - 1.5));
  }
}

void CurveView::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton || !curve_) return;
  if (better_box().contains(event->position())) return emit better_wanted(*curve_->better_x);
  if (curve_->property.empty() || !curve_->working || !frame().field.adjusted(-4, -4, 4, 4).contains(event->position()))
    return;
  held_ = true;
  mouseMoveEvent(event);
}

void CurveView::mouseMoveEvent(QMouseEvent* event) {
  if (!curve_) return;
  const Graph f = frame();
  const double x = std::clamp(f.x_at(event->position().x()), f.from_x, f.to_x);
  if (held_) return emit dragged(std::max(x, f.to_x * 1e-3));
  const bool inside = f.field.contains(event->position());
  pointer_x_ = inside ? std::optional(x) : std::nullopt;
  setCursor(better_box().contains(event->position()) ? Qt::PointingHandCursor
            : inside && !curve_->property.empty()    ? Qt::SizeHorCursor
                                                     : Qt::ArrowCursor);
  update();
}

void CurveView::leaveEvent(QEvent*) {
  pointer_x_.reset();
  update();
}

}  // namespace pecorra

#include "moc_curve_view.cpp"
