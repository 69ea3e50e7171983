// Lines of a sheet against what is there: new, changed, same, in conflict or faulty. Nothing is changed here; whoever uses
// it takes what was picked.
#pragma once

#include <algorithm>
#include <functional>
#include <optional>
#include <string>
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
  std::function<bool(const T&, const T&)> same_thing;
  // Why a change should not be made without looking; empty: it may.
  std::function<std::string(const T& before, const T& after)> objection;
  // What else goes with a value that was read, as texts as typed.
  std::function<void(T& after, const T& read)> carry;
};

template <class T>
std::vector<MergeLine<T>> merge_preview(const std::vector<T>& there, const std::vector<SheetLine<T>>& lines, const MergeRules<T>& rules) {
  std::vector<MergeLine<T>> out;
  for (const SheetLine<T>& read : lines) {
    MergeLine<T> m;
    m.line = read.line;
    m.after = read.value;
    m.faults = read.faults;
    if (!read.faults.empty()) {
      m.state = MergeState::faulty;
      out.push_back(std::move(m));
      continue;
    }
    for (std::size_t i = 0; i < there.size() && !m.target; ++i)
      if (rules.same_thing(there[i], read.value)) m.target = i;
    if (m.target) {
      const T& before = there[*m.target];
      m.after = before;
      for (const Property<T>* p : read.given) p->set(m.after, p->get(read.value));
      if (rules.carry) rules.carry(m.after, read.value);
      m.changes = differences(before, m.after);
      m.state = m.changes.empty() ? MergeState::same : MergeState::changed;
      if (m.state == MergeState::changed && rules.objection)
        if (m.why = rules.objection(before, m.after); !m.why.empty()) m.state = MergeState::conflict;
    }
    // Two lines for one thing that say different things.
    for (MergeLine<T>& earlier : out) {
      if (earlier.state == MergeState::faulty || !rules.same_thing(earlier.after, read.value)) continue;
      bool differs = false;
      for (const Property<T>* p : read.given) differs = differs || !same_value(p->get(earlier.after), p->get(m.after));
      if (!differs) {
        m.state = MergeState::same;
        continue;
      }
      m.state = earlier.state = MergeState::conflict;
      m.why = "line " + std::to_string(earlier.line) + " says something else";
      earlier.why = "line " + std::to_string(m.line) + " says something else";
      earlier.picked = false;
    }
    m.picked = m.state == MergeState::fresh || m.state == MergeState::changed;
    out.push_back(std::move(m));
  }
  return out;
}

}  // namespace pecorra
