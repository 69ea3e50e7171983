// What goes before and behind the rows of tables: recipes, conditions of rows, finish values, detail feeds, factors;
// and what machines hold back.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>

#include "core/conditions/resolver.h"
#include "core/tables/starter_rules.h"

using namespace pecorra;

namespace {

struct Shop {
  std::vector<ConditionTable> tables{1};
  std::vector<Recipe> recipes;
  WorkMaterial steel, other;
  Machine machine;
  Cutter mill = proposed_cutter(CutterKind::end_mill, 10);
  ResolverOptions options;
  double stickout = not_given;

  Shop() {
    tables[0].id = Id{1, 1};
    tables[0].name = "Ours";
    steel.id = Id{2, 1};
    other.id = Id{2, 2};
    steel.group = other.group = MaterialGroup::P;
    steel.hardness_hb = other.hardness_hb = 200;
    machine.max_rpm = 12000;
    machine.flood = true;
    mill.id = Id{3, 1};
    mill.tool_material = ToolMaterial::carbide;
    mill.flutes = 4;
  }
  ConditionRow& row(double vc, double feed, double d = 10) {
    ConditionRow r;
    r.id = Id{4, tables[0].rows.size() + 1};
    r.diameter_mm = d;
    r.vc_m_min = vc;
    r.feed_mm = feed;
    r.ap_per_d = 1;
    r.ae_per_d = 0.3;
    tables[0].rows.push_back(r);
    return tables[0].rows.back();
  }
  Recipe& recipe(const char* name, double vc) {
    Recipe r;
    r.id = Id{5, recipes.size() + 1};
    r.name = name;
    r.cutter = mill.id;
    r.diameter_mm = 10;
    r.vc_m_min = vc;
    r.feed_mm = 0.05;
    r.ap_per_d = 0.5;
    r.ae_mm = 2;
    recipes.push_back(r);
    return recipes.back();
  }
  Resolution ask(Query q = {}, Trail* trail = nullptr, const WorkMaterial* material = nullptr) {
    options.recipes = std::make_shared<const std::vector<Recipe>>(recipes);
    const Resolver r(tables, options);
    const WorkMaterial& m = material ? *material : steel;
    const Resolution silent = r.resolve(r.key_of(mill, stickout), r.key_of(m), r.key_of(machine), q);
    Trail told;
    const Resolution spoken =
        r.resolve(r.key_of(mill, stickout), r.key_of(m), r.key_of(machine), q, trail ? *trail : told);
    // Both ways the same.
    CHECK(silent.source == spoken.source);
    if (silent.found()) {
      CHECK(silent.conditions.n_rpm == spoken.conditions.n_rpm);
      CHECK(silent.conditions.vf_mm_min == spoken.conditions.vf_mm_min);
    }
    return spoken;
  }
};

bool has_step(const Trail& trail, const char* step) {
  return std::any_of(trail.begin(), trail.end(), [&](const TrailStep& s) { return s.step == step; });
}
const TrailStep* step_of(const Trail& trail, const char* step) {
  const auto found = std::find_if(trail.begin(), trail.end(), [&](const TrailStep& s) { return s.step == step; });
  return found == trail.end() ? nullptr : &*found;
}
double figure(const TrailStep& s, const char* key) {
  for (const auto& [name, value] : s.values)
    if (name == key)
      if (const double* d = std::get_if<double>(&value)) return *d;
  return not_given;
}

}  // namespace

