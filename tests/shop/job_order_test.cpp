// Another order of a job's operations, what changed at its sources, and proven steps.
#include <QTemporaryDir>
#include <algorithm>
#include <catch2/catch.hpp>
#include <random>

#include "core/job/order.h"
#include "demo_copy.h"
#include "shop/job_file.h"
#include "shop/job_objects.h"
#include "shop/operation_edit.h"
#include "shop/planning.h"
#include "shop/program_file.h"
#include "shop/proven_step_edit.h"
#include "shop/source_changes.h"

using namespace pecorra;

namespace {

struct Bench {
  ShopState state = the_demo();
  Resolver resolver{state.tables.shared(), state.resolver_options()};
  Job job(const char* name) const { return *state.job(state.jobs.named(name)->id); }
  void apply(const Change& change) {
    for (const ObjectChange& o : change.objects) {
      StoredObject stored{o.kind, o.id, 1, o.after};
      put_stored(state, stored);
    }
  }
};

// Plainly: every order that keeps the dependencies, and the least changes among them.
int least_changes(const std::vector<int>& cutters, const std::vector<std::pair<std::size_t, std::size_t>>& before) {
  std::vector<std::size_t> order(cutters.size());
  for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
  int best = 1000;
  do {
    std::vector<std::size_t> at(order.size());
    for (std::size_t i = 0; i < order.size(); ++i) at[order[i]] = i;
    if (std::all_of(before.begin(), before.end(), [&](const auto& d) { return at[d.first] < at[d.second]; }))
      best = std::min(best, changes_in(cutters, order));
  } while (std::next_permutation(order.begin(), order.end()));
  return best;
}

}  // namespace

TEST_CASE("the order has as few cutter changes as any, and keeps what depends on what") {
  const Bench b;
  std::mt19937 random(5);
  const Job cap = b.job("Roller end cap");
  for (int run = 0; run < 60; ++run) {
    Job job = cap;
    std::shuffle(job.operations.begin(), job.operations.end(), random);
    // A few more in between, on features of their own.
    std::vector<int> cutters;
    for (std::size_t i = 0; i < job.operations.size(); ++i) cutters.push_back(static_cast<int>(random() % 3));
    const auto dependencies = dependencies_of(job);
    const OperationOrder order = fewest_changes(job, cutters);
    std::vector<std::size_t> at(order.places.size());
    for (std::size_t i = 0; i < order.places.size(); ++i) at[order.places[i]] = i;
    for (const auto& [first, then] : dependencies) CHECK(at[first] < at[then]);
    CHECK(order.changes == least_changes(cutters, dependencies));
  }
}

TEST_CASE("faces come first, a tap behind its drill, and what an operation names itself") {
  const Bench b;
  Job job = b.job("Roller end cap");
  std::reverse(job.operations.begin(), job.operations.end());
  std::vector<int> cutters;
  for (std::size_t i = 0; i < job.operations.size(); ++i) cutters.push_back(static_cast<int>(i));
  const auto kind_at = [&](const OperationOrder& order, std::size_t i) { return job.operations[order.places[i]].path; };
  OperationOrder order = fewest_changes(job, cutters);
  CHECK(kind_at(order, 0) == PathKind::face);
  std::vector<PathKind> holes;
  for (std::size_t i = 0; i < order.places.size(); ++i)
    if (const PathKind k = kind_at(order, i); k == PathKind::spot || k == PathKind::drill || k == PathKind::tap)
      holes.push_back(k);
  CHECK(holes == std::vector<PathKind>{PathKind::spot, PathKind::drill, PathKind::tap});
  // The rim behind the tap, because somebody says so.
  const auto of = [&](PathKind kind) {
    return std::find_if(job.operations.begin(), job.operations.end(),
                        [&](const Operation& o) { return o.path == kind; });
  };
  of(PathKind::profile)->behind = of(PathKind::tap)->id;
  order = fewest_changes(job, cutters);
  std::vector<PathKind> kinds;
  for (std::size_t i = 0; i < order.places.size(); ++i) kinds.push_back(kind_at(order, i));
  CHECK(std::find(kinds.begin(), kinds.end(), PathKind::profile) >
        std::find(kinds.begin(), kinds.end(), PathKind::tap));
  // It comes back from a job file.
  const auto text = job_file(b.state, job).dump();
  const auto read = read_job_file(b.state, b.resolver, text, "/nowhere");
  REQUIRE(read);
  const auto again = std::find_if(read->job.operations.begin(), read->job.operations.end(),
                                  [](const Operation& o) { return o.path == PathKind::profile; });
  const auto tap = std::find_if(read->job.operations.begin(), read->job.operations.end(),
                                [](const Operation& o) { return o.path == PathKind::tap; });
  CHECK(again->behind == tap->id);
}

