// A program made elsewhere in the window: opened, its cutters stated, its difference read, written, opened again.
#include <QFile>
#include <QFileInfo>

#include "../support/program_reader.h"
#include "painted_texts.h"
#include "shop/retune_file.h"
#include "shop/shipped.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

struct Retune : test::Window {
  RetuneView& view;
  QString program = dir.filePath("plate.nc");
  Retune() : view((window->show_page(MainWindow::jobs), window->jobs_page().retune())) {
    put(R"(%
O1001 (PLATE)
G21 G90 G17 G94
(END MILL D12 ROUGHING)
T5 M6
S2500 M3
G0 X0 Y0
G1 Z-3. F200.
X100. F600.
G3 X100. Y20. I0 J10. F300.
G1 X0.
G0 Z50. M5
(SPECIAL)
T44 M6
S1000 M3
G1 X5. F100.
G0 Z50.
M30
%
)");
  }
  void put(const QByteArray& text) {
    QFile on_disk(program);
    REQUIRE(on_disk.open(QIODevice::WriteOnly));
    on_disk.write(text);
  }
  void open() {
    window->jobs_page().open_program(program);
    wait_until([&] { return view.is_worked_out(); });
  }
  QByteArray text_of_file(const QString& name) {
    QFile on_disk(name);
    CHECK(on_disk.open(QIODevice::ReadOnly));
    return on_disk.readAll();
  }
  QString line(std::size_t block) {
    const std::string_view text = view.program()->line(block);
    return QString::fromLatin1(text.data(), static_cast<qsizetype>(text.size()));
  }
  const RetunedProgram& kept() { return *workspace().program(); }
  QString cell_at(int row, int column) { return cell(view.model(), row, column); }
};

}  // namespace

TEST_CASE("a program made elsewhere is opened: its sections, what changes, and why each cutter") {
  Retune r;
  r.open();
  CHECK(r.window->jobs_page().view() == JobsPage::retuning);
  REQUIRE(r.view.model().rowCount() == 2);
  CHECK(r.cell_at(0, 0) == "5");
  CHECK(r.cell_at(0, 1).contains("END MILL D12"));
  CHECK(r.cell_at(0, 2).contains("Ø12"));
  CHECK(r.cell_at(0, 3).startsWith("2500 → "));
  CHECK(r.cell_at(1, 2) == "not assigned");
  CHECK(r.find<QLabel>("section_why")->text().contains("The comment has its"));
  // The list and the bench speak of the same assembly.
  CHECK(r.cell_at(0, 6).contains("deflection"));
  const auto painted = test::TextRecorder::of(*r.window);
  CHECK(std::any_of(painted.begin(), painted.end(), [](const auto& t) { return t.text == "Deflection"; }));
  // Nothing is offered that could not be done here.
  for (const char* name : {"what_if", "make_row", "keep_recipe", "followed", "usual"})
    CHECK_FALSE(r.window->section_bench().findChild<QWidget*>(name)->isVisible());
  // Lines stand beside each other, and only S and F differ.
  const ProgramText& before = *r.view.program()->read.text;
  REQUIRE(before.size() == r.view.program()->starts.size());
  CHECK(r.line(0) == "%");
  CHECK(r.line(5).startsWith("S"));
  CHECK(r.line(5) != "S2500 M3");
  CHECK(r.line(8).startsWith("X100. F"));
  CHECK(r.line(14) == "S1000 M3");  // whose cutter is not known
  CHECK(r.view.program()->changed_lines.front() == 5);
  // Which cutter it is, by keys: from the list, and everything follows; undone, it is not.
  r.view.table().setCurrentIndex(r.view.model().index(1, 0));
  r.key(Qt::Key_P, Qt::ControlModifier);
  r.pick("219");
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(r.cell_at(1, 2).contains("Ø12"));
  CHECK(r.line(14) != "S1000 M3");
  CHECK(r.state().cutters.find(r.kept().pairing(44)->cutter)->number == 219);
  r.window->run("undo");
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(r.cell_at(1, 2) == "not assigned");
  CHECK(r.line(14) == "S1000 M3");
}

