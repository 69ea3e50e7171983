// Names of cutters from a pattern: text with properties in braces, by symbol, key or label, as in "{kind}[ R{RE}]
// Ø{DC}[ × {LCF}]". What stands in square brackets is left out when one of its properties is not given or zero. "\"
// before a bracket or brace means the mark itself.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "core/cutter/cutter.h"

namespace pecorra {

inline constexpr std::string_view usual_name_pattern = "{kind}[ R{RE}] Ø{DC}[ × {LCF}]";

struct PatternFault {
  int place = 0;  // characters from the start, from 1
  std::string text;
};

// The name by a pattern; lengths in the unit the cutter was bought in. A fault names the place.
tl::expected<std::string, PatternFault> name_by_pattern(std::string_view pattern, const Cutter& cutter);

// The name by the shop's pattern, by the usual one where it is faulty or empty.
std::string suggested_name(const Cutter& cutter, std::string_view pattern = usual_name_pattern);

}  // namespace pecorra
