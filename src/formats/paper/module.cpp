// The setup sheet as PDF, painted.
#include <QBuffer>
#include <QFontDatabase>
#include <QGuiApplication>
#include <QPainter>
#include <QPainterPath>
#include <QPdfWriter>
#include <QTextDocument>
#include <algorithm>
#include <cmath>

#include "formats/paper/paper.h"

namespace pecorra {
namespace {

constexpr double mm = 72 / 25.4;  // in points
constexpr double edge = 12 * mm;
const QColor ink(20, 20, 20), quiet(95, 95, 95), line_colour(150, 150, 150), fill(225, 225, 225), dark(120, 120, 120);

struct Fonts {
  QFont plain, bold;
};
const Fonts& fonts() {
  static const Fonts f = [] {
    Fonts out;
    for (const bool bold : {false, true}) {
      const int id = QFontDatabase::addApplicationFont(
          QStringLiteral(":/pecorra_paper/fonts/PecorraText-%1.otf").arg(bold ? "Bold" : "Regular"));
      const QStringList families = QFontDatabase::applicationFontFamilies(id);
      QFont font(families.isEmpty() ? QStringLiteral("sans-serif") : families.front());
      font.setBold(bold);
      (bold ? out.bold : out.plain) = font;
    }
    return out;
  }();
  return f;
}

class Painter {
 public:
  Painter(const SetupSheet& sheet, PaperOrientation orientation) : sheet_(sheet) {
    out_.open(QIODevice::WriteOnly);
    pdf_ = std::make_unique<QPdfWriter>(&out_);
    pdf_->setTitle(sheet.title);
    pdf_->setPageSize(QPageSize(QPageSize::A4));
    pdf_->setPageOrientation(orientation == PaperOrientation::landscape ? QPageLayout::Landscape
                                                                        : QPageLayout::Portrait);
    pdf_->setPageMargins(QMarginsF(0, 0, 0, 0));
    constexpr int fine = 600;
    pdf_->setResolution(fine);
    p_.begin(pdf_.get());
    p_.scale(fine / 72.0, fine / 72.0);
    width_ = pdf_->width() * 72.0 / fine;
    height_ = pdf_->height() * 72.0 / fine;
    p_.setRenderHint(QPainter::Antialiasing);
  }

  QByteArray run() {
    bool first = true;
    for (const SheetSetup& setup : sheet_.setups) {
      if (!first) pdf_->newPage();
      first = false;
      page_of_setup_ = 0;
      setup_ = &setup;
      head();
      top(setup);
      cutters(setup);
    }
    p_.end();
    pdf_.reset();
    return out_.data();
  }

 private:
  // One line in the box, cut off where it is longer. Fonts come in whole pixels: text is laid out ten times as large.
  void text(QRectF box, const QString& what, double points, bool bold = false, QColor colour = ink,
            Qt::Alignment side = Qt::AlignLeft) {
    constexpr double finer = 10;
    QFont font = bold ? fonts().bold : fonts().plain;
    font.setPixelSize(static_cast<int>(points * finer));
    p_.save();
    p_.translate(box.topLeft());
    p_.scale(1 / finer, 1 / finer);
    p_.setFont(font);
    p_.setPen(colour);
    const QRectF large(0, 0, box.width() * finer, box.height() * finer);
    p_.drawText(large, static_cast<int>(side | Qt::AlignVCenter) | Qt::TextSingleLine,
                QFontMetricsF(font, p_.device()).elidedText(what, Qt::ElideRight, large.width()));
    p_.restore();
  }
  double width_of(const QString& what, double points, bool bold = false) {
    QFont font = bold ? fonts().bold : fonts().plain;
    font.setPixelSize(static_cast<int>(points * 10));
    return QFontMetricsF(font, p_.device()).horizontalAdvance(what) / 10;
  }
  // On as many lines as it needs and may have; returns their height.
  double wrapped(QRectF line, const QString& what, double points, int most, bool bold, Qt::Alignment side) {
    QStringList words = what.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    double used = 0;
    for (int i = 0; i < most && !words.isEmpty(); ++i) {
      QString now = words.takeFirst();
      while (!words.isEmpty() &&
             (i + 1 == most || width_of(now + QLatin1Char(' ') + words.front(), points, bold) < line.width()))
        now += QLatin1Char(' ') + words.takeFirst();
      text(line.translated(0, used), now, points, bold, ink, side);
      used += line.height();
    }
    return used;
  }
  void rule(double y, double weight = 0.5, QColor colour = line_colour) {
    p_.setPen(QPen(colour, weight));
    p_.drawLine(QPointF(edge, y), QPointF(width_ - edge, y));
  }

