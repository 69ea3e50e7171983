#include "app/jobs/jobs_page.h"

#include <QHeaderView>
#include <QSettings>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/property_form.h"
#include "core/quantity/print.h"
#include "shop/feature_edit.h"
#include "shop/operation_edit.h"
#include "shop/words.h"

namespace pecorra {

JobsPage::JobsPage(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      planner_(workspace.tasks()),
      model_(new OperationModel(workspace, this)),
      feature_model_(new FeatureModel(workspace, this)),
      setup_model_(new TextModel(
          {tr("Setup"), tr("Stock"), tr("Zero point"), tr("Work offset"), tr("Clamps"), tr("Operations")}, this)),
      pages_(new QStackedWidget),
      lists_(new QStackedWidget),
      jobs_(new JobList(workspace)),
      programs_(new ProgramList(workspace)),
      retune_(new RetuneView(workspace)),
      views_(new SwitchRow({tr("Operations"), tr("Features"), tr("Setups")})),
      title_(section_heading(QString(), 16)),
      facts_(new QLabel),
      banner_text_(new QLabel),
      empty_(new QLabel),
      banner_(new QWidget),
      chain_(new ChainSheet(workspace)),
      decisions_(new DecisionSheet),
      back_to_jobs_(new QPushButton(tr("‹ Jobs"))),
      propose_(new QPushButton(tr("Propose operations"))),
      new_(new QPushButton),
      program_button_(new QPushButton(tr("Write program"))),
      accept_(new QPushButton),
      back_(new QPushButton),
      compare_(new QPushButton(tr("Old → new"))),
      sources_(new QPushButton(tr("One by one"))),
      more_(new QPushButton(tr("More"))),
      paths_(new PathView),
      program_(new ProgramPanel),
      play_bar_(new PlayBar),
      split_(new QSplitter(Qt::Vertical)),
      lower_(new QSplitter(Qt::Horizontal)),
      kinds_(new PickList(this)) {
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(16, 12, 12, 8);
  auto* one = new QWidget;
  auto* layout = new QVBoxLayout(one);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  make_head(*layout);
  make_banner(*layout);
  make_lists();
  make_lower();
  split_->addWidget(lists_);
  split_->addWidget(lower_);
  split_->setSizes({150, 470});
  split_->setHandleWidth(8);
  split_->setStretchFactor(1, 1);
  layout->addWidget(split_, 1);
  pages_->addWidget(one);
  auto* all = new QWidget;
  auto* lists = new QVBoxLayout(all);
  lists->setContentsMargins(0, 0, 0, 0);
  lists->addWidget(jobs_);
  lists->addWidget(programs_, 1);
  pages_->addWidget(all);
  pages_->addWidget(retune_);
  outer->addWidget(pages_);
  connect_all();
}

void JobsPage::connect_all() {
  connect(split_, &QSplitter::splitterMoved, this, [this] { list_is_sized_ = true; });
  connect(back_to_jobs_, &QPushButton::clicked, this, [this] { show_view(all_jobs); });
  connect(views_, &SwitchRow::chosen, this, [this](int i) { show_view(static_cast<View>(i)); });
  connect(jobs_, &JobList::opened, this, [this] {
    if (workspace_.job()) show_view(operations);
  });
  connect(programs_, &ProgramList::opened, this, &JobsPage::open_program);
  connect(programs_, &ProgramList::file_wanted, this, &JobsPage::foreign_program_wanted);
  connect(programs_, &ProgramList::said, this, &JobsPage::said);
  connect(retune_, &RetuneView::closed, this, [this] {
    if (view_ == retuning) show_view(all_jobs);
  });
  connect(retune_, &RetuneView::opened, this, [this] {
    if (view_ != retuning) show_view(retuning);
  });
  connect(retune_, &RetuneView::write_wanted, this, &JobsPage::retuned_wanted);
  connect(retune_, &RetuneView::said, this, &JobsPage::said);
  connect(jobs_, &JobList::new_wanted, this, &JobsPage::new_job);
  connect(jobs_, &JobList::copy_wanted, this, &JobsPage::copy_job);
  connect(new_, &QPushButton::clicked, this, &JobsPage::add_something);
  connect(propose_, &QPushButton::clicked, this, &JobsPage::propose_chain);
  connect(chain_, &ChainSheet::done, this, [this] {
    is_current_ = false;
    refresh();
    focus_list();
  });
  connect(chain_, &ChainSheet::taken, this, [this](int count) {
    show_view(operations);
    const int end = static_cast<int>(workspace_.job()->operations.size());
    Places added;
    for (int i = end - count; i < end; ++i) added.push_back(i);
    workspace_.select_operations(added, added.front());
    emit operation_made();
  });
  connect(program_button_, &QPushButton::clicked, this, &JobsPage::program_wanted);
  connect(accept_, &QPushButton::clicked, this,
          [this] { workspace_.is_trying() ? workspace_.accept_trial() : update_from_library(); });
  connect(back_, &QPushButton::clicked, this,
          [this] { workspace_.is_trying() ? workspace_.drop_trial() : keep_copy(); });
  connect(more_, &QPushButton::clicked, this, &JobsPage::show_more);
  connect(sources_, &QPushButton::clicked, this, &JobsPage::show_source_changes);
  connect(decisions_, &DecisionSheet::closed, this, [this] {
    is_current_ = false;
    refresh();
    focus_list();
  });
  connect(compare_, &QPushButton::clicked, this, [this] {
    compare_moved_ = !compare_moved_;
    is_current_ = false;
    refresh();
  });
  connect(grid_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
    Places places;
    for (const QModelIndex& i : grid_->selectionModel()->selectedRows()) places.push_back(i.row());
    const QModelIndex now = grid_->currentIndex();
    if (places.empty() || !now.isValid()) return;
    const int front = grid_->selectionModel()->isRowSelected(now.row()) ? now.row() : places.back();
    workspace_.select_operations(std::move(places), front);
  });
  connect(feature_table_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
    const auto chosen = selected_features();
    emit feature_chosen(chosen.empty() ? QString() : text_of(chosen.back()));
    show_selection();
  });
  connect(setup_table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this] {
    emit setup_chosen(selected_setup());
    show_selection();
  });
  connect(model_, &OperationModel::put_wanted, this, [this](const Places& places, int before) {
    const Change change = operations_put(*workspace_.job(), places, before);
    if (change.empty()) return;
    const int first =
        before - static_cast<int>(std::count_if(places.begin(), places.end(), [&](int i) { return i < before; }));
    workspace_.shop().apply(change);
    Places now;
    for (int i = 0; i < static_cast<int>(places.size()); ++i) now.push_back(first + i);
    workspace_.select_operations(now, now.front());
  });
  paths_->set_side_view(QSettings().value(QStringLiteral("jobs/side_view"), true).toBool());
  connect(paths_, &PathView::look_changed, this,
          [this] { QSettings().setValue(QStringLiteral("jobs/side_view"), paths_->has_side_view()); });
  connect(paths_, &PathView::hole_dragged, this, [this](const QString& key, int hole, QPointF to, bool whole) {
    if (workspace_.job())
      workspace_.shop().apply(pecorra::hole_dragged(*workspace_.job(), key.toStdString(),
                                                    static_cast<std::size_t>(hole), {to.x(), to.y()}, whole));
  });
  connect(paths_, &PathView::feature_clicked, this, &JobsPage::click_feature);
  connect(paths_, &PathView::place_clicked, this, [this](QPointF at) {
    if (const auto operation = selected_operation(); operation && view_ == operations)
      workspace_.shop().apply(tab_clicked(*workspace_.job(), *operation, {at.x(), at.y()}, workspace_.units()));
  });
  connect(&planner_, &JobPlanner::planned, this, [this](const JobPlan& plan) {
    plan_ = plan;
    model_->show_plan(plan);
    columns_->fit();
    const auto job = workspace_.shown_job();
    if (job) say_times(*job);
    player_->show_plan(job, plan);
    show_selection();
    emit this->planned(plan);
  });
  connect(&planner_, &JobPlanner::written, this, [this](const std::shared_ptr<const WrittenProgram>& program) {
    written_ = program;
    program_->view().show_program(program);
    if (!play_bar_->is_on()) program_->view().show_operation(workspace_.operation_index() + 1);
  });
  connect(&workspace_, &Workspace::job_changed, this, &JobsPage::update_when_seen);
  const auto anew = [this] {
    is_current_ = false;
    update_when_seen();
  };
  connect(&workspace_, &Workspace::data_changed, this, anew);
  connect(&workspace_, &Workspace::context_changed, this, anew);
}

