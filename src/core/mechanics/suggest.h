// What would bring a cut inside a limit: the smallest change of one input that does, calculated, not guessed.
#pragma once

#include <optional>
#include <string_view>

#include "core/mechanics/cut.h"

namespace pecorra {

struct Suggestion {
  std::string_view property;  // of Cut: "ae_mm", "ap_mm", "fz_mm"
  Quantity quantity = Quantity::length;
  double value = 0;
  bool upwards = false;  // the input must grow
};

// Nothing when the limit is kept already, or no single one of these inputs brings the cut inside.
std::optional<Suggestion> suggest(const Headroom& broken, const Cutter& cutter, const WorkMaterial& material,
                                  const Machine& machine, const Cut& cut);

}  // namespace pecorra
