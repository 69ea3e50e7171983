// One clamping of the part: where its stock lies, where the control counts from, and what is in the way.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/feature/feature.h"

namespace pecorra {

// Nothing enters its outline below its top, a height.
struct Clamp {
  FeatureUse outline;  // a line
  double top_mm = 0;
  bool operator==(const Clamp&) const = default;
};

// What the outside of the raw stock is like.
enum class StockSkin { none, casting, forging };
template <>
std::span<const Choice> choices_of<StockSkin>();

// What lies under it.
enum class UnderStock { free, table, spoil_board };
template <>
std::span<const Choice> choices_of<UnderStock>();

struct Setup {
  Id id;
  std::int64_t revision = 0;
  Id job;
  double rank = 0;
  std::string name;
  // The block of stock, as coordinates of the drawing; without them it is what the features need.
  std::optional<double> x_low_mm, x_high_mm, y_low_mm, y_high_mm, z_low_mm, z_high_mm;
  std::optional<double> zero_x_mm, zero_y_mm, zero_z_mm;  // the program's zero point, in the same coordinates
  std::string work_offset;                                // G54 …
  std::optional<double> clearance_mm;                     // retract plane above the stock
  StockSkin skin = StockSkin::none;
  UnderStock under = UnderStock::free;
  std::vector<Clamp> clamps;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Setup&) const = default;
};
template <>
std::span<const Property<Setup>> properties<Setup>();

// A block turned inside out, a work offset that is none.
std::vector<struct Message> check_setup(const Setup& setup);

}  // namespace pecorra
