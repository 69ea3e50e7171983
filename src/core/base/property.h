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

// The kind of quantity of a number, with the unit it is stored in.
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

// The choices of a property, looked up on demand so that a declaration stays plain data.
class Choices {
 public:
  constexpr Choices() = default;
  constexpr explicit Choices(std::span<const Choice> (*of)()) : of_(of) {}
  std::span<const Choice> all() const { return of_ ? of_() : std::span<const Choice>(); }
  bool empty() const { return of_ == nullptr; }
  const Choice* begin() const { return all().data(); }
  const Choice* end() const { return all().data() + all().size(); }
  std::size_t size() const { return all().size(); }
  const Choice& operator[](std::size_t place) const { return all()[place]; }

 private:
  std::span<const Choice> (*of_)() = nullptr;
};

// std::monostate: not given. Choices and ids are texts here.
using Value = std::variant<std::monostate, bool, double, std::string>;

// What is known of a property whatever it is one of.
struct PropertyFacts {
  std::string_view key;
  std::string_view symbol;  // ISO 13399 or common symbol, may be empty
  std::string_view label;
  Quantity quantity = Quantity::text;
  std::string_view help;
  double low = -std::numeric_limits<double>::infinity();
  double high = std::numeric_limits<double>::infinity();
  bool low_open = false;  // low itself is not allowed
  Choices choices{};

  bool accepts(double number) const {
    return std::isfinite(number) && (low_open ? number > low : number >= low) && number <= high;
  }
};

template <class T>
struct Property : PropertyFacts {
  // A member that is a choice or an optional one: its index, -1 if not given.
  struct ChoiceAccess {
    int (*get)(const T&);
    void (*set)(T&, int);
  };
  // For what is not a member: list cells made of several members.
  struct OtherAccess {
    Value (*get)(const T&);
    bool (*set)(T&, const Value&);
  };
  using Member = std::variant<std::monostate, bool T::*, int T::*, double T::*, std::optional<int> T::*,
                              std::optional<double> T::*, std::string T::*, Id T::*, ChoiceAccess, OtherAccess>;

  Member member{};

  Value get(const T& object) const;
  // False if the value has the wrong type or is an unknown choice; the object is then unchanged.
  bool set(T& object, const Value& value) const;
  // The same without a Value in between, for large numbers of objects. A missing number is nothing, a missing text
  // empty; a choice is its key.
  bool is_number() const;
  bool is_text() const;  // choices too
  std::optional<double> get_number(const T& object) const;
  std::string_view get_text(const T& object) const;
  // False if it takes none, or not this one.
  bool set_number(T& object, double number) const;
  bool set_text(T& object, std::string_view text) const;

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

 private:
  template <class M>
  M T::*as() const {
    const auto* found = std::get_if<M T::*>(&member);
    return found ? *found : nullptr;
  }
  std::string_view choice_key(int place) const {
    return place < 0 ? std::string_view() : choices[static_cast<std::size_t>(place)].key;
  }
};

template <class T>
bool Property<T>::is_number() const {
  return as<int>() || as<double>() || as<std::optional<int>>() || as<std::optional<double>>();
}
template <class T>
bool Property<T>::is_text() const {
  return as<std::string>() || std::holds_alternative<ChoiceAccess>(member);
}

template <class T>
std::optional<double> Property<T>::get_number(const T& object) const {
  if (const auto m = as<std::optional<double>>()) return object.*m;
  if (const auto m = as<double>()) return object.*m;
  if (const auto m = as<int>()) return object.*m;
  if (const auto m = as<std::optional<int>>()) return object.*m ? std::optional<double>(*(object.*m)) : std::nullopt;
  return std::nullopt;
}

template <class T>
std::string_view Property<T>::get_text(const T& object) const {
  if (const auto m = as<std::string>()) return object.*m;
  if (const auto* choice = std::get_if<ChoiceAccess>(&member)) return choice_key(choice->get(object));
  return {};
}

template <class T>
bool Property<T>::set_number(T& object, double number) const {
  if (const auto m = as<std::optional<double>>()) object.*m = number;
  else if (const auto m2 = as<double>()) object.*m2 = number;
  else if (const auto m3 = as<int>()) object.*m3 = static_cast<int>(number);
  else if (const auto m4 = as<std::optional<int>>()) object.*m4 = static_cast<int>(number);
  else return false;
  return true;
}

