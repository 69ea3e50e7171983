#include "core/job/order.h"

#include <algorithm>
#include <map>
#include <set>

namespace pecorra {
namespace {

// What is done to one place in this order. Equal: as it stands.
int stage_of(const Operation& o) {
  constexpr int cutting = 1, finishing = 5;
  const int stage = declaration(o.path).stage;
  const bool finishes = o.operation == OperationKind::side_finish || o.operation == OperationKind::floor_finish ||
                        o.operation == OperationKind::surface_finish;
  return stage == cutting && finishes ? finishing : stage;
}

bool is_round(const Operation& o) { return declaration(o.path).takes(Role::hole); }

struct Work {
  const Setup* setup = nullptr;
  std::set<std::string> features;
  Box plan;
  int stage = 0;
};

// What comes before what, without going round in a circle: what contradicts what is there is left out.
class Before {
 public:
  explicit Before(std::size_t count) : reached_(count, std::vector<bool>(count)) {}
  void add(std::size_t first, std::size_t then) {
    if (first == then || reached_[then][first] || reached_[first][then]) return;
    pairs_.emplace_back(first, then);
    for (std::size_t i = 0; i < reached_.size(); ++i) {
      if (i != first && !reached_[i][first]) continue;
      reached_[i][then] = true;
      for (std::size_t k = 0; k < reached_.size(); ++k)
        if (reached_[then][k]) reached_[i][k] = true;
    }
  }
  std::vector<std::pair<std::size_t, std::size_t>> pairs() { return std::move(pairs_); }

 private:
  std::vector<std::vector<bool>> reached_;
  std::vector<std::pair<std::size_t, std::size_t>> pairs_;
};

bool share(const Work& a, const Work& b) {
  return std::any_of(a.features.begin(), a.features.end(),
                     [&](const std::string& f) { return b.features.contains(f); });
}

}  // namespace

std::vector<std::pair<std::size_t, std::size_t>> dependencies_of(const Job& job) {
  std::vector<Work> works;
  const JobIndex index(job);
  for (const Operation& o : job.operations) {
    Work w;
    w.setup = setup_of(job, o);
    w.stage = stage_of(o);
    for (const FeatureUse& use : o.features) {
      w.features.insert(use.key);
      // Holes at circles of a drawing, pockets within lines: the lines count as well.
      if (const Feature* f = index.feature(use.key)) {
        if (!f->outline.key.empty()) w.features.insert(f->outline.key);
        for (const FeatureUse& circle : f->circles) w.features.insert(circle.key);
      }
    }
    std::vector<Message> unused;
    w.plan = reach_of(o, input_of(job, index, o, PathRules{}, unused));
    works.push_back(std::move(w));
  }
  const std::size_t count = works.size();
  Before before(count);
  std::map<Id, std::size_t> places;
  for (std::size_t i = 0; i < count; ++i) places[job.operations[i].id] = i;
  // What somebody says goes first, then what the work itself asks for, then how it stands.
  for (std::size_t i = 0; i < count; ++i)
    if (const auto first = places.find(job.operations[i].behind); first != places.end()) before.add(first->second, i);
  const auto each_pair = [&](auto&& call) {
    for (std::size_t i = 0; i < count; ++i)
      for (std::size_t k = i + 1; k < count; ++k) call(i, k, works[i], works[k]);
  };
  each_pair([&](std::size_t i, std::size_t k, const Work& a, const Work& b) {
    if (a.setup != b.setup) return before.add(i, k);
    const bool face = (a.stage == 0) != (b.stage == 0);
    if (a.stage != b.stage && (face || share(a, b))) before.add(a.stage < b.stage ? i : k, a.stage < b.stage ? k : i);
  });
  each_pair([&](std::size_t i, std::size_t k, const Work& a, const Work& b) {
    if (a.setup != b.setup) return;
    // Holes of different features never meet; mills that meet are kept in order.
    const bool holes = is_round(job.operations[i]) && is_round(job.operations[k]);
    if (share(a, b) || (!holes && a.plan.meets(b.plan))) before.add(i, k);
  });
  return before.pairs();
}

int changes_in(const std::vector<int>& cutters, const std::vector<std::size_t>& order) {
  int changes = 0;
  for (std::size_t i = 0; i < order.size(); ++i)
    if (i == 0 || cutters[order[i]] != cutters[order[i - 1]]) ++changes;
  return changes;
}

namespace {

class Search {
 public:
  Search(std::size_t count, const std::vector<int>& cutters,
         const std::vector<std::pair<std::size_t, std::size_t>>& dependencies)
      : cutters_(cutters), before_(count), after_(count) {
    for (const auto& [first, then] : dependencies) {
      if (after_[first].insert(then).second) ++before_[then];
    }
  }
  // Empty: none with fewer changes was found in the time there is.
  std::vector<std::size_t> run(int most_changes) {
    best_changes_ = most_changes;
    State state{before_, {}, 0};
    state.done.assign(before_.size(), false);
    go(state, 0, -1);
    return best_;
  }

