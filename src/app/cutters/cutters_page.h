// The list of cutters, each with its speed and feed for the context line.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <QWidget>

#include "app/cutters/cutter_model.h"
#include "app/widgets/switch_row.h"

namespace pecorra {

class PickList;

class CuttersPage : public QWidget {
  Q_OBJECT
 public:
  CuttersPage(Workspace& workspace, QWidget* parent = nullptr);

  // Kind first: asks which, then makes it.
  void new_cutter();
  void make_cutter(CutterKind kind);
  void copy_cutter();
  void delete_cutter();
  void focus_filter();
  // Selects it, taking away a filter or library that hides it.
  void show_cutter(const Id& cutter);
  // Goes round the drafts and the cutters with warnings.
  void show_next_to_look_at();
  // Which columns are seen, their order and widths; library and filters; for the next start.
  void remember() const;
  void choose_columns();
  void show_alike() { only_alike_->toggle(); }
  QTableView& table() { return *table_; }
  bool eventFilter(QObject* object, QEvent* event) override;
  void sort_by(CutterModel::Column column) { model_->sort_by(column); }

 signals:
  void cutter_made();  // its sizes are wanted now
  void open_sizes();

 private:
  void rebuild_libraries();
  void recall();
  // The name takes what the other columns leave, but stays readable; then the list can be pushed sideways.
  void fit_name();
  void follow_selection();
  void refresh_title();
  Id target_library() const;

  Workspace& workspace_;
  CutterModel* model_;
  QTableView* table_;
  QLabel *title_, *count_, *empty_;
  QLineEdit* filter_;
  SwitchRow* libraries_;
  QPushButton *new_, *only_open_, *only_alike_, *columns_;
  PickList *kinds_, *column_list_ = nullptr;
};

}  // namespace pecorra
