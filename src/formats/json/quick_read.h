// Stored objects read in one pass, without a document in between: a shop is read at every start.
#pragma once

#include <optional>
#include <string_view>

#include "core/cutter/edge_material.h"
#include "core/holder/holder.h"
#include "core/insert/insert.h"
#include "core/tables/recipe.h"

namespace pecorra {

// An object that has nothing but an id, properties and typed texts.
template <class T>
std::optional<T> quick_object(std::string_view body);
// Nothing where anything in it is not as this program writes it; the strict reader then says what.
std::optional<ConditionTable> quick_table(std::string_view body);

}  // namespace pecorra
