// The painting of the plan view and the side view.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/jobs/path_view.h"
#include "core/drawing/cutter_sheet.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

bool PathView::is_chosen(std::size_t i) const {
  return std::find(focus_.operations.begin(), focus_.operations.end(), static_cast<int>(i)) != focus_.operations.end();
}

void PathView::draw_paths(QPainter& p, QRect box, const Projection& project, PathImage& image) {
  const auto draw = [&](bool chosen) {
    for (std::size_t i = 0; i < traces_.size(); ++i)
      if (is_chosen(i) == chosen) draw_trace(p, *traces_[i], chosen, colouring_, colours(), project);
  };
  std::size_t chosen = 0;
  for (std::size_t i = 0; i < traces_.size(); ++i)
    if (is_chosen(i)) chosen += traces_[i]->chords.size();
  if (chords_ >= dense_chords) {
    // Pale, so that the picture stays when others are chosen; those are drawn over it, unless they are very many.
    PathImage::Wanted wanted{traces_, {}, colouring_, project, box.size(), devicePixelRatioF(), Look::get().is_night()};
    wanted.project.dx -= box.left();
    wanted.project.dy -= box.top();
    for (std::size_t i = 0; i < traces_.size(); ++i) wanted.chosen.push_back(chosen >= dense_chords && is_chosen(i));
    image.draw(p, box, std::move(wanted));
  } else {
    draw(false);
  }
  if (chosen < dense_chords) draw(true);
}

// The plain ones once for as long as nothing moves: there can be thousands, and what stands out is drawn over them.
void PathView::draw_outlines(QPainter& p, const QTransform& t) {
  const Colours& d = colours();
  const double pixel = devicePixelRatioF();
  if (plain_.isNull() || plain_at_ != t || plain_ink_ != d.ink || plain_.size() != (QSizeF(size()) * pixel).toSize()) {
    plain_ = QPixmap((QSizeF(size()) * pixel).toSize());
    plain_.setDevicePixelRatio(pixel);
    plain_.fill(Qt::transparent);
    QPainter layer(&plain_);
    layer.setRenderHints(p.renderHints());
    layer.setPen(QPen(d.ink, 1));
    const QRectF seen = t.inverted().mapRect(QRectF(plan_rect()));
    // What is smaller than a pixel or two is a point.
    const double least = 1.5 / t.m11();
    QPolygonF points;
    for (const FeatureOutline& o : outlines_) {
      if (!o.box.intersects(seen)) continue;
      if (o.box.width() < least && o.box.height() < least) points << t.map(o.box.center());
      else layer.drawPolyline(t.map(o.points));
    }
    layer.drawPoints(points);
    plain_at_ = t;
    plain_ink_ = d.ink;
  }
  p.drawPixmap(0, 0, plain_);
  for (const FeatureOutline& o : outlines_) {
    const bool under = o.key == under_mouse_, lit = lit_.contains(o.key);
    if (!under && !lit) continue;
    p.setPen(QPen(under ? d.accent : d.ink, lit ? 2.2 : 2));
    if (o.box.width() * t.m11() < 1.5 && o.box.height() * t.m11() < 1.5) p.drawPoint(t.map(o.box.center()));
    else p.drawPolyline(t.map(o.points));
  }
}

void PathView::draw_plan(QPainter& p) {
  const Colours& d = colours();
  const QTransform t = to_screen();
  const QRect box = plan_rect().adjusted(1, 1, -1, 0);
  p.setClipRect(box);
  if (!stock_left_.isNull()) draw_stock(p, t);
  else if (const Box& s = stock_.plan; s.width() > 0 && s.depth() > 0) {
    p.setPen(QPen(d.line, 1));
    QColor fill = d.cut;
    fill.setAlpha(130);
    p.setBrush(fill);
    p.drawRect(t.mapRect(QRectF(s.low_x, s.low_y, s.width(), s.depth())));
  }
  p.setBrush(Qt::NoBrush);
  if (const Setup* now = setup())
    for (const Clamp& clamp : now->clamps)
      for (const FeatureOutline& o : outlines_)
        if (o.key == text_of(clamp.outline.key)) {
          QColor fill = d.error;
          fill.setAlpha(40);
          p.setBrush(fill);
          p.setPen(QPen(d.error, 1));
          p.drawPolygon(t.map(o.points));
          p.setBrush(Qt::NoBrush);
        }
  draw_outlines(p, t);
  draw_paths(p, box, {t.m11(), t.m22(), 0, t.dx(), t.dy()}, *plan_image_);
  draw_entries(p, t);
  draw_pulled(p);
  if (cutter_) draw_cutter(p, t);
  // The zero point of the program.
  QPointF zero(0, 0);
  if (const Setup* now = setup()) zero = QPointF(now->zero_x_mm.value_or(0), now->zero_y_mm.value_or(0));
  zero = t.map(zero);
  p.setPen(QPen(d.error, 1.2));
  p.drawLine(zero - QPointF(7, 0), zero + QPointF(7, 0));
  p.drawLine(zero - QPointF(0, 7), zero + QPointF(0, 7));
  p.setClipping(false);
}

