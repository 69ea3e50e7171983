// How a cutter is found for an operation: against a plain search that tries every one, with reasons that are true.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>

#include "core/cutter/kinds/threads.h"
#include "core/feature/feature.h"
#include "demo_copy.h"
#include "shop/chain_edit.h"
#include "shop/cutter_edit.h"
#include "shop/cutter_match.h"
#include "shop/job_edit.h"
#include "shop/job_file.h"
#include "shop/job_objects.h"
#include "shop/operation_edit.h"
#include "shop/planning.h"
#include "shop/shop.h"
#include "shop/words.h"

using namespace pecorra;

namespace {

struct MatchShop {
  ShopState state = the_demo();
  Resolver resolver{state.tables.shared(), state.resolver_options()};
  Job job = *state.job(state.jobs.named("Two holes")->id);

  Feature& holes(const char* key, double diameter_mm, const char* thread = "") {
    Feature f;
    f.id = new_id();
    f.job = job.id;
    f.kind = FeatureKind::holes;
    f.key = key;
    f.at = {{20, 20}, {40, 20}};
    if (diameter_mm > 0) f.diameter_mm = diameter_mm;
    f.depth_mm = 12;
    f.thread = thread;
    shape(f);
    job.features.push_back(std::move(f));
    return job.features.back();
  }
  Operation operation(PathKind kind, const char* key) const {
    Operation o = proposed_operation(job, kind, {key});
    o.id = new_id();
    return o;
  }
  std::vector<Message> misfits(const Operation& o, const Cutter& c) const {
    std::vector<Message> unused;
    const JobIndex index(job);
    const OperationInput input = input_of(job, index, o, path_rules(state.shop_settings()), unused);
    return misfits_of(o, input, rooms_of(o, input), state.as_used(c));
  }
};

bool has(const std::vector<Message>& messages, std::string_view code) {
  return std::any_of(messages.begin(), messages.end(), [&](const Message& m) { return m.code == code; });
}
double number_in(const Message& m, std::string_view name) {
  for (const auto& [key, value] : m.values)
    if (key == name) return std::get<double>(value);
  return 0;
}

}  // namespace

TEST_CASE("the cutter that is found is the one a plain search of all finds") {
  MatchShop s;
  s.holes("a", 6.8);
  s.holes("b", 8.5);
  s.holes("c", 10);
  s.holes("m", 0, "M8");
  s.holes("wide", 30);
  s.job.operations.clear();
  const std::pair<PathKind, const char*> asked[] = {
      {PathKind::drill, "a"}, {PathKind::drill, "b"},           {PathKind::drill, "m"},   {PathKind::tap, "m"},
      {PathKind::ream, "c"},  {PathKind::helical_bore, "wide"}, {PathKind::bore, "wide"}, {PathKind::spot, "m"}};
  for (const auto& [kind, key] : asked) {
    const Operation o = s.operation(kind, key);
    INFO(key_of(kind) << " " << key);
    // Every cutter, one after the other: none that suits is nearer to what is wanted.
    CutterSearch search(s.state, s.resolver, s.job, o);
    const auto best = search.best();
    const WorkMaterial& material = *s.state.materials.find(s.job.material);
    const Machine& machine = *s.state.machines.find(s.job.machine);
    int suit = 0;
    for (const Cutter& c : s.state.cutters) {
      if (c.retired || !can_do(c.kind, o.operation) || has_error(check_cutter(c))) continue;
      if (!s.misfits(o, c).empty()) continue;
      const Resolution r = s.resolver.resolve(key_as_used(s.state, s.resolver, c), s.resolver.key_of(material),
                                              s.resolver.key_of(machine), query_for(s.state, s.job, o));
      if (!r.found()) continue;
      ++suit;
      REQUIRE(best);
      const bool here = !c.in_stock || *c.in_stock > 0;
      const Assembly* held = s.state.assembly_of(c.id);
      const Holder* holder = held ? s.state.holders.find(held->holder) : nullptr;
      const bool fits_spindle = !holder || !holder->machine_side || holder->machine_side == machine.interface;
      if (here != best->here || fits_spindle != !best->other_holder || !search.wanted()) continue;
      const auto off = [&](const Cutter& x) { return std::abs(*x.diameter_mm - search.wanted()->diameter_mm); };
      CHECK(off(*best->cutter) <= off(c) + 0.2 * search.wanted()->diameter_mm + 1e-9);
    }
    CHECK(best.has_value() == (suit > 0));
    if (best) CHECK(s.misfits(o, *best->cutter).empty());
  }
}

