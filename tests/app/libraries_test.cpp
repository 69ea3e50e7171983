// Libraries in the window: kept, narrowed, many at once, numbered, read from files, looked back at.
#include <catch2/catch.hpp>

#include <QDropEvent>
#include <QFile>
#include <QMimeData>
#include <QProgressBar>
#include <QSettings>
#include <QTemporaryDir>

#include "../support/made_library.h"
#include "app/cutters/bulk_change.h"
#include "app/cutters/cutter_import.h"
#include "app/cutters/shared_lines.h"
#include "shop/number_plan.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

// Whatever an earlier test has left to be remembered.
struct Forgetting {
  Forgetting() { QSettings().remove(QStringLiteral("cutters")); }
};

struct Libraries : Forgetting, test::Window {
  using test::Window::Window;
  CuttersPage& page() { return window->cutters_page(); }
  CutterModel& model() { return static_cast<CutterModel&>(*page().table().model()); }
  const Library& library(const char* name) {
    const Library* found = state().libraries.named(name);
    REQUIRE(found);
    return *found;
  }
  int count_in(const Id& id) {
    int n = 0;
    for (const Cutter& c : state().cutters) n += c.library == id;
    return n;
  }
  QPushButton* chip(const QString& text) {
    for (QPushButton* b : page().libraries().findChildren<QPushButton*>())
      if (b->text().startsWith(text)) return b;
    FAIL("no library called " << text.toStdString());
    return nullptr;
  }
  QString written(const char* name, const QByteArray& text) {
    const QString at = dir.filePath(QLatin1String(name));
    QFile out(at);
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(text);
    return at;
  }
  void wait_read() {
    QElapsedTimer timer;
    timer.start();
    while (page().import().is_reading() && timer.elapsed() < 20000) QTest::qWait(5);
    REQUIRE_FALSE(page().import().is_reading());
  }
  QString said() { return find<QLabel>("strip_what")->text(); }
  ~Libraries() {
    if (!window) return;
    page().filters().clear();
    find<QLineEdit>("cutter_filter")->clear();
    page().libraries().set_current(std::nullopt);
    model().set_library(std::nullopt);
    model().set_sort({});
  }
};

}  // namespace

TEST_CASE("a library is made, renamed, copied, switched off and deleted, and every step comes back") {
  Libraries w;
  w.click(w.find("new_library"));
  w.pick("Loan from next door");
  const Id loan = w.library("Loan from next door").id;
  CHECK(w.model().library() == loan);
  w.page().make_cutter(CutterKind::drill);
  CHECK(w.cutter().library == loan);
  CHECK(w.cutter().number == 1);
  w.page().libraries().open_actions(loan);
  w.pick("Rename");
  w.pick("Back on Friday");
  CHECK(w.state().libraries.find(loan)->name == "Back on Friday");
  w.page().libraries().rename(loan);
  w.pick("Iron and steels");  // two of one name cannot be told apart
  CHECK(w.state().libraries.find(loan)->name == "Back on Friday");
  w.key(Qt::Key_Escape);
  const Id iron = w.library("Iron and steels").id;
  const int cutters = w.count_in(iron);
  w.page().libraries().copy(iron);
  const Library& copy = w.library("Iron and steels, copy");
  CHECK(w.count_in(copy.id) == cutters);
  const Cutter* original = w.state().cutter_numbered(iron, 219);
  const Cutter* copied = w.state().cutter_numbered(copy.id, 219);
  REQUIRE(copied);
  CHECK(copied->diameter_mm == original->diameter_mm);
  CHECK(w.state().assemblies.of_cutter(copied->id).size() == w.state().assemblies.of_cutter(original->id).size());
  w.window->run("undo");
  CHECK(w.state().libraries.named("Iron and steels, copy") == nullptr);
  // Switched off: its cutters are not among all, but can be looked at.
  w.click(w.chip("All libraries"));
  const int all = w.model().rowCount();
  w.page().libraries().open_actions(iron);
  w.pick("Switch off");
  CHECK(w.model().rowCount() == all - cutters);
  w.click(w.chip("Iron and steels"));
  CHECK(w.model().rowCount() == cutters);
  w.page().libraries().switch_on(iron, true);
  w.page().libraries().remove(iron);
  CHECK(w.state().libraries.find(iron) == nullptr);
  CHECK(w.count_in(iron) == 0);
  w.window->run("undo");
  CHECK(w.count_in(iron) == cutters);
  REQUIRE(w.state().cutter_numbered(iron, 219));
  CHECK(w.state().assembly_of(w.state().cutter_numbered(iron, 219)->id));
}

