// What the figures of a cut are calculated by, for people: the formula in one line, and where it is from. Sources that
// are books or standards are cited from memory.
#pragma once

#include <span>
#include <string_view>

namespace pecorra {

struct FormulaSource {
  int number = 0;  // as in the help of properties<CutResults>()
  std::string_view formula;
  std::string_view source;
};
std::span<const FormulaSource> formula_sources();
// Of a result, by its key; 0 for an unknown one.
int formula_of(std::string_view result_key);

}  // namespace pecorra
