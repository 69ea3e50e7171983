// A recipe: a named set of conditions kept on one cutter, for an operation and perhaps a material.
#pragma once

#include "core/tables/condition_table.h"

namespace pecorra {

// The row says what it was made for (kind, tool material, diameter) and its values. Without a material it is for any.
struct Recipe : ConditionRow {
  std::int64_t revision = 0;
  std::string name;  // light, medium, heavy; slot, side, finish
  Id cutter;
  bool usual = false;                     // taken where several would do
  std::optional<double> removal_cm3_min;  // expected
  bool operator==(const Recipe&) const = default;
};
// Its own properties, then those of a row that apply.
template <>
std::span<const Property<Recipe>> properties<Recipe>();

// Errors in its values (check_row), and where kind, size or tool material are not what it was made for: warnings.
std::vector<Message> check_recipe(const Recipe& recipe, const Cutter& cutter);

}  // namespace pecorra
