// Cutters of the chosen library with their numbers in the context, filtered by text.
#pragma once

#include <iterator>
#include <string_view>
#include <vector>

#include "app/widgets/steady_table_model.h"
#include "app/workspace.h"

namespace pecorra {

class CutterModel : public SteadyTableModel {
  Q_OBJECT
 public:
  // Behind the number stand columns that show a property each; they are hidden until somebody wants them.
  enum Column { icon, speed, feed, mark, name, diameter, reach, flutes, made_of, assembly, removal, number, library_name, first_property };
  static constexpr std::string_view property_columns[] = {"corner_radius_mm", "flute_length_mm", "shank_diameter_mm", "overall_length_mm", "helix_deg", "coating", "quality", "thread",
                                                          "maker", "series", "order_code", "price", "in_stock", "wanted", "on_order", "retired", "notes"};
  static constexpr int column_count = first_property + static_cast<int>(std::size(property_columns));
  enum Role { sort_role = Qt::UserRole, mark_role, reason_role, draft_role };

  CutterModel(Workspace& workspace, QObject* parent = nullptr);
  void set_library(const std::optional<Id>& library);
  void set_text(const QString& text);
  void set_only_to_look_at(bool only);
  // Only those that are probably here twice, each beside the other.
  void set_only_alike(bool only);
  // How a column is called in the list of columns.
  QString column_name(int section) const;
  const Cutter* cutter_at(int row) const;
  std::optional<Id> library() const { return library_; }

  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  void sort(int column, Qt::SortOrder order) override;
  int sorted_by() const { return sort_column_; }
  bool sorted_down() const { return sort_order_ == Qt::DescendingOrder; }
  // By this column; again: the other way round.
  void sort_by(int column) { sort(column, column == sort_column_ && sort_order_ == Qt::AscendingOrder ? Qt::DescendingOrder : Qt::AscendingOrder); }

 private:
  void rebuild();
  void renumber();
  QString heading(int section) const;
  double sort_value(std::size_t index, int column) const;
  const Property<Cutter>* property_of(int column) const;
  Qt::Alignment alignment(int column) const;

  Workspace& workspace_;
  std::optional<Id> library_;
  QString text_;
  bool only_to_look_at_ = false, only_alike_ = false;
  int sort_column_ = number;
  Qt::SortOrder sort_order_ = Qt::AscendingOrder;
  std::vector<Resolution> resolutions_;  // for each of the shop's cutters
};

}  // namespace pecorra
