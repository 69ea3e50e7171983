// Recipes made from what is seen, put on other cutters, and turned into rows of tables; rows for a maker's series.
#pragma once

#include "shop/table_edit.h"

namespace pecorra {

struct RecipeChange {
  Change change;
  Id recipe;
};

// The cut that is seen, as a recipe of the cutter for this operation and material, named with what it is expected to
// remove. The first for both is the usual one.
RecipeChange keep_as_recipe(const ShopState& state, const Cutter& cutter, const WorkMaterial& material,
                            OperationKind operation, const Evaluation& seen, const WhatIf& tried = {});
// A name that no recipe of the cutter has yet.
std::string free_recipe_name(const ShopState& state, const Id& cutter, const std::string& wanted);
// Copies on these cutters; those that have one of this name for the same already are left out. `odd`: cutters it does
// not fit.
Change put_on_cutters(const ShopState& state, const Recipe& recipe, const std::vector<Id>& cutters, int& odd);
// A change of a recipe; where it becomes the usual one the others for the same are no longer.
Change change_recipe(const ShopState& state, const Recipe& before, const Recipe& after, const QString& label);

// Into the table of the maker's series, else into the shop's own.
RowChange recipe_into_table(const ShopState& state, const Recipe& recipe);
// An empty row for the series of the cutter, its keys and flutes filled in: a data sheet's speed and table feed are
// typed there.
RowChange row_for_series(const ShopState& state, const Cutter& cutter, const WorkMaterial& material,
                         OperationKind operation);

}  // namespace pecorra
