// Forces over one turn and chip thickness against plain simulation written here: every tooth, every height, every angle
// by itself, with nothing shared with the program but the physics (Kienzle 1952; the mechanistic model as in Altintas,
// Manufacturing Automation; both from memory).
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/mechanics/cut_model.h"
#include "core/mechanics/forces.h"
#include "core/mechanics/formulas.h"
#include "core/mechanics/straight_cut.h"

using namespace pecorra;

namespace {

using std::numbers::pi;
// A model keeps no copies.
const Assembly unheld;
const Machine any_machine;

struct Simulated {
  double mean = 0, peak = 0, mean_torque = 0, peak_torque = 0;
};

// radius(z) and sine of the edge angle at a height; the chip is ae wide everywhere, climb milling.
template <class Radius, class Sine>
Simulated simulate(double fz, double ap, double ae, int teeth, double helix_deg, double kc11, double mc,
                   double nominal_d, Radius radius, Sine sine) {
  constexpr int angles = 1440;
  const double lag = std::tan(helix_deg * pi / 180) / (nominal_d / 2);
  const int slices = std::max(240, static_cast<int>(lag * ap / 0.004));
  // Mean chip: area over length of edge, over the arc; under a micrometre all chips count thicker in proportion.
  double area = 0, length = 0;
  for (int s = 0; s < 400; ++s) {
    const double z = ap * (s + 0.5) / 400, r = radius(z), sk = sine(z),
                 arc = std::acos(std::max(-1.0, 1 - std::min(ae, 2 * r) / r));
    area += fz * (1 - std::cos(arc)) * ap / 400;
    length += arc * ap / 400 / sk;
  }
  const double thicker = std::max(1.0, 0.001 / (area / length));
  Simulated out;
  for (int a = 0; a < angles; ++a) {
    double x = 0, y = 0, torque = 0;
    for (int j = 0; j < teeth; ++j)
      for (int s = 0; s < slices; ++s) {
        const double z = ap * (s + 0.5) / slices, r = radius(z), sk = sine(z);
        double phi = 2 * pi * a / angles + 2 * pi * j / teeth - lag * z;
        phi -= 2 * pi * std::floor(phi / (2 * pi));
        const double arc = std::acos(std::max(-1.0, 1 - std::min(ae, 2 * r) / r));
        if (phi < pi - arc || phi > pi) continue;
        const double h = fz * sk * std::sin(phi);
        if (h <= 0) continue;
        const double ft = kc11 * std::pow(h * thicker, -mc) * h * (ap / slices / sk);
        const double out_of_edge = 0.3 * ft * sk;
        x += -ft * std::cos(phi) - out_of_edge * std::sin(phi);
        y += ft * std::sin(phi) - out_of_edge * std::cos(phi);
        torque += ft * r / 1000;
      }
    const double across = std::hypot(x, y);
    out.mean += across / angles;
    out.peak = std::max(out.peak, across);
    out.mean_torque += torque / angles;
    out.peak_torque = std::max(out.peak_torque, torque);
  }
  return out;
}

Cutter cutter(CutterKind kind, double d, int teeth, double helix) {
  Cutter c;
  c.kind = kind;
  c.diameter_mm = d;
  c.flutes = teeth;
  c.helix_deg = helix;
  return c;
}
Cut cut_of(double fz, double ap, double ae) {
  Cut c;
  c.operation = OperationKind::side_rough;
  c.n_rpm = 3000;
  c.fz_mm = fz;
  c.ap_mm = ap;
  c.ae_mm = ae;
  return c;
}
WorkMaterial milled(double kc11, double mc) {
  WorkMaterial m;
  m.kc11_n_mm2 = kc11;
  m.mc = mc;
  return m;
}

template <class Radius, class Sine>
void compare(const Cutter& c, double fz, double ap, double ae, Radius radius, Sine sine, double within = 0.01) {
  const WorkMaterial m = milled(2100, 0.25);
  const CutModel model(c, unheld, m, any_machine);
  const Cut cut = cut_of(fz, ap, ae);
  const ForceFigures got = force_figures(*model.forces_of(cut, fz, model.at(cut, Extent::closed).results.h_m_mm));
  const Simulated want =
      simulate(fz, ap, ae, *c.flutes, c.helix_deg.value_or(0), 2100, 0.25, *c.diameter_mm, radius, sine);
  INFO(key_of(c.kind) << " D " << *c.diameter_mm << " z " << *c.flutes << " helix " << c.helix_deg.value_or(0) << " fz "
                      << fz << " ap " << ap << " ae " << ae);
  CHECK(got.mean_n == Approx(want.mean).epsilon(within));
  CHECK(got.peak_n == Approx(want.peak).epsilon(within));
  CHECK(got.mean_torque_nm == Approx(want.mean_torque).epsilon(within));
  CHECK(got.peak_torque_nm == Approx(want.peak_torque).epsilon(2 * within));
  const CutResults r = model.at(cut).results;
  CHECK(*r.force_mean_n == Approx(got.mean_n));
  CHECK(*r.force_peak_n == Approx(got.peak_n));
}

}  // namespace

