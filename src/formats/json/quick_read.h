// Stored objects read in one pass, without a document in between: a shop is read at every start.
#pragma once

#include <string_view>

#include "core/cutter/edge_material.h"
#include "core/holder/holder.h"
#include "core/insert/insert.h"
#include "core/tables/recipe.h"

namespace pecorra {

// An object that has nothing but an id, properties, typed texts and what a cutter has besides; tables with their rows. False,
// and the object half filled, where anything is not as this program writes it; the strict reader then says what.
template <class T>
bool quick_read(T& into, std::string_view body);

}  // namespace pecorra
