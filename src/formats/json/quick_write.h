// The text that the store keeps of a cutter, without a document in between: the same that to_json() gives.
#pragma once

#include <string>

#include "core/cutter/cutter.h"

namespace pecorra {

void quick_write(std::string& out, const Cutter& cutter);

}  // namespace pecorra
