// Flat geometry of a job: contours of lines and arcs, and circles. Lengths in mm, x to the right, y away from the
// operator, z up; z 0 is the top of the stock.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/vertex.h"

namespace pecorra {

struct Contour {
  bool closed = false;
  std::vector<Vertex> vertices;
  bool operator==(const Contour&) const = default;
};

struct Circle {
  double x = 0;
  double y = 0;
  double diameter_mm = 0;
  bool operator==(const Circle&) const = default;
};

struct Drawing {
  std::string source;  // name of the file it came from
  std::vector<Contour> contours;
  std::vector<Circle> circles;
  bool operator==(const Drawing&) const = default;
};

struct Box {
  double low_x = 0, low_y = 0, high_x = 0, high_y = 0;
};
// Of everything in it; all zero for an empty drawing. Arcs count with their bulges.
Box bounds(const Drawing& drawing);

// Lines that can be followed: the contours, then the circles as closed contours. Nothing for an unknown index.
int line_count(const Drawing& drawing);
std::optional<Contour> line_at(const Drawing& drawing, int index);

// The longest contour by its chords; none in a drawing without contours.
const Contour* longest_line(const Drawing& drawing);

// Chord points, no further than `tolerance` from the arcs; a closed contour does not repeat its first point.
std::vector<Point2> flattened(const Contour& contour, double tolerance_mm);
// Positive when counter-clockwise.
double signed_area(const std::vector<Point2>& points);

// Centre and radius of the arc that leaves `from`; its bulge must not be 0.
struct ArcShape {
  Point2 centre;
  double radius = 0;
};
ArcShape arc_of(const Vertex& from, Point2 to);

// Offsets closed rings: positive grows. Corners outside become arcs, given as chords within the tolerance.
std::vector<std::vector<Point2>> offset_rings(const std::vector<std::vector<Point2>>& rings, double distance_mm);

// Arcs of an offset are centred on a corner or an arc centre of the original line. Their centres and radii, found from
// chords, are snapped exactly to those.
void snap_arcs(Contour& offset, const Contour& original, double distance_mm);

// Recovers arcs from a chain of chords. `tolerance` is the greatest distance of a point from its arc.
Contour with_arcs(const std::vector<Point2>& points, bool closed, double tolerance_mm);

}  // namespace pecorra
