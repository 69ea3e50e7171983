// A machine as a JSON file of its own: keys of properties<Machine>(), `power_curve_rpm_kw`, `peak_curve_rpm_kw` and
// `dial_rpm`. Its JSON Schema ships as data/schemas/machine.schema.json.
#pragma once

#include <string>
#include <string_view>

#include "formats/json/objects.h"

namespace pecorra {

// With a new id; unknown keys, wrong types, values out of range and whatever check_machine() refuses are faults.
tl::expected<Machine, FormatFaults> read_machine_file(std::string_view text);
Json machine_file(const Machine& machine);
std::string machine_schema_text();

}  // namespace pecorra
