// What ships with the program: materials, holders, starter tables, and the demo shop made of them.
#pragma once

#include <QString>
#include <vector>

#include "shop/state.h"

namespace pecorra {

// Machines of usual kinds, to copy.
const std::vector<Machine>& generic_machines();

// What must never be done, as it ships; ids are fixed. A shop's rule of the same id replaces it.
const std::vector<NeverRule>& shipped_never_rules();
// The demo shop in memory, always with the same ids.
ShopState demo_state();

// A new shop: the shipped materials, holders, starter tables and generic machines, and one empty library.
ShopState new_shop_state(const std::string& name);

// Writes a shop with these objects to a new file, which gets its name only once it is complete.
tl::expected<void, StoreFault> write_shop(const ShopState& state, const QString& file, const QString& label);

}  // namespace pecorra