TEST_CASE("forces of square end mills equal a simulation of every tooth and height") {
  for (const double helix : {0.0, 12.0, 38.0, 55.0})
    for (const int teeth : {1, 2, 4, 7})
      for (const auto& [ap, ae] : {std::pair{10.0, 2.0}, {1.0, 9.5}, {22.0, 0.4}, {6.0, 10.0}})
        compare(
            cutter(CutterKind::end_mill, 10, teeth, helix), 0.05, ap, ae, [](double) { return 5.0; },
            [](double) { return 1.0; }, helix == 0 ? 0.02 : 0.01);
}

TEST_CASE("forces of a chip under a micrometre follow the floor of the specific force") {
  for (const double fz : {0.0005, 0.002, 0.01})
    compare(
        cutter(CutterKind::end_mill, 6, 3, 30), fz, 4, 1, [](double) { return 3.0; }, [](double) { return 1.0; });
}

TEST_CASE("forces along round and inclined edges: ball, bull nose, cone, face") {
  const auto ball = [](double r) {
    return std::pair([r](double z) { return z < r ? std::sqrt(std::max(1e-9, z * (2 * r - z))) : r; },
                     [r](double z) { return z < r ? std::sqrt(std::max(1e-9, z * (2 * r - z))) / r : 1.0; });
  };
  const auto [ball_r, ball_s] = ball(5);
  for (const double ap : {0.5, 3.0, 8.0})
    for (const double ae : {0.6, 4.0}) compare(cutter(CutterKind::ball, 10, 2, 30), 0.08, ap, ae, ball_r, ball_s, 0.02);
  Cutter bull = cutter(CutterKind::bull_nose, 16, 4, 35);
  bull.corner_radius_mm = 3;
  const auto bull_s = [](double z) { return z < 3 ? std::sqrt(std::max(1e-9, z * (6 - z))) / 3 : 1.0; };
  for (const double ap : {1.0, 6.0})
    compare(
        bull, 0.1, ap, 5, [&](double z) { return 5 + 3 * bull_s(z); }, bull_s, 0.02);
  Cutter cone = cutter(CutterKind::chamfer_mill, 12, 4, 0);
  cone.point_angle_deg = 90;
  cone.tip_diameter_mm = 2;
  compare(
      cone, 0.05, 3, 1.5, [](double z) { return 1 + z; }, [](double) { return std::sqrt(0.5); }, 0.03);
  // Face mills state DC at the lower end of the edges; the engagement refers to it.
  Cutter face = cutter(CutterKind::high_feed, 32, 3, 0);
  face.cutting_edge_angle_deg = 12;
  compare(
      face, 0.8, 1, 20, [](double) { return 16.0; }, [](double) { return std::sin(12 * pi / 180); }, 0.02);
}

TEST_CASE("forces of outlines follow the silhouette: a barrel is a long arc") {
  // Barrel D 10 with a profile radius of 85 mm on an 8 mm deep pass, by its own circle: centre at half the length of
  // the edge.
  Cutter barrel = proposed_cutter(CutterKind::barrel, 10);
  barrel.flutes = 4;
  const Profile profile = silhouette(barrel);
  REQUIRE_FALSE(profile.empty());
  const double ap = std::min(4.0, *barrel.flute_length_mm * 0.6);
  // Radius and angle straight from the points of the silhouette, very finely.
  std::vector<ProfilePoint> points;
  for (const ProfileSegment& s : profile)
    if (s.role == ProfileRole::cutting)
      for (int i = 0; i <= 4000; ++i) points.push_back(point_on(s, i / 4000.0));
  const auto at = [&](double z) {
    return std::lower_bound(points.begin(), points.end(), z,
                            [](const ProfilePoint& p, double height) { return p.y < height; });
  };
  const auto radius = [&](double z) { return at(z) == points.end() ? points.back().x : at(z)->x; };
  const auto sine = [&](double z) {
    const auto p = at(z);
    if (p == points.begin() || p + 1 >= points.end()) return 1.0;
    const double dx = (p + 1)->x - (p - 1)->x, dy = (p + 1)->y - (p - 1)->y;
    return std::max(1e-3, dy / std::hypot(dx, dy));
  };
  compare(barrel, 0.05, ap, 0.3, radius, sine, 0.03);
}

