// Holes in the window: a chain that is seen before it is added, a cutter found with its reasons, a generic one made
// real, a pattern that is dragged, and a job without a drawing by keys alone.
#include <QLabel>
#include <QPushButton>
#include <cmath>

#include "shop/feature_edit.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

struct Holes : test::Window {
  JobsPage& page;
  explicit Holes(const char* job = "Roller end cap")
      : page((window->show_page(MainWindow::jobs), window->jobs_page())) {
    workspace().select_job(state().jobs.named(job)->id);
    wait_planned();
  }
  const Job& job() { return *workspace().job(); }
  void choose_feature(const char* key) {
    page.show_view(JobsPage::features);
    page.select_feature(key);
    QApplication::processEvents();
  }
  // Text of the open list that contains this.
  QString row_of(const QString& text) {
    auto* list = QApplication::activePopupWidget()->findChild<QListWidget*>();
    for (int i = 0; list && i < list->count(); ++i)
      if (list->item(i)->text().contains(text)) return list->item(i)->data(Qt::UserRole + 1).toString();
    return {};
  }
};

}  // namespace

TEST_CASE("a chain is seen before it is added, each line can be left out, and all of it is one step") {
  Holes h;
  const std::size_t before = h.job().operations.size();
  h.choose_feature("bolts");
  h.page.feature_model();
  h.key(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
  QTableView& table = h.page.chain().table();
  REQUIRE(table.model()->rowCount() == 3);
  CHECK(table.isVisible());
  CHECK(h.job().operations.size() == before);
  CHECK(table.model()->index(1, 2).data().toString() == "Drill Ø6.8 × 34");
  CHECK(h.find<QLabel>("chain_why")->text().contains("not taken"));
  CHECK(h.find<QPushButton>("chain_take")->text() == "Add 3 operations");
  // Escape adds nothing.
  h.key(Qt::Key_Escape);
  CHECK(h.job().operations.size() == before);
  CHECK_FALSE(table.isVisible());
  h.key(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
  h.key(Qt::Key_Space);  // not the spot
  CHECK(h.find<QPushButton>("chain_take")->text() == "Add 2 operations");
  h.key(Qt::Key_Return);
  REQUIRE(h.job().operations.size() == before + 2);
  CHECK(h.page.view() == JobsPage::operations);
  CHECK(h.workspace().operations() == Places{6, 7});
  CHECK(h.job().operations[7].cutter.thread == "M8");
  h.wait_planned();
  h.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(h.job().operations.size() == before);
  // Lines have no chain, and that is said.
  h.choose_feature("OUTLINE/1");
  h.click(h.find<QPushButton>("propose_chain"));
  CHECK(h.page.chain().is_empty() == false);  // a closed line is a pocket
  h.key(Qt::Key_Escape);
  h.choose_feature("top");
  h.click(h.find<QPushButton>("propose_chain"));
  CHECK(h.page.chain().is_empty());
  CHECK(h.window->strip().said().contains("identical holes"));
}

TEST_CASE("the list of cutters says which is best, and why each other is not") {
  Holes h;
  h.workspace().select_operation(4);
  h.key(Qt::Key_P, Qt::ControlModifier);
  h.wait_until([] { return QApplication::activePopupWidget() != nullptr; });
  CHECK(h.row_of("Drill Ø6.8 × 34").startsWith("best match"));
  CHECK(h.row_of("Drill Ø8.5 × 61").contains("does not go into a hole of Ø6.8"));
  CHECK(h.row_of("Drill Ø6 × 28").contains("too small"));
  h.key(Qt::Key_Escape);
}

TEST_CASE("a generic cutter is marked, and becomes a real one from the list of cutters") {
  Holes h("Two holes");
  h.choose_feature("lift");
  h.type_into("field_thread", "");
  h.type_into("field_diameter_mm", "7.77");
  h.page.add_operation(PathKind::drill);
  const Operation& made = h.job().operations.back();
  REQUIRE(made.generic_cutter);
  h.wait_planned();
  const int row = static_cast<int>(h.job().operations.size()) - 1;
  CHECK(h.page.model().index(row, OperationModel::cutter).data().toString().contains("Generic"));
  CHECK(h.page.program().find("GENERIC DRILL") != std::string::npos);
  const std::size_t cutters = h.state().cutters.size();
  h.key(Qt::Key_P, Qt::ControlModifier);
  h.pick("Iron and steels");
  CHECK(h.state().cutters.size() == cutters + 1);
  CHECK_FALSE(h.job().operations.back().generic_cutter);
  CHECK(h.job().operations.back().cutter.name.find("Generic") == std::string::npos);
  h.wait_planned();
  CHECK(h.page.program().find("GENERIC") == std::string::npos);
  h.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(h.state().cutters.size() == cutters);
  CHECK(h.job().operations.back().generic_cutter);
}

TEST_CASE("a hole of a pattern is pulled in the picture, with Shift all of them") {
  Holes h("Two holes");
  h.choose_feature("lift");
  h.type_into("field_thread", "M6");
  auto change = edited_feature(h.job(), "lift", *find_property<Feature>("pattern"), std::string("circle"), "",
                               UnitSystem::metric);
  h.window->shop().apply(std::move(*change));
  for (const auto& [key, value] : {std::pair{"x_mm", 60.0}, {"y_mm", 40.0}, {"count", 4.0}, {"circle_mm", 40.0}}) {
    auto next =
        edited_feature(h.job(), "lift", *find_property<Feature>(key), value, std::to_string(value), UnitSystem::metric);
    h.window->shop().apply(std::move(*next));
  }
  h.choose_feature("lift");
  PathView& view = h.page.paths();
  const auto at = [&](Point2 p) { return view.to_screen().map(QPointF(p.x, p.y)).toPoint(); };
  const auto rim = [&](Point2 p) { return at({p.x, p.y + 2.5}); };  // on its circle, drilled 5 mm wide
  const auto drag = [&](QPoint from, QPoint to, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    QTest::mousePress(&view, Qt::LeftButton, modifiers, from);
    for (const QPoint& p : {from + (to - from) / 2, to}) {
      QMouseEvent move(QEvent::MouseMove, p, view.mapToGlobal(p), Qt::NoButton, Qt::LeftButton, modifiers);
      QApplication::sendEvent(&view, &move);
    }
    QTest::mouseRelease(&view, Qt::LeftButton, modifiers, to);
    QApplication::processEvents();
  };
  const Feature before = *find_feature(h.job(), "lift");
  REQUIRE(before.at.size() == 4);
  const QPoint step = at({65, 40}) - at({60, 40});  // five millimetres
  drag(rim(before.at[0]), rim(before.at[0]) + step);
  const Feature wider = *find_feature(h.job(), "lift");
  CHECK(*wider.circle_mm == Approx(50).margin(1.5));
  CHECK(wider.x_mm == before.x_mm);
  drag(rim(wider.at[1]), rim(wider.at[1]) + step, Qt::ShiftModifier);
  const Feature moved = *find_feature(h.job(), "lift");
  CHECK(*moved.x_mm == Approx(65).margin(0.8));
  CHECK(moved.circle_mm == wider.circle_mm);
  h.key(Qt::Key_Z, Qt::ControlModifier);
  h.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(find_feature(h.job(), "lift")->circle_mm == before.circle_mm);
}
