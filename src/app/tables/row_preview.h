// Rows of a sheet against a table, as lines to be picked.
#pragma once

#include "app/widgets/change_preview.h"
#include "core/tables/row_sheet.h"

namespace pecorra {

// Nothing when there is no such table.
std::unique_ptr<ChangeLines> row_lines(Workspace& workspace, const Id& table, const QString& from,
                                       const RowSheet& sheet);

}  // namespace pecorra
