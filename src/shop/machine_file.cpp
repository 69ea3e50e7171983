#include "shop/machine_file.h"

#include <algorithm>

#include "formats/json/value_schema.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr std::string_view curves[] = {"power_curve_rpm_kw", "peak_curve_rpm_kw"}, dial = "dial_rpm";

std::vector<std::string_view> known_keys() {
  std::vector<std::string_view> keys{"format_version", dial};
  keys.insert(keys.end(), std::begin(curves), std::end(curves));
  for (const Property<Machine>& p : properties<Machine>()) keys.push_back(p.key);
  return keys;
}

}  // namespace

tl::expected<Machine, FormatFaults> read_machine_file(std::string_view text) {
  FormatFaults faults;
  const auto json = parse_json(text);
  if (!json) return tl::unexpected(FormatFaults{json.error()});
  if (!json->is_object()) return tl::unexpected(FormatFaults{{"", "is not an object; expected one machine, {…}"}});
  refuse_unknown(*json, "", known_keys(), faults);
  if (json->contains("format_version") && (*json)["format_version"] != Json(1))
    faults.push_back({"format_version", "is not known; expected 1"});
  Machine machine;
  ReadRules rules;
  rules.strict_range = true;
  read_properties(machine, properties<Machine>(), *json, "", rules, faults);
  for (const auto& [curve, key] : {std::pair{&machine.power_curve, curves[0]}, {&machine.peak_curve, curves[1]}})
    if (json->contains(key)) read_power_curve(*curve, (*json)[std::string(key)], std::string(key), faults);
  if (json->contains(dial)) {
    const Json& list = (*json)[std::string(dial)];
    if (list.is_array() && std::all_of(list.begin(), list.end(), [](const Json& n) { return n.is_number(); }))
      machine.dial_rpm = list.get<std::vector<double>>();
    else faults.push_back({std::string(dial), "is not a list of speeds; expected rising numbers in rpm"});
  }
  if (machine.name.empty()) faults.push_back({"name", "is missing; a machine needs a name"});
  if (faults.empty())
    for (const Message& m : check_machine(machine))
      if (m.severity == Severity::error) faults.push_back({m.property, sentence(m, UnitSystem::metric).toStdString()});
  if (!faults.empty()) return tl::unexpected(std::move(faults));
  machine.id = new_id();
  return machine;
}

Json machine_file(const Machine& machine) {
  Json json{{"format_version", 1}};
  const Json all = to_json(machine);
  for (const std::string_view key : known_keys())
    if (const auto found = all.find(std::string(key)); found != all.end()) json[std::string(key)] = *found;
  return json;
}

std::string machine_schema_text() {
  Json own{{"format_version", {{"const", 1}}}};
  for (const Property<Machine>& p : properties<Machine>()) own[std::string(p.key)] = schema::value_schema(p, true);
  for (const std::string_view curve : curves) {
    own[std::string(curve)] = schema::list_of(schema::numbers(2, 2));
    own[std::string(curve)]["minItems"] = 1;
    own[std::string(curve)]["description"] = "Points [rpm, kW] of the motor, speeds rising";
  }
  own[std::string(dial)] = schema::list_of({{"type", "number"}, {"exclusiveMinimum", 0}});
  own[std::string(dial)]["description"] = "Speeds of a numbered dial, position 1 first, rising";
  return Json{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
              {"title", "Pecorra machine"},
              {"description", "A milling machine: what its spindle, axes and coolant can do."},
              {"type", "object"},
              {"required", Json::array({"name"})},
              {"properties", own},
              {"additionalProperties", false}}
             .dump(1) +
         "\n";
}

}  // namespace pecorra
