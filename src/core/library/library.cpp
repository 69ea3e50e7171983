#include "core/library/library.h"

#include <array>

namespace pecorra {
namespace {

const std::array library_list{field<&Library::name>("name", "", "Name", Quantity::text, "What people call it"),
                              field<&Library::notes>("notes", "", "Notes", Quantity::text, "What it is for"),
                              field<&Library::switched_on>("switched_on", "", "Switched on", Quantity::flag,
                                                           "Its cutters are offered where one is picked")};

}  // namespace

template <>
std::span<const Property<Library>> properties<Library>() {
  return library_list;
}

}  // namespace pecorra
