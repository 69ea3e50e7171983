// An edit of one property as typed, and its label for the strip and the history.
#pragma once

#include "core/quantity/print.h"
#include "shop/change.h"
#include "shop/words.h"

namespace pecorra {

// The object with the property set. The typed text is kept if it says more than the printed number. An empty id: no
// choice.
template <class T>
T edited(const T& object, const Property<T>& property, const Value& value, const std::string& text, UnitSystem units) {
  T copy = object;
  const bool nothing = std::holds_alternative<std::monostate>(value);
  if (!property.set(copy, value) && nothing) property.set(copy, std::string());
  if constexpr (requires { copy.typed; }) {
    const double* number = std::get_if<double>(&value);
    if (number && text != shown(*number, property.quantity, units)) copy.typed[std::string(property.key)] = text;
    else copy.typed.erase(std::string(property.key));
  }
  return copy;
}

// "Flute length 26 → 30 mm"
template <class T>
QString edit_label(const T& before, const T& after, const Property<T>& property, UnitSystem units) {
  return property_change_text(label_text(property.label), property.get(before), property.get(after), property.quantity,
                              property.choices, units);
}

}  // namespace pecorra
