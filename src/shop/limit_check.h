// Whether an operation stays within every limit where its path cuts the most: at its values, at full width and in its
// finishing passes.
#pragma once

#include <map>
#include <optional>
#include <vector>

#include "shop/evaluation.h"

namespace pecorra {

// Keeps copies of what it needs, so that it can be used aside.
class LimitCheck {
 public:
  LimitCheck() = default;
  LimitCheck(const ShopState& state, const JobHead& job, const std::vector<Operation>& operations);
  // The limits that are exceeded, as warnings, each once and with the worst figure.
  std::vector<Message> of(const Operation& operation, const PathFacts& path) const;
  bool operator==(const LimitCheck&) const = default;

 private:
  std::optional<WorkMaterial> material_;
  std::optional<Machine> machine_;
  ShopSettings settings_;
  std::map<Id, Assembly> held_;  // by cutter
};

}  // namespace pecorra
