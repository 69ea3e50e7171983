#include "app/tables/row_model.h"

#include <algorithm>

#include "app/look/look.h"
#include "core/quantity/print.h"
#include "core/tables/row_sheet.h"
#include "core/tables/starter_rules.h"
#include "shop/words.h"

namespace pecorra {

RowModel::RowModel(Workspace& workspace, QObject* parent) : SteadyTableModel(parent), workspace_(workspace) {
  if (!workspace_.state().tables.empty()) table_ = workspace_.state().tables[0].id;
  connect(&workspace_, &Workspace::data_changed, this, &RowModel::rebuild);
  connect(&workspace_, &Workspace::context_changed, this, &RowModel::rebuild);
  rebuild();
}

void RowModel::set_table(const Id& table) {
  if (table == table_) return;
  table_ = table;
  if (table == starter_rules_id) rules_ = starter_rules_table();
  else rules_.reset();
  rebuild();
}
void RowModel::set_text(const QString& text) {
  text_ = text;
  rebuild();
}
void RowModel::set_only_context(bool only) {
  only_context_ = only;
  rebuild();
}

std::optional<RowField> RowModel::field_of(int column) {
  switch (column) {
    case diameter: return RowField::diameter;
    case vc: return RowField::vc;
    case n: return RowField::n;
    case feed: return RowField::feed;
    case vf: return RowField::vf;
    case ap: return RowField::ap;
    case ae: return RowField::ae;
    default: return std::nullopt;
  }
}

QString RowModel::material_text(const ConditionRow& row) const {
  if (const WorkMaterial* m = workspace_.state().materials.find(row.material)) return text_of(m->name);
  QString text = static_cast<int>(row.group) < 6 ? tr("all of %1").arg(text_of(key_of(row.group)))
                                                 : label_text(label_of(row.group));
  if (row.hardness_from_hb || row.hardness_to_hb)
    text += tr(", %1–%2 HB")
                .arg(text_of(plain(row.hardness_from_hb.value_or(0), 0)),
                     row.hardness_to_hb ? text_of(plain(*row.hardness_to_hb, 0)) : QStringLiteral("…"));
  return text;
}

void RowModel::rebuild() {
  if (!table() && !workspace_.state().tables.empty()) table_ = workspace_.state().tables[0].id;
  std::vector<std::size_t> rows;
  std::vector<Id> ids;
  if (const ConditionTable* t = table()) {
    table_messages_ = rules_ ? std::vector<Message>{} : check_table(*t);
    const WorkMaterial* now = workspace_.material();
    const QStringList words = text_.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    for (std::size_t i = 0; i < t->rows.size(); ++i) {
      const ConditionRow& row = t->rows[i];
      if (only_context_ && (row.operation != workspace_.context().operation || !now ||
                            (row.material.is_null() ? row.group != now->group : row.material != now->id)))
        continue;
      if (!words.isEmpty()) {
        const QString all = label_text(label_of(row.kind)) + QLatin1Char(' ') +
                            (row.tool_material ? label_text(label_of(*row.tool_material)) : QString()) +
                            QLatin1Char(' ') + label_text(label_of(row.operation)) + QLatin1Char(' ') +
                            material_text(row) + QLatin1Char(' ') +
                            text_of(row.note + " " + row.author + " " + row.source);
        if (!std::all_of(words.begin(), words.end(),
                         [&](const QString& word) { return all.contains(word, Qt::CaseInsensitive); }))
          continue;
      }
      rows.push_back(i);
      ids.push_back(row.id);
    }
  } else {
    table_messages_.clear();
  }
  show_rows(std::move(rows), std::move(ids));
}

std::vector<ConditionRow> RowModel::curve_of(const ConditionRow& row) const {
  std::vector<ConditionRow> rows;
  const ConditionTable* t = table();
  if (!t) return rows;
  // Without its diameter a row is on no curve yet, but beside the others of its key.
  ConditionRow key = row;
  for (const ConditionRow& r : t->rows) {
    key.diameter_mm = r.diameter_mm;
    if (same_row(key, r)) rows.push_back(r);
  }
  return rows;
}

const ConditionRow* RowModel::row_at(int row) const {
  return table() && row >= 0 && row < rowCount() ? &table()->rows[place_of(row)] : nullptr;
}

std::vector<Message> RowModel::messages_of(const ConditionRow& row) const {
  std::vector<Message> messages = check_row(row);
  for (Message m : table_messages_)
    if (m.property == row.id.text()) {
      m.property = m.code == "speed_looks_like_feet"  ? "vc_m_min"
                   : m.code.starts_with("feed_looks") ? "feed_mm"
                   : m.code.starts_with("rows_")      ? "hardness_from_hb"
                                                      : "diameter_mm";
      messages.push_back(std::move(m));
    }
  return messages;
}

QString RowModel::enter(const QModelIndex& index, const QString& text) {
  const ConditionRow* row = row_at(index.row());
  const auto field = field_of(index.column());
  if (!row || !field || !table()) return {};
  const auto key = std::pair(row->id, index.column());
  unaccepted_.erase(key);
  const UnitSystem units = workspace_.units();
  const QString before = text_of(shown_entry(*row, *field, units));
  if (text.trimmed() == before) {
    emit dataChanged(index, index);
    return {};
  }
  auto entered = with_entry(*row, *field, text.toStdString(), units);
  if (!entered) {
    unaccepted_[key] = {text, reader_text(entered.error().text)};
    emit dataChanged(index, index);
    return unaccepted_[key].fault;
  }
  entered->author = current_user();
  entered->date = current_time().substr(0, 10);
  ConditionTable changed = *table();
  changed.rows[place_of(index.row())] = *entered;
  Change change;
  change.label =
      tr("%1, Ø%2: %3 %4 → %5")
          .arg(text_of(changed.name), text_of(shown(row->diameter_mm.value_or(0), Quantity::length, units)),
               headerData(index.column(), Qt::Horizontal, Qt::DisplayRole).toString(),
               before.isEmpty() ? tr("nothing") : before, text.trimmed().isEmpty() ? tr("nothing") : text.trimmed());
  change.edit(*table(), changed);
  workspace_.shop().apply(std::move(change));
  return {};
}

QVariant RowModel::data(const QModelIndex& index, int role) const {
  const ConditionRow* row = row_at(index.row());
  if (!row) return {};
  const auto field = field_of(index.column());
  const auto wrong = unaccepted_.find({row->id, index.column()});
  if (role == wrong_text_role) return wrong != unaccepted_.end() ? wrong->second.text : QString();
  if (role == derived_role) return field && !was_typed(*row, *field);
  if (role == mark_role) {
    if (has_error(messages_of(*row))) return static_cast<int>(Mark::beyond);
    if (table()->level == TableLevel::starter) return static_cast<int>(Mark::guess);
    return static_cast<int>(row->proven ? Mark::proven : Mark::table);
  }
  if (role == fault_role) {
    if (wrong != unaccepted_.end()) return wrong->second.fault;
    const std::string_view keys[] = {"diameter_mm", "vc_m_min", "", "feed_mm", "", "ap_mm", "ae_mm"};
    if (field)
      for (const Message& m : messages_of(*row))
        if (!m.property.empty() && m.property == keys[static_cast<int>(*field)]) return sentence(m, workspace_.units());
    return QString();
  }
  if (role == Qt::TextAlignmentRole)
    return static_cast<int>((field ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  if (role == Qt::ToolTipRole) {
    const QString fault = data(index, fault_role).toString();
    if (!fault.isEmpty()) return fault;
    if (index.column() == kind) return label_text(label_of(row->kind));
    if (index.column() == mark) return mark_name(static_cast<Mark>(data(index, mark_role).toInt()));
    if (index.column() == vf)
      return row->feed_kind == FeedKind::chip_thickness ? tr("Calculated from the chip thickness and the width of cut")
             : row->feed_kind == FeedKind::per_tooth    ? tr("With %1 flutes").arg(flutes_of(*row))
                                                        : QString();
    return {};
  }
  if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
  if (wrong != unaccepted_.end()) return wrong->second.text;
  if (field) return text_of(shown_entry(*row, *field, workspace_.units()));
  switch (index.column()) {
    case kind: return label_text(label_of(row->kind));
    case made_of: return row->tool_material ? label_text(label_of(*row->tool_material)) : tr("any");
    case operation: return label_text(label_of(row->operation));
    case material: return material_text(*row);
    default: return {};
  }
}

QVariant RowModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  const auto field = field_of(section);
  if (role == Qt::TextAlignmentRole)
    return static_cast<int>((field ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  const UnitSystem units = workspace_.units();
  if (role == Qt::ToolTipRole) {
    switch (section) {
      case vc: return tr("Cutting speed; the spindle speed follows");
      case n: return tr("Spindle speed at this row's diameter; the cutting speed follows");
      case feed:
        return tr("Per tooth for milling, per revolution for drilling, or a chip thickness where the row states one");
      case vf: return tr("Table feed at this row's diameter and number of flutes; the feed follows");
      case ap:
      case ae: return tr("Absolute, or a multiple of the diameter: 1.5 × D, 0.3xD");
      default: return {};
    }
  }
  if (role != Qt::DisplayRole) return {};
  auto with_unit = [&](const QString& symbol, Quantity quantity) {
    return symbol + QLatin1Char(' ') + text_of(unit_text(quantity, units));
  };
  switch (section) {
    case made_of: return tr("Tool material");
    case operation: return tr("Operation");
    case material: return tr("Material");
    case diameter: return with_unit(QStringLiteral("DC"), Quantity::length);
    case vc: return with_unit(QStringLiteral("vc"), Quantity::cutting_speed);
    case n: return with_unit(QStringLiteral("n"), Quantity::spindle_speed);
    case feed: return with_unit(tr("feed"), Quantity::feed_per_tooth);
    case vf: return with_unit(QStringLiteral("vf"), Quantity::table_feed);
    case ap: return QStringLiteral("ap");
    case ae: return QStringLiteral("ae");
    default: return QString();
  }
}

Qt::ItemFlags RowModel::flags(const QModelIndex& index) const {
  Qt::ItemFlags f = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
  const ConditionRow* row = row_at(index.row());
  const auto field = field_of(index.column());
  if (row && field && is_editable() && !(field == RowField::vf && row->feed_kind == FeedKind::chip_thickness))
    f |= Qt::ItemIsEditable;
  return f;
}

}  // namespace pecorra

#include "moc_row_model.cpp"
