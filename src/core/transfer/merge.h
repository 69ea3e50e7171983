// Lines of a sheet against what is there: new, changed, same, in conflict or faulty. Nothing is changed here; whoever
// uses it takes what was picked.
#pragma once

#include <algorithm>
#include <bit>
#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/transfer/columns.h"
#include "core/transfer/difference.h"

namespace pecorra {

enum class MergeState { fresh, changed, same, conflict, faulty };
template <>
std::span<const Choice> choices_of<MergeState>();

// One line: what its cells said and which properties they said, then, by merge_lines(), what would become of it. The
// value then is what a thing that is there would be afterwards.
template <class T>
struct SheetLine {
  int line = 0;
  T value{};
  std::vector<const Property<T>*> given;
  std::vector<CellFault> faults;

  MergeState state = MergeState::fresh;
  std::optional<std::size_t> target;        // place of what it changes
  std::vector<const Property<T>*> changes;  // of the target
  std::string why;                          // of a conflict
  bool picked = false;
};

template <class T>
struct MergeRules {
  // The keys an object is indexed and looked up by, strongest first: equal objects share at least one key.
  std::function<void(const T&, bool looked_for, std::vector<std::uint64_t>&)> keys;
  std::function<bool(const T&, const T&)> same_thing;
  // Why a change needs a review; empty: it does not.
  std::function<std::string(const T& before, const T& after)> objection;
  // What else goes with a value that was read, as texts as typed.
  std::function<void(T& after, const T& read, std::span<const Property<T>* const> given)> carry;
};

// Indices of objects by their keys.
template <class T>
class KeyedPlaces {
 public:
  KeyedPlaces(const MergeRules<T>& rules, std::size_t count)
      : rules_(rules), first_(std::bit_ceil(4 * count + 16), nobody) {
    entries_.reserve(3 * count);
  }
  void add(const T& thing, std::size_t place) {
    rules_.keys(thing, false, keys_ = {});
    for (const std::uint64_t key : keys_) {
      std::size_t& head = first_[bucket(key)];
      entries_.push_back({key, place, head});
      head = entries_.size() - 1;
    }
  }
  // Calls visit(place) for every place under one of the thing's keys, the strongest key first, until it returns true.
  // Of a key that very many share, the last `most_alike`: what a file can contain never makes this quadratic.
  template <class Visit>
  void candidates(const T& thing, Visit&& visit) {
    rules_.keys(thing, true, keys_ = {});
    for (const std::uint64_t key : keys_) {
      found_.clear();
      for (std::size_t at = first_[bucket(key)]; at != nobody && found_.size() < most_alike; at = entries_[at].next)
        if (entries_[at].key == key) found_.push_back(entries_[at].place);
      for (auto place = found_.rbegin(); place != found_.rend(); ++place)  // as they were added
        if (visit(*place)) return;
    }
  }

 private:
  static constexpr std::size_t nobody = ~std::size_t{0}, most_alike = 500;
  struct Entry {
    std::uint64_t key;
    std::size_t place, next;
  };
  std::size_t bucket(std::uint64_t key) const { return (key * 0x9E3779B97F4A7C15ull >> 20) & (first_.size() - 1); }
  const MergeRules<T>& rules_;
  std::vector<std::size_t> first_;  // entry of each bucket
  std::vector<Entry> entries_;
  std::vector<std::uint64_t> keys_;
  std::vector<std::size_t> found_;
};

// `step` is told how many lines are done now and then; when it says false, the lines behind are dropped.
template <class T>
void merge_lines(std::span<const T> there, std::vector<SheetLine<T>>& lines, const MergeRules<T>& rules,
                 const std::function<bool(std::size_t)>& step = {}) {
  KeyedPlaces<T> known(rules, there.size()), before_it(rules, lines.size());
  for (std::size_t i = 0; i < there.size(); ++i) known.add(there[i], i);
  T read;
  for (std::size_t at = 0; at < lines.size(); ++at) {
    if (step && at % 1000 == 0 && !step(at)) {
      lines.erase(lines.begin() + static_cast<std::ptrdiff_t>(at), lines.end());
      break;
    }
    SheetLine<T>& m = lines[at];
    if (!m.faults.empty()) {
      m.state = MergeState::faulty;
      continue;
    }
    known.candidates(m.value, [&](std::size_t i) {
      if (rules.same_thing(there[i], m.value)) m.target = i;
      return m.target.has_value();
    });
    if (m.target) {
      const T& before = there[*m.target];
      read = std::exchange(m.value, before);
      for (const Property<T>* p : m.given) p->set(m.value, p->get(read));
      if (rules.carry) rules.carry(m.value, read, m.given);
      m.changes = differences(before, m.value);
      // What a sheet can say beyond the properties.
      const std::span<const Property<T>> own = properties<T>();
      for (const Property<T>* p : m.given)
        if ((p < own.data() || p >= own.data() + own.size()) && !same_value(p->get(before), p->get(m.value)) &&
            !find_property<T>(p->key))
          m.changes.push_back(p);
      m.state = m.changes.empty() ? MergeState::same : MergeState::changed;
      if (m.state == MergeState::changed && rules.objection)
        if (m.why = rules.objection(before, m.value); !m.why.empty()) m.state = MergeState::conflict;
    }
    const T& said = m.target ? read : m.value;
    // Two lines for one thing that say different things.
    before_it.candidates(said, [&](std::size_t place) {
      SheetLine<T>& earlier = lines[place];
      if (!rules.same_thing(earlier.value, said)) return false;
      bool differs = false;
      for (const Property<T>* p : m.given) differs = differs || !same_value(p->get(earlier.value), p->get(m.value));
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
    before_it.add(said, at);
  }
}

}  // namespace pecorra
