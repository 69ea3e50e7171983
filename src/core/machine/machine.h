// A milling machine: what its spindle, axes and coolant can do.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/base/property.h"

namespace pecorra {

enum class Coolant { off, flood, mist, air, through_liquid, through_air };
template <> std::span<const Choice> choices_of<Coolant>();

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
  std::optional<double> efficiency;     // cutting power over motor power
  std::optional<double> max_torque_nm;
  std::vector<PowerPoint> power_curve;  // of the motor, continuous; rising speeds
  std::vector<PowerPoint> peak_curve;   // what it bears for a short time
  std::optional<double> rapid_mm_min;
  bool flood = false, mist = false, air = false, through_liquid = false, through_air = false;
  bool automatic_changer = true;
  std::string dialect = "plain";        // of the control, key of data/dialects
  std::string source;
  std::string notes;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Machine&) const = default;
};

template <> std::span<const Property<Machine>> properties<Machine>();
// Speeds, feed, efficiency and torque: what `compute` accepts as a machine, next to the power curve.
std::span<const Property<Machine>> limit_properties();

// Motor power at a speed, kW: linear between points, constant above the last, in proportion to the speed below the
// first (torque is what limits there). Nothing without a curve.
std::optional<double> power_at_kw(const std::vector<PowerPoint>& curve, double rpm);

// Faults of a curve: not rising, negative, not finite.
std::vector<Message> check_power_curve(const std::vector<PowerPoint>& curve);

// Faults of a machine: its ranges, both curves, a short-time curve below the continuous one.
std::vector<Message> check_machine(const Machine& machine);

bool has_coolant(const Machine& machine, Coolant coolant);

}  // namespace pecorra
