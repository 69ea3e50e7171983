#include "core/mechanics/cut_model.h"

#include <cmath>
#include <numbers>

#include "core/base/angle.h"
#include "core/mechanics/formulas.h"

namespace pecorra {
namespace {

using std::numbers::pi;
using namespace formulas;

// Friction and a worn tap bring the torque to about twice what the formula says, between half as much again for a sharp
// and two and a half times for a worn one; a web that is not thinned takes twice the thrust. Common practice, no
// source.
constexpr double tapping_friction = 2, unthinned_web = 2;
constexpr ForceBand tapping_band{1.5 / tapping_friction, 2.5 / tapping_friction};

// One zone of a hole tool: it widens the hole to this diameter by this much on the radius.
struct Zone {
  double diameter_mm = 0;
  double radial_mm = 0;  // half the diameter: from the full
  double sin_kappa = 1;
};

class Calculation {
 public:
  Calculation(const CutModel& model, const Cut& cut, Extent extent, CutReport& report)
      : model_(model),
        c_(model.cutter()),
        material_(model.material()),
        machine_(model.machine()),
        cut_(cut),
        extent_(extent),
        r_(report.results),
        process_(process_for(c_, cut)) {
    if (!c_.diameter_mm) return;
    speed();
    engagement();
    feed();
    chip();
    power();
    finish();
    if (extent_ != Extent::closed) forces();
    report.force = force_;
    report.thrust_factor = thrust_factor_;
    report.torque_factor = torque_factor_;
    if (cut_.worn_factor && process_ == Process::tapping && r_.mc_nm) report.band = tapping_band;
    else if (cut_.worn_factor && force_)
      report.band = ForceBand{force_->low / force_->middle, force_->high / force_->middle};
    // Values that are not finite are left out: extreme input gives no figure rather than nonsense.
    for (std::optional<double>* figure : {&r_.n_rpm,
                                          &r_.vc_m_min,
                                          &r_.fz_mm,
                                          &r_.fn_mm,
                                          &r_.vf_mm_min,
                                          &r_.d_eff_mm,
                                          &r_.engagement_deg,
                                          &r_.teeth_in_cut,
                                          &r_.h_ex_mm,
                                          &r_.h_m_mm,
                                          &r_.kc_n_mm2,
                                          &r_.q_cm3_min,
                                          &r_.pc_kw,
                                          &r_.motor_power_kw,
                                          &r_.mc_nm,
                                          &r_.thrust_n,
                                          &r_.force_mean_n,
                                          &r_.force_peak_n,
                                          &r_.deflection_mm,
                                          &r_.natural_frequency_hz,
                                          &r_.scallop_mm,
                                          &r_.feed_mark_mm,
                                          &r_.vf_centre_mm_min,
                                          &r_.ramp_angle_deg,
                                          &r_.bending_stress_n_mm2})
      if (*figure && !std::isfinite(**figure)) figure->reset();
    if (engagement_ && cut_.operation == OperationKind::face &&
        std::abs(cut_.offset_mm.value_or(0)) + *ae_ / 2 > *c_.diameter_mm / 2 * (1 + 1e-12))
      report.messages.push_back(
          {Severity::warning,
           "face_wider_than_cutter",
           "offset_mm",
           {{"ae_mm", *ae_}, {"offset_mm", cut_.offset_mm.value_or(0)}, {"diameter_mm", *c_.diameter_mm}}});
    judge(model, cut, process_, report);
    if (milling() && ae_ && cut_.corner_rad > 0) judge_worst(report);
  }

 private:
  bool milling() const { return process_ == Process::milling; }

