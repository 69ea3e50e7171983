#include "core/mechanics/forces.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/mechanics/formulas.h"

namespace pecorra {
namespace {

using std::numbers::pi;
// A piece that lags less than this is cut all at once.
constexpr double straight_rad = 1e-4;

}  // namespace

double Force::across() const { return std::hypot(x, y); }

ToothForce::ToothForce(const ForceInput& in) : pitch_(2 * pi / std::max(1, in.teeth)), helix_tangent_(std::tan(in.helix_rad)), teeth_(std::max(1, in.teeth)) {
  if (in.lag_radius_mm > 0) lag_per_mm_ = helix_tangent_ / in.lag_radius_mm;
  double low = pi, high = 0;
  for (const EdgePiece& piece : in.pieces) {
    Slice s{piece, 0, 0, 0};
    if (in.facing) {
      s.from_rad = in.face.from_rad;
      s.to_rad = in.face.to_rad;
    } else {
      const double arc = side_engagement(std::min(in.ae_mm, 2 * piece.radius_mm), 2 * piece.radius_mm).angle();
      s.from_rad = in.conventional ? 0 : pi - arc;
      s.to_rad = in.conventional ? arc : pi;
    }
    if (!(s.to_rad > s.from_rad) || !(piece.to_mm > piece.from_mm)) continue;
    low = std::min(low, s.from_rad);
    high = std::max(high, s.to_rad);
    slices_.push_back(s);
  }
  if (slices_.empty()) return;
  low_ = low;
  width_ = (high - low) / steps;
  const double thicker = in.mean_chip_mm > 0 ? std::max(1.0, formulas::thinnest_chip_mm / in.mean_chip_mm) : 1;
  for (Slice& s : slices_) {
    const double chip = in.fz_mm * s.piece.sin_kappa;
    s.factor = chip > 0 ? in.kc11_n_mm2 * std::pow(chip * thicker, -in.mc) * in.fz_mm : 0;
  }
  // Simpson in each step: its ends and its middle. Sine and cosine by turning on.
  const double half = width_ / 2, turn_c = std::cos(half), turn_s = std::sin(half);
  double sine = std::sin(low_), cosine = std::cos(low_);
  const auto density = [&] { return sine > 0 ? std::pow(sine, 1 - in.mc) : 0; };
  const auto turn = [&] {
    const double next = sine * turn_c + cosine * turn_s;
    cosine = cosine * turn_c - sine * turn_s;
    sine = next;
  };
  Integral at[3];
  const auto take = [&](Integral& v) {
    const double p = density();
    v = {p * cosine, p * sine, p};
  };
  take(at[0]);
  for (std::size_t i = 1; i <= steps; ++i) {
    turn();
    take(at[1]);
    turn();
    take(at[2]);
    const auto step = [&](double Integral::*m) { integrals_[i].*m = integrals_[i - 1].*m + width_ / 6 * (at[0].*m + 4 * (at[1].*m) + at[2].*m); };
    step(&Integral::cosine);
    step(&Integral::sine);
    step(&Integral::plain);
    at[0] = at[2];
  }
}

ToothForce::Integral ToothForce::read(const Slice& s, double angle) const {
  const double at = std::clamp((std::clamp(angle, s.from_rad, s.to_rad) - low_) / width_, 0.0, static_cast<double>(steps));
  const std::size_t i = std::min(static_cast<std::size_t>(at), steps - 1);
  const double t = at - static_cast<double>(i);
  const Integral &a = integrals_[i], &b = integrals_[i + 1];
  return {a.cosine + t * (b.cosine - a.cosine), a.sine + t * (b.sine - a.sine), a.plain + t * (b.plain - a.plain)};
}

// From ∫p·cos φ dz and so on.
Force ToothForce::force_of(const Slice& s, const Integral& per) const {
  const Integral p{per.cosine * s.factor, per.sine * s.factor, per.plain * s.factor};
  const double outward = outward_share * s.piece.sin_kappa, push = outward_share * std::sqrt(std::max(0.0, 1 - s.piece.sin_kappa * s.piece.sin_kappa));
  return {-p.cosine - outward * p.sine, p.sine - outward * p.cosine, push * p.plain - helix_tangent_ * p.plain, p.plain * s.piece.radius_mm / 1000};
}

Force ToothForce::at(double angle) const {
  Force sum;
  if (slices_.empty()) return sum;
  angle -= 2 * pi * std::floor(angle / (2 * pi));
  for (const Slice& s : slices_) {
    const double high = angle - lag_per_mm_ * s.piece.from_mm, low = angle - lag_per_mm_ * s.piece.to_mm;
    const double span = high - low;
    if (span < straight_rad) {
      // All of it at one angle: the integral over a narrow strip, over its width.
      const double height = s.piece.to_mm - s.piece.from_mm;
      double phi = (high + low) / 2;
      phi -= 2 * pi * std::floor(phi / (2 * pi));
      if (phi < s.from_rad || phi > s.to_rad) continue;
      const double from = std::max(s.from_rad, phi - width_ / 2), to = std::min(s.to_rad, phi + width_ / 2);
      if (!(to > from)) continue;
      const Integral a = read(s, from), b = read(s, to);
      const double per = height / (to - from);
      sum += force_of(s, {(b.cosine - a.cosine) * per, (b.sine - a.sine) * per, (b.plain - a.plain) * per});
      continue;
    }
    // φ runs from low to high; whole turns of a long helix count fully.
    Integral p;
    const double whole = std::floor(span / (2 * pi));
    if (whole > 0) {
      const Integral a = read(s, s.from_rad), b = read(s, s.to_rad);
      p = {whole * (b.cosine - a.cosine), whole * (b.sine - a.sine), whole * (b.plain - a.plain)};
    }
    const double rest = span - whole * 2 * pi;
    double start = high - rest;
    start -= 2 * pi * std::floor(start / (2 * pi));
    for (int turn = -1; turn <= 0; ++turn) {
      const Integral a = read(s, start + turn * 2 * pi), b = read(s, start + rest + turn * 2 * pi);
      p.cosine += b.cosine - a.cosine;
      p.sine += b.sine - a.sine;
      p.plain += b.plain - a.plain;
    }
    const double per = 1 / lag_per_mm_;
    sum += force_of(s, {p.cosine * per, p.sine * per, p.plain * per});
  }
  return sum;
}

std::vector<Force> force_over_turn(const ToothForce& tooth, int count, bool whole_turn) {
  const double range = whole_turn ? 2 * pi : tooth.pitch();
  // What all teeth make is the same again after a pitch.
  std::vector<Force> out(static_cast<std::size_t>(count));
  for (int i = 0; i < count; ++i)
    for (int j = 0; j < tooth.teeth(); ++j) out[static_cast<std::size_t>(i)] += tooth.at(range * i / count + j * tooth.pitch());
  return out;
}

int ToothForce::telling_steps() const {
  double top = 0;
  for (const Slice& s : slices_) top = std::max(top, s.piece.to_mm);
  constexpr double smooth_rad = 0.12;
  const int around = lag_per_mm_ * top > smooth_rad || slices_.size() > 1 ? 360 : 2160;
  return std::max(48, (around + teeth_ - 1) / teeth_);
}

ForceFigures force_figures(const ToothForce& tooth) {
  const int count = tooth.telling_steps();
  ForceFigures out;
  for (const Force& f : force_over_turn(tooth, count, false)) {
    const double across = f.across();
    out.mean_n += across / count;
    out.peak_n = std::max(out.peak_n, across);
    out.mean_x_n += f.x / count;
    out.mean_y_n += f.y / count;
    out.mean_torque_nm += f.torque / count;
    out.peak_torque_nm = std::max(out.peak_torque_nm, f.torque);
    out.peak_axial_n = std::max(out.peak_axial_n, std::abs(f.z));
  }
  return out;
}

}  // namespace pecorra
