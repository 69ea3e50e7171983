// An outline as people type it: a point on each line, distance from the axis and height above the tip, and for an arc
// the radius with which it is reached: positive bulges outwards, negative is hollow. Numbers as in any field; parts are
// separated by blanks, or by semicolons where a number has blanks itself.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "core/base/vertex.h"
#include "core/quantity/units.h"

namespace pecorra {

struct OutlineTextFault {
  int line = 0;  // from 1
  std::string text;
};

// Empty lines and anything after a # are ignored.
tl::expected<std::vector<Vertex>, OutlineTextFault> parse_outline(std::string_view text, UnitSystem units);
std::string outline_text(const std::vector<Vertex>& outline, UnitSystem units);

}  // namespace pecorra
