// From the job to the machine, in the real window: the program's lines and their moves, playback, setup sheets, the
// magazine and dialects of machines, another order, proven steps, what changed at the sources.
#include <QFile>
#include <QPlainTextEdit>
#include <QSlider>
#include <QToolTip>
#include <set>

#include "../support/program_reader.h"
#include "app/jobs/job_player.h"
#include "app/parts/dialect_preview.h"
#include "shop/dialects.h"
#include "shop/tool_plan.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

struct Programs : test::Window {
  JobsPage& page;
  Programs() : page((window->show_page(MainWindow::jobs), window->jobs_page())) {
    workspace().select_job(state().jobs.named("Roller end cap")->id);
    wait_planned();
    wait_for([&] { return page.program().find("ROLLER END CAP") != std::string::npos; });
  }
  const Job& job() { return *workspace().job(); }
  void wait_for(const std::function<bool()>& done) {
    for (int i = 0; i < 500 && !done(); ++i) QTest::qWait(10);
    CHECK(done());
  }
  int row_of(const QString& text) {
    auto& lines = page.program_view().lines();
    for (int i = 0; i < lines.rowCount(); ++i)
      if (lines.line(i) == text) return i;
    return -1;
  }
};

}  // namespace

TEST_CASE("a line of the program chooses its operation and shows its place; S and F say where they are from") {
  Programs p;
  ProgramView& view = p.page.program_view();
  auto& lines = view.lines();
  const int spot = lines.row_of_operation(4), drill = lines.row_of_operation(5);
  REQUIRE(spot > 0);
  REQUIRE(drill > spot);
  CHECK(lines.line(spot).startsWith("(OP 4 "));
  // A cut of the rim.
  int row = lines.row_of_operation(2);
  while (lines.origin(row).second < 10) ++row;
  const auto [number, move] = lines.origin(row);
  CHECK(number == 2);
  view.setCurrentIndex(lines.index(row, 0));
  CHECK(p.workspace().operation_index() == 1);
  CHECK(p.page.play_bar().is_on());
  CHECK(p.page.play_bar().position().operation == 1);
  CHECK(p.page.play_bar().position().move == move);
  CHECK(lines.row_of_move(number, move) >= row);
  // Hovering S.
  const int s = p.row_of("S1980 M3");
  REQUIRE(s > 0);
  view.scrollTo(lines.index(s, 0), QAbstractItemView::PositionAtCenter);
  const QPoint at = view.visualRect(lines.index(s, 0)).topLeft() + QPoint(14, 6);
  QHelpEvent help(QEvent::ToolTip, at, view.viewport()->mapToGlobal(at));
  QApplication::sendEvent(view.viewport(), &help);
  CHECK(QToolTip::text().contains("Rim"));
  CHECK(QToolTip::text().contains("Carbide end mills, our own"));
  QToolTip::hideText();
}

TEST_CASE("a move clicked in the picture shows its operation and its block, another click the next move there") {
  Programs p;
  p.workspace().select_operation(0);  // the face
  auto* picture = p.find<PathView>("path_view");
  const std::vector<Move>& moves = p.page.plan().operations[0]->path.moves;
  // In sight, and no feature's line is near.
  int chosen = -1;
  QPoint at;
  for (std::size_t i = 1; i < moves.size() && chosen < 0; ++i) {
    const QPointF a(moves[i - 1].x, moves[i - 1].y), b(moves[i].x, moves[i].y);
    if (moves[i].shape != MoveShape::line || moves[i].kind != MoveKind::cut || QLineF(a, b).length() < 3) continue;
    for (double part = 0.05; part < 1 && chosen < 0; part += 0.05) {
      at = picture->to_screen().map(a + (b - a) * part).toPoint();
      QTest::mouseMove(picture, at);
      QMouseEvent over(QEvent::MouseMove, at, picture->mapToGlobal(at), Qt::NoButton, Qt::NoButton, Qt::NoModifier);
      QApplication::sendEvent(picture, &over);
      if (picture->cursor().shape() == Qt::PointingHandCursor && picture->toolTip().isEmpty())
        chosen = static_cast<int>(i);
    }
  }
  REQUIRE(chosen > 0);
  QTest::mouseClick(picture, Qt::LeftButton, {}, at);
  const auto& play = p.page.play_bar();
  CHECK(play.is_on());
  const int first = play.position().move;
  CHECK(play.position().operation == 0);
  CHECK(first <= chosen);
  const auto block = [&] { return p.page.program_view().lines().origin(p.page.program_view().lit_row()); };
  CHECK(block() == std::pair(1, first));
  // As many passes as go through there, and then from the first again.
  std::set<int> seen;
  for (int i = 0; i < 200 && seen.insert(play.position().move).second; ++i)
    QTest::mouseClick(picture, Qt::LeftButton, {}, at);
  CHECK(seen.count(chosen) == 1);
  CHECK(play.position().move == first);
  // Beside all of it nothing is chosen.
  QTest::mouseClick(picture, Qt::LeftButton, {}, QPoint(3, 30));
  CHECK(play.position().move == first);
}

