#include "core/quantity/print.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>

namespace pecorra {

std::string plain(double value, int decimals) {
  std::string text = fmt::format("{:.{}f}", value, decimals);
  if (text.find('.') != std::string::npos) {
    text.erase(text.find_last_not_of('0') + 1);
    if (text.back() == '.') text.pop_back();
  }
  return text == "-0" ? "0" : text;
}

double stored_per_shown(Quantity quantity, UnitSystem units) {
  if (quantity == Quantity::table_feed) {
    switch (units) {
      case UnitSystem::metric: return 1;
      case UnitSystem::inch: return mm_per_inch;
      case UnitSystem::metric_m_min: return 1000;
      case UnitSystem::metric_mm_s: return 60;
      case UnitSystem::inch_ft_min: return 12 * mm_per_inch;
    }
  }
  if (!is_inch(units)) return 1;
  switch (quantity) {
    case Quantity::length:
    case Quantity::feed_per_tooth: return mm_per_inch;
    case Quantity::cutting_speed: return 0.3048;
    case Quantity::removal_rate: return mm_per_inch * mm_per_inch * mm_per_inch / 1000;
    case Quantity::power: return kw_per_hp;
    case Quantity::torque: return newton_per_lbf * mm_per_inch / 1000;
    case Quantity::force: return newton_per_lbf;
    case Quantity::stress: return 1000 * newton_per_lbf / (mm_per_inch * mm_per_inch);
    case Quantity::stiffness: return newton_per_lbf / mm_per_inch;
    case Quantity::density: return gram_per_lb / (mm_per_inch * mm_per_inch * mm_per_inch / 1000);
    default: return 1;
  }
}

std::string unit_text(Quantity quantity, UnitSystem units) {
  const bool inch = is_inch(units);
  switch (quantity) {
    case Quantity::length:
    case Quantity::feed_per_tooth: return inch ? "in" : "mm";
    case Quantity::angle: return "°";
    case Quantity::cutting_speed: return inch ? "ft/min" : "m/min";
    case Quantity::spindle_speed: return "rpm";
    case Quantity::table_feed: {
      constexpr const char* names[] = {"mm/min", "in/min", "m/min", "mm/s", "ft/min"};
      return names[static_cast<int>(units)];
    }
    case Quantity::power: return inch ? "hp" : "kW";
    case Quantity::torque: return inch ? "lbf·in" : "N·m";
    case Quantity::stress: return inch ? "ksi" : "N/mm²";
    case Quantity::force: return inch ? "lbf" : "N";
    case Quantity::hardness: return "HB";
    case Quantity::density: return inch ? "lb/in³" : "g/cm³";
    case Quantity::removal_rate: return inch ? "in³/min" : "cm³/min";
    case Quantity::frequency: return "Hz";
    case Quantity::stiffness: return inch ? "lbf/thou" : "N/µm";
    case Quantity::duration: return "min";
    case Quantity::percent: return "%";
    default: return {};
  }
}

std::string shown(double stored, Quantity quantity, UnitSystem units) {
  const bool inch = is_inch(units);
  const double value = stored / stored_per_shown(quantity, units);
  switch (quantity) {
    case Quantity::length: return plain(value, inch ? 4 : 3);
    case Quantity::feed_per_tooth: return plain(value, inch ? 5 : 4);
    case Quantity::table_feed: {
      constexpr int decimals[] = {0, 1, 3, 1, 2};
      // An exact one, as a tap's n × pitch, is shown as the program has it: 337.5.
      const bool exact = std::abs(value * 100 - std::round(value * 100)) < 1e-6;
      return plain(value, std::max(decimals[static_cast<int>(units)], exact ? 2 : 0));
    }
    case Quantity::spindle_speed:
    case Quantity::count: return plain(value, 0);
    case Quantity::cutting_speed: return plain(value, value < 100 ? 1 : 0);
    case Quantity::power: return plain(value, 2);
    case Quantity::torque: return plain(value, value < 10 ? 2 : 1);
    case Quantity::stress: return plain(value, inch ? 1 : 0);
    case Quantity::hardness:
    case Quantity::frequency:
    case Quantity::force: return plain(value, 0);
    case Quantity::removal_rate: return plain(value, value < 10 ? (inch ? 2 : 1) : inch && value < 100 ? 1 : 0);
    case Quantity::stiffness: return plain(value, value < 10 ? 2 : 1);
    case Quantity::duration: return plain(value, value < 10 ? 1 : 0);
    case Quantity::angle: return plain(value, 3);
    default: return plain(value, 4);
  }
}

std::string shown_thousandths(double stored_mm, UnitSystem units) {
  if (!is_inch(units)) return plain(stored_mm, 3);
  const double thou = stored_mm / mm_per_inch * 1000;
  return plain(thou, thou < 1 ? 3 : 2);
}

std::string thousandths_unit(UnitSystem units) { return is_inch(units) ? "thou" : "mm"; }

std::string shown_with_unit(double stored, Quantity quantity, UnitSystem units) {
  const std::string unit = unit_text(quantity, units);
  if (unit.empty()) return shown(stored, quantity, units);
  return shown(stored, quantity, units) + (unit == "°" ? "" : " ") + unit;
}

}  // namespace pecorra
