// The selected holder at the right: to scale, its stations and its fields.
#pragma once

#include <QLabel>
#include <QTableWidget>

#include "app/holders/holder_drawing.h"
#include "app/widgets/bench_head.h"
#include "app/widgets/property_form.h"
#include "app/workspace.h"

namespace pecorra {

class HolderBench : public QWidget {
  Q_OBJECT
 public:
  HolderBench(Workspace& workspace, QWidget* parent = nullptr);
  void show_holder(const Id& holder);
  HolderDrawing& drawing() { return *drawing_; }
  QTableWidget& stations() { return *stations_; }

 signals:
  void said(const QString& what, bool fault);

 private:
  void refresh();
  void accept_cell(int row, int column);
  void add_station();
  void remove_station();
  const Holder* holder() const { return workspace_.state().holders.find(holder_); }

  Workspace& workspace_;
  Id holder_;
  BenchHead* head_;
  HolderDrawing* drawing_;
  QTableWidget* stations_;
  QLabel* fault_;
  PropertyForm* form_;
  bool filling_ = false;
};

}  // namespace pecorra
