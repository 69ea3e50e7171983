// Checks that follow from the declarations alone.
#pragma once

#include <vector>

#include "core/base/message.h"
#include "core/base/property.h"

namespace pecorra {

// An error if the number is outside the range declared for the property.
template <class T>
void check_range(const Property<T>& property, double number, std::vector<Message>& messages) {
  if (property.accepts(number)) return;
  messages.push_back({Severity::error,
                      "out_of_range",
                      std::string(property.key),
                      {{"value", number}, {"low", property.low}, {"high", property.high}}});
}

// The same for every number of an object.
template <class T>
void check_ranges(const T& object, std::vector<Message>& messages) {
  for (const Property<T>& property : properties<T>())
    if (const auto number = number_of(object, property)) check_range(property, *number, messages);
}

}  // namespace pecorra
