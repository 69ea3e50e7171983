// Painting on paper: lengths are points, texts keep their widths at any resolution.
#pragma once

#include <QBuffer>
#include <QPainter>
#include <QPdfWriter>

namespace pecorra {

// One line in the box, cut off where it is longer.
inline void paint_paper_text(QPainter& p, const QRectF& box, const QString& what, QFont font, double points,
                             const QColor& colour, Qt::Alignment side = Qt::AlignLeft) {
  constexpr double finer = 10;  // than a point: fonts come in whole pixels
  font.setPixelSize(static_cast<int>(points * finer));
  p.save();
  p.translate(box.topLeft());
  p.scale(1 / finer, 1 / finer);
  p.setFont(font);
  p.setPen(colour);
  const QRectF large(0, 0, box.width() * finer, box.height() * finer);
  p.drawText(large, static_cast<int>(side | Qt::AlignVCenter) | Qt::TextSingleLine,
             QFontMetricsF(font, p.device()).elidedText(what, Qt::ElideRight, large.width()));
  p.restore();
}

// Pages as `paint(painter, size, next_page)` makes them.
template <class Paint>
QByteArray paper_pdf(const QString& title, QPageSize::PageSizeId format, QPageLayout::Orientation orientation,
                     Paint&& paint) {
  QBuffer out;
  out.open(QIODevice::WriteOnly);
  {
    QPdfWriter pdf(&out);
    pdf.setTitle(title);
    pdf.setPageSize(QPageSize(format));
    pdf.setPageOrientation(orientation);
    pdf.setPageMargins(QMarginsF(0, 0, 0, 0));
    constexpr int fine = 600;
    pdf.setResolution(fine);
    QPainter p(&pdf);
    constexpr double scale = fine / 72.0;
    p.scale(scale, scale);
    paint(p, QSizeF(pdf.width() / scale, pdf.height() / scale), [&pdf] { pdf.newPage(); });
  }
  return out.data();
}

}  // namespace pecorra
