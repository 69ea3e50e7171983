// What ships with the program: complete, right by its own checks, each value with a source.
#include <QFile>
#include <QTemporaryDir>
#include <catch2/catch.hpp>

#include "shop/demo.h"
#include "shop/evaluation.h"
#include "shop/job_program.h"
#include "shop/shop.h"
#include "../support/program_reader.h"

using namespace pecorra;

TEST_CASE("the demo shop is what the scenario says, in its first part") {
  const ShopState s = demo_state();
  CHECK(s.shop_settings().name == "Teasel Yard");
  for (const char* name : {"Fettler 6", "Batten R"}) CHECK(s.machines.named(name));
  for (const char* name : {"EN-GJL-250", "42CrMo4 +QT", "EN AW-5083", "Beech"}) CHECK(s.materials.named(name));
  for (const char* name : {"Spindle rail", "Roller end cap"}) CHECK(s.jobs.named(name));
  CHECK(s.cutters.size() >= 12);
  int drafts = 0, proven = 0, guesses = 0;
  const Resolver resolver(s.tables.all());
  Context context;
  context.material = s.materials.named("42CrMo4 +QT")->id;
  context.machine = s.machines.named("Fettler 6")->id;
  for (const Cutter& c : s.cutters) {
    drafts += has_error(check_cutter(c));
    const Resolution r = resolver.resolve(resolver.key_of(c), resolver.key_of(*s.materials.find(context.material)), resolver.key_of(*s.machines.find(context.machine)), query_for(s, context));
    proven += r.proven;
    guesses += r.guess;
  }
  CHECK(drafts == 1);  // one is deliberately incomplete
  CHECK(proven > 0);
  CHECK(guesses > 0);
}

TEST_CASE("every shipped value says where it is from") {
  const ShopState s = demo_state();
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
    Job back = loaded->state.jobs[i];
    back.revision = a.jobs[i].revision;
    CHECK(back == a.jobs[i]);
  }
}

TEST_CASE("the demo's jobs make programs that a reader of its own kind accepts") {
  const ShopState s = demo_state();
  for (const Job& job : s.jobs) {
    const PlannedProgram planned = plan_program(job);
    INFO(job.name);
    CHECK_FALSE(planned.has_faults());
    const test::Reading r = test::read_program(program_text(head_of(s, job), job, planned, dialect_of(s, job)));
    CHECK(r.ended);
    CHECK(r.steps.size() > 20);
    for (const Operation& o : job.operations) {
      CHECK(o.taken.source != SourceKind::none);
      CHECK_FALSE(o.taken.table.is_null());
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
  // Carbide in quenched steel is milled at 60 to 160 m/min, in cast iron 60 to 200, in wrought aluminium 150 to 600; HSS at a
  // quarter to a third of that. Feed per tooth of a 10 mm end mill in steel 0.02 to 0.08.
  const ShopState s = demo_state();
  int looked_at = 0;
  for (const ConditionTable& t : s.tables) {
    if (t.level != TableLevel::starter) continue;
    for (const ConditionRow& row : t.rows) {
      if (row.kind != CutterKind::end_mill || row.operation != OperationKind::side_rough || row.diameter_mm != 10) continue;
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
