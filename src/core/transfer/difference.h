// What differs between two things of one type, property by property.
#pragma once

#include <cmath>
#include <vector>

#include "core/base/property.h"

namespace pecorra {

inline bool same_value(const Value& a, const Value& b) {
  const double *x = std::get_if<double>(&a), *y = std::get_if<double>(&b);
  if (x && y) return std::abs(*x - *y) <= 1e-7 * std::max(std::abs(*x), std::abs(*y));
  // A text that is not given and an empty one are the same.
  const auto nothing = [](const Value& v) {
    const std::string* text = std::get_if<std::string>(&v);
    return std::holds_alternative<std::monostate>(v) || (text && text->empty());
  };
  return a == b || (nothing(a) && nothing(b));
}

template <class T>
std::vector<const Property<T>*> differences(const T& a, const T& b) {
  std::vector<const Property<T>*> list;
  for (const Property<T>& p : properties<T>())
    if (!same_value(p.get(a), p.get(b))) list.push_back(&p);
  return list;
}

}  // namespace pecorra
