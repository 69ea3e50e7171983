#include "core/mechanics/stability.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <limits>
#include <numbers>

namespace pecorra {
namespace {

using std::numbers::pi;
using Complex = std::complex<double>;
constexpr int most_waves = 80;  // slower than that the lobes are too narrow to tell apart
constexpr double infinite = std::numeric_limits<double>::infinity();

// mm/N
Complex response(const TipMode& mode, double hz) {
  const double r = hz / mode.frequency_hz;
  return (1 / mode.stiffness_n_mm) / Complex(1 - r * r, 2 * mode.damping * r);
}

struct Directions {
  double xx, xy, yx, yy;
};
Directions directions(const Engagement& arc, double kr) {
  const auto between = [&](auto f) { return (f(arc.to_rad) - f(arc.from_rad)) / 2; };
  return {between([&](double p) { return std::cos(2 * p) - 2 * kr * p + kr * std::sin(2 * p); }),
          between([&](double p) { return -std::sin(2 * p) - 2 * p + kr * std::cos(2 * p); }),
          between([&](double p) { return -std::sin(2 * p) + 2 * p + kr * std::cos(2 * p); }),
          between([&](double p) { return -std::cos(2 * p) - 2 * kr * p - kr * std::sin(2 * p); })};
}

struct Border {
  double hz, depth, phase;
};

// The lobe with `k` whole waves between two teeth, and what it takes from the envelope.
void add_lobe(const std::vector<Border>& branch, int k, int teeth, StabilityDiagram& out) {
  std::vector<std::pair<double, double>> lobe;  // speed, depth
  double low = infinite, high = 0;
  const auto points = static_cast<int>(out.stable_mm.size());
  const double step = (out.to_rpm - out.from_rpm) / (points - 1);
  for (const Border& b : branch) {
    const double waves = b.phase + 2 * pi * k;
    if (waves < 0.05) {
      if (lobe.size() > 1) break;
      lobe.clear();
      continue;
    }
    lobe.push_back({60 * b.hz * 2 * pi / (teeth * waves), b.depth});
    low = std::min(low, lobe.back().first), high = std::max(high, lobe.back().first);
  }
  if (lobe.size() < 2 || low > out.to_rpm || high < out.from_rpm) return;
  for (std::size_t i = 1; i < lobe.size(); ++i) {
    const auto& [p_rpm, p_mm] = lobe[i - 1];
    const auto& [q_rpm, q_mm] = lobe[i];
    const double n0 = std::min(p_rpm, q_rpm), n1 = std::max(p_rpm, q_rpm);
    const int first = std::max(0, static_cast<int>(std::ceil((n0 - out.from_rpm) / step))),
              last = std::min(points - 1, static_cast<int>(std::floor((n1 - out.from_rpm) / step)));
    for (int at = first; at <= last; ++at) {
      const double n = out.from_rpm + step * at, t = q_rpm != p_rpm ? (n - p_rpm) / (q_rpm - p_rpm) : 0;
      double& limit = out.stable_mm[static_cast<std::size_t>(at)];
      limit = std::min(limit, p_mm + t * (q_mm - p_mm));
    }
  }
}

}  // namespace

StabilityDiagram stability_lobes(const StabilityInput& in, double from_rpm, double to_rpm, int points) {
  StabilityDiagram out;
  const bool known = in.x.frequency_hz > 0 && in.y.frequency_hz > 0 && in.x.stiffness_n_mm > 0 &&
                     in.y.stiffness_n_mm > 0 && in.cutting_n_mm2 > 0 && in.teeth > 0;
  if (!known || !(in.arc.angle() > 1e-6) || !(from_rpm > 0) || !(to_rpm > from_rpm) || points < 2) return out;
  out.from_rpm = from_rpm;
  out.to_rpm = to_rpm;
  out.stable_mm.assign(static_cast<std::size_t>(points), infinite);
  const Directions a = directions(in.arc, in.outward);
  const double det = a.xx * a.yy - a.xy * a.yx;

  // Frequencies close to each mode, where the response changes fast, and a few beyond.
  std::vector<double> frequencies;
  for (const TipMode* mode : {&in.x, &in.y}) {
    if (mode == &in.y && in.x.frequency_hz == in.y.frequency_hz) break;
    constexpr int steps = 240;
    for (int i = 0; i <= steps; ++i) {
      const double t = 2.0 * i / steps - 1;
      frequencies.push_back(mode->frequency_hz * std::exp((t < 0 ? -0.7 : 1.1) * t * t));
    }
  }
  std::sort(frequencies.begin(), frequencies.end());

  // One branch for each eigenvalue, followed from frequency to frequency: the roots change places where the square root
  // does.
  std::vector<Border> branches[2];
  Complex before[2];
  const auto finish = [&](std::vector<Border>& branch) {
    if (branch.size() > 1)
      for (int k = -2; k <= most_waves; ++k) add_lobe(branch, k, in.teeth, out);
    branch.clear();
  };
  bool first = true;
  for (const double hz : frequencies) {
    const Complex gx = response(in.x, hz), gy = response(in.y, hz);
    const Complex a0 = gx * gy * det, a1 = a.xx * gx + a.yy * gy;
    if (std::abs(a0) < 1e-300) continue;
    const Complex root = std::sqrt(a1 * a1 - 4.0 * a0);
    Complex lambda[2] = {-(a1 + root) / (2.0 * a0), -(a1 - root) / (2.0 * a0)};
    if (!first && std::abs(lambda[0] - before[1]) + std::abs(lambda[1] - before[0]) <
                      std::abs(lambda[0] - before[0]) + std::abs(lambda[1] - before[1]))
      std::swap(lambda[0], lambda[1]);
    first = false;
    for (int i = 0; i < 2; ++i) {
      before[i] = lambda[i];
      std::vector<Border>& branch = branches[i];
      const double depth = -2 * pi * lambda[i].real() / (in.teeth * in.cutting_n_mm2) *
                           (1 + std::pow(lambda[i].imag() / lambda[i].real(), 2));
      if (!std::isfinite(depth) || depth <= 0) {
        finish(branch);
        continue;
      }
      double phase = pi - 2 * std::atan2(lambda[i].imag(), lambda[i].real());
      phase -= 2 * pi * std::floor(phase / (2 * pi));
      if (!branch.empty()) phase += 2 * pi * std::round((branch.back().phase - phase) / (2 * pi));
      branch.push_back({hz, depth, phase});
      out.always_mm = out.always_mm > 0 ? std::min(out.always_mm, depth) : depth;
    }
  }
  for (auto& branch : branches) finish(branch);
  const double lowest = std::min(in.x.frequency_hz, in.y.frequency_hz);
  out.damped_below_rpm = 60 * lowest / (in.teeth * 10.0);
  const double told_from =
      60 * std::max(in.x.frequency_hz, in.y.frequency_hz) / (in.teeth * static_cast<double>(most_waves - 1));
  for (std::size_t i = 0; i < out.stable_mm.size(); ++i)
    if (from_rpm + (to_rpm - from_rpm) * static_cast<double>(i) / (points - 1) < told_from)
      out.stable_mm[i] = out.always_mm;
  return out;
}

std::optional<double> StabilityDiagram::stable_at(double n) const {
  if (stable_mm.size() < 2 || n < from_rpm || n > to_rpm) return std::nullopt;
  const double at = (n - from_rpm) / (to_rpm - from_rpm) * static_cast<double>(stable_mm.size() - 1);
  const std::size_t i = std::min(static_cast<std::size_t>(at), stable_mm.size() - 2);
  const double t = at - static_cast<double>(i), a = stable_mm[i], b = stable_mm[i + 1];
  if (!std::isfinite(a) || !std::isfinite(b)) return std::isfinite(a) ? a : b;
  return a + t * (b - a);
}

std::optional<double> StabilityDiagram::nearest_stable_rpm(double n, double ap) const {
  std::optional<double> best;
  const double step = stable_mm.size() > 1 ? (to_rpm - from_rpm) / static_cast<double>(stable_mm.size() - 1) : 0;
  for (std::size_t i = 0; i < stable_mm.size(); ++i) {
    if (stable_mm[i] < ap * 1.1) continue;
    const double at = from_rpm + step * static_cast<double>(i);
    if (!best || std::abs(at - n) < std::abs(*best - n)) best = at;
  }
  return best;
}

std::optional<StabilityInput> stability_input(const CutModel& model, const Cut& cut, const CutResults& r) {
  const auto arc = model.arc_of(cut);
  const auto& tip = model.tip();
  ForcePoint force;
  if (r.h_m_mm) force = model.force_at(cut, *r.h_m_mm).value_or(force);
  if (!arc || !tip || !model.cutter().flutes || !(force.middle > 0) || !(force.mc < 1) ||
      !(model.mode().frequency_hz > 0))
    return std::nullopt;
  StabilityInput in;
  in.cutting_n_mm2 = force.sharp() * (1 - force.mc);
  in.outward = outward_share;
  in.teeth = *model.cutter().flutes;
  in.arc = *arc;
  in.x = in.y = {model.mode().frequency_hz, model.mode().stiffness_n_mm, tip->damping};
  return in;
}

}  // namespace pecorra
