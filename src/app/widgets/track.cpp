#include "app/widgets/track.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "core/quantity/print.h"

namespace pecorra {
namespace {
constexpr double edge = 7;
}

Track::Track(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setFixedHeight(18);
  setMinimumWidth(80);
  setCursor(Qt::SizeHorCursor);
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void Track::set_range(double low, double high, bool steep) {
  if (held_) return;  // not while being dragged
  low_ = low;
  high_ = std::max(high, low * 1.001 + 1e-9);
  steep_ = steep && low > 0;
  update();
}

void Track::show_value(std::optional<double> value, std::optional<double> usual, Quantity quantity, UnitSystem units) {
  value_ = value;
  usual_ = usual;
  quantity_ = quantity;
  units_ = units;
  setEnabled(value.has_value());
  update();
}

double Track::x_of(double value) const {
  const double v = std::clamp(value, low_, high_);
  const double share = steep_ ? std::log(v / low_) / std::log(high_ / low_) : (v - low_) / (high_ - low_);
  return edge + share * (width() - 2 * edge);
}

double Track::value_at(double x) const {
  const double share = std::clamp((x - edge) / std::max(1.0, width() - 2 * edge), 0.0, 1.0);
  return steep_ ? low_ * std::pow(high_ / low_, share) : low_ + share * (high_ - low_);
}

double Track::step() const {
  const double here = value_.value_or(low_),
               pixel = steep_ ? here * (std::pow(high_ / low_, 1.0 / std::max(1, width())) - 1)
                              : (high_ - low_) / std::max(1, width());
  // 1, 2 or 5 of a decimal power, in the unit that is shown.
  const double unit = stored_per_shown(quantity_, units_), in_unit = std::max(1e-6, pixel / unit),
               power = std::pow(10, std::floor(std::log10(in_unit)));
  const double m = in_unit / power;
  return (m <= 1 ? 1 : m <= 2 ? 2 : m <= 5 ? 5 : 10) * power * unit;
}

void Track::move_to(double value) {
  const double size = step(),
               snapped = std::clamp(std::round(value / size) * size, std::ceil(low_ / size - 1e-9) * size, high_);
  if (value_ && std::abs(*value_ - snapped) < size * 1e-6) return;
  value_ = snapped;
  update();
  emit moved(snapped);
}

void Track::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton || !value_) return;
  held_ = true;
  move_to(value_at(event->position().x()));
}

void Track::mouseMoveEvent(QMouseEvent* event) {
  if (held_) move_to(value_at(event->position().x()));
}

void Track::keyPressEvent(QKeyEvent* event) {
  const bool more = event->key() == Qt::Key_Right || event->key() == Qt::Key_Up,
             less = event->key() == Qt::Key_Left || event->key() == Qt::Key_Down;
  if (!value_ || (!more && !less)) return QWidget::keyPressEvent(event);
  const double by = step() * (event->modifiers() & Qt::ShiftModifier ? 10 : 1);
  move_to(*value_ + (more ? by : -by));
}

void Track::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Colours& d = colours();
  const double y = height() / 2.0;
  p.setPen(Qt::NoPen);
  p.setBrush(d.side);
  p.drawRoundedRect(QRectF(edge, y - 2.5, width() - 2 * edge, 5), 2.5, 2.5);
  if (!value_) return;
  p.setBrush(d.lit.darker(106));
  p.drawRoundedRect(QRectF(edge, y - 2.5, x_of(*value_) - edge, 5), 2.5, 2.5);
  if (usual_) {
    p.setPen(QPen(d.quiet, 1.4));
    p.drawLine(QPointF(x_of(*usual_), y - 7), QPointF(x_of(*usual_), y + 7));
  }
  const bool changed = usual_ && std::abs(*usual_ - *value_) > 1e-9 * std::abs(*usual_);
  p.setPen(QPen(hasFocus() ? d.ink : d.raised, 1.6));
  p.setBrush(changed ? d.heading : d.accent);
  p.drawEllipse(QPointF(x_of(*value_), y), 6, 6);
}

}  // namespace pecorra

#include "moc_track.cpp"
