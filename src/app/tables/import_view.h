// What a sheet would bring to a table, line by line, before anything is changed: new, changed, same, in conflict, faulty.
#pragma once

#include <QAbstractTableModel>
#include <QLabel>
#include <QPushButton>
#include <QTableView>

#include "app/widgets/switch_row.h"
#include "app/workspace.h"
#include "core/tables/row_sheet.h"

namespace pecorra {

class ImportModel;

class ImportView : public QWidget {
  Q_OBJECT
 public:
  ImportView(Workspace& workspace, QWidget* parent = nullptr);
  // `from`: the file's name, or the clipboard.
  void show_sheet(const Id& table, const QString& from, RowSheet sheet);
  const std::vector<MergeLine<ConditionRow>>& lines() const;
  void pick(std::size_t line, bool picked);
  int picked() const;
  void take();
  QTableView& table() { return *view_; }

 signals:
  void done();  // taken or left
  void said(const QString& what, bool fault);

 private:
  void refresh();
  enum Shown { to_take, all_lines, only_faults };

  Workspace& workspace_;
  ImportModel* model_;
  QLabel *title_, *counts_, *unknown_;
  SwitchRow* shown_;
  QTableView* view_;
  QPushButton *take_, *leave_, *all_, *none_;
  Id table_;
  QString from_;
};

}  // namespace pecorra
