// The value at a diameter from the rows of one curve, as the resolver reads it, for drawing curves.
#pragma once

#include <optional>
#include <span>

#include "core/tables/condition_table.h"

namespace pecorra {

enum class CurveValue { speed, feed };
std::optional<double> value_of(const ConditionRow& row, CurveValue value);
// Rows in order of their diameters, all of which are given. Linear in between; beyond the ends the last row's, a feed
// below the first in proportion to the diameter. Nothing where no row has the value.
std::optional<double> value_between(std::span<const ConditionRow> rows, CurveValue value, double diameter_mm);

}  // namespace pecorra