TEST_CASE("a recipe goes before every table; the one for this material before the one for any, the usual one first") {
  Shop s;
  s.row(100, 0.06);
  CHECK(s.ask().source == SourceKind::shop_table);
  s.recipe("light", 60);
  s.recipe("heavy", 80).usual = true;
  Trail trail;
  Resolution r = s.ask({}, &trail);
  CHECK(r.source == SourceKind::recipe);
  CHECK(r.table.is_null());
  CHECK(r.row == s.recipes.back().id);
  CHECK(r.conditions.n_rpm == 2540);  // 1000 · 80 / (π · 10) = 2546, rounded down
  CHECK(r.conditions.ap_mm == 5);
  CHECK(r.conditions.ae_mm == 2);
  REQUIRE(step_of(trail, "recipe"));
  CHECK(figure(*step_of(trail, "recipe"), "any_material") == 1);
  s.recipe("steel", 70).material = s.steel.id;
  CHECK(s.ask().conditions.vc_m_min == Approx(70).epsilon(0.01));
  CHECK(s.ask({}, nullptr, &s.other).conditions.vc_m_min == Approx(80).epsilon(0.01));
  // One that is asked for by name is taken.
  Query q;
  q.recipe = 0;
  CHECK(s.ask(q).conditions.vc_m_min == Approx(60).epsilon(0.01));
  q.recipe = -1;
  q.only = SourceKind::shop_table;
  CHECK(s.ask(q).source == SourceKind::shop_table);
  // Another operation does not follow it.
  q = {};
  q.operation = OperationKind::slot;
  s.row(50, 0.04).operation = OperationKind::slot;
  CHECK(s.ask(q).source == SourceKind::shop_table);
}

TEST_CASE("a proven recipe is proven only in its own material, and pace takes that away") {
  Shop s;
  Recipe& r = s.recipe("good", 80);
  r.proven = true;
  CHECK_FALSE(s.ask().proven);  // for any material
  r.material = s.steel.id;
  CHECK(s.ask().proven);
  Query q;
  q.pace = 80;
  CHECK_FALSE(s.ask(q).proven);
}

TEST_CASE("a recipe says where cutter and what it was made for differ") {
  Shop s;
  Recipe r = s.recipe("good", 80);
  r.kind = CutterKind::ball;
  r.tool_material = ToolMaterial::hss;
  r.diameter_mm = 12;
  std::vector<std::string> codes;
  for (const Message& m : check_recipe(r, s.mill)) codes.push_back(m.code);
  for (const char* code : {"recipe_other_kind", "recipe_other_size", "recipe_other_tool_material"})
    CHECK(std::count(codes.begin(), codes.end(), code) == 1);
  CHECK(check_recipe(s.recipe("fits", 80), s.mill).empty());
}

TEST_CASE("rows hold up to a depth, a width and a stick-out; the narrower condition goes first") {
  Shop s;
  s.row(50, 0.03);
  ConditionRow& shallow = s.row(100, 0.06);
  shallow.holds_ap_per_d = 0.5;
  Query q;
  q.ap_mm = 4;
  CHECK(s.ask(q).conditions.vc_m_min == Approx(100).epsilon(0.01));
  q.ap_mm = 6;
  CHECK(s.ask(q).conditions.vc_m_min == Approx(50).epsilon(0.01));
  ConditionRow& stubby = s.row(120, 0.06);
  stubby.holds_length_mm = 30;
  s.stickout = 29;
  CHECK(s.ask(q).conditions.vc_m_min == Approx(120).epsilon(0.01));
  s.stickout = 31;
  CHECK(s.ask(q).conditions.vc_m_min == Approx(50).epsilon(0.01));
}

TEST_CASE("a row for a duty class counts on such machines alone") {
  Shop s;
  s.row(50, 0.03);
  s.row(90, 0.05).duty = DutyClass::heavy;
  CHECK(s.ask().conditions.vc_m_min == Approx(50).epsilon(0.01));
  s.machine.duty = DutyClass::heavy;
  CHECK(s.ask().conditions.vc_m_min == Approx(90).epsilon(0.01));
}

