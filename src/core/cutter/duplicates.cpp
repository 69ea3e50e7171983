#include "core/cutter/duplicates.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

double tolerance(double value) { return std::max(0.01, 0.005 * std::abs(value)); }

bool same_sizes(const Cutter& a, const Cutter& b) {
  if (a.kind != b.kind || !a.diameter_mm || !b.diameter_mm) return false;
  if (a.tool_material && b.tool_material && a.tool_material != b.tool_material) return false;
  if (a.rotation != b.rotation || a.edge_direction != b.edge_direction) return false;
  for (const ParameterUse& use : declaration(a.kind).parameters) {
    const Property<Cutter>& property = *find_property<Cutter>(use.key);
    const Value left = property.get(a), right = property.get(b);
    const double *x = std::get_if<double>(&left), *y = std::get_if<double>(&right);
    if (x && y) {
      const double t = property.quantity == Quantity::count   ? 0.1
                       : property.quantity == Quantity::angle ? 0.5
                                                              : tolerance(*x);
      if (std::abs(*x - *y) > t) return false;
    } else if (left != right && use.required) {
      return false;
    } else if (!x && !y && left != right) {
      return false;  // another thread, another form of tap
    }
  }
  return a.outline == b.outline && a.shank_sections == b.shank_sections;
}

bool told_apart(const Cutter& a, const Cutter& b) {
  return a.accepted.contains(told_apart_key(b.id)) || b.accepted.contains(told_apart_key(a.id));
}

}  // namespace

std::string told_apart_key(const Id& other) { return "like " + other.text(); }

std::optional<Likeness> likeness(const Cutter& a, const Cutter& b) {
  const bool same_code = !a.order_code.empty() && a.order_code == b.order_code && a.maker == b.maker;
  if (!same_code && !same_sizes(a, b)) return std::nullopt;
  if (told_apart(a, b)) return std::nullopt;
  return same_code ? Likeness::order_code : Likeness::sizes;
}

std::vector<LikePair> like_pairs(std::span<const Cutter> cutters) {
  std::vector<LikePair> pairs;
  const auto add = [&](std::size_t i, std::size_t j) {
    if (const auto why = likeness(cutters[i], cutters[j])) pairs.push_back({std::min(i, j), std::max(i, j), *why});
  };
  std::map<std::pair<std::string, std::string>, std::vector<std::size_t>> by_code;
  std::map<CutterKind, std::vector<std::size_t>> by_kind;
  for (std::size_t i = 0; i < cutters.size(); ++i) {
    if (!cutters[i].order_code.empty()) by_code[{cutters[i].maker, cutters[i].order_code}].push_back(i);
    if (cutters[i].diameter_mm) by_kind[cutters[i].kind].push_back(i);
  }
  for (const auto& [code, places] : by_code)
    for (std::size_t i = 0; i < places.size(); ++i)
      for (std::size_t j = i + 1; j < places.size(); ++j) add(places[i], places[j]);
  for (auto& [kind, places] : by_kind) {
    std::sort(places.begin(), places.end(),
              [&](std::size_t a, std::size_t b) { return *cutters[a].diameter_mm < *cutters[b].diameter_mm; });
    for (std::size_t i = 0; i < places.size(); ++i) {
      const double d = *cutters[places[i]].diameter_mm;
      for (std::size_t j = i + 1;
           j < places.size() && *cutters[places[j]].diameter_mm - d <= 1.01 * tolerance(d) + 1e-9; ++j)
        add(places[i], places[j]);
    }
  }
  std::sort(pairs.begin(), pairs.end(), [](const LikePair& a, const LikePair& b) {
    return std::pair(a.first, a.second) < std::pair(b.first, b.second);
  });
  pairs.erase(
      std::unique(pairs.begin(), pairs.end(),
                  [](const LikePair& a, const LikePair& b) { return a.first == b.first && a.second == b.second; }),
      pairs.end());
  return pairs;
}

}  // namespace pecorra
