// What starter values promise, over every answer of the demo: machines × operations × cutters × materials.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/cutter/guesses.h"
#include "core/cutter/kinds/threads.h"
#include "core/mechanics/cut_model.h"
#include "core/tables/starter_rules.h"
#include "demo_copy.h"
#include "shop/evaluation.h"

using namespace pecorra;

namespace {

Cut cut_from(const ShopState& s, const Cutter& cutter, const Conditions& c, OperationKind operation) {
  const auto known = [](double v) { return std::isnan(v) ? std::nullopt : std::optional(v); };
  Cut cut;
  cut.operation = operation;
  cut.n_rpm = c.n_rpm;
  cut.vf_mm_min = std::isnan(c.vf_edge_mm_min) ? c.vf_mm_min : c.vf_edge_mm_min;
  cut.path_diameter_mm = known(c.path_diameter_mm);
  cut.ap_mm = known(c.ap_mm);
  cut.ae_mm = known(c.ae_mm);
  cut.worn_factor = s.shop_settings().wear_factor;
  cut.permitted_deflection_mm = permitted_deflection_mm(s.shop_settings(), operation, cutter);
  if (operation == OperationKind::pocket_rough) cut.corner_rad = std::acos(-1.0);
  return cut;
}

}  // namespace

TEST_CASE("starter values rub nowhere, take no more power than there is, and taps are fed by their pitch",
          "[whole_grid]") {
  const ShopState& s = the_demo();
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  int answers = 0, rubbing = 0, overpowered = 0, off_pitch = 0, too_wide = 0;
  for (const Machine& machine : s.machines) {
    const MachineKey on = resolver.key_of(machine);
    for (const Cutter& c : s.cutters) {
      const Assembly* usual = s.assembly_of(c.id);
      const HeldCutter as = as_held(c, usual);
      const CutterKey cutter =
          resolver.key_of(as.cutter, stickout_of(as.assembly).value_or(std::numeric_limits<double>::quiet_NaN()));
      for (const WorkMaterial& m : s.materials) {
        const MaterialKey material = resolver.key_of(m);
        const CutModel model(as.cutter, as.assembly, m, machine);
        for (int k = 0; k < operation_count; ++k) {
          Query query;
          query.operation = static_cast<OperationKind>(k);
          const Resolution r = resolver.resolve(cutter, material, on, query);
          if (!r.found()) continue;
          if (query.operation == OperationKind::tap &&
              std::abs(r.conditions.vf_mm_min - r.conditions.n_rpm * *c.pitch_mm) > 1e-9 * r.conditions.vf_mm_min)
            ++off_pitch;
          if (r.source != SourceKind::starter_table) continue;
          ++answers;
          const Cut cut = cut_from(s, c, r.conditions, query.operation);
          if (cut.ae_mm && *cut.ae_mm > *as.cutter.diameter_mm * (1 + 1e-9)) ++too_wide;
          const CutReport report = model.at(cut, Extent::closed);
          for (const Headroom& h : report.headroom) {
            const bool broken = h.tightest() > 1 + 1e-6;
            if (broken && h.limit == Limit::chip_min && ++rubbing <= 8)
              UNSCOPED_INFO(c.name << " in " << m.name << " on " << machine.name << ", " << label_of(query.operation)
                                   << ": chip " << h.value << " of " << h.limit_value);
            if (broken && h.limit == Limit::spindle_power && query.operation != OperationKind::tap &&
                ++overpowered <= 8)
              UNSCOPED_INFO(c.name << " in " << m.name << " on " << machine.name << ", " << label_of(query.operation)
                                   << ": power " << h.value << " of " << h.limit_value);
          }
        }
      }
    }
  }
  CHECK(answers > 50000);
  CHECK(rubbing == 0);
  CHECK(overpowered == 0);
  CHECK(off_pitch == 0);
  CHECK(too_wide == 0);
}

