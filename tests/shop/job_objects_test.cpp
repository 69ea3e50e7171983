// A job is kept as objects of its own: what one change writes, what it leaves alone, and jobs of earlier shops.
#include <QFile>
#include <QTemporaryDir>
#include <algorithm>
#include <catch2/catch.hpp>

#include "demo_copy.h"
#include "shop/job_edit.h"
#include "shop/job_file.h"
#include "shop/job_objects.h"
#include "shop/operation_edit.h"
#include "shop/planning.h"
#include "shop/setup_edit.h"
#include "shop/shop.h"

using namespace pecorra;

namespace {

std::size_t bytes_of(const Change& change) {
  std::size_t bytes = 0;
  for (const ObjectChange& o : change.objects) bytes += o.after.size();
  return bytes;
}

}  // namespace

TEST_CASE("one value of one operation writes that operation and nothing else, in less than 4 KB") {
  const ShopState& state = the_demo();
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  for (const Job& job : state.whole_jobs())
    for (int i = 0; i < static_cast<int>(job.operations.size()); ++i) {
      const Change change = edited_operation(state, resolver, job, i, *find_property<Operation>("depth_mm"), 3.0, "3",
                                             UnitSystem::metric);
      REQUIRE(change.objects.size() == 1);
      CHECK(change.objects[0].kind == ObjectKind::operation);
      CHECK(change.objects[0].id == job.operations[static_cast<std::size_t>(i)].id);
      CHECK(bytes_of(change) < 4000);
    }
}

TEST_CASE("moving an operation changes its place alone; a copy stands behind it; a deleted job leaves nothing") {
  ShopState state = the_demo();
  const Job job = *state.job(state.jobs.named("Gear cover")->id);
  REQUIRE(job.operations.size() == 4);
  const Change moved = moved_operation(job, 0, 1);
  CHECK(moved.objects.size() == 1);
  const Change copied = copied_operation(job, 1);
  for (const ObjectChange& o : copied.objects) put_body(state, o.kind, o.id, 1, o.after);
  const Job with_copy = *state.job(job.id);
  REQUIRE(with_copy.operations.size() == 5);
  CHECK(with_copy.operations[2].name == job.operations[1].name);
  CHECK(with_copy.operations[2].id != job.operations[1].id);
  CHECK(with_copy.operations[2].taken.trail == job.operations[1].taken.trail);
  const Change gone = without_job(with_copy);
  for (const ObjectChange& o : gone.objects) state.visit(o.kind, [&](auto& list) { list.remove(o.id); });
  CHECK_FALSE(state.job(job.id));
  CHECK(state.operations.of(job.id).empty());
  CHECK(state.features.of(job.id).empty());
  CHECK(state.trails.size() == state.operations.size());
}

TEST_CASE("jobs of a shop of version 3 become objects of their own, and plan as before") {
  QTemporaryDir dir;
  const QString shop = dir.filePath("old.pecorra");
  REQUIRE(QFile::copy(QStringLiteral(PECORRA_TEST_DATA "/shops/version-3.pecorra"), shop));
  QFile::setPermissions(shop, QFile::ReadOwner | QFile::WriteOwner);
  const auto loaded = load_shop(shop);
  REQUIRE(loaded.has_value());
  const ShopState& state = loaded->state;
  REQUIRE(state.jobs.named("Spindle rail"));
  const Job rail = *state.job(state.jobs.named("Spindle rail")->id);
  REQUIRE(rail.operations.size() == 3);
  REQUIRE(rail.setups.size() == 1);
  // 216 × 76 around the middle of a drawing of 200 × 60.
  CHECK(*rail.setups[0].x_low_mm == Approx(-8));
  CHECK(*rail.setups[0].y_high_mm == Approx(68));
  CHECK(*rail.setups[0].z_low_mm == Approx(-25));
  CHECK(*rail.setups[0].clearance_mm == Approx(15));
  CHECK(rail.operations[0].name == "Outside profile");
  CHECK(rail.operations[2].path == PathKind::drill);
  CHECK(rail.operations[2].features.size() == 6);
  CHECK_FALSE(rail.operations[0].taken.trail.empty());
  const JobPlan plan = plan_job(plan_request(state, rail));
  CHECK_FALSE(plan.has_faults());
  for (const PathFigures& f : plan.figures) CHECK(f.cut_mm > 0);
  // A backup of the shop as it was stands beside it.
  CHECK_FALSE(QDir(dir.path())
                  .entryList({QStringLiteral("*version-3*"), QStringLiteral("*.v3*"), QStringLiteral("*3*.pecorra*")},
                             QDir::Files)
                  .isEmpty());
}

