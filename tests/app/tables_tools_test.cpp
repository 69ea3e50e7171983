// TableTools: paste, sheets with their preview, data sheets, the curve, recipes, comparing, the chart's other forms and
// what is saved of it.
#include <QClipboard>
#include <QComboBox>
#include <QFile>
#include <QListWidget>
#include <QTableView>

#include "app/tables/recipes_section.h"
#include "app/tables/row_bench.h"
#include "app/widgets/pick_list.h"
#include "core/tables/starter_rules.h"
#include "formats/sheet/sheet_file.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

struct TableTools : test::Window {
  TablesPage& page;
  RowModel& model;
  TableTools() : page((window->show_page(MainWindow::tables), window->tables_page())), model(page.model()) {
    page.show_view(TablesPage::rows);
    page.show_table(state().tables[0].id);
    page.grid().setCurrentIndex(model.index(0, RowModel::diameter));
    QApplication::processEvents();
  }
  const ConditionTable& table() { return *model.table(); }
  void copied(const char* text) { QGuiApplication::clipboard()->setText(QString::fromUtf8(text)); }
  // Until what runs aside has told.
  void wait_said(const QString& part) {
    QElapsedTimer timer;
    timer.start();
    while (!window->strip().said().contains(part) && timer.elapsed() < 10000) QTest::qWait(10);
    INFO(window->strip().said().toStdString());
    REQUIRE(window->strip().said().contains(part));
  }
  QString written(const QString& name, const QByteArray& text) {
    const QString path = dir.filePath(name);
    QFile out(path);
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(text);
    return path;
  }
  void choose(const char* box, const QString& text) {
    auto* combo = find<QComboBox>(box);
    const int at = combo->findText(text);
    REQUIRE(at >= 0);
    combo->setCurrentIndex(at);
    emit combo->activated(at);
    QApplication::processEvents();
  }
};

}  // namespace

TEST_CASE(
    "a block without headings is pasted cell under cell, in one step; a wrong one changes nothing and says where") {
  TableTools t;
  t.page.grid().setCurrentIndex(t.model.index(1, RowModel::vc));
  t.page.grid().setFocus();
  t.copied("101\t\t0.037\n102\t\t0.046\n");
  QTest::keyClick(&t.page.grid(), Qt::Key_V, Qt::ControlModifier);
  CHECK(t.model.row_at(1)->vc_m_min == 101.0);
  CHECK(t.model.row_at(2)->vc_m_min == 102.0);
  CHECK(t.model.row_at(2)->feed_mm == Approx(0.046));
  CHECK(t.model.row_at(1)->author == current_user());
  t.window->run("undo");
  CHECK(t.model.row_at(1)->vc_m_min == 100.0);
  CHECK(t.model.row_at(2)->vc_m_min == 105.0);
  t.copied("101\n102 kg\n");
  t.page.paste();
  CHECK(t.window->strip().said().contains("Line 2"));
  CHECK(t.window->strip().said().contains("102 kg"));
  CHECK(t.model.row_at(1)->vc_m_min == 100.0);
}

TEST_CASE("rows below the last one are new rows like it") {
  TableTools t;
  const int rows = t.model.rowCount();
  t.page.grid().setCurrentIndex(t.model.index(rows - 1, RowModel::diameter));
  t.copied("20\t270\n25\t260\n32\t250\n");
  t.page.paste();
  REQUIRE(t.model.rowCount() == rows + 2);
  const ConditionRow& last = t.table().rows.back();
  CHECK(last.diameter_mm == 32.0);
  CHECK(last.vc_m_min == 250.0);
  CHECK(last.material == t.table().rows[t.table().rows.size() - 3].material);
}

