#include "app/window/main_window.h"

#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPainter>
#include <QSettings>
#include <QShortcut>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/icon_button.h"
#include "app/window/opening.h"
#include "shop/demo.h"
#include "shop/drawing_file.h"
#include "shop/missing_references.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr std::pair<const char*, UnitSystem> shown_units[] = {{"metric", UnitSystem::metric},
                                                              {"inch", UnitSystem::inch},
                                                              {"metric_m_min", UnitSystem::metric_m_min},
                                                              {"metric_mm_s", UnitSystem::metric_mm_s},
                                                              {"inch_ft_min", UnitSystem::inch_ft_min}};

}  // namespace

MainWindow::MainWindow(std::unique_ptr<Shop> shop)
    : shop_(std::move(shop)),
      workspace_(new Workspace(*shop_, this)),
      context_line_(new ContextLine(*workspace_)),
      rail_(new PageRail),
      split_(new QSplitter(Qt::Horizontal)),
      pages_(new QStackedWidget),
      benches_(new QStackedWidget),
      strip_(new Strip(*workspace_)),
      cutters_page_(new CuttersPage(*workspace_)),
      cutter_bench_(new CutterBench(*workspace_)),
      find_(new FindAnything(*workspace_, this)) {
  setWindowTitle(tr("%1 — Pecorra").arg(QFileInfo(shop_->file()).completeBaseName()));
  resize(1280, 800);
  auto* middle = new QWidget;
  auto* column = new QVBoxLayout(middle);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  auto line = [] {
    auto* rule = new QFrame;
    rule->setFixedHeight(1);
    const auto paint = [rule] {
      rule->setStyleSheet(QStringLiteral("background:%1;border:0").arg(colours().line.name()));
    };
    paint();
    QObject::connect(&Look::get(), &Look::changed, rule, paint);
    return rule;
  };
  column->addWidget(context_line_);
  column->addWidget(line());
  to_try_ = make_things_to_try();
  column->addWidget(to_try_);
  auto* row = new QHBoxLayout;
  row->setSpacing(0);
  rail_->setAutoFillBackground(true);
  row->addWidget(rail_);
  pages_->addWidget(cutters_page_);
  rail_->add_page(Icon::cutters, tr("Cutters"));
  rail_->add_page(Icon::holders, tr("Holders"));
  rail_->add_page(Icon::tables, tr("Tables"));
  rail_->add_page(Icon::jobs, tr("Jobs"));
  rail_->add_page(Icon::materials, tr("Materials"));
  rail_->add_page(Icon::machines, tr("Machines"));
  rail_->add_page(Icon::shop, tr("Shop"));
  benches_->addWidget(cutter_bench_);
  benches_->setMinimumWidth(340);
  split_->addWidget(pages_);
  split_->addWidget(benches_);
  split_->setHandleWidth(1);
  split_->setProperty("rule", true);
  split_->setStretchFactor(0, 1);
  split_->setStretchFactor(1, 0);
  split_->setChildrenCollapsible(false);
  split_->setSizes({807, 396});
  row->addWidget(split_, 1);
  column->addLayout(row, 1);
  column->addWidget(line());
  column->addWidget(strip_);
  setCentralWidget(middle);

  undo_ = new IconButton(Icon::undo, tr("Undo (Ctrl+Z)"));
  redo_ = new IconButton(Icon::redo, tr("Redo (Ctrl+Shift+Z)"));
  auto* find = new QPushButton(tr("Find anything   Ctrl+K"));
  find->setObjectName(QStringLiteral("find"));
  auto* night = new IconButton(Icon::night, tr("Night shift (Ctrl+Shift+D)"));
  for (QWidget* w : {static_cast<QWidget*>(undo_), static_cast<QWidget*>(redo_), static_cast<QWidget*>(find),
                     static_cast<QWidget*>(night)})
    context_line_->add_action_button(w);
  connect(undo_, &QAbstractButton::clicked, shop_.get(), &Shop::undo);
  connect(redo_, &QAbstractButton::clicked, shop_.get(), &Shop::redo);
  connect(find, &QPushButton::clicked, this, [this] { find_->open_over(this, commands_); });
  connect(night, &QAbstractButton::clicked, this, [this] { run(QStringLiteral("night")); });
  const auto undo_state = [this] {
    undo_->setEnabled(shop_->can_undo());
    redo_->setEnabled(shop_->can_redo());
    undo_->setToolTip(shop_->can_undo() ? tr("Undo: %1 (Ctrl+Z)").arg(shop_->undo_label()) : tr("Nothing to undo"));
    redo_->setToolTip(shop_->can_redo() ? tr("Redo: %1 (Ctrl+Shift+Z)").arg(shop_->redo_label())
                                        : tr("Nothing to redo"));
  };
  undo_state();
  connect(shop_.get(), &Shop::changed, this, undo_state);
  connect(shop_.get(), &Shop::did, this, undo_state);

  connect(rail_, &PageRail::chosen, this, [this](int i) { show_page(static_cast<Page>(i)); });
  connect(strip_, &Strip::undo_clicked, shop_.get(), &Shop::undo);
  connect(strip_, &Strip::save_as_clicked, this, &MainWindow::choose_new_shop);
  connect(strip_, &Strip::drafts_clicked, this, [this] {
    show_page(cutters);
    cutters_page_->show_next_to_look_at();
  });
  connect(cutters_page_, &CuttersPage::cutter_made, this, [this] {
    set_bench_folded(false);
    cutter_bench_->show_side(CutterBench::sizes);
    cutter_bench_->form().focus_field(QStringLiteral("diameter_mm"));
  });
  connect(&cutter_bench_->form(), &CutterForm::finished, cutters_page_, &CuttersPage::focus_list);
  connect(cutters_page_, &CuttersPage::said, this,
          [this](const QString& what, bool fault) { strip_->say(what, false, fault); });
  connect(cutters_page_, &CuttersPage::import_wanted, this, &MainWindow::choose_cutters_to_read);
  connect(cutters_page_, &CuttersPage::export_wanted, this, &MainWindow::choose_cutters_to_write);
  connect(cutters_page_, &CuttersPage::share_wanted, this, &MainWindow::choose_shared_file);
  connect(cutters_page_, &CuttersPage::stock_sheet_wanted, this, &MainWindow::choose_stock_sheet);
  connect(cutters_page_, &CuttersPage::open_shared_wanted, this, &MainWindow::choose_shared_library);
  connect(cutter_bench_, &CutterBench::job_wanted, this, [this](const Id& job, int operation) {
    show_page(jobs);
    workspace_->select_job(job);
    workspace_->select_operation(operation);
  });
  connect(cutters_page_, &CuttersPage::open_sizes, this, [this] {
    set_bench_folded(false);
    cutter_bench_->show_side(CutterBench::sizes);
    cutter_bench_->form().focus_field(QStringLiteral("diameter_mm"));
  });
  connect(cutter_bench_, &CutterBench::source_clicked, this, &MainWindow::open_source);
  connect(cutter_bench_, &CutterBench::what_if_wanted, this, [this] { show_cut_board(!is_cut_board_shown()); });
  connect(cutter_bench_, &CutterBench::save_wanted, this, &MainWindow::choose_picture);
  connect(cutter_bench_, &CutterBench::said, this,
          [this](const QString& what, bool fault) { strip_->say(what, false, fault); });
  connect(cutter_bench_, &CutterBench::ghost_outline_wanted, this, [this] {
    const QString file = ask_for_drawing(tr("Draw an outline behind"), tr("Outlines (*.dxf *.DXF *.svg *.SVG)"));
    if (!file.isEmpty()) cutter_bench_->read_ghost(file);
  });
  connect(&cutter_bench_->form(), &CutterForm::outline_wanted, this, &MainWindow::choose_outline);

  connect(find_, &FindAnything::cutter_found, this, [this](const Id& id) {
    // The board stays, for the other cutter.
    const bool board = is_cut_board_shown() && page_ == cutters;
    show_page(cutters);
    cutters_page_->show_cutter(id);
    if (board) show_cut_board(true);
  });
  connect(find_, &FindAnything::material_found, this, [this](const Id& id) {
    Context context = workspace_->context();
    context.material = id;
    workspace_->set_context(context);
    if (workspace_->job_in_front() || workspace_->program_in_front()) workspace_->take_material(id);
  });
  connect(find_, &FindAnything::machine_found, this, [this](const Id& id) {
    Context context = workspace_->context();
    context.machine = id;
    workspace_->set_context(context);
    if (workspace_->job_in_front() || workspace_->program_in_front()) workspace_->take_machine(id);
  });
  connect(find_, &FindAnything::job_found, this, [this](const Id& id) {
    show_page(jobs);
    workspace_->select_job(id);
    if (jobs_page().view() == JobsPage::retuning) jobs_page().show_view(JobsPage::operations);
  });

  make_commands();
  for (const char* id : {"delete_cutter", "sizes"}) bind_key(QLatin1String(id), &cutters_page_->table());
  QSettings settings;
  recall_context();
  Look::get().wear(*this);  // once it is built
  restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
  split_->restoreState(settings.value(QStringLiteral("window/split")).toByteArray());
  show_things_to_try(!settings.value(QStringLiteral("window/tried"), false).toBool());
  show_page(static_cast<Page>(std::clamp(settings.value(QStringLiteral("window/page_shown"), 0).toInt(), 0, 6)));
  if (!shop_->load_faults().empty())
    strip_->say(tr("%1 entries of this shop could not be read and were left unchanged: %2")
                    .arg(shop_->load_faults().size())
                    .arg(reader_text(shop_->load_faults().front())),
                false, true);
  else if (shop_->is_read_only())
    strip_->say(tr("This shop is read-only; save a copy of the file to change it."), false, true);
  else QTimer::singleShot(2000, this, &MainWindow::look_for_missing);
}

