#include "core/mechanics/curves.h"

#include <algorithm>
#include <cmath>

#include "core/mechanics/formulas.h"
#include "core/mechanics/straight_cut.h"
#include "core/mechanics/suggest.h"

namespace pecorra {
namespace {

constexpr Choice kinds[] = {{"power", "Power over speed"},
                            {"torque", "Torque over speed"},
                            {"deflection", "Deflection over stick-out"},
                            {"chip", "Chip thickness over width"},
                            {"force", "Force over one revolution"},
                            {"stability", "Stable depth over speed"}};

// A round figure at or above.
double round_up(double value) {
  if (!(value > 0) || !std::isfinite(value)) return 1;
  const double step = std::pow(10, std::floor(std::log10(value))) / 2;
  return std::ceil(value / step - 1e-9) * step;
}

class Maker {
 public:
  Maker(const CutModel& model, const Cut& cut, const CutReport& now)
      : m_(model), cut_(cut), now_(now), r_(now.results) {}

  std::optional<Curve> make(CurveKind kind) const {
    switch (kind) {
      case CurveKind::power: return power();
      case CurveKind::torque: return torque();
      case CurveKind::deflection: return deflection();
      case CurveKind::chip: return chip();
      case CurveKind::force: return force();
      case CurveKind::stability: return stability();
    }
    return std::nullopt;
  }

 private:
  double fastest() const { return std::max(m_.machine().max_rpm.value_or(0), round_up(r_.n_rpm.value_or(0) * 1.25)); }

  Curve over_speed(CurveKind kind, Quantity y) const {
    Curve c;
    c.kind = kind;
    c.x_label = "Spindle speed";
    c.x_symbol = "n";
    c.x = Quantity::spindle_speed;
    c.y = y;
    c.to_x = fastest();
    c.property = "vc_m_min";
    return c;
  }
  // A square edge: all points at once by the closed formulas.
  bool is_square() const {
    return m_.edge() && m_.edge()->form == CuttingForm::cylinder && m_.edge()->kappa_rad > 1.5707 &&
           process_for(m_.cutter(), cut_) == Process::milling && cut_.operation != OperationKind::face;
  }
  template <class Set, class Take>
  void at_once(std::size_t points, Set set, Take take) const {
    StraightCuts all(points);
    const double mean_chip = r_.h_m_mm.value_or(0.01);
    const auto force = m_.force_at(cut_, mean_chip);
    all.mc = force ? force->mc : 0;
    all.efficiency = m_.machine().efficiency.value_or(1);
    for (std::size_t i = 0; i < points; ++i) {
      all.d_mm[i] = *m_.cutter().diameter_mm;
      all.teeth[i] = m_.cutter().flutes.value_or(1);
      all.vc_m_min[i] = r_.vc_m_min.value_or(1);
      all.fz_mm[i] = r_.fz_mm.value_or(0.01);
      all.ap_mm[i] = cut_.ap_mm.value_or(1);
      all.ae_mm[i] = width_of(m_.cutter(), cut_).value_or(1);
      all.sin_kappa[i] = 1;
      set(all, i);
      // The law through the middle of the band at this chip, told with the exponent of all.
      const double cosine = formulas::engagement_cosine(all.ae_mm[i], all.d_mm[i]);
      const double hm = all.fz_mm[i] * formulas::mean_over_arc(cosine, std::acos(cosine));
      const auto here = m_.force_at(cut_, hm);
      all.kc11_n_mm2[i] = here ? here->middle * std::pow(std::max(hm, formulas::thinnest_chip_mm), all.mc) : 1;
    }
    straight_figures(all, [&](std::size_t first, std::size_t count, const StraightFigures& f) {
      for (std::size_t k = 0; k < count; ++k) take(first + k, f, k);
    });
  }
  // What the cut takes at other speeds with the same chip load.
  template <class Get>
  CurveSeries at_speeds(const Curve& c, std::string_view label, Get get) const {
    CurveSeries s{SeriesRole::main, label, 0, {}};
    constexpr int steps = 24;
    for (int i = 0; i <= steps; ++i) {
      Cut cut = cut_;
      Assembly held;
      const double n = c.to_x * std::max(i, 1) / steps * (i == 0 ? 0.05 : 1);
      put("n_rpm", n, r_, cut, held);
      cut.n_rpm = n;
      cut.corner_rad = 0;
      if (const auto y = get(m_.at(cut, Extent::closed).results)) s.points.push_back({n, *y});
    }
    return s;
  }
  template <class Get>
  static CurveSeries of_machine(const Curve& c, SeriesRole role, std::string_view label,
                                const std::vector<PowerPoint>& curve, Get get) {
    CurveSeries s{role, label, 0, {}};
    std::vector<double> speeds;
    for (const PowerPoint& p : curve)
      if (p.rpm > 0 && p.rpm < c.to_x) speeds.push_back(p.rpm);
    for (int i = 1; i <= 60; ++i) speeds.push_back(c.to_x * i / 60);
    std::sort(speeds.begin(), speeds.end());
    for (const double n : speeds)
      if (const auto kw = power_at_kw(curve, n)) s.points.push_back({n, get(n, *kw)});
    return s;
  }
  // Sets the range so that working point and limits are visible; `all`: the whole curve too.
  static void fit(Curve& c, bool all) {
    double most = c.working ? c.working->y * 1.15 : 0;
    for (const CurveSeries& s : c.series)
      if (all || s.role == SeriesRole::limit || s.role == SeriesRole::short_time)
        for (const CurvePoint& p : s.points)
          most = std::max(most, p.y * (c.band && s.role == SeriesRole::main ? c.band->high : 1));
    c.to_y = round_up(most * 1.05);
  }

