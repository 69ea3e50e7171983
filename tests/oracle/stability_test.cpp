// Stability lobes (Altintas & Budak 1995, CIRP Annals 44/1, from memory): shape and limits of the published solution,
// and the borders themselves against a time simulation of the delayed equation of motion, written here.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/mechanics/stability.h"

using namespace pecorra;

namespace {

using std::numbers::pi;

StabilityInput input(double arc_from, double arc_to, int teeth, TipMode x, TipMode y) {
  StabilityInput in;
  in.cutting_n_mm2 = 900;
  in.outward = 0.3;
  in.teeth = teeth;
  in.arc = {arc_from, arc_to};
  in.x = x;
  in.y = y;
  return in;
}

// Whether a small push dies away. The averaged directional matrix by summing over the arc numerically, classical
// Runge–Kutta with the delayed positions from a store.
bool dies_away(const StabilityInput& in, double n_rpm, double ap_mm) {
  double a[2][2] = {};
  constexpr int steps = 4000;
  const double width = (in.arc.to_rad - in.arc.from_rad) / steps;
  for (int i = 0; i < steps; ++i) {
    const double p = in.arc.from_rad + (i + 0.5) * width, s = std::sin(p), c = std::cos(p);
    // Ft = Kt·a·h, Fr = Kr·Ft with h = x·sin φ + y·cos φ; forces on the tool are −Ft·cos − Fr·sin and Ft·sin − Fr·cos.
    const double fx = -c - in.outward * s, fy = s - in.outward * c;
    a[0][0] += fx * s * width;
    a[0][1] += fx * c * width;
    a[1][0] += fy * s * width;
    a[1][1] += fy * c * width;
  }
  // Mean over a pitch of all teeth: N/(2π) of the integral over the arc.
  const double scale = ap_mm * in.cutting_n_mm2 * in.teeth / (2 * pi);
  const double delay = 60 / (n_rpm * in.teeth);
  const TipMode* modes[2] = {&in.x, &in.y};
  double wn[2], mass[2], damp[2], k[2];
  for (int d = 0; d < 2; ++d) {
    wn[d] = 2 * pi * modes[d]->frequency_hz;
    k[d] = modes[d]->stiffness_n_mm;
    mass[d] = k[d] / (wn[d] * wn[d]);
    damp[d] = 2 * modes[d]->damping * wn[d] * mass[d];
  }
  const int per_delay = std::max(60, static_cast<int>(std::ceil(delay * std::max(wn[0], wn[1]) / (2 * pi) * 60)));
  const double dt = delay / per_delay;
  std::vector<double> history[2] = {std::vector<double>(static_cast<std::size_t>(per_delay), 0),
                                    std::vector<double>(static_cast<std::size_t>(per_delay), 0)};
  double u[2] = {1e-6, 1e-6}, v[2] = {0, 0};
  double first = 0, last = 0;
  const int total = std::max(per_delay * 40, static_cast<int>(90 / (std::min(wn[0], wn[1]) / (2 * pi)) / dt));
  std::size_t at = 0;
  for (int i = 0; i < total; ++i) {
    const std::size_t old = at, next = (at + 1) % history[0].size();
    const auto slope = [&](const double* pu, const double* pv, double share, double* au) {
      double gap[2];
      for (int d = 0; d < 2; ++d) gap[d] = pu[d] - (history[d][old] + share * (history[d][next] - history[d][old]));
      for (int d = 0; d < 2; ++d)
        au[d] = (scale * (a[d][0] * gap[0] + a[d][1] * gap[1]) - k[d] * pu[d] - damp[d] * pv[d]) / mass[d];
    };
    double k1[2], k2[2], k3[2], k4[2], pu[2], pv[2], v2[2], v3[2], v4[2];
    slope(u, v, 0, k1);
    for (int d = 0; d < 2; ++d) pu[d] = u[d] + dt / 2 * v[d], pv[d] = v2[d] = v[d] + dt / 2 * k1[d];
    slope(pu, pv, 0.5, k2);
    for (int d = 0; d < 2; ++d) pu[d] = u[d] + dt / 2 * v2[d], pv[d] = v3[d] = v[d] + dt / 2 * k2[d];
    slope(pu, pv, 0.5, k3);
    for (int d = 0; d < 2; ++d) pu[d] = u[d] + dt * v3[d], pv[d] = v4[d] = v[d] + dt * k3[d];
    slope(pu, pv, 1, k4);
    for (int d = 0; d < 2; ++d) {
      history[d][at] = u[d];
      u[d] += dt / 6 * (v[d] + 2 * v2[d] + 2 * v3[d] + v4[d]);
      v[d] += dt / 6 * (k1[d] + 2 * k2[d] + 2 * k3[d] + k4[d]);
    }
    at = next;
    const double size = std::hypot(u[0], u[1]);
    if (!std::isfinite(size) || size > 1) return false;
    if (i > total / 4 && i <= total / 2) first = std::max(first, size);
    if (i > 3 * total / 4) last = std::max(last, size);
  }
  return last < first;
}

}  // namespace

