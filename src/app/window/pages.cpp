// The pages and benches of the window: created on demand, connected and shown.
#include <QLabel>
#include <QSettings>

#include "app/look/look.h"
#include "app/widgets/icon_button.h"
#include "app/window/main_window.h"

namespace pecorra {

void MainWindow::open_source(const TrailTarget& target) {
  show_page(tables);
  tables_page().show_row(target);
}

// Pages not shown at start are made on demand, or when first idle.
TablesPage& MainWindow::tables_page() {
  if (tables_page_) return *tables_page_;
  tables_page_ = new TablesPage(*workspace_);
  row_bench_ = new RowBench(*workspace_, tables_page_->model());
  pages_->addWidget(tables_page_);
  benches_->addWidget(row_bench_);
  connect(tables_page_, &TablesPage::view_changed, this, &MainWindow::update_bench);
  connect(tables_page_, &TablesPage::row_chosen, row_bench_, &RowBench::show_row);
  connect(row_bench_, &RowBench::copy_wanted, tables_page_, &TablesPage::copy_row_to_shop);
  connect(row_bench_, &RowBench::row_wanted, this, [this](const Id& row) {
    tables_page_->show_row({tables_page_->model().table_id(), row});
  });
  benches_->addWidget(tables_page_->recipe_section().bench());
  connect(tables_page_, &TablesPage::rows_file_wanted, this, &MainWindow::choose_rows_file);
  connect(&tables_page_->chart_pane(), &ChartPane::file_wanted, this, &MainWindow::choose_chart_file);
  connect(&tables_page_->chart_view(), &ChartView::cell_opened, this, [this] {
    const auto e = workspace_->cutter() ? workspace_->evaluation_of(*workspace_->cutter()) : std::nullopt;
    if (!e) return;
    for (const TrailStep& step : e->trail)
      if (!step.target.is_null()) return open_source(step.target);
  });
  bind_key(QStringLiteral("delete_recipe"), tables_page_->recipe_section().focus_target());
  connect(&tables_page_->chart_view(), &ChartView::cell_chosen, this,
          [this] { cutter_bench_->show_side(CutterBench::conditions); });
  connect(tables_page_, &TablesPage::said, this,
          [this](const QString& what, bool fault) { strip_->say(what, false, fault); });
  bind_key(QStringLiteral("delete_row"), &tables_page_->grid());
  return *tables_page_;
}

HoldersPage& MainWindow::holders_page() {
  if (holders_page_) return *holders_page_;
  holders_page_ = new HoldersPage(*workspace_);
  holder_bench_ = new HolderBench(*workspace_);
  pages_->addWidget(holders_page_);
  benches_->addWidget(holder_bench_);
  connect(holders_page_, &HoldersPage::selection_changed, holder_bench_, &HolderBench::show_holder);
  connect(holders_page_, &HoldersPage::cutter_wanted, this, [this](const Id& id) {
    show_page(cutters);
    cutters_page_->show_cutter(id);
  });
  connect(holders_page_, &HoldersPage::holder_started, this, [this] {
    set_bench_folded(false);
    holder_bench_->type_stations();
  });
  connect(holders_page_, &HoldersPage::outline_wanted, this, &MainWindow::choose_holder_outline);
  connect(holders_page_, &HoldersPage::said, this,
          [this](const QString& what, bool fault) { strip_->say(what, false, fault); });
  holder_bench_->show_holder(holders_page_->selected());
  bind_key(QStringLiteral("delete_holder"), &holders_page_->table());
  return *holders_page_;
}

JobsPage& MainWindow::jobs_page() {
  if (jobs_page_) return *jobs_page_;
  jobs_page_ = new JobsPage(*workspace_);
  job_bench_ = new JobBench(*workspace_);
  feature_bench_ = new FeatureBench(*workspace_);
  setup_bench_ = new SetupBench(*workspace_);
  section_bench_ = new SectionBench(*workspace_);
  pages_->addWidget(jobs_page_);
  for (QWidget* bench : {static_cast<QWidget*>(job_bench_), static_cast<QWidget*>(feature_bench_),
                         static_cast<QWidget*>(setup_bench_), static_cast<QWidget*>(section_bench_)})
    benches_->addWidget(bench);
  connect(job_bench_, &JobBench::source_clicked, this, &MainWindow::open_source);
  connect(job_bench_, &JobBench::what_if_wanted, this, [this] { show_cut_board(!is_cut_board_shown()); });
  connect(job_bench_, &JobBench::said, this,
          [this](const QString& what, bool fault) { strip_->say(what, false, fault); });
  connect(job_bench_, &JobBench::drawing_wanted, this, [this] { choose_drawing(true); });
  connect(jobs_page_, &JobsPage::planned, job_bench_, &JobBench::show_plan);
  connect(jobs_page_, &JobsPage::operation_made, this, [this] { job_bench_->show_side(JobBench::operation_side); });
  connect(jobs_page_, &JobsPage::view_changed, this, &MainWindow::update_bench);
  connect(jobs_page_, &JobsPage::feature_chosen, feature_bench_,
          [this](const QString& key) { feature_bench_->show_feature(key.toStdString()); });
  connect(jobs_page_, &JobsPage::setup_chosen, setup_bench_, &SetupBench::show_setup);
  connect(jobs_page_, &JobsPage::places_wanted, feature_bench_, &FeatureBench::paste_places);
  // Once the list of kinds is gone and has given the focus back.
  connect(jobs_page_, &JobsPage::feature_added, feature_bench_, &FeatureBench::start_typing, Qt::QueuedConnection);
  connect(jobs_page_, &JobsPage::job_started, this, [this] {
    set_bench_folded(false);
    setup_bench_->type_stock();
  });
  connect(feature_bench_, &FeatureBench::renamed, jobs_page_,
          [this](const QString& key) { jobs_page_->select_feature(key.toStdString()); });
  const auto say = [this](const QString& what, bool fault) { strip_->say(what, false, fault); };
  connect(feature_bench_, &FeatureBench::said, this, say);
  connect(setup_bench_, &SetupBench::said, this, say);
  connect(jobs_page_, &JobsPage::drawing_wanted, this, [this] { choose_drawing(false); });
  connect(section_bench_, &SectionBench::source_clicked, this, &MainWindow::open_source);
  connect(&jobs_page_->retune(), &RetuneView::section_changed, this,
          [this] { section_bench_->show_section(jobs_page_->retune().program(), jobs_page_->retune().section()); });
  connect(jobs_page_, &JobsPage::foreign_program_wanted, this, &MainWindow::choose_foreign_program);
  connect(jobs_page_, &JobsPage::retuned_wanted, this, &MainWindow::choose_retuned);
  connect(&jobs_page_->retune(), &RetuneView::report_wanted, this, &MainWindow::choose_retune_report);
  const ProgramList& programs = jobs_page_->programs();
  connect(&programs, &ProgramList::folder_wanted, this, &MainWindow::choose_program_folder);
  connect(&programs, &ProgramList::write_all_wanted, this, &MainWindow::choose_folder_for_programs);
  connect(&programs, &ProgramList::watch_wanted, this, &MainWindow::choose_watched_folder);
  connect(jobs_page_, &JobsPage::program_wanted, this, [this] { choose_program(); });
  connect(jobs_page_, &JobsPage::program_each_setup_wanted, this, [this] { choose_program(true); });
  connect(jobs_page_, &JobsPage::sheet_wanted, this, &MainWindow::choose_sheet);
  connect(jobs_page_, &JobsPage::said, this,
          [this](const QString& what, bool fault) { strip_->say(what, false, fault); });
  for (QWidget* list : jobs_page_->lists())
    for (const char* id : {"delete_operation", "copy_operations", "paste_operations"})
      bind_key(QLatin1String(id), list);
  return *jobs_page_;
}

PartsPage& MainWindow::parts_page(Page page) {
  PartsPage*& made = parts_pages_[page - materials];
  if (made) return *made;
  made = page == materials  ? make_materials_page(*workspace_)
         : page == machines ? make_machines_page(*workspace_)
                            : make_shop_page(*workspace_);
  pages_->addWidget(made);
  benches_->addWidget(made->bench());
  connect(made, &PartsPage::said, this, [this](const QString& what, bool fault) { strip_->say(what, false, fault); });
  for (QWidget* list : made->lists()) bind_key(QStringLiteral("delete_part"), list);
  return *made;
}

JobBench& MainWindow::job_bench() {
  jobs_page();
  return *job_bench_;
}

FeatureBench& MainWindow::feature_bench() {
  jobs_page();
  return *feature_bench_;
}

SetupBench& MainWindow::setup_bench() {
  jobs_page();
  return *setup_bench_;
}

QWidget* MainWindow::make_things_to_try() {
  auto* bar = new QWidget;
  bar->setObjectName(QStringLiteral("to_try"));
  bar->setAttribute(Qt::WA_StyledBackground);
  const auto paint = [bar] { bar->setStyleSheet(QStringLiteral("#to_try{background:%1}").arg(colours().lit.name())); };
  paint();
  connect(&Look::get(), &Look::changed, bar, paint);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(16, 3, 12, 3);
  row->setSpacing(6);
  auto* head = new QLabel(tr("Three things to try:"));
  row->addWidget(head);
  auto thing = [&](const QString& text, std::function<void()> run) {
    auto* button = new QPushButton(text);
    button->setFlat(true);
    button->setCursor(Qt::PointingHandCursor);
    connect(button, &QPushButton::clicked, this, std::move(run));
    row->addWidget(button);
  };
  thing(tr("Change the material"), [this] { context_line_->choose_material(); });
  thing(tr("Type 7/16\" as a diameter and watch the drawing"), [this] {
    show_page(cutters);
    emit cutters_page_->open_sizes();
  });
  thing(tr("See a job's speeds and feeds explained"), [this] {
    show_page(jobs);
    job_bench().show_side(JobBench::conditions_side);
  });
  row->addStretch(1);
  auto* done = new IconButton(Icon::remove, tr("Hide"));
  done->setFixedSize(24, 24);
  connect(done, &QAbstractButton::clicked, this, [this] {
    show_things_to_try(false);
    QSettings().setValue(QStringLiteral("window/tried"), true);
  });
  row->addWidget(done);
  return bar;
}

}  // namespace pecorra
