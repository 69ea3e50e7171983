// Starter values: complete, finite, and within the lower half of what handbooks give.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/conditions/resolver.h"
#include "core/cutter/kinds.h"
#include "core/tables/starter_rules.h"

using namespace pecorra;

TEST_CASE(
    "every kind × tool material × group × operation that the kind can do has values, or a stated reason why not") {
  int answered = 0, refused = 0;
  for (const CutterKind kind : cutter_kinds())
    for (std::size_t t = 0; t <= choices_of<ToolMaterial>().size(); ++t)
      for (int g = 0; g < material_group_count; ++g)
        for (int o = 0; o < operation_count; ++o)
          for (const double d : {0.5, 3.0, 12.0, 63.0}) {
            StarterQuestion q;
            q.kind = kind;
            if (t > 0) q.tool_material = static_cast<ToolMaterial>(t - 1);
            q.group = static_cast<MaterialGroup>(g);
            q.operation = static_cast<OperationKind>(o);
            q.diameter_mm = d;
            q.flute_length_mm = 0.4 * d;
            q.pitch_mm = 1.25;
            NoStarter why = NoStarter::none;
            const auto v = starter_values(q, &why);
            REQUIRE(v.has_value() == (why == NoStarter::none));
            if (!can_do(kind, q.operation)) {
              CHECK(why == NoStarter::kind_cannot);
              continue;
            }
            if (!v) {
              CHECK(why == NoStarter::tool_material_does_not_cut);
              CHECK((t > 0 || q.group == MaterialGroup::H));  // what is not stated is taken as HSS
              ++refused;
              continue;
            }
            ++answered;
            CHECK((v->vc_m_min > 0 && v->vc_m_min < 1000));
            CHECK((v->feed_mm > 0 && v->feed_mm < std::max(1.5, d)));
            const bool milling = process_of(q.operation) == Process::milling;
            CHECK((v->feed_kind == FeedKind::per_tooth) == milling);
            CHECK(v->ap_mm.has_value() == (milling || allowance_mm(q.operation, q.diameter_mm) > 0));
            if (milling) {
              CHECK((*v->ap_mm > 0 && *v->ap_mm <= q.flute_length_mm + 1e-9));
              CHECK((*v->ae_mm > 0 && *v->ae_mm <= d));
            }
            if (q.operation == OperationKind::tap) CHECK(v->feed_mm == 1.25);
          }
  CHECK(answered > 10000);
  CHECK(refused > 1000);
}

