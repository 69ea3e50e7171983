#include "core/cutter/guesses.h"

#include <algorithm>
#include <cmath>
#include <tuple>
#include <vector>

#include "core/base/check.h"
#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

// Lengths along the axis, from the tip up: each guess leaves room for the typed ones below and above it.
void fit_lengths(Cutter& c, const Cutter& proposed) {
  const auto guessed = [&](const char* key) { return c.guesses.contains(key); };
  if (!c.flute_length_mm) return;
  const bool flutes = guessed("flute_length_mm"), reach = guessed("reach_mm"), overall = guessed("overall_length_mm");
  if (flutes && c.reach_mm && !reach) c.flute_length_mm = std::min(*c.flute_length_mm, *c.reach_mm);
  if (flutes && c.overall_length_mm && !overall)
    c.flute_length_mm = std::min(*c.flute_length_mm, round_proposal(0.5 * *c.overall_length_mm, c.unit));
  if (reach && c.reach_mm) c.reach_mm = std::max(*c.reach_mm, *c.flute_length_mm);
  const auto used_of = [](const Cutter& of) { return std::max(*of.flute_length_mm, of.reach_mm.value_or(0)); };
  const double used = used_of(c), shank = c.shank_diameter_mm.value_or(0);
  if (!c.overall_length_mm) return;
  if (overall) {
    const double kept = std::min(2 * shank, *proposed.overall_length_mm - used_of(proposed));
    if (const double least = used + kept; *c.overall_length_mm < least)
      c.overall_length_mm = round_proposal(std::ceil(least), c.unit);
    return;
  }
  // Two shank diameters are left to clamp, or half of what the flutes leave.
  const double most = *c.overall_length_mm - std::min(2 * shank, (*c.overall_length_mm - *c.flute_length_mm) / 2);
  if (reach && c.reach_mm && *c.reach_mm > most)
    c.reach_mm = std::max(*c.flute_length_mm, std::min(round_proposal(most, c.unit), *c.overall_length_mm));
}

// Number of errors, then of warnings, not counting those caused by the typed sizes alone.
std::pair<int, int> faults(const Cutter& c) {
  std::pair<int, int> count{0, 0};
  for (const Message& m : check_cutter(c)) {
    if (m.severity == Severity::error) ++count.first;
    if (m.severity == Severity::warning && m.property != "tool_material") ++count.second;
  }
  return count;
}

std::vector<double> candidates(const Cutter& c, double proposed) {
  std::vector<double> values;
  for (const double factor : {0.9, 0.75, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1, 1.1, 1.25, 1.5, 2.0, 3.0, 4.0, 6.0, 10.0})
    values.push_back(proposed * factor);
  // Values that the checks suggest, and a little to either side.
  for (const Message& m : check_cutter(c))
    for (const auto& [name, detail] : m.values)
      if (const double* x = std::get_if<double>(&detail); x && std::isfinite(*x) && *x > 0)
        for (const double factor : {1.0, 0.98, 0.9, 1.02, 1.1}) values.push_back(*x * factor);
  return values;
}

}  // namespace

Cutter guessed_cutter(CutterKind kind, double diameter_mm, UnitSystem units) {
  Cutter c = proposed_cutter(kind, diameter_mm, units);
  c.unit = units;
  for (const ParameterUse& use : declaration(kind).parameters) {
    const Property<Cutter>& property = *find_property<Cutter>(use.key);
    if (use.key != "diameter_mm" && (number_of(c, property) || use.key == "thread"))
      c.guesses.insert(std::string(use.key));
  }
  if (!c.outline.empty()) c.guesses.insert("outline");
  return c;
}

Cutter follow_guesses(const Cutter& cutter) {
  if (!cutter.diameter_mm || !(*cutter.diameter_mm > 0) || cutter.guesses.empty()) return cutter;
  const Cutter proposed = proposed_cutter(cutter.kind, *cutter.diameter_mm, cutter.unit);
  Cutter out = cutter;
  std::vector<const Property<Cutter>*> sizes;
  for (const ParameterUse& use : declaration(cutter.kind).parameters) {
    if (!cutter.guesses.contains(std::string(use.key))) continue;
    const Property<Cutter>& property = *find_property<Cutter>(use.key);
    const Value value = property.get(proposed);
    if (std::holds_alternative<std::monostate>(value) && property.quantity != Quantity::text) continue;
    property.set(out, value);
    out.typed.erase(std::string(use.key));
    if (number_of(proposed, property)) sizes.push_back(&property);
  }
  fit_lengths(out, proposed);
  if (cutter.guesses.contains("outline")) declaration(cutter.kind).propose(out);
  // Each guess in turn takes the value closest to its proposal that leaves the fewest faults.
  for (int pass = 0; pass < 3 && faults(out) > std::pair(0, 0); ++pass) {
    const auto before = faults(out);
    for (const Property<Cutter>* property : sizes) {
      const double wanted = *number_of(proposed, *property);
      auto best = std::tuple(faults(out), 0.0);
      if (std::get<0>(best) == std::pair(0, 0)) break;
      Cutter found = out;
      for (double value : candidates(out, wanted)) {
        if (property->quantity == Quantity::length) value = round_proposal(value, cutter.unit);
        Cutter tried = out;
        if (!(value > 0) || !property->set(tried, value)) continue;
        const auto rank = std::tuple(faults(tried), std::abs(std::log(value / wanted)));
        if (std::get<0>(rank) < std::get<0>(best) || (std::get<1>(best) > 0 && rank < best)) best = rank, found = tried;
      }
      out = found;
    }
    if (faults(out) == before) break;
  }
  return out;
}

}  // namespace pecorra
