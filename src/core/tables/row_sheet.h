// Rows of a table in and out as a sheet: headings by name, symbol or common words, units in the heading or in a line of
// their own below it, every speed and feed either way round.
#pragma once

#include "core/tables/row_entry.h"
#include "core/transfer/merge.h"

namespace pecorra {

struct RowSheet {
  std::vector<SheetLine<ConditionRow>> lines;
  std::vector<std::string> unknown;  // headings that mean nothing here; their columns are left out
  bool headed = true;                // false: no line of headings was found
};

// What a cell is for: one of the fields that can be typed either way round, or a property.
struct RowColumn {
  std::optional<RowField> field;
  const Property<ConditionRow>* property = nullptr;
  UnitSystem units = UnitSystem::metric;
  std::string heading;
  bool means_something() const { return field || property; }
};

// `base`: what a line is where it says nothing. `ids`: materials by their names.
RowSheet read_row_sheet(const Sheet& sheet, const ConditionRow& base, UnitSystem units, const IdLookup& ids);

// Same key: everything that says what a row is for, and the diameter.
bool same_row(const ConditionRow& a, const ConditionRow& b);
std::vector<SheetLine<ConditionRow>> preview_rows(const ConditionTable& into, const RowSheet& sheet);
// The table with the picked lines; new rows get ids from `new_id`.
ConditionTable with_rows(const ConditionTable& into, const std::vector<SheetLine<ConditionRow>>& lines,
                         const std::function<Id()>& new_id, const std::string& author, const std::string& date);

// All rows, with a line of headings that read_row_sheet() understands, in these units. `name_of`: of a material.
Sheet row_sheet(const ConditionTable& table, UnitSystem units, const std::function<std::string(const Id&)>& name_of);

}  // namespace pecorra
