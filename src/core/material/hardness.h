// Conversion between hardness scales and strength: ISO 18265, table A.1 (unalloyed and low-alloy steel and cast steel),
// from memory. Linear between its points. Brinell values above 450 HV are in brackets there; above 650 HV they are
// extrapolated at the same ratio, which is an estimate.
#pragma once

#include <optional>
#include <string_view>
#include <utility>

namespace pecorra {

enum class HardnessScale { hb, hv, hrc, rm };  // rm: tensile strength, N/mm²

// Nothing outside the range of the table.
std::optional<double> convert_hardness(double value, HardnessScale from, HardnessScale to);
// Smallest and largest value that the table has on this scale.
std::pair<double, double> hardness_range(HardnessScale scale);
std::string_view name_of(HardnessScale scale);

}  // namespace pecorra