TEST_CASE("cutters go to another library by keys, by dropping them, as a move or a copy; taken numbers give way") {
  Libraries w;
  const Id iron = w.library("Iron and steels").id, standing = w.library("Standing set").id;
  w.choose_cutter(219);
  w.page().select({w.state().cutter_numbered(iron, 216)->id, w.state().cutter_numbered(iron, 219)->id});
  CHECK(w.page().selected().size() == 2);
  w.window->run("move_cutters");
  w.pick("Standing");
  CHECK(w.state().cutter_numbered(iron, 219) == nullptr);
  CHECK(w.count_in(standing) == 18);
  for (const Cutter& c : w.state().cutters)
    if (c.library == standing)
      CHECK((breach_of(w.state(), c).has_value() ==
             (c.kind == CutterKind::probe)));  // 219 is not for the standing set: 17 and 18
  CHECK(w.said().contains("2 with another number"));
  w.window->run("undo");
  CHECK(w.state().cutter_numbered(iron, 219));
  // Dropped on the chip; with Ctrl it is a copy.
  auto* mime = w.model().mimeData(
      {w.model().index(w.model().row_of(w.state().cutter_numbered(iron, 219)->id), CutterModel::name)});
  QPushButton* chip = w.chip("Bronze and light");
  for (const bool copy : {false, true}) {
    QDragEnterEvent enter(QPoint(5, 5), Qt::MoveAction | Qt::CopyAction, mime, Qt::LeftButton,
                          copy ? Qt::ControlModifier : Qt::NoModifier);
    QApplication::sendEvent(chip, &enter);
    CHECK(enter.dropAction() == (copy ? Qt::CopyAction : Qt::MoveAction));
    QDropEvent drop(QPointF(5, 5), Qt::MoveAction | Qt::CopyAction, mime, Qt::LeftButton,
                    copy ? Qt::ControlModifier : Qt::NoModifier);
    QApplication::sendEvent(chip, &drop);
    const Id bronze = w.library("Bronze and light").id;
    CHECK(w.count_in(bronze) == 11);
    CHECK((w.state().cutter_numbered(iron, 219) != nullptr) == copy);
    w.window->run("undo");
  }
  delete mime;
  // Several deleted at once, one step back.
  const std::size_t before = w.state().cutters.size();
  w.page().select({w.state().cutter_numbered(iron, 216)->id, w.state().cutter_numbered(iron, 219)->id,
                   w.state().cutter_numbered(iron, 222)->id});
  w.page().delete_cutter();
  CHECK(w.state().cutters.size() == before - 3);
  w.window->run("undo");
  CHECK(w.state().cutters.size() == before);
}

TEST_CASE(
    "the list is narrowed by values with counts and by ranges, as chips that come off, kept under a name, there at the "
    "next start") {
  Libraries w;
  const int all = w.model().rowCount();
  w.window->run("narrow");
  w.pick("Kind");
  const int balls = [&] {
    int n = 0;
    for (const auto& v : w.model().value_counts("kind")) n += v.value == "ball" ? v.count : 0;
    return n;
  }();
  CHECK(balls > 1);
  w.pick("Ball end mill");
  CHECK(w.model().rowCount() == balls);
  w.pick("Drill");  // the list stays for another value
  w.key(Qt::Key_Escape);
  CHECK(w.model().rowCount() > balls);
  w.page().filters().choose_values("diameter_mm", QPoint(100, 100));
  w.pick("1/4\" .. 10 mm");
  CHECK(w.shows("chip_kind"));
  CHECK(w.shows("chip_diameter_mm"));
  const int both = w.model().rowCount();
  CHECK(both < all);
  for (int r = 0; r < both; ++r) {
    const Cutter& c = *w.model().cutter_at(r);
    CHECK((c.kind == CutterKind::ball || c.kind == CutterKind::drill));
    CHECK(*c.diameter_mm >= 6.35 - 1e-6);
    CHECK(*c.diameter_mm <= 10);
  }
  w.page().filters().choose_values("diameter_mm", QPoint(100, 100));
  w.pick("wide");  // no range: said, and nothing is lost
  CHECK(w.said().contains("Diameter"));
  w.key(Qt::Key_Escape);
  CHECK(w.model().rowCount() == both);
  w.click(w.find("kept_filters"));
  w.pick("Small holes");
  w.window->close();
  w.again();
  CHECK(w.model().rowCount() == both);
  w.click(w.find("chip_kind"));
  CHECK(w.model().rowCount() > both);
  w.page().filters().clear();
  CHECK(w.model().rowCount() == all);
  w.click(w.find("kept_filters"));
  w.pick("Small holes");
  CHECK(w.model().rowCount() == both);
  QSettings().remove(QStringLiteral("cutters/saved_filters"));
}

