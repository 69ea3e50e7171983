// Things of one kind in the shop as a table: a column for each of some properties, filtered by text, sorted by any
// column.
#pragma once

#include <QCollator>
#include <algorithm>
#include <functional>
#include <optional>

#include "app/widgets/property_cell.h"
#include "app/widgets/steady_table_model.h"
#include "app/workspace.h"

namespace pecorra {

template <class T>
class PartModel : public SteadyTableModel {
 public:
  PartModel(Workspace& workspace, std::function<const Collection<T>&(const ShopState&)> all,
            std::function<bool(const T&)> belongs, const std::vector<std::string_view>& columns, bool by_symbol,
            bool sorted, std::function<std::optional<QString>(const T&, const Property<T>&)> cell, QObject* parent)
      : SteadyTableModel(parent),
        workspace_(workspace),
        all_(std::move(all)),
        belongs_(std::move(belongs)),
        cell_(std::move(cell)),
        by_symbol_(by_symbol),
        sorted_(sorted ? 0 : -1) {
    for (const std::string_view key : columns) columns_.push_back(find_property<T>(key));
    connect(&workspace_, &Workspace::data_changed, this, [this] { rebuild(); });
    connect(&workspace_, &Workspace::context_changed, this, [this] { rebuild(); });
    rebuild();
  }
  void set_text(const QString& text) {
    text_ = text;
    rebuild();
  }
  const T* at(int row) const {
    return row < 0 || row >= rowCount() ? nullptr : &all_(workspace_.state())[place_of(row)];
  }
  std::size_t total() const { return total_; }

  int columnCount(const QModelIndex& = {}) const override { return static_cast<int>(columns_.size()); }
  QVariant data(const QModelIndex& index, int role) const override {
    const T* thing = at(index.row());
    if (!thing) return {};
    const Property<T>& property = *columns_[static_cast<std::size_t>(index.column())];
    if (role == Qt::TextAlignmentRole) return alignment(property);
    if (role == Qt::DisplayRole || role == Qt::ToolTipRole) return text_in(*thing, property);
    return {};
  }
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override {
    if (orientation != Qt::Horizontal) return {};
    const Property<T>& property = *columns_[static_cast<std::size_t>(section)];
    if (role == Qt::TextAlignmentRole) return alignment(property);
    if (role == Qt::ToolTipRole)
      return QStringLiteral("%1. %2").arg(label_text(property.label), label_text(property.help));
    if (role != Qt::DisplayRole) return {};
    QString text = label_text(by_symbol_ && !property.symbol.empty() ? property.symbol : property.label);
    if (section == sorted_) text += order_ == Qt::AscendingOrder ? QStringLiteral(" ↑") : QStringLiteral(" ↓");
    return text;
  }
  // By this column; again: the other way round.
  void sort_by(int column) {
    order_ = column == sorted_ && order_ == Qt::AscendingOrder ? Qt::DescendingOrder : Qt::AscendingOrder;
    sorted_ = column;
    rebuild();
  }

 private:
  QString text_in(const T& thing, const Property<T>& property) const {
    if (cell_)
      if (auto text = cell_(thing, property)) return std::move(*text);
    return cell_text(thing, property, workspace_.units());
  }
  static int alignment(const Property<T>& property) {
    return static_cast<int>((is_figure(property.quantity) ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  }
  void rebuild() {
    const auto& things = all_(workspace_.state());
    const QStringList words = text_.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    std::vector<std::size_t> rows;
    total_ = 0;
    for (std::size_t i = 0; i < things.size(); ++i) {
      if (belongs_ && !belongs_(things[i])) continue;
      ++total_;
      QString whole;
      if (!words.isEmpty())
        for (const Property<T>& property : properties<T>())
          if (!is_figure(property.quantity)) whole += text_in(things[i], property) + QLatin1Char(' ');
      if (std::all_of(words.begin(), words.end(),
                      [&](const QString& word) { return whole.contains(word, Qt::CaseInsensitive); }))
        rows.push_back(i);
    }
    const Property<T>& by = *columns_[static_cast<std::size_t>(std::max(0, sorted_))];
    // Numbers in texts count as numbers: 2 before 10. The plain locale cannot do that.
    QCollator texts{QLocale(QLocale::English)};
    texts.setNumericMode(true);
    texts.setCaseSensitivity(Qt::CaseInsensitive);
    if (sorted_ >= 0)
      std::stable_sort(rows.begin(), rows.end(), [&](std::size_t a, std::size_t b) {
        if (order_ == Qt::DescendingOrder) std::swap(a, b);
        if (by.quantity == Quantity::id) return texts.compare(text_in(things[a], by), text_in(things[b], by)) < 0;
        return value_before(by.get(things[a]), by.get(things[b]));
      });
    std::vector<Id> ids;
    for (const std::size_t i : rows) ids.push_back(things[i].id);
    show_rows(std::move(rows), std::move(ids));
  }

  Workspace& workspace_;
  std::function<const Collection<T>&(const ShopState&)> all_;
  std::function<bool(const T&)> belongs_;
  std::function<std::optional<QString>(const T&, const Property<T>&)> cell_;
  std::vector<const Property<T>*> columns_;
  QString text_;
  bool by_symbol_;  // headings
  int sorted_;      // -1: as the shop keeps them
  Qt::SortOrder order_ = Qt::AscendingOrder;
  std::size_t total_ = 0;
};

}  // namespace pecorra
