// Jobs: all of them as a list; or one, with its operations, features and setups, its toolpaths and its program.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTableView>
#include <QWidget>

#include "app/jobs/chain_sheet.h"
#include "app/jobs/decision_sheet.h"
#include "app/jobs/feature_model.h"
#include "app/jobs/job_list.h"
#include "app/jobs/job_planner.h"
#include "app/jobs/job_player.h"
#include "app/jobs/operation_model.h"
#include "app/jobs/path_view.h"
#include "app/jobs/play_bar.h"
#include "app/jobs/program_panel.h"
#include "app/retune/program_list.h"
#include "app/retune/retune_view.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/switch_row.h"
#include "app/widgets/text_model.h"
#include "app/workspace.h"

namespace pecorra {

class FitColumns;

class JobsPage : public LazyWidget {
  Q_OBJECT
 public:
  // What of a job is listed; or all jobs; or a program that is being retuned.
  enum View { operations, features, setups, all_jobs, retuning };
  JobsPage(Workspace& workspace, QWidget* parent = nullptr);

  void show_view(View view);
  View view() const { return view_; }
  QWidget* list();  // of the view
  std::vector<QWidget*> lists() const {
    return {grid_, feature_table_, setup_table_, &jobs_->table(), &retune_->table()};
  }
  void focus_list() { list()->setFocus(); }

  // From a drawing, or without one.
  void new_job();
  // Reads a DXF file off the interface thread into a new job, or into the current one.
  void read_drawing(const QString& file, bool into_this_job);
  void copy_job();
  void delete_job();
  // Kinds to choose from.
  void new_operation();
  void new_feature();
  // Of the view: an operation, a feature, a setup or a job.
  void add_something();
  void copy_something();
  void delete_something();
  void add_operation(PathKind path);
  // The chain of operations that makes the selected features, or those of the selected operation: shown first.
  void propose_chain();
  void add_feature(FeatureKind kind);
  // Operations that another job can take; there, with Ctrl+V.
  void copy_to_clipboard();
  void paste();
  // Lines that have changed since they were picked are taken as they are now.
  void accept_lines();
  void move_operation(int by);
  // By key instead of a click in the drawing: the next line, or the next circle diameter.
  void next_line();
  // The order with the fewest cutter changes; what changed at the sources: both are seen first.
  void propose_order();
  void show_source_changes();
  void save_proven_step();
  void use_proven_step();
  void update_proven_step();
  DecisionSheet& decisions() { return *decisions_; }
  void update_from_library();
  void keep_copy();
  // Off the interface thread. `each_setup`: a file of its own for each, named after it.
  void write_program(const QString& file, bool each_setup = false);
  // PDF or HTML, by its ending.
  void write_sheet(const QString& file, bool portrait = false);
  QString proposed_file() const;  // without an ending
  bool is_planned() const { return workspace_.is_shown_whole() && !planner_.is_busy(); }
  const JobPlan& plan() const { return plan_; }
  const std::string& program() const {
    static const std::string none;
    return written_ ? written_->text : none;
  }
  OperationModel& model() { return *model_; }
  FeatureModel& feature_model() { return *feature_model_; }
  QTableView& grid() { return *grid_; }
  JobList& jobs() { return *jobs_; }
  ProgramList& programs() { return *programs_; }
  RetuneView& retune() { return *retune_; }
  // Reads a program made elsewhere and shows what it becomes.
  void open_program(const QString& file);
  ChainSheet& chain() { return *chain_; }
  PlayBar& play_bar() { return *play_bar_; }
  JobPlayer& player() { return *player_; }
  void find_in_program() { program_->open_find(); }
  ProgramView& program_view() { return program_->view(); }
  PathView& paths() { return *paths_; }
  void select_feature(const std::string& key);

 signals:
  void said(const QString& what, bool fault);
  void planned(const pecorra::JobPlan& plan);
  void drawing_wanted();  // for a new job
  void job_started();
  void feature_added();  // a new one is selected, to be typed     // one without a drawing
  void operation_made();
  void program_wanted();
  void foreign_program_wanted();  // its file
  void retuned_wanted();          // is to be written
  void sheet_wanted(bool portrait);
  void program_each_setup_wanted();
  void view_changed();
  void feature_chosen(const QString& key);
  void setup_chosen(int index);
  void places_wanted();  // pasted into the feature

 protected:
  void refresh() override;

 private:
  void make_head(QLayout& layout);
  void make_banner(QLayout& layout);
  void make_lists();
  void make_lower();
  void show_more();
  void show_decision(DecisionSheet::Content content);
  void once_saved(std::function<void()> then);
  void say_times(const Job& job);
  void connect_all();
  std::optional<int> selected_operation() const;
  std::vector<std::string> selected_features() const;
  int selected_setup() const;
  // Another operation in front: nothing is worked out for it.
  void follow_selection();
  void show_selection();
  void refresh_banner(bool whole);
  void fit_operations(bool both);  // `both`: old and new
  void refresh_setups();
  // As high as its rows, unless the user has moved the line below it.
  void fit_list();
  void click_feature(const QString& key, Qt::KeyboardModifiers modifiers);
  // Applies what could be done, or says why it could not.
  void apply(tl::expected<Change, QString> change);

  Workspace& workspace_;
  JobPlanner planner_;
  std::shared_ptr<PlanCache> cache_ = std::make_shared<PlanCache>();
  OperationModel* model_;
  FeatureModel* feature_model_;
  TextModel* setup_model_;
  JobPlan plan_;
  std::shared_ptr<const WrittenProgram> written_;
  QStackedWidget *pages_, *lists_;
  JobList* jobs_;
  ProgramList* programs_;
  RetuneView* retune_;
  SwitchRow* views_;
  QLabel *title_, *facts_, *banner_text_, *empty_;
  QWidget* banner_;
  ChainSheet* chain_;
  DecisionSheet* decisions_;
  QPushButton *back_to_jobs_, *propose_, *new_, *program_button_, *accept_, *back_, *compare_, *sources_, *more_;
  QTableView *grid_, *feature_table_, *setup_table_;
  FitColumns *columns_, *feature_columns_, *setup_columns_;
  PathView* paths_;
  ProgramPanel* program_;
  PlayBar* play_bar_;
  JobPlayer* player_ = nullptr;
  QSplitter *split_, *lower_;
  PickList* kinds_;
  View view_ = operations;
  bool compare_moved_ = false, list_is_sized_ = false;
  // What is shown was worked out for this, and nothing has changed since.
  bool is_current_ = false;
  Id shown_job_, shown_material_, shown_machine_;
  double shown_pace_ = 0;
};

}  // namespace pecorra