template <class T>
bool Property<T>::set_text(T& object, std::string_view text) const {
  if (const auto m = as<std::string>()) return (object.*m).assign(text), true;
  if (const auto m = as<Id>()) {
    const auto id = Id::parse(text);
    if (id) object.*m = *id;
    return id.has_value();
  }
  if (const auto* choice = std::get_if<ChoiceAccess>(&member)) {
    for (int place = 0; const Choice& c : choices) {
      if (c.key == text) return choice->set(object, place), true;
      ++place;
    }
  }
  return false;
}

template <class T>
Value Property<T>::get(const T& object) const {
  if (const auto* other = std::get_if<OtherAccess>(&member)) return other->get(object);
  if (const auto m = as<bool>()) return object.*m;
  if (const auto m = as<Id>()) return (object.*m).text();
  if (const auto* choice = std::get_if<ChoiceAccess>(&member)) {
    const int place = choice->get(object);
    return place < 0 ? Value() : Value(std::string(choice_key(place)));
  }
  if (is_text()) return std::string(get_text(object));
  const std::optional<double> number = get_number(object);
  return number ? Value(*number) : Value();
}

template <class T>
bool Property<T>::set(T& object, const Value& value) const {
  if (const auto* other = std::get_if<OtherAccess>(&member)) return other->set(object, value);
  if (const bool* flag = std::get_if<bool>(&value)) {
    const auto m = as<bool>();
    if (m) object.*m = *flag;
    return m != nullptr;
  }
  if (const double* number = std::get_if<double>(&value)) return set_number(object, *number);
  if (const std::string* text = std::get_if<std::string>(&value)) return set_text(object, *text);
  // Properties that may be left empty.
  if (const auto m = as<std::optional<double>>()) return (object.*m).reset(), true;
  if (const auto m = as<std::optional<int>>()) return (object.*m).reset(), true;
  const auto* choice = std::get_if<ChoiceAccess>(&member);
  if (!choice) return false;
  const int before = choice->get(object);
  choice->set(object, -1);
  if (choice->get(object) == -1) return true;
  choice->set(object, before);
  return false;
}

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

namespace detail {

template <auto Member>
struct ChoiceMember {
  using Object = typename MemberOf<decltype(Member)>::Object;
  using Type = typename MemberOf<decltype(Member)>::Type;
  static int get(const Object& object) {
    if constexpr (IsOptional<Type>::value) return object.*Member ? static_cast<int>(*(object.*Member)) : -1;
    else return static_cast<int>(object.*Member);
  }
  static void set(Object& object, int place) {
    if constexpr (IsOptional<Type>::value) {
      if (place < 0) (object.*Member).reset();
      else object.*Member = static_cast<typename Type::value_type>(place);
    } else if (place >= 0) {
      object.*Member = static_cast<Type>(place);
    }
  }
};

template <class V>
constexpr bool is_choice() {
  if constexpr (IsOptional<V>::value) return std::is_enum_v<typename V::value_type>;
  else return std::is_enum_v<V>;
}

template <class V>
constexpr Choices choices_for() {
  if constexpr (!is_choice<V>()) return Choices();
  else if constexpr (IsOptional<V>::value) return Choices(&choices_of<typename V::value_type>);
  else return Choices(&choices_of<V>);
}

template <auto Member>
constexpr auto access_to() {
  using Object = typename MemberOf<decltype(Member)>::Object;
  using Access = typename Property<Object>::Member;
  if constexpr (is_choice<typename MemberOf<decltype(Member)>::Type>())
    return Access(typename Property<Object>::ChoiceAccess{&ChoiceMember<Member>::get, &ChoiceMember<Member>::set});
  else return Access(Member);
}

}  // namespace detail

// field<&Machine::max_rpm>("max_rpm", "n max", "Highest speed", Quantity::spindle_speed, "…")
template <auto Member>
constexpr auto field(std::string_view key, std::string_view symbol, std::string_view label, Quantity quantity,
                     std::string_view help) {
  using Object = typename detail::MemberOf<decltype(Member)>::Object;
  using Type = typename detail::MemberOf<decltype(Member)>::Type;
  using Infinite = std::numeric_limits<double>;
  // In one initialiser, so that every compiler accepts it as a constant expression.
  return Property<Object>{{key, symbol, label, quantity, help, -Infinite::infinity(), Infinite::infinity(), false,
                           detail::choices_for<Type>()},
                          detail::access_to<Member>()};
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
  if (property.is_number()) return property.get_number(object);
  const Value value = property.get(object);
  if (const double* number = std::get_if<double>(&value)) return *number;
  return std::nullopt;
}

}  // namespace pecorra
