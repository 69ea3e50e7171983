// Jobs: from a drawing to a program, with conditions that fill in by themselves.
#include <QFile>
#include <QFileInfo>
#include <QSignalSpy>

#include "../support/drawings.h"
#include "../support/program_reader.h"
#include "demo_copy.h"
#include "shop/evaluation.h"
#include "shop/job_objects.h"
#include "shop/operation_edit.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

struct Jobs : test::Window {
  JobsPage& page;
  Jobs() : page((window->show_page(MainWindow::jobs), window->jobs_page())) { wait_planned(); }
  const Job& job() { return *workspace().job(); }
  const Operation& operation(std::size_t i) { return job().operations.at(i); }
  QStringList features(std::size_t i) {
    QStringList keys;
    for (const FeatureUse& use : operation(i).features) keys << QString::fromStdString(use.key);
    return keys;
  }
  // What the operations run at.
  QStringList values() {
    QStringList all;
    for (const Operation& o : job().operations) all << QString::fromStdString(fingerprint(o));
    return all;
  }
  void wait_for(const std::function<bool()>& done) {
    for (int i = 0; i < 500 && !done(); ++i) QTest::qWait(10);
    CHECK(done());
  }
};

}  // namespace

TEST_CASE("from a DXF outline to a program a machine could run") {
  Jobs j;
  const std::size_t before = j.state().jobs.size();
  j.page.read_drawing(QStringLiteral(PECORRA_TEST_DATA "/dxf/plate.dxf"), false);
  j.wait_for([&] { return j.state().jobs.size() == before + 1; });
  CHECK(j.job().name == "plate");
  CHECK(test::circles_in(j.job().drawing()).size() == 2);
  CHECK(*j.job().setups[0].x_high_mm - *j.job().setups[0].x_low_mm == 110);
  // A profile and a drilling; their cutters and conditions fill in by themselves.
  j.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
  j.pick("profile");
  REQUIRE(j.job().operations.size() == 1);
  CHECK(j.operation(0).taken.source == SourceKind::shop_table);
  CHECK(*j.operation(0).taken.n_rpm > 0);
  j.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
  j.pick("drill");
  REQUIRE(j.job().operations.size() == 2);
  CHECK(j.operation(1).cutter.diameter_mm == 8.5);
  CHECK(j.workspace().operation_index() == 1);
  j.type_into("field_depth_mm", "1/2\"");
  CHECK(*j.operation(1).depth_mm == 12.7);
  j.wait_planned();
  for (const auto& faults : j.page.plan().faults) CHECK_FALSE(has_error(faults));
  CHECK(j.page.program().find("(OP 2 DRILLING") != std::string::npos);
  const QString file = j.dir.filePath("plate.nc");
  j.page.write_program(file);
  j.wait_for([&] { return j.window->strip().said().startsWith("Program written"); });
  QFile out(file);
  REQUIRE(out.open(QIODevice::ReadOnly));
  const test::Reading r = test::read_program(out.readAll().toStdString());
  CHECK(r.ended);
  CHECK(r.steps.back().tool == 18);  // the second free pocket; the cutter stands in none
  CHECK(r.steps.back().speed == *j.operation(1).taken.n_rpm);
}

