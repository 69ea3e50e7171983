// A cell of the operation list; old → new while values are being tried.
#pragma once

#include <QPainter>
#include <QStyledItemDelegate>
#include <cmath>

#include "app/jobs/operation_model.h"
#include "app/look/look.h"
#include "app/widgets/drawn_texts.h"

namespace pecorra {

class OperationPainter : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Colours& d = colours();
    if (option.state & QStyle::State_Selected) p->fillRect(option.rect, d.lit);
    p->setPen(d.line);
    p->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
    QRect r = option.rect.adjusted(6, 0, -8, 0);
    const int column = index.column();
    const Qt::Alignment align = OperationModel::is_right_aligned(column) ? Qt::AlignRight : Qt::AlignLeft;
    const QString text = index.data().toString(), anew = index.data(OperationModel::new_text_role).toString();
    if (column == OperationModel::follows) {
      draw_mark(*p, QRectF(r.left(), r.top(), 12, r.height()),
                static_cast<Mark>(index.data(OperationModel::mark_role).toInt()));
      r.setLeft(r.left() + 17);
    }
    if (column == OperationModel::operation) {
      const bool fault = !index.data(OperationModel::fault_role).toString().isEmpty(),
                 moved = index.data(OperationModel::moved_role).toBool();
      if (fault || moved) {
        draw_mark(*p, QRectF(r.right() - 11, r.top(), 11, r.height()), fault ? Mark::beyond : Mark::changed);
        r.setRight(r.right() - 15);
      }
    }
    const bool figure = column == OperationModel::speed || column == OperationModel::feed;
    p->setFont(Look::get().text(figure ? 13.5 : 12.5, figure));
    if (!anew.isEmpty()) {
      // Old → new: the old one quiet, the new one in front.
      const QString tail = QStringLiteral(" → ");
      p->setPen(d.warning_text);
      r.setRight(r.right() - static_cast<int>(std::ceil(texts_.draw(*p, r, align, anew))));
      p->setFont(Look::get().text(11.5));
      p->setPen(d.quiet);
      texts_.draw(*p, r, align, text + tail);
      return;
    }
    const bool quiet =
        column == OperationModel::number || column == OperationModel::time || column == OperationModel::tightest;
    p->setPen(quiet ? d.quiet : d.ink);
    texts_.draw(*p, r, align, text);
  }

 private:
  mutable DrawnTexts texts_;
};

}  // namespace pecorra