TEST_CASE("mean torque of the forces agrees with the power formula: 5 % up to mc 0.3, else 8 %") {
  for (const double mc : {0.0, 0.14, 0.26, 0.3, 0.38})
    for (const double share : {0.001, 0.01, 0.05, 0.1, 0.25, 0.5, 0.75, 0.9, 0.99, 1.0})
      for (const double fz : {0.004, 0.05, 0.3})
        for (const int teeth : {1, 4}) {
          const WorkMaterial m = milled(2220, mc);
          const Cutter c = cutter(CutterKind::end_mill, 12, teeth, 35);
          const CutModel model(c, unheld, m, any_machine);
          const Cut cut = cut_of(fz, 12, 12 * share);
          INFO("mc " << mc << " ae/D " << share << " fz " << fz << " z " << teeth);
          const double torque = *model.at(cut).results.mc_nm,
                       integrated =
                           force_figures(*model.forces_of(cut, fz, model.at(cut, Extent::closed).results.h_m_mm))
                               .mean_torque_nm;
          CHECK(integrated == Approx(torque).epsilon(mc <= 0.3 ? 0.05 : 0.08));
        }
}

TEST_CASE("forces are finite and continuous at the ends of every range") {
  const WorkMaterial m = milled(2220, 0.26);
  const auto force = [&](const Cutter& c, double fz, double ap, double ae) {
    const CutModel model(c, unheld, m, any_machine);
    const Cut cut = cut_of(fz, ap, ae);
    const ForceFigures f = force_figures(*model.forces_of(cut, fz, model.at(cut, Extent::closed).results.h_m_mm));
    CHECK(std::isfinite(f.mean_n));
    CHECK(f.peak_n >= f.mean_n * (1 - 1e-9));
    return f.peak_n;
  };
  const Cutter c = cutter(CutterKind::end_mill, 10, 4, 35), one = cutter(CutterKind::end_mill, 10, 1, 35),
               straight = cutter(CutterKind::end_mill, 10, 4, 0), steep = cutter(CutterKind::end_mill, 10, 3, 89);
  CHECK(force(c, 0.05, 5, 1e-9) < 1e-2);
  CHECK(force(c, 0.05, 1e-9, 5) < 1e-3);
  CHECK(force(c, 1e-12, 5, 5) < 1e-3);
  CHECK(force(c, 0.05, 5, 10) == Approx(force(c, 0.05, 5, 10 - 1e-9)).epsilon(1e-4));
  CHECK(force(c, 0.05, 22, 3) == Approx(force(c, 0.05, 22 + 1e-9, 3)).epsilon(1e-6));
  CHECK(force(one, 0.05, 5, 2) > 0);
  // A very large pitch: one tooth at a time, so its force is the force of one tooth.
  CHECK(force(one, 0.05, 1, 1) == Approx(force(cutter(CutterKind::end_mill, 10, 2, 35), 0.05, 1, 1)).epsilon(0.01));
  CHECK(force(straight, 0.05, 5, 5) > 0);
  CHECK(force(steep, 0.05, 500, 5) > 0);
  CHECK(force(cutter(CutterKind::end_mill, 10, 1000, 30), 0.001, 5, 5) > 0);
  // An almost straight flute is as good as a straight one.
  CHECK(force(cutter(CutterKind::end_mill, 10, 4, 0.001), 0.05, 5, 3) ==
        Approx(force(straight, 0.05, 5, 3)).epsilon(0.02));
}

TEST_CASE("the axial pull of the helix and the push of an inclined edge") {
  const WorkMaterial m = milled(2000, 0.2);
  const auto axial = [&](const Cutter& c) {
    double sum = 0;
    const TurnForces turn =
        forces_over_turn(*CutModel(c, unheld, m, any_machine).forces_of(cut_of(0.05, 5, 3), 0.05, 0.03), 90);
    for (const Force& f : turn.tooth) sum += f.z / 90;
    return sum;
  };
  CHECK(axial(cutter(CutterKind::end_mill, 10, 4, 0)) == Approx(0).margin(1e-9));
  CHECK(axial(cutter(CutterKind::end_mill, 10, 4, 30)) < 0);  // out of the holder
  Cutter face = cutter(CutterKind::face_mill, 50, 5, 0);
  face.cutting_edge_angle_deg = 45;
  CHECK(axial(face) > 0);  // into the spindle
}

