#include "core/mechanics/suggest.h"

#include <array>
#include <cmath>

#include "core/quantity/print.h"

namespace pecorra {
namespace {

struct Input {
  std::string_view property;
  Quantity quantity;
};
constexpr Input inputs[] = {{"ae_mm", Quantity::length},
                            {"ap_mm", Quantity::length},
                            {"fz_mm", Quantity::feed_per_tooth},
                            {"vc_m_min", Quantity::cutting_speed},
                            {"stickout_mm", Quantity::length}};

// Which inputs a limit answers to, as bits of the above.
unsigned inputs_of(Limit limit) {
  constexpr unsigned ae = 1, ap = 2, fz = 4, vc = 8, out = 16;
  switch (limit) {
    case Limit::spindle_speed:
    case Limit::cutter_speed: return vc;
    case Limit::table_feed: return fz | vc;
    case Limit::spindle_power: return ae | ap | fz | vc;
    case Limit::spindle_torque:
    case Limit::workholding: return ae | ap | fz;
    case Limit::chip_max:
    case Limit::chip_min: return ae | fz;
    case Limit::bending:
    case Limit::deflection: return ae | ap | fz | out;
    case Limit::flute_length:
    case Limit::reach: return ap;
  }
  return 0;
}

const Headroom* find(const CutReport& report, Limit limit) {
  for (const Headroom& h : report.headroom)
    if (h.limit == limit) return &h;
  return nullptr;
}

double rounded(double value, bool up, Quantity quantity, UnitSystem units) {
  const double step = (quantity == Quantity::length           ? 0.05
                       : quantity == Quantity::feed_per_tooth ? 0.0005
                                                              : 1) *
                      (is_inch(units) && quantity != Quantity::cutting_speed ? 1.0 / 20 : 1) *
                      stored_per_shown(quantity, units);
  const double whole = up ? std::ceil(value / step - 1e-9) * step : std::floor(value / step + 1e-9) * step;
  return whole > 0 ? whole : value;
}

}  // namespace

bool wants_change(const Headroom& h) {
  // A spindle limited to its greatest speed is not a fault.
  const bool speed = h.limit == Limit::spindle_speed || h.limit == Limit::cutter_speed || h.limit == Limit::table_feed;
  return speed ? h.tightest() > 1 + 1e-6 : h.tightest() > close_to_limit + 1e-9;
}

void put(std::string_view property, double value, const CutResults& now, Cut& cut, Assembly& assembly) {
  cut.fn_mm.reset();
  cut.vf_mm_min.reset();
  cut.hex_mm.reset();
  cut.fz_mm = now.fz_mm;
  cut.vc_m_min.reset();
  cut.n_rpm = now.n_rpm;
  if (property == "ae_mm") cut.ae_mm = value;
  else if (property == "ap_mm") cut.ap_mm = value;
  else if (property == "fz_mm") cut.fz_mm = value;
  else if (property == "vc_m_min") cut.vc_m_min = value, cut.n_rpm.reset();
  else if (property == "stickout_mm") assembly.stickout_mm = value, assembly.measured_stickout_mm.reset();
}

std::vector<Suggestion> suggestions(const CutModel& model, const Cut& cut, Limit limit, UnitSystem units) {
  std::vector<Suggestion> out;
  const CutReport now = model.at(cut, Extent::limits);
  const Headroom* broken = find(now, limit);
  if (!broken || !wants_change(*broken) || !now.results.fz_mm || !now.results.n_rpm) return out;
  const double target = broken->tightest() > 1 + 1e-9 ? 1 : close_to_limit;
  const double d = model.cutter().diameter_mm.value_or(0);

  for (std::size_t i = 0; i < std::size(inputs); ++i) {
    if ((inputs_of(limit) >> i & 1) == 0) continue;
    const Input& input = inputs[i];
    const bool sticks_out = input.property == "stickout_mm";
    const auto report_with = [&](double value) {
      Cut tried = cut;
      Assembly held = model.assembly();
      put(input.property, value, now.results, tried, held);
      return sticks_out ? CutModel(model.cutter(), held, model.material(), model.machine()).at(tried, Extent::limits)
                        : model.at(tried, Extent::limits);
    };
    const auto used_with = [&](double value) {
      const CutReport report = report_with(value);
      const Headroom* h = find(report, limit);
      return h ? h->tightest() : 0;
    };
    // The input's present value, and its possible range.
    std::optional<double> from;
    double towards = 0;
    const bool thin = limit == Limit::chip_min, slow = broken->lower && limit == Limit::spindle_speed,
               up = thin || slow;
    if (input.property == "ae_mm")
      from = cut.operation == OperationKind::slot ? std::nullopt : cut.ae_mm,
      towards = thin ? d / 2 : from.value_or(0) * 0.02;
    else if (input.property == "ap_mm") from = cut.ap_mm, towards = from.value_or(0) * 0.02;
    else if (input.property == "fz_mm") from = now.results.fz_mm, towards = *from * (thin ? broken->used * 1.05 : 0.02);
    else if (input.property == "vc_m_min")
      from = now.results.vc_m_min, towards = from.value_or(0) * (slow ? broken->used * 1.05 : 0.02);
    else if (const auto stickout = stickout_of(model.assembly())) {
      // No shorter than the flutes and the cut, so that chips can get out.
      from = stickout;
      towards = std::max({model.cutter().flute_length_mm.value_or(0), cut.ap_mm.value_or(0),
                          cut.whole_depth_mm.value_or(0), *stickout * 0.1});
    }
    if (!from || !(*from > 0) || (up ? towards <= *from : towards >= *from)) continue;
    const double at_most = used_with(towards);
    if (at_most > target) continue;
    // The share used is close to a power of the input: bracketed secant steps on the logarithms.
    double out_x = std::log(*from), in_x = std::log(towards), out_y = std::log(broken->tightest() / target),
           in_y = std::log(std::max(1e-12, at_most / target));
    const auto said = [&](double x) { return rounded(std::exp(x), up, input.quantity, units); };
    // Until both ends say the same.
    for (int round = 0; round < 24 && std::abs(out_x - in_x) > 1e-7 && said(out_x) != said(in_x); ++round) {
      double x =
          out_y - in_y > 1e-12 && round % 3 != 2 ? out_x + (in_x - out_x) * out_y / (out_y - in_y) : (out_x + in_x) / 2;
      // Slightly inside, so that both ends close in.
      x += (in_x - out_x) * (round % 2 == 0 ? 1e-3 : -1e-3);
      x = std::clamp(x, std::min(in_x, out_x), std::max(in_x, out_x));
      const double y = std::log(std::max(1e-12, used_with(std::exp(x)) / target));
      if (y > 0) out_x = x, out_y = y;
      else in_x = x, in_y = y;
    }
    Suggestion s{input.property, input.quantity, said(in_x), 0, up};
    s.change = std::abs(std::log(s.value / *from));
    // It must not break another limit.
    bool breaks = !(s.change > 0);
    for (const Headroom& h : report_with(s.value).headroom) {
      const Headroom* before = find(now, h.limit);
      if (h.limit == limit ? h.tightest() > target + 1e-6
                           : h.tightest() > std::max(1.0, before ? before->tightest() : 0) + 1e-6)
        breaks = true;
    }
    if (!breaks) out.push_back(s);
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const Suggestion& a, const Suggestion& b) { return a.change < b.change; });
  return out;
}

}  // namespace pecorra