// Ranges as handbooks of the trade share them (cutting speeds and feeds of tables in machining handbooks), from memory.
// The value stands in the lower half.
TEST_CASE("starter values stand in the lower half of handbook ranges") {
  using enum CutterKind;
  using T = ToolMaterial;
  using G = MaterialGroup;
  using O = OperationKind;
  struct Range {
    CutterKind kind;
    T tool;
    G group;
    O operation;
    double diameter, vc_low, vc_high, feed_low, feed_high;
  };
  const Range ranges[] = {{end_mill, T::hss, G::P, O::side_rough, 10, 20, 35, 0.02, 0.06},
                          {end_mill, T::hss, G::M, O::side_rough, 10, 10, 20, 0.02, 0.05},
                          {end_mill, T::hss, G::K, O::side_rough, 10, 18, 30, 0.03, 0.08},
                          {end_mill, T::hss, G::N, O::side_rough, 10, 60, 150, 0.03, 0.1},
                          {end_mill, T::hss, G::S, O::side_rough, 10, 4, 10, 0.015, 0.04},
                          {end_mill, T::carbide, G::P, O::side_rough, 10, 80, 200, 0.03, 0.08},
                          {end_mill, T::carbide, G::P, O::side_rough, 20, 80, 200, 0.05, 0.15},
                          {end_mill, T::carbide, G::M, O::side_rough, 10, 50, 100, 0.02, 0.06},
                          {end_mill, T::carbide, G::K, O::side_rough, 10, 80, 180, 0.03, 0.1},
                          {end_mill, T::carbide, G::N, O::side_rough, 10, 200, 600, 0.04, 0.12},
                          {end_mill, T::carbide, G::S, O::side_rough, 10, 20, 50, 0.015, 0.05},
                          {end_mill, T::carbide, G::H, O::side_rough, 10, 40, 100, 0.01, 0.04},
                          {end_mill, T::carbide, G::P, O::slot, 10, 60, 150, 0.02, 0.06},
                          {end_mill, T::carbide, G::wood, O::side_rough, 10, 300, 900, 0.08, 0.3},
                          {ball, T::carbide, G::P, O::surface_finish, 10, 100, 260, 0.02, 0.08},
                          {face_mill, T::carbide_insert, G::P, O::face, 63, 120, 300, 0.08, 0.25},
                          {face_mill, T::carbide_insert, G::M, O::face, 63, 80, 200, 0.06, 0.2},
                          {face_mill, T::carbide_insert, G::K, O::face, 63, 120, 280, 0.1, 0.3},
                          {face_mill, T::carbide_insert, G::N, O::face, 63, 300, 1000, 0.1, 0.3},
                          {high_feed, T::carbide_insert, G::P, O::pocket_rough, 20, 100, 250, 0.3, 1.5},
                          {face_mill, T::cermet, G::P, O::face, 63, 120, 280, 0.08, 0.2},
                          {face_mill, T::ceramic, G::K, O::face, 63, 300, 800, 0.08, 0.25},
                          {face_mill, T::cbn, G::K, O::face, 63, 400, 1000, 0.08, 0.25},
                          {face_mill, T::cbn, G::H, O::face, 63, 80, 200, 0.03, 0.15},
                          {face_mill, T::pcd, G::N, O::face, 63, 400, 2000, 0.08, 0.3},
                          {chamfer_mill, T::carbide, G::P, O::chamfer, 10, 70, 180, 0.02, 0.06},
                          {thread_mill, T::carbide, G::P, O::thread_mill, 10, 60, 150, 0.02, 0.08},
                          {engraver, T::carbide, G::P, O::engrave, 3, 60, 160, 0.004, 0.02},
                          {step_drill, T::hss, G::P, O::drill, 10, 15, 30, 0.08, 0.2},
                          {step_drill, T::hss, G::M, O::drill, 10, 8, 18, 0.06, 0.18},
                          {step_drill, T::hss, G::K, O::drill, 10, 15, 30, 0.1, 0.25},
                          {step_drill, T::hss, G::N, O::drill, 10, 40, 100, 0.1, 0.25},
                          {drill, T::carbide, G::P, O::drill, 10, 60, 110, 0.1, 0.25},
                          {spot_drill, T::carbide, G::P, O::spot, 10, 40, 100, 0.04, 0.12},
                          {centre_drill, T::hss, G::P, O::centre, 6.3, 8, 20, 0.02, 0.06},
                          {reamer, T::hss, G::P, O::ream, 10, 3, 8, 0.1, 0.3},
                          {reamer, T::hss, G::K, O::ream, 10, 3, 8, 0.15, 0.4},
                          {reamer, T::hss, G::N, O::ream, 10, 8, 20, 0.15, 0.4},
                          {reamer, T::carbide, G::P, O::ream, 10, 10, 30, 0.1, 0.3},
                          {tap, T::hss_co, G::P, O::tap, 8, 6, 15, 1.24, 1.27},
                          {tap, T::hss_co, G::M, O::tap, 8, 3, 8, 1.24, 1.27},
                          {tap, T::hss_co, G::N, O::tap, 8, 15, 30, 1.24, 1.27},
                          {countersink, T::hss, G::P, O::countersink, 20, 8, 20, 0.08, 0.25},
                          {countersink, T::hss, G::N, O::countersink, 20, 25, 60, 0.1, 0.4},
                          {boring_bar, T::carbide_insert, G::P, O::bore, 32, 100, 220, 0.05, 0.15},
                          {counterbore, T::hss, G::P, O::counterbore, 11, 8, 20, 0.05, 0.15}};
  CHECK(std::size(ranges) >= 30);
  for (const Range& r : ranges) {
    StarterQuestion q;
    q.kind = r.kind;
    q.tool_material = r.tool;
    q.group = r.group;
    q.operation = r.operation;
    q.diameter_mm = r.diameter;
    q.pitch_mm = 1.25;
    INFO(label_of(r.kind) << " of " << label_of(r.tool) << " in " << key_of(r.group) << ", " << label_of(r.operation)
                          << ", D " << r.diameter);
    const auto v = starter_values(q);
    REQUIRE(v.has_value());
    CHECK(v->vc_m_min >= r.vc_low);
    CHECK(v->vc_m_min <= (r.vc_low + r.vc_high) / 2);
    CHECK(v->feed_mm >= r.feed_low);
    CHECK(v->feed_mm <= (r.feed_low + r.feed_high) / 2);
  }
}

