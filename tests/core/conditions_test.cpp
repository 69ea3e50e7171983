// The resolver: which row wins, what happens between and beyond rows, limits, rounding, pace, chip thinning, trail.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/conditions/resolver.h"

using namespace pecorra;

namespace {

struct Bench {
  std::vector<ConditionTable> tables;
  WorkMaterial steel;
  Machine machine;

  Bench() {
    steel.id = Id{7, 7};
    steel.name = "42CrMo4 +QT";
    steel.group = MaterialGroup::P;
    steel.hardness_hb = 300;
    machine.min_rpm = 50;
    machine.max_rpm = 12000;
    machine.max_feed_mm_min = 15000;
    machine.flood = true;
  }
  ConditionRow& add(TableLevel level, double d, double vc, double feed) {
    ConditionTable* table = nullptr;
    for (ConditionTable& t : tables)
      if (t.level == level) table = &t;
    if (!table) {
      tables.push_back({});
      table = &tables.back();
      table->id = Id{100, tables.size()};
      table->name = std::string(key_of(level)) + " rows";
      table->level = level;
      if (level == TableLevel::maker) table->maker = "Heddlemoor", table->series = "Swift";
    }
    ConditionRow row;
    row.id = Id{200, ++rows_};
    row.group = MaterialGroup::P;
    row.diameter_mm = d;
    row.vc_m_min = vc;
    row.feed_mm = feed;
    row.ap_per_d = 1;
    row.ae_per_d = 0.3;
    table->rows.push_back(row);
    return table->rows.back();
  }
  Cutter cutter(double d = 10) const {
    Cutter c = proposed_cutter(CutterKind::end_mill, d);
    c.maker = "Heddlemoor";
    c.series = "Swift";
    return c;
  }
  Resolution resolve(const Cutter& c, Query q = {}, Trail* trail = nullptr) const {
    const Resolver r(tables);
    Trail ignored;
    const Resolution silent = r.resolve(r.key_of(c), r.key_of(steel), r.key_of(machine), q);
    const Resolution told = r.resolve(r.key_of(c), r.key_of(steel), r.key_of(machine), q, trail ? *trail : ignored);
    // One computation, reported or not.
    CHECK(silent.source == told.source);
    CHECK(silent.reason == told.reason);
    if (told.found()) {
      CHECK(silent.conditions.n_rpm == told.conditions.n_rpm);
      CHECK(silent.conditions.vf_mm_min == told.conditions.vf_mm_min);
    }
    return told;
  }

 private:
  std::uint64_t rows_ = 0;
};

const TrailStep* step(const Trail& trail, const char* code) {
  for (const TrailStep& s : trail)
    if (s.step == code) return &s;
  return nullptr;
}
double figure(const TrailStep& s, const char* name) {
  for (const auto& [key, value] : s.values)
    if (key == name)
      if (const double* d = std::get_if<double>(&value)) return *d;
  return not_given;
}

}  // namespace

TEST_CASE("sources follow in the fixed order: shop, maker, group, starter") {
  Bench b;
  b.add(TableLevel::starter, 10, 60, 0.02);
  CHECK(b.resolve(b.cutter()).source == SourceKind::starter_table);
  CHECK(b.resolve(b.cutter()).guess);
  b.add(TableLevel::maker, 10, 70, 0.03);
  CHECK(b.resolve(b.cutter()).source == SourceKind::maker_table);
  b.add(TableLevel::shop, 10, 80, 0.04);  // for the group: before the maker's for the group
  CHECK(b.resolve(b.cutter()).source == SourceKind::shop_table);
  b.add(TableLevel::maker, 10, 90, 0.05).material = b.steel.id;  // this very material: before the shop's group
  const Resolution maker = b.resolve(b.cutter());
  CHECK(maker.source == SourceKind::maker_table);
  CHECK(std::abs(maker.conditions.vc_m_min - 90) < 1);
  b.add(TableLevel::shop, 10, 100, 0.06).material = b.steel.id;
  CHECK(b.resolve(b.cutter()).source == SourceKind::shop_table);
  Cutter other = b.cutter();
  other.series = "Doffer";
  CHECK(b.resolve(other).source == SourceKind::shop_table);
  Query only;
  only.only = SourceKind::maker_table;
  CHECK(b.resolve(b.cutter(), only).source == SourceKind::maker_table);
  CHECK(b.resolve(other, only).reason == NoAnswer::no_row);
}

TEST_CASE("within a level the narrower row wins") {
  Bench b;
  b.add(TableLevel::shop, 10, 80, 0.04);
  ConditionRow& coated = b.add(TableLevel::shop, 10, 95, 0.04);
  coated.tool_material = ToolMaterial::carbide;
  CHECK(std::abs(b.resolve(b.cutter()).conditions.vc_m_min - 95) < 1);
  ConditionRow& ranged = b.add(TableLevel::shop, 10, 60, 0.04);
  ranged.hardness_from_hb = 280;
  ranged.hardness_to_hb = 330;
  CHECK(std::abs(b.resolve(b.cutter()).conditions.vc_m_min - 60) < 1);
  b.steel.hardness_hb = 200;
  CHECK(std::abs(b.resolve(b.cutter()).conditions.vc_m_min - 95) < 1);
}

