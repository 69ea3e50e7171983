// Checks that follow from the declarations alone.
#pragma once

#include <vector>

#include "core/base/message.h"
#include "core/base/property.h"

namespace pecorra {

// An error for each number outside the range that its property declares.
template <class T>
void check_ranges(const T& object, std::vector<Message>& messages) {
  for (const Property<T>& property : properties<T>())
    if (const auto number = number_of(object, property); number && !property.accepts(*number))
      messages.push_back({Severity::error,
                          "out_of_range",
                          std::string(property.key),
                          {{"value", *number}, {"low", property.low}, {"high", property.high}}});
}

}  // namespace pecorra