TEST_CASE("one tool with two kinds of work has two sections, and each its own work and depth") {
  Retune r;
  const QByteArray pass = "G0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F600\nG0 Z50.\n";
  r.put("G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\n" + pass + "(FINISH WALLS)\n" + pass + "M30\n");
  r.open();
  REQUIRE(r.view.model().rowCount() == 2);
  CHECK(r.cell_at(0, 3) != r.cell_at(1, 3));
  r.view.table().setCurrentIndex(r.view.model().index(1, 0));
  CHECK(r.find<QLabel>("section_why")->text().contains("FINISH WALLS"));
  const QString first = r.cell_at(0, 3);
  r.type_into("field_ae_mm", "0.5");
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(*r.kept().pairing(5, 2)->ae_mm == 0.5);
  CHECK(r.cell_at(0, 3) == first);
  r.type_into("field_stock_top_mm", "2");
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(*r.kept().stock_top_mm == 2);
  CHECK(r.view.program()->sections[0].ap_mm == 5.0);
}

TEST_CASE("the context line belongs to the program; depth, operation and leaving out are kept with it") {
  Retune r;
  r.open();
  const QString speed = r.cell_at(0, 3);
  const Id job_material = r.workspace().job()->material;
  r.key(Qt::Key_M, Qt::AltModifier);
  r.pick("5083");
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(r.state().materials.find(r.kept().material)->name == "EN AW-5083");
  CHECK(r.cell_at(0, 3) != speed);
  CHECK(r.workspace().job()->material == job_material);
  CHECK_FALSE(r.workspace().is_trying());
  r.type_into("field_ap_mm", "1/32\"");
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(*r.kept().pairing(5)->ap_mm == Approx(0.79375));
  r.view.table().setFocus();
  r.key(Qt::Key_Delete);
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(r.kept().pairing(5)->skip);
  CHECK(r.cell_at(0, 2).endsWith(", left out"));
  CHECK(r.cell_at(0, 6).contains("%"));  // it is checked all the same
  CHECK(r.view.program()->changed_lines.empty());
  CHECK_FALSE(r.find<QPushButton>("write_retuned")->isEnabled());
  r.window->run("take_section_in");
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(r.find<QPushButton>("write_retuned")->isEnabled());
  // Kept with the shop: after closing it is as it was.
  const RetunedProgram before = r.kept();
  r.again();
  REQUIRE(r.state().programs.size() == 1);
  CHECK(r.state().programs[0].tools == before.tools);
  CHECK(r.state().programs[0].material == before.material);
}

TEST_CASE("it is written beside the program, never over one that changed, and then changed at source") {
  Retune r;
  r.open();
  const QString out = r.dir.filePath("plate-retuned.nc");
  CHECK(r.view.proposed_file() == out);
  const QByteArray original = r.text_of_file(r.program);
  r.view.write(out);
  r.wait_until([&] { return !r.kept().written.empty(); });
  CHECK(r.text_of_file(r.program) == original);
  const test::Reading was = test::read_program(original.toStdString());
  const test::Reading now = test::read_program(r.text_of_file(out).toStdString());
  REQUIRE(now.steps.size() == was.steps.size());
  for (std::size_t i = 0; i < was.steps.size(); ++i) {
    CHECK(now.steps[i].x == was.steps[i].x);
    CHECK(now.steps[i].y == was.steps[i].y);
    CHECK(now.steps[i].z == was.steps[i].z);
  }
  CHECK(now.steps.front().speed != was.steps.front().speed);
  // Once more: what was there keeps its bytes under another name.
  const QByteArray first = r.text_of_file(out);
  r.view.write(out);
  r.wait_until([&] { return QFile::exists(out + ".bak"); });
  CHECK(r.text_of_file(out + ".bak") == first);
  // The table says something else now.
  CHECK(r.find<QLabel>("retune_banner")->text().isEmpty());
  r.workspace().take_pace(70);
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(r.find<QLabel>("retune_banner")->text().contains("Changed at source"));
  // The program's file changes meanwhile: nothing is written until it is read again.
  r.put(original + "(NEW)\n");
  const QString third = r.dir.filePath("third.nc");
  r.view.write(third);
  r.wait_until([&] { return r.window->strip().said().contains("has changed since it was read"); });
  CHECK_FALSE(QFile::exists(third));
  r.click(r.find("read_again"));
  r.wait_until([&] { return r.view.is_worked_out() && r.view.program()->read.text->size() == 20; });
  r.view.write(third);
  r.wait_until([&] { return QFile::exists(third); });
}

