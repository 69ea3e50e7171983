#include "core/mechanics/beam.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <utility>

#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

using std::numbers::pi;

double inertia_mm4(double d) { return pi / 64 * d * d * d * d; }

}  // namespace

std::vector<BeamSection> beam_of(const Cutter& c, const Assembly& a) {
  std::vector<BeamSection> beam;
  const auto stickout = stickout_of(a);
  if (!c.diameter_mm || !stickout) return beam;
  const bool extended = a.extension_diameter_mm && a.extension_length_mm;
  const double face = *stickout - (extended ? *a.extension_length_mm : 0);
  const ToolMaterial material = c.tool_material.value_or(ToolMaterial::hss);
  const double e = youngs_modulus_n_mm2(material), rho = density_g_cm3(material), d = *c.diameter_mm;
  double at = 0;
  const auto up_to = [&](double height, double diameter) {
    const double end = std::min(height, face);
    if (end > at) beam.push_back({end - at, diameter, e, rho});
    at = std::max(at, end);
  };
  up_to(c.flute_length_mm.value_or(face), d * c.core_ratio.value_or(0.8));
  if (c.reach_mm) up_to(*c.reach_mm, c.neck_diameter_mm.value_or(d));
  for (const ShankSection& s : c.shank_sections) {
    constexpr int slices = 8;
    const double low = at;
    for (int i = 0; i < slices; ++i)
      up_to(low + s.length_mm * (i + 1) / slices, s.lower_mm + (s.upper_mm - s.lower_mm) * (i + 0.5) / slices);
  }
  up_to(face, c.shank_diameter_mm.value_or(d));
  if (extended) beam.push_back({*a.extension_length_mm, *a.extension_diameter_mm, 210e3, 7.85});
  return beam;
}

// Mohr: y = Σ ∫ M(x)·m(x)/(E·I) dx with the bending moments of the load and of a unit load at the tip, both zero at the
// load and growing towards the clamp. Exact for each section.
double tip_deflection_mm(const std::vector<BeamSection>& beam, double load_n, double from_tip_mm, double holding_n_mm) {
  double sum = 0, at = 0;
  for (const BeamSection& s : beam) {
    const double low = std::max(at, from_tip_mm), high = at + s.length_mm;
    if (high > low) {
      // ∫ (x − a)·x dx
      const double a = from_tip_mm;
      sum += ((high * high * high - low * low * low) / 3 - a * (high * high - low * low) / 2) /
             (s.youngs_modulus_n_mm2 * inertia_mm4(s.diameter_mm));
    }
    at = high;
  }
  return load_n * (sum + (holding_n_mm > 0 ? 1 / holding_n_mm : 0));
}

double bending_stress_n_mm2(const std::vector<BeamSection>& beam, double load_n, double from_tip_mm) {
  // Within a section the moment grows towards the clamp, so its upper end counts.
  double top = 0, greatest = 0;
  for (const BeamSection& s : beam) {
    top += s.length_mm;
    const double moment = load_n * std::max(0.0, top - from_tip_mm);
    greatest = std::max(greatest, 32 * moment / (pi * s.diameter_mm * s.diameter_mm * s.diameter_mm));
  }
  return greatest;
}

double tip_stiffness_n_mm(const std::vector<BeamSection>& beam, double holding_n_mm) {
  const double y = tip_deflection_mm(beam, 1, 0, holding_n_mm);
  return y > 0 ? 1 / y : 0;
}

