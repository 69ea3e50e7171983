// The shop page by keyboard and mouse: inserts, collets, tool materials and coatings, what is to be bought, names.
#include <QClipboard>
#include <QComboBox>
#include <QTableView>

#include "core/base/stock.h"
#include "core/insert/insert.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

const Insert& insert_named(test::Window& w, const char* name) {
  const Insert* found = w.state().inserts.named(name);
  REQUIRE(found);
  return *found;
}

}  // namespace

TEST_CASE("a new insert: its designation is typed and its sizes fill in; on a cutter it decides the radius") {
  test::Window w;
  w.key(Qt::Key_7, Qt::ControlModifier);
  CHECK(w.window->page() == MainWindow::stores);
  const std::size_t before = w.state().inserts.size();
  w.click(w.find<QPushButton>("new_part"));
  REQUIRE(w.state().inserts.size() == before + 1);
  CHECK(QApplication::focusWidget() == w.find<QLineEdit>("field_name"));
  w.type_into("field_name", "TPMR 160304");
  const Id id = insert_named(w, "TPMR 160304").id;
  CHECK(insert_named(w, "TPMR 160304").corner_radius_mm == Approx(0.4));
  CHECK(insert_named(w, "TPMR 160304").edges == 3);
  CHECK(insert_named(w, "TPMR 160304").thickness_mm == 3.18);
  w.type_into("field_in_stock", "12");
  w.type_into("field_corner_radius_mm", "1/64 in");
  CHECK(*insert_named(w, "TPMR 160304").corner_radius_mm == Approx(0.396875));
  CHECK(insert_named(w, "TPMR 160304").typed.at("corner_radius_mm") == "1/64 in");
  // A name is needed.
  w.type_into("field_name", "");
  CHECK(w.state().inserts.find(id)->name == "TPMR 160304");
  CHECK(w.window->strip().said().contains("name is required"));
  // An impossible radius is kept, framed and explained.
  w.type_into("field_corner_radius_mm", "9");
  CHECK(w.fault("corner_radius_mm").contains("half"));
  w.key(Qt::Key_Z, Qt::ControlModifier);

  // On a face mill.
  w.window->show_page(MainWindow::cutters);
  w.choose_cutter(2);
  for (const Cutter& c : w.state().cutters)
    if (c.number == 2 && c.kind == CutterKind::face_mill) w.workspace().select_cutter(c.id);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  QApplication::processEvents();
  w.click(w.find("fold_sizes"));
  CHECK_FALSE(w.find<QLineEdit>("field_corner_radius_mm")->isEnabled());  // its insert decides
  auto* combo = w.find<QComboBox>("field_insert");
  combo->setCurrentIndex(combo->findData(QString::fromStdString(id.text())));
  emit combo->activated(combo->currentIndex());
  CHECK(w.cutter().insert == id);
  CHECK(*w.cutter().corner_radius_mm == Approx(0.396875));
  // Changed in the shop, it changes on the cutter, in one step.
  const Id mill = w.cutter().id;
  w.window->run("inserts");
  auto* table = w.find<QTableView>("insert_table");
  for (int i = 0; i < table->model()->rowCount(); ++i)
    if (table->model()->index(i, 0).data().toString() == "TPMR 160304")
      table->setCurrentIndex(table->model()->index(i, 0));
  w.type_into("field_corner_radius_mm", "0.8");
  CHECK(w.state().cutters.find(mill)->corner_radius_mm == 0.8);
  CHECK(w.window->strip().said().contains("1 cutters with it"));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(*w.state().cutters.find(mill)->corner_radius_mm == Approx(0.396875));
  CHECK(*w.state().inserts.find(id)->corner_radius_mm == Approx(0.396875));
  // In use it is not deleted.
  w.window->run("delete_part");
  CHECK(w.state().inserts.find(id));
  CHECK(w.window->strip().said().contains("give them another one first"));
  w.again();
  CHECK(w.state().cutters.find(mill)->insert == id);
}

