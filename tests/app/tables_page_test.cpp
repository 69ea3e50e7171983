// Tables: the chart, and rows typed either way round in place.
#include <QHeaderView>

#include "window_fixture.h"

using namespace pecorra;

namespace {

struct Tables : test::Window {
  TablesPage& page;
  RowModel& model;
  QTableView& grid;
  Tables()
      : page((window->show_page(MainWindow::tables), window->tables_page())), model(page.model()), grid(page.grid()) {
    page.show_view(TablesPage::rows);
    page.show_table(state().tables[0].id);
    QApplication::processEvents();
  }
  // Types into a cell as a user does: select it, type, Enter.
  void type(int row, int column, const QString& text) {
    grid.setCurrentIndex(model.index(row, column));
    grid.setFocus();
    QTest::keyClick(&grid, Qt::Key_F2);
    auto* editor = find<QLineEdit>("cell_editor");
    editor->selectAll();
    QTest::keyClick(editor, Qt::Key_Delete);
    QTest::keyClicks(editor, text);
    QTest::keyClick(editor, Qt::Key_Return);
    QApplication::processEvents();
  }
  const ConditionRow& row(int i) { return *model.row_at(i); }
};

}  // namespace

TEST_CASE("vc or n, feed or vf: either side can be typed and the other follows") {
  Tables t;
  CHECK(t.cell(t.model, 3, RowModel::diameter) == "12");
  t.type(3, RowModel::n, "3000");
  CHECK(*t.row(3).vc_m_min == Approx(113.097).epsilon(1e-4));
  CHECK(t.cell(t.model, 3, RowModel::n) == "3000");
  CHECK(t.model.index(3, RowModel::vc).data(RowModel::derived_role).toBool());
  t.type(3, RowModel::vf, "720");
  CHECK(*t.row(3).feed_mm == Approx(0.06));
  t.type(3, RowModel::vc, "400 ft/min");
  CHECK(*t.row(3).vc_m_min == Approx(121.92));
  t.type(3, RowModel::ap, "1.5xD");
  CHECK(*t.row(3).ap_per_d == 1.5);
  t.type(3, RowModel::ae, "2 mm");
  CHECK(*t.row(3).ae_mm == 2);
  // Selection stays where it was, and every number of the window follows.
  CHECK(t.grid.currentIndex().row() == 3);
  t.choose_cutter(219);
  const Conditions c = t.workspace().evaluation_of(t.cutter())->resolution.conditions;
  CHECK(c.n_rpm == 3230);
  CHECK(c.ap_mm == 18);
  CHECK(c.ae_mm == 2);
  // Who and when.
  CHECK(t.row(3).author == current_user());
  t.window->run("undo");
  CHECK(*t.row(3).ae_per_d == 0.3);
}

TEST_CASE("a wrong cell keeps its text, says what is wrong, and the table still works") {
  Tables t;
  t.type(2, RowModel::vc, "fast");
  CHECK(t.cell(t.model, 2, RowModel::vc) == "fast");
  CHECK(t.model.index(2, RowModel::vc).data(RowModel::fault_role).toString().contains("m/min"));
  CHECK(t.window->strip().said().contains("m/min"));
  CHECK(*t.row(2).vc_m_min == 105);
  t.type(2, RowModel::vc, "");
  CHECK_FALSE(t.row(2).vc_m_min.has_value());
  CHECK(static_cast<Mark>(t.model.index(2, RowModel::mark).data(RowModel::mark_role).toInt()) == Mark::beyond);
  t.choose_cutter(216);  // Ø10, now between its neighbours
  CHECK(t.workspace().evaluation_of(t.cutter())->resolution.source == SourceKind::shop_table);
  t.type(2, RowModel::vc, "105");
  CHECK(t.cell(t.model, 2, RowModel::vc) == "105");
}

TEST_CASE("rows are added, deleted and found") {
  Tables t;
  const int before = t.model.rowCount();
  t.grid.setCurrentIndex(t.model.index(5, RowModel::diameter));
  t.key(Qt::Key_Return, Qt::ControlModifier);
  CHECK(t.model.rowCount() == before + 1);
  auto* editor = t.find<QLineEdit>("cell_editor");
  QTest::keyClicks(editor, "25");
  QTest::keyClick(editor, Qt::Key_Return);
  QApplication::processEvents();
  CHECK(*t.row(6).diameter_mm == 25);
  CHECK(*t.row(6).vc_m_min == *t.row(5).vc_m_min);
  CHECK_FALSE(t.row(6).proven);
  t.grid.setFocus();
  t.key(Qt::Key_Delete);
  CHECK(t.model.rowCount() == before);
  t.find<QLineEdit>("row_filter")->setText("slotting");
  CHECK(t.model.rowCount() == 5);
  t.find<QLineEdit>("row_filter")->clear();
  t.click(t.find("only_context"));
  for (int i = 0; i < t.model.rowCount(); ++i) {
    CHECK(t.row(i).operation == OperationKind::side_rough);
    CHECK(t.row(i).material == t.workspace().context().material);
  }
}

