// Random cutters of a kind that are right by the kind's own checks.
#pragma once

#include <cmath>
#include <random>

#include "core/cutter/kinds.h"

namespace pecorra {

inline Cutter random_cutter(CutterKind kind, std::mt19937& random) {
  std::uniform_real_distribution<double> part(0, 1);
  for (int attempt = 0; attempt < 400; ++attempt) {
    // As many small cutters as large ones.
    const double d = std::round(std::exp(std::log(0.5) + part(random) * std::log(160.0)) * 100) / 100;
    Cutter c = proposed_cutter(kind, std::max(0.5, d));
    for (const ParameterUse& use : declaration(kind).parameters) {
      const Property<Cutter>& property = *find_property<Cutter>(use.key);
      const auto value = number_of(c, property);
      if (use.key == "diameter_mm" || kind == CutterKind::form) continue;
      if (property.quantity == Quantity::count) property.set(c, 1.0 + std::floor(part(random) * 8));
      else if (value && property.quantity == Quantity::length) property.set(c, *value * (0.6 + part(random)));
      else if (value && property.quantity == Quantity::angle) property.set(c, *value * (0.7 + 0.6 * part(random)));
      if (!use.required && part(random) < 0.15) property.set(c, std::monostate{});
    }
    if (kind == CutterKind::tap || kind == CutterKind::thread_mill) c.thread.clear();
    if (!has_error(check_cutter(c))) return c;
  }
  return proposed_cutter(kind, 10);
}

}  // namespace pecorra
