// One cutter in one context, complete; and every sentence that is made of it.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <set>
#include <unordered_set>

#include "demo_copy.h"
#include "shop/chart_grid.h"
#include "shop/evaluation.h"
#include "shop/job_edit.h"
#include "shop/row_edit.h"
#include "shop/words.h"

using namespace pecorra;

TEST_CASE("every number has a trail, and every step and message has a sentence", "[whole_grid]") {
  ShopState s = the_demo();
  Cutter large = proposed_cutter(CutterKind::end_mill, 32);  // beyond the last row
  large.id = Id{6, 6};
  s.cutters.put(large);
  const Resolver resolver(s.tables.shared());
  std::set<std::string> steps;
  std::unordered_set<std::string> known;  // steps with their values: many cells have the same
  std::string said;
  int answers = 0;
  for (const Machine& machine : s.machines)
    for (const WorkMaterial& material : s.materials)
      for (const double pace : {60.0, 100.0, 130.0}) {
        // Every cell at the target on the first machine; half of them on each other one, and the paces on every eighth
        // material, since they say the same of each.
        const auto m = &machine - &s.machines[0], n = &material - &s.materials[0];
        if ((pace != 100 && n % 8 != 0) || (m > 0 && (m + n) % 2 != 0)) continue;
        for (int k = 0; k < operation_count; ++k) {
          Context context{material.id, machine.id, static_cast<OperationKind>(k), pace, UnitSystem::metric};
          for (const Cutter& cutter : s.cutters) {
            const Evaluation e = evaluate(s, resolver, cutter, material, machine, query_for(s, context), nullptr);
            // Counted, not checked one by one: millions of checks would take a minute.
            bool fine = e.resolution.found() ? e.trail.back().step == "result" && !e.cut.headroom.empty()
                                             : e.resolution.reason != NoAnswer::none &&
                                                   !reason_text(e.resolution.reason, cutter.kind).isEmpty();
            answers += e.resolution.found() ? 1 : 0;
            for (const TrailStep& step : e.trail) {
              write_key(said, step.step, step.values);
              if (!known.insert(said).second) continue;
              for (const UnitSystem units : {UnitSystem::metric, UnitSystem::inch}) {
                const QString text = sentence(step, units);
                fine = fine && text.toStdString() != step.step && !text.contains("nan") && !text.contains("{") &&
                       !text.contains("—");
              }
              steps.insert(step.step);
            }
            for (const Message& m : e.cut.messages)
              fine = fine && sentence(m, UnitSystem::metric).toStdString() != m.code;
            for (const Headroom& h : e.cut.headroom) fine = fine && !headroom_text(h, UnitSystem::inch).isEmpty();
            if (!fine) FAIL_CHECK(cutter.name << " in " << material.name << " on " << machine.name);
          }
        }
      }
  CHECK(answers > 300);
  for (const char* step : {"source", "depth_width", "interpolated", "beyond_rows", "speed", "feed", "rounded",
                           "held_speed", "pace", "result", "no_row", "below_least_speed"}) {
    INFO(step);
    CHECK(steps.count(step) == 1);
  }
}

TEST_CASE("cutter and assembly messages have sentences that name the clash") {
  Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  c.flute_length_mm = 100;
  const auto messages = check_cutter(c);
  REQUIRE_FALSE(messages.empty());
  CHECK(sentence(messages[0], UnitSystem::metric) == "Flutes 100 mm are longer than the whole cutter, 85 mm");
  CHECK(sentence(messages[0], UnitSystem::inch).contains("3.937 in"));
  c = proposed_cutter(CutterKind::bull_nose, 10);
  c.corner_radius_mm = 7;
  CHECK(sentence(check_cutter(c)[0], UnitSystem::metric) == "Radius 7 mm is over half the diameter; at most 5 mm");
  c = {};
  for (const Message& m : check_cutter(c)) CHECK_FALSE(sentence(m, UnitSystem::metric).contains('_'));
}

