#include "app/cutters/cutter_model.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "app/look/look.h"
#include "app/widgets/property_cell.h"
#include "core/cutter/duplicates.h"
#include "core/cutter/kinds.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

CutterModel::CutterModel(Workspace& workspace, QObject* parent) : SteadyTableModel(parent), workspace_(workspace) {
  connect(&workspace_, &Workspace::data_changed, this, &CutterModel::rebuild);
  connect(&workspace_, &Workspace::context_changed, this, [this] {
    renumber();
    if (rowCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, column_count - 1));
    emit headerDataChanged(Qt::Horizontal, 0, column_count - 1);
  });
  rebuild();
}

void CutterModel::set_library(const std::optional<Id>& library) {
  library_ = library;
  rebuild();
}

void CutterModel::set_text(const QString& text) {
  text_ = text;
  rebuild();
}

void CutterModel::set_only_to_look_at(bool only) {
  only_to_look_at_ = only;
  rebuild();
}

void CutterModel::set_only_alike(bool only) {
  only_alike_ = only;
  rebuild();
}

const Property<Cutter>* CutterModel::property_of(int column) const {
  return column >= first_property ? find_property<Cutter>(property_columns[column - first_property]) : nullptr;
}

Qt::Alignment CutterModel::alignment(int column) const {
  const Property<Cutter>* property = property_of(column);
  const bool right = property ? is_figure(property->quantity) : column == speed || column == feed || column == diameter || column == reach || column == flutes || column == removal || column == number;
  return (right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter;
}

void CutterModel::renumber() {
  const auto& cutters = workspace_.state().cutters;
  resolutions_.assign(cutters.size(), {});
  if (!workspace_.material() || !workspace_.machine()) return;
  const Resolver& resolver = workspace_.shop().resolver();
  const MaterialKey material = resolver.key_of(*workspace_.material());
  const MachineKey machine = resolver.key_of(*workspace_.machine());
  const Query query = query_for(workspace_.state(), workspace_.context());
  for (std::size_t i = 0; i < cutters.size(); ++i) resolutions_[i] = resolver.resolve(key_as_used(workspace_.state(), resolver, cutters[i]), material, machine, query);
}

void CutterModel::rebuild() {
  renumber();
  std::vector<std::size_t> rows;
  const auto& cutters = workspace_.state().cutters;
  const QStringList words = text_.split(QLatin1Char(' '), Qt::SkipEmptyParts);
  // Each stands beside the first that it is like.
  std::map<std::size_t, std::size_t> like;
  if (only_alike_)
    for (const LikePair& pair : like_pairs(cutters.all())) {
      const std::size_t head = like.try_emplace(pair.first, pair.first).first->second;
      like.try_emplace(pair.second, head);
    }
  for (std::size_t i = 0; i < cutters.size(); ++i) {
    const Cutter& c = cutters[i];
    if (only_alike_ && !like.contains(i)) continue;
    if (library_ && c.library != *library_) continue;
    if (only_to_look_at_ && !to_look_at(c)) continue;
    if (!words.isEmpty()) {
      const QString all = QString::fromStdString(c.name + " " + c.maker + " " + c.series + " " + c.order_code + " " + c.notes + " " + std::to_string(c.number)) + QLatin1Char(' ') + text_of(label_of(c.kind)) + QLatin1Char(' ') + (c.tool_material ? text_of(label_of(*c.tool_material)) : QString());
      if (!std::all_of(words.begin(), words.end(), [&](const QString& word) { return all.contains(word, Qt::CaseInsensitive); })) continue;
    }
    rows.push_back(i);
  }
  const auto key = [&](std::size_t i) { return sort_value(i, sort_column_); };
  const Property<Cutter>* property = property_of(sort_column_);
  const bool by_text = sort_column_ == name || sort_column_ == made_of || sort_column_ == assembly;
  std::stable_sort(rows.begin(), rows.end(), [&](std::size_t a, std::size_t b) {
    if (sort_order_ == Qt::DescendingOrder) std::swap(a, b);
    if (by_text && sort_column_ == name) return cutters[a].name < cutters[b].name;
    if (by_text && sort_column_ == made_of) return cutters[a].tool_material < cutters[b].tool_material;
    if (property) return value_before(property->get(cutters[a]), property->get(cutters[b]));
    return key(a) < key(b);
  });
  if (only_alike_) std::stable_sort(rows.begin(), rows.end(), [&](std::size_t a, std::size_t b) { return like[a] < like[b]; });
  std::vector<Id> ids;
  for (const std::size_t i : rows) ids.push_back(cutters[i].id);
  show_rows(std::move(rows), std::move(ids));
}

double CutterModel::sort_value(std::size_t i, int column) const {
  const Cutter& c = workspace_.state().cutters[i];
  const Conditions& v = resolutions_[i].conditions;
  const double last = 1e300;  // what is not known stands at the end
  switch (column) {
    case icon: return static_cast<double>(c.kind);
    case library_name: {
      for (std::size_t k = 0; k < workspace_.state().libraries.size(); ++k)
        if (workspace_.state().libraries[k].id == c.library) return static_cast<double>(k);
      return last;
    }
    case speed: return std::isnan(v.n_rpm) ? last : v.n_rpm;
    case feed: return std::isnan(v.vf_mm_min) ? last : v.vf_mm_min;
    case diameter: return c.diameter_mm.value_or(last);
    case reach: return c.reach_mm.value_or(c.flute_length_mm.value_or(last));
    case flutes: return c.flutes.value_or(0);
    case removal: return std::isnan(v.ap_mm * v.ae_mm * v.vf_mm_min) ? last : v.ap_mm * v.ae_mm * v.vf_mm_min;
    default: return c.number;
  }
}

void CutterModel::sort(int column, Qt::SortOrder order) {
  sort_column_ = column;
  sort_order_ = order;
  rebuild();
}

const Cutter* CutterModel::cutter_at(int row) const {
  return row >= 0 && row < rowCount() ? &workspace_.state().cutters[place_of(row)] : nullptr;
}

QVariant CutterModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const std::size_t i = place_of(index.row());
  const Cutter& c = workspace_.state().cutters[i];
  const Resolution& r = resolutions_[i];
  const UnitSystem units = workspace_.units();
  if (role == mark_role) return static_cast<int>(mark_of(r));
  if (role == reason_role) return r.found() ? QString() : reason_text(r.reason, c.kind);
  if (role == draft_role) return r.reason == NoAnswer::draft;
  if (role == Qt::TextAlignmentRole) return static_cast<int>(alignment(index.column()));
  if (role == Qt::ToolTipRole && index.column() == name) return text_of(c.name);
  if (role == Qt::ToolTipRole) return r.found() ? mark_name(mark_of(r)) : reason_text(r.reason, c.kind);
  if (role != Qt::DisplayRole) return {};
  auto text = [](const std::string& s) { return QString::fromStdString(s); };
  switch (index.column()) {
    case speed: return r.found() ? text(shown(r.conditions.n_rpm, Quantity::spindle_speed, units)) : QString();
    case feed: return r.found() ? text(shown(r.conditions.vf_mm_min, Quantity::table_feed, units)) : QString();
    case name: return text(c.name);
    case diameter: return c.diameter_mm ? text(shown(*c.diameter_mm, Quantity::length, units)) : QString();
    case reach: return c.reach_mm ? text(shown(*c.reach_mm, Quantity::length, units)) : c.flute_length_mm ? text(shown(*c.flute_length_mm, Quantity::length, units)) : QString();
    case flutes: return c.flutes ? QString::number(*c.flutes) : QString();
    case made_of: return c.tool_material ? text_of(label_of(*c.tool_material)) : tr("not stated");
    case assembly: {
      const Assembly* a = workspace_.state().assembly_of(c.id);
      const Holder* holder = a ? workspace_.state().holders.find(a->holder) : nullptr;
      if (!holder) return QString();
      return text(holder->name) + (a->stickout_mm ? QStringLiteral(" · ") + text(shown(*a->stickout_mm, Quantity::length, units)) : QString());
    }
    case removal: {
      const double q = r.conditions.ap_mm * r.conditions.ae_mm * r.conditions.vf_mm_min / 1000;
      return std::isnan(q) ? QString() : text(plain(q, q < 10 ? 1 : 0));
    }
    case number: return c.number;
    case library_name: {
      const Library* library = workspace_.state().libraries.find(c.library);
      return library ? text(library->name) : QString();
    }
    default: break;
  }
  const Property<Cutter>* property = property_of(index.column());
  return property ? cell_text(c, *property, units) : QString();
}

QVariant CutterModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole) return static_cast<int>(alignment(section));
  if (role != Qt::DisplayRole) return {};
  const QString text = heading(section);
  return section == sort_column_ && !text.isEmpty() ? text + (sort_order_ == Qt::AscendingOrder ? QStringLiteral(" ↑") : QStringLiteral(" ↓")) : QVariant(text);
}

QString CutterModel::column_name(int section) const {
  return section == icon ? tr("Picture") : section == mark ? tr("Mark") : heading(section);
}

QString CutterModel::heading(int section) const {
  const bool inch = is_inch(workspace_.units());
  switch (section) {
    case speed: return tr("S rpm");
    case feed: return inch ? tr("F in/min") : tr("F mm/min");
    case name: return tr("Name");
    case diameter: return tr("DC %1").arg(inch ? tr("in") : tr("mm"));
    case reach: return tr("Reach");
    case flutes: return tr("Flutes");
    case made_of: return tr("Made of");
    case assembly: return tr("Assembly");
    case removal: return tr("Q cm³/min");
    case number: return tr("No.");
    case library_name: return tr("Library");
    default: break;
  }
  const Property<Cutter>* property = property_of(section);
  return property ? text_of(property->label) : QString();
}

}  // namespace pecorra
