// A plain list: one row selected at a time, no grid, a header of one line, rows of one height.
#pragma once

#include <QTableView>

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

}  // namespace pecorra
