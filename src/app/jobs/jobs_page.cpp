#include "app/jobs/jobs_page.h"

#include <QFile>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QSettings>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <set>

#include "app/jobs/operation_painter.h"
#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_header.h"
#include "app/widgets/property_form.h"
#include "core/quantity/print.h"
#include "shop/drawing_file.h"
#include "shop/operation_edit.h"
#include "shop/task.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {
JobsPage::JobsPage(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      planner_(workspace.tasks()),
      model_(new OperationModel(workspace, this)),
      title_(section_heading(QString(), 16)),
      facts_(new QLabel),
      banner_text_(new QLabel),
      empty_(new QLabel),
      banner_(new QWidget),
      new_job_(new QPushButton(tr("New job"))),
      new_operation_(new QPushButton(tr("New operation"))),
      program_button_(new QPushButton(tr("Write program"))),
      accept_(new QPushButton),
      back_(new QPushButton),
      compare_(new QPushButton(tr("Old → new"))),
      grid_(new QTableView),
      paths_(new PathView),
      program_(new ProgramView),
      split_(new QSplitter(Qt::Vertical)),
      lower_(new QSplitter(Qt::Horizontal)),
      kinds_(new PickList(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 12, 8);
  layout->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  head->addWidget(title_);
  set_tone(facts_, Tone::quiet);
  facts_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  head->addWidget(facts_, 1);
  for (QPushButton* b : {new_job_, new_operation_, program_button_}) head->addWidget(b);
  new_job_->setObjectName(QStringLiteral("new_job"));
  new_operation_->setObjectName(QStringLiteral("new_operation"));
  program_button_->setObjectName(QStringLiteral("write_program"));
  layout->addLayout(head);

  banner_->setObjectName(QStringLiteral("banner"));
  banner_->setAttribute(Qt::WA_StyledBackground);
  auto* banner_row = new QHBoxLayout(banner_);
  banner_row->setContentsMargins(12, 3, 8, 3);
  banner_text_->setWordWrap(true);
  banner_text_->setObjectName(QStringLiteral("banner_text"));
  banner_row->addWidget(banner_text_, 1);
  for (QPushButton* b : {compare_, accept_, back_}) {
    b->setFlat(true);
    b->setCursor(Qt::PointingHandCursor);
    banner_row->addWidget(b);
  }
  accept_->setObjectName(QStringLiteral("accept"));
  back_->setObjectName(QStringLiteral("back"));
  compare_->setObjectName(QStringLiteral("compare"));
  layout->addWidget(banner_);

  grid_->setHorizontalHeader(new PlainHeader(11.5));
  grid_->setModel(model_);
  grid_->setObjectName(QStringLiteral("operation_table"));
  grid_->setItemDelegate(new OperationPainter(grid_));
  grid_->setSelectionBehavior(QAbstractItemView::SelectRows);
  grid_->setSelectionMode(QAbstractItemView::SingleSelection);
  grid_->setShowGrid(false);
  grid_->setTabKeyNavigation(false);
  grid_->verticalHeader()->hide();
  grid_->verticalHeader()->setDefaultSectionSize(27);
  grid_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  columns_ = new FitColumns(grid_, OperationModel::cutter);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  auto* upper = new QWidget;
  auto* upper_layout = new QVBoxLayout(upper);
  upper_layout->setContentsMargins(0, 0, 0, 0);
  upper_layout->addWidget(grid_, 1);
  upper_layout->addWidget(empty_, 1);
  lower_->addWidget(paths_);
  lower_->addWidget(program_);
  lower_->setSizes({420, 350});
  lower_->setHandleWidth(8);
  split_->addWidget(upper);
  split_->addWidget(lower_);
  split_->setSizes({150, 470});
  split_->setHandleWidth(8);
  split_->setStretchFactor(1, 1);
  layout->addWidget(split_, 1);

  connect(split_, &QSplitter::splitterMoved, this, [this] { list_is_sized_ = true; });
  connect(new_job_, &QPushButton::clicked, this, &JobsPage::new_job_wanted);
  connect(new_operation_, &QPushButton::clicked, this, &JobsPage::new_operation);
  connect(program_button_, &QPushButton::clicked, this, &JobsPage::program_wanted);
  connect(accept_, &QPushButton::clicked, this,
          [this] { workspace_.is_trying() ? workspace_.accept_trial() : update_from_library(); });
  connect(back_, &QPushButton::clicked, this,
          [this] { workspace_.is_trying() ? workspace_.drop_trial() : keep_copy(); });
  connect(compare_, &QPushButton::clicked, this, [this] {
    compare_moved_ = !compare_moved_;
    is_current_ = false;
    refresh();
  });
  connect(grid_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    if (now.isValid()) workspace_.select_operation(now.row());
  });
  paths_->set_side_view(QSettings().value(QStringLiteral("jobs/side_view"), true).toBool());
  connect(paths_, &PathView::look_changed, this,
          [this] { QSettings().setValue(QStringLiteral("jobs/side_view"), paths_->has_side_view()); });
  connect(paths_, &PathView::feature_clicked, this, &JobsPage::click_feature);
  connect(&planner_, &JobPlanner::planned, this, [this](const JobPlan& plan) {
    plan_ = plan;
    model_->show_plan(plan);
    const auto job = workspace_.shown_job();
    double minutes = 0;
    for (const PathFigures& f : plan.figures) minutes += f.minutes;
    if (job) {
      std::set<int> tools;
      for (const int t : tool_numbers(job->operations)) tools.insert(t);
      facts_->setText(tr("%1 operations · %2 cutters · %3 min")
                          .arg(job->operations.size())
                          .arg(tools.size())
                          .arg(duration_text(minutes)));
      facts_->setToolTip(tr("Moves at their feeds and rapids, without acceleration and tool changes"));
    }
    program_->show_program(text_of(plan.program));
    show_selection();
    emit this->planned(plan);
  });
  connect(&workspace_, &Workspace::job_changed, this, &JobsPage::update_when_seen);
  const auto anew = [this] {
    is_current_ = false;
    update_when_seen();
  };
  connect(&workspace_, &Workspace::data_changed, this, anew);
  connect(&workspace_, &Workspace::context_changed, this, anew);
}

