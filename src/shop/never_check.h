// What is wrong with a rule of the never-list in this shop.
#pragma once

#include "shop/state.h"

namespace pecorra {

// As check_never_rule, and an error where the rule is beyond those that count (NeverRules::most).
std::vector<Message> check_never(const ShopState& state, const NeverRule& rule);

}  // namespace pecorra
