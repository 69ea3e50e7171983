// A milling machine: what its spindle, axes and coolant can do.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/base/property.h"
#include "core/cutter/operation_kind.h"
#include "core/machine/machine_interface.h"
#include "core/material/work_material.h"

namespace pecorra {

enum class Coolant { off, flood, mist, mist_oil, air, through_liquid, through_air };
inline constexpr int coolant_count = 7;
template <>
std::span<const Choice> choices_of<Coolant>();

// Duty class of a machine; table rows can require it.
enum class DutyClass { light, medium, heavy };
template <>
std::span<const Choice> choices_of<DutyClass>();

// How the changer picks cutters: in carousel order, or any pocket by an arm.
enum class ChangerKind { by_hand, carousel, arm };
template <>
std::span<const Choice> choices_of<ChangerKind>();

struct PowerPoint {
  double rpm = 0;
  double kw = 0;
  bool operator==(const PowerPoint&) const = default;
};

struct Machine {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  std::optional<double> min_rpm;
  std::optional<double> max_rpm;
  std::optional<double> max_feed_mm_min;
  std::optional<double> efficiency;  // cutting power over motor power
  std::optional<double> max_torque_nm;
  std::vector<PowerPoint> power_curve;                 // of the motor, continuous; rising speeds
  std::vector<PowerPoint> peak_curve;                  // short-time rating
  std::optional<double> rapid_mm_min, rapid_z_mm_min;  // in the plane; up and down, like the plane where not given
  std::optional<double> feed_x_mm_min, feed_y_mm_min, feed_z_mm_min;
  // Highest feed in each group of materials, where one is wanted.
  std::optional<double> cap_p_mm_min, cap_m_mm_min, cap_k_mm_min, cap_n_mm_min, cap_s_mm_min, cap_h_mm_min,
      cap_wood_mm_min, cap_plastic_mm_min, cap_composite_mm_min, cap_foam_mm_min;
  // Rules where no row says anything: parts of the table feed.
  std::optional<double> plunge_rule, ramp_rule, lead_rule;
  std::vector<double> dial_rpm;  // speeds of a numbered dial, position 1 first, rising; empty: any speed
  std::optional<DutyClass> duty;
  std::optional<double> max_holding_n;  // workholding limit
  std::optional<MachineInterface> interface;
  std::optional<int> pockets;  // of the magazine
  std::optional<ChangerKind> changer;
  bool measures_length = false, measures_radius = false, checks_breakage = false;  // in the machine
  std::optional<double> length_tolerance_mm, radius_tolerance_mm, breakage_tolerance_mm;
  // What holds it back, for times.
  std::optional<double> acceleration_mm_s2, acceleration_z_mm_s2;  // of X and Y, of Z
  std::optional<double> corner_jump_mm_min;                        // of an axis, at once
  std::optional<int> look_ahead;                                   // blocks
  std::optional<double> block_ms;                                  // least time of a block
  std::optional<double> change_s, spindle_up_s, measure_s;         // from cut to cut; to the highest speed; each check
  std::optional<double> hourly_rate;                               // in the shop's money
  bool flood = false, mist = false, mist_oil = false, air = false, through_liquid = false, through_air = false;
  bool automatic_changer = true;
  std::string dialect = "plain";  // of the control, key of data/dialects
  std::string source;
  std::string notes;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Machine&) const = default;
};

template <>
std::span<const Property<Machine>> properties<Machine>();
// Speeds, feed, efficiency and torque: what `compute` accepts as a machine, next to the power curve.
std::span<const Property<Machine>> limit_properties();

// Motor power at a speed, kW: linear between points, constant above the last, in proportion to the speed below the
// first (torque is what limits there). Nothing without a curve.
std::optional<double> power_at_kw(const std::vector<PowerPoint>& curve, double rpm);

// Faults of a curve: speeds not rising, negative or not finite values.
std::vector<Message> check_power_curve(const std::vector<PowerPoint>& curve);

// Faults of a machine: its ranges, both curves, a short-time curve below the continuous one.
std::vector<Message> check_machine(const Machine& machine);

bool has_coolant(const Machine& machine, Coolant coolant);

// The greatest feed and the limit that sets it; infinite if nothing is stated.
enum class FeedLimit { none, working, axis, group };
template <>
std::span<const Choice> choices_of<FeedLimit>();
struct GreatestFeed {
  double mm_min;
  FeedLimit by;
};
// In the plane the slower of X and Y counts, along the axis Z.
GreatestFeed greatest_feed(const Machine& machine, bool along_axis, std::optional<MaterialGroup> group);
// The cap of a group, if there is one.
std::optional<double> group_cap_mm_min(const Machine& machine, MaterialGroup group);

// The nearest position of a dial within the speeds, 1 the first; 0: no dial, or none within.
int nearest_dial_position(const std::vector<double>& dial_rpm, double rpm, double most_rpm);

}  // namespace pecorra
