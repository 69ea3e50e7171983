#include "app/jobs/jobs_page.h"

#include <QFile>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <set>

#include "app/aside.h"
#include "app/look/look.h"
#include "app/widgets/calm_header.h"
#include "app/widgets/property_form.h"
#include "core/quantity/print.h"
#include "shop/drawing_file.h"
#include "shop/job_edit.h"
#include "shop/words.h"

namespace pecorra {
namespace {

class OperationPainter : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Dyes& d = dyes();
    if (option.state & QStyle::State_Selected) p->fillRect(option.rect, d.lit);
    p->setPen(d.line);
    p->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
    QRect r = option.rect.adjusted(6, 0, -8, 0);
    const int align = index.data(Qt::TextAlignmentRole).toInt();
    const QString text = index.data().toString(), anew = index.data(OperationModel::new_text_role).toString();
    const int column = index.column();
    if (column == OperationModel::follows) {
      draw_mark(*p, QRectF(r.left(), r.top(), 12, r.height()),
                static_cast<Mark>(index.data(OperationModel::mark_role).toInt()));
      r.setLeft(r.left() + 17);
    }
    if (column == OperationModel::operation) {
      const bool fault = !index.data(OperationModel::fault_role).toString().isEmpty(),
                 moved = index.data(OperationModel::moved_role).toBool();
      if (fault || moved) {
        draw_mark(*p, QRectF(r.right() - 11, r.top(), 11, r.height()), fault ? Mark::beyond : Mark::changed);
        r.setRight(r.right() - 15);
      }
    }
    const bool figure = column == OperationModel::speed || column == OperationModel::feed;
    p->setFont(Look::get().text(figure ? 13.5 : 12.5, figure));
    if (!anew.isEmpty()) {
      // Old → new: the old one quiet, the new one in front.
      const QString tail = QStringLiteral(" → ");
      p->setPen(d.weld_text);
      p->drawText(r, align, anew);
      r.setRight(r.right() - p->fontMetrics().horizontalAdvance(anew));
      p->setFont(Look::get().text(11.5));
      p->setPen(d.quiet);
      p->drawText(r, align, text + tail);
      return;
    }
    const bool quiet =
        column == OperationModel::number || column == OperationModel::time || column == OperationModel::tightest;
    p->setPen(quiet ? d.quiet : d.ink);
    p->drawText(r, align, p->fontMetrics().elidedText(text, Qt::ElideRight, r.width()));
  }
};

}  // namespace

JobsPage::JobsPage(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      model_(new OperationModel(workspace, this)),
      title_(walnut_heading(QString(), 16)),
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
  compare_->setCheckable(false);
  accept_->setObjectName(QStringLiteral("accept"));
  back_->setObjectName(QStringLiteral("back"));
  compare_->setObjectName(QStringLiteral("compare"));
  layout->addWidget(banner_);

  grid_->setHorizontalHeader(new CalmHeader(11.5));
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
  grid_->horizontalHeader()->setSectionResizeMode(OperationModel::cutter, QHeaderView::Stretch);
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

  connect(new_job_, &QPushButton::clicked, this, &JobsPage::new_job_wanted);
  connect(new_operation_, &QPushButton::clicked, this, &JobsPage::new_operation);
  connect(program_button_, &QPushButton::clicked, this, &JobsPage::program_wanted);
  connect(accept_, &QPushButton::clicked, this,
          [this] { workspace_.is_trying() ? workspace_.accept_trial() : update_from_library(); });
  connect(back_, &QPushButton::clicked, this,
          [this] { workspace_.is_trying() ? workspace_.drop_trial() : keep_copy(); });
  connect(compare_, &QPushButton::clicked, this, [this] {
    compare_moved_ = !compare_moved_;
    refresh();
  });
  connect(grid_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    if (now.isValid()) workspace_.select_operation(now.row());
  });
  connect(paths_, &PathView::line_clicked, this, &JobsPage::click_line);
  connect(&planner_, &JobPlanner::planned, this, [this](const JobPlan& plan) {
    plan_ = plan;
    model_->show_plan(plan);
    const auto job = workspace_.shown_job();
    double minutes = 0;
    for (const PathFigures& f : plan.figures) minutes += f.minutes;
    if (job) {
      std::set<int> tools;
      for (const int t : tool_numbers(*job)) tools.insert(t);
      facts_->setText(tr("%1 operations · %2 cutters · %3 min")
                          .arg(job->operations.size())
                          .arg(tools.size())
                          .arg(duration_text(minutes)));
      facts_->setToolTip(tr("Moves at their feeds and rapids, without acceleration and changes"));
    }
    paths_->show_job(job, plan.paths, workspace_.operation_index(), workspace_.units());
    program_->show_program(text_of(plan.program));
    program_->show_operation(workspace_.operation_index() + 1);
    emit this->planned(plan);
  });
  connect(&workspace_, &Workspace::job_changed, this, &JobsPage::update_when_seen);
  connect(&workspace_, &Workspace::data_changed, this, &JobsPage::update_when_seen);
  connect(&workspace_, &Workspace::context_changed, this, &JobsPage::update_when_seen);
}

