// Feeds and speeds: the chart of every cutter in every material, and the tables behind it, row by row.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableView>

#include "app/tables/chart_view.h"
#include "app/tables/row_model.h"
#include "app/widgets/switch_row.h"

namespace pecorra {

class TablesPage : public QWidget {
  Q_OBJECT
 public:
  enum View { chart, rows };
  TablesPage(Workspace& workspace, QWidget* parent = nullptr);

  void show_view(View view);
  View view() const { return static_cast<View>(stack_->currentIndex()); }
  void show_table(const Id& table);
  // Opens the table at that row.
  void show_row(const TrailTarget& target);
  RowModel& model() { return *model_; }
  QTableView& grid() { return *grid_; }
  ChartView& chart_view() { return *chart_; }

  void add_row();
  void delete_row();
  void new_table();
  void rename_table(const QString& name);
  // The selected shipped row, into a table of the shop.
  void copy_row_to_shop();
  void focus_filter();

 signals:
  void view_changed();
  void row_chosen(const pecorra::Id& row);
  void said(const QString& what, bool fault);

 private:
  void refresh();
  void select_row(const Id& row, int column = RowModel::diameter);
  Id current_row() const;

  Workspace& workspace_;
  RowModel* model_;
  SwitchRow* views_;
  QComboBox* tables_;
  QLineEdit *name_, *filter_;
  QPushButton *add_, *only_context_;
  QLabel *count_, *note_, *empty_;
  QStackedWidget* stack_;
  ChartView* chart_;
  QTableView* grid_;
  QWidget* legend_;
  Id kept_row_;  // selected again after the model was rebuilt
  bool resetting_ = false;
};

}  // namespace pecorra