void JobsPage::show_selection() {
  follow_selection();
  const auto shown_job = workspace_.shown_job();
  paths_->show_job(
      shown_job,
      shown_job && plan_.operations.size() == shown_job->operations.size() ? plan_.operations : PlannedOperations{},
      workspace_.operation_index(), workspace_.units());
  program_->show_operation(workspace_.operation_index() + 1);
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
  const Job* kept = workspace_.job();
  const auto shown_job = workspace_.shown_job();
  const bool trying = workspace_.is_trying();
  const auto moved = kept ? workspace_.moved_job() : std::nullopt;
  if (!moved) compare_moved_ = false;
  model_->show_job(kept ? std::optional(*kept) : std::nullopt,
                   trying           ? shown_job
                   : compare_moved_ ? moved
                                    : std::nullopt,
                   moved);
  const bool both = trying || compare_moved_;
  grid_->setColumnHidden(OperationModel::tightest, both);
  // Old → new needs room, and so do the mark and the bold figures.
  columns_->at_least(OperationModel::speed, both ? 98 : 60);
  columns_->at_least(OperationModel::feed, both ? 98 : 76);
  columns_->at_least(OperationModel::depth_width, both ? 130 : 76);
  columns_->at_least(OperationModel::follows, 108);
  columns_->at_least(OperationModel::time, 58);
  columns_->fit(true);
  title_->setText(kept ? text_of(kept->name) : tr("Jobs"));
  const bool none = !kept || kept->operations.empty();
  grid_->setVisible(!none);
  empty_->setVisible(none);
  empty_->setText(!kept ? tr("No jobs yet. “New job” reads a DXF outline and makes one for the material and machine of "
                             "the line above.")
                        : tr("No operations yet. “New operation” adds a face, profile, pocket, slot or drilling for "
                             "the lines of the drawing."));
  new_operation_->setEnabled(kept);
  program_button_->setEnabled(!none && !trying);
  program_button_->setToolTip(trying ? tr("Accept or discard the trial first")
                                     : tr("ISO 6983, as shown below (Ctrl+E)"));
  if (!kept) facts_->clear();

  banner_->setVisible(trying || moved);
  banner_->setStyleSheet(QStringLiteral("#banner{background:%1;border-left:4px solid %2}")
                             .arg(colours().notice.name(), colours().warning.name()));
  compare_->setVisible(!trying && moved);
  if (trying) {
    const int changes = model_->changes();
    const WorkMaterial* material = workspace_.state().materials.find(shown_job->material);
    const Machine* machine = workspace_.state().machines.find(shown_job->machine);
    banner_text_->setText(tr("Trial, not accepted: %1 on %2 at pace %3. %4 of %5 operations change.")
                              .arg(material ? text_of(material->name) : QString(),
                                   machine ? text_of(machine->name) : QString(),
                                   text_of(plain(shown_job->pace.value_or(100), 1)))
                              .arg(changes)
                              .arg(kept->operations.size()));
    accept_->setText(tr("Accept"));
    back_->setText(tr("Discard"));
  } else if (moved) {
    int count = 0;
    for (std::size_t i = 0; i < kept->operations.size(); ++i)
      count += source_moved(kept->operations[i], moved->operations[i]);
    banner_text_->setText(count == 1 ? tr("One operation: changed at source since this job took its copy.")
                                     : tr("%1 operations: changed at source since this job took its copy.").arg(count));
    compare_->setText(compare_moved_ ? tr("Current values") : tr("Old → new"));
    accept_->setText(tr("Update"));
    back_->setText(tr("Keep"));
  }
  fit_list();
  show_selection();
  if (shown_job) planner_.plan(plan_request(workspace_.state(), *shown_job, cache_));
  else {
    plan_ = {};
    program_->show_program({});
  }
}

