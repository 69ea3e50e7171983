#include "core/toolpath/stock_field.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/whole.h"

namespace pecorra {
namespace {

using std::numbers::pi;
constexpr int most_cells_a_side = 1000, directions = 60;
constexpr double cells_a_radius = 16;

}  // namespace

Box stock_box(const Job& job) {
  const Box b = bounds(job.drawing);
  const double half_x = job.stock_width_mm.value_or(b.high_x - b.low_x) / 2,
               half_y = job.stock_depth_mm.value_or(b.high_y - b.low_y) / 2;
  const double x = (b.low_x + b.high_x) / 2, y = (b.low_y + b.high_y) / 2;
  return {x - half_x, y - half_y, x + half_x, y + half_y};
}

StockField::StockField(const Job& job) {
  const Box b = stock_box(job);
  const double wide = b.high_x - b.low_x, deep = b.high_y - b.low_y;
  if (!(wide > 0) || !(deep > 0)) return;
  double smallest = std::max(wide, deep);
  for (const Operation& o : job.operations)
    if (o.path == PathKind::profile && o.cutter.diameter_mm) smallest = std::min(smallest, *o.cutter.diameter_mm);
  cell_ = std::max(smallest / 2 / cells_a_radius, std::max(wide, deep) / most_cells_a_side);
  low_x_ = b.low_x;
  low_y_ = b.low_y;
  columns_ = std::max(1, static_cast<int>(std::ceil(wide / cell_)));
  rows_ = std::max(1, static_cast<int>(std::ceil(deep / cell_)));
  heights_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_), 0.0f);
}

// Of the half of the cutter that looks ahead, the part inside material that is higher than its tip.
double StockField::engaged(Point2 centre, double heading, double z, double radius) const {
  int hits = 0;
  for (int i = 0; i < directions; ++i) {
    const double angle = heading - pi / 2 + pi * (i + 0.5) / directions;
    const int column = whole_within((centre.x + radius * std::cos(angle) - low_x_) / cell_ + 1, 0, columns_ + 1) - 1;
    const int row = whole_within((centre.y + radius * std::sin(angle) - low_y_) / cell_ + 1, 0, rows_ + 1) - 1;
    if (column < 0 || row < 0 || column >= columns_ || row >= rows_) continue;
    if (heights_[place(column, row)] > z + 1e-3) ++hits;
  }
  return pi * hits / directions;
}

void StockField::take_away(Point2 centre, double z, double radius) {
  const auto first = [&](double at, double low) { return whole_within((at - radius - low) / cell_ - 0.5, 0, 1 << 20); };
  const int row_end = std::min(rows_ - 1, whole_within((centre.y + radius - low_y_) / cell_, 0, 1 << 20));
  for (int row = first(centre.y, low_y_); row <= row_end; ++row) {
    const double dy = low_y_ + (row + 0.5) * cell_ - centre.y;
    const double half = radius * radius - dy * dy;
    if (half <= 0) continue;
    const double reach = std::sqrt(half);
    const int from = whole_within(std::ceil((centre.x - reach - low_x_) / cell_ - 0.5), 0, columns_),
              to = whole_within(std::floor((centre.x + reach - low_x_) / cell_ - 0.5), -1, columns_ - 1);
    for (int column = from; column <= to; ++column)
      heights_[place(column, row)] = std::min(heights_[place(column, row)], static_cast<float>(z));
  }
}

double StockField::cut(const Toolpath& path, double cutter_mm) {
  if (heights_.empty() || !(cutter_mm > 0)) return 0;
  const double radius = cutter_mm / 2, step = std::max(cell_, radius / 4);
  double most = 0, x = 0, y = 0, z = path.safe_z;
  for (const Move& m : path.moves) {
    const bool is_cut = m.kind == MoveKind::cut;
    // Rapids cut nothing; where the path goes down counts, but is judged by its own feeds.
    if (m.kind != MoveKind::rapid && m.kind != MoveKind::retract) {
      double length = std::hypot(m.x - x, m.y - y), from = 0, swept = 0, r = 0;
      if (m.shape != MoveShape::line) {
        r = std::hypot(x - m.centre_x, y - m.centre_y);
        from = std::atan2(y - m.centre_y, x - m.centre_x);
        swept = std::atan2(m.y - m.centre_y, m.x - m.centre_x) - from;
        if (m.shape == MoveShape::counter_clockwise && swept <= 1e-9) swept += 2 * pi;
        if (m.shape == MoveShape::clockwise && swept >= -1e-9) swept -= 2 * pi;
        length = r * std::abs(swept);
      }
      const int steps = std::max(1, whole_within(std::ceil(length / step), 1, 1 << 20));
      for (int i = 1; i <= steps; ++i) {
        const double t = static_cast<double>(i) / steps;
        Point2 at{x + (m.x - x) * t, y + (m.y - y) * t};
        double heading = std::atan2(m.y - y, m.x - x);
        if (m.shape != MoveShape::line) {
          const double angle = from + swept * t;
          at = {m.centre_x + r * std::cos(angle), m.centre_y + r * std::sin(angle)};
          heading = angle + (swept > 0 ? pi / 2 : -pi / 2);
        }
        const double depth = z + (m.z - z) * t;
        if (is_cut && length > 0) most = std::max(most, engaged(at, heading, depth, radius));
        take_away(at, depth, radius);
      }
    }
    x = m.x, y = m.y, z = m.z;
  }
  return most;
}

}  // namespace pecorra