TEST_CASE("hardness slows in every group, and titanium, bronze and aluminium are not one material") {
  ShopState s = the_demo();
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  const MachineKey on = resolver.key_of(s.machines[0]);
  Cutter mill;
  mill.id = Id{91, 1};
  mill.kind = CutterKind::end_mill;
  mill.diameter_mm = 10;
  mill.flutes = 4;
  mill.flute_length_mm = 22;
  mill.reach_mm = 30;
  mill.shank_diameter_mm = 10;
  mill.overall_length_mm = 72;
  mill.tool_material = ToolMaterial::carbide;
  const auto answer = [&](const Cutter& c, WorkMaterial m, OperationKind operation, double hb = 0) {
    if (hb > 0) m.hardness_hb = hb;
    m.id = Id{92, 1};  // rows for the named material do not answer
    Query query;
    query.operation = operation;
    query.rounding = {1e-6, 1e-6};
    return resolver.resolve(resolver.key_of(c), resolver.key_of(m), on, query);
  };
  const auto speed = [&](const Cutter& c, const char* name, double hb = 0) {
    return answer(c, *s.materials.named(name), OperationKind::side_rough, hb).conditions.vc_m_min;
  };
  // Common practice, no source: 55 HRC about 0.6 to 0.7 of 45 HRC, 62 the same of 55, 64 about 0.85 to 0.9 of 62.
  const double at45 = speed(mill, "40CrMnMo7 45 HRC", 425), at55 = speed(mill, "42CrMo4 55 HRC", 560),
               at62 = speed(mill, "100Cr6 62 HRC", 680), at64 = speed(mill, "HS6-5-2C 64 HRC", 720);
  CHECK(at55 / at45 == Approx(0.65).margin(0.05));
  CHECK(at62 / at55 == Approx(0.65).margin(0.05));
  CHECK(at64 / at62 == Approx(0.875).margin(0.025));
  // Never faster as it gets harder, in every group that has hard states.
  for (const char* name :
       {"C45", "X5CrNi18-10", "EN-GJS-600-3", "NiCr19Fe19Nb5Mo3", "Ti6Al4V", "CuBe2", "100Cr6 62 HRC"}) {
    double before = std::numeric_limits<double>::infinity();
    for (double hb = 120; hb <= 720; hb += 20) {
      const double now = speed(mill, name, hb);
      if (std::isnan(now)) continue;  // beyond what the edge bears
      INFO(name << " at " << hb << " HB");
      CHECK(now <= before * (1 + 1e-9));
      before = now;
    }
  }
  CHECK(speed(mill, "Ti6Al4V") > 1.4 * speed(mill, "NiCr19Fe19Nb5Mo3"));
  CHECK(speed(mill, "CuAl10Ni5Fe4") < 0.5 * speed(mill, "EN AW-6082"));
  CHECK(speed(mill, "EN AC-46000") < 0.8 * speed(mill, "EN AW-6082"));

  Cutter drill = mill;
  drill.kind = CutterKind::drill;
  drill.point_angle_deg = 140;
  drill.flutes = 2;
  drill.reach_mm.reset();
  // Carbide in 62 HRC: 10 to 15 m/min; common practice, no source.
  const double hard = answer(drill, *s.materials.named("100Cr6 62 HRC"), OperationKind::drill).conditions.vc_m_min;
  CHECK(hard >= 10);
  CHECK(hard <= 15);

  // Micro cutters in steel below Ø1: 0.05 to 0.1 × D deep; common practice, no source.
  Cutter micro = mill;
  micro.diameter_mm = 0.8;
  micro.flute_length_mm = 2;
  micro.reach_mm = 2.5;
  const Resolution small = answer(micro, *s.materials.named("C45"), OperationKind::side_rough);
  CHECK(small.conditions.ap_mm <= 0.1 * 0.8 * (1 + 1e-9));
  CHECK(small.conditions.ap_mm >= 0.05 * 0.8);
}

