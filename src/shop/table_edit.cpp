#include "shop/table_edit.h"

#include <QObject>
#include <algorithm>
#include <cmath>

#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {

RowChange row_into_shop(const ShopState& state, ConditionRow row, const QString& label) {
  row.id = new_id();
  row.author = current_user();
  row.date = current_time().substr(0, 10);
  RowChange out;
  const ConditionTable* to = nullptr;
  for (const ConditionTable& t : state.tables)
    if (!to && t.level == TableLevel::shop &&
        std::any_of(t.rows.begin(), t.rows.end(), [&](const ConditionRow& r) { return r.kind == row.kind; }))
      to = &t;
  if (to) {
    ConditionTable changed = *to;
    changed.rows.push_back(row);
    out.change.label = QObject::tr("%1, in %2").arg(label, text_of(to->name));
    out.change.edit(*to, changed);
    out.target = {to->id, row.id};
    return out;
  }
  ConditionTable fresh;
  fresh.id = new_id();
  fresh.name = QObject::tr("%1, shop copy").arg(label_text(label_of(row.kind))).toStdString();
  fresh.source = state.shop_settings().name;
  fresh.rows.push_back(row);
  out.change.label = QObject::tr("%1, in a new table, %2").arg(label, text_of(fresh.name));
  out.change.add(fresh);
  out.target = {fresh.id, row.id};
  return out;
}

RowChange row_copied(const ShopState& state, const ConditionTable& from, const ConditionRow& row,
                     const Context& context) {
  ConditionRow copy = row;
  copy.source = "from " + from.name;
  if (const WorkMaterial* m = state.materials.find(context.material))
    if (copy.material.is_null() && m->group == copy.group) copy.material = m->id;
  return row_into_shop(state, std::move(copy), QObject::tr("Row copied"));
}

ConditionRow row_from(const ShopState& state, const Cutter& cutter, const WorkMaterial& material,
                      OperationKind operation, const Resolution& found) {
  ConditionRow row;
  row.kind = cutter.kind;
  row.tool_material = cutter.tool_material;
  row.operation = operation;
  row.material = material.id;
  row.group = material.group;
  row.diameter_mm = cutter.diameter_mm;
  if (!found.found()) return row;
  const Conditions& c = found.conditions;
  const bool milling = process_of(operation) == Process::milling;
  const auto rounded = [](double value, double digits) {
    const double step = std::pow(10, std::floor(std::log10(value)) - digits + 1);
    return std::round(value / step) * step;
  };
  row.vc_m_min = rounded(c.vc_m_min, 3);
  row.feed_kind = milling ? FeedKind::per_tooth : FeedKind::per_revolution;
  const double feed = milling ? c.fz_mm : c.fn_mm;
  if (std::isfinite(feed) && feed > 0) row.feed_mm = operation == OperationKind::tap ? feed : rounded(feed, 3);
  const double d = cutter.diameter_mm.value_or(0);
  if (milling && d > 0) {
    if (std::isfinite(c.ap_mm)) row.ap_per_d = rounded(c.ap_mm / d, 3);
    if (std::isfinite(c.ae_mm)) row.ae_per_d = rounded(c.ae_mm / d, 3);
  }
  row.coolant = c.coolant;
  const ConditionTable* table = state.tables.find(found.table);
  row.source = table ? "from " + table->name : "from a starter rule";
  return row;
}

}  // namespace pecorra