  std::optional<Curve> power() const {
    if (!r_.n_rpm || !r_.motor_power_kw) return std::nullopt;
    Curve c = over_speed(CurveKind::power, Quantity::power);
    c.series.push_back(at_speeds(c, "this cut", [](const CutResults& r) { return r.motor_power_kw; }));
    const auto as_is = [](double, double kw) { return kw; };
    if (!m_.machine().power_curve.empty())
      c.series.push_back(of_machine(c, SeriesRole::limit, "motor", m_.machine().power_curve, as_is));
    if (!m_.machine().peak_curve.empty())
      c.series.push_back(of_machine(c, SeriesRole::short_time, "short time", m_.machine().peak_curve, as_is));
    c.working = CurvePoint{*r_.n_rpm, *r_.motor_power_kw};
    c.band = now_.band;
    fit(c, c.series.size() == 1);
    return c;
  }

  std::optional<Curve> torque() const {
    if (!r_.n_rpm || !r_.mc_nm) return std::nullopt;
    Curve c = over_speed(CurveKind::torque, Quantity::torque);
    c.series.push_back(at_speeds(c, "this cut", [](const CutResults& r) { return r.mc_nm; }));
    const double efficiency = m_.machine().efficiency.value_or(1), most = m_.machine().max_torque_nm.value_or(1e300);
    // Power available at the cut: the motor's less the losses, at most the spindle's limit.
    const auto reaches = [&](double n, double kw) { return std::min(most, formulas::torque_nm(kw * efficiency, n)); };
    if (!m_.machine().power_curve.empty())
      c.series.push_back(of_machine(c, SeriesRole::limit, "spindle", m_.machine().power_curve, reaches));
    c.working = CurvePoint{*r_.n_rpm, *r_.mc_nm};
    c.band = now_.band;
    fit(c, c.series.size() == 1);
    return c;
  }

