// The selected row of a table at the right: everything in it, with its origin and what is odd about it.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/widgets/lazy_widget.h"
#include "app/tables/row_model.h"
#include "app/widgets/property_form.h"

namespace pecorra {

class RowBench : public LazyWidget {
  Q_OBJECT
 public:
  RowBench(Workspace& workspace, RowModel& model, QWidget* parent = nullptr);
  void show_row(const Id& row);

 signals:
  void copy_wanted();  // of a shipped row into a table of the shop

 protected:
  void refresh() override;

 private:
  void build();
  void accept(const QString& key, const Value& value, const QString& typed);

  Workspace& workspace_;
  RowModel& model_;
  QLabel *title_, *subtitle_;
  QPushButton* copy_;
  PropertyForm* form_;
  Id row_;
};

}  // namespace pecorra