TEST_CASE("between rows values are interpolated and never overshoot; beyond them they are a marked guess") {
  Bench b;
  b.add(TableLevel::shop, 6, 90, 0.03).proven = true;
  b.add(TableLevel::shop, 10, 110, 0.05).proven = true;
  b.add(TableLevel::shop, 16, 100, 0.08).proven = true;
  Query fine;
  fine.rounding = {0.001, 0.001};
  double previous_feed = 0;
  for (double d = 6; d <= 16; d += 0.5) {
    const Resolution r = b.resolve(b.cutter(d), fine);
    REQUIRE(r.found());
    CHECK_FALSE(r.guess);
    CHECK(r.conditions.vc_m_min <= 110.001);
    CHECK(r.conditions.vc_m_min >= 89.99);
    CHECK(r.conditions.fz_mm >= previous_feed - 1e-6);
    previous_feed = r.conditions.fz_mm;
  }
  Trail trail;
  const Resolution middle = b.resolve(b.cutter(8), fine, &trail);
  CHECK(middle.conditions.vc_m_min == Approx(100).epsilon(1e-4));
  CHECK(middle.conditions.fz_mm == Approx(0.04).epsilon(1e-3));
  CHECK(step(trail, "interpolated"));
  trail.clear();
  CHECK(b.resolve(b.cutter(20), fine, &trail).guess);
  CHECK(step(trail, "beyond_rows"));
  CHECK(b.resolve(b.cutter(4), fine).guess);
}

TEST_CASE("a row in error is left out and the table still works for what is right") {
  Bench b;
  b.add(TableLevel::shop, 10, 110, 0.05);
  b.add(TableLevel::shop, 10.5, 1, 0.05).vc_low_m_min = 50;  // low above target
  b.add(TableLevel::shop, 11, 110, 0.05).feed_mm = -1;
  const Resolution r = b.resolve(b.cutter(10.5));
  CHECK(r.found());
  CHECK(std::abs(r.conditions.vc_m_min - 110) < 1);
}

TEST_CASE("limits come first, then rounding down, then the feed from the rounded speed") {
  Bench b;
  b.add(TableLevel::shop, 10, 110, 0.05);
  const Resolution r = b.resolve(b.cutter());
  CHECK(r.conditions.n_rpm == 3500);     // 3501.4 down to tens
  CHECK(r.conditions.vf_mm_min == 700);  // 3500 · 4 · 0.05
  CHECK(r.conditions.plunge_mm_min == 280);
  b.machine.max_rpm = 3000;
  Trail trail;
  const Resolution held = b.resolve(b.cutter(), {}, &trail);
  CHECK(held.held_speed);
  CHECK(held.conditions.n_rpm == 3000);
  CHECK(held.conditions.fz_mm == Approx(0.05));
  CHECK(step(trail, "held_speed"));
  b.machine.max_feed_mm_min = 500;
  const Resolution slow = b.resolve(b.cutter());
  CHECK(slow.held_feed);
  CHECK(slow.conditions.vf_mm_min == 500);
  Cutter marked = b.cutter();
  marked.max_rpm = 2000;
  CHECK(b.resolve(marked).conditions.n_rpm == 2000);
}

TEST_CASE("a speed below the machine's least is an error, never lifted") {
  Bench b;
  b.add(TableLevel::shop, 10, 110, 0.05);
  b.machine.min_rpm = 8000;
  b.machine.max_rpm = 24000;
  Trail trail;
  const Resolution r = b.resolve(b.cutter(), {}, &trail);
  CHECK_FALSE(r.found());
  CHECK(r.reason == NoAnswer::below_least_speed);
  CHECK(step(trail, "below_least_speed"));
  // Rounding must not push a speed below the least one either.
  b.machine.min_rpm = 3499.9;
  CHECK(b.resolve(b.cutter()).conditions.n_rpm >= 3499.9);
}

