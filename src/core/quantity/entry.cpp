#include "core/quantity/entry.h"

#include <array>

#include "core/material/hardness.h"
#include "core/quantity/print.h"
#include "core/quantity/value_text.h"

namespace pecorra {
namespace {

struct Suffix {
  Quantity quantity;
  std::string_view text;
  double stored_per_unit;
};
constexpr auto suffixes = std::to_array<Suffix>(
    {{Quantity::cutting_speed, "m/min", 1},
     {Quantity::cutting_speed, "ft/min", 0.3048},
     {Quantity::spindle_speed, "rpm", 1},
     {Quantity::spindle_speed, "rev/min", 1},
     {Quantity::spindle_speed, "1/min", 1},
     {Quantity::table_feed, "mm/min", 1},
     {Quantity::table_feed, "cm/min", 10},
     {Quantity::table_feed, "in/min", mm_per_inch},
     {Quantity::table_feed, "mm/s", 60},
     {Quantity::table_feed, "ft/min", 304.8},
     {Quantity::table_feed, "m/min", 1000},
     {Quantity::angle, "°", 1},
     {Quantity::angle, "deg", 1},
     {Quantity::power, "kW", 1},
     {Quantity::power, "hp", kw_per_hp},
     {Quantity::torque, "N·m", 1},
     {Quantity::torque, "Nm", 1},
     {Quantity::torque, "lbf·in", newton_per_lbf* mm_per_inch / 1000},
     {Quantity::torque, "in-lb", newton_per_lbf* mm_per_inch / 1000},
     {Quantity::torque, "lbf·ft", newton_per_lbf * 0.3048},
     {Quantity::torque, "ft-lb", newton_per_lbf * 0.3048},
     {Quantity::stress, "N/mm²", 1},
     {Quantity::stress, "MPa", 1},
     {Quantity::stress, "ksi", 1000 * newton_per_lbf / (mm_per_inch * mm_per_inch)},
     {Quantity::stress, "psi", newton_per_lbf / (mm_per_inch * mm_per_inch)},
     {Quantity::force, "N", 1},
     {Quantity::force, "lbf", newton_per_lbf},
     {Quantity::density, "g/cm³", 1},
     {Quantity::density, "lb/in³", gram_per_lb / (mm_per_inch * mm_per_inch * mm_per_inch / 1000)},
     {Quantity::stiffness, "lbf/thou", newton_per_lbf / mm_per_inch},
     {Quantity::stiffness, "lbf/in", newton_per_lbf / mm_per_inch / 1000},
     {Quantity::removal_rate, "cm³/min", 1},
     {Quantity::removal_rate, "in³/min", mm_per_inch* mm_per_inch* mm_per_inch / 1000},
     {Quantity::frequency, "Hz", 1},
     {Quantity::frequency, "kHz", 1000},
     {Quantity::stiffness, "N/µm", 1},
     {Quantity::stiffness, "N/mm", 0.001},
     {Quantity::duration, "min", 1},
     {Quantity::duration, "s", 1.0 / 60},
     {Quantity::duration, "h", 60},
     {Quantity::percent, "%", 1},
     {Quantity::number, "× D", 1},
     {Quantity::number, "xD", 1}});

struct ScaleSuffix {
  std::string_view text;
  HardnessScale scale;
};
constexpr std::array<ScaleSuffix, 9> scales{{{"HBW", HardnessScale::hb},
                                             {"HB", HardnessScale::hb},
                                             {"HV10", HardnessScale::hv},
                                             {"HV30", HardnessScale::hv},
                                             {"HV", HardnessScale::hv},
                                             {"HRC", HardnessScale::hrc},
                                             {"N/mm²", HardnessScale::rm},
                                             {"N/mm2", HardnessScale::rm},
                                             {"MPa", HardnessScale::rm}}};

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  return text;
}

// "26 mm", "26", "26.0": the text alone is clear in these units.
bool says_it_already(std::string_view text, double stored, Quantity quantity, UnitSystem units) {
  const std::string plain_text = shown(stored, quantity, units);
  return text == plain_text || text == shown_with_unit(stored, quantity, units) ||
         text == plain_text + unit_text(quantity, units);
}

// "300", "32 HRC", "Rm 1000", "300 HV": Brinell by ISO 18265.
tl::expected<double, EntryFault> parse_hardness(std::string_view text) {
  HardnessScale scale = HardnessScale::hb;
  std::string_view digits = text;
  if (text.starts_with("Rm")) {
    scale = HardnessScale::rm;
    digits = trimmed(text.substr(2));
  }
  for (const ScaleSuffix& suffix : scales) {
    if (digits.size() <= suffix.text.size() || !digits.ends_with(suffix.text)) continue;
    if (scale != HardnessScale::rm || suffix.scale == HardnessScale::rm) scale = suffix.scale;
    digits = trimmed(digits.substr(0, digits.size() - suffix.text.size()));
    break;
  }
  const auto written = parse_number(digits);
  if (!written)
    return tl::unexpected(
        EntryFault{"“" + std::string(text) + "” is not a hardness; enter a number with HB, HV, HRC or N/mm²"});
  const double value = written->mm();
  if (scale == HardnessScale::hb) return value;
  if (const auto hb = convert_hardness(value, scale, HardnessScale::hb)) return *hb;
  const auto [low, high] = hardness_range(scale);
  return tl::unexpected(EntryFault{plain(value) + " " + std::string(name_of(scale)) +
                                   " is outside the table of ISO 18265; " + plain(low) + " to " + plain(high) +
                                   " can be converted"});
}

}  // namespace

tl::expected<Entry, EntryFault> parse_entry(std::string_view text, Quantity quantity, UnitSystem units) {
  text = trimmed(text);
  Entry entry;
  if (quantity == Quantity::length || quantity == Quantity::feed_per_tooth) {
    const auto written = parse_length(text, is_inch(units) ? LengthUnit::inch : LengthUnit::mm);
    if (!written) return tl::unexpected(EntryFault{sentence(written.error())});
    entry.stored = written->mm();
  } else if (quantity == Quantity::hardness) {
    const auto hb = parse_hardness(text);
    if (!hb) return tl::unexpected(hb.error());
    entry.stored = *hb;
  } else {
    double factor = stored_per_shown(quantity, units);
    std::string_view digits = text;
    for (const Suffix& suffix : suffixes) {
      if (suffix.quantity != quantity || digits.size() <= suffix.text.size() || !digits.ends_with(suffix.text))
        continue;
      digits = trimmed(digits.substr(0, digits.size() - suffix.text.size()));
      factor = suffix.stored_per_unit;
      break;
    }
    const auto written = parse_number(digits);
    if (!written) {
      std::string wrong = sentence(written.error());
      if (const std::string unit = unit_text(quantity, units);
          !unit.empty() && (written.error().code == "unknown_unit" || written.error().code == "unit_not_fitting"))
        wrong = "“" + std::string(text) + "” is not a value in " + unit;
      return tl::unexpected(EntryFault{wrong});
    }
    entry.stored = written->mm() * factor;
    if (quantity == Quantity::count && entry.stored != static_cast<double>(static_cast<long long>(entry.stored)))
      return tl::unexpected(EntryFault{"a whole number is needed here"});
  }
  if (!says_it_already(text, entry.stored, quantity, units))
    entry.understood = "= " + shown_with_unit(entry.stored, quantity, units);
  else if (quantity == Quantity::length) {
    const UnitSystem other = is_inch(units) ? UnitSystem::metric : UnitSystem::inch;
    entry.understood = "= " + shown_with_unit(entry.stored, quantity, other);
  }
  return entry;
}

}  // namespace pecorra
