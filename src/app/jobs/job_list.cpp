#include "app/jobs/job_list.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "app/jobs/operation_model.h"
#include "app/look/look.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"
#include "shop/words.h"

namespace pecorra {
namespace {

Mark mark_of(JobHealth health) {
  switch (health) {
    case JobHealth::faulty: return Mark::beyond;
    case JobHealth::moved: return Mark::changed;
    case JobHealth::warned: return Mark::guess;
    case JobHealth::ready: return Mark::proven;
    case JobHealth::empty: return Mark::none;
  }
  return Mark::none;
}

// The state has its mark before it.
class JobCell : public PlainItem {
 public:
  using PlainItem::PlainItem;
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    PlainItem::paint(p, option, index);
    if (const QVariant mark = index.data(JobListModel::mark_role); mark.isValid())
      draw_mark(*p, QRectF(option.rect.left() + 6, option.rect.top(), 12, option.rect.height()),
                static_cast<Mark>(mark.toInt()));
  }
};

}  // namespace

JobListModel::JobListModel(Workspace& workspace, QObject* parent) : SteadyTableModel(parent), workspace_(workspace) {
  connect(&workspace_, &Workspace::data_changed, this, [this] {
    ++round_;
    if (on_) refresh();
    if (on_ && !is_working()) next();
  });
}

void JobListModel::set_text(const QString& text) {
  text_ = text;
  refresh();
}

void JobListModel::refresh() {
  const ShopState& s = workspace_.state();
  const QStringList words = text_.split(QLatin1Char(' '), Qt::SkipEmptyParts);
  std::vector<std::size_t> rows;
  for (std::size_t i = 0; i < s.jobs.size(); ++i) {
    const WorkMaterial* in = s.materials.find(s.jobs[i].material);
    const Machine* on = s.machines.find(s.jobs[i].machine);
    const QString whole = text_of(s.jobs[i].name) + QLatin1Char(' ') + (in ? text_of(in->name) : QString()) +
                          QLatin1Char(' ') + (on ? text_of(on->name) : QString());
    if (std::all_of(words.begin(), words.end(),
                    [&](const QString& w) { return whole.contains(w, Qt::CaseInsensitive); }))
      rows.push_back(i);
  }
  std::stable_sort(rows.begin(), rows.end(), [&](std::size_t a, std::size_t b) {
    return text_of(s.jobs[a].name).localeAwareCompare(text_of(s.jobs[b].name)) < 0;
  });
  std::vector<Id> ids;
  for (const std::size_t i : rows) ids.push_back(s.jobs[i].id);
  show_rows(std::move(rows), std::move(ids));
}

Id JobListModel::job_at(int row) const {
  return row < 0 || row >= rowCount() ? Id{} : workspace_.state().jobs[place_of(row)].id;
}

void JobListModel::work(bool on) {
  on_ = on;
  if (!on && task_) {
    task_->cancel();
    task_.reset();
  }
  if (on && !is_working()) next();
}

bool JobListModel::is_complete() const {
  return std::all_of(workspace_.state().jobs.begin(), workspace_.state().jobs.end(), [&](const JobHead& job) {
    const auto known = known_.find(job.id);
    return known != known_.end() && known->second.of == round_;
  });
}

void JobListModel::next() {
  if (!on_) return;
  for (const JobHead& head : workspace_.state().jobs) {
    Known& known = known_[head.id];
    if (known.of == round_) continue;
    task_ = workspace_.tasks().run(
        this, {},
        [state = workspace_.state(), id = head.id, cache = known.cache](Task& task) -> std::optional<JobSummary> {
          const Resolver resolver(state.tables.shared(), state.resolver_options());
          JobSummary summary =
              summary_of(state, resolver, id, cache, [&task](double done) { return task.report(done); });
          return task.is_cancelled() ? std::nullopt : std::optional(std::move(summary));
        },
        [this, id = head.id, round = round_](const std::optional<JobSummary>& summary) {
          if (!summary) return;
          task_.reset();
          known_[id].summary = summary;
          known_[id].of = round;
          if (const int row = row_of(id); row >= 0) emit dataChanged(index(row, 0), index(row, column_count - 1));
          next();
        });
    return;
  }
}

