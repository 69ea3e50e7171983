// The context line: one word changes, every number follows. Find anything, units, night, reading only.
#include <QFile>
#include <map>
#include <set>

#include <QHeaderView>
#include "app/window/opening.h"

#include <numbers>
#include "core/cutter/kinds.h"

#include "window_fixture.h"

using namespace pecorra;

TEST_CASE("material, machine, operation and pace are chosen in the line by keys alone") {
  test::Window w;
  w.choose_cutter(219);
  const double before = w.workspace().evaluation_of(w.cutter())->resolution.conditions.n_rpm;
  w.key(Qt::Key_M, Qt::AltModifier);
  w.pick("EN-GJL");
  CHECK(w.workspace().material()->name == "EN-GJL-250");
  CHECK(w.workspace().evaluation_of(w.cutter())->resolution.conditions.n_rpm != before);
  w.key(Qt::Key_O, Qt::AltModifier);
  w.pick("slotting");
  CHECK(w.workspace().context().operation == OperationKind::slot);
  w.key(Qt::Key_P, Qt::AltModifier);
  w.pick("85");  // not in the list: taken as typed
  CHECK(w.workspace().context().pace == 85);
  w.key(Qt::Key_N, Qt::AltModifier);
  w.pick("Batten");
  CHECK(w.workspace().machine()->name == "Batten R");
  CHECK(w.find<QAbstractButton>("context_machine")->text() == "Batten R");
}

TEST_CASE("a list that has just been opened stays open when the window manager is late with the focus") {
  test::Window w;
  w.key(Qt::Key_M, Qt::AltModifier);
  QWidget* list = QApplication::activePopupWidget();
  REQUIRE(list);
  list->close();  // as the toolkit does with every open list when the focus comes to a window
  CHECK(list->isVisible());
  w.pick("EN-GJL");
  CHECK(w.workspace().material()->name == "EN-GJL-250");
  w.key(Qt::Key_M, Qt::AltModifier);
  w.key(Qt::Key_Escape);
  CHECK_FALSE(list->isVisible());
  w.key(Qt::Key_M, Qt::AltModifier);
  QTest::mouseClick(list, Qt::LeftButton, {}, QPoint(-40, -40));  // beside it
  CHECK_FALSE(list->isVisible());
}

TEST_CASE("a pace that makes no sense is not taken") {
  test::Window w;
  w.key(Qt::Key_P, Qt::AltModifier);
  w.pick("5000");
  CHECK(w.workspace().context().pace == 100);
  QApplication::activePopupWidget()->hide();
}

TEST_CASE("find anything goes to cutters, materials, jobs and actions") {
  test::Window w;
  w.key(Qt::Key_K, Qt::ControlModifier);
  w.pick("HS-1616");
  CHECK(w.cutter().number == 222);
  w.key(Qt::Key_K, Qt::ControlModifier);
  w.pick("GG25");
  CHECK(w.workspace().material()->name == "EN-GJL-250");
  w.key(Qt::Key_K, Qt::ControlModifier);
  w.pick("roller end");
  CHECK(w.window->page() == MainWindow::jobs);
  CHECK(w.workspace().job()->name == "Roller end cap");
  w.key(Qt::Key_K, Qt::ControlModifier);
  w.pick("page: tables");
  CHECK(w.window->page() == MainWindow::tables);
}

TEST_CASE("every action has a text, and no key stands for two") {
  test::Window w;
  std::map<QString, QString> keys;
  std::set<QString> ids;
  for (const Command& c : w.window->commands()) {
    CHECK_FALSE(c.text.isEmpty());
    CHECK(ids.insert(c.id).second);
    if (c.keys == "Del" || c.keys == "Return") continue;  // these belong to the list that has the focus
    for (const QString& key : c.keys.split(", ", Qt::SkipEmptyParts)) {
      INFO(key.toStdString());
      CHECK(keys.emplace(key, c.id).second);
    }
  }
  CHECK_FALSE(w.window->run("nonsense"));
}

