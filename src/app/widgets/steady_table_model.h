// A table over chosen rows of a list in the shop, each known by its id. New values of the same rows are shown in place:
// nothing blinks, nothing scrolls; only other rows reset the view.
#pragma once

#include <QAbstractTableModel>
#include <algorithm>
#include <vector>

#include "core/base/id.h"

namespace pecorra {

class SteadyTableModel : public QAbstractTableModel {
 public:
  using QAbstractTableModel::QAbstractTableModel;

  int rowCount(const QModelIndex& parent = {}) const override {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
  }
  // -1: not shown.
  int row_of(const Id& id) const {
    const auto at = std::find(ids_.begin(), ids_.end(), id);
    return at == ids_.end() ? -1 : static_cast<int>(at - ids_.begin());
  }

 protected:
  // Places in the shop's list, and the ids of what stands there; as long as each other.
  void show_rows(std::vector<std::size_t> rows, std::vector<Id> ids) {
    if (ids == ids_) {
      rows_ = std::move(rows);
      if (!rows_.empty()) emit dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
      emit headerDataChanged(Qt::Horizontal, 0, columnCount() - 1);
      return;
    }
    beginResetModel();
    rows_ = std::move(rows);
    ids_ = std::move(ids);
    endResetModel();
  }
  std::size_t place_of(int row) const { return rows_[static_cast<std::size_t>(row)]; }

 private:
  std::vector<std::size_t> rows_;
  std::vector<Id> ids_;
};

}  // namespace pecorra
