// Rows of tables in and out of spreadsheets.
#include <iostream>

#include "cli/write_planned.h"
#include "shop/table_sheet.h"

namespace pecorra::cli {

int import_rows(const RowsOptions& options) {
  return write_planned(options.shop, [&](const LoadedShop& loaded) -> tl::expected<Plan, int> {
    const ShopState& state = loaded.state;
    FormatFaults faults;
    const ConditionTable* table = find_named(state.tables, options.table, "table", faults);
    if (table && table->level == TableLevel::starter)
      faults.push_back({"table", "“" + table->name + "” is shipped and cannot be changed; choose a shop table"});
    if (!faults.empty()) return tl::unexpected(say(faults));
    const RowFile read =
        read_row_file(QString::fromStdString(options.file), {}, UnitSystem::metric, state.materials.all());
    if (!read.fault.isEmpty()) return tl::unexpected(say(FormatFaults{{"FILE", read.fault.toStdString()}}));
    auto lines = preview_rows(*table, read.sheet);
    int counts[5] = {};
    Json rejected = Json::array(), conflicts = Json::array();
    int rejected_more = 0, conflicts_more = 0;
    for (auto& line : lines) {
      ++counts[static_cast<int>(line.state)];
      for (const CellFault& f : line.faults)
        if (rejected.size() < most_listed)
          rejected.push_back({{"row", f.line}, {"column", f.column}, {"message", f.text}});
        else ++rejected_more;
      if (line.state != MergeState::conflict) continue;
      if (conflicts.size() < most_listed) conflicts.push_back({{"row", line.line}, {"message", line.why}});
      else ++conflicts_more;
      line.picked = options.conflicts;
    }
    Plan plan;
    if (!options.dry_run) {
      plan.change.label = QString::fromStdString("Rows from " + options.file + " into " + table->name);
      plan.change.edit(*table, with_rows(*table, lines, new_id, current_user(), current_time().substr(0, 10)));
    }
    plan.answer = {{"new", counts[0]},
                   {"changed", counts[1]},
                   {"same", counts[2]},
                   {"conflict", counts[3]},
                   {"rejected", rejected},
                   {"conflicts", conflicts},
                   {"unknown_columns", read.sheet.unknown}};
    if (rejected_more > 0) plan.answer["rejected_more"] = rejected_more;
    if (conflicts_more > 0) plan.answer["conflicts_more"] = conflicts_more;
    return plan;
  });
}

int export_rows(const RowsOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  FormatFaults faults;
  const ConditionTable* table = find_named(loaded->state.tables, options.table, "table", faults);
  if (!faults.empty()) return say(faults);
  const QString fault =
      write_sheet_file(QString::fromStdString(options.file), sheet_of(loaded->state, *table, UnitSystem::metric));
  if (fault.isEmpty()) return answered;
  std::cerr << "FILE: " << fault.toStdString() << "\n";
  return failed;
}

}  // namespace pecorra::cli
