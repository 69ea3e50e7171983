#include "app/widgets/cutter_drawing.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/look/look.h"
#include "core/quantity/print.h"
#include "shop/words.h"

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
  const double a = std::atan2(from.y - s.centre.y, side * (from.x - s.centre.x)), b = std::atan2(to.y - s.centre.y, side * (to.x - s.centre.x));
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

}  // namespace

double nice_length(double longest) {
  const double power = std::pow(10, std::floor(std::log10(longest)));
  for (const double step : {5.0, 2.0, 1.0})
    if (step * power <= longest) return step * power;
  return power;
}

QPainterPath silhouette_path(const Profile& profile) { return both_sides(profile); }

QPainterPath cutting_path(const Profile& profile) {
  std::vector<ProfileSegment> cutting;
  for (const ProfileSegment& s : profile)
    if (s.role == ProfileRole::cutting) cutting.push_back(s);
  return both_sides(cutting);
}

void draw_cutter_icon(QPainter& p, QRectF box, const Cutter& cutter, const QColor& colour) {
  const Profile profile = silhouette(cutter);
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  if (profile.empty()) {  // a draft
    p.setPen(QPen(dyes().weld, 1.3, Qt::DashLine));
    p.drawRoundedRect(QRectF(box.center().x() - 4, box.top() + 2, 8, box.height() - 4), 2, 2);
    p.restore();
    return;
  }
  const QPainterPath path = silhouette_path(profile);
  const QRectF b = path.boundingRect();
  // The lower part tells kinds apart; very long cutters are cut off at the top.
  const double height = std::min(b.height(), b.width() * 2.6);
  const double scale = std::min((box.height() - 2) / height, (box.width() - 2) / b.width());
  p.setClipRect(box);
  p.translate(box.center().x(), box.bottom() - 1);
  p.scale(scale, -scale);
  p.setPen(QPen(colour, 1.3 / scale));
  p.setBrush(Qt::NoBrush);
  p.drawPath(path);
  p.restore();
}