// After the opening, in the background: references to what the shop does not have.
void MainWindow::look_for_missing() {
  workspace_->tasks().run(
      this, QString(), [state = shop_->state()](Task&) { return missing_references(state); },
      [this](const std::vector<MissingReference>& missing) {
        if (missing.empty()) return;
        strip_->say(tr("%1 references to missing items. %2: %3")
                        .arg(missing.size())
                        .arg(text_of(missing.front().name), missing_text(missing.front())),
                    false, true);
      });
}

void MainWindow::recall_context() {
  QSettings settings;
  settings.beginGroup(QStringLiteral("context"));
  Context context = workspace_->context();
  auto id = [&](const char* key) {
    return Id::parse(settings.value(QLatin1String(key)).toString().toStdString()).value_or(Id{});
  };
  if (workspace_->state().materials.find(id("material"))) context.material = id("material");
  if (workspace_->state().machines.find(id("machine"))) context.machine = id("machine");
  context.operation =
      choice_from_key<OperationKind>(settings.value(QStringLiteral("operation")).toString().toStdString())
          .value_or(context.operation);
  context.usual_work = settings.value(QStringLiteral("usual_work"), false).toBool();
  // By name, since a number would mean something else once there are more.
  for (const auto& [name, units] : shown_units)
    if (settings.value(QStringLiteral("units")).toString() == QLatin1String(name)) context.units = units;
  workspace_->set_context(context);
  workspace_->select_cutter(workspace_->state().cutters.find(id("cutter")) ? id("cutter") : workspace_->cutter_id());
  if (workspace_->state().jobs.find(id("job"))) workspace_->select_job(id("job"));
}

