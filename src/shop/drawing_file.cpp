#include "shop/drawing_file.h"

#include <QCryptographicHash>
#include <QFile>
#include <QFileInfo>

#include "core/quantity/print.h"
#include "formats/dxf/dxf_reader.h"
#include "formats/svg/svg_reader.h"
#include "shop/words.h"

namespace pecorra {
namespace {

void scale(Drawing& drawing, double factor) {
  for (DrawnText& text : drawing.texts) {
    text.at = {text.at.x * factor, text.at.y * factor};
    text.height_mm *= factor;
  }
  for (DrawnLine& line : drawing.lines) {
    line.diameter_mm *= factor;
    for (Vertex& v : line.contour.vertices) {
      v.x *= factor;
      v.y *= factor;
    }
  }
}

}  // namespace

DrawingRead read_drawing_file(const QString& name, double unstated_unit_mm, bool by_layer) {
  DrawingRead out;
  const QString short_name = QFileInfo(name).fileName();
  QFile file(name);
  if (!file.open(QIODevice::ReadOnly)) {
    out.fault = QObject::tr("“%1” cannot be read: %2").arg(short_name, file.errorString());
    return out;
  }
  if (file.size() > static_cast<qint64>(largest_dxf_bytes)) {
    out.fault = sentence(DxfFault{"too_large", {}});
    return out;
  }
  const std::string text = file.readAll().toStdString();
  QString unit;
  if (name.endsWith(QLatin1String(".svg"), Qt::CaseInsensitive)) {
    auto reading = read_svg(text);
    if (!reading) {
      out.fault = short_name + QStringLiteral(": ") + reader_text(reading.error().text);
      return out;
    }
    out.drawing = std::move(reading->drawing);
    if (reading->unit_known) unit = QStringLiteral("mm");
    else scale(out.drawing, unstated_unit_mm);
  } else {
    DxfOptions options;
    options.unstated_unit_mm = unstated_unit_mm;
    options.join_layers = !by_layer;
    auto reading = read_dxf(text, options);
    if (!reading) {
      out.fault = short_name + QStringLiteral(": ") + sentence(reading.error());
      return out;
    }
    out.drawing = std::move(reading->drawing);
    unit = text_of(reading->unit);
    int unused = 0;
    for (const auto& [entity, count] : reading->unused) unused += count;
    if (unused > 0) out.note = QObject::tr(", %1 entities not used").arg(unused);
    if (reading->hidden > 0)
      out.note += QObject::tr(", %1 skipped: layer off or frozen, or paper space").arg(reading->hidden);
    if (reading->gaps > 0)
      out.note += QObject::tr(", %1 gaps of up to %2 mm in open lines")
                      .arg(reading->gaps)
                      .arg(text_of(plain(reading->widest_gap_mm, 3)));
  }
  out.drawing.source = short_name.toStdString();
  out.drawing.print =
      QCryptographicHash::hash(QByteArray::fromStdString(text), QCryptographicHash::Sha256).toHex().toStdString();
  const QString taken = unstated_unit_mm == 1 ? QStringLiteral("mm") : QStringLiteral("inch");
  out.note.prepend(unit.isEmpty() ? QObject::tr("the file states no unit, read as %1").arg(taken)
                                  : QObject::tr("in %1").arg(unit));
  return out;
}

}  // namespace pecorra