void JobsPage::fit_list() {
  if (list_is_sized_ || split_->height() < 200) return;
  const int rows =
      grid_->horizontalHeader()->height() + model_->rowCount() * grid_->verticalHeader()->defaultSectionSize();
  const int wanted = std::clamp(rows + 18, 110, split_->height() * 45 / 100);
  split_->setSizes({wanted, split_->height() - wanted - split_->handleWidth()});
}

void JobsPage::follow_selection() {
  const int row = workspace_.operation_index();
  if (row >= model_->rowCount() || grid_->currentIndex().row() == row) return;
  const QSignalBlocker quiet(grid_->selectionModel());
  grid_->setCurrentIndex(model_->index(row, OperationModel::operation));
  grid_->viewport()->update();
}

void JobsPage::read_drawing(const QString& file, bool into_this_job) {
  emit said(tr("Reading %1 …").arg(QFileInfo(file).fileName()), false);
  workspace_.tasks().run(
      this, tr("Reading %1").arg(QFileInfo(file).fileName()),
      [file](Task&) { return read_drawing_file(file, 1, true); },
      [this, into_this_job, job_id = workspace_.job_id()](const DrawingRead& read) {
        if (!read.fault.isEmpty()) {
          emit said(read.fault, true);
          return;
        }
        const auto kept = workspace_.state().job(job_id);
        if (into_this_job && kept) return workspace_.shop().apply(with_drawing(*kept, read.drawing, read.note));
        NewJob made = new_job(workspace_.state(), read.drawing, read.note, workspace_.shown_machine(),
                              workspace_.shown_material());
        workspace_.shop().apply(std::move(made.change));
        workspace_.select_job(made.job);
      });
}

void JobsPage::new_operation() {
  if (!workspace_.job()) return;
  std::vector<PickItem> items;
  const std::pair<PathKind, QString> kinds[] = {{PathKind::profile, tr("around, inside or along a line")},
                                                {PathKind::pocket, tr("clears an outline to a depth, around islands")},
                                                {PathKind::slot, tr("along a line at full width")},
                                                {PathKind::face, tr("the top of the stock")},
                                                {PathKind::drill, tr("at circles and holes")}};
  for (const auto& [kind, what] : kinds)
    items.push_back({label_text(label_of(kind)), what, [this, kind = kind] { add_operation(kind); }});
  kinds_->open(new_operation_->mapToGlobal(QPoint(new_operation_->width() - 360, new_operation_->height() + 2)), 360,
               std::move(items), 0, tr("Kind of the new operation"));
}

// The operation that is selected; nothing without one.
std::optional<int> JobsPage::selected_operation() const {
  const Job* kept = workspace_.job();
  const int at = workspace_.operation_index();
  return kept && at >= 0 && at < static_cast<int>(kept->operations.size()) ? std::optional(at) : std::nullopt;
}