TEST_CASE("on a circle the centre is fed slower than the edge, and the trail says so") {
  const ShopState& s = the_demo();
  const Cutter* mill = nullptr;
  for (const Cutter& c : s.cutters)
    if (c.kind == CutterKind::thread_mill && thread_of(c)) mill = &c;
  REQUIRE(mill);
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  Query query;
  query.operation = OperationKind::thread_mill;
  const Evaluation e =
      evaluate(s, resolver, *mill, *s.materials.named("C45"), s.machines[0], query, s.assembly_of(mill->id));
  REQUIRE(e.resolution.found());
  const Conditions& c = e.resolution.conditions;
  const double thread = thread_of(*mill)->major_mm, d = *mill->diameter_mm;
  // Formula 14 (geometry): internal M20 × 2.5 with a Ø14 cutter turns 300 at the edge into 90 at the centre.
  CHECK(c.vf_mm_min == Approx(c.vf_edge_mm_min * (thread - d) / thread));
  CHECK(e.cut.results.vf_mm_min == Approx(c.vf_edge_mm_min));
  CHECK(*e.cut.results.vf_centre_mm_min == Approx(c.vf_mm_min));
  bool said = false;
  for (const TrailStep& step : e.trail) said = said || step.step == "centre_feed";
  CHECK(said);
}

// Ranges that handbooks share for the material itself, from memory: Machinery's Handbook (speeds and feeds by
// hardness), Fachkunde Metall and Tabellenbuch Metall (drilling, reaming, tapping, milling), Degner/Lutze/Smejkal for
// hard and heat-resistant materials, makers' leaflets for wood and plastics. Cutting speed in m/min, feed in mm per
// tooth, of hole tools per revolution.
TEST_CASE("a feed is made up for a thin chip at the depth that is left when the power has been fitted") {
  // So shallow that only the rounded corner cuts, where the thickest chip depends on the depth.
  const ShopState& s = the_demo();
  auto tables = std::make_shared<std::vector<ConditionTable>>(*s.tables.shared());
  for (ConditionTable& table : *tables)
    for (ConditionRow& row : table.rows)
      if (row.feed_kind == FeedKind::chip_thickness) row.ap_per_d = 0.1;
  const Resolver resolver(tables, s.resolver_options());
  const auto value = [](const Trail& trail, const char* step, const char* name) {
    for (const TrailStep& t : trail)
      if (t.step == step)
        for (const auto& [key, number] : t.values)
          if (key == name) return *std::get_if<double>(&number);
    return std::nan("");
  };
  int fitted = 0;
  for (Machine machine : s.machines) {
    for (PowerPoint& p : machine.power_curve) p.kw *= 0.005;
    const MachineKey on = resolver.key_of(machine);
    for (const Cutter& c : s.cutters)
      for (const WorkMaterial& m : s.materials) {
        const CutterKey key = resolver.key_of(c);
        if (!depth_shapes_chip(key.edge)) continue;
        Query query;
        query.operation = OperationKind::constant_engagement;
        Trail trail;
        const Resolution r = resolver.resolve(key, resolver.key_of(m), on, query, trail);
        const double ap = value(trail, "power_fitted", "ap_mm"), fz = value(trail, "chip_thinning", "fz_mm");
        if (!r.found() || std::isnan(ap) || std::isnan(fz) || value(trail, "chip_thinning", "capped") != 0) continue;
        ++fitted;
        const double ae = value(trail, "chip_thinning", "ae_mm");
        const ChipRatio ratio = chip_ratio(key.edge, side_engagement(ae, *c.diameter_mm), ap, ae, false);
        CHECK(fz * ratio.greatest == Catch::Detail::Approx(value(trail, "chip_thinning", "hex_mm")).epsilon(1e-9));
      }
  }
  CHECK(fitted > 20);
}