TEST_CASE("a block with headings goes by them, with a preview before anything is changed") {
  TableTools t;
  t.copied("D\tvc\tfz\n6\t99\t0.028\n7\t99\t0.03\n10\t140\t0.05\nx\t1\t1\n");
  t.page.paste();
  CHECK(t.page.view() == TablesPage::importing);
  CHECK(t.model.row_at(0)->vc_m_min == 95.0);  // nothing yet
  const ChangeLines& lines = *t.page.import_view().lines();
  REQUIRE(lines.size() == 4);
  CHECK(lines.state(0) == MergeState::changed);
  CHECK(lines.state(1) == MergeState::fresh);
  CHECK(lines.state(2) == MergeState::conflict);  // Ø10 is proven
  CHECK(lines.state(3) == MergeState::faulty);
  CHECK(t.find<QLabel>("import_counts")->text().contains("1 in conflict"));
  CHECK(t.find<QPushButton>("import_take")->text() == "Import 2 rows");
  // The conflict is picked by hand, with the space key on its line.
  t.page.import_view().table().setCurrentIndex(t.page.import_view().table().model()->index(2, 1));
  QTest::keyClick(&t.page.import_view().table(), Qt::Key_Space);
  CHECK(t.find<QPushButton>("import_take")->text() == "Import 3 rows");
  t.click(t.find("import_take"));
  CHECK(t.page.view() == TablesPage::rows);
  CHECK(t.model.row_at(0)->vc_m_min == 99.0);
  CHECK(t.table().rows[2].vc_m_min == 140.0);
  t.window->run("undo");  // one step
  CHECK(t.model.row_at(0)->vc_m_min == 95.0);
  CHECK(t.table().rows.size() == 20);
}

TEST_CASE("CSV and XLSX go out and come back the same; a file that is none says so") {
  TableTools t;
  for (const char* name : {"rows.csv", "rows.xlsx"}) {
    const QString file = t.dir.filePath(name);
    t.page.write_rows(file);
    t.wait_said(QStringLiteral("%1 saved").arg(QLatin1String(name)));
    t.page.read_rows(file);
    QElapsedTimer timer;
    timer.start();
    while (t.page.view() != TablesPage::importing && timer.elapsed() < 10000) QTest::qWait(10);
    const ChangeLines& lines = *t.page.import_view().lines();
    REQUIRE(lines.size() == t.table().rows.size());
    for (std::size_t i = 0; i < lines.size(); ++i) CHECK(lines.state(i) == MergeState::same);
    CHECK_FALSE(t.find<QPushButton>("import_take")->isEnabled());
    t.click(t.find("import_leave"));
    CHECK(t.page.view() == TablesPage::rows);
  }
  t.page.read_rows(t.written("words.csv", "one,two\nthree,four\n"));
  t.wait_said("line of known headings");
  t.page.read_rows(t.written("no.xlsx", "nothing"));
  t.wait_said("is not an XLSX file");
  t.page.read_rows(t.dir.filePath("missing.csv"));
  t.wait_said("missing.csv");
}

TEST_CASE("a preview is dropped when the table changes under it") {
  TableTools t;
  t.copied("D\tvc\tfz\n6\t99\t0.028\n");
  t.page.paste();
  REQUIRE(t.page.view() == TablesPage::importing);
  ConditionTable changed = t.table();
  changed.rows[0].vc_m_min = 77;
  t.window->shop().edit(t.table(), changed, "somebody else");
  CHECK(t.page.view() == TablesPage::rows);
  CHECK(t.model.row_at(0)->vc_m_min == 77.0);
}

TEST_CASE("a data sheet's speed and table feed become chip load in the series' table") {
  TableTools t;
  t.choose_cutter(219);
  const std::size_t before = t.state().tables.named("Heddlemoor Swift")->rows.size();
  t.page.row_from_data_sheet();
  CHECK(t.table().name == "Heddlemoor Swift");
  CHECK(t.table().rows.size() == before + 1);
  auto* editor = t.find<QLineEdit>("cell_editor");
  QTest::keyClicks(editor, "3183");
  QTest::keyClick(editor, Qt::Key_Return);
  QApplication::processEvents();
  const int row = t.page.grid().currentIndex().row();
  t.page.grid().setCurrentIndex(t.model.index(row, RowModel::vf));
  CHECK(t.model.enter(t.model.index(row, RowModel::vf), "637").isEmpty());
  // 3183 rpm on Ø12 is 120 m/min; 637 mm/min over four flutes is 0.05: formulas 1 and 2
  CHECK(t.model.row_at(row)->vc_m_min == Approx(120).epsilon(0.001));
  CHECK(t.model.row_at(row)->feed_mm == Approx(0.05).epsilon(0.001));
  CHECK(t.model.row_at(row)->flutes == 4);
}

TEST_CASE("low, target and high are typed in one cell") {
  TableTools t;
  CHECK(t.model.enter(t.model.index(0, RowModel::vc), QString::fromUtf8("80 – 95 – 120")).isEmpty());
  CHECK(t.model.row_at(0)->vc_low_m_min == 80.0);
  CHECK(t.model.row_at(0)->vc_m_min == 95.0);
  CHECK(t.model.row_at(0)->vc_high_m_min == 120.0);
  CHECK(t.model.enter(t.model.index(0, RowModel::vc), "300 .. 330 .. 400 ft/min").isEmpty());
  CHECK(t.model.row_at(0)->vc_low_m_min == Approx(91.44));
  CHECK(t.model.enter(t.model.index(0, RowModel::vc), "120..95..80").contains("must rise"));
}