TEST_CASE("sorting by several columns, favourites on top, what is changed stays in view") {
  Libraries w;
  w.model().sort_by(CutterModel::flutes);
  w.model().sort_by(CutterModel::diameter, true);
  w.model().sort_by(CutterModel::diameter, true);  // the other way round
  for (int r = 1; r < w.model().rowCount(); ++r) {
    const Cutter &a = *w.model().cutter_at(r - 1), &b = *w.model().cutter_at(r);
    if (!a.flutes || !b.flutes) continue;
    CHECK(*a.flutes <= *b.flutes);
    if (*a.flutes == *b.flutes && a.diameter_mm && b.diameter_mm) CHECK(*a.diameter_mm >= *b.diameter_mm);
  }
  CHECK(w.model().headerData(CutterModel::diameter, Qt::Horizontal, Qt::DisplayRole).toString().endsWith("↓2"));
  w.choose_cutter(258);
  w.window->run("favourite");
  CHECK(w.model().cutter_at(0)->number == 258);
  w.window->run("undo");
  CHECK(w.model().cutter_at(0)->number != 258);
  // A change that the filter would hide does not take the cutter away.
  w.model().set_sort({});
  CutterFilter filter;
  filter.values["maker"] = {"Heddlemoor"};
  w.page().filters().set_filter(filter);
  w.choose_cutter(219);
  REQUIRE(w.model().row_of(w.workspace().cutter_id()) >= 0);
  Cutter other = w.cutter();
  other.maker = "Ferrow";
  w.window->shop().edit(w.cutter(), other, "another maker");
  CHECK(w.model().row_of(w.workspace().cutter_id()) >= 0);
  w.page().filters().set_filter(filter);
  CHECK(w.model().row_of(w.workspace().cutter_id()) < 0);
}

TEST_CASE("one property of many cutters: old and new line by line, some left out, one step back") {
  Libraries w;
  const Id iron = w.library("Iron and steels").id;
  const std::vector<Id> ids{w.state().cutter_numbered(iron, 210)->id, w.state().cutter_numbered(iron, 213)->id,
                            w.state().cutter_numbered(iron, 219)->id};
  w.page().select(ids);
  w.window->run("change_many");
  CHECK(w.page().view() == CuttersPage::changing);
  w.page().bulk().set_property("flute_length_mm");
  w.type_into("bulk_value", "1 1/8\"", false);
  const ChangeLines& lines = *w.page().bulk().preview().lines();
  REQUIRE(lines.size() == 3);
  CHECK(lines.change(2).contains("26 → 28.575"));
  w.page().bulk().preview().pick(1, false);
  CHECK(w.find<QPushButton>("import_take")->isVisible());
  CHECK(w.state().cutters.find(ids[0])->flute_length_mm == 13.0);
  w.page().bulk().preview().take();
  CHECK(w.page().view() == CuttersPage::list);
  CHECK(w.state().cutters.find(ids[0])->flute_length_mm == 28.575);
  CHECK(w.state().cutters.find(ids[0])->typed.at("flute_length_mm") == "1 1/8\"");
  CHECK(w.state().cutters.find(ids[0])->name.find("28.575") != std::string::npos);  // a suggested name follows
  CHECK(w.state().cutters.find(ids[1])->flute_length_mm == 19.0);
  w.window->run("undo");
  CHECK(w.state().cutters.find(ids[0])->flute_length_mm == 13.0);
  w.page().change_many();
  w.page().bulk().set_property("diameter_mm");
  w.type_into("bulk_value", "wide", false);
  CHECK_FALSE(w.page().bulk().preview().picked());
  w.page().bulk().preview().leave();
  CHECK(w.page().view() == CuttersPage::list);
}

