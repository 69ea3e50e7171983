#include "app/window/shots.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QPainter>
#include <QTemporaryDir>
#include <QThread>

#include "app/cutters/bulk_change.h"
#include "app/cutters/cutter_import.h"
#include "app/cutters/shared_lines.h"
#include "app/look/look.h"
#include "app/window/main_window.h"
#include "shop/feature_edit.h"
#include "shop/shipped.h"

namespace pecorra {
namespace {

void settle(MainWindow& window) {
  QElapsedTimer timer;
  timer.start();
  do {
    QApplication::processEvents(QEventLoop::AllEvents, 20);
    QThread::msleep(5);
  } while ((timer.elapsed() < 120 || !window.jobs_page().is_planned()) && timer.elapsed() < 20000);
}

// Until it is so; what never comes is a fault.
using Wait = std::function<void(const char* what, const std::function<bool()>& is_so)>;
using View = std::function<void(const char*)>;

// A sample list, with every kind of line.
void write_sample_list(const QString& file) {
  QFile out(file);
  if (!out.open(QIODevice::WriteOnly)) return;
  out.write(
      "Tool no;Type;Dia;Flutes;Flute length;OAL;Manufacturer;Part number;Qty;Shelf\n;;mm;;mm;mm;;;;\n"
      "210;End mill;6;4;13;57;Heddlemoor;HS-0606;4;A1\n213;End mill;8;4;19;63;Heddlemoor;HS-0808;2;A1\n219;End "
      "mill;12;4;28;83;Heddlemoor;HS-1212;3;A1\n"
      "222;End mill;16;4;32;;;;;A1\n301;Reamer;8;6;33;117;Ferrow;FR-0800;1;B2\n400;Ball "
      "nose;6;2;13;57;Heddlemoor;HB-0606;2;A2\n401;Ball nose;1/4\";2;3/8\";2 1/2 in;Ferrow;FB-14;;A2\n"
      "402;Spiral point tap;8;3;20;90;Oxbarrow;M8-SP;2;C1\n403;End "
      "mill;ten;4;22;72;Heddlemoor;HS-1010;1;A1\n404;Sharpener;5;2;;;;;1;C3\n");
}

// A library as a file, which somebody else has changed, and here as well.
void show_shared(MainWindow& window, const QString& file, const Wait& wait_for, const std::function<void()>& shot) {
  CuttersPage& page = window.cutters_page();
  SharedLibraries& shared = page.shared();
  const ShopState& state = window.workspace().state();
  const Id library = state.libraries[0].id;
  shared.share(library, file);
  wait_for("shared library", [&] { return QFile::exists(file) && !shared.is_busy(); });
  LibraryFile theirs = shared_side(state, state.libraries[0]);
  SharedPrints known;
  exchange_shared(theirs, file, known);
  theirs.cutters[1].in_stock = 1;
  theirs.cutters[1].notes = "one chipped, thrown away";
  theirs.cutters[2].flute_length_mm = 27;
  theirs.cutters[4].name = "End mill for ribs";
  Cutter more = theirs.cutters[0];
  more.id = new_id();
  more.number = 291;
  more.name = "End mill Ø6, long";
  theirs.cutters.push_back(more);
  exchange_shared(theirs, file, known);
  Cutter ours = state.cutters[4];
  ours.order_code = "HS-1616-K";
  window.shop().edit(state.cutters[4], ours, QStringLiteral("Order code"));
  wait_for("changes of others", [&] { return shared.waiting(library) == 4 && !shared.is_busy(); });
  window.workspace().select_cutter(theirs.cutters[1].id);
  page.look_at_shared(library);
  shot();
  page.shared_changes().leave();
  shared.stop(library);
  QFile::remove(file);
}

// A chain proposed, a cutter found with reasons, and a pattern of holes.
void show_holes(MainWindow& window, const View& shot) {
  Workspace& workspace = window.workspace();
  JobsPage& page = window.jobs_page();
  const auto job = [&](const char* name) {
    if (const JobHead* found = workspace.state().jobs.named(name)) workspace.select_job(found->id);
  };
  job("Roller end cap");
  page.show_view(JobsPage::features);
  page.select_feature("bolts");
  page.propose_chain();
  shot("job-chain");
  page.chain().leave();
  page.show_view(JobsPage::operations);
  workspace.select_operation(4);
  settle(window);
  window.job_bench().pick_cutter();
  shot("job-cutters");
  job("Two holes");
  NewFeature made = added_feature(*workspace.job(), FeatureKind::holes);
  workspace.shop().apply(std::move(made.change));
  const auto put = [&](const char* key, const Value& value, const char* typed) {
    auto change =
        edited_feature(*workspace.job(), made.key, *find_property<Feature>(key), value, typed, workspace.units());
    if (change) workspace.shop().apply(std::move(*change));
  };
  put("pattern", std::string("circle"), "");
  put("x_mm", 60.0, "60");
  put("y_mm", 40.0, "40");
  put("count", 8.0, "8");
  put("circle_mm", 60.0, "60");
  put("angle_deg", 22.5, "22.5");
  put("thread", std::string("M6"), "M6");
  put("depth_mm", 14.0, "14");
  page.show_view(JobsPage::features);
  page.select_feature(made.key);
  shot("job-holes");
  page.show_view(JobsPage::operations);
  job("Gear cover");
}

// A program made elsewhere, for the material of the context: retuned, reported and written. What its machine does has
// changed since; one Undo takes that back.
void show_retuned(MainWindow& window, const QDir& programs, const QString& folder, const Wait& wait_for,
                  const View& shot, const View& pass) {
  RetuneView& view = window.jobs_page().retune();
  Workspace& workspace = window.workspace();
  const auto worked_out = [&view] { return view.is_worked_out(); };
  // From elsewhere, not from where it ships: the report names the folder.
  const QString in = programs.filePath(QStringLiteral("hinge_plate.nc"));
  programs.mkdir(QStringLiteral("retuned"));
  QFile::copy(shipped_folder(QStringLiteral("demo")) + QStringLiteral("/hinge_plate.nc"), in);
  window.jobs_page().open_program(in);
  wait_for("retuned program", worked_out);
  view.table().setCurrentIndex(view.model().index(1, 0));
  for (int i = 0; i < 2; ++i) view.difference().next_change(false);
  shot("retune");
  view.table().setCurrentIndex(view.model().index(view.model().rowCount() - 1, 0));
  pass("retune-pairing");
  view.leave_out(true);
  wait_for("retuned program", worked_out);
  view.write_report(folder + QStringLiteral("/HINGE_PLATE.pdf"));
  view.write(programs.filePath(QStringLiteral("retuned/hinge_plate.nc")));
  wait_for("written program",
           [&workspace] { return workspace.program() && !workspace.program()->written_print.empty(); });
  const Machine before = *workspace.state().machines.find(workspace.program()->machine);
  Machine after = before;
  after.max_rpm = 5000;
  workspace.shop().edit(before, after, text_of(after.name));
  wait_for("retuned program", worked_out);
  pass("retune-changed");
}

// From the job to the machine: its program explained, played, on a setup sheet; what stands in the machine; dialects;
// what changed at the sources; proven steps.
void show_programs(MainWindow& window, const Wait& wait_for, const View& shot, const View& pass) {
  Workspace& workspace = window.workspace();
  JobsPage& page = window.jobs_page();
  workspace.select_job(workspace.state().jobs.named("Roller end cap")->id);
  page.show_view(JobsPage::operations);
  settle(window);
  ProgramView& program = page.program_view();
  for (int row = 0; row < program.lines().rowCount(); ++row)
    if (program.lines().line(row) == QLatin1String("S1980 M3"))
      program.setCurrentIndex(program.lines().index(row + 3, 0));
  settle(window);
  page.play_bar().go_to(0.56 * page.player().playback()->seconds());
  for (int i = 0; i < 30; ++i) {
    QApplication::processEvents();
    QThread::msleep(20);
  }
  shot("job-played");
  page.play_bar().close();
  // The end mill is reground, and a row is slower.
  const Cutter before = *workspace.state().cutters.find(workspace.job()->operations[1].cutter.id);
  Cutter after = before;
  after.diameter_mm = 19.6;
  after.flute_length_mm = 36;
  workspace.shop().edit(before, after, QStringLiteral("Reground"));
  page.show_source_changes();
  const auto decision = [&page] { return !page.decisions().is_empty(); };
  wait_for("changed at source", decision);
  shot("job-sources");
  page.decisions().close_sheet();
  workspace.shop().undo();
  // Both operations with one cutter, now with another's in between.
  workspace.select_operation(2);
  page.move_operation(1);
  settle(window);
  page.propose_order();
  wait_for("order", decision);
  pass("job-order");
  page.decisions().close_sheet();
  workspace.shop().undo();
  workspace.select_operations({3, 4, 5}, 3);
  page.save_proven_step();
  window.show_page(MainWindow::machines);
  PartsPage& machines = window.parts_page(MainWindow::machines);
  machines.show_section(1);
  pass("magazine");
  machines.show_section(3);
  pass("proven-steps");
  Dialect own = shipped_dialects().front();
  own.id = new_id();
  own.key = "fettler";
  own.name = "Fettler, our own";
  Change change;
  change.label = text_of(own.name);
  change.add(own);
  workspace.shop().apply(std::move(change));
  machines.show_section(2);
  for (int i = 0; i < 40; ++i) {
    QApplication::processEvents();
    QThread::msleep(20);
  }
  shot("dialect");
  machines.show_section(0);
  window.show_page(MainWindow::jobs);
  workspace.select_job(workspace.state().jobs.named("Gear cover")->id);
}

}  // namespace

QStringList draw_views(MainWindow& window, const QString& folder, QString& fault,
                       const std::function<void(const char* view)>& look) {
  QDir().mkpath(folder);
  QStringList written;
  window.resize(1280, 800);
  Workspace& workspace = window.workspace();
  auto shot = [&](const char* name) {
    settle(window);
    if (look) look(name);
    const QString file = folder + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png");
    QPixmap seen = window.grab();
    if (QWidget* list = QApplication::activePopupWidget()) {
      QPainter(&seen).drawPixmap(window.mapFromGlobal(list->pos()), list->grab());
      list->hide();
    }
    if (seen.save(file)) written << file;
    else fault = QObject::tr("“%1” cannot be written.").arg(file);
  };
  // Looked at, and no picture of its own.
  auto pass = [&](const char* name) {
    settle(window);
    if (look) look(name);
  };
  auto cutter = [&](int number) {
    for (const Cutter& c : workspace.state().cutters)
      if (c.number == number) return workspace.select_cutter(c.id);
  };
  auto job = [&](const char* name) {
    if (const JobHead* found = workspace.state().jobs.named(name)) workspace.select_job(found->id);
  };
  window.show_things_to_try(true);
  window.show_page(MainWindow::cutters);
  cutter(219);
  shot("cutters");
  window.show_things_to_try(false);
  window.cutter_bench().show_side(CutterBench::sizes);
  cutter(3);
  pass("cutter-sizes");
  window.cutter_bench().show_side(CutterBench::assembly);
  cutter(258);
  window.cutter_bench().assembly_panel().ask_about(Wall{30, 2});
  shot("assembly");
  window.cutter_bench().assembly_panel().ask_about(std::nullopt);
  window.show_page(MainWindow::holders);
  if (const Holder* h = workspace.state().holders.named("Side-lock 20")) window.holders_page().select(h->id);
  pass("holder");
  window.show_page(MainWindow::cutters);
  window.cutter_bench().show_side(CutterBench::conditions);
  cutter(219);
  window.show_page(MainWindow::tables);
  window.tables_page().show_view(TablesPage::chart);
  shot("chart");
  window.tables_page().show_view(TablesPage::rows);
  window.tables_page().show_table(workspace.state().tables[0].id);
  shot("table-rows");
  window.show_page(MainWindow::jobs);
  job("Spindle rail");
  pass("job");
  if (const WorkMaterial* other = workspace.state().materials.named("EN AW-5083")) {
    workspace.try_material(other->id);
    shot("job-material-tried");
    workspace.drop_trial();
  }
  job("Gear cover");
  workspace.select_operation(1);
  shot("job-pocket");
  window.jobs_page().show_view(JobsPage::features);
  window.jobs_page().select_feature("floor");
  shot("job-features");
  window.jobs_page().show_view(JobsPage::setups);
  pass("job-setups");
  window.jobs_page().show_view(JobsPage::operations);
  // Deeper than the stock, and than the cutter reaches.
  workspace.shop().apply(edited_operation(workspace.state(), workspace.shop().resolver(), *workspace.job(), 1,
                                          *find_property<Operation>("depth_mm"), 60.0, "60", workspace.units()));
  window.job_bench().show_side(JobBench::operation_side);
  const Wait wait_for = [&fault](const char* what, const std::function<bool()>& is_so) {
    QElapsedTimer waiting;
    waiting.start();
    do {
      QApplication::processEvents();
      QThread::msleep(2);
    } while (!is_so() && waiting.elapsed() < 20000);
    if (!is_so()) fault = QObject::tr("“%1” did not appear.").arg(QString::fromLatin1(what));
  };
  shot("job-error");
  workspace.shop().undo();
  window.job_bench().show_side(JobBench::conditions_side);
  show_holes(window, shot);
  show_programs(window, wait_for, shot, pass);
  const QTemporaryDir programs;  // until the list of jobs has been drawn
  show_retuned(window, programs.path(), folder, wait_for, shot, pass);
  window.jobs_page().show_view(JobsPage::all_jobs);
  QApplication::processEvents();
  wait_for("list of jobs", [&window] {
    return window.jobs_page().jobs().model().is_complete() && window.jobs_page().programs().is_complete();
  });
  shot("jobs");
  workspace.shop().undo();
  window.jobs_page().show_view(JobsPage::operations);
  window.job_bench().show_side(JobBench::conditions_side);
  job("Spindle rail");
  window.show_page(MainWindow::materials);
  pass("materials");
  window.show_page(MainWindow::machines);
  shot("machine");
  // What if, and a cut that is more than the machine and the cutter bear.
  window.show_page(MainWindow::cutters);
  cutter(219);
  window.show_cut_board(true);
  shot("what-if");
  window.write_cut_sheet(folder + QStringLiteral("/cut-sheet.pdf"));
  window.show_cut_board(false);
  cutter(219);
  settle(window);
  // Libraries: narrowed, read, changed many at a time, numbered, looked back at.
  CuttersPage& list = window.cutters_page();
  CutterFilter filter;
  filter.values["kind"] = {"end_mill", "ball"};
  filter.values["tool_material"] = {"carbide"};
  filter.ranges["diameter_mm"] = *parse_range("6 .. 16 mm", Quantity::length, UnitSystem::metric);
  list.filters().set_filter(filter);
  window.cutter_bench().show_side(CutterBench::history);
  pass("library");
  settle(window);
  std::vector<Id> steel = list.shown();
  steel.resize(std::min<std::size_t>(steel.size(), 12));
  list.select(steel);
  list.change_many();
  list.bulk().set_property("coating");
  list.bulk().set_text(QStringLiteral("AlTiN"));
  pass("bulk-change");
  list.bulk().preview().leave();
  list.filters().clear();
  const QString sample = folder + QStringLiteral("/cabinet.csv");
  write_sample_list(sample);
  list.import_file(sample, workspace.state().libraries[0].id);
  wait_for("list that is read", [&list] { return !list.import().is_reading(); });
  list.import().preview().show_all();
  pass("read-cutters");
  list.import().preview().leave();
  QFile::remove(sample);
  show_shared(window, folder + QStringLiteral("/Cabinet 3.json"), wait_for, [&] { pass("shared-library"); });
  cutter(219);
  window.cutter_bench().show_side(CutterBench::conditions);
  window.show_page(MainWindow::cutters);
  Look::get().set_night(true);
  window.show_page(MainWindow::tables);
  window.tables_page().show_view(TablesPage::chart);
  window.tables_page().chart_pane().set_heat(Heat::removal);
  pass("night");
  window.tables_page().chart_pane().set_heat(Heat::none);
  Look::get().set_night(false);
  window.tables_page().chart_pane().save(folder + QStringLiteral("/wall-chart.pdf"));
  job("Roller end cap");
  window.jobs_page().write_sheet(folder + QStringLiteral("/setup-sheet.pdf"));
  settle(window);
  return written;
}

}  // namespace pecorra
