// What ships with the program: complete, right by its own checks, each value with a source.
#include <QFile>
#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <map>
#include <tuple>

#include <set>

#include "../support/program_reader.h"
#include "core/cutter/kinds.h"
#include "demo_copy.h"
#include "shop/evaluation.h"
#include "shop/generic_holders.h"
#include "shop/holder_outline.h"
#include "shop/planning.h"
#include "shop/shop.h"

using namespace pecorra;

// Constants of König & Essel, as reprinted in German handbooks, from memory (formulas of this project name them as the
// list to agree with).
TEST_CASE(
    "at least 120 materials over all groups; what is published is as published; every value says how it is founded") {
  const ShopState& s = the_demo();
  CHECK(s.materials.size() >= 120);
  std::map<MaterialGroup, int> groups;
  for (const WorkMaterial& m : s.materials) {
    INFO(m.name);
    ++groups[m.group];
    CHECK_FALSE(m.source.empty());
    CHECK_FALSE(has_error(check_material(m)));
    CHECK(m.kc11_n_mm2.has_value() == m.mc.has_value());
    CHECK(m.kc11_n_mm2.has_value() == m.force_evidence.has_value());
    CHECK(m.density_g_cm3.has_value() == m.density_evidence.has_value());
    CHECK((m.hardness_hb || m.strength_n_mm2) == m.strength_evidence.has_value());
    for (const Message& w : check_material(m)) FAIL_CHECK(w.code << " of " << m.name);
    if (m.density_g_cm3) CHECK((*m.density_g_cm3 > 0.01 && *m.density_g_cm3 < 10));
  }
  for (int g = 0; g < material_group_count; ++g) CHECK(groups[static_cast<MaterialGroup>(g)] >= 5);
  const std::tuple<const char*, double, double, double> published[] = {
      {"C15", 1820, 0.22, 6},         {"S235JR", 1780, 0.17, 6},  {"E295", 1990, 0.26, 6},
      {"E360", 2260, 0.30, 6},        {"C45", 2220, 0.14, 6},     {"C60", 2130, 0.18, 6},
      {"16MnCr5", 2100, 0.26, 6},     {"18CrNi6", 2260, 0.30, 6}, {"34CrMo4", 2240, 0.21, 6},
      {"42CrMo4 +QT", 2500, 0.26, 6}, {"51CrV4", 2220, 0.26, 6},  {"EN-GJL-200", 1020, 0.25, 2},
      {"EN-GJL-250", 1160, 0.26, 2}};
  for (const auto& [name, kc, mc, rake] : published) {
    INFO(name);
    const WorkMaterial* m = s.materials.named(name);
    REQUIRE(m);
    CHECK(m->kc11_n_mm2 == kc);
    CHECK(m->mc == mc);
    CHECK(m->rake_ref_deg == rake);
    CHECK(m->force_evidence == Evidence::published);
  }
  int called = 0;
  for (const WorkMaterial& m : s.materials) called += is_called(m, "UNS R56400");
  CHECK(called == 1);
}

TEST_CASE("the demo shop is what the scenario says, in its first part") {
  const ShopState& s = the_demo();
  CHECK(s.shop_settings().name == "Teasel Yard");
  for (const char* name : {"Fettler 6", "Batten R"}) CHECK(s.machines.named(name));
  for (const char* name : {"EN-GJL-250", "42CrMo4 +QT", "EN AW-5083", "Beech"}) CHECK(s.materials.named(name));
  for (const char* name : {"Spindle rail", "Roller end cap", "Two holes", "Gear cover"}) CHECK(s.jobs.named(name));
  CHECK(s.cutters.size() >= 12);
  int drafts = 0, proven = 0, guesses = 0;
  const Resolver resolver(s.tables.shared());
  Context context;
  context.material = s.materials.named("42CrMo4 +QT")->id;
  context.machine = s.machines.named("Fettler 6")->id;
  for (const Cutter& c : s.cutters) {
    drafts += has_error(check_cutter(c));
    const Resolution r = resolver.resolve(resolver.key_of(c), resolver.key_of(*s.materials.find(context.material)),
                                          resolver.key_of(*s.machines.find(context.machine)), query_for(s, context));
    proven += r.proven;
    guesses += r.guess;
  }
  CHECK(drafts == 1);  // one is deliberately incomplete
  CHECK(proven > 0);
  CHECK(guesses > 0);
}

TEST_CASE("every shipped value says where it is from") {
  const ShopState& s = the_demo();
  for (const WorkMaterial& m : s.materials) CHECK_FALSE(m.source.empty());
  for (const Holder& h : s.holders) CHECK_FALSE(h.source.empty());
  for (const Machine& m : s.machines) CHECK_FALSE(m.source.empty());
  for (const ConditionTable& t : s.tables) {
    CHECK_FALSE(t.source.empty());
    CHECK(check_table(t).empty());
    for (const ConditionRow& row : t.rows) {
      INFO(t.name << " Ø" << row.diameter_mm.value_or(0));
      CHECK(check_row(row).empty());
    }
  }
}

