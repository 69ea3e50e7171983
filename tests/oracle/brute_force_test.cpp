// Chip thickness found again by brute force: the edge of a real tooth is cut into small pieces, the arc into small
// steps, and the chip measured at each, without any of the program's formulas.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/mechanics/chip.h"
#include "core/mechanics/cut.h"

using namespace pecorra;

namespace {

using std::numbers::pi;

struct Measured {
  double greatest = 0;
  double mean = 0;  // chip area over engaged edge length
};

// Shape: radius at height z, and the slope angle κ of the edge there.
template <class Radius, class Kappa, class Length>
Measured measure(double ap, double ae, Radius radius, Kappa kappa, Length length_per_height) {
  Measured out;
  double area = 0, length = 0;
  constexpr int slices = 2000, steps = 2000;
  for (int i = 0; i < slices; ++i) {
    // Finer towards the tip, where the edge lies flat: z = ap·t².
    const double t = (i + 0.5) / slices, z = ap * t * t;
    const double r = radius(z), sin_kappa = std::sin(kappa(z)), piece = length_per_height(z) * ap * 2 * t / slices;
    if (r <= 0) continue;
    const double width = std::min(ae, 2 * r);
    const double arc = std::acos(std::clamp(1 - width / r, -1.0, 1.0));
    for (int k = 0; k < steps; ++k) {
      const double phi = arc * (k + 0.5) / steps, h = sin_kappa * std::sin(phi);
      area += h * piece * arc / steps;
      length += piece * arc / steps;
      out.greatest = std::max(out.greatest, h);
    }
  }
  out.mean = length > 0 ? area / length : 0;
  return out;
}

EdgeShape shape(CutterKind kind, double d, double corner = 0, double point = 0, double tip = 0) {
  Cutter c;
  c.kind = kind;
  c.diameter_mm = d;
  if (corner > 0) c.corner_radius_mm = corner;
  if (point > 0) c.point_angle_deg = point;
  if (tip > 0) c.tip_diameter_mm = tip;
  return *edge_shape(c);
}

void compare(const EdgeShape& edge, double ap, double ae, const Measured& m) {
  const ChipRatio ratio = chip_ratio(edge, side_engagement(ae, edge.diameter_mm), ap, ae, false);
  INFO("ap " << ap << " ae " << ae);
  CHECK(ratio.greatest == Approx(m.greatest).epsilon(4e-3));
  CHECK(ratio.mean == Approx(m.mean).epsilon(4e-3));
}

}  // namespace

TEST_CASE("square end mill by brute force") {
  const EdgeShape edge = shape(CutterKind::end_mill, 10);
  for (const double ae : {0.2, 1.0, 3.0, 5.0, 8.0, 10.0})
    compare(edge, 4, ae,
            measure(
                4, ae, [](double) { return 5.0; }, [](double) { return pi / 2; }, [](double) { return 1.0; }));
}

TEST_CASE("ball and bull nose by brute force") {
  for (const double ap : {0.2, 1.0, 2.5, 4.9})
    for (const double ae : {0.3, 1.0, 4.0, 9.0}) {
      // z = R(1 − cos κ), r = R sin κ, edge length per height 1/sin κ
      const auto kappa = [](double z) { return std::acos(1 - z / 5); };
      compare(shape(CutterKind::ball, 10), ap, ae,
              measure(
                  ap, ae, [&](double z) { return 5 * std::sin(kappa(z)); }, kappa,
                  [&](double z) { return 1 / std::sin(kappa(z)); }));
    }
  for (const double ap : {0.3, 1.5, 2.0, 6.0})
    for (const double ae : {0.5, 2.0, 7.0}) {
      const auto kappa = [](double z) { return z < 2 ? std::acos(1 - z / 2) : pi / 2; };
      compare(shape(CutterKind::bull_nose, 10, 2), ap, ae,
              measure(
                  ap, ae, [&](double z) { return 3 + 2 * std::sin(kappa(z)); }, kappa,
                  [&](double z) { return 1 / std::sin(kappa(z)); }));
    }
}

TEST_CASE("cone by brute force") {
  const double half = pi / 4;
  for (const double ap : {0.5, 2.0, 4.0})
    for (const double ae : {0.4, 1.5})
      compare(shape(CutterKind::chamfer_mill, 12, 0, 90, 2), ap, ae,
              measure(
                  ap, ae, [&](double z) { return 1 + z * std::tan(half); }, [&](double) { return pi / 2 - half; },
                  [&](double) { return 1 / std::cos(half); }));
}

TEST_CASE("an outline of a line and a hollow arc by brute force") {
  // A chamfer from D 4 to D 6, 1 high, and a rounding of R 2 from there: its centre is 5 beside the axis.
  EdgeShape edge;
  edge.form = CuttingForm::outline;
  edge.diameter_mm = 10;
  edge.outline = std::make_shared<const Profile>(Profile{
      {.from = {2, 0}, .to = {3, 1}, .centre = {}}, {.from = {3, 1}, .to = {5, 3}, .arc = true, .centre = {5, 1}}});
  const auto across = [](double z) { return std::sqrt(4 - (z - 1) * (z - 1)); };  // from the edge to the arc's centre
  for (const double ap : {0.5, 1.8, 2.6})
    for (const double ae : {0.4, 2.0, 6.0})
      compare(edge, ap, ae,
              measure(
                  ap, ae, [&](double z) { return z < 1 ? 2 + z : 5 - across(z); },
                  [&](double z) { return z < 1 ? pi / 4 : std::asin(across(z) / 2); },
                  [&](double z) { return z < 1 ? std::sqrt(2) : 2 / across(z); }));
}

TEST_CASE("facing off the middle by brute force") {
  // Cutter D 50, cut 30 wide, its middle 5 beside the cutter's centre.
  const Engagement e = face_engagement(30, 5, 50);
  double low = 1e9, high = -1e9;
  for (int k = 0; k < 200000; ++k) {
    const double phi = pi * k / 200000, y = 25 * std::cos(phi);  // across the feed
    if (y >= 5 - 15 && y <= 5 + 15) {
      low = std::min(low, phi);
      high = std::max(high, phi);
    }
  }
  CHECK(e.from_rad == Approx(low).margin(1e-4));
  CHECK(e.to_rad == Approx(high).margin(1e-4));
  CHECK(face_engagement(50, 0, 50).angle() == Approx(pi));
}

TEST_CASE("mean power equals the work of all teeth over one turn") {
  // ∫ kc·h·b over the engaged arc, summed over the teeth, against ap·ae·vf·kc/60e6 with a constant kc.
  const double d = 10, fz = 0.05, ap = 8, kc = 2000, n = 5000;
  const int z = 4;
  for (const double ae : {0.5, 2.0, 5.0, 9.0, 10.0}) {
    const double arc = std::acos(1 - 2 * ae / d);
    double work = 0;  // N·mm per turn
    constexpr int steps = 20000;
    for (int k = 0; k < steps; ++k) {
      const double phi = arc * (k + 0.5) / steps;
      work += kc * ap * fz * std::sin(phi) * d / 2 * arc / steps;
    }
    Cutter c;
    c.diameter_mm = d;
    c.flutes = z;
    WorkMaterial m;
    m.kc11_n_mm2 = kc;
    m.mc = 0;
    Cut k;
    k.operation = OperationKind::side_rough;
    k.n_rpm = n;
    k.fz_mm = fz;
    k.ap_mm = ap;
    k.ae_mm = ae;
    CHECK(*compute_cut(c, {}, m, {}, k).results.pc_kw == Approx(work * z * n / 60 / 1e6).epsilon(1e-3));
  }
}