TEST_CASE("the display unit changes what is shown, never what is stored") {
  test::Window w;
  w.choose_cutter(3);  // 7/16" as bought
  const Cutter before = w.cutter();
  w.key(Qt::Key_U, Qt::ControlModifier);
  CHECK(w.workspace().units() == UnitSystem::inch);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  CHECK(w.find<QLineEdit>("field_diameter_mm")->text() == "7/16\"");
  w.key(Qt::Key_U, Qt::ControlModifier);
  CHECK(w.cutter() == before);
  CHECK_FALSE(w.window->shop().can_undo());
}

TEST_CASE("pages by key, bench folded and back, night and day") {
  test::Window w;
  for (const auto& [key, page] : {std::pair{Qt::Key_2, MainWindow::holders},
                                  {Qt::Key_3, MainWindow::tables},
                                  {Qt::Key_4, MainWindow::jobs},
                                  {Qt::Key_1, MainWindow::cutters}}) {
    w.key(key, Qt::ControlModifier);
    CHECK(w.window->page() == page);
  }
  w.key(Qt::Key_F9);
  CHECK_FALSE(w.window->cutter_bench().isVisible());
  w.key(Qt::Key_F9);
  CHECK(w.window->cutter_bench().isVisible());
  w.window->run("night");
  CHECK(colours().paper == QColor(0x1E2423));
  CHECK(QApplication::palette().color(QPalette::Window) == colours().paper);
  w.window->run("night");
  CHECK(colours().paper == QColor(0xF6F2E9));
}

TEST_CASE("a window that appears has nothing left to paint again") {
  struct Later : QObject {
    int updates = 0;
    bool eventFilter(QObject*, QEvent* event) override {
      updates += event->type() == QEvent::UpdateLater;
      return false;
    }
  } later;
  test::Window w;
  w.window->hide();
  QApplication::processEvents();
  w.window->appear();
  qApp->installEventFilter(&later);
  QApplication::processEvents();
  CHECK(later.updates < 10);  // of the hundred and more widgets
}

TEST_CASE("text can be read on its ground by day and by night (contrast of WCAG 2.1, at least 4.5)") {
  const auto luminance = [](const QColor& c) {
    double sum = 0;
    const double parts[] = {c.redF(), c.greenF(), c.blueF()}, weights[] = {0.2126, 0.7152, 0.0722};
    for (int i = 0; i < 3; ++i)
      sum += weights[i] * (parts[i] <= 0.03928 ? parts[i] / 12.92 : std::pow((parts[i] + 0.055) / 1.055, 2.4));
    return sum;
  };
  const auto contrast = [&](const QColor& a, const QColor& b) {
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
  };
  for (const bool night : {false, true}) {
    Look::get().set_night(night);
    const Colours& d = colours();
    for (const QColor& ground : {d.paper, d.raised, d.lit, d.side, d.notice})
      for (const QColor& text : {d.ink, d.quiet, d.accent, d.error, d.heading, d.warning_text, d.good_text}) {
        INFO((night ? "night " : "day ") << text.name().toStdString() << " on " << ground.name().toStdString());
        CHECK(contrast(text, ground) >= 4.5);
      }
  }
  Look::get().set_night(false);
}

TEST_CASE("the strip says what was done and whether it is saved") {
  test::Window w;
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  w.type_into("field_reach_mm", "38");
  CHECK(w.window->strip().said() == "Reach 37 → 38 mm");
  REQUIRE(w.window->shop().wait_until_saved(5000));
  w.wait_until([&] { return w.find<QLabel>("strip_saved")->text().endsWith("saved"); });
}

