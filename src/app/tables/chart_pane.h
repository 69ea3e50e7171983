// The chart with its filters, tints and exports.
#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>

#include "app/tables/chart_view.h"
#include "app/widgets/switch_row.h"

namespace pecorra {

class PickList;

class ChartPane : public QWidget {
  Q_OBJECT
 public:
  ChartPane(Workspace& workspace, QWidget* parent = nullptr);
  ChartView& view() { return *view_; }
  void show_rows(ChartRows rows);
  void set_heat(Heat heat);
  QString count_text() const;
  // By the ending: .pdf on A4, .csv, .xlsx. `large`: A3.
  void save(const QString& file, bool large = false);
  void choose_saving();
  void focus_filter();

 signals:
  // A file is wanted, with this ending.
  void file_wanted(const QString& ending, bool large);
  void said(const QString& what, bool fault);
  void counted();

 private:
  Workspace& workspace_;
  ChartView* view_;
  SwitchRow* rows_;
  QPushButton *able_, *all_materials_, *save_;
  QComboBox* heat_;
  QLineEdit* filter_;
  PickList* savings_ = nullptr;
};

}  // namespace pecorra