  // The same limits at the tightest place of the path, beside those of the nominal cut.
  void judge_worst(CutReport& report) const {
    Cut worst = cut_;
    worst.corner_rad = 0;
    worst.ae_mm = width_in_corner_mm(*c_.diameter_mm, *ae_, cut_.corner_rad);
    if (!(*worst.ae_mm > *ae_ * (1 + 1e-9))) return;
    if (r_.n_rpm) worst.n_rpm = r_.n_rpm, worst.vc_m_min.reset();
    if (r_.fz_mm) worst.fz_mm = r_.fz_mm, worst.fn_mm.reset(), worst.vf_mm_min.reset(), worst.hex_mm.reset();
    const CutReport there = model_.at(worst, extent_ == Extent::all ? Extent::limits : extent_);
    for (Headroom& h : report.headroom)
      for (const Headroom& w : there.headroom)
        if (w.limit == h.limit && w.used > h.used * (1 + 1e-9)) h.worst_value = w.value, h.worst_used = w.used;
    std::stable_sort(report.headroom.begin(), report.headroom.end(),
                     [](const Headroom& a, const Headroom& b) { return a.tightest() > b.tightest(); });
  }

  void speed() {
    const CuttingForm form = declaration(c_.kind).form;
    if (milling() || form == CuttingForm::cone) {
      if (model_.edge())
        r_.d_eff_mm = effective_diameter_mm(*model_.edge(), cut_.ap_mm, radians(cut_.tilt_deg.value_or(0)),
                                            cut_.tip_offset_mm.value_or(0));
    } else {
      r_.d_eff_mm = c_.diameter_mm;
    }
    if (r_.d_eff_mm && *r_.d_eff_mm <= 0) r_.d_eff_mm.reset();
    r_.n_rpm = cut_.n_rpm;
    r_.vc_m_min = cut_.vc_m_min;
    if (!r_.d_eff_mm) return;
    if (cut_.vc_m_min) r_.n_rpm = spindle_speed_rpm(*cut_.vc_m_min, *r_.d_eff_mm);
    else if (cut_.n_rpm) r_.vc_m_min = cutting_speed_m_min(*cut_.n_rpm, *r_.d_eff_mm);
  }

  void engagement() {
    if (!milling()) return;
    ae_ = width_of(c_, cut_);
    if (!ae_) return;
    engagement_ = cut_engagement(model_, cut_, *ae_, r_.d_eff_mm);
    r_.engagement_deg = engagement_->angle() * 180 / pi;
    if (c_.flutes) r_.teeth_in_cut = *c_.flutes * engagement_->angle() / (2 * pi);
  }

 public:
  // Measured from the normal to the feed; a cone engages at the diameter it cuts with.
  static Engagement cut_engagement(const CutModel& model, const Cut& cut, double ae,
                                   const std::optional<double>& d_eff) {
    const double d = *model.cutter().diameter_mm;
    if (cut.operation == OperationKind::face) return face_engagement(ae, cut.offset_mm.value_or(0), d);
    const auto& edge = model.edge();
    return side_engagement(ae, edge && edge->form == CuttingForm::cone && d_eff && ae <= *d_eff ? *d_eff : d);
  }

  // The edge in contact: the chip formulas start at the lower end of a cone's contact.
  static std::optional<EdgeShape> shifted_edge(const CutModel& model, const Cut& cut) {
    std::optional<EdgeShape> edge = model.edge();
    if (edge && edge->form == CuttingForm::cone)
      edge->tip_diameter_mm += 2 * cut.tip_offset_mm.value_or(0) * std::tan(edge->half_angle_rad);
    return edge;
  }

 private:
  // Chip thickness for 1 mm of feed per tooth.
  std::optional<ChipRatio> ratio() const {
    if (milling()) {
      const auto edge = shifted_edge(model_, cut_);
      if (!edge || !engagement_ || (depth_shapes_chip(*edge) && !cut_.ap_mm)) return std::nullopt;
      return chip_ratio(*edge, *engagement_, cut_.ap_mm.value_or(0), *ae_, cut_.operation == OperationKind::face);
    }
    if (process_ == Process::tapping) return std::nullopt;
    const auto kappa = axial_angle_deg(c_);
    if (!kappa) return std::nullopt;
    const double sine = std::sin(radians(*kappa));
    return ChipRatio{sine, sine};
  }

