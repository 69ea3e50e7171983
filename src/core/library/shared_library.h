// A library that also lives as a file of its own, in a folder that several computers share; and what was last the same on
// both sides, so that it can be told who has changed what since.
#pragma once

#include <cstdint>
#include <map>
#include <string>

#include <optional>

#include "core/base/property.h"

namespace pecorra {

struct SharedLibrary {
  Id id;
  std::int64_t revision = 0;
  Id library;
  std::string file;                      // absolute path
  std::map<Id, std::uint64_t> in_common; // cutter -> print of its text when file and shop last said the same
  bool operator==(const SharedLibrary&) const = default;
};
template <> std::span<const Property<SharedLibrary>> properties<SharedLibrary>();

// FNV-1a, 64 bit: the same on every computer.
constexpr std::uint64_t print_of(std::string_view text) {
  std::uint64_t hash = 0xcbf29ce484222325ull;
  for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001b3ull;
  return hash;
}

// What has become of one cutter since both sides last said the same. `ours`, `theirs`: the print of what each side says now,
// nothing where the cutter is not there.
enum class SharedState {
  same,        // both say the same
  to_file,     // we changed, made or deleted it
  from_file,   // the others did
  both         // both did, and not alike
};
SharedState shared_state(std::optional<std::uint64_t> in_common, std::optional<std::uint64_t> ours, std::optional<std::uint64_t> theirs);

}  // namespace pecorra