TEST_CASE("something is found in the program by keys") {
  Programs p;
  p.page.find_in_program();
  auto* text = p.find<QLineEdit>("find_in_program");
  CHECK(text->hasFocus());
  QTest::keyClicks(text, "t18 m6");
  auto& view = p.page.program_view();
  CHECK(view.lines().line(view.currentIndex().row()) == "T18 M6");
  QTest::keyClicks(text, "x");
  QTest::keyClick(text, Qt::Key_Return);
  QTest::keyClick(text, Qt::Key_Escape);
  CHECK_FALSE(text->isVisible());
}

TEST_CASE("the job is played, stepped, pulled to a place, and the stock goes away") {
  Programs p;
  PlayBar& bar = p.page.play_bar();
  CHECK_FALSE(bar.is_on());
  p.click(p.find("play"));
  CHECK(bar.is_playing());
  p.wait_for([&] { return bar.position().seconds > 0.5; });
  bar.setFocus();
  QTest::keyClick(&bar, Qt::Key_Space);
  CHECK_FALSE(bar.is_playing());
  const double before = bar.position().seconds;
  QTest::keyClick(&bar, Qt::Key_Right);
  CHECK(bar.position().seconds > before);
  QTest::keyClick(&bar, Qt::Key_Left);
  CHECK(bar.position().seconds <= before + 1e-9);
  auto* slider = p.find<QSlider>("play_slider");
  slider->setValue(slider->maximum() / 2);
  const PlayPosition half = bar.position();
  CHECK(half.operation >= 1);
  // The block of that move is lit.
  const auto [number, move] = p.page.program_view().lines().origin(p.page.program_view().lit_row());
  CHECK(number == half.operation + 1);
  CHECK(move <= half.move);
  slider->setValue(slider->maximum());
  CHECK(bar.position().operation == 5);
  QTest::keyClick(&bar, Qt::Key_Escape);
  CHECK_FALSE(bar.is_on());
}

TEST_CASE("playback goes through every move in order, and the stock is what was cut") {
  Programs p;
  const Playback playback(p.workspace().shown_job(), p.page.plan());
  // As long as the job takes, cutter changes included: the cutter stands before its path for as long as they take.
  CHECK(playback.seconds() == Approx(p.page.plan().seconds()));
  const OperationTime& rim = p.page.plan().times[1];
  const double begins = p.page.plan().times[0].total_s(), stands = rim.change_s + rim.spindle_s + rim.measuring_s;
  CHECK(rim.change_s == Approx(4.5));
  CHECK(playback.at(begins + stands / 2).stands);
  CHECK(playback.at(begins + stands / 2).operation == 1);
  CHECK_FALSE(playback.at(begins + stands + 0.1).stands);
  PlayPosition last;
  for (int i = 0; i <= 2000; ++i) {
    const PlayPosition at = playback.at(playback.seconds() * i / 2000);
    CHECK(std::pair(at.operation, at.move) >= std::pair(last.operation, last.move));
    last = at;
  }
  StockRun run(std::make_shared<const Playback>(playback));
  const auto whole = run.at(0, 0, colours()), faced = run.at(0, 10000, colours()), end = run.at(5, 10000, colours());
  const QPoint middle(whole.image.width() / 2, whole.image.height() / 2);
  CHECK(whole.image.pixelColor(middle) != faced.image.pixelColor(middle));
  CHECK(end.image.pixelColor(middle) != faced.image.pixelColor(middle));  // the bearing seat
  // Back again.
  CHECK(run.at(0, 0, colours()).image == whole.image);
}

