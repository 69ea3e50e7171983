// Examples of milling, drilling, enlarging, tapping, circular paths, finish, deflection and tool life, each re-derived
// here by other means: summing along edges and arcs, geometry by brute force, searching a minimum. "Re-derived" all of
// them; figures that are published stand in formulas_test.cpp.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/mechanics/cut_model.h"
#include "core/mechanics/life.h"

using namespace pecorra;

namespace {

using std::numbers::pi;
constexpr int fine = 20000;

// ∫ f over from … to by the midpoint rule.
template <class F>
double sum(double from, double to, F f) {
  double total = 0;
  for (int i = 0; i < fine; ++i) total += f(from + (to - from) * (i + 0.5) / fine) * (to - from) / fine;
  return total;
}

Cutter cutter(CutterKind kind, double d, int teeth) {
  Cutter c;
  c.kind = kind;
  c.diameter_mm = d;
  c.flutes = teeth;
  return c;
}
WorkMaterial material(double kc11, double mc, double rake_ref = 0) {
  WorkMaterial m;
  m.kc11_n_mm2 = kc11;
  m.mc = mc;
  m.rake_ref_deg = rake_ref;
  return m;
}
CutResults results(const Cutter& c, const WorkMaterial& m, const Cut& cut, const Assembly& held = {}) {
  Machine machine;
  machine.efficiency = 0.85;
  return compute_cut(c, held, m, machine, cut).results;
}
Cut speed_and_feed(OperationKind operation, double vc, double fz) {
  Cut cut;
  cut.operation = operation;
  cut.vc_m_min = vc;
  cut.fz_mm = fz;
  return cut;
}

int examples = 0;

}  // namespace

TEST_CASE("milling: speed, chip, force, power and torque by summing over the arc") {
  struct Example {
    double d;
    int z;
    double vc, fz, ap, ae, kc11, mc, kappa, rake;
  };
  // Materials and constants as König & Essel have them, from memory: C45, 42CrMo4, 16MnCr5, EN-GJL-250, E360, 18CrNi6.
  for (const Example& e : {Example{10, 4, 180, 0.05, 10, 2, 2220, 0.14, 90, 6},
                           {12, 4, 110, 0.055, 12, 3.6, 2500, 0.26, 90, 8},
                           {20, 5, 105, 0.08, 20, 6, 2500, 0.26, 90, 0},
                           {6, 3, 90, 0.03, 6, 6, 2100, 0.26, 90, 10},
                           {16, 4, 140, 0.09, 4, 12, 1160, 0.26, 90, 2},
                           {50, 5, 200, 0.2, 3, 35, 2220, 0.14, 45, 12},
                           {63, 6, 180, 0.25, 2, 63, 2260, 0.30, 45, 5},
                           {80, 8, 160, 0.15, 4, 60, 1020, 0.25, 90, -6},
                           {32, 3, 150, 1.0, 0.8, 20, 2220, 0.14, 12, 0},
                           {8, 2, 400, 0.06, 8, 0.4, 700, 0.25, 90, 15},
                           {3, 2, 60, 0.01, 1, 0.9, 2260, 0.30, 90, 8},
                           {25, 4, 120, 0.12, 25, 25, 2260, 0.30, 90, 4}}) {
    Cutter c = cutter(e.kappa < 90 ? CutterKind::face_mill : CutterKind::end_mill, e.d, e.z);
    if (e.kappa < 90) c.cutting_edge_angle_deg = e.kappa;
    c.rake_deg = e.rake;
    Cut cut = speed_and_feed(OperationKind::side_rough, e.vc, e.fz);
    cut.ap_mm = e.ap;
    cut.ae_mm = e.ae;
    const CutResults r = results(c, material(e.kc11, e.mc, 6), cut);
    INFO("D " << e.d << " ae " << e.ae);
    // A face mill turns at the diameter where its edges leave the work.
    const double d_eff = e.d + (e.kappa < 90 ? 2 * e.ap / std::tan(e.kappa * pi / 180) : 0),
                 n = e.vc * 1000 / pi / d_eff;
    const double sk = std::sin(e.kappa * pi / 180), arc = std::acos(1 - 2 * e.ae / e.d);
    const double hm = sum(0, arc, [&](double phi) { return e.fz * sk * std::sin(phi); }) / arc;
    double thickest = 0;
    for (int i = 0; i <= fine; ++i) thickest = std::max(thickest, e.fz * sk * std::sin(arc * i / fine));
    const double kc = e.kc11 * std::pow(std::max(hm, 0.001), -e.mc) * (1 - (e.rake - 6) / 100);
    // Work of all teeth in a turn at that mean specific force: tangential force times way.
    const double work = e.z * sum(0, arc, [&](double phi) { return kc * e.fz * std::sin(phi) * e.ap * e.d / 2; });
    CHECK(*r.n_rpm == Approx(n));
    CHECK(*r.vf_mm_min == Approx(n * e.z * e.fz));
    CHECK(*r.h_ex_mm == Approx(thickest).epsilon(1e-6));
    CHECK(*r.h_m_mm == Approx(hm).epsilon(1e-6));
    CHECK(*r.pc_kw == Approx(work * n / 60 / 1e6).epsilon(1e-6));
    CHECK(*r.mc_nm == Approx(work / (2 * pi) / 1000).epsilon(1e-6));
    CHECK(*r.motor_power_kw == Approx(*r.pc_kw / 0.85));
    ++examples;
  }
}

