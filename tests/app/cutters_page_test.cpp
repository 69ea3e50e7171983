// Cutters, by keyboard and mouse: seeing numbers, adding, typing sizes, errors in place, undo, and that all of it is
// kept.
#include <QClipboard>

#include <QFile>
#include <QLabel>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QSettings>
#include <QTableView>
#include <QTemporaryDir>

#include "core/cutter/name_pattern.h"
#include "formats/dxf/dxf_writer.h"
#include "shop/generic_holders.h"
#include "shop/number_plan.h"
#include "store/write_file.h"
#include "window_fixture.h"

using namespace pecorra;

TEST_CASE("a new drill: kind first, then sizes as people write them") {
  test::Window w;
  const std::size_t before = w.state().cutters.size();
  w.key(Qt::Key_N, Qt::ControlModifier);
  w.pick("drill");
  CHECK(w.state().cutters.size() == before + 1);
  CHECK(w.cutter().kind == CutterKind::drill);
  // The diameter is wanted first; what nobody typed goes with it.
  CHECK(QApplication::focusWidget() == w.find<QLineEdit>("field_diameter_mm"));
  w.keys("7/16\"");
  CHECK(w.note("diameter_mm") == "= 11.113 mm");
  CHECK(w.cutter().diameter_mm == 10);  // not accepted yet
  w.key(Qt::Key_Return);
  CHECK(w.cutter().diameter_mm == 11.1125);
  CHECK(w.cutter().shank_diameter_mm == 11.1125);
  CHECK(w.cutter().typed.at("diameter_mm") == "7/16\"");
  w.type_into("field_flute_length_mm", "12,5");
  CHECK(w.cutter().flute_length_mm == 12.5);
  w.type_into("field_flute_length_mm", "3*25.4");
  CHECK(*w.cutter().flute_length_mm == Approx(76.2));
  w.type_into("field_edge_radius_mm", "0.4 thou");
  CHECK(*w.cutter().edge_radius_mm == Approx(0.01016));
  CHECK(w.cutter().name == suggested_name(w.cutter()));
  const Id id = w.cutter().id;
  w.again();
  const Cutter* back = w.state().cutters.find(id);
  REQUIRE(back);
  CHECK(back->diameter_mm == 11.1125);
  CHECK(back->typed.at("diameter_mm") == "7/16\"");
}

TEST_CASE("what cannot be understood stays in the field, with what is wrong, and nothing is changed") {
  test::Window w;
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  w.type_into("field_diameter_mm", "12 kg");
  CHECK(w.find<QLineEdit>("field_diameter_mm")->text() == "12 kg");
  CHECK_FALSE(w.fault("diameter_mm").isEmpty());
  CHECK(w.cutter().diameter_mm == 12);
  CHECK_FALSE(w.window->shop().can_undo());
  w.key(Qt::Key_Escape);
  CHECK(w.find<QLineEdit>("field_diameter_mm")->text() == "12");
  CHECK(w.fault("diameter_mm").isEmpty());
}

TEST_CASE("impossible geometry is kept as a draft and says what clashes; a draft has no numbers") {
  test::Window w;
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  w.type_into("field_flute_length_mm", "100");
  CHECK(w.fault("flute_length_mm").contains("longer than the whole cutter, 83 mm"));
  CHECK(w.window->strip().said().contains("kept as a draft"));
  CHECK_FALSE(w.workspace().evaluation_of(w.cutter())->resolution.found());
  w.type_into("field_flute_length_mm", "26");
  CHECK(w.fault("flute_length_mm").isEmpty());
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.found());
  // Odd, not impossible: a warning.
  w.type_into("field_neck_diameter_mm", "13");
  CHECK(w.fault("neck_diameter_mm").contains("would rub"));
}

TEST_CASE("undo and redo, by key, also while a field has the focus") {
  test::Window w;
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  w.type_into("field_diameter_mm", "14");
  w.type_into("field_reach_mm", "40");
  // Enter goes on to the next field, and undo is the shop's there too.
  CHECK(QApplication::focusWidget() != w.find<QLineEdit>("field_reach_mm"));
  CHECK(QApplication::focusWidget() == w.find<QWidget>("field_tool_material"));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.cutter().reach_mm == 37);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.cutter().diameter_mm == 12);
  CHECK(w.find<QLineEdit>("field_diameter_mm")->text() == "12");
  w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(w.cutter().diameter_mm == 14);
  // While something is being typed, undo is the field's own.
  auto* edit = w.find<QLineEdit>("field_reach_mm");
  edit->setFocus();
  QTest::keyClicks(edit, "5");
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.cutter().diameter_mm == 14);
}

TEST_CASE("the list shows speed and feed for the context, and reasons where there are none") {
  test::Window w;
  auto& table = w.window->cutters_page().table();
  auto& model = *static_cast<CutterModel*>(table.model());
  const int row = model.row_of(w.state().cutter_numbered(w.state().libraries[0].id, 219)->id);
  CHECK(w.cell(model, row, CutterModel::speed) == "2910");
  CHECK(w.cell(model, row, CutterModel::feed) == "640");
  const int drill = model.row_of(w.state().cutter_numbered(w.state().libraries[0].id, 301)->id);
  CHECK(model.index(drill, 0).data(CutterModel::reason_role).toString() == "for drilling");
  Context context = w.workspace().context();
  context.operation = OperationKind::drill;
  w.workspace().set_context(context);
  CHECK(w.cell(model, drill, CutterModel::speed).toInt() > 1000);
  CHECK(model.index(row, 0).data(CutterModel::reason_role).toString() == "for side roughing");
  context.units = UnitSystem::inch;
  w.workspace().set_context(context);
  CHECK(model.headerData(CutterModel::feed, Qt::Horizontal, Qt::DisplayRole).toString() == "F in/min");
}

