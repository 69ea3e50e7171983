// The drawing of a cutter as data: the layout on a sheet of a given size, in pixels, y downwards. The window paints it,
// and files are written from it. Pure: the caller measures text. The outline has its own area in the middle; dimension
// texts are outside it, lengths in lanes on the left, everything else in a column on the right, the diameter below. So
// no text can cover the outline or another text, at any zoom.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/cutter/kinds.h"
#include "core/holder/assembly_figures.h"

namespace pecorra {

struct DrawPoint {
  double x = 0, y = 0;
};

struct DrawBox {
  double left = 0, top = 0, right = 0, bottom = 0;
  double width() const { return right - left; }
  double height() const { return bottom - top; }
  bool overlaps(const DrawBox& b) const { return left < b.right && b.left < right && top < b.bottom && b.top < bottom; }
  bool contains(DrawPoint p) const { return p.x >= left && p.x <= right && p.y >= top && p.y <= bottom; }
};

// The cut as it is drawn beside the tip.
struct DrawnCut {
  std::optional<double> ap_mm, ae_mm;
  bool both_sides = false;  // a slot
  bool hole = false;
  bool operator==(const DrawnCut&) const = default;
};

// Material beside the cutter, in mm from axis and tip.
struct DrawnArea {
  std::vector<DrawPoint> points;
  bool taken_away = false;  // by this cut
};

struct SheetWish {
  double width = 370, height = 200;
  UnitSystem units = UnitSystem::metric;
  const Holder* holder = nullptr;
  std::optional<double> stickout_mm;
  std::optional<double> extension_diameter_mm, extension_length_mm;  // of the stick-out
  DrawnCut cut;
  std::optional<Wall> wall;
  std::string wall_word = "wall";     // before its height
  double zoom = 1;                    // 1 shows all
  double pan_x_mm = 0, pan_y_mm = 0;  // of the centre of the view, from where all is visible
  double letter_height = 14;
  std::function<double(std::string_view)> text_width;  // none: six tenths of the letters' height each
};

struct DimensionMark {
  std::string_view key;  // of properties<Cutter>(), or "stickout_mm", "wall_height_mm", "ap_mm", "ae_mm"
  std::string text;
  DrawBox box;           // of the text
  bool upright = false;  // the text runs upwards
  bool is_leader = false;
  DrawPoint from, to;  // the dimension line, or from the outline to the text
  // Dragging: the end that moves, the direction, and what a pixel means; 0: it cannot be dragged.
  DrawPoint grip;
  bool grip_vertical = false;
  double mm_per_pixel = 0;
};

struct CutterSheet {
  DrawBox window;    // of the outline
  double scale = 1;  // pixels per mm
  double axis_x = 0, tip_y = 0;
  Profile profile;
  std::vector<DimensionMark> marks;
  std::vector<std::vector<DrawPoint>> helix;  // visible edges of the flutes, in mm, x from the axis
  std::vector<DrawPoint>
      holder;  // with its extension; right half, in mm above the tip, upwards; cut off where it leaves the picture
  std::vector<DrawnArea> material;  // behind everything else; reaches to the edges of the window
  double seen_to_mm = 0;            // the cutter is hidden in its holder above
  double bar_mm = 0;                // length of the scale bar
  DrawPoint bar;                    // its left end
  std::string bar_text;
  DrawBox bar_box;

  DrawPoint px(double x_mm, double y_mm) const { return {axis_x + x_mm * scale, tip_y - y_mm * scale}; }
};

// Empty profile: nothing is laid out but the scale bar.
CutterSheet lay_out(const Cutter& cutter, Profile profile, const SheetWish& wish);

// A round length for a scale bar, not longer than this.
double nice_length(double longest);

// The value nearest to `value` on a scale that people would choose at this many mm per pixel: 1, 5, 10 of a decimal
// power, or fractions of an inch.
double snapped_mm(double value_mm, double mm_per_pixel, UnitSystem units);

}  // namespace pecorra
