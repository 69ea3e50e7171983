#include "app/tables/row_curve.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/look/look.h"
#include "core/drawing/cutter_sheet.h"
#include "core/quantity/print.h"
#include "core/tables/between_rows.h"
#include "shop/words.h"

namespace pecorra {

RowCurve::RowCurve(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("row_curve"));
  setAccessibleName(tr("Cutting speed and feed over the diameter"));
  setMinimumHeight(190);
  setMouseTracking(true);
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

std::optional<double> RowCurve::value_of(const ConditionRow& row, bool speed) {
  return pecorra::value_of(row, speed ? CurveValue::speed : CurveValue::feed);
}

void RowCurve::show_curve(std::vector<ConditionRow> rows, const Id& lit, std::optional<double> cutter_mm, bool editable,
                          UnitSystem units) {
  if (held_ && moved_) return;  // not while it is being dragged
  std::erase_if(rows, [](const ConditionRow& r) { return !r.diameter_mm; });
  std::stable_sort(rows.begin(), rows.end(),
                   [](const ConditionRow& a, const ConditionRow& b) { return *a.diameter_mm < *b.diameter_mm; });
  rows_ = std::move(rows);
  lit_ = lit;
  cutter_mm_ = cutter_mm;
  editable_ = editable;
  units_ = units;
  low_mm_ = rows_.empty() ? 0 : *rows_.front().diameter_mm;
  high_mm_ = rows_.empty() ? 1 : *rows_.back().diameter_mm;
  if (cutter_mm_) low_mm_ = std::min(low_mm_, *cutter_mm_), high_mm_ = std::max(high_mm_, *cutter_mm_);
  const double room = std::max(0.08 * (high_mm_ - low_mm_), 0.05 * high_mm_);
  low_mm_ -= room;
  high_mm_ += room;
  update();
}

RowCurve::Pane RowCurve::pane(bool speed) const {
  const QRectF all = QRectF(rect()).adjusted(44, 6, -10, -18);
  const double half = (all.height() - 16) / 2;
  Pane pane;
  pane.speed = speed;
  pane.field = QRectF(all.left(), speed ? all.top() : all.top() + half + 16, all.width(), half);
  pane.from_x = low_mm_;
  pane.to_x = std::max(high_mm_, low_mm_ + 1e-9);
  pane.to_y = 0;
  for (const ConditionRow& r : rows_)
    for (const auto& v : speed ? std::array{r.vc_m_min, r.vc_low_m_min, r.vc_high_m_min}
                               : std::array{r.feed_mm, r.feed_low_mm, r.feed_high_mm})
      pane.to_y = std::max(pane.to_y, v.value_or(0));
  pane.to_y = pane.to_y > 0 ? pane.to_y * 1.2 : 1;
  return pane;
}

QPointF RowCurve::place(const ConditionRow& row, bool speed) const {
  const Pane p = pane(speed);
  return p.at(row.diameter_mm.value_or(0), value_of(row, speed).value_or(0));
}

void RowCurve::draw_pane(QPainter& p, const Pane& pane) const {
  const Colours& d = colours();
  const QRectF f = pane.field;
  const Quantity quantity = pane.speed ? Quantity::cutting_speed : Quantity::feed_per_tooth;
  const double per_shown = stored_per_shown(quantity, units_);
  const double step = nice_length(pane.to_y / per_shown / 2.2);
  p.setFont(Look::get().text(10.5));
  paint_grid(p, pane, 0, step * per_shown, d, 1, [&](double v) { return text_of(plain(v / per_shown, 5)); });
  p.setPen(d.quiet);
  const QString feed = rows_.empty() || rows_.front().feed_kind == FeedKind::per_tooth ? tr("per tooth")
                       : rows_.front().feed_kind == FeedKind::per_revolution           ? tr("per revolution")
                                                                                       : tr("chip thickness");
  p.drawText(QRectF(f.left() + 4, f.top() - 1, f.width(), 14), Qt::AlignLeft | Qt::AlignTop,
             pane.speed ? tr("vc %1").arg(text_of(unit_text(quantity, units_)))
                        : tr("%1, %2").arg(feed, text_of(unit_text(quantity, units_))));
  // The range between low and high, where rows state it.
  QPolygonF band;
  for (const ConditionRow& r : rows_)
    if (const auto high = pane.speed ? r.vc_high_m_min : r.feed_high_mm) band << pane.at(*r.diameter_mm, *high);
  for (auto r = rows_.rbegin(); r != rows_.rend(); ++r)
    if (const auto low = pane.speed ? r->vc_low_m_min : r->feed_low_mm) band << pane.at(*r->diameter_mm, *low);
  if (band.size() >= 3) {
    QColor tint = d.accent;
    tint.setAlpha(38);
    p.setPen(Qt::NoPen);
    p.setBrush(tint);
    p.drawPolygon(band);
  }
  QPolygonF line;
  for (const ConditionRow& r : rows_)
    if (const auto v = value_of(r, pane.speed)) line << pane.at(*r.diameter_mm, *v);
  if (line.isEmpty()) return;
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(d.accent, 2));
  p.drawPolyline(line);
  // Beyond the last rows only with a mark: dashed.
  p.setPen(QPen(d.warning, 1.4, Qt::DashLine));
  p.drawLine(line.back(), QPointF(f.right(), line.back().y()));
  const double first = *rows_.front().diameter_mm;
  const double first_value = value_of(rows_.front(), pane.speed).value_or(0);
  p.drawLine(line.front(), pane.at(low_mm_, pane.speed ? first_value : first_value * std::max(0.0, low_mm_) / first));
  for (const ConditionRow& r : rows_) {
    const auto v = value_of(r, pane.speed);
    if (!v) continue;
    paint_handle(p, pane.at(*r.diameter_mm, *v), r.proven ? d.good : d.accent, r.id == lit_, d);
  }
  if (!cutter_mm_) return;
  const double value = value_between(rows_, pane.speed ? CurveValue::speed : CurveValue::feed, *cutter_mm_).value_or(0);
  const QPointF at = pane.at(*cutter_mm_, value);
  const double x = at.x();
  p.setPen(QPen(d.heading, 1, Qt::DashDotLine));
  p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
  p.setPen(Qt::NoPen);
  p.setBrush(d.heading);
  p.drawPolygon(QPolygonF{{x - 4.5, at.y()}, {x, at.y() - 4.5}, {x + 4.5, at.y()}, {x, at.y() + 4.5}});
  p.setPen(d.heading);
  p.setFont(Look::get().text(11, true));
  const QString text = text_of(shown(value, quantity, units_));
  const double wide = p.fontMetrics().horizontalAdvance(text) + 4;
  const bool left = x + wide + 8 > f.right();
  p.drawText(QRectF(left ? x - wide - 6 : x + 7, at.y() - 20, wide, 16), Qt::AlignLeft | Qt::AlignVCenter, text);
}

