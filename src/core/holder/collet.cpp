#include "core/holder/collet.h"

#include <array>

#include "core/base/check.h"
#include "core/base/stock.h"

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array own{
    field<&Collet::name>("name", "", "Name", text, "Everyday name"),
    field<&Collet::holder_size_mm>("holder_size_mm", "", "Size", length,
                                   "Of the holder it belongs in, 11 to 40 by ISO 15488")
        .above(0),
    field<&Collet::clamp_from_mm>("clamp_from_mm", "", "Clamps from", length, "Smallest shank").above(0),
    field<&Collet::clamp_to_mm>("clamp_to_mm", "", "Clamps to", length, "Largest shank").above(0),
    field<&Collet::maker>("maker", "", "Maker", text, "Manufacturer"),
    field<&Collet::order_code>("order_code", "", "Order code", text, "For reordering"),
    field<&Collet::notes>("notes", "", "Notes", text, "For the programmer"),
    field<&Collet::source>("source", "", "Source", text, "Source of the sizes")};
constexpr auto all = joined(own, stock_properties<Collet>());

}  // namespace

template <>
std::span<const Property<Collet>> properties<Collet>() {
  return all;
}

std::vector<Message> check_collet(const Collet& c) {
  std::vector<Message> messages;
  check_ranges(c, messages);
  if (c.clamp_from_mm && c.clamp_to_mm && *c.clamp_from_mm > *c.clamp_to_mm)
    messages.push_back(
        {Severity::error, "range_reversed", "clamp_to_mm", {{"from_mm", *c.clamp_from_mm}, {"to_mm", *c.clamp_to_mm}}});
  return messages;
}

bool takes(const Collet& c, double shank_mm) {
  const double slack = 0.05;  // shanks are ground a little under their size
  return (!c.clamp_from_mm || shank_mm >= *c.clamp_from_mm - slack) &&
         (!c.clamp_to_mm || shank_mm <= *c.clamp_to_mm + slack);
}

double collet_from_mm(double nominal_mm) { return nominal_mm > 2.5 ? nominal_mm - 1 : nominal_mm - 0.5; }

}  // namespace pecorra
