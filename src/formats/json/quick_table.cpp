#include "formats/json/quick_table.h"

#include <cmath>
#include <simdjson.h>

namespace pecorra {
namespace {

using simdjson::dom::element;
using simdjson::dom::element_type;
using simdjson::dom::array;
using simdjson::dom::object;

std::string_view text_of(const element& e) { return {e.get_c_str().value_unsafe(), e.get_string_length().value_unsafe()}; }

// One property from one member; the cursor stays behind the property, since members stand in the order of declarations.
template <class T>
bool read_member(T& target, std::string_view key, const element& value, std::size_t& cursor) {
  const std::span<const Property<T>> list = properties<T>();
  for (std::size_t tried = 0; tried < list.size(); ++tried) {
    const Property<T>& property = list[cursor];
    cursor = cursor + 1 == list.size() ? 0 : cursor + 1;
    if (property.key != key) continue;
    const bool is_text = property.quantity == Quantity::text || property.quantity == Quantity::id || property.quantity == Quantity::choice;
    switch (value.type()) {
      case element_type::STRING: return is_text && property.set(target, std::string(text_of(value)));
      case element_type::BOOL: return property.quantity == Quantity::flag && property.set(target, value.get_bool().value_unsafe());
      case element_type::INT64:
      case element_type::UINT64:
      case element_type::DOUBLE: {
        const double number = value.get_double().value_unsafe();
        if (is_text || property.quantity == Quantity::flag || !std::isfinite(number)) return false;
        if (property.quantity == Quantity::count && (number != std::floor(number) || std::abs(number) > 1e9)) return false;
        return property.set(target, number);
      }
      default: return false;
    }
  }
  return false;
}

bool read_id(Id& id, const element& value) {
  const auto parsed = value.is_string() ? Id::parse(text_of(value)) : std::nullopt;
  if (parsed) id = *parsed;
  return parsed.has_value();
}

bool read_row(ConditionRow& row, const element& entry) {
  if (!entry.is_object()) return false;
  std::size_t cursor = 0;
  const object members(entry);
  for (const auto member : members) {
    if (member.key == "id") {
      if (!read_id(row.id, member.value)) return false;
    } else if (member.key == "typed") {
      if (!member.value.is_object()) return false;
      const object texts(member.value);
      for (const auto typed : texts) {
        if (!typed.value.is_string()) return false;
        row.typed.emplace(typed.key, text_of(typed.value));
      }
    } else if (!read_member(row, member.key, member.value, cursor)) {
      return false;
    }
  }
  return true;
}

}  // namespace

std::optional<ConditionTable> quick_table(std::string_view body) {
  simdjson::dom::parser parser;
  element root;
  if (parser.parse(body.data(), body.size()).get(root) != simdjson::SUCCESS || !root.is_object()) return std::nullopt;
  ConditionTable table;
  std::size_t cursor = 0;
  const object members(root);
  for (const auto member : members) {
    if (member.key == "id") {
      if (!read_id(table.id, member.value)) return std::nullopt;
    } else if (member.key == "rows") {
      if (!member.value.is_array()) return std::nullopt;
      const array rows(member.value);
      table.rows.resize(rows.size());
      std::size_t at = 0;
      for (const element entry : rows)
        if (!read_row(table.rows[at++], entry)) return std::nullopt;
    } else if (!read_member(table, member.key, member.value, cursor)) {
      return std::nullopt;
    }
  }
  return table;
}

}  // namespace pecorra
