// compute_cut: what follows from what, headroom, faults, and that nothing is ever NaN.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/mechanics/cut.h"
#include "core/mechanics/suggest.h"

using namespace pecorra;

namespace {

const Assembly unheld;  // a model keeps no copies

Cutter cutter(CutterKind kind, double d, int flutes = 4) {
  Cutter c;
  c.kind = kind;
  c.diameter_mm = d;
  c.flutes = flutes;
  return c;
}
Cut cut(double ap, double ae, double vc = 180, double fz = 0.05) {
  Cut c;
  c.operation = OperationKind::side_rough;
  c.vc_m_min = vc;
  c.fz_mm = fz;
  c.ap_mm = ap;
  c.ae_mm = ae;
  return c;
}
WorkMaterial c45() {
  WorkMaterial m;
  m.kc11_n_mm2 = 2220;
  m.mc = 0.14;
  return m;
}
Machine mill() {
  Machine m;
  m.min_rpm = 50;
  m.max_rpm = 12000;
  m.max_feed_mm_min = 15000;
  m.efficiency = 0.85;
  m.power_curve = {{1500, 11}, {12000, 11}};
  return m;
}
CutReport report(const Cutter& c, const Cut& k) { return compute_cut(c, {}, c45(), mill(), k); }
bool has_fault(const Cutter& c, const Cut& k, const char* code) {
  for (const Message& m : check_cut(c, k))
    if (m.code == code) return true;
  return false;
}

}  // namespace

TEST_CASE("only what can be computed is in the results") {
  Cut k;
  k.n_rpm = 1000;
  k.fz_mm = 0.1;
  const CutReport r = compute_cut(cutter(CutterKind::end_mill, 10), {}, {}, {}, k);
  CHECK(*r.results.vf_mm_min == Approx(400));
  CHECK_FALSE(r.results.pc_kw);
  CHECK_FALSE(r.results.engagement_deg);
  CHECK_FALSE(compute_cut(cutter(CutterKind::ball, 10), {}, {}, {}, k).results.d_eff_mm);
  Cutter no_flutes = cutter(CutterKind::end_mill, 10);
  no_flutes.flutes.reset();
  CHECK_FALSE(compute_cut(no_flutes, {}, {}, {}, k).results.vf_mm_min);
}

TEST_CASE("feed is stated any of four ways") {
  const Cutter c = cutter(CutterKind::end_mill, 10);
  for (int way = 0; way < 4; ++way) {
    Cut k = cut(10, 2);
    k.fz_mm.reset();
    if (way == 0) k.fz_mm = 0.05;
    if (way == 1) k.fn_mm = 0.2;
    if (way == 2) k.vf_mm_min = *report(c, cut(10, 2)).results.vf_mm_min;
    if (way == 3) k.hex_mm = *report(c, cut(10, 2)).results.h_ex_mm;
    CHECK(*report(c, k).results.fz_mm == Approx(0.05));
    CHECK(*report(c, k).results.pc_kw == Approx(*report(c, cut(10, 2)).results.pc_kw));
  }
}

TEST_CASE("contradicting input is a fault that names both sides") {
  const Cutter c = cutter(CutterKind::end_mill, 10);
  Cut k = cut(10, 2);
  k.n_rpm = 1000;
  CHECK(has_fault(c, k, "speed_twice"));
  k = cut(10, 2);
  k.vc_m_min.reset();
  CHECK(has_fault(c, k, "speed_missing"));
  k = cut(10, 2);
  k.hex_mm = 0.01;
  CHECK(has_fault(c, k, "feed_twice"));
  CHECK(has_fault(c, cut(10, 11), "width_over_diameter"));
  k = cut(10, 2);
  k.path_diameter_mm = 10;
  CHECK(has_fault(c, k, "path_too_narrow"));
  Cutter cone = cutter(CutterKind::chamfer_mill, 10);
  cone.point_angle_deg = 90;
  cone.taper_half_angle_deg = 30;
  CHECK(has_fault(cone, cut(1, 1), "angles_contradict"));
  Cutter tap = cutter(CutterKind::tap, 8);
  tap.pitch_mm = 1.25;
  k = {};
  k.n_rpm = 400;
  k.fn_mm = 1.5;
  CHECK(has_fault(tap, k, "feed_is_not_pitch"));
  CHECK(check_cut(c, cut(10, 2)).empty());
}