TEST_CASE("filter, libraries, sorting; what was just added stays selected") {
  test::Window w;
  auto& table = w.window->cutters_page().table();
  auto& model = *static_cast<CutterModel*>(table.model());
  w.key(Qt::Key_F, Qt::ControlModifier);
  w.keys("fallow");
  int fallow = 0, board = 0;
  for (const Cutter& c : w.state().cutters) {
    fallow += c.series == "Fallow";
    board += c.library == w.state().libraries[1].id;
  }
  CHECK(model.rowCount() == fallow);
  w.keys(" 305");
  CHECK(model.rowCount() == 0);
  CHECK(w.find<QLineEdit>("cutter_filter")->hasFocus());
  w.find<QLineEdit>("cutter_filter")->clear();
  w.click(w.window->findChild<QAbstractButton*>("libraries_2"));
  CHECK(model.rowCount() == board);
  const int free = w.state().free_number(w.state().libraries[1].id);
  w.window->run("new_end_mill");
  CHECK(model.rowCount() == board + 1);
  CHECK(w.cutter().library == w.state().libraries[1].id);
  CHECK(w.cutter().number == free);
  CHECK(model.cutter_at(table.currentIndex().row())->id == w.cutter().id);
  w.window->run(QStringLiteral("sort_%1").arg(CutterModel::diameter));
  for (int i = 1; i < model.rowCount(); ++i)
    CHECK(*model.cutter_at(i - 1)->diameter_mm <= *model.cutter_at(i)->diameter_mm);
  model.sort_by(CutterModel::diameter);
  CHECK(*model.cutter_at(0)->diameter_mm >= *model.cutter_at(1)->diameter_mm);
  CHECK(model.cutter_at(table.currentIndex().row())->id == w.cutter().id);
}

TEST_CASE("copy, delete, and bring back; numbers stay unique") {
  test::Window w;
  w.choose_cutter(219);
  const int free = w.state().free_number(w.cutter().library);
  w.key(Qt::Key_D, Qt::ControlModifier);
  CHECK(w.cutter().number == free);
  CHECK(w.state().assembly_of(w.cutter().id)->stickout_mm == 42);
  w.window->cutters_page().table().setFocus();
  w.key(Qt::Key_Delete);
  CHECK(w.state().cutter_numbered(w.state().libraries[0].id, free) == nullptr);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.state().cutter_numbered(w.state().libraries[0].id, free));
  w.choose_cutter(216);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  w.type_into("field_number", "219");
  CHECK(w.fault("number").contains("already has this number"));
  CHECK(w.fault("number").contains(QStringLiteral("%1 is free").arg(w.state().free_number(w.cutter().library))));
  CHECK(w.cutter().number == 216);  // a number belongs to one cutter
  CHECK(w.find<QLineEdit>("field_number")->text() == "219");
  w.type_into("field_number", "217");
  CHECK(w.cutter().number == 217);
  CHECK(w.fault("number").isEmpty());
}

TEST_CASE("moving a cutter to another library gives it a free number there") {
  test::Window w;
  w.choose_cutter(2);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  auto* combo = w.find<QComboBox>("field_library");
  combo->setCurrentIndex(0);
  emit combo->activated(0);
  CHECK(w.cutter().library == w.state().libraries[0].id);
  CHECK(w.cutter().number == 2);
  CHECK(w.window->strip().said().contains("Moved to"));
}

TEST_CASE("stick-out and holder belong to the assembly and are checked") {
  test::Window w;
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::assembly);
  w.type_into("field_stickout_mm", "60");
  CHECK(w.state().assembly_of(w.cutter().id)->stickout_mm == 60);
  CHECK(w.fault("stickout_mm").contains("at most 53 mm"));
  w.type_into("field_stickout_mm", "1-3/4 in");
  CHECK(*w.state().assembly_of(w.cutter().id)->stickout_mm == Approx(44.45));
  CHECK(w.fault("stickout_mm").isEmpty());
}

TEST_CASE("a cutter stands in several assemblies, one of them the usual; a wall is asked about") {
  test::Window w;
  w.choose_cutter(219);
  CutterBench& bench = w.window->cutter_bench();
  bench.show_side(CutterBench::assembly);
  const Id cutter = w.cutter().id, first = w.state().assembly_of(cutter)->id;
  w.click(w.find<QPushButton>("add_assembly"));
  const Id second = bench.assembly_panel().assembly()->id;
  CHECK(second != first);
  CHECK(w.state().assembly_of(cutter)->id == first);
  w.type_into("field_stickout_mm", "48");
  CHECK(w.state().assemblies.find(second)->stickout_mm == 48);
  CHECK(w.state().assemblies.find(first)->stickout_mm == 42);
  auto* usual = w.find<QComboBox>("field_usual");
  usual->setCurrentIndex(usual->findData("true"));
  emit usual->activated(usual->currentIndex());
  CHECK(w.state().assembly_of(cutter)->id == second);
  w.click(w.window->findChild<QAbstractButton*>("assemblies_0"));
  CHECK(bench.assembly_panel().assembly()->id == first);
  CHECK(w.find<QLabel>("assembly_figures")->text().contains(QStringLiteral("Gauge length 112\u00a0mm")));

  // 12 wide in a chuck of 50: beside 45 mm of wall it stands 19 inside.
  w.type_into("field_wall_height_mm", "45");
  CHECK(w.find<QLabel>("clearance")->text().contains("19 mm into the wall"));
  w.type_into("field_wall_height_mm", "30");
  CHECK(w.find<QLabel>("clearance")->text().contains("clears by 0.24 mm"));
  w.type_into("field_wall_draft_deg", "30");
  CHECK(w.find<QLabel>("clearance")->text().contains("30° draft"));
  w.click(w.find<QPushButton>("remove_assembly"));
  CHECK(w.state().assemblies.find(first) == nullptr);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.state().assemblies.find(first));
}