TEST_CASE("the demo is the same every time and survives the file") {
  const ShopState a = demo_state(), b = demo_state();
  CHECK(a.cutters[4].id == b.cutters[4].id);
  QTemporaryDir dir;
  const QString file = dir.filePath("d.pecorra");
  REQUIRE(write_shop(a, file, "made").has_value());
  CHECK_FALSE(write_shop(a, file, "made").has_value());  // never over a file
  const auto loaded = load_shop(file);
  REQUIRE(loaded.has_value());
  CHECK(loaded->faults.empty());
  REQUIRE(loaded->state.jobs.size() == a.jobs.size());
  for (std::size_t i = 0; i < a.jobs.size(); ++i) {
    JobHead back = loaded->state.jobs[i];
    back.revision = a.jobs[i].revision;
    CHECK(back == a.jobs[i]);
  }
}

TEST_CASE("the demo's jobs make programs that a reader of its own kind accepts") {
  const ShopState& s = the_demo();
  for (const Job& job : s.whole_jobs()) {
    const PlanRequest request = plan_request(s, job);
    const JobPlan planned = plan_job(request);
    INFO(job.name);
    CHECK_FALSE(planned.has_faults());
    const test::Reading r = test::read_program(program_of(request, planned).text);
    CHECK(r.ended);
    CHECK(r.steps.size() > 20);
    for (const Operation& o : job.operations) {
      CHECK(o.taken.source != SourceKind::none);
      REQUIRE_FALSE(o.taken.trail.empty());
      CHECK(o.taken.trail.back().step == "result");
    }
  }
}

TEST_CASE("a new shop has what one needs to begin") {
  const ShopState s = new_shop_state("Mine");
  CHECK(s.libraries.size() == 1);
  CHECK(s.machines.size() >= 2);
  CHECK(s.cutters.empty());
  CHECK(s.tables.size() >= 2);
  for (const ConditionTable& t : s.tables) CHECK(t.level == TableLevel::starter);
}

TEST_CASE("starter rows lie where the trade would start (common practice, no source)") {
  // Carbide in quenched steel is milled at 60 to 160 m/min, in cast iron 60 to 200, in wrought aluminium 150 to 600;
  // HSS at a quarter to a third of that. Feed per tooth of a 10 mm end mill in steel 0.02 to 0.08.
  const ShopState& s = the_demo();
  int looked_at = 0;
  for (const ConditionTable& t : s.tables) {
    if (t.level != TableLevel::starter) continue;
    for (const ConditionRow& row : t.rows) {
      if (row.kind != CutterKind::end_mill || row.operation != OperationKind::side_rough || row.diameter_mm != 10)
        continue;
      const bool carbide = row.tool_material == ToolMaterial::carbide;
      const double speed = *row.vc_m_min * (carbide ? 1 : 3.3);
      if (row.group == MaterialGroup::P) CHECK((speed >= 60 && speed <= 160));
      if (row.group == MaterialGroup::K) CHECK((speed >= 60 && speed <= 200));
      if (row.group == MaterialGroup::N) CHECK((speed >= 150 && speed <= 600));
      if (row.group == MaterialGroup::P) CHECK((*row.feed_mm >= 0.02 && *row.feed_mm <= 0.08));
      ++looked_at;
    }
  }
  CHECK(looked_at >= 6);
}

TEST_CASE("the demo's assemblies hold together, but for those that are to be seen") {
  const ShopState& s = the_demo();
  CHECK(s.cutters.size() == 73);
  std::set<CutterKind> kinds;
  int drafts = 0, open = 0, guesses = 0;
  for (const Cutter& c : s.cutters) {
    kinds.insert(c.kind);
    drafts += has_error(check_cutter(c));
    open += !open_warnings(c).empty();
    guesses += !c.guesses.empty();
    const Assembly* a = s.assembly_of(c.id);
    REQUIRE(a);
    const auto messages = check_assembly(c, s.holders.find(a->holder), *a);
    for (const Message& m : messages)
      if (m.severity == Severity::error) FAIL_CHECK(c.number << " " << c.name << ": " << m.code);
  }
  CHECK(kinds.size() == static_cast<std::size_t>(cutter_kind_count));
  CHECK(drafts == 1);
  CHECK(open >= 1);
  CHECK(guesses == 2);
}