TEST_CASE("just below the lobes a push dies away, just above it grows") {
  const TipMode soft{600, 20000, 0.035}, other{850, 30000, 0.045};
  // Climb and conventional milling at half the width, and a slot; equal and unequal directions.
  for (const auto& in : {input(pi / 2, pi, 3, soft, soft), input(0, pi / 2, 3, soft, other),
                         input(0, pi, 2, soft, soft), input(2.2, pi, 4, soft, other)}) {
    const StabilityDiagram d = stability_lobes(in, 2500, 16000, 2000);
    REQUIRE(d.always_mm > 0);
    int checked = 0;
    for (const double n : {3100.0, 4000.0, 5200.0, 6500.0, 8000.0, 9700.0, 12000.0, 15000.0}) {
      const auto limit = d.stable_at(n);
      if (!limit || !std::isfinite(*limit) || *limit > 30) continue;
      INFO("arc " << in.arc.from_rad << " to " << in.arc.to_rad << " n " << n << " limit " << *limit);
      CHECK(dies_away(in, n, *limit * 0.97));
      CHECK_FALSE(dies_away(in, n, *limit * 1.03));
      ++checked;
    }
    CHECK(checked >= 5);
  }
}

TEST_CASE("the diagram has the published shape and limits") {
  const TipMode mode{600, 20000, 0.03};
  const StabilityInput in = input(0, pi, 2, mode, mode);
  const StabilityDiagram d = stability_lobes(in, 2000, 20000, 4000);
  // Stable at any speed is the least of the lobes, and none lies below it.
  double least = 1e9, most = 0;
  for (const double limit : d.stable_mm) {
    least = std::min(least, limit);
    if (std::isfinite(limit)) most = std::max(most, limit);
  }
  CHECK(least == Approx(d.always_mm).epsilon(0.02));
  CHECK(most > 3 * d.always_mm);
  // The pockets lie where a whole number of waves stands between two teeth: n = 60·f/(N·k), a little below.
  for (const int k : {1, 2, 3}) {
    const double resonance = 60 * 600.0 / (2 * k);
    double best = 0, at = 0;
    for (double n = resonance * 0.85; n < resonance * 1.1; n += 5)
      if (const auto limit = d.stable_at(n); limit && *limit > best) best = *limit, at = n;
    CHECK(at == Approx(resonance).epsilon(0.06));
    CHECK(best > 1.5 * d.always_mm);
  }
  // Stiffness and damping raise all of it in proportion; a harder material lowers it.
  StabilityInput stiff = in;
  stiff.x.stiffness_n_mm = stiff.y.stiffness_n_mm = 40000;
  CHECK(stability_lobes(stiff, 2000, 20000).always_mm == Approx(2 * d.always_mm).epsilon(0.01));
  StabilityInput damped = in;
  damped.x.damping = damped.y.damping = 0.06;
  CHECK(stability_lobes(damped, 2000, 20000).always_mm == Approx(2 * d.always_mm * 1.06 / 1.03).epsilon(0.04));
  StabilityInput hard = in;
  hard.cutting_n_mm2 *= 3;
  CHECK(stability_lobes(hard, 2000, 20000).always_mm == Approx(d.always_mm / 3).epsilon(0.01));
  // One direction alone, single mode: 2π/(N·Kt·αxx·min Re Φ) with min Re Φ = −1/(4·k·ζ·(1 + ζ)), as in any text.
  StabilityInput one = in;
  one.y.stiffness_n_mm = 1e9;
  one.y.frequency_hz = 1e5;
  one.outward = 0.3;
  const double axx = (std::cos(2 * pi) - 2 * 0.3 * pi - 1) / 2;  // over the whole slot
  const double re = -1 / (4 * 20000 * 0.03 * 1.03);
  CHECK(stability_lobes(one, 2000, 20000).always_mm == Approx(2 * pi / (2 * 900 * axx * re)).epsilon(0.03));
}

TEST_CASE("nothing is said where nothing is known") {
  const TipMode mode{600, 20000, 0.03};
  CHECK(stability_lobes(input(1, 1, 2, mode, mode), 1000, 10000).stable_mm.empty());
  CHECK(stability_lobes(input(0, pi, 2, {}, {}), 1000, 10000).always_mm == 0);
  CHECK_FALSE(StabilityDiagram{}.stable_at(1000));
  CHECK_FALSE(StabilityDiagram{}.nearest_stable_rpm(1000, 5));
  // The nearest stable speed is stable, with a tenth to spare.
  const StabilityDiagram d = stability_lobes(input(0, pi, 2, mode, mode), 2000, 20000, 2000);
  const double depth = d.always_mm * 1.5;
  const auto n = d.nearest_stable_rpm(7000, depth);
  REQUIRE(n);
  CHECK(*d.stable_at(*n) >= depth * 1.1 * (1 - 1e-6));
}
