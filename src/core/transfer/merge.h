// Lines of a sheet against what is there: new, changed, same, in conflict or faulty. Nothing is changed here; whoever uses
// it takes what was picked.
#pragma once

#include <algorithm>
#include <functional>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/transfer/columns.h"
#include "core/transfer/difference.h"

namespace pecorra {

enum class MergeState { fresh, changed, same, conflict, faulty };
template <> std::span<const Choice> choices_of<MergeState>();

// One line as it was read: what its cells said, and which properties they said.
template <class T>
struct SheetLine {
  int line = 0;
  T value{};
  std::vector<const Property<T>*> given;
  std::vector<CellFault> faults;
};

template <class T>
struct MergeLine {
  int line = 0;
  MergeState state = MergeState::fresh;
  T after{};
  std::optional<std::size_t> target;        // place of what it changes
  std::vector<const Property<T>*> changes;  // of the target
  std::vector<CellFault> faults;
  std::string why;                          // of a conflict
  bool picked = false;
};

template <class T>
struct MergeRules {
  // What a thing is looked up by, the strongest first: two that are the same thing have at least one of them in common.
  std::function<void(const T&, std::vector<std::uint64_t>&)> keys;
  std::function<bool(const T&, const T&)> same_thing;
  // Why a change should not be made without looking; empty: it may.
  std::function<std::string(const T& before, const T& after)> objection;
  // What else goes with a value that was read, as texts as typed.
  std::function<void(T& after, const T& read, std::span<const Property<T>* const> given)> carry;
};

// Places of things by their keys.
template <class T>
class KeyedPlaces {
 public:
  explicit KeyedPlaces(const MergeRules<T>& rules) : rules_(rules) {}
  void reserve(std::size_t count) { places_.reserve(count); }
  void add(const T& thing, std::size_t place) {
    rules_.keys(thing, keys_ = {});
    for (const std::uint64_t key : keys_) places_.emplace(key, place);
  }
  // Calls visit(place) for every place under one of the thing's keys, the strongest key first, until it returns true.
  template <class Visit>
  void candidates(const T& thing, Visit&& visit) {
    rules_.keys(thing, keys_ = {});
    for (const std::uint64_t key : keys_) {
      const auto [from, to] = places_.equal_range(key);
      std::vector<std::size_t> found;
      for (auto at = from; at != to; ++at) found.push_back(at->second);
      std::sort(found.begin(), found.end());
      for (const std::size_t place : found)
        if (visit(place)) return;
    }
  }

 private:
  const MergeRules<T>& rules_;
  std::unordered_multimap<std::uint64_t, std::size_t> places_;
  std::vector<std::uint64_t> keys_;
};

// `step` is told how many lines are done now and then; when it says false, what was made so far is returned.
template <class T>
std::vector<MergeLine<T>> merge_preview(std::span<const T> there, std::vector<SheetLine<T>> lines, const MergeRules<T>& rules, const std::function<bool(std::size_t)>& step = {}) {
  std::vector<MergeLine<T>> out;
  out.reserve(lines.size());
  KeyedPlaces<T> known(rules), before_it(rules);
  known.reserve(there.size());
  before_it.reserve(lines.size());
  for (std::size_t i = 0; i < there.size(); ++i) known.add(there[i], i);
  for (SheetLine<T>& read : lines) {
    if (step && out.size() % 1000 == 0 && !step(out.size())) break;
    MergeLine<T>& m = out.emplace_back();
    m.line = read.line;
    m.faults = std::move(read.faults);
    if (!m.faults.empty()) {
      m.after = std::move(read.value);
      m.state = MergeState::faulty;
      continue;
    }
    known.candidates(read.value, [&](std::size_t i) {
      if (rules.same_thing(there[i], read.value)) m.target = i;
      return m.target.has_value();
    });
    if (m.target) {
      const T& before = there[*m.target];
      m.after = before;
      for (const Property<T>* p : read.given) p->set(m.after, p->get(read.value));
      if (rules.carry) rules.carry(m.after, read.value, read.given);
      m.changes = differences(before, m.after);
      // What a sheet can say beyond the properties.
      const std::span<const Property<T>> own = properties<T>();
      for (const Property<T>* p : read.given)
        if ((p < own.data() || p >= own.data() + own.size()) && !same_value(p->get(before), p->get(m.after)) && !find_property<T>(p->key)) m.changes.push_back(p);
      m.state = m.changes.empty() ? MergeState::same : MergeState::changed;
      if (m.state == MergeState::changed && rules.objection)
        if (m.why = rules.objection(before, m.after); !m.why.empty()) m.state = MergeState::conflict;
    } else {
      m.after = read.value;
    }
    // Two lines for one thing that say different things.
    before_it.candidates(read.value, [&](std::size_t place) {
      MergeLine<T>& earlier = out[place];
      if (!rules.same_thing(earlier.after, read.value)) return false;
      bool differs = false;
      for (const Property<T>* p : read.given) differs = differs || !same_value(p->get(earlier.after), p->get(m.after));
      if (!differs) {
        m.state = MergeState::same;
        return false;
      }
      m.state = earlier.state = MergeState::conflict;
      m.why = "line " + std::to_string(earlier.line) + " says something else";
      earlier.why = "line " + std::to_string(m.line) + " says something else";
      earlier.picked = false;
      return false;
    });
    m.picked = m.state == MergeState::fresh || m.state == MergeState::changed;
    before_it.add(read.value, out.size() - 1);
  }
  return out;
}

}  // namespace pecorra