QVariant JobListModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const ShopState& s = workspace_.state();
  if (place_of(index.row()) >= s.jobs.size()) return {};
  const JobHead& job = s.jobs[place_of(index.row())];
  const auto found = known_.find(job.id);
  const JobSummary* summary = found != known_.end() && found->second.summary ? &*found->second.summary : nullptr;
  const int column = index.column();
  if (role == Qt::TextAlignmentRole) {
    const bool right = column == operations || column == cutters || column == time;
    return static_cast<int>((right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  }
  if (role == mark_role)
    return column == state && summary ? QVariant(static_cast<int>(mark_of(summary->health))) : QVariant();
  if (role == Qt::ToolTipRole)
    return column == state && summary && !summary->fault.code.empty()
               ? text_of(summary->first_fault) + QStringLiteral(": ") + sentence(summary->fault, workspace_.units())
               : QString();
  if (role != Qt::DisplayRole) return {};
  switch (column) {
    case name: return text_of(job.name);
    case material: {
      const WorkMaterial* m = s.materials.find(job.material);
      return m ? text_of(m->name) : tr("none");
    }
    case machine: {
      const Machine* m = s.machines.find(job.machine);
      return m ? text_of(m->name) : tr("none");
    }
    case operations: return static_cast<int>(s.operations.of(job.id).size());
    case cutters: return summary ? QVariant(summary->cutters) : QVariant(QStringLiteral("…"));
    case time:
      return !summary ? QStringLiteral("…") : summary->minutes > 0 ? duration_text(summary->minutes) : QString();
    // Room for the mark.
    case state: return QStringLiteral("     ") + (summary ? health_text(*summary) : QStringLiteral("…"));
    default: return {};
  }
}

QVariant JobListModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole) {
    const bool right = section == operations || section == cutters || section == time;
    return static_cast<int>((right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  }
  if (role != Qt::DisplayRole) return {};
  switch (section) {
    case name: return tr("Job");
    case material: return tr("Material");
    case machine: return tr("Machine");
    case operations: return tr("Operations");
    case cutters: return tr("Cutters");
    case time: return tr("Time");
    case state: return tr("State");
    default: return {};
  }
}

JobList::JobList(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      model_(new JobListModel(workspace, this)),
      table_(plain_table(model_, QStringLiteral("job_table"))),
      columns_(new FitColumns(table_, JobListModel::name)),
      filter_(new FilterEdit(tr("Filter jobs"), [this] { return table_; })),
      count_(new QLabel),
      empty_(new QLabel) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  head->addWidget(section_heading(tr("Jobs"), 16));
  set_tone(count_, Tone::quiet);
  head->addWidget(count_, 1);
  filter_->setObjectName(QStringLiteral("job_filter"));
  filter_->setFixedWidth(180);
  auto* fresh = new QPushButton(tr("New job"));
  fresh->setObjectName(QStringLiteral("new_job"));
  auto* copy = new QPushButton(tr("Copy job"));
  copy->setObjectName(QStringLiteral("copy_job"));
  head->addWidget(filter_);
  head->addWidget(copy);
  head->addWidget(fresh);
  layout->addLayout(head);
  table_->setItemDelegate(new JobCell(table_));
  table_->installEventFilter(this);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  layout->addWidget(table_, 1);
  layout->addWidget(empty_, 1);
  connect(filter_, &QLineEdit::textChanged, this, [this](const QString& text) {
    model_->set_text(text);
    refresh();
  });
  connect(fresh, &QPushButton::clicked, this, &JobList::new_wanted);
  connect(copy, &QPushButton::clicked, this, &JobList::copy_wanted);
  connect(table_, &QTableView::doubleClicked, this, &JobList::opened);
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    if (const Id job = model_->job_at(now.row()); !job.is_null()) workspace_.select_job(job);
  });
  connect(model_, &QAbstractItemModel::dataChanged, this, [this] { columns_->fit(); });
  connect(&workspace_, &Workspace::data_changed, this, [this] { update_when_seen(); });
  connect(&workspace_, &Workspace::job_changed, this, [this] { update_when_seen(); });
}

void JobList::focus_filter() {
  filter_->setFocus();
  filter_->selectAll();
}

void JobList::refresh() {
  model_->refresh();
  const auto all = static_cast<int>(workspace_.state().jobs.size());
  count_->setText(model_->rowCount() == all ? tr("%1 in this shop").arg(all)
                                            : tr("%1 of %2").arg(model_->rowCount()).arg(all));
  const bool none = model_->rowCount() == 0;
  table_->setVisible(!none);
  empty_->setVisible(none);
  empty_->setText(all > 0 ? tr("No job fits “%1”.").arg(filter_->text())
                          : tr("No jobs yet. “New job” reads a drawing, or starts without one, for the material and "
                               "machine of the line above."));
  // What is below follows.
  fit_to_rows(*table_, 12);
  table_->setMinimumHeight(std::min(table_->maximumHeight(), 160));
  columns_->at_least(JobListModel::state, 170);
  columns_->fit();
  if (const int row = model_->row_of(workspace_.job_id()); row >= 0 && table_->currentIndex().row() != row) {
    const QSignalBlocker quiet(table_->selectionModel());
    table_->setCurrentIndex(model_->index(row, 0));
    table_->viewport()->update();
  }
}

void JobList::showEvent(QShowEvent* event) {
  LazyWidget::showEvent(event);
  model_->work(true);
}

void JobList::hideEvent(QHideEvent* event) {
  LazyWidget::hideEvent(event);
  model_->work(false);
}

bool JobList::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Return || key == Qt::Key_Enter) return emit opened(), true;
  }
  return LazyWidget::eventFilter(watched, event);
}

}  // namespace pecorra

#include "moc_job_list.cpp"