QWidget* JobsPage::list() {
  switch (view_) {
    case features: return feature_table_;
    case setups: return setup_table_;
    case all_jobs: return &jobs_->table();
    case retuning: return &retune_->table();
    case operations: break;
  }
  return grid_;
}

void JobsPage::show_view(View view) {
  const bool focus = list()->hasFocus() || isAncestorOf(focusWidget());
  view_ = view;
  is_current_ = false;
  workspace_.set_program_in_front(view == retuning);
  if (view == retuning) {
    pages_->setCurrentIndex(2);
    retune_->update_when_seen();
  } else if (view == all_jobs) {
    pages_->setCurrentIndex(1);
    jobs_->update_when_seen();
    programs_->update_when_seen();
  } else {
    pages_->setCurrentIndex(0);
    views_->set_current(view);
  }
  refresh();
  emit view_changed();
  if (focus) focus_list();
}

void JobsPage::show_selection() {
  follow_selection();
  paths_->let_holes_be_dragged(view_ == features && !workspace_.is_trying());
  const auto job = workspace_.shown_job();
  PathFocus focus;
  if (view_ == operations || view_ >= all_jobs) {
    focus.operations = workspace_.operations();
    focus.front = workspace_.operation_index();
  } else if (view_ == features) {
    for (const std::string& key : selected_features()) {
      if (job) focus.lit += lines_of_feature(*job, key);
      for (const int user : feature_model_->users_of(key)) focus.operations.push_back(user);
    }
  } else {
    focus.setup = selected_setup();
    if (job)
      for (std::size_t i = 0; i < job->operations.size(); ++i)
        if (const Setup* of = setup_of(*job, job->operations[i]);
            of && focus.setup >= 0 && of == &job->setups[static_cast<std::size_t>(focus.setup)])
          focus.operations.push_back(static_cast<int>(i));
  }
  paths_->show_job(job,
                   job && plan_.operations.size() == job->operations.size() ? plan_.operations : PlannedOperations{},
                   focus, workspace_.units(), workspace_.is_trying() ? workspace_.kept_job() : nullptr);
  if (!play_bar_->is_on()) program_->view().show_operation(workspace_.operation_index() + 1);
}

