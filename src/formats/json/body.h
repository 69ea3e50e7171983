// Objects of a shop as the JSON text that its database keeps, without pulling a JSON library into every file.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "formats/format_fault.h"

namespace pecorra {

// For every stored kind.
template <class T>
std::string body_of(const T& object);
// Reads what can be read; the rest is in the faults. Nothing where the text is no JSON object at all.
template <class T>
std::optional<T> object_from_body(std::string_view body, FormatFaults& faults);

}  // namespace pecorra
