#include "app/widgets/sheet_painter.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/look/look.h"

namespace pecorra {
namespace {

void append(QPainterPath& path, const ProfileSegment& s, bool mirrored, bool backwards) {
  const double side = mirrored ? -1 : 1;
  const ProfilePoint from = backwards ? s.to : s.from, to = backwards ? s.from : s.to;
  if (!s.arc) {
    path.lineTo(side * to.x, to.y);
    return;
  }
  const double r = std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y);
  const QRectF box(side * s.centre.x - r, s.centre.y - r, 2 * r, 2 * r);
  const double a = std::atan2(from.y - s.centre.y, side * (from.x - s.centre.x)),
               b = std::atan2(to.y - s.centre.y, side * (to.x - s.centre.x));
  // Qt measures angles against y downwards; here y is up.
  path.arcTo(box, -a * 180 / std::numbers::pi, -std::remainder(b - a, 2 * std::numbers::pi) * 180 / std::numbers::pi);
}

QPainterPath both_sides(const std::vector<ProfileSegment>& segments) {
  QPainterPath path;
  if (segments.empty()) return path;
  path.moveTo(segments.front().from.x, segments.front().from.y);
  for (const ProfileSegment& s : segments) append(path, s, false, false);
  path.lineTo(-segments.back().to.x, segments.back().to.y);
  for (auto it = segments.rbegin(); it != segments.rend(); ++it) append(path, *it, true, true);
  path.closeSubpath();
  return path;
}

// The cutting edges alone: open lines, so that no line closes them where nothing cuts.
QPainterPath edges(const Profile& profile) {
  QPainterPath path;
  for (const bool mirrored : {false, true}) {
    ProfilePoint at{-1e9, 0};
    for (const ProfileSegment& s : profile) {
      if (s.role != ProfileRole::cutting) continue;
      if (at.x != s.from.x || at.y != s.from.y) path.moveTo(mirrored ? -s.from.x : s.from.x, s.from.y);
      append(path, s, mirrored, false);
      at = s.to;
    }
  }
  return path;
}

void draw_hatched(QPainter& p, const QPainterPath& shape, const QColor& colour) {
  p.save();
  p.setClipPath(shape, Qt::IntersectClip);
  p.setPen(QPen(colour, 0.7));
  const QRectF b = shape.boundingRect();
  for (double x = b.left() - b.height(); x < b.right(); x += 7)
    p.drawLine(QPointF(x, b.bottom()), QPointF(x + b.height(), b.top()));
  p.restore();
  p.setPen(QPen(colour, 1.2));
  p.setBrush(Qt::NoBrush);
  p.drawPath(shape);
}

}  // namespace

QPainterPath silhouette_path(const Profile& profile) { return both_sides(profile); }

void draw_cutter_icon(QPainter& p, QRectF box, const Cutter& cutter, const QColor& colour) {
  const Profile profile = silhouette(cutter);
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  if (profile.empty()) {  // a draft
    p.setPen(QPen(colours().warning, 1.3, Qt::DashLine));
    p.drawRoundedRect(QRectF(box.center().x() - 4, box.top() + 2, 8, box.height() - 4), 2, 2);
    p.restore();
    return;
  }
  // The lower part tells kinds apart; what is longer than the box is cut off at the top.
  double widest = 0, cutting_top = 0;
  for (const ProfileSegment& s : profile) {
    if (s.role != ProfileRole::shank)
      widest = std::max({widest, s.from.x, s.to.x,
                         s.arc ? std::max({point_on(s, 0.3).x, point_on(s, 0.5).x, point_on(s, 0.7).x}) : 0.0});
    if (s.role == ProfileRole::cutting) cutting_top = std::max({cutting_top, s.from.y, s.to.y});
  }
  const double height = std::max(2 * widest * box.height() / box.width(),
                                 std::min(cutting_top > 0 ? cutting_top * 1.3 : 4 * widest, 5.2 * widest));
  const double scale = std::min((box.height() - 2) / height, (box.width() - 2) / (2 * widest));
  p.setClipRect(box, Qt::IntersectClip);
  p.translate(box.center().x(), box.bottom() - 1);
  p.scale(scale, -scale);
  p.setPen(QPen(colour, 1.1 / scale));
  p.setBrush(Qt::NoBrush);
  p.drawPath(both_sides(profile));
  p.restore();
}