TEST_CASE("finish values of a roughing row answer for finishing, behind a row that is for finishing") {
  Shop s;
  ConditionRow& r = s.row(100, 0.06);
  r.finish_vc_m_min = 130;
  r.finish_feed_mm = 0.04;
  Query q;
  q.operation = OperationKind::side_finish;
  Trail trail;
  const Resolution found = s.ask(q, &trail);
  CHECK(found.conditions.vc_m_min == Approx(130).epsilon(0.01));
  CHECK(found.conditions.fz_mm == Approx(0.04).epsilon(0.01));
  CHECK(figure(*step_of(trail, "source"), "finish") == 1);
  CHECK(found.conditions.ae_mm < 1);  // a few tenths, common practice, no source
  s.row(80, 0.05).operation = OperationKind::side_finish;
  CHECK(s.ask(q).conditions.vc_m_min == Approx(80).epsilon(0.01));
}

TEST_CASE("plunge, ramp and lead: a table feed before a feed per tooth before a factor before the machine's rule") {
  Shop s;
  s.row(100, 0.06);
  s.machine.plunge_rule = 0.2;
  s.machine.ramp_rule = 0.3;
  s.machine.lead_rule = 0.5;
  Trail trail;
  Conditions c = s.ask({}, &trail).conditions;
  // vf = 3180 · 4 · 0.06 = 763 -> 760
  CHECK(c.vf_mm_min == 760);
  CHECK(c.plunge_mm_min == 150);
  CHECK(c.ramp_mm_min == 220);
  CHECK(c.lead_mm_min == 380);
  CHECK(figure(*step_of(trail, "plunge"), "by_machine") == 1);
  s.tables[0].rows[0].plunge_factor = 0.4;
  CHECK(s.ask().conditions.plunge_mm_min == 300);
  s.tables[0].rows[0].plunge_feed_mm = 0.01;
  CHECK(s.ask().conditions.plunge_mm_min == 120);  // 3180 · 4 · 0.01 = 127.2
  s.tables[0].rows[0].plunge_mm_min = 90;
  s.tables[0].rows[0].ramp_n_rpm = 2000;
  s.tables[0].rows[0].ramp_feed_mm = 0.02;
  s.tables[0].rows[0].lead_mm_min = 250;
  c = s.ask().conditions;
  CHECK(c.plunge_mm_min == 90);
  CHECK(c.ramp_n_rpm == 2000);
  CHECK(c.ramp_mm_min == 160);  // 2000 · 4 · 0.02
  CHECK(c.lead_mm_min == 250);
}

TEST_CASE("axes and the cap of a group hold the feed, and the trail says which") {
  Shop s;
  s.row(300, 0.1);
  s.machine.feed_x_mm_min = 3000;
  s.machine.feed_y_mm_min = 2000;
  s.machine.feed_z_mm_min = 400;
  Trail trail;
  CHECK(s.ask({}, &trail).conditions.vf_mm_min == 2000);
  REQUIRE(step_of(trail, "held_feed"));
  s.machine.cap_p_mm_min = 1200;
  trail.clear();
  const Resolution held = s.ask({}, &trail);
  CHECK(held.conditions.vf_mm_min == 1200);
  CHECK(held.held_feed);
  CHECK(held.conditions.plunge_mm_min == 400);  // 0.4 · 1200 = 480, Z goes 400
  WorkMaterial brass = s.steel;
  brass.id = Id{2, 9};
  brass.group = MaterialGroup::N;
  s.row(300, 0.1).group = MaterialGroup::N;
  CHECK(s.ask({}, nullptr, &brass).conditions.vf_mm_min == 2000);
}

TEST_CASE("a dial turns at its nearest position, no faster than the cutter bears, and the feed follows") {
  Shop s;
  s.row(60, 0.05);  // 1910 rpm
  s.machine.dial_rpm = {300, 620, 1250, 2000, 3200};
  Trail trail;
  Resolution r = s.ask({}, &trail);
  CHECK(r.conditions.n_rpm == 2000);
  CHECK(r.conditions.dial_position == 4);
  CHECK(r.conditions.vf_mm_min == 400);  // 2000 · 4 · 0.05
  CHECK(has_step(trail, "dial"));
  s.mill.max_rpm = 1950;
  r = s.ask();
  CHECK(r.conditions.dial_position == 3);
  CHECK(r.conditions.n_rpm == 1250);
  s.machine.dial_rpm = {620, 300};
  CHECK(has_error(check_machine(s.machine)));
}

