// A plain list: one row selected at a time, no grid, a header of one line, rows of one height.
#pragma once

#include <QAccessible>
#include <QHeaderView>
#include <QTableView>
#include <algorithm>

#include "app/widgets/plain_header.h"
#include "app/widgets/plain_item.h"

namespace pecorra {

// Paints only the cells that changed; the view would paint all of them for more than one.
class PlainTable : public QTableView {
 protected:
  void dataChanged(const QModelIndex& from, const QModelIndex& to, const QList<int>& roles) override {
    if (QAccessible::isActive() || state() == EditingState) return QTableView::dataChanged(from, to, roles);
    const int top = rowViewportPosition(from.row()), below = rowViewportPosition(to.row()) + rowHeight(to.row());
    QRect changed;
    for (int column = from.column(); column <= to.column(); ++column)
      changed |= QRect(columnViewportPosition(column), top, columnWidth(column), below - top);
    viewport()->update(changed);
  }
};

inline QTableView* plain_table(QAbstractItemModel* model, const QString& name) {
  auto* table = new PlainTable;
  table->setHorizontalHeader(new PlainHeader(12));
  table->setModel(model);
  table->setItemDelegate(new PlainItem(table));
  table->setObjectName(name);
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setSelectionMode(QAbstractItemView::SingleSelection);
  table->setShowGrid(false);
  table->verticalHeader()->hide();
  table->verticalHeader()->setDefaultSectionSize(27);
  return table;
}

// No higher than its rows, so that what is below follows them.
inline void fit_to_rows(QTableView& table, int most_rows = 14) {
  const int rows = std::min(std::max(1, table.model()->rowCount()), most_rows);
  table.setMaximumHeight(rows * table.verticalHeader()->defaultSectionSize() +
                         table.horizontalHeader()->sizeHint().height() + 4);
}

}  // namespace pecorra
