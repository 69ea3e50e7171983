#include "app/cutting/cut_files.h"

#include <QBuffer>
#include <QDate>
#include <QImage>
#include <algorithm>
#include <cmath>
#include <set>

#include "app/cutters/cutter_bench.h"
#include "app/widgets/paper.h"
#include "app/widgets/sheet_painter.h"
#include "core/material/hazard.h"
#include "core/mechanics/formula_sources.h"
#include "core/quantity/print.h"
#include "formats/sheet/sheet_file.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// Beside each other, three in a row.
void paint_curves(QPainter& p, const QRectF& box, const std::vector<Curve>& curves, UnitSystem units,
                  const CurveLook& look, double gap) {
  constexpr int across = 3;
  const int rows = (static_cast<int>(curves.size()) + across - 1) / across;
  if (rows == 0) return;
  const double wide = (box.width() - gap * (across - 1)) / across, high = (box.height() - gap * (rows - 1)) / rows;
  for (int i = 0; i < static_cast<int>(curves.size()); ++i) {
    const int column = i % across, row = i / across;
    paint_curve(p, QRectF(box.left() + column * (wide + gap), box.top() + row * (high + gap), wide, high),
                curves[static_cast<std::size_t>(i)], units, look);
  }
}

std::vector<Curve> all_curves(const CutInFront& cut) { return curves_of(cut.model(), cut.cut, cut.report); }

// The page of a cut sheet, in points.
class CutPage {
 public:
  CutPage(QPainter& p, const CutInFront& cut, const QString& shop, const CurveLook& look, QSizeF size)
      : p_(p), cut_(cut), shop_(shop), look_(look), size_(size) {}

  void paint() {
    head();
    drawing();
    values();
    double y = figures(227);
    y = limits_and_trail(y + 8);
    y = formulas();
    const std::vector<Curve> curves = all_curves(cut_);
    const double from = below_limits_ + 8;
    CurveLook small = look_;
    small.plain.setPixelSize(7);
    small.bold.setPixelSize(8);
    small.pixel = 0.6;
    if (!curves.empty() && y - from > 60)
      paint_curves(p_, QRectF(left, from, right() - left, y - from - 8), curves, cut_.units, small, 8);
  }

 private:
  static constexpr double left = 34, top = 30;
  double right() const { return size_.width() - left; }

  void text(QRectF box, const QString& what, double points, bool bold, const QColor& colour,
            Qt::Alignment side = Qt::AlignLeft, bool formula = false) {
    paint_paper_text(p_, box, what, formula ? look_.formulas : bold ? look_.bold : look_.plain, points, colour, side);
  }
  void rule(double y) {
    p_.setPen(QPen(look_.colours.line, 0.5));
    p_.drawLine(QPointF(left, y), QPointF(right(), y));
  }
  void heading(double x, double y, const QString& what) {
    text({x, y, right() - x, 12}, what, 9, true, look_.colours.heading);
  }

  void head() {
    text({left, top, right() - left - 120, 20}, cut_.title, 15, true, look_.colours.ink);
    text({right() - 120, top, 120, 20}, QDate::currentDate().toString(Qt::ISODate), 9, false, look_.colours.quiet,
         Qt::AlignRight);
    QString about = cut_.about;
    if (!about.isEmpty()) about[0] = about[0].toUpper();
    text({left, top + 20, right() - left, 13},
         about + QStringLiteral(" · ") + label_text(label_of(cut_.coolant)) +
             (shop_.isEmpty() ? QString() : QStringLiteral(" · ") + shop_),
         9, false, look_.colours.quiet);
    if (const Hazard hazard = hazard_of(cut_.material); hazard != Hazard::none)
      text({right() - 360, top, 230, 20}, label_text(label_of(hazard)), 9, true, look_.colours.error, Qt::AlignRight);
    rule(top + 37);
  }