// Where the holes would be.
void PathView::draw_pulled(QPainter& p) const {
  if (pulled_to_.empty()) return;
  const QTransform t = to_screen();
  const double r = std::max(2.0, pulled_mm_ / 2 * t.m11());
  p.setPen(QPen(colours().accent, 1.6, Qt::DashLine));
  p.setBrush(Qt::NoBrush);
  for (const Point2& at : pulled_to_) p.drawEllipse(t.map(QPointF(at.x, at.y)), r, r);
}

// Where the cutter goes down, with its diameter at the first place, or at each hole; and the tabs that were placed.
void PathView::draw_entries(QPainter& p, const QTransform& t) const {
  const Operation* now = front();
  if (!now || focus_.front >= static_cast<int>(traces_.size())) return;
  const Colours& d = colours();
  const double r = now->cutter.diameter_mm.value_or(0) / 2 * t.m11();
  QColor fill = d.warning;
  fill.setAlpha(60);
  int shown = 0;
  const auto& moves = traces_[static_cast<std::size_t>(focus_.front)]->of->path.moves;
  for (std::size_t k = 1; k < moves.size() && shown < 2000; ++k) {
    const Move& m = moves[k];
    const bool down = m.kind == MoveKind::plunge || m.kind == MoveKind::cycle;
    if (!down || m.z >= moves[k - 1].z) continue;
    const QPointF at = t.map(QPointF(m.x, m.y));
    p.setPen(QPen(d.warning, 1.4));
    p.setBrush(fill);
    if (m.kind == MoveKind::cycle || shown == 0) p.drawEllipse(at, r, r);
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(at, 2, 2);
    ++shown;
  }
  p.setPen(QPen(d.heading, 2));
  for (const Point2& tab : now->tabs_at) {
    const QPointF at = t.map(QPointF(tab.x, tab.y));
    p.drawRect(QRectF(at - QPointF(4, 4), QSizeF(8, 8)));
  }
}

// Seen from the front: x as in the plan above, heights as large as they fit.
void PathView::draw_side(QPainter& p) {
  const Colours& d = colours();
  const QRect room = side_rect(), box = room.adjusted(1, 1, -1, -1);
  p.setPen(d.line);
  p.drawLine(room.topLeft(), room.topRight());
  p.setClipRect(box);
  double low = static_cast<double>(lowest_);
  const double high = static_cast<double>(highest_);
  if (high - low < 1) low = high - 1;
  const QTransform t = to_screen();
  constexpr double edge = 8;
  // With the cutter in it to scale, from the bottom up.
  const double fits = (room.height() - 2 * edge) / (high - low), scale = cutter_ ? std::min(fits, t.m11()) : fits;
  const double from = cutter_ ? room.bottom() - edge - (high - low) * scale : room.top() + edge;
  const auto x_of = [&](double x) { return t.map(QPointF(x, 0)).x(); };
  const auto y_of = [&](double z) { return from + (high - z) * scale; };
  if (stock_.has_height) {
    QColor fill = d.cut;
    fill.setAlpha(130);
    p.setBrush(fill);
    p.setPen(QPen(d.line, 1));
    p.drawRect(QRectF(QPointF(x_of(stock_.plan.low_x), y_of(stock_.top)),
                      QPointF(x_of(stock_.plan.high_x), y_of(stock_.bottom))));
    p.setBrush(Qt::NoBrush);
  }
  draw_paths(p, box, {t.m11(), 0, -scale, t.dx(), y_of(0)}, *side_image_);
  if (cutter_) draw_cutter_from_side(p, [&](double x, double z) { return QPointF(x_of(x), y_of(z)); });
  // Heights: the top of the stock and how deep the operation goes.
  p.setFont(Look::get().text(11));
  p.setPen(d.quiet);
  const auto height = [&](double z) {
    const QString text = QStringLiteral("z ") + text_of(shown_with_unit(z, Quantity::length, units_));
    const double y = std::clamp(y_of(z), room.top() + 9.0, room.bottom() - 9.0);
    const QRectF ground(room.left() + 4, y - 8, p.fontMetrics().horizontalAdvance(text) + 8, 16);
    p.fillRect(ground, d.raised);
    p.drawText(ground, Qt::AlignCenter, text);
  };
  height(stock_.top);
  if (front() && focus_.front < static_cast<int>(traces_.size())) {
    double deepest = stock_.top;
    for (const Move& m : traces_[static_cast<std::size_t>(focus_.front)]->of->path.moves)
      deepest = std::min(deepest, m.z);
    if (deepest < stock_.top - 14 / scale) height(deepest);
  }
  p.setClipping(false);
}