BeamMode first_mode(const std::vector<BeamSection>& beam, double holding_n_mm) {
  // Pieces from the clamp to the tip; 4 elements each make the first mode exact to four digits.
  constexpr int parts = 4, band = 4;  // an element couples four neighbours
  std::vector<BeamSection> elements;
  for (auto s = beam.rbegin(); s != beam.rend(); ++s)
    for (int i = 0; i < parts; ++i)
      elements.push_back({s->length_mm / parts, s->diameter_mm, s->youngs_modulus_n_mm2, s->density_g_cm3});
  if (elements.empty()) return {};
  // The unknowns are displacement and slope of every node. A rigid clamp removes both at the first node; a spring keeps
  // the displacement.
  const bool held = holding_n_mm > 0;
  const std::size_t n = 2 * elements.size() + (held ? 2 : 0);
  // Lower bands of stiffness (N, mm) and mass (tonnes): row i, column i − k.
  using Bands = std::vector<std::array<double, band>>;
  Bands k(n, std::array<double, band>{}), m(n, std::array<double, band>{});
  for (std::size_t e = 0; e < elements.size(); ++e) {
    const BeamSection& s = elements[e];
    const double l = s.length_mm, ei = s.youngs_modulus_n_mm2 * inertia_mm4(s.diameter_mm) / (l * l * l);
    const double mass = s.density_g_cm3 * 1e-9 * pi / 4 * s.diameter_mm * s.diameter_mm * l / 420;
    const double ke[4][4] = {{12, 6 * l, -12, 6 * l},
                             {6 * l, 4 * l * l, -6 * l, 2 * l * l},
                             {-12, -6 * l, 12, -6 * l},
                             {6 * l, 2 * l * l, -6 * l, 4 * l * l}};
    const double me[4][4] = {{156, 22 * l, 54, -13 * l},
                             {22 * l, 4 * l * l, 13 * l, -3 * l * l},
                             {54, 13 * l, 156, -22 * l},
                             {-13 * l, -3 * l * l, -22 * l, 4 * l * l}};
    for (int i = 0; i < 4; ++i)
      for (int j = 0; j <= i; ++j) {
        const std::ptrdiff_t first = static_cast<std::ptrdiff_t>(2 * e) - (held ? 0 : 2);
        const auto row = first + i, column = first + j;  // a clamped node is left out
        if (column < 0) continue;
        k[static_cast<std::size_t>(row)][static_cast<std::size_t>(row - column)] += ei * ke[i][j];
        m[static_cast<std::size_t>(row)][static_cast<std::size_t>(row - column)] += mass * me[i][j];
      }
  }
  if (held) {
    k[0][0] += holding_n_mm;
    k[1][0] *= 1e7;  // practically no slope
  }
  // Cholesky of the stiffness within its band.
  for (std::size_t i = 0; i < n; ++i)
    for (std::size_t back = std::min<std::size_t>(band - 1, i) + 1; back-- > 0;) {
      const std::size_t j = i - back;
      double sum = k[i][back];
      for (std::size_t p = i >= band - 1 ? i - (band - 1) : 0; p < j; ++p)
        if (j - p < band) sum -= k[i][i - p] * k[j][j - p];
      k[i][back] = back == 0 ? std::sqrt(std::max(sum, 1e-300)) : sum / k[j][0];
    }
  const auto put_times_mass = [&](const std::vector<double>& x, std::vector<double>& y) {
    std::fill(y.begin(), y.end(), 0);
    for (std::size_t i = 0; i < n; ++i)
      for (std::size_t b = 0; b < band && b <= i; ++b) {
        y[i] += m[i][b] * x[i - b];
        if (b > 0) y[i - b] += m[i][b] * x[i];
      }
  };
  // Inverse iteration from the shape of a load at the tip.
  std::vector<double> y(n, 0), mx(n, 0), my(n, 0);
  y[n - 2] = 1;
  put_times_mass(y, mx);
  double lambda = 0, tip = 0;
  for (int round = 0; round < 60; ++round) {
    for (std::size_t i = 0; i < n; ++i) {
      for (std::size_t b = 1; b < band && b <= i; ++b) y[i] -= k[i][b] * y[i - b];
      y[i] /= k[i][0];
    }
    for (std::size_t i = n; i-- > 0;) {
      for (std::size_t b = 1; b < band && i + b < n; ++b) y[i] -= k[i + b][b] * y[i + b];
      y[i] /= k[i][0];
    }
    // Rayleigh: λ = (yᵀ·M·x)/(yᵀ·M·y) for K·y = M·x.
    put_times_mass(y, my);
    double top = 0, bottom = 0;
    for (std::size_t i = 0; i < n; ++i) {
      top += y[i] * mx[i];
      bottom += y[i] * my[i];
    }
    const double next = top / bottom, size = std::sqrt(bottom);
    tip = y[n - 2] / size;  // of the shape with unit modal mass
    if (round > 1 && std::abs(next - lambda) < 1e-12 * next) break;
    lambda = next;
    for (std::size_t i = 0; i < n; ++i) y[i] = mx[i] = my[i] / size;
  }
  lambda = std::max(0.0, lambda);
  return {std::sqrt(lambda) / (2 * pi), tip != 0 ? lambda / (tip * tip) : 0};
}

std::optional<TipDynamics> tip_dynamics(const Cutter& cutter, const Assembly& a) {
  TipDynamics out;
  if (!cutter.tool_material) return std::nullopt;
  out.beam = beam_of(cutter, a);
  if (out.beam.empty()) return std::nullopt;
  if (a.holding_stiffness_n_um) out.holding_n_mm = *a.holding_stiffness_n_um * 1000;
  out.rigid = !a.holding_stiffness_n_um && !a.tip_stiffness_n_um;
  out.stiffness_n_mm =
      a.tip_stiffness_n_um ? *a.tip_stiffness_n_um * 1000 : tip_stiffness_n_mm(out.beam, out.holding_n_mm);
  if (a.damping_percent) out.damping = *a.damping_percent / 100;
  return out;
}

namespace {

// One cutter is asked about many cuts in turn: the beams asked for last are known.
BeamMode remembered_mode(const std::vector<BeamSection>& beam, double holding_n_mm) {
  struct Known {
    std::vector<BeamSection> beam;
    double holding_n_mm = 0;
    BeamMode mode;
  };
  thread_local std::array<Known, 8> known;
  thread_local std::size_t oldest = 0;
  for (const Known& k : known)
    if (k.beam == beam && k.holding_n_mm == holding_n_mm) return k.mode;
  known[oldest] = {beam, holding_n_mm, first_mode(beam, holding_n_mm)};
  return known[std::exchange(oldest, (oldest + 1) % known.size())].mode;
}

}  // namespace

BeamMode mode_of(const TipDynamics& tip, const Assembly& a) {
  BeamMode mode = remembered_mode(tip.beam, tip.holding_n_mm);
  if (a.tip_stiffness_n_um) mode.stiffness_n_mm = tip.stiffness_n_mm;
  if (a.measured_frequency_hz) mode.frequency_hz = *a.measured_frequency_hz;
  return mode;
}

double deflection_mm(const TipDynamics& tip, const Assembly& a, double load_n, double from_tip_mm) {
  return a.tip_stiffness_n_um ? load_n / tip.stiffness_n_mm
                              : tip_deflection_mm(tip.beam, load_n, from_tip_mm, tip.holding_n_mm);
}

}  // namespace pecorra
