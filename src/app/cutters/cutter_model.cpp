#include "app/cutters/cutter_model.h"

#include <QMimeData>
#include <algorithm>
#include <cctype>
#include <cmath>
#include <map>

#include "app/look/look.h"
#include "app/widgets/property_cell.h"
#include "core/cutter/duplicates.h"
#include "core/cutter/kinds.h"
#include "core/quantity/print.h"
#include "shop/number_plan.h"
#include "shop/words.h"

namespace pecorra {
namespace {

bool is_resolved(int column) {
  return column == CutterModel::speed || column == CutterModel::feed || column == CutterModel::removal;
}

}  // namespace

CutterModel::CutterModel(Workspace& workspace, QObject* parent) : SteadyTableModel(parent), workspace_(workspace) {
  connect(&workspace_, &Workspace::data_changed, this, &CutterModel::follow_data);
  connect(&workspace_, &Workspace::context_changed, this, [this] {
    resolutions_.clear();
    used_.clear();
    if (std::any_of(sort_.begin(), sort_.end(), [](const SortBy& s) { return is_resolved(s.column); })) {
      arrange();
      show();
    }
    if (rowCount() > 0) emit dataChanged(index(0, 0), index(rowCount() - 1, column_count - 1));
    emit headerDataChanged(Qt::Horizontal, 0, column_count - 1);
  });
  follow_data();
}

void CutterModel::set_library(const std::optional<Id>& library) {
  library_ = library;
  kept_ = {};
  judge_all();
  show();
}

void CutterModel::set_text(const QString& text) {
  text_ = text;
  kept_ = {};
  show();
}

void CutterModel::set_filter(const CutterFilter& filter) {
  filter_ = filter;
  kept_ = {};
  judge_all();
  show();
}

void CutterModel::set_only_to_look_at(bool only) {
  only_to_look_at_ = only;
  kept_ = {};
  judge_all();
  show();
}

void CutterModel::set_only_alike(bool only) {
  only_alike_ = only;
  kept_ = {};
  arrange();
  judge_all();
  show();
}

const Property<Cutter>* CutterModel::property_of(int column) {
  return column >= first_property ? find_property<Cutter>(property_columns[column - first_property]) : nullptr;
}

std::string_view CutterModel::key_of_column(int column) {
  switch (column) {
    case icon: return "kind";
    case name: return "name";
    case diameter: return "diameter_mm";
    case reach: return "reach_mm";
    case flutes: return "flutes";
    case made_of: return "tool_material";
    case number: return "number";
    case library_name: return "library";
    default: return column >= first_property ? property_columns[column - first_property] : std::string_view();
  }
}

Qt::Alignment CutterModel::alignment(int column) const {
  const Property<Cutter>* property = property_of(column);
  const bool right = property ? is_figure(property->quantity)
                              : column == speed || column == feed || column == diameter || column == reach ||
                                    column == flutes || column == removal || column == number;
  return (right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter;
}

// Share used of the tightest limit, as the chart has it.
double CutterModel::worst_used(std::size_t place) const {
  const Resolution& r = resolution(place);
  if (!r.found()) return 0;
  const auto known = used_.find(place);
  if (known != used_.end()) return known->second;
  const ShopState& state = workspace_.state();
  const Cutter& c = state.cutters[place];
  const Evaluation e = evaluate(state, workspace_.shop().resolver(), c, *workspace_.material(), *workspace_.machine(),
                                query_for(state, context_for(workspace_.context(), c.kind)), state.assembly_of(c.id),
                                {}, Extent::limits);
  return used_[place] = e.cut.headroom.empty() ? 0 : e.cut.headroom.front().tightest();
}

const Resolution& CutterModel::resolution(std::size_t place) const {
  const auto known = resolutions_.find(place);
  if (known != resolutions_.end()) return known->second;
  if (resolutions_.size() > 4000) resolutions_.clear(), used_.clear();
  Resolution& fresh = resolutions_[place];
  if (workspace_.material() && workspace_.machine()) {
    const Resolver& resolver = workspace_.shop().resolver();
    fresh = resolver.resolve(
        key_as_used(workspace_.state(), resolver, workspace_.state().cutters[place]),
        resolver.key_of(*workspace_.material()), resolver.key_of(*workspace_.machine()),
        query_for(workspace_.state(), context_for(workspace_.context(), workspace_.state().cutters[place].kind)));
  }
  return fresh;
}

bool CutterModel::passes(std::size_t place) const {
  const Cutter& c = workspace_.state().cutters[place];
  if (only_alike_ && like_head_[place] == nobody) return false;
  if (library_ && c.library != *library_) return false;
  if (!library_) {
    const Library* library = workspace_.state().libraries.find(c.library);
    if (library && !library->switched_on) return false;
  }
  if (only_to_look_at_ && workspace_.catalogue().look(place) <= CutterCatalogue::fine) return false;
  return !filter_.has_criteria() || fits(c, filter_);
}

void CutterModel::judge_all() {
  passing_.resize(workspace_.state().cutters.size());
  for (std::size_t i = 0; i < passing_.size(); ++i) passing_[i] = passes(i);
}

void CutterModel::follow_data() {
  const auto& cutters = workspace_.state().cutters;
  resolutions_.clear();
  used_.clear();
  const bool same_libraries = libraries_version_ == workspace_.state().libraries.version();
  const auto put = followed_.news(cutters);
  libraries_version_ = workspace_.state().libraries.version();
  const int seen_before = row_of(workspace_.cutter_id());
  if (!put || !same_libraries || only_alike_) {
    arrange();
    judge_all();
  } else {
    // Changed ones move to their new places; the others keep their order.
    const std::vector<std::size_t>& places = *put;
    passing_.resize(cutters.size());
    if (places.size() > 50) arrange();
    else {
      std::erase_if(order_,
                    [&](std::uint32_t place) { return std::binary_search(places.begin(), places.end(), place); });
      for (const std::size_t place : places)
        order_.insert(std::upper_bound(order_.begin(), order_.end(), static_cast<std::uint32_t>(place),
                                       [&](std::uint32_t a, std::uint32_t b) { return before(a, b, 0); }),
                      static_cast<std::uint32_t>(place));
    }
    for (const std::size_t place : places) passing_[place] = passes(place);
  }
  show();
  // What was just changed stays visible.
  if (seen_before >= 0 && row_of(workspace_.cutter_id()) < 0 && workspace_.cutter()) {
    kept_ = workspace_.cutter_id();
    show();
  }
}

void CutterModel::show() {
  CutterIndex& words = workspace_.catalogue().index();
  const std::vector<std::uint8_t>& hits = words.find(text_.toStdString());
  std::vector<std::size_t> rows;
  std::vector<Id> ids;
  rows.reserve(order_.size());
  for (const std::uint32_t place : order_)
    if ((passing_[place] && hits[place]) || (!kept_.is_null() && words.id(place) == kept_)) rows.push_back(place);
  ids.reserve(rows.size());
  for (const std::size_t place : rows) ids.push_back(words.id(place));
  show_rows(std::move(rows), std::move(ids));
}

std::vector<CutterModel::ValueCount> CutterModel::value_counts(std::string_view key) const {
  const Property<Cutter>* property = find_property<Cutter>(key);
  if (!property) return {};
  const auto& cutters = workspace_.state().cutters;
  const std::vector<std::uint8_t>& hits = workspace_.catalogue().index().find(text_.toStdString());
  std::unordered_map<std::string, int> counts;
  const bool own = filter_.values.contains(key) || filter_.ranges.contains(key);
  for (std::size_t i = 0; i < cutters.size(); ++i) {
    if (!hits[i]) continue;
    // Its own criterion is ignored, so that another value can be added.
    if (!passing_[i] && !(own && fits(cutters[i], filter_, key) && (!library_ || cutters[i].library == *library_)))
      continue;
    ++counts[value_text(property->get(cutters[i]))];
  }
  if (const auto chosen = filter_.values.find(key); chosen != filter_.values.end())
    for (const std::string& value : chosen->second) counts.try_emplace(value, 0);
  std::vector<ValueCount> list;
  for (auto& [value, count] : counts) list.push_back({value, count});
  std::sort(list.begin(), list.end(), [](const ValueCount& a, const ValueCount& b) {
    return a.count != b.count ? a.count > b.count : a.value < b.value;
  });
  return list;
}

const Cutter* CutterModel::cutter_at(int row) const {
  return row >= 0 && row < rowCount() ? &workspace_.state().cutters[place_of(row)] : nullptr;
}

Qt::ItemFlags CutterModel::flags(const QModelIndex& index) const {
  return QAbstractTableModel::flags(index) | Qt::ItemIsDragEnabled;
}

QStringList CutterModel::mimeTypes() const { return {cutter_mime_type()}; }

QMimeData* CutterModel::mimeData(const QModelIndexList& indexes) const {
  QByteArray ids;
  QStringList lines;
  for (const QModelIndex& i : indexes) {
    if (i.column() != name) continue;
    const Cutter* c = cutter_at(i.row());
    if (!c) continue;
    ids += QByteArray::fromStdString(c->id.text()) + '\n';
    lines << QStringLiteral("%1\t%2").arg(c->number).arg(text_of(c->name));
  }
  auto* data = new QMimeData;
  data->setData(cutter_mime_type(), ids);
  data->setText(lines.join(QLatin1Char('\n')));
  return data;
}

QVariant CutterModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const std::size_t i = place_of(index.row());
  const Cutter& c = workspace_.state().cutters[i];
  const UnitSystem units = workspace_.units();
  if (role == Qt::TextAlignmentRole) return static_cast<int>(alignment(index.column()));
  if (role == Qt::ToolTipRole && index.column() == name) return text_of(c.name);
  if (role == breach_role || (role == Qt::ToolTipRole && index.column() == number))
    return index.column() == number ? breach_text(workspace_.state(), c) : QString();
  if (role != Qt::DisplayRole && role != mark_role && role != reason_role && role != draft_role &&
      role != Qt::ToolTipRole)
    return {};
  const bool wants_conditions = role != Qt::DisplayRole || is_resolved(index.column());
  static const Resolution none;
  const Resolution& r = wants_conditions ? resolution(i) : none;
  const bool beyond = (role == mark_role || role == Qt::ToolTipRole) && worst_used(i) > 1 + 1e-6;
  if (role == mark_role) return static_cast<int>(beyond ? Mark::beyond : mark_of(r));
  if (role == reason_role) return r.found() ? QString() : reason_text(r.reason, c.kind);
  if (role == draft_role) return r.reason == NoAnswer::draft;
  if (role == Qt::ToolTipRole)
    return !r.found() ? reason_text(r.reason, c.kind)
           : beyond   ? mark_name(mark_of(r)) + QStringLiteral(", ") + mark_name(Mark::beyond)
                      : mark_name(mark_of(r));
  auto text = [](const std::string& s) { return QString::fromStdString(s); };
  switch (index.column()) {
    case speed: return r.found() ? text(shown(r.conditions.n_rpm, Quantity::spindle_speed, units)) : QString();
    case feed: return r.found() ? text(shown(r.conditions.vf_mm_min, Quantity::table_feed, units)) : QString();
    case name: return text(c.name);
    case diameter: return c.diameter_mm ? text(shown(*c.diameter_mm, Quantity::length, units)) : QString();
    case reach:
      return c.reach_mm          ? text(shown(*c.reach_mm, Quantity::length, units))
             : c.flute_length_mm ? text(shown(*c.flute_length_mm, Quantity::length, units))
                                 : QString();
    case flutes: return c.flutes ? QString::number(*c.flutes) : QString();
    case made_of: return c.tool_material ? label_text(label_of(*c.tool_material)) : tr("not stated");
    case assembly: {
      const Assembly* a = workspace_.state().assembly_of(c.id);
      const Holder* holder = a ? workspace_.state().holders.find(a->holder) : nullptr;
      if (!holder) return QString();
      return text(holder->name) + (a->stickout_mm
                                       ? QStringLiteral(" · ") + text(shown(*a->stickout_mm, Quantity::length, units))
                                       : QString());
    }
    case removal: {
      const double q = r.conditions.ap_mm * r.conditions.ae_mm * r.conditions.vf_mm_min / 1000;
      return std::isnan(q) ? QString() : text(shown(q, Quantity::removal_rate, units));
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
  if (role == Qt::ToolTipRole)
    return key_of_column(section).empty()
               ? tr("Click to sort, Shift+click to sort by this as well.")
               : tr("Click to sort, Shift+click to sort by this as well, right-click to filter by value.");
  if (role != Qt::DisplayRole) return {};
  const QString text = heading(section);
  if (text.isEmpty()) return text;
  for (std::size_t i = 0; i < sort_.size(); ++i)
    if (sort_[i].column == section)
      return text + (sort_[i].down ? QStringLiteral(" ↓") : QStringLiteral(" ↑")) +
             (sort_.size() > 1 ? QString::number(i + 1) : QString());
  return text;
}

QString CutterModel::column_name(int section) const {
  return section == icon ? tr("Picture") : section == mark ? tr("Mark") : heading(section);
}

QString CutterModel::heading(int section) const {
  const bool inch = is_inch(workspace_.units());
  switch (section) {
    case speed: return tr("S rpm");
    case feed: return tr("F %1").arg(text_of(unit_text(Quantity::table_feed, workspace_.units())));
    case name: return tr("Name");
    case diameter: return tr("DC %1").arg(inch ? tr("in") : tr("mm"));
    case reach: return tr("Reach");
    case flutes: return tr("Flutes");
    case made_of: return tr("Tool material");
    case assembly: return tr("Assembly");
    case removal: return tr("Q %1").arg(text_of(unit_text(Quantity::removal_rate, workspace_.units())));
    case number: return tr("No.");
    case library_name: return tr("Library");
    default: break;
  }
  const Property<Cutter>* property = property_of(section);
  return property ? label_text(property->label) : QString();
}

}  // namespace pecorra

#include "moc_cutter_model.cpp"
