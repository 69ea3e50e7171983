// A cell of a plain list: its text on the row's colour, no frame round the current cell.
#pragma once

#include <QPainter>
#include <QStyledItemDelegate>

#include "app/look/look.h"

namespace pecorra {

// A Tone as int: the cell stands out, in that tone and heavier.
inline constexpr int cell_tone_role = Qt::UserRole + 17;

class PlainItem : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Colours& d = colours();
    if (option.state & QStyle::State_Selected) p->fillRect(option.rect, d.lit);
    p->setPen(d.line);
    p->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
    const QVariant tone = index.data(cell_tone_role);
    p->setFont(Look::get().text(12.5, tone.isValid()));
    p->setPen(tone.isValid() ? tone_colour(static_cast<Tone>(tone.toInt())) : d.ink);
    draw_line(*p, QRectF(option.rect).adjusted(6, 0, -6, 0),
              static_cast<Qt::Alignment>(index.data(Qt::TextAlignmentRole).toInt()), index.data().toString());
  }
};

}  // namespace pecorra
