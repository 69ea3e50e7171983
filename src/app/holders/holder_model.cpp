#include "app/holders/holder_model.h"

#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

HolderModel::HolderModel(Workspace& workspace, QObject* parent) : SteadyTableModel(parent), workspace_(workspace) {
  connect(&workspace_, &Workspace::data_changed, this, &HolderModel::rebuild);
  connect(&workspace_, &Workspace::context_changed, this, &HolderModel::rebuild);
  rebuild();
}

void HolderModel::set_text(const QString& text) {
  text_ = text;
  rebuild();
}

void HolderModel::rebuild() {
  const auto& holders = workspace_.state().holders;
  const QStringList words = text_.split(QLatin1Char(' '), Qt::SkipEmptyParts);
  used_.clear();
  for (const Assembly& a : workspace_.state().assemblies) ++used_[a.holder];
  std::vector<std::size_t> rows;
  for (std::size_t i = 0; i < holders.size(); ++i) {
    const Holder& h = holders[i];
    const QString whole = text_of(h.name + " " + h.maker + " " + h.order_code + " " +
                                  (h.machine_side ? std::string(label_of(*h.machine_side)) : std::string()) + " " +
                                  (h.form ? std::string(label_of(*h.form)) : std::string()));
    if (std::all_of(words.begin(), words.end(),
                    [&](const QString& word) { return whole.contains(word, Qt::CaseInsensitive); }))
      rows.push_back(i);
  }
  std::stable_sort(rows.begin(), rows.end(), [&](std::size_t a, std::size_t b) {
    return text_of(holders[a].name).compare(text_of(holders[b].name), Qt::CaseInsensitive) < 0;
  });
  std::vector<Id> ids;
  for (const std::size_t i : rows) ids.push_back(holders[i].id);
  show_rows(std::move(rows), std::move(ids));
}

const Holder* HolderModel::holder_at(int row) const {
  return row < 0 || row >= rowCount() ? nullptr : &workspace_.state().holders[place_of(row)];
}

QVariant HolderModel::data(const QModelIndex& index, int role) const {
  const Holder* h = holder_at(index.row());
  if (!h) return {};
  const UnitSystem units = workspace_.units();
  if (role == Qt::TextAlignmentRole)
    return static_cast<int>((index.column() >= clamps ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  if (role != Qt::DisplayRole) return {};
  const auto mm = [&](double v) { return text_of(shown(v, Quantity::length, units)); };
  switch (index.column()) {
    case name: return text_of(h->name);
    case machine_side: return h->machine_side ? label_text(label_of(*h->machine_side)) : QString();
    case form: return h->form ? label_text(label_of(*h->form)) : QString();
    case clamps:
      if (!h->clamp_to_mm) return QString();
      return h->clamp_from_mm && *h->clamp_from_mm != *h->clamp_to_mm
                 ? tr("%1 – %2").arg(mm(*h->clamp_from_mm), mm(*h->clamp_to_mm))
                 : mm(*h->clamp_to_mm);
    case length: return h->stations.empty() ? QString() : mm(h->stations.back().distance_mm);
    case used_by: {
      const auto used = used_.find(h->id);
      return used != used_.end() ? QString::number(used->second) : QString();
    }
    default: return {};
  }
}

QVariant HolderModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole)
    return static_cast<int>((section >= clamps ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  if (role != Qt::DisplayRole) return {};
  const QString unit = text_of(unit_text(Quantity::length, workspace_.units()));
  switch (section) {
    case name: return tr("Name");
    case machine_side: return tr("Machine side");
    case form: return tr("Clamping method");
    case clamps: return tr("Shank %1").arg(unit);
    case length: return tr("Length %1").arg(unit);
    case used_by: return tr("Cutters");
    default: return {};
  }
}

}  // namespace pecorra

#include "moc_holder_model.cpp"