TEST_CASE("the tightest limit that is broken comes with a change that would fit") {
  const ShopState& s = the_demo();
  const Resolver resolver(s.tables.shared());
  Machine weak = *s.machines.named("Fettler 6");
  weak.power_curve = {{1500, 1.0}, {12000, 1.0}};
  const Cutter& c = *s.cutter_numbered(s.libraries[0].id, 225);
  Context context{s.materials.named("42CrMo4 +QT")->id, weak.id, OperationKind::side_rough, 100, UnitSystem::metric};
  const Evaluation e =
      evaluate(s, resolver, c, *s.materials.find(context.material), weak, query_for(s, context), s.assembly_of(c.id));
  REQUIRE(e.cut.headroom.front().limit == Limit::spindle_power);
  const HeldCutter held = as_held(c, s.assembly_of(c.id));
  const WorkMaterial& steel = *s.materials.find(context.material);
  const CutModel model(held.cutter, held.assembly, steel, weak);
  const Advice advice = advise(s, model, e.asked, e.cut, UnitSystem::metric);
  CHECK(advice.limit == Limit::spindle_power);
  REQUIRE_FALSE(advice.changes.empty());
  for (const Suggestion& change : advice.changes) {
    Cut inside = e.asked;
    Assembly unused;
    put(change.property, change.value, e.cut.results, inside, unused);
    CHECK(*model.at(inside).results.motor_power_kw <= 1.0 + 1e-9);
  }
  const QString first = change_text(advice.changes.front(), UnitSystem::metric);
  CHECK((first.startsWith("ae ") || first.startsWith("ap ") || first.startsWith("fz ") || first.startsWith("vc ")));
  // Power, torque and chip never change a value by themselves.
  CHECK(e.resolution.conditions.n_rpm == 1670);
}

TEST_CASE("labels in the middle of a sentence keep their abbreviations") {
  for (const auto& [label, inside] : {std::pair{"Cobalt HSS", "cobalt HSS"},
                                      {"T-slot cutter", "T-slot cutter"},
                                      {"End mill", "end mill"},
                                      {"CBN", "CBN"},
                                      {"Powder-metal HSS", "powder-metal HSS"},
                                      {"", ""}})
    CHECK(within_sentence(QString::fromUtf8(label)) == QString::fromUtf8(inside));
}

TEST_CASE("chart, bench, job and a calculation by hand have the same numbers") {
  const ShopState& s = the_demo();
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  const WorkMaterial& steel = *s.materials.named("42CrMo4 +QT");
  const Machine& machine = *s.machines.named("Fettler 6");
  const Context context{steel.id, machine.id, OperationKind::side_rough, 100, UnitSystem::metric};
  ChartGrid grid;
  grid.set(s, resolver, context, {});
  int compared = 0;
  for (const Cutter& c : s.cutters) {
    const Evaluation e = evaluate(s, resolver, c, steel, machine, query_for(s, context), s.assembly_of(c.id));
    if (!e.resolution.found()) continue;
    const HeldCutter held = as_held(c, s.assembly_of(c.id));
    const CutReport by_hand = compute_cut(held.cutter, held.assembly, steel, machine, e.asked);
    CHECK(by_hand.results.force_peak_n == e.cut.results.force_peak_n);
    CHECK(by_hand.results.deflection_mm == e.cut.results.deflection_mm);
    if (!e.cut.headroom.empty())
      CHECK(grid.worst_used(grid.row_of(c.id), grid.column_of(steel.id)) == Approx(e.cut.headroom.front().tightest()));
    ++compared;
  }
  CHECK(compared > 20);
  // A job that takes the same cutter in the same material comes to the same cut.
  Job job = *s.job(s.jobs[0].id);
  Operation& o = job.operations[0];
  const Cutter& c = *s.cutter_numbered(s.libraries[0].id, 219);
  pick_cutter(s, resolver, job, o, c);
  const CutReport in_job = report_of(s, job, o, {});
  const Evaluation e = evaluate(s, resolver, c, steel, machine, query_for(s, context), s.assembly_of(c.id));
  CHECK(*in_job.results.motor_power_kw == Approx(*e.cut.results.motor_power_kw));
  CHECK(*in_job.results.deflection_mm == Approx(*e.cut.results.deflection_mm));
}