  std::optional<int> teeth() const {
    if (c_.flutes) return c_.flutes;
    if (process_ == Process::drilling && declaration(c_.kind).form == CuttingForm::point) return 2;
    return std::nullopt;
  }

  void feed() {
    const auto z = teeth();
    ratio_ = ratio();
    if (process_ == Process::tapping) {
      r_.fn_mm = c_.pitch_mm ? c_.pitch_mm : cut_.fn_mm;
      if (!r_.fn_mm && cut_.fz_mm && z) r_.fn_mm = *cut_.fz_mm * *z;
      if (!r_.fn_mm && cut_.vf_mm_min && r_.n_rpm) r_.fn_mm = *cut_.vf_mm_min / *r_.n_rpm;
      if (r_.fn_mm && r_.n_rpm) r_.vf_mm_min = *r_.fn_mm * *r_.n_rpm;
      if (r_.fn_mm && z) r_.fz_mm = *r_.fn_mm / *z;
      return;
    }
    r_.fz_mm = cut_.fz_mm;
    r_.fn_mm = cut_.fn_mm;
    r_.vf_mm_min = cut_.vf_mm_min;
    if (cut_.hex_mm && ratio_ && ratio_->greatest > 0) r_.fz_mm = *cut_.hex_mm / ratio_->greatest;
    if (cut_.vf_mm_min && r_.n_rpm) r_.fn_mm = *cut_.vf_mm_min / *r_.n_rpm;
    if (r_.fn_mm && !r_.fz_mm && z) r_.fz_mm = *r_.fn_mm / *z;
    if (r_.fz_mm && !r_.fn_mm && z) r_.fn_mm = *r_.fz_mm * *z;
    if (!r_.vf_mm_min && r_.fn_mm && r_.n_rpm) r_.vf_mm_min = *r_.fn_mm * *r_.n_rpm;
    if (cut_.path_diameter_mm && milling()) circular_path();
  }

  // 14 (geometry)
  void circular_path() {
    const double dm = *cut_.path_diameter_mm;
    const double across =
        dm + (cut_.path_side == PathSide::external ? *c_.diameter_mm : -*c_.diameter_mm);  // of the centre's circle
    if (across <= 0) return;
    if (r_.vf_mm_min) r_.vf_centre_mm_min = *r_.vf_mm_min * across / dm;
    const bool helical = cut_.operation == OperationKind::thread_mill || cut_.operation == OperationKind::helix;
    if (c_.pitch_mm && helical) r_.ramp_angle_deg = std::atan(*c_.pitch_mm / (pi * across)) * 180 / pi;
  }

  void chip() {
    if (!ratio_ || !r_.fz_mm) return;
    r_.h_ex_mm = *r_.fz_mm * ratio_->greatest;
    r_.h_m_mm = *r_.fz_mm * ratio_->mean;
  }

  std::optional<double> radial_depth_mm() const {
    if (process_ != Process::enlarging && !(process_ == Process::drilling && cut_.bore_before_mm)) return std::nullopt;
    if (cut_.bore_before_mm && *cut_.bore_before_mm < *c_.diameter_mm)
      return (*c_.diameter_mm - *cut_.bore_before_mm) / 2;
    return process_ == Process::enlarging ? cut_.ap_mm : std::nullopt;
  }

  // The zones that a hole tool cuts in, from the middle outwards (formula 12, each zone with its own angle).
  std::vector<Zone> zones() const {
    const double d = *c_.diameter_mm, sine = ratio_ ? ratio_->greatest : 1;
    if (const auto ap = radial_depth_mm()) return {{d, *ap, sine}};
    if (process_ != Process::drilling) return {};
    // A cone's hole is only as wide as its depth allows.
    if (declaration(c_.kind).form == CuttingForm::cone && r_.d_eff_mm) return {{*r_.d_eff_mm, *r_.d_eff_mm / 2, sine}};
    const bool stepped = (c_.kind == CutterKind::step_drill || c_.kind == CutterKind::centre_drill) &&
                         c_.step_diameter_mm && *c_.step_diameter_mm < d;
    if (!stepped) return {{d, d / 2, sine}};
    const double step = *c_.step_diameter_mm, step_sine = std::sin(radians(c_.step_angle_deg.value_or(90) / 2));
    const double pilot_sine = c_.point_angle_deg ? std::sin(radians(*c_.point_angle_deg / 2)) : sine;
    return {{step, step / 2, pilot_sine}, {d, (d - step) / 2, step_sine}};
  }

