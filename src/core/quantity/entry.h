// What is typed into a field for any quantity: the text as written, the stored value, and what was understood.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "core/base/property.h"
#include "core/quantity/units.h"

namespace pecorra {

struct Entry {
  double stored = 0;
  std::string understood;  // "= 11.113 mm", empty if the text is clear already
};

struct EntryFault {
  std::string text;  // what is wrong, and what would be right
};

// Lengths take every length unit; other quantities take their own units ("m/min", "ft/min", "rpm", "in/min", "°") or
// none; hardness also takes HV, HRC and the strength (ISO 18265). `units` says how a number without unit is read,
// `other` in which system the understood value is repeated.
tl::expected<Entry, EntryFault> parse_entry(std::string_view text, Quantity quantity, UnitSystem units);

}  // namespace pecorra
