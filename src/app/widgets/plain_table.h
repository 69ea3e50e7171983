// A plain list: one row selected at a time, no grid, a header of one line, rows of one height.
#pragma once

#include <QHeaderView>
#include <QTableView>
#include <algorithm>

#include "app/widgets/plain_header.h"
#include "app/widgets/plain_item.h"

namespace pecorra {

inline QTableView* plain_table(QAbstractItemModel* model, const QString& name) {
  auto* table = new QTableView;
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
