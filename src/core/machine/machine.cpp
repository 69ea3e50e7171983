#include "core/machine/machine.h"

#include "core/base/check.h"
#include "core/base/stock.h"

#include <array>
#include <cmath>

namespace pecorra {
namespace {

constexpr Choice coolant_choices[] = {{"off", "dry"}, {"flood", "flood"}, {"mist", "mist"}, {"air", "air"},
                                      {"through_liquid", "through the spindle"},
                                      {"through_air", "air through the spindle"}};
using enum Quantity;

const std::array limits{
    field<&Machine::min_rpm>("min_rpm", "n min", "Lowest speed", spindle_speed, "The spindle turns no slower")
        .within(0, 1e7),
    field<&Machine::max_rpm>("max_rpm", "n max", "Highest speed", spindle_speed, "The spindle turns no faster")
        .above(0),
    field<&Machine::max_feed_mm_min>("max_feed_mm_min", "vf max", "Highest feed", table_feed, "Of the axes while cutting")
        .above(0),
    field<&Machine::efficiency>("efficiency", "η", "Efficiency", number, "Cutting power over motor power").above(0)
        .within(0, 1),
    field<&Machine::max_torque_nm>("max_torque_nm", "M max", "Highest torque", torque, "Of the spindle").above(0)};

const std::array rest{
    field<&Machine::name>("name", "", "Name", text, "What people call it"),
    field<&Machine::rapid_mm_min>("rapid_mm_min", "", "Rapid", table_feed, "Of the axes in the air").above(0),
    field<&Machine::flood>("flood", "", "Flood", flag, "Has flood coolant"),
    field<&Machine::mist>("mist", "", "Mist", flag, "Has mist"),
    field<&Machine::air>("air", "", "Air", flag, "Has an air blast"),
    field<&Machine::through_liquid>("through_liquid", "", "Coolant through", flag, "Liquid through the spindle"),
    field<&Machine::through_air>("through_air", "", "Air through", flag, "Air through the spindle"),
    field<&Machine::automatic_changer>("automatic_changer", "", "Cutter changer", flag, "Changes cutters by itself; else by hand"),
    field<&Machine::dialect>("dialect", "", "Dialect", text, "Of its control"),
    field<&Machine::source>("source", "", "Source", text, "Where the values are from"),
    field<&Machine::notes>("notes", "", "Notes", text, "For the programmer")};

const auto all = joined(limits, rest);

}  // namespace

template <> std::span<const Choice> choices_of<Coolant>() { return coolant_choices; }
template <> std::span<const Property<Machine>> properties<Machine>() { return all; }
std::span<const Property<Machine>> limit_properties() { return limits; }

std::optional<double> power_at_kw(const std::vector<PowerPoint>& curve, double rpm) {
  if (curve.empty()) return std::nullopt;
  if (rpm <= curve.front().rpm)
    return curve.front().rpm > 0 ? curve.front().kw * rpm / curve.front().rpm : curve.front().kw;
  for (std::size_t i = 1; i < curve.size(); ++i) {
    const PowerPoint &a = curve[i - 1], &b = curve[i];
    if (rpm <= b.rpm) return a.kw + (b.kw - a.kw) * (rpm - a.rpm) / (b.rpm - a.rpm);
  }
  return curve.back().kw;
}

std::vector<Message> check_power_curve(const std::vector<PowerPoint>& curve) {
  std::vector<Message> messages;
  for (std::size_t i = 0; i < curve.size(); ++i) {
    const PowerPoint& p = curve[i];
    const Details values{{"point", static_cast<double>(i + 1)}, {"rpm", p.rpm}, {"kw", p.kw}};
    if (!std::isfinite(p.rpm) || !std::isfinite(p.kw) || p.rpm < 0 || p.kw < 0)
      messages.push_back({Severity::error, "curve_negative", "power_curve_rpm_kw", values});
    else if (i > 0 && p.rpm <= curve[i - 1].rpm)
      messages.push_back({Severity::error, "curve_not_rising", "power_curve_rpm_kw", values});
  }
  return messages;
}

std::vector<Message> check_machine(const Machine& m) {
  std::vector<Message> messages = check_power_curve(m.power_curve);
  for (Message& peak : check_power_curve(m.peak_curve)) {
    peak.property = "peak_curve_rpm_kw";
    messages.push_back(std::move(peak));
  }
  check_ranges(m, messages);
  if (m.min_rpm && m.max_rpm && *m.min_rpm > *m.max_rpm) messages.push_back({Severity::error, "values_reversed", "max_rpm", {{"from", *m.min_rpm}, {"to", *m.max_rpm}}});
  if (has_error(messages)) return messages;
  for (const PowerPoint& p : m.peak_curve)
    if (const auto steady = power_at_kw(m.power_curve, p.rpm); steady && p.kw < *steady - 1e-9) {
      messages.push_back({Severity::warning, "peak_under_continuous", "peak_curve_rpm_kw", {{"rpm", p.rpm}, {"kw", p.kw}, {"steady_kw", *steady}}});
      break;
    }
  // What the motor gives at its corner against the torque that is stated: 9550 · P / n.
  if (m.max_torque_nm && !m.power_curve.empty() && m.power_curve.front().rpm > 0) {
    const double torque = 9550 * m.power_curve.front().kw / m.power_curve.front().rpm;
    if (*m.max_torque_nm > 3 * torque || torque > 3 * *m.max_torque_nm)
      messages.push_back({Severity::warning, "torque_not_of_curve", "max_torque_nm", {{"torque", *m.max_torque_nm}, {"curve", torque}, {"rpm", m.power_curve.front().rpm}}});
  }
  return messages;
}

bool has_coolant(const Machine& machine, Coolant coolant) {
  switch (coolant) {
    case Coolant::off: return true;
    case Coolant::flood: return machine.flood;
    case Coolant::mist: return machine.mist;
    case Coolant::air: return machine.air;
    case Coolant::through_liquid: return machine.through_liquid;
    case Coolant::through_air: return machine.through_air;
  }
  return false;
}

}  // namespace pecorra
