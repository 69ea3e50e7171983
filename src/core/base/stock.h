// Stock: the same four fields for cutters, inserts, holders and collets.
#pragma once

#include <algorithm>
#include <array>

#include "core/base/property.h"

namespace pecorra {

// T has in_stock, wanted, on_order (optional<int>) and retired (bool).
template <class T>
constexpr std::array<Property<T>, 4> stock_properties() {
  return {field<&T::in_stock>("in_stock", "", "In stock", Quantity::count, "Quantity in stock").within(0, 1e6),
          field<&T::wanted>("wanted", "", "Wanted", Quantity::count, "Quantity the shop wants to keep").within(0, 1e6),
          field<&T::on_order>("on_order", "", "On order", Quantity::count, "Quantity on order").within(0, 1e6),
          field<&T::retired>("retired", "", "Retired", Quantity::flag, "No longer offered when picking")};
}

// Fewer than wanted, including those on order.
template <class T>
int short_by(const T& thing) {
  const int has = thing.in_stock.value_or(0) + thing.on_order.value_or(0);
  return !thing.retired && thing.wanted && *thing.wanted > has ? *thing.wanted - has : 0;
}

// Concatenates arrays of properties.
template <class T, std::size_t A, std::size_t B>
constexpr std::array<Property<T>, A + B> joined(const std::array<Property<T>, A>& a,
                                                const std::array<Property<T>, B>& b) {
  std::array<Property<T>, A + B> both;
  std::copy(a.begin(), a.end(), both.begin());
  std::copy(b.begin(), b.end(), both.begin() + A);
  return both;
}

}  // namespace pecorra
