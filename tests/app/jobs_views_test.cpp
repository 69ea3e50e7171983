// The page of jobs beyond one job's operations: the list of jobs, features and setups, several operations at once,
// operations that go to another job.
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QMimeData>

#include "window_fixture.h"

using namespace pecorra;

namespace {

struct Views : test::Window {
  JobsPage& page;
  explicit Views(const char* job = "Gear cover") : page((window->show_page(MainWindow::jobs), window->jobs_page())) {
    workspace().select_job(state().jobs.named(job)->id);
    wait_planned();
  }
  const Job& job() { return *workspace().job(); }
  const Feature& feature(const std::string& key) {
    const Feature* f = find_feature(job(), key);
    REQUIRE(f);
    return *f;
  }
  void select_rows(QTableView& table, const std::vector<int>& rows) {
    table.clearSelection();
    for (const int row : rows)
      table.selectionModel()->select(table.model()->index(row, 0),
                                     QItemSelectionModel::Select | QItemSelectionModel::Rows);
    table.selectionModel()->setCurrentIndex(table.model()->index(rows.back(), 0), QItemSelectionModel::NoUpdate);
    QApplication::processEvents();
  }
};

}  // namespace

TEST_CASE("all jobs are listed with how they stand; Enter opens one, Delete deletes it, undo brings it back") {
  Views v;
  v.key(Qt::Key_Left, Qt::AltModifier);
  CHECK(v.page.view() == JobsPage::all_jobs);
  JobListModel& list = v.page.jobs().model();
  v.wait_until([&] { return list.is_complete(); });
  REQUIRE(list.rowCount() == 4);
  CHECK(v.cell(list, 0, JobListModel::name) == "Gear cover");
  CHECK(v.cell(list, 0, JobListModel::operations) == "4");
  CHECK(v.cell(list, 0, JobListModel::state).trimmed() == "Ready");
  CHECK(v.cell(list, 2, JobListModel::state).contains("warning"));
  CHECK(v.cell(list, 0, JobListModel::time).contains(":"));
  // Typing narrows it; the arrows and Enter open what is left.
  v.key(Qt::Key_F, Qt::ControlModifier);
  v.keys("spindle");
  CHECK(list.rowCount() == 1);
  v.key(Qt::Key_Down);
  v.key(Qt::Key_Return);
  CHECK(v.page.view() == JobsPage::operations);
  CHECK(v.job().name == "Spindle rail");
  v.key(Qt::Key_Left, Qt::AltModifier);
  v.find<QLineEdit>("job_filter")->clear();
  v.page.jobs().table().setFocus();
  v.key(Qt::Key_D, Qt::ControlModifier);
  v.wait_until([&] { return list.rowCount() == 5; });
  CHECK(v.job().name == "Spindle rail 2");
  v.page.jobs().table().setFocus();
  v.key(Qt::Key_Delete);
  v.wait_until([&] { return list.rowCount() == 4; });
  CHECK_FALSE(v.state().jobs.named("Spindle rail 2"));
  v.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(v.state().jobs.named("Spindle rail 2"));
}

