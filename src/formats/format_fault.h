// One thing that is wrong in a file: where, what, and what would be right.
#pragma once

#include <string>
#include <vector>

namespace pecorra {

struct FormatFault {
  std::string key;  // path, e.g. "cutter.diameter_mm"
  std::string text;
  std::string line() const { return key.empty() ? text : key + ": " + text; }
};
using FormatFaults = std::vector<FormatFault>;

}  // namespace pecorra
