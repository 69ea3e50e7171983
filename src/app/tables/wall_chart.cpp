#include "app/tables/wall_chart.h"

#include <QDate>
#include <algorithm>

#include "app/tables/chart_view.h"
#include "app/widgets/paper.h"
#include "app/window/context_line.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// In points.
constexpr double margin = 26, title_height = 44, head_height = 34, row_height = 14, foot_height = 18, name_width = 190,
                 least_cell_width = 84, most_cell_width = 118;

class Paper {
 public:
  Paper(QPainter& p, const WallChart& chart, QSizeF size) : p_(p), c_(chart), size_(size) {
    const double wide = size.width() - 2 * margin - name_width;
    columns_on_page_ = std::max(1, static_cast<int>(wide / least_cell_width));
    cell_width = std::clamp(wide / std::clamp(static_cast<int>(c_.columns.size()), 1, columns_on_page_),
                            least_cell_width, most_cell_width);
    rows_on_page_ = std::max(
        1, static_cast<int>((size.height() - 2 * margin - title_height - head_height - foot_height) / row_height));
  }
  int pages_across() const { return (static_cast<int>(c_.columns.size()) + columns_on_page_ - 1) / columns_on_page_; }
  int pages_down() const { return (static_cast<int>(c_.rows.size()) + rows_on_page_ - 1) / rows_on_page_; }

  void page(int across, int down) {
    const int first_column = across * columns_on_page_,
              last_column = std::min(static_cast<int>(c_.columns.size()), first_column + columns_on_page_);
    const int first_row = down * rows_on_page_,
              last_row = std::min(static_cast<int>(c_.rows.size()), first_row + rows_on_page_);
    const double left = margin, top = margin + title_height,
                 right = left + name_width + (last_column - first_column) * cell_width;
    text({left, margin - 4, size_.width() - 2 * margin, 22}, c_.title, 15, true, c_.colours.ink);
    text({left, margin + 18, size_.width() - 2 * margin, 14}, c_.subtitle, 9, false, c_.colours.quiet);
    legend();
    text({left + 30, top + 16, name_width - 32, 14}, c_.row_head, 8, false, c_.colours.quiet);
    for (int c = first_column; c < last_column; ++c) {
      const double x = left + name_width + (c - first_column) * cell_width;
      const auto at = static_cast<std::size_t>(c);
      const QString tag = c_.column_tags[at];
      text({x + 4, top + 2, cell_width - 8, 13},
           tag.isEmpty() ? c_.columns[at] : c_.columns[at] + QStringLiteral("  ") + tag, 8.5, true, c_.colours.ink);
      text({x, top + 16, cell_width - 50, 14}, QObject::tr("S"), 7.5, false, c_.colours.quiet, Qt::AlignRight);
      text({x + cell_width - 50, top + 16, 36, 14}, QObject::tr("F"), 7.5, false, c_.colours.quiet, Qt::AlignRight);
    }
    line(left, top + head_height - 2, right, 1, c_.colours.ink);
    for (int r = first_row; r < last_row; ++r) {
      const double y = top + head_height + (r - first_row) * row_height;
      const auto row = static_cast<std::size_t>(r);
      // Every fifth line is a little heavier, to guide the eye across a wide sheet.
      line(left, y + row_height - 0.5, right, (r + 1) % 5 == 0 ? 0.6 : 0.25, c_.colours.line);
      text({left, y, 26, row_height}, c_.numbers[row], 8, false, c_.colours.quiet, Qt::AlignRight);
      text({left + 31, y, name_width - 35, row_height}, c_.rows[row], 8.5, false, c_.colours.ink);
      for (int c = first_column; c < last_column; ++c) {
        const double x = left + name_width + (c - first_column) * cell_width;
        const WallChart::Cell& cell = c_.cells[row * c_.columns.size() + static_cast<std::size_t>(c)];
        if (cell.mark == Mark::none) {
          text({x + 4, y, cell_width - 6, row_height}, cell.reason, 7.5, false, c_.colours.quiet);
          continue;
        }
        text({x, y, cell_width - 50, row_height}, cell.speed, 8.5, true, c_.colours.ink, Qt::AlignRight);
        text({x + cell_width - 50, y, 36, row_height}, cell.feed, 8.5, false, c_.colours.ink, Qt::AlignRight);
        draw_mark(p_, QRectF(x + cell_width - 11, y + 4, 6, 6), cell.beyond ? Mark::beyond : cell.mark, c_.colours);
      }
    }
    for (int c = first_column; c <= last_column; ++c) {
      const double x = left + name_width + (c - first_column) * cell_width - 0.5;
      p_.setPen(QPen(c_.colours.line, 0.4));
      p_.drawLine(QPointF(x, top + 2), QPointF(x, top + head_height + (last_row - first_row) * row_height));
    }
    const int number = down * pages_across() + across + 1;
    text({left, size_.height() - margin - 12, size_.width() - 2 * margin, 12}, c_.foot, 7.5, false, c_.colours.quiet);
    text({left, size_.height() - margin - 12, size_.width() - 2 * margin, 12},
         QObject::tr("%1 of %2").arg(number).arg(pages_across() * pages_down()), 7.5, false, c_.colours.quiet,
         Qt::AlignRight);
  }