TEST_CASE("the curve beside the rows: a point is dragged, the row follows, one step back") {
  TableTools t;
  auto* bench = t.window->findChild<RowCurve*>();
  REQUIRE(bench);
  QApplication::processEvents();
  const ConditionRow row = *t.model.row_at(1);
  const QPoint from = bench->place(row, true).toPoint(), to = from - QPoint(0, 12);
  QTest::mousePress(bench, Qt::LeftButton, {}, from);
  QTest::mouseMove(bench, from - QPoint(0, 6));
  QTest::mouseMove(bench, to);
  QTest::mouseRelease(bench, Qt::LeftButton, {}, to);
  QApplication::processEvents();
  const auto now =
      std::find_if(t.table().rows.begin(), t.table().rows.end(), [&](const ConditionRow& r) { return r.id == row.id; });
  CHECK(*now->vc_m_min > *row.vc_m_min);
  CHECK(t.model.row_at(t.page.grid().currentIndex().row())->id == row.id);  // and it is selected
  t.window->run("undo");
  CHECK(t.model.row_at(1)->vc_m_min == row.vc_m_min);
}

TEST_CASE("a table's own properties: made a maker's, and never scaled") {
  TableTools t;
  for (QPushButton* b : t.find<QWidget>("row_sides")->findChildren<QPushButton*>())
    if (b->text() == "Table") t.click(b);
  auto* level = t.find<QComboBox>("field_level");
  CHECK_FALSE(level->model()->flags(level->model()->index(2, 0)) & Qt::ItemIsEnabled);  // shipped ones only
  t.choose("field_level", "maker table");
  CHECK(t.table().level == TableLevel::maker);
  CHECK(t.fault("maker").contains("every cutter"));
  t.type_into("field_maker", "Heddlemoor");
  CHECK(t.table().maker == "Heddlemoor");
  t.choose("field_no_factors", "yes");
  CHECK(t.table().no_factors);
}

TEST_CASE("the starter rules can be looked at as rows, narrowed to the context, and copied") {
  TableTools t;
  t.page.show_table(starter_rules_id);
  CHECK(t.model.shows_rules());
  CHECK(t.model.rowCount() > 10000);
  CHECK_FALSE(t.model.is_editable());
  t.click(t.find("only_context"));
  CHECK(t.model.rowCount() > 20);
  CHECK(t.model.rowCount() < 1000);
  t.page.grid().setCurrentIndex(t.model.index(0, RowModel::diameter));
  QApplication::processEvents();
  const double vc = *t.model.row_at(0)->vc_m_min;
  t.page.copy_row_to_shop();
  CHECK_FALSE(t.model.shows_rules());
  CHECK(t.model.row_at(t.page.grid().currentIndex().row())->vc_m_min == vc);
  // A knot of a trail that came from a rule opens its row.
  t.choose_cutter(337);
  const auto e = t.workspace().evaluation_of(t.cutter());
  REQUIRE(e->trail.front().step == "starter_rule");
  t.page.show_row(e->trail.front().target);
  CHECK(t.model.shows_rules());
  CHECK(t.model.row_at(t.page.grid().currentIndex().row())->kind == t.cutter().kind);
}