void JobsPage::refresh() {
  const bool same = is_current_ && shown_job_ == workspace_.job_id() &&
                    shown_material_ == workspace_.shown_material() && shown_machine_ == workspace_.shown_machine() &&
                    shown_pace_ == workspace_.shown_pace();
  if (same) return show_selection();
  is_current_ = true;
  shown_job_ = workspace_.job_id();
  shown_material_ = workspace_.shown_material();
  shown_machine_ = workspace_.shown_machine();
  shown_pace_ = workspace_.shown_pace();
  const int top = grid_->rowAt(0), bottom = grid_->rowAt(grid_->viewport()->height() - 1);
  workspace_.set_operations_in_view(std::max(0, top), bottom < 0 ? std::max(0, top) + 30 : bottom);
  const auto shown_job = workspace_.shown_job();
  const bool trying = workspace_.is_trying(), whole = workspace_.is_shown_whole();
  const auto moved = shown_job ? workspace_.moved_job() : nullptr;
  if (!moved) compare_moved_ = false;
  const auto stored = workspace_.kept_job();
  const Job* kept = stored.get();
  model_->show_job(stored, trying ? shown_job : compare_moved_ ? moved : nullptr, moved);
  fit_operations(trying || compare_moved_);
  if (view_ == features) {
    feature_model_->show_job(shown_job);
    feature_columns_->fit(true);
  }
  if (view_ == setups) refresh_setups();
  title_->setText(kept ? text_of(kept->name) : tr("Jobs"));
  const bool no_operations = !kept || kept->operations.empty();
  const bool none =
      !kept || (view_ == operations && no_operations) || (view_ == features && feature_model_->rowCount() == 0);
  lists_->setCurrentIndex(!chain_->is_empty()       ? 4
                          : !decisions_->is_empty() ? 5
                          : none                    ? 3
                                                    : std::min<int>(view_, setups));
  empty_->setText(
      !kept ? tr("No jobs yet. “New job” reads a drawing, or starts without one, for the material and "
                 "machine of the line above.")
      : view_ == features
          ? tr("No features yet. “New feature” defines one by its dimensions: a rectangle, holes, a slot, a text.")
          : tr("No operations yet. “New operation” adds a face, profile, pocket, slot or drilling for the "
               "features of the job."));
  new_->setText(!kept               ? tr("New job")
                : view_ == features ? tr("New feature")
                : view_ == setups   ? tr("New setup")
                                    : tr("New operation"));
  // Hidden before others are shown: the window would widen for both.
  if (view_ == operations) propose_->hide();
  program_button_->setVisible(view_ == operations);
  views_->setVisible(kept);
  propose_->setVisible(kept && view_ == features && feature_model_->rowCount() > 0);
  program_button_->setEnabled(!no_operations && !trying);
  program_button_->setToolTip(trying ? tr("Accept or discard the trial first")
                                     : tr("ISO 6983, as shown below (Ctrl+E)"));
  if (!kept) facts_->clear();
  refresh_banner(whole);
  fit_list();
  show_selection();
  if (!whole) return;  // comes again
  if (shown_job) {
    PlanRequest request = plan_request(workspace_.state(), shown_job, cache_);
    request.shop_file = workspace_.shop().file();
    planner_.plan(std::move(request));
  } else {
    plan_ = {};
    program_->view().show_program({});
    player_->show_plan({}, {});
  }
}

