// Lines of straight segments and arcs in the plane. Lengths in mm, x to the right, y away from the operator.
#pragma once

#include <string>
#include <vector>

#include "core/base/vertex.h"

namespace pecorra {

struct Contour {
  bool closed = false;
  std::vector<Vertex> vertices;

  std::size_t segments() const { return vertices.empty() ? 0 : closed ? vertices.size() : vertices.size() - 1; }
  // Where segment `i` ends.
  Point2 end_of(std::size_t i) const {
    const Vertex& v = vertices[(i + 1) % vertices.size()];
    return {v.x, v.y};
  }
  bool operator==(const Contour&) const = default;
};

struct Box {
  double low_x = 0, low_y = 0, high_x = 0, high_y = 0;
  double width() const { return high_x - low_x; }
  double depth() const { return high_y - low_y; }
  // How far a point lies outside; negative inside.
  double outside(Point2 p) const;
  bool meets(const Box& other) const;
  Box grown(double by) const { return {low_x - by, low_y - by, high_x + by, high_y + by}; }
  bool operator==(const Box&) const = default;
};

// Centre and radius of the arc that leaves `from`; its bulge must not be 0.
struct ArcShape {
  Point2 centre;
  double radius = 0;
};
ArcShape arc_of(const Vertex& from, Point2 to);

// A full circle, counter-clockwise from its rightmost point.
Contour circle_contour(Point2 centre, double diameter_mm);
// Arcs that stray less than a hundredth of a micrometre from their chord are straight: bulges of 1e-12 are common in
// drawings, and their centres lie beyond anything.
Contour straightened(Contour contour);
// The same line in the other direction.
Contour reversed(const Contour& contour);
double length_of(const Contour& contour);
// All zero for an empty one. Arcs count with their bulges.
Box bounds(const Contour& contour);

// Chord points, no further than `tolerance` from the arcs; a closed contour does not repeat its first point.
std::vector<Point2> flattened(const Contour& contour, double tolerance_mm);
// Positive when counter-clockwise.
double signed_area(const std::vector<Point2>& points);

// Recovers arcs from a chain of chords. `tolerance` is the greatest distance of a point from its arc; a chord lies no
// further than twice that from it.
Contour with_arcs(const std::vector<Point2>& points, bool closed, double tolerance_mm);

// Sixteen digits that tell a line from any other that differs by more than a tenth of a micrometre.
std::string print_of(const Contour& contour);

}  // namespace pecorra