TEST_CASE(
    "what a cutter runs at is kept as a recipe, used from then on, tried against tables, put on others, made a row") {
  test::Window w;
  w.choose_cutter(219);
  const auto before = w.workspace().evaluation_of(w.cutter())->resolution;
  CHECK(before.source == SourceKind::shop_table);
  w.click(w.find("keep_recipe"));
  CHECK(w.window->page() == MainWindow::tables);
  CHECK(w.window->tables_page().view() == TablesPage::recipes);
  const auto recipe = [&]() -> const Recipe& { return w.state().recipes[w.state().recipes.size() - 1]; };
  CHECK(recipe().cutter == w.cutter().id);
  CHECK(recipe().usual);
  CHECK_FALSE(recipe().proven);
  auto now = w.workspace().evaluation_of(w.cutter())->resolution;
  CHECK(now.source == SourceKind::recipe);
  CHECK(now.conditions.n_rpm == Approx(before.conditions.n_rpm).epsilon(0.01));
  CHECK(recipe().removal_cm3_min == Approx(27.6).epsilon(0.02));
  w.type_into("field_name", "heavy");
  CHECK(recipe().name == "heavy");
  w.type_into("field_vc_m_min", "400 ft/min");
  CHECK(recipe().vc_m_min == Approx(121.92));
  CHECK(w.find<QLabel>("recipe_figures")->text().contains("S 3230"));
  // Each can be looked at on the cutter's bench.
  w.window->show_page(MainWindow::cutters);
  w.window->cutter_bench().show_side(CutterBench::conditions);
  QApplication::processEvents();
  auto names = [&] {
    QStringList list;
    for (QPushButton* b : w.find<QWidget>("followed")->findChildren<QPushButton*>()) list << b->text();
    return list;
  };
  CHECK(names() == QStringList{"Automatic", "heavy", "Tables"});
  for (QPushButton* b : w.find<QWidget>("followed")->findChildren<QPushButton*>())
    if (b->text() == "Tables") w.click(b);
  CHECK(w.find<QLabel>("figures")->text().contains("110 m/min"));
  w.window->show_page(MainWindow::tables);
  const std::size_t recipes = w.state().recipes.size();
  w.click(w.find("recipe_put_on"));
  w.pick("All end mill of the series");
  CHECK(w.state().recipes.size() > recipes + 2);
  CHECK(w.window->strip().said().contains("not intended for"));  // other sizes
  w.window->run("undo");
  CHECK(w.state().recipes.size() == recipes);
  w.click(w.find("recipe_into_table"));
  CHECK(w.window->tables_page().view() == TablesPage::rows);
  CHECK(w.window->tables_page().model().table()->name == "Heddlemoor Swift");
  CHECK(w.window->tables_page().model().table()->rows.back().source.find("heavy") != std::string::npos);
  w.window->run("undo");
  w.window->tables_page().show_view(TablesPage::recipes);
  w.window->run("delete_recipe");
  CHECK(w.state().recipes.size() == recipes - 1);
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.source == SourceKind::shop_table);
}

TEST_CASE("a recipe's choices name what they mean; of several usual ones for the same one stays") {
  test::Window w;
  w.window->run("recipes");
  w.window->tables_page().recipe_section().select(w.state().recipes[0].id);
  QApplication::processEvents();
  REQUIRE(w.state().recipes[0].name == "light");
  CHECK(w.find<QComboBox>("field_material")->currentText() == "42CrMo4 +QT");
  auto* usual = w.find<QComboBox>("field_usual");
  usual->setCurrentIndex(usual->findData("true"));
  emit usual->activated(usual->currentIndex());
  CHECK(w.state().recipes[0].usual);
  CHECK_FALSE(w.state().recipes[1].usual);  // heavy
  auto* material = w.find<QComboBox>("field_material");
  material->setCurrentIndex(0);
  emit material->activated(0);
  CHECK(w.state().recipes[0].material.is_null());
  auto* cutter = w.find<QComboBox>("field_cutter");
  const Id drill = [&] {
    for (const Cutter& c : w.state().cutters)
      if (c.kind == CutterKind::drill) return c.id;
    return Id{};
  }();
  cutter->setCurrentIndex(cutter->findData(text_of(drill.text())));
  emit cutter->activated(cutter->currentIndex());
  CHECK(w.fault("cutter").contains("Made for"));
}

TEST_CASE("two of anything side by side; only what differs is lit") {
  test::Window w;
  w.window->run("compare");
  CompareView& view = w.window->tables_page().compare_view();
  view.compare(CompareView::materials, w.state().materials.named("42CrMo4 +QT")->id,
               w.state().materials.named("EN-GJL-250")->id);
  const auto row_of = [&](const QString& label) {
    for (int i = 0; i < view.model().rowCount(); ++i)
      if (view.model().lines()[static_cast<std::size_t>(i)][0] == label) return i;
    return -1;
  };
  const int force = row_of("Cutting force"), rise = row_of("Force exponent");
  REQUIRE(force >= 0);
  CHECK(view.model().is_lit(force, 1));
  CHECK(view.model().lines()[static_cast<std::size_t>(force)][3].contains("54"));  // 1160 / 2500 − 1
  CHECK_FALSE(view.model().is_lit(rise, 1));
  const int all = view.model().rowCount();
  w.click(w.find("compare_only"));
  CHECK(view.model().rowCount() < all);
  CHECK(row_of("Force exponent") < 0);
  w.click(w.find("compare_only"));
  w.click(w.find("compare_swap"));
  CHECK(w.find<QComboBox>("compare_left")->currentText() == "EN-GJL-250");
  // Cutters, with what they would run at.
  const auto cutter = [&](int number) {
    for (const Cutter& c : w.state().cutters)
      if (c.number == number) return c.id;
    return Id{};
  };
  view.compare(CompareView::cutters, cutter(216), cutter(219));
  CHECK(view.model().lines()[0][1].contains("3340"));
  CHECK(view.model().lines()[0][2].contains("2910"));
  CHECK(view.model().is_lit(row_of("Diameter"), 1));
  CHECK_FALSE(view.model().is_lit(row_of("Flutes"), 1));
  view.compare(CompareView::cutters, cutter(219), cutter(219));
  CHECK(view.summary() == "Both sides are the same.");
  // TableTools: rows for the same stand beside each other.
  ConditionTable other = w.state().tables[0];
  other.id = new_id();
  other.name = "Add";
  other.rows[0].vc_m_min = 114;
  other.rows.pop_back();
  Change change;
  change.add(other);
  w.window->shop().apply(std::move(change));
  view.compare(CompareView::tables, w.state().tables[0].id, other.id);
  CHECK(view.summary() == "2 of 20 differ");
  CHECK(view.model().lines()[0][3].contains("20"));  // 114 / 95
}