void MainWindow::remember_context() const {
  QSettings settings;
  settings.beginGroup(QStringLiteral("context"));
  const Context& context = workspace_->context();
  for (const auto& [key, id] : {std::pair{"material", context.material},
                                {"machine", context.machine},
                                {"cutter", workspace_->cutter_id()},
                                {"job", workspace_->job_id()}})
    settings.setValue(QLatin1String(key), text_of(id.text()));
  settings.setValue(QStringLiteral("operation"), text_of(key_of(context.operation)));
  settings.setValue(QStringLiteral("usual_work"), context.usual_work);
  for (const auto& [name, units] : shown_units)
    if (context.units == units) settings.setValue(QStringLiteral("units"), QLatin1String(name));
}

MainWindow::~MainWindow() {
  // Views must be destroyed before the shop they refer to.
  delete centralWidget();
}

void MainWindow::appear() {
  show();
  // What Qt leaves to be done later would move parts that are seen already, and paint all of them a second time.
  for (const QEvent::Type later : {QEvent::LayoutRequest, QEvent::UpdateLater})
    QCoreApplication::sendPostedEvents(nullptr, later);
}

void MainWindow::showEvent(QShowEvent* event) {
  QMainWindow::showEvent(event);
  QTimer::singleShot(300, this, [this] { tables_page(); });
  QTimer::singleShot(400, this, [this] { jobs_page(); });
  QTimer::singleShot(500, this, [this] { holders_page(); });
  for (const Page page : {materials, machines, stores})
    QTimer::singleShot(600 + 100 * page, this, [this, page] { parts_page(page); });
}