  void power() {
    const double d = *c_.diameter_mm;
    if (r_.h_m_mm) force_ = model_.force_at(cut_, *r_.h_m_mm);
    if (force_) r_.kc_n_mm2 = force_->middle;
    if (milling()) {
      if (cut_.ap_mm && ae_ && r_.vf_mm_min) r_.q_cm3_min = milling_rate_cm3_min(*cut_.ap_mm, *ae_, *r_.vf_mm_min);
      if (r_.q_cm3_min && r_.kc_n_mm2) r_.pc_kw = power_kw(*r_.q_cm3_min, *r_.kc_n_mm2);
    } else if (process_ == Process::tapping) {
      if (r_.fn_mm && material_.kc11_n_mm2) {
        if (cut_.worn_factor) torque_factor_ = tapping_friction;
        r_.mc_nm = (c_.tap_form == TapForm::form ? 1.8 : 1.0) * torque_factor_ *
                   tapping_torque_nm(*r_.fn_mm, d, *material_.kc11_n_mm2);
        if (r_.n_rpm) r_.pc_kw = power_of_torque_kw(*r_.mc_nm, *r_.n_rpm);
      }
    } else if (r_.fn_mm && r_.n_rpm) {
      double rate = 0, pc = 0, thrust = 0;
      const std::vector<Zone> all = zones();
      for (const Zone& zone : all) {
        const double vc = cutting_speed_m_min(*r_.n_rpm, zone.diameter_mm);
        const bool full = zone.radial_mm >= zone.diameter_mm / 2;
        const double part = full ? drilling_rate_cm3_min(zone.diameter_mm, *r_.fn_mm, vc)
                                 : enlarging_rate_cm3_min(zone.diameter_mm, zone.radial_mm, *r_.fn_mm, vc);
        rate += part;
        if (!r_.kc_n_mm2) continue;
        const double kc = all.size() == 1 ? *r_.kc_n_mm2 : model_.force_at(cut_, *r_.fz_mm * zone.sin_kappa)->middle;
        pc += power_kw(part, kc);
        thrust += thrust_n(kc, zone.radial_mm, *r_.fn_mm, zone.sin_kappa);
      }
      if (!all.empty()) {
        r_.q_cm3_min = rate;
        if (r_.kc_n_mm2) r_.pc_kw = pc;
        if (r_.kc_n_mm2 && process_ == Process::drilling) {
          if (cut_.worn_factor && declaration(c_.kind).form == CuttingForm::point && !is_web_thinned(c_))
            thrust_factor_ = unthinned_web;
          r_.thrust_n = thrust * thrust_factor_;
        }
      }
    }
    if (r_.pc_kw && machine_.efficiency) r_.motor_power_kw = *r_.pc_kw / *machine_.efficiency;
    if (r_.pc_kw && r_.n_rpm && !r_.mc_nm) r_.mc_nm = torque_nm(*r_.pc_kw, *r_.n_rpm);
  }

  void finish() {
    if (!milling()) return;
    const auto& edge = model_.edge();
    const double r = edge ? edge->corner_radius_mm : 0;
    const double arc = c_.kind == CutterKind::barrel ? c_.profile_radius_mm.value_or(0) : r;
    if (arc > 0 && ae_ && *ae_ <= 2 * arc) r_.scallop_mm = scallop_mm(arc, *ae_);
    if (r_.fz_mm) r_.feed_mark_mm = r > 0 ? corner_mark_mm(*r_.fz_mm, r) : side_mark_mm(*r_.fz_mm, *c_.diameter_mm);
  }

