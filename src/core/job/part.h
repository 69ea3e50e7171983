// The geometry that a job read from a file.
#pragma once

#include "core/base/property.h"
#include "core/geometry/drawing.h"

namespace pecorra {

struct Part {
  Id id;
  std::int64_t revision = 0;
  Id job;
  Drawing drawing;
  bool operator==(const Part&) const = default;
};
template <>
std::span<const Property<Part>> properties<Part>();

}  // namespace pecorra
