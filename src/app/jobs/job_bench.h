// The selected operation of a job at the right: its cutter and conditions, its fields, and the job itself.
#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QWidget>

#include "app/jobs/job_planner.h"
#include "app/widgets/bench_head.h"
#include "app/widgets/conditions_panel.h"
#include "app/widgets/cutter_drawing.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_form.h"
#include "app/widgets/switch_row.h"
#include "app/workspace.h"

namespace pecorra {

class JobBench : public LazyWidget {
  Q_OBJECT
 public:
  enum Side { conditions_side, operation_side, job_side };
  JobBench(Workspace& workspace, QWidget* parent = nullptr);
  void show_side(Side side);
  // The job as a whole, without any of its operations: beside the list of jobs.
  void show_job_only(bool only);
  void show_plan(const JobPlan& plan);
  void pick_cutter();
  void toggle_own();
  // The cut of the operation with its trial values; nothing where it has no speed and feed.
  const std::optional<CutInFront>& cut() const { return shown_.cut; }
  const QString& why_not() const { return shown_.why_not; }
  // Applies the trial values to the operation.
  void take_tried();
  void take_first_change();
  ConditionsPanel& conditions_panel() { return *conditions_; }
  CutterDrawing& drawing() { return *drawing_; }

 signals:
  void what_if_wanted();
  void cut_changed();
  void said(const QString& what, bool fault);
  void source_clicked(const pecorra::TrailTarget& target);
  void drawing_wanted();

 protected:
  void refresh() override;

 private:
  void say_faults(const std::vector<Message>& messages);
  void mend(const QString& how);
  void refresh_messages();
  void say_lacks();
  void refresh_cut();
  void try_one(std::string_view property, double value);
  std::vector<Message> job_messages() const;
  void accept_operation(const QString& key, const Value& value, const QString& typed);
  void accept_job(const QString& key, const Value& value, const QString& typed);
  void accept_own(const QString& key, const Value& value, const QString& typed);
  void toggle_for_cutter(bool on);
  void build_form(const Operation& operation);
  void show_values(const Operation& operation);
  // Whether other operations of the job have this cutter too.
  bool has_company(const Job& job, const Operation& operation) const;
  void set_cutter(const Id& id);
  void put_into_library(const Id& library);
  const Operation* selected(const Job& job) const;

  Workspace& workspace_;
  BenchHead* head_;
  QLabel *follows_, *drawing_text_, *lacks_, *faults_;
  QPushButton *pick_, *own_, *read_drawing_;
  CutterDrawing* drawing_;
  SwitchRow* sides_;
  QStackedWidget* stack_;
  PropertyForm *own_form_, *form_, *job_form_;
  QCheckBox* for_cutter_;
  ConditionsPanel* conditions_;
  PickList* cutters_;
  std::optional<PathKind> built_for_;
  bool job_only_ = false;
  std::shared_ptr<const Job> lacks_of_;  // of which they are said
  JobPlan plan_;
  ShownConditions shown_;
};

}  // namespace pecorra
