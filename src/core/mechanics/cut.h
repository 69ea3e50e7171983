// One cut, calculated: everything that formulas 1 to 18 give for what is known about it. The window, the charts, jobs
// and `pecorra-cli compute` all come here (CutModel is the same for many cuts of one cutter).
#pragma once

#include <algorithm>
#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/cutter/cutter.h"
#include "core/cutter/operation_kind.h"
#include "core/holder/holder.h"
#include "core/machine/machine.h"
#include "core/material/work_material.h"
#include "core/mechanics/force_law.h"

namespace pecorra {

enum class PathSide { internal, external };
template <>
std::span<const Choice> choices_of<PathSide>();

// The input. Anything may be missing; whatever follows from the rest is calculated.
struct Cut {
  std::optional<OperationKind> operation;
  std::optional<double> vc_m_min, n_rpm;                  // one of these
  std::optional<double> fz_mm, fn_mm, vf_mm_min, hex_mm;  // one of these
  std::optional<double> ap_mm, ae_mm;
  std::optional<double> tilt_deg, tip_offset_mm, wear_factor, tip_load_n, offset_mm;
  std::optional<double> path_diameter_mm, bore_before_mm, permitted_deflection_mm;
  std::optional<PathSide> path_side;
  // Known of a path, not asked of `compute`:
  std::optional<double> whole_depth_mm;  // of all passes
  bool conventional = false;             // else climb milling
  double corner_rad = 0;                 // additional arc of engagement at the tightest place
  // Forces as a band from a sharp to a worn edge (formula 24), whose edge takes this factor; else formula 7.
  std::optional<double> worn_factor;
  std::optional<double> bending_safety;  // judges the bending stress against the strength over this
  bool operator==(const Cut&) const = default;
};
template <>
std::span<const Property<Cut>> properties<Cut>();

struct CutResults {
  std::optional<double> n_rpm, vc_m_min, fz_mm, fn_mm, vf_mm_min, d_eff_mm, engagement_deg, teeth_in_cut, h_ex_mm,
      h_m_mm, kc_n_mm2, q_cm3_min, pc_kw, motor_power_kw, mc_nm, thrust_n, force_mean_n, force_peak_n, deflection_mm,
      natural_frequency_hz, scallop_mm, feed_mark_mm, vf_centre_mm_min, ramp_angle_deg, bending_stress_n_mm2;
};
template <>
std::span<const Property<CutResults>> properties<CutResults>();

// Of what follows the force: its low and high end over its middle.
struct ForceBand {
  double low = 1, high = 1;
  bool operator==(const ForceBand&) const = default;
};

enum class Limit {
  spindle_speed,
  cutter_speed,
  table_feed,
  spindle_power,
  spindle_torque,
  chip_max,
  chip_min,
  deflection,
  bending,
  flute_length,
  reach,
  workholding
};
template <>
std::span<const Choice> choices_of<Limit>();

struct Headroom {
  Limit limit = Limit::spindle_speed;
  double value = 0;
  double limit_value = 0;
  double used = 0;  // 1 at the limit
  Quantity quantity = Quantity::number;
  bool lower = false;  // the value must not fall below the limit
  // At the tightest engagement of the path, if that differs; the list is ordered by it.
  std::optional<double> worst_value;
  double worst_used = 0;
  // What follows the force has its band: low and high over the value.
  std::optional<ForceBand> band;
  double tightest() const { return std::max(used, worst_value ? worst_used : 0); }
  bool operator==(const Headroom&) const = default;
};

struct CutReport {
  CutResults results;
  std::optional<ForceBand> band;    // of power, torque, force, thrust, deflection and stress
  std::optional<ForcePoint> force;  // the rules it comes from
  double thrust_factor = 1;         // of a drill whose web is not thinned
  double torque_factor = 1;         // friction and wear of a tap
  std::vector<Headroom> headroom;   // worst first
  std::vector<Message> messages;
};

CutReport compute_cut(const Cutter& cutter, const Assembly& assembly, const WorkMaterial& material,
                      const Machine& machine, const Cut& cut);

// Input faults that concern several values at once: alternatives, contradictions, impossible engagements.
std::vector<Message> check_cut(const Cutter& cutter, const Cut& cut);

}  // namespace pecorra