TEST_CASE("a dimension is dragged on the bench: shown as it goes, accepted once") {
  test::Window w;
  w.choose_cutter(219);
  CutterBench& bench = w.window->cutter_bench();
  bench.show_side(CutterBench::sizes);
  CutterDrawing& drawing = bench.drawing();
  emit drawing.dimension_dragged("flute_length_mm", 24, false);
  CHECK(w.cutter().flute_length_mm == 26);
  emit drawing.dimension_dragged("flute_length_mm", 23.5, true);
  CHECK(w.cutter().flute_length_mm == 23.5);
  emit drawing.dimension_dragged("stickout_mm", 44, true);
  CHECK(w.state().assembly_of(w.cutter().id)->stickout_mm == 44);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.cutter().flute_length_mm == 26);
  // A ghost behind it, and none again.
  bench.choose_ghost();
  CHECK_FALSE(drawing.has_ghost());
  drawing.set_ghost(silhouette(w.state().cutters[5]));
  CHECK(drawing.has_ghost());
  bench.choose_ghost();
  CHECK_FALSE(drawing.has_ghost());
}

TEST_CASE("the first cutter of an empty shop finds its place") {
  test::Window w{new_shop_state("Mine")};
  CHECK(w.find<QLabel>("bench_title")->text() == "No cutter");
  w.window->run("new_end_mill");
  REQUIRE(w.state().cutters.size() == 1);
  CHECK(w.cutter().number == 1);
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.source == SourceKind::starter_table);
}

TEST_CASE("guesses are marked until typed or confirmed; a warning is accepted with its reason, and taken back") {
  test::Window w;
  w.window->run("new_end_mill");
  CutterBench& bench = w.window->cutter_bench();
  bench.show_side(CutterBench::sizes);
  const std::size_t guessed = w.cutter().guesses.size();
  CHECK(guessed >= 5);
  CHECK(w.find<QLabel>("note_flute_length_mm")->text().contains("guess"));
  w.type_into("field_flute_length_mm", "30");
  CHECK(w.cutter().guesses.size() == guessed - 1);
  CHECK_FALSE(w.find<QLabel>("note_flute_length_mm")->text().contains("guess"));
  w.click(w.find<QPushButton>("confirm_guesses"));
  CHECK(w.cutter().guesses.empty());
  CHECK_FALSE(to_look_at(w.cutter()));

  w.type_into("field_neck_diameter_mm", "11");
  CHECK(to_look_at(w.cutter()));
  auto* reason = w.find<QLineEdit>("reason_neck_thicker_than_cutter");
  QTest::keyClick(reason, Qt::Key_Return);  // no reason, no acceptance
  CHECK(w.cutter().accepted.empty());
  QTest::keyClicks(reason, "a special, measured twice");
  QTest::keyClick(reason, Qt::Key_Return);
  CHECK(w.cutter().accepted.at("neck_thicker_than_cutter") == "a special, measured twice");
  CHECK(w.fault("neck_diameter_mm").isEmpty());
  CHECK_FALSE(to_look_at(w.cutter()));
  w.click(w.find<QPushButton>("again_neck_thicker_than_cutter"));
  CHECK(w.cutter().accepted.empty());
  CHECK(to_look_at(w.cutter()));

  // The list of all that is to be looked at.
  auto& model = *static_cast<CutterModel*>(w.window->cutters_page().table().model());
  w.click(w.find<QPushButton>("only_to_look_at"));
  int open = 0;
  for (const Cutter& c : w.state().cutters) open += to_look_at(c) || breach_of(w.state(), c);
  CHECK(model.rowCount() == open);
  CHECK(open < static_cast<int>(w.state().cutters.size()));
}

TEST_CASE("a cutter that is here already is pointed out while it is entered; shown, told apart, or merged") {
  test::Window w;
  w.choose_cutter(219);
  const Id original = w.cutter().id;
  const std::size_t before = w.state().cutters.size();
  w.key(Qt::Key_D, Qt::ControlModifier);
  REQUIRE(w.state().cutters.size() == before + 1);
  QApplication::processEvents();
  const Id copy = w.cutter().id;
  CHECK(w.find<QPushButton>("merge_like")->isVisible());
  // Another size and another code: not alike any more, and alike again when it is undone.
  w.type_into("field_order_code", "other");
  w.type_into("field_flute_length_mm", "20");
  QApplication::processEvents();
  CHECK_FALSE(w.shows("merge_like"));
  w.window->run("undo");
  QApplication::processEvents();
  w.click(w.find<QPushButton>("show_like"));
  CHECK(w.cutter().id == original);
  w.workspace().select_cutter(copy);
  QApplication::processEvents();
  w.click(w.find<QPushButton>("tell_apart"));
  QApplication::processEvents();
  CHECK_FALSE(w.shows("merge_like"));
  w.window->run("undo");
  QApplication::processEvents();

  // The list of those that are alike, each beside the other.
  w.click(w.find<QPushButton>("only_alike"));
  auto& model = *static_cast<CutterModel*>(w.window->cutters_page().table().model());
  const int row = model.row_of(original), twin = model.row_of(copy);
  REQUIRE(row >= 0);
  CHECK(std::abs(row - twin) == 1);
  CHECK(model.rowCount() == 4);  // and a pair of the demo's own
  Assembly own = *w.state().assembly_of(copy);
  const std::size_t jobs = w.state().jobs.size();
  w.workspace().select_cutter(copy);
  QApplication::processEvents();
  w.click(w.find<QPushButton>("merge_like"));
  CHECK(w.state().cutters.size() == before);
  CHECK(w.state().cutters.find(copy) == nullptr);
  CHECK(w.cutter().id == original);
  CHECK(w.state().jobs.size() == jobs);
  CHECK(model.rowCount() == 2);
  w.window->run("undo");
  CHECK(w.state().cutters.find(copy));
  CHECK(w.state().assembly_of(copy)->id == own.id);
}

