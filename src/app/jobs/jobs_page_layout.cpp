// What the page of jobs is made of.
#include <QHBoxLayout>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/jobs/feature_painter.h"
#include "app/jobs/jobs_page.h"
#include "app/jobs/operation_painter.h"
#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"
#include "core/quantity/print.h"
#include "shop/source_changes.h"
#include "shop/words.h"

namespace pecorra {

void JobsPage::make_head(QLayout& layout) {
  auto* head = new QHBoxLayout;
  head->setSpacing(6);
  back_to_jobs_->setFlat(true);
  back_to_jobs_->setCursor(Qt::PointingHandCursor);
  back_to_jobs_->setObjectName(QStringLiteral("all_jobs"));
  back_to_jobs_->setToolTip(tr("All jobs (Alt+Left)"));
  head->addWidget(back_to_jobs_);
  head->addWidget(title_);
  set_tone(facts_, Tone::quiet);
  facts_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  head->addWidget(facts_, 1);
  views_->setObjectName(QStringLiteral("job_views"));
  head->addWidget(views_);
  for (QPushButton* b : {propose_, new_, program_button_, more_}) head->addWidget(b);
  propose_->setObjectName(QStringLiteral("propose_chain"));
  propose_->setToolTip(tr("From solid to finished, such as spot, drill and tap (Ctrl+Shift+O)"));
  new_->setObjectName(QStringLiteral("new_operation"));
  program_button_->setObjectName(QStringLiteral("write_program"));
  more_->setObjectName(QStringLiteral("job_more"));
  more_->setToolTip(tr("Setup sheet, order, proven steps, what changed at the sources"));
  static_cast<QVBoxLayout&>(layout).addLayout(head);
}

void JobsPage::make_banner(QLayout& layout) {
  banner_->setObjectName(QStringLiteral("banner"));
  banner_->setAttribute(Qt::WA_StyledBackground);
  auto* row = new QHBoxLayout(banner_);
  row->setContentsMargins(12, 3, 8, 3);
  banner_text_->setWordWrap(true);
  banner_text_->setObjectName(QStringLiteral("banner_text"));
  row->addWidget(banner_text_, 1);
  for (QPushButton* b : {sources_, compare_, accept_, back_}) {
    b->setFlat(true);
    b->setCursor(Qt::PointingHandCursor);
    row->addWidget(b);
  }
  accept_->setObjectName(QStringLiteral("accept"));
  back_->setObjectName(QStringLiteral("back"));
  compare_->setObjectName(QStringLiteral("compare"));
  sources_->setObjectName(QStringLiteral("sources"));
  layout.addWidget(banner_);
}

void JobsPage::make_lists() {
  grid_ = plain_table(model_, QStringLiteral("operation_table"));
  grid_->setItemDelegate(new OperationPainter(grid_));
  grid_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  grid_->setDragEnabled(true);
  grid_->setAcceptDrops(true);
  grid_->setDragDropMode(QAbstractItemView::InternalMove);
  grid_->setDragDropOverwriteMode(false);
  grid_->setTabKeyNavigation(false);
  grid_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  columns_ = new FitColumns(grid_, OperationModel::cutter);
  columns_->set_margin(15);  // many columns, and a painter that leaves 14
  feature_table_ = plain_table(feature_model_, QStringLiteral("feature_table"));
  feature_table_->setItemDelegate(new FeaturePainter(feature_table_));
  feature_table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  feature_table_->setTabKeyNavigation(false);
  feature_columns_ = new FitColumns(feature_table_, FeatureModel::used_by);
  setup_table_ = plain_table(setup_model_, QStringLiteral("setup_table"));
  setup_table_->setTabKeyNavigation(false);
  setup_columns_ = new FitColumns(setup_table_, 5);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  empty_->setObjectName(QStringLiteral("job_empty"));
  for (QWidget* w :
       {static_cast<QWidget*>(grid_), static_cast<QWidget*>(feature_table_), static_cast<QWidget*>(setup_table_),
        static_cast<QWidget*>(empty_), static_cast<QWidget*>(chain_), static_cast<QWidget*>(decisions_)})
    lists_->addWidget(w);
}

// The picture with what plays it, and the program beside.
void JobsPage::make_lower() {
  auto* picture = new QWidget;
  auto* column = new QVBoxLayout(picture);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  column->addWidget(paths_, 1);
  column->addWidget(play_bar_);
  lower_->addWidget(picture);
  lower_->addWidget(program_);
  lower_->setSizes({420, 350});
  lower_->setHandleWidth(8);
  player_ = new JobPlayer(workspace_, *paths_, program_->view(), *play_bar_, this);
  player_->say_load_with([this](int operation) {
    return operation < model_->rowCount()
               ? model_->index(operation, OperationModel::tightest).data(Qt::DisplayRole).toString()
               : QString();
  });
  connect(player_, &JobPlayer::operation_chosen, this, [this](int operation) {
    if (view_ != operations) return;
    workspace_.select_operation(operation);
  });
}

void JobsPage::say_times(const Job& job) {
  std::set<int> tools;
  double simple = 0, change = 0, spindle = 0, checks = 0, path = 0;
  for (const ToolPlace& place : workspace_.tools().of)
    if (place.t > 0) tools.insert(place.t);
  for (const OperationTime& t : plan_.times) {
    simple += t.simple_s, change += t.change_s, spindle += t.spindle_s, checks += t.measuring_s, path += t.path_s;
  }
  facts_->setText(tr("%1 min").arg(duration_text(plan_.seconds() / 60)));
  const Machine* machine = workspace_.state().machines.find(job.machine);
  const auto text = [](double seconds) { return duration_text(seconds / 60); };
  QStringList lines;
  lines << (job.operations.size() == 1 ? tr("1 operation") : tr("%1 operations").arg(job.operations.size())) +
               (tools.size() == 1 ? tr(", 1 cutter") : tr(", %1 cutters").arg(tools.size()));
  lines << (machine && machine->acceleration_mm_s2
                ? tr("Moves with acceleration and corners: %1 (lengths over feeds: %2)").arg(text(path), text(simple))
                : tr("Moves, lengths over feeds: %1. The machine states no acceleration").arg(text(path)));
  if (change > 0) lines << tr("Cutter changes: %1").arg(text(change));
  if (spindle > 0) lines << tr("Spindle run-up: %1").arg(text(spindle));
  if (checks > 0) lines << tr("Cutter checks: %1").arg(text(checks));
  facts_->setToolTip(lines.join(QLatin1Char('\n')));
}

void JobsPage::fit_operations(bool both) {
  grid_->setColumnHidden(OperationModel::tightest, both);
  // Old → new needs room, and so do the mark and the bold figures.
  columns_->at_least(OperationModel::speed, both ? 94 : 60);
  columns_->at_least(OperationModel::feed, both ? 94 : 76);
  columns_->at_least(OperationModel::depth_width, both ? 140 : 76);
  columns_->at_least(OperationModel::follows, 108);
  columns_->at_least(OperationModel::time, 58);
  columns_->fit(true);
}

void JobsPage::refresh_banner(bool whole) {
  // It moves all that is below it: of a long job the rows are seen first.
  if (!whole && banner_->isHidden())
    return QTimer::singleShot(two_frames_ms, this, [this] {
      refresh_banner(true);
      fit_list();
    });
  const Job* kept = workspace_.job();
  const bool trying = workspace_.is_trying();
  const auto shown_job = workspace_.shown_job();
  const auto moved = kept ? workspace_.moved_job() : nullptr;
  const auto reground = kept && !trying && !moved
                            ? std::count_if(kept->operations.begin(), kept->operations.end(),
                                            [&](const Operation& o) { return cutter_moved(workspace_.state(), o); })
                            : 0;
  banner_->setVisible(trying || moved || reground > 0);
  if (const QString sheet = QStringLiteral("#banner{background:%1;border-left:4px solid %2}")
                                .arg(colours().notice.name(), colours().warning.name());
      banner_->styleSheet() != sheet)
    banner_->setStyleSheet(sheet);
  compare_->setVisible(!trying && moved);
  sources_->setVisible(!trying && (moved || reground > 0));
  for (QPushButton* b : {accept_, back_}) b->setVisible(trying || moved);
  if (trying) {
    const WorkMaterial* material = workspace_.state().materials.find(shown_job->material);
    const Machine* machine = workspace_.state().machines.find(shown_job->machine);
    QString text =
        tr("Trial, not accepted: %1 on %2 at pace %3.")
            .arg(material ? text_of(material->name) : QString(), machine ? text_of(machine->name) : QString(),
                 text_of(plain(shown_job->pace.value_or(100), 1)));
    if (workspace_.is_shown_whole())
      text += tr(" %1 of %2 operations change.").arg(model_->changes()).arg(kept->operations.size());
    banner_text_->setText(text);
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
  } else if (reground > 0) {
    banner_text_->setText(
        reground == 1
            ? tr("One operation: its cutter changed in the library since this job took its copy.")
            : tr("%1 operations: their cutters changed in the library since this job took its copy.").arg(reground));
  }
}

}  // namespace pecorra
