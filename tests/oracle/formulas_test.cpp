// The check list of the formulas, against figures from outside the program. Sources stand beside each case; where one
// is a book, the formula is from memory of it.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/mechanics/chip.h"
#include "core/mechanics/cut.h"

using namespace pecorra;

namespace {

Cutter cutter(CutterKind kind, double d, int flutes) {
  Cutter c;
  c.kind = kind;
  c.diameter_mm = d;
  c.flutes = flutes;
  return c;
}
CutResults results(const Cutter& c, const Cut& k, const WorkMaterial& m = {}, const Machine& machine = {}) {
  return compute_cut(c, {}, m, machine, k).results;
}

}  // namespace

TEST_CASE("speed and table feed (Machinery's Handbook, speeds and feeds, from memory)") {
  Cut k;
  k.vc_m_min = 30;
  k.fz_mm = 0.08;
  const CutResults r = results(cutter(CutterKind::end_mill, 20, 4), k);
  CHECK(*r.n_rpm == Approx(477.5).margin(0.05));
  CHECK(*r.vf_mm_min == Approx(152.8).margin(0.05));
  // 100 ft/min on a 1 in cutter → 382 rpm; 4 flutes at 0.010 in → 15.28 in/min (common practice, no source).
  Cut inch;
  inch.vc_m_min = 100 * 0.3048;
  inch.fz_mm = 0.010 * 25.4;
  const CutResults i = results(cutter(CutterKind::end_mill, 25.4, 4), inch);
  CHECK(*i.n_rpm == Approx(382).margin(0.5));
  CHECK(*i.vf_mm_min / 25.4 == Approx(15.28).margin(0.01));
}

TEST_CASE("chip thickness over width (Martellotti 1941, circular-arc approximation)") {
  const EdgeShape edge = *edge_shape(cutter(CutterKind::end_mill, 10, 4));
  CHECK(chip_ratio(edge, side_engagement(1, 10), 5, 1, false).greatest == Approx(0.6));
  CHECK(chip_ratio(edge, side_engagement(5, 10), 5, 5, false).greatest == Approx(1));
  CHECK(chip_ratio(edge, side_engagement(10, 10), 5, 10, false).mean == Approx(2 / std::numbers::pi));
}

TEST_CASE("effective diameter and scallop of a ball (geometry)") {
  Cut k;
  k.n_rpm = 10000;
  k.fz_mm = 0.1;
  k.ap_mm = 0.5;
  k.ae_mm = 1;
  const CutResults r = results(cutter(CutterKind::ball, 10, 2), k);
  CHECK(*r.d_eff_mm == Approx(4.359).margin(5e-4));
  CHECK(*r.scallop_mm == Approx(0.0251).margin(5e-5));
}

TEST_CASE("effective diameters of the other shapes (geometry)") {
  // Bull nose D 10, r 2 at ap 0.5: 10 − 4 + 2·√(0.5·3.5).
  Cutter bull = cutter(CutterKind::bull_nose, 10, 4);
  bull.corner_radius_mm = 2;
  CHECK(*effective_diameter_mm(*edge_shape(bull), 0.5, 0, 0) == Approx(6 + 2 * std::sqrt(1.75)));
  CHECK(*effective_diameter_mm(*edge_shape(bull), 3.0, 0, 0) == Approx(10));
  // 90° chamfer mill with a tip of 2 mm, contact from 1 to 2 mm above the tip: 2 + 2·2·tan 45°.
  Cutter cone = cutter(CutterKind::chamfer_mill, 10, 4);
  cone.point_angle_deg = 90;
  cone.tip_diameter_mm = 2;
  CHECK(*effective_diameter_mm(*edge_shape(cone), 1.0, 0, 1) == Approx(6));
  CHECK(*effective_diameter_mm(*edge_shape(cone), 100.0, 0, 0) == Approx(10));
  // Face mill with κr 45° at ap 3: DC + 6.
  Cutter face = cutter(CutterKind::face_mill, 50, 5);
  face.cutting_edge_angle_deg = 45;
  CHECK(*effective_diameter_mm(*edge_shape(face), 3.0, 0, 0) == Approx(56));
  // Ball tilted 15° at ap 0.5: D·sin(β + arccos(1 − 2ap/D)).
  const Cutter ball = cutter(CutterKind::ball, 10, 2);
  const double beta = 15 * std::numbers::pi / 180;
  CHECK(*effective_diameter_mm(*edge_shape(ball), 0.5, beta, 0) == Approx(10 * std::sin(beta + std::acos(0.9))));
  CHECK(*effective_diameter_mm(*edge_shape(ball), 4.0, 80 * std::numbers::pi / 180, 0) == Approx(10));
}