TEST_CASE("drilling: torque, power and thrust by summing along the lips, step by step") {
  struct Example {
    double d, point, fn, vc, kc11, mc, step;
  };
  for (const Example& e : {Example{8.5, 140, 0.2, 90, 2220, 0.14, 0},
                           {5, 118, 0.1, 25, 1780, 0.17, 0},
                           {20, 140, 0.3, 100, 2500, 0.26, 0},
                           {12, 118, 0.22, 28, 2220, 0.14, 0},
                           {3, 130, 0.06, 40, 2100, 0.26, 0},
                           {10.2, 118, 0.2, 30, 2220, 0.14, 6.8},
                           {14, 140, 0.25, 80, 2500, 0.26, 8.5},
                           {6.8, 90, 0.12, 60, 1160, 0.26, 0}}) {
    Cutter c = cutter(e.step > 0 ? CutterKind::step_drill : CutterKind::drill, e.d, 2);
    c.point_angle_deg = e.point;
    if (e.step > 0) c.step_diameter_mm = e.step, c.step_angle_deg = 90;
    Cut cut;
    cut.operation = OperationKind::drill;
    cut.vc_m_min = e.vc;
    cut.fn_mm = e.fn;
    const CutResults r = results(c, material(e.kc11, e.mc), cut);
    INFO("D " << e.d << " step " << e.step);
    double torque = 0, thrust = 0, area_rate = 0;
    const auto lip = [&](double from, double to, double kappa) {
      const double h = e.fn / 2 * std::sin(kappa), kc = e.kc11 * std::pow(h, -e.mc);
      torque += 2 * sum(from, to, [&](double radius) { return kc * h / std::sin(kappa) * radius; });
      thrust += 2 * sum(from, to, [&](double) { return 0.5 * kc * h / std::sin(kappa) * std::sin(kappa); });
      area_rate += sum(from, to, [&](double radius) { return 2 * pi * radius; });
    };
    if (e.step > 0) {
      lip(0, e.step / 2, e.point / 2 * pi / 180);
      lip(e.step / 2, e.d / 2, pi / 4);
    } else {
      lip(0, e.d / 2, e.point / 2 * pi / 180);
    }
    const double n = e.vc * 1000 / pi / e.d;
    CHECK(*r.mc_nm == Approx(torque / 1000).epsilon(1e-6));
    CHECK(*r.pc_kw == Approx(torque / 1000 * 2 * pi * n / 60 / 1000).epsilon(1e-6));
    CHECK(*r.thrust_n == Approx(thrust).epsilon(1e-6));
    CHECK(*r.q_cm3_min == Approx(area_rate * e.fn * n / 1000).epsilon(1e-6));
    ++examples;
  }
}