void JobsPage::refresh_setups() {
  const Job* job = workspace_.job();
  std::vector<QStringList> lines;
  const UnitSystem units = workspace_.units();
  const auto length = [&](double v) { return text_of(shown(v, Quantity::length, units)); };
  for (std::size_t i = 0; job && i < job->setups.size(); ++i) {
    const Setup& s = job->setups[i];
    const StockBlock block = stock_of(*job, &s);
    const auto used = std::count_if(job->operations.begin(), job->operations.end(),
                                    [&](const Operation& o) { return setup_of(*job, o) == &s; });
    lines.push_back(
        {s.name.empty() ? tr("Setup %1").arg(i + 1) : text_of(s.name),
         QStringLiteral("%1 × %2 × %3")
             .arg(length(block.plan.width()), length(block.plan.depth()), length(block.top - block.bottom)),
         QStringLiteral("%1, %2, %3")
             .arg(length(s.zero_x_mm.value_or(0)), length(s.zero_y_mm.value_or(0)), length(s.zero_z_mm.value_or(0))),
         text_of(s.work_offset), QString::number(s.clamps.size()), QString::number(used)});
  }
  setup_model_->set_lines(std::move(lines));
  setup_columns_->fit(true);
  if (setup_model_->rowCount() > 0 && !setup_table_->currentIndex().isValid())
    setup_table_->setCurrentIndex(setup_model_->index(0, 0));
}

void JobsPage::fit_list() {
  if (list_is_sized_ || split_->height() < 200) return;
  auto* table = qobject_cast<QTableView*>(list());
  const int rows =
      table->horizontalHeader()->height() + table->model()->rowCount() * table->verticalHeader()->defaultSectionSize();
  const bool sheet = !chain_->is_empty() || !decisions_->is_empty();
  const int content = !chain_->is_empty()       ? chain_->wanted_height()
                      : !decisions_->is_empty() ? decisions_->wanted_height()
                                                : rows + 18;
  // Of the whole page, not of what a banner leaves: the list does not move when one comes or goes.
  const int wanted = std::clamp(content, 80, height() * (sheet ? 56 : 42) / 100);
  split_->setSizes({wanted, split_->height() - wanted - split_->handleWidth()});
}

void JobsPage::follow_selection() {
  const Places& places = workspace_.operations();
  const int front = workspace_.operation_index();
  if (front >= model_->rowCount()) return;
  Places seen;
  for (const QModelIndex& i : grid_->selectionModel()->selectedRows()) seen.push_back(i.row());
  std::sort(seen.begin(), seen.end());
  if (seen == places && grid_->currentIndex().row() == front) return;
  const QSignalBlocker quiet(grid_->selectionModel());
  QItemSelection selection;
  for (const int i : places) selection.select(model_->index(i, 0), model_->index(i, OperationModel::column_count - 1));
  grid_->selectionModel()->setCurrentIndex(model_->index(front, OperationModel::operation),
                                           QItemSelectionModel::NoUpdate);
  grid_->selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
  grid_->scrollTo(model_->index(front, OperationModel::operation));
  grid_->viewport()->update();
}

void JobsPage::select_feature(const std::string& key) {
  const int row = feature_model_->row_of(key);
  if (row < 0) return;
  // Alone, whatever keys are down.
  feature_table_->selectionModel()->setCurrentIndex(feature_model_->index(row, 0),
                                                    QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
}

}  // namespace pecorra

#include "moc_jobs_page.cpp"