TEST_CASE("taps and circular paths (geometry; common practice)") {
  Cutter tap = cutter(CutterKind::tap, 8, 3);
  tap.pitch_mm = 1.25;
  Cut k;
  k.n_rpm = 400;
  k.fn_mm = 1.25;
  CHECK(*results(tap, k).vf_mm_min == Approx(500));
  Cut internal;
  internal.n_rpm = 1000;
  internal.vf_mm_min = 300;
  internal.path_diameter_mm = 20;
  internal.path_side = PathSide::internal;
  internal.operation = OperationKind::thread_mill;
  CHECK(*results(cutter(CutterKind::thread_mill, 14, 3), internal).vf_centre_mm_min == Approx(90));
  internal.path_side = PathSide::external;
  CHECK(*results(cutter(CutterKind::thread_mill, 14, 3), internal).vf_centre_mm_min == Approx(510));
}

TEST_CASE("removal rate: 32 wide × 4 deep at 2500 mm/min is 320 cm³/min (common practice, no source)") {
  Cut k;
  k.n_rpm = 2000;
  k.vf_mm_min = 2500;
  k.ap_mm = 4;
  k.ae_mm = 32;
  CHECK(*results(cutter(CutterKind::face_mill, 50, 5), k).q_cm3_min == Approx(320));
}

TEST_CASE("a whole milling cut (Kienzle 1952, by hand)") {
  Cutter c = cutter(CutterKind::end_mill, 10, 4);
  WorkMaterial m;
  m.kc11_n_mm2 = 2220;
  m.mc = 0.14;
  Machine machine;
  machine.efficiency = 0.85;
  Cut k;
  k.operation = OperationKind::side_rough;
  k.vc_m_min = 180;
  k.fz_mm = 0.05;
  k.ap_mm = 10;
  k.ae_mm = 2;
  const CutResults r = results(c, k, m, machine);
  CHECK(*r.n_rpm == Approx(5729.6).margin(0.05));
  CHECK(*r.vf_mm_min == Approx(1145.9).margin(0.05));
  CHECK(*r.engagement_deg == Approx(53.13).margin(0.005));
  CHECK(*r.h_ex_mm == Approx(0.0400).margin(5e-5));
  CHECK(*r.h_m_mm == Approx(0.02157).margin(5e-6));
  CHECK(*r.kc_n_mm2 == Approx(3799).margin(0.5));
  CHECK(*r.q_cm3_min == Approx(22.92).margin(0.005));
  CHECK(*r.pc_kw == Approx(1.451).margin(5e-4));
  CHECK(*r.motor_power_kw == Approx(1.707).margin(5e-4));
  CHECK(*r.mc_nm == Approx(2.42).margin(0.005));
  // A rake 6° over the reference takes 6 % off (König & Essel, from memory).
  c.rake_deg = 6;
  CHECK(*results(c, k, m, machine).kc_n_mm2 == Approx(*r.kc_n_mm2 * 0.94));
  k.wear_factor = 1.3;
  CHECK(*results(c, k, m, machine).kc_n_mm2 == Approx(*r.kc_n_mm2 * 0.94 * 1.3));
}

TEST_CASE("drilling (common handbook form, re-derived)") {
  Cutter drill = cutter(CutterKind::drill, 10, 2);
  drill.point_angle_deg = 118;
  WorkMaterial m;
  m.kc11_n_mm2 = 2220;
  m.mc = 0.14;
  Cut k;
  k.operation = OperationKind::drill;
  k.vc_m_min = 80;
  k.fn_mm = 0.2;
  const CutResults r = results(drill, k, m);
  const double h = 0.1 * std::sin(59 * std::numbers::pi / 180);
  CHECK(*r.h_ex_mm == Approx(h));
  CHECK(*r.h_m_mm == Approx(h));
  const double kc = 2220 * std::pow(h, -0.14);
  CHECK(*r.pc_kw == Approx(0.2 * 80 * 10 * kc / 240e3));
  CHECK(*r.q_cm3_min == Approx(40));
  CHECK(*r.thrust_n == Approx(0.5 * kc * 5 * 0.2 * std::sin(59 * std::numbers::pi / 180)));
  // Power from the removal rate and kc must agree: Pc = Q · kc / 60000.
  CHECK(*r.pc_kw == Approx(*r.q_cm3_min * *r.kc_n_mm2 / 60e3));
  // Enlarging from 8 to 10: the ring, not the disc.
  k.bore_before_mm = 8;
  CHECK(*results(drill, k, m).q_cm3_min == Approx(std::numbers::pi * (100 - 64) / 4 * *r.vf_mm_min / 1000));
}

TEST_CASE("feed marks (geometry)") {
  Cut k;
  k.n_rpm = 5000;
  k.fz_mm = 0.1;
  k.ap_mm = 3;
  k.ae_mm = 1;
  CHECK(*results(cutter(CutterKind::end_mill, 10, 4), k).feed_mark_mm == Approx(0.01 / 40));
  Cutter bull = cutter(CutterKind::bull_nose, 10, 4);
  bull.corner_radius_mm = 1;
  CHECK(*results(bull, k).feed_mark_mm == Approx(0.01 / 8));
}
