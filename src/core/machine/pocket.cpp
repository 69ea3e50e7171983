#include "core/machine/pocket.h"

#include <array>

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array magazine_fields{
    field<&Pocket::machine>("machine", "", "Machine", id, "Whose magazine it is"),
    field<&Pocket::number>("number", "T", "Pocket", count, "T in the program").within(1, 9999),
    field<&Pocket::assembly>("assembly", "", "Stands in it", id, "Cutter in its holder; none: kept free"),
    field<&Pocket::name>("name", "", "Remark", text, "For the setter")};

}  // namespace

template <>
std::span<const Property<Pocket>> properties<Pocket>() {
  return magazine_fields;
}

}  // namespace pecorra