TEST_CASE("another material is tried first: old → new, then accepted or left") {
  Jobs j;
  const Job before = j.job();
  const QStringList values = j.values();
  j.key(Qt::Key_M, Qt::AltModifier);
  j.pick("5083");
  CHECK(j.workspace().is_trying());
  CHECK(j.find<QLabel>("banner_text")->text().contains("3 of 3 operations change"));
  CHECK(j.values() == values);  // nothing is changed yet
  auto& model = j.page.model();
  CHECK(model.index(0, OperationModel::speed).data().toString() == "2910");
  CHECK(model.index(0, OperationModel::speed).data(OperationModel::new_text_role).toString().toInt() > 2910);
  CHECK_FALSE(j.find<QPushButton>("write_program")->isEnabled());
  j.click(j.find("back"));
  CHECK_FALSE(j.workspace().is_trying());
  CHECK(j.values() == values);
  j.key(Qt::Key_M, Qt::AltModifier);
  j.pick("5083");
  j.key(Qt::Key_A, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK_FALSE(j.workspace().is_trying());
  CHECK(j.state().materials.find(j.job().material)->name == "EN AW-5083");
  CHECK(*j.operation(0).taken.vf_mm_min > *before.operations[0].taken.vf_mm_min);
  j.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(j.values() == values);
  CHECK(j.job().material == before.material);
}

TEST_CASE("the library changes: the job keeps its copy, says so, and takes or keeps on request") {
  Jobs j;
  ConditionTable table = j.state().tables[0];
  for (ConditionRow& row : table.rows)
    if (row.vc_m_min) row.vc_m_min = *row.vc_m_min * 0.95;
  Change change;
  change.label = "slower";
  change.edit(j.state().tables[0], table);
  const double before = *j.operation(0).taken.n_rpm;
  j.window->shop().apply(change);
  CHECK(*j.operation(0).taken.n_rpm == before);
  CHECK(j.find<QLabel>("banner_text")->text().startsWith("2 operations: changed at source"));
  CHECK(j.page.model().index(0, 0).data(OperationModel::moved_role).toBool());
  CHECK(j.page.model().index(0, OperationModel::speed).data(OperationModel::new_text_role).toString().isEmpty());
  j.click(j.find("compare"));
  CHECK_FALSE(j.page.model().index(0, OperationModel::speed).data(OperationModel::new_text_role).toString().isEmpty());
  j.click(j.find("back"));  // keep
  CHECK_FALSE(j.find("banner")->isVisible());
  CHECK(*j.operation(0).taken.n_rpm == before);
  j.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(j.find("banner")->isVisible());
  j.click(j.find("accept"));  // update
  CHECK(*j.operation(0).taken.n_rpm < before);
  CHECK_FALSE(j.find("banner")->isVisible());
}

TEST_CASE("own values with one click, typed, and given back with one click") {
  Jobs j;
  const double followed = *j.operation(0).taken.n_rpm;
  CHECK(j.find<QLabel>("follows")->text().contains("Carbide end mills, our own"));
  j.click(j.find("own_values"));
  CHECK(j.operation(0).taken.source == SourceKind::own);
  j.type_into("field_own_n_rpm", "2500");
  CHECK(*j.operation(0).taken.n_rpm == 2500);
  j.wait_planned();
  CHECK(j.page.program().find("S2500 M3") != std::string::npos);
  j.key(Qt::Key_L, Qt::ControlModifier);
  CHECK(*j.operation(0).taken.n_rpm == followed);
  CHECK(j.operation(0).taken.source == SourceKind::shop_table);
}

TEST_CASE("another cutter is picked from those that can do it, and its conditions fill in") {
  Jobs j;
  const double before = *j.operation(0).taken.n_rpm;
  j.click(j.find("pick_cutter"));
  j.pick("222");
  CHECK(j.operation(0).cutter.number == 222);
  CHECK(*j.operation(0).taken.n_rpm != before);
  CHECK(j.operation(0).stickout_mm == 53);
  // The job has a copy: the library's cutter may change.
  j.choose_cutter(222);
  Cutter other = j.cutter();
  other.diameter_mm = 15;
  Change change;
  change.label = "reground";
  change.edit(j.cutter(), other);
  j.window->shop().apply(change);
  CHECK(j.operation(0).cutter.diameter_mm == 16);
}

TEST_CASE("what is wrong stands at its field and in the list, and nothing is written") {
  Jobs j;
  j.workspace().select_operation(2);
  j.window->job_bench().show_side(JobBench::operation_side);
  j.type_into("field_depth_mm", "200");
  j.wait_planned();
  CHECK_FALSE(j.fault("depth_mm").isEmpty());
  INFO(j.page.model().index(2, 0).data(OperationModel::fault_role).toString().toStdString());
  CHECK(j.page.model().index(2, 0).data(OperationModel::fault_role).toString().contains("202.547"));
  const QString file = j.dir.filePath("none.nc");
  j.page.write_program(file);
  j.wait_for([&] { return j.window->strip().said().startsWith("Nothing written"); });
  CHECK_FALSE(QFileInfo::exists(file));
  j.type_into("field_depth_mm", "24");
  j.wait_planned();
  CHECK(j.fault("depth_mm").isEmpty());
  j.page.write_program("/proc/nowhere/x.nc");
  j.wait_for([&] { return j.window->strip().said().contains("cannot be written"); });
}

TEST_CASE("a drawing without outline is refused with what was found in it") {
  Jobs j;
  const std::size_t before = j.state().jobs.size();
  j.page.read_drawing(QStringLiteral(PECORRA_TEST_DATA "/dxf/words_only.dxf"), false);
  j.wait_for([&] { return j.window->strip().said().contains("No usable outline"); });
  CHECK(j.window->strip().said().contains("1 × TEXT"));
  CHECK(j.state().jobs.size() == before);
  j.page.read_drawing(j.dir.filePath("missing.dxf"), false);
  j.wait_for([&] { return j.window->strip().said().contains("cannot be read"); });
}

TEST_CASE("lines and circles of the drawing are chosen by keys and by clicks") {
  Jobs j;
  const QStringList before = j.features(0);
  CHECK(before == QStringList{"OUTLINE/1"});
  j.key(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(j.features(0) != before);
  for (std::size_t i = 1; i < j.job().drawing().lines.size(); ++i)
    j.key(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(j.features(0) == before);  // once round
  auto* view = j.window->findChild<PathView*>();
  REQUIRE(view);
  emit view->feature_clicked("SLOT/1", {});
  CHECK(j.features(0) == before + QStringList{"SLOT/1"});
  emit view->feature_clicked("SLOT/1", {});
  CHECK(j.features(0) == before);
  // Drilling takes all circles of a diameter, with Shift a single one.
  j.workspace().select_operation(2);
  CHECK(j.features(2).size() == 6);
  emit view->feature_clicked("BOLTS/2", Qt::ShiftModifier);
  CHECK(j.features(2).size() == 5);
  emit view->feature_clicked("BOLTS/2", {});
  CHECK(j.features(2).size() == 6);
  emit view->feature_clicked("OUTLINE/1", {});
  CHECK(j.window->strip().said().contains("this is a line"));
}

TEST_CASE("a pocket, a slot and a face are made from the list of kinds, planned, and written") {
  Jobs j;
  for (const char* kind : {"pocket", "slot", "face"}) {
    const std::size_t before = j.job().operations.size();
    j.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
    j.pick(kind);
    REQUIRE(j.job().operations.size() == before + 1);
    INFO(kind);
    const Operation& o = j.operation(before);
    CHECK(key_of(o.path) == std::string(kind));
    CHECK_FALSE(o.cutter.id.is_null());
    CHECK(o.taken.n_rpm.has_value());
    j.wait_planned();
    INFO((j.page.plan().faults[before].empty() ? std::string() : j.page.plan().faults[before][0].code));
    CHECK_FALSE(has_error(j.page.plan().faults[before]));
    CHECK(j.page.plan().figures[before].cut_mm > 50);
  }
  // Only what is new was planned; the paths before it are the same objects.
  const PlannedOperations first = j.page.plan().operations;
  j.type_into("field_depth_mm", "2");
  j.wait_planned();
  CHECK(j.page.plan().planned_anew == 1);
  CHECK(j.page.plan().operations[0] == first[0]);
}

TEST_CASE("the picture shows paths by move or by feed, with the side view or without") {
  Jobs j;
  auto* view = j.window->findChild<PathView*>();
  REQUIRE(view);
  const QImage moves = view->grab().toImage();
  j.click(j.find("path_colours"));
  const QImage feeds = view->grab().toImage();
  CHECK(moves != feeds);
  CHECK(view->has_side_view());
  j.click(j.find("path_side"));
  CHECK_FALSE(view->has_side_view());
  CHECK(view->grab().toImage() != feeds);
}

TEST_CASE(
    "another drawing: lines that kept their shape keep their operations, a changed one is not machined without a "
    "word") {
  Jobs j;
  Drawing other = j.job().drawing();
  other.print = "another file";
  std::vector<DrawnLine*> bolts;
  for (DrawnLine& line : other.lines) {
    if (line.layer == "BOLTS") bolts.push_back(&line);
    if (line.layer == "OUTLINE") line.contour.vertices[0].x += 3;
  }
  std::swap(*bolts[1], *bolts[3]);  // two bolt holes change places in the file
  j.window->shop().apply(with_drawing(j.job(), other, "changed"));
  j.wait_planned();
  CHECK(has_error(j.page.plan().faults[0]));
  CHECK(j.page.model().index(0, 0).data(OperationModel::fault_role).toString().contains("OUTLINE/1"));
  CHECK_FALSE(has_error(j.page.plan().faults[2]));
  CHECK(j.features(2).size() == 6);
  // Accepted, it is taken as it is now.
  j.workspace().select_operation(0);
  j.window->run("changed_lines");
  j.wait_planned();
  CHECK_FALSE(has_error(j.page.plan().faults[0]));
}

TEST_CASE("operations are moved and deleted, and undo brings them back") {
  Jobs j;
  j.key(Qt::Key_Down, Qt::AltModifier);
  CHECK(j.operation(1).name == "Outside profile");
  CHECK(j.workspace().operation_index() == 1);
  j.key(Qt::Key_Up, Qt::AltModifier);
  CHECK(j.operation(0).name == "Outside profile");
  j.key(Qt::Key_D, Qt::ControlModifier);
  REQUIRE(j.job().operations.size() == 4);
  CHECK(j.operation(1).name == j.operation(0).name);
  CHECK(j.workspace().operation_index() == 1);
  j.key(Qt::Key_Z, Qt::ControlModifier);
  j.workspace().select_operation(0);
  j.page.grid().setFocus();
  j.key(Qt::Key_Delete);
  CHECK(j.job().operations.size() == 2);
  j.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(j.job().operations.size() == 3);
  CHECK(j.operation(0).name == "Outside profile");
  j.window->run("delete_job");
  CHECK(j.state().jobs.named("Spindle rail") == nullptr);
  j.window->run("undo");
  CHECK(j.state().jobs.named("Spindle rail"));
}

TEST_CASE("a job says what the shop lacks for it") {
  test::Window w;
  w.window->show_page(MainWindow::jobs);
  w.window->job_bench().show_side(JobBench::job_side);
  QApplication::processEvents();
  auto* lacks = w.find<QLabel>("lacks");
  CHECK(lacks->text().startsWith("Nothing"));
  const Job& job = *w.workspace().job();
  const Cutter before = *w.state().cutters.find(job.operations[0].cutter.id);
  Cutter after = before;
  after.in_stock = 0;
  w.window->shop().edit(before, after, "none left");
  QApplication::processEvents();
  CHECK(lacks->text().contains(QStringLiteral("Cutter %1").arg(before.number)));
  CHECK(lacks->text().contains("none in stock"));
  CHECK(lacks->text().contains(QString::fromStdString(before.order_code)));
}

TEST_CASE("the program in inches") {
  Jobs j;
  j.window->job_bench().show_side(JobBench::job_side);
  auto* unit = j.find<QComboBox>("field_program_unit");
  unit->setCurrentIndex(1);
  emit unit->activated(1);
  CHECK(j.job().program_unit == UnitSystem::inch);
  j.wait_planned();
  CHECK(j.page.program().find("G20") != std::string::npos);
  CHECK(test::read_program(j.page.program()).inch);
}

TEST_CASE("of a long job's trial the rows in view come first, then all of them, and those are accepted") {
  ShopState made = the_demo();
  Job job = *made.job(made.jobs.named("Gear cover")->id);
  const std::vector<Operation> few = job.operations;
  job.operations.clear();
  for (int i = 0; i < 150; ++i) {
    Operation o = few[static_cast<std::size_t>(i) % few.size()];
    o.id = Id::from_name("operation " + std::to_string(i));
    o.rank = 0;
    job.operations.push_back(std::move(o));
  }
  job.id = Id::from_name("long");
  job.name = "Long";
  for (Setup& s : job.setups) s.id = Id{};
  for (Feature& f : job.features) f.id = Id{};
  put_job(made, job);
  test::Window w(made);
  w.window->show_page(MainWindow::jobs);
  w.workspace().select_job(Id::from_name("long"));
  w.window->jobs_page().show_view(JobsPage::operations);
  QApplication::processEvents();
  w.wait_planned();
  const Id other = w.state().materials.named("EN AW-5083")->id == w.workspace().shown_material()
                       ? w.state().materials.named("C45")->id
                       : w.state().materials.named("EN AW-5083")->id;
  Job wanted = *w.workspace().kept_job();
  wanted.material = other;
  wanted = retaken(w.state(), w.workspace().shop().resolver(), std::move(wanted));
  w.workspace().try_material(other);
  const auto first = w.workspace().shown_job();
  CHECK_FALSE(w.workspace().is_shown_whole());
  CHECK(first->operations.front().taken == wanted.operations.front().taken);
  CHECK_FALSE(first->operations.back().taken == wanted.operations.back().taken);
  // The banner, which moves all that is below it, comes after the rows. The list keeps its height.
  const auto* banner = w.find<QWidget>("banner");
  const auto keeps_height = [&, height = w.window->jobs_page().grid().height()] {
    QApplication::processEvents();
    return w.window->jobs_page().grid().height() == height;
  };
  CHECK(banner->isHidden());
  CHECK(keeps_height());
  w.wait_until([&] { return banner->isVisible(); });
  CHECK(keeps_height());
  w.wait_until([&] { return w.workspace().is_shown_whole(); });
  for (std::size_t i = 0; i < wanted.operations.size(); ++i)
    CHECK(w.workspace().shown_job()->operations[i].taken == wanted.operations[i].taken);
  // Another one after it, and of the job as it is by then: nothing is left of the first.
  const Job kept = *w.workspace().kept_job();
  CHECK_FALSE(kept.operations.back().taken == wanted.operations.back().taken);
  w.workspace().drop_trial();
  CHECK(keeps_height());
  w.window->workspace().shop().apply(edited_operation(w.state(), w.workspace().shop().resolver(), *w.workspace().job(),
                                                      149, *find_property<Operation>("depth_mm"), 1.5, "1.5",
                                                      w.workspace().units()));
  Job third = *w.workspace().kept_job();
  third.material = w.state().materials.named("EN-GJL-250")->id;
  third = retaken(w.state(), w.workspace().shop().resolver(), std::move(third));
  w.workspace().try_material(third.material);
  CHECK(keeps_height());
  w.wait_until([&] { return w.workspace().is_shown_whole(); });
  CHECK(keeps_height());
  CHECK(w.workspace().shown_job()->operations == third.operations);
  // From one trial to the next the list is told of every cell that differs, and of no other column.
  const QAbstractItemModel& list = *w.window->jobs_page().grid().model();
  const auto cell = [&list](int row, int column) {
    QStringList all;
    std::vector<int> roles{Qt::DisplayRole, OperationModel::new_text_role};
    if (column == OperationModel::follows) roles.push_back(OperationModel::mark_role);
    if (column == OperationModel::operation)
      roles.insert(roles.end(), {OperationModel::fault_role, OperationModel::moved_role});
    for (const int role : roles) all << list.index(row, column).data(role).toString();
    return all;
  };
  const auto cells = [&] {
    std::vector<QStringList> all;
    for (int row = 0; row < 12; ++row)
      for (int column = 0; column < list.columnCount(); ++column) all.push_back(cell(row, column));
    return all;
  };
  const auto before = cells();
  const QSignalSpy told(&list, &QAbstractItemModel::dataChanged);
  w.workspace().try_material(other);
  const auto after = cells();
  CHECK(before != after);
  for (std::size_t i = 0; i < after.size(); ++i) {
    if (before[i] == after[i]) continue;
    const int row = static_cast<int>(i) / list.columnCount(), column = static_cast<int>(i) % list.columnCount();
    CHECK(std::any_of(told.begin(), told.end(), [&](const QList<QVariant>& change) {
      const auto from = change[0].toModelIndex(), to = change[1].toModelIndex();
      return row >= from.row() && row <= to.row() && column >= from.column() && column <= to.column();
    }));
  }
  REQUIRE(told.size() == 1);
  CHECK(told[0][0].toModelIndex().column() == OperationModel::speed);
  w.workspace().shop().undo();
  // Discarded, tried again and accepted at once: nothing is left as it was.
  w.workspace().drop_trial();
  w.workspace().try_material(other);
  w.workspace().accept_trial();
  for (std::size_t i = 0; i < wanted.operations.size(); ++i)
    CHECK(w.workspace().job()->operations[i].taken.n_rpm == wanted.operations[i].taken.n_rpm);
}

TEST_CASE("copies of a job made aside are its equals; what is discarded is freed with the next refill") {
  const ShopState made = the_demo();
  const auto of = [&](const char* name) { return std::make_shared<const Job>(*made.job(made.jobs.named(name)->id)); };
  const auto cover = of("Gear cover"), rail = of("Spindle rail");
  SpareJobs spares;
  std::vector<std::shared_ptr<Job>> taken;
  for (const auto& job : {cover, cover, cover, rail, cover}) {
    spares.prepare(cover);
    taken.push_back(spares.take(job));
    CHECK(taken.back() != job);
    CHECK(taken.back()->head() == job->head());
    CHECK(taken.back()->operations == job->operations);
    if (taken.size() == 2) spares.refill();
  }
  const std::weak_ptr<const Job> seen = taken.front();
  spares.discard(std::move(taken.front()));
  CHECK_FALSE(seen.expired());
  spares.refill();
  CHECK(QTest::qWaitFor([&] { return seen.expired(); }));
}