TEST_CASE("a job file made, shown and made again is the same job, with the same paths") {
  ShopState state = the_demo();
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  for (const Job& job : state.whole_jobs()) {
    INFO(job.name);
    const Json first = job_file(state, job);
    auto read = read_job_file(state, resolver, first.dump(), QStringLiteral("/nowhere"));
    INFO((read ? std::string() : read.error()[0].key + ": " + read.error()[0].text));
    REQUIRE(read.has_value());
    Json second = job_file(state, read->job);
    second["name"] = first["name"];  // another of the same name has a number behind it
    CHECK(second == first);
    const JobPlan a = plan_job(plan_request(state, job)), b = plan_job(plan_request(state, read->job));
    REQUIRE(a.operations.size() == b.operations.size());
    for (std::size_t i = 0; i < a.operations.size(); ++i)
      CHECK(a.operations[i]->path.moves.size() == b.operations[i]->path.moves.size());
  }
}

TEST_CASE("a job file that is wrong names the key and what would be right, and makes nothing") {
  const ShopState& state = the_demo();
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  const Json right = job_file(state, *state.job(state.jobs.named("Gear cover")->id));
  const auto fault_of = [&](const std::function<void(Json&)>& change) {
    Json json = right;
    change(json);
    const auto read = read_job_file(state, resolver, json.dump(), QStringLiteral("/nowhere"));
    return read ? std::string("none") : read.error()[0].key;
  };
  CHECK(fault_of([](Json&) {}) == "none");
  CHECK(fault_of([](Json& j) { j["machin"] = 1; }) == "machin");
  CHECK(fault_of([](Json& j) { j["machine"] = "Fetler 6"; }) == "machine");
  CHECK(fault_of([](Json& j) { j["material"] = 5; }) == "material");
  CHECK(fault_of([](Json& j) { j["stock"]["x_mm"] = {5, -5}; }) == "stock.x_mm");
  CHECK(fault_of([](Json& j) { j["features"][1]["id"] = j["features"][0]["id"]; }) == "features[1].id");
  CHECK(fault_of([](Json& j) { j["features"][0]["kind"] = "hole"; }) == "features[0].kind");
  CHECK(fault_of([](Json& j) { j["operations"][0]["kind"] = "facing"; }) == "operations[0].kind");
  CHECK(fault_of([](Json& j) { j["operations"][0]["peck_mm"] = 3; }) == "operations[0].peck_mm");
  CHECK(fault_of([](Json& j) { j["operations"][0]["depth_mm"] = -3; }) == "operations[0].depth_mm");
  CHECK(fault_of([](Json& j) { j["operations"][0]["own"] = {{"n_rpm", 0}}; }) == "operations[0].own.n_rpm");
  CHECK(fault_of([](Json& j) { j["operations"][0]["cutter"]["number"] = 9999; }) == "operations[0].cutter.number");
  CHECK(fault_of([](Json& j) { j["format_version"] = 2; }) == "format_version");
}

TEST_CASE("own values hold as typed, one of them alone too; the rest follows") {
  const ShopState& state = the_demo();
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  Job job = *state.job(state.jobs.named("Spindle rail")->id);
  Operation o = job.operations[0];
  const TakenConditions followed = o.taken;
  CHECK(o.taken_slot.n_rpm.has_value());
  o.own_plunge_mm_min = 77;
  o.own_ramp_mm_min = 88;
  o.own_n_rpm = 2000;
  retake(state, resolver, job, o);
  CHECK(*o.taken.n_rpm == 2000);
  CHECK(*o.taken.vf_mm_min == Approx(*followed.vf_mm_min / *followed.n_rpm * 2000));
  CHECK(*o.taken.plunge_mm_min == 77);
  CHECK(*o.taken.ramp_mm_min == 88);
  o.own_n_rpm.reset();
  o.own_vf_mm_min = 555;
  retake(state, resolver, job, o);
  CHECK(*o.taken.n_rpm == *followed.n_rpm);
  CHECK(*o.taken.vf_mm_min == 555);
}

TEST_CASE("planning remembers: what did not change is not planned again, and what depends on a changed path is") {
  const ShopState& state = the_demo();
  Job job = *state.job(state.jobs.named("Gear cover")->id);
  const auto cache = std::make_shared<PlanCache>();
  const JobPlan first = plan_job(plan_request(state, job, cache));
  CHECK(first.planned_anew == 4);
  CHECK(plan_job(plan_request(state, job, cache)).planned_anew == 0);
  job.operations[3].name = "another name";
  job.operations[3].tool_number = 9;
  CHECK(plan_job(plan_request(state, job, cache)).planned_anew == 0);
  job.operations[3].depth_mm = 14;
  CHECK(plan_job(plan_request(state, job, cache)).planned_anew == 1);
  // Another depth of the face: everything under it meets other stock.
  job.features[1].depth_mm = 0.5;
  CHECK(plan_job(plan_request(state, job, cache)).planned_anew > 1);
  // Stopped, it answers at once and keeps nothing.
  const JobPlan stopped = plan_job(plan_request(state, job), [](double) { return false; });
  CHECK(stopped.has_faults());
}

