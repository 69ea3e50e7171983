// Jobs: a pocket of very many vertices against the offsets it needs, a job of a thousand operations after one change,
// and the picture of very many moves.
#include <fmt/format.h>
#include <QApplication>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QTemporaryDir>
#include <QThread>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <polyclipping/clipper.hpp>

#include "app/jobs/job_bench.h"
#include "app/jobs/jobs_page.h"
#include "core/geometry/region.h"
#include "shop/demo.h"
#include "shop/evaluation.h"
#include "shop/job_edit.h"
#include "shop/job_objects.h"
#include "shop/operation_edit.h"
#include "shop/planning.h"
#include "shop/shop.h"

using namespace pecorra;

namespace {

double seconds_of(const std::function<void()>& work) {
  QElapsedTimer clock;
  clock.start();
  work();
  return static_cast<double>(clock.nsecsElapsed()) / 1e9;
}

Contour wavy_outline(int vertices) {
  Contour c{true, {}};
  for (int i = 0; i < vertices; ++i) {
    const double a = 2 * std::numbers::pi * i / vertices, r = 60 + 8 * std::sin(9 * a) + 0.05 * std::sin(700 * a);
    c.vertices.push_back({r * std::cos(a), r * std::sin(a), 0});
  }
  return c;
}

void pocket() {
  Operation o;
  o.id = Id::from_name("pocket");
  o.path = PathKind::pocket;
  o.operation = OperationKind::pocket_rough;
  o.cutter = proposed_cutter(CutterKind::end_mill, 8);
  o.cutter.id = Id::from_name("cutter");
  o.depth_mm = 4;
  o.taken.n_rpm = 3000, o.taken.vf_mm_min = 600, o.taken.ap_mm = 4, o.taken.ae_mm = 3;
  OperationInput input;
  const Contour outline = wavy_outline(10000);
  input.stock = bounds(outline).grown(5);
  input.stock_bottom = -10;
  input.pockets = {{"p", outline, {}, {}}};
  std::size_t moves = 0;
  const double ours = seconds_of([&] {
    StockField stock(input.stock, 0, 8);
    moves = plan_operation(o, input, stock).path.moves.size();
  });
  // The offsets alone: the tip's region, then a step of the width of cut until nothing is left.
  int offsets = 0;
  const double raw = seconds_of([&] {
    ClipperLib::Paths paths(1);
    for (const Vertex& v : outline.vertices) paths[0].emplace_back(std::llround(v.x * 1e5), std::llround(v.y * 1e5));
    for (double step = 4; !paths.empty(); step = 3, ++offsets) {
      ClipperLib::ClipperOffset offset(2.0, 100);
      offset.AddPaths(paths, ClipperLib::jtRound, ClipperLib::etClosedPolygon);
      offset.Execute(paths, -step * 1e5);
      ClipperLib::CleanPolygons(paths, 10);
    }
  });
  fmt::print(
      "pocket of 10,000 vertices: {:.0f} ms, {} moves; its {} offsets alone {:.0f} ms; ratio {:.2f} (at most 3)\n",
      ours * 1e3, moves, offsets, raw * 1e3, ours / raw);
}

Job thousand_operations(const ShopState& state, const Resolver& resolver) {
  const Job like = *state.job(state.jobs.named("Gear cover")->id);
  Job job;
  job.head() = like.head();
  job.id = Id::from_name("thousand");
  job.name = "Thousand";
  Setup setup;
  setup.x_low_mm = 0, setup.x_high_mm = 1000, setup.y_low_mm = 0, setup.y_high_mm = 800;
  setup.z_low_mm = -20, setup.z_high_mm = 0;
  job.setups = {setup};
  for (int i = 0; i < 1000; ++i) {
    Feature line;
    line.key = fmt::format("line {}", i);
    const double x = 25.0 * (i % 40), y = 32.0 * (i / 40);
    line.line = {true, {{x + 3, y + 3, 0}, {x + 22, y + 3, 0}, {x + 22, y + 29, 0}, {x + 3, y + 29, 0}}};
    job.features.push_back(line);
    Operation o = like.operations[1];
    o.id = Id::from_name(line.key);
    o.rank = 0;
    o.name = line.key;
    o.top_mm.reset();
    o.finish_pass_mm.reset();
    o.depth_mm = 3;
    o.features = {{line.key, {}}};
    job.operations.push_back(std::move(o));
  }
  job = retaken(state, resolver, job);
  put_in_order(job);
  return job;
}

void many_operations() {
  ShopState state = demo_state();
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  put_job(state, thousand_operations(state, resolver));
  const Id id = Id::from_name("thousand");
  Job job = *state.job(id);
  const auto cache = std::make_shared<PlanCache>();
  const double first = seconds_of([&] { plan_job(plan_request(state, job, cache)); });
  const double put_together = seconds_of([&] { job = *state.job(id); });
  Change change;
  const double edited = seconds_of([&] {
    change = edited_operation(state, resolver, job, 500, *find_property<Operation>("depth_mm"), 2.0, "2",
                              UnitSystem::metric);
  });
  std::size_t bytes = 0;
  for (const ObjectChange& o : change.objects) bytes += o.after.size();
  job.operations[500].depth_mm = 2;
  int planned = 0;
  const double again = seconds_of([&] { planned = plan_job(plan_request(state, job, cache)).planned_anew; });
  job.material = state.materials.named("42CrMo4 +QT")->id;
  const double material = seconds_of([&] { job = retaken(state, resolver, job); });
  double asked = 0;
  QElapsedTimer clock;
  clock.start();
  const double stopped = seconds_of([&] {
    plan_job(plan_request(state, job), [&](double) {
      if (asked == 0) asked = static_cast<double>(clock.nsecsElapsed()) / 1e9;
      return false;
    });
  });
  fmt::print(
      "1,000 operations: planned {:.0f} ms; put together {:.1f} ms; one value edited {:.1f} ms, {} bytes of bodies; "
      "planned again {:.0f} ms, {} paths; another material {:.0f} ms; cancelled after {:.0f} ms\n",
      first * 1e3, put_together * 1e3, edited * 1e3, bytes, again * 1e3, planned, material * 1e3,
      (stopped - asked) * 1e3);
}

// As the window does it: from the change to what is seen, and to all figures.
void in_the_window() {
  ShopState state = demo_state();
  {
    const Resolver resolver(state.tables.shared(), state.resolver_options());
    put_job(state, thousand_operations(state, resolver));
  }
  QTemporaryDir folder;
  const QString file = folder.filePath(QStringLiteral("thousand.pecorra"));
  if (const auto made = write_shop(state, file, QStringLiteral("made")); !made)
    return fmt::print("no shop: {}\n", made.error().sentence().toStdString());
  auto shop = Shop::open(file);
  if (!shop) return fmt::print("no shop: {}\n", shop.error().sentence().toStdString());
  Workspace workspace(**shop);
  JobsPage page(workspace);
  JobBench bench(workspace);
  QObject::connect(&page, &JobsPage::planned, &bench, &JobBench::show_plan);
  page.resize(800, 720);
  bench.resize(390, 720);
  page.show();
  bench.show();
  workspace.select_job(Id::from_name("thousand"));
  workspace.set_job_in_front(true);
  const auto settle = [&] {
    do QApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
    while (!page.is_planned());
    QApplication::processEvents();
  };
  settle();
  std::vector<double> rows, edits, figures, materials;
  for (int i = 0; i < 40; ++i)
    rows.push_back(seconds_of([&] {
      workspace.select_operation(400 + i);
      QApplication::processEvents();
    }));
  QElapsedTimer clock;
  double planned_ms = 0;
  QObject::connect(&page, &JobsPage::planned, &page,
                   [&] { planned_ms = static_cast<double>(clock.nsecsElapsed()) / 1e6; });
  qint64 written = 0;
  for (int i = 0; i < 10; ++i) {
    const double depth = 2 + 0.1 * i;
    workspace.shop().wait_until_saved(10000);
    const qint64 log = QFileInfo(file + QStringLiteral("-wal")).size();
    clock.start();
    edits.push_back(seconds_of([&] {
      workspace.shop().apply(edited_operation(workspace.state(), workspace.shop().resolver(), *workspace.job(), 500,
                                              *find_property<Operation>("depth_mm"), depth, std::to_string(depth),
                                              UnitSystem::metric));
    }));
    settle();
    figures.push_back(planned_ms / 1e3);
    workspace.shop().wait_until_saved(10000);
    written = std::max(written, QFileInfo(file + QStringLiteral("-wal")).size() - log);
  }
  // The first trial of several shows the banner as well; the others change what is seen alone.
  const auto rest = [&] {
    settle();
    // The program is written aside as well, and a hand takes longer than that.
    QElapsedTimer resting;
    for (resting.start(); resting.elapsed() < 150; QThread::msleep(2)) QApplication::processEvents();
  };
  std::vector<double> banners;
  constexpr const char* tried[] = {"42CrMo4 +QT", "EN-GJL-250", "C45", "X5CrNi18-10"};
  for (int i = 0; i < 60; ++i) {
    const WorkMaterial* material = state.materials.named(tried[i % 4]);
    if (!material || material->id == workspace.shown_material()) continue;
    if (i % 6 == 0) workspace.drop_trial(), rest();
    const bool banner = !workspace.is_trying();
    (banner ? banners : materials).push_back(seconds_of([&] {
      workspace.try_material(material->id);
      QApplication::processEvents();
    }));
    rest();
  }
  const auto worst = [](const std::vector<double>& all) { return *std::max_element(all.begin(), all.end()) * 1e3; };
  std::sort(rows.begin(), rows.end());
  std::sort(materials.begin(), materials.end());
  std::sort(banners.begin(), banners.end());
  fmt::print(
      "1,000 operations in the window, longest of several: a row selected {:.1f} ms (median {:.1f}); one value changed "
      "{:.1f} ms on the interface thread, all figures after {:.1f} ms, {} bytes to the disk; another material {:.1f} "
      "ms (median {:.1f}, nine of ten within {:.1f}); with the banner that appears {:.1f} ms (median {:.1f})\n",
      worst(rows), rows[rows.size() / 2] * 1e3, worst(edits), worst(figures), written, worst(materials),
      materials[materials.size() / 2] * 1e3, materials[materials.size() * 9 / 10] * 1e3, worst(banners),
      banners[banners.size() / 2] * 1e3);
}

void picture() {
  auto made = std::make_shared<PlannedOperation>();
  made->path.safe_z = 10;
  for (int i = 0; i < 100000; ++i) {
    Move m;
    m.kind = i % 50 ? MoveKind::cut : MoveKind::link;
    m.feed_mm_min = 500;
    const double a = i * 0.01, r = 5 + i * 0.0005;
    m.x = 60 + r * std::cos(a), m.y = 60 + r * std::sin(a), m.z = -1 - i * 1e-4;
    made->path.moves.push_back(m);
  }
  Job job;
  job.id = Id::from_name("picture");
  Setup setup;
  setup.x_low_mm = 0, setup.x_high_mm = 120, setup.y_low_mm = 0, setup.y_high_mm = 120;
  setup.z_low_mm = -12, setup.z_high_mm = 0;
  job.setups = {setup};
  job.operations.resize(1);
  PathView view;
  view.resize(700, 520);
  view.show_job(std::make_shared<const Job>(job), {made}, {{0}, 0, {}, -1}, UnitSystem::metric);
  view.show();
  QApplication::processEvents();
  std::vector<double> steps;
  for (int i = 0; i < 200; ++i) {
    QWheelEvent wheel(QPointF(300, 200), view.mapToGlobal(QPointF(300, 200)), {}, QPoint(0, i < 100 ? 40 : -40),
                      Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    steps.push_back(seconds_of([&] {
      QApplication::sendEvent(&view, &wheel);
      view.grab();
    }));
  }
  std::sort(steps.begin(), steps.end());
  fmt::print("picture of 100,000 moves: zoom step median {:.1f} ms, 99th percentile {:.1f} ms (a frame is 16.7)\n",
             steps[steps.size() / 2] * 1e3, steps[steps.size() * 99 / 100] * 1e3);
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  // One of them alone, to look into it.
  if (argc > 1 && std::string_view(argv[1]) == "window") return in_the_window(), 0;
  pocket();
  many_operations();
  in_the_window();
  picture();
  return 0;
}
