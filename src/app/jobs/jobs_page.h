// Jobs: operations in order with their conditions, the toolpath, the program.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QSplitter>
#include <QTableView>
#include <QWidget>

#include "app/jobs/job_planner.h"
#include "app/jobs/operation_model.h"
#include "app/jobs/path_view.h"
#include "app/jobs/program_view.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/pick_list.h"
#include "app/workspace.h"

namespace pecorra {

class FitColumns;

class JobsPage : public LazyWidget {
  Q_OBJECT
 public:
  JobsPage(Workspace& workspace, QWidget* parent = nullptr);

  // Reads a DXF file off the interface thread into a new job, or into the current one.
  void read_drawing(const QString& file, bool into_this_job);
  void new_operation();
  void add_operation(PathKind path);
  void copy_operation();
  // Lines that have changed since they were picked are taken as they are now.
  void accept_lines();
  void move_operation(int by);
  // By key instead of a click in the drawing: the next line, or the next circle diameter.
  void next_line();
  void delete_operation();
  void delete_job();
  void update_from_library();
  void keep_copy();
  // Writes the program off the interface thread.
  void write_program(const QString& file);
  QString proposed_file() const;
  bool is_planned() const { return !planner_.is_busy(); }
  const JobPlan& plan() const { return plan_; }
  OperationModel& model() { return *model_; }
  QTableView& grid() { return *grid_; }

 signals:
  void said(const QString& what, bool fault);
  void planned(const pecorra::JobPlan& plan);
  void new_job_wanted();
  void operation_made();
  void program_wanted();

 protected:
  void refresh() override;

 private:
  std::optional<int> selected_operation() const;
  // Another operation in front: nothing is worked out for it.
  void follow_selection();
  void show_selection();
  // As high as its operations, unless the user has moved the line below it.
  void fit_list();
  void click_feature(const QString& key, bool alone);

  Workspace& workspace_;
  JobPlanner planner_;
  std::shared_ptr<PlanCache> cache_ = std::make_shared<PlanCache>();
  OperationModel* model_;
  JobPlan plan_;
  QLabel *title_, *facts_, *banner_text_, *empty_;
  QWidget* banner_;
  QPushButton *new_job_, *new_operation_, *program_button_, *accept_, *back_, *compare_;
  QTableView* grid_;
  FitColumns* columns_;
  PathView* paths_;
  ProgramView* program_;
  QSplitter *split_, *lower_;
  PickList* kinds_;
  bool compare_moved_ = false, list_is_sized_ = false;
  // What is shown was worked out for this, and nothing has changed since.
  bool is_current_ = false;
  Id shown_job_, shown_material_, shown_machine_;
  double shown_pace_ = 0;
};

}  // namespace pecorra
