// Feeds and speeds: the chart, the tables behind it, recipes, and comparison of any two.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableView>

#include "app/parts/parts_section.h"
#include "app/tables/chart_pane.h"
#include "app/tables/compare_view.h"
#include "app/tables/row_model.h"
#include "app/widgets/change_preview.h"
#include "app/widgets/switch_row.h"
#include "core/tables/row_sheet.h"

namespace pecorra {

class PickList;

class TablesPage : public QWidget {
  Q_OBJECT
 public:
  enum View { chart, rows, recipes, compare, importing };
  TablesPage(Workspace& workspace, QWidget* parent = nullptr);

  void show_view(View view);
  View view() const { return static_cast<View>(stack_->currentIndex()); }
  void show_table(const Id& table);
  // Opens the table at that row, or the recipe.
  void show_row(const TrailTarget& target);
  RowModel& model() { return *model_; }
  QTableView& grid() { return *grid_; }
  ChartPane& chart_pane() { return *chart_; }
  ChartView& chart_view() { return chart_->view(); }
  CompareView& compare_view() { return *compare_; }
  // Preview of importing a sheet into the current table.
  void preview(const QString& from, const RowSheet& sheet);
  ChangePreview& import_view() { return *import_; }
  PartsSection& recipe_section() { return *recipes_; }
  // Of the view in front; none: the cutter's.
  QWidget* bench() const { return view() == recipes ? recipes_->bench() : nullptr; }

  void add_row();
  void delete_row();
  void new_table();
  void rename_table(const QString& name);
  void delete_table();
  // The selected shipped row, into a table of the shop.
  void copy_row_to_shop();
  // An empty row for the series of the cutter that is looked at, for what its data sheet says.
  void row_from_data_sheet();
  // A block from a spreadsheet: under headings of its own, or from the current cell on.
  void paste();
  void read_rows(const QString& file);
  void write_rows(const QString& file);
  void choose_more();
  void focus_filter();

 signals:
  void view_changed();
  void row_chosen(const pecorra::Id& row);
  void said(const QString& what, bool fault);
  void rows_file_wanted(bool to_read);

 private:
  void refresh();
  void build_rows(QWidget* page);
  void select_row(const Id& row, int column = RowModel::diameter);
  void paste_in_place(const Sheet& sheet);
  ConditionRow pattern_row() const;
  Id current_row() const;

  Workspace& workspace_;
  RowModel* model_;
  SwitchRow* views_;
  QComboBox* tables_;
  QLineEdit *name_, *filter_;
  QPushButton *add_, *more_, *only_context_, *new_recipe_;
  QLabel *count_, *note_, *empty_;
  QStackedWidget* stack_;
  ChartPane* chart_;
  QTableView* grid_;
  PartsSection* recipes_;
  CompareView* compare_;
  ChangePreview* import_;
  QWidget* legend_;
  PickList* mores_ = nullptr;
  Id kept_row_;  // selected again after the model was rebuilt
  bool resetting_ = false;
};

}  // namespace pecorra
