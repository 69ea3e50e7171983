// Areas of the plane bounded by rings of chords, with offsets and set operations (Clipper). Outer rings run
// counter-clockwise, holes clockwise: walking along a ring, the area is on the left. Lengths in mm.
#pragma once

#include <memory>
#include <optional>
#include <polyclipping/clipper.hpp>
#include <vector>

#include "core/geometry/contour.h"

namespace pecorra {

using Ring = std::vector<Point2>;
// Whether a point is inside a ring, whichever way it runs.
bool encloses(const Ring& ring, Point2 p);
double distance_to_segment(Point2 p, Point2 a, Point2 b);
// Of the nearest of its edges.
double distance_to_ring(Point2 p, const Ring& ring);

class Region {
 public:
  Region() = default;
  // The area inside any of the rings, whichever way they run.
  static Region inside(const std::vector<Ring>& rings);
  // What `ring` encloses; nothing if it crosses or touches itself.
  static std::optional<Region> simple(const Ring& ring);
  // All within `half_width` of an open line; its ends are round.
  static Region strip(const Ring& line, double half_width_mm);
  static Region box(const Box& box);

  bool empty() const { return paths_.empty(); }
  double area() const;  // mm²
  std::vector<Ring> rings() const;
  // The separate pieces, each with its holes.
  std::vector<Region> pieces() const;

  // Positive grows, negative shrinks. Corners outside become arcs of chords. Throws where coordinates are beyond what
  // the library can hold.
  Region offset(double distance_mm) const;
  Region without(const Region& other) const;
  Region with(const Region& other) const;
  Region common(const Region& other) const;
  // Without what is smaller than a chord's error.
  Region cleaned() const;

  bool contains(Point2 p) const;
  // Whether the straight way between two points of the region never leaves it.
  bool contains_way(Point2 a, Point2 b) const;

 private:
  explicit Region(ClipperLib::Paths paths) : paths_(std::move(paths)) {}
  Region combined(const Region& other, ClipperLib::ClipType type) const;
  ClipperLib::Paths paths_;
  // Edges by height, made when a large region is first asked what it contains.
  struct Bands;
  const Bands& bands() const;
  mutable std::shared_ptr<const Bands> bands_;
};

// The greatest distance of a chord from the arc it stands for, in all regions and offsets.
inline constexpr double chord_tolerance_mm = 0.001;

}  // namespace pecorra