TEST_CASE("headroom is a list of limits, worst first") {
  Cutter c = cutter(CutterKind::end_mill, 20);
  c.flute_length_mm = 38;
  c.reach_mm = 58;
  c.tool_material = ToolMaterial::carbide;
  c.max_chip_mm = 0.1;
  c.max_rpm = 9000;
  Machine m = mill();
  m.max_torque_nm = 60;
  const CutReport r = compute_cut(c, {}, c45(), m, cut(40, 15, 200, 0.12));
  REQUIRE(r.headroom.size() >= 8);
  for (std::size_t i = 1; i < r.headroom.size(); ++i) CHECK(r.headroom[i - 1].used >= r.headroom[i].used);
  for (const Headroom& h : r.headroom)
    CHECK(h.used == Approx(h.lower ? h.limit_value / h.value : h.value / h.limit_value));
  bool flutes = false, power = false;
  for (const Message& message : r.messages) {
    flutes = flutes || message.code == "depth_over_flutes";
    power = power || message.code == "over_power";
  }
  CHECK(flutes);
  CHECK(power);
}

TEST_CASE("a proposal brings the cut inside its limit") {
  Cutter c = cutter(CutterKind::end_mill, 20);
  c.tool_material = ToolMaterial::carbide;
  const Cut k = cut(20, 18, 200, 0.15);
  const CutReport r = report(c, k);
  REQUIRE(r.headroom.front().limit == Limit::spindle_power);
  REQUIRE(r.headroom.front().used > 1);
  const WorkMaterial m = c45();
  const Machine on = mill();
  const CutModel model(c, unheld, m, on);
  const auto changes = suggestions(model, k, Limit::spindle_power);
  REQUIRE_FALSE(changes.empty());
  for (const Suggestion& s : changes) {
    Cut better = k;
    Assembly held;
    put(s.property, s.value, r.results, better, held);
    const CutReport after = model.at(better);
    for (const Headroom& h : after.headroom)
      if (h.limit == Limit::spindle_power) CHECK(h.used == Approx(1).epsilon(0.02));
    // Just inside is close; what is far inside wants no change.
    CHECK(suggestions(model, better, Limit::table_feed).empty());
  }
}

TEST_CASE("power curves: linear between points, constant above, proportional below") {
  const std::vector<PowerPoint> curve{{1500, 9}, {3000, 11}, {8000, 7}};
  CHECK(*power_at_kw(curve, 750) == Approx(4.5));
  CHECK(*power_at_kw(curve, 1500) == 9);
  CHECK(*power_at_kw(curve, 2250) == Approx(10));
  CHECK(*power_at_kw(curve, 20000) == 7);
  CHECK_FALSE(power_at_kw({}, 1000).has_value());
  CHECK(check_power_curve({{1000, 5}, {1000, 6}}).at(0).code == "curve_not_rising");
  CHECK(check_power_curve({{1000, -5}}).at(0).code == "curve_negative");
}

TEST_CASE("no result is NaN or infinite, and formulas are continuous, at the ends of every range") {
  for (const CutterKind kind :
       {CutterKind::end_mill, CutterKind::bull_nose, CutterKind::ball, CutterKind::face_mill, CutterKind::chamfer_mill,
        CutterKind::drill, CutterKind::reamer, CutterKind::tap, CutterKind::thread_mill, CutterKind::engraver}) {
    Cutter c = cutter(kind, 10);
    c.corner_radius_mm = 2;
    c.point_angle_deg = 90;
    c.pitch_mm = 1;
    if (kind == CutterKind::end_mill || kind == CutterKind::drill || kind == CutterKind::tap)
      c.corner_radius_mm.reset();
    c.tool_material = ToolMaterial::carbide;
    c.helix_deg = 30;
    Assembly held;
    held.stickout_mm = 30;
    for (const double ap : {1e-9, 1e-3, 0.5, 5.0, 9.99, 1e4})
      for (const double ae : {1e-9, 1e-3, 0.5, 5.0, 9.999999, 10.0})
        for (const double fz : {1e-9, 0.05, 100.0}) {
          const CutReport r = compute_cut(c, held, c45(), mill(), cut(ap, ae, 180, fz));
          for (const Property<CutResults>& p : properties<CutResults>())
            if (const auto v = number_of(r.results, p)) {
              INFO(key_of(kind) << " " << p.key << " ap " << ap << " ae " << ae << " fz " << fz);
              CHECK(std::isfinite(*v));
              CHECK(*v >= 0);
            }
        }
  }
  // Across ae = D/2, where the greatest chip stops growing, and across ap = R of a ball.
  const Cutter c = cutter(CutterKind::end_mill, 10), ball = cutter(CutterKind::ball, 10, 2);
  for (const auto member : {&CutResults::h_ex_mm, &CutResults::h_m_mm, &CutResults::pc_kw}) {
    CHECK(*(report(c, cut(5, 5 - 1e-7)).results.*member) ==
          Approx(*(report(c, cut(5, 5 + 1e-7)).results.*member)).epsilon(1e-5));
    CHECK(*(report(ball, cut(5 - 1e-7, 2)).results.*member) ==
          Approx(*(report(ball, cut(5 + 1e-7, 2)).results.*member)).epsilon(1e-4));
  }
}
