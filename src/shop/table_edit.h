// Rows for the shop's own tables: from a shipped row, or from what a cutter would run at.
#pragma once

#include "shop/change.h"
#include "shop/evaluation.h"

namespace pecorra {

struct RowChange {
  Change change;
  TrailTarget target;  // the new row
};
// Adds the row to the shop's table for this kind, else to a new one. It gets an id, author and date.
RowChange row_into_shop(const ShopState& state, ConditionRow row, const QString& label);

// Copies a row of another table, keyed to the material of the context if it was for a whole group.
RowChange row_copied(const ShopState& state, const ConditionTable& from, const ConditionRow& row,
                     const Context& context);

// A row for exactly this cutter's kind, tool material, diameter and operation in this material, with the values found,
// or with its keys alone if there was no answer. Never proven.
ConditionRow row_from(const ShopState& state, const Cutter& cutter, const WorkMaterial& material,
                      OperationKind operation, const Resolution& found);

}  // namespace pecorra
