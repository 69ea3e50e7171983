// Edits of tables of conditions and their rows as changes: what a new row starts from, what may be deleted, what a
// pasted block means.
#pragma once

#include <vector>

#include "core/tables/row_entry.h"
#include "core/transfer/sheet.h"
#include "shop/change.h"
#include "shop/evaluation.h"

namespace pecorra {

struct NewRow {
  Change change;
  Id row;
};
// Adds a row behind the one it starts from, with its keys; without one, at the end and for the context.
NewRow new_row(const ShopState& state, const ConditionTable& table, const ConditionRow* like, const Context& context);
Change without_row(const ConditionTable& table, const Id& row);

// Keeps with a row that is called proven what it was proven with: the material (its own, else the context's) and its
// hardness, the machine, and where a cutter is given its holder and stick-out; one that is not proven any more forgets
// it.
void note_proof(const ShopState& state, const Context& context, const Cutter* cutter, ConditionRow& row);

struct NewTable {
  Change change;
  ConditionTable table;
};
NewTable new_table(const ShopState& state);
// An empty change if the name is empty or the same.
Change renamed(const ConditionTable& table, const QString& name);
// Fails with the reason if it is a shipped one.
tl::expected<Change, QString> without_table(const ConditionTable& table);

// What a line of a sheet is for if it does not say: as the row `like`, else as the context.
ConditionRow pattern_row(const ShopState& state, const ConditionRow* like, const Context& context);

// Pastes a block of cells at the cursor, as in a spreadsheet: `rows` are the visible rows from there on, `fields` the
// columns, nothing for one that takes no value. Lines below the last row become rows like `pattern`.
struct PastedBlock {
  Change change;
  int cells = 0;
};
struct PasteFault {
  std::size_t line = 0, column = 0;  // of the block, from 0
  std::string text, why;
};
tl::expected<PastedBlock, PasteFault> pasted(const ConditionTable& table, const std::vector<Id>& rows,
                                             const std::vector<std::optional<RowField>>& fields, const Sheet& block,
                                             const ConditionRow& pattern, UnitSystem units);

}  // namespace pecorra
