// The selected holder at the right: to scale, its stations and its fields.
#pragma once

#include "app/holders/holder_drawing.h"
#include "app/widgets/bench_head.h"
#include "app/widgets/number_table.h"
#include "app/widgets/property_form.h"
#include "app/workspace.h"

namespace pecorra {

class HolderBench : public QWidget {
  Q_OBJECT
 public:
  HolderBench(Workspace& workspace, QWidget* parent = nullptr);
  void show_holder(const Id& holder);
  HolderDrawing& drawing() { return *drawing_; }
  void type_stations() { stations_->start(0, 1); }
  QTableWidget& stations() { return stations_->table(); }

 signals:
  void said(const QString& what, bool fault);

 private:
  void refresh();
  const Holder* holder() const { return workspace_.state().holders.find(holder_); }

  Workspace& workspace_;
  Id holder_;
  BenchHead* head_;
  HolderDrawing* drawing_;
  NumberTable* stations_;
  PropertyForm* form_;
};

}  // namespace pecorra
