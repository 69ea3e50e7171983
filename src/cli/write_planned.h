// Commands that change a shop: the change is planned from the present shop and written before the answer.
#pragma once

#include <functional>

#include "cli/lookup.h"

namespace pecorra::cli {

struct Plan {
  Change change;  // empty: nothing is written
  Json answer;    // printed once the change is on the disk
};
// Plans the change from the shop as read, or returns the exit code of a bad request.
using Planner = std::function<tl::expected<Plan, int>(const LoadedShop&)>;

// Where another program was first the change is brought together with its, or planned anew; where both changed one
// value this is told, and nothing is written. Returns the exit code.
int write_planned(const std::string& shop, const Planner& planner);

}  // namespace pecorra::cli
