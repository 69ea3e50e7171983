// The band of forces against unit power, typed here a second time from memory of Machinery's Handbook (power constants
// Kp in kW per cm³/s, feed factor C, wear factor 1.1 for end mills), and bending stress against closed forms.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/mechanics/beam.h"
#include "core/mechanics/cut_model.h"
#include "core/mechanics/force_law.h"

using namespace pecorra;
using std::numbers::pi;

namespace {

// Feed in mm per tooth, and C.
constexpr std::pair<double, double> feed_factors[] = {{0.05, 1.40}, {0.10, 1.23}, {0.15, 1.15}, {0.20, 1.08}};

// kc1.1 and mc of turning (König & Essel, from memory), and Kp at that hardness.
struct Metal {
  const char* name;
  double kc11, mc, kp;
};
constexpr Metal metals[] = {{"C15, 125 HB", 1820, 0.22, 1.86},       {"C45, 190 HB", 2220, 0.14, 2.24},
                            {"C60, 215 HB", 2130, 0.18, 2.35},       {"16MnCr5, 175 HB", 2100, 0.26, 1.80},
                            {"42CrMo4, 300 HB", 2500, 0.26, 2.43},   {"34CrMo4, 270 HB", 2240, 0.21, 2.29},
                            {"51CrV4, 220 HB", 2220, 0.26, 2.02},    {"EN-GJL-200, 180 HB", 1020, 0.25, 1.53},
                            {"EN-GJL-250, 210 HB", 1160, 0.26, 1.94}};

WorkMaterial brought_together(const Metal& metal) {
  WorkMaterial m;
  m.kc11_n_mm2 = metal.kc11;
  m.mc = metal.mc;
  m.unit_power_n_mm2 = metal.kp * 1000;
  const double unit11 = metal.kp * 1000 * std::pow(0.165, 0.19);
  m.kc11_milling_n_mm2 = std::pow(unit11, 0.7) * std::pow(metal.kc11, 0.3);
  m.mc_milling = 0.7 * 0.19 + 0.3 * metal.mc;
  return m;
}

}  // namespace

TEST_CASE("the middle of the band lies within 35 % of unit power, and the band holds both rules") {
  for (const Metal& metal : metals) {
    const ForceLaw law(brought_together(metal));
    for (const auto& [feed, c] : feed_factors) {
      const double hm = 0.55 * feed;
      if (hm < 0.02) continue;
      const ForcePoint p = law.at(hm, 1, 1.3);
      const double handbook = metal.kp * 1000 * c * 1.1;
      INFO(metal.name << ", " << feed << " mm: " << p.low << " " << p.middle << " " << p.high << ", unit power "
                      << handbook);
      CHECK(p.middle / handbook > 0.65);
      CHECK(p.middle / handbook < 1.35);
      CHECK(p.low <= p.kienzle * (1 + 1e-12));
      CHECK(p.low <= p.unit_power * (1 + 1e-12));
      CHECK(p.high >= 1.3 * p.kienzle * (1 - 1e-12));
      CHECK(p.high >= 1.3 * p.unit_power * (1 - 1e-12));
      CHECK(p.middle == Approx((p.low + p.high) / 2));
    }
  }
}

TEST_CASE("outside their range constants go on with the feed factor, without a step") {
  const ForceLaw law(brought_together(metals[4]));
  const double inside = law.at(0.0200001, 1, 1).kienzle, outside = law.at(0.0199999, 1, 1).kienzle;
  CHECK(inside == Approx(outside).epsilon(1e-5));
  CHECK(law.at(0.005, 1, 1).kienzle == Approx(law.at(0.02, 1, 1).kienzle * std::pow(4, 0.19)));
  CHECK(law.at(0.005, 1, 1).outside);
  CHECK_FALSE(law.at(0.1, 1, 1).outside);
  // Of turning constants alone, the thin chips of milling are far below what was measured.
  WorkMaterial turned;
  turned.kc11_n_mm2 = 2500;
  turned.mc = 0.26;
  const ForcePoint thin = ForceLaw(turned).at(0.02, 1, 1.3);
  CHECK(thin.turning);
  CHECK(thin.outside);
  CHECK(thin.kienzle < 2500 * std::pow(0.02, -0.26));
  CHECK(thin.low < thin.kienzle);
  CHECK(thin.high > 1.3 * thin.kienzle);
}