TEST_CASE("stock with a skin is cut a fifth slower where it is met, and the trail says so") {
  const ShopState& state = the_demo();
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  Job job = *state.job(state.jobs.named("Roller end cap")->id);
  const double before = *job.operations[0].taken.n_rpm;
  const Change change = edited_setup(state, resolver, job, 0, *find_property<Setup>("skin"), std::string("casting"),
                                     "casting", UnitSystem::metric);
  CHECK(change.objects.size() > 1);  // the setup, and the operations that meet the skin
  job.setups[0].skin = StockSkin::casting;
  job = retaken(state, resolver, job);
  CHECK(*job.operations[0].taken.n_rpm == Approx(before * 0.8).epsilon(0.02));
  const Trail& trail = job.operations[0].taken.trail;
  CHECK(std::any_of(trail.begin(), trail.end(), [](const TrailStep& s) { return s.step == "skin"; }));
}

TEST_CASE("what the machine does not have is an error at the operation that asks for it") {
  ShopState state = the_demo();
  Job job = *state.job(state.jobs.named("Gear cover")->id);
  const auto says = [&](std::size_t i, const char* code) {
    const JobPlan plan = plan_job(plan_request(state, job));
    return std::any_of(plan.faults[i].begin(), plan.faults[i].end(),
                       [&](const Message& m) { return m.code == code && m.severity == Severity::error; });
  };
  CHECK_FALSE(says(1, "machine_lacks_coolant"));
  job.operations[1].own_coolant = Coolant::through_air;
  CHECK(says(1, "machine_lacks_coolant"));
  CHECK_FALSE(says(3, "no_pocket_left"));
  Machine machine = *state.machines.find(job.machine);
  machine.pockets = 3;
  state.machines.put(machine);
  CHECK(says(3, "no_pocket_left"));
  CHECK_FALSE(says(2, "no_pocket_left"));
}

TEST_CASE("only what a kind works on can be picked for it") {
  const ShopState& state = the_demo();
  Job job = *state.job(state.jobs.named("Gear cover")->id);
  Feature open;
  open.key = "scratch";
  open.line = {false, {{20, 20, 0}, {60, 20, 0}}};
  job.features.push_back(open);
  put_in_order(job);
  // In the order of the demo: face, pocket, drilling, profile.
  const auto picked = [&](int at) { return feature_clicked(job, at, "scratch", true, UnitSystem::metric).has_value(); };
  CHECK_FALSE(picked(1));
  CHECK_FALSE(picked(2));
  CHECK(picked(3));
  CHECK(feature_clicked(job, 2, "HOLES/1", true, UnitSystem::metric).has_value());
}

TEST_CASE("what is planned with a memory is what is planned without one, whatever was changed before") {
  const ShopState& state = the_demo();
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  for (const char* name : {"Roller end cap", "Two holes", "Gear cover"}) {
    Job job = *state.job(state.jobs.named(name)->id);
    const auto cache = std::make_shared<PlanCache>();
    const std::vector<std::function<void(Job&)>> changes = {
        [](Job&) {},
        [](Job& j) { j.operations.back().depth_mm = 9; },
        [](Job& j) { j.operations[1].leave_floor_mm = 0.4; },
        [](Job& j) { j.operations[0].taken.vf_mm_min = 321; },
        [](Job& j) { j.features.front().depth_mm = 3; },
        [](Job& j) { j.features.back().diameter_mm = 7; },
        [](Job& j) { j.setups[0].z_high_mm = 1; },
        [](Job& j) { std::swap(j.operations[0], j.operations[1]); },
        [](Job& j) { j.operations.erase(j.operations.begin() + 1); },
        [](Job& j) { j.operations[1].cutter.diameter_mm = *j.operations[1].cutter.diameter_mm * 0.9; },
        [](Job& j) { j.setups[0].clearance_mm = 22; },
        [&](Job& j) {
          j.material = state.materials.named("42CrMo4 +QT")->id;
          j = retaken(state, resolver, std::move(j));
        }};
    for (std::size_t i = 0; i < changes.size(); ++i) {
      INFO(name << ", change " << i);
      changes[i](job);
      const PlanRequest with = plan_request(state, job, cache), without = plan_request(state, job);
      const JobPlan a = plan_job(with), b = plan_job(without);
      CHECK(program_of(with, a).text == program_of(without, b).text);
      for (std::size_t k = 0; k < job.operations.size(); ++k) {
        CHECK(a.faults[k] == b.faults[k]);
        CHECK(a.operations[k]->path.moves.size() == b.operations[k]->path.moves.size());
      }
      CHECK(plan_job(with).planned_anew == 0);
    }
  }
}
