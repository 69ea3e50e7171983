#include "core/mechanics/force_law.h"

#include <algorithm>
#include <cmath>

#include "core/mechanics/formulas.h"

namespace pecorra {
namespace {

// The feed factor of unit power falls from 1.4 at 0.05 mm to 1 at 0.3 mm of feed and from there on (Machinery's
// Handbook, from memory): a power of the feed. The mean chip is a bit more than half the feed per tooth.
constexpr double feed_exponent = 0.19, unit_feed_mm = 0.3, mean_chip_over_feed = 0.55;
// Constants from turning were measured on chips no thinner than this (König & Essel, from memory).
constexpr double turning_from_mm = 0.1, turning_to_mm = 1.5;
// For milling constants that do not state their range.
constexpr double usual_from_mm = 0.02, usual_to_mm = 0.3;

double spread_of(std::optional<Evidence> evidence) {
  switch (evidence.value_or(Evidence::estimate)) {
    case Evidence::published: return 0.1;
    case Evidence::handbook: return 0.2;
    case Evidence::estimate: break;
  }
  return 0.35;
}

}  // namespace

ForceLaw::ForceLaw(const WorkMaterial& m) : unit_power_(m.unit_power_n_mm2) {
  if (m.kc11_milling_n_mm2 && m.mc_milling) {
    kienzle_ = {*m.kc11_milling_n_mm2, *m.mc_milling, m.milling_from_mm.value_or(usual_from_mm),
                m.milling_to_mm.value_or(usual_to_mm)};
    spread_ = spread_of(m.milling_evidence);
  } else if (m.kc11_n_mm2 && m.mc) {
    kienzle_ = {*m.kc11_n_mm2, *m.mc, turning_from_mm, turning_to_mm};
    turning_ = true;
    spread_ = spread_of(m.force_evidence);
  } else {
    spread_ = spread_of(m.unit_power_evidence);
  }
}

ForcePoint ForceLaw::at(double hm_mm, double rake_factor, double worn) const {
  ForcePoint p;
  const double h = std::max(hm_mm, formulas::thinnest_chip_mm);
  p.mc = feed_exponent;
  if (unit_power_)
    p.unit_power = *unit_power_ * rake_factor * std::pow(unit_feed_mm * mean_chip_over_feed / h, feed_exponent);
  if (kienzle_) {
    // Outside its range the law goes on as the feed factor of unit power does, which was measured on thinner chips.
    const double inside = std::clamp(h, kienzle_->from_mm, std::max(kienzle_->from_mm, kienzle_->to_mm));
    p.outside = inside != h;
    p.turning = turning_;
    if (!p.outside) p.mc = kienzle_->mc;
    p.kienzle = formulas::specific_force_n_mm2(kienzle_->kc11, kienzle_->mc, inside) * rake_factor *
                std::pow(inside / h, p.outside ? feed_exponent : 0);
  }
  if (!is_known()) return p;
  const double a = kienzle_ ? p.kienzle : p.unit_power, b = unit_power_ ? p.unit_power : a;
  const double spread = kienzle_ && unit_power_ ? 0 : spread_;
  p.low = std::min(a, b) * (1 - spread);
  p.high = std::max(a, b) * (1 + spread) * std::max(1.0, worn);
  p.middle = (p.low + p.high) / 2;
  p.kc11 = p.middle * std::pow(h, p.mc);
  return p;
}

}  // namespace pecorra