TEST_CASE("starter values lie within the ranges of handbooks, material by material") {
  using enum CutterKind;
  using T = ToolMaterial;
  using O = OperationKind;
  struct Range {
    const char* material;
    CutterKind kind;
    T tool;
    O operation;
    double d, vc_low, vc_high, feed_low, feed_high;
  };
  const Range ranges[] = {{"C15", end_mill, T::hss, O::side_rough, 10, 20, 40, 0.02, 0.08},
                          {"C45", end_mill, T::hss, O::side_rough, 10, 18, 32, 0.02, 0.07},
                          {"42CrMo4 +QT", end_mill, T::hss, O::side_rough, 10, 12, 24, 0.015, 0.06},
                          {"X5CrNi18-10", end_mill, T::hss, O::side_rough, 10, 10, 20, 0.015, 0.06},
                          {"EN-GJL-250", end_mill, T::hss, O::side_rough, 10, 15, 30, 0.03, 0.08},
                          {"EN AW-6082", end_mill, T::hss, O::side_rough, 10, 60, 180, 0.03, 0.1},
                          {"CuZn39Pb3", end_mill, T::hss, O::side_rough, 10, 40, 90, 0.03, 0.1},
                          {"CuSn8", end_mill, T::hss, O::side_rough, 10, 25, 50, 0.02, 0.08},
                          {"Ti6Al4V", end_mill, T::hss, O::side_rough, 10, 7, 16, 0.015, 0.06},
                          {"NiCr19Fe19Nb5Mo3", end_mill, T::hss, O::side_rough, 10, 3, 8, 0.01, 0.04},
                          {"C15", end_mill, T::carbide, O::side_rough, 10, 90, 220, 0.03, 0.09},
                          {"C45", end_mill, T::carbide, O::side_rough, 10, 80, 200, 0.03, 0.08},
                          {"42CrMo4 +QT", end_mill, T::carbide, O::side_rough, 10, 60, 150, 0.025, 0.07},
                          {"X40CrMoV5-1", end_mill, T::carbide, O::side_rough, 10, 60, 160, 0.025, 0.07},
                          {"X5CrNi18-10", end_mill, T::carbide, O::side_rough, 10, 45, 110, 0.02, 0.06},
                          {"X5CrNiCuNb16-4", end_mill, T::carbide, O::side_rough, 10, 35, 90, 0.02, 0.06},
                          {"X2CrNiMoN22-5-3", end_mill, T::carbide, O::side_rough, 10, 35, 90, 0.02, 0.06},
                          {"EN-GJL-250", end_mill, T::carbide, O::side_rough, 10, 80, 180, 0.03, 0.1},
                          {"EN-GJS-600-3", end_mill, T::carbide, O::side_rough, 10, 70, 160, 0.03, 0.1},
                          {"EN AW-6082", end_mill, T::carbide, O::side_rough, 10, 200, 600, 0.04, 0.12},
                          {"EN AW-7075", end_mill, T::carbide, O::side_rough, 10, 200, 600, 0.04, 0.12},
                          {"EN AC-46000", end_mill, T::carbide, O::side_rough, 10, 120, 350, 0.04, 0.12},
                          {"Cu-ETP", end_mill, T::carbide, O::side_rough, 10, 90, 250, 0.03, 0.1},
                          {"CuZn39Pb3", end_mill, T::carbide, O::side_rough, 10, 120, 350, 0.04, 0.12},
                          {"CuZn37", end_mill, T::carbide, O::side_rough, 10, 100, 280, 0.03, 0.11},
                          {"CuSn8", end_mill, T::carbide, O::side_rough, 10, 70, 180, 0.03, 0.1},
                          {"CuAl10Ni5Fe4", end_mill, T::carbide, O::side_rough, 10, 60, 140, 0.02, 0.08},
                          {"CuBe2", end_mill, T::carbide, O::side_rough, 10, 50, 110, 0.02, 0.08},
                          {"AZ91", end_mill, T::carbide, O::side_rough, 10, 200, 800, 0.04, 0.15},
                          {"ZnAl4Cu1", end_mill, T::carbide, O::side_rough, 10, 100, 300, 0.04, 0.12},
                          {"Ti grade 2", end_mill, T::carbide, O::side_rough, 10, 40, 100, 0.02, 0.07},
                          {"Ti6Al4V", end_mill, T::carbide, O::side_rough, 10, 35, 70, 0.02, 0.07},
                          {"NiCr19Fe19Nb5Mo3", end_mill, T::carbide, O::side_rough, 10, 18, 40, 0.015, 0.05},
                          {"NiCr22Mo9Nb", end_mill, T::carbide, O::side_rough, 10, 20, 45, 0.015, 0.05},
                          {"CoCr28Mo6", end_mill, T::carbide, O::side_rough, 10, 18, 45, 0.015, 0.05},
                          {"40CrMnMo7 45 HRC", end_mill, T::carbide, O::side_rough, 10, 40, 100, 0.015, 0.05},
                          {"42CrMo4 55 HRC", end_mill, T::carbide, O::side_rough, 10, 25, 80, 0.01, 0.04},
                          {"100Cr6 62 HRC", end_mill, T::carbide, O::side_rough, 10, 15, 60, 0.008, 0.03},
                          {"POM-C", end_mill, T::carbide, O::side_rough, 6, 100, 350, 0.03, 0.2},
                          {"PMMA", end_mill, T::carbide, O::side_rough, 6, 100, 300, 0.03, 0.2},
                          {"PA 66 GF30", end_mill, T::carbide, O::side_rough, 6, 80, 250, 0.03, 0.15},
                          {"Pine", end_mill, T::carbide, O::side_rough, 10, 300, 900, 0.1, 0.5},
                          {"Beech", end_mill, T::carbide, O::side_rough, 10, 250, 800, 0.08, 0.4},
                          {"MDF", end_mill, T::carbide, O::side_rough, 10, 250, 800, 0.08, 0.4},
                          {"CFRP, fabric", end_mill, T::carbide, O::side_rough, 6, 80, 200, 0.01, 0.06},
                          {"GFRP", end_mill, T::carbide, O::side_rough, 6, 60, 200, 0.01, 0.06},
                          {"C45", face_mill, T::carbide_insert, O::face, 63, 120, 280, 0.08, 0.25},
                          {"42CrMo4 +QT", face_mill, T::carbide_insert, O::face, 63, 90, 220, 0.08, 0.25},
                          {"EN-GJS-600-3", face_mill, T::carbide_insert, O::face, 63, 110, 250, 0.08, 0.3},
                          {"Ti6Al4V", face_mill, T::carbide_insert, O::face, 63, 35, 80, 0.05, 0.2},
                          {"C45", drill, T::hss, O::drill, 10, 18, 32, 0.1, 0.25},
                          {"42CrMo4 +QT", drill, T::hss, O::drill, 10, 10, 20, 0.08, 0.22},
                          {"X5CrNi18-10", drill, T::hss, O::drill, 10, 8, 16, 0.06, 0.2},
                          {"EN-GJL-250", drill, T::hss, O::drill, 10, 14, 30, 0.12, 0.3},
                          {"EN AW-6082", drill, T::hss, O::drill, 10, 40, 100, 0.12, 0.3},
                          {"CuZn39Pb3", drill, T::hss, O::drill, 10, 35, 90, 0.1, 0.3},
                          {"Ti6Al4V", drill, T::hss, O::drill, 10, 7, 16, 0.05, 0.18},
                          {"POM-C", drill, T::hss, O::drill, 10, 30, 120, 0.1, 0.3},
                          {"C45", drill, T::carbide, O::drill, 10, 55, 120, 0.1, 0.3},
                          {"X5CrNi18-10", drill, T::carbide, O::drill, 10, 30, 70, 0.08, 0.22},
                          {"EN-GJL-250", drill, T::carbide, O::drill, 10, 55, 130, 0.12, 0.35},
                          {"EN AW-6082", drill, T::carbide, O::drill, 10, 100, 300, 0.12, 0.35},
                          {"Ti6Al4V", drill, T::carbide, O::drill, 10, 20, 50, 0.05, 0.18},
                          {"NiCr19Fe19Nb5Mo3", drill, T::carbide, O::drill, 10, 10, 25, 0.04, 0.14},
                          {"100Cr6 62 HRC", drill, T::carbide, O::drill, 10, 10, 15, 0.02, 0.1},
                          {"C45", reamer, T::hss, O::ream, 10, 4, 10, 0.1, 0.35},
                          {"42CrMo4 +QT", reamer, T::hss, O::ream, 10, 3, 6, 0.08, 0.3},
                          {"X5CrNi18-10", reamer, T::hss, O::ream, 10, 2, 5, 0.08, 0.3},
                          {"EN AW-6082", reamer, T::hss, O::ream, 10, 8, 25, 0.1, 0.4},
                          {"CuSn8", reamer, T::hss, O::ream, 10, 5, 15, 0.1, 0.4},
                          {"C45", tap, T::hss_co, O::tap, 8, 6, 15, 1.24, 1.26},
                          {"42CrMo4 +QT", tap, T::hss_co, O::tap, 8, 4, 10, 1.24, 1.26},
                          {"X5CrNi18-10", tap, T::hss_co, O::tap, 8, 3, 8, 1.24, 1.26},
                          {"EN-GJL-250", tap, T::hss_co, O::tap, 8, 5, 14, 1.24, 1.26},
                          {"EN AW-6082", tap, T::hss_co, O::tap, 8, 12, 30, 1.24, 1.26},
                          {"Beech", tap, T::hss_co, O::tap, 8, 5, 16, 1.24, 1.26},
                          {"C45", boring_bar, T::carbide_insert, O::bore, 32, 90, 220, 0.05, 0.15},
                          {"C45", countersink, T::hss, O::countersink, 20, 8, 20, 0.08, 0.25},
                          {"C45", counterbore, T::hss, O::counterbore, 11, 8, 20, 0.05, 0.2}};
  CHECK(std::size(ranges) >= 76);  // with those of core/starter_rules_test more than 120
  const ShopState& s = the_demo();
  const Resolver resolver(std::vector<ConditionTable>{}, {{}, {}, true, true});
  Machine free;
  free.max_rpm = 1e6;
  for (const Range& r : ranges) {
    Cutter c = guessed_cutter(r.kind, r.d, UnitSystem::metric);
    c.tool_material = r.tool;
    c.flute_length_mm = std::min(c.flute_length_mm.value_or(3 * r.d), 5 * r.d);
    c.pitch_mm = 1.25;
    c.edge_radius_mm = 0.0005;
    Query query;
    query.operation = r.operation;
    query.rounding = {1e-6, 1e-6};
    Trail trail;
    const Resolution a = resolver.resolve(resolver.key_of(c), resolver.key_of(*s.materials.named(r.material)),
                                          resolver.key_of(free), query, trail);
    INFO(label_of(r.kind) << " of " << label_of(r.tool) << " in " << r.material << ", " << label_of(r.operation) << " Ø"
                          << r.d);
    REQUIRE(a.found());
    CHECK(a.conditions.vc_m_min >= r.vc_low * (1 - 1e-6));
    CHECK(a.conditions.vc_m_min <= r.vc_high * (1 + 1e-6));
    const double feed = process_of(r.operation) == Process::milling ? a.conditions.fz_mm : a.conditions.fn_mm;
    CHECK(feed >= r.feed_low * (1 - 1e-6));
    CHECK(feed <= r.feed_high * (1 + 1e-6));
  }
}

