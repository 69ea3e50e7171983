#include "app/widgets/headroom_bars.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/look/look.h"
#include "shop/words.h"

namespace pecorra {
namespace {
constexpr int bar_pitch = 19, limit_width = 100, bar_x = limit_width + 4, text_width = 162;
}

HeadroomBars::HeadroomBars(QWidget* parent) : QWidget(parent) {
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  setMouseTracking(true);
  setObjectName(QStringLiteral("headroom"));
  setAccessibleName(tr("Headroom"));
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void HeadroomBars::show_headroom(std::vector<Headroom> headroom, const HeadroomHelp& help, UnitSystem units) {
  headroom_ = std::move(headroom);
  help_ = help;
  units_ = units;
  updateGeometry();
  update();
}

int HeadroomBars::help_row() const {
  if (help_.changes.isEmpty()) return -1;
  for (std::size_t i = 0; i < headroom_.size(); ++i)
    if (headroom_[i].limit == help_.limit) return static_cast<int>(i);
  return -1;
}

std::vector<QRectF> HeadroomBars::links(int width, int* lines) const {
  const int row = help_row();
  std::vector<QRectF> out;
  *lines = 0;
  if (row < 0) return out;
  const QFontMetricsF metrics(Look::get().text(12));
  const double start = metrics.horizontalAdvance(tr("fits with")) + 10;
  double x = start;
  int line = 0;
  for (const QString& text : help_.changes) {
    const double wide = std::min<double>(metrics.horizontalAdvance(text) + 2, width - start - 4);
    if (x + wide > width - 4 && x > start) x = start, ++line;
    out.push_back({x, static_cast<double>((row + 1 + line) * bar_pitch - 2), wide, bar_pitch});
    x += wide + 14;
  }
  *lines = line + 1;
  return out;
}

QRectF HeadroomBars::change_rect(int index) const {
  int lines = 0;
  const auto all = links(width(), &lines);
  return index >= 0 && index < static_cast<int>(all.size()) ? all[static_cast<std::size_t>(index)] : QRectF();
}

int HeadroomBars::row_at(double y) const {
  int lines = 0;
  links(width(), &lines);
  const int at = static_cast<int>(y) / bar_pitch, help = help_row();
  const int row = help < 0 || at <= help ? at : at <= help + lines ? -1 : at - lines;
  return row < static_cast<int>(headroom_.size()) ? row : -1;
}

int HeadroomBars::height_for(int width) const {
  int lines = 0;
  links(width > 0 ? width : 360, &lines);
  return (static_cast<int>(std::max<std::size_t>(1, headroom_.size())) + lines) * bar_pitch;
}

void HeadroomBars::mousePressEvent(QMouseEvent* event) {
  int lines = 0;
  const auto all = links(width(), &lines);
  for (std::size_t i = 0; i < all.size(); ++i)
    if (all[i].contains(event->position())) return emit change_clicked(static_cast<int>(i));
}

void HeadroomBars::mouseMoveEvent(QMouseEvent* event) {
  int lines = 0;
  const auto all = links(width(), &lines);
  const bool over = std::any_of(all.begin(), all.end(), [&](const QRectF& r) { return r.contains(event->position()); });
  setCursor(over ? Qt::PointingHandCursor : Qt::ArrowCursor);
  const int row = row_at(event->position().y());
  setToolTip(row < 0 || !headroom_[static_cast<std::size_t>(row)].band
                 ? QString()
                 : tr("%1; from a sharp to a worn edge")
                       .arg(headroom_text(headroom_[static_cast<std::size_t>(row)], units_, true)));
}

void HeadroomBars::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Colours& d = colours();
  p.setFont(Look::get().text(12));
  if (headroom_.empty()) {
    p.setPen(d.quiet);
    p.drawText(rect(), Qt::AlignLeft | Qt::AlignVCenter, tr("No limits to compare with here"));
    return;
  }
  const int bar_w = std::max(40, width() - bar_x - text_width - 8), with_help = help_row();
  int lines = 0;
  const auto all = links(width(), &lines);
  int y = 0;
  for (std::size_t i = 0; i < headroom_.size(); ++i) {
    const Headroom& h = headroom_[i];
    const double worst = h.tightest();
    const bool beyond = worst > 1 + 1e-6, close = worst > 0.85;
    p.setPen(d.ink);
    p.drawText(QRect(0, y, limit_width, bar_pitch), Qt::AlignLeft | Qt::AlignVCenter, label_text(label_of(h.limit)));
    const QRectF track(bar_x, y + 6, bar_w, 8);
    p.setPen(Qt::NoPen);
    p.setBrush(d.side);
    p.drawRoundedRect(track, 3, 3);
    const double full = bar_w * 0.86;  // where 100 % stands
    const QColor colour = beyond ? d.error : close ? d.warning : d.good;
    const auto bar = [&](double used, const QColor& with) {
      p.setBrush(with);
      p.drawRoundedRect(QRectF(track.left(), track.top(), std::clamp(used * full, 2.0, bar_w * 1.0), 8), 3, 3);
    };
    if (worst > h.used) {
      QColor light = colour;
      light.setAlphaF(0.4f);
      bar(worst, light);
    }
    bar(h.used, h.used > 1 + 1e-6 ? d.error : worst > h.used ? (h.used > 0.85 ? d.warning : d.good) : colour);
    if (h.band) {
      // From a sharp to a worn edge, as a thin line with ends below the bar.
      const auto at = [&](double part) { return track.left() + std::min(h.tightest() * part * full, bar_w * 1.0 - 1); };
      const double y_line = track.bottom() + 2.5, low = at(h.band->low), high = at(h.band->high);
      p.setPen(QPen(h.tightest() * h.band->high > 1 + 1e-6 ? d.warning : d.quiet, 1.2));
      p.drawLine(QPointF(low, y_line), QPointF(high, y_line));
      for (const double x : {low, high}) p.drawLine(QPointF(x, y_line - 2), QPointF(x, y_line + 2));
    }
    p.setPen(QPen(d.ink, 1.6));
    p.drawLine(QPointF(track.left() + full, track.top() - 2), QPointF(track.left() + full, track.bottom() + 2));
    if (beyond) draw_mark(p, QRectF(bar_x + bar_w - 12, y + 4, 11, 11), Mark::beyond);
    p.setPen(beyond ? d.error : d.quiet);
    p.drawText(QRect(width() - text_width, y, text_width, bar_pitch), Qt::AlignLeft | Qt::AlignVCenter,
               headroom_text(h, units_));
    y += bar_pitch;
    if (static_cast<int>(i) != with_help) continue;
    p.setPen(d.quiet);
    p.drawText(QRectF(4, y - 2, 100, bar_pitch), Qt::AlignLeft | Qt::AlignVCenter, tr("fits with"));
    for (std::size_t k = 0; k < all.size(); ++k) {
      p.setPen(d.accent);
      draw_line(p, all[k], Qt::AlignLeft | Qt::AlignVCenter, help_.changes[static_cast<qsizetype>(k)]);
      p.setPen(QPen(d.accent, 1, Qt::DotLine));
      p.drawLine(QPointF(all[k].left(), all[k].bottom() - 2.5), QPointF(all[k].right() - 2, all[k].bottom() - 2.5));
    }
    y += lines * bar_pitch;
  }
}

}  // namespace pecorra

#include "moc_headroom_bars.cpp"