TEST_CASE("generic holders: every machine side, sizes in order, each with its source, none that faults itself") {
  const auto& all = generic_holders();
  CHECK(all.size() > 120);
  std::set<std::string> names;
  std::set<MachineInterface> sides;
  for (const Holder& h : all) {
    INFO(h.name);
    CHECK(names.insert(h.name).second);
    sides.insert(*h.machine_side);
    CHECK(check_holder(h).empty());
    CHECK(h.source.find("from memory") != std::string::npos);
    CHECK(h.stations.front().distance_mm == 0);
  }
  CHECK(sides.size() == 9);
  // Clamping ranges of ISO 15488 (ER-style sizes 11 to 40), from memory: 7, 10, 13, 16, 20 and 26 at most.
  for (const auto& [size, most] :
       {std::pair{"11", 7.0}, {"16", 10.0}, {"20", 13.0}, {"25", 16.0}, {"32", 20.0}, {"40", 26.0}})
    CHECK(std::count_if(all.begin(), all.end(), [&, size = size, most = most](const Holder& h) {
            return h.name.rfind(std::string("Collet chuck ") + size + ",", 0) == 0 && h.clamp_to_mm == most;
          }) >= 3);
  // A 20 mm shank with a flat is held by side locks and collets, not by sleeves for plain shanks.
  Cutter c = proposed_cutter(CutterKind::end_mill, 20);
  c.shank_form = ShankForm::flat;
  std::set<HolderForm> fitting;
  for (const Holder& h : all)
    if (holds(h, c)) fitting.insert(*h.form);
  CHECK(fitting == std::set<HolderForm>{HolderForm::collet, HolderForm::side_lock});
}

TEST_CASE("a holder's stations come from the outline of a drawing") {
  Drawing d;
  d.add_line({false, {{25, 10, 0}, {25, 30, 0}, {22, 30, 0}, {22, 80, 0}}});
  auto stations = stations_of(d);
  REQUIRE(stations.has_value());
  CHECK(*stations == std::vector<Station>{{0, 50}, {20, 50}, {20, 44}, {70, 44}});
  // The same as a closed, symmetrical outline.
  d.lines.clear();
  d.add_line(
      {true,
       {{-25, 0, 0}, {25, 0, 0}, {25, 20, 0}, {22, 20, 0}, {22, 70, 0}, {-22, 70, 0}, {-22, 20, 0}, {-25, 20, 0}}});
  stations = stations_of(d);
  REQUIRE(stations.has_value());
  CHECK(*stations == std::vector<Station>{{0, 50}, {20, 50}, {20, 44}, {70, 44}});
  d.lines.clear();
  d.add_line({false, {{25, 0, 0}, {25, 30, 0}, {30, 10, 0}, {30, 50, 0}}});
  CHECK_FALSE(stations_of(d).has_value());
  d.lines.clear();
  d.add_line({false, {{-25, 0, 0}, {-25, 30, 0}}});
  CHECK_FALSE(stations_of(d).has_value());
  CHECK_FALSE(stations_of(Drawing{}).has_value());
}

TEST_CASE("everything that ships is there: coatings, generic machines of which two stand in a new shop") {
  const ShopState fresh = new_shop_state("New");
  CHECK(fresh.edge_materials.size() == 10);
  CHECK(fresh.machines.size() == 2);
  CHECK(generic_machines().size() == 8);
  for (const Machine& m : generic_machines()) {
    INFO(m.name);
    CHECK_FALSE(m.source.empty());
    for (const Message& message : check_machine(m)) CHECK(message.severity == Severity::note);
  }
  const ShopState& demo = the_demo();
  CHECK(demo.edge_materials.size() == 11);
  CHECK(demo.machines.size() == 3);
  for (const Machine& m : demo.machines) CHECK(check_machine(m).empty());
}

TEST_CASE("a new shop takes nothing from the log that an earlier one of its name left behind") {
  QTemporaryDir dir;
  const QString file = dir.filePath("shop.pecorra");
  REQUIRE(copy_demo_to(file));
  {
    auto shop = Shop::open(file);
    REQUIRE(shop.has_value());
    const Cutter before = (*shop)->state().cutters[0];
    Cutter after = before;
    after.name = "Of the earlier shop";
    (*shop)->edit(before, after, "renamed");
    REQUIRE((*shop)->wait_until_saved(5000));
    // As a crash leaves it: the file is taken away, its log is not.
    QFile::copy(file + "-wal", dir.filePath("kept-wal"));
  }
  QFile::remove(file);
  QFile::remove(file + "-wal");
  QFile::copy(dir.filePath("kept-wal"), file + "-wal");
  REQUIRE(write_shop(the_demo(), file, "made").has_value());
  const auto again = load_shop(file);
  REQUIRE(again.has_value());
  CHECK(again->state.cutters[0].name != "Of the earlier shop");
}
