// Column widths by what a list holds: headings and the first rows whole, one column takes the remaining width. What is
// then wider than the list scrolls sideways.
#pragma once

#include <QEvent>
#include <QHash>
#include <QHeaderView>
#include <QTableView>
#include <algorithm>
#include <map>
#include <vector>

namespace pecorra {

// Widths of texts in columns; a list is fitted with every change, and most of its texts are those of before.
class TextWidths {
 public:
  // Of the heading and of the texts in the first rows, without a margin.
  int content_width(const QTableView& table, int column) {
    constexpr int most_rows = 60;
    const QAbstractItemModel& model = *table.model();
    if (known_in_ != table.font()) known_.clear(), known_in_ = table.font();
    int width = text_width(model.headerData(column, Qt::Horizontal, Qt::DisplayRole).toString());
    for (int row = 0; row < std::min(model.rowCount(), most_rows); ++row)
      width = std::max(width, text_width(model.index(row, column).data().toString()));
    return width;
  }

 private:
  int text_width(const QString& text) {
    constexpr qsizetype most_known = 5000;
    if (known_.size() > most_known) known_.clear();
    auto found = known_.find(text);
    if (found == known_.end()) found = known_.insert(text, QFontMetrics(known_in_).horizontalAdvance(text));
    return *found;
  }

  QHash<QString, int> known_;
  QFont known_in_;
};

class FitColumns : public QObject {
 public:
  FitColumns(QTableView* table, int stretched) : QObject(table), table_(*table), stretched_(stretched) {
    table->viewport()->installEventFilter(this);
    // A width that somebody drags stays.
    connect(table->horizontalHeader(), &QHeaderView::sectionResized, this, [this](int section, int, int width) {
      if (fitting_ || static_cast<std::size_t>(section) >= widths_.size()) return;
      widths_[static_cast<std::size_t>(section)] = width;
    });
  }
  // Room that the texts alone do not tell: bold figures, marks, two values.
  void at_least(int column, int width) { least_[column] = width; }
  // That one takes what the others leave, even if its texts are cut off.
  void give_way(int column) {
    stretched_ = column;
    least_width_ = 120;
  }
  // Of a text in its column, on both sides together.
  void set_margin(int pixels) { margin_ = pixels; }
  // Columns only grow, so that a list does not jump while it is filtered; with other headings, as in other units, they
  // start anew. `anew`: at once.
  void fit(bool anew = false) {
    const QAbstractItemModel& model = *table_.model();
    QStringList headings;
    for (int i = 0; i < model.columnCount(); ++i)
      headings << model.headerData(i, Qt::Horizontal, Qt::DisplayRole).toString();
    if (anew || headings != headings_) widths_.assign(static_cast<std::size_t>(headings.size()), 0);
    headings_ = headings;
    for (int i = 0; i < model.columnCount(); ++i) {
      if (table_.isColumnHidden(i)) continue;
      int& width = widths_[static_cast<std::size_t>(i)];
      if (const auto least = least_.find(i); least != least_.end()) width = std::max(width, least->second);
      width = std::max(width, texts_.content_width(table_, i) + margin_);
    }
    stretch();
  }

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override {
    if (event->type() == QEvent::Resize) stretch();
    return QObject::eventFilter(watched, event);
  }

 private:
  void stretch() {
    if (widths_.empty()) return;
    fitting_ = true;
    int others = 0;
    for (int i = 0; i < static_cast<int>(widths_.size()); ++i) {
      if (i == stretched_) continue;
      table_.setColumnWidth(i, widths_[static_cast<std::size_t>(i)]);
      others += table_.columnWidth(i);
    }
    const int whole = least_width_ > 0 ? least_width_ : widths_[static_cast<std::size_t>(stretched_)];
    table_.setColumnWidth(stretched_, std::max(whole, table_.viewport()->width() - others));
    fitting_ = false;
  }

  QTableView& table_;
  int stretched_, least_width_ = 0;
  std::map<int, int> least_;
  int margin_ = 18;
  bool fitting_ = false;
  QStringList headings_;
  std::vector<int> widths_;
  TextWidths texts_;
};

}  // namespace pecorra
