// What actions change, without a window: rows and tables, cutters, operations of jobs, and what a bench shows of a cut.
#include <catch2/catch.hpp>

#include "demo_copy.h"
#include "shop/cut_presenter.h"
#include "shop/cutter_edit.h"
#include "shop/never_check.h"
#include "shop/operation_edit.h"
#include "shop/row_edit.h"
#include "shop/shop.h"
#include "shop/table_edit.h"
#include "shop/words.h"

using namespace pecorra;

namespace {

// The demo, its resolver, and changes put into it.
struct Demo {
  ShopState state = the_demo();
  Context context{state.materials.named("42CrMo4 +QT")->id, state.machines.named("Fettler 6")->id,
                  OperationKind::side_rough, 100, UnitSystem::metric};
  Resolver resolver() const { return Resolver(state.tables.shared(), state.resolver_options()); }
  void put(const Change& change) {
    REQUIRE_FALSE(change.label.isEmpty());
    for (const ObjectChange& o : change.objects) REQUIRE(put_stored(state, {o.kind, o.id, 1, o.after}).empty());
  }
  Job job() const { return *state.job(state.jobs.named("Spindle rail")->id); }
};

}  // namespace

TEST_CASE("a new row stands behind the one it is like, with its keys and without its values' proof") {
  Demo d;
  const ConditionTable table = *std::find_if(d.state.tables.begin(), d.state.tables.end(), [](const auto& t) {
    return t.level != TableLevel::starter && t.rows.size() > 2;
  });
  const ConditionRow like = table.rows[1];
  const NewRow made = new_row(d.state, table, &like, d.context);
  d.put(made.change);
  const ConditionTable& after = *d.state.tables.find(table.id);
  REQUIRE(after.rows.size() == table.rows.size() + 1);
  CHECK(after.rows[2].id == made.row);
  CHECK(after.rows[2].kind == like.kind);
  CHECK_FALSE(after.rows[2].diameter_mm);
  CHECK_FALSE(after.rows[2].proven);
  CHECK(after.rows[2].author == current_user());
  d.put(without_row(after, made.row));
  CHECK(d.state.tables.find(table.id)->rows == table.rows);

  const NewRow alone = new_row(d.state, table, nullptr, d.context);
  d.put(alone.change);
  CHECK(d.state.tables.find(table.id)->rows.back().material == d.context.material);
  CHECK(renamed(table, text_of(table.name)).empty());
  CHECK(renamed(table, {}).empty());
  d.put(renamed(table, QStringLiteral("Ours")));
  CHECK(d.state.tables.find(table.id)->name == "Ours");
  for (const ConditionTable& t : d.state.tables)
    CHECK(without_table(t).has_value() == (t.level != TableLevel::starter));
}

TEST_CASE("a pasted block fills the rows in sight and adds those below; what cannot be read changes nothing") {
  Demo d;
  NewTable made = new_table(d.state);
  d.put(made.change);
  const ConditionRow pattern = pattern_row(d.state, nullptr, d.context);
  const std::vector<std::optional<RowField>> fields{RowField::diameter, RowField::vc, std::nullopt, RowField::feed};
  Sheet block;
  block.lines = {{"10", "150", "x", "0.05"}, {"", "", "", ""}, {"12,5", "140", "", "0.06"}};
  const auto put = pasted(made.table, {}, fields, block, pattern, UnitSystem::metric);
  REQUIRE(put.has_value());
  CHECK(put->cells == 6);
  d.put(put->change);
  const ConditionTable table = *d.state.tables.find(made.table.id);
  REQUIRE(table.rows.size() == 2);
  CHECK(table.rows[1].diameter_mm == 12.5);
  CHECK(table.rows[1].feed_mm == 0.06);
  Sheet again;
  again.lines = {{"11"}};
  const auto over = pasted(table, {table.rows[0].id}, fields, again, pattern, UnitSystem::metric);
  REQUIRE(over.has_value());
  d.put(over->change);
  CHECK(d.state.tables.find(table.id)->rows[0].diameter_mm == 11);
  Sheet wrong;
  wrong.lines = {{"10", "150"}, {"12", "fast"}};
  const auto refused = pasted(table, {}, fields, wrong, pattern, UnitSystem::metric);
  REQUIRE_FALSE(refused.has_value());
  CHECK(refused.error().line == 1);
  CHECK(refused.error().column == 1);
  CHECK(refused.error().text == "fast");
}