void JobsPage::refresh() {
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
  // Old → new needs room.
  const bool both = trying || compare_moved_;
  const int widths[OperationModel::column_count] = {24,  108, 150, both ? 100 : 56, both ? 98 : 74, both ? 138 : 88,
                                                    104, 130, 46};
  for (int i = 0; i < OperationModel::column_count; ++i)
    if (i != OperationModel::cutter) grid_->setColumnWidth(i, widths[i]);
  grid_->setColumnHidden(OperationModel::tightest, both);
  title_->setText(kept ? text_of(kept->name) : tr("Jobs"));
  const bool none = !kept || kept->operations.empty();
  grid_->setVisible(!none);
  empty_->setVisible(none);
  empty_->setText(!kept ? tr("No jobs yet. “New job” reads a DXF outline and makes one for the material and machine of "
                             "the line above.")
                        : tr("No operations yet. “New operation” adds a profile along the lines of the drawing, or "
                             "drilling at its circles."));
  new_operation_->setEnabled(kept);
  program_button_->setEnabled(!none && !trying);
  program_button_->setToolTip(trying ? tr("Accept or leave what is being tried first")
                                     : tr("ISO 6983, as shown below (Ctrl+E)"));
  if (!kept) facts_->clear();

  banner_->setVisible(trying || moved);
  banner_->setStyleSheet(
      QStringLiteral("#banner{background:%1;border-left:4px solid %2}").arg(dyes().notice.name(), dyes().weld.name()));
  compare_->setVisible(!trying && moved);
  if (trying) {
    const int changes = model_->changes();
    const WorkMaterial* material = workspace_.state().materials.find(shown_job->material);
    const Machine* machine = workspace_.state().machines.find(shown_job->machine);
    banner_text_->setText(tr("Tried, not accepted: %1 on %2 at pace %3. %4 of %5 operations change.")
                              .arg(material ? text_of(material->name) : QString(),
                                   machine ? text_of(machine->name) : QString(),
                                   text_of(plain(shown_job->pace.value_or(100), 1)))
                              .arg(changes)
                              .arg(kept->operations.size()));
    accept_->setText(tr("Accept"));
    back_->setText(tr("Leave it"));
  } else if (moved) {
    int count = 0;
    for (std::size_t i = 0; i < kept->operations.size(); ++i)
      count += source_moved(kept->operations[i], moved->operations[i]);
    banner_text_->setText(count == 1 ? tr("One operation: changed at source since this job took its copy.")
                                     : tr("%1 operations: changed at source since this job took its copy.").arg(count));
    compare_->setText(compare_moved_ ? tr("As it is") : tr("Old → new"));
    accept_->setText(tr("Update"));
    back_->setText(tr("Keep"));
  }
  follow_selection();
  paths_->show_job(
      shown_job,
      plan_.paths && shown_job && plan_.paths->size() == shown_job->operations.size() ? plan_.paths : nullptr,
      workspace_.operation_index(), workspace_.units());
  program_->show_operation(workspace_.operation_index() + 1);
  if (shown_job) planner_.plan(plan_request(workspace_.state(), *shown_job));
  else {
    plan_ = {};
    program_->show_program({});
  }
}

void JobsPage::follow_selection() {
  const int row = workspace_.operation_index();
  if (row >= model_->rowCount() || grid_->currentIndex().row() == row) return;
  const QSignalBlocker quiet(grid_->selectionModel());
  grid_->setCurrentIndex(model_->index(row, OperationModel::operation));
  grid_->viewport()->update();
}

