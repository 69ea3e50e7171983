#include "core/mechanics/suggest.h"

#include <cmath>

namespace pecorra {
namespace {

double used(Limit limit, const CutReport& report) {
  for (const Headroom& h : report.headroom)
    if (h.limit == limit) return h.used;
  return 0;
}

}  // namespace

std::optional<Suggestion> suggest(const Headroom& broken, const Cutter& cutter, const WorkMaterial& material,
                                  const Machine& machine, const Cut& cut) {
  if (broken.used <= 1 + 1e-9) return std::nullopt;
  auto inside_with = [&](std::optional<double> Cut::*member, double value) {
    Cut tried = cut;
    if (member == &Cut::fz_mm) {  // the feed may be stated another way
      tried.fn_mm.reset();
      tried.vf_mm_min.reset();
      tried.hex_mm.reset();
    }
    tried.*member = value;
    return used(broken.limit, compute_cut(cutter, std::nullopt, material, machine, tried)) <= 1;
  };
  // The value nearest to `from` that fits, between there and `towards`.
  auto search = [&](std::optional<double> Cut::*member, double from, double towards) -> std::optional<double> {
    if (!inside_with(member, towards)) return std::nullopt;
    double out = from, in = towards;
    for (int i = 0; i < 40; ++i) {
      const double middle = (out + in) / 2;
      (inside_with(member, middle) ? in : out) = middle;
    }
    return in;
  };
  const CutReport now = compute_cut(cutter, std::nullopt, material, machine, cut);
  switch (broken.limit) {
    case Limit::flute_length:
    case Limit::reach: return Suggestion{"ap_mm", Quantity::length, broken.limit_value};
    case Limit::spindle_power:
    case Limit::spindle_torque:
      if (cut.ae_mm)
        if (const auto ae = search(&Cut::ae_mm, *cut.ae_mm, *cut.ae_mm * 0.02)) return Suggestion{"ae_mm", Quantity::length, *ae};
      [[fallthrough]];
    case Limit::chip_max:
      if (now.results.fz_mm)
        if (const auto fz = search(&Cut::fz_mm, *now.results.fz_mm, *now.results.fz_mm * 0.02)) return Suggestion{"fz_mm", Quantity::feed_per_tooth, *fz};
      return std::nullopt;
    case Limit::chip_min:
      if (now.results.fz_mm)
        if (const auto fz = search(&Cut::fz_mm, *now.results.fz_mm, *now.results.fz_mm * broken.used * 1.01)) return Suggestion{"fz_mm", Quantity::feed_per_tooth, *fz, true};
      return std::nullopt;
    default: return std::nullopt;
  }
}

}  // namespace pecorra