TEST_CASE("pace takes speed first, then width and depth, chip load last and never under the rubbing limit") {
  Bench b;
  ConditionRow& row = b.add(TableLevel::shop, 10, 110, 0.05);
  row.vc_low_m_min = 90;
  row.vc_high_m_min = 130;
  row.feed_high_mm = 0.06;
  row.proven = true;
  Query q;
  q.rounding = {0.001, 0.001};
  CHECK(b.resolve(b.cutter(), q).proven);
  q.pace = 90;
  const Resolution ninety = b.resolve(b.cutter(), q);
  CHECK(ninety.conditions.vc_m_min == Approx(99).epsilon(1e-3));
  CHECK(ninety.conditions.ae_mm == Approx(3));
  CHECK_FALSE(ninety.proven);
  q.pace = 60;
  const Resolution sixty = b.resolve(b.cutter(), q);
  CHECK(sixty.conditions.vc_m_min == Approx(90).epsilon(1e-3));
  CHECK(sixty.conditions.ae_mm < 3);
  CHECK(sixty.conditions.fz_mm == Approx(0.05).epsilon(1e-3));
  // The removal rate is what pace says it is.
  const auto rate = [](const Resolution& r) {
    return r.conditions.ap_mm * r.conditions.ae_mm * r.conditions.vf_mm_min;
  };
  q.pace = 100;
  CHECK(rate(sixty) / rate(b.resolve(b.cutter(), q)) == Approx(0.6).epsilon(1e-3));
  q.pace = 10;
  CHECK(b.resolve(b.cutter(), q).conditions.fz_mm >= 0.005 * 0.999);
  q.pace = 150;
  const Resolution bold = b.resolve(b.cutter(), q);
  CHECK(bold.conditions.vc_m_min == Approx(130).epsilon(1e-3));
  CHECK(bold.conditions.fz_mm == Approx(0.06).epsilon(1e-3));
  // Rows without a range only go down.
  Bench plain;
  plain.add(TableLevel::shop, 10, 110, 0.05);
  CHECK(plain.resolve(plain.cutter(), q).conditions.vc_m_min == Approx(110).epsilon(1e-3));
}

TEST_CASE("chip thinning is compensated where the row asks for a chip thickness, three times at most") {
  Bench b;
  ConditionRow& row = b.add(TableLevel::shop, 10, 110, 0.05);
  row.feed_kind = FeedKind::chip_thickness;
  row.ae_per_d = 0.1;
  Query q;
  q.rounding = {0.001, 0.001};
  Trail trail;
  // hex = 0.6 · fz at ae = 0.1 · D
  CHECK(b.resolve(b.cutter(), q, &trail).conditions.fz_mm == Approx(0.05 / 0.6).epsilon(1e-3));
  CHECK(step(trail, "chip_thinning"));
  row.ae_per_d = 0.01;
  trail.clear();
  CHECK(b.resolve(b.cutter(), q, &trail).conditions.fz_mm == Approx(0.15).epsilon(1e-3));
  CHECK(figure(*step(trail, "chip_thinning"), "capped") == 1);
}

TEST_CASE("what cannot be done gives no numbers but a reason") {
  Bench b;
  b.add(TableLevel::shop, 10, 110, 0.05);
  Query drill;
  drill.operation = OperationKind::drill;
  CHECK(b.resolve(b.cutter(), drill).reason == NoAnswer::cannot_do);
  // What never turns is said to, whatever is asked.
  for (const CutterKind kind : {CutterKind::probe, CutterKind::drag_knife})
    CHECK(b.resolve(proposed_cutter(kind, 6), drill).reason == NoAnswer::no_speed);
  Cutter draft = b.cutter();
  draft.flute_length_mm = 500;
  CHECK(b.resolve(draft).reason == NoAnswer::draft);
  b.steel.group = MaterialGroup::N;
  Trail trail;
  CHECK(b.resolve(b.cutter(), {}, &trail).reason == NoAnswer::no_row);
  REQUIRE(step(trail, "no_row"));
  bool named = false;
  for (const auto& [key, value] : step(trail, "no_row")->values)
    if (key == "failed") named = std::get<std::string>(value) == "material";
  CHECK(named);
}

TEST_CASE("own values go before everything and come out as they were typed") {
  Bench b;
  b.add(TableLevel::shop, 10, 110, 0.05);
  Query q;
  q.own_n_rpm = 3333;
  q.own_vf_mm_min = 777;
  q.pace = 50;
  const Resolution r = b.resolve(b.cutter(), q);
  CHECK(r.source == SourceKind::own);
  CHECK(r.conditions.n_rpm == 3333);
  CHECK(r.conditions.vf_mm_min == 777);
}

TEST_CASE("the trail ends in the numbers that are used, and its source can be opened") {
  Bench b;
  b.add(TableLevel::shop, 10, 110, 0.05);
  Trail trail;
  const Resolution r = b.resolve(b.cutter(), {}, &trail);
  REQUIRE(trail.size() > 3);
  CHECK(trail.front().step == "source");
  CHECK(trail.front().target.row == b.tables[0].rows[0].id);
  CHECK(trail.back().step == "result");
  CHECK(figure(trail.back(), "n_rpm") == r.conditions.n_rpm);
  CHECK(figure(trail.back(), "vf_mm_min") == r.conditions.vf_mm_min);
}

TEST_CASE("coolant follows what the machine has") {
  Bench b;
  b.add(TableLevel::shop, 10, 110, 0.05).coolant = Coolant::through_liquid;
  CHECK(b.resolve(b.cutter()).conditions.coolant == Coolant::flood);
  b.machine.flood = false;
  CHECK(b.resolve(b.cutter()).conditions.coolant == Coolant::off);
}

TEST_CASE("rounding keeps two digits and never rounds to zero") {
  const Step ten = Rounding(10, 10).n;
  CHECK(round_down(3501.4, ten) == 3500);
  CHECK(round_down(87.9, ten) == 87);
  CHECK(round_down(7.96, ten) == Approx(7.9));
  CHECK(round_down(0.4, ten) > 0);
  CHECK(round_down(3500, ten) == 3500);
}