TEST_CASE("an order that is taken changes places alone, in one step") {
  Bench b;
  const Job job = b.job("Roller end cap");
  std::vector<std::size_t> order{0, 3, 1, 2, 4, 5};
  b.apply(reordered(job, order, 6, 5));
  const Job after = b.job("Roller end cap");
  REQUIRE(after.operations.size() == job.operations.size());
  for (std::size_t i = 0; i < order.size(); ++i) CHECK(after.operations[i].id == job.operations[order[i]].id);
}

TEST_CASE("what changed at the sources is listed, taken or kept one by one") {
  Bench b;
  const Job job = b.job("Roller end cap");
  CHECK(source_changes(b.state, b.resolver, job, UnitSystem::metric).empty());
  // Longer flutes in the library: the job keeps its own, and says so.
  Cutter cutter = *b.state.cutters.find(job.operations[1].cutter.id);
  cutter.flute_length_mm = 44;
  b.state.cutters.put(cutter);
  auto changes = source_changes(b.state, b.resolver, job, UnitSystem::metric);
  REQUIRE(changes.size() == 2);  // the same cutter twice
  CHECK(changes[0].operation == 1);
  CHECK(changes[0].cutter);
  CHECK(changes[0].what.join(' ').contains("38 → 44"));
  CHECK(b.job("Roller end cap").operations[1].cutter.flute_length_mm == 38);
  b.apply(keep_copies(job, changes, {1}));
  Job now = b.job("Roller end cap");
  changes = source_changes(b.state, b.resolver, now, UnitSystem::metric);
  REQUIRE(changes.size() == 1);
  CHECK(changes[0].operation == 2);
  b.apply(take_sources(now, changes, {2}));
  now = b.job("Roller end cap");
  CHECK(now.operations[2].cutter.flute_length_mm == 44);
  CHECK(now.operations[1].cutter.flute_length_mm == 38);
  CHECK(source_changes(b.state, b.resolver, now, UnitSystem::metric).empty());
  // A name is no change of geometry; the program follows it.
  cutter.name = "Renamed";
  cutter.message = "NEW MESSAGE";
  b.state.cutters.put(cutter);
  CHECK(source_changes(b.state, b.resolver, now, UnitSystem::metric).empty());
  const PlanRequest request = plan_request(b.state, now);
  const std::string program = program_of(request, plan_job(request)).text;
  CHECK(program.find("T17 RENAMED") != std::string::npos);
  CHECK(program.find("(NEW MESSAGE)") != std::string::npos);
}

