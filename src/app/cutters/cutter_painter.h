// A cell of the list of cutters.
#pragma once

#include <QPainter>
#include <QStyledItemDelegate>
#include <QTableView>
#include <cmath>

#include "app/cutters/cutter_model.h"
#include "app/look/look.h"
#include "app/widgets/sheet_painter.h"

namespace pecorra {

class CutterPainter : public QStyledItemDelegate {
 public:
  CutterPainter(CutterModel& model, QTableView& view) : QStyledItemDelegate(&view), model_(model), view_(view) {}

  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Colours& d = colours();
    const bool selected = option.state & QStyle::State_Selected;
    if (selected) p->fillRect(option.rect, d.lit);
    p->fillRect(QRect(option.rect.left(), option.rect.bottom(), option.rect.width(), 1), d.line);
    const QRect r = option.rect.adjusted(6, 0, -6, 0);
    const bool result = index.column() == CutterModel::speed || index.column() == CutterModel::feed ||
                        index.column() == CutterModel::mark;
    const QString reason = result ? index.data(CutterModel::reason_role).toString() : QString();
    if (index.column() == CutterModel::icon) {
      if (const Cutter* c = model_.cutter_at(index.row()))
        draw_cutter_icon(*p, QRectF(option.rect.center().x() - 9, option.rect.top() + 3, 18, option.rect.height() - 6),
                         *c, c->guesses.empty() ? d.accent : d.warning);
      return;
    }
    if (!reason.isEmpty()) {
      // One sentence across the three cells; each paints its own part.
      const QRect whole = view_.visualRect(index.siblingAtColumn(CutterModel::speed))
                              .united(view_.visualRect(index.siblingAtColumn(CutterModel::mark)))
                              .adjusted(8, 0, -2, 0);
      p->save();
      p->setClipRect(option.rect);
      const bool draft = index.data(CutterModel::draft_role).toBool();
      if (draft) draw_mark(*p, QRectF(whole.left(), whole.center().y() - 5, 10, 10), Mark::beyond);
      p->setPen(draft ? d.error : d.quiet);
      p->setFont(Look::get().text(12));
      p->drawText(whole.adjusted(draft ? 16 : 0, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, reason);
      p->restore();
      return;
    }
    if (index.column() == CutterModel::mark) {
      draw_mark(*p, QRectF(option.rect), static_cast<Mark>(index.data(CutterModel::mark_role).toInt()));
      return;
    }
    const bool figure = index.column() == CutterModel::speed || index.column() == CutterModel::feed;
    p->setFont(Look::get().text(figure ? 13.5 : 12.5, figure));
    if (index.column() == CutterModel::name)
      if (const Cutter* c = model_.cutter_at(index.row()); c && c->favourite)
        draw_star(*p, QPointF(option.rect.left() + 10, option.rect.center().y() + 0.5), d.warning);
    const bool breach =
        index.column() == CutterModel::number && !index.data(CutterModel::breach_role).toString().isEmpty();
    p->setPen(breach ? d.error
              : index.column() >= CutterModel::library_name || index.column() == CutterModel::assembly ||
                      index.column() == CutterModel::number || index.column() == CutterModel::removal
                  ? d.quiet
                  : d.ink);
    draw_line(*p, index.column() == CutterModel::name ? r.adjusted(starred(index) ? 12 : 0, 0, 0, 0) : r,
              static_cast<Qt::Alignment>(index.data(Qt::TextAlignmentRole).toInt()), index.data().toString());
  }

 private:
  bool starred(const QModelIndex& index) const {
    const Cutter* c = model_.cutter_at(index.row());
    return c && c->favourite;
  }
  static void draw_star(QPainter& p, const QPointF& centre, const QColor& colour) {
    QPolygonF star;
    for (int i = 0; i < 10; ++i) {
      const double r = i % 2 ? 2.2 : 5.2, a = i * 0.62831853;
      star << centre + QPointF(r * std::sin(a), -r * std::cos(a));
    }
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(colour);
    p.drawPolygon(star);
    p.restore();
  }
  CutterModel& model_;
  QTableView& view_;
};

}  // namespace pecorra
