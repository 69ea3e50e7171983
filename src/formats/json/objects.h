// Every object of a shop as JSON, derived from its property declarations. The same form is kept in the shop's database,
// in exported files and in history.
#pragma once

#include <nlohmann/json.hpp>
#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "core/base/property.h"
#include "core/mechanics/cut.h"
#include "core/program/program.h"
#include "core/stored/stored_kinds.h"
#include "formats/format_fault.h"

namespace pecorra {

using Json = nlohmann::ordered_json;

inline constexpr int format_version = 1;

// Strict parse: one value, no duplicate keys, at most 64 levels, finite numbers.
tl::expected<Json, FormatFault> parse_json(std::string_view text);

// How a property table is read.
struct ReadRules {
  bool strict_range = false;                          // values outside the declared range are faults
  bool zero_is_absent = false;                        // 0 counts as not given where it is no possible value
  std::span<const std::string_view> zero_is_fault{};  // … except for these keys
};

template <class T>
Json write_properties(const T& object, std::span<const Property<T>> list);
// Reads what is there; wrong types, unknown choices and ranges are faults and leave the member as it was.
template <class T>
void read_properties(T& object, std::span<const Property<T>> list, const Json& json, const std::string& path,
                     const ReadRules& rules, FormatFaults& faults);
// Keys that no list knows, as faults naming the nearest known one.
void refuse_unknown(const Json& json, const std::string& path, const std::vector<std::string_view>& known,
                    FormatFaults& faults);

// Steps with code and values; absent and not finite values are left out.
Json details_json(const Details&);
Json trail_json(const Trail&);

// For every stored kind. A kind that has nothing besides its properties needs no code of its own.
template <class T>
Json to_json(const T& object);
template <class T>
void from_json(T& object, const Json& json, FormatFaults& faults);

// [[rpm, kW], …]
void read_power_curve(std::vector<PowerPoint>&, const Json&, const std::string& path, FormatFaults&);

// The known text nearest to a mistyped or shortened one (edit distance), empty when nothing is near.
std::string nearest_text(std::string_view text, const std::vector<std::string>& known);

// The value of a row or object under this key, for history and lists.
std::string json_text(const Json& value);

}  // namespace pecorra