TEST_CASE("reasons are true: with the named size as named the reason goes, with all of them the cutter fits") {
  MatchShop s;
  s.holes("a", 7.3);
  s.holes("m", 0, "M8");
  s.job.operations.clear();
  int reasons = 0;
  for (const auto& [kind, key] : {std::pair{PathKind::drill, "a"},
                                  {PathKind::ream, "a"},
                                  {PathKind::counterbore, "a"},
                                  {PathKind::helical_bore, "a"},
                                  {PathKind::tap, "m"},
                                  {PathKind::bore, "a"}}) {
    const Operation o = s.operation(kind, key);
    for (const Cutter& c : s.state.cutters) {
      if (!can_do(c.kind, o.operation) || has_error(check_cutter(c))) continue;
      Cutter mended = c;
      for (const Message& m : s.misfits(o, c)) {
        INFO(c.name << " " << m.code);
        Cutter one = c;
        for (Cutter* to : {&one, &mended}) {
          if (m.code == "tap_not_of_thread") {
            to->thread = "M8";
            follow_thread(*to);
          } else if (m.property == "diameter_mm") {
            to->diameter_mm = number_in(m, "hole_mm");
            if (to->diameter_from_mm) to->diameter_from_mm = to->diameter_to_mm = std::nullopt;
          } else if (m.property == "reach_mm") {
            to->reach_mm = number_in(m, "depth_mm");
          } else if (m.property == "flute_length_mm") {
            // Its point is part of it, and grows with the diameter.
            to->flute_length_mm = number_in(m, "depth_mm") + 5;
          }
        }
        CHECK_FALSE(has(s.misfits(o, one), m.code));
        ++reasons;
      }
      CHECK(s.misfits(o, mended).empty());
    }
  }
  CHECK(reasons > 30);
}

TEST_CASE("only libraries that are switched on, and what the shop has, come first") {
  MatchShop s;
  s.holes("a", 8.5);
  s.job.operations.clear();
  const Operation o = s.operation(PathKind::drill, "a");
  const auto first = CutterSearch(s.state, s.resolver, s.job, o).best();
  REQUIRE(first);
  Cutter none = *first->cutter;
  none.in_stock = 0;
  s.state.cutters.put(none);
  const auto second = CutterSearch(s.state, s.resolver, s.job, o).best();
  REQUIRE(second);
  CHECK(second->cutter->id != none.id);
  CHECK(second->cutter->diameter_mm == 8.5);
  Library off = *s.state.libraries.find(second->cutter->library);
  off.switched_on = false;
  s.state.libraries.put(off);
  for (const CutterOption& option : CutterSearch(s.state, s.resolver, s.job, o).first(500))
    CHECK(option.cutter->library != off.id);
}

TEST_CASE("where none suits a generic cutter is made, marked, found again, and made a real one in place") {
  MatchShop s;
  s.holes("odd", 7.77);
  Operation o = s.operation(PathKind::drill, "odd");
  const auto notes = match_cutter(s.state, s.resolver, s.job, o);
  CHECK(has(notes, "generic_chosen"));
  CHECK(has(notes, "cutter_passed_over"));
  REQUIRE(o.generic_cutter);
  CHECK(o.cutter.diameter_mm == 7.77);
  CHECK(o.cutter.library.is_null());
  CHECK(o.cutter.name.starts_with("Generic "));
  CHECK(o.taken.n_rpm.has_value());
  s.job.operations.push_back(o);
  put_job(s.state, s.job);
  s.job = *s.state.job(s.job.id);
  // Marked in the operation, in what the job lacks, and in the program.
  const PlanRequest request = plan_request(s.state, s.job);
  const JobPlan plan = plan_job(request);
  CHECK(has(plan.faults.back(), "generic"));
  CHECK(program_of(request, plan).text.find("GENERIC DRILL") != std::string::npos);
  bool lacks = false;
  for (const Lack& lack : lacks_of(s.state, s.job)) lacks = lacks || lack.why.contains("generic");
  CHECK(lacks);
  // Found again by the next one that asks.
  Operation again = s.operation(PathKind::drill, "odd");
  match_cutter(s.state, s.resolver, s.job, again);
  CHECK(again.generic_cutter);
  CHECK(again.cutter.id == o.cutter.id);
  // Written as such, and the same job when read.
  const Json json = job_file(s.state, s.job);
  CHECK(json["operations"].back()["cutter"].contains("generic"));
  const auto read = read_job_file(s.state, s.resolver, json.dump(), {});
  INFO((read ? std::string() : read.error().front().line()));
  REQUIRE(read);
  CHECK(read->job.operations.back().generic_cutter);
  CHECK(read->job.operations.back().cutter.diameter_mm == 7.77);
  // A real one.
  const int at = static_cast<int>(s.job.operations.size()) - 1;
  const Id library = s.state.libraries.named("Iron and steels")->id;
  const Change change = generic_put_into_library(s.state, s.resolver, s.job, at, library);
  CHECK(change.objects.size() >= 2);
  const auto cutter = std::find_if(change.objects.begin(), change.objects.end(),
                                   [](const ObjectChange& c) { return c.kind == ObjectKind::cutter; });
  REQUIRE(cutter != change.objects.end());
  CHECK(cutter->after.find("Generic") == std::string::npos);
  CHECK(generic_put_into_library(s.state, s.resolver, s.job, 0, library).empty());
}