  void head() {
    ++page_of_setup_;
    const double w = width_ - 2 * edge;
    text({edge, edge, w * 0.66, 20}, sheet_.title, 15, true);
    text({edge + w * 0.6, edge, w * 0.4, 20}, sheet_.program, 10, true, ink, Qt::AlignRight);
    text({edge, edge + 19, w * 0.7, 12}, sheet_.subtitle, 8.5, false, quiet);
    text({edge + w * 0.6, edge + 19, w * 0.4, 12}, sheet_.revision, 8.5, false, quiet, Qt::AlignRight);
    y_ = edge + 34;
    rule(y_, 1, ink);
    y_ += 5;
    QString name = setup_->name;
    if (page_of_setup_ > 1) name += QStringLiteral(" · ") + sheet_.words.page.arg(page_of_setup_);
    text({edge, y_, w * 0.5, 15}, name, 11, true);
    text({edge + w * 0.5, y_, w * 0.5, 15}, sheet_.words.time + QStringLiteral(" ") + setup_->time, 9, false, ink,
         Qt::AlignRight);
    y_ += 18;
    if (sheet_.hazard.isEmpty() || page_of_setup_ > 1) return;
    p_.setPen(QPen(ink, 0.8));
    p_.setBrush(Qt::NoBrush);
    p_.drawRect(QRectF(edge, y_, w, 14));
    text({edge + 4, y_, w - 8, 14}, sheet_.hazard, 8.5, true);
    y_ += 18;
  }

  void top(const SheetSetup& setup) {
    const bool wide = width_ > height_;
    const double w = width_ - 2 * edge, picture_w = wide ? w * 0.34 : w * 0.5, picture_h = wide ? 205 : 190;
    picture(setup, {edge, y_, picture_w, picture_h});
    const double facts_x = wide ? edge : edge + picture_w + 10, facts_w = wide ? picture_w : w - picture_w - 10;
    double fact_y = wide ? y_ + picture_h + 4 : y_;
    for (const auto& [what, said] :
         {std::pair{sheet_.words.zero, setup.zero}, std::pair{sheet_.words.stock, setup.stock},
          std::pair{sheet_.words.offset, setup.offset}, std::pair{sheet_.words.clamps, setup.clamps}}) {
      if (said.isEmpty()) continue;
      text({facts_x, fact_y, 62, 12}, what, 8, false, quiet);
      fact_y += wrapped({facts_x + 62, fact_y, facts_w - 62, 12}, said, 8.5, 3, false, Qt::AlignLeft) + 1;
    }
    if (wide) {
      const double left = edge + picture_w + 12, from = y_;
      operations(setup, left, width_ - edge - left);
      y_ = std::max({y_, fact_y, from + picture_h});
    } else {
      y_ += picture_h + 8;
      operations(setup, edge, w);
    }
    y_ += 10;
  }

  void picture(const SheetSetup& setup, QRectF box) {
    p_.setPen(QPen(line_colour, 0.5));
    p_.setBrush(Qt::NoBrush);
    p_.drawRect(box);
    QRectF world = setup.stock_mm;
    for (const SheetShape& s : setup.shapes)
      for (const QPointF& q : s.points) world |= QRectF(q, QSizeF(1e-6, 1e-6));
    world |= QRectF(setup.zero_mm, QSizeF(1e-6, 1e-6));
    if (world.width() <= 0 || world.height() <= 0) return;
    const double scale = std::min((box.width() - 16) / world.width(), (box.height() - 16) / world.height());
    QTransform t;
    t.translate(box.center().x(), box.center().y());
    t.scale(scale, -scale);
    t.translate(-world.center().x(), -world.center().y());
    p_.save();
    p_.setClipRect(box);
    p_.setPen(QPen(dark, 0.6));
    p_.setBrush(fill);
    p_.drawRect(t.mapRect(setup.stock_mm));
    for (const SheetShape& s : setup.shapes) {
      QPolygonF points;
      for (const QPointF& q : s.points) points << t.map(q);
      if (s.role == SheetShape::clamp) {
        p_.setPen(QPen(ink, 0.8));
        p_.setBrush(QBrush(dark, Qt::BDiagPattern));
        p_.drawPolygon(points);
      } else {
        p_.setPen(QPen(ink, 0.8));
        p_.setBrush(Qt::NoBrush);
        p_.drawPolyline(points);
      }
    }
    // Zero point with its axes.
    const QPointF zero = t.map(setup.zero_mm);
    p_.setPen(QPen(ink, 1.2));
    p_.setBrush(Qt::white);
    p_.drawEllipse(zero, 4, 4);
    QPainterPath quarters;
    for (const int from : {0, 180}) {
      quarters.moveTo(zero);
      quarters.arcTo(QRectF(zero - QPointF(4, 4), QSizeF(8, 8)), from, 90);
      quarters.closeSubpath();
    }
    p_.fillPath(quarters, ink);
    for (const auto& [to, letter] :
         {std::pair{QPointF(24, 0), QStringLiteral("X")}, std::pair{QPointF(0, -24), QStringLiteral("Y")}}) {
      p_.setPen(QPen(ink, 1));
      p_.drawLine(zero + to / 5, zero + to);
      text(QRectF(zero + to * 1.25 - QPointF(5, 5), QSizeF(10, 10)), letter, 7.5, true, ink, Qt::AlignHCenter);
    }
    p_.restore();
  }