TEST_CASE("collets: of a standard size, offered where the shank fits, and said where it does not") {
  test::Window w;
  w.window->run("collets");
  const std::size_t before = w.state().collets.size();
  w.click(w.find<QPushButton>("new_part"));
  w.pick("40, 14");
  REQUIRE(w.state().collets.size() == before + 1);
  const Collet* fresh = w.state().collets.named("Collet 40, 14 to 13");
  REQUIRE(fresh);
  CHECK(fresh->clamp_from_mm == 13);
  CHECK(fresh->source.find("ISO 15488") == 0);
  const Id id = fresh->id;
  w.window->show_page(MainWindow::cutters);
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::assembly);
  QApplication::processEvents();
  auto* combo = w.find<QComboBox>("field_collet");
  const int at = combo->findData(QString::fromStdString(id.text()));
  CHECK(combo->itemText(at).contains("does not fit"));
  combo->setCurrentIndex(at);
  emit combo->activated(at);
  CHECK(w.state().assembly_of(w.cutter().id)->collet == id);
  CHECK(w.fault("collet").contains("takes shanks 13 to 14"));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.state().assembly_of(w.cutter().id)->collet != id);
  // Nothing uses it: the Delete key of its list takes it away.
  w.window->run("collets");
  w.type_into("part_filter", "40, 14", false);
  auto* table = w.find<QTableView>("collet_table");
  CHECK(table->model()->rowCount() == 1);
  table->setFocus();
  QTest::keyClick(table, Qt::Key_Delete);
  CHECK(w.state().collets.find(id) == nullptr);
}

TEST_CASE(
    "tool materials and coatings of the shop's own are offered on cutters, scale starter rows, and carry their name") {
  test::Window w;
  w.window->run("coatings");
  w.click(w.find<QPushButton>("new_part"));
  w.type_into("field_name", "Brass-yellow");
  w.type_into("field_speed_factor", "0.5");
  w.window->run("tool_materials");
  w.click(w.find<QPushButton>("new_part"));
  w.type_into("field_name", "Nano K10");
  w.window->run("new_end_mill");
  QApplication::processEvents();
  w.workspace().select_cutter(w.cutter().id);
  const auto speed = [&] { return w.workspace().evaluation_of(w.cutter())->resolution.conditions.n_rpm; };
  Context context = w.workspace().context();
  for (const WorkMaterial& m : w.state().materials) {  // one that only the starter table knows
    context.material = m.id;
    w.workspace().set_context(context);
    if (w.workspace().evaluation_of(w.cutter())->resolution.source == SourceKind::starter_table) break;
  }
  const double before = speed();
  REQUIRE(w.workspace().evaluation_of(w.cutter())->resolution.source == SourceKind::starter_table);
  w.type_into("field_coating", "Brass-yellow");
  CHECK(speed() == Approx(before / 2).epsilon(0.02));
  auto* combo = w.find<QComboBox>("field_tool_material");
  const int own = combo->findText("Nano K10");
  REQUIRE(own > 0);
  combo->setCurrentIndex(own);
  emit combo->activated(own);
  CHECK(w.cutter().own_material == "Nano K10");
  CHECK(w.cutter().tool_material == ToolMaterial::carbide);
  CHECK(combo->currentText() == "Nano K10");
  // Renamed in the shop, it is renamed on the cutter.
  const Id cutter = w.cutter().id;
  w.window->run("tool_materials");
  auto* table = w.find<QTableView>("tool_material_table");
  for (int i = 0; i < table->model()->rowCount(); ++i)
    if (table->model()->index(i, 0).data().toString() == "Nano K10")
      table->setCurrentIndex(table->model()->index(i, 0));
  w.type_into("field_name", "Nano K15");
  CHECK(w.state().cutters.find(cutter)->own_material == "Nano K15");
  // A factor of nothing is refused at its field, and counts for nothing.
  w.type_into("field_speed_factor", "0");
  CHECK_FALSE(w.fault("speed_factor").isEmpty());
}

