// Identity of every object in a shop: a 128-bit UUID, kept as two words.
#pragma once

#include <compare>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>

namespace pecorra {

struct Id {
  std::uint64_t high = 0;
  std::uint64_t low = 0;

  auto operator<=>(const Id&) const = default;  // NOLINT(modernize-use-nullptr): the checker's mistake
  bool is_null() const { return high == 0 && low == 0; }

  // "8-4-4-4-12" lower-case hexadecimal; the null id prints as an empty text.
  std::string text() const;
  // The inverse of text(); nothing for any other spelling.
  static std::optional<Id> parse(std::string_view text);
  // The same name always gives the same id: used for data that ships with the program.
  static Id from_name(std::string_view name);
};

}  // namespace pecorra

template <>
struct std::hash<pecorra::Id> {
  std::size_t operator()(const pecorra::Id& id) const noexcept {
    return static_cast<std::size_t>(id.high ^ (id.low * 0x9E3779B97F4A7C15ull));
  }
};