TEST_CASE("reaming, boring, countersinking: a ring taken away") {
  struct Example {
    CutterKind kind;
    OperationKind operation;
    double d, before, fn, vc, kappa;
    int z;
  };
  for (const Example& e : {Example{CutterKind::reamer, OperationKind::ream, 10, 9.8, 0.3, 12, 45, 6},
                           {CutterKind::boring_bar, OperationKind::bore, 32, 31, 0.08, 150, 90, 1},
                           {CutterKind::boring_bar, OperationKind::bore, 20, 18, 0.12, 120, 75, 1},
                           {CutterKind::counterbore, OperationKind::counterbore, 18, 11, 0.15, 25, 90, 3},
                           {CutterKind::drill, OperationKind::drill, 20, 8, 0.3, 30, 59, 2}}) {
    Cutter c = cutter(e.kind, e.d, e.z);
    if (e.kind == CutterKind::drill) c.point_angle_deg = 2 * e.kappa;
    else c.cutting_edge_angle_deg = e.kappa;
    Cut cut;
    cut.operation = e.operation;
    cut.vc_m_min = e.vc;
    cut.fn_mm = e.fn;
    cut.bore_before_mm = e.before;
    const CutResults r = results(c, material(2220, 0.14), cut);
    INFO(key_of(e.kind) << " " << e.d);
    const double h = e.fn / e.z * std::sin(e.kappa * pi / 180), kc = 2220 * std::pow(h, -0.14),
                 n = e.vc * 1000 / pi / e.d;
    const double torque = sum(e.before / 2, e.d / 2, [&](double radius) { return kc * e.fn * radius; });
    CHECK(*r.pc_kw == Approx(torque / 1000 * 2 * pi * n / 60 / 1000).epsilon(1e-6));
    CHECK(*r.q_cm3_min == Approx(pi / 4 * (e.d * e.d - e.before * e.before) * e.fn * n / 1000).epsilon(1e-6));
    // One edge alone bends its bar: tangential force and 0.3 of it outwards.
    CHECK(r.force_peak_n.has_value() == (e.z == 1));
    if (e.z == 1) CHECK(*r.force_peak_n == Approx(std::hypot(1, 0.3) * kc * e.fn * (e.d - e.before) / 2));
    ++examples;
  }
}

TEST_CASE("tapping: the area of one thread times the lever of the thread") {
  // ISO 261 coarse threads: M3×0.5, M6×1, M8×1.25, M12×1.75, M20×2.5.
  for (const auto& [d, pitch] : {std::pair{3.0, 0.5}, {6.0, 1.0}, {8.0, 1.25}, {12.0, 1.75}, {20.0, 2.5}}) {
    Cutter c = cutter(CutterKind::tap, d, 3);
    c.pitch_mm = pitch;
    Cut cut;
    cut.operation = OperationKind::tap;
    cut.n_rpm = 400;
    cut.fn_mm = pitch;
    const CutResults r = results(c, material(2220, 0.14), cut);
    const double thread_area =
        sum(0, pitch, [&, pitch = pitch](double x) { return std::min(x, pitch - x); });  // a triangle half a pitch high
    CHECK(*r.mc_nm == Approx(thread_area * 2220 * d / 2 / 1000).epsilon(1e-6));
    CHECK(*r.pc_kw == Approx(*r.mc_nm * 2 * pi * 400 / 60 / 1000));
    CHECK(*r.vf_mm_min == Approx(400 * pitch));
    c.tap_form = TapForm::form;
    CHECK(*results(c, material(2220, 0.14), cut).mc_nm == Approx(1.8 * *r.mc_nm));
    ++examples;
  }
}