TEST_CASE("number blocks: breaches are seen, free numbers come as a plan first") {
  Libraries w;
  const Id standing = w.library("Standing set").id;
  const Cutter* probe = w.state().cutter_numbered(standing, 15);
  REQUIRE(probe->kind == CutterKind::probe);
  const Id id = probe->id;
  const QModelIndex cell = w.model().index(w.model().row_of(id), CutterModel::number);
  CHECK(cell.data(CutterModel::breach_role).toString().contains("every 10th"));
  CHECK(w.model()
            .index(w.model().row_of(w.state().cutter_numbered(standing, 14)->id), CutterModel::number)
            .data(CutterModel::breach_role)
            .toString()
            .isEmpty());
  // A new cutter gets a number of its blocks: in the standing set, and every tenth.
  w.click(w.chip("Standing set"));
  w.page().make_cutter(CutterKind::probe);
  CHECK(w.cutter().number == 20);
  w.window->run("undo");
  w.click(w.chip("All libraries"));
  w.page().free_numbers();
  const ChangeLines& plan = *w.page().bulk().preview().lines();
  REQUIRE(plan.size() == 1);
  CHECK(plan.change(0).contains("15 → 20"));
  w.page().bulk().preview().take();
  CHECK(w.state().cutters.find(id)->number == 20);
  w.page().free_numbers();
  CHECK(w.page().bulk().preview().lines()->size() == 0);
  w.page().bulk().preview().leave();
  w.window->run("number_blocks");
  CHECK(w.find<QTableView>("number_block_table")->model()->rowCount() == 4);
}

TEST_CASE("a file is read aside, its lines in all five states, columns changed and remembered, taken as one step") {
  Libraries w;
  const Id iron = w.library("Iron and steels").id;
  const QString list =
      w.written("cabinet.csv",
                "Tool no;Type;Dia;Flutes;Flute length;Shelf\n210;End mill;6;4;13;A\n219;End "
                "mill;12;4;28;A\n301;Reamer;8;6;33;B\n400;Ball nose;6;2;13;C\n403;End mill;ten;4;22;D\n");
  w.page().import_file(list, iron);
  w.wait_read();
  REQUIRE(w.page().view() == CuttersPage::importing);
  const ChangeLines* lines = w.page().import().preview().lines();
  REQUIRE(lines);
  REQUIRE(lines->size() == 5);
  CHECK(lines->state(0) == MergeState::same);
  CHECK(lines->state(1) == MergeState::changed);
  CHECK(lines->change(1).contains("26 → 28"));
  CHECK(lines->state(2) == MergeState::conflict);
  CHECK(lines->state(3) == MergeState::fresh);
  CHECK(lines->state(4) == MergeState::faulty);
  // The column nobody knows is the series here.
  w.page().import().set_column(5, "series");
  w.wait_read();
  lines = w.page().import().preview().lines();
  CHECK(lines->state(0) == MergeState::changed);
  w.page().import().preview().leave();
  w.page().import_file(list, iron);
  w.wait_read();
  CHECK(w.page().import().preview().lines()->state(0) == MergeState::changed);  // remembered
  const std::size_t before = w.state().cutters.size();
  w.page().import().preview().take();
  CHECK(w.page().view() == CuttersPage::list);
  CHECK(w.state().cutters.size() == before + 1);
  CHECK(w.state().cutter_numbered(iron, 219)->flute_length_mm == 28.0);
  CHECK(w.state().cutter_numbered(iron, 219)->series == "A");
  CHECK(w.state().cutter_numbered(iron, 301)->kind == CutterKind::drill);
  w.window->run("undo");
  CHECK(w.state().cutters.size() == before);
  QSettings().remove(QStringLiteral("import_columns"));
  // What is no file of cutters says so, and the list is there again.
  w.page().import_file(w.written("words.csv", "a,b\n1,2\n"), iron);
  w.wait_read();
  CHECK(w.said().contains("line of known headings"));
  CHECK(w.page().view() == CuttersPage::list);
  w.page().import_file(w.dir.filePath("gone.json"), iron);
  w.wait_read();
  CHECK(w.said().contains("gone.json"));
  // Cancelled.
  QByteArray many = "No,Type,Dia\n";
  for (int i = 1; i < 60000; ++i) many += QByteArray::number(i + 1000) + ",drill,5\n";
  w.page().import_file(w.written("many.csv", many), iron);
  REQUIRE(w.page().import().is_reading());
  w.click(w.find("import_cancel"));
  w.wait_read();
  CHECK(w.said().contains("cancelled"));
  CHECK(w.state().cutters.size() == before);
}