TEST_CASE("a program for each setup, and a setup sheet, are written beside the job") {
  Programs p;
  const QString sheet = p.dir.filePath("cap.html");
  p.page.write_sheet(sheet);
  p.wait_for([&] { return p.window->strip().said().startsWith("Setup sheet written"); });
  QFile file(sheet);
  REQUIRE(file.open(QIODevice::ReadOnly));
  CHECK(file.readAll().contains("Roller end cap"));
  p.page.write_sheet(p.dir.filePath("cap.pdf"), true);
  p.wait_for([&] { return QFile(p.dir.filePath("cap.pdf")).exists(); });
  const QString program = p.dir.filePath("cap.nc");
  p.page.write_program(program, true);
  p.wait_for([&] { return p.window->strip().said().startsWith("Program written: cap_"); });
  p.page.write_sheet("/proc/nowhere/x.pdf");
  p.wait_for([&] { return p.window->strip().said().contains("cannot be written"); });
}

TEST_CASE("what stands in a pocket gives the program its T") {
  Programs p;
  CHECK(p.page.model().index(1, OperationModel::cutter).data().toString().startsWith("T17 "));
  p.window->show_page(MainWindow::machines);
  p.window->parts_page(MainWindow::machines).show_section(1);
  // Pocket 2 is before pocket 10, and its cutter as well.
  const QAbstractItemModel* listed = p.window->findChild<QTableView*>("pocket_table")->model();
  REQUIRE(listed->rowCount() > 2);
  CHECK(listed->index(0, 0).data().toString().startsWith("1 "));
  CHECK(listed->index(1, 0).data().toString().startsWith("2 "));
  const std::size_t before = p.state().pockets.size();
  p.window->parts_page(MainWindow::machines).add_part();
  p.pick("225");  // the end mill of the rim
  REQUIRE(p.state().pockets.size() == before + 1);
  const Pocket pocket = p.state().pockets[before];
  CHECK(pocket.number == 17);
  p.type_into("field_number", "21");
  CHECK(p.state().pockets[before].number == 21);
  p.window->show_page(MainWindow::jobs);
  p.wait_planned();
  CHECK(p.page.model().index(1, OperationModel::cutter).data().toString().startsWith("T21 "));
  p.wait_for([&] { return p.page.program().find("T21 M6") != std::string::npos; });
  // A pocket that is taken.
  p.window->show_page(MainWindow::machines);
  p.type_into("field_number", "3");
  CHECK(p.fault("number").contains("Pocket 3 is listed once more"));
}

TEST_CASE("a dialect is edited, and its program follows as one types") {
  Programs p;
  p.window->show_page(MainWindow::machines);
  p.window->parts_page(MainWindow::machines).show_section(2);
  p.window->parts_page(MainWindow::machines).add_part();
  p.pick("Plain");
  REQUIRE(p.state().dialects.size() == 1);
  CHECK(p.state().dialects[0].key == "plain_2");
  auto* preview = p.window->findChild<DialectPreview*>();
  REQUIRE(preview);
  const auto shows = [&](const QString& text) {
    auto& lines = preview->view().lines();
    for (int i = 0; i < lines.rowCount(); ++i)
      if (lines.line(i) == text) return true;
    return false;
  };
  p.wait_for([&] { return shows("T17 M6"); });
  auto* change = p.find<QPlainTextEdit>("field_tool_change");
  p.activate();
  change->setFocus();
  CHECK(change->hasFocus());
  change->selectAll();
  QTest::keyClicks(change, "M6 T{t}");
  p.wait_for([&] { return shows("M6 T17"); });
  CHECK(p.state().dialects[0].tool_change == "T{t} M6\n");  // not accepted yet
  // What is wrong is said, and the last good program stays.
  QTest::keyClicks(change, " {x}");
  p.wait_for([&] { return !p.fault("tool_change").isEmpty(); });
  CHECK(p.fault("tool_change").toStdString() == "{x} cannot be filled in here; what can is {t}, {next}, {name}");
  CHECK(shows("M6 T17"));
  for (int i = 0; i < 4; ++i) QTest::keyClick(change, Qt::Key_Backspace);
  QTest::keyClick(change, Qt::Key_Tab);
  CHECK(p.state().dialects[0].tool_change == "M6 T{t}\n");
  p.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(p.state().dialects[0].tool_change == "T{t} M6\n");
}