void paint_sheet(QPainter& p, const CutterSheet& sheet, const SheetWish& wish, const SheetExtras& extras) {
  const Colours& d = extras.paper ? extras.paper->colours : colours();
  const auto font = [&](bool bold) {
    return extras.paper ? (bold ? extras.paper->bold : extras.paper->plain) : Look::get().text(11, bold);
  };
  p.setRenderHint(QPainter::Antialiasing);
  const DrawBox& w = sheet.window;
  const QRectF window(w.left - 2, w.top - 2, w.width() + 4, w.height() + 4);
  const auto at = [&](double x, double y) {
    const DrawPoint q = sheet.px(x, y);
    return QPointF(q.x, q.y);
  };
  QTransform to_screen;
  to_screen.translate(sheet.axis_x, sheet.tip_y);
  to_screen.scale(sheet.scale, -sheet.scale);
  p.save();
  p.setClipRect(window);

  // The work, what is taken away from it brighter.
  p.setPen(Qt::NoPen);
  for (const DrawnArea& area : sheet.material) {
    QColor colour = area.taken_away ? d.warning : d.cut;
    if (area.taken_away) colour.setAlpha(120);
    p.setBrush(colour);
    QPolygonF shape;
    for (const DrawPoint& q : area.points) shape << at(q.x, q.y);
    p.drawPolygon(shape);
  }

  if (!extras.ghost.empty()) {
    p.setPen(QPen(d.heading, 1, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawPath(to_screen.map(silhouette_path(extras.ghost)));
  }
  if (sheet.holder.size() > 1) {
    QPolygonF shape;
    for (const DrawPoint& q : sheet.holder) shape << at(q.x, q.y);
    for (auto q = sheet.holder.rbegin(); q != sheet.holder.rend(); ++q) shape << at(-q->x, q->y);
    QPainterPath path;
    path.addPolygon(shape);
    path.closeSubpath();
    draw_hatched(p, path, d.heading);
  }

  // Only what stands out is drawn; the rest is in the holder.
  p.save();
  const double cut_off = sheet.px(0, sheet.seen_to_mm).y - (sheet.holder.empty() ? 2 : 0);
  p.setClipRect(QRectF(window.left(), cut_off, window.width(), 1e6), Qt::IntersectClip);
  p.setPen(QPen(extras.faint ? d.quiet : d.ink, 1.1, extras.faint ? Qt::DashLine : Qt::SolidLine));
  if (extras.faint) p.setBrush(Qt::NoBrush);
  else p.setBrush(d.raised);
  p.drawPath(to_screen.map(silhouette_path(sheet.profile)));
  if (!extras.faint) {
    QColor flute = d.accent;
    flute.setAlpha(110);
    p.setPen(QPen(flute, 1));
    for (const auto& line : sheet.helix) {
      QPolygonF points;
      for (const DrawPoint& q : line) points << at(q.x, q.y);
      p.drawPolyline(points);
    }
    p.setPen(QPen(d.accent, 2.4, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
    p.setBrush(Qt::NoBrush);
    p.drawPath(to_screen.map(edges(sheet.profile)));
  }
  p.restore();
  p.setPen(QPen(d.quiet, 0.8, Qt::DashDotLine));
  p.drawLine(QPointF(sheet.axis_x, w.top), QPointF(sheet.axis_x, w.bottom));
  for (const DrawPoint& fault : extras.faults) {
    p.setPen(QPen(d.error, 2));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(at(fault.x, fault.y), 7, 7);
  }
  p.restore();

  // Dimensions.
  const auto text = [&](const QString& said, const DrawBox& b, bool upright) {
    p.save();
    p.translate((b.left + b.right) / 2, (b.top + b.bottom) / 2);
    if (upright) p.rotate(-90);
    const double long_side = upright ? b.height() : b.width();
    p.drawText(QRectF(-long_side / 2 - 20, -wish.letter_height, long_side + 40, 2 * wish.letter_height),
               Qt::AlignCenter, said);
    p.restore();
  };
  for (const DimensionMark& mark : sheet.marks) {
    const bool lit =
        !extras.lit.isEmpty() && extras.lit == QLatin1String(mark.key.data(), static_cast<qsizetype>(mark.key.size()));
    const QColor line = lit ? d.accent : mark.key == "ap_mm" || mark.key == "ae_mm" ? d.heading : d.quiet;
    p.setPen(QPen(line, lit ? 2.0 : 0.9));
    const QPointF from(mark.from.x, mark.from.y), to(mark.to.x, mark.to.y);
    p.drawLine(from, to);
    if (mark.is_leader) {
      p.setBrush(line);
      p.drawEllipse(from, 1.6, 1.6);
      p.setBrush(Qt::NoBrush);
    } else {
      const QPointF tick = mark.from.x == mark.to.x ? QPointF(4, 0) : QPointF(0, 4);
      for (const QPointF end : {from, to}) p.drawLine(end - tick, end + tick);
    }
    p.setFont(font(lit));
    p.setPen(lit ? d.accent : d.ink);
    text(QString::fromStdString(mark.text), mark.box, mark.upright);
  }

  p.setPen(QPen(d.quiet, 1));
  p.setFont(font(false));
  const QPointF bar(sheet.bar.x, sheet.bar.y), bar_end = bar + QPointF(sheet.bar_mm * sheet.scale, 0);
  p.drawLine(bar, bar_end);
  for (const QPointF end : {bar, bar_end}) p.drawLine(end - QPointF(0, 3), end + QPointF(0, 3));
  text(QString::fromStdString(sheet.bar_text), sheet.bar_box, false);
}

}  // namespace pecorra