TEST_CASE("programs are listed beside the jobs, opened from there, and say that their file is gone") {
  Retune r;
  r.open();
  r.key(Qt::Key_Left, Qt::AltModifier);
  CHECK(r.window->jobs_page().view() == JobsPage::all_jobs);
  ProgramList& list = r.window->jobs_page().programs();
  r.wait_until([&] { return list.is_complete() && !list.model().lines()[0][5].startsWith("…"); });
  CHECK(r.cell(list.model(), 0, 0) == "plate.nc");
  CHECK(r.cell(list.model(), 0, 5) == "Cutter not assigned");
  // The next program of its kind remembers what was stated for this one.
  RetunedProgram stated = r.state().programs[0];
  r.choose_cutter(219);
  stated.pairing_for(44).cutter = r.cutter().id;
  Change change;
  change.edit(r.state().programs[0], stated);
  r.workspace().shop().apply(change);
  const QString next = r.dir.filePath("PLATE.NC");
  REQUIRE(QFile::copy(r.program, next));
  r.window->jobs_page().open_program(next);
  r.wait_until([&] { return r.view.is_worked_out() && r.kept().name == "PLATE.NC"; });
  CHECK(r.cell_at(1, 2).contains("Ø12"));
  CHECK(r.state().programs.size() == 2);
  r.window->jobs_page().show_view(JobsPage::all_jobs);
  QFile::remove(r.program);
  r.window->jobs_page().open_program(r.program);
  r.wait_until([&] { return r.window->strip().said().contains("There is no file"); });
  r.wait_until([&] { return r.find<QLabel>("retune_banner")->text().contains("There is no file"); });
  CHECK(r.find<QLabel>("retune_empty")->isVisible());
  CHECK(r.state().programs.size() == 2);
  // Something that is no program at all.
  r.window->jobs_page().open_program(r.dir.path());
  r.wait_until([&] { return r.window->strip().said().contains("is a folder"); });
}

TEST_CASE("a long program: the difference is there at once, and blocks are found in the picture") {
  Retune r;
  QByteArray text = "%\nO7\nG21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-1. F200.\n";
  for (int i = 0; i < 60000; ++i)
    text += "X" + QByteArray::number(i % 300) + ". Y" + QByteArray::number(i / 300) + ".\n";
  r.put(text + "M30\n%\n");
  r.open();
  CHECK(r.view.program()->moves->moves.size() > 60000);
  QElapsedTimer clock;
  clock.start();
  r.view.difference().show_block(50000);
  r.view.difference().grab();
  INFO("one look at 60,000 lines: " << clock.elapsed() << " ms");
  CHECK(r.view.difference().front() == 50000);
  CHECK(r.view.difference().next_change(true));
  CHECK(r.view.difference().front() == 8);  // the first cut after the plunge: its feed is added
  // Pressed Escape-like: a new material while it is worked out takes the place of the old one.
  r.workspace().take_pace(60);
  r.workspace().take_pace(120);
  r.wait_until([&] { return r.view.is_worked_out(); });
  CHECK(*r.view.program()->program.pace == 120);
}

TEST_CASE("what is not understood is listed, and each line shown where it is") {
  Retune r;
  r.put("G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F600\nG777 X5. F50\nX0 [\nM30\n");
  r.open();
  CHECK(r.find<QLabel>("retune_banner")->text().contains("2 lines were not understood"));
  auto* table = r.window->findChild<QTableView*>("left_alone_table");
  REQUIRE(table);
  CHECK_FALSE(table->isVisible());
  r.click(r.find<QPushButton>("left_alone_fold"));
  CHECK(table->isVisible());
  REQUIRE(r.view.notice().model().rowCount() == 2);
  CHECK(r.cell(r.view.notice().model(), 0, 0) == "8");
  CHECK(r.cell(r.view.notice().model(), 0, 1) == "G777 X5. F50");
  CHECK_FALSE(r.cell(r.view.notice().model(), 0, 2).isEmpty());
  table->setFocus();
  table->setCurrentIndex(r.view.notice().model().index(1, 0));
  CHECK(r.view.difference().front() == 8);
  r.click(r.find<QPushButton>("left_alone_fold"));
  CHECK_FALSE(table->isVisible());
}

