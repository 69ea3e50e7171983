// What people type into a row of a table, either way round: cutting speed or spindle speed, feed per tooth or table
// feed, depth and width in mm or × D. Only vc and the feed are stored; the other side follows at the row's diameter.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "core/quantity/entry.h"
#include "core/tables/condition_table.h"

namespace pecorra {

enum class RowField { diameter, vc, n, feed, vf, ap, ae };
inline constexpr int row_field_count = 7;

// Flutes that a row's table feed counts with: its own, else what is usual for the kind.
int flutes_of(const ConditionRow& row);

// Formula 1 and 2 at the row's diameter; nothing while something is missing. A row that states a chip thickness has no
// table feed of its own: that depends on the width of cut.
std::optional<double> n_of(const ConditionRow& row);
std::optional<double> vf_of(const ConditionRow& row);

// The field as it stands; the text typed where one was typed.
std::string shown_entry(const ConditionRow& row, RowField field, UnitSystem units);
// True if this side was typed and the other follows from it.
bool was_typed(const ConditionRow& row, RowField field);

// The row with the field set to what the text means; empty text takes the value away. Speed and feed also take three:
// low – target – high.
tl::expected<ConditionRow, EntryFault> with_entry(const ConditionRow& row, RowField field, std::string_view text,
                                                  UnitSystem units);

}  // namespace pecorra
