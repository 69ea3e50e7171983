// Ready means ready: with values that follow the tables, every S, F and depth of a path is the answer that belongs to
// that place, and whatever a setter would stop the machine for is said.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <set>

#include "../support/says.h"
#include "core/motion/motion.h"
#include "demo_copy.h"
#include "formats/json/objects.h"
#include "shop/chain_edit.h"
#include "shop/job_edit.h"
#include "shop/job_file.h"
#include "shop/job_overview.h"
#include "shop/machine_file.h"
#include "shop/operation_edit.h"
#include "shop/planning.h"
#include "shop/setup_sheet.h"

using namespace pecorra;
using test::says;

namespace {

struct ReadyShop {
  ShopState state = the_demo();
  std::optional<Resolver> resolver_;
  const Resolver& resolver() {
    if (!resolver_) resolver_.emplace(state.tables.shared(), state.resolver_options());
    return *resolver_;
  }
  Job job(const Json& features, const std::vector<Json>& operations, const char* material = "C45",
          const char* machine = "Fettler 6") {
    const Json file{{"format_version", 1},
                    {"name", "Part"},
                    {"machine", machine},
                    {"material", material},
                    {"stock", {{"x_mm", {-5, 105}}, {"y_mm", {-5, 65}}, {"z_mm", {-20, 0}}}},
                    {"clearance_mm", 15},
                    {"features", features},
                    {"operations", Json(operations)}};
    auto read = read_job_file(state, resolver(), file.dump(), {});
    if (!read) FAIL(read.error().front().line());
    return read->job;
  }
  JobPlan plan(const Job& job) { return plan_job(plan_request(state, job)); }
};

Json rectangle(const char* id, double x0, double y0, double x1, double y1) {
  return {{"id", id}, {"kind", "line"}, {"closed", true}, {"points", {{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}}};
}
Json holes(const char* id, const Json& more) {
  Json json{{"id", id}, {"kind", "holes"}, {"at", {{30, 30}, {70, 30}}}};
  json.update(more);
  return json;
}
Json with_auto(const char* kind, const Json& features, const Json& more = Json::object()) {
  Json json{{"kind", kind}, {"features", features}, {"cutter", "auto"}};
  json.update(more);
  return json;
}

// Calls with each fed move, where it starts, and the speed it turns at.
template <class Call>
void fed(const Operation& o, const Toolpath& path, Call&& call) {
  double n = path.start_rpm > 0 ? path.start_rpm : o.taken.n_rpm.value_or(0), x = 0, y = 0, z = path.safe_z;
  std::size_t event = 0;
  for (std::size_t i = 0; i < path.moves.size(); ++i) {
    const Move& m = path.moves[i];
    for (; event < path.events.size() && path.events[event].before <= i; ++event)
      if (path.events[event].kind == MotionEvent::spindle_speed) n = path.events[event].value;
    if (m.feed_mm_min > 0) call(m, n, x, y, z);
    x = m.x, y = m.y, z = m.z;
  }
}

// Speed and feed of a cut are the cut's, the slot's or a finishing pass's; in corners the slot's feed per turn at most.
bool is_one_answer(const Operation& o, const Move& m, double n) {
  const auto is = [&](const TakenConditions& t) {
    if (!t.n_rpm || std::abs(*t.n_rpm - n) > 0.5) return false;
    const double f = m.feed_mm_min;
    const auto same = [&](const std::optional<double>& v) { return v && std::abs(*v - f) < 0.01; };
    switch (m.kind) {
      case MoveKind::plunge:
        return same(t.plunge_mm_min) || f <= *t.vf_mm_min + 0.01;  // the latter in air, as far as the axis goes
      case MoveKind::ramp: return same(t.ramp_mm_min);
      case MoveKind::lead: return same(t.lead_mm_min);
      default: return same(t.vf_mm_min);
    }
  };
  for (const TakenConditions* t : {&o.taken, &o.taken_slot, &o.taken_finish, &o.taken_floor})
    if (is(*t)) return true;
  const TakenConditions& slot = o.taken_slot;
  return slot.n_rpm && m.feed_mm_min <= *slot.vf_mm_min + 0.01 &&
         m.feed_mm_min / n <= *slot.vf_mm_min / *slot.n_rpm * (1 + 1e-6);
}

double lowest(const Toolpath& path, double x_from, double x_to) {
  double least = 0;
  for (const Move& m : path.moves)
    if (m.feed_mm_min > 0 && m.x >= x_from && m.x <= x_to) least = std::min(least, m.z);
  return least;
}

}  // namespace

TEST_CASE("several pockets with finishing passes: each begins at the roughing values again") {
  ReadyShop s;
  const Json features{rectangle("a", 0, 0, 40, 60),
                      rectangle("b", 55, 0, 95, 60),
                      {{"id", "p1"}, {"kind", "pocket"}, {"outline", "a"}, {"depth_mm", 8}},
                      {{"id", "p2"}, {"kind", "pocket"}, {"outline", "b"}, {"depth_mm", 14}}};
  const Job job = s.job(
      features, {with_auto("pocket", Json::array({"p1", "p2"}), {{"finish_pass_mm", 0.3}, {"finish_floor_mm", 0.2}})});
  const Operation& o = job.operations[0];
  const JobPlan plan = s.plan(job);
  REQUIRE_FALSE(plan.has_faults());
  REQUIRE(o.taken_slot.n_rpm.has_value());
  bool right = true;
  std::set<double> ramps[2];
  fed(o, plan.operations[0]->path, [&](const Move& m, double n, double x, double, double) {
    right = right && is_one_answer(o, m, n);
    if (m.kind == MoveKind::ramp) ramps[x > 47].insert(m.feed_mm_min);
  });
  CHECK(right);
  // The opening of the second as that of the first, at the slot's ramp.
  CHECK(ramps[0] == std::set<double>{*o.taken_slot.ramp_mm_min});
  CHECK(ramps[1] == ramps[0]);
  // Each as deep as it is, not as the deepest.
  CHECK(lowest(plan.operations[0]->path, 0, 40) == Approx(-8));
  CHECK(lowest(plan.operations[0]->path, 55, 95) == Approx(-14));
}

TEST_CASE("every kind that mills keeps to its answers, in metal and wood, on every machine of the demo") {
  ReadyShop s;
  const Json features{rectangle("edge", 0, 0, 100, 60),
                      rectangle("in", 20, 15, 70, 45),
                      {{"id", "p"}, {"kind", "pocket"}, {"outline", "in"}, {"depth_mm", 6}},
                      holes("h", {{"diameter_mm", 24}, {"depth_mm", 10}})};
  const std::vector<Json> operations{
      with_auto("face", Json::array(), {{"depth_mm", 1}}),
      with_auto("profile", Json::array({"edge"}), {{"depth_mm", 12}, {"top_mm", -1}, {"finish_pass_mm", 0.2}}),
      with_auto("pocket", Json::array({"p"}), {{"top_mm", -1}}),
      with_auto("slot", Json::array({"in"}), {{"depth_mm", 5}, {"top_mm", -1}})};
  int checked = 0;
  for (const char* machine : {"Fettler 6", "Slubber 2", "Batten R"})
    for (const char* material : {"C45", "X6CrNiTi18-10", "EN AW-5083", "Beech"}) {
      const Job job = s.job(features, operations, material, machine);
      const JobPlan plan = s.plan(job);
      for (std::size_t i = 0; i < job.operations.size(); ++i) {
        if (has_error(plan.faults[i])) continue;
        INFO(machine << " " << material << " " << label_of(job.operations[i].path));
        std::string wrong;
        fed(job.operations[i], plan.operations[i]->path, [&](const Move& m, double n, double, double, double) {
          if (wrong.empty() && !is_one_answer(job.operations[i], m, n))
            wrong = std::string(key_of(m.kind)) + " S" + std::to_string(n) + " F" + std::to_string(m.feed_mm_min);
        });
        CHECK(wrong == "");
        ++checked;
      }
    }
  CHECK(checked > 20);
}

TEST_CASE("a bore's centre goes at the feed that its edge has on its own circle (formula 14)") {
  ReadyShop s;
  const Job job = s.job(Json::array({holes("h", {{"diameter_mm", 30}, {"depth_mm", 15}})}),
                        {with_auto("helical_bore", Json::array({"h"}))});
  const Operation& o = job.operations[0];
  const JobPlan plan = s.plan(job);
  REQUIRE_FALSE(plan.has_faults());
  const double d = *o.cutter.diameter_mm;
  double widest = 0, feed = 0;
  for (const Move& m : plan.operations[0]->path.moves)
    if (m.kind == MoveKind::cut && m.shape != MoveShape::line)
      if (const double r = std::hypot(m.x - m.centre_x, m.y - m.centre_y); r > widest) widest = r, feed = m.feed_mm_min;
  CHECK(2 * widest + d == Approx(30));
  // Once, and not for a bore of 1.8 D besides.
  Query query = query_for(s.state, job, o);
  query.at_edge = false;
  const Machine& machine = *s.state.machines.find(job.machine);
  const Resolver& r = s.resolver();
  const Conditions edge = r.resolve(key_as_used(s.state, r, *s.state.cutters.find(o.cutter.id)),
                                    r.key_of(*s.state.materials.find(job.material)), r.key_of(machine), query)
                              .conditions;
  CHECK(feed == Approx(edge.vf_edge_mm_min * (30 - d) / 30).epsilon(0.03));  // both are rounded down to tens
  // It is judged by the feed of its edge.
  CHECK(cut_of(s.state, o, plan.operations[0]->facts()).vf_mm_min == o.taken.vf_mm_min);
}

TEST_CASE("facing inside the stock goes down a slope, and two outlines are faced each by itself") {
  ReadyShop s;
  const Json features{rectangle("a", 10, 10, 40, 50), rectangle("b", 70, 10, 95, 50)};
  for (const char* pattern : {"to_and_fro", "one_way", "spiral"}) {
    const Job job =
        s.job(features, {with_auto("face", Json::array({"a", "b"}), {{"depth_mm", 2}, {"pattern", pattern}})});
    const JobPlan plan = s.plan(job);
    INFO(pattern);
    REQUIRE_FALSE(plan.has_faults());
    double z = 99, x = 0, y = 0;
    bool ramped = false;
    for (const Move& m : plan.operations[0]->path.moves) {
      const bool inside = m.x > -5 && m.x < 105 && m.y > -5 && m.y < 65;
      if (m.kind == MoveKind::plunge && inside) CHECK(m.z >= -1e-9);
      ramped = ramped || m.kind == MoveKind::ramp;
      x = m.x, y = m.y, z = m.z;
    }
    CHECK(ramped);
    (void)x, (void)y, (void)z;
  }
}

TEST_CASE("a face leaves nothing standing, whatever the widths") {
  ReadyShop s;
  for (const char* pattern : {"to_and_fro", "one_way", "spiral"})
    for (const double ae : {7.3, 11.9, 14.1, 15.9}) {
      Json operation =
          with_auto("face", Json::array(), {{"depth_mm", 1}, {"pattern", pattern}, {"own", {{"ae_mm", ae}}}});
      operation["cutter"] = {{"generic",
                              {{"kind", "end_mill"},
                               {"diameter_mm", 16},
                               {"flutes", 4},
                               {"flute_length_mm", 32},
                               {"overall_length_mm", 92},
                               {"shank_diameter_mm", 16},
                               {"tool_material", "carbide"}}}};
      const Job job = s.job(Json::array(), {operation});
      const JobPlan plan = s.plan(job);
      INFO(pattern << " " << ae);
      REQUIRE_FALSE(plan.has_faults());
      // By the path alone: how near the tip comes to each place of the top.
      double farthest = 0;
      const auto& moves = plan.operations[0]->path.moves;
      for (double px = -4.9; px < 105; px += 1.7)
        for (double py = -4.9; py < 65; py += 1.7) {
          double nearest = 1e9, x = 0, y = 0;
          for (const Move& m : moves) {
            if (m.z < -0.99 && m.feed_mm_min > 0) {
              const double dx = m.x - x, dy = m.y - y, square = dx * dx + dy * dy;
              const double t = square > 0 ? std::clamp(((px - x) * dx + (py - y) * dy) / square, 0.0, 1.0) : 0;
              nearest = std::min(nearest, std::hypot(px - x - t * dx, py - y - t * dy));
            }
            x = m.x, y = m.y;
          }
          farthest = std::max(farthest, nearest);
        }
      CHECK(farthest < 8);
    }
}

TEST_CASE("a bulge of nothing is a straight line") {
  ReadyShop s;
  const auto path = [&](double bulge) {
    Json edge = rectangle("edge", 0, 0, 100, 60);
    edge["points"][1].push_back(bulge);
    const Job job = s.job(Json::array({edge}), {with_auto("profile", Json::array({"edge"}), {{"depth_mm", 5}})});
    const JobPlan plan = s.plan(job);
    REQUIRE_FALSE(plan.has_faults());
    return plan.operations[0]->path;
  };
  const Toolpath straight = path(0), nearly = path(1e-12);
  REQUIRE(straight.moves.size() == nearly.moves.size());
  for (std::size_t i = 0; i < straight.moves.size(); ++i) {
    CHECK(straight.moves[i].x == Approx(nearly.moves[i].x));
    CHECK(straight.moves[i].shape == nearly.moves[i].shape);
  }
}

TEST_CASE(
    "where the surface is gone that a depth counts from it is said, with a cure; proposals count from the new one") {
  ReadyShop s;
  const Json features{holes("h", {{"thread", "M10"}, {"depth_mm", 12}, {"chamfer_mm", 0.5}}),
                      rectangle("edge", 0, 0, 100, 60)};
  Job job = s.job(features,
                  {with_auto("face", Json::array(), {{"depth_mm", 2}}), with_auto("spot", Json::array({"h"})),
                   with_auto("drill", Json::array({"h"}), {{"depth_mm", 19}}), with_auto("tap", Json::array({"h"}))});
  const JobPlan plan = s.plan(job);
  for (const std::size_t i : {1u, 2u, 3u}) CHECK(says(plan.faults[i], "surface_is_gone", Severity::warning));
  const Change cure = counted_from_faced(s.state, s.resolver(), job, {0, 1, 2, 3});
  CHECK(cure.objects.size() == 3);
  for (std::size_t i = 1; i < 4; ++i) job.operations[i].top_mm = -2;
  const JobPlan cured = s.plan(job);
  for (const std::size_t i : {1u, 2u, 3u}) CHECK_FALSE(says(cured.faults[i], "surface_is_gone"));
  CHECK(counted_from_faced(s.state, s.resolver(), job, {0, 1, 2, 3}).empty());
  const Operation proposed = proposed_operation(job, PathKind::profile);
  CHECK(proposed.top_mm == -2);
  CHECK(proposed.depth_mm == 18);
}

TEST_CASE("what comes too early is an error that names what comes first, across features at one place") {
  ReadyShop s;
  Json other = holes("g", {{"thread", "M10"}, {"depth_mm", 12}});
  other["at"] = {{30, 30.0000001}, {70, 30}};
  const Json features{holes("h", {{"thread", "M10"}, {"depth_mm", 12}}),
                      other,
                      rectangle("in", 10, 10, 60, 50),
                      {{"id", "p"}, {"kind", "pocket"}, {"outline", "in"}, {"depth_mm", 5}}};
  const auto faults = [&](const std::vector<Json>& operations) {
    const JobPlan plan = s.plan(s.job(features, operations));
    std::vector<bool> early;
    for (const auto& list : plan.faults) early.push_back(says(list, "comes_too_early", Severity::error));
    return early;
  };
  using Early = std::vector<bool>;
  const Json drill = with_auto("drill", Json::array({"g"}), {{"depth_mm", 19}}),
             tap = with_auto("tap", Json::array({"h"})), spot = with_auto("spot", Json::array({"g"}));
  CHECK(faults({spot, drill, tap}) == Early{false, false, false});
  CHECK(faults({tap, drill}) == Early{true, false});
  CHECK(faults({drill, spot, tap}) == Early{true, false, false});
  CHECK(faults({tap}) == Early{false});  // drilled elsewhere
  CHECK(faults({with_auto("countersink", Json::array({"h"}), {{"diameter_mm", 14}}), drill}) == Early{true, false});
  const Json rough = with_auto("pocket", Json::array({"p"}), {{"leave_wall_mm", 0.3}}),
             finish = with_auto("profile", Json::array({"in"}),
                                {{"where", "within"}, {"depth_mm", 5}, {"operation", "side_finish"}}),
             face = with_auto("face", Json::array(), {{"depth_mm", 1}});
  CHECK(faults({rough, finish}) == Early{false, false});
  CHECK(faults({finish, rough}) == Early{true, false});
  CHECK(faults({rough, face}) == Early{true, false});
  CHECK(faults({face, rough}) == Early{false, false});
  const Job job = s.job(features, {tap, drill});
  CHECK_FALSE(moved_behind(job, 0, 1).empty());
  CHECK(moved_behind(job, 1, 0).empty());
}

TEST_CASE("tabs stand on the ring they were put at, also where it begins") {
  ReadyShop s;
  const Json features{rectangle("edge", 0, 0, 100, 60), rectangle("in", 30, 15, 70, 45)};
  for (const double x : {50.0, 12.0, 88.0}) {
    const Job job = s.job(features, {with_auto("profile", Json::array({"edge", "in"}),
                                               {{"depth_mm", 20},
                                                {"side_stock_mm", 3},
                                                {"tabs", {{"at", {{x, 0}}}, {"width_mm", 5}, {"height_mm", 2}}}})});
    const JobPlan plan = s.plan(job);
    INFO(x);
    REQUIRE_FALSE(plan.has_faults());
    CHECK_FALSE(says(plan.faults[0], "tab_left_out"));
    const double r = *job.operations[0].cutter.diameter_mm / 2;
    // At the tab nothing is cut below its top; elsewhere, and on the other ring, down to the depth.
    double at_tab = 0, on_edge = 0, on_other = 0;
    for (const Move& m : plan.operations[0]->path.moves) {
      if (m.feed_mm_min <= 0) continue;
      const bool outside = m.x < 0 || m.x > 100 || m.y < 0 || m.y > 60;
      if (outside && std::abs(m.x - x) < 2.4 && m.y < 0 && m.y > -r - 0.01) at_tab = std::min(at_tab, m.z);
      (outside ? on_edge : on_other) = std::min(outside ? on_edge : on_other, m.z);
    }
    CHECK(at_tab >= -18 - 1e-9);
    CHECK(on_edge == Approx(-20));
    CHECK(on_other == Approx(-20));
  }
}

TEST_CASE("no cutter turns faster than it may, and nothing below the least speed of the machine") {
  ReadyShop s;
  const Resolver& r = s.resolver();
  Machine machine = *s.state.machines.named("Batten R");
  Cutter cutter;
  for (const Cutter& c : s.state.cutters)
    if (c.kind == CutterKind::end_mill && c.diameter_mm) cutter = c;
  cutter.max_rpm = 900;
  const WorkMaterial& beech = *s.state.materials.named("Beech");
  Query query;
  query.operation = OperationKind::side_rough;
  Resolution slow = r.resolve(r.key_of(cutter), r.key_of(beech), r.key_of(machine), query);
  CHECK_FALSE(slow.found());
  CHECK(slow.reason == NoAnswer::below_least_speed);
  // On a dial whose slowest position is faster than the cutter may turn.
  machine.min_rpm.reset();
  machine.dial_rpm = {1000, 2000, 4000};
  CHECK_FALSE(r.resolve(r.key_of(cutter), r.key_of(beech), r.key_of(machine), query).found());
  cutter.max_rpm = 2100;
  const Resolution at = r.resolve(r.key_of(cutter), r.key_of(beech), r.key_of(machine), query);
  REQUIRE(at.found());
  CHECK(at.conditions.n_rpm == 2000);
  // A tap on a slow axis gets a speed of the dial, and F is its pitch times that.
  Machine mill = *s.state.machines.named("Slubber 2");
  mill.dial_rpm = {120, 250, 500, 950};
  mill.min_rpm = 100;
  mill.feed_z_mm_min = 340;
  for (const Cutter& c : s.state.cutters) {
    if (c.kind != CutterKind::tap || !c.pitch_mm) continue;
    query.operation = OperationKind::tap;
    const Conditions t =
        r.resolve(r.key_of(c), r.key_of(*s.state.materials.named("EN AW-5083")), r.key_of(mill), query).conditions;
    if (std::isnan(t.n_rpm)) continue;
    CHECK(std::count(mill.dial_rpm.begin(), mill.dial_rpm.end(), t.n_rpm) == 1);
    CHECK(t.vf_mm_min == Approx(t.n_rpm * *c.pitch_mm));
    CHECK(t.vf_mm_min <= 340);
  }
  mill.feed_z_mm_min = 50;
  mill.dial_rpm.clear();
  const Cutter& tap = *s.state.cutter_numbered(s.state.libraries.named("Standing set")->id, 8);
  CHECK(r.resolve(r.key_of(tap), r.key_of(*s.state.materials.named("EN AW-5083")), r.key_of(mill), query).reason ==
        NoAnswer::below_least_speed);
}

TEST_CASE("a dial machine gets speeds of its dial only, with position and stop, and only on the retract plane") {
  ReadyShop s;
  Machine dial = *s.state.machines.named("Slubber 2");
  dial.id = Id::from_name("dial");
  dial.name = "Dial";
  dial.dial_rpm = {200, 400, 800, 1600, 3200};
  s.state.machines.put(dial);
  const Json features{rectangle("a", 0, 0, 60, 50),
                      {{"id", "p"}, {"kind", "pocket"}, {"outline", "a"}, {"depth_mm", 9}}};
  const Job job = s.job(features, {with_auto("pocket", Json::array({"p"}), {{"finish_pass_mm", 0.3}})}, "C45", "Dial");
  const JobPlan plan = s.plan(job);
  const PlanRequest request = plan_request(s.state, job);
  double z_before = 99;
  for (const MotionEvent& e : plan.operations[0]->path.events) {
    if (e.kind != MotionEvent::spindle_speed) continue;
    CHECK(std::count(dial.dial_rpm.begin(), dial.dial_rpm.end(), e.value) == 1);
    z_before = e.before > 0 ? plan.operations[0]->path.moves[e.before - 1].z : plan.operations[0]->path.safe_z;
    CHECK(z_before == Approx(plan.operations[0]->path.safe_z));
  }
  const std::string text = program_of(request, plan).text;
  CHECK(text.find("DIAL POSITION") != std::string::npos);
  CHECK(text.find("\nM0") != std::string::npos);
  for (std::size_t at = text.find("\nS"); at != std::string::npos; at = text.find("\nS", at + 1))
    CHECK(std::count(dial.dial_rpm.begin(), dial.dial_rpm.end(), std::atof(text.c_str() + at + 2)) == 1);
}

TEST_CASE("axes go no faster than they can: plunges in air, ramps, leads") {
  ReadyShop s;
  Machine slow = *s.state.machines.named("Fettler 6");
  slow.id = Id::from_name("slow");
  slow.name = "Slow axes";
  slow.feed_z_mm_min = 60;
  slow.feed_x_mm_min = 400;
  s.state.machines.put(slow);
  const Json features{rectangle("a", 0, 0, 60, 50),
                      {{"id", "p"}, {"kind", "pocket"}, {"outline", "a"}, {"depth_mm", 9}}};
  const Job job = s.job(features, {with_auto("pocket", Json::array({"p"}))}, "EN AW-5083", "Slow axes");
  const JobPlan plan = s.plan(job);
  REQUIRE_FALSE(plan.has_faults());
  fed(job.operations[0], plan.operations[0]->path, [&](const Move& m, double, double x, double y, double z) {
    if (m.shape != MoveShape::line) return;
    const double length = std::hypot(m.x - x, m.y - y, m.z - z);
    if (!(length > 1e-6)) return;
    CHECK(m.feed_mm_min * std::abs(m.z - z) / length <= 60 + 1e-6);
    CHECK(m.feed_mm_min * std::abs(m.x - x) / length <= 400 + 1e-6);
  });
}

TEST_CASE("drilling: the peck's depth follows, chips and pilots are thought of, a tap gets room") {
  ReadyShop s;
  const Json drill = with_auto("drill", Json::array({"h"}), {{"cycle", "peck"}});
  const Job job = s.job(Json::array({holes("h", {{"diameter_mm", 8.5}, {"depth_mm", 18}})}), {drill});
  CHECK(job.operations[0].operation == OperationKind::peck);
  REQUIRE(job.operations[0].taken.ap_mm.has_value());
  const JobPlan plan = s.plan(job);
  REQUIRE_FALSE(plan.operations[0]->path.cycles.empty());
  CHECK(plan.operations[0]->path.cycles[0].peck_mm == Approx(*job.operations[0].taken.ap_mm));
  const auto deep_plan = [&](const char* material, double d, const char* cycle, const char* of, double depth) {
    Json operation = with_auto("drill", Json::array({"h"}), {{"cycle", cycle}});
    operation["cutter"] = {{"generic",
                            {{"kind", "drill"},
                             {"diameter_mm", d},
                             {"flutes", 2},
                             {"flute_length_mm", 60},
                             {"overall_length_mm", 120},
                             {"shank_diameter_mm", d},
                             {"point_angle_deg", 118},
                             {"tool_material", of}}}};
    Json hole = holes("h", {{"diameter_mm", d}, {"depth_mm", depth}});
    return s.plan(s.job(Json::array({hole}), {operation}, material));
  };
  const auto deep = [&](const char* material, double d) {
    return deep_plan(material, d, "straight", "hss", 18).faults[0];
  };
  // Nobody has to say so: the cycle follows depth, drill and material (common practice, no source).
  const auto cycle = [&](const char* material, double d, const char* of, double depth) {
    const JobPlan plan = deep_plan(material, d, "auto", of, depth);
    CHECK_FALSE(says(plan.faults[0], "chips_not_cleared"));
    const CycleCall& call = plan.operations[0]->path.cycles.at(0);
    CHECK((call.kind == CycleKind::drill) != says(plan.faults[0], "cycle_chosen", Severity::note));
    CHECK((call.kind == CycleKind::drill) == (call.peck_mm == 0));
    return call.kind;
  };
  CHECK(cycle("C45", 6, "hss", 18) == CycleKind::drill);
  CHECK(cycle("C45", 6, "hss", 18.1) == CycleKind::chip_break);
  CHECK(cycle("C45", 3, "hss", 18) == CycleKind::peck);
  CHECK(cycle("C45", 6, "carbide", 30) == CycleKind::drill);
  CHECK(cycle("C45", 6, "carbide", 31) == CycleKind::chip_break);
  CHECK(cycle("X6CrNiTi18-10", 6, "hss", 18) == CycleKind::chip_break);
  CHECK(cycle("X6CrNiTi18-10", 6, "carbide", 24) == CycleKind::drill);
  // HSS clears its chips to about three diameters, less in sticky materials (common practice, no source).
  CHECK_FALSE(says(deep("C45", 6), "chips_not_cleared"));
  CHECK(says(deep("X6CrNiTi18-10", 6), "chips_not_cleared", Severity::warning));
  CHECK(says(deep("C45", 5), "chips_not_cleared", Severity::warning));
  CHECK(says(deep("C45", 1.5), "deep_without_pilot", Severity::warning));
  const auto tapped = [&](double drilled) {
    const Job threads =
        s.job(Json::array({holes("h", {{"thread", "M10"}, {"depth_mm", 10}})}),
              {with_auto("drill", Json::array({"h"}), {{"depth_mm", drilled}, {"depth_to", "full_diameter"}}),
               with_auto("tap", Json::array({"h"}))});
    return s.plan(threads).faults[1];
  };
  const double lead = 1.5 * 4;
  CHECK(says(tapped(10 + lead + 0.5), "tap_near_bottom", Severity::warning));
  CHECK_FALSE(says(tapped(10 + lead + 1.6), "tap_near_bottom"));
}

TEST_CASE("limits that are exceeded are said wherever the operation is shown") {
  ReadyShop s;
  Json operation =
      with_auto("slot", Json::array({"edge"}),
                {{"depth_mm", 15}, {"stickout_mm", 40}, {"own", {{"n_rpm", 3000}, {"vf_mm_min", 900}, {"ap_mm", 15}}}});
  operation["cutter"] = {{"generic",
                          {{"kind", "end_mill"},
                           {"diameter_mm", 8},
                           {"flutes", 4},
                           {"flute_length_mm", 24},
                           {"overall_length_mm", 63},
                           {"shank_diameter_mm", 8},
                           {"tool_material", "carbide"}}}};
  const Job job = s.job(Json::array({rectangle("edge", 0, 0, 100, 60)}), {operation});
  JobPlan plan = s.plan(job);
  CHECK((says(plan.faults[0], "over_deflection", Severity::warning) ||
         says(plan.faults[0], "over_bending", Severity::warning)));
  // The same figure when it is asked again from what is known.
  const auto cache = std::make_shared<PlanCache>();
  const JobPlan first = plan_job(plan_request(s.state, job, cache)),
                again = plan_job(plan_request(s.state, job, cache));
  CHECK(again.planned_anew == 0);
  CHECK(first.faults[0].size() == again.faults[0].size());
}

TEST_CASE("sheet and list say what the path runs at") {
  ReadyShop s;
  for (const char* name : {"Roller end cap", "Spindle rail", "Gear cover", "Two holes"}) {
    const Job job = *s.state.job(s.state.jobs.named(name)->id);
    const PlanRequest request = plan_request(s.state, job);
    const JobPlan plan = plan_job(request);
    const SetupSheet sheet = setup_sheet_of(s.state, request, plan, UnitSystem::metric);
    std::size_t at = 0;
    for (const SheetSetup& setup : sheet.setups)
      for (const SheetOperation& row : setup.operations) {
        const std::size_t i = static_cast<std::size_t>(row.number.toInt()) - 1;
        INFO(name << " " << row.number.toStdString());
        std::set<double> feeds, speeds;
        fed(job.operations[i], plan.operations[i]->path, [&](const Move& m, double n, double, double, double) {
          if (m.kind == MoveKind::cut || m.kind == MoveKind::cycle || m.kind == MoveKind::ramp)
            feeds.insert(std::round(m.feed_mm_min)), speeds.insert(n);
        });
        for (const QString& feed : row.f.split(QStringLiteral("–")))
          CHECK(feeds.count(std::round(feed.toDouble())) == 1);
        CHECK(speeds.count(row.s.toDouble()) == 1);
        CHECK_FALSE((row.proven && row.guess));
        ++at;
      }
    CHECK(at == job.operations.size());
  }
}

TEST_CASE("a control with a first peck of its own drills it as deep as the drill goes in one stroke") {
  ReadyShop s;
  const Json hole = holes("h", {{"diameter_mm", 6}, {"depth_mm", 42}});
  const Json drill = with_auto("drill", Json::array({"h"}),
                               {{"cutter",
                                 {{"generic",
                                   {{"kind", "drill"},
                                    {"diameter_mm", 6},
                                    {"flutes", 2},
                                    {"flute_length_mm", 60},
                                    {"overall_length_mm", 120},
                                    {"shank_diameter_mm", 6},
                                    {"point_angle_deg", 118},
                                    {"tool_material", "hss"}}}}}});
  for (const bool has : {true, false}) {
    PlanRequest request = plan_request(s.state, s.job(Json::array({hole}), {drill}));
    request.dialect.first_peck_word = has ? "I" : "";
    const JobPlan plan = plan_job(request);
    REQUIRE_FALSE(plan.has_faults());
    const CycleCall& call = plan.operations[0]->path.cycles.at(0);
    CHECK(call.kind == CycleKind::peck);
    CHECK(call.first_peck_mm == Approx(has ? 18 : 0).margin(1e-9));
    std::vector<double> pecks;  // how deep each stroke ends below the last
    double deepest = call.retract_z;
    for (std::uint32_t i = call.first; i < call.first + call.moves; ++i)
      if (const Move& m = plan.operations[0]->path.moves[i]; m.kind == MoveKind::cycle)
        pecks.push_back(deepest - m.z), deepest = m.z;
    REQUIRE(pecks.size() > 2);
    CHECK(pecks[0] == Approx(has ? 18 : call.peck_mm));
    CHECK(pecks[1] == Approx(call.peck_mm));
    const std::string program = program_of(request, plan).text;
    CHECK((program.find(" I18.") != std::string::npos) == has);
  }
}

TEST_CASE("deep holes are proposed with a pilot by another drill") {
  ReadyShop s;
  const Json hole = holes("h", {{"diameter_mm", 6}, {"depth_mm", 70}});
  Json file = Json::array({hole});
  Job job = s.job(file, {});
  job.setups.front().z_low_mm = -80;
  const auto chain = proposed_chain(s.state, s.resolver(), job, {"h"});
  REQUIRE(chain.size() == 3);
  CHECK(chain[1].operation.name == "Pilot");
  CHECK(chain[1].operation.depth_mm == Approx(12));
  CHECK(chain[1].operation.cutter.id != chain[2].operation.cutter.id);
  for (const ProposedOperation& proposed : chain) job.operations.push_back(proposed.operation);
  const JobPlan plan = s.plan(job);
  CHECK_FALSE(says(plan.faults[2], "deep_without_pilot"));
  CHECK(plan.operations[2]->path.cycles.at(0).kind == CycleKind::peck);
}

TEST_CASE("walls are finished as deep at once as flutes and limits allow, and no deeper") {
  ReadyShop s;
  const Json features{rectangle("a", 0, 0, 60, 50),
                      {{"id", "p"}, {"kind", "pocket"}, {"outline", "a"}, {"depth_mm", 14}}};
  for (const char* material : {"C45", "EN AW-5083", "X6CrNiTi18-10"}) {
    INFO(material);
    Json rough = with_auto("pocket", Json::array({"p"}), {{"leave_wall_mm", 0.3}});
    Json walls = with_auto("pocket", Json::array({"p"}), {{"operation", "side_finish"}});
    Json part =
        with_auto("profile", Json::array({"a"}), {{"where", "around"}, {"operation", "side_finish"}, {"depth_mm", 14}});
    const Json outside = with_auto("profile", Json::array({"a"}), {{"depth_mm", 14}, {"leave_wall_mm", 0.3}});
    const Job job = s.job(features, {rough, walls, outside, part}, material);
    const JobPlan plan = s.plan(job);
    REQUIRE_FALSE(plan.has_faults());
    for (const std::size_t i : {1U, 3U}) {
      INFO("operation " << i);
      const Operation& o = job.operations[i];
      const double step = *o.taken.ap_mm;
      CHECK(step <= o.cutter.flute_length_mm.value_or(0) + 1e-9);
      std::set<long> levels;
      fed(o, plan.operations[i]->path, [&](const Move& m, double, double, double, double) {
        if (m.kind == MoveKind::cut) levels.insert(std::lround(m.z * 1000));
        CHECK(m.kind != MoveKind::ramp);  // in what is cleared
      });
      CHECK(levels.size() == static_cast<std::size_t>(std::ceil(14 / step - 1e-9)));
      CHECK_FALSE(says(plan.faults[i], "over_limit_at_tightest"));
    }
  }
}

TEST_CASE("finishing alone cuts its walls once and nothing in the air beside them") {
  ReadyShop s;
  const Json profile = with_auto("profile", Json::array({"a"}), {{"operation", "side_finish"}, {"depth_mm", 10}});
  Json features = Json::array({rectangle("a", 5, 5, 95, 55)});
  const Job job =
      s.job(features, {with_auto("profile", Json::array({"a"}), {{"depth_mm", 10}, {"leave_wall_mm", 0.3}}), profile});
  const JobPlan plan = s.plan(job);
  REQUIRE_FALSE(plan.has_faults());
  double cut = 0;
  std::set<long> levels;
  double x0 = 0, y0 = 0;
  for (const Move& m : plan.operations[1]->path.moves) {
    if (m.kind == MoveKind::cut) {
      cut += m.shape == MoveShape::line ? std::hypot(m.x - x0, m.y - y0)
                                        : std::hypot(x0 - m.centre_x, y0 - m.centre_y) * std::abs(swept_rad(x0, y0, m));
      levels.insert(std::lround(m.z * 1000));
    }
    x0 = m.x, y0 = m.y;
  }
  // Once round at the cutter's radius, and the overlap.
  const double around = 2 * (90 + 50) + std::numbers::pi * *job.operations[1].cutter.diameter_mm;
  CHECK(cut == Approx((around + 1) * static_cast<double>(levels.size())).epsilon(0.01));
}

TEST_CASE("narrow parts of a pocket are cut from where it is open, and each place is entered once a level") {
  ReadyShop s;
  const Json star{{"id", "a"},
                  {"kind", "line"},
                  {"closed", true},
                  {"points", {{0, 0}, {50, 12}, {100, 0}, {85, 30}, {100, 60}, {50, 48}, {0, 60}, {15, 30}}}};
  const Json features{star, {{"id", "p"}, {"kind", "pocket"}, {"outline", "a"}, {"depth_mm", 4}}};
  Json rough = with_auto("pocket", Json::array({"p"}));
  rough["cutter"] = {{"library", "Bronze and light"}, {"number", 46}};
  const Job job = s.job(features, {rough}, "EN AW-5083");
  const JobPlan plan = s.plan(job);
  REQUIRE_FALSE(plan.has_faults());
  std::set<std::pair<long, long>> ramped;  // centres of helices, by tenths
  for (const Move& m : plan.operations[0]->path.moves) {
    if (m.kind == MoveKind::ramp) {
      REQUIRE(m.shape != MoveShape::line);
      ramped.emplace(std::lround(m.centre_x * 10), std::lround(m.centre_y * 10));
    }
    // No corner is gone into from above.
    if (m.kind == MoveKind::ramp || m.kind == MoveKind::plunge)
      for (const Point2 corner : {Point2{0, 0}, {100, 0}, {100, 60}, {0, 60}})
        CHECK(std::hypot(m.x - corner.x, m.y - corner.y) > 25);
  }
  CHECK(ramped.size() <= 2);
  // Around islands as well: the demo's cover is entered at one place.
  const Job cover = *s.state.job(s.state.jobs.named("Gear cover")->id);
  const JobPlan floor = s.plan(cover);
  ramped.clear();
  for (const Move& m : floor.operations[1]->path.moves)
    if (m.kind == MoveKind::ramp) ramped.emplace(std::lround(m.centre_x * 10), std::lround(m.centre_y * 10));
  CHECK(ramped.size() == 1);
}

TEST_CASE("a wall too thin for its height is told where its second side is cut, in the program too") {
  ReadyShop s;
  const auto faults = [&](double wall, double depth) {
    const Json features{rectangle("a", 0, 0, 40, 60),
                        rectangle("b", 40 + wall, 0, 95, 60),
                        {{"id", "p"}, {"kind", "pocket"}, {"outline", "a"}, {"depth_mm", depth}},
                        {{"id", "q"}, {"kind", "pocket"}, {"outline", "b"}, {"depth_mm", depth + 2}}};
    const Job job = s.job(features, {with_auto("pocket", Json::array({"p"})), with_auto("pocket", Json::array({"q"}))});
    const PlanRequest request = plan_request(s.state, job);
    const JobPlan plan = plan_job(request);
    const bool told = says(plan.faults[1], "thin_wall", Severity::warning);
    CHECK_FALSE(says(plan.faults[0], "thin_wall"));
    const std::string program = program_of(request, plan).text;
    CHECK((program.find("WARNING: THE WALL BETWEEN P AND Q IS") != std::string::npos) == told);
    return told;
  };
  CHECK(faults(1, 8.2));
  CHECK_FALSE(faults(1, 7.9));
  CHECK_FALSE(faults(2, 12));
}

TEST_CASE("whatever an operation is warned of stands in the program as a comment before it") {
  ReadyShop s;
  const Json features{rectangle("a", 0, 0, 60, 50),
                      {{"id", "p"}, {"kind", "pocket"}, {"outline", "a"}, {"depth_mm", 9}}};
  const Job job =
      s.job(features,
            {with_auto("pocket", Json::array({"p"}), {{"own", {{"ap_mm", 9}, {"ae_mm", 16}, {"vf_mm_min", 1500}}}})});
  const PlanRequest request = plan_request(s.state, job);
  const JobPlan plan = plan_job(request);
  const std::string program = program_of(request, plan).text;
  std::size_t warnings = 0, found = 0;
  for (const Message& m : plan.faults[0]) warnings += m.severity == Severity::warning;
  for (std::size_t at = program.find("(WARNING: "); at != std::string::npos; at = program.find("(WARNING: ", at + 1)) {
    ++found;
    CHECK(at > program.find("(OP 1"));
    CHECK(at < program.find(" M3\n"));
  }
  CHECK(warnings > 0);
  CHECK(found == warnings);
  CHECK(program.find('%', 2) == program.rfind('%'));  // its end alone
}

TEST_CASE("a machine is made from its file, and its file from the machine") {
  ReadyShop s;
  for (const Machine& machine : s.state.machines) {
    const Json file = machine_file(machine);
    const auto again = read_machine_file(file.dump());
    REQUIRE(again.has_value());
    CHECK(machine_file(*again) == file);
    CHECK(again->power_curve == machine.power_curve);
    CHECK(again->dial_rpm == machine.dial_rpm);
  }
  const auto wrong = read_machine_file(
      R"({"name": "X", "max_rpm": -3, "foo": 1, "dial_rpm": [5, "a"], "power_curve_rpm_kw": [[2, 1], [1, 1]]})");
  REQUIRE_FALSE(wrong.has_value());
  std::set<std::string> places;
  for (const FormatFault& fault : wrong.error()) places.insert(fault.key);
  CHECK(places == std::set<std::string>{"max_rpm", "foo", "dial_rpm", "power_curve_rpm_kw"});
  CHECK_FALSE(read_machine_file("{}").has_value());
  CHECK_FALSE(read_machine_file("[]").has_value());
}

TEST_CASE("a compression cutter goes to full depth at once") {
  ReadyShop s;
  Json profile = with_auto("profile", Json::array({"a"}), {{"depth_mm", 16}});
  profile["cutter"] = {{"generic",
                        {{"kind", "end_mill"},
                         {"diameter_mm", 8},
                         {"flutes", 2},
                         {"flute_length_mm", 25},
                         {"overall_length_mm", 75},
                         {"shank_diameter_mm", 8},
                         {"tool_material", "carbide"},
                         {"edge_direction", "compression"}}}};
  const Job job = s.job(Json::array({rectangle("a", 5, 5, 95, 55)}), {profile}, "Birch plywood");
  const JobPlan plan = s.plan(job);
  REQUIRE_FALSE(plan.has_faults());
  CHECK(says(plan.faults[0], "compression_depth", Severity::note));
  for (const Move& m : plan.operations[0]->path.moves)
    if (m.kind == MoveKind::cut) CHECK(m.z == Approx(-16));
}

TEST_CASE("thin parts are held by tabs where a profile is proposed, thick ones are not") {
  ReadyShop s;
  Job job = s.job(Json::array({rectangle("a", 0, 0, 60, 50)}), {});
  for (const double height : {6.0, 12.0, 20.0}) {
    job.setups.front().z_low_mm = -height;
    const Operation o = proposed_operation(job, PathKind::profile);
    CHECK(o.tab_count.has_value() == (height <= 12));
    if (o.tab_count) CHECK(*o.tab_height_mm <= height / 3 + 0.05);
  }
}
