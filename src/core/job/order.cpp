#include "core/job/order.h"

#include <algorithm>
#include <map>
#include <set>

namespace pecorra {
namespace {

// What is done to one place in this order. Equal: as it stands.
int stage_of(const Operation& o) {
  switch (o.path) {
    case PathKind::face: return 0;
    case PathKind::spot:
    case PathKind::centre: return 2;
    case PathKind::drill: return 3;
    case PathKind::helical_bore: return 4;
    case PathKind::counterbore:
    case PathKind::countersink:
    case PathKind::back_bore: return 6;
    case PathKind::bore:
    case PathKind::ream: return 7;
    case PathKind::tap: return 8;
    case PathKind::profile:
    case PathKind::slot:
    case PathKind::pocket: break;
  }
  const bool finishes = o.operation == OperationKind::side_finish || o.operation == OperationKind::floor_finish ||
                        o.operation == OperationKind::surface_finish;
  return finishes ? 5 : 1;
}

bool is_round(const Operation& o) { return stage_of(o) >= 2 && stage_of(o) != 5; }

struct Work {
  const Setup* setup = nullptr;
  std::set<std::string> features;
  Box plan;
  int stage = 0;
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
  std::map<Id, std::size_t> places;
  for (std::size_t i = 0; i < job.operations.size(); ++i) places[job.operations[i].id] = i;
  std::vector<std::pair<std::size_t, std::size_t>> out;
  for (std::size_t i = 0; i < works.size(); ++i)
    for (std::size_t k = i + 1; k < works.size(); ++k) {
      const Work &a = works[i], &b = works[k];
      if (a.setup != b.setup) {
        out.emplace_back(i, k);
        continue;
      }
      // Holes of different features never meet; mills that meet are kept in order.
      const bool same = share(a, b);
      const bool meets =
          same || (a.plan.meets(b.plan) && !(is_round(job.operations[i]) && is_round(job.operations[k])));
      const bool face = (a.stage == 0) != (b.stage == 0);
      if (!meets && !face) continue;
      const bool turned = (same || face) && a.stage > b.stage;
      out.emplace_back(turned ? k : i, turned ? i : k);
    }
  for (std::size_t i = 0; i < job.operations.size(); ++i)
    if (const auto before = places.find(job.operations[i].behind); before != places.end() && before->second != i)
      out.emplace_back(before->second, i);
  return out;
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
  // Empty: the dependencies go round in a circle.
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