  std::optional<Curve> deflection() const {
    const auto stickout = stickout_of(m_.assembly());
    if (!stickout || !m_.tip() || !(r_.force_peak_n || cut_.tip_load_n) || !r_.deflection_mm) return std::nullopt;
    Curve c;
    c.kind = CurveKind::deflection;
    c.x_label = "Stick-out";
    c.x_symbol = "LPR";
    c.x = c.y = Quantity::length;
    c.to_x = round_up(std::max(
        {*stickout * 1.6, m_.cutter().reach_mm.value_or(0) * 1.2, m_.cutter().flute_length_mm.value_or(0) * 1.2}));
    c.from_x = std::min(*stickout, std::max(cut_.ap_mm.value_or(0), m_.cutter().diameter_mm.value_or(1)));
    c.property = "stickout_mm";
    const double load = cut_.tip_load_n ? *cut_.tip_load_n : *r_.force_peak_n,
                 at = cut_.tip_load_n ? 0 : cut_.ap_mm.value_or(0) / 2;
    CurveSeries s{SeriesRole::main, "at the tip", 0, {}};
    Assembly held = m_.assembly();
    held.measured_stickout_mm.reset();
    const double holding = m_.tip()->holding_n_mm;
    // A stiffness measured at one stick-out does not hold for another, so the calculated curve is scaled to pass
    // through it.
    held.stickout_mm = *stickout;
    const double here = tip_deflection_mm(beam_of(m_.cutter(), held), load, at, holding),
                 scale = here > 0 ? *r_.deflection_mm / here : 1;
    constexpr int steps = 48;
    for (int i = 0; i <= steps; ++i) {
      held.stickout_mm = c.from_x + (c.to_x - c.from_x) * i / steps;
      s.points.push_back({*held.stickout_mm, scale * tip_deflection_mm(beam_of(m_.cutter(), held), load, at, holding)});
    }
    c.series.push_back(std::move(s));
    if (cut_.permitted_deflection_mm)
      c.series.push_back({SeriesRole::limit,
                          "permitted",
                          0,
                          {{c.from_x, *cut_.permitted_deflection_mm}, {c.to_x, *cut_.permitted_deflection_mm}}});
    c.working = CurvePoint{*stickout, *r_.deflection_mm};
    if (!cut_.tip_load_n) c.band = now_.band;
    fit(c, true);
    c.to_y = round_up(std::max(c.working->y, cut_.permitted_deflection_mm.value_or(0)) * 2.2);
    return c;
  }

  std::optional<Curve> chip() const {
    const auto ae = m_.cutter().diameter_mm ? width_of(m_.cutter(), cut_) : std::nullopt;
    if (!r_.h_ex_mm || !r_.h_m_mm || !ae || process_for(m_.cutter(), cut_) != Process::milling) return std::nullopt;
    Curve c;
    c.kind = CurveKind::chip;
    c.x_label = "Width of cut";
    c.x_symbol = "ae";
    c.x = Quantity::length;
    c.y = Quantity::feed_per_tooth;
    c.to_x = *m_.cutter().diameter_mm;
    c.property = "ae_mm";
    CurveSeries thickest{SeriesRole::main, "thickest", 0, {}}, mean{SeriesRole::second, "mean", 0, {}};
    constexpr int steps = 72;
    std::vector<double> widths;
    for (int i = 0; i <= steps; ++i) {
      // Closer together near zero, where the curve is steep.
      const double share = static_cast<double>(i) / steps;
      widths.push_back(c.to_x * std::max(1e-4, share * share));
    }
    if (is_square()) {
      at_once(
          widths.size(), [&](StraightCuts& all, std::size_t i) { all.ae_mm[i] = widths[i]; },
          [&](std::size_t i, const StraightFigures& f, std::size_t k) {
            thickest.points.push_back({widths[i], f.h_ex_mm[k]});
            mean.points.push_back({widths[i], f.h_m_mm[k]});
          });
    } else {
      for (const double x : widths) {
        Cut cut = cut_;
        Assembly held;
        put("ae_mm", x, r_, cut, held);
        if (cut.operation == OperationKind::slot) cut.operation = OperationKind::side_rough;
        cut.corner_rad = 0;
        const CutResults there = m_.at(cut, Extent::closed).results;
        if (there.h_ex_mm) thickest.points.push_back({x, *there.h_ex_mm});
        if (there.h_m_mm) mean.points.push_back({x, *there.h_m_mm});
      }
    }
    c.series = {std::move(thickest), std::move(mean)};
    for (const Headroom& h : now_.headroom) {
      if (h.limit == Limit::chip_min)
        c.series.push_back({SeriesRole::limit, "rubs below", 0, {{0, h.limit_value}, {c.to_x, h.limit_value}}});
      if (h.limit == Limit::chip_max)
        c.series.push_back({SeriesRole::limit, "permitted", 0, {{0, h.limit_value}, {c.to_x, h.limit_value}}});
    }
    c.working = CurvePoint{*ae, *r_.h_ex_mm};
    fit(c, true);
    return c;
  }