TEST_CASE("undo and Escape in a text field: the field's own while it is typed, the shop's after it is accepted") {
  test::Window w;
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  QApplication::processEvents();
  const std::string before = w.cutter().maker;
  w.type_into("field_maker", "Carrow");
  CHECK(w.cutter().maker == "Carrow");
  CHECK(QApplication::focusWidget() == w.find<QLineEdit>("field_series"));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.cutter().maker == before);
  CHECK(w.find<QLineEdit>("field_maker")->text().toStdString() == before);
  w.type_into("field_maker", "half typ", false);
  w.key(Qt::Key_Escape);
  CHECK(w.find<QLineEdit>("field_maker")->text().toStdString() == before);
  w.find<QLineEdit>("field_diameter_mm")->setFocus();
  CHECK(w.cutter().maker == before);
}

TEST_CASE("a guess becomes a row of the shop's own with one click, and the number follows it from then on") {
  test::Window w;
  w.choose_cutter(337);  // no papers
  w.window->cutter_bench().show_side(CutterBench::conditions);
  QApplication::processEvents();
  const Resolution before = w.workspace().evaluation_of(w.cutter())->resolution;
  REQUIRE(before.guess);
  auto* make = w.find<QPushButton>("make_row");
  CHECK(make->text() == "Add as row");
  w.click(make);
  CHECK(w.window->page() == MainWindow::tables);
  const Resolution after = w.workspace().evaluation_of(w.cutter())->resolution;
  CHECK(after.source == SourceKind::shop_table);
  CHECK_FALSE(after.guess);
  CHECK_FALSE(after.proven);
  CHECK(after.conditions.n_rpm == Approx(before.conditions.n_rpm).epsilon(0.02));
  CHECK(after.conditions.vf_mm_min == Approx(before.conditions.vf_mm_min).epsilon(0.12));
  w.window->run("undo");
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.guess);
  // No row fits: a row with its keys alone, which says what is missing.
  Context context = w.workspace().context();
  context.material = w.state().materials.named("100Cr6 62 HRC")->id;
  w.workspace().set_context(context);
  w.window->show_page(MainWindow::cutters);
  QApplication::processEvents();
  CHECK(make->text() == "Add a row for it");
  w.click(make);
  CHECK_FALSE(w.workspace().evaluation_of(w.cutter())->resolution.found());
  bool there = false;
  for (const ConditionTable& t : w.state().tables)
    for (const ConditionRow& row : t.rows)
      there = there || (row.material == context.material && row.diameter_mm == w.cutter().diameter_mm &&
                        has_error(check_row(row)));
  CHECK(there);
}

TEST_CASE("what must never be done: the list says never, the bench says why and what to do instead") {
  test::Window w;
  w.choose_cutter(313);  // HSS
  Context context = w.workspace().context();
  context.operation = OperationKind::drill;
  context.material = w.state().materials.named("100Cr6 62 HRC")->id;
  w.workspace().set_context(context);
  QApplication::processEvents();
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.reason == NoAnswer::never);
  auto& model = *static_cast<CutterModel*>(w.window->cutters_page().table().model());
  CHECK(model.index(model.row_of(w.cutter().id), 0).data(CutterModel::reason_role).toString() == "never");
  bool said = false;
  for (QLabel* label : w.window->cutter_bench().findChildren<QLabel*>())
    said = said || (label->isVisible() && label->text().startsWith("Never: ") && label->text().contains("Instead: "));
  CHECK(said);
  CHECK_FALSE(w.shows("make_row"));
}

