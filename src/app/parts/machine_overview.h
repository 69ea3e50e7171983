// Under the list of machines: their power over speed, one against the other, and the jobs of the selected one.
#pragma once

#include <QLabel>
#include <QTableView>

#include "app/widgets/text_model.h"
#include "app/workspace.h"

namespace pecorra {

class MachineOverview : public QWidget {
  Q_OBJECT
 public:
  explicit MachineOverview(Workspace& workspace, QWidget* parent = nullptr);
  void show_machine(const Id& machine);

 private:
  class Curves;
  void refresh();

  Workspace& workspace_;
  Id machine_;
  Curves* curves_;
  QLabel* title_;
  TextModel* jobs_;
  QTableView* table_;
};

}  // namespace pecorra