  void forces() {
    if (milling()) {
      if (const auto input = model_.forces_of(cut_, r_.fz_mm, r_.h_m_mm)) {
        const ForceFigures f = force_figures(*input);
        r_.force_mean_n = f.mean_n;
        r_.force_peak_n = f.peak_n;
      }
    } else if (process_ == Process::enlarging && teeth() == 1 && r_.kc_n_mm2 && r_.fn_mm) {
      // A single edge is not balanced by others: its tangential and radial force turn with it.
      if (const auto ap = radial_depth_mm())
        r_.force_mean_n = r_.force_peak_n = *r_.kc_n_mm2 * *ap * *r_.fn_mm * std::hypot(1, outward_share);
    }
    const bool loaded = cut_.tip_load_n || r_.force_peak_n;
    if (!loaded && extent_ != Extent::all) return;
    const auto& tip = model_.tip();
    if (!tip) return;
    const double load = cut_.tip_load_n ? *cut_.tip_load_n : r_.force_peak_n.value_or(0);
    const double place = milling() && !cut_.tip_load_n ? cut_.ap_mm.value_or(0) / 2 : 0;
    if (load > 0) {
      r_.deflection_mm = pecorra::deflection_mm(*tip, model_.assembly(), load, place);
      if (cut_.bending_safety) r_.bending_stress_n_mm2 = bending_stress_n_mm2(tip->beam, load, place);
    }
    if (extent_ == Extent::all && model_.mode().frequency_hz > 0) r_.natural_frequency_hz = model_.mode().frequency_hz;
  }