TEST_CASE("tool life stands where the row says one, with the cheapest and the fastest speed") {
  const ShopState& s = the_demo();
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  const WorkMaterial& steel = *s.materials.named("42CrMo4 +QT");
  const Machine& machine = *s.machines.named("Fettler 6");
  const Context context{steel.id, machine.id, OperationKind::side_rough, 100, UnitSystem::metric};
  const Cutter& c = *s.cutter_numbered(s.libraries[0].id, 219);
  const auto life_at = [&](const WhatIf& tried) {
    const Evaluation e = evaluate(s, resolver, c, steel, machine, query_for(s, context), s.assembly_of(c.id), tried);
    return life_of(s, c, machine, e.resolution, e.cut, e.asked);
  };
  const auto usual = life_at({});
  REQUIRE(usual);
  CHECK(usual->life_min == Approx(60).epsilon(0.03));  // of the row, at nearly its speed
  CHECK_FALSE(usual->taylor.usual_m);
  REQUIRE(usual->cheapest_vc_m_min);
  CHECK(*usual->cheapest_vc_m_min < usual->fastest_vc_m_min);
  WhatIf faster;
  faster.vc_m_min = 150;
  CHECK(life_at(faster)->life_min < usual->life_min / 3);
  // At the fastest speed the life is the one that belongs to it.
  WhatIf fastest;
  fastest.vc_m_min = usual->fastest_vc_m_min;
  CHECK(life_at(fastest)->life_min == Approx(usual->fastest_life_min).epsilon(1e-6));
  // No row, no life.
  const Cutter& other = *s.cutter_numbered(s.libraries[0].id, 228);
  const Evaluation e = evaluate(s, resolver, other, steel, machine, query_for(s, context), s.assembly_of(other.id));
  CHECK_FALSE(life_of(s, other, machine, e.resolution, e.cut, e.asked));
}

TEST_CASE("proven falls with another machine, material, hardness, holder or a longer stick-out, with the reason") {
  ShopState s = the_demo();
  const auto heavy =
      std::find_if(s.recipes.begin(), s.recipes.end(), [](const Recipe& r) { return r.name == "heavy"; });
  REQUIRE(heavy != s.recipes.end());
  const Cutter cutter = *s.cutters.find(heavy->cutter);
  const WorkMaterial steel = *s.materials.find(heavy->material);
  const Machine machine = *s.machines.named("Fettler 6");
  const Context context{steel.id, machine.id, heavy->operation, 100, UnitSystem::metric};
  Recipe recipe = *heavy;
  recipe.proven = true;
  note_proof(s, context, &cutter, recipe);
  CHECK(recipe.proven_on == "Fettler 6");
  CHECK(recipe.proven_in == steel.name);
  CHECK(recipe.proven_stickout_mm.has_value());
  CHECK_FALSE(recipe.proven_holder.empty());
  s.recipes.put(recipe);
  // Proven, and which figure of the step says why not.
  const auto proven = [&](const WorkMaterial& m, const Machine& on, const Assembly* held, const char* figure) {
    const Resolver resolver(s.tables.shared(), s.resolver_options());
    const Evaluation e = evaluate(s, resolver, cutter, m, on, query_for(s, context), held);
    bool said = false;
    for (const TrailStep& step : e.trail)
      if (step.step == "not_proven")
        for (const auto& [name, value] : step.values)
          said = said ||
                 (name == figure && (std::holds_alternative<double>(value) ? std::isfinite(std::get<double>(value))
                                                                           : !std::get<std::string>(value).empty()));
    CHECK(said == (figure[0] != 0));
    return e.resolution.proven;
  };
  const Assembly held = *s.assembly_of(cutter.id);
  CHECK(proven(steel, machine, &held, ""));
  Machine other = machine;
  other.name = "Another";
  CHECK_FALSE(proven(steel, other, &held, "machine"));
  WorkMaterial harder = steel;
  harder.hardness_hb = *steel.hardness_hb + 30;
  CHECK_FALSE(proven(harder, machine, &held, "hb"));
  Assembly longer = held;
  longer.measured_stickout_mm.reset();
  longer.stickout_mm = *stickout_of(held) + 5;
  CHECK_FALSE(proven(steel, machine, &longer, "stickout_mm"));
  longer.stickout_mm = *stickout_of(held) - 2;
  CHECK(proven(steel, machine, &longer, ""));
  Assembly elsewhere = held;
  for (const Holder& h : s.holders)
    if (h.id != held.holder) elsewhere.holder = h.id;
  CHECK_FALSE(proven(steel, machine, &elsewhere, "holder"));
  recipe.proven = false;
  note_proof(s, context, &cutter, recipe);
  CHECK(recipe.proven_on.empty());
}
