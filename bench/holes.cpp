// Holes: the way over two thousand against 2-opt and or-opt over all pairs, a hundred thousand planned and drawn, and
// a cutter found among ten thousand against resolving each of them once.
#include <fmt/format.h>
#include <QApplication>
#include <QElapsedTimer>
#include <algorithm>
#include <cmath>
#include <functional>
#include <random>

#include "app/jobs/path_view.h"
#include "core/operation/holes.h"
#include "shop/cutter_match.h"
#include "shop/demo.h"
#include "shop/job_edit.h"
#include "shop/planning.h"

using namespace pecorra;

namespace {

double seconds_of(const std::function<void()>& work) {
  QElapsedTimer clock;
  clock.start();
  work();
  return static_cast<double>(clock.nsecsElapsed()) / 1e9;
}

std::vector<Point2> scattered(std::size_t count, double width, double depth) {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> x(0, width), y(0, depth);
  std::vector<Point2> places(count);
  for (Point2& p : places) p = {x(random), y(random)};
  return places;
}

// 2-opt and or-opt over all pairs until nothing helps, from the nearest next.
double plain_way(std::vector<Point2> p) {
  const auto d = [](Point2 a, Point2 b) { return std::hypot(a.x - b.x, a.y - b.y); };
  const std::size_t n = p.size();
  const auto at = [&](std::size_t i) { return p.begin() + static_cast<std::ptrdiff_t>(i); };
  for (bool better = true; better;) {
    better = false;
    for (std::size_t i = 0; i < n; ++i)
      for (std::size_t k = i + 1; k < n; ++k) {
        const double before = (i > 0 ? d(p[i - 1], p[i]) : 0) + (k + 1 < n ? d(p[k], p[k + 1]) : 0),
                     after = (i > 0 ? d(p[i - 1], p[k]) : 0) + (k + 1 < n ? d(p[i], p[k + 1]) : 0);
        if (after < before - 1e-9) std::reverse(at(i), at(k + 1)), better = true;
      }
    for (std::size_t length = 1; length <= 3; ++length)
      for (std::size_t i = 1; i + length < n; ++i) {
        const double saved = d(p[i - 1], p[i]) + d(p[i + length - 1], p[i + length]) - d(p[i - 1], p[i + length]);
        for (std::size_t k = 0; k + 1 < n; ++k) {
          if (k + 1 >= i && k < i + length) continue;
          const double as_is = d(p[k], p[i]) + d(p[i + length - 1], p[k + 1]),
                       turned = d(p[k], p[i + length - 1]) + d(p[i], p[k + 1]);
          if (std::min(as_is, turned) - d(p[k], p[k + 1]) >= saved - 1e-9) continue;
          if (turned < as_is) std::reverse(at(i), at(i + length));
          if (k < i) std::rotate(at(k + 1), at(i), at(i + length));
          else std::rotate(at(i), at(i + length), at(k + 1));
          better = true;
          break;
        }
      }
  }
  double length = 0;
  for (std::size_t i = 1; i < n; ++i) length += d(p[i - 1], p[i]);
  return length;
}

void order() {
  const std::vector<Point2> places = scattered(2000, 1000, 700);
  const std::vector<std::uint32_t> first = nearest_next(places);
  std::vector<std::uint32_t> ours;
  const double seconds = seconds_of([&] { ours = short_way(places); });
  std::vector<Point2> begun;
  for (const std::uint32_t i : first) begun.push_back(places[i]);
  double standstill = 0;
  const double plain_seconds = seconds_of([&] { standstill = plain_way(begun); });
  const double length = length_of_way(places, ours);
  fmt::print(
      "2,000 holes: {:.0f} mm in {:.0f} ms; 2-opt and or-opt to a standstill {:.0f} mm in {:.0f} ms, ratio {:.3f} (at "
      "most 1.05); nearest next {:.0f} mm, ratio {:.3f}\n",
      length, seconds * 1e3, standstill, plain_seconds * 1e3, length / standstill, length_of_way(places, first),
      length / length_of_way(places, first));
}

void very_many() {
  ShopState state = demo_state();
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  Job job = *state.job(state.jobs.named("Two holes")->id);
  job.features.clear();
  job.operations.clear();
  Feature f;
  f.kind = FeatureKind::holes;
  f.key = "many";
  f.at = scattered(100000, 2000, 1500);
  f.diameter_mm = 2.5;
  f.depth_mm = 5;
  shape(f);
  job.features = {f};
  job.setups[0].x_high_mm = 2000, job.setups[0].y_high_mm = 1500;
  Operation o = proposed_operation(job, PathKind::drill, {"many"});
  o.id = Id::from_name("many");
  o.cutter = proposed_cutter(CutterKind::drill, 2.5);
  o.cutter.id = Id::from_name("drill");
  o.taken.n_rpm = 5000, o.taken.vf_mm_min = 400;
  job.operations = {o};
  const auto shared = std::make_shared<const Job>(job);
  JobPlan plan;
  const double planned = seconds_of([&] { plan = plan_job(plan_request(state, shared)); });
  PathView view;
  view.resize(700, 520);
  view.show();
  const double drawn = seconds_of([&] {
    view.show_job(shared, plan.operations, {{0}, 0, {}, -1}, UnitSystem::metric);
    view.grab();
  });
  std::string program;
  const double written = seconds_of([&] { program = program_of(plan_request(state, shared), plan).text; });
  fmt::print("100,000 holes: planned {:.0f} ms, {} moves; drawn {:.0f} ms; program {:.0f} ms, {} bytes\n",
             planned * 1e3, plan.operations[0]->path.moves.size(), drawn * 1e3, written * 1e3, program.size());
}

void match() {
  ShopState state = demo_state();
  const Id library = state.libraries[0].id;
  constexpr CutterKind kinds[] = {CutterKind::drill, CutterKind::end_mill, CutterKind::reamer, CutterKind::drill};
  for (int i = 0; i < 10000; ++i) {
    Cutter c = proposed_cutter(kinds[i % 4], 1 + 0.05 * (i % 400));
    c.id = Id{77, static_cast<std::uint64_t>(i)};
    c.library = library;
    c.number = 10000 + i;
    c.name = fmt::format("Cutter {}", i);
    state.cutters.put(std::move(c));
  }
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  Job job = *state.job(state.jobs.named("Two holes")->id);
  Feature f;
  f.kind = FeatureKind::holes;
  f.key = "one";
  f.at = {{20, 20}};
  f.diameter_mm = 9.15;
  f.depth_mm = 15;
  shape(f);
  job.features.push_back(f);
  const Operation o = proposed_operation(job, PathKind::drill, {"one"});
  double ours = 1e9, all = 1e9;
  std::string name;
  for (int k = 0; k < 7; ++k)
    ours = std::min(ours, seconds_of([&] {
                      CutterSearch search(state, resolver, job, o);
                      if (const auto best = search.best()) name = best->cutter->name;
                      search.first(4);
                    }));
  const WorkMaterial& material = *state.materials.find(job.material);
  const Machine& machine = *state.machines.find(job.machine);
  int found = 0;
  for (int k = 0; k < 3; ++k)
    all = std::min(all, seconds_of([&] {
                     found = 0;
                     for (const Cutter& c : state.cutters)
                       found += resolver
                                    .resolve(key_as_used(state, resolver, c), resolver.key_of(material),
                                             resolver.key_of(machine), query_for(state, job, o))
                                    .found();
                   }));
  fmt::print(
      "a cutter among {}: {:.1f} ms with its reasons ({}; a frame is 16.7); resolving each once {:.1f} ms ({} with "
      "conditions); ratio {:.2f}\n",
      state.cutters.size(), ours * 1e3, name, all * 1e3, found, ours / all);
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  order();
  very_many();
  match();
  return 0;
}
