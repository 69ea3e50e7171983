// A stored table of conditions read in one pass, without a document in between: tables are most of a shop's bytes.
#pragma once

#include <optional>
#include <string_view>

#include "core/tables/condition_table.h"

namespace pecorra {

// Nothing where anything in it is not as this program writes it; the strict reader then says what.
std::optional<ConditionTable> quick_table(std::string_view body);

}  // namespace pecorra