 private:
  void text(QRectF box, const QString& what, double points, bool bold, const QColor& colour,
            Qt::Alignment side = Qt::AlignLeft) {
    paint_paper_text(p_, box, what, bold ? c_.bold : c_.plain, points, colour, side);
  }
  void line(double x, double y, double to, double width, const QColor& colour) {
    p_.setPen(QPen(colour, width));
    p_.drawLine(QPointF(x, y), QPointF(to, y));
  }
  void legend() {
    double x = size_.width() - margin;
    for (const Mark mark : {Mark::beyond, Mark::guess, Mark::table, Mark::proven}) {
      const double wide = 4.4 * static_cast<double>(mark_name(mark).size()) + 8;
      x -= wide;
      text({x, margin + 18, wide, 14}, mark_name(mark), 8.5, false, c_.colours.quiet);
      draw_mark(p_, QRectF(x - 10, margin + 22, 6, 6), mark, c_.colours);
      x -= 18;
    }
  }

  QPainter& p_;
  const WallChart& c_;
  QSizeF size_;
  int columns_on_page_ = 1, rows_on_page_ = 1;
  double cell_width = least_cell_width;
};

}  // namespace

WallChart wall_chart(const ChartGrid& grid, const ShopState& state, const Context& context, const PaperLook& look) {
  WallChart out;
  const bool by_cutter = grid.rows() == ChartRows::cutters;
  const Machine* machine = state.machines.find(context.machine);
  const QString machine_name = machine ? text_of(machine->name) : QString();
  out.title = by_cutter ? QObject::tr("%1 on %2").arg(operation_text(context), machine_name)
                        : QObject::tr("%1 on %2")
                              .arg(grid.row_count() > 0 ? text_of(grid.cutter_at(0).name) : QString(), machine_name);
  if (!out.title.isEmpty()) out.title[0] = out.title[0].toUpper();
  const std::string feed = unit_text(Quantity::table_feed, context.units);
  out.subtitle = QObject::tr("%1 · pace %2 · S in rpm, F in %3")
                     .arg(text_of(state.shop_settings().name), text_of(plain(context.pace, 0)), text_of(feed));
  out.foot = QObject::tr("Printed %1. Values change with the tables: check the date.")
                 .arg(QDate::currentDate().toString(Qt::ISODate));
  out.row_head = by_cutter ? QObject::tr("Cutter") : QObject::tr("Operation");
  out.plain = look.plain;
  out.bold = look.bold;
  out.colours = look.colours;
  for (int c = 0; c < grid.column_count(); ++c) {
    out.columns.push_back(text_of(grid.material_at(c).name));
    const MaterialGroup group = grid.material_at(c).group;
    out.column_tags.push_back(static_cast<int>(group) < 6 ? group_letter(group) : QString());
  }
  int left_out = 0;
  for (int r = 0; r < grid.row_count(); ++r) {
    bool any = false;
    for (int c = 0; c < grid.column_count() && !any; ++c) any = grid.cell(r, c).found();
    if (!any) {
      ++left_out;
      continue;
    }
    out.numbers.push_back(by_cutter ? QString::number(grid.cutter_at(r).number) : QString());
    out.rows.push_back(by_cutter ? text_of(grid.cutter_at(r).name) : label_text(label_of(grid.operation_at(r))));
    for (int c = 0; c < grid.column_count(); ++c) {
      const ChartCell& v = grid.cell(r, c);
      WallChart::Cell cell;
      if (v.found()) {
        cell.speed = text_of(shown(v.n_rpm, Quantity::spindle_speed, context.units));
        cell.feed = text_of(shown(v.vf_mm_min, Quantity::table_feed, context.units));
        cell.mark = mark_of(v);
        cell.beyond = grid.worst_used(r, c) > 1 + 1e-6;
      } else {
        cell.reason = reason_text(v.reason, grid.cutter_at(r).kind);
      }
      out.cells.push_back(std::move(cell));
    }
  }
  if (left_out > 0) out.foot += QObject::tr(" %1 rows without values are not shown.").arg(left_out);
  return out;
}

QByteArray wall_chart_pdf(const WallChart& chart, QPageSize::PageSizeId size) {
  return paper_pdf(chart.title, size, QPageLayout::Landscape,
                   [&](QPainter& p, const QSizeF& paper_size, auto next_page) {
                     Paper paper(p, chart, paper_size);
                     bool first = true;
                     for (int down = 0; down < paper.pages_down(); ++down)
                       for (int across = 0; across < paper.pages_across(); ++across) {
                         if (!first) next_page();
                         first = false;
                         paper.page(across, down);
                       }
                   });
}

}  // namespace pecorra
