#include "core/machine/machine.h"

#include "core/base/check.h"
#include "core/base/stock.h"

#include <array>
#include <cmath>

namespace pecorra {
namespace {

constexpr Choice coolant_choices[] = {{"off", "dry"},
                                      {"flood", "flood"},
                                      {"mist", "mist"},
                                      {"mist_oil", "oil mist"},
                                      {"air", "air"},
                                      {"through_liquid", "through the spindle"},
                                      {"through_air", "air through the spindle"}};
constexpr Choice interface_choices[] = {
    {"taper_30_a", "7/24 taper 30, form A"}, {"taper_40_a", "7/24 taper 40, form A"},
    {"taper_50_a", "7/24 taper 50, form A"}, {"taper_30_j", "7/24 taper 30, form J"},
    {"taper_40_j", "7/24 taper 40, form J"}, {"taper_50_j", "7/24 taper 50, form J"},
    {"hollow_40", "Hollow taper 40"},        {"hollow_63", "Hollow taper 63"},
    {"hollow_100", "Hollow taper 100"},      {"straight", "Straight"}};
constexpr Choice duty_choices[] = {{"light", "light"}, {"medium", "medium"}, {"heavy", "heavy"}};
constexpr Choice changer_choices[] = {
    {"by_hand", "by hand"}, {"carousel", "carousel, in order"}, {"arm", "arm, any pocket"}};
constexpr Choice feed_limit_choices[] = {
    {"none", "none"}, {"working", "maximum feed"}, {"axis", "axis"}, {"group", "feed cap of the group"}};
using enum Quantity;
using M = Machine;

constexpr std::array limits{
    field<&Machine::min_rpm>("min_rpm", "n min", "Minimum speed", spindle_speed, "Of the spindle").within(0, 1e7),
    field<&Machine::max_rpm>("max_rpm", "n max", "Maximum speed", spindle_speed, "Of the spindle").above(0),
    field<&Machine::max_feed_mm_min>("max_feed_mm_min", "vf max", "Maximum feed", table_feed,
                                     "Of the axes while cutting")
        .above(0),
    field<&Machine::efficiency>("efficiency", "η", "Efficiency", number, "Cutting power over motor power")
        .above(0)
        .within(0, 1),
    field<&Machine::max_torque_nm>("max_torque_nm", "M max", "Maximum torque", torque, "Of the spindle").above(0)};

constexpr std::array rest{
    field<&Machine::name>("name", "", "Name", text, "Everyday name"),
    field<&M::rapid_mm_min>("rapid_mm_min", "", "Rapid", table_feed, "Rapid traverse in X and Y; a job can set its own")
        .above(0),
    field<&M::rapid_z_mm_min>("rapid_z_mm_min", "", "Rapid, up and down", table_feed, "Empty: same as the rapid")
        .above(0),
    field<&M::feed_x_mm_min>("feed_x_mm_min", "", "Feed of X", table_feed, "Maximum cutting feed of this axis")
        .above(0),
    field<&M::feed_y_mm_min>("feed_y_mm_min", "", "Feed of Y", table_feed, "Maximum cutting feed of this axis")
        .above(0),
    field<&M::feed_z_mm_min>("feed_z_mm_min", "", "Feed of Z", table_feed, "Also limits drilling and plunging")
        .above(0),
    field<&M::cap_p_mm_min>("cap_p_mm_min", "", "Feed cap in P", table_feed, "Feed limit in steel").above(0),
    field<&M::cap_m_mm_min>("cap_m_mm_min", "", "Feed cap in M", table_feed, "Feed limit in stainless steel").above(0),
    field<&M::cap_k_mm_min>("cap_k_mm_min", "", "Feed cap in K", table_feed, "Feed limit in cast iron").above(0),
    field<&M::cap_n_mm_min>("cap_n_mm_min", "", "Feed cap in N", table_feed, "Feed limit in non-ferrous metals")
        .above(0),
    field<&M::cap_s_mm_min>("cap_s_mm_min", "", "Feed cap in S", table_feed,
                            "Feed limit in titanium and heat-resistant alloys")
        .above(0),
    field<&M::cap_h_mm_min>("cap_h_mm_min", "", "Feed cap in H", table_feed, "Feed limit in hardened steel").above(0),
    field<&M::cap_wood_mm_min>("cap_wood_mm_min", "", "Feed cap in wood", table_feed, "Feed limit in wood and boards")
        .above(0),
    field<&M::cap_plastic_mm_min>("cap_plastic_mm_min", "", "Feed cap in plastics", table_feed,
                                  "Feed limit in plastics")
        .above(0),
    field<&M::cap_composite_mm_min>("cap_composite_mm_min", "", "Feed cap in composites", table_feed,
                                    "Feed limit in composites")
        .above(0),
    field<&M::cap_foam_mm_min>("cap_foam_mm_min", "", "Feed cap in foam", table_feed, "Feed limit in foam").above(0),
    field<&M::plunge_rule>("plunge_rule", "", "Plunge × feed", number,
                           "Where no row states it; a third to a half is common practice")
        .above(0)
        .within(0, 1),
    field<&M::ramp_rule>("ramp_rule", "", "Ramp × feed", number, "Where no row states it; half is common practice")
        .above(0)
        .within(0, 1),
    field<&M::lead_rule>("lead_rule", "", "Lead × feed", number, "Lead-in and lead-out, where no row states it")
        .above(0)
        .within(0, 1),
    field<&M::duty>("duty", "", "Duty class", choice, "Rows of tables can ask for it"),
    field<&M::max_holding_n>("max_holding_n", "", "Workholding limit", force,
                             "Maximum side force; cuts above it are marked")
        .above(0),
    field<&M::interface>("interface", "", "Spindle interface", choice, "Holders must have this machine side"),
    field<&M::pockets>("pockets", "", "Pockets", count, "Of the magazine").within(1, 100000),
    field<&M::changer>("changer", "", "Changer", choice, "How the changer picks cutters"),
    field<&M::measures_length>("measures_length", "", "Measures length", flag, "In the machine"),
    field<&M::length_tolerance_mm>("length_tolerance_mm", "", "Length within", length, "Beyond this the machine stops")
        .above(0),
    field<&M::measures_radius>("measures_radius", "", "Measures radius", flag, "In the machine"),
    field<&M::radius_tolerance_mm>("radius_tolerance_mm", "", "Radius within", length, "Beyond this the machine stops")
        .above(0),
    field<&M::checks_breakage>("checks_breakage", "", "Checks breakage", flag, "In the machine"),
    field<&M::breakage_tolerance_mm>("breakage_tolerance_mm", "", "Broken beyond", length,
                                     "Reported as broken if shorter by more than this")
        .above(0),
    field<&M::acceleration_mm_s2>("acceleration_mm_s2", "", "Acceleration X, Y", number,
                                  "mm/s²; empty: times are lengths over feeds")
        .above(0)
        .within(0, 1e6),
    field<&M::acceleration_z_mm_s2>("acceleration_z_mm_s2", "", "Acceleration Z", number, "mm/s²; empty: as X and Y")
        .above(0)
        .within(0, 1e6),
    field<&M::corner_jump_mm_min>("corner_jump_mm_min", "", "Jump in a corner", table_feed,
                                  "What an axis may change its speed by at once; empty: it stops in every corner")
        .above(0),
    field<&M::look_ahead>("look_ahead", "", "Look-ahead", count, "Blocks; empty: as many as it needs")
        .within(1, 100000),
    field<&M::block_ms>("block_ms", "", "Block time", number, "Milliseconds that a block takes at least")
        .above(0)
        .within(0, 1000),
    field<&M::change_s>("change_s", "", "Cutter change", number,
                        "Seconds from cut to cut; empty: 5 by arm, 10 by carousel, 120 by hand (common practice)")
        .above(0)
        .within(0, 3600),
    field<&M::spindle_up_s>("spindle_up_s", "", "Spindle run-up", number, "Seconds to the highest speed")
        .above(0)
        .within(0, 600),
    field<&M::measure_s>("measure_s", "", "Check of a cutter", number,
                         "Seconds of each check in the machine; empty: 15 (common practice)")
        .above(0)
        .within(0, 600),
    field<&M::hourly_rate>("hourly_rate", "", "Hourly rate", number, "In the shop's currency").within(0, 1e6),
    field<&Machine::flood>("flood", "", "Flood", flag, "Has flood coolant"),
    field<&Machine::mist>("mist", "", "Mist", flag, "Has water-based mist"),
    field<&Machine::mist_oil>("mist_oil", "", "Oil mist", flag, "Has oil mist"),
    field<&Machine::air>("air", "", "Air", flag, "Has an air blast"),
    field<&Machine::through_liquid>("through_liquid", "", "Coolant through", flag, "Liquid through the spindle"),
    field<&Machine::through_air>("through_air", "", "Air through", flag, "Air through the spindle"),
    field<&Machine::automatic_changer>("automatic_changer", "", "Automatic changer", flag,
                                       "Off: cutters are changed by hand"),
    field<&Machine::dialect>("dialect", "", "Dialect", text, "Of its control"),
    field<&Machine::source>("source", "", "Source", text, "Source of the values"),
    field<&Machine::notes>("notes", "", "Notes", text, "For the programmer")};

constexpr auto machine_fields = joined(limits, rest);

}  // namespace

template <>
std::span<const Choice> choices_of<Coolant>() {
  return coolant_choices;
}
template <>
std::span<const Choice> choices_of<MachineInterface>() {
  return interface_choices;
}
template <>
std::span<const Choice> choices_of<DutyClass>() {
  return duty_choices;
}
template <>
std::span<const Choice> choices_of<ChangerKind>() {
  return changer_choices;
}
template <>
std::span<const Choice> choices_of<FeedLimit>() {
  return feed_limit_choices;
}
template <>
std::span<const Property<Machine>> properties<Machine>() {
  return machine_fields;
}
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
  if (m.min_rpm && m.max_rpm && *m.min_rpm > *m.max_rpm)
    messages.push_back({Severity::error, "values_reversed", "max_rpm", {{"from", *m.min_rpm}, {"to", *m.max_rpm}}});
  for (std::size_t i = 0; i < m.dial_rpm.size(); ++i)
    if (!(m.dial_rpm[i] > 0) || !std::isfinite(m.dial_rpm[i]) || (i > 0 && m.dial_rpm[i] <= m.dial_rpm[i - 1])) {
      messages.push_back({Severity::error,
                          "dial_not_rising",
                          "dial_rpm",
                          {{"position", static_cast<double>(i + 1)}, {"rpm", m.dial_rpm[i]}}});
      break;
    }
  if (has_error(messages)) return messages;
  for (const auto& [feed, key] : {std::pair{&m.feed_x_mm_min, "feed_x_mm_min"},
                                  {&m.feed_y_mm_min, "feed_y_mm_min"},
                                  {&m.feed_z_mm_min, "feed_z_mm_min"}})
    if (*feed && m.rapid_mm_min && **feed > *m.rapid_mm_min)
      messages.push_back(
          {Severity::warning, "feed_over_rapid", key, {{"feed_mm_min", **feed}, {"rapid_mm_min", *m.rapid_mm_min}}});
  if (m.changer && (*m.changer == ChangerKind::by_hand) == m.automatic_changer)
    messages.push_back({Severity::warning, "changer_contradicts", "changer", {}});
  if (m.pockets && m.changer == ChangerKind::by_hand)
    messages.push_back({Severity::warning, "pockets_by_hand", "pockets", {}});
  const auto tolerance = [&](bool has, const std::optional<double>& tol, const char* key) {
    if (tol && !has) messages.push_back({Severity::warning, "tolerance_without_device", key, {}});
  };
  tolerance(m.measures_length, m.length_tolerance_mm, "length_tolerance_mm");
  tolerance(m.measures_radius, m.radius_tolerance_mm, "radius_tolerance_mm");
  tolerance(m.checks_breakage, m.breakage_tolerance_mm, "breakage_tolerance_mm");
  for (const PowerPoint& p : m.peak_curve)
    if (const auto steady = power_at_kw(m.power_curve, p.rpm); steady && p.kw < *steady - 1e-9) {
      messages.push_back({Severity::warning,
                          "peak_under_continuous",
                          "peak_curve_rpm_kw",
                          {{"rpm", p.rpm}, {"kw", p.kw}, {"steady_kw", *steady}}});
      break;
    }
  // Torque of the motor at its corner speed against the stated torque: 9550 · P / n.
  if (m.max_torque_nm && !m.power_curve.empty() && m.power_curve.front().rpm > 0) {
    const double torque = 9550 * m.power_curve.front().kw / m.power_curve.front().rpm;
    if (*m.max_torque_nm > 3 * torque || torque > 3 * *m.max_torque_nm)
      messages.push_back({Severity::warning,
                          "torque_not_of_curve",
                          "max_torque_nm",
                          {{"torque", *m.max_torque_nm}, {"curve", torque}, {"rpm", m.power_curve.front().rpm}}});
  }
  return messages;
}

