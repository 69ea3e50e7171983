// The shortlist against a plain search: every cutter of the shop is planned by itself.
#include <catch2/catch.hpp>
#include <map>

#include "demo_copy.h"
#include "shop/job_edit.h"
#include "shop/job_file.h"
#include "shop/planning.h"
#include "shop/shop.h"
#include "shop/shortlist.h"

using namespace pecorra;

namespace {

struct Asked {
  ShopState state = the_demo();
  Resolver resolver{state.tables.shared(), state.resolver_options()};
  Job job;
  Asked(const std::string& feature, const std::string& operation) {
    const auto read =
        read_job_file(state, resolver,
                      R"({"format_version":1,"name":"x","machine":"Fettler 6","material":"C45","features":[)" +
                          feature + R"(],"operations":[)" + operation + "]}",
                      {});
    REQUIRE(read.has_value());
    job = read->job;
  }
  Shortlist list(RankBy by = RankBy::time, std::optional<ToolMaterial> only = {}) {
    return shortlist(state, resolver, job, by, only);
  }
};

const char* const pocket =
    R"({"id":"p","kind":"rectangle","length_mm":60,"width_mm":40,"corner_radius_mm":6,"depth_mm":10})";
const char* const pocketed = R"({"kind":"pocket","features":["p"],"cutter":"auto"})";

}  // namespace

TEST_CASE("a shortlist has every cutter of the shop once, and the times of its paths") {
  Asked q(pocket, pocketed);
  const Shortlist list = q.list();
  REQUIRE(list.ranked.size() > 3);
  std::map<const Cutter*, int> seen;
  for (const ShortlistEntry& e : list.ranked) ++seen[e.cutter];
  for (const ShortlistRefusal& r : list.excluded) ++seen[r.cutter];
  CHECK(seen.size() == q.state.cutters.size());
  for (const auto& [cutter, times] : seen) CHECK(times == 1);
  for (std::size_t i = 0; i + 1 < list.ranked.size(); ++i) CHECK(list.ranked[i].minutes <= list.ranked[i + 1].minutes);
  // Each of them, planned as a job of its own.
  for (const ShortlistEntry& e : list.ranked) {
    INFO(e.cutter->name);
    Job job = q.job;
    pick_cutter(q.state, q.resolver, job, job.operations.front(), *e.cutter);
    const JobPlan plan = plan_job(plan_request(q.state, job));
    CHECK_FALSE(plan.has_faults());
    CHECK(e.minutes * 60 == Approx(plan.times.front().total_s() - plan.times.front().change_s));
    CHECK(e.operation.taken.n_rpm == job.operations.front().taken.n_rpm);
    // The corner of 6 mm is reached.
    CHECK(*e.cutter->diameter_mm <= 12.0 + 1e-9);
  }
  // And none of the others can: no conditions, or its path is refused, or it leaves the corners.
  for (const ShortlistRefusal& r : list.excluded) {
    INFO(r.cutter->name << ": " << r.reason.code);
    CHECK_FALSE(r.reason.code.empty());
    if (r.reason.code == "rest_corners") CHECK(*r.cutter->diameter_mm > 12.0);
    if (r.reason.code == "kind_cannot_do") CHECK_FALSE(can_do(r.cutter->kind, q.job.operations.front().operation));
  }
}

TEST_CASE("a shortlist goes by cost where the machine has a rate, and only by the tool material asked for") {
  Asked q(pocket, pocketed);
  Machine machine = *q.state.machines.find(q.job.machine);
  machine.hourly_rate = 60;
  q.state.machines.put(machine);
  Shortlist list = q.list(RankBy::cost);
  REQUIRE(!list.ranked.empty());
  for (const ShortlistEntry& e : list.ranked) {
    REQUIRE(e.cost);
    if (!e.edges_in_cost) CHECK(*e.cost == Approx(e.minutes));  // 60 an hour
  }
  for (std::size_t i = 0; i + 1 < list.ranked.size(); ++i) CHECK(*list.ranked[i].cost <= *list.ranked[i + 1].cost);
  machine.hourly_rate.reset();
  q.state.machines.put(machine);
  list = q.list(RankBy::cost);
  for (const ShortlistEntry& e : list.ranked) CHECK_FALSE(e.cost);
  const Shortlist carbide = q.list(RankBy::time, ToolMaterial::carbide);
  REQUIRE(!carbide.ranked.empty());
  CHECK(carbide.ranked.size() < list.ranked.size());
  for (const ShortlistEntry& e : carbide.ranked) CHECK(e.cutter->tool_material == ToolMaterial::carbide);
}

TEST_CASE("an edge's share is in the cost where its life and price are known") {
  Asked q(pocket, pocketed);
  const Cutter* mill = q.list().ranked.front().cutter;
  Machine machine = *q.state.machines.find(q.job.machine);
  machine.hourly_rate = 60;
  q.state.machines.put(machine);
  Cutter priced = *mill;
  priced.price = 90;
  q.state.cutters.put(priced);
  ConditionTable table;
  table.id = new_id();
  table.name = "With life";
  table.level = TableLevel::shop;
  ConditionRow row;
  row.id = new_id();
  row.kind = priced.kind;
  row.operation = q.job.operations.front().operation;
  row.material = q.job.material;
  row.group = q.state.materials.find(q.job.material)->group;
  row.diameter_mm = *priced.diameter_mm;
  row.vc_m_min = 100;
  row.feed_mm = 0.05;
  row.feed_kind = FeedKind::per_tooth;
  row.life_min = 45;
  table.rows = {row};
  q.state.tables.put(table);
  const Resolver resolver(q.state.tables.shared(), q.state.resolver_options());
  const Shortlist list = shortlist(q.state, resolver, q.job, RankBy::cost);
  const auto found = std::find_if(list.ranked.begin(), list.ranked.end(),
                                  [&](const ShortlistEntry& e) { return e.cutter->id == priced.id; });
  REQUIRE(found != list.ranked.end());
  REQUIRE(found->edges);
  CHECK(found->edges_in_cost);
  // At the row's own conditions a life is 45 min; the time at a feed is no more than all of it.
  CHECK(*found->edges <= found->minutes / 45 * 1.5);
  CHECK(*found->edges > 0);
  CHECK(*found->cost == Approx(found->minutes + 90 * *found->edges));
}