void JobsPage::click_line(int line) {
  const Job* kept = workspace_.job();
  if (!kept || workspace_.operation_index() >= static_cast<int>(kept->operations.size())) return;
  Job changed = *kept;
  Operation& o = changed.operations[static_cast<std::size_t>(workspace_.operation_index())];
  Change change;
  if (o.path == PathKind::profile) {
    const auto at = std::find(o.contours.begin(), o.contours.end(), line);
    if (at != o.contours.end()) o.contours.erase(at);
    else o.contours.push_back(line);
    change.label = at != o.contours.end() ||
                           o.contours.size() <
                               kept->operations[static_cast<std::size_t>(workspace_.operation_index())].contours.size()
                       ? tr("%1: line %2 left out").arg(text_of(o.name)).arg(line + 1)
                       : tr("%1: line %2 picked").arg(text_of(o.name)).arg(line + 1);
  } else {
    const int circle = line - static_cast<int>(kept->drawing.contours.size());
    if (circle < 0) {
      emit said(tr("Holes are drilled at circles; this is a line."), true);
      return;
    }
    o.hole_diameter_mm = kept->drawing.circles[static_cast<std::size_t>(circle)].diameter_mm;
    o.typed.erase("hole_diameter_mm");
    change.label = tr("%1: circles of Ø%2 picked")
                       .arg(text_of(o.name), text_of(shown(*o.hole_diameter_mm, Quantity::length, workspace_.units())));
  }
  change.edit(*kept, changed);
  workspace_.shop().apply(std::move(change));
}

void JobsPage::next_line() {
  const Job* kept = workspace_.job();
  if (!kept || workspace_.operation_index() >= static_cast<int>(kept->operations.size())) return;
  const Operation& o = kept->operations[static_cast<std::size_t>(workspace_.operation_index())];
  const int lines = line_count(kept->drawing), contours = static_cast<int>(kept->drawing.contours.size());
  if (o.path == PathKind::profile) {
    if (lines == 0) return;
    const int next = o.contours.empty() ? 0 : (o.contours.back() + 1) % lines;
    Job changed = *kept;
    changed.operations[static_cast<std::size_t>(workspace_.operation_index())].contours = {next};
    Change change;
    change.label = tr("%1: line %2 of %3").arg(text_of(o.name)).arg(next + 1).arg(lines);
    change.edit(*kept, changed);
    workspace_.shop().apply(std::move(change));
    return;
  }
  const std::vector<double> diameters = hole_diameters(kept->drawing);
  if (diameters.empty()) return;
  const auto at = std::upper_bound(diameters.begin(), diameters.end(), o.hole_diameter_mm.value_or(0) + 1e-4);
  const double wanted = at == diameters.end() ? diameters.front() : *at;
  for (std::size_t i = 0; i < kept->drawing.circles.size(); ++i)
    if (std::abs(kept->drawing.circles[i].diameter_mm - wanted) < 1e-4)
      return click_line(contours + static_cast<int>(i));
}

void JobsPage::read_drawing(const QString& file, bool into_this_job) {
  emit said(tr("Reading %1 …").arg(QFileInfo(file).fileName()), false);
  aside(
      this, [file] { return read_drawing_file(file); },
      [this, into_this_job, job_id = workspace_.job_id()](const DrawingRead& read) {
        if (!read.fault.isEmpty()) {
          emit said(read.fault, true);
          return;
        }
        Change change;
        const Job* kept = workspace_.state().jobs.find(job_id);
        if (into_this_job && kept) {
          Job changed = *kept;
          changed.drawing = read.drawing;
          change.label = tr("Drawing of %1: %2, %3").arg(text_of(kept->name), text_of(read.drawing.source), read.note);
          change.edit(*kept, changed);
          workspace_.shop().apply(std::move(change));
          return;
        }
        Job job =
            proposed_job(workspace_.state(), read.drawing, workspace_.shown_machine(), workspace_.shown_material());
        job.id = new_id();
        change.label = tr("New job %1: %2 lines, %3 circles, %4")
                           .arg(text_of(job.name))
                           .arg(job.drawing.contours.size())
                           .arg(job.drawing.circles.size())
                           .arg(read.note);
        change.add(job);
        workspace_.shop().apply(std::move(change));
        workspace_.select_job(job.id);
      });
}

void JobsPage::new_operation() {
  if (!workspace_.job()) return;
  std::vector<PickItem> items;
  items.push_back({tr("Profile"), tr("around, inside or along a line of the drawing"),
                   [this] { add_operation(PathKind::profile); }});
  items.push_back({tr("Drilling"), tr("at the circles of the drawing"), [this] { add_operation(PathKind::drilling); }});
  kinds_->open(new_operation_->mapToGlobal(QPoint(new_operation_->width() - 360, new_operation_->height() + 2)), 360,
               std::move(items), 0, tr("Kind of the new operation"));
}

