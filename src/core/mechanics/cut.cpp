#include "core/mechanics/cut.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/mechanics/chip.h"

namespace pecorra {
namespace {

using std::numbers::pi;
using enum Quantity;

constexpr Choice side_choices[] = {{"internal", "inside"}, {"external", "outside"}};
constexpr Choice limit_choices[] = {{"spindle_speed", "Spindle speed"}, {"cutter_speed", "Cutter speed"},
                                    {"table_feed", "Table feed"}, {"spindle_power", "Spindle power"},
                                    {"spindle_torque", "Spindle torque"}, {"chip_max", "Chip thickness"},
                                    {"chip_min", "Rubbing"}, {"deflection", "Deflection"},
                                    {"flute_length", "Flute length"}, {"reach", "Reach"},
                                    {"workholding", "Workholding"}};

const std::array cut_list{
    field<&Cut::operation>("operation", "", "Operation", choice, "What is done"),
    field<&Cut::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, "At the effective diameter").above(0),
    field<&Cut::n_rpm>("n_rpm", "n", "Spindle speed", spindle_speed, "").above(0),
    field<&Cut::fz_mm>("fz_mm", "fz", "Feed per tooth", feed_per_tooth, "").above(0),
    field<&Cut::fn_mm>("fn_mm", "fn", "Feed per revolution", feed_per_tooth, "").above(0),
    field<&Cut::vf_mm_min>("vf_mm_min", "vf", "Table feed", table_feed, "").above(0),
    field<&Cut::hex_mm>("hex_mm", "hex", "Greatest chip thickness", feed_per_tooth, "").above(0),
    field<&Cut::ap_mm>("ap_mm", "ap", "Depth of cut", length, "Along the axis; on the radius when enlarging").above(0),
    field<&Cut::ae_mm>("ae_mm", "ae", "Width of cut", length, "").above(0),
    field<&Cut::tilt_deg>("tilt_deg", "β", "Tilt", angle, "Of a ball from the surface normal").within(-90, 90),
    field<&Cut::tip_offset_mm>("tip_offset_mm", "", "Tip offset", length, "From the tip to the contact of a cone")
        .within(0, 1e6),
    field<&Cut::wear_factor>("wear_factor", "", "Wear factor", number, "1 is a sharp edge").above(0),
    field<&Cut::tip_load_n>("tip_load_n", "", "Tip load", force, "Deflection under this load").above(0),
    field<&Cut::offset_mm>("offset_mm", "", "Offset", length, "Cutter centre from the middle of a face"),
    field<&Cut::path_diameter_mm>("path_diameter_mm", "Dm", "Machined diameter", length, "Of a circular path").above(0),
    field<&Cut::bore_before_mm>("bore_before_mm", "Dw", "Diameter before", length, "Of the bore or boss").above(0),
    field<&Cut::permitted_deflection_mm>("permitted_deflection_mm", "", "Permitted deflection", length, "").above(0),
    field<&Cut::path_side>("path_side", "", "Path side", choice, "Inside or outside")};

const std::array result_list{
    field<&CutResults::n_rpm>("n_rpm", "n", "Spindle speed", spindle_speed, "Formula 1"),
    field<&CutResults::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, "Formula 1"),
    field<&CutResults::fz_mm>("fz_mm", "fz", "Feed per tooth", feed_per_tooth, "Formula 2"),
    field<&CutResults::fn_mm>("fn_mm", "fn", "Feed per revolution", feed_per_tooth, "Formula 2"),
    field<&CutResults::vf_mm_min>("vf_mm_min", "vf", "Table feed", table_feed, "Formula 2"),
    field<&CutResults::d_eff_mm>("d_eff_mm", "Deff", "Effective diameter", length, "Formula 3"),
    field<&CutResults::engagement_deg>("engagement_deg", "φ", "Engagement", angle, "Formula 4"),
    field<&CutResults::teeth_in_cut>("teeth_in_cut", "", "Teeth in cut", number, "Formula 4"),
    field<&CutResults::h_ex_mm>("h_ex_mm", "hex", "Greatest chip", feed_per_tooth, "Formula 5"),
    field<&CutResults::h_m_mm>("h_m_mm", "hm", "Mean chip", feed_per_tooth, "Formula 5"),
    field<&CutResults::kc_n_mm2>("kc_n_mm2", "kc", "Specific cutting force", stress, "Formula 7"),
    field<&CutResults::q_cm3_min>("q_cm3_min", "Q", "Removal rate", number, "Formula 8"),
    field<&CutResults::pc_kw>("pc_kw", "Pc", "Cutting power", power, "Formula 9"),
    field<&CutResults::motor_power_kw>("motor_power_kw", "P", "Motor power", power, "Formula 9"),
    field<&CutResults::mc_nm>("mc_nm", "Mc", "Torque", torque, "Formula 10"),
    field<&CutResults::thrust_n>("thrust_n", "Ff", "Thrust", force, "Formula 12"),
    field<&CutResults::force_mean_n>("force_mean_n", "", "Mean force", force, "Formula 11"),
    field<&CutResults::force_peak_n>("force_peak_n", "", "Peak force", force, "Formula 11"),
    field<&CutResults::deflection_mm>("deflection_mm", "", "Deflection", length, "Formula 17"),
    field<&CutResults::natural_frequency_hz>("natural_frequency_hz", "", "Natural frequency", number, "Formula 18"),
    field<&CutResults::scallop_mm>("scallop_mm", "", "Scallop", length, "Formula 16"),
    field<&CutResults::feed_mark_mm>("feed_mark_mm", "", "Feed mark", length, "Formula 16"),
    field<&CutResults::vf_centre_mm_min>("vf_centre_mm_min", "", "Feed of the centre", table_feed, "Formula 14")};

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