TEST_CASE("starter values are slower in harder steel, and can be left as they are for shop, table and cutter") {
  Shop s;
  s.tables[0].level = TableLevel::starter;
  s.row(100, 0.06);
  s.steel.hardness_hb = 330;
  Trail trail;
  CHECK(s.ask({}, &trail).conditions.vc_m_min == Approx(100 * 220.0 / 330).epsilon(0.01));
  CHECK(has_step(trail, "hardness"));
  s.options.factors = false;
  CHECK(s.ask().conditions.vc_m_min == Approx(100).epsilon(0.01));
  s.options.factors = true;
  s.mill.no_factors = true;
  CHECK(s.ask().conditions.vc_m_min == Approx(100).epsilon(0.01));
  s.mill.no_factors = false;
  s.tables[0].no_factors = true;
  CHECK(s.ask().conditions.vc_m_min == Approx(100).epsilon(0.01));
  // A row of the shop's is never scaled.
  s.tables[0].no_factors = false;
  s.tables[0].level = TableLevel::shop;
  CHECK(s.ask().conditions.vc_m_min == Approx(100).epsilon(0.01));
}

TEST_CASE("without starter values a factor stands in, never from a proven row, and can be switched off") {
  Shop s;
  s.row(100, 0.06).tool_material = ToolMaterial::carbide;
  s.mill.tool_material = ToolMaterial::hss;
  Trail trail;
  const Resolution r = s.ask({}, &trail);
  REQUIRE(r.found());
  CHECK(r.guess);
  CHECK(has_step(trail, "factor"));
  // As HSS stands to carbide in the starter values for steel.
  CHECK(r.conditions.vc_m_min == Approx(100 * 24.0 / 110).epsilon(0.02));
  s.tables[0].rows[0].proven = true;
  CHECK_FALSE(s.ask().found());
  s.tables[0].rows[0].proven = false;
  s.options.factors = false;
  CHECK_FALSE(s.ask().found());
  s.options.factors = true;
  s.options.starter_rules = true;  // a starter value goes before
  CHECK(s.ask().source == SourceKind::starter_table);
  trail.clear();
  s.ask({}, &trail);
  CHECK_FALSE(has_step(trail, "factor"));
}

TEST_CASE("the trail names what was beaten, and why; without an answer it names the nearest rows and what differs") {
  Shop s;
  s.row(100, 0.06).material = s.steel.id;
  s.row(90, 0.05);
  s.row(95, 0.05).tool_material = ToolMaterial::carbide;
  Trail trail;
  s.ask({}, &trail);
  std::vector<std::string> why;
  for (const TrailStep& step : trail)
    if (step.step == "beaten")
      for (const auto& [name, value] : step.values)
        if (name == "why") why.push_back(std::get<std::string>(value));
  CHECK(why == std::vector<std::string>{"level", "level"});
  trail.clear();
  s.options.factors = false;
  WorkMaterial cast = s.steel;
  cast.id = Id{2, 8};
  cast.group = MaterialGroup::K;
  CHECK_FALSE(s.ask({}, &trail, &cast).found());
  CHECK(has_step(trail, "no_row"));
  CHECK(has_step(trail, "near_row"));
}