TEST_CASE("feeds grow with the diameter, and a harder tool material is never slower where both are permitted") {
  const auto speed_of = [](CutterKind kind, ToolMaterial tool, MaterialGroup group, OperationKind operation, double d,
                           double& feed) {
    StarterQuestion q;
    q.kind = kind;
    q.tool_material = tool;
    q.group = group;
    q.operation = operation;
    q.diameter_mm = d;
    q.flute_length_mm = 2.5 * d;
    q.pitch_mm = 1;
    const auto v = starter_values(q);
    feed = v ? v->feed_mm : 0;
    return v ? v->vc_m_min : 0;
  };
  // In the order in which they bear heat (common practice, no source).
  constexpr ToolMaterial harder[] = {ToolMaterial::hss, ToolMaterial::hss_co, ToolMaterial::hss_pm,
                                     ToolMaterial::carbide};
  int compared = 0;
  for (const CutterKind kind : cutter_kinds())
    for (int o = 0; o < operation_count; ++o)
      for (int g = 0; g < material_group_count; ++g) {
        const auto operation = static_cast<OperationKind>(o);
        const auto group = static_cast<MaterialGroup>(g);
        double slowest = 0;
        for (const ToolMaterial tool : harder) {
          double smaller = 0;
          for (const double d : {0.5, 1.0, 3.0, 6.0, 12.0, 20.0, 40.0}) {
            double feed = 0;
            if (speed_of(kind, tool, group, operation, d, feed) <= 0) continue;
            if (feed < smaller * (1 - 1e-9))
              FAIL_CHECK(label_of(kind) << ", " << label_of(operation) << " in " << label_of(group) << ", Ø" << d);
            smaller = feed;
            ++compared;
          }
          double feed = 0;
          const double vc = speed_of(kind, tool, group, operation, 10, feed);
          if (vc <= 0) continue;
          // Carbide drills are slowed more by the hole than high-speed steel is.
          if (vc < slowest * (1 - 1e-9))
            FAIL_CHECK(label_of(kind) << " of " << label_of(tool) << ", " << label_of(operation) << " in "
                                      << label_of(group));
          slowest = vc;
        }
      }
  CHECK(compared > 5000);
}