// Formula 14: width of cut on a circle, from the bore or boss before.
std::optional<double> circular_width_mm(double d, const Cut& cut) {
  if (!cut.path_diameter_mm || !cut.bore_before_mm) return std::nullopt;
  const double dm = *cut.path_diameter_mm, dw = *cut.bore_before_mm;
  const bool outside = cut.path_side == PathSide::external;
  const double width = outside ? (dw * dw - dm * dm) / (4 * (dm + d)) : (dm * dm - dw * dw) / (4 * (dm - d));
  if (width <= 0) return std::nullopt;
  return std::min(width, d);
}

class Calculation {
 public:
  Calculation(const Cutter& cutter, const WorkMaterial& material, const Machine& machine, const Cut& cut,
              CutReport& report)
      : c_(cutter), material_(material), machine_(machine), cut_(cut), report_(report), r_(report.results),
        process_(process_for(cutter, cut)) {}

  void run() {
    if (!c_.diameter_mm) return;
    speed();
    engagement();
    feed();
    chip();
    power();
    finish();
    headroom();
  }

 private:
  void speed() {
    const double tilt = cut_.tilt_deg.value_or(0) * pi / 180;
    if (process_ == Process::milling || declaration(c_.kind).form == CuttingForm::cone) {
      edge_ = edge_shape(c_);
      if (edge_) r_.d_eff_mm = effective_diameter_mm(*edge_, cut_.ap_mm, tilt, cut_.tip_offset_mm.value_or(0));
      if (edge_ && edge_->form == CuttingForm::cone)  // the chip formulas start at the lower end of the contact
        edge_->tip_diameter_mm += 2 * cut_.tip_offset_mm.value_or(0) * std::tan(edge_->half_angle_rad);
    } else {
      r_.d_eff_mm = c_.diameter_mm;
    }
    if (r_.d_eff_mm && *r_.d_eff_mm <= 0) r_.d_eff_mm.reset();
    r_.n_rpm = cut_.n_rpm;
    r_.vc_m_min = cut_.vc_m_min;
    if (!r_.d_eff_mm) return;
    if (cut_.vc_m_min) r_.n_rpm = 1000 * *cut_.vc_m_min / (pi * *r_.d_eff_mm);
    else if (cut_.n_rpm) r_.vc_m_min = pi * *r_.d_eff_mm * *cut_.n_rpm / 1000;
  }

