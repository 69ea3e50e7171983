#include "app/cutting/curve_painter.h"

#include <QPainterPath>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/drawing/cutter_sheet.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

QString figure(double value, Quantity quantity, UnitSystem units) {
  // Chip and deflection are read in thousandths.
  if (quantity == Quantity::feed_per_tooth) return text_of(shown_thousandths(value, units));
  if (quantity == Quantity::force || quantity == Quantity::spindle_speed || quantity == Quantity::angle)
    return text_of(plain(value, 0));
  return text_of(shown(value, quantity, units));
}

QPainterPath path_of(const CurveSeries& s, const Graph& f) {
  QPainterPath path;
  bool first = true;
  for (const CurvePoint& p : s.points) {
    if (!std::isfinite(p.y)) {
      first = true;
      continue;
    }
    const QPointF at = f.at(p.x, p.y);
    first ? path.moveTo(at) : path.lineTo(at);
    first = false;
  }
  return path;
}

std::optional<double> y_at(const CurveSeries& s, double x) {
  for (std::size_t i = 1; i < s.points.size(); ++i) {
    const CurvePoint &a = s.points[i - 1], &b = s.points[i];
    if (x < a.x || x > b.x) continue;
    return b.x > a.x ? a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x) : b.y;
  }
  return std::nullopt;
}

}  // namespace

QString curve_title(const Curve& c, UnitSystem units) {
  return QStringLiteral("%1, %2").arg(
      label_text(label_of(c.kind)),
      text_of(c.y == Quantity::feed_per_tooth ? thousandths_unit(units) : unit_text(c.y, units)));
}

Graph frame_of(const Curve& c, const QRectF& box, const CurveLook& look) {
  const double letter = QFontMetricsF(look.plain).height(),
               wide = QFontMetricsF(look.plain).horizontalAdvance(QStringLiteral("0.0000"));
  Graph f;
  f.field = QRectF(box.left() + wide, box.top() + letter * 2.35, box.width() - wide - letter * 0.7,
                   box.height() - letter * 4.45);
  f.from_x = c.from_x;
  f.to_x = c.to_x;
  f.to_y = c.to_y;
  return f;
}

