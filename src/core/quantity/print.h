// Printing of quantities for people and for programs. The decimal mark is always a point.
#pragma once

#include <string>

#include "core/base/property.h"
#include "core/quantity/units.h"

namespace pecorra {

// Up to `decimals` digits behind the point, without trailing zeros: 12, 0.05, 7.9375.
std::string plain(double value, int decimals = 4);

// A stored value as shown in this unit system, without its unit.
std::string shown(double stored, Quantity quantity, UnitSystem units);
// The unit text belonging to it: "mm", "in/min", "m/min", "°".
std::string unit_text(Quantity quantity, UnitSystem units);
// Both: "12.7 mm".
std::string shown_with_unit(double stored, Quantity quantity, UnitSystem units);

// Small lengths as a machinist says them, chips, deflection and runout: thousandths of a millimetre in mm, in inch
// units thou. Without and as the unit.
std::string shown_thousandths(double stored_mm, UnitSystem units);
std::string thousandths_unit(UnitSystem units);
// Stored unit over shown unit: stored = shown · factor.
double stored_per_shown(Quantity quantity, UnitSystem units);

}  // namespace pecorra
