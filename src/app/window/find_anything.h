// Ctrl+K: finds cutters, materials, jobs and actions by name.
#pragma once

#include "app/widgets/pick_list.h"
#include "app/workspace.h"
#include "core/library/cutter_find.h"

namespace pecorra {

struct Command {
  QString id, text, keys;  // keys as shown
  std::function<void()> run;
};

class FindAnything : public PickList {
  Q_OBJECT
 public:
  FindAnything(Workspace& workspace, QWidget* parent);
  void open_over(QWidget* window, const std::vector<Command>& commands);

 signals:
  void cutter_found(const pecorra::Id& cutter);
  void material_found(const pecorra::Id& material);
  void machine_found(const pecorra::Id& machine);
  void job_found(const pecorra::Id& job);

 private:
  Workspace& workspace_;
  CutterIndex words_;
};

}  // namespace pecorra