// Keys that belong to a list work only there.
void MainWindow::bind_key(const QString& id, QWidget* where) {
  for (const Command& c : commands_)
    if (c.id == id)
      connect(new QShortcut(QKeySequence(c.keys), where, nullptr, nullptr, Qt::WidgetShortcut), &QShortcut::activated,
              this, c.run);
}

void MainWindow::show_things_to_try(bool show) { to_try_->setVisible(show); }

bool MainWindow::run(const QString& id) {
  for (const Command& c : commands_)
    if (c.id == id) {
      const auto call = c.run;
      call();
      return true;
    }
  return false;
}

void MainWindow::show_page(Page page) {
  page_ = page;
  if (page == jobs) jobs_page().prepare();
  QWidget* shown = cutters_page_;
  if (page == holders) shown = &holders_page();
  else if (page == tables) shown = &tables_page();
  else if (page == jobs) shown = &jobs_page();
  else if (page >= materials) shown = &parts_page(page);
  pages_->setCurrentWidget(shown);
  rail_->set_current(page);
  workspace_->set_job_in_front(page == jobs);
  update_bench();
  if (page == cutters) cutters_page_->table().setFocus();
  else if (page == holders) holders_page().table().setFocus();
  else if (page == jobs) jobs_page().focus_list();
  else if (page >= materials) parts_page(page).focus_list();
  else tables_page().show_view(tables_page().view());
}

void MainWindow::update_bench() {
  if (page_ >= materials) {
    benches_->setCurrentWidget(parts_page(page_).bench());
  } else if (page_ == holders) {
    benches_->setCurrentWidget(&holder_bench());
  } else if (page_ == jobs) {
    LazyWidget* bench = &job_bench();
    if (jobs_page().view() == JobsPage::retuning) return benches_->setCurrentWidget(section_bench_);
    job_bench_->show_job_only(jobs_page().view() == JobsPage::all_jobs);
    if (jobs_page().view() == JobsPage::features) bench = feature_bench_;
    else if (jobs_page().view() == JobsPage::setups) bench = setup_bench_;
    bench->prepare();
    benches_->setCurrentWidget(bench);
  } else if (page_ == tables && tables_page().bench()) {
    benches_->setCurrentWidget(tables_page().bench());
  } else if (page_ == tables &&
             (tables_page().view() == TablesPage::rows || tables_page().view() == TablesPage::importing)) {
    row_bench_->prepare();
    benches_->setCurrentWidget(row_bench_);
  } else {
    cutter_bench_->prepare();
    benches_->setCurrentWidget(cutter_bench_);
  }
}

void MainWindow::set_bench_folded(bool folded) { benches_->setVisible(!folded); }

void MainWindow::open_shop(const QString& file) {
  strip_->say(tr("Opening %1 …").arg(QFileInfo(file).fileName()), false);
  pecorra::open_shop(workspace_->tasks(), file, this, [this](OpenedShop opened) {
    if (!opened) return strip_->say(opened.error().sentence(), false, true);
    auto* window = new MainWindow(std::move(*opened));
    window->setAttribute(Qt::WA_DeleteOnClose);
    window->appear();
    QSettings().setValue(QStringLiteral("last_shop"), window->shop().file());
    close();
  });
}

void MainWindow::closeEvent(QCloseEvent* event) {
  // What is still being typed in a field is accepted first.
  if (QWidget* focus = focusWidget()) focus->clearFocus();
  if (!shop_->is_read_only() && !shop_->wait_until_saved(5000) && !close_anyway_) {
    strip_->say(tr("Some changes are not saved yet. Close again to quit without saving."), false, true);
    close_anyway_ = true;
    event->ignore();
    return;
  }
  remember_context();
  cutters_page_->remember();
  QSettings settings;
  settings.setValue(QStringLiteral("window/geometry"), saveGeometry());
  settings.setValue(QStringLiteral("window/split"), split_->saveState());
  settings.setValue(QStringLiteral("window/page_shown"), static_cast<int>(page()));
  event->accept();
}

}  // namespace pecorra

#include "moc_main_window.cpp"
