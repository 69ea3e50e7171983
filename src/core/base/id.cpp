#include "core/base/id.h"

#include <fmt/format.h>

namespace pecorra {

std::string Id::text() const {
  if (is_null()) return {};
  return fmt::format("{:08x}-{:04x}-{:04x}-{:04x}-{:012x}", high >> 32, (high >> 16) & 0xffff, high & 0xffff,
                     low >> 48, low & 0xffffffffffffull);
}

std::optional<Id> Id::parse(std::string_view text) {
  if (text.empty()) return Id{};
  if (text.size() != 36) return std::nullopt;
  std::uint64_t words[2] = {0, 0};
  int digits = 0;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (i == 8 || i == 13 || i == 18 || i == 23) {
      if (c != '-') return std::nullopt;
      continue;
    }
    int value = 0;
    if (c >= '0' && c <= '9') value = c - '0';
    else if (c >= 'a' && c <= 'f') value = c - 'a' + 10;
    else if (c >= 'A' && c <= 'F') value = c - 'A' + 10;
    else return std::nullopt;
    words[digits / 16] = words[digits / 16] << 4 | static_cast<std::uint64_t>(value);
    ++digits;
  }
  return Id{words[0], words[1]};
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
