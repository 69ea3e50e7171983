// The chart for the wall: a PDF on A4 or A3, headings repeated on every page, in the day colours.
#pragma once

#include <QByteArray>
#include <QFont>
#include <QPageSize>
#include <vector>

#include "app/look/look.h"
#include "shop/chart_grid.h"

namespace pecorra {

// All that is on the paper; drawing needs nothing else.
struct WallChart {
  QString title, subtitle, foot;
  QString row_head;
  std::vector<QString> columns, column_tags;  // materials and the letters of their groups
  std::vector<QString> numbers, rows;
  struct Cell {
    QString speed, feed, reason;
    Mark mark = Mark::none;
    bool beyond = false;
  };
  std::vector<Cell> cells;  // row-major
  QString feed_unit;
  QFont plain, bold;
  Colours colours;
};

WallChart wall_chart(const ChartGrid& grid, const ShopState& state, const Context& context, const PaperLook& look);
QByteArray wall_chart_pdf(const WallChart& chart, QPageSize::PageSizeId size);

}  // namespace pecorra