TEST_CASE("for every shipped metal the middle of the band is within 35 % of its unit power with feed and wear factor") {
  int metals = 0;
  for (const WorkMaterial& m : the_demo().materials) {
    if (!m.unit_power_n_mm2) continue;
    ++metals;
    const ForceLaw law(m);
    for (const double h : {0.02, 0.03, 0.05, 0.1, 0.2, 0.3}) {
      const ForcePoint p = law.at(h, 1, 1.3);
      INFO(m.name << " at " << h);
      CHECK(p.middle / (1.1 * p.unit_power) > 0.65);
      CHECK(p.middle / (1.1 * p.unit_power) < 1.35);
      CHECK(p.low <= std::min(p.kienzle, p.unit_power) * (1 + 1e-12));
      CHECK(p.high >= std::max(p.kienzle, p.unit_power) * (1 - 1e-12));
    }
  }
  CHECK(metals >= 130);
}

TEST_CASE("what was proven is not proven with another depth or width, and the trail says so") {
  const ShopState& s = the_demo();
  const Cutter* mill = nullptr;
  for (const Cutter& c : s.cutters)
    if (c.number == 219) mill = &c;
  REQUIRE(mill);
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  const auto asked = [&](double ap) {
    Query query;
    query.operation = OperationKind::side_rough;
    query.ap_mm = ap;
    return evaluate(s, resolver, *mill, *s.materials.named("42CrMo4 +QT"), s.machines[0], query,
                    s.assembly_of(mill->id));
  };
  const Evaluation as_proven = asked(std::numeric_limits<double>::quiet_NaN());
  REQUIRE(as_proven.resolution.proven);
  CHECK(asked(as_proven.resolution.conditions.ap_mm).resolution.proven);
  const Evaluation other = asked(6);
  CHECK_FALSE(other.resolution.proven);
  bool said = false;
  for (const TrailStep& step : other.trail) said = said || step.step == "not_proven";
  CHECK(said);
}
