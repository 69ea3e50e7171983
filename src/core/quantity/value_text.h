// Reads the text of a number field: `12`, `12,5 mm`, `7/16"`, `1-1/8 in`, `10 thou`, `3/4*25.4`, `1½ in`. Arithmetic is
// exact (rational). Nothing is guessed: ambiguous text is refused with the place.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "core/quantity/units.h"

namespace pecorra {

struct ValueFault {
  std::size_t place = 0;   // byte offset into the text
  std::size_t length = 0;  // bytes concerned, 0 at the end of the text
  std::string code;        // stable, e.g. "two_units_multiplied"
  std::string subject;     // the characters concerned
};

// What was understood. The exact value is kept as a fraction in the text form of its parts, so that the header
// needs no big-number library; `value_in` and `rounded_text` are what callers want.
struct WrittenValue {
  std::string numerator_mm;    // of the value in millimetres, or of the plain number
  std::string denominator_mm;  // positive
  bool has_unit = false;       // a unit stood in the text

  double mm() const;
};

// A length. `bare` is the unit of a number without one.
tl::expected<WrittenValue, ValueFault> parse_length(std::string_view text, LengthUnit bare);

// A number that has no length unit (speeds, angles, counts); a length unit is a fault.
tl::expected<WrittenValue, ValueFault> parse_number(std::string_view text);

// The value in `unit` with `decimals` digits, the last one rounded half away from zero, exactly.
std::string rounded_text(const WrittenValue& value, LengthUnit unit, int decimals);

// The English sentence of a fault, without the place.
std::string sentence(const ValueFault& fault);

}  // namespace pecorra
