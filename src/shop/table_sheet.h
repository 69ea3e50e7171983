// Rows of tables, and charts, from and to spreadsheet files.
#pragma once

#include <QString>

#include "core/tables/row_sheet.h"
#include "shop/state.h"

namespace pecorra {

// Materials by name, else by any of their designations. The list must outlive this.
IdLookup material_lookup(const std::vector<WorkMaterial>& materials);

struct RowFile {
  QString fault;  // what is wrong with the file as a whole; empty: nothing
  RowSheet sheet;
};
// CSV, or XLSX by its ending; blocks: not on the interface thread.
RowFile read_row_file(const QString& file, const ConditionRow& base, UnitSystem units,
                      const std::vector<WorkMaterial>& materials);
// CSV, or XLSX by its ending; what went wrong, or nothing. Blocks.
QString write_sheet_file(const QString& file, const Sheet& sheet);
Sheet sheet_of(const ShopState& state, const ConditionTable& table, UnitSystem units);

}  // namespace pecorra
