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

// Its left end, on the baseline.
struct DrawnText {
  std::string layer, text;
  Point2 at;
  double height_mm = 0, angle_deg = 0;
  bool operator==(const DrawnText&) const = default;
};

struct Drawing {
  std::string source;  // name of the file it came from
  std::string print;   // of the file
  std::vector<DrawnLine> lines;
  std::vector<DrawnText> texts;

  void add_line(Contour contour, std::string layer = {}) {
    lines.push_back({std::move(layer), straightened(std::move(contour)), 0});
  }
  void add_circle(Point2 centre, double diameter_mm, std::string layer = {}) {
    lines.push_back({std::move(layer), circle_contour(centre, diameter_mm), diameter_mm});
  }
  std::size_t circles() const;
  bool operator==(const Drawing&) const = default;
};

// "LAYER/1", "LAYER/2", … in the order of the file; a line without a layer is on "0".
std::vector<std::string> keys_of(const Drawing& drawing);
// "LAYER/text/1", …
std::vector<std::string> text_keys_of(const Drawing& drawing);
// Tells a text from any other by what it says and where.
std::string print_of(const DrawnText& text);
// The longest line that is no circle; none in a drawing without one.
const Contour* longest_line(const Drawing& drawing);
// Of everything in it; all zero for an empty drawing.
Box bounds(const Drawing& drawing);

}  // namespace pecorra
