#include "core/quantity/units.h"

#include <array>

namespace pecorra {
namespace {

constexpr std::array<LengthUnitFact, 7> facts{{{LengthUnit::mm, 1, 1},
                                               {LengthUnit::cm, 10, 1},
                                               {LengthUnit::m, 1000, 1},
                                               {LengthUnit::um, 1, 1000},
                                               {LengthUnit::inch, 127, 5},
                                               {LengthUnit::ft, 1524, 5},
                                               {LengthUnit::thou, 127, 5000}}};

constexpr std::array<LengthUnitSpelling, 17> spellings{{{"mm", LengthUnit::mm},
                                                        {"cm", LengthUnit::cm},
                                                        {"m", LengthUnit::m},
                                                        {"um", LengthUnit::um},
                                                        {"µm", LengthUnit::um},       // micro sign
                                                        {"\u03bcm", LengthUnit::um},  // Greek mu
                                                        {"in", LengthUnit::inch},
                                                        {"inch", LengthUnit::inch},
                                                        {"\"", LengthUnit::inch},
                                                        {"\u2033", LengthUnit::inch},  // double prime
                                                        {"\u201d", LengthUnit::inch},  // closing quotation mark
                                                        {"ft", LengthUnit::ft},
                                                        {"'", LengthUnit::ft},
                                                        {"\u2032", LengthUnit::ft},  // prime
                                                        {"\u2019", LengthUnit::ft},  // apostrophe
                                                        {"thou", LengthUnit::thou},
                                                        {"mil", LengthUnit::thou}}};

}  // namespace

const LengthUnitFact& fact_of(LengthUnit unit) { return facts[static_cast<std::size_t>(unit)]; }

std::span<const LengthUnitSpelling> length_unit_spellings() { return spellings; }

std::optional<LengthUnit> length_unit_from(std::string_view spelling) {
  for (const LengthUnitSpelling& known : spellings)
    if (known.text == spelling) return known.unit;
  return std::nullopt;
}

}  // namespace pecorra
