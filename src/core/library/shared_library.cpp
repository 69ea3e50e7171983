#include "core/library/shared_library.h"

#include <array>

namespace pecorra {
namespace {

const std::array list{field<&SharedLibrary::library>("library", "", "Library", Quantity::id, "What the file holds"),
                      field<&SharedLibrary::file>("file", "", "File", Quantity::text, "Where it is")};

}  // namespace

template <> std::span<const Property<SharedLibrary>> properties<SharedLibrary>() { return list; }

SharedState shared_state(std::optional<std::uint64_t> in_common, std::optional<std::uint64_t> ours, std::optional<std::uint64_t> theirs) {
  if (ours == theirs) return SharedState::same;
  if (ours == in_common) return SharedState::from_file;
  return theirs == in_common ? SharedState::to_file : SharedState::both;
}

}  // namespace pecorra