TEST_CASE("very many lines are taken aside, and nothing is taken where the shop changed meanwhile") {
  Libraries w;
  const Id iron = w.library("Iron and steels").id;
  const std::size_t before = w.state().cutters.size();
  QByteArray many = "No,Type,Dia,Name\n";
  for (int i = 0; i < 4000; ++i)
    many += QByteArray::number(i + 1000) + ",drill," + QByteArray::number(1 + i * 0.004) + ",Drill " +
            QByteArray::number(i) + "\n";
  const QString file = w.written("many.csv", many);
  ChangePreview& preview = w.page().import().preview();
  const auto wait_taken = [&] {
    QElapsedTimer timer;
    timer.start();
    while (w.page().view() == CuttersPage::importing && timer.elapsed() < 20000) QTest::qWait(5);
    REQUIRE(w.page().view() == CuttersPage::list);
  };
  w.page().import_file(file, iron);
  w.wait_read();
  REQUIRE(preview.picked() == 4000);
  preview.pick(7, false);
  w.click(w.find("import_take"));
  // Nothing can be unpicked or left any more, and it is not there at once.
  CHECK_FALSE(w.find("import_leave")->isEnabled());
  CHECK(w.find<QPushButton>("import_take")->text().contains("Applying"));
  preview.pick(8, false);
  preview.leave();
  CHECK(w.page().view() == CuttersPage::importing);
  CHECK(w.state().cutters.size() == before);
  wait_taken();
  CHECK(w.state().cutters.size() == before + 3999);
  CHECK(w.state().cutter_numbered(iron, 1006)->name == "Drill 6");
  CHECK(w.state().cutter_numbered(iron, 1007) == nullptr);
  REQUIRE(w.state().cutter_numbered(iron, 1008));
  CHECK(preview.findChild<QWidget*>(QStringLiteral("import_leave"))->isEnabled());  // other previews have one, too
  w.window->run("undo");
  CHECK(w.state().cutters.size() == before);
  w.window->run("redo");
  CHECK(w.state().cutters.size() == before + 3999);
  w.window->run("undo");
  // A change in between: the lines were looked at against another shop.
  w.page().import_file(file, iron);
  w.wait_read();
  w.click(w.find("import_take"));
  const Cutter first = w.state().cutters[0];
  Cutter renamed = first;
  renamed.notes = "changed in between";
  w.workspace().shop().edit(first, renamed, QStringLiteral("Notes"));
  wait_taken();
  CHECK(w.state().cutters.size() == before);
  CHECK(w.state().cutters[0].notes == "changed in between");
  CHECK(w.said().contains("has changed meanwhile"));
}