TEST_CASE("sections of the shank are typed, drawn, and refused where they cannot be") {
  test::Window w;
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  QApplication::processEvents();
  w.click(w.find<QPushButton>("add_section"));
  REQUIRE(w.cutter().shank_sections.size() == 1);
  auto* table = w.find<QTableWidget>("sections");
  table->item(0, 0)->setText("3/4 in");
  CHECK(w.cutter().shank_sections[0].length_mm == Approx(19.05));
  CHECK(table->item(0, 0)->text() == "3/4 in");
  table->item(0, 1)->setText("0");
  CHECK(w.cutter().shank_sections[0].lower_mm > 0);
  CHECK(w.find<QLabel>("fault_section")->text().contains("greater than 0"));
  table->item(0, 1)->setText("9");
  const auto& profile = w.window->cutter_bench().drawing().sheet().profile;
  CHECK(std::any_of(profile.begin(), profile.end(), [](const ProfileSegment& s) {
    return s.from.x == 4.5 && s.to.x == 6 && s.to.y - s.from.y == Approx(19.05);
  }));
  table->item(0, 0)->setText("60");  // beyond the whole cutter: kept as a draft
  CHECK(w.find<QLabel>("fault_section")->text().contains("beyond the whole cutter"));
  CHECK(w.window->strip().said().contains("kept as a draft"));
  table->item(0, 0)->setText("1/4\"");
  // Another row before it: what was typed moves along, and goes with its row.
  table->setCurrentCell(-1, -1);
  w.click(w.find<QPushButton>("add_section"));
  REQUIRE(w.cutter().shank_sections.size() == 2);
  table->item(1, 0)->setText("0.1 in");
  table->setCurrentCell(0, 0);
  w.click(w.find<QPushButton>("remove_section"));
  REQUIRE(w.cutter().shank_sections.size() == 1);
  CHECK(w.cutter().typed.at("shank_sections[0][0]") == "0.1 in");
  CHECK_FALSE(w.cutter().typed.contains("shank_sections[1][0]"));
  table->setCurrentCell(0, 0);
  w.click(w.find<QPushButton>("remove_section"));
  CHECK(w.cutter().shank_sections.empty());
  CHECK_FALSE(w.cutter().typed.contains("shank_sections[0][0]"));
}

TEST_CASE("columns are chosen; they, the filter, the library and the order are there at the next start") {
  test::Window w;
  auto* table = &w.window->cutters_page().table();
  const int coating = CutterModel::first_property + 5;
  CHECK(table->isColumnHidden(coating));
  w.click(w.find<QPushButton>("columns"));
  w.pick("coating");
  CHECK_FALSE(table->isColumnHidden(coating));
  CHECK(table->columnWidth(CutterModel::name) >= 116);
  CHECK(table->model()->headerData(coating, Qt::Horizontal).toString() == "Coating");
  auto* model = static_cast<CutterModel*>(table->model());
  model->sort_by(coating);
  // What has none stands at the end.
  for (int i = 1; i < model->rowCount() && !model->index(i, coating).data().toString().isEmpty(); ++i)
    CHECK(model->index(i - 1, coating)
              .data()
              .toString()
              .compare(model->index(i, coating).data().toString(), Qt::CaseInsensitive) <= 0);
  w.type_into("cutter_filter", "end mill", false);
  for (QPushButton* b : w.window->findChild<QWidget*>("libraries")->findChildren<QPushButton*>())
    if (b->text() == "Standing set") w.click(b);
  model->sort_by(CutterModel::diameter);
  const int shown = model->rowCount();
  w.window->close();
  w.again();
  table = &w.window->cutters_page().table();
  model = static_cast<CutterModel*>(table->model());
  CHECK_FALSE(table->isColumnHidden(coating));
  CHECK(w.find<QLineEdit>("cutter_filter")->text() == "end mill");
  CHECK(model->rowCount() == shown);
  CHECK(model->library() == w.state().libraries.named("Standing set")->id);
  CHECK(model->sorting() == std::vector<CutterModel::SortBy>{{CutterModel::diameter, false}});
  // A found cutter takes the filter away.
  w.window->cutters_page().show_cutter(w.state().cutters[0].id);
  CHECK(w.find<QLineEdit>("cutter_filter")->text().isEmpty());
}

TEST_CASE("the set diameter counts at once, on the drawing and in the numbers; dragging sets it") {
  test::Window w;
  w.choose_cutter(219);
  const double before = w.workspace().evaluation_of(w.cutter())->resolution.conditions.n_rpm;
  CutterBench& bench = w.window->cutter_bench();
  bench.show_side(CutterBench::assembly);
  QApplication::processEvents();
  w.type_into("field_set_diameter_mm", "11.6");
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.conditions.n_rpm > before);
  const auto text = [&](std::string_view key) {
    for (const DimensionMark& m : bench.drawing().sheet().marks)
      if (m.key == key) return m.text;
    return std::string();
  };
  CHECK(text("diameter_mm") == "DC 11.6");
  emit bench.drawing().dimension_dragged("diameter_mm", 11.5, true);
  CHECK(w.state().assembly_of(w.cutter().id)->set_diameter_mm == 11.5);
  CHECK(w.cutter().diameter_mm == 12);
  // The wall that is asked about stands on the drawing, and its top can be dragged.
  w.type_into("field_wall_height_mm", "30");
  CHECK(text("wall_height_mm") == "wall 30");
  CHECK_FALSE(bench.drawing().sheet().material.empty());
  emit bench.drawing().dimension_dragged("wall_height_mm", 25, true);
  CHECK(bench.assembly_panel().wall()->height_mm == 25);
  CHECK(w.find<QLabel>("clearance")->text().contains("At 25 mm"));
}

