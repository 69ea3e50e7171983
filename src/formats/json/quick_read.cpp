#include "formats/json/quick_read.h"

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

// A member that is id, texts as typed, or a property; false: something else, or not as it is written here.
template <class T>
bool read_plain_member(T& target, std::string_view key, const element& value, std::size_t& cursor) {
  if (key == "id") return read_id(target.id, value);
  if constexpr (requires { target.typed; })
    if (key == "typed") {
      if (!value.is_object()) return false;
      const object texts(value);
      for (const auto typed : texts) {
        if (!typed.value.is_string()) return false;
        target.typed.emplace(typed.key, text_of(typed.value));
      }
      return true;
    }
  return read_member(target, key, value, cursor);
}

template <class T>
bool read_plain(T& target, const element& entry) {
  if (!entry.is_object()) return false;
  std::size_t cursor = 0;
  const object members(entry);
  for (const auto member : members)
    if (!read_plain_member(target, member.key, member.value, cursor)) return false;
  return true;
}

// Its memory is kept: a shop has hundreds of small objects.
std::optional<element> parsed(std::string_view body) {
  thread_local simdjson::dom::parser parser;
  element root;
  if (parser.parse(body.data(), body.size()).get(root) != simdjson::SUCCESS || !root.is_object()) return std::nullopt;
  return root;
}

}  // namespace

template <class T>
std::optional<T> quick_object(std::string_view body) {
  const auto root = parsed(body);
  T target;
  if (!root || !read_plain(target, *root)) return std::nullopt;
  return target;
}
template std::optional<Assembly> quick_object<Assembly>(std::string_view);
template std::optional<Collet> quick_object<Collet>(std::string_view);
template std::optional<Cutter> quick_object<Cutter>(std::string_view);
template std::optional<EdgeMaterial> quick_object<EdgeMaterial>(std::string_view);
template std::optional<Insert> quick_object<Insert>(std::string_view);
template std::optional<Recipe> quick_object<Recipe>(std::string_view);
template std::optional<WorkMaterial> quick_object<WorkMaterial>(std::string_view);

std::optional<ConditionTable> quick_table(std::string_view body) {
  const auto root = parsed(body);
  if (!root) return std::nullopt;
  ConditionTable table;
  std::size_t cursor = 0;
  const object members(*root);
  for (const auto member : members) {
    if (member.key == "rows") {
      if (!member.value.is_array()) return std::nullopt;
      const array rows(member.value);
      table.rows.resize(rows.size());
      std::size_t at = 0;
      for (const element entry : rows)
        if (!read_plain(table.rows[at++], entry)) return std::nullopt;
    } else if (!read_plain_member(table, member.key, member.value, cursor)) {
      return std::nullopt;
    }
  }
  return table;
}

}  // namespace pecorra