TEST_CASE("feeds of the whole program: plunges in proportion, inside arcs by their centre, one step back each") {
  Retune r;
  r.put(
      "G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0\nG0 Z5.\nG1 X1. F600.\nG1 Z-3. F200.\nX100. F600.\n"
      "G3 X100. Y20. I0 J10.\nG1 X0.\nM30\n");
  r.open();
  PropertyForm& form = r.window->section_bench().whole_program();
  const auto plunge = [&] { return r.line(7); };
  const auto wait = [&] { r.wait_until([&] { return r.view.is_worked_out(); }); };
  const QString by_table = plunge();
  const QString arc = r.line(9);
  emit form.accepted("in_proportion", true, {});
  wait();
  CHECK(r.kept().in_proportion);
  CHECK(plunge() != by_table);
  emit form.accepted("arc_centres", true, {});
  wait();
  CHECK(r.line(9) != arc);
  r.key(Qt::Key_Z, Qt::ControlModifier);
  wait();
  CHECK_FALSE(r.kept().arc_centres);
  CHECK(r.line(9) == arc);
  r.key(Qt::Key_Z, Qt::ControlModifier);
  wait();
  CHECK(plunge() == by_table);
}

TEST_CASE("a folder of programs is opened, written and watched; the report is saved") {
  Retune r;
  r.put("G21 G90\n(END MILL D12)\nT5 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200\nX100. F600\nM30\n");
  QTemporaryDir from, to;
  for (const char* name : {"one.nc", "two.nc"}) QFile::copy(r.program, from.filePath(name));
  QFile open_t(from.filePath("three.nc"));
  REQUIRE(open_t.open(QIODevice::WriteOnly));
  open_t.write("G21 G90\nT944 M6\nS2500 M3\nG0 X0 Y0 Z5.\nG1 Z-3. F200\nM30\n");
  open_t.close();
  ProgramFolders& folders = r.window->jobs_page().programs().folders();
  QString said;
  bool fault = false;
  QObject::connect(&folders, &ProgramFolders::said, &folders, [&](const QString& what, bool bad) {
    said = what;
    fault = bad;
  });
  const auto wait = [&] {
    r.wait_until([&] { return folders.is_idle() && !said.isEmpty(); });
    return std::exchange(said, QString());
  };
  const auto before = r.state().programs.size();
  folders.open_folder(from.path());
  CHECK(wait() == "Programs opened: 3, new: 3");
  CHECK(r.state().programs.size() == before + 3);
  folders.open_folder(to.path());
  CHECK(wait().contains("No programs in"));
  folders.write_all(to.path());
  const QString written = wait();
  CHECK(written.contains("Programs written to"));
  CHECK(written.contains("three.nc: Some tools have no cutter"));
  CHECK(fault);
  CHECK(QFile::exists(to.filePath("one.nc")));
  CHECK_FALSE(QFile::exists(to.filePath("three.nc")));
  const RetunedProgram* one = program_for(r.state(), from.filePath("one.nc"));
  REQUIRE(one);
  CHECK(one->written == to.filePath("one.nc").toStdString());
  // Where the programs are they are not written.
  folders.write_all(from.path());
  CHECK(wait().contains("folder other than"));

  CHECK_FALSE(folders.is_watching());
  folders.watch(from.path(), from.path());
  CHECK(wait().contains("folder other than"));
  QTemporaryDir in, out;
  folders.watch(in.path(), out.path());
  r.wait_until([&] { return folders.is_watching(); });
  r.window->jobs_page().show_view(JobsPage::all_jobs);
  CHECK(r.find<QLabel>("watched_folder")->text().contains(in.path()));
  REQUIRE(QFile::copy(r.program, in.filePath("new.nc")));
  CHECK(wait().contains("new.nc retuned to"));
  CHECK(r.text_of_file(out.filePath("new.nc")) == r.text_of_file(to.filePath("one.nc")));
  CHECK(r.text_of_file(in.filePath("new.nc")) == r.text_of_file(r.program));
  // It goes on after a restart, until it is stopped.
  r.again();
  ProgramFolders& later = r.window->jobs_page().programs().folders();
  CHECK(later.is_watching());
  r.window->show_page(MainWindow::jobs);
  r.window->jobs_page().show_view(JobsPage::all_jobs);
  r.click(r.find<QPushButton>("stop_watching"));
  CHECK_FALSE(later.is_watching());
  CHECK_FALSE(r.shows("watched_folder"));

  RetuneView& view = r.window->jobs_page().retune();
  r.window->jobs_page().open_program(r.program);
  r.wait_until([&] { return view.is_worked_out(); });
  QString report;
  QObject::connect(&view, &RetuneView::said, &view, [&](const QString& what, bool) { report = what; });
  view.write_report(to.filePath("r.pdf"));
  r.wait_until([&] { return !report.isEmpty(); });
  CHECK(report == "Report written: r.pdf");
  CHECK(r.text_of_file(to.filePath("r.pdf")).startsWith("%PDF"));
}