void PathView::draw_legend(QPainter& p) const {
  const Colours& d = colours();
  const double scale = to_screen().m11();
  p.setFont(Look::get().text(11));
  const double unit = is_inch(units_) ? mm_per_inch : 1;
  const double bar = nice_length(70 / scale / unit) * unit;
  const double y = height() - 11;
  p.setPen(QPen(d.quiet, 1));
  p.drawLine(QPointF(12, y), QPointF(12 + bar * scale, y));
  for (const double x : {12.0, 12 + bar * scale}) p.drawLine(QPointF(x, y - 3), QPointF(x, y + 3));
  double x = 12 + bar * scale + 6;
  auto word = [&](const QString& text) {
    p.setPen(d.quiet);
    p.drawText(QRectF(x, y - 9, 200, 18), Qt::AlignLeft | Qt::AlignVCenter, text);
    x += p.fontMetrics().horizontalAdvance(text) + 12;
  };
  word(text_of(shown_with_unit(bar, Quantity::length, units_)));
  std::vector<std::pair<QColor, QString>> meaning;
  if (colouring_ == PathColours::by_move) {
    meaning = {{d.accent, tr("cut")}, {d.warning, tr("plunge, ramp")}, {d.good, tr("lead, link")}};
  } else if (front() && focus_.front < static_cast<int>(traces_.size())) {
    const PathTrace& trace = *traces_[static_cast<std::size_t>(focus_.front)];
    const bool feeds = colouring_ == PathColours::by_feed;
    const PathTrace::Range& range = feeds ? trace.feeds : trace.chips;
    const auto says = [&](float v) {
      return (feeds ? QStringLiteral("F ") : QStringLiteral("hex ")) +
             text_of(feeds ? shown(static_cast<double>(v), Quantity::table_feed, units_)
                           : shown_with_unit(static_cast<double>(v), Quantity::feed_per_tooth, units_));
    };
    if (range.most > 0) meaning = {{d.warning, says(range.least)}, {d.accent, says(range.most)}};
  }
  for (const auto& [colour, text] : meaning) {
    if (x + 16 + p.fontMetrics().horizontalAdvance(text) > width()) break;
    p.setPen(QPen(colour, 2));
    p.drawLine(QPointF(x, y), QPointF(x + 12, y));
    x += 16;
    word(text);
  }
}

void PathView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Colours& d = colours();
  p.fillRect(rect(), d.raised);
  p.setPen(d.line);
  p.drawRect(rect().adjusted(0, 0, -1, -1));
  colours_button_->setVisible(job_ != nullptr);
  side_button_->setVisible(job_ != nullptr);
  if (!job_) return;
  // Smooth lines take several times as long, and where there are so many nobody sees the difference.
  p.setRenderHint(QPainter::Antialiasing, chords_ < dense_chords);
  draw_plan(p);
  if (side_on_) draw_side(p);
  draw_legend(p);
}

}  // namespace pecorra
