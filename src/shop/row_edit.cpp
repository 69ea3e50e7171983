#include "shop/row_edit.h"

#include <QObject>
#include <algorithm>

#include "core/quantity/print.h"
#include "core/transfer/columns.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// Who wrote it and when.
void sign(ConditionRow& row) {
  row.author = current_user();
  row.date = current_time().substr(0, 10);
}

void key_by_context(const ShopState& state, const Context& context, ConditionRow& row) {
  row.operation = context.operation;
  if (const WorkMaterial* m = state.materials.find(context.material)) row.material = m->id, row.group = m->group;
}

Change change_of(const QString& label, const ConditionTable& before, const ConditionTable& after) {
  Change change;
  change.label = label;
  change.edit(before, after);
  return change;
}

bool is_blank(const std::vector<std::string>& line) {
  return std::all_of(line.begin(), line.end(), [](const std::string& cell) { return trimmed(cell).empty(); });
}

}  // namespace

NewRow new_row(const ShopState& state, const ConditionTable& table, const ConditionRow* like, const Context& context) {
  ConditionTable changed = table;
  ConditionRow row;
  auto at = changed.rows.end();
  if (like) {
    row = *like;
    row.diameter_mm.reset();
    row.proven = false;
    row.note.clear();
    row.source.clear();
    row.typed.clear();
    at =
        std::find_if(changed.rows.begin(), changed.rows.end(), [&](const ConditionRow& r) { return r.id == like->id; });
    if (at != changed.rows.end()) ++at;
  } else {
    key_by_context(state, context, row);
    if (process_of(row.operation) == Process::drilling)
      row.kind = CutterKind::drill, row.feed_kind = FeedKind::per_revolution;
    row.tool_material = ToolMaterial::carbide;
  }
  row.id = new_id();
  sign(row);
  changed.rows.insert(at, row);
  return {change_of(QObject::tr("New row in %1; used once its diameter is entered").arg(text_of(table.name)), table,
                    changed),
          row.id};
}

void note_proof(const ShopState& state, const Context& context, const Cutter* cutter, ConditionRow& row) {
  row.proven_in.clear();
  row.proven_on.clear();
  row.proven_holder.clear();
  row.proven_stickout_mm.reset();
  row.proven_hardness_hb.reset();
  if (!row.proven) return;
  if (const WorkMaterial* m = state.materials.find(row.material.is_null() ? context.material : row.material)) {
    row.proven_in = m->name;
    row.proven_hardness_hb = m->hardness_hb;
  }
  if (const Machine* machine = state.machines.find(context.machine)) row.proven_on = machine->name;
  const Assembly* held = cutter ? state.assembly_of(cutter->id) : nullptr;
  if (!held) return;
  row.proven_stickout_mm = stickout_of(*held);
  if (const Holder* holder = state.holders.find(held->holder)) row.proven_holder = holder->name;
}

Change without_row(const ConditionTable& table, const Id& row) {
  ConditionTable changed = table;
  std::erase_if(changed.rows, [&](const ConditionRow& r) { return r.id == row; });
  return change_of(QObject::tr("Deleted a row of %1").arg(text_of(table.name)), table, changed);
}

NewTable new_table(const ShopState& state) {
  NewTable made;
  made.table.id = new_id();
  made.table.name = QObject::tr("New table").toStdString();
  made.table.source = state.shop_settings().name;
  made.change.label = QObject::tr("New table");
  made.change.add(made.table);
  return made;
}

Change renamed(const ConditionTable& table, const QString& name) {
  if (name.isEmpty() || text_of(table.name) == name) return {};
  ConditionTable changed = table;
  changed.name = name.toStdString();
  return change_of(QObject::tr("Table %1 renamed to %2").arg(text_of(table.name), name), table, changed);
}

tl::expected<Change, QString> without_table(const ConditionTable& table) {
  if (table.level == TableLevel::starter)
    return tl::unexpected(
        QObject::tr("Shipped tables cannot be deleted; “Starter values” under Shop switches them off."));
  Change change;
  change.label = QObject::tr("Deleted the table %1 with %2 rows").arg(text_of(table.name)).arg(table.rows.size());
  change.remove(table);
  return change;
}

ConditionRow pattern_row(const ShopState& state, const ConditionRow* like, const Context& context) {
  ConditionRow row;
  if (like) {
    // The keys stand before the diameter.
    for (const Property<ConditionRow>& p : properties<ConditionRow>()) {
      if (p.key == "diameter_mm") break;
      p.set(row, p.get(*like));
    }
    row.feed_kind = like->feed_kind;
    return row;
  }
  key_by_context(state, context, row);
  if (process_of(row.operation) != Process::milling)
    row.kind = CutterKind::drill, row.feed_kind = FeedKind::per_revolution;
  return row;
}

tl::expected<PastedBlock, PasteFault> pasted(const ConditionTable& table, const std::vector<Id>& rows,
                                             const std::vector<std::optional<RowField>>& fields, const Sheet& block,
                                             const ConditionRow& pattern, UnitSystem units) {
  ConditionTable changed = table;
  PastedBlock out;
  for (std::size_t i = 0; i < block.lines.size(); ++i) {
    const std::vector<std::string>& line = block.lines[i];
    if (is_blank(line)) continue;
    ConditionRow* row = nullptr;
    if (i < rows.size())
      for (ConditionRow& r : changed.rows)
        if (r.id == rows[i]) row = &r;
    if (!row) {
      row = &changed.rows.emplace_back(pattern);
      row->id = new_id();
    }
    for (std::size_t k = 0; k < line.size() && k < fields.size(); ++k) {
      const std::string text(trimmed(line[k]));
      if (!fields[k] || text.empty()) continue;
      auto entered = with_entry(*row, *fields[k], text, units);
      if (!entered) return tl::unexpected(PasteFault{i, k, text, entered.error().text});
      *row = std::move(*entered);
      ++out.cells;
    }
    sign(*row);
  }
  out.change =
      change_of(QObject::tr("%1 cells pasted into %2").arg(out.cells).arg(text_of(table.name)), table, changed);
  return out;
}

}  // namespace pecorra
