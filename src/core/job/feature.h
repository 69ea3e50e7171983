// Geometry of a job that was typed, with an identity: operations refer to it by its key.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/property.h"
#include "core/geometry/contour.h"

namespace pecorra {

enum class FeatureKind { line, pocket, holes, face };
template <>
std::span<const Choice> choices_of<FeatureKind>();

struct Feature {
  Id id;
  std::int64_t revision = 0;
  Id job;
  double rank = 0;
  std::string key;  // each once in a job, other than any of the drawing's
  FeatureKind kind = FeatureKind::line;
  Contour line;
  std::string outline;  // of a pocket: keys of lines
  std::vector<std::string> islands;
  std::vector<Point2> at;  // of holes
  std::optional<double> diameter_mm, depth_mm;
  bool through = false;
  std::string thread;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Feature&) const = default;
};
template <>
std::span<const Property<Feature>> properties<Feature>();

}  // namespace pecorra
