// What a job is to make, with an identity: stated by numbers, or lines of a drawing put together. Operations refer to
// it by its key.
#pragma once

#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/message.h"
#include "core/base/property.h"
#include "core/geometry/contour.h"

namespace pecorra {

// `line`, `rectangle`, `circle` and `slot` are lines to follow; a pocket is made of lines, holes are places or circles
// of a drawing.
enum class FeatureKind { line, pocket, holes, face, rectangle, circle, slot, text };
template <>
std::span<const Choice> choices_of<FeatureKind>();

enum class HolePattern { places, row, grid, circle };
template <>
std::span<const Choice> choices_of<HolePattern>();

// A line that is worked on, and what its geometry was when it was chosen: one that has changed since is not machined
// without a word.
struct FeatureUse {
  std::string key;
  std::string print;  // empty: typed geometry, which is changed in the job itself
  bool operator==(const FeatureUse&) const = default;
};

struct Feature {
  Id id;
  std::int64_t revision = 0;
  Id job;
  double rank = 0;
  std::string key;  // each once in a job, other than any of the drawing's
  FeatureKind kind = FeatureKind::line;
  // Where: the middle of a rectangle, circle, slot or circle of holes, the first hole, the left end of a text.
  std::optional<double> x_mm, y_mm;
  std::optional<double> length_mm, width_mm, height_mm, corner_radius_mm, angle_deg, diameter_mm;
  HolePattern pattern = HolePattern::places;
  std::optional<int> count, count_y;
  std::optional<double> pitch_mm, pitch_y_mm, circle_mm;
  std::string text;
  FeatureUse outline;               // of a pocket
  std::vector<FeatureUse> islands;  // likewise
  std::vector<FeatureUse> circles;  // of holes: circles of the drawing
  // What is to become of it.
  std::optional<double> depth_mm, chamfer_mm;
  bool through = false;
  std::string thread, tolerance;
  std::map<std::string, std::string, std::less<>> typed;

  // Geometry. Of a `line`, and of holes at `places`, as stated; else it follows from the above, see shape().
  Contour line;
  std::vector<Point2> at;
  std::vector<Contour> letters;

  bool operator==(const Feature&) const = default;
};
template <>
std::span<const Property<Feature>> properties<Feature>();

// Keys of the properties that are asked of this kind, in their order.
std::span<const std::string_view> fields_of(FeatureKind kind);
// Keys of its geometry in files, besides.
std::span<const std::string_view> geometry_of(FeatureKind kind);
// Of these holes: not the pitch of a circle of holes, say.
bool asks_for(const Feature& feature, std::string_view key);

// Diameter of its holes before any thread is cut: as stated, else the tapping drill; nothing where circles of a drawing
// have it.
std::optional<double> drilled_mm(const Feature& feature);

// Works the geometry out; nothing where check_feature() finds an error.
void shape(Feature& feature);

// The holes with one of them pulled to a place: one of a pattern changes its pitch, circle and angle, the first of a
// row or grid moves all of it. `whole`: all of them move by as much. Shaped.
Feature with_hole_at(const Feature& holes, std::size_t hole, Point2 to, bool whole);

// What is missing or impossible; each names the property and what would be right.
std::vector<Message> check_feature(const Feature& feature);

inline constexpr int most_holes = 100000;

}  // namespace pecorra