  void operations(const SheetSetup& setup, double left, double w) {
    // Shares of the width; the name takes what is left.
    static constexpr double shares[] = {0.05, 0.26, 0.06, 0.09, 0.09, 0.08, 0.08, 0.12, 0.08, 0.09};
    const auto row = [&](const QStringList& cells, bool bold, QColor colour, double points) {
      double x = left;
      for (int i = 0; i < cells.size() && i < 10; ++i) {
        const double cell = shares[i] * w;
        const bool figure = i >= 3 && i <= 6;
        text({x + (i == 7 || i == 9 ? 7 : 1), y_, cell - 8, 11}, cells[i], points, bold, colour,
             figure || i == 8 ? Qt::AlignRight : Qt::AlignLeft);
        x += cell;
      }
      y_ += 11.5;
    };
    text({left, y_, w, 12}, sheet_.words.operations, 9, true);
    y_ += 13;
    row(sheet_.words.operation_columns, false, quiet, 7);
    p_.setPen(QPen(ink, 0.6));
    p_.drawLine(QPointF(left, y_), QPointF(left + w, y_));
    y_ += 1;
    for (const SheetOperation& o : setup.operations) {
      if (y_ > height_ - edge - 30 - 9.5 * static_cast<double>(o.warnings.size() + 1)) {
        pdf_->newPage();
        head();
      }
      const QString mark = o.guess ? sheet_.words.guess : o.proven ? sheet_.words.proven : QString();
      row({o.number, o.name, o.t, o.s, o.f, o.ap, o.ae, o.coolant, o.time, mark}, false, ink, 8);
      const auto more = [&](const QString& what, bool bold) {
        if (what.isEmpty()) return;
        text({left + shares[0] * w + 1, y_ - 1.5, w * 0.94, 10}, what, 7.5, bold);
        y_ += 9.5;
      };
      more(o.details, false);
      for (const QString& what : QStringList{o.comment, o.fault} + o.warnings) more(what, true);
      p_.setPen(QPen(fill, 0.5));
      p_.drawLine(QPointF(left, y_), QPointF(left + w, y_));
    }
  }

  // Lying, all of a setup at one scale.
  void cutters(const SheetSetup& setup) {
    if (setup.cutters.empty()) return;
    double longest = 1, widest = 1;
    for (const SheetCutter& c : setup.cutters) {
      for (const QPointF& q : c.cutter) longest = std::max(longest, q.y()), widest = std::max(widest, q.x());
      double out = 0;
      for (const QPointF& q : c.holder_outline) out = std::max(out, q.y()), widest = std::max(widest, q.x());
      longest = std::max(longest, out);
    }
    constexpr double row_h = 46;
    const double w = width_ - 2 * edge, drawing_w = w * 0.23,
                 scale = std::min((drawing_w - 8) / longest, (row_h - 8) / (2 * widest));
    bool heading = true;
    for (const SheetCutter& c : setup.cutters) {
      if (y_ + row_h + (heading ? 14 : 0) > height_ - edge) {
        pdf_->newPage();
        head();
        heading = true;
      }
      if (heading) {
        text({edge, y_, w, 12}, sheet_.words.cutters, 9, true);
        y_ += 13;
        rule(y_, 0.6, ink);
        heading = false;
      }
      cutter(c, {edge, y_, w, row_h}, drawing_w, scale);
      y_ += row_h;
      rule(y_);
    }
  }