TEST_CASE("rows say what is odd about them, and the rest still counts") {
  Shop s;
  const auto codes_of = [&] {
    std::vector<std::string> codes;
    for (const ConditionRow& r : s.tables[0].rows)
      for (const Message& m : check_row(r)) codes.push_back(m.code);
    for (const Message& m : check_table(s.tables[0])) codes.push_back(m.code);
    return codes;
  };
  const auto has = [&](const char* code) {
    const auto codes = codes_of();
    return std::count(codes.begin(), codes.end(), code) > 0;
  };
  s.row(100, 0.06);
  CHECK(codes_of().empty());
  s.row(110, 0.06);
  CHECK(has("row_contradicts"));
  s.tables[0].rows.pop_back();
  ConditionRow& thin = s.row(100, 0.06, 12);
  thin.ap_per_d.reset();
  thin.ap_mm = 0.05;
  CHECK(has("feed_over_depth"));
  s.tables[0].rows.pop_back();
  ConditionRow& wrong = s.row(100, 0.24, 12);  // per revolution of four flutes
  wrong.flutes = 4;
  s.tables[0].rows[0].flutes = 4;
  CHECK(has("feed_looks_per_revolution"));
  s.tables[0].rows.pop_back();
  s.row(100, 0.06, 60);
  CHECK_FALSE(has("diameter_gap"));  // another number of flutes: another curve
  s.tables[0].rows.back().flutes = 4;
  CHECK(has("diameter_gap"));
  s.tables[0].rows.pop_back();
  for (const auto& [from, to] : {std::pair{150.0, 220.0}, {200.0, 250.0}, {300.0, 350.0}}) {
    ConditionRow& r = s.row(100, 0.06);
    r.hardness_from_hb = from;
    r.hardness_to_hb = to;
  }
  CHECK(has("rows_overlap"));
  CHECK(has("rows_gap"));
  s.row(-5, 0.06, 14);
  CHECK(has("out_of_range"));
  CHECK(s.ask().found());
}

// Mohr by hand: 1 + 7·(0.8·d/D)⁴ for flutes of 4 × d and as much shank again.
TEST_CASE("a small cutter on a thick shank is slowed by its bending, not by stick-out over diameter") {
  Shop s;
  s.tables[0].level = TableLevel::starter;
  s.row(100, 0.02, 3.175);
  s.mill.diameter_mm = 3.175;
  s.mill.flute_length_mm = s.mill.reach_mm = 12.7;
  s.mill.neck_diameter_mm.reset();
  s.mill.shank_diameter_mm = 6.35;
  s.mill.overall_length_mm = 50.8;
  s.stickout = 12.7;
  const double usual = s.ask().conditions.fz_mm;
  s.stickout = 25.4;
  Trail trail;
  const double bending = 1 + 7 * std::pow(0.8 * 3.175 / 6.35, 4);
  CHECK(s.ask({}, &trail).conditions.fz_mm == Approx(usual / std::cbrt(bending)).epsilon(0.01));
  CHECK(has_step(trail, "long_stickout"));
}

TEST_CASE("a long stick-out and conventional milling are steps of their own on starter values, and on nothing else") {
  Shop s;
  s.tables[0].level = TableLevel::starter;
  s.row(100, 0.06);
  s.mill.flute_length_mm = s.mill.reach_mm = 210;  // a plain bar: bending grows with the cube of its length
  s.mill.overall_length_mm = 260;
  s.stickout = 40;  // 4 × D
  const Conditions usual = s.ask().conditions;
  CHECK(usual.fz_mm == Approx(0.06).epsilon(0.02));
  s.stickout = 60;
  Trail trail;
  CHECK(s.ask({}, &trail).conditions.fz_mm == Approx(0.06 * 4 / 6).epsilon(0.02));
  CHECK(has_step(trail, "long_stickout"));
  s.stickout = 200;  // never less than half
  CHECK(s.ask().conditions.fz_mm == Approx(0.03).epsilon(0.02));
  s.stickout = 30;
  Query q;
  q.conventional = true;
  trail.clear();
  CHECK(s.ask(q, &trail).conditions.vc_m_min == Approx(90).epsilon(0.01));
  CHECK(has_step(trail, "conventional"));
  s.stickout = 60;
  s.options.factors = false;
  CHECK(s.ask(q).conditions.vc_m_min == Approx(100).epsilon(0.01));
  s.options.factors = true;
  s.tables[0].level = TableLevel::shop;
  CHECK(s.ask(q).conditions.fz_mm == Approx(0.06).epsilon(0.02));
  CHECK(s.ask(q).conditions.vc_m_min == Approx(100).epsilon(0.01));
}
