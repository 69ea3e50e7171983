#include "app/window/shots.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QThread>

#include "app/look/look.h"
#include "app/window/main_window.h"

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

// A sheet as a shop might keep one beside its machine, against the first table.
RowSheet sample_sheet(const ShopState& state) {
  const Sheet sheet{"", {{"D (mm)", "vc", "fz (mm)", "ap", "Note", "Shelf"}, {"6", "100", "0.026", "1.0 x D", "", "A1"}, {"8", "118", "0.038", "1.0 x D", "New edge", "A1"}, {"14", "105", "0.058", "1.0 x D", "", "A2"},
                         {"18", "95", "0.07", "1.0 x D", "", "A2"}, {"20", "95", "8 kg", "1.0 x D", "", "A2"}, {"25", "-90", "0.08", "", "", "A3"}}};
  ConditionRow base;
  for (const ConditionRow& row : state.tables[0].rows)
    if (row.operation == OperationKind::side_rough) {
      base.kind = row.kind;
      base.tool_material = row.tool_material;
      base.operation = row.operation;
      base.material = row.material;
      base.group = row.group;
      break;
    }
  return read_row_sheet(sheet, base, UnitSystem::metric, {});
}

}  // namespace

QStringList draw_views(MainWindow& window, const QString& folder, QString& fault) {
  QDir().mkpath(folder);
  QStringList written;
  window.resize(1280, 800);
  Workspace& workspace = window.workspace();
  auto shot = [&](const char* name) {
    settle(window);
    const QString file = folder + QLatin1Char('/') + QLatin1String(name) + QStringLiteral(".png");
    if (window.grab().save(file)) written << file;
    else fault = QObject::tr("“%1” cannot be written.").arg(file);
  };
  auto cutter = [&](int number) {
    for (const Cutter& c : workspace.state().cutters)
      if (c.number == number) return workspace.select_cutter(c.id);
  };
  auto job = [&](const char* name) {
    if (const Job* found = workspace.state().jobs.named(name)) workspace.select_job(found->id);
  };
  window.show_things_to_try(true);
  window.show_page(MainWindow::cutters);
  cutter(219);
  shot("cutters");
  window.show_things_to_try(false);
  window.cutter_bench().show_side(CutterBench::sizes);
  cutter(246);
  shot("cutter-draft");
  cutter(3);
  shot("cutter-sizes");
  window.cutter_bench().show_side(CutterBench::assembly);
  cutter(258);
  window.cutter_bench().assembly_panel().ask_about(Wall{30, 2});
  shot("assembly");
  window.cutter_bench().assembly_panel().ask_about(std::nullopt);
  window.show_page(MainWindow::holders);
  if (const Holder* h = workspace.state().holders.named("Side-lock 20")) window.holders_page().select(h->id);
  shot("holder");
  window.show_page(MainWindow::cutters);
  window.cutter_bench().show_side(CutterBench::conditions);
  cutter(219);
  window.show_page(MainWindow::tables);
  window.tables_page().show_view(TablesPage::chart);
  shot("chart");
  window.tables_page().show_view(TablesPage::rows);
  window.tables_page().show_table(workspace.state().tables[0].id);
  shot("table-rows");
  window.tables_page().import_view().show_sheet(workspace.state().tables[0].id, QStringLiteral("steel.csv"), sample_sheet(workspace.state()));
  window.tables_page().show_view(TablesPage::importing);
  shot("import");
  window.tables_page().show_view(TablesPage::recipes);
  if (!workspace.state().recipes.empty()) window.tables_page().recipe_section().select(workspace.state().recipes[1].id);
  shot("recipes");
  window.tables_page().show_view(TablesPage::compare);
  const WorkMaterial *left = workspace.state().materials.named("42CrMo4 +QT"), *right = workspace.state().materials.named("EN-GJL-250");
  if (left && right) window.tables_page().compare_view().compare(CompareView::materials, left->id, right->id);
  shot("compare");
  window.show_page(MainWindow::jobs);
  job("Spindle rail");
  shot("job");
  if (const WorkMaterial* other = workspace.state().materials.named("EN AW-5083")) {
    workspace.try_material(other->id);
    shot("job-material-tried");
    workspace.drop_trial();
  }
  window.show_page(MainWindow::materials);
  shot("materials");
  window.show_page(MainWindow::machines);
  shot("machine");
  // What if, and a cut that is more than the machine and the cutter bear.
  window.show_page(MainWindow::cutters);
  cutter(219);
  window.show_cut_board(true);
  shot("what-if");
  window.write_cut_sheet(folder + QStringLiteral("/cut-sheet.pdf"));
  cutter(225);
  {
    WhatIf tried;
    tried.ap_mm = 30;
    tried.ae_mm = 16;
    workspace.try_what_if(tried);
  }
  shot("over-limit");
  workspace.try_what_if({});
  window.show_cut_board(false);
  cutter(219);
  Look::get().set_night(true);
  window.show_page(MainWindow::tables);
  window.tables_page().show_view(TablesPage::chart);
  window.tables_page().chart_pane().set_heat(Heat::removal);
  shot("night");
  window.tables_page().chart_pane().set_heat(Heat::none);
  Look::get().set_night(false);
  window.tables_page().chart_pane().save(folder + QStringLiteral("/wall-chart.pdf"));
  settle(window);
  return written;
}

}  // namespace pecorra
