#include "core/motion/stock_field.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "core/base/whole.h"

namespace pecorra {
namespace {

using std::numbers::pi;
constexpr int most_cells_a_side = 1000, directions = 60;
constexpr double cells_a_radius = 16;

}  // namespace

StockField::StockField(const Box& block, double top_z, double smallest_cutter_mm) {
  const double wide = block.width(), deep = block.depth();
  if (!(wide > 0) || !(deep > 0) || !(wide < 1e6) || !(deep < 1e6)) return;
  cell_ = std::max(smallest_cutter_mm / 2 / cells_a_radius, std::max(wide, deep) / most_cells_a_side);
  low_x_ = block.low_x;
  low_y_ = block.low_y;
  columns_ = std::max(1, static_cast<int>(std::ceil(wide / cell_)));
  rows_ = std::max(1, static_cast<int>(std::ceil(deep / cell_)));
  heights_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_), static_cast<float>(top_z));
}

// Calls call(first place, last place + 1) for the cells of each row whose middle is in the disc.
template <class Call>
void StockField::for_disc(Point2 centre, double radius, Call&& call) const {
  if (heights_.empty()) return;
  const int row_from = whole_within((centre.y - radius - low_y_) / cell_ - 0.5, 0, rows_),
            row_end = whole_within((centre.y + radius - low_y_) / cell_, -1, rows_ - 1);
  for (int row = row_from; row <= row_end; ++row) {
    const double dy = low_y_ + (row + 0.5) * cell_ - centre.y;
    const double half = radius * radius - dy * dy;
    if (half <= 0) continue;
    const double reach = std::sqrt(half);
    const int from = whole_within(std::ceil((centre.x - reach - low_x_) / cell_ - 0.5), 0, columns_),
              to = whole_within(std::floor((centre.x + reach - low_x_) / cell_ - 0.5), -1, columns_ - 1);
    if (from <= to) call(place(from, row), place(to, row) + 1);
  }
}

double StockField::highest(Point2 centre, double radius) const {
  float top = -std::numeric_limits<float>::infinity();
  // At least one cell, however small the disc.
  for_disc(centre, std::max(radius, 0.75 * cell_), [&](std::size_t from, std::size_t to) {
    for (std::size_t i = from; i < to; ++i) top = std::max(top, heights_[i]);
  });
  return static_cast<double>(top);
}

// Of the half of the cutter that looks ahead, the part inside material that is higher than its tip.
double StockField::engaged(Point2 centre, double heading, double z, double radius) const {
  int hits = 0;
  for (int i = 0; i < directions; ++i) {
    const double angle = heading - pi / 2 + pi * (i + 0.5) / directions;
    const int column = whole_within((centre.x + radius * std::cos(angle) - low_x_) / cell_ + 1, 0, columns_ + 1) - 1;
    const int row = whole_within((centre.y + radius * std::sin(angle) - low_y_) / cell_ + 1, 0, rows_ + 1) - 1;
    if (column < 0 || row < 0 || column >= columns_ || row >= rows_) continue;
    if (static_cast<double>(heights_[place(column, row)]) > z + 1e-3) ++hits;
  }
  return pi * hits / directions;
}

void StockField::take_away(Point2 centre, double z, double radius) {
  const float bottom = static_cast<float>(z);
  for_disc(centre, radius, [&](std::size_t from, std::size_t to) {
    for (std::size_t i = from; i < to; ++i) heights_[i] = std::min(heights_[i], bottom);
  });
}

double StockField::cut(double x, double y, double z, const Move& m, double radius) {
  if (heights_.empty() || !(radius > 0)) return 0;
  const double step = std::max(cell_, radius / 4);
  const bool counts = m.kind == MoveKind::cut || m.kind == MoveKind::link;
  const bool arc = m.shape != MoveShape::line;
  const double r = std::hypot(x - m.centre_x, y - m.centre_y), from = std::atan2(y - m.centre_y, x - m.centre_x),
               swept = swept_rad(x, y, m);
  const double length = arc ? r * std::abs(swept) : std::hypot(m.x - x, m.y - y);
  const int steps = std::max(1, whole_within(std::ceil(length / step), 1, 1 << 20));
  double most = 0;
  for (int i = 1; i <= steps; ++i) {
    const double t = static_cast<double>(i) / steps;
    Point2 at{x + (m.x - x) * t, y + (m.y - y) * t};
    double heading = std::atan2(m.y - y, m.x - x);
    if (arc) {
      const double angle = from + swept * t;
      at = {m.centre_x + r * std::cos(angle), m.centre_y + r * std::sin(angle)};
      heading = angle + (swept > 0 ? pi / 2 : -pi / 2);
    }
    const double depth = z + (m.z - z) * t;
    if (counts && length > 0) most = std::max(most, engaged(at, heading, depth, radius));
    take_away(at, depth, radius);
  }
  return most;
}

void StockField::take_away(const Toolpath& path, double cutter_mm) {
  double x = 0, y = 0, z = path.safe_z;
  for (Move m : path.moves) {
    // Engagement is of no interest here.
    if (m.kind == MoveKind::cut || m.kind == MoveKind::link) m.kind = MoveKind::lead;
    if (!m.is_rapid()) cut(x, y, z, m, cutter_mm / 2);
    x = m.x, y = m.y, z = m.z;
  }
}

StockField::Part StockField::part(const Box& plan) const {
  Part out;
  if (heights_.empty()) return out;
  out.column = whole_within((plan.low_x - low_x_) / cell_ - 1, 0, columns_);
  out.row = whole_within((plan.low_y - low_y_) / cell_ - 1, 0, rows_);
  out.columns = whole_within((plan.high_x - low_x_) / cell_ + 2, out.column, columns_) - out.column;
  out.rows = whole_within((plan.high_y - low_y_) / cell_ + 2, out.row, rows_) - out.row;
  for (int row = 0; row < out.rows; ++row) {
    const auto from = heights_.begin() + static_cast<std::ptrdiff_t>(place(out.column, out.row + row));
    out.heights.insert(out.heights.end(), from, from + out.columns);
  }
  return out;
}

void StockField::put_back(const Part& part) {
  for (int row = 0; row < part.rows; ++row)
    std::copy_n(part.heights.begin() + static_cast<std::ptrdiff_t>(row) * part.columns, part.columns,
                heights_.begin() + static_cast<std::ptrdiff_t>(place(part.column, part.row + row)));
}

}  // namespace pecorra
