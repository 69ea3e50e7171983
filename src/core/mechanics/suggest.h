// Brings a cut inside a limit by the smallest change of one input, calculated, not guessed. At the
// worst engagement as well as at the nominal one, and without breaking another limit.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include "core/mechanics/cut_model.h"
#include "core/quantity/units.h"

namespace pecorra {

struct Suggestion {
  std::string_view property;  // "ae_mm", "ap_mm", "fz_mm", "vc_m_min", "stickout_mm"
  Quantity quantity = Quantity::length;
  double value = 0;   // rounded to the inside
  double change = 0;  // |ln(new/old)|: what the list is ordered by
  bool upwards = false;
};

// A limit is close from here on; what is close is brought back to this.
inline constexpr double close_to_limit = 0.9;
// Whether a limit is close or exceeded.
bool wants_change(const Headroom& h);

// The smallest change first; empty when the limit is kept with room, or no single input gets inside. Rounded as people
// type it in these units.
std::vector<Suggestion> suggestions(const CutModel& model, const Cut& cut, Limit limit,
                                    UnitSystem units = UnitSystem::metric);

// A change of one input put into a cut and its assembly; the speed and the chip load stay what they were.
void put(std::string_view property, double value, const CutResults& now, Cut& cut, Assembly& assembly);

}  // namespace pecorra
