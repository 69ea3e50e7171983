// What a drawing file shows, flat: lines and circles by layer.
#pragma once

#include <string>
#include <vector>

#include "core/geometry/contour.h"

namespace pecorra {

struct DrawnLine {
  std::string layer;
  Contour contour;
  double diameter_mm = 0;  // of a circle; its contour is the full circle
  bool is_circle() const { return diameter_mm > 0; }
  Point2 centre() const;  // of a circle
  bool operator==(const DrawnLine&) const = default;
};

struct Drawing {
  std::string source;  // name of the file it came from
  std::string print;   // of the file
  std::vector<DrawnLine> lines;

  void add_line(Contour contour, std::string layer = {}) { lines.push_back({std::move(layer), std::move(contour), 0}); }
  void add_circle(Point2 centre, double diameter_mm, std::string layer = {}) {
    lines.push_back({std::move(layer), circle_contour(centre, diameter_mm), diameter_mm});
  }
  std::size_t circles() const;
  bool operator==(const Drawing&) const = default;
};

// "LAYER/1", "LAYER/2", … in the order of the file; a line without a layer is on "0".
std::vector<std::string> keys_of(const Drawing& drawing);
// The longest line that is no circle; none in a drawing without one.
const Contour* longest_line(const Drawing& drawing);
// Of everything in it; all zero for an empty drawing.
Box bounds(const Drawing& drawing);

}  // namespace pecorra
