// The pages of materials and machines, by keyboard and mouse.
#include <QTableView>
#include <QTableWidget>

#include "app/parts/power_curve.h"
#include "core/material/hardness.h"
#include "window_fixture.h"

using namespace pecorra;

TEST_CASE("a material is found by any designation, copied, and its hardness typed in any scale") {
  test::Window w;
  w.key(Qt::Key_5, Qt::ControlModifier);
  CHECK(w.window->page() == MainWindow::materials);
  auto* table = w.find<QTableView>("material_table");
  CHECK(table->model()->rowCount() == static_cast<int>(w.state().materials.size()));
  w.type_into("part_filter", "S31803", false);
  REQUIRE(table->model()->rowCount() == 1);
  CHECK(table->model()->index(0, 0).data().toString() == "X2CrNiMoN22-5-3");
  CHECK(w.find<QLabel>("material_title")->text() == "X2CrNiMoN22-5-3");
  const std::size_t before = w.state().materials.size();
  w.click(w.find<QPushButton>("copy_part"));
  REQUIRE(w.state().materials.size() == before + 1);
  w.type_into("field_name", "Duplex, our bar");
  const auto own = [&]() -> const WorkMaterial& { return *w.state().materials.named("Duplex, our bar"); };
  w.type_into("field_hardness_hb", "30 HRC");
  CHECK(*own().hardness_hb == Approx(*convert_hardness(30, HardnessScale::hrc, HardnessScale::hb)));
  CHECK(own().typed.at("hardness_hb") == "30 HRC");
  CHECK(w.find<QLineEdit>("field_hardness_hb")->text() == "30 HRC");
  CHECK(w.note("hardness_hb").contains("HB"));
  w.type_into("field_hardness_from_hb", "400");
  CHECK(w.fault("hardness_to_hb").contains("reversed"));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.type_into("field_hardness_hb", "99 HRC");
  CHECK(w.fault("hardness_hb").contains("ISO 18265"));
  w.key(Qt::Key_Escape);
  // In the chart only once the shop says that it cuts it.
  auto* combo = w.find<QComboBox>("field_cut_here");
  combo->setCurrentIndex(combo->findData("true"));
  emit combo->activated(combo->currentIndex());
  CHECK(own().cut_here);
  w.window->run("chart");
  QApplication::processEvents();
  CHECK(w.window->tables_page().chart_view().column_count() == 6);
  w.window->run("undo");
  CHECK(w.window->tables_page().chart_view().column_count() == 5);
  // What rows or jobs name is not deleted.
  w.window->show_page(MainWindow::materials);
  w.type_into("part_filter", "42CrMo4 +QT", false);
  w.window->run("delete_part");
  CHECK(w.state().materials.named("42CrMo4 +QT"));
  CHECK(w.window->strip().said().contains("give them another one first"));
}

TEST_CASE("a machine's curve is dragged, gets points and loses them, and the limits follow at once") {
  test::Window w;
  w.choose_cutter(219);
  w.key(Qt::Key_6, Qt::ControlModifier);
  CHECK(w.window->page() == MainWindow::machines);
  w.type_into("part_filter", "Fettler", false);
  auto* curve = w.find<PowerCurve>("power_curve");
  const auto machine = [&]() -> const Machine& { return *w.state().machines.named("Fettler 6"); };
  REQUIRE(machine().power_curve.size() == 2);
  const auto power_limit = [&] {
    const auto e = w.workspace().evaluation_of(w.cutter());
    for (const Headroom& h : e->cut.headroom)
      if (h.limit == Limit::spindle_power) return h.limit_value;
    return 0.0;
  };
  CHECK(power_limit() == Approx(11));
  // Both points down to about 4 kW.
  for (int i = 0; i < 2; ++i) {
    const QPoint from = curve->place(machine().power_curve[static_cast<std::size_t>(i)]).toPoint(),
                 to = curve->place({machine().power_curve[static_cast<std::size_t>(i)].rpm, 4}).toPoint();
    QTest::mousePress(curve, Qt::LeftButton, {}, from);
    QTest::mouseMove(curve, to);
    QTest::mouseRelease(curve, Qt::LeftButton, {}, to);
    QApplication::processEvents();
  }
  CHECK(machine().power_curve[0].kw == Approx(4).margin(0.3));
  CHECK(power_limit() == Approx(4).margin(0.4));
  CHECK(w.window->strip().said().contains("power, point 2"));
  const QPoint between = curve->place({6000, 3}).toPoint();
  QTest::mouseDClick(curve, Qt::LeftButton, {}, between);
  QApplication::processEvents();
  REQUIRE(machine().power_curve.size() == 3);
  QTest::mouseClick(curve, Qt::LeftButton, {}, curve->place(machine().power_curve[1]).toPoint());
  QTest::keyClick(curve, Qt::Key_Delete);
  CHECK(machine().power_curve.size() == 2);
  // As numbers: either way round, and refused where speeds would not rise.
  auto* points = w.find<QTableWidget>("points");
  points->item(0, 1)->setText("11 kW");
  CHECK(machine().power_curve[0].kw == 11);
  points->item(1, 0)->setText("100");
  CHECK(machine().power_curve[1].rpm > 100);
  CHECK(w.find<QLabel>("fault_point")->text().contains("speeds rise"));
  // The short-time rating is higher.
  for (QPushButton* b : w.find<QWidget>("which_curve")->findChildren<QPushButton*>())
    if (b->text() == "Short-time") w.click(b);
  CHECK(points->rowCount() == 3);
  points->setCurrentCell(2, 1);
  w.click(w.find<QPushButton>("add_point"));
  CHECK(machine().peak_curve.size() == 4);
  points->item(0, 1)->setText("2");
  CHECK(w.find<QLabel>("fault_point")->text().contains("less than the continuous"));
  // One that came from elsewhere and is not known here.
  Machine stranger = machine();
  stranger.dialect = "none such";
  w.window->shop().edit(machine(), stranger, "Dialect");
  CHECK(w.fault("dialect").contains("plain"));
  // As torque: what is dragged is N·m, what is kept is power.
  for (QPushButton* b : w.find<QWidget>("which_curve")->findChildren<QPushButton*>())
    if (b->text() == "Continuous") w.click(b);
  for (QPushButton* b : w.find<QWidget>("power_or_torque")->findChildren<QPushButton*>())
    if (b->text() == "N·m") w.click(b);
  const PowerPoint first = machine().power_curve[0];
  const QPointF at = curve->place(first);
  CHECK(curve->value(at).kw == Approx(first.kw).epsilon(0.01));
  const double torque = 9550 * first.kw / first.rpm;
  QTest::mousePress(curve, Qt::LeftButton, {}, at.toPoint());
  QTest::mouseMove(curve, at.toPoint() + QPoint(0, 8));
  QTest::mouseMove(curve, at.toPoint() + QPoint(0, 16));
  QTest::mouseRelease(curve, Qt::LeftButton, {}, at.toPoint() + QPoint(0, 16));
  CHECK(9550 * machine().power_curve[0].kw / machine().power_curve[0].rpm < torque * 0.97);
  curve->grab();
  // A machine that a job stands on is not deleted; undo goes all the way back.
  w.window->run("delete_part");
  CHECK(w.state().machines.named("Fettler 6"));
  while (w.window->shop().can_undo()) w.window->run("undo");
  CHECK(machine().power_curve == std::vector<PowerPoint>{{1500, 11}, {12000, 11}});
}