void JobsPage::click_feature(const QString& key, bool alone) {
  const auto at = selected_operation();
  if (!at) return;
  auto change = feature_clicked(*workspace_.job(), *at, key.toStdString(), alone, workspace_.units());
  if (!change) return emit said(change.error(), true);
  workspace_.shop().apply(std::move(*change));
}

void JobsPage::next_line() {
  if (const auto at = selected_operation())
    workspace_.shop().apply(pecorra::next_line(*workspace_.job(), *at, workspace_.units()));
}

void JobsPage::add_operation(PathKind path) {
  const Job* kept = workspace_.job();
  if (!kept) return;
  workspace_.shop().apply(added_operation(workspace_.state(), workspace_.shop().resolver(), *kept, path));
  workspace_.select_operation(static_cast<int>(workspace_.job()->operations.size()) - 1);
  emit operation_made();
}

void JobsPage::copy_operation() {
  if (const auto at = selected_operation()) {
    workspace_.shop().apply(copied_operation(*workspace_.job(), *at));
    workspace_.select_operation(*at + 1);
  }
}

void JobsPage::accept_lines() {
  if (const auto at = selected_operation()) workspace_.shop().apply(features_accepted(*workspace_.job(), *at));
}

void JobsPage::move_operation(int by) {
  const auto at = selected_operation();
  Change change = at ? moved_operation(*workspace_.job(), *at, by) : Change{};
  if (change.empty()) return;
  workspace_.shop().apply(std::move(change));
  workspace_.select_operation(*at + by);
}

void JobsPage::delete_operation() {
  if (const auto at = selected_operation()) workspace_.shop().apply(without_operation(*workspace_.job(), *at));
}

void JobsPage::delete_job() {
  if (const Job* kept = workspace_.job()) workspace_.shop().apply(without_job(*kept));
}

void JobsPage::update_from_library() {
  if (const auto anew = workspace_.moved_job()) workspace_.shop().apply(updated_from_library(*workspace_.job(), *anew));
}

void JobsPage::keep_copy() {
  if (const auto anew = workspace_.moved_job()) workspace_.shop().apply(kept_copy(*workspace_.job(), *anew));
}

QString JobsPage::proposed_file() const {
  QString name = workspace_.job() ? text_of(workspace_.job()->name).toLower().simplified() : QStringLiteral("program");
  for (QChar& c : name)
    if (!c.isLetterOrNumber()) c = QLatin1Char('_');
  return name + QStringLiteral(".nc");
}

void JobsPage::write_program(const QString& file) {
  const Job* kept = workspace_.job();
  if (!kept) return;
  struct Written {
    QString fault;
    QStringList faulty;
    int blocks = 0;
  };
  const auto write = [request = plan_request(workspace_.state(), *kept), file, units = workspace_.units()](Task& task) {
    const JobPlan plan = plan_job(request, [&task](double done) { return task.report(done); });
    Written w;
    if (task.is_cancelled()) {
      w.fault = QObject::tr("Cancelled; no program was written");
      return w;
    }
    for (std::size_t i = 0; i < plan.faults.size(); ++i)
      for (const Message& m : plan.faults[i])
        if (m.severity == Severity::error)
          w.faulty << QObject::tr("operation %1, %2: %3")
                          .arg(i + 1)
                          .arg(text_of(request.job.operations[i].name), sentence(m, units));
    if (!w.faulty.isEmpty()) return w;
    w.fault = write_file(file, QByteArray::fromStdString(plan.program));
    w.blocks = static_cast<int>(std::count(plan.program.begin(), plan.program.end(), '\n'));
    return w;
  };
  workspace_.tasks().run(this, tr("Writing %1").arg(QFileInfo(file).fileName()), write, [this, file](const Written& w) {
    if (!w.faulty.isEmpty()) emit said(tr("Nothing written: %1").arg(w.faulty.join(QStringLiteral("; "))), true);
    else if (!w.fault.isEmpty()) emit said(w.fault, true);
    else emit said(tr("Program written: %1, %2 blocks").arg(QFileInfo(file).fileName()).arg(w.blocks), false);
  });
}

}  // namespace pecorra

#include "moc_jobs_page.cpp"