TEST_CASE("an extension is drawn between holder and cutter; an outline from a file is drawn behind") {
  test::Window w;
  w.choose_cutter(219);
  CutterBench& bench = w.window->cutter_bench();
  bench.show_side(CutterBench::assembly);
  QApplication::processEvents();
  const double hidden = bench.drawing().sheet().seen_to_mm;
  w.type_into("field_stickout_mm", "90");
  w.type_into("field_extension_diameter_mm", "20");
  w.type_into("field_extension_length_mm", "48");
  CHECK(bench.drawing().sheet().seen_to_mm == Approx(hidden));  // 90 less 48
  CHECK(bench.drawing().sheet().holder.front().x == 10);
  CHECK(bench.drawing().sheet().holder.front().y == Approx(42));
  CHECK(bench.drawing().sheet().holder[1].y == Approx(90));

  QTemporaryDir dir;
  const QString file = dir.filePath("measured.dxf");
  CHECK(write_file(file, QByteArray::fromStdString(dxf_of_profile(silhouette(w.cutter())))).isEmpty());
  CHECK_FALSE(bench.drawing().has_ghost());
  bench.read_ghost(file);
  REQUIRE(QTest::qWaitFor([&] { return bench.drawing().has_ghost(); }, 5000));
  CHECK(w.window->strip().said().contains("measured.dxf"));
  bench.choose_ghost();  // none again
  CHECK_FALSE(bench.drawing().has_ghost());
  bench.read_ghost(dir.filePath("none.svg"));
  CHECK(QTest::qWaitFor([&] { return w.window->strip().said().contains("cannot be read"); }, 5000));
}

TEST_CASE("holders: from the generic set, edited as stations, dragged, kept from being deleted while used") {
  test::Window w;
  w.window->show_page(MainWindow::holders);
  HoldersPage& page = w.window->holders_page();
  HolderBench& bench = w.window->holder_bench();
  const std::size_t before = w.state().holders.size();
  page.add_holder(generic_holders()[3]);
  REQUIRE(w.state().holders.size() == before + 1);
  const Id fresh = page.selected();
  CHECK(w.state().holders.find(fresh)->name == generic_holders()[3].name);

  QTableWidget& stations = bench.stations();
  const auto count = w.state().holders.find(fresh)->stations.size();
  REQUIRE(stations.rowCount() == static_cast<int>(count));
  stations.item(0, 1)->setText("1-1/2 in");
  CHECK(w.state().holders.find(fresh)->stations[0].diameter_mm == Approx(38.1));
  CHECK(stations.item(0, 1)->text() == "1-1/2 in");  // as it was typed
  CHECK(w.state().holders.find(fresh)->typed.at("stations[0][1]") == "1-1/2 in");
  stations.item(1, 0)->setText("12..5");  // no number: the holder stays, what is wrong is said
  const Holder kept = *w.state().holders.find(fresh);
  stations.item(static_cast<int>(count) - 1, 0)->setText("1");
  CHECK(*w.state().holders.find(fresh) == kept);
  w.click(w.find<QPushButton>("add_station"));
  CHECK(w.state().holders.find(fresh)->stations.size() == count + 1);
  w.click(w.find<QPushButton>("remove_station"));
  CHECK(w.state().holders.find(fresh)->stations.size() == count);
  emit bench.drawing().station_dragged(0, 0, 44, true);
  CHECK(w.state().holders.find(fresh)->stations[0].diameter_mm == 44);
  bench.drawing().grab();

  page.delete_holder();
  CHECK(w.state().holders.find(fresh) == nullptr);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.state().holders.find(fresh));
  page.select(w.state().holders.named("ER32")->id);
  page.delete_holder();
  CHECK(w.state().holders.named("ER32"));
  CHECK(w.window->strip().said().contains("give them another holder first"));
  page.read_outline("/nonexistent.dxf");
  CHECK(QTest::qWaitFor([&] { return w.window->strip().said().contains("cannot be read"); }, 5000));
  QTemporaryDir dir;
  const QString file = dir.filePath("nose.svg");
  CHECK(write_file(file, "<svg width=\"100mm\" viewBox=\"0 0 100 100\"><path d=\"M25 90V70H22V20\"/></svg>").isEmpty());
  page.read_outline(file);
  REQUIRE(QTest::qWaitFor([&] { return w.state().holders.find(page.selected())->name == "nose"; }, 5000));
  CHECK(w.state().holders.find(page.selected())->stations ==
        std::vector<Station>{{0, 50}, {20, 50}, {20, 44}, {70, 44}});
}

