// Collets and sleeves, between a holder and a shank. Lengths in mm.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/cutter/cutter.h"

namespace pecorra {

struct Collet {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  std::optional<double> clamp_from_mm, clamp_to_mm;  // shank diameters that it takes
  std::optional<double> holder_size_mm;              // size of the holder it belongs in: 11 to 40 by ISO 15488
  std::string maker, order_code, notes, source;
  std::optional<int> in_stock, wanted, on_order;
  bool retired = false;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Collet&) const = default;
};
template <>
std::span<const Property<Collet>> properties<Collet>();

std::vector<Message> check_collet(const Collet& collet);
bool takes(const Collet& collet, double shank_mm);
// The range of an ISO 15488 collet of this nominal bore: one millimetre down from it, half a millimetre up to 2.5 mm
// (from memory).
double collet_from_mm(double nominal_mm);

}  // namespace pecorra
