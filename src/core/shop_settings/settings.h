// Settings of a shop: rounding, wear factor, default program folder.
#pragma once

#include "core/base/property.h"
#include "core/cutter/name_pattern.h"

namespace pecorra {

struct ShopSettings {
  Id id;
  std::int64_t revision = 0;
  std::string name;            // of the shop
  double n_step_rpm = 10;      // spindle speeds are rounded down to this
  double vf_step_mm_min = 10;  // table feeds likewise
  double wear_factor = 1.3;    // worn edges take more force; common practice
  std::string name_pattern{usual_name_pattern};
  // On the cutting speed of starter rows; common practice, no source.
  double premium_factor = 1.1, standard_factor = 1, plain_factor = 0.85;
  // Permitted tip deflection where nothing else is stated (common practice, no source). For roughing it grows with the
  // diameter from 0.02 to 0.05 mm, see permitted_deflection_mm().
  double permitted_rough_per_d = 0.01, permitted_finish_mm = 0.02;
  double bending_safety = 3;   // strength of the tool material over the permitted bending stress; common practice
  double edge_change_min = 5;  // machine standing still for a worn edge; estimate
  // Of toolpaths, see PathRules; common practice, no source.
  double ramp_deg = 3, ramp_not_to_centre_deg = 1, helix_per_d = 0.8, lead_per_d = 0.25, feed_height_mm = 1,
         overrun_mm = 2, full_width_deg = 150, clearance_mm = 10, overlap_mm = 1, dwell_turns = 2,
         breakthrough_mm = 0.5;
  bool use_starters = true;  // starter values where no row fits
  bool use_factors = true;   // factors where no real row fits
  bool operator==(const ShopSettings&) const = default;
};
template <>
std::span<const Property<ShopSettings>> properties<ShopSettings>();

}  // namespace pecorra
