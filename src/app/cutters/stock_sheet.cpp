#include "app/cutters/stock_sheet.h"

#include "app/widgets/paper.h"
#include "formats/documents/form_sheet.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// In points.
constexpr double margin = 26, title_height = 46, head_height = 24, row_height = 16, foot_height = 18;

// Of the columns, in parts of the sheet's width; the last ones share what is left.
std::vector<double> widths(const Sheet& sheet, double whole) {
  constexpr double parts[] = {5, 19, 12.5, 6, 4.5, 6, 6, 6, 9, 11, 10, 4.5, 12};
  std::vector<double> out;
  double sum = 0;
  const std::size_t columns = sheet.lines.front().size() - 1;
  for (std::size_t i = 0; i < columns; ++i) sum += out.emplace_back(i < std::size(parts) ? parts[i] : 8);
  for (double& w : out) w *= whole / sum;
  return out;
}

}  // namespace

tl::expected<std::string, FormatFault> stock_sheet_pdf(const Sheet& sheet, const QString& title,
                                                       const QString& subtitle, const PaperLook& look) {
  std::vector<FormCell> cells;
  const QByteArray pages =
      paper_pdf(title, QPageSize::A4, QPageLayout::Landscape, [&](QPainter& p, const QSizeF& size, auto next_page) {
        const std::vector<double> wide = widths(sheet, size.width() - 2 * margin);
        const std::size_t columns = wide.size(),
                          on_page = static_cast<std::size_t>(
                              (size.height() - 2 * margin - title_height - head_height - foot_height) / row_height);
        const std::size_t rows = sheet.lines.size() - 1,
                          page_count = std::max<std::size_t>(1, (rows + on_page - 1) / on_page);
        for (std::size_t page = 0; page < page_count; ++page) {
          if (page > 0) next_page();
          paint_paper_text(p, {margin, margin - 4, size.width() - 2 * margin, 22}, title, look.bold, 15,
                           look.colours.ink);
          paint_paper_text(p, {margin, margin + 18, size.width() - 2 * margin, 14}, subtitle, look.plain, 9,
                           look.colours.quiet);
          const double top = margin + title_height, right = size.width() - margin;
          const std::size_t first = page * on_page, last = std::min(rows, first + on_page);
          double x = margin;
          for (std::size_t c = 0; c < columns; ++c) {
            // Two lines: the second holds what is left of the words, and the unit.
            QString first_line = text_of(sheet.lines[0][c]), second_line;
            if (const qsizetype unit = first_line.lastIndexOf(QLatin1String(" (")); unit >= 0) {
              second_line = first_line.mid(unit + 2).chopped(1);
              first_line.truncate(unit);
            }
            if (const qsizetype space = first_line.indexOf(QLatin1Char(' ')); space > 0) {
              second_line =
                  first_line.mid(space + 1) + (second_line.isEmpty() ? QString() : QStringLiteral(", ") + second_line);
              first_line.truncate(space);
            }
            paint_paper_text(p, {x + 2, top, wide[c] - 3, 12}, first_line, look.bold, 7.5, look.colours.ink);
            paint_paper_text(p, {x + 2, top + 11, wide[c] - 3, 10}, second_line, look.plain, 7.5, look.colours.quiet);
            p.setPen(QPen(look.colours.line, 0.5));
            p.drawLine(QPointF(x, top), QPointF(x, top + head_height + static_cast<double>(last - first) * row_height));
            for (std::size_t r = first; r < last; ++r)
              cells.push_back({static_cast<int>(page), x,
                               top + head_height + static_cast<double>(r - first) * row_height, wide[c], row_height,
                               r + 1, c, true});
            x += wide[c];
          }
          for (std::size_t r = first; r < last; ++r)
            cells.push_back({static_cast<int>(page), margin, top, 1, 1, r + 1, columns, false});
          p.setPen(QPen(look.colours.ink, 1));
          p.drawLine(QPointF(margin, top + head_height), QPointF(right, top + head_height));
          p.setPen(QPen(look.colours.line, 0.5));
          for (std::size_t r = first + 1; r <= last; ++r) {
            const double y = top + head_height + static_cast<double>(r - first) * row_height;
            p.drawLine(QPointF(margin, y), QPointF(right, y));
          }
          p.drawLine(QPointF(right, top),
                     QPointF(right, top + head_height + static_cast<double>(last - first) * row_height));
          const QRectF foot(margin, size.height() - margin - 12, size.width() - 2 * margin, 12);
          paint_paper_text(
              p, foot,
              QObject::tr(
                  "Fill in this file in a PDF viewer, then read it with “Import cutters”. A size can have its own "
                  "unit: 1/2\", 12.7 mm. Enter new cutters on the empty lines; their number can be left empty."),
              look.plain, 7.5, look.colours.quiet);
          paint_paper_text(p, foot, QObject::tr("%1 of %2").arg(page + 1).arg(page_count), look.plain, 7.5,
                           look.colours.quiet, Qt::AlignRight);
        }
      });
  // The headings go along, so that the columns are known again.
  for (std::size_t c = 0; c < sheet.lines[0].size(); ++c) cells.push_back({0, margin, margin, 1, 1, 0, c, false});
  return pdf_with_cells(std::string_view(pages.constData(), static_cast<std::size_t>(pages.size())), sheet, cells);
}

}  // namespace pecorra