TEST_CASE("a machine's dialect is chosen from all there are") {
  Programs p;
  p.window->show_page(MainWindow::machines);
  p.window->parts_page(MainWindow::machines).show_section(0);
  auto* dialect = p.find<QComboBox>("field_dialect");
  CHECK(dialect->count() == static_cast<int>(shipped_dialects().size()));
  CHECK(dialect->currentText() == "Plain, with a changer");
}

TEST_CASE("another order is seen before it is taken") {
  Programs p;
  const std::vector<Operation> before = p.job().operations;
  p.workspace().select_operations({1}, 1);
  p.page.move_operation(-1);  // the rim before the top
  CHECK(p.job().operations[0].name == "Rim");
  p.wait_planned();
  p.page.propose_order();
  p.wait_for([&] { return !p.page.decisions().is_empty(); });
  CHECK(p.find<QLabel>("decision_title")->text().toStdString() == "6 cutter changes → 5, 5 s less");
  CHECK(p.page.decisions().table().model()->index(0, 2).data().toString() == "Top");
  CHECK(p.job().operations[0].name == "Rim");  // nothing is done yet
  QTest::keyClick(&p.page.decisions(), Qt::Key_Return);
  CHECK(p.page.decisions().is_empty());
  CHECK(p.job().operations[0].name == "Top");
  p.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(p.job().operations[0].name == "Rim");
}

TEST_CASE("a proven step is saved and used in the window, and its list says where") {
  Programs p;
  p.workspace().select_operations({3, 4, 5}, 3);
  p.page.save_proven_step();
  REQUIRE(p.state().proven_steps.size() == 1);
  CHECK(p.job().operations[4].taken.proven);
  const std::size_t before = p.job().operations.size();
  p.page.use_proven_step();
  p.pick("Holes");
  CHECK(p.job().operations.size() == before + 3);
  CHECK(p.job().operations[before].proven_step == p.state().proven_steps[0].id);
  p.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(p.job().operations.size() == before);
  p.window->show_page(MainWindow::machines);
  p.window->parts_page(MainWindow::machines).show_section(3);
  CHECK(p.find<QLabel>("proven_step_title")->text() == QString::fromStdString(p.state().proven_steps[0].name));
}

TEST_CASE("what changed at the sources is taken and kept one by one") {
  Programs p;
  Cutter cutter = *p.state().cutters.find(p.job().operations[1].cutter.id);
  Cutter longer = cutter;
  longer.flute_length_mm = 40;
  CHECK_FALSE(p.find("banner")->isVisible());
  p.window->shop().edit(cutter, longer, "longer");
  CHECK(p.find("banner")->isVisible());
  CHECK(p.find<QLabel>("banner_text")->text().startsWith("2 operations: their cutters changed"));
  p.click(p.find("sources"));
  p.wait_for([&] { return !p.page.decisions().is_empty(); });
  auto& table = p.page.decisions().table();
  REQUIRE(table.model()->rowCount() == 2);
  CHECK(table.model()->index(0, 2).data().toString().contains("38 → 40"));
  table.selectionModel()->select(table.model()->index(0, 0),
                                 QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
  p.click(p.find("decision_0"));
  CHECK(p.job().operations[1].cutter.flute_length_mm.value_or(0) == 40);
  CHECK(p.job().operations[2].cutter.flute_length_mm.value_or(0) == 38);
  p.wait_for([&] { return table.model()->rowCount() == 1; });
  p.click(p.find("decision_1"));  // keep
  CHECK(p.job().operations[2].cutter.flute_length_mm.value_or(0) == 38);
  p.wait_for([&] { return p.page.decisions().is_empty(); });
}
