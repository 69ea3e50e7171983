// The specific force of a work material at a chip thickness, with its band (formula 24): Kienzle's law with constants
// for milling, and the unit power of handbooks with its feed factor. Forces in N/mm², lengths in mm.
#pragma once

#include <cmath>
#include <limits>
#include <optional>

#include "core/material/work_material.h"

namespace pecorra {

struct ForcePoint {
  double kc11 = 0, mc = 0;  // Kienzle's law through the middle, for forces around this chip thickness
  double low = 0;           // sharp edge, the lower rule
  double middle = 0;        // what is judged: halfway between low and high
  double high = 0;          // worn edge, the higher rule
  double kienzle = std::numeric_limits<double>::quiet_NaN();  // each rule, sharp; NaN: not known
  double unit_power = std::numeric_limits<double>::quiet_NaN();
  double sharp() const {
    return std::isnan(kienzle) ? unit_power : std::isnan(unit_power) ? kienzle : (kienzle + unit_power) / 2;
  }
  bool outside = false;  // of the chip thickness that the constants hold for
  bool turning = false;  // constants from turning: there are none for milling
};

class ForceLaw {
 public:
  explicit ForceLaw(const WorkMaterial& material);
  bool is_known() const { return kienzle_ || unit_power_; }
  // `rake_factor`: formula 7, on both rules. `worn`: factor of a worn edge, at least 1.
  ForcePoint at(double hm_mm, double rake_factor, double worn) const;

 private:
  struct Kienzle {
    double kc11, mc, from_mm, to_mm;
  };
  std::optional<Kienzle> kienzle_;
  std::optional<double> unit_power_;
  bool turning_ = false;
  double spread_ = 0;  // of a single rule, by its evidence
};

}  // namespace pecorra