void JobsPage::add_operation(PathKind path) {
  const Job* kept = workspace_.job();
  if (!kept) return;
  Job changed = *kept;
  Operation o = proposed_operation(changed, path);
  o.id = new_id();
  // The first cutter that fits is taken; another one is a click away.
  const Resolver& resolver = workspace_.shop().resolver();
  const auto options = cutters_for(workspace_.state(), resolver, changed, o);
  if (!options.empty() && options.front().fits && options.front().resolution.found())
    pick_cutter(workspace_.state(), resolver, changed, o, *options.front().cutter);
  changed.operations.push_back(o);
  Change change;
  change.label = o.cutter.id.is_null()
                     ? tr("New operation: %1").arg(label_text(label_of(path)))
                     : tr("New operation: %1 with %2").arg(label_text(label_of(path)), text_of(o.cutter.name));
  change.edit(*kept, changed);
  workspace_.shop().apply(std::move(change));
  workspace_.select_operation(static_cast<int>(changed.operations.size()) - 1);
  emit operation_made();
}

void JobsPage::move_operation(int by) {
  const Job* kept = workspace_.job();
  const int from = workspace_.operation_index(), to = from + by;
  if (!kept || from < 0 || to < 0 || std::max(from, to) >= static_cast<int>(kept->operations.size())) return;
  Job changed = *kept;
  std::swap(changed.operations[static_cast<std::size_t>(from)], changed.operations[static_cast<std::size_t>(to)]);
  Change change;
  change.label =
      tr("%1 is now operation %2").arg(text_of(kept->operations[static_cast<std::size_t>(from)].name)).arg(to + 1);
  change.edit(*kept, changed);
  workspace_.shop().apply(std::move(change));
  workspace_.select_operation(to);
}

void JobsPage::delete_operation() {
  const Job* kept = workspace_.job();
  const int at = workspace_.operation_index();
  if (!kept || at < 0 || at >= static_cast<int>(kept->operations.size())) return;
  Job changed = *kept;
  changed.operations.erase(changed.operations.begin() + at);
  Change change;
  change.label =
      tr("Deleted operation %1, %2").arg(at + 1).arg(text_of(kept->operations[static_cast<std::size_t>(at)].name));
  change.edit(*kept, changed);
  workspace_.shop().apply(std::move(change));
}

void JobsPage::delete_job() {
  const Job* kept = workspace_.job();
  if (!kept) return;
  Change change;
  change.label = tr("Deleted job %1").arg(text_of(kept->name));
  change.remove(*kept);
  workspace_.shop().apply(std::move(change));
}

void JobsPage::update_from_library() {
  const auto moved = workspace_.moved_job();
  if (!moved) return;
  Change change;
  change.label = tr("%1: updated from the library").arg(text_of(moved->name));
  change.edit(*workspace_.job(), *moved);
  workspace_.shop().apply(std::move(change));
}

void JobsPage::keep_copy() {
  const auto moved = workspace_.moved_job();
  if (!moved) return;
  Job changed = *workspace_.job();
  for (std::size_t i = 0; i < changed.operations.size(); ++i)
    if (source_moved(changed.operations[i], moved->operations[i]))
      changed.operations[i].taken.kept = fingerprint(moved->operations[i].taken);
  Change change;
  change.label = tr("%1 keeps its own copy of the values").arg(text_of(changed.name));
  change.edit(*workspace_.job(), changed);
  workspace_.shop().apply(std::move(change));
}

QString JobsPage::proposed_file() const {
  const Job* kept = workspace_.job();
  QString name = kept ? text_of(kept->name).toLower().simplified() : QStringLiteral("program");
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
  const auto write = [request = plan_request(workspace_.state(), *kept), file, units = workspace_.units()] {
    const JobPlan plan = plan_job(request);
    Written w;
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
  aside(this, write, [this, file](const Written& w) {
    if (!w.faulty.isEmpty()) emit said(tr("Nothing written: %1").arg(w.faulty.join(QStringLiteral("; "))), true);
    else if (!w.fault.isEmpty()) emit said(w.fault, true);
    else emit said(tr("Program written: %1, %2 blocks").arg(QFileInfo(file).fileName()).arg(w.blocks), false);
  });
}

}  // namespace pecorra

#include "moc_jobs_page.cpp"