TEST_CASE("forces, power and deflection of a cut have one band, and `compute` has none") {
  Cutter c;
  c.kind = CutterKind::end_mill;
  c.diameter_mm = 10;
  c.flutes = 4;
  c.tool_material = ToolMaterial::carbide;
  c.flute_length_mm = 22;
  Assembly held;
  held.stickout_mm = 40;
  Machine machine;
  machine.efficiency = 0.85;
  machine.power_curve = {{1000, 2}, {6000, 9}};
  const WorkMaterial m = brought_together(metals[1]);
  Cut cut;
  cut.vc_m_min = 180;
  cut.fz_mm = 0.05;
  cut.ap_mm = 10;
  cut.ae_mm = 2;
  const CutReport formula = compute_cut(c, held, m, machine, cut);
  CHECK_FALSE(formula.band);
  CHECK(*formula.results.kc_n_mm2 == Approx(2220 * std::pow(*formula.results.h_m_mm, -0.14)));
  cut.worn_factor = 1.3;
  cut.bending_safety = 3;
  const CutReport banded = compute_cut(c, held, m, machine, cut);
  REQUIRE(banded.band);
  const ForcePoint p = ForceLaw(m).at(*banded.results.h_m_mm, 1, 1.3);
  CHECK(banded.band->low == Approx(p.low / p.middle));
  CHECK(banded.band->high == Approx(p.high / p.middle));
  CHECK(*banded.results.pc_kw == Approx(*banded.results.q_cm3_min * p.middle / 60e3));
  int of_force = 0;
  for (const Headroom& h : banded.headroom) of_force += h.band ? 1 : 0;
  CHECK(of_force == 2);  // power and bending; no deflection is permitted here
  REQUIRE(banded.results.bending_stress_n_mm2);
}

TEST_CASE("bending stress against closed forms") {
  // A plain bar of d under F at its end: σ = 32·F·L/(π·d³) at the clamp.
  const std::vector<BeamSection> plain{{40, 10, 600e3, 14.5}};
  CHECK(bending_stress_n_mm2(plain, 500, 0) == Approx(32 * 500 * 40 / (pi * 1000)));
  CHECK(bending_stress_n_mm2(plain, 500, 5) == Approx(32 * 500 * 35 / (pi * 1000)));
  // Thin at the tip: the upper end of the thin part can be the weakest.
  const std::vector<BeamSection> stepped{{20, 6, 600e3, 14.5}, {20, 12, 600e3, 14.5}};
  CHECK(bending_stress_n_mm2(stepped, 500, 0) == Approx(32 * 500 * 20 / (pi * 216)));
  // Ø20 with its flutes at 0.8 × D, 4 × D out: 1,000 N is 199 N/mm² of 1,167 permitted for carbide (3,500 over 3).
  const std::vector<BeamSection> large{{80, 16, 600e3, 14.5}};
  CHECK(bending_stress_n_mm2(large, 1000, 0) == Approx(198.9).epsilon(1e-3));
}

TEST_CASE("tapping takes about twice the formula, and a full web twice the thrust") {
  // M10 in C45: some 12 N·m; common practice, no source.
  Cutter tap;
  tap.kind = CutterKind::tap;
  tap.diameter_mm = 10;
  tap.pitch_mm = 1.5;
  tap.flutes = 3;
  const WorkMaterial m = brought_together(metals[1]);
  Cut cut;
  cut.operation = OperationKind::tap;
  cut.n_rpm = 300;
  cut.fn_mm = 1.5;
  cut.worn_factor = 1.3;
  CHECK(*compute_cut(tap, {}, m, {}, cut).results.mc_nm == Approx(12.5).margin(1));
  Cutter drill;
  drill.kind = CutterKind::drill;
  drill.diameter_mm = 10;
  drill.flutes = 2;
  drill.point_angle_deg = 118;
  drill.tool_material = ToolMaterial::hss;
  cut.operation = OperationKind::drill;
  cut.fn_mm = 0.2;
  const double full = *compute_cut(drill, {}, m, {}, cut).results.thrust_n;
  drill.web = Web::thinned;
  CHECK(full == Approx(2 * *compute_cut(drill, {}, m, {}, cut).results.thrust_n));
}
