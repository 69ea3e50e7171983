#include "core/mechanics/forces.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/mechanics/formulas.h"
#include "core/mechanics/vector_math.h"

namespace pecorra {
namespace {

using std::numbers::pi;
// A piece with less lag than this engages all at once.
constexpr double straight_rad = 1e-4;

struct Slice {
  EdgePiece piece;
  double from_rad = 0, to_rad = 0;  // engaged
  double factor = 0;                // N per mm of height where p is 1
};

// p = sin φ to the power 1 − mc over the widest engagement, and its running integrals with cos φ, sin φ and alone.
// Every height has them times a factor, since the specific force is a power of the chip.
class Course {
 public:
  struct Values {
    double cosine = 0, sine = 0, plain = 0;
    Values operator-(const Values& b) const { return {cosine - b.cosine, sine - b.sine, plain - b.plain}; }
    Values operator*(double f) const { return {cosine * f, sine * f, plain * f}; }
  };

  Course(double low, double high, double mc) : low_(low), inverse_(steps / (high - low)) {
    // Ends and midpoints of the steps; sine and cosine by rotation.
    constexpr std::size_t places = 2 * steps + 1;
    std::array<double, places> sine, cosine, p;
    const double width = (high - low) / steps, turn_c = std::cos(width / 2), turn_s = std::sin(width / 2);
    sine[0] = std::sin(low), cosine[0] = std::cos(low);
    for (std::size_t i = 1; i < places; ++i) {
      sine[i] = sine[i - 1] * turn_c + cosine[i - 1] * turn_s;
      cosine[i] = cosine[i - 1] * turn_c - sine[i - 1] * turn_s;
    }
    p = sine;
    raise_to(p, 1 - mc);
    const auto at = [&](std::size_t i) { return Values{p[i] * cosine[i], p[i] * sine[i], p[i]}; };
    density_[0] = at(0);
    for (std::size_t i = 1; i <= steps; ++i) {
      // Simpson
      const Values &a = density_[i - 1], middle = at(2 * i - 1), &before = integral_[i - 1];
      const Values& b = density_[i] = at(2 * i);
      integral_[i] = {before.cosine + width / 6 * (a.cosine + 4 * middle.cosine + b.cosine),
                      before.sine + width / 6 * (a.sine + 4 * middle.sine + b.sine),
                      before.plain + width / 6 * (a.plain + 4 * middle.plain + b.plain)};
    }
  }
  Values integral(double angle) const { return read(integral_, angle); }
  Values density(double angle) const { return read(density_, angle); }

