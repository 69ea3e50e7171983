// A few texts in rows, as a list shows them; each can have a tone and a mark.
#pragma once

#include <QAbstractTableModel>
#include <QStringList>
#include <map>
#include <vector>

#include "app/look/look.h"
#include "app/widgets/plain_item.h"

namespace pecorra {

class TextModel : public QAbstractTableModel {
 public:
  TextModel(QStringList headings, QObject* parent, QList<int> right_aligned = {})
      : QAbstractTableModel(parent), headings_(std::move(headings)), right_(std::move(right_aligned)) {}
  void set_right_aligned(QList<int> columns) { right_ = std::move(columns); }
  void set_headings(const QStringList& headings) {
    if (headings == headings_) return;
    beginResetModel();
    headings_ = headings;
    endResetModel();
  }
  // `lit`: cells that stand out, by row and column.
  void set_lines(std::vector<QStringList> lines, std::map<std::pair<int, int>, Tone> lit = {}) {
    if (lines == lines_ && lit == lit_) return;
    const bool same_size = lines.size() == lines_.size() && !lines.empty();
    if (!same_size) beginResetModel();
    lines_ = std::move(lines);
    lit_ = std::move(lit);
    if (!same_size) endResetModel();
    else emit dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1));
  }
  const std::vector<QStringList>& lines() const { return lines_; }
  bool is_lit(int row, int column) const { return lit_.count({row, column}) > 0; }
  int rowCount(const QModelIndex& parent = {}) const override {
    return parent.isValid() ? 0 : static_cast<int>(lines_.size());
  }
  int columnCount(const QModelIndex& = {}) const override { return static_cast<int>(headings_.size()); }
  QVariant data(const QModelIndex& i, int role) const override {
    if (role == Qt::TextAlignmentRole) return side(i.column());
    if (role == cell_tone_role) {
      const auto found = lit_.find({i.row(), i.column()});
      return found == lit_.end() ? QVariant() : QVariant(static_cast<int>(found->second));
    }
    const QStringList& line = lines_[static_cast<std::size_t>(i.row())];
    if (role == Qt::DisplayRole || role == Qt::ToolTipRole)
      return i.column() < line.size() ? line[i.column()] : QString();
    return {};
  }
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override {
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole) return side(section);
    return role == Qt::DisplayRole && section < headings_.size() ? QVariant(headings_[section]) : QVariant();
  }

 private:
  int side(int column) const {
    return static_cast<int>((right_.contains(column) ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  }
  QStringList headings_;
  QList<int> right_;
  std::vector<QStringList> lines_;
  std::map<std::pair<int, int>, Tone> lit_;
};

}  // namespace pecorra
