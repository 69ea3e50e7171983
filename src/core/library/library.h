// A library of cutters.
#pragma once

#include <string>

#include "core/base/property.h"

namespace pecorra {

struct Library {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  std::string notes;
  bool switched_on = true;  // its cutters are offered where one is picked
  bool operator==(const Library&) const = default;
};
template <>
std::span<const Property<Library>> properties<Library>();

}  // namespace pecorra