TEST_CASE("shipped rows stay as they are and are copied into a table of our own") {
  Tables t;
  const ConditionTable* starter = nullptr;
  for (const ConditionTable& table : t.state().tables)
    if (table.level == TableLevel::starter && !starter) starter = &table;
  REQUIRE(starter);
  t.page.show_table(starter->id);
  CHECK_FALSE(t.model.is_editable());
  CHECK_FALSE(t.model.flags(t.model.index(0, RowModel::vc)) & Qt::ItemIsEditable);
  CHECK_FALSE(t.find<QPushButton>("add_row")->isEnabled());
  t.grid.setCurrentIndex(t.model.index(0, RowModel::diameter));
  const ConditionRow shipped = t.row(0);
  const std::size_t ours = t.state().tables[0].rows.size();
  t.click(t.find("copy_row"));
  CHECK(t.model.table()->level == TableLevel::shop);
  CHECK(t.state().tables[0].rows.size() == ours + 1);
  CHECK(t.row(t.grid.currentIndex().row()).vc_m_min == shipped.vc_m_min);
  CHECK(t.row(t.grid.currentIndex().row()).source.find("Starter") != std::string::npos);
}

TEST_CASE("the row's own fields beside the grid change the same row") {
  Tables t;
  t.grid.setCurrentIndex(t.model.index(0, RowModel::diameter));
  QApplication::processEvents();
  t.click(t.find<QPushButton>("fold_row_range"));
  t.type_into("field_vc_high_m_min", "140");
  CHECK(*t.row(0).vc_high_m_min == 140);
  t.type_into("field_vc_low_m_min", "300");
  CHECK(t.fault("vc_low_m_min").contains("above"));
  t.type_into("field_vc_low_m_min", "70");
  t.type_into("field_ap_per_d", "0.8");
  CHECK(*t.row(0).ap_per_d == 0.8);
  CHECK(t.fault("vc_low_m_min").isEmpty());
}

TEST_CASE("a new table is named first and takes rows") {
  Tables t;
  t.window->run("new_table");
  auto* name = t.find<QLineEdit>("table_name");
  CHECK(name->hasFocus());
  t.keys("Bronze, shop copy");
  t.key(Qt::Key_Return);
  CHECK(t.model.table()->name == "Bronze, shop copy");
  CHECK(t.model.rowCount() == 0);
  t.page.add_row();
  CHECK(t.model.rowCount() == 1);
  CHECK(t.row(0).material == t.workspace().context().material);
}

TEST_CASE("the chart: a click chooses cutter and material, arrows walk, cells tell their numbers") {
  test::Window w;
  w.window->show_page(MainWindow::tables);
  w.window->tables_page().show_view(TablesPage::chart);
  ChartView& chart = w.window->tables_page().chart_view();
  CHECK(chart.row_count() == static_cast<int>(w.state().cutters.size()));
  CHECK(chart.column_count() == 5);  // those that the shop cuts
  QTest::mouseClick(chart.viewport(), Qt::LeftButton, {}, QPoint(212 + 150 + 30, 48 + 2 * 27 + 10));
  CHECK(w.workspace().cutter()->id == w.state().cutters[2].id);
  CHECK(w.workspace().material()->id == w.state().materials[1].id);
  QTest::keyClick(&chart, Qt::Key_Down);
  QTest::keyClick(&chart, Qt::Key_Left);
  CHECK(w.workspace().cutter()->id == w.state().cutters[3].id);
  CHECK(w.workspace().material()->id == w.state().materials[0].id);
  CHECK(chart.cell_text(3, 0) == "S 2910 F 640");
  int drill = 0;
  while (w.state().cutters[static_cast<std::size_t>(drill)].kind != CutterKind::drill) ++drill;
  CHECK(chart.cell_text(drill, 0).contains("for drilling"));
  QTest::keyClick(&chart, Qt::Key_End);
  CHECK(w.workspace().cutter()->id == w.state().cutters[w.state().cutters.size() - 1].id);
}

TEST_CASE("a click on the source in the trail opens its row") {
  test::Window w;
  w.choose_cutter(219);
  const auto e = w.workspace().evaluation_of(w.cutter());
  emit w.window->cutter_bench().source_clicked(e->trail.front().target);
  CHECK(w.window->page() == MainWindow::tables);
  CHECK(w.window->tables_page().view() == TablesPage::rows);
  CHECK(w.window->tables_page().model().row_at(w.window->tables_page().grid().currentIndex().row())->id ==
        e->trail.front().target.row);
}