bool has_coolant(const Machine& machine, Coolant coolant) {
  switch (coolant) {
    case Coolant::off: return true;
    case Coolant::flood: return machine.flood;
    case Coolant::mist: return machine.mist;
    case Coolant::mist_oil: return machine.mist_oil;
    case Coolant::air: return machine.air;
    case Coolant::through_liquid: return machine.through_liquid;
    case Coolant::through_air: return machine.through_air;
  }
  return false;
}

std::optional<double> group_cap_mm_min(const Machine& m, MaterialGroup group) {
  const std::optional<double>* caps[] = {
      &m.cap_p_mm_min, &m.cap_m_mm_min,    &m.cap_k_mm_min,       &m.cap_n_mm_min,         &m.cap_s_mm_min,
      &m.cap_h_mm_min, &m.cap_wood_mm_min, &m.cap_plastic_mm_min, &m.cap_composite_mm_min, &m.cap_foam_mm_min};
  return *caps[static_cast<int>(group)];
}

GreatestFeed greatest_feed(const Machine& m, bool along_axis, std::optional<MaterialGroup> group) {
  GreatestFeed most{std::numeric_limits<double>::infinity(), FeedLimit::none};
  const auto hold = [&](const std::optional<double>& limit, FeedLimit by) {
    if (limit && *limit < most.mm_min) most = {*limit, by};
  };
  hold(m.max_feed_mm_min, FeedLimit::working);
  if (along_axis) hold(m.feed_z_mm_min, FeedLimit::axis);
  else hold(m.feed_x_mm_min, FeedLimit::axis), hold(m.feed_y_mm_min, FeedLimit::axis);
  if (group) hold(group_cap_mm_min(m, *group), FeedLimit::group);
  return most;
}

int nearest_dial_position(const std::vector<double>& dial, double rpm, double most_rpm) {
  int best = 0;
  for (std::size_t i = 0; i < dial.size(); ++i) {
    if (dial[i] > most_rpm * (1 + 1e-9)) break;
    if (best == 0 || std::abs(dial[i] - rpm) < std::abs(dial[static_cast<std::size_t>(best) - 1] - rpm))
      best = static_cast<int>(i) + 1;
  }
  return best;
}

}  // namespace pecorra
