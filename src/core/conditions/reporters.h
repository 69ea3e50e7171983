// Reporters of the resolver, which is compiled once for each: silent for charts, recording for trails.
#pragma once

#include <cmath>

#include "core/conditions/conditions.h"

namespace pecorra {

inline bool given(double value) { return !std::isnan(value); }

struct Silent {
  static constexpr bool on = false;
};
struct Recorder {
  static constexpr bool on = true;
  Trail& trail;
  void add(const char* step, Details values, TrailTarget target = {}) {
    // Values not given are left out.
    std::erase_if(values, [](const auto& entry) {
      const double* number = std::get_if<double>(&entry.second);
      const std::string* text = std::get_if<std::string>(&entry.second);
      return (number && std::isnan(*number)) || (text && text->empty());
    });
    trail.push_back({step, std::move(values), target});
  }
};

}  // namespace pecorra