  std::optional<Curve> force() const {
    if (process_for(m_.cutter(), cut_) != Process::milling) return std::nullopt;
    const auto input = m_.forces_of(cut_, r_.fz_mm, r_.h_m_mm);
    if (!input || !r_.force_peak_n) return std::nullopt;
    Curve c;
    c.kind = CurveKind::force;
    c.x_label = "Rotation angle";
    c.x = Quantity::angle;
    c.y = Quantity::force;
    c.to_x = 360;
    const TurnForces turn = forces_over_turn(*input, 360);
    const int count = static_cast<int>(turn.tooth.size());
    const auto degrees = [&](int i) { return 360.0 * i / count; };
    CurveSeries all{SeriesRole::main, "all teeth", 0, {}};
    for (int i = 0; i <= count; ++i) all.points.push_back({degrees(i), turn.all(i % turn.per_pitch()).across()});
    c.series.push_back(std::move(all));
    constexpr int most_teeth = 12;
    for (int j = 0; j < std::min(turn.teeth, most_teeth); ++j) {
      CurveSeries one{SeriesRole::tooth, "tooth", j + 1, {}};
      for (int i = 0; i <= count; i += 2) one.points.push_back({degrees(i), turn.of(j, i).across()});
      c.series.push_back(std::move(one));
    }
    c.series.push_back({SeriesRole::second, "mean", 0, {{0, *r_.force_mean_n}, {360, *r_.force_mean_n}}});
    c.band = now_.band;
    fit(c, true);
    return c;
  }

  std::optional<Curve> stability() const {
    const auto input = stability_input(m_, cut_, r_);
    if (!input || !r_.n_rpm || !cut_.ap_mm) return std::nullopt;
    Curve c = over_speed(CurveKind::stability, Quantity::length);
    c.from_x = std::max({m_.machine().min_rpm.value_or(0), c.to_x / 20, 1.0});
    const StabilityDiagram d = stability_lobes(*input, c.from_x, c.to_x);
    if (!(d.always_mm > 0)) return std::nullopt;
    // The stability pockets must stay visible; a cut far above them is shown at the edge.
    double pockets = 0;
    for (const double y : d.stable_mm)
      if (std::isfinite(y)) pockets = std::max(pockets, y);
    c.to_y = round_up(std::clamp(*cut_.ap_mm * 1.3, std::max(d.always_mm * 2.5, pockets * 0.6),
                                 std::max(d.always_mm * 3.5, pockets * 1.2)));
    c.damped_to_x = std::min(d.damped_below_rpm, c.to_x);
    CurveSeries envelope{SeriesRole::main, "stable below", 0, {}};
    for (std::size_t i = 0; i < d.stable_mm.size(); ++i) {
      const double n =
          d.from_rpm + (d.to_rpm - d.from_rpm) * static_cast<double>(i) / static_cast<double>(d.stable_mm.size() - 1);
      envelope.points.push_back({n, std::min(d.stable_mm[i], 4 * c.to_y)});
    }
    c.series.push_back(std::move(envelope));
    c.series.push_back({SeriesRole::second, "at any speed", 0, {{c.from_x, d.always_mm}, {c.to_x, d.always_mm}}});
    c.working = CurvePoint{*r_.n_rpm, *cut_.ap_mm};
    if (const auto limit = d.stable_at(*r_.n_rpm); limit && *limit < *cut_.ap_mm && *r_.n_rpm >= c.damped_to_x)
      c.better_x = d.nearest_stable_rpm(*r_.n_rpm, *cut_.ap_mm);
    return c;
  }

  const CutModel& m_;
  const Cut& cut_;
  const CutReport& now_;
  const CutResults& r_;
};

}  // namespace

template <>
std::span<const Choice> choices_of<CurveKind>() {
  return kinds;
}

std::optional<Curve> curve_of(CurveKind kind, const CutModel& model, const Cut& cut, const CutReport& now) {
  return Maker(model, cut, now).make(kind);
}

std::vector<Curve> curves_of(const CutModel& model, const Cut& cut, const CutReport& now) {
  std::vector<Curve> out;
  for (int kind = 0; kind <= static_cast<int>(CurveKind::stability); ++kind)
    if (auto curve = curve_of(static_cast<CurveKind>(kind), model, cut, now)) out.push_back(std::move(*curve));
  return out;
}

}  // namespace pecorra
