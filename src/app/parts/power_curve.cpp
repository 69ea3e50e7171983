#include "app/parts/power_curve.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "core/drawing/cutter_sheet.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

PowerCurve::PowerCurve(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(180);
  setMouseTracking(true);
  setFocusPolicy(Qt::ClickFocus);
  setObjectName(QStringLiteral("power_curve"));
  setAccessibleName(tr("Power over speed"));
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void PowerCurve::show_curves(const Points& continuous, const Points& peak, double max_rpm, bool edit_peak) {
  continuous_ = continuous;
  peak_ = peak;
  edit_peak_ = edit_peak;
  double rpm = max_rpm, most = 1;
  for (const Points* points : {&continuous_, &peak_})
    for (const PowerPoint& p : *points) {
      rpm = std::max(rpm, p.rpm);
      most = std::max(most, side(p));
    }
  most_rpm_ = rpm > 0 ? rpm : 10000;
  most_side_ = most * 1.15;
  update();
}

// Torque is 9550 · P / n, P in kW and n in rpm: mechanics.
double PowerCurve::side(const PowerPoint& p) const { return !torque_ ? p.kw : p.rpm > 0 ? 9550 * p.kw / p.rpm : 0; }

void PowerCurve::set_torque(bool torque) {
  torque_ = torque;
  show_curves(continuous_, peak_, most_rpm_, edit_peak_);
}

void PowerCurve::set_lit(int point) {
  if (lit_ == point) return;
  lit_ = point;
  update();
}

Graph PowerCurve::graph() const { return {QRectF(rect()).adjusted(34, 10, -12, -22), 0, most_rpm_, most_side_}; }

QPointF PowerCurve::place(const PowerPoint& p) const { return graph().at(p.rpm, side(p)); }

PowerPoint PowerCurve::value(QPointF at) const {
  const Graph g = graph();
  const double rpm = std::clamp(g.x_at(at.x()), 0.0, most_rpm_), at_side = std::clamp(g.y_at(at.y()), 0.0, most_side_);
  return {rpm, torque_ ? at_side * rpm / 9550 : at_side};
}

PowerPoint PowerCurve::snapped(PowerPoint v, std::size_t at) const {
  const Points& points = edit_peak_ ? peak_ : continuous_;
  const auto nearest = [](double x, double pixel) {
    const double step = nice_length(std::max(pixel * 2, 1e-6));
    return std::round(x / step) * step;
  };
  v.rpm = nearest(v.rpm, most_rpm_ / graph().field.width());
  const double kw_per_side = torque_ ? v.rpm / 9550 : 1;
  v.kw = std::round(nearest(side(v), most_side_ / graph().field.height()) * kw_per_side * 1000) / 1000;
  const double low = at > 0 ? points[at - 1].rpm + 1 : 0,
               high = at + 1 < points.size() ? points[at + 1].rpm - 1 : most_rpm_;
  v.rpm = std::clamp(v.rpm, low, std::max(low, high));
  return v;
}

int PowerCurve::point_at(QPointF at) const {
  const Points& points = edit_peak_ ? peak_ : continuous_;
  for (std::size_t i = 0; i < points.size(); ++i)
    if (takes(place(points[i]), at)) return static_cast<int>(i);
  return -1;
}

void PowerCurve::set_units(UnitSystem units) {
  units_ = units;
  update();
}

void PowerCurve::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Colours& d = colours();
  const Graph g = graph();
  const QRectF& f = g.field;
  p.setFont(Look::get().text(10.5));
  // A few round values on both sides.
  const double rpm_step = nice_length(most_rpm_ / 3), side_unit = stored_per_shown(side_quantity(), units_),
               side_step = nice_length(most_side_ / side_unit / 2.5) * side_unit;
  paint_grid(p, g, 0, side_step, d, 1, [&](double tick) { return text_of(plain(tick / side_unit, 1)); });
  for (double rpm = 0; rpm <= most_rpm_ * 1.0001; rpm += rpm_step) {
    const double x = place({rpm, 0}).x();
    p.setPen(d.quiet);
    const QString text = text_of(plain(rpm, 0));
    const double half = p.fontMetrics().horizontalAdvance(text) / 2.0 + 1;  // the last one stays inside
    p.drawText(QRectF(std::min(x - half, width() - 2 * half), f.bottom() + 4, 2 * half, 16),
               Qt::AlignHCenter | Qt::AlignTop, text);
  }
  p.drawText(QRectF(f.left() + 4, f.top() - 8, 120, 16), Qt::AlignLeft,
             tr("%1 over rpm").arg(text_of(unit_text(side_quantity(), units_))));
  const auto draw = [&](const Points& points, const QColor& colour, bool edited, bool dashed) {
    if (points.empty()) return;
    QPolygonF line;
    if (torque_) {  // even below the first point, a hyperbola where the power is
      constexpr int steps = 120;
      for (int i = 1; i <= steps; ++i)
        if (const auto kw = power_at_kw(points, most_rpm_ * i / steps)) line << place({most_rpm_ * i / steps, *kw});
    } else {
      if (points.front().rpm > 0) line << place({0, 0});  // torque is what limits there
      for (const PowerPoint& point : points) line << place(point);
      if (points.back().rpm < most_rpm_) line << place({most_rpm_, points.back().kw});
    }
    p.setPen(QPen(colour, edited ? 2 : 1.3, dashed ? Qt::DashLine : Qt::SolidLine));
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(line);
    if (!edited) return;
    for (std::size_t i = 0; i < points.size(); ++i)
      paint_handle(p, place(points[i]), colour, static_cast<int>(i) == lit_, d);
  };
  draw(peak_, d.warning, edit_peak_, true);
  draw(continuous_, d.accent, !edit_peak_, false);
  if (continuous_.empty() && peak_.empty()) {
    p.setPen(d.quiet);
    p.setFont(Look::get().text(12));
    p.drawText(f, Qt::AlignCenter | Qt::TextWordWrap,
               tr("No curve yet: double-click to add a point. Without a curve, power is not limited."));
  }
  if (hovered_rpm_)
    if (const auto kw = power_at_kw(edit_peak_ ? peak_ : continuous_, *hovered_rpm_)) {
      const QPointF at = place({*hovered_rpm_, *kw});
      p.setPen(QPen(d.quiet, 0.8, Qt::DotLine));
      p.drawLine(QPointF(at.x(), f.bottom()), at);
      p.setPen(d.ink);
      p.setFont(Look::get().text(11));
      const double torque = *hovered_rpm_ > 0 ? 9550 * *kw / *hovered_rpm_ : 0;
      p.drawText(QRectF(f.left(), f.bottom() - 18, f.width() - 4, 16), Qt::AlignRight,
                 tr("%1 rpm: %2, %3")
                     .arg(text_of(plain(*hovered_rpm_, 0)), quantity_text(*kw, Quantity::power, units_),
                          quantity_text(torque, Quantity::torque, units_)));
    }
}

