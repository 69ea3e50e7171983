#include "shop/table_sheet.h"

#include <QFile>
#include <QObject>

#include "formats/sheet/sheet_file.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {

IdLookup material_lookup(const std::vector<WorkMaterial>& materials) {
  return [&materials](std::string_view key, const std::string& name) -> std::optional<std::string> {
    if (key != "material") return std::nullopt;
    for (const WorkMaterial& m : materials)
      if (m.name == name) return m.id.text();
    for (const WorkMaterial& m : materials)
      if (is_called(m, name)) return m.id.text();
    return std::nullopt;
  };
}

RowFile read_row_file(const QString& file, const ConditionRow& base, UnitSystem units,
                      const std::vector<WorkMaterial>& materials) {
  tl::expected<Sheet, FormatFault> sheet = tl::unexpected(FormatFault{});
  if (file.endsWith(QLatin1String(".xlsx"), Qt::CaseInsensitive)) {
    sheet = read_xlsx(file.toStdString());
  } else {
    QFile text(file);
    if (!text.open(QIODevice::ReadOnly)) return {text.errorString(), {}};
    if (text.size() > (64 << 20)) return {QObject::tr("is larger than 64 MB"), {}};
    sheet = read_csv(text.readAll().toStdString());
  }
  if (!sheet) return {reader_text(sheet.error()), {}};
  RowFile out;
  out.sheet = read_row_sheet(*sheet, base, units, material_lookup(materials));
  if (!out.sheet.headed)
    out.fault = QObject::tr("has no line of known headings; expected at least diameter, vc and feed");
  return out;
}

QString write_sheet_file(const QString& file, const Sheet& sheet) {
  if (!file.endsWith(QLatin1String(".xlsx"), Qt::CaseInsensitive))
    return write_file(file, QByteArray::fromStdString(csv_text(sheet)));
  const auto workbook = xlsx_of(sheet);
  return workbook ? write_file(file, QByteArray::fromStdString(*workbook)) : reader_text(workbook.error());
}

Sheet sheet_of(const ShopState& state, const ConditionTable& table, UnitSystem units) {
  return row_sheet(table, units, [&](const Id& id) {
    const WorkMaterial* m = state.materials.find(id);
    return m ? m->name : std::string();
  });
}

}  // namespace pecorra