  const CutModel& model_;
  const Cutter& c_;
  const WorkMaterial& material_;
  const Machine& machine_;
  const Cut& cut_;
  Extent extent_;
  CutResults& r_;
  Process process_;
  std::optional<double> ae_;
  std::optional<Engagement> engagement_;
  std::optional<ChipRatio> ratio_;
  std::optional<ForcePoint> force_;
  double thrust_factor_ = 1, torque_factor_ = 1;
};

}  // namespace

std::optional<double> axial_angle_deg(const Cutter& c) {
  switch (declaration(c.kind).form) {
    case CuttingForm::cone: return half_angle_deg(c);
    case CuttingForm::point: return edge_angle_deg(c);
    default:
      if (c.cutting_edge_angle_deg) return c.cutting_edge_angle_deg;
      return c.point_angle_deg ? *c.point_angle_deg / 2 : 90;
  }
}

Process process_for(const Cutter& cutter, const Cut& cut) {
  if (cut.operation) return process_of(*cut.operation);
  switch (cutter.kind) {
    case CutterKind::drill:
    case CutterKind::step_drill:
    case CutterKind::spot_drill:
    case CutterKind::centre_drill: return Process::drilling;
    case CutterKind::countersink:
    case CutterKind::counterbore:
    case CutterKind::reamer:
    case CutterKind::boring_bar:
    case CutterKind::back_boring_bar: return Process::enlarging;
    case CutterKind::tap: return Process::tapping;
    default: return Process::milling;
  }
}

std::optional<double> circular_width_mm(double d, const Cut& cut) {
  if (!cut.path_diameter_mm || !cut.bore_before_mm) return std::nullopt;
  const double dm = *cut.path_diameter_mm, dw = *cut.bore_before_mm;
  const bool outside = cut.path_side == PathSide::external;
  const double width = outside ? (dw * dw - dm * dm) / (4 * (dm + d)) : (dm * dm - dw * dw) / (4 * (dm - d));
  if (width <= 0) return std::nullopt;
  return std::min(width, d);
}

double width_in_corner_mm(double d, double ae, double corner_rad) {
  const double arc = std::min(pi, side_engagement(ae, d).angle() + corner_rad);
  return std::min(d, d / 2 * (1 - std::cos(arc)));
}

std::optional<double> width_of(const Cutter& cutter, const Cut& cut) {
  if (cut.ae_mm) return cut.ae_mm;
  if (const auto width = circular_width_mm(*cutter.diameter_mm, cut)) return width;
  if (cut.operation == OperationKind::slot) return cutter.diameter_mm;
  return std::nullopt;
}

CutModel::CutModel(const Cutter& cutter, const Assembly& assembly, const WorkMaterial& material, const Machine& machine)
    : cutter_(cutter),
      assembly_(assembly),
      material_(material),
      machine_(machine),
      law_(material),
      edge_(edge_shape(cutter)) {}

CutReport CutModel::at(const Cut& cut, Extent extent) const {
  CutReport report;
  Calculation(*this, cut, extent, report);
  return report;
}

const std::optional<TipDynamics>& CutModel::tip() const {
  if (!tip_known_) tip_ = tip_dynamics(cutter_, assembly_);
  tip_known_ = true;
  return tip_;
}

const BeamMode& CutModel::mode() const {
  if (!mode_known_ && tip()) mode_ = mode_of(*tip(), assembly_);
  mode_known_ = true;
  return mode_;
}

std::optional<Engagement> CutModel::arc_of(const Cut& cut) const {
  if (!cutter_.diameter_mm || process_for(cutter_, cut) != Process::milling) return std::nullopt;
  const auto ae = width_of(cutter_, cut);
  if (!ae) return std::nullopt;
  std::optional<double> d_eff;
  if (edge_) d_eff = effective_diameter_mm(*edge_, cut.ap_mm, 0, cut.tip_offset_mm.value_or(0));
  Engagement arc = Calculation::cut_engagement(*this, cut, *ae, d_eff);
  if (cut.operation != OperationKind::face && !cut.conventional) arc = {pi - arc.to_rad, pi - arc.from_rad};
  return arc;
}

std::optional<ForcePoint> CutModel::force_at(const Cut& cut, double hm_mm) const {
  const double rake = cutter_.rake_deg ? rake_factor(*cutter_.rake_deg, material_.rake_ref_deg.value_or(0)) : 1;
  if (cut.worn_factor) return law_.is_known() ? std::optional(law_.at(hm_mm, rake, *cut.worn_factor)) : std::nullopt;
  if (!material_.kc11_n_mm2 || !material_.mc) return std::nullopt;
  ForcePoint p;
  p.kc11 = *material_.kc11_n_mm2 * rake * cut.wear_factor.value_or(1);
  p.mc = *material_.mc;
  p.low = p.middle = p.high = specific_force_n_mm2(p.kc11, p.mc, hm_mm);
  p.kienzle = p.middle / cut.wear_factor.value_or(1);
  return p;
}

std::optional<ForceInput> CutModel::forces_of(const Cut& cut, const std::optional<double>& fz_mm,
                                              const std::optional<double>& hm_mm) const {
  const auto arc = arc_of(cut);
  const auto edge = Calculation::shifted_edge(*this, cut);
  const auto force = force_at(cut, hm_mm.value_or(0));
  if (!arc || !edge || !cut.ap_mm || !cutter_.flutes || !fz_mm || !force) return std::nullopt;
  ForceInput in;
  in.pieces = edge_pieces(*edge, *cut.ap_mm);
  in.teeth = *cutter_.flutes;
  in.fz_mm = *fz_mm;
  in.mean_chip_mm = hm_mm.value_or(0);
  in.kc11_n_mm2 = force->kc11;
  in.mc = force->mc;
  in.helix_rad = radians(cutter_.helix_deg.value_or(0));
  in.lag_radius_mm = *cutter_.diameter_mm / 2;
  in.ae_mm = *width_of(cutter_, cut);
  in.facing = cut.operation == OperationKind::face;
  in.face = *arc;
  in.conventional = cut.conventional;
  return in;
}

}  // namespace pecorra