TEST_CASE(
    "the chart of one cutter: its operations down, materials across; a click chooses both, Enter opens the source") {
  test::Window w;
  w.choose_cutter(219);
  w.window->run("chart_cutter");
  ChartView& chart = w.window->tables_page().chart_view();
  QApplication::processEvents();
  CHECK(chart.row_count() == 10);
  CHECK(chart.column_count() == 5);
  QTest::mouseClick(chart.viewport(), Qt::LeftButton, {},
                    QPoint(212 + 30, 48 + 27 + 10));  // slotting, the first material
  CHECK(w.workspace().context().operation == OperationKind::slot);
  CHECK(w.cutter().number == 219);
  QTest::keyClick(&chart, Qt::Key_Return);
  CHECK(w.window->tables_page().view() == TablesPage::rows);
  CHECK(w.window->tables_page().model().row_at(w.window->tables_page().grid().currentIndex().row())->operation ==
        OperationKind::slot);
  // Another cutter: its operations.
  w.window->tables_page().show_view(TablesPage::chart);
  for (const Cutter& c : w.state().cutters)
    if (c.kind == CutterKind::drill) w.workspace().select_cutter(c.id);
  CHECK(chart.row_count() == 2);
}

TEST_CASE(
    "the chart is narrowed, tinted and saved as PDF, CSV and XLSX; a change of the material works out nothing anew") {
  TableTools t;
  t.page.show_view(TablesPage::chart);
  ChartView& chart = t.page.chart_view();
  QElapsedTimer timer;
  timer.start();
  while (!chart.is_complete() && timer.elapsed() < 10000) QApplication::processEvents();
  CHECK(chart.is_complete());
  Context context = t.workspace().context();
  context.material = t.state().materials.named("EN-GJL-250")->id;
  t.workspace().set_context(context);
  CHECK(chart.is_complete());
  context.operation = OperationKind::slot;
  t.workspace().set_context(context);
  CHECK_FALSE(chart.is_complete());
  const int all = chart.row_count();
  t.click(t.find("chart_able"));
  CHECK(chart.row_count() < all);
  for (int i = 0; i < chart.row_count(); ++i) CHECK_FALSE(chart.cell_text(i, 0).startsWith("for "));
  t.type_into("chart_filter", "ball", false);
  CHECK(chart.row_count() > 0);
  for (int i = 0; i < chart.row_count(); ++i)
    CHECK(text_of(chart.grid().cutter_at(i).name).contains("ball", Qt::CaseInsensitive));
  t.find<QLineEdit>("chart_filter")->clear();
  t.click(t.find("chart_all_materials"));
  CHECK(chart.column_count() == static_cast<int>(t.state().materials.size()));
  t.click(t.find("chart_all_materials"));
  const QImage plain = chart.viewport()->grab().toImage();
  for (const Heat heat : {Heat::speed, Heat::feed, Heat::removal, Heat::headroom}) {
    t.page.chart_pane().set_heat(heat);
    QApplication::processEvents();
    CHECK(chart.viewport()->grab().toImage() != plain);
  }
  for (const char* name : {"chart.pdf", "chart.csv", "chart.xlsx"}) {
    t.page.chart_pane().save(t.dir.filePath(name), true);
    t.wait_said(QStringLiteral("%1 saved").arg(QLatin1String(name)));
    CHECK(QFile(t.dir.filePath(name)).size() > 1000);
  }
  const auto sheet = read_xlsx(t.dir.filePath("chart.xlsx").toStdString());
  REQUIRE(sheet.has_value());
  CHECK(static_cast<int>(sheet->lines.size()) == chart.row_count() + 1);
  CHECK(sheet->lines[1][2] == shown(chart.grid().cell(0, 0).n_rpm, Quantity::spindle_speed, UnitSystem::metric));
  QFile pdf(t.dir.filePath("chart.pdf"));
  REQUIRE(pdf.open(QIODevice::ReadOnly));
  CHECK(pdf.read(5) == "%PDF-");
  t.page.chart_pane().save(t.dir.filePath("chart.doc"));
  CHECK(t.window->strip().said().contains(".pdf, .csv or .xlsx"));
  t.page.chart_pane().save(t.dir.filePath("no/such/chart.csv"));
  t.wait_said("chart.csv");
}