  void drawing() {
    SheetWish wish;
    wish.units = cut_.units;
    wish.stickout_mm = stickout_of(cut_.held.assembly);
    wish.cut = drawn_cut(cut_.operation, cut_.cut.ap_mm, cut_.cut.ae_mm);
    if (cut_.holder) wish.holder = &*cut_.holder;
    wish.extension_diameter_mm = cut_.held.assembly.extension_diameter_mm;
    wish.extension_length_mm = cut_.held.assembly.extension_length_mm;
    constexpr double finer = 0.72;
    wish.width = 330 / finer;
    wish.height = 154 / finer;
    QFont font = look_.plain;
    font.setPixelSize(11);
    const QFontMetricsF metrics(font, p_.device());
    wish.letter_height = 14;
    wish.text_width = [metrics](std::string_view t) { return metrics.horizontalAdvance(text_of(t)) + 2; };
    PaperLook paper{font, font, look_.colours};
    SheetExtras extras;
    extras.paper = &paper;
    p_.save();
    p_.translate(left - 6, top + 40);
    p_.scale(finer, finer);
    paint_sheet(p_, lay_out(cut_.held.cutter, silhouette(cut_.held.cutter), wish), wish, extras);
    p_.restore();
  }

  // What is set: S and F large, then depth, width, stick-out, in both units.
  void values() {
    const double x = left + 336;
    double y = top + 44;
    const CutResults& r = cut_.report.results;
    if (r.n_rpm && r.vf_mm_min) {
      text({x, y, 200, 22},
           QStringLiteral("S %1   F %2")
               .arg(text_of(shown(*r.n_rpm, Quantity::spindle_speed, cut_.units)),
                    text_of(shown(*r.vf_mm_min, Quantity::table_feed, cut_.units))),
           16, true, look_.colours.ink);
      y += 24;
      text({x, y, 200, 11}, QObject::tr("S in rpm, F in %1").arg(text_of(unit_text(Quantity::table_feed, cut_.units))),
           8, false, look_.colours.quiet);
      y += 16;
    }
    for (const Property<WhatIf>& property : properties<WhatIf>()) {
      const auto value = cut_.value_of(property.key);
      if (!value) continue;
      text({x, y, 78, 12}, label_text(property.label), 8.5, false, look_.colours.quiet);
      text({x + 72, y, 56, 12}, quantity_text(*value, property.quantity, UnitSystem::metric), 8.5, true,
           look_.colours.ink, Qt::AlignRight);
      text({x + 130, y, 60, 12}, quantity_text(*value, property.quantity, UnitSystem::inch), 8.5, false,
           look_.colours.ink, Qt::AlignRight);
      y += 13;
    }
    const auto line = [&](const QString& label, const QString& what) {
      if (what.isEmpty()) return;
      text({x, y, 200, 12}, QStringLiteral("%1: %2").arg(label, what), 8, false, look_.colours.quiet);
      y += 11;
    };
    y += 4;
    line(QObject::tr("Cutting force"), cut_.report.force ? QObject::tr("kc %1 N/mm² (%2–%3)")
                                                               .arg(text_of(plain(cut_.report.force->middle, 0)),
                                                                    text_of(plain(cut_.report.force->low, 0)),
                                                                    text_of(plain(cut_.report.force->high, 0)))
                                                         : QString());
    line(QObject::tr("Edge wear"),
         cut_.cut.worn_factor ? QObject::tr("sharp to worn, × %1").arg(text_of(plain(*cut_.cut.worn_factor, 2)))
                              : QString());
    if (cut_.is_rigid()) line(QStringLiteral("○"), QObject::tr("holder assumed rigid: optimistic"));
  }

  // Symbol, figure, mm, inch, number of the formula; in two columns.
  double figures(double y) {
    heading(left, y, QObject::tr("Figures"));
    const std::vector<FigureLine> metric = figure_lines(cut_, UnitSystem::metric),
                                  inch = figure_lines(cut_, UnitSystem::inch);
    const std::vector<FigureLine> life = life_lines(cut_, UnitSystem::metric),
                                  life_inch = life_lines(cut_, UnitSystem::inch);
    const std::size_t count = metric.size() + life.size(), rows = (count + 1) / 2;
    const double column = (right() - left - 16) / 2;
    const double start = y + 14;
    for (std::size_t i = 0; i < count; ++i) {
      const bool of_life = i >= metric.size();
      const FigureLine& m = of_life ? life[i - metric.size()] : metric[i];
      const QString other = of_life ? life_inch[i - metric.size()].text : inch[i].text;
      const double x = left + (i / rows == 0 ? 0 : column + 16), at = start + static_cast<double>(i % rows) * 11.4;
      text({x, at, 24, 11}, m.symbol, 7.5, false, look_.colours.quiet);
      text({x + 26, at, 84, 11}, m.label, 8, false, look_.colours.ink);
      text({x + 104, at, of_life ? 100.0 : 68.0, 11}, m.text, 8, true, look_.colours.ink, Qt::AlignRight);
      if (other != m.text && !of_life) text({x + 174, at, 62, 11}, other, 8, false, look_.colours.ink, Qt::AlignRight);
      const int formula = of_life ? (i == metric.size() ? 20 : 21) : formula_of(m.key);
      used_.insert(formula);
      text({x + 238, at, 18, 11}, QStringLiteral("[%1]").arg(formula), 7, false, look_.colours.quiet, Qt::AlignRight);
    }
    return start + static_cast<double>(rows) * 11.4;
  }