TEST_CASE("a form cutter's profile is typed as points or read from a file, and its faults are shown with their place") {
  test::Window w;
  w.window->run("new_form");
  CutterBench& bench = w.window->cutter_bench();
  bench.show_side(CutterBench::sizes);
  auto* text = w.find<QPlainTextEdit>("outline_text");
  auto* fault = w.find<QLabel>("outline_fault");
  REQUIRE(text->isVisible());
  const Cutter fresh = w.cutter();
  CHECK_FALSE(fresh.outline.empty());
  const auto type = [&](const QString& points) {
    text->setFocus();
    text->setPlainText(points);
    w.find<QLineEdit>("field_flutes")->setFocus();
    QApplication::processEvents();
  };
  type("0 0\n5 0\n5 1\n8 4 3\n8 10");
  CHECK(w.cutter().outline.size() == 5);
  CHECK(*w.cutter().diameter_mm == Approx(16));
  CHECK(*w.cutter().flute_length_mm == Approx(10));
  CHECK(fault->text().isEmpty());
  // What cannot be read stays as it was typed, and the cutter as it was.
  const Cutter before = w.cutter();
  type("0 0\n5 nonsense\n8 10");
  CHECK(fault->text().contains("Line 2"));
  CHECK(text->toPlainText().contains("nonsense"));
  CHECK(w.cutter() == before);
  // A profile over itself is kept as a draft, with its place.
  type("0 0\n1 0\n1 2\n5 6\n5 2\n1 6\n1 8");
  CHECK(has_error(check_cutter(w.cutter())));
  CHECK(fault->text().contains("crosses itself at 3 mm, 4 mm"));
  CHECK(bench.drawing().grab().toImage().width() > 0);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.cutter().outline == before.outline);

  QTemporaryDir dir;
  const auto write = [&](const char* name, const std::string& what) {
    QFile file(dir.filePath(name));
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(what.data(), static_cast<qint64>(what.size()));
    return file.fileName();
  };
  OutlinePanel& panel = bench.form().outline();
  // Files are read aside: wait until the cutter or the fault has changed.
  const auto read_file = [&](const QString& name) {
    const Cutter was = w.cutter();
    fault->setText("waiting");
    panel.read_file(name);
    REQUIRE(QTest::qWaitFor([&] { return !(w.cutter() == was) || fault->text() != "waiting"; }, 5000));
  };
  read_file(write("bead.svg", "<svg viewBox=\"0 0 20 20\"><path d=\"M0 20 H4 A3 3 0 0 1 7 17 V10\"/></svg>"));
  CHECK(*w.cutter().diameter_mm == Approx(14));
  CHECK(w.cutter().outline.size() == 4);
  CHECK(w.window->strip().said().contains("bead.svg"));
  // The file names no unit: as inches it is 25.4 times as large.
  w.find<QPushButton>("outline_inches")->setChecked(true);
  read_file(dir.filePath("bead.svg"));
  CHECK(*w.cutter().diameter_mm == Approx(14 * 25.4));
  w.find<QPushButton>("outline_inches")->setChecked(false);
  read_file(write("bead.dxf", dxf_of_profile(silhouette(before))));
  CHECK(*w.cutter().flute_length_mm == Approx(*before.overall_length_mm));
  const Cutter read = w.cutter();
  for (const char* name : {"broken.svg", "broken.dxf"}) {
    read_file(write(name, "no drawing"));
    CHECK_FALSE(fault->text().isEmpty());
    CHECK(w.cutter() == read);
  }
  read_file(dir.filePath("none.dxf"));
  CHECK(fault->text().contains("cannot be read"));
}

TEST_CASE("every kind can be made from the window: its form asks for its sizes, its drawing shows them") {
  test::Window w;
  CutterBench& bench = w.window->cutter_bench();
  for (const CutterKind kind : cutter_kinds()) {
    const std::size_t before = w.state().cutters.size();
    w.window->run(QStringLiteral("new_%1").arg(text_of(key_of(kind))));
    QApplication::processEvents();  // the fields of this kind are shown
    REQUIRE(w.state().cutters.size() == before + 1);
    CHECK(w.cutter().kind == kind);
    INFO(label_of(kind));
    for (const ParameterUse& use : declaration(kind).parameters)
      CHECK(w.window->findChild<QWidget*>(QStringLiteral("field_") + text_of(use.key)));
    CHECK_FALSE(bench.drawing().sheet().profile.empty());
    CHECK(bench.drawing().sheet().marks.size() >= 4);
    // A size typed in inches is kept as typed and followed by the drawing.
    w.type_into("field_overall_length_mm", "9-1/2 in");
    CHECK(*w.cutter().overall_length_mm == Approx(241.3));
    CHECK(w.cutter().typed.at("overall_length_mm") == "9-1/2 in");
    const auto& marks = bench.drawing().sheet().marks;
    const bool held = w.state().assembly_of(w.cutter().id)->stickout_mm.has_value();
    const bool shown =
        std::any_of(marks.begin(), marks.end(), [](const DimensionMark& m) { return m.key == "overall_length_mm"; });
    CHECK((shown || held));
  }
}

TEST_CASE("a tap and a thread mill take pitch and size from the thread that is typed, and the tap says its drill") {
  test::Window w;
  w.window->run("new_tap");
  w.window->cutter_bench().show_side(CutterBench::sizes);
  QApplication::processEvents();
  CHECK(w.cutter().thread == "M10");
  w.type_into("field_thread", "1/4-20 UNC");
  CHECK(*w.cutter().pitch_mm == Approx(1.27));
  CHECK(*w.cutter().diameter_mm == Approx(6.35));
  w.type_into("field_thread", "M8");
  CHECK(*w.cutter().pitch_mm == 1.25);
  CHECK(cutter_subtitle(w.state(), w.cutter(), UnitSystem::metric).contains("pre-drill 6.8 mm"));
  w.type_into("field_thread", "M13");
  CHECK(w.fault("thread").contains("nearest is M12"));
  CHECK(*w.cutter().pitch_mm == 1.25);  // what is not understood changes nothing else
  w.window->run("undo");
  CHECK(w.cutter().thread == "M8");

  w.window->run("new_thread_mill");
  QApplication::processEvents();
  const double diameter = *w.cutter().diameter_mm;
  w.type_into("field_thread", "M16");
  CHECK(*w.cutter().pitch_mm == 2);
  CHECK(*w.cutter().diameter_mm == diameter);
}