 private:
  static constexpr std::size_t steps = 80;
  using Table = std::array<Values, steps + 1>;
  Values read(const Table& table, double angle) const {
    const double at = std::clamp((angle - low_) * inverse_, 0.0, static_cast<double>(steps) - 1e-9);
    const auto i = static_cast<std::size_t>(static_cast<int>(at));
    const double t = at - static_cast<double>(static_cast<int>(at));
    const Values &a = table[i], &b = table[i + 1];
    return {a.cosine + t * (b.cosine - a.cosine), a.sine + t * (b.sine - a.sine), a.plain + t * (b.plain - a.plain)};
  }
  double low_, inverse_;
  Table integral_{}, density_{};
};

// From ∫p·cos φ dz and so on.
Force force_of(const Slice& s, double helix_tangent, const Course::Values& per_factor) {
  const Course::Values p = per_factor * s.factor;
  const double outward = outward_share * s.piece.sin_kappa,
               push = outward_share * std::sqrt(std::max(0.0, 1 - s.piece.sin_kappa * s.piece.sin_kappa));
  return {-p.cosine - outward * p.sine, p.sine - outward * p.cosine, push * p.plain - helix_tangent * p.plain,
          p.plain * s.piece.radius_mm / 1000};
}

std::vector<Slice> engaged_slices(const ForceInput& in) {
  const double thicker = in.mean_chip_mm > 0 ? std::max(1.0, formulas::thinnest_chip_mm / in.mean_chip_mm) : 1;
  std::vector<Slice> slices;
  for (const EdgePiece& piece : in.pieces) {
    Slice s{piece, in.face.from_rad, in.face.to_rad, 0};
    if (!in.facing) {
      const double arc = side_engagement(std::min(in.ae_mm, 2 * piece.radius_mm), 2 * piece.radius_mm).angle();
      s.from_rad = in.conventional ? 0 : pi - arc;
      s.to_rad = in.conventional ? arc : pi;
    }
    const double chip = in.fz_mm * piece.sin_kappa;
    if (!(s.to_rad > s.from_rad) || !(piece.to_mm > piece.from_mm) || !(chip > 0)) continue;
    s.factor = in.kc11_n_mm2 * std::pow(chip * thicker, -in.mc) * in.fz_mm;
    slices.push_back(s);
  }
  return slices;
}

}  // namespace

double Force::across() const { return std::sqrt(x * x + y * y); }

Force TurnForces::all(int i) const {
  Force sum;
  const auto pitch = static_cast<std::size_t>(per_pitch());
  for (auto at = static_cast<std::size_t>(i); at < tooth.size(); at += pitch) sum += tooth[at];
  return sum;
}

TurnForces forces_over_turn(const ForceInput& in, int angles) {
  TurnForces out;
  out.teeth = std::max(1, in.teeth);
  const int per_pitch = std::max(1, (angles + out.teeth - 1) / out.teeth), count = per_pitch * out.teeth;
  out.tooth.resize(static_cast<std::size_t>(count));
  const std::vector<Slice> slices = engaged_slices(in);
  if (slices.empty()) return out;
  double low = pi, high = 0;
  for (const Slice& s : slices) low = std::min(low, s.from_rad), high = std::max(high, s.to_rad);
  const Course course(low, high, in.mc);
  const double tangent = std::tan(in.helix_rad), lag_per_mm = in.lag_radius_mm > 0 ? tangent / in.lag_radius_mm : 0,
               step = 2 * pi / count;
  for (const Slice& s : slices) {
    const double late = lag_per_mm * s.piece.from_mm, later = lag_per_mm * s.piece.to_mm,
                 height = s.piece.to_mm - s.piece.from_mm;
    if (later - late < straight_rad) {
      // All of it at one angle.
      const double behind = (late + later) / 2;
      const int first = static_cast<int>(std::ceil((s.from_rad + behind) / step - 1e-9)),
                last = static_cast<int>(std::floor((s.to_rad + behind) / step + 1e-9));
      for (int i = first; i <= last; ++i)
        out.tooth[static_cast<std::size_t>(i % count)] +=
            force_of(s, tangent, course.density(i * step - behind) * height);
      continue;
    }
    // Over all tip angles with some engagement; a long helix wraps more than once, but within a bound.
    constexpr double most_turns = 64;
    const double turns = (later - late) / (2 * pi);
    if (turns > most_turns) {  // as good as engaged everywhere alike
      const Force even =
          force_of(s, tangent, (course.integral(s.to_rad) - course.integral(s.from_rad)) * (height / (2 * pi)));
      for (Force& f : out.tooth) f += even;
      continue;
    }
    const double per = 1 / lag_per_mm;
    const int first = static_cast<int>(std::ceil((s.from_rad + late) / step)),
              last = static_cast<int>(std::floor((s.to_rad + later) / step));
    int at = first % count;
    for (int i = first; i <= last; ++i) {
      const double upper = std::min(i * step - late, s.to_rad), lower = std::max(i * step - later, s.from_rad);
      if (upper > lower)
        out.tooth[static_cast<std::size_t>(at)] +=
            force_of(s, tangent, (course.integral(upper) - course.integral(lower)) * per);
      if (++at == count) at = 0;
    }
  }
  return out;
}

ForceFigures force_figures(const TurnForces& turn) {
  ForceFigures out;
  const int count = turn.per_pitch();  // the sum of all teeth is the same again after a pitch
  for (int i = 0; i < count; ++i) {
    const Force f = turn.all(i);
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

ForceFigures force_figures(const ForceInput& in) {
  double top = 0;
  for (const EdgePiece& piece : in.pieces) top = std::max(top, piece.to_mm);
  const double lag = in.lag_radius_mm > 0 ? std::tan(in.helix_rad) / in.lag_radius_mm * top : 0;
  const int around = lag > 0.8 ? 180 : lag > 0.12 || in.pieces.size() > 1 ? 720 : 2160;
  return force_figures(forces_over_turn(in, std::max(40 * std::max(1, in.teeth), around)));
}

}  // namespace pecorra
