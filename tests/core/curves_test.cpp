// The curves pass through the working point and say what a calculation at their points says.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/mechanics/curves.h"
#include "core/mechanics/suggest.h"

using namespace pecorra;

namespace {

struct CurveBench {
  Cutter cutter = proposed_cutter(CutterKind::end_mill, 12);
  Assembly held;
  WorkMaterial material;
  Machine machine;
  Cut cut;
  CurveBench() {
    cutter.max_chip_mm = 0.2;
    held.stickout_mm = 45;
    material.kc11_n_mm2 = 2220;
    material.mc = 0.14;
    machine.max_rpm = 12000;
    machine.efficiency = 0.85;
    machine.max_torque_nm = 90;
    machine.power_curve = {{1500, 11}, {12000, 11}};
    machine.peak_curve = {{1500, 15}, {12000, 13}};
    cut.operation = OperationKind::side_rough;
    cut.n_rpm = 4000;
    cut.fz_mm = 0.06;
    cut.ap_mm = 10;
    cut.ae_mm = 3;
    cut.permitted_deflection_mm = 0.1;
  }
};

std::optional<double> at(const CurveSeries& s, double x) {
  for (std::size_t i = 1; i < s.points.size(); ++i)
    if (x >= s.points[i - 1].x && x <= s.points[i].x && s.points[i].x > s.points[i - 1].x)
      return s.points[i - 1].y +
             (s.points[i].y - s.points[i - 1].y) * (x - s.points[i - 1].x) / (s.points[i].x - s.points[i - 1].x);
  return std::nullopt;
}

}  // namespace

TEST_CASE("all six curves of a milling cut pass through its working point") {
  const CurveBench b;
  const CutModel model(b.cutter, b.held, b.material, b.machine);
  const CutReport now = model.at(b.cut);
  const std::vector<Curve> curves = curves_of(model, b.cut, now);
  REQUIRE(curves.size() == 6);
  for (const Curve& c : curves) {
    INFO(key_of(c.kind));
    CHECK(c.to_x > c.from_x);
    CHECK(c.to_y > 0);
    REQUIRE_FALSE(c.series.empty());
    for (const CurveSeries& s : c.series) {
      CHECK_FALSE(s.label.empty());
      REQUIRE(s.points.size() >= 2);
      for (const CurvePoint& p : s.points) {
        CHECK(std::isfinite(p.x));
        CHECK(std::isfinite(p.y));
        CHECK(p.y >= 0);
      }
    }
    if (!c.working || c.kind == CurveKind::stability) continue;
    CHECK(*at(c.series.front(), c.working->x) == Approx(c.working->y).epsilon(0.01));
  }
}

TEST_CASE("points of the curves are what the calculation says there") {
  const CurveBench b;
  const CutModel model(b.cutter, b.held, b.material, b.machine);
  const CutReport now = model.at(b.cut);
  const Curve chip = *curve_of(CurveKind::chip, model, b.cut, now),
              bend = *curve_of(CurveKind::deflection, model, b.cut, now),
              power = *curve_of(CurveKind::power, model, b.cut, now);
  for (const double ae : {0.5, 4.0, 11.0}) {
    Cut other = b.cut;
    other.ae_mm = ae;
    CHECK(*at(chip.series[0], ae) == Approx(*model.at(other).results.h_ex_mm).epsilon(0.01));
    CHECK(*at(chip.series[1], ae) == Approx(*model.at(other).results.h_m_mm).epsilon(0.01));
  }
  for (const double out : {35.0, 60.0}) {
    Assembly further = b.held;
    further.stickout_mm = out;
    CHECK(*at(bend.series[0], out) ==
          Approx(*CutModel(b.cutter, further, b.material, b.machine).at(b.cut).results.deflection_mm).epsilon(0.01));
  }
  Cut faster = b.cut;
  faster.n_rpm = 9000;
  CHECK(*at(power.series[0], 9000) == Approx(*model.at(faster).results.motor_power_kw).epsilon(0.01));
  CHECK(*at(power.series[1], 750) == Approx(*power_at_kw(b.machine.power_curve, 750)).epsilon(0.02));
}

TEST_CASE("the force over a turn: each tooth alone adds up in its components, the mean line is the mean") {
  CurveBench b;
  b.cutter.flutes = 3;
  const CutModel model(b.cutter, b.held, b.material, b.machine);
  const CutReport now = model.at(b.cut);
  const Curve c = *curve_of(CurveKind::force, model, b.cut, now);
  int teeth = 0;
  double mean = 0, peak = 0;
  for (const CurveSeries& s : c.series) {
    teeth += s.role == SeriesRole::tooth;
    if (s.role == SeriesRole::main)
      for (std::size_t i = 0; i + 1 < s.points.size(); ++i)
        mean += s.points[i].y / static_cast<double>(s.points.size() - 1), peak = std::max(peak, s.points[i].y);
  }
  CHECK(teeth == 3);
  CHECK(mean == Approx(*now.results.force_mean_n).epsilon(0.002));
  CHECK(peak == Approx(*now.results.force_peak_n).epsilon(0.005));
}

TEST_CASE("what cannot be told has no curve, and nothing fails") {
  CurveBench b;
  b.held.stickout_mm.reset();
  {
    const CutModel model(b.cutter, b.held, b.material, b.machine);
    const CutReport now = model.at(b.cut);
    CHECK_FALSE(curve_of(CurveKind::deflection, model, b.cut, now));
    CHECK_FALSE(curve_of(CurveKind::stability, model, b.cut, now));
    CHECK(curve_of(CurveKind::force, model, b.cut, now));
  }
  b.cut.ae_mm.reset();
  const CutModel model(b.cutter, b.held, b.material, b.machine);
  CHECK(curves_of(model, b.cut, model.at(b.cut)).empty());
  // Drilling has power and torque, and no width.
  Cutter drill = proposed_cutter(CutterKind::drill, 8);
  Cut hole;
  hole.operation = OperationKind::drill;
  hole.n_rpm = 3000;
  hole.fn_mm = 0.15;
  const CutModel drilling(drill, b.held, b.material, b.machine);
  const auto curves = curves_of(drilling, hole, drilling.at(hole));
  CHECK(curves.size() == 2);
}

TEST_CASE("beyond the stable depth the nearest stable speed is named, above the speeds where the cut damps itself") {
  CurveBench b;
  b.held.tip_stiffness_n_um = 8;
  b.held.measured_frequency_hz = 900;
  b.cut.n_rpm = 7700;
  b.cut.ap_mm = 2;
  const CutModel model(b.cutter, b.held, b.material, b.machine);
  bool named = false;
  for (double ap = 0.1; ap < 3; ap *= 1.2) {
    b.cut.ap_mm = ap;
    const Curve c = *curve_of(CurveKind::stability, model, b.cut, model.at(b.cut));
    CHECK(c.damped_to_x == Approx(60 * 900.0 / (*b.cutter.flutes * 10)));
    if (!c.better_x) continue;
    named = true;
    CHECK(*at(c.series.front(), *c.better_x) >= ap * 1.05);
  }
  CHECK(named);
}