TEST_CASE("a rule answers only where no row fits, is a guess, and says so; a tap is fed by its pitch exactly") {
  ConditionTable table;
  table.name = "Ours";
  ConditionRow row;
  row.id = Id{1, 1};
  row.diameter_mm = 10;
  row.vc_m_min = 100;
  row.feed_mm = 0.05;
  table.rows = {row};
  const std::vector<ConditionTable> tables{table};
  ResolverOptions rules, none;
  rules.starter_rules = true;
  none.factors = false;
  const Resolver with(tables, rules), without(tables, none);
  WorkMaterial steel, cast;
  steel.group = MaterialGroup::P;
  cast.group = MaterialGroup::K;
  Machine machine;
  machine.max_rpm = 20000;
  machine.flood = true;
  const Cutter mill = proposed_cutter(CutterKind::end_mill, 10);
  Query q;
  Trail trail;
  const auto ask = [&](const Resolver& r, const Cutter& c, const WorkMaterial& m, Trail& t) {
    return r.resolve(r.key_of(c), r.key_of(m), r.key_of(machine), q, t);
  };
  CHECK(ask(with, mill, steel, trail).source == SourceKind::shop_table);
  trail.clear();
  const Resolution guess = ask(with, mill, cast, trail);
  CHECK(guess.source == SourceKind::starter_table);
  CHECK(guess.guess);
  CHECK_FALSE(guess.proven);
  CHECK(guess.table.is_null());
  CHECK(guess.row.is_null());
  REQUIRE_FALSE(trail.empty());
  CHECK(trail.front().step == "starter_rule");
  CHECK(guess.conditions.vc_m_min == Approx(100).epsilon(0.01));
  trail.clear();
  CHECK(ask(without, mill, cast, trail).reason == NoAnswer::no_row);
  q.only = SourceKind::shop_table;
  CHECK(ask(with, mill, cast, trail).reason == NoAnswer::no_row);
  q.only.reset();

  // Nothing is stated: as HSS, and said.
  Cutter unknown = mill;
  unknown.tool_material.reset();
  trail.clear();
  CHECK(ask(with, unknown, cast, trail).conditions.vc_m_min < 25);
  Cutter hss = mill;
  hss.tool_material = ToolMaterial::hss;
  WorkMaterial hard;
  hard.group = MaterialGroup::H;
  trail.clear();
  CHECK(ask(with, hss, hard, trail).reason == NoAnswer::no_row);
  REQUIRE_FALSE(trail.empty());
  CHECK(trail.front().step == "no_starter");

  Cutter tap = proposed_cutter(CutterKind::tap, 8);
  tap.tool_material = ToolMaterial::hss_co;
  tap.pitch_mm = 1.25;
  q.operation = OperationKind::tap;
  const Resolution tapping = ask(with, tap, steel, trail);
  REQUIRE(tapping.found());
  CHECK(tapping.conditions.vf_mm_min == tapping.conditions.n_rpm * 1.25);
}