  void engagement() {
    if (process_ != Process::milling) return;
    const double d = *c_.diameter_mm;
    ae_ = cut_.ae_mm;
    if (!ae_) ae_ = circular_width_mm(d, cut_);
    if (!ae_ && cut_.operation == OperationKind::slot) ae_ = d;
    if (!ae_) return;
    facing_ = cut_.operation == OperationKind::face;
    const double reference = edge_ && edge_->form == CuttingForm::cone && r_.d_eff_mm && *ae_ <= *r_.d_eff_mm
                                 ? *r_.d_eff_mm : d;
    engagement_ = facing_ ? face_engagement(*ae_, cut_.offset_mm.value_or(0), d) : side_engagement(*ae_, reference);
    r_.engagement_deg = engagement_->angle() * 180 / pi;
    if (c_.flutes) r_.teeth_in_cut = *c_.flutes * engagement_->angle() / (2 * pi);
    if (facing_ && std::abs(cut_.offset_mm.value_or(0)) + *ae_ / 2 > d / 2 * (1 + 1e-12))
      report_.messages.push_back({Severity::warning, "face_wider_than_cutter", "offset_mm",
                                  {{"ae_mm", *ae_}, {"offset_mm", cut_.offset_mm.value_or(0)}, {"diameter_mm", d}}});
  }

