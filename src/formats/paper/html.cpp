// The setup sheet as a page of HTML with nothing from outside.
#include <QFile>
#include <algorithm>

#include "formats/paper/paper.h"

namespace pecorra {
namespace {

QString safe(const QString& text) { return text.toHtmlEscaped(); }
QString number(double v) { return QString::number(v, 'f', 2); }

QString points_text(const std::vector<QPointF>& points) {
  QStringList out;
  for (const QPointF& q : points) out << number(q.x()) + QLatin1Char(',') + number(q.y());
  return out.join(QLatin1Char(' '));
}

QString picture(const SheetSetup& setup) {
  QRectF world = setup.stock_mm | QRectF(setup.zero_mm, QSizeF(1e-6, 1e-6));
  for (const SheetShape& s : setup.shapes)
    for (const QPointF& q : s.points) world |= QRectF(q, QSizeF(1e-6, 1e-6));
  const double margin = std::max(world.width(), world.height()) * 0.06 + 1;
  world.adjust(-margin, -margin, margin, margin);
  const double stroke = std::max(world.width(), world.height()) / 400, r = stroke * 5;
  QString out = QStringLiteral(
                    "<svg class=\"part\" viewBox=\"%1 %2 %3 %4\" role=\"img\"><g transform=\"scale(1,-1)\" "
                    "fill=\"none\" stroke=\"#141414\" stroke-width=\"%5\">")
                    .arg(number(world.left()), number(-world.bottom()), number(world.width()), number(world.height()),
                         number(stroke));
  out += QStringLiteral("<rect x=\"%1\" y=\"%2\" width=\"%3\" height=\"%4\" fill=\"#e1e1e1\" stroke=\"#787878\"/>")
             .arg(number(setup.stock_mm.left()), number(setup.stock_mm.top()), number(setup.stock_mm.width()),
                  number(setup.stock_mm.height()));
  for (const SheetShape& s : setup.shapes)
    out += s.role == SheetShape::clamp
               ? QStringLiteral("<polygon points=\"%1\" fill=\"#b4b4b4\"/>").arg(points_text(s.points))
               : QStringLiteral("<polyline points=\"%1\"/>").arg(points_text(s.points));
  const QPointF z = setup.zero_mm;
  out += QStringLiteral(
             "<circle cx=\"%1\" cy=\"%2\" r=\"%3\" fill=\"#fff\"/><path d=\"M%1 %2 h%4 M%1 %2 v%4\" "
             "stroke-width=\"%5\"/></g>")
             .arg(number(z.x()), number(z.y()), number(r), number(r * 6), number(stroke * 1.4));
  const auto letter = [&](double x, double y, const char* text) {
    return QStringLiteral("<text x=\"%1\" y=\"%2\" font-size=\"%3\" text-anchor=\"middle\">%4</text>")
        .arg(number(x), number(-y), number(stroke * 14), QLatin1String(text));
  };
  return out + letter(z.x() + r * 7, z.y() - stroke * 5, "X") + letter(z.x(), z.y() + r * 6.6, "Y") +
         QStringLiteral("</svg>");
}

QString both_sides(const std::vector<QPointF>& half) {
  std::vector<QPointF> points;
  for (const QPointF& q : half) points.emplace_back(q.y(), -q.x());
  for (auto q = half.rbegin(); q != half.rend(); ++q) points.emplace_back(q->y(), q->x());
  return points_text(points);
}

// All of a setup at one scale, so many millimetres wide.
QString drawing(const SheetCutter& c, double longest, double widest) {
  QString out = QStringLiteral(
                    "<svg class=\"cutter\" viewBox=\"-1 %1 %2 %3\" preserveAspectRatio=\"xMinYMid meet\" "
                    "role=\"img\"><g stroke=\"#141414\" stroke-width=\"%4\">")
                    .arg(number(-widest - 1), number(longest + 2), number(2 * widest + 2), number(longest / 300));
  if (!c.cutter.empty()) out += QStringLiteral("<polygon fill=\"#fff\" points=\"%1\"/>").arg(both_sides(c.cutter));
  if (!c.holder_outline.empty())
    out += QStringLiteral("<polygon fill=\"#e1e1e1\" points=\"%1\"/>").arg(both_sides(c.holder_outline));
  return out + QStringLiteral("</g></svg>");
}

QString cutters(const SheetSetup& setup, const SheetWords& words) {
  double longest = 1, widest = 1;
  for (const SheetCutter& c : setup.cutters)
    for (const auto* half : {&c.cutter, &c.holder_outline})
      for (const QPointF& q : *half) longest = std::max(longest, q.y()), widest = std::max(widest, q.x());
  QString out = QStringLiteral("<h3>%1</h3><table class=\"cutters\">").arg(safe(words.cutters));
  for (const SheetCutter& c : setup.cutters) {
    QString about = QStringLiteral("<b>%1</b><br>%2").arg(safe(c.name), safe(c.number));
    if (!c.sizes.isEmpty()) about += (c.number.isEmpty() ? QString() : QStringLiteral(" · ")) + safe(c.sizes);
    if (!c.holder.isEmpty()) about += QStringLiteral("<br><small>%1</small>").arg(safe(c.holder));
    for (const QString& note : {c.generic ? c.fetch : QString(), c.missing, c.to_load})
      if (!note.isEmpty()) about += QStringLiteral("<br><b class=\"note\">%1</b>").arg(safe(note));
    QStringList cuts;
    for (const QString& cut : c.cuts) cuts << safe(cut);
    out += QStringLiteral(
               "<tr><td>%1</td><td class=\"t\">%2</td><td>%3</td><td><small>%4</small><br><b>%5</b><br>"
               "<small>%6</small><span class=\"field\">%7</span></td><td>%8</td><td class=\"right\"><b>%9</b>"
               "<br>%10</td></tr>")
               .arg(drawing(c, longest, widest), safe(c.t), about, safe(words.planned), safe(c.planned),
                    safe(words.measured), safe(c.measured), cuts.join(QStringLiteral("<br>")), safe(c.time))
               .arg(safe(c.message));
  }
  return out + QStringLiteral("</table>");
}

QString operations(const SheetSetup& setup, const SheetWords& words) {
  QString out = QStringLiteral("<h3>%1</h3><table class=\"operations\"><tr>").arg(safe(words.operations));
  for (const QString& column : words.operation_columns) out += QStringLiteral("<th>%1</th>").arg(safe(column));
  out += QStringLiteral("</tr>");
  for (const SheetOperation& o : setup.operations) {
    QString name = safe(o.name);
    if (!o.details.isEmpty()) name += QStringLiteral("<br>") + safe(o.details);
    for (const QString& more : QStringList{o.comment, o.fault} + o.warnings)
      if (!more.isEmpty()) name += QStringLiteral("<br><b>%1</b>").arg(safe(more));
    out += QStringLiteral("<tr>");
    for (const QString& cell : {safe(o.number), name, safe(o.t)}) out += QStringLiteral("<td>%1</td>").arg(cell);
    for (const QString& cell : {o.s, o.f, o.ap, o.ae})
      out += QStringLiteral("<td class=\"right\">%1</td>").arg(safe(cell));
    const QString mark = o.guess ? words.guess : o.proven ? words.proven : QString();
    out += QStringLiteral("<td>%1</td><td class=\"right\">%2</td><td>%3</td></tr>")
               .arg(safe(o.coolant), safe(o.time), safe(mark));
  }
  return out + QStringLiteral("</table>");
}

}  // namespace

QByteArray setup_sheet_html(const SetupSheet& sheet, PaperOrientation orientation) {
  QString out =
      QStringLiteral(
          "<!DOCTYPE html>\n<html><head><meta charset=\"utf-8\"><title>%1</title><style>\n"
          "@page{size:A4 %2;margin:12mm}\n"
          "body{font:10pt/1.35 'Pecorra Text',system-ui,sans-serif;color:#141414;margin:0 "
          "auto;max-width:297mm;padding:6mm}\n"
          "@media print{body{padding:0;max-width:none}section+section{break-before:page}tr{break-inside:avoid}}\n"
          "header{display:flex;justify-content:space-between;border-bottom:1.5px solid #141414;padding-bottom:2mm}\n"
          "h1{font-size:16pt;margin:0}h2{font-size:12pt;margin:3mm 0 2mm}h3{font-size:10pt;margin:4mm 0 1mm}\n"
          "small,th{color:#5f5f5f;font-weight:normal;font-size:8pt}table{border-collapse:collapse;width:100%}\n"
          "td,th{border-bottom:.5px solid #969696;padding:1mm 1.5mm;text-align:left;vertical-align:top}\n"
          ".right,.operations th:nth-child(n+4):nth-child(-n+7){text-align:right}.t{font-size:15pt;font-weight:bold}\n"
          ".top{display:flex;gap:5mm}.top>div{flex:1}.top>div:first-child{flex:none;width:34%}.part{width:100%;max-"
          "height:75mm;border:.5px solid "
          "#969696}\n"
          ".cutter{width:70mm;height:16mm;display:block}.field{display:inline-block;border:.8px solid "
          "#141414;min-width:26mm;"
          "min-height:4.4mm;margin-left:1.5mm;padding:0 1mm}\n"
          ".hazard{border:1px solid #141414;padding:1mm "
          "2mm;font-weight:bold}dl{margin:2mm 0}dt{float:left;clear:left;width:24mm;color:#5f5f5f}"
          "dd{margin:0 0 .5mm 25mm}.operations td:nth-child(8){padding-left:5mm}\n"
          "</style></head><body>\n")
          .arg(safe(sheet.title),
               orientation == PaperOrientation::landscape ? QStringLiteral("landscape") : QStringLiteral("portrait"));
  for (const SheetSetup& setup : sheet.setups) {
    out += QStringLiteral(
               "<section><header><div><h1>%1</h1><small>%2</small></div><div class=\"right\"><b>%3</b><br>"
               "<small>%4</small></div></header>\n<h2>%5 · %6 %7</h2>\n")
               .arg(safe(sheet.title), safe(sheet.subtitle), safe(sheet.program), safe(sheet.revision),
                    safe(setup.name), safe(sheet.words.time), safe(setup.time));
    if (!sheet.hazard.isEmpty()) out += QStringLiteral("<p class=\"hazard\">%1</p>\n").arg(safe(sheet.hazard));
    out += QStringLiteral("<div class=\"top\"><div>") + picture(setup) + QStringLiteral("<dl>");
    for (const auto& [what, said] :
         {std::pair{sheet.words.zero, setup.zero}, std::pair{sheet.words.stock, setup.stock},
          std::pair{sheet.words.offset, setup.offset}, std::pair{sheet.words.clamps, setup.clamps}})
      if (!said.isEmpty()) out += QStringLiteral("<dt>%1</dt><dd>%2</dd>").arg(safe(what), safe(said));
    out += QStringLiteral("</dl></div><div>") + operations(setup, sheet.words) + QStringLiteral("</div></div>\n") +
           (setup.cutters.empty() ? QString() : cutters(setup, sheet.words)) + QStringLiteral("</section>\n");
  }
  out += QStringLiteral("</body></html>\n");
  return out.toUtf8();
}

}  // namespace pecorra