TEST_CASE("a new cutter is all guesses but its diameter, has a free number and a holder that takes it") {
  Demo d;
  const Id library = d.state.libraries[0].id;
  const MadeCutter made = new_cutter_of(d.state, CutterKind::drill, library, UnitSystem::metric);
  d.put(made.change);
  const Cutter& c = *d.state.cutters.find(made.cutter);
  CHECK(c.library == library);
  CHECK_FALSE(c.guesses.contains("diameter_mm"));
  CHECK(c.guesses.contains("flute_length_mm"));
  int of_number = 0;
  for (const Cutter& other : d.state.cutters) of_number += other.library == library && other.number == c.number;
  CHECK(of_number == 1);
  const Assembly* a = d.state.assembly_of(c.id);
  REQUIRE(a);
  CHECK(holds(*d.state.holders.find(a->holder), c));
  ShopState empty;
  const MadeCutter first = new_cutter_of(empty, CutterKind::end_mill, {}, UnitSystem::metric);
  CHECK(std::count_if(first.change.objects.begin(), first.change.objects.end(),
                      [](const ObjectChange& o) { return o.kind == ObjectKind::library; }) == 1);
  d.put(toggled_favourites(d.state, {made.cutter}));
  CHECK(d.state.cutters.find(made.cutter)->favourite);
  d.put(toggled_favourites(d.state, {made.cutter}));
  CHECK_FALSE(d.state.cutters.find(made.cutter)->favourite);
  const auto next = next_to_look_at(d.state, made.cutter);
  REQUIRE(next);
  CHECK(to_look_at(*d.state.cutters.find(*next)));
}

TEST_CASE("an operation's edit takes conditions anew only where the tables are asked for something else") {
  Demo d;
  const Job before = d.job();
  const auto edit = [&](const char* key, Value value, const char* typed) {
    d.put(edited_operation(d.state, d.resolver(), d.job(), 0, *find_property<Operation>(key), value, typed,
                           UnitSystem::metric));
    return d.job().operations[0];
  };
  Operation depth = edit("depth_mm", 7.0, "7");
  CHECK(depth.depth_mm == 7);
  CHECK(depth.taken == before.operations[0].taken);
  Operation slot = edit("operation", std::string("slot"), "slot");
  CHECK(slot.taken.vf_mm_min != before.operations[0].taken.vf_mm_min);
  const Change own = toggled_own(d.state, d.resolver(), d.job(), 0);
  d.put(own);
  CHECK(d.job().operations[0].has_own_speed());
  d.put(toggled_own(d.state, d.resolver(), d.job(), 0));
  CHECK_FALSE(d.job().operations[0].has_own_speed());
}

TEST_CASE("operations are moved and deleted within their list, lines are picked and left out") {
  Demo d;
  const Job before = d.job();
  CHECK(moved_operation(before, 0, -1).empty());
  CHECK(without_operation(before, 99).empty());
  d.put(moved_operation(before, 0, 1));
  CHECK(d.job().operations[1].id == before.operations[0].id);
  d.put(without_operation(d.job(), 1));
  CHECK(d.job().operations.size() + 1 == before.operations.size());
  const auto profile = std::find_if(before.operations.begin(), before.operations.end(),
                                    [](const Operation& o) { return o.path == PathKind::profile; });
  const int at = static_cast<int>(profile - before.operations.begin());
  const auto left_out = feature_clicked(before, at, profile->features.front().key, false, UnitSystem::metric);
  REQUIRE(left_out.has_value());
  CHECK(left_out->label.contains("deselected"));
  const auto drilling = std::find_if(before.operations.begin(), before.operations.end(),
                                     [](const Operation& o) { return o.path == PathKind::drill; });
  if (drilling != before.operations.end())
    CHECK_FALSE(feature_clicked(before, static_cast<int>(drilling - before.operations.begin()), "OUTLINE/1", false,
                                UnitSystem::metric));
}

TEST_CASE("both benches show the same figures of the same cut") {
  Demo d;
  const Job job = d.job();
  const Operation& o = job.operations[0];
  const ShownConditions of_job = present_cut(d.state, job, o, {}, {}, UnitSystem::metric);
  REQUIRE(of_job.cut);
  Context context{job.material, job.machine, o.operation, 100, UnitSystem::metric};
  const Cutter& cutter = *d.state.cutters.find(o.cutter.id);
  const ShownConditions of_cutter =
      present_cut(d.state, d.resolver(), {cutter, d.state.assembly_of(cutter.id), context, {}, {}, true});
  REQUIRE(of_cutter.cut);
  CHECK(*of_job.cut->report.results.n_rpm == Approx(*of_cutter.cut->report.results.n_rpm));
  CHECK(*of_job.cut->report.results.motor_power_kw ==
        Approx(*of_cutter.cut->report.results.motor_power_kw).epsilon(1e-6));
  const WhatIf wider = tried_with({}, of_cutter.cut, "ae_mm", 1e9);
  CHECK(*wider.ae_mm == *cutter.diameter_mm);  // no wider than the cutter
  context.operation = OperationKind::tap;
  const ShownConditions none = present_cut(d.state, d.resolver(), {cutter, nullptr, context, {}, {}, true});
  CHECK_FALSE(none.cut);
  CHECK(none.why_not.contains("Not for"));
}

TEST_CASE("a rule of the never-list beyond those that count says so") {
  ShopState state = the_demo();
  NeverRule rule;
  rule.kind = CutterKind::tap;
  rule.group = MaterialGroup::H;
  rule.why = "for the test";
  std::vector<NeverRule> rules;
  for (std::size_t i = 0; i < NeverRules::most + 1; ++i) {
    rule.id = Id::from_name("rule " + std::to_string(i));
    rule.name = "Rule " + std::to_string(i);
    rules.push_back(rule);
    state.never_rules.put(rule);
  }
  CHECK_FALSE(has_error(check_never(state, rules.front())));
  CHECK(has_error(check_never(state, rules.back())));
}