  // Chip thickness for 1 mm of feed per tooth.
  std::optional<ChipRatio> ratio() const {
    if (process_ == Process::milling) {
      if (!edge_ || !engagement_) return std::nullopt;
      const bool whole_edge = edge_->form == CuttingForm::ball || edge_->form == CuttingForm::corner ||
                              edge_->form == CuttingForm::cone;
      if (whole_edge && !cut_.ap_mm) return std::nullopt;
      return chip_ratio(*edge_, *engagement_, cut_.ap_mm.value_or(0), *ae_, facing_);
    }
    if (process_ == Process::tapping) return std::nullopt;
    // Fed along the axis the angle that counts lies between edge and axis.
    std::optional<double> kappa;
    switch (declaration(c_.kind).form) {
      case CuttingForm::cone: kappa = half_angle_deg(c_); break;
      case CuttingForm::point: kappa = edge_angle_deg(c_); break;
      default:
        kappa = c_.cutting_edge_angle_deg;
        if (!kappa && c_.point_angle_deg) kappa = *c_.point_angle_deg / 2;
        if (!kappa) kappa = 90;
    }
    if (!kappa) return std::nullopt;
    const double sine = std::sin(*kappa * pi / 180);
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
    if (r_.vf_mm_min && cut_.path_diameter_mm && process_ == Process::milling) {
      const double dm = *cut_.path_diameter_mm;
      const double change = cut_.path_side == PathSide::external ? *c_.diameter_mm : -*c_.diameter_mm;
      if (dm + change > 0) r_.vf_centre_mm_min = *r_.vf_mm_min * (dm + change) / dm;
    }
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

  void power() {
    const double d = *c_.diameter_mm;
    const double wear = cut_.wear_factor.value_or(1);
    if (r_.h_m_mm && material_.kc11_n_mm2 && material_.mc)
      r_.kc_n_mm2 = specific_cutting_force_n_mm2(*material_.kc11_n_mm2, *material_.mc, *r_.h_m_mm, c_.rake_deg,
                                                 material_.rake_ref_deg.value_or(0), wear);
    if (process_ == Process::milling) {
      if (cut_.ap_mm && ae_ && r_.vf_mm_min) r_.q_cm3_min = *cut_.ap_mm * *ae_ * *r_.vf_mm_min / 1000;
      if (r_.q_cm3_min && r_.kc_n_mm2) r_.pc_kw = *r_.q_cm3_min * *r_.kc_n_mm2 / 60e3;
    } else if (process_ == Process::tapping) {
      if (r_.fn_mm && material_.kc11_n_mm2) {
        const double forming = c_.tap_form == TapForm::form ? 1.8 : 1.0;
        r_.mc_nm = forming * *r_.fn_mm * *r_.fn_mm * d * *material_.kc11_n_mm2 / 8000;
        if (r_.n_rpm) r_.pc_kw = *r_.mc_nm * pi * *r_.n_rpm / 30000;
      }
    } else if (r_.fn_mm && r_.n_rpm) {
      const double vc = pi * d * *r_.n_rpm / 1000;
      if (const auto ap = radial_depth_mm()) {
        const double shape = *ap * (1 - *ap / d);
        r_.q_cm3_min = *r_.fn_mm * vc * shape;
        if (r_.kc_n_mm2) r_.pc_kw = *r_.fn_mm * vc * shape * *r_.kc_n_mm2 / 60e3;
      } else if (process_ == Process::drilling) {
        r_.q_cm3_min = d * *r_.fn_mm * vc / 4;
        if (r_.kc_n_mm2) r_.pc_kw = *r_.fn_mm * vc * d * *r_.kc_n_mm2 / 240e3;
      }
      if (process_ == Process::drilling && r_.kc_n_mm2 && ratio_)
        r_.thrust_n = 0.5 * *r_.kc_n_mm2 * d / 2 * *r_.fn_mm * ratio_->greatest;
    }
    if (r_.pc_kw && machine_.efficiency) r_.motor_power_kw = *r_.pc_kw / *machine_.efficiency;
    if (r_.pc_kw && r_.n_rpm && !r_.mc_nm) r_.mc_nm = 30000 * *r_.pc_kw / (pi * *r_.n_rpm);
  }

  void finish() {
    if (process_ != Process::milling) return;
    const double d = *c_.diameter_mm;
    const double r = edge_ ? edge_->corner_radius_mm : 0;
    if (r > 0 && ae_ && *ae_ <= 2 * r) r_.scallop_mm = r - std::sqrt(r * r - *ae_ * *ae_ / 4);
    if (r_.fz_mm) r_.feed_mark_mm = r > 0 ? *r_.fz_mm * *r_.fz_mm / (8 * r) : *r_.fz_mm * *r_.fz_mm / (4 * d);
  }

  void add(Limit limit, const std::optional<double>& value, const std::optional<double>& limit_value,
           Quantity quantity, bool lower = false) {
    if (!value || !limit_value || *limit_value <= 0 || (lower && *value <= 0)) return;
    report_.headroom.push_back({limit, *value, *limit_value, lower ? *limit_value / *value : *value / *limit_value,
                                quantity, lower});
  }

  void headroom() {
    const bool too_slow = r_.n_rpm && machine_.min_rpm &&
                          *machine_.min_rpm / *r_.n_rpm > (machine_.max_rpm ? *r_.n_rpm / *machine_.max_rpm : 0);
    if (too_slow) add(Limit::spindle_speed, r_.n_rpm, machine_.min_rpm, spindle_speed, true);
    else add(Limit::spindle_speed, r_.n_rpm, machine_.max_rpm, spindle_speed);
    add(Limit::cutter_speed, r_.n_rpm, c_.max_rpm, spindle_speed);
    if (const GreatestFeed most = greatest_feed(machine_, process_ != Process::milling, material_.group); most.by != FeedLimit::none)
      add(Limit::table_feed, r_.vf_mm_min, most.mm_min, table_feed);
    if (r_.n_rpm)
      add(Limit::spindle_power, r_.motor_power_kw, power_at_kw(machine_.power_curve, *r_.n_rpm), Quantity::power);
    add(Limit::spindle_torque, r_.mc_nm, machine_.max_torque_nm, torque);
    // Along the axis the thrust; else what the torque takes at the edge with 0.3 of it outwards, on average over a turn.
    if (process_ != Process::milling) add(Limit::workholding, r_.thrust_n, machine_.max_holding_n, force);
    else if (r_.mc_nm && r_.d_eff_mm) add(Limit::workholding, *r_.mc_nm * 2000 / *r_.d_eff_mm * std::hypot(1, 0.3), machine_.max_holding_n, force);
    // The edge that runs out the most takes what the others leave.
    const double runout = process_ == Process::milling && c_.flutes.value_or(1) > 1 ? c_.runout_mm.value_or(0) : 0;
    add(Limit::chip_max, r_.h_ex_mm ? std::optional(*r_.h_ex_mm + runout) : std::nullopt, c_.max_chip_mm, feed_per_tooth);
    if (r_.h_ex_mm && runout > *r_.h_ex_mm)
      report_.messages.push_back({Severity::warning, "runout_over_chip", "", {{"runout_mm", runout}, {"chip_mm", *r_.h_ex_mm}}});
    if (process_ != Process::tapping)
      add(Limit::chip_min, r_.h_ex_mm,
          c_.edge_radius_mm ? c_.edge_radius_mm : usual_edge_radius_mm(c_.tool_material), feed_per_tooth, true);
    if (process_ == Process::milling) {
      add(Limit::flute_length, cut_.ap_mm, c_.flute_length_mm, length);
      add(Limit::reach, cut_.ap_mm, c_.reach_mm, length);
    }
    std::stable_sort(report_.headroom.begin(), report_.headroom.end(),
                     [](const Headroom& a, const Headroom& b) { return a.used > b.used; });
    static constexpr std::pair<Limit, const char*> said[] = {{Limit::chip_min, "below_min_chip"},
                                                             {Limit::flute_length, "depth_over_flutes"},
                                                             {Limit::reach, "depth_over_reach"},
                                                             {Limit::spindle_power, "over_power"},
                                                             {Limit::spindle_torque, "over_torque"},
                                                             {Limit::workholding, "over_workholding"},
                                                             {Limit::chip_max, "over_max_chip"},
                                                             {Limit::spindle_speed, "outside_spindle_speed"},
                                                             {Limit::cutter_speed, "over_cutter_speed"},
                                                             {Limit::table_feed, "over_table_feed"}};
    for (const Headroom& h : report_.headroom) {
      if (h.used <= 1 + 1e-9) break;
      // For a short time it bears more.
      if (h.limit == Limit::spindle_power)
        if (const auto peak = power_at_kw(machine_.peak_curve, *r_.n_rpm); peak && h.value <= *peak) {
          report_.messages.push_back({Severity::warning, "over_continuous_power", "", {{"value", h.value}, {"limit", h.limit_value}, {"peak", *peak}}});
          continue;
        }
      for (const auto& [limit, code] : said)
        if (limit == h.limit)
          report_.messages.push_back(
              {Severity::warning, code, "", {{"value", h.value}, {"limit", h.limit_value}, {"used", h.used}}});
    }
  }

  const Cutter& c_;
  const WorkMaterial& material_;
  const Machine& machine_;
  const Cut& cut_;
  CutReport& report_;
  CutResults& r_;
  Process process_;
  std::optional<EdgeShape> edge_;
  std::optional<double> ae_;
  std::optional<Engagement> engagement_;
  std::optional<ChipRatio> ratio_;
  bool facing_ = false;
};

bool differ(double a, double b) { return std::abs(a - b) > 1e-6 * std::max({1.0, std::abs(a), std::abs(b)}); }

}  // namespace