TEST_CASE("thread milling and helical boring: the circle of the centre, the ring that it removes") {
  struct Example {
    double d, dm, dw, pitch, vf;
    bool outside;
  };
  for (const Example& e : {Example{14, 20, 17.5, 2.5, 300, false},
                           {10, 12, 10.2, 1.75, 250, false},
                           {12, 30, 20, 2, 600, false},
                           {16, 20, 22, 1.5, 400, true},
                           {20, 50, 56, 3, 800, true},
                           {6, 8, 6.8, 1.25, 120, false}}) {
    Cutter c = cutter(CutterKind::thread_mill, e.d, 4);
    c.pitch_mm = e.pitch;
    Cut cut;
    cut.operation = OperationKind::thread_mill;
    cut.n_rpm = 2000;
    cut.vf_mm_min = e.vf;
    cut.path_diameter_mm = e.dm;
    cut.bore_before_mm = e.dw;
    cut.path_side = e.outside ? PathSide::external : PathSide::internal;
    cut.ap_mm = 10;
    const CutResults r = results(c, material(2220, 0.14), cut);
    INFO("D " << e.d << " on " << e.dm);
    // A turn of the centre takes as long as the rim of the cutter needs round the machined wall at vf.
    const double centre = pi * (e.outside ? e.dm + e.d : e.dm - e.d), minutes = pi * e.dm / e.vf;
    CHECK(*r.vf_centre_mm_min == Approx(centre / minutes));
    // What is removed in that turn, as a cut of one width along the way of the centre.
    const double area = std::abs(sum(e.dw / 2, e.dm / 2, [](double radius) { return 2 * pi * radius; })),
                 width = area / centre;
    if (width < e.d) CHECK(*r.engagement_deg == Approx(std::acos(1 - 2 * width / e.d) * 180 / pi).epsilon(1e-6));
    // The slope of a helix that climbs a pitch in a turn.
    CHECK(*r.ramp_angle_deg == Approx(std::atan2(e.pitch, centre) * 180 / pi));
    ++examples;
  }
}

TEST_CASE("finish: what two passes and two teeth leave, by brute force") {
  struct Example {
    CutterKind kind;
    double d, corner, ae, fz;
  };
  for (const Example& e : {Example{CutterKind::ball, 10, 0, 1, 0.1},
                           {CutterKind::ball, 6, 0, 0.3, 0.05},
                           {CutterKind::ball, 2, 0, 0.1, 0.02},
                           {CutterKind::bull_nose, 12, 2, 1.5, 0.1},
                           {CutterKind::bull_nose, 16, 3, 5, 0.3}}) {
    Cutter c = cutter(e.kind, e.d, 2);
    if (e.corner > 0) c.corner_radius_mm = e.corner;
    Cut cut = speed_and_feed(OperationKind::surface_finish, 100, e.fz);
    cut.ap_mm = 0.2;
    cut.ae_mm = e.ae;
    const CutResults r = results(c, material(2220, 0.14), cut);
    const double radius = e.kind == CutterKind::ball ? e.d / 2 : e.corner;
    // Two circles side by side: the highest point of what neither reaches.
    const auto left = [&](double apart) {
      double high = 0;
      for (int i = 0; i <= 2000; ++i) {
        const double x = apart * i / 2000,
                     low = std::min(radius - std::sqrt(radius * radius - x * x),
                                    radius - std::sqrt(radius * radius - (apart - x) * (apart - x)));
        high = std::max(high, low);
      }
      return high;
    };
    CHECK(*r.scallop_mm == Approx(left(e.ae)).epsilon(1e-4));
    CHECK(*r.feed_mark_mm == Approx(left(e.fz)).epsilon(0.01));
    ++examples;
  }
  // Without a corner radius the side is marked by the circle of the cutter itself: fz²/(4·D), half of what a true
  // circle with R = D/2 leaves, as the formula's list has it.
  Cut cut = speed_and_feed(OperationKind::side_finish, 100, 0.1);
  cut.ap_mm = 5;
  cut.ae_mm = 0.2;
  CHECK(*results(cutter(CutterKind::end_mill, 10, 4), material(2220, 0.14), cut).feed_mark_mm ==
        Approx(0.1 * 0.1 / 40));
  ++examples;
  // A barrel leaves far less at the same stepover, by the radius of its profile.
  Cutter barrel = proposed_cutter(CutterKind::barrel, 10);
  cut.operation = OperationKind::surface_finish;
  cut.ae_mm = 1;
  const CutResults r = results(barrel, material(2220, 0.14), cut);
  REQUIRE(r.scallop_mm);
  CHECK(*r.scallop_mm ==
        Approx(*barrel.profile_radius_mm - std::sqrt(*barrel.profile_radius_mm * *barrel.profile_radius_mm - 0.25)));
  ++examples;
}