  double limits_and_trail(double y) {
    if (cut_.report.band) used_.insert(24);
    rule(y - 3);
    heading(left, y, QObject::tr("Headroom, tightest first"));
    double at = y + 14;
    const double half = (right() - left - 16) / 2;
    for (const Headroom& h : cut_.report.headroom) {
      const bool beyond = h.tightest() > 1 + 1e-6;
      text({left, at, 72, 11}, label_text(label_of(h.limit)), 8, false, look_.colours.ink);
      const QRectF track(left + 72, at + 3, 46, 5);
      p_.setPen(Qt::NoPen);
      p_.setBrush(look_.colours.side);
      p_.drawRect(track);
      p_.setBrush(beyond ? look_.colours.error : look_.colours.good);
      p_.drawRect(
          QRectF(track.left(), track.top(), std::min(1.15, h.tightest()) * track.width() / 1.15, track.height()));
      if (h.band) {
        // From a sharp to a worn edge, below the bar.
        const auto place = [&](double part) {
          return track.left() + std::min(1.15, h.tightest() * part) * track.width() / 1.15;
        };
        p_.setPen(QPen(look_.colours.quiet, 0.6));
        p_.drawLine(QPointF(place(h.band->low), track.bottom() + 1.4),
                    QPointF(place(h.band->high), track.bottom() + 1.4));
      }
      text({left + 118, at, 34, 11}, QStringLiteral("%1 %").arg(std::lround(h.tightest() * 100)), 8, true,
           beyond ? look_.colours.error : look_.colours.ink, Qt::AlignRight);
      text({left + 157, at, half - 157, 11}, headroom_text(h, cut_.units), 7.5, false, look_.colours.quiet);
      at += 11;
    }
    double line = y;
    const double x = left + half + 16;
    heading(x, line, QObject::tr("Trail"));
    line += 14;
    QFont font = look_.plain;
    font.setPixelSize(75);
    const QFontMetricsF metrics(font, p_.device());
    constexpr int most = 10;
    int written = 0;
    for (const TrailStep& step : cut_.trail) {
      if (step.step.starts_with("beaten")) continue;
      const QString what = sentence(step, cut_.units);
      const double lines = std::min(
                       3.0,
                       std::ceil(metrics.boundingRect(QRectF(0, 0, half * 10, 1e6), Qt::TextWordWrap, what).height() /
                                     metrics.height() -
                                 0.01)),
                   high = lines * metrics.height() / 10;
      if (++written > most) break;
      p_.save();
      p_.translate(x, line);
      p_.scale(0.1, 0.1);
      p_.setFont(font);
      p_.setPen(look_.colours.ink);
      p_.drawText(QRectF(0, 0, half * 10, high * 10), Qt::TextWordWrap, what);
      p_.restore();
      line += high + 1.5;
    }
    below_limits_ = std::max(at, line);
    return below_limits_;
  }

