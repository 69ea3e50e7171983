// One declaration per property. Forms, table columns, JSON, command line, history and checks of range are derived from
// it, so that a property is written down in exactly one place.
#pragma once

#include <cmath>
#include <cstdint>
#include <limits>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <variant>

#include "core/base/id.h"

namespace pecorra {

// What kind of quantity a number is; the unit it is kept in stands behind it.
enum class Quantity {
  text,
  id,
  choice,
  flag,
  count,
  number,          // plain, no unit
  length,          // mm
  angle,           // degrees
  cutting_speed,   // m/min
  spindle_speed,   // rev/min
  feed_per_tooth,  // mm
  table_feed,      // mm/min
  power,           // kW
  torque,          // N·m
  stress,          // N/mm²
  force,           // N
  hardness,        // HB
  density,         // g/cm³
  removal_rate,    // cm³/min
  frequency,       // Hz
  stiffness,       // N/µm
  duration,        // min
  percent
};

struct Choice {
  std::string_view key;    // in files and on the command line
  std::string_view label;  // on screen, source text for translation
};

// Not given is std::monostate. Choices and ids travel as text.
using Value = std::variant<std::monostate, bool, double, std::string>;

template <class T>
struct Property {
  std::string_view key;
  std::string_view symbol;  // ISO 13399 or common symbol, may be empty
  std::string_view label;
  Quantity quantity = Quantity::text;
  std::string_view help;
  double low = -std::numeric_limits<double>::infinity();
  double high = std::numeric_limits<double>::infinity();
  bool low_open = false;  // low itself is not allowed
  std::span<const Choice> choices{};
  Value (*get)(const T&) = nullptr;
  // False when the value is of the wrong type or an unknown choice; the object is then unchanged.
  bool (*set)(T&, const Value&) = nullptr;
  // The same without a Value in between, for very many objects; none where the member is of another kind. A number or text that
  // is not given is nothing, or empty; a choice is its key.
  std::optional<double> (*get_number)(const T&) = nullptr;
  std::string_view (*get_text)(const T&) = nullptr;
  bool (*set_number)(T&, double) = nullptr;
  bool (*set_text)(T&, std::string_view) = nullptr;

  // The member itself where it is one of these, as most are.
  std::optional<double> T::*real = nullptr;
  std::string T::*text = nullptr;

