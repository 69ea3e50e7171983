#include "core/base/id.h"

#include <array>
#include <utility>

namespace pecorra {

std::string Id::text() const {
  if (is_null()) return {};
  std::string out(36, '-');
  const auto put = [&](std::size_t from, std::size_t to, std::uint64_t word) {
    for (; to > from; word >>= 4) out[--to] = "0123456789abcdef"[word & 15];
  };
  put(0, 8, high >> 32);
  put(9, 13, high >> 16);
  put(14, 18, high);
  put(19, 23, low >> 48);
  put(24, 36, low);
  return out;
}

namespace {

// 0 to 15; 16 if it is not a hexadecimal digit.
constexpr auto hex_values = [] {
  std::array<std::uint8_t, 256> values{};
  values.fill(16);
  for (std::size_t i = 0; i < 10; ++i) values['0' + i] = static_cast<std::uint8_t>(i);
  for (std::size_t i = 0; i < 6; ++i) values['a' + i] = values['A' + i] = static_cast<std::uint8_t>(10 + i);
  return values;
}();

}  // namespace

std::optional<Id> Id::parse(std::string_view text) {
  if (text.empty()) return Id{};
  if (text.size() != 36 || text[8] != '-' || text[13] != '-' || text[18] != '-' || text[23] != '-') return std::nullopt;
  std::uint64_t word = 0;
  unsigned wrong = 0;
  const auto take = [&](std::size_t from, std::size_t to) {
    for (std::size_t i = from; i < to; ++i) {
      const std::uint8_t value = hex_values[static_cast<unsigned char>(text[i])];
      wrong |= value;
      word = word << 4 | (value & 15u);
    }
  };
  take(0, 8);
  take(9, 13);
  take(14, 18);
  Id id;
  id.high = std::exchange(word, 0);
  take(19, 23);
  take(24, 36);
  id.low = word;
  return wrong & 16u ? std::nullopt : std::optional(id);
}

Id Id::from_name(std::string_view name) {
  // FNV-1a, run twice with different starts; the version and variant bits mark it as made from a name.
  auto hash = [name](std::uint64_t state) {
    for (const char c : name) state = (state ^ static_cast<unsigned char>(c)) * 0x100000001B3ull;
    return state ^ (state >> 29);
  };
  Id id{hash(0xCBF29CE484222325ull), hash(0x84222325CBF29CE4ull)};
  id.high = (id.high & ~0xf000ull) | 0x8000ull;
  id.low = (id.low & ~(3ull << 62)) | (2ull << 62);
  return id;
}

}  // namespace pecorra