TEST_CASE("a shop that can only be read says so and changes nothing") {
  test::Window w;
  w.window.reset();
  auto loaded = load_shop(w.file);
  loaded->read_only = true;
  w.window = std::make_unique<MainWindow>(Shop::start(w.file, std::move(*loaded)));
  w.window->show();
  w.choose_cutter(219);
  w.window->cutter_bench().show_side(CutterBench::sizes);
  w.type_into("field_reach_mm", "38");
  CHECK(w.cutter().reach_mm == 37);
  CHECK(w.window->strip().said().contains("read-only"));
  CHECK(w.find<QLineEdit>("field_reach_mm")->text() == "37");
}

TEST_CASE("opening a shop that is none leaves the window as it is and says why") {
  test::Window w;
  const QString words = w.dir.filePath("words.pecorra");
  QFile file(words);
  REQUIRE(file.open(QIODevice::WriteOnly));
  file.write("words");
  file.close();
  w.window->open_shop(words);
  w.wait_until([&] { return w.window->strip().said().contains("is not a Pecorra shop"); });
  CHECK(w.window->isVisible());
}

TEST_CASE("order and widths of the columns are there again at the next start, and every kind is found by its name") {
  test::Window w;
  auto* header = w.window->cutters_page().table().horizontalHeader();
  header->moveSection(header->visualIndex(CutterModel::diameter), 2);
  header->resizeSection(CutterModel::made_of, 123);
  CHECK(w.window->close());
  auto shop = Shop::open(w.window->shop().file());
  REQUIRE(shop.has_value());
  MainWindow again(std::move(*shop));
  again.show();
  auto* restored = again.cutters_page().table().horizontalHeader();
  CHECK(restored->visualIndex(CutterModel::diameter) == 2);
  CHECK(restored->sectionSize(CutterModel::made_of) == 123);
  for (const CutterKind kind : cutter_kinds()) {
    const QString wanted = QStringLiteral("new_%1").arg(text_of(key_of(kind)));
    const auto& commands = again.commands();
    CHECK(std::any_of(commands.begin(), commands.end(),
                      [&](const Command& c) { return c.id == wanted && !c.text.isEmpty(); }));
  }
  for (const char* id : {"holders", "new_holder", "ghost", "picture", "assembly"}) {
    const auto& commands = again.commands();
    CHECK(std::any_of(commands.begin(), commands.end(), [&](const Command& c) { return c.id == QLatin1String(id); }));
  }
}

TEST_CASE("feeds are shown in the unit wanted, typed in it, and kept over a restart; Ctrl+U goes between mm and inch") {
  test::Window w;
  w.choose_cutter(219);
  w.click(w.find("context_units"));
  w.pick("mm/s");
  CHECK(w.workspace().units() == UnitSystem::metric_mm_s);
  CHECK(w.find<QAbstractButton>("context_units")->text() == "mm, mm/s");
  ChartView& chart = (w.window->show_page(MainWindow::tables), w.window->tables_page().chart_view());
  QApplication::processEvents();
  const auto of_219 = [&] {
    for (int r = 0; r < chart.row_count(); ++r)
      if (chart.grid().cutter_at(r).number == 219) return chart.cell_text(r, 0);
    return QString();
  };
  CHECK(of_219() == "S 2910 F 10.7");  // 640 mm/min
  w.window->tables_page().show_view(TablesPage::rows);
  RowModel& rows = w.window->tables_page().model();
  CHECK(rows.enter(rows.index(3, RowModel::vf), "12").isEmpty());  // mm/s
  CHECK(*rows.row_at(3)->feed_mm == Approx(720 / (1000 * 110 / (std::numbers::pi * 12)) / 4).epsilon(1e-3));
  w.window->run("undo");
  w.window->close();
  w.again();
  CHECK(w.workspace().units() == UnitSystem::metric_mm_s);
  w.key(Qt::Key_U, Qt::ControlModifier);
  CHECK(w.workspace().units() == UnitSystem::inch);
  w.key(Qt::Key_U, Qt::ControlModifier);
  CHECK(w.workspace().units() == UnitSystem::metric);
  w.window->show_page(MainWindow::cutters);
  w.window->close();  // as it was, for whoever opens next
  w.again();
}