  // From the bottom of the page upwards; returns where they begin.
  double formulas() {
    std::vector<const FormulaSource*> shown_ones;
    for (const FormulaSource& f : formula_sources())
      if (used_.contains(f.number) || (f.number == 19 && used_.contains(18))) shown_ones.push_back(&f);
    // In two columns; the source goes beside its formula where there is room, else below it.
    constexpr double pitch = 7.2, between = 12, number = 18;
    const double column = (right() - left - between) / 2;
    const auto width = [&](const QString& what, const QFont& face, double points) {
      QFont font = face;
      font.setPixelSize(static_cast<int>(points * 10));
      return QFontMetricsF(font, p_.device()).horizontalAdvance(what) / 10;
    };
    const auto lines_of = [&](const FormulaSource& f) {
      const double both = width(text_of(f.formula), look_.formulas, 5.6) + width(text_of(f.source), look_.plain, 6);
      return both + number + 10 <= column ? 1 : 2;
    };
    int lines = 0;
    for (const FormulaSource* f : shown_ones) lines += lines_of(*f);
    const int half = (lines + 1) / 2 + 1;
    const double first = size_.height() - top - half * pitch - 11;
    rule(first - 4);
    heading(left, first, QObject::tr("Formulas and sources (books and standards from memory)"));
    double x = left;
    int line = 0;
    for (const FormulaSource* f : shown_ones) {
      const int high = lines_of(*f);
      if (line + high > half && x == left) x = left + column + between, line = 0;
      const double y = first + 12 + line * pitch;
      text({x, y, number, 9}, QStringLiteral("[%1]").arg(f->number), 6, false, look_.colours.quiet);
      const double wide = width(text_of(f->formula), look_.formulas, 5.6) * 1.03;
      text({x + number, y, column - number, 9}, text_of(f->formula), 5.6 * std::min(1.0, (column - number) / wide),
           false, look_.colours.ink, Qt::AlignLeft, true);
      text({x + number, y + (high - 1) * pitch, column - number, 9}, text_of(f->source), 6, false, look_.colours.quiet,
           high == 1 ? Qt::AlignRight : Qt::AlignLeft);
      line += high;
    }
    return first - 4;
  }

  QPainter& p_;
  const CutInFront& cut_;
  const QString& shop_;
  CurveLook look_;
  QSizeF size_;
  std::set<int> used_;
  double below_limits_ = 0;
};

}  // namespace

Sheet curves_sheet(const CutInFront& cut) {
  Sheet sheet;
  sheet.lines.push_back({"Curve", "Line", "x is", "x", "x unit", "y", "y unit"});
  for (const Curve& c : all_curves(cut))
    for (const CurveSeries& s : c.series)
      for (const CurvePoint& p : s.points) {
        std::string line(s.label);
        if (s.tooth > 0) line += " " + std::to_string(s.tooth);
        const std::string unit = c.x == Quantity::angle ? "deg" : unit_text(c.x, cut.units);
        sheet.lines.push_back({std::string(label_of(c.kind)), line, std::string(c.x_label),
                               plain(p.x / stored_per_shown(c.x, cut.units), 5), unit,
                               plain(p.y / stored_per_shown(c.y, cut.units), 6), unit_text(c.y, cut.units)});
      }
  return sheet;
}

tl::expected<QByteArray, QString> curves_file(const CutInFront& cut, const QString& ending, const CurveLook& look) {
  if (ending == QLatin1String("csv")) return QByteArray::fromStdString(csv_text(curves_sheet(cut)));
  const std::vector<Curve> curves = all_curves(cut);
  if (curves.empty()) return tl::unexpected(QObject::tr("There are no curves to save for this cut."));
  if (ending == QLatin1String("pdf"))
    return paper_pdf(cut.title, QPageSize::A4, QPageLayout::Landscape, [&](QPainter& p, const QSizeF& size, auto) {
      CurveLook paper = look;
      paper.plain.setPixelSize(9);
      paper.bold.setPixelSize(10);
      paper.pixel = 0.8;
      paint_curves(p, QRectF(30, 30, size.width() - 60, size.height() - 60), curves, cut.units, paper, 16);
    });
  if (ending != QLatin1String("png"))
    return tl::unexpected(QObject::tr("“.%1” is not a supported file type; use .png, .pdf or .csv.").arg(ending));
  constexpr int wide = 1500, high = 900;
  QImage image(wide, high, QImage::Format_RGB32);
  image.fill(look.colours.raised);
  QPainter p(&image);
  CurveLook large = look;
  large.plain.setPixelSize(17);
  large.bold.setPixelSize(19);
  large.pixel = 1.5;
  paint_curves(p, QRectF(20, 20, wide - 40, high - 40), curves, cut.units, large, 28);
  p.end();
  QBuffer out;
  out.open(QIODevice::WriteOnly);
  image.save(&out, "PNG");
  return out.data();
}

QByteArray cut_sheet_pdf(const CutInFront& cut, const QString& shop, const CurveLook& look) {
  return paper_pdf(cut.title, QPageSize::A4, QPageLayout::Portrait,
                   [&](QPainter& p, const QSizeF& size, auto) { CutPage(p, cut, shop, look, size).paint(); });
}

}  // namespace pecorra
