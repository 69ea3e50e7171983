// What a table recommends, all the way through the resolver, against facts of the trade and handbook arithmetic. Each
// from memory; "common practice, no source" where no book is named.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/conditions/resolver.h"
#include "core/thread/thread.h"

using namespace pecorra;

namespace {

struct Table {
  std::vector<ConditionTable> tables{1};
  WorkMaterial steel;
  Machine machine;
  Query query;
  Table() {
    tables[0].id = Id{1, 1};
    query.rounding = {1e-9, 1e-9};
  }
  ConditionRow& row(CutterKind kind, OperationKind operation, double d, double vc, double feed,
                    FeedKind feed_kind = FeedKind::per_tooth) {
    ConditionRow r;
    r.id = Id{2, tables[0].rows.size() + 1};
    r.kind = kind;
    r.operation = operation;
    r.diameter_mm = d;
    r.vc_m_min = vc;
    r.feed_mm = feed;
    r.feed_kind = feed_kind;
    tables[0].rows.push_back(r);
    query.operation = operation;
    return tables[0].rows.back();
  }
  Conditions ask(const Cutter& c) {
    const Resolver r(tables);
    const Resolution found = r.resolve(r.key_of(c), r.key_of(steel), r.key_of(machine), query);
    REQUIRE(found.found());
    return found.conditions;
  }
};

Cutter mill(double d, int flutes, CutterKind kind = CutterKind::end_mill) {
  Cutter c = proposed_cutter(kind, d);
  c.flutes = flutes;
  return c;
}

}  // namespace

TEST_CASE(
    "30 m/min on Ø20 with 4 flutes at 0.08: 477.5 rpm and 152.8 mm/min (Machinery's Handbook, speeds and feeds, from "
    "memory)") {
  Table t;
  t.row(CutterKind::end_mill, OperationKind::side_rough, 20, 30, 0.08);
  const Conditions c = t.ask(mill(20, 4));
  CHECK(c.n_rpm == Approx(477.5).epsilon(1e-4));
  CHECK(c.vf_mm_min == Approx(152.8).epsilon(1e-4));
  CHECK(c.fn_mm == Approx(0.32));
}

TEST_CASE("100 ft/min on 1 inch with 4 flutes at 0.010 in: 382 rpm and 15.28 in/min (common practice, no source)") {
  Table t;
  t.row(CutterKind::end_mill, OperationKind::side_rough, 25.4, 30.48, 0.254);
  const Conditions c = t.ask(mill(25.4, 4));
  CHECK(c.n_rpm == Approx(382).epsilon(1e-3));
  CHECK(c.vf_mm_min / 25.4 == Approx(15.28).epsilon(1e-3));
}

TEST_CASE(
    "a tap M8 × 1.25 at 400 rpm feeds 500 mm/min, whatever the feed is rounded to (ISO 261; a tap feeds its pitch)") {
  Table t;
  Cutter tap = proposed_cutter(CutterKind::tap, 8);
  tap.thread = "M8";
  tap.pitch_mm = 1.25;
  t.row(CutterKind::tap, OperationKind::tap, 8, std::numbers::pi * 8 * 400 / 1000, 1.25, FeedKind::per_revolution);
  t.query.rounding = {1, 10};
  const Conditions c = t.ask(tap);
  CHECK(c.n_rpm == Approx(400).margin(1));
  CHECK(c.vf_mm_min == Approx(c.n_rpm * 1.25).epsilon(1e-12));
}

TEST_CASE(
    "a chip of 0.06 at a tenth of the diameter wants 0.1 per tooth, at half the diameter 0.06 (circular arc, "
    "Martellotti 1941, from memory)") {
  Table t;
  ConditionRow& row = t.row(CutterKind::end_mill, OperationKind::side_rough, 10, 100, 0.06, FeedKind::chip_thickness);
  row.ap_mm = 5;
  for (const auto& [ae_per_d, fz] : {std::pair{0.1, 0.1}, {0.2, 0.075}, {0.5, 0.06}, {0.8, 0.06}}) {
    t.tables[0].rows[0].ae_per_d = ae_per_d;
    CHECK(t.ask(mill(10, 4)).fz_mm == Approx(fz).epsilon(1e-6));
  }
  // Held at three times the chip.
  t.tables[0].rows[0].ae_per_d = 0.005;
  CHECK(t.ask(mill(10, 4)).fz_mm == Approx(0.18).epsilon(1e-6));
}

TEST_CASE("a ball Ø10 half a millimetre deep works at Ø4.359 (geometry): the spindle turns faster for the same speed") {
  Table t;
  t.row(CutterKind::ball, OperationKind::surface_finish, 10, 100, 0.05).ap_mm = 0.5;
  const Conditions c = t.ask(mill(10, 2, CutterKind::ball));
  CHECK(c.d_eff_mm == Approx(4.359).epsilon(1e-3));
  CHECK(c.n_rpm == Approx(1000 * 100 / (std::numbers::pi * 4.3589)).epsilon(1e-3));
}