  void cutter(const SheetCutter& c, QRectF box, double drawing_w, double scale) {
    const double middle = box.center().y(), tip = box.left() + 4;
    const auto outline = [&](const std::vector<QPointF>& half) {
      QPolygonF shape;
      for (const QPointF& q : half) shape << QPointF(tip + q.y() * scale, middle - q.x() * scale);
      for (auto q = half.rbegin(); q != half.rend(); ++q)
        shape << QPointF(tip + q->y() * scale, middle + q->x() * scale);
      return shape;
    };
    p_.save();
    p_.setClipRect(QRectF(box.left(), box.top(), drawing_w, box.height()));
    p_.setPen(QPen(ink, 0.6));
    if (!c.holder_outline.empty()) {
      p_.setBrush(fill);
      p_.drawPolygon(outline(c.holder_outline));
    }
    p_.setBrush(Qt::white);
    if (!c.cutter.empty()) {
      // What stands out of the holder.
      double face = 1e9;
      for (const QPointF& q : c.holder_outline) face = std::min(face, q.y());
      p_.save();
      p_.setClipRect(QRectF(box.left(), box.top(), std::min(drawing_w, 4 + face * scale + 0.3), box.height()),
                     Qt::IntersectClip);
      p_.drawPolygon(outline(c.cutter));
      p_.restore();
      p_.setPen(QPen(ink, 1.6));
      p_.drawLine(QPointF(tip, box.bottom() - 2.5), QPointF(tip + c.flutes_mm * scale, box.bottom() - 2.5));
    }
    p_.restore();
    p_.setPen(QPen(dark, 0.4, Qt::DashDotLine));
    p_.drawLine(QPointF(box.left(), middle), QPointF(box.left() + drawing_w - 6, middle));

    double x = box.left() + drawing_w;
    const double rest = box.width() - drawing_w, name_w = rest * 0.44, stick_w = rest * 0.18, cuts_w = rest * 0.25;
    text({x, box.top() + 3, 34, 16}, c.t, 13, true);
    text({x + 36, box.top() + 3, name_w - 40, 12}, c.name, 9.5, true);
    QString second = c.number;
    if (!c.sizes.isEmpty()) second += (second.isEmpty() ? QString() : QStringLiteral(" · ")) + c.sizes;
    text({x + 36, box.top() + 15, name_w - 40, 10}, second, 8, false, ink);
    text({x + 36, box.top() + 25, name_w - 40, 10}, c.holder, 8, false, quiet);
    const QString last = c.generic ? c.fetch : c.missing;
    if (!last.isEmpty()) text({x, box.top() + 35, name_w - 4, 10}, last, 8, true);
    else if (!c.to_load.isEmpty()) text({x, box.top() + 35, name_w - 4, 10}, c.to_load, 8, false, ink);
    x += name_w;
    text({x, box.top() + 3, 50, 10}, sheet_.words.planned, 7, false, quiet);
    text({x, box.top() + 12, stick_w - 6, 12}, c.planned, 9.5, true);
    text({x, box.top() + 24, 50, 9}, sheet_.words.measured, 7, false, quiet);
    p_.setPen(QPen(ink, 0.6));
    p_.setBrush(Qt::NoBrush);
    const QRectF field(x, box.top() + 33, std::min(90.0, stick_w - 8), 11);
    p_.drawRect(field);
    text(field.adjusted(3, 0, -3, 0), c.measured, 8.5);
    x += stick_w;
    double line_y = box.top() + 3;
    for (const QString& cut : c.cuts.mid(0, 4)) {
      text({x, line_y, cuts_w - 4, 10}, cut, 8);
      line_y += 10;
    }
    x += cuts_w;
    const double last_w = box.right() - x;
    text({x, box.top() + 3, last_w, 11}, c.time, 9, true, ink, Qt::AlignRight);
    wrapped({x, box.top() + 15, last_w, 9}, c.message, 7.5, 3, true, Qt::AlignRight);
  }

  const SetupSheet& sheet_;
  QBuffer out_;
  std::unique_ptr<QPdfWriter> pdf_;
  QPainter p_;
  double width_ = 0, height_ = 0, y_ = 0;
  int page_of_setup_ = 0;
  const SheetSetup* setup_ = nullptr;
};

QCoreApplication* application(int& argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  return new QGuiApplication(argc, argv);
}

QByteArray setup_sheet(const SetupSheet& sheet, PaperOrientation orientation) {
  return Painter(sheet, orientation).run();
}

QByteArray page(const QString& html, PaperOrientation orientation) {
  QBuffer out;
  out.open(QIODevice::WriteOnly);
  QPdfWriter pdf(&out);
  pdf.setPageSize(QPageSize(QPageSize::A4));
  pdf.setPageOrientation(orientation == PaperOrientation::landscape ? QPageLayout::Landscape : QPageLayout::Portrait);
  pdf.setPageMargins(QMarginsF(0, 0, 0, 0));  // the document has its own
  QTextDocument document;
  QFont font = fonts().plain;
  font.setPointSizeF(10);
  document.setDefaultFont(font);
  document.setHtml(html);
  pdf.setTitle(document.metaInformation(QTextDocument::DocumentTitle));
  document.print(&pdf);
  return out.data();
}

}  // namespace
}  // namespace pecorra

const pecorra::Paper pecorra_paper{pecorra::application, pecorra::setup_sheet, pecorra::page};
