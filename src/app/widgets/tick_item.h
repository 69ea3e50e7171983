// A cell of a plain list with a box to tick, where its model has a check state.
#pragma once

#include <QPainter>

#include "app/widgets/plain_item.h"

namespace pecorra {

class TickItem : public PlainItem {
 public:
  using PlainItem::PlainItem;
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    PlainItem::paint(p, option, index);
    const QVariant ticked = index.data(Qt::CheckStateRole);
    if (!ticked.isValid()) return;
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const QRectF box(option.rect.center().x() - 7, option.rect.center().y() - 6, 13, 13);
    p->setPen(QPen(colours().accent, 1.3));
    p->setBrush(Qt::NoBrush);
    p->drawRoundedRect(box, 2.5, 2.5);
    if (ticked.toInt() == Qt::Checked) {
      p->setPen(QPen(colours().accent, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
      p->drawPolyline(QPolygonF{{box.left() + 3, box.center().y()},
                                {box.center().x() - 0.5, box.bottom() - 3},
                                {box.right() - 2.5, box.top() + 3}});
    }
    p->restore();
  }
};

}  // namespace pecorra