TEST_CASE("an end mill from its data sheet: diameter first, Enter from field to field, no draft on the way") {
  test::Window w;
  w.key(Qt::Key_N, Qt::ControlModifier);
  w.pick("end mill");
  const Id id = w.workspace().cutter_id();
  CHECK(QApplication::focusWidget() == w.find<QLineEdit>("field_diameter_mm"));
  const auto enter = [&](const char* field, const QString& text) {
    INFO(field);
    REQUIRE(QApplication::focusWidget() == w.find<QLineEdit>(field));
    w.keys(text);
    w.key(Qt::Key_Return);
    CHECK_FALSE(has_error(check_cutter(*w.state().cutters.find(id))));
  };
  enter("field_diameter_mm", "1/8\"");
  enter("field_flutes", "2");
  enter("field_flute_length_mm", "1/2\"");
  enter("field_overall_length_mm", "2\"");
  enter("field_shank_diameter_mm", "1/4\"");
  const Cutter& c = *w.state().cutters.find(id);
  CHECK(*c.diameter_mm == Approx(3.175));
  CHECK(*c.shank_diameter_mm == Approx(6.35));
  CHECK(*c.reach_mm >= 12.7 - 1e-9);  // a guess, out of the way of what was typed
  CHECK(c.guesses.contains("reach_mm"));
  // The guessed holder clamps the shank, at a stick-out that the cutter allows.
  const Assembly& a = *w.state().assembly_of(id);
  const Holder* holder = w.state().holders.find(a.holder);
  REQUIRE(holder);
  CHECK(holds(*holder, c));
  CHECK_FALSE(has_error(check_assembly(c, holder, a)));
  // One step back takes the last field and what followed it.
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.state().cutters.find(id)->guesses.contains("shank_diameter_mm"));
  w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  // Ctrl+Enter is the end of it: the list has the keys again.
  w.find<QLineEdit>("field_maker")->setFocus();
  w.keys("Carrow");
  w.key(Qt::Key_Return, Qt::ControlModifier);
  CHECK(w.state().cutters.find(id)->maker == "Carrow");
  CHECK(QApplication::focusWidget() == w.find<QTableView>("cutter_table"));
}

TEST_CASE("guesses follow at every keystroke; a bare fraction of a millimetre is not drawn") {
  test::Window w;
  w.key(Qt::Key_N, Qt::ControlModifier);
  w.pick("end mill");
  const QString shank = w.find<QLineEdit>("field_shank_diameter_mm")->text();
  w.keys("16");
  CHECK(w.find<QLineEdit>("field_shank_diameter_mm")->text() == "16");
  CHECK(w.cutter().diameter_mm == 10);  // nothing is accepted yet
  w.key(Qt::Key_Escape);
  CHECK(w.find<QLineEdit>("field_shank_diameter_mm")->text() == shank);
  w.find<QLineEdit>("field_diameter_mm")->selectAll();
  w.keys("1/2");
  CHECK(w.find<QLineEdit>("field_shank_diameter_mm")->text() != "0.5");
  w.keys("\"");
  CHECK(w.find<QLineEdit>("field_shank_diameter_mm")->text().toDouble() == Approx(12.7));
}

TEST_CASE("a holder that does not clamp the shank is said where the holder is named") {
  test::Window w;
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  w.type_into("field_shank_diameter_mm", "1 in");  // the holder was chosen by somebody and stays
  const Assembly& a = *w.state().assembly_of(w.cutter().id);
  CHECK(w.state().holders.find(a.holder)->name == "ER32");
  CHECK(w.find<QLabel>("bench_title_fault")->text().contains("ER32 clamps shanks 2 to 20"));
  CHECK(w.find<QLabel>("bench_title_fault")->isVisible());
}

TEST_CASE("each cutter at its usual work: the list is full of numbers, and so is the chart") {
  QSettings().clear();
  test::Window w;
  w.key(Qt::Key_O, Qt::AltModifier);
  w.pick("usual work");
  CHECK(w.workspace().context().usual_work);
  auto* table = w.find<QTableView>("cutter_table");
  int found = 0, rotating = 0;
  for (const Cutter& c : w.state().cutters) {
    if (declaration(c.kind).operations == 0 || has_error(check_cutter(c))) continue;
    ++rotating;
    const auto e = w.workspace().evaluation_of(c, nullptr);
    found += e && e->resolution.found() ? 1 : 0;
    if (e) CHECK(e->resolution.reason != NoAnswer::cannot_do);
  }
  CHECK(found > rotating * 9 / 10);
  int with_speed = 0;
  for (int row = 0; row < table->model()->rowCount(); ++row)
    with_speed += table->model()->index(row, CutterModel::speed).data().toString().toInt() > 0 ? 1 : 0;
  CHECK(with_speed == found);
  w.window->close();
  w.again();
  CHECK(w.workspace().context().usual_work);
  w.window.reset();
  QSettings().clear();
}

TEST_CASE("in inches no metric unit is left on the pages of cutters and cuts") {
  test::Window w;
  w.choose_cutter(219);
  w.key(Qt::Key_U, Qt::ControlModifier);
  static const QRegularExpression metric(
      QStringLiteral("\\d ?(mm|kW|N·m|N|cm³/min|µm|m/min|mm/min|N/mm²|N/µm)\\b(?!²)"));
  const auto check = [&](const char* where) {
    for (QLabel* label : w.window->findChildren<QLabel*>()) {
      // What a field understood is repeated in the other system.
      if (!label->isVisible() || label->objectName().startsWith("note_")) continue;
      INFO(where << ": " << label->text().toStdString());
      CHECK_FALSE(metric.match(label->text()).hasMatch());
    }
  };
  check("bench");
  const auto e = w.workspace().evaluation_of(w.cutter(), nullptr);
  REQUIRE(e);
  for (const Headroom& h : e->cut.headroom) {
    INFO(headroom_text(h, UnitSystem::inch).toStdString());
    CHECK_FALSE(metric.match(headroom_text(h, UnitSystem::inch)).hasMatch());
  }
  REQUIRE(w.window->run("what_if"));
  check("what if");
  w.window->show_page(MainWindow::machines);
  check("machines");
}
