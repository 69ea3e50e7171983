// The selected row of a table at the right: everything in it, with its origin and what is odd about it.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QWidget>

#include "app/tables/row_curve.h"
#include "app/tables/row_model.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/property_form.h"
#include "app/widgets/switch_row.h"

namespace pecorra {

class RowBench : public LazyWidget {
  Q_OBJECT
 public:
  RowBench(Workspace& workspace, RowModel& model, QWidget* parent = nullptr);
  void show_row(const Id& row);
  enum Side { row_side, table_side };
  void show_side(Side side);
  RowCurve& curve() { return *curve_; }

 signals:
  void copy_wanted();  // of a shipped row into a table of the shop
  void row_wanted(const pecorra::Id& row);

 protected:
  void refresh() override;

 private:
  void build();
  void refresh_curve(const ConditionRow* row);
  void accept_table(const QString& key, const Value& value, const QString& typed);
  void accept(const QString& key, const Value& value, const QString& typed);

  Workspace& workspace_;
  RowModel& model_;
  QLabel *title_, *subtitle_;
  QPushButton* copy_;
  SwitchRow* sides_;
  QStackedWidget* stack_;
  RowCurve* curve_;
  PropertyForm *form_, *table_form_;
  Id row_;
};

}  // namespace pecorra
