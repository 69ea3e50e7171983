// What the page of jobs is made of.
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/jobs/feature_painter.h"
#include "app/jobs/jobs_page.h"
#include "app/jobs/operation_painter.h"
#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"

namespace pecorra {

void JobsPage::make_head(QLayout& layout) {
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
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
  for (QPushButton* b : {propose_, new_, program_button_}) head->addWidget(b);
  propose_->setObjectName(QStringLiteral("propose_chain"));
  propose_->setToolTip(tr("From solid to finished, such as spot, drill and tap (Ctrl+Shift+O)"));
  new_->setObjectName(QStringLiteral("new_operation"));
  program_button_->setObjectName(QStringLiteral("write_program"));
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
  for (QPushButton* b : {compare_, accept_, back_}) {
    b->setFlat(true);
    b->setCursor(Qt::PointingHandCursor);
    row->addWidget(b);
  }
  accept_->setObjectName(QStringLiteral("accept"));
  back_->setObjectName(QStringLiteral("back"));
  compare_->setObjectName(QStringLiteral("compare"));
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
  for (QWidget* w : {static_cast<QWidget*>(grid_), static_cast<QWidget*>(feature_table_),
                     static_cast<QWidget*>(setup_table_), static_cast<QWidget*>(empty_), static_cast<QWidget*>(chain_)})
    lists_->addWidget(w);
}

}  // namespace pecorra