template <> std::span<const Choice> choices_of<PathSide>() { return side_choices; }
template <> std::span<const Choice> choices_of<Limit>() { return limit_choices; }
template <> std::span<const Property<Cut>> properties<Cut>() { return cut_list; }
template <> std::span<const Property<CutResults>> properties<CutResults>() { return result_list; }

double specific_cutting_force_n_mm2(double kc11, double mc, double hm, std::optional<double> rake, double rake_ref,
                                    double wear) {
  const double correction = rake ? 1 - (*rake - rake_ref) / 100 : 1;
  return kc11 * std::pow(std::max(hm, 0.001), -mc) * correction * wear;
}

CutReport compute_cut(const Cutter& cutter, std::optional<double> stickout_mm, const WorkMaterial& material,
                      const Machine& machine, const Cut& cut) {
  static_cast<void>(stickout_mm);
  CutReport report;
  Calculation(cutter, material, machine, cut, report).run();
  // What is not finite cannot be told; extreme input leaves a figure out rather than printing nonsense.
  for (const Property<CutResults>& property : properties<CutResults>()) {
    const auto value = number_of(report.results, property);
    if (value && !std::isfinite(*value)) property.set(report.results, std::monostate{});
  }
  std::erase_if(report.headroom, [](const Headroom& h) { return !std::isfinite(h.used) || !std::isfinite(h.value); });
  return report;
}

