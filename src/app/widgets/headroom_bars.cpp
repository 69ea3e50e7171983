#include "app/widgets/headroom_bars.h"

#include <QPainter>
#include <algorithm>

#include "app/look/look.h"
#include "shop/words.h"

namespace pecorra {
namespace {
constexpr int row_height = 19;
}

HeadroomBars::HeadroomBars(QWidget* parent) : QWidget(parent) {
  setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void HeadroomBars::show_headroom(std::vector<Headroom> headroom, const QString& suggestion, UnitSystem units) {
  headroom_ = std::move(headroom);
  suggestion_ = suggestion;
  units_ = units;
  updateGeometry();
  update();
}

QSize HeadroomBars::sizeHint() const {
  return {360, static_cast<int>(std::max<std::size_t>(1, headroom_.size())) * row_height + (suggestion_.isEmpty() ? 0 : row_height)};
}

void HeadroomBars::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Dyes& d = dyes();
  p.setFont(Look::get().text(12));
  if (headroom_.empty()) {
    p.setPen(d.quiet);
    p.drawText(rect(), Qt::AlignLeft | Qt::AlignVCenter, tr("Nothing to measure against here"));
    return;
  }
  const int name_w = 100, bar_x = name_w + 4, text_w = 152;
  const int bar_w = std::max(40, width() - bar_x - text_w - 8);
  int y = 0;
  for (std::size_t i = 0; i < headroom_.size(); ++i) {
    const Headroom& h = headroom_[i];
    const bool beyond = h.used > 1 + 1e-6, close = h.used > 0.85;
    p.setPen(d.ink);
    p.drawText(QRect(0, y, name_w, row_height), Qt::AlignLeft | Qt::AlignVCenter, text_of(label_of(h.limit)));
    const QRectF track(bar_x, y + 6, bar_w, 8);
    p.setPen(Qt::NoPen);
    p.setBrush(d.side);
    p.drawRoundedRect(track, 3, 3);
    const double full = bar_w * 0.86;  // where 100 % stands
    p.setBrush(beyond ? d.madder : close ? d.weld : d.lichen);
    p.drawRoundedRect(QRectF(track.left(), track.top(), std::clamp(h.used * full, 2.0, bar_w * 1.0), 8), 3, 3);
    p.setPen(QPen(d.ink, 1.6));
    p.drawLine(QPointF(track.left() + full, track.top() - 2), QPointF(track.left() + full, track.bottom() + 2));
    if (beyond) draw_mark(p, QRectF(bar_x + bar_w - 12, y + 4, 11, 11), Mark::beyond);
    p.setPen(beyond ? d.madder : d.quiet);
    p.drawText(QRect(width() - text_w, y, text_w, row_height), Qt::AlignLeft | Qt::AlignVCenter, headroom_text(h, units_));
    y += row_height;
    if (i == 0 && !suggestion_.isEmpty()) {
      p.setPen(d.madder);
      p.drawText(QRect(bar_x, y - 2, width() - bar_x, row_height), Qt::AlignLeft | Qt::AlignVCenter, suggestion_);
      y += row_height;
    }
  }
}

}  // namespace pecorra