TEST_CASE(
    "what the machine lacks cannot be chosen in an operation, and says why; what is chosen goes into the program") {
  test::Window w;
  w.window->show_page(MainWindow::jobs);
  w.wait_planned();
  w.window->job_bench().show_side(JobBench::operation_side);
  QApplication::processEvents();
  auto* coolant = w.find<QComboBox>("field_own_coolant");
  const auto item = [&](const char* key) {
    const int at = coolant->findData(QLatin1String(key));
    return std::pair(coolant->itemText(at),
                     (coolant->model()->flags(coolant->model()->index(at, 0)) & Qt::ItemIsEnabled) != 0);
  };
  CHECK(item("flood").second);
  CHECK_FALSE(item("mist").second);
  CHECK(item("mist").first.contains("has none"));
  coolant->setCurrentIndex(coolant->findData("air"));
  emit coolant->activated(coolant->currentIndex());
  QApplication::processEvents();
  const Operation& o = w.workspace().job()->operations[static_cast<std::size_t>(w.workspace().operation_index())];
  CHECK(o.taken.coolant == Coolant::air);
}

TEST_CASE("maker tables and factors are switched off for a cutter, factors and starter values for the shop") {
  test::Window w;
  w.choose_cutter(219);
  Context context = w.workspace().context();
  context.operation = OperationKind::constant_engagement;
  w.workspace().set_context(context);
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.source == SourceKind::maker_table);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  QApplication::processEvents();
  w.open_section(w.window->cutter_bench(), "details");
  auto set = [&](const char* name, const char* value) {
    auto* box = w.find<QComboBox>(name);
    box->setCurrentIndex(box->findData(QLatin1String(value)));
    emit box->activated(box->currentIndex());
    QApplication::processEvents();
  };
  set("field_no_maker_tables", "true");
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.source == SourceKind::starter_table);
  const double scaled = w.workspace().evaluation_of(w.cutter())->resolution.conditions.vc_m_min;
  set("field_no_factors", "true");
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.conditions.vc_m_min > scaled);
  w.window->run("names");
  QApplication::processEvents();
  set("field_use_starters", "false");
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.source == SourceKind::none);
  w.window->run("undo");
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.source == SourceKind::starter_table);
}

TEST_CASE("a new machine is like a usual kind; its dial is typed as a table and the speeds follow") {
  test::Window w;
  w.window->show_page(MainWindow::machines);
  QApplication::processEvents();
  w.click(w.find("new_part"));
  w.pick("Knee mill");
  const auto machine = [&]() -> const Machine& { return w.state().machines[w.state().machines.size() - 1]; };
  INFO(machine().name);
  REQUIRE(machine().dial_rpm.size() == 10);
  CHECK(machine().source.find("ISO 229") != std::string::npos);
  Context context = w.workspace().context();
  context.machine = machine().id;
  w.workspace().set_context(context);
  w.choose_cutter(219);
  auto e = w.workspace().evaluation_of(w.cutter());
  CHECK(e->resolution.conditions.n_rpm == 2400);  // 2918 asked; 2400 is nearer than 4000
  CHECK(e->resolution.conditions.dial_position == 9);
  auto* dial = w.find<QTableWidget>("positions");
  dial->item(8, 0)->setText("2800");
  CHECK(machine().dial_rpm[8] == 2800);
  e = w.workspace().evaluation_of(w.cutter());
  CHECK(e->resolution.conditions.n_rpm == 2800);
  dial->item(8, 0)->setText("100");
  CHECK(machine().dial_rpm[8] == 2800);
}
