// Length units that people write, and the unit systems a screen can show.
#pragma once

#include <optional>
#include <span>
#include <string_view>

namespace pecorra {

enum class LengthUnit { mm, cm, m, um, inch, ft, thou };

// Exact: one unit is numerator/denominator millimetres.
struct LengthUnitFact {
  LengthUnit unit;
  long numerator;
  long denominator;
};

struct LengthUnitSpelling {
  std::string_view text;  // UTF-8
  LengthUnit unit;
};

const LengthUnitFact& fact_of(LengthUnit unit);
// All spellings that are understood, in the order they are named in messages.
std::span<const LengthUnitSpelling> length_unit_spellings();
std::optional<LengthUnit> length_unit_from(std::string_view spelling);

// Which units a screen shows and a bare number is read in. The last three show the table feed otherwise; what is kept
// with an object is one of the first two.
enum class UnitSystem { metric, inch, metric_m_min, metric_mm_s, inch_ft_min };
constexpr bool is_inch(UnitSystem units) { return units == UnitSystem::inch || units == UnitSystem::inch_ft_min; }

inline constexpr double mm_per_inch = 25.4;
// Exact: the pound is 0.45359237 kg, standard gravity 9.80665 m/s², the horsepower 550 ft·lbf/s.
inline constexpr double newton_per_lbf = 0.45359237 * 9.80665;
inline constexpr double gram_per_lb = 453.59237;
inline constexpr double kw_per_hp = 550 * 0.3048 * newton_per_lbf / 1000;

}  // namespace pecorra