TEST_CASE("a drill Ø10 at 0.2 per revolution and 80 m/min: 2546 rpm, 509 mm/min (handbook arithmetic)") {
  Table t;
  t.row(CutterKind::drill, OperationKind::drill, 10, 80, 0.2, FeedKind::per_revolution);
  const Conditions c = t.ask(proposed_cutter(CutterKind::drill, 10));
  CHECK(c.n_rpm == Approx(2546.5).epsilon(1e-4));
  CHECK(c.vf_mm_min == Approx(509.3).epsilon(1e-3));
}

TEST_CASE(
    "plunging at a third to a half of the feed, ramping at half, where nothing says otherwise (common practice, no "
    "source)") {
  Table t;
  t.row(CutterKind::end_mill, OperationKind::side_rough, 10, 100, 0.05).ap_per_d = 1;
  const Conditions c = t.ask(mill(10, 4));
  CHECK(c.plunge_mm_min >= c.vf_mm_min / 3);
  CHECK(c.plunge_mm_min <= c.vf_mm_min / 2);
  CHECK(c.ramp_mm_min == Approx(c.vf_mm_min / 2));
}

TEST_CASE("a slot is as wide as the cutter; in metal no deeper than it (common practice, no source)") {
  Table t;
  t.row(CutterKind::end_mill, OperationKind::slot, 12, 80, 0.04).ap_per_d = 0.5;
  const Conditions c = t.ask(mill(12, 3));
  CHECK(c.ae_mm == Approx(12));
  CHECK(c.ap_mm <= 12);
}

TEST_CASE(
    "at a speed that the spindle does not reach the chip stays: feed falls with the speed (common practice, no "
    "source)") {
  Table t;
  t.row(CutterKind::end_mill, OperationKind::side_rough, 3, 300, 0.02).ap_per_d = 1;
  t.machine.max_rpm = 8000;
  const Conditions c = t.ask(mill(3, 2));
  CHECK(c.n_rpm == Approx(8000));
  CHECK(c.fz_mm == Approx(0.02));
  CHECK(c.vf_mm_min == Approx(8000 * 2 * 0.02));
}

TEST_CASE("speeds and feeds are rounded down, never up: no limit is crossed by rounding") {
  Table t;
  t.row(CutterKind::end_mill, OperationKind::side_rough, 10, 100, 0.05).ap_per_d = 1;
  for (const double step : {1.0, 5.0, 10.0, 50.0, 100.0}) {
    t.query.rounding = {step, step};
    const Conditions c = t.ask(mill(10, 4));
    CHECK(c.n_rpm <= 3183.1);
    CHECK(c.n_rpm > 3183.1 - step);
    CHECK(std::fmod(c.n_rpm, step) == Approx(0).margin(1e-6));
    CHECK(c.vf_mm_min <= c.n_rpm * 4 * 0.05 + 1e-9);
  }
}

TEST_CASE(
    "a duller or harder pairing never runs faster: HSS under carbide, hardened under soft, in every starter row (facts "
    "of the trade)") {
  for (const OperationKind operation : {OperationKind::side_rough, OperationKind::slot, OperationKind::face})
    for (const MaterialGroup group : {MaterialGroup::P, MaterialGroup::M, MaterialGroup::K, MaterialGroup::N}) {
      const auto speed = [&](ToolMaterial tool, MaterialGroup g) {
        std::vector<ConditionTable> none;
        ResolverOptions options;
        options.starter_rules = true;
        const Resolver r(none, options);
        WorkMaterial m;
        m.group = g;
        Cutter c = mill(10, 4);
        c.tool_material = tool;
        Query q;
        q.operation = operation;
        q.rounding = {1e-9, 1e-9};
        return r.resolve(r.key_of(c), r.key_of(m), r.key_of(Machine{}), q).conditions.vc_m_min;
      };
      CHECK(speed(ToolMaterial::hss, group) < speed(ToolMaterial::hss_co, group));
      CHECK(speed(ToolMaterial::hss_co, group) < speed(ToolMaterial::carbide, group));
      CHECK(speed(ToolMaterial::carbide, MaterialGroup::N) > speed(ToolMaterial::carbide, MaterialGroup::P));
      CHECK(speed(ToolMaterial::carbide, MaterialGroup::P) > speed(ToolMaterial::carbide, MaterialGroup::M));
      CHECK(speed(ToolMaterial::carbide, MaterialGroup::M) > speed(ToolMaterial::carbide, MaterialGroup::S));
    }
}
