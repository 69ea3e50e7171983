// Every object of a shop as JSON, derived from its property declarations. The same form is kept in the shop's database,
// in exported files and in history.
#pragma once

#include <nlohmann/json.hpp>
#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "core/base/property.h"
#include "core/cutter/edge_material.h"
#include "core/library/library.h"
#include "core/library/number_block.h"
#include "core/library/shared_library.h"
#include "core/holder/holder.h"
#include "core/insert/insert.h"
#include "core/job/job.h"
#include "core/machine/machine.h"
#include "core/mechanics/cut.h"
#include "core/material/work_material.h"
#include "core/program/program.h"
#include "core/tables/recipe.h"
#include "core/shop_settings/settings.h"
#include "formats/format_fault.h"

namespace pecorra {

using Json = nlohmann::ordered_json;

inline constexpr int format_version = 1;

// Strict parse: one value, no duplicate keys, at most 64 levels, finite numbers.
tl::expected<Json, FormatFault> parse_json(std::string_view text);

// How a property table is read.
struct ReadRules {
  bool strict_range = false;              // values outside the declared range are faults
  bool zero_is_absent = false;            // 0 counts as not given where it is no possible value
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

Json to_json(const Library&);
Json to_json(const NumberBlock&);
Json to_json(const SharedLibrary&);
Json to_json(const Cutter&);
Json to_json(const EdgeMaterial&);
Json to_json(const Insert&);
Json to_json(const Collet&);
Json to_json(const Holder&);
Json to_json(const Assembly&);
Json to_json(const WorkMaterial&);
Json to_json(const Machine&);
Json to_json(const Recipe& recipe);
void from_json(Recipe& recipe, const Json& json, FormatFaults& faults);
Json to_json(const ConditionTable&);
Json to_json(const Job&);
Json to_json(const ShopSettings&);
Json to_json(const Dialect&);

void from_json(Library&, const Json&, FormatFaults&);
void from_json(NumberBlock&, const Json&, FormatFaults&);
void from_json(SharedLibrary&, const Json&, FormatFaults&);
void from_json(Cutter&, const Json&, FormatFaults&);
void from_json(EdgeMaterial&, const Json&, FormatFaults&);
void from_json(Insert&, const Json&, FormatFaults&);
void from_json(Collet&, const Json&, FormatFaults&);
void from_json(Holder&, const Json&, FormatFaults&);
void from_json(Assembly&, const Json&, FormatFaults&);
void from_json(WorkMaterial&, const Json&, FormatFaults&);
void from_json(Machine&, const Json&, FormatFaults&);
void from_json(ConditionTable&, const Json&, FormatFaults&);
void from_json(Job&, const Json&, FormatFaults&);
void from_json(ShopSettings&, const Json&, FormatFaults&);
void from_json(Dialect&, const Json&, FormatFaults&);

// [[rpm, kW], …]
void read_power_curve(std::vector<PowerPoint>&, const Json&, const std::string& path, FormatFaults&);

// The known text nearest to a mistyped or shortened one (edit distance), empty when nothing is near.
std::string nearest_text(std::string_view text, const std::vector<std::string>& known);

// What a row or object says for this key, for history and lists.
std::string json_text(const Json& value);

}  // namespace pecorra
