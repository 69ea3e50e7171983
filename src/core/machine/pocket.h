// What stands in the magazine of a machine: one object for each pocket, so that two setters can load one magazine.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/id.h"
#include "core/base/message.h"
#include "core/base/property.h"

namespace pecorra {

struct Pocket {
  Id id;
  std::int64_t revision = 0;
  Id machine;
  std::optional<int> number;  // T of a program
  Id assembly;                // null: kept free
  std::string name;           // a remark
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Pocket&) const = default;
};
template <>
std::span<const Property<Pocket>> properties<Pocket>();

}  // namespace pecorra