CutterDrawing::CutterDrawing(QWidget* parent) : QWidget(parent) {
  setMouseTracking(true);
  setMinimumHeight(170);
  setMaximumHeight(200);
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void CutterDrawing::show_cutter(const Cutter* cutter, const Holder* holder, std::optional<double> stickout, const DrawnCut& cut, UnitSystem units) {
  cutter_ = cutter ? std::optional(*cutter) : std::nullopt;
  holder_ = holder ? std::optional(*holder) : std::nullopt;
  stickout_mm_ = stickout;
  cut_ = cut;
  units_ = units;
  update();
}

void CutterDrawing::set_lit(const QString& key) {
  if (lit_ == key) return;
  lit_ = key;
  update();
}

void CutterDrawing::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Dyes& d = dyes();
  dimensions_.clear();
  p.setFont(Look::get().text(11));
  const QFontMetricsF metrics(p.font());
  const Profile profile = cutter_ ? silhouette(*cutter_) : Profile{};
  if (profile.empty()) {
    p.setPen(d.quiet);
    p.drawText(rect().adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap,
               cutter_ ? tr("A draft: the drawing appears when the sizes fit together") : tr("No cutter selected"));
    return;
  }
  const Cutter& c = *cutter_;
  const double radius = *c.diameter_mm / 2, overall = *c.overall_length_mm;
  const double stickout = std::min(stickout_mm_.value_or(overall), overall);
  const bool held = holder_ && !holder_->stations.empty() && stickout_mm_;

  // Lanes for the lengths, shortest nearest to the cutter.
  struct Along {
    QString key, text;
    double length;
  };
  std::vector<Along> along;
  for (const ParameterUse& use : declaration(c.kind).parameters) {
    if (use.dimension != Dimension::along_axis) continue;
    const Property<Cutter>& property = *find_property<Cutter>(use.key);
    const auto value = number_of(c, property);
    if (!value || (use.key == "overall_length_mm" && held)) continue;
    along.push_back({text_of(property.key), text_of(property.symbol) + QLatin1Char(' ') + QString::fromStdString(shown(*value, Quantity::length, units_)), *value});
  }
  if (held) along.push_back({QStringLiteral("stickout_mm"), tr("stick-out %1").arg(QString::fromStdString(shown(stickout, Quantity::length, units_))), stickout});
  std::stable_sort(along.begin(), along.end(), [](const Along& a, const Along& b) { return a.length < b.length; });
  double lanes = 8;
  for (const Along& a : along) lanes += metrics.horizontalAdvance(a.text) + 18;

  // Scale: the cutter with what is seen of its holder, and room for the cut beside it.
  const double seen_above = held ? std::min(holder_->stations.back().distance_mm, std::max(8.0, stickout * 0.3)) : 0;
  const double height_mm = stickout + seen_above + radius * 0.5;
  double widest = radius * 2;
  if (held)
    for (const Station& s : holder_->stations)
      if (s.distance_mm <= seen_above) widest = std::max(widest, s.diameter_mm);
  const double bottom_room = 44, top_room = 8;
  const double right_room = 92;
  // The lanes end below the holder, so that only the cutter itself and the cut need width beside them.
  const double scale = std::min((height() - bottom_room - top_room) / height_mm, std::max(40.0, width() - lanes - right_room) / (radius * 2));
  const double least_x = lanes + radius * scale, most_x = width() - right_room - radius * scale;
  const double axis_x = std::clamp(width() - 8 - widest / 2 * scale, least_x, std::max(least_x, most_x));
  const double tip_y = height() - bottom_room;
  auto px = [&](double x) { return axis_x + x * scale; };
  auto py = [&](double y) { return tip_y - y * scale; };

  // The cut: floor and wall of material, the strip that is taken away brighter.
  p.setPen(Qt::NoPen);
  const double floor_h = std::min(16.0, bottom_room - 26);
  const double block_right = std::min<double>(width() - 4, px(radius) + right_room - 8);
  if (cut_.hole) {
    const double depth = std::min(radius * 4, c.flute_length_mm.value_or(radius * 4) * 0.7);
    p.setBrush(d.cut);
    p.drawRect(QRectF(QPointF(px(radius), py(depth)), QPointF(block_right, tip_y + floor_h)));
    p.drawRect(QRectF(QPointF(px(-radius) - radius * scale * 1.2, py(depth)), QPointF(px(-radius), tip_y + floor_h)));
    p.drawRect(QRectF(QPointF(px(-radius), tip_y), QPointF(px(radius), tip_y + floor_h)));
  } else if (cut_.ap_mm && cut_.ae_mm) {
    const double ap = *cut_.ap_mm, ae = *cut_.ae_mm;
    p.setBrush(d.cut);
    p.drawRect(QRectF(QPointF(px(-radius) - (cut_.both_sides ? right_room - 20 : radius * scale * 0.8), tip_y), QPointF(block_right, tip_y + floor_h)));
    p.drawRect(QRectF(QPointF(px(radius), py(ap)), QPointF(block_right, tip_y)));
    if (cut_.both_sides) p.drawRect(QRectF(QPointF(px(-radius) - right_room + 20, py(ap)), QPointF(px(-radius), tip_y)));
    QColor strip = d.weld;
    strip.setAlpha(120);
    p.setBrush(strip);
    p.drawRect(QRectF(QPointF(px(radius - ae), py(ap)), QPointF(px(radius), tip_y)));
  }

  // Holder.
  if (held) {
    QPainterPath holder;
    std::vector<QPointF> points;
    for (const Station& s : holder_->stations) {
      if (s.distance_mm > seen_above) {
        points.push_back({s.diameter_mm / 2, seen_above});
        break;
      }
      points.push_back({s.diameter_mm / 2, s.distance_mm});
    }
    if (points.size() > 1 && points.back().y() < seen_above) points.push_back({points.back().x(), seen_above});
    for (std::size_t i = 0; i < points.size(); ++i) {
      const QPointF q(px(points[i].x()), py(stickout + points[i].y()));
      i == 0 ? holder.moveTo(q) : holder.lineTo(q);
    }
    for (std::size_t i = points.size(); i-- > 0;) holder.lineTo(px(-points[i].x()), py(stickout + points[i].y()));
    holder.closeSubpath();
    p.save();
    p.setClipPath(holder);
    p.setPen(QPen(d.walnut, 0.7));
    const QRectF b = holder.boundingRect();
    for (double x = b.left() - b.height(); x < b.right(); x += 7) p.drawLine(QPointF(x, b.bottom()), QPointF(x + b.height(), b.top()));
    p.restore();
    p.setPen(QPen(d.walnut, 1.2));
    p.setBrush(Qt::NoBrush);
    p.drawPath(holder);
  }

  // The cutter itself; only what stands out is drawn through the holder's face.
  p.save();
  p.setClipRect(QRectF(0, held ? py(stickout) : 0, width(), height()));
  QTransform to_screen;
  to_screen.translate(axis_x, tip_y);
  to_screen.scale(scale, -scale);
  const QPainterPath outline = to_screen.map(silhouette_path(profile)), cutting = to_screen.map(cutting_path(profile));
  p.setPen(QPen(d.ink, 1.1));
  p.setBrush(d.raised);
  p.drawPath(outline);
  if (const double helix = c.helix_deg.value_or(0); helix > 0) {
    p.save();
    p.setClipPath(cutting);
    QColor faint = d.woad;
    faint.setAlpha(110);
    p.setPen(QPen(faint, 1));
    // Each flute's edge rises one circumference per lead; seen from the side its slope is the helix angle.
    const double slope = 1 / std::tan(helix * std::numbers::pi / 180);
    const double pitch = std::max(7.0, 2 * radius * scale * std::numbers::pi * slope / std::max(1, c.flutes.value_or(2)));
    const QRectF b = cutting.boundingRect();
    const double rise = b.width() * slope;
    for (double y = b.bottom() + rise; y > b.top() - rise; y -= pitch) p.drawLine(QPointF(b.left(), y), QPointF(b.right(), y - rise));
    p.restore();
  }
  p.setPen(QPen(d.woad, 2.4, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
  p.setBrush(Qt::NoBrush);
  p.drawPath(cutting);
  p.restore();
  p.setPen(QPen(d.quiet, 0.8, Qt::DashDotLine));
  p.drawLine(QPointF(axis_x, top_room), QPointF(axis_x, tip_y + floor_h + 4));

  // Dimensions.
  auto colour = [&](const QString& key) { return key == lit_ ? d.woad : d.quiet; };
  auto pen = [&](const QString& key) { return QPen(colour(key), key == lit_ ? 2.0 : 0.9); };
  auto label = [&](const QString& key, QRectF box, const QString& text, int flags) {
    p.setPen(key == lit_ ? d.woad : d.ink);
    QFont font = Look::get().text(11, key == lit_);
    p.setFont(font);
    p.drawText(box, flags | Qt::TextDontClip, text);
    dimensions_.push_back({key, box, box.adjusted(-4, -4, 4, 4)});
  };
  double lane_x = axis_x - radius * scale - 14;
  for (const Along& a : along) {
    // Beside the cutter below the holder there is more room than beside the holder.
    const double x = lane_x;
    p.setPen(pen(a.key));
    p.drawLine(QPointF(x, tip_y), QPointF(x, py(a.length)));
    for (const double y : {tip_y, py(a.length)}) p.drawLine(QPointF(x - 4, y), QPointF(x + 4, y));
    const double w = metrics.horizontalAdvance(a.text) + 4;
    const double middle = (tip_y + py(a.length)) / 2;
    label(a.key, QRectF(x - 6 - w, middle - 8, w, 16), a.text, Qt::AlignRight | Qt::AlignVCenter);
    lane_x = x - w - 14;
  }
  {
    const QString key = QStringLiteral("diameter_mm");
    const double y = tip_y + floor_h + 10;
    p.setPen(pen(key));
    p.drawLine(QPointF(px(-radius), y), QPointF(px(radius), y));
    for (const double x : {px(-radius), px(radius)}) p.drawLine(QPointF(x, y - 4), QPointF(x, y + 4));
    label(key, QRectF(px(radius) + 7, y - 8, 80, 16), QStringLiteral("DC ") + QString::fromStdString(shown(radius * 2, Quantity::length, units_)), Qt::AlignLeft | Qt::AlignVCenter);
  }
  // To the right: shank, neck, corner, point, from the top down, none over another.
  struct Across {
    QString key, text;
    QPointF at;
  };
  std::vector<Across> across;
  for (const ParameterUse& use : declaration(c.kind).parameters) {
    const Property<Cutter>& property = *find_property<Cutter>(use.key);
    const auto value = number_of(c, property);
    if (!value) continue;
    const double flutes = *c.flute_length_mm, reach = c.reach_mm.value_or(flutes);
    QPointF at;
    switch (use.dimension) {
      case Dimension::across_shank:
        if (reach >= stickout) continue;
        at = {px(*value / 2), py((reach + stickout) / 2)};
        break;
      case Dimension::across_neck:
        if (reach <= flutes) continue;
        at = {px(*value / 2), py((reach + flutes) / 2)};
        break;
      case Dimension::corner: at = {px(radius - *value * 0.29), py(*value * 0.29)}; break;
      case Dimension::point_angle: at = {px(radius * 0.5), py(radius * 0.5 / std::tan(*value * std::numbers::pi / 360))}; break;
      default: continue;
    }
    across.push_back({text_of(property.key), text_of(property.symbol) + QLatin1Char(' ') + QString::fromStdString(shown(*value, property.quantity, units_)) + (property.quantity == Quantity::angle ? QStringLiteral("°") : QString()), at});
  }
  std::stable_sort(across.begin(), across.end(), [](const Across& a, const Across& b) { return a.at.y() < b.at.y(); });
  const double cut_top = cut_.hole ? tip_y : cut_.ap_mm ? py(std::min(*cut_.ap_mm, stickout)) : tip_y;
  double next_y = (held ? py(stickout) : 0) + 9;
  for (std::size_t i = 0; i < across.size(); ++i) {
    const Across& a = across[i];
    const double w = metrics.horizontalAdvance(a.text) + 4;
    // Above the cut while there is room for this one and those below it.
    const double lowest = cut_top - 10 - 17.0 * static_cast<double>(across.size() - 1 - i);
    const double y = std::max(next_y, std::min(a.at.y() - (a.key.contains(QLatin1String("radius")) || a.key.contains(QLatin1String("angle")) ? 26 : 0), lowest));
    const double x = std::min<double>(width() - w - 2, px(std::max(radius, *c.shank_diameter_mm / 2)) + 16);
    p.setPen(pen(a.key));
    p.drawLine(a.at, QPointF(x - 3, y));
    label(a.key, QRectF(x, y - 8, w, 16), a.text, Qt::AlignLeft | Qt::AlignVCenter);
    next_y = y + 17;
  }
  if (cut_.ap_mm && cut_.ae_mm && !cut_.hole) {
    const QString text = tr("ap %1 · ae %2").arg(QString::fromStdString(shown(*cut_.ap_mm, Quantity::length, units_)), QString::fromStdString(shown(*cut_.ae_mm, Quantity::length, units_)));
    p.setFont(Look::get().text(11));
    p.setPen(d.walnut);
    const double y = *cut_.ap_mm * scale > 18 ? (tip_y + py(*cut_.ap_mm)) / 2 : tip_y + floor_h / 2 - 1;
    p.drawText(QRectF(px(radius) + 4, y - 9, block_right - px(radius) - 6, 18), Qt::AlignLeft | Qt::AlignVCenter | Qt::TextDontClip, text);
  }
  // Scale bar.
  const double unit = units_ == UnitSystem::inch ? mm_per_inch : 1;
  const double bar = nice_length(60 / scale / unit) * unit;
  p.setPen(QPen(d.quiet, 1));
  p.setFont(Look::get().text(11));
  const double by = height() - 8;
  p.drawLine(QPointF(8, by), QPointF(8 + bar * scale, by));
  for (const double x : {8.0, 8 + bar * scale}) p.drawLine(QPointF(x, by - 3), QPointF(x, by + 3));
  p.drawText(QRectF(8 + bar * scale + 5, by - 9, 80, 16), Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(shown_with_unit(bar, Quantity::length, units_)));
}

QString CutterDrawing::dimension_at(QPointF point) const {
  for (const DrawnDimension& dimension : dimensions_)
    if (dimension.hit_box.contains(point)) return dimension.key;
  return {};
}

void CutterDrawing::mousePressEvent(QMouseEvent* event) {
  const QString key = dimension_at(event->position());
  if (!key.isEmpty()) emit dimension_clicked(key);
}

void CutterDrawing::mouseMoveEvent(QMouseEvent* event) {
  setCursor(dimension_at(event->position()).isEmpty() ? Qt::ArrowCursor : Qt::PointingHandCursor);
}

}  // namespace pecorra