TEST_CASE("deflection: the curvature summed twice along the beam") {
  for (const auto& [flutes, out, load] : {std::tuple{22.0, 35.0, 0.0}, {26.0, 60.0, 0.0}, {22.0, 45.0, 250.0}}) {
    Cutter c = cutter(CutterKind::end_mill, 10, 4);
    c.tool_material = ToolMaterial::carbide;
    c.flute_length_mm = flutes;
    c.reach_mm = flutes + 6;
    c.neck_diameter_mm = 9.4;
    c.shank_diameter_mm = 12;
    c.helix_deg = 35;
    Assembly held;
    held.stickout_mm = out;
    Cut cut = speed_and_feed(OperationKind::side_rough, 120, 0.05);
    cut.ap_mm = 8;
    cut.ae_mm = 3;
    if (load > 0) cut.tip_load_n = load;
    const CutResults r = results(c, material(2220, 0.14), cut, held);
    const double force = load > 0 ? load : *r.force_peak_n, at = load > 0 ? 0 : 4.0;
    // From the clamp: slope and shift by small steps.
    double slope = 0, shift = 0;
    const double step = out / fine;
    for (int i = 0; i < fine; ++i) {
      const double from_tip = out - (i + 0.5) * step, d = from_tip < flutes ? 8.0 : from_tip < flutes + 6 ? 9.4 : 12.0;
      const double moment = from_tip > at ? force * (from_tip - at) : 0;
      const double curvature = moment / (600e3 * pi / 64 * d * d * d * d);
      shift += slope * step + curvature * step * step / 2;
      slope += curvature * step;
    }
    CHECK(*r.deflection_mm == Approx(shift).epsilon(1e-3));
    // A holder that gives adds its own shift; a stiffness measured at the tip counts alone.
    held.holding_stiffness_n_um = 40;
    CHECK(*results(c, material(2220, 0.14), cut, held).deflection_mm == Approx(*r.deflection_mm + force / 40000));
    held.tip_stiffness_n_um = 10;
    CHECK(*results(c, material(2220, 0.14), cut, held).deflection_mm == Approx(force / 10000));
    held.measured_frequency_hz = 1234;
    CHECK(*results(c, material(2220, 0.14), cut, held).natural_frequency_hz == 1234);
    ++examples;
  }
}

TEST_CASE("tool life and the speeds that cost least and are fastest, by searching the minimum") {
  // Taylor 1907, Gilbert 1950 (from memory). Cost of a part: machine time, its share of an edge and of the change of
  // the edge.
  for (const auto& [m, change, edge, rate] :
       {std::tuple{0.25, 5.0, 12.0, 80.0}, {0.125, 3.0, 4.0, 60.0}, {0.5, 8.0, 30.0, 120.0}, {0.2, 1.0, 0.0, 90.0}}) {
    Taylor t;
    t.vc_m_min = 150;
    t.feed_mm = 0.1;
    t.ap_mm = 4;
    t.life_min = 45;
    t.m = m;
    CHECK(t.life(150, 0.1, 4) == Approx(45));
    CHECK(t.life(150 * std::pow(2, m), 0.1, 4) == Approx(45 / 2.0));
    const auto best = [&](auto cost) {
      double least = 1e300, at = 0;
      for (double vc = 20; vc < 2000; vc *= 1.0005)
        if (const double c = cost(vc); c < least) least = c, at = vc;
      return at;
    };
    const double way = 1000;  // of cutting per part; it only scales
    const double cheapest = best([&, rate = rate, change = change, edge = edge](double vc) {
      return way / vc * rate / 60 + way / vc / t.life(vc, 0.1, 4) * (change * rate / 60 + edge);
    });
    const double fastest =
        best([&, change = change](double vc) { return way / vc * (1 + change / t.life(vc, 0.1, 4)); });
    CHECK(t.speed_for(least_cost_life_min(m, {change, edge, rate}), 0.1, 4) == Approx(cheapest).epsilon(0.002));
    CHECK(t.speed_for(fastest_life_min(m, change), 0.1, 4) == Approx(fastest).epsilon(0.002));
    // Feed and depth wear as well, where it is stated.
    t.feed_exponent = 0.2;
    t.depth_exponent = 0.1;
    CHECK(150 * std::pow(t.life(150, 0.2, 8), m) * std::pow(2, 0.2) * std::pow(2, 0.1) ==
          Approx(150 * std::pow(45, m)));
    ++examples;
  }
}

TEST_CASE("that were at least forty examples") { CHECK(examples >= 40); }
