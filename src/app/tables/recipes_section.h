// The recipes of all cutters: a list with a bench, like materials and machines.
#pragma once

#include <functional>

#include "app/parts/parts_section.h"
#include "app/workspace.h"
#include "core/tables/recipe.h"

namespace pecorra {

// `show_row`: opens a table at a row that was made from a recipe.
PartsSection* make_recipes_section(Workspace& workspace, std::function<void(const TrailTarget&)> show_row,
                                   QObject* parent);

}  // namespace pecorra