void paint_curve(QPainter& p, const QRectF& box, const Curve& c, UnitSystem units, const CurveLook& look,
                 const std::optional<double>& pointer_x) {
  const Colours& d = look.colours;
  const Graph f = frame_of(c, box, look);
  const double letter = QFontMetricsF(look.plain).height(), px = look.pixel;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setFont(look.bold);
  p.setPen(d.heading);
  draw_line(p, QRectF(box.left(), box.top(), box.width(), letter * 1.25), Qt::AlignLeft | Qt::AlignVCenter,
            curve_title(c, units));
  p.setFont(look.plain);

  // Quiet grid, figures on both axes.
  const double y_unit = stored_per_shown(c.y, units), x_unit = stored_per_shown(c.x, units);
  const double y_step = nice_length(c.to_y / y_unit / 2.4) * y_unit;
  paint_grid(p, f, box.left(), y_step, d, px, [&](double y) { return figure(y, c.y, units); });
  // As many labels as fit without touching.
  const double label_wide = QFontMetricsF(look.plain).horizontalAdvance(figure(c.to_x, c.x, units)) * 1.45,
               range = c.to_x - c.from_x;
  double x_step = c.x == Quantity::angle ? 90 : nice_length(range / x_unit) * x_unit;
  if (c.x != Quantity::angle)
    for (double parts = 1.5; parts <= 6; parts += 0.5) {
      const double step = nice_length(range / x_unit / parts) * x_unit;
      if ((range / step + 1) * label_wide < f.field.width()) x_step = step;
    }
  for (double x = std::ceil(c.from_x / x_step - 1e-9) * x_step; x <= c.to_x * 1.0001; x += x_step) {
    const QPointF at = f.at(x, 0);
    p.setPen(QPen(d.line, px));
    p.drawLine(at, at + QPointF(0, 3 * px));
    const QString text = c.x == Quantity::angle ? figure(x, c.x, units) + QStringLiteral("°") : figure(x, c.x, units);
    const double wide = QFontMetricsF(look.plain).horizontalAdvance(text);
    const double left = std::clamp(at.x() - wide / 2, box.left(), box.right() - wide);
    p.setPen(d.quiet);
    p.drawText(QRectF(left, at.y() + 2 * px, wide + 2, letter), Qt::AlignLeft | Qt::AlignVCenter, text);
  }
  const QString x_unit_text = c.x == Quantity::angle ? QString() : text_of(unit_text(c.x, units));
  p.setPen(d.quiet);
  p.drawText(QRectF(f.field.left(), f.field.bottom() + letter * 1.05, f.field.width(), letter * 0.95),
             Qt::AlignRight | Qt::AlignVCenter,
             c.x_symbol.empty() || x_unit_text.isEmpty()
                 ? label_text(c.x_label)
                 : QStringLiteral("%1, %2").arg(label_text(c.x_label), x_unit_text));

  p.save();
  p.setClipRect(f.field.adjusted(-1, -1, 1, 1));
  // The stable area is tinted, so that its pockets stand out.
  for (const CurveSeries& s : c.series) {
    if (c.kind != CurveKind::stability || s.role != SeriesRole::main || s.points.empty()) continue;
    QPainterPath area = path_of(s, f);
    area.lineTo(f.at(s.points.back().x, 0));
    area.lineTo(f.at(s.points.front().x, 0));
    area.closeSubpath();
    QColor tint = d.good;
    tint.setAlphaF(0.22f);
    p.fillPath(area, tint);
  }
  // With process damping the lobes are too pessimistic.
  if (c.damped_to_x > c.from_x) {
    const QRectF quiet(f.field.left(), f.field.top(), f.at(c.damped_to_x, 0).x() - f.field.left(), f.field.height());
    QColor veil = d.side;
    veil.setAlphaF(0.75f);
    p.fillRect(quiet, veil);
    p.setPen(d.quiet);
    if (quiet.height() > 7 * letter)
      p.drawText(quiet.adjusted(4 * px, c.working && c.working->y > c.to_y ? letter * 1.3 : 2 * px, -2 * px, -2 * px),
                 Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                 QObject::tr("deeper cuts are stable here: process damping"));
  }
  const auto pen_of = [&](const CurveSeries& s) {
    switch (s.role) {
      case SeriesRole::main: return QPen(d.accent, 1.8 * px);
      case SeriesRole::second: return QPen(d.accent, 1.2 * px, Qt::DashLine);
      case SeriesRole::limit: return QPen(d.error, 1.4 * px);
      case SeriesRole::short_time: return QPen(d.error, 1.1 * px, Qt::DashLine);
      case SeriesRole::tooth: break;
    }
    return QPen(s.tooth % 2 == 0 ? d.quiet : d.heading, 0.9 * px);
  };
  // From a sharp to a worn edge.
  if (c.band)
    for (const CurveSeries& s : c.series)
      if (s.role == SeriesRole::main) {
        CurveSeries low = s, high = s;
        for (CurvePoint& at : low.points) at.y *= c.band->low;
        for (CurvePoint& at : high.points) at.y *= c.band->high;
        QPainterPath area = path_of(high, f);
        area.connectPath(path_of(low, f).toReversed());
        QColor shade = d.accent;
        shade.setAlphaF(0.16f);
        p.fillPath(area, shade);
      }
  for (const bool teeth : {true, false})
    for (const CurveSeries& s : c.series)
      if ((s.role == SeriesRole::tooth) == teeth) {
        p.setPen(pen_of(s));
        p.setBrush(Qt::NoBrush);
        p.drawPath(path_of(s, f));
      }
  if (c.better_x) {
    const double x = f.at(*c.better_x, 0).x();
    p.setPen(QPen(d.good, 1.2 * px, Qt::DotLine));
    p.drawLine(QPointF(x, f.field.top()), QPointF(x, f.field.bottom()));
  }
  if (pointer_x) {
    const double x = f.at(*pointer_x, 0).x();
    p.setPen(QPen(d.quiet, px, Qt::DotLine));
    p.drawLine(QPointF(x, f.field.top()), QPointF(x, f.field.bottom()));
  }
  p.restore();
  if (c.working) {
    const bool above = c.working->y > c.to_y;
    const QPointF at = f.at(std::clamp(c.working->x, c.from_x, c.to_x), std::clamp(c.working->y, 0.0, c.to_y));
    p.setPen(QPen(d.raised, 1.6 * px));
    p.setBrush(d.ink);
    if (above) {
      // Beyond the picture: an arrow at its edge.
      QPolygonF arrow;
      arrow << at + QPointF(0, 1 * px) << at + QPointF(-5 * px, 10 * px) << at + QPointF(5 * px, 10 * px);
      p.drawPolygon(arrow);
      const QString text = figure(c.working->y, c.y, units);
      p.setPen(d.ink);
      p.drawText(QRectF(at.x() + 8 * px, at.y() + 1 * px, 80 * px, letter), Qt::AlignLeft | Qt::AlignVCenter, text);
    } else {
      p.drawEllipse(at, 4.6 * px, 4.6 * px);
    }
  }

  // Names of the lines in a row above the field; what the pointer reads takes their place.
  p.setFont(look.plain);
  QStringList words;
  std::vector<QPen> pens;
  for (const CurveSeries& s : c.series) {
    if (s.role == SeriesRole::tooth && s.tooth > 1) continue;
    QString word = s.role == SeriesRole::tooth ? QObject::tr("each tooth") : label_text(s.label);
    if (pointer_x) {
      const auto y = y_at(s, *pointer_x);
      if (s.role == SeriesRole::tooth || !y) continue;
      word = figure(*y, c.y, units);
    }
    words << word;
    pens.push_back(pen_of(s));
  }
  if (pointer_x) {
    words.prepend(figure(*pointer_x, c.x, units) + (c.x == Quantity::angle ? QStringLiteral("°") : QString()));
    pens.insert(pens.begin(), QPen(d.quiet, px, Qt::DotLine));
  }
  const double line_width = letter * 0.9, gap = letter * 0.35;
  const QFontMetricsF metrics(look.plain);
  double x = box.left() + 1;
  const double y = box.top() + letter * 1.2;
  for (qsizetype i = 0; i < words.size(); ++i) {
    const double wide = line_width + gap + metrics.horizontalAdvance(words[i]);
    p.setPen(pens[static_cast<std::size_t>(i)]);
    p.drawLine(QPointF(x, y + letter / 2), QPointF(x + line_width, y + letter / 2));
    p.setPen(d.ink);
    draw_line(p, QRectF(x + line_width + gap, y, std::min(wide, box.right() - x - line_width - gap), letter),
              Qt::AlignLeft | Qt::AlignVCenter, words[i]);
    x += wide + letter * 0.6;
  }
  p.restore();
}

}  // namespace pecorra