void PowerCurve::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  const int at = point_at(event->position());
  set_lit(at);
  if (at < 0) return;
  dragged_ = at;
  moved_ = false;
  emit point_clicked(at);
}

void PowerCurve::mouseMoveEvent(QMouseEvent* event) {
  if (!dragged_) {
    hovered_rpm_ = value(event->position()).rpm;
    setCursor(point_at(event->position()) >= 0 ? Qt::SizeAllCursor : Qt::ArrowCursor);
    update();
    return;
  }
  const auto at = static_cast<std::size_t>(*dragged_);
  if (at >= edited().size()) return;
  moved_ = true;
  hovered_rpm_.reset();
  edited()[at] = snapped(value(event->position()), at);
  update();
  emit changed(edited(), false, {});
}

void PowerCurve::mouseReleaseEvent(QMouseEvent*) {
  if (!dragged_) return;
  const auto at = static_cast<std::size_t>(*dragged_);
  dragged_.reset();
  if (moved_ && at < edited().size())
    emit changed(
        Points(edited()), true,
        tr("point %1: %2 at %3 rpm")
            .arg(at + 1)
            .arg(quantity_text(edited()[at].kw, Quantity::power, units_), text_of(plain(edited()[at].rpm, 0))));
}

void PowerCurve::mouseDoubleClickEvent(QMouseEvent* event) {
  if (point_at(event->position()) >= 0) return;
  const PowerPoint fresh = value(event->position());
  Points points = edited();
  const auto place_of = std::lower_bound(points.begin(), points.end(), fresh,
                                         [](const PowerPoint& a, const PowerPoint& b) { return a.rpm < b.rpm; });
  const auto at = static_cast<std::size_t>(place_of - points.begin());
  points.insert(place_of, fresh);
  edited() = points;
  points[at] = snapped(fresh, at);
  emit changed(points, true, tr("point %1 added").arg(at + 1));
}

void PowerCurve::keyPressEvent(QKeyEvent* event) {
  if ((event->key() != Qt::Key_Delete && event->key() != Qt::Key_Backspace) || lit_ < 0 ||
      static_cast<std::size_t>(lit_) >= edited().size())
    return QWidget::keyPressEvent(event);
  Points points = edited();
  points.erase(points.begin() + lit_);
  const int gone = std::exchange(lit_, -1);
  emit changed(points, true, tr("point %1 removed").arg(gone + 1));
}

void PowerCurve::leaveEvent(QEvent*) {
  hovered_rpm_.reset();
  update();
}

}  // namespace pecorra

#include "moc_power_curve.cpp"