TEST_CASE("values found good in a job go back to the library as a recipe with their proof") {
  Bench b;
  Job job = b.job("Roller end cap");
  job.operations[3].taken.n_rpm = 1400;
  job.operations[3].taken.vf_mm_min = 120;
  job.operations[3].taken.vc_m_min.reset();
  const auto change = back_to_library(b.state, job, 3);
  REQUIRE(change);
  const std::size_t before = b.state.recipes.size();
  b.apply(*change);
  REQUIRE(b.state.recipes.size() == before + 1);
  const Recipe& r = b.state.recipes[before];
  CHECK(r.cutter == job.operations[3].cutter.id);
  CHECK(r.vc_m_min.value_or(0) == Approx(1400 * M_PI * *job.operations[3].cutter.diameter_mm / 1000));
  CHECK(r.feed_mm.value_or(0) == Approx(120.0 / 1400));
  CHECK(r.proven);
  CHECK(r.proven_on == "Fettler 6");
  CHECK(r.source == "Roller end cap");
  const auto row = back_to_library(b.state, job, 3, BackAs::row);
  REQUIRE(row);
  Bench with_row = b;
  with_row.apply(*row);
  bool found = false;
  for (const ConditionTable& t : with_row.state.tables)
    for (const ConditionRow& at : t.rows)
      found = found || (at.note == "Found good in Roller end cap, in EN-GJL-250 on Fettler 6" && at.feed_mm &&
                        *at.feed_mm == Approx(120.0 / 1400) && !at.proven);
  CHECK(found);
  job.operations[3].generic_cutter = true;
  CHECK_FALSE(back_to_library(b.state, job, 3));
}

TEST_CASE("a proven step is used exactly: no factor, no pace unless asked, and then it is proven no more") {
  Bench b;
  Job job = b.job("Roller end cap");
  const Operation before = job.operations[2];
  b.apply(saved_step(b.state, job, {2}, "Bearing seat, cast iron"));
  REQUIRE(b.state.proven_steps.size() == 1);
  const ProvenStep step = b.state.proven_steps[0];
  job = b.job("Roller end cap");
  CHECK(job.operations[2].proven_step == step.id);
  CHECK(job.operations[2].taken.source == SourceKind::proven_step);
  CHECK(job.operations[2].taken.n_rpm == before.taken.n_rpm);
  // In another job of the same material and machine.
  Job other = job;
  other.operations.clear();
  const auto used = with_step(b.state, other, step, {job.operations[2].features[0].key});
  REQUIRE(used);
  Bench c = b;
  c.apply(*used);
  Operation o;
  for (const Operation& at : c.state.operations)
    if (at.proven_step == step.id && at.id != job.operations[2].id) o = at;
  CHECK(o.taken.n_rpm == before.taken.n_rpm);
  CHECK(o.taken.vf_mm_min == before.taken.vf_mm_min);
  CHECK(o.taken.ap_mm == before.taken.ap_mm);
  CHECK(o.taken.proven);
  CHECK(o.depth_mm == before.depth_mm);
  CHECK(o.cutter.id == before.cutter.id);
  // Whatever the tables say by then.
  Job again = job;
  retake(b.state, b.resolver, again, o);
  CHECK(o.taken.vf_mm_min == before.taken.vf_mm_min);
  const auto otherwise = [&](auto&& edit) {
    Job in = job;
    Operation changed = o;
    edit(in, changed);
    retake(b.state, b.resolver, in, changed);
    return changed.taken;
  };
  CHECK_FALSE(otherwise([&](Job& in, Operation&) { in.material = b.state.materials.named("C45")->id; }).proven);
  CHECK_FALSE(otherwise([&](Job& in, Operation&) { in.machine = b.state.machines.named("Slubber 2")->id; }).proven);
  CHECK_FALSE(otherwise([&](Job&, Operation& at) { at.stickout_mm = *at.stickout_mm + 5; }).proven);
  const TakenConditions paced = otherwise([&](Job&, Operation& at) { at.pace = 80; });
  CHECK_FALSE(paced.proven);
  CHECK(*paced.n_rpm == std::floor(*before.taken.n_rpm * 0.8));
  CHECK(otherwise([&](Job&, Operation& at) { at.own_n_rpm = 500; }).source == SourceKind::own);
  // Updated by decision alone.
  Job tuned = job;
  tuned.operations[2].taken.vf_mm_min = *before.taken.vf_mm_min + 50;
  const auto update = updated_step(b.state, tuned, {2});
  REQUIRE(update);
  b.apply(*update);
  CHECK(b.state.proven_steps[0].operations[0].taken.vf_mm_min == *before.taken.vf_mm_min + 50);
  CHECK(users_of_step(b.state, step.id).size() == 1);
  // One for any cutter takes another of the same kind and size.
  ProvenStep any = b.state.proven_steps[0];
  any.any_cutter = true;
  Cutter twin = before.cutter;
  twin.id = Id::from_name("twin");
  twin.number = 999;
  CHECK(stands_for(twin, before.cutter));
  twin.diameter_mm = 19;
  CHECK_FALSE(stands_for(twin, before.cutter));
  CHECK(steps_for(b.state, job, {"nothing here"}).size() <= 1);
}