TEST_CASE("stock, two holes of an inch and one thread by keys alone, without a drawing") {
  Views v;
  v.key(Qt::Key_J, Qt::ControlModifier);
  v.pick("without");
  CHECK(v.page.view() == JobsPage::setups);
  // The stock is typed first.
  v.wait_until([&] { return v.typed_into() == v.find("stock_size"); });
  v.keys("120 x 80 x 20");
  v.key(Qt::Key_Return);
  REQUIRE(v.job().setups.size() == 1);
  CHECK(*v.job().setups[0].x_high_mm - *v.job().setups[0].x_low_mm == Approx(120));
  CHECK(*v.job().setups[0].z_high_mm - *v.job().setups[0].z_low_mm == Approx(20));
  v.key(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
  v.pick("holes");
  REQUIRE(v.job().features.size() == 1);
  const std::string holes = v.job().features[0].key;
  v.find<QComboBox>("field_pattern")->setFocus();
  auto* pattern = v.find<QComboBox>("field_pattern");
  pattern->setCurrentIndex(1);
  emit pattern->activated(1);
  v.type_into("field_count", "2");
  v.type_into("field_pitch_mm", "40");
  v.type_into("field_diameter_mm", "1\"");
  CHECK(v.feature(holes).at.size() == 2);
  CHECK(v.feature(holes).diameter_mm == Approx(25.4));
  v.key(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
  v.pick("holes");
  v.type_into("field_thread", "M10");
  v.type_into("field_diameter_mm", "8.5");
  CHECK(v.job().features[1].thread == "M10");
  // An operation for what is selected.
  v.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
  v.pick("drill");
  REQUIRE(v.job().operations.size() == 1);
  CHECK(v.job().operations[0].features[0].key == v.job().features[1].key);
  v.wait_planned();
  CHECK_FALSE(has_error(v.page.plan().faults[0]));
  CHECK(v.page.plan().operations[0]->input.holes.size() == 1);
}

TEST_CASE("features and operations light each other; a pocket's islands are picked in the picture") {
  Views v;
  v.key(Qt::Key_2, Qt::AltModifier);
  CHECK(v.page.view() == JobsPage::features);
  FeatureModel& model = v.page.feature_model();
  const int row = model.row_of("floor");
  REQUIRE(row >= 0);
  CHECK(v.cell(model, row, FeatureModel::used_by) == "2 Floor");
  v.page.select_feature("floor");
  CHECK(v.page.paths().lit().contains("POCKET/1"));
  CHECK(v.find<QLabel>("made_of")->text().contains("RIB/1"));
  emit v.page.paths().feature_clicked("RIB/1", Qt::ControlModifier);
  CHECK(v.feature("floor").islands.size() == 1);
  v.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(v.feature("floor").islands.size() == 2);
  // A plain click selects what is clicked.
  emit v.page.paths().feature_clicked("OUTLINE/1", {});
  CHECK(v.find<QLabel>("feature_title")->text() == "OUTLINE/1");
  // A name that is taken is refused, and what was there stays.
  v.page.select_feature("floor");
  v.type_into("field_key", "top");
  CHECK(v.window->strip().said().contains("used already"));
  CHECK(find_feature(v.job(), "floor"));
  v.type_into("field_key", "Main floor");
  CHECK(v.job().operations[1].features[0].key == "Main floor");
  v.type_into("field_depth_mm", "7");
  v.wait_planned();
  CHECK(depth_of(v.page.plan().operations[1]->operation, v.page.plan().operations[1]->input) == 7);
  // Places come from the clipboard.
  v.window->run("new_feature");
  v.pick("holes");
  QGuiApplication::clipboard()->setText("10\t20\n30\t20\n50\t20");
  v.click(v.find("paste_places"));
  CHECK(v.job().features.back().at.size() == 3);
}

TEST_CASE("a new feature is typed at once: the points of a line, the first size of the others; holes stand apart") {
  Views v;
  v.window->run("new_feature");
  v.pick("line");
  NumberTable& points = v.window->feature_bench().points();
  REQUIRE(v.find("feature_title")->isVisible());
  CHECK(points.table().isAncestorOf(v.window->focusWidget()));
  v.keys("1");  // opens the cell
  v.keys("/2 in");
  v.key(Qt::Key_Return);
  CHECK(v.job().features.back().line.vertices[0].x == Approx(12.7));
  v.window->run("new_feature");
  v.pick("rectangle");
  auto* first = qobject_cast<QLineEdit*>(v.window->focusWidget());
  REQUIRE(first);
  CHECK(first->objectName().startsWith("field_"));
  CHECK(first->objectName() != "field_key");
  // One hole is not put over another.
  for (int i = 0; i < 2; ++i) {
    v.window->run("new_feature");
    v.pick("holes");
  }
  const Feature &a = v.job().features[v.job().features.size() - 2], &b = v.job().features.back();
  REQUIRE(a.at.size() == 1);
  REQUIRE(b.at.size() == 1);
  CHECK(std::hypot(a.at[0].x - b.at[0].x, a.at[0].y - b.at[0].y) > 8);
}

TEST_CASE("a clamp is a click on a line in the setups, and the operation that meets it is in error") {
  Views v;
  v.key(Qt::Key_3, Qt::AltModifier);
  emit v.page.paths().feature_clicked("BOSS/1", {});
  REQUIRE(v.job().setups[0].clamps.size() == 1);
  v.wait_planned();
  CHECK(has_error(v.page.plan().faults[0]));
  v.type_into("field_0", "-20");
  CHECK(v.job().setups[0].clamps[0].top_mm == -20);
  v.wait_planned();
  CHECK_FALSE(has_error(v.page.plan().faults[0]));
  emit v.page.paths().feature_clicked("BOSS/1", {});
  CHECK(v.job().setups[0].clamps.empty());
  v.click(v.find("zero_at"));
  v.pick("top, back left");
  CHECK(v.job().setups[0].zero_x_mm == v.job().setups[0].x_low_mm);
  CHECK(v.job().setups[0].zero_y_mm == v.job().setups[0].y_high_mm);
  v.window->run("new_setup");
  CHECK(v.job().setups.size() == 2);
  v.find("setup_table")->setFocus();
  v.key(Qt::Key_Delete);
  CHECK(v.job().setups.size() == 1);
}

TEST_CASE("several operations take what is typed once; they are dragged, copied to another job and deleted together") {
  Views v;
  v.select_rows(v.page.grid(), {1, 3});
  CHECK(v.workspace().operations() == Places{1, 3});
  v.window->job_bench().show_side(JobBench::operation_side);
  CHECK(v.find<QLabel>("operation_title")->text() == "operations");
  v.type_into("field_pace", "70");
  CHECK(v.job().operations[1].pace == 70);
  CHECK(v.job().operations[3].pace == 70);
  CHECK_FALSE(v.job().operations[0].pace);
  CHECK(v.workspace().operations() == Places{1, 3});
  // Where they differ, nothing is shown.
  auto* name = v.find<QLineEdit>("field_name");
  CHECK(name->text().isEmpty());
  CHECK(name->placeholderText() == "various");
  // Dropped before the first.
  std::unique_ptr<QMimeData> dragged(v.page.model().mimeData({v.page.model().index(1, 0), v.page.model().index(3, 0)}));
  v.page.model().dropMimeData(dragged.get(), Qt::MoveAction, 0, 0, {});
  CHECK(v.job().operations[0].name == "Floor");
  CHECK(v.job().operations[1].name == "Outside, tabs");
  CHECK(v.workspace().operations() == Places{0, 1});
  v.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(v.job().operations[0].name == "Top");
  v.select_rows(v.page.grid(), {0});
  v.page.grid().setFocus();
  v.key(Qt::Key_C, Qt::ControlModifier);
  CHECK(QGuiApplication::clipboard()->text().startsWith("Top\t"));
  v.workspace().select_job(v.state().jobs.named("Two holes")->id);
  v.page.grid().setFocus();
  v.key(Qt::Key_V, Qt::ControlModifier);
  REQUIRE(v.job().operations.size() == 5);
  CHECK(v.job().operations[1].name == "Top");
  CHECK(find_feature(v.job(), "top"));
  v.wait_planned();
  CHECK_FALSE(has_error(v.page.plan().faults[1]));
  v.select_rows(v.page.grid(), {0, 1, 2, 3, 4});
  v.page.grid().setFocus();
  v.key(Qt::Key_Delete);
  CHECK(v.job().operations.empty());
  CHECK(v.find<QLabel>("job_empty")->text().contains("New operation"));
  v.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(v.job().operations.size() == 5);
}

TEST_CASE("own values for every operation with a cutter, typed once") {
  Views v("Spindle rail");
  v.page.grid().setFocus();
  v.key(Qt::Key_D, Qt::ControlModifier);
  v.workspace().select_operation(0);
  v.key(Qt::Key_L, Qt::ControlModifier);
  auto* for_cutter = v.find<QCheckBox>("for_cutter");
  REQUIRE(for_cutter->isVisible());
  v.click(for_cutter);
  CHECK(for_cutter->isChecked());
  v.type_into("field_own_n_rpm", "2222");
  CHECK(v.job().operations[0].taken.n_rpm == 2222);
  CHECK(v.job().operations[1].taken.n_rpm == 2222);
  CHECK(v.find<QLabel>("follows")->text().contains("this cutter in the job"));
  v.key(Qt::Key_L, Qt::ControlModifier);
  CHECK(v.job().operations[1].taken.source == SourceKind::shop_table);
  CHECK(v.job().cutters.empty());
}

TEST_CASE("a tab is placed in the picture with Alt, and taken away with another") {
  Views v;
  v.workspace().select_operation(3);
  v.wait_planned();
  emit v.page.paths().place_clicked(QPointF(80, 0));
  REQUIRE(v.job().operations[3].tabs_at.size() == 1);
  v.wait_planned();
  CHECK_FALSE(has_error(v.page.plan().faults[3]));
  emit v.page.paths().place_clicked(QPointF(81, 0));
  CHECK(v.job().operations[3].tabs_at.empty());
}

TEST_CASE("a picture of very many moves is drawn aside and then stays") {
  Views v;
  auto made = std::make_shared<PlannedOperation>();
  for (int i = 0; i < 40000; ++i) {
    Move m;
    m.kind = MoveKind::cut;
    m.feed_mm_min = 500 + i % 7;
    m.engaged_e4 = 9000;
    m.x = 60 + 0.001 * i * std::cos(0.01 * i), m.y = 50 + 0.001 * i * std::sin(0.01 * i), m.z = -1;
    made->path.moves.push_back(m);
  }
  made->operation.taken.n_rpm = 3000;
  PathView view;
  view.resize(500, 400);
  auto job = std::make_shared<Job>(v.job());
  job->operations.resize(1);
  view.show_job(job, {made}, {{0}, 0, {}, -1}, UnitSystem::metric);
  view.show();
  const QColor cut = colours().accent;
  const auto lines = [&] {
    const QImage seen = view.grab().toImage();
    int count = 0;
    for (int y = 0; y < seen.height(); ++y)
      for (int x = 0; x < seen.width(); ++x) count += seen.pixelColor(x, y) == cut;
    return count;
  };
  lines();
  v.wait_until([&] { return lines() > 500; });
  view.set_colouring(PathColours::by_chip);
  v.wait_until([&] { return lines() > 500; });  // one chip all along: the most
}