TEST_CASE("chip thickness is distributed as the true paths of the teeth make it") {
  // The trochoid of one tooth behind the next, no circular-arc approximation: distance along the radius to the path
  // before.
  for (const auto& [d, fz, ae] : {std::tuple{20.0, 0.1, 4.0}, {20.0, 0.1, 10.0}, {20.0, 0.1, 18.0}, {6.0, 0.02, 0.5}}) {
    constexpr int teeth = 2;
    const double r = d / 2, feed_per_rad = fz * teeth / (2 * pi);
    const double arc = std::acos(1 - 2 * ae / d);
    std::vector<double> measured;
    constexpr int samples = 2000;
    for (int i = 0; i < samples; ++i) {
      const double phi = arc * (i + 0.5) / samples;
      // Tooth now: at angle φ from the normal to the feed, centre at t = φ; the tooth before passed when its centre was
      // fz behind.
      const double cx = feed_per_rad * phi, x = cx + r * std::sin(phi), y = r * std::cos(phi);
      // Nearest the same place on the path before along the radius: solve for the angle there.
      double psi = phi;
      double chip = 0;
      for (int k = 0; k < 50; ++k) {
        const double px = feed_per_rad * psi - fz + r * std::sin(psi), py = r * std::cos(psi);
        // Along the radius through (x, y): the part of the gap across it must vanish.
        const double across = (px - x) * std::cos(phi) - (py - y) * std::sin(phi);
        psi -= across / r;
        chip = (x - px) * std::sin(phi) + (y - py) * std::cos(phi);
      }
      measured.push_back(chip);
    }
    const EdgeShape edge = *edge_shape(cutter(CutterKind::end_mill, d, teeth, 0));
    const ChipRatio ratio = chip_ratio(edge, side_engagement(ae, d), 5, ae, false);
    double mean = 0;
    for (const double h : measured) mean += h / samples;
    INFO("D " << d << " ae " << ae);
    CHECK(fz * ratio.mean == Approx(mean).epsilon(0.01));
    CHECK(fz * ratio.greatest == Approx(*std::max_element(measured.begin(), measured.end())).epsilon(0.01));
    // The whole distribution: quantiles of fz·sin φ over the arc.
    std::sort(measured.begin(), measured.end());
    std::vector<double> told;
    for (int i = 0; i < samples; ++i) told.push_back(fz * std::sin(arc * (i + 0.5) / samples));
    std::sort(told.begin(), told.end());
    for (const int q : {20, 50, 80, 95})
      CHECK(told[samples * q / 100] == Approx(measured[samples * q / 100]).epsilon(0.03));
  }
}

TEST_CASE("many cuts at once give the figures that one cut gives") {
  constexpr std::size_t count = 1001;  // no multiple of anything
  StraightCuts cuts(count);
  cuts.mc = 0.26;
  cuts.efficiency = 0.85;
  for (std::size_t i = 0; i < count; ++i) {
    const double t = static_cast<double>(i) / count;
    cuts.d_mm[i] = 2 + 38 * t;
    cuts.teeth[i] = static_cast<double>(1 + i % 8);
    cuts.vc_m_min[i] = 20 + 500 * std::fmod(t * 7, 1);
    cuts.fz_mm[i] = 0.0005 + 0.3 * std::fmod(t * 3, 1);
    cuts.ap_mm[i] = cuts.d_mm[i] * (0.01 + std::fmod(t * 11, 1));
    cuts.ae_mm[i] = cuts.d_mm[i] * (i % 10 == 0 ? 1 : 0.0001 + 0.9998 * std::fmod(t * 13, 1));
    cuts.sin_kappa[i] = 1;
    cuts.kc11_n_mm2[i] = 2500;
  }
  const WorkMaterial m = milled(2500, 0.26);
  Machine machine;
  machine.efficiency = 0.85;
  std::size_t seen = 0;
  straight_figures(cuts, [&](std::size_t first, std::size_t many_now, const StraightFigures& f) {
    for (std::size_t k = 0; k < many_now; ++k) {
      const std::size_t i = first + k;
      ++seen;
      const Cutter c = cutter(CutterKind::end_mill, cuts.d_mm[i], static_cast<int>(cuts.teeth[i]), 30);
      Cut cut = cut_of(cuts.fz_mm[i], cuts.ap_mm[i], cuts.ae_mm[i]);
      cut.n_rpm.reset();
      cut.vc_m_min = cuts.vc_m_min[i];
      const CutResults r = CutModel(c, unheld, m, machine).at(cut, Extent::closed).results;
      for (const auto& [many, one] : {std::pair{f.n_rpm[k], r.n_rpm},
                                      {f.fn_mm[k], r.fn_mm},
                                      {f.vf_mm_min[k], r.vf_mm_min},
                                      {f.engagement_deg[k], r.engagement_deg},
                                      {f.teeth_in_cut[k], r.teeth_in_cut},
                                      {f.h_ex_mm[k], r.h_ex_mm},
                                      {f.h_m_mm[k], r.h_m_mm},
                                      {f.kc_n_mm2[k], r.kc_n_mm2},
                                      {f.q_cm3_min[k], r.q_cm3_min},
                                      {f.pc_kw[k], r.pc_kw},
                                      {f.motor_power_kw[k], r.motor_power_kw},
                                      {f.mc_nm[k], r.mc_nm},
                                      {f.feed_mark_mm[k], r.feed_mark_mm}})
        CHECK(many == Approx(*one).epsilon(1e-7));  // an arc near half a turn loses half of the digits
    }
  });
  CHECK(seen == count);
}
