// A library that is also a file in a folder shared by several computers; and what was last equal on both sides, to tell
// who has changed what since.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>

#include "core/base/property.h"

namespace pecorra {

struct SharedLibrary {
  Id id;
  std::int64_t revision = 0;
  Id library;
  std::string file;  // absolute path
  bool operator==(const SharedLibrary&) const = default;
};
template <>
std::span<const Property<SharedLibrary>> properties<SharedLibrary>();

// Of every object, the print of its text when file and shop last said the same. Kept by the shop beside its objects: it
// is different on every computer, and no change that anybody made.
using SharedPrints = std::unordered_map<Id, std::uint64_t>;
// 24 bytes for each, the same on every computer.
std::string bytes_of(const SharedPrints& prints);
// An incomplete entry at the end is dropped.
SharedPrints prints_from(std::string_view bytes);

// FNV-1a, 64 bit: the same on every computer.
constexpr std::uint64_t print_of(std::string_view text) {
  std::uint64_t hash = 0xcbf29ce484222325ull;
  for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001b3ull;
  return hash;
}

// What has happened to one object since both sides were last equal. `ours`, `theirs`: the hash of each side now,
// nothing if the cutter is not there.
enum class SharedState {
  same,       // equal on both sides
  to_file,    // we changed, made or deleted it
  from_file,  // the others did
  both        // both did, differently
};
SharedState shared_state(std::optional<std::uint64_t> in_common, std::optional<std::uint64_t> ours,
                         std::optional<std::uint64_t> theirs);

}  // namespace pecorra