  constexpr Property within(double from, double to) const {
    Property copy = *this;
    copy.low = from;
    copy.high = to;
    return copy;
  }
  constexpr Property above(double from) const {
    Property copy = *this;
    copy.low = from;
    copy.low_open = true;
    return copy;
  }
  bool accepts(double number) const {
    return std::isfinite(number) && (low_open ? number > low : number >= low) && number <= high;
  }
};

namespace detail {

template <class M>
struct MemberOf;
template <class T, class V>
struct MemberOf<V T::*> {
  using Object = T;
  using Type = V;
};

template <class V>
struct IsOptional : std::false_type {};
template <class V>
struct IsOptional<std::optional<V>> : std::true_type {};

}  // namespace detail

// Specialised by every enum that is a property: its choices in the order of its enumerators.
template <class E>
std::span<const Choice> choices_of();

template <class E>
std::string_view key_of(E value) {
  return choices_of<E>()[static_cast<std::size_t>(value)].key;
}
template <class E>
std::string_view label_of(E value) {
  return choices_of<E>()[static_cast<std::size_t>(value)].label;
}
template <class E>
std::optional<E> choice_from_key(std::string_view key) {
  const auto choices = choices_of<E>();
  for (std::size_t i = 0; i < choices.size(); ++i)
    if (choices[i].key == key) return static_cast<E>(i);
  return std::nullopt;
}

// field<&Machine::max_rpm>("max_rpm", "n max", "Highest speed", Quantity::spindle_speed, "…")
template <auto Member>
auto field(std::string_view key, std::string_view symbol, std::string_view label, Quantity quantity,
           std::string_view help) {
  using Object = typename detail::MemberOf<decltype(Member)>::Object;
  using Type = typename detail::MemberOf<decltype(Member)>::Type;
  Property<Object> property;
  property.key = key;
  property.symbol = symbol;
  property.label = label;
  property.quantity = quantity;
  property.help = help;
  if constexpr (std::is_enum_v<Type>) property.choices = choices_of<Type>();
  if constexpr (detail::IsOptional<Type>::value)
    if constexpr (std::is_enum_v<typename Type::value_type>) property.choices = choices_of<typename Type::value_type>();
  if constexpr (std::is_same_v<Type, std::optional<double>>) property.real = Member;
  if constexpr (std::is_same_v<Type, std::string>) property.text = Member;
  property.get = [](const Object& object) -> Value {
    const Type& member = object.*Member;
    if constexpr (detail::IsOptional<Type>::value) {
      if (!member) return std::monostate{};
      if constexpr (std::is_enum_v<typename Type::value_type>) return std::string(key_of(*member));
      else return static_cast<double>(*member);
    } else if constexpr (std::is_same_v<Type, bool>) return member;
    else if constexpr (std::is_same_v<Type, std::string>) return member;
    else if constexpr (std::is_same_v<Type, Id>) return member.text();
    else if constexpr (std::is_enum_v<Type>) return std::string(key_of(member));
    else return static_cast<double>(member);
  };
  property.set = [](Object& object, const Value& value) -> bool {
    Type& member = object.*Member;
    if constexpr (std::is_same_v<Type, bool>) {
      const bool* given = std::get_if<bool>(&value);
      if (given) member = *given;
      return given != nullptr;
    } else if constexpr (std::is_same_v<Type, std::string>) {
      const std::string* given = std::get_if<std::string>(&value);
      if (given) member = *given;
      return given != nullptr;
    } else if constexpr (std::is_same_v<Type, Id>) {
      const std::string* given = std::get_if<std::string>(&value);
      const auto id = given ? Id::parse(*given) : std::nullopt;
      if (id) member = *id;
      return id.has_value();
    } else if constexpr (std::is_enum_v<Type>) {
      const std::string* given = std::get_if<std::string>(&value);
      const auto choice = given ? choice_from_key<Type>(*given) : std::nullopt;
      if (choice) member = *choice;
      return choice.has_value();
    } else if constexpr (detail::IsOptional<Type>::value) {
      using Inner = typename Type::value_type;
      if (std::holds_alternative<std::monostate>(value)) {
        member.reset();
        return true;
      }
      if constexpr (std::is_enum_v<Inner>) {
        const std::string* given = std::get_if<std::string>(&value);
        const auto choice = given ? choice_from_key<Inner>(*given) : std::nullopt;
        if (choice) member = *choice;
        return choice.has_value();
      } else {
        const double* given = std::get_if<double>(&value);
        if (given) member = static_cast<Inner>(*given);
        return given != nullptr;
      }
    } else {
      const double* given = std::get_if<double>(&value);
      if (given) member = static_cast<Type>(*given);
      return given != nullptr;
    }
  };
  if constexpr (std::is_same_v<Type, std::string>) {
    property.get_text = [](const Object& object) -> std::string_view { return object.*Member; };
    property.set_text = [](Object& object, std::string_view text) { return (object.*Member).assign(text), true; };
  } else if constexpr (std::is_same_v<Type, Id>) {
    property.set_text = [](Object& object, std::string_view text) {
      const auto id = Id::parse(text);
      if (id) object.*Member = *id;
      return id.has_value();
    };
  } else if constexpr (std::is_enum_v<Type>) {
    property.get_text = [](const Object& object) { return key_of(object.*Member); };
    property.set_text = [](Object& object, std::string_view text) {
      const auto choice = choice_from_key<Type>(text);
      if (choice) object.*Member = *choice;
      return choice.has_value();
    };
  } else if constexpr (detail::IsOptional<Type>::value) {
    using Inner = typename Type::value_type;
    if constexpr (std::is_enum_v<Inner>) {
      property.get_text = [](const Object& object) { return object.*Member ? key_of(*(object.*Member)) : std::string_view(); };
      property.set_text = [](Object& object, std::string_view text) {
        const auto choice = choice_from_key<Inner>(text);
        if (choice) object.*Member = *choice;
        return choice.has_value();
      };
    } else {
      property.get_number = [](const Object& object) { return object.*Member ? std::optional(static_cast<double>(*(object.*Member))) : std::nullopt; };
      property.set_number = [](Object& object, double number) { return object.*Member = static_cast<Inner>(number), true; };
    }
  } else if constexpr (!std::is_same_v<Type, bool>) {
    property.get_number = [](const Object& object) { return std::optional(static_cast<double>(object.*Member)); };
    property.set_number = [](Object& object, double number) { return object.*Member = static_cast<Type>(number), true; };
  }
  return property;
}

// Specialised by every type that has properties, in the order they are asked and shown.
template <class T>
std::span<const Property<T>> properties();

template <class T>
const Property<T>* find_property(std::string_view key) {
  for (const Property<T>& property : properties<T>())
    if (property.key == key) return &property;
  return nullptr;
}

template <class T>
std::optional<double> number_of(const T& object, const Property<T>& property) {
  if (property.get_number) return property.get_number(object);
  const Value value = property.get(object);
  if (const double* number = std::get_if<double>(&value)) return *number;
  return std::nullopt;
}

}  // namespace pecorra
