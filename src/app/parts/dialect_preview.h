// The program of a job as a dialect writes it, while the dialect is edited.
#pragma once

#include <QLabel>
#include <QWidget>
#include <memory>

#include "app/jobs/program_view.h"
#include "app/workspace.h"
#include "shop/planning.h"

namespace pecorra {

class DialectPreview : public QWidget {
  Q_OBJECT
 public:
  explicit DialectPreview(Workspace& workspace, QWidget* parent = nullptr);
  // One that is wrong leaves the last good program. Null: none is selected.
  void show_dialect(const Dialect* dialect);
  ProgramView& view() { return *view_; }

 private:
  void plan();
  void write();

  struct Planned {
    PlanRequest request;
    JobPlan plan;
  };
  Workspace& workspace_;
  QLabel* head_;
  ProgramView* view_;
  Dialect wanted_;
  bool wants_ = false, busy_ = false, again_ = false;
  Id job_;
  std::shared_ptr<const Job> planned_of_;
  std::shared_ptr<const Planned> planned_;
};

}  // namespace pecorra