TEST_CASE("a chain comes with its cutters, and nothing is added before it is taken") {
  MatchShop s;
  Feature& f = s.holes("bolts", 0, "M8");
  f.chamfer_mm = 0.5;
  const std::size_t before = s.job.operations.size();
  const auto chain = proposed_chain(s.state, s.resolver, s.job, {"bolts"});
  REQUIRE(chain.size() == 3);
  CHECK(s.job.operations.size() == before);
  CHECK(chain[0].operation.cutter.kind == CutterKind::spot_drill);
  CHECK(chain[1].operation.cutter.diameter_mm == 6.8);
  CHECK(chain[2].operation.cutter.thread == "M8");
  // Drilled deeper by the lead of that tap, and a pitch.
  CHECK(chain[1].operation.depth_mm == 12 + *chain[2].operation.cutter.lead_threads * 1.25 + 1.25);
  for (const ProposedOperation& p : chain) {
    CHECK(p.operation.taken.n_rpm.has_value());
    CHECK_FALSE(p.notes.empty());
  }
  std::vector<Operation> operations;
  for (const ProposedOperation& p : chain) operations.push_back(p.operation);
  Job grown = s.job;
  grown.operations.insert(grown.operations.end(), operations.begin(), operations.end());
  const JobPlan plan = plan_job(plan_request(s.state, grown));
  for (std::size_t i = before; i < grown.operations.size(); ++i) CHECK_FALSE(has_error(plan.faults[i]));
  CHECK(added_operations(s.job, operations).objects.size() >= 3);
  // A forming tap wants a wider hole.
  Feature& formed = s.holes("formed", 0, "M5");
  formed.depth_mm = 8;
  const auto wider = proposed_chain(s.state, s.resolver, s.job, {"formed"});
  REQUIRE(wider.size() == 3);
  if (wider[2].operation.cutter.tap_form == TapForm::form)
    CHECK(*wider[1].operation.diameter_mm == Approx(5 - 0.4).margin(0.06));
}

TEST_CASE("a pocket's chain roughs, then finishes floor and walls") {
  MatchShop s;
  s.job = *s.state.job(s.state.jobs.named("Gear cover")->id);
  const auto chain = proposed_chain(s.state, s.resolver, s.job, {"floor"});
  REQUIRE(chain.size() == 3);
  CHECK(chain[0].operation.operation == OperationKind::pocket_rough);
  CHECK(chain[1].operation.operation == OperationKind::floor_finish);
  CHECK(chain[2].operation.operation == OperationKind::side_finish);
  Job grown = s.job;
  grown.operations.resize(1);
  for (const ProposedOperation& p : chain) grown.operations.push_back(p.operation);
  const JobPlan plan = plan_job(plan_request(s.state, grown));
  for (std::size_t i = 1; i < grown.operations.size(); ++i) {
    std::string codes = grown.operations[i].name;
    for (const Message& m : plan.faults[i]) codes += " " + m.code;
    INFO(codes);
    CHECK_FALSE(has_error(plan.faults[i]));
  }
}

TEST_CASE("rows of holes hold up to a depth, and coolant through the spindle needs cutter and holder that lead it") {
  MatchShop s;
  s.holes("a", 8.5);
  const Cutter* drill = nullptr;
  for (const Cutter& c : s.state.cutters)
    if (c.kind == CutterKind::drill && c.diameter_mm == 8.5 && c.tool_material == ToolMaterial::carbide) drill = &c;
  REQUIRE(drill);
  ConditionTable table;
  table.id = new_id();
  table.name = "Deep and shallow";
  for (const double per_d : {3.0, 100.0}) {
    ConditionRow row;
    row.id = new_id();
    row.kind = CutterKind::drill;
    row.operation = OperationKind::drill;
    row.material = s.job.material;
    row.group = s.state.materials.find(s.job.material)->group;
    row.diameter_mm = 8.5;
    row.vc_m_min = per_d < 10 ? 90 : 60;
    row.feed_kind = FeedKind::per_revolution;
    row.feed_mm = 0.15;
    row.holds_ap_per_d = per_d;
    row.coolant = Coolant::through_liquid;
    table.rows.push_back(row);
  }
  s.state.tables.put(table);
  Cutter with = *drill;
  const auto taken = [&](double depth) {
    const Resolver resolver(s.state.tables.shared(), s.state.resolver_options());
    Operation o = s.operation(PathKind::drill, "a");
    o.depth_mm = depth;
    pick_cutter(s.state, resolver, s.job, o, *s.state.cutters.find(drill->id));
    o.source = SourceKind::shop_table;
    retake(s.state, resolver, s.job, o);
    return o.taken;
  };
  const TakenConditions shallow = taken(10), deep = taken(40);
  REQUIRE(shallow.vc_m_min);
  REQUIRE(deep.vc_m_min);
  CHECK(*deep.vc_m_min < *shallow.vc_m_min * 0.8);
  CHECK(shallow.coolant != Coolant::through_liquid);
  with.through_coolant = true;
  s.state.cutters.put(with);
  CHECK(taken(10).coolant == Coolant::through_liquid);
  const Assembly* held = s.state.assembly_of(drill->id);
  REQUIRE(held);
  Holder blocked = *s.state.holders.find(held->holder);
  blocked.leads_coolant = false;
  s.state.holders.put(blocked);
  CHECK(taken(10).coolant != Coolant::through_liquid);
}
