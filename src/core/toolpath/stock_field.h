// What is left of the stock while a job is cut, as a grid of heights seen from above: how far around the cutter is
// engaged at each place. Lengths in mm. Every cutter counts as a cylinder; a few degrees exact.
#pragma once

#include <vector>

#include "core/job/job.h"
#include "core/toolpath/toolpath.h"

namespace pecorra {

class StockField {
 public:
  // The block of stock around the middle of the drawing; the grid suits the job's smallest cutter.
  explicit StockField(const Job& job);
  // Takes away what the path cuts, and returns the greatest arc of engagement on its cuts in radians, at most π.
  double cut(const Toolpath& path, double cutter_mm);

 private:
  std::size_t place(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(column);
  }
  double engaged(Point2 centre, double heading, double z, double radius) const;
  void take_away(Point2 centre, double z, double radius);

  double cell_ = 1, low_x_ = 0, low_y_ = 0;
  int columns_ = 0, rows_ = 0;
  std::vector<float> heights_;  // of the stock's top at each cell
};

// Where the block of stock lies in the plane: around the middle of the drawing, as large as stated, else as the
// drawing.
Box stock_box(const Job& job);

}  // namespace pecorra
