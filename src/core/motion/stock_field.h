// What is left of the stock while it is cut, as a grid of heights seen from above. Lengths in mm. Every cutter counts
// as a cylinder; places are exact to about a cell, engagements to some degrees.
#pragma once

#include <vector>

#include "core/geometry/contour.h"
#include "core/motion/motion.h"

namespace pecorra {

class StockField {
 public:
  StockField() = default;
  // A block with its top at `top_z`; the grid suits the smallest cutter that will work in it.
  StockField(const Box& block, double top_z, double smallest_cutter_mm);

  bool empty() const { return heights_.empty(); }
  double cell() const { return cell_; }
  int columns() const { return columns_; }
  int rows() const { return rows_; }
  Box plan() const { return {low_x_, low_y_, low_x_ + columns_ * cell_, low_y_ + rows_ * cell_}; }
  float height(int column, int row) const { return heights_[place(column, row)]; }
  // The highest material under a disc; minus infinity where there is none.
  double highest(Point2 centre, double radius) const;
  // Whether all of a disc's place is free down to `z`.
  bool is_clear(Point2 centre, double radius, double z) const { return highest(centre, radius) <= z + 1e-3; }
  // The arc that a cutter standing here meets of the material ahead of it, radians, at most π.
  double engaged(Point2 centre, double heading, double z, double radius) const;
  void take_away(Point2 centre, double z, double radius);
  // Takes away all that a move cuts, and returns the greatest engagement on its way (of cuts and links).
  double cut(double x, double y, double z, const Move& move, double radius);
  // All that a whole path cuts.
  void take_away(const Toolpath& path, double cutter_mm);

  // What stands in a part of the plan, to be put back.
  struct Part {
    int column = 0, row = 0, columns = 0, rows = 0;
    std::vector<float> heights;
  };
  Part part(const Box& plan) const;
  void put_back(const Part& part);

 private:
  std::size_t place(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(column);
  }
  template <class Call>
  void for_disc(Point2 centre, double radius, Call&& call) const;

  double cell_ = 1, low_x_ = 0, low_y_ = 0;
  int columns_ = 0, rows_ = 0;
  std::vector<float> heights_;  // of the stock's top at each cell
};

}  // namespace pecorra
