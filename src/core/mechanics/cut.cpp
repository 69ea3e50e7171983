#include "core/mechanics/cut.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/mechanics/cut_model.h"

namespace pecorra {
namespace {

using enum Quantity;

constexpr Choice side_choices[] = {{"internal", "inside"}, {"external", "outside"}};
constexpr Choice limit_choices[] = {{"spindle_speed", "Spindle speed"},
                                    {"cutter_speed", "Cutter speed"},
                                    {"table_feed", "Table feed"},
                                    {"spindle_power", "Spindle power"},
                                    {"spindle_torque", "Spindle torque"},
                                    {"chip_max", "Chip thickness"},
                                    {"chip_min", "Rubbing"},
                                    {"deflection", "Deflection"},
                                    {"bending", "Bending stress"},
                                    {"flute_length", "Flute length"},
                                    {"reach", "Reach"},
                                    {"workholding", "Workholding"}};

constexpr std::array cut_list{
    field<&Cut::operation>("operation", "", "Operation", choice, "Operation of this cut"),
    field<&Cut::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, "At the effective diameter").above(0),
    field<&Cut::n_rpm>("n_rpm", "n", "Spindle speed", spindle_speed, "").above(0),
    field<&Cut::fz_mm>("fz_mm", "fz", "Feed per tooth", feed_per_tooth, "").above(0),
    field<&Cut::fn_mm>("fn_mm", "fn", "Feed per revolution", feed_per_tooth, "").above(0),
    field<&Cut::vf_mm_min>("vf_mm_min", "vf", "Table feed", table_feed, "").above(0),
    field<&Cut::hex_mm>("hex_mm", "hex", "Maximum chip thickness", feed_per_tooth, "").above(0),
    field<&Cut::ap_mm>("ap_mm", "ap", "Depth of cut", length, "Along the axis; on the radius when enlarging").above(0),
    field<&Cut::ae_mm>("ae_mm", "ae", "Width of cut", length, "").above(0),
    field<&Cut::tilt_deg>("tilt_deg", "β", "Tilt", angle, "Of a ball from the surface normal").within(-90, 90),
    field<&Cut::tip_offset_mm>("tip_offset_mm", "", "Tip offset", length, "From the tip to the contact of a cone")
        .within(0, 1e6),
    field<&Cut::wear_factor>("wear_factor", "", "Wear factor", number, "1 for a sharp edge").above(0),
    field<&Cut::tip_load_n>("tip_load_n", "", "Tip load", force, "Deflection under this load").above(0),
    field<&Cut::offset_mm>("offset_mm", "", "Offset", length, "Cutter centre from the middle of a face"),
    field<&Cut::path_diameter_mm>("path_diameter_mm", "Dm", "Machined diameter", length, "Of a circular path").above(0),
    field<&Cut::bore_before_mm>("bore_before_mm", "Dw", "Diameter before", length, "Of the bore or boss").above(0),
    field<&Cut::permitted_deflection_mm>("permitted_deflection_mm", "", "Permitted deflection", length, "").above(0),
    field<&Cut::path_side>("path_side", "", "Path side", choice, "Inside or outside")};

constexpr std::array result_list{
    field<&CutResults::n_rpm>("n_rpm", "n", "Spindle speed", spindle_speed, "Formula 1"),
    field<&CutResults::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, "Formula 1"),
    field<&CutResults::fz_mm>("fz_mm", "fz", "Feed per tooth", feed_per_tooth, "Formula 2"),
    field<&CutResults::fn_mm>("fn_mm", "fn", "Feed per revolution", feed_per_tooth, "Formula 2"),
    field<&CutResults::vf_mm_min>("vf_mm_min", "vf", "Table feed", table_feed, "Formula 2"),
    field<&CutResults::d_eff_mm>("d_eff_mm", "Deff", "Effective diameter", length, "Formula 3"),
    field<&CutResults::engagement_deg>("engagement_deg", "φ", "Engagement", angle, "Formula 4"),
    field<&CutResults::teeth_in_cut>("teeth_in_cut", "", "Teeth in cut", number, "Formula 4"),
    field<&CutResults::h_ex_mm>("h_ex_mm", "hex", "Maximum chip", feed_per_tooth, "Formula 5"),
    field<&CutResults::h_m_mm>("h_m_mm", "hm", "Mean chip", feed_per_tooth, "Formula 5"),
    field<&CutResults::kc_n_mm2>("kc_n_mm2", "kc", "Specific cutting force", stress, "Formula 7"),
    field<&CutResults::q_cm3_min>("q_cm3_min", "Q", "Removal rate", removal_rate, "Formula 8"),
    field<&CutResults::pc_kw>("pc_kw", "Pc", "Cutting power", power, "Formula 9"),
    field<&CutResults::motor_power_kw>("motor_power_kw", "P", "Motor power", power, "Formula 9"),
    field<&CutResults::mc_nm>("mc_nm", "Mc", "Torque", torque, "Formula 10"),
    field<&CutResults::thrust_n>("thrust_n", "Ff", "Thrust", force, "Formula 12"),
    field<&CutResults::force_mean_n>("force_mean_n", "", "Mean force", force, "Formula 11"),
    field<&CutResults::force_peak_n>("force_peak_n", "", "Peak force", force, "Formula 11"),
    field<&CutResults::deflection_mm>("deflection_mm", "", "Deflection", length, "Formula 17"),
    field<&CutResults::natural_frequency_hz>("natural_frequency_hz", "", "Natural frequency", frequency, "Formula 18"),
    field<&CutResults::scallop_mm>("scallop_mm", "", "Scallop", length, "Formula 16"),
    field<&CutResults::feed_mark_mm>("feed_mark_mm", "", "Feed mark", length, "Formula 16"),
    field<&CutResults::vf_centre_mm_min>("vf_centre_mm_min", "", "Feed of the centre", table_feed, "Formula 14"),
    field<&CutResults::ramp_angle_deg>("ramp_angle_deg", "", "Helix angle of the path", angle, "Formula 14"),
    field<&CutResults::bending_stress_n_mm2>("bending_stress_n_mm2", "σ", "Bending stress", stress, "Formula 23")};

bool differ(double a, double b) { return std::abs(a - b) > 1e-6 * std::max({1.0, std::abs(a), std::abs(b)}); }

}  // namespace

template <>
std::span<const Choice> choices_of<PathSide>() {
  return side_choices;
}
template <>
std::span<const Choice> choices_of<Limit>() {
  return limit_choices;
}
template <>
std::span<const Property<Cut>> properties<Cut>() {
  return cut_list;
}
template <>
std::span<const Property<CutResults>> properties<CutResults>() {
  return result_list;
}

CutReport compute_cut(const Cutter& cutter, const Assembly& assembly, const WorkMaterial& material,
                      const Machine& machine, const Cut& cut) {
  return CutModel(cutter, assembly, material, machine).at(cut);
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
