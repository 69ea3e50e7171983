#include "app/holders/holder_drawing.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "core/drawing/cutter_sheet.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr double top_room = 12, bottom_room = 26, side_room = 90;

}  // namespace

HolderDrawing::HolderDrawing(QWidget* parent) : QWidget(parent) {
  setMouseTracking(true);
  setMinimumHeight(200);
  setMaximumHeight(260);
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void HolderDrawing::show_holder(const Holder* holder, UnitSystem units) {
  holder_ = holder ? std::optional(*holder) : std::nullopt;
  units_ = units;
  update();
}

void HolderDrawing::set_lit(int station) {
  if (lit_ == station) return;
  lit_ = station;
  update();
}

double HolderDrawing::scale() const {
  if (frozen_scale_ > 0) return frozen_scale_;
  double widest = 10, longest = 10;
  if (holder_)
    for (const Station& s : holder_->stations) {
      widest = std::max(widest, s.diameter_mm);
      longest = std::max(longest, s.distance_mm);
    }
  return std::min((height() - top_room - bottom_room) / longest, (width() - 2 * side_room) / widest);
}

QPointF HolderDrawing::place_of(std::size_t i) const {
  const Station& s = holder_->stations[i];
  return {width() / 2.0 + s.diameter_mm / 2 * scale(), height() - bottom_room - s.distance_mm * scale()};
}

void HolderDrawing::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Colours& d = colours();
  if (!holder_ || holder_->stations.size() < 2) {
    p.setPen(d.quiet);
    p.setFont(Look::get().text(12));
    p.drawText(rect().adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap,
               holder_
                   ? tr("Enter its stations below: distance from the face on the cutter side, and the diameter there")
                   : tr("No holder selected"));
    return;
  }
  const double axis = width() / 2.0, face = height() - bottom_room;
  QPainterPath shape;
  for (std::size_t i = 0; i < holder_->stations.size(); ++i)
    i == 0 ? shape.moveTo(place_of(i)) : shape.lineTo(place_of(i));
  for (std::size_t i = holder_->stations.size(); i-- > 0;) shape.lineTo(2 * axis - place_of(i).x(), place_of(i).y());
  shape.closeSubpath();
  p.save();
  p.setClipPath(shape);
  p.setPen(QPen(d.heading, 0.7));
  const QRectF b = shape.boundingRect();
  for (double x = b.left() - b.height(); x < b.right(); x += 7)
    p.drawLine(QPointF(x, b.bottom()), QPointF(x + b.height(), b.top()));
  p.restore();
  p.setPen(QPen(d.heading, 1.3));
  p.setBrush(Qt::NoBrush);
  p.drawPath(shape);
  // The shank it clamps.
  if (holder_->clamp_to_mm) {
    const double r = *holder_->clamp_to_mm / 2 * scale(),
                 depth = std::min(holder_->clamp_length_mm.value_or(0), holder_->stations.back().distance_mm) * scale();
    p.setPen(QPen(d.accent, 1, Qt::DashLine));
    p.drawRect(QRectF(axis - r, face - depth, 2 * r, depth + 10));
  }
  p.setPen(QPen(d.quiet, 0.8, Qt::DashDotLine));
  p.drawLine(QPointF(axis, top_room - 6), QPointF(axis, face + 14));

  // Diameters to the right, distances to the left, as far as there is room for each.
  p.setFont(Look::get().text(11));
  double widest = 0;
  for (std::size_t i = 0; i < holder_->stations.size(); ++i) widest = std::max(widest, place_of(i).x() - axis);
  double free_right = 1e9, free_left = 1e9;
  for (std::size_t i = 0; i < holder_->stations.size(); ++i) {
    const Station& s = holder_->stations[i];
    const QPointF q = place_of(i);
    const bool lit = static_cast<int>(i) == lit_ || static_cast<int>(i) == dragged_;
    p.setPen(QPen(lit ? d.accent : d.heading, 1.4));
    p.setBrush(lit ? d.accent : d.raised);
    p.drawEllipse(q, 3.4, 3.4);
    p.setPen(lit ? d.accent : d.ink);
    if (free_right - q.y() >= 14 || lit) {
      p.drawText(QRectF(axis + widest + 10, q.y() - 8, side_room, 16), Qt::AlignLeft | Qt::AlignVCenter,
                 QStringLiteral("Ø") + text_of(shown(s.diameter_mm, Quantity::length, units_)));
      free_right = q.y();
    }
    if (free_left - q.y() >= 14 || lit) {
      p.setPen(lit ? d.accent : d.quiet);
      p.drawText(QRectF(0, q.y() - 8, axis - widest - 10, 16), Qt::AlignRight | Qt::AlignVCenter,
                 text_of(shown(s.distance_mm, Quantity::length, units_)));
      free_left = q.y();
    }
  }
  const double unit = is_inch(units_) ? mm_per_inch : 1, bar = nice_length(60 / scale() / unit) * unit;
  p.setPen(QPen(d.quiet, 1));
  const double y = height() - 6;
  p.drawLine(QPointF(8, y), QPointF(8 + bar * scale(), y));
  for (const double x : {8.0, 8 + bar * scale()}) p.drawLine(QPointF(x, y - 3), QPointF(x, y + 3));
  p.drawText(QRectF(13 + bar * scale(), y - 9, 80, 16), Qt::AlignLeft | Qt::AlignVCenter,
             text_of(shown_with_unit(bar, Quantity::length, units_)));
}

int HolderDrawing::station_at(QPointF point) const {
  if (!holder_) return -1;
  for (std::size_t i = 0; i < holder_->stations.size(); ++i)
    if (QLineF(place_of(i), point).length() <= 6) return static_cast<int>(i);
  return -1;
}

void HolderDrawing::mousePressEvent(QMouseEvent* event) {
  dragged_ = station_at(event->position());
  if (dragged_ < 0) return;
  frozen_scale_ = scale();
  moved_ = false;
  emit station_clicked(dragged_);
}

void HolderDrawing::mouseMoveEvent(QMouseEvent* event) {
  if (dragged_ < 0) {
    setCursor(station_at(event->position()) >= 0 ? Qt::SizeAllCursor : Qt::ArrowCursor);
    return;
  }
  moved_ = true;
  const double per_pixel = 1 / scale();
  const auto i = static_cast<std::size_t>(dragged_);
  // A station stays between its neighbours.
  double distance = (height() - bottom_room - event->position().y()) * per_pixel;
  if (i > 0) distance = std::max(distance, holder_->stations[i - 1].distance_mm);
  else distance = 0;
  if (i + 1 < holder_->stations.size()) distance = std::min(distance, holder_->stations[i + 1].distance_mm);
  const double snapped = distance <= 0 ? 0 : snapped_mm(distance, per_pixel, units_);
  last_ = {snapped, snapped_mm(2 * std::abs(event->position().x() - width() / 2.0) * per_pixel, per_pixel * 2, units_)};
  holder_->stations[i] = last_;
  update();
  emit station_dragged(dragged_, last_.distance_mm, last_.diameter_mm, false);
}

void HolderDrawing::mouseReleaseEvent(QMouseEvent*) {
  const int station = dragged_;
  dragged_ = -1;
  frozen_scale_ = 0;
  if (station >= 0 && moved_) emit station_dragged(station, last_.distance_mm, last_.diameter_mm, true);
  update();
}

}  // namespace pecorra

#include "moc_holder_drawing.cpp"