void RowCurve::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Colours& d = colours();
  if (rows_.empty()) {
    p.setPen(d.quiet);
    p.setFont(Look::get().text(12));
    p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, tr("The curve appears with the first diameter."));
    return;
  }
  const Pane speed = pane(true), feed = pane(false);
  draw_pane(p, speed);
  draw_pane(p, feed);
  p.setFont(Look::get().text(10.5));
  double last = -100;
  for (const ConditionRow& r : rows_) {
    const double x = feed.at(*r.diameter_mm, 0).x();
    const QString text = QStringLiteral("Ø") + text_of(shown(*r.diameter_mm, Quantity::length, units_));
    const double half = p.fontMetrics().horizontalAdvance(text) / 2.0;
    if (x - half < last + 6) continue;
    last = x + half;
    p.setPen(r.id == lit_ ? d.ink : d.quiet);
    p.drawText(QRectF(x - half - 1, feed.field.bottom() + 3, 2 * half + 2, 14), Qt::AlignHCenter | Qt::AlignTop, text);
  }
}

std::pair<int, bool> RowCurve::point_at(QPointF at) const {
  for (const bool speed : {true, false})
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      if (!value_of(rows_[i], speed)) continue;
      if (takes(place(rows_[i], speed), at)) return {static_cast<int>(i), speed};
    }
  return {-1, false};
}

void RowCurve::mousePressEvent(QMouseEvent* event) {
  const auto at = point_at(event->position());
  if (event->button() != Qt::LeftButton || at.first < 0) return;
  held_ = at;
  moved_ = false;
  emit row_clicked(rows_[static_cast<std::size_t>(at.first)].id);
}

void RowCurve::mouseMoveEvent(QMouseEvent* event) {
  if (!held_) {
    setCursor(point_at(event->position()).first < 0 ? Qt::ArrowCursor
              : editable_                           ? Qt::SizeVerCursor
                                                    : Qt::PointingHandCursor);
    return;
  }
  if (!editable_) return;
  const Pane p = pane(held_->second);
  const double per_shown = stored_per_shown(p.speed ? Quantity::cutting_speed : Quantity::feed_per_tooth, units_);
  const double raw = p.y_at(event->position().y()) / per_shown;
  const double step = nice_length(p.to_y / per_shown / p.field.height());
  const double value = std::max(step, std::round(raw / step) * step) * per_shown;
  auto& row = rows_[static_cast<std::size_t>(held_->first)];
  std::optional<double>& target = p.speed ? row.vc_m_min : row.feed_mm;
  if (target == value) return;
  target = value;
  moved_ = true;
  update();
}

void RowCurve::mouseReleaseEvent(QMouseEvent*) {
  if (!held_) return;
  const auto [at, speed] = *held_;
  held_.reset();
  if (!moved_) return;
  moved_ = false;
  const ConditionRow row = rows_[static_cast<std::size_t>(at)];
  emit dragged(row.id, speed, *value_of(row, speed));
}

}  // namespace pecorra

#include "moc_row_curve.cpp"