 private:
  struct State {
    std::vector<int> open;  // what each still waits for
    std::vector<bool> done;
    std::size_t count = 0;
  };

  void do_all(State& state, int cutter, std::vector<std::size_t>& order) const {
    for (bool any = true; any;) {
      any = false;
      for (std::size_t i = 0; i < before_.size(); ++i) {
        if (state.done[i] || state.open[i] > 0 || cutters_[i] != cutter) continue;
        state.done[i] = any = true;
        ++state.count;
        order.push_back(i);
        for (const std::size_t then : after_[i]) --state.open[then];
      }
    }
  }

  // At least so many changes are to come: each cutter that is still needed, once.
  int least(const State& state) const {
    std::set<int> needed;
    for (std::size_t i = 0; i < before_.size(); ++i)
      if (!state.done[i]) needed.insert(cutters_[i]);
    return static_cast<int>(needed.size());
  }

  void go(const State& state, int changes, int now) {
    if (state.count == before_.size()) {
      if (changes < best_changes_) best_changes_ = changes, best_ = order_;
      return;
    }
    if (++looked_ > most_looked || changes + least(state) >= best_changes_) return;
    if (const auto [seen, fresh] = seen_.try_emplace(state.done, changes); !fresh) {
      if (seen->second <= changes) return;
      seen->second = changes;
    }
    // Those that do most at once first; a tie goes to the one that stands first.
    struct Next {
      int cutter;
      State state;
      std::vector<std::size_t> order;
    };
    std::vector<Next> nexts;
    std::set<int> tried;
    for (std::size_t i = 0; i < before_.size(); ++i) {
      if (state.done[i] || state.open[i] > 0 || cutters_[i] == now || !tried.insert(cutters_[i]).second) continue;
      Next next{cutters_[i], state, {}};
      do_all(next.state, next.cutter, next.order);
      nexts.push_back(std::move(next));
    }
    std::stable_sort(nexts.begin(), nexts.end(),
                     [](const Next& a, const Next& b) { return a.order.size() > b.order.size(); });
    for (const Next& next : nexts) {
      order_.insert(order_.end(), next.order.begin(), next.order.end());
      go(next.state, changes + 1, next.cutter);
      order_.resize(order_.size() - next.order.size());
    }
  }

  static constexpr int most_looked = 60000;
  const std::vector<int>& cutters_;
  std::vector<int> before_;
  std::vector<std::set<std::size_t>> after_;
  std::map<std::vector<bool>, int> seen_;
  std::vector<std::size_t> order_, best_;
  int best_changes_ = 0, looked_ = 0;
};

}  // namespace

OperationOrder fewest_changes(const Job& job, const std::vector<int>& cutters) {
  OperationOrder out;
  for (std::size_t i = 0; i < job.operations.size(); ++i) out.places.push_back(i);
  out.changes_before = out.changes = changes_in(cutters, out.places);
  const auto dependencies = dependencies_of(job);
  // A tap before its drill is put right even where that costs a change.
  const bool stands =
      std::none_of(dependencies.begin(), dependencies.end(), [](const auto& d) { return d.first > d.second; });
  const std::vector<std::size_t> found =
      Search(job.operations.size(), cutters, dependencies)
          .run(stands ? out.changes_before : static_cast<int>(job.operations.size()) + 1);
  if (found.size() != job.operations.size() || found.empty()) return out;
  out.places = found;
  out.changes = changes_in(cutters, found);
  return out;
}

}  // namespace pecorra
