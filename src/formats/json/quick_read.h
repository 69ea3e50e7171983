// Stored objects read in one pass, without a document in between: a shop is read at every start.
#pragma once

#include <string_view>

#include "core/stored/stored_kinds.h"

namespace pecorra {

// For every stored kind: an object with an id, properties, typed texts and what a cutter has besides; tables with their
// rows. False, and the object half filled, where there is anything else or it is not as this program writes it; the
// strict reader then reads it and says what is wrong.
template <class T>
bool quick_read(T& into, std::string_view body);

}  // namespace pecorra
