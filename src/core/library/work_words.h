// The words of the trade for the work that a comment names. Common practice, no source.
#pragma once

#include <optional>
#include <string_view>

#include "core/cutter/operation_kind.h"

namespace pecorra {

// "FINISH POCKET WALL", "2nd roughing"; nothing where no word says it. Words of a cutter ("FINISHING END MILL", "FACE
// MILL") do not count.
std::optional<OperationKind> work_in_words(std::string_view text);

}  // namespace pecorra
