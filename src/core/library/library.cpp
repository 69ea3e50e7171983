#include "core/library/library.h"

#include <array>

namespace pecorra {
namespace {

const std::array library_list{field<&Library::name>("name", "", "Name", Quantity::text, "Everyday name"),
                              field<&Library::notes>("notes", "", "Notes", Quantity::text, "Purpose"),
                              field<&Library::switched_on>("switched_on", "", "Switched on", Quantity::flag,
                                                           "Its cutters are offered when picking")};

}  // namespace

template <>
std::span<const Property<Library>> properties<Library>() {
  return library_list;
}

}  // namespace pecorra
