// What if, on the bench and in jobs, driven by keys and mouse in the real window.
#include <QDir>
#include <QFile>
#include <QLabel>
#include <QPushButton>
#include <cmath>

#include "app/cutting/cut_files.h"
#include "formats/sheet/sheet_file.h"
#include "shop/job_objects.h"
#include "window_fixture.h"

using namespace pecorra;
using test::Window;

namespace {

const CutInFront& on_board(Window& w) {
  REQUIRE(w.window->cut_board().cut());
  return *w.window->cut_board().cut();
}
double result(Window& w, std::optional<double> CutResults::*member) {
  return (on_board(w).report.results.*member).value_or(-1);
}

// Presses on one point, goes to another, lets go.
void drag(QWidget* on, QPointF from, QPointF to) {
  QTest::mousePress(on, Qt::LeftButton, {}, from.toPoint());
  QTest::mouseMove(on, ((from + to) / 2).toPoint());
  QMouseEvent move(QEvent::MouseMove, to, on->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(on, &move);
  QTest::mouseRelease(on, Qt::LeftButton, {}, to.toPoint());
  QApplication::processEvents();
}

}  // namespace

TEST_CASE(
    "Ctrl+B opens the board, Esc leaves it; figures, bars, drawing and curves follow what is typed while it is typed") {
  Window w;
  w.window->show_page(MainWindow::cutters);
  w.choose_cutter(219);
  w.key(Qt::Key_B, Qt::ControlModifier);
  CHECK(w.window->is_cut_board_shown());
  CHECK(result(w, &CutResults::n_rpm) == 2910);
  CHECK_FALSE(on_board(w).tried);
  const double power = result(w, &CutResults::motor_power_kw),
               chip = w.window->cut_board().curve_view(CurveKind::chip).curve()->working->y;
  w.type_into("try_ae_mm", "1.8", false);
  CHECK(on_board(w).tried);
  CHECK(result(w, &CutResults::motor_power_kw) < power);
  CHECK(w.window->cut_board().curve_view(CurveKind::chip).curve()->working->x == Approx(1.8));
  CHECK(w.window->cut_board().curve_view(CurveKind::chip).curve()->working->y < chip);
  CHECK(w.window->cutter_bench().cut()->report.results.motor_power_kw == on_board(w).report.results.motor_power_kw);
  bool drawn = false;
  for (const DimensionMark& m : w.window->cutter_bench().drawing().sheet().marks) drawn = drawn || m.text == "ae 1.8";
  CHECK(drawn);
  // In inches, and as a fraction.
  w.type_into("try_ap_mm", "3/8\"");
  CHECK(*on_board(w).cut.ap_mm == Approx(9.525));
  CHECK(*on_board(w).cut.ae_mm == Approx(1.8));
  CHECK(w.find<QLabel>("figures")->text().contains(QStringLiteral("force")));
  // Nothing of it has changed the shop.
  CHECK_FALSE(w.window->shop().can_undo());
  w.click(w.find<QPushButton>("as_it_comes"));
  CHECK_FALSE(on_board(w).tried);
  CHECK(*on_board(w).cut.ap_mm == 12);
  // An empty field gives the one input back.
  w.type_into("try_vc_m_min", "200");
  CHECK(result(w, &CutResults::vc_m_min) == Approx(200));
  w.type_into("try_vc_m_min", "");
  CHECK(result(w, &CutResults::n_rpm) == 2910);
  w.key(Qt::Key_Escape);
  CHECK_FALSE(w.window->is_cut_board_shown());
  CHECK(w.window->cutters_page().isVisible());
}

TEST_CASE(
    "a speed and a chip load that are tried together count together, and stand until another cutter is looked at") {
  Window w;
  w.choose_cutter(219);
  w.window->show_cut_board(true);
  w.type_into("try_vc_m_min", "150");
  w.type_into("try_fz_mm", "0.04");
  CHECK(result(w, &CutResults::vc_m_min) == Approx(150));
  CHECK(result(w, &CutResults::fz_mm) == Approx(0.04));
  CHECK(result(w, &CutResults::vf_mm_min) == Approx(result(w, &CutResults::n_rpm) * 4 * 0.04));
  w.type_into("try_ap_mm", "6");
  CHECK(result(w, &CutResults::vc_m_min) == Approx(150));
  bool said = false;
  for (const TrailStep& step : on_board(w).trail) said = said || step.step == "tried";
  CHECK(said);
  // Another material: sizes stay, a speed that was for the old one does not.
  Context context = w.workspace().context();
  context.material = w.state().materials.named("EN-GJL-250")->id;
  w.workspace().set_context(context);
  CHECK(*on_board(w).cut.ap_mm == 6);
  CHECK(result(w, &CutResults::vc_m_min) != Approx(150));
  w.choose_cutter(222);
  CHECK_FALSE(on_board(w).tried);
  CHECK(w.find<QLineEdit>("try_ap_mm")->text() == "16");
  // What is half typed stays while it is the value that is tried, and goes with the cutter.
  w.type_into("try_ap_mm", "7/16\"", false);
  CHECK(w.find<QLineEdit>("try_ap_mm")->text() == "7/16\"");
  w.choose_cutter(225);
  CHECK(w.find<QLineEdit>("try_ap_mm")->text() == "20");
  // Escape takes back what is half typed first, then leaves the board.
  w.type_into("try_ap_mm", "5", false);
  CHECK(*on_board(w).cut.ap_mm == 5);
  w.key(Qt::Key_Escape);
  CHECK(w.window->is_cut_board_shown());
  CHECK(*on_board(w).cut.ap_mm == 20);
  w.key(Qt::Key_Escape);
  CHECK_FALSE(w.window->is_cut_board_shown());
}

TEST_CASE("tracks are dragged and moved by arrow keys, working points are dragged on their curves") {
  Window w;
  w.choose_cutter(219);
  w.window->show_cut_board(true);
  QApplication::processEvents();
  auto* track = w.find<Track>("track_ae_mm");
  drag(track, {track->x_of(3.6), 9}, {track->x_of(6.0), 9});
  CHECK(*on_board(w).cut.ae_mm == Approx(6).margin(0.15));
  const double before = *on_board(w).cut.ae_mm;
  track->setFocus();
  QTest::keyClick(track, Qt::Key_Left);
  CHECK(*on_board(w).cut.ae_mm < before);
  QTest::keyClick(track, Qt::Key_Right);
  CHECK(*on_board(w).cut.ae_mm == Approx(before));
  // On the curves: the width, the stick-out, the speed.
  auto& chip = w.window->cut_board().curve_view(CurveKind::chip);
  drag(&chip, chip.working_place(), chip.working_place() + QPointF(40, 0));
  CHECK(*on_board(w).cut.ae_mm > before + 0.5);
  auto& bend = w.window->cut_board().curve_view(CurveKind::deflection);
  const double gives = result(w, &CutResults::deflection_mm);
  drag(&bend, bend.working_place(), bend.working_place() + QPointF(30, 0));
  CHECK(result(w, &CutResults::deflection_mm) > gives);
  CHECK(w.workspace().what_if().stickout_mm.has_value());
  auto& power = w.window->cut_board().curve_view(CurveKind::power);
  drag(&power, power.working_place(), power.working_place() + QPointF(30, 0));
  CHECK(result(w, &CutResults::n_rpm) > 3000);
  CHECK(std::fmod(result(w, &CutResults::n_rpm), 10) == Approx(0).margin(0.01));
}

TEST_CASE("depth and width are dragged on the drawing") {
  Window w;
  w.choose_cutter(219);
  QApplication::processEvents();
  CutterDrawing& drawing = w.window->cutter_bench().drawing();
  const auto grip = [&](std::string_view key) {
    for (const DimensionMark& m : drawing.sheet().marks)
      if (m.key == key) return QPointF(m.grip.x, m.grip.y);
    return QPointF();
  };
  drag(&drawing, grip("ae_mm"), grip("ae_mm") - QPointF(6, 0));
  REQUIRE(w.workspace().what_if().ae_mm);
  CHECK(*w.workspace().what_if().ae_mm > 4);
  drag(&drawing, grip("ap_mm"), grip("ap_mm") + QPointF(0, 10));
  REQUIRE(w.workspace().what_if().ap_mm);
  CHECK(*w.workspace().what_if().ap_mm < 11.5);
  CHECK_FALSE(w.window->shop().can_undo());
  w.click(w.find<QPushButton>("usual"));
  CHECK_FALSE(w.workspace().what_if().any());
}

TEST_CASE("a limit that is broken names changes; a click on one gets inside, and so does the key") {
  Window w;
  w.choose_cutter(225);
  w.window->show_cut_board(true);
  w.type_into("try_ap_mm", "30");
  w.type_into("try_ae_mm", "16");
  HeadroomBars& bars = w.window->cutter_bench().conditions_panel().headroom();
  REQUIRE(on_board(w).report.headroom.front().tightest() > 1);
  REQUIRE_FALSE(bars.changes().isEmpty());
  CHECK(bars.change_rect(0).isValid());
  const Limit limit = on_board(w).report.headroom.front().limit;
  const auto used = [&] {
    for (const Headroom& h : on_board(w).report.headroom)
      if (h.limit == limit) return h.tightest();
    return 0.0;
  };
  QTest::mouseClick(&bars, Qt::LeftButton, {}, bars.change_rect(0).center().toPoint());
  QApplication::processEvents();
  CHECK(used() <= 1 + 1e-6);
  // The key takes the smallest change of whatever is tightest now, until nothing is close.
  for (int i = 0; i < 12 && on_board(w).report.headroom.front().tightest() > close_to_limit + 1e-6; ++i) {
    const double tightest = on_board(w).report.headroom.front().tightest();
    w.window->run(QStringLiteral("first_change"));
    CHECK(on_board(w).report.headroom.front().tightest() <= std::max(1.0, tightest));
  }
  CHECK(on_board(w).report.headroom.front().tightest() <= 1 + 1e-6);
}

TEST_CASE("what is tried is kept as a recipe named with what it removes; the cutter then runs at it") {
  Window w;
  w.choose_cutter(222);
  w.window->show_cut_board(true);
  w.type_into("try_ap_mm", "8");
  w.type_into("try_ae_mm", "4");
  w.type_into("try_fz_mm", "0.07");
  const double q = result(w, &CutResults::q_cm3_min);
  w.click(w.find<QPushButton>("keep_tried"));
  const auto places = w.state().recipes.of_cutter(w.cutter().id);
  REQUIRE_FALSE(places.empty());
  const Recipe& kept = w.state().recipes[places.back()];
  CHECK(text_of(kept.name).contains(QString::fromStdString(plain(q, 0)) + QStringLiteral(" cm³/min")));
  CHECK(kept.ap_mm == 8);
  CHECK(kept.ae_mm == 4);
  CHECK(kept.feed_mm == 0.07);
  CHECK_FALSE(kept.proven);
  CHECK(*kept.removal_cm3_min == Approx(q).epsilon(0.01));
  w.window->show_page(MainWindow::cutters);
  const auto e = w.workspace().evaluation_of(w.cutter());
  CHECK(e->resolution.source == SourceKind::recipe);
  CHECK(e->asked.ap_mm == 8);
  w.window->run(QStringLiteral("undo"));
  CHECK(w.state().recipes.of_cutter(w.cutter().id).size() == places.size() - 1);
}

TEST_CASE("in a job a suggestion becomes the operation's own value, what is tried is taken into it, both in one step") {
  Window w;
  w.window->show_page(MainWindow::jobs);
  w.wait_planned();
  w.workspace().select_operation(0);
  QApplication::processEvents();
  w.key(Qt::Key_B, Qt::ControlModifier);
  REQUIRE(w.window->is_cut_board_shown());
  w.type_into("try_ae_mm", "2.4");
  w.type_into("try_vc_m_min", "95");
  CHECK(on_board(w).tried);
  CHECK(*w.workspace().job()->operations[0].taken.ae_mm == Approx(3.6));
  w.click(w.find<QPushButton>("keep_tried"));
  {
    const Operation& o = w.workspace().job()->operations[0];
    CHECK(o.own_ae_mm == 2.4);
    CHECK(o.has_own_speed());
    CHECK(o.taken.ae_mm == 2.4);
    CHECK(*o.taken.n_rpm == 2510);  // 95 m/min on 12 mm is 2520, rounded down to tens from the exact speed
    CHECK(o.taken.source == SourceKind::own);
  }
  CHECK_FALSE(w.workspace().what_if().any());
  w.window->run(QStringLiteral("undo"));
  CHECK_FALSE(w.workspace().job()->operations[0].own_ae_mm);
  // Dragged on the drawing of the operation: kept when it is let go.
  w.key(Qt::Key_Escape);
  CutterDrawing& drawing = w.window->job_bench().drawing();
  QApplication::processEvents();
  for (const DimensionMark& m : drawing.sheet().marks)
    if (m.key == "ae_mm") {
      drag(&drawing, {m.grip.x, m.grip.y}, {m.grip.x - 5, m.grip.y});
      break;
    }
  CHECK(w.workspace().job()->operations[0].own_ae_mm.has_value());
}

TEST_CASE("the tightest place of a path is judged once it is planned: the corners of the stock, and its own") {
  Window w;
  w.window->show_page(MainWindow::jobs);
  w.wait_planned();
  QApplication::processEvents();
  bool worse = false;
  for (int i = 0; i < static_cast<int>(w.workspace().job()->operations.size()); ++i) {
    w.workspace().select_operation(i);
    QApplication::processEvents();
    const auto& cut = w.window->job_bench().cut();
    if (!cut) continue;
    CHECK(cut->cut.whole_depth_mm ==
          (declaration(w.workspace().job()->operations[static_cast<std::size_t>(i)].path).milling
               ? w.workspace().job()->operations[static_cast<std::size_t>(i)].depth_mm
               : std::optional<double>()));
    const bool profile = w.workspace().job()->operations[static_cast<std::size_t>(i)].path == PathKind::profile;
    for (const Headroom& h : cut->report.headroom) {
      worse = worse || h.worst_value.has_value();
      CHECK((profile || !h.worst_value));
    }
  }
  // The demo's outside profile meets full width at the corners of its stock.
  CHECK(worse);
  worse = false;
  Job inside = *w.workspace().job();
  inside.operations[0].where = ProfileWhere::within;
  Change change;
  edit_job(change, *w.workspace().job(), inside);
  w.window->shop().apply(std::move(change));
  w.workspace().select_operation(0);
  w.wait_planned();
  QApplication::processEvents();
  for (const Headroom& h : w.window->job_bench().cut()->report.headroom)
    worse = worse || (h.worst_value && h.worst_used > h.used);
  CHECK(worse);
}

TEST_CASE("every kind of cutter has its board, or says why it has none") {
  Window w;
  w.window->show_page(MainWindow::cutters);
  w.window->show_cut_board(true);
  for (const Cutter& c : std::vector<Cutter>(w.state().cutters.begin(), w.state().cutters.end())) {
    Context context = w.workspace().context();
    context.operation = declaration(c.kind).usual_operation;
    w.workspace().set_context(context);
    w.workspace().select_cutter(c.id);
    const auto& cut = w.window->cut_board().cut();
    INFO(c.name);
    if (!cut) continue;
    for (const Property<CutResults>& p : properties<CutResults>())
      if (const auto value = number_of(cut->report.results, p)) CHECK(std::isfinite(*value));
    for (const CurveKind kind : {CurveKind::power, CurveKind::torque, CurveKind::deflection, CurveKind::chip,
                                 CurveKind::force, CurveKind::stability})
      if (const auto& curve = w.window->cut_board().curve_view(kind).curve()) CHECK(curve->to_y > 0);
  }
  w.window->grab();
}

TEST_CASE("the cut sheet is one page, the curves are a picture or points") {
  Window w;
  w.choose_cutter(219);
  w.window->show_cut_board(true);
  const auto written = [&](const QString& name, auto write) {
    const QString file = w.dir.filePath(name);
    write(file);
    for (int i = 0; i < 400 && !QFile::exists(file); ++i) QTest::qWait(10);
    QFile f(file);
    REQUIRE(f.open(QIODevice::ReadOnly));
    return f.readAll();
  };
  const QByteArray sheet = written("cut.pdf", [&](const QString& f) { w.window->write_cut_sheet(f); });
  CHECK(sheet.startsWith("%PDF"));
  CHECK(sheet.count("/Type /Page\n") + sheet.count("/Type /Page\r") + sheet.count("/Type /Page ") <= 1);
  CHECK(written("curves.png", [&](const QString& f) { w.window->write_curves(f); }).startsWith("\x89PNG"));
  CHECK(written("curves.pdf", [&](const QString& f) { w.window->write_curves(f); }).startsWith("%PDF"));
  const auto points =
      read_csv(written("curves.csv", [&](const QString& f) { w.window->write_curves(f); }).toStdString());
  REQUIRE(points);
  CHECK(points->lines.front().front() == "Curve");
  std::set<std::string> curves;
  for (std::size_t i = 1; i < points->lines.size(); ++i) {
    REQUIRE(points->lines[i].size() == 7);
    curves.insert(points->lines[i][0]);
    CHECK(std::isfinite(std::stod(points->lines[i][3])));
    CHECK(std::isfinite(std::stod(points->lines[i][5])));
  }
  CHECK(curves.size() == 6);
  // A kind of file that is not known is said, nothing is written.
  CHECK_FALSE(curves_file(on_board(w), QStringLiteral("bmp"), {}).has_value());
}
