// Possible duplicates of the current cutter: to view, merge, or mark as different.
#pragma once

#include <QVBoxLayout>
#include <QWidget>

#include "app/workspace.h"

namespace pecorra {

class LikePanel : public QWidget {
  Q_OBJECT
 public:
  LikePanel(Workspace& workspace, QWidget* parent = nullptr);
  void show_cutter(const Cutter* cutter);

 private:
  Workspace& workspace_;
  QVBoxLayout* lines_;
  Id cutter_;
  std::vector<std::pair<Id, QString>> shown_;  // with what is said
};

}  // namespace pecorra
