// Recipes made from what is seen, put on other cutters, and turned into rows of tables; rows for a maker's series.
#pragma once

#include "shop/table_edit.h"

namespace pecorra {

struct RecipeChange {
  Change change;
  Id recipe;
};

// The cut on screen as a recipe of the cutter for this operation and material, named after its expected removal rate.
// The first one becomes the usual one.
RecipeChange keep_as_recipe(const ShopState& state, const Cutter& cutter, const WorkMaterial& material,
                            OperationKind operation, const Evaluation& seen, const WhatIf& tried = {});
// A name not yet used by a recipe of the cutter.
std::string free_recipe_name(const ShopState& state, const Id& cutter, const std::string& wanted);
// Copies it to these cutters, leaving out those that already have one of this name for the same use. `odd`: cutters it
// does not suit.
Change put_on_cutters(const ShopState& state, const Recipe& recipe, const std::vector<Id>& cutters, int& odd);
// Changes a recipe; if it becomes the usual one, the others for the same use no longer are.
Change change_recipe(const ShopState& state, const Recipe& before, const Recipe& after, const QString& label);

// Puts it into the table of the maker's series, else into the shop's own.
RowChange recipe_into_table(const ShopState& state, const Recipe& recipe);
// An empty row for the cutter's series with its keys and flutes filled in, ready for the speed and table feed of a data
// sheet.
RowChange row_for_series(const ShopState& state, const Cutter& cutter, const WorkMaterial& material,
                         OperationKind operation);

}  // namespace pecorra