TEST_CASE("a library is written and read in the window; what a format does not carry is said") {
  Libraries w;
  const Id iron = w.library("Iron and steels").id;
  for (const char* name : {"iron.json", "iron.csv", "iron.xlsx", "iron.xml"}) {
    const QString at = w.dir.filePath(QLatin1String(name));
    w.window->write_cutters(at, iron);
    QElapsedTimer timer;
    timer.start();
    while (!w.said().contains(QLatin1String(name)) && timer.elapsed() < 10000) QTest::qWait(5);
    CHECK(w.said().contains("37 cutters"));
    CHECK(w.said().contains(", without ") == (std::string_view(name) != "iron.json"));
    w.page().import_file(at, iron);
    w.wait_read();
    const ChangeLines* lines = w.page().import().preview().lines();
    REQUIRE(lines);
    for (std::size_t i = 0; i < lines->size(); ++i) CHECK(lines->state(i) == MergeState::same);
    w.page().import().preview().leave();
  }
  w.window->write_cutters(w.dir.filePath("no/such/folder/x.json"), iron);
  QElapsedTimer timer;
  timer.start();
  while (!w.said().contains("x.json") && timer.elapsed() < 10000) QTest::qWait(5);
  CHECK(w.said().contains("x.json"));
}

TEST_CASE("the past of a cutter: who changed what, and back to any point; where it is used") {
  Libraries w;
  w.choose_cutter(219);
  const Cutter first = w.cutter();
  for (const double length : {27.0, 28.0, 29.0}) {
    Cutter next = w.cutter();
    next.flute_length_mm = length;
    w.window->shop().edit(w.cutter(), next, QStringLiteral("longer"));
  }
  REQUIRE(w.window->shop().wait_until_saved(5000));
  w.window->run("history");
  HistoryPanel& panel = w.window->cutter_bench().history_panel();
  QElapsedTimer timer;
  timer.start();
  while (panel.past().size() != 4 && timer.elapsed() < 5000) QTest::qWait(5);
  REQUIRE(panel.past().size() == 4);
  CHECK(panel.past()[0].changes == QStringList{"Flute length 28 → 29 mm"});
  CHECK(panel.past()[1].after.flute_length_mm == 28.0);
  CHECK(panel.past()[3].after.flute_length_mm == first.flute_length_mm);
  CHECK(w.find<QTableView>("used_table")->model()->rowCount() == 1);  // the spindle rail's outside
  panel.go_back(3);
  Cutter now = w.cutter();
  now.revision = first.revision;
  CHECK(now == first);
  w.window->run("undo");
  CHECK(w.cutter().flute_length_mm == 29.0);
  w.window->cutter_bench().show_side(CutterBench::conditions);
}

TEST_CASE(
    "a library shared as a file: ours goes out, theirs waits to be looked at, a file that is gone is said and chosen "
    "anew") {
  Libraries l;
  const Library& end_mills = *l.state().libraries.find(l.state().cutters[0].library);
  const Id library = end_mills.id;
  SharedLibraries& shared = l.page().shared();
  const QString file = l.dir.filePath("Shared.json");
  const auto wait = [&](auto until) {
    QElapsedTimer timer;
    timer.start();
    while (!until() && timer.elapsed() < 20000) QTest::qWait(10);
    REQUIRE(until());
  };
  shared.share(library, file);
  wait([&] { return QFile::exists(file) && !shared.is_busy(); });
  l.chip(QString::fromStdString(end_mills.name) + ", shared");
  // Another computer: what the file says, changed by somebody else.
  SharedPrints known;
  const auto others = [&](auto change) {
    SharedPrints nothing;
    LibraryFile theirs =
        exchange_shared(shared_side(l.state(), *l.state().libraries.find(library)), file, nothing).theirs;
    exchange_shared(theirs, file, known);
    change(theirs);
    REQUIRE(exchange_shared(theirs, file, known).written == 1);
  };
  const int number = l.state().cutters[0].number;
  others([&](LibraryFile& f) { f.cutters[0].notes = "dull, reground in May"; });
  wait([&] { return shared.waiting(library) == 1; });
  CHECK(l.state().cutters[0].notes != "dull, reground in May");
  l.chip(QString::fromStdString(end_mills.name) + ", shared: 1 to review");
  CHECK(l.said().contains("changed by someone else"));
  REQUIRE(l.window->run("look_at_shared"));
  REQUIRE(l.page().view() == CuttersPage::sharing);
  ChangePreview& preview = l.page().shared_changes();
  CHECK(l.cell(*preview.table().model(), 0, 3).startsWith(QString::number(number)));
  CHECK(l.cell(*preview.table().model(), 0, 4).contains("dull, reground in May"));
  SECTION("it is taken") {
    for (QPushButton* b : preview.findChildren<QPushButton*>("import_take")) l.click(b);
    CHECK(l.page().view() == CuttersPage::list);
    CHECK(l.state().cutters[0].notes == "dull, reground in May");
    wait([&] { return shared.waiting(library) == 0 && !shared.is_busy(); });
  }
  SECTION("ours stands") {
    preview.pick(0, false);
    for (QPushButton* b : preview.findChildren<QPushButton*>("import_other")) l.click(b);
    wait([&] { return shared.waiting(library) == 0 && !shared.is_busy(); });
    const auto read = read_library([&] {
      QFile f(file);
      REQUIRE(f.open(QIODevice::ReadOnly));
      return f.readAll().toStdString();
    }());
    REQUIRE(read.has_value());
    CHECK(read->file.cutters[0].notes != "dull, reground in May");
  }
  SECTION("the file is gone") {
    preview.leave();
    REQUIRE(QFile::rename(file, l.dir.filePath("Moved.json")));
    wait([&] { return shared.fault(library).contains("no longer in its folder"); });
    l.chip(QString::fromStdString(end_mills.name) + ", shared: file not found");
    shared.set_file(library, l.dir.filePath("Moved.json"));
    wait([&] { return shared.fault(library).isEmpty() && !shared.is_busy(); });
  }
  // A change here goes out by itself.
  const Cutter before = l.state().cutters[1];
  Cutter after = before;
  after.notes = "drawer Q7";
  const QString now = QString::fromStdString(shared.shared(library)->file);
  l.window->shop().edit(before, after, "notes");
  wait([&] {
    QFile f(now);
    return f.open(QIODevice::ReadOnly) && f.readAll().contains("drawer Q7");
  });
  shared.stop(library);
  CHECK(QFile::exists(now));
  CHECK(l.state().shared_libraries.empty());
}

