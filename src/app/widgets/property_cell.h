// A property in the cell of a list: its text, its side, its order.
#pragma once

#include <QObject>

#include "core/base/property.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

// What a property says in a list, without its unit.
template <class T>
QString cell_text(const T& thing, const Property<T>& property, UnitSystem units) {
  const Value value = property.get(thing);
  if (const double* number = std::get_if<double>(&value)) return text_of(shown(*number, property.quantity, units));
  if (const bool* flag = std::get_if<bool>(&value)) return *flag ? QObject::tr("yes") : QString();
  const std::string* text = std::get_if<std::string>(&value);
  if (!text) return {};
  for (const Choice& c : property.choices)
    if (c.key == *text) return label_text(c.label);
  return text_of(*text);
}

inline bool is_figure(Quantity q) { return q >= Quantity::count; }

// The order of two values in a list: figures by size, what is not given last, all else by text.
inline bool value_before(const Value& a, const Value& b) {
  const bool a_none = std::holds_alternative<std::monostate>(a), b_none = std::holds_alternative<std::monostate>(b);
  if (a_none || b_none) return !a_none && b_none;
  const std::string *x = std::get_if<std::string>(&a), *y = std::get_if<std::string>(&b);
  if (x && y) return text_of(*x).compare(text_of(*y), Qt::CaseInsensitive) < 0;
  return a < b;
}

}  // namespace pecorra