std::vector<Message> check_cut(const Cutter& cutter, const Cut& cut) {
  std::vector<Message> faults;
  auto add = [&](const char* code, const char* property, Details values = {}) {
    faults.push_back({Severity::error, code, property, std::move(values)});
  };
  const int speeds = cut.vc_m_min.has_value() + cut.n_rpm.has_value();
  if (speeds != 1) add(speeds == 0 ? "speed_missing" : "speed_twice", "cut.vc_m_min");
  const int feeds = cut.fz_mm.has_value() + cut.fn_mm.has_value() + cut.vf_mm_min.has_value() + cut.hex_mm.has_value();
  if (feeds != 1) add(feeds == 0 ? "feed_missing" : "feed_twice", "cut.fz_mm");

  const CuttingForm form = declaration(cutter.kind).form;
  if (form == CuttingForm::cone) {
    std::vector<double> halves;
    if (cutter.taper_half_angle_deg) halves.push_back(*cutter.taper_half_angle_deg);
    if (cutter.point_angle_deg) halves.push_back(*cutter.point_angle_deg / 2);
    if (cutter.cutting_edge_angle_deg) halves.push_back(90 - *cutter.cutting_edge_angle_deg);
    for (std::size_t i = 1; i < halves.size(); ++i)
      if (differ(halves[0], halves[i])) {
        add("angles_contradict", "cutter.point_angle_deg", {{"first_deg", halves[0]}, {"second_deg", halves[i]}});
        break;
      }
    if (const auto half = half_angle_deg(cutter); half && *half >= 90)
      add("cone_is_flat", "cutter.point_angle_deg", {{"half_deg", *half}});
  }
  if (!cutter.diameter_mm) return faults;
  const double d = *cutter.diameter_mm;
  if (cut.ae_mm && *cut.ae_mm > d) add("width_over_diameter", "cut.ae_mm", {{"ae_mm", *cut.ae_mm}, {"diameter_mm", d}});
  if (cut.path_diameter_mm && cut.path_side != PathSide::external && *cut.path_diameter_mm <= d)
    add("path_too_narrow", "cut.path_diameter_mm", {{"path_mm", *cut.path_diameter_mm}, {"diameter_mm", d}});
  if (cutter.corner_radius_mm && *cutter.corner_radius_mm > d / 2 * (1 + 1e-12))
    add("corner_radius_over_half", "cutter.corner_radius_mm",
        {{"radius_mm", *cutter.corner_radius_mm}, {"half_mm", d / 2}});
  if (cutter.tip_diameter_mm && *cutter.tip_diameter_mm > d)
    add("tip_over_diameter", "cutter.tip_diameter_mm", {{"tip_mm", *cutter.tip_diameter_mm}, {"diameter_mm", d}});
  if (cutter.kind == CutterKind::tap || cut.operation == OperationKind::tap) {
    const double pitch = cutter.pitch_mm.value_or(0);
    if (pitch > 0 && cut.fn_mm && differ(*cut.fn_mm, pitch))
      add("feed_is_not_pitch", "cut.fn_mm", {{"fn_mm", *cut.fn_mm}, {"pitch_mm", pitch}});
    if (pitch > 0 && cut.fz_mm && cutter.flutes && differ(*cut.fz_mm * *cutter.flutes, pitch))
      add("feed_is_not_pitch", "cut.fz_mm", {{"fn_mm", *cut.fz_mm * *cutter.flutes}, {"pitch_mm", pitch}});
    if (pitch > 0 && cut.vf_mm_min && cut.n_rpm && differ(*cut.vf_mm_min / *cut.n_rpm, pitch))
      add("feed_is_not_pitch", "cut.vf_mm_min", {{"fn_mm", *cut.vf_mm_min / *cut.n_rpm}, {"pitch_mm", pitch}});
  }
  return faults;
}

}  // namespace pecorra