TEST_CASE("a shared library is opened beside the shop, and its cutters come in as one step") {
  test::Window other;
  const ShopState& from = other.state();
  const Id library = from.cutters[0].library;
  const QString file = other.dir.filePath("Shared.json");
  SharedPrints nothing;
  REQUIRE(exchange_shared(shared_side(from, *from.libraries.find(library)), file, nothing, true).fault.isEmpty());
  const auto count = static_cast<std::size_t>(
      std::count_if(from.cutters.begin(), from.cutters.end(), [&](const Cutter& c) { return c.library == library; }));
  ShopState empty = from;
  empty.cutters = {}, empty.assemblies = {}, empty.recipes = {}, empty.libraries = {}, empty.jobs = {},
  empty.number_blocks = {};
  Libraries l(empty);
  l.page().shared().open(file);
  QElapsedTimer timer;
  timer.start();
  while (l.page().view() != CuttersPage::sharing && timer.elapsed() < 20000) QTest::qWait(10);
  REQUIRE(l.page().view() == CuttersPage::sharing);
  CHECK(l.page().shared_changes().picked() == static_cast<int>(count));
  l.page().shared_changes().take();
  CHECK(l.state().cutters.size() == count);
  CHECK(l.state().assemblies.size() > 0);
  l.window->shop().undo();
  CHECK(l.state().cutters.empty());
  // Undone here is not deleted there: it waits to be decided.
  timer.restart();
  while (l.page().shared().waiting(library) != static_cast<int>(count) && timer.elapsed() < 20000) QTest::qWait(10);
  CHECK(l.page().shared().waiting(library) == static_cast<int>(count));
  l.page().shared().open(file);
  CHECK(l.said().contains("is already open"));
}