TEST_CASE("a proven step is stored and comes back, and in a job file it is named") {
  Bench b;
  Job job = b.job("Roller end cap");
  b.apply(saved_step(b.state, job, {3, 4, 5}, "Bolts M8"));
  const ProvenStep& step = b.state.proven_steps[0];
  FormatFaults faults;
  const auto read = object_from_body<ProvenStep>(body_of(step), faults);
  REQUIRE(read);
  CHECK(faults.empty());
  CHECK(read->operations.size() == 3);
  CHECK(read->operations[2].cutter == step.operations[2].cutter);
  CHECK(read->operations[2].taken.n_rpm == step.operations[2].taken.n_rpm);
  job = b.job("Roller end cap");
  const auto file = read_job_file(b.state, b.resolver, job_file(b.state, job).dump(), "/nowhere");
  REQUIRE(file);
  CHECK(file->job.operations[4].proven_step == step.id);
}

TEST_CASE("programs that were written are remembered with their revision") {
  QTemporaryDir folder;
  const QString shop = folder.filePath("demo.pecorra");
  const ShopState& state = the_demo();
  REQUIRE(write_shop(state, shop, "made"));
  const Job job = *state.job(state.jobs.named("Roller end cap")->id);
  CHECK(programs_written(shop, job.id).empty());
  remember_program(shop, job, "/tmp/a.nc");
  remember_program(shop, job, "/tmp/b.nc");
  remember_program(shop, job, "/tmp/a.nc");
  const auto programs = programs_written(shop, job.id);
  REQUIRE(programs.size() == 2);
  CHECK(programs[0].file == "/tmp/a.nc");
  CHECK(programs[0].revision.starts_with("Revision 1 of "));
  CHECK(programs_written(shop, Id::from_name("another")).empty());
}

TEST_CASE("times of operations add changes, run-up and checks") {
  ShopState state = the_demo();
  const Job job = *state.job(state.jobs.named("Roller end cap")->id);
  const auto times = [&] { return plan_job(plan_request(state, job)).times; };
  const auto now = times();
  double changes = 0;
  for (const OperationTime& t : now) {
    CHECK(t.path_s > t.simple_s);  // acceleration takes longer
    CHECK(t.path_s < 1.5 * t.simple_s + 3);
    changes += t.change_s;
  }
  CHECK(changes == Approx(5 * 4.5));
  CHECK(now[2].change_s == 0);  // the same cutter
  // Run-up: half of the greatest speed in half the time.
  const Machine& machine = *state.machines.named("Fettler 6");
  CHECK(now[0].spindle_s == Approx(*machine.spindle_up_s * *job.operations[0].taken.n_rpm / *machine.max_rpm));
  // At the bottom of each of its six holes a tap is turned round, and again above it: each time twice its speed. Before
  // that the drill runs down and the tap up.
  const double drill = *job.operations[4].taken.n_rpm, tap = *job.operations[5].taken.n_rpm;
  CHECK(now[5].spindle_s == Approx(*machine.spindle_up_s * (drill + tap + 6 * 4 * tap) / *machine.max_rpm));
  // Without acceleration: lengths over feeds.
  Machine plain = machine;
  plain.acceleration_mm_s2.reset();
  state.machines.put(plain);
  for (const OperationTime& t : times()) CHECK(t.path_s == Approx(t.simple_s).epsilon(1e-6));
  // A check of each cutter that asks for it.
  Assembly held = *state.assembly_of(job.operations[1].cutter.id);
  held.measuring = CutterMeasuring::length;
  held.checked_for_breakage = true;
  state.assemblies.put(held);
  CHECK(times()[1].measuring_s == Approx(2 * 12));
}
