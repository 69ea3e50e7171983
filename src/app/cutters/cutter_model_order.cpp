// Sort order of the cutter list.
#include <strings.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <limits>

#include "app/cutters/cutter_model.h"
#include "app/look/look.h"
#include "core/cutter/duplicates.h"

namespace pecorra {
namespace {

constexpr double unknown = std::numeric_limits<double>::infinity();  // always last, in both directions

}  // namespace

const std::string* CutterModel::sort_text(const Cutter& c, int column) const {
  if (column == name) return &c.name;
  static constexpr std::pair<std::string_view, std::string Cutter::*> texts[] = {
      {"coating", &Cutter::coating}, {"thread", &Cutter::thread},         {"maker", &Cutter::maker},
      {"series", &Cutter::series},   {"order_code", &Cutter::order_code}, {"notes", &Cutter::notes}};
  if (column >= first_property)
    for (const auto& [key, member] : texts)
      if (key == property_columns[column - first_property]) return &(c.*member);
  if (column == assembly) {
    const Assembly* a = workspace_.state().assembly_of(c.id);
    const Holder* holder = a ? workspace_.state().holders.find(a->holder) : nullptr;
    static const std::string none;
    return holder ? &holder->name : &none;
  }
  return nullptr;
}

double CutterModel::sort_value(std::size_t place, int column) const {
  const Cutter& c = workspace_.state().cutters[place];
  switch (column) {
    case icon: return static_cast<double>(c.kind);
    case library_name: {
      for (std::size_t k = 0; k < workspace_.state().libraries.size(); ++k)
        if (workspace_.state().libraries[k].id == c.library) return static_cast<double>(k);
      return unknown;
    }
    case speed:
    case feed:
    case removal: {
      const Conditions& v = resolution(place).conditions;
      const double value = column == speed ? v.n_rpm : column == feed ? v.vf_mm_min : v.ap_mm * v.ae_mm * v.vf_mm_min;
      return std::isnan(value) ? unknown : value;
    }
    case mark: return static_cast<double>(mark_of(resolution(place)));
    case diameter: return c.diameter_mm.value_or(unknown);
    case reach: return c.reach_mm.value_or(c.flute_length_mm.value_or(unknown));
    case flutes: return c.flutes ? *c.flutes : unknown;
    case made_of: return c.tool_material ? static_cast<double>(*c.tool_material) : unknown;
    case number: return c.number;
    default: break;
  }
  const Property<Cutter>* property = property_of(column);
  if (!property) return unknown;
  const Value value = property->get(c);
  if (const double* figure = std::get_if<double>(&value)) return *figure;
  if (const bool* flag = std::get_if<bool>(&value)) return *flag;
  if (const std::string* choice = std::get_if<std::string>(&value))
    for (std::size_t i = 0; i < property->choices.size(); ++i)
      if (property->choices[i].key == *choice) return static_cast<double>(i);
  return unknown;
}

// By the columns from `first` on; then by number.
bool CutterModel::before(std::size_t a, std::size_t b, std::size_t first) const {
  const auto& cutters = workspace_.state().cutters;
  const Cutter &x = cutters[a], &y = cutters[b];
  if (first == 0 && x.favourite != y.favourite) return x.favourite;
  for (std::size_t i = first; i < sort_.size(); ++i) {
    const SortBy& by = sort_[i];
    if (const std::string* s = sort_text(x, by.column)) {
      const std::string* t = sort_text(y, by.column);
      if (s->empty() != t->empty()) return t->empty();
      if (const int order = strcasecmp(s->c_str(), t->c_str())) return by.down ? order > 0 : order < 0;
      continue;
    }
    const double p = sort_value(a, by.column), q = sort_value(b, by.column);
    if (p == q) continue;
    if (p == unknown || q == unknown) return q == unknown;
    return by.down ? p > q : p < q;
  }
  if (x.number != y.number) return x.number < y.number;
  return a < b;
}

void CutterModel::arrange() {
  const auto& cutters = workspace_.state().cutters;
  const std::size_t count = cutters.size();
  order_.resize(count);
  for (std::size_t i = 0; i < count; ++i) order_[i] = static_cast<std::uint32_t>(i);
  // The first column decides most: its keys stand side by side in memory.
  const SortBy by = sort_.front();
  std::vector<double> keys(count);
  for (std::size_t i = 0; i < count; ++i) {
    double key = 0;
    if (const std::string* text = sort_text(cutters[i], by.column)) {
      // Six letters fit into a double exactly; those that are alike in them are compared whole.
      for (std::size_t k = 0; k < 6; ++k)
        key = key * 256 +
              (k < text->size() ? static_cast<unsigned char>(std::tolower(static_cast<unsigned char>((*text)[k]))) : 0);
      if (text->empty()) key = unknown;
    } else {
      key = sort_value(i, by.column);
    }
    if (by.down && key != unknown) key = -key;
    keys[i] = cutters[i].favourite ? (key == unknown ? -1e299 : key - 1e300) : key;
  }
  if (resolutions_.size() > 1000) resolutions_.clear();
  // Favourites would lose digits next to 1e300: they are compared in full.
  std::sort(order_.begin(), order_.end(),
            [&](std::uint32_t a, std::uint32_t b) { return keys[a] != keys[b] ? keys[a] < keys[b] : before(a, b, 0); });
  like_head_.clear();
  if (!only_alike_) return;
  // Each is next to the first one it resembles.
  like_head_.assign(count, nobody);
  for (const LikePair& pair : like_pairs(cutters.all())) {
    std::uint32_t& head = like_head_[pair.first];
    if (head == nobody) head = static_cast<std::uint32_t>(pair.first);
    if (like_head_[pair.second] == nobody) like_head_[pair.second] = head;
  }
  std::stable_sort(order_.begin(), order_.end(),
                   [&](std::uint32_t a, std::uint32_t b) { return like_head_[a] < like_head_[b]; });
}

void CutterModel::set_sort(std::vector<SortBy> by) {
  if (by.empty()) by.push_back({});
  sort_ = std::move(by);
  arrange();
  show();
  emit headerDataChanged(Qt::Horizontal, 0, column_count - 1);
}

void CutterModel::sort(int column, Qt::SortOrder order) { set_sort({{column, order == Qt::DescendingOrder}}); }

void CutterModel::sort_by(int column, bool further) {
  std::vector<SortBy> by = sort_;
  const auto known = std::find_if(by.begin(), by.end(), [&](const SortBy& s) { return s.column == column; });
  if (further) {
    if (known != by.end()) known->down = !known->down;
    else by.push_back({column, false});
  } else {
    const bool again = known == by.begin();
    by = {{column, again && !sort_.front().down}};
  }
  set_sort(std::move(by));
}

}  // namespace pecorra
