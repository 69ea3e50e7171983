// The chain of operations that makes a feature, with cutters and conditions: seen before it is added.
#pragma once

#include "shop/change.h"
#include "shop/cutter_match.h"

namespace pecorra {

struct ProposedOperation {
  Operation operation;         // with cutter and conditions, where there are any
  std::vector<Message> notes;  // which cutter, and why
};
// Empty where the features have no chain.
std::vector<ProposedOperation> proposed_chain(const ShopState& state, const Resolver& resolver, const Job& job,
                                              const std::vector<std::string>& features);

// Adds operations at the end, in one step.
Change added_operations(const Job& job, std::vector<Operation> operations);

}  // namespace pecorra