TEST_CASE("the stock-taking sheet reads back as it is, and with what was written on it") {
  Libraries l;
  const Id library = l.state().cutters[0].library;
  l.page().libraries().set_current(library);
  emit l.page().libraries().chosen(library);
  const auto count = static_cast<std::size_t>(l.count_in(library));
  for (const char* name : {"stock.pdf", "stock.csv"}) {
    const QString file = l.dir.filePath(QLatin1String(name));
    l.window->write_stock_sheet(file);
    QElapsedTimer timer;
    timer.start();
    while (!QFile::exists(file) && timer.elapsed() < 20000) QTest::qWait(10);
    REQUIRE(QFile::exists(file));
    IncomingCutters read = read_cutter_file(file, UnitSystem::metric, known_names(l.state()));
    INFO(name << ": " << read.fault.toStdString());
    REQUIRE(read.fault.isEmpty());
    const CutterPreview preview =
        preview_cutters(l.state(), l.library(l.state().libraries.find(library)->name.c_str()), read);
    REQUIRE(preview.lines.size() == count);  // empty lines are none
    for (const auto& line : preview.lines) CHECK(line.state == MergeState::same);
  }
  // Counted, and one more found in a drawer.
  QFile csv(l.dir.filePath("stock.csv"));
  REQUIRE(csv.open(QIODevice::ReadWrite));
  QByteArray text = csv.readAll();
  QList<QByteArray> lines = text.split('\n');
  for (QByteArray& line : lines)
    if (line.startsWith(",,,")) {
      line = ",,Ball nose,3/8\",2,,,,HSS,Ferrow,FB-38,4,from the drawer,";
      line.replace("3/8\"", "\"3/8\"\"\"");
      break;
    }
  csv.seek(0);
  csv.write(lines.join('\n'));
  csv.close();
  l.page().import_file(csv.fileName(), library);
  l.wait_read();
  CHECK(l.page().import().preview().picked() == 1);
  l.page().import().preview().take();
  CHECK(l.count_in(library) == static_cast<int>(count) + 1);
  const Cutter& found = l.state().cutters[l.state().cutters.size() - 1];
  CHECK(found.kind == CutterKind::ball);
  CHECK(found.diameter_mm == Approx(9.525));
  CHECK(found.in_stock == 4);
  CHECK(found.number >= 1);
}

TEST_CASE("find anything and the list over ten thousand cutters") {
  Libraries w(made_shop(10000));
  QElapsedTimer timer;
  timer.start();
  while (!w.workspace().catalogue().is_complete() && timer.elapsed() < 20000) QTest::qWait(10);
  CHECK(w.workspace().catalogue().is_complete());
  CHECK(w.model().rowCount() == 10000);
  w.window->run("find");
  const Cutter& wanted = w.state().cutters[6789];
  w.pick(QString::fromStdString(wanted.order_code));
  CHECK(w.workspace().cutter_id() == wanted.id);
  w.type_into("cutter_filter", QString::fromStdString(wanted.order_code), false);
  CHECK(w.model().rowCount() == 1);
  w.find<QLineEdit>("cutter_filter")->clear();
  // A change goes to its place without arranging everything anew.
  Cutter other = wanted;
  other.number = 99999;
  w.window->shop().edit(wanted, other, "renumbered");
  CHECK(w.model().cutter_at(w.model().rowCount() - 1)->id == other.id);
  // One property of all of them, but one, as one step.
  w.page().table().selectAll();
  w.page().change_many();
  BulkChange& bulk = w.page().bulk();
  bulk.set_property("maker");
  bulk.set_text("Heddlemoor");
  const ChangeLines* lines = bulk.preview().lines();
  REQUIRE(lines->size() == 10000);
  const auto is_there = [](const Cutter& c) { return c.maker == "Heddlemoor"; };
  const auto already = std::count_if(w.state().cutters.begin(), w.state().cutters.end(), is_there);
  CHECK(bulk.preview().picked() == 10000 - already);
  std::size_t left = 0;
  while (lines->state(left) != MergeState::changed) ++left;
  CHECK(lines->change(left).endsWith("→ Heddlemoor"));
  bulk.preview().pick(left, false);
  const std::uint64_t before = w.state().cutters.version();
  bulk.preview().take();
  CHECK(w.state().cutters.version() == before);  // aside
  timer.restart();
  while (w.page().view() != CuttersPage::list && timer.elapsed() < 20000) QTest::qWait(5);
  CHECK(std::count_if(w.state().cutters.begin(), w.state().cutters.end(), is_there) == 9999);
  w.window->run("undo");
  CHECK(std::count_if(w.state().cutters.begin(), w.state().cutters.end(), is_there) == already);
}