TEST_CASE("what must never be done: shipped rules in a list, one of the shop's own stops a cutter at once") {
  test::Window w;
  w.choose_cutter(219);
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.found());
  REQUIRE(w.window->run("never"));
  auto* table = w.find<QTableView>("never_rule_table");
  CHECK(table->model()->rowCount() == static_cast<int>(shipped_never_rules().size()));
  table->setFocus();
  w.key(Qt::Key_Delete);
  CHECK(table->model()->rowCount() == static_cast<int>(shipped_never_rules().size()));
  CHECK(w.window->strip().said().contains("cannot be deleted"));
  w.click(w.find<QPushButton>("new_part"));
  w.type_into("field_name", "Long end mills in this steel");
  CHECK(w.fault("why").contains("Give the reason"));
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.found());  // a rule for everything forbids nothing
  const auto choose = [&](const char* field, const char* key) {
    auto* combo = w.find<QComboBox>(field);
    combo->setCurrentIndex(combo->findData(QString::fromLatin1(key)));
    REQUIRE(combo->currentIndex() >= 0);
    emit combo->activated(combo->currentIndex());
  };
  choose("field_kind", "end_mill");
  choose("field_operation", "side_rough");
  w.type_into("field_why", "they chatter in our vices");
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.reason == NoAnswer::never);
  w.window->show_page(MainWindow::cutters);
  QApplication::processEvents();
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.found());
}

TEST_CASE("a hazard of the material stands in the context line, and goes with it") {
  test::Window w;
  CHECK_FALSE(w.shows("context_hazard"));
  Context context = w.workspace().context();
  context.material = w.state().materials.named("AZ91")->id;
  w.workspace().set_context(context);
  QApplication::processEvents();
  CHECK(w.shows("context_hazard"));
  CHECK(w.find<QLabel>("context_hazard")->text() == "burns; never water");
  CHECK(w.find<QLabel>("context_hazard")->toolTip().contains("Never water"));
}

TEST_CASE("what is to be bought is a list that can be copied") {
  test::Window w;
  w.window->run("to_buy");
  auto* table = w.find<QTableView>("to_buy_table");
  int expected = 0;
  for (const Insert& i : w.state().inserts) expected += short_by(i) > 0;
  for (const Cutter& c : w.state().cutters) expected += short_by(c) > 0;
  for (const Holder& h : w.state().holders) expected += short_by(h) > 0;
  for (const Collet& c : w.state().collets) expected += short_by(c) > 0;
  CHECK(table->model()->rowCount() == expected);
  REQUIRE(expected >= 2);
  w.click(w.find<QPushButton>("copy_to_buy"));
  const QStringList lines = QApplication::clipboard()->text().split('\n');
  CHECK(lines.size() == expected);
  CHECK(lines[0].contains("7 × Insert APKT 160408 HG-30\t8 in stock, 20 wanted, 5 on order\tHeddlemoor HG30-AP16"));
}

TEST_CASE("names by a pattern: seen while it is typed, accepted with Enter, faults named in place, one step back") {
  test::Window w;
  w.window->run("names");
  auto* preview = w.find<QTableView>("names_table");
  const std::string before = w.state().cutters[0].name;
  w.type_into("field_name_pattern", "Z{NOF} D{DC", false);
  CHECK(w.fault("name_pattern").contains("At 9: this brace is not closed"));
  w.key(Qt::Key_Return);
  CHECK(w.state().shop_settings().name_pattern == usual_name_pattern);
  w.type_into("field_name_pattern", "Z{NOF} D{DC} {kind}", false);
  CHECK(w.fault("name_pattern").isEmpty());
  CHECK(preview->model()->index(0, 2).data().toString().startsWith("Z4 D"));
  CHECK(w.find<QLabel>("names_note")->text().contains("would be renamed"));
  CHECK(w.state().cutters[0].name == before);
  w.key(Qt::Key_Return);
  CHECK(w.state().shop_settings().name_pattern == "Z{NOF} D{DC} {kind}");
  CHECK(w.state().cutters[0].name.find("Z4 D") == 0);
  CHECK(w.state().cutters.size() > 60);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  if (w.state().cutters[0].name != before) w.window->run("undo");  // the field's own undo comes first
  CHECK(w.state().cutters[0].name == before);
  w.type_into("field_n_step_rpm", "50");
  CHECK(w.state().shop_settings().n_step_rpm == 50);
  const auto e = w.workspace().evaluation_of(w.cutter());
  REQUIRE(e->resolution.found());
  CHECK(std::fmod(e->resolution.conditions.n_rpm, 50) == Approx(0).margin(1e-9));
}
