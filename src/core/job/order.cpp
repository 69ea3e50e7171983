#include "core/job/order.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/operation/holes.h"

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
  std::vector<BoundHole> holes;
  bool at_hole_of(const Work& other) const {
    if (holes.empty() || other.holes.empty() || !plan.meets(other.plan)) return false;
    const HolePlaces places(holes);
    return std::any_of(other.holes.begin(), other.holes.end(),
                       [&](const BoundHole& hole) { return places.any_at(hole.at); });
  }
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
    OperationInput input = input_of(job, index, o, PathRules{}, unused);
    w.plan = reach_of(o, input);
    w.holes = std::move(input.holes);
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
    if (a.stage != b.stage && (face || share(a, b) || a.at_hole_of(b)))
      before.add(a.stage < b.stage ? i : k, a.stage < b.stage ? k : i);
  });
  each_pair([&](std::size_t i, std::size_t k, const Work& a, const Work& b) {
    if (a.setup != b.setup) return;
    // Holes of different features never meet; mills that meet are kept in order.
    const bool holes = is_round(job.operations[i]) && is_round(job.operations[k]);
    if (share(a, b) || (holes ? a.at_hole_of(b) : a.plan.meets(b.plan))) before.add(i, k);
  });
  return before.pairs();
}

namespace {

std::string called(const Operation& o) { return o.name.empty() ? std::string(label_of(o.path)) : o.name; }

// Where an operation works, in the plan, without the way of its cutter.
Box ground_of(const OperationInput& input) {
  std::optional<Box> box;
  const auto take = [&](const Box& b) {
    box = box ? Box{std::min(box->low_x, b.low_x), std::min(box->low_y, b.low_y), std::max(box->high_x, b.high_x),
                    std::max(box->high_y, b.high_y)}
              : b;
  };
  for (const BoundLine& line : input.lines) take(bounds(line.contour));
  for (const BoundPocket& pocket : input.pockets) take(bounds(pocket.outline));
  for (const BoundHole& hole : input.holes) take(Box{hole.at.x, hole.at.y, hole.at.x, hole.at.y});
  return box.value_or(input.stock);
}

bool overlap(const Box& a, const Box& b) {
  constexpr double least_mm = 1e-6;
  return a.low_x < b.high_x - least_mm && b.low_x < a.high_x - least_mm && a.low_y < b.high_y - least_mm &&
         b.low_y < a.high_y - least_mm;
}

bool is_same(const Box& a, const Box& b) {
  constexpr double near_mm = 0.02;
  return std::abs(a.low_x - b.low_x) < near_mm && std::abs(a.low_y - b.low_y) < near_mm &&
         std::abs(a.high_x - b.high_x) < near_mm && std::abs(a.high_y - b.high_y) < near_mm;
}

// What one operation needs and leaves, and where.
struct Standing {
  const Operation* o = nullptr;
  const OperationInput* input = nullptr;
  const Setup* setup = nullptr;
  WorkStates needs = 0, leaves = 0;
  Box ground;
  std::vector<Box> shapes;  // of its outlines
  std::set<std::string> keys;
  double top = 0, bottom = 0;
  bool through = false;  // it ends where the stock does, from wherever its depth counts
};

Standing standing_of(const Operation& o, const OperationInput& input, const Setup* setup) {
  Standing s{&o, &input, setup, declaration(o.path).needs(o), declaration(o.path).leaves(o), ground_of(input), {}, {}};
  s.top = top_of(o, input);
  const auto depth = depth_of(o, input);
  s.bottom = s.top - depth.value_or(0) + o.leave_floor_mm.value_or(0);
  const bool all_through = !input.holes.empty() && std::all_of(input.holes.begin(), input.holes.end(),
                                                               [](const BoundHole& hole) { return hole.through; });
  s.through = !depth || (all_through && !o.depth_mm && s.bottom <= input.stock_bottom + 1e-6) ||
              (input.stock_top > input.stock_bottom && s.bottom <= input.stock_bottom + 1e-6);
  for (const BoundLine& line : input.lines) s.shapes.push_back(bounds(line.contour)), s.keys.insert(line.key);
  for (const BoundPocket& pocket : input.pockets) s.shapes.push_back(bounds(pocket.outline)), s.keys.insert(pocket.key);
  return s;
}

// Holes of both at one place, within a hundredth.
bool share_a_hole(const OperationInput& a, const OperationInput& b) {
  if (a.holes.empty() || b.holes.empty()) return false;
  const bool less = a.holes.size() < b.holes.size();
  const HolePlaces places(less ? b.holes : a.holes);
  const std::vector<BoundHole>& few = less ? a.holes : b.holes;
  return std::any_of(few.begin(), few.end(), [&](const BoundHole& hole) { return places.any_at(hole.at); });
}

// Whether both work at one place for what one leaves and the other needs.
bool at_one_place(const Standing& needing, const Standing& leaving, WorkStates state) {
  if (state == faced) return overlap(needing.ground.grown(1e-5), leaving.ground);
  if (state == hole_made || state == marked) return share_a_hole(*needing.input, *leaving.input);
  return std::any_of(needing.shapes.begin(), needing.shapes.end(), [&](const Box& a) {
    return std::any_of(leaving.shapes.begin(), leaving.shapes.end(), [&](const Box& b) { return is_same(a, b); });
  });
}

}  // namespace

std::optional<double> faced_top(const Job& job, const Setup* setup, const OperationInput& input, std::size_t before) {
  std::optional<double> lowest;
  const JobIndex index(job);
  for (std::size_t i = 0; i < before && i < job.operations.size(); ++i) {
    const Operation& o = job.operations[i];
    if (!(declaration(o.path).leaves(o) & faced) || setup_of(job, o) != setup) continue;
    std::vector<Message> unused;
    const OperationInput its = input_of(job, index, o, PathRules{}, unused);
    const Standing face = standing_of(o, its, setup);
    if (overlap(ground_of(input).grown(1e-5), face.ground) && face.bottom < face.top)
      lowest = std::min(lowest.value_or(face.bottom), face.bottom);
  }
  return lowest;
}

std::vector<std::vector<Message>> order_faults(const Job& job, const std::vector<const OperationInput*>& inputs) {
  const std::size_t count = job.operations.size();
  std::vector<std::vector<Message>> faults(count);
  std::vector<Standing> all;
  all.reserve(count);
  for (std::size_t i = 0; i < count; ++i)
    all.push_back(standing_of(job.operations[i], *inputs[i], setup_of(job, job.operations[i])));
  const auto leaving = [&](std::size_t of, std::size_t from, std::size_t to, WorkStates state) {
    for (std::size_t k = from; k < to; ++k)
      if ((all[k].leaves & state) && k != of && all[k].setup == all[of].setup && at_one_place(all[of], all[k], state))
        return std::optional(k);
    return std::optional<std::size_t>();
  };
  static constexpr std::pair<WorkStates, const char*> states[] = {
      {faced, "faced"}, {marked, "marked"}, {hole_made, "hole"}, {roughed, "roughed"}};
  for (std::size_t i = 0; i < count; ++i) {
    const Standing& s = all[i];
    for (const auto& [state, name] : states) {
      if (!(s.needs & state)) continue;
      const auto later = leaving(i, i + 1, count, state);
      if (!later) continue;
      const bool skims = state == faced && only_finishes(*all[*later].o);
      if ((state != faced || skims) && leaving(i, 0, i, state)) continue;
      if (state == faced && all[*later].bottom >= s.top - 1e-6) continue;
      faults[i].push_back({Severity::error,
                           "comes_too_early",
                           "order",
                           {{"first", called(job.operations[*later])},
                            {"number", static_cast<double>(*later + 1)},
                            {"leaves", std::string(name)}}});
    }
    if (!(s.needs & faced) || s.through) continue;
    // The lowest face before it whose floor is below the height that its depth counts from.
    std::optional<std::size_t> lowest;
    for (std::size_t k = 0; k < i; ++k)
      if ((all[k].leaves & faced) && all[k].setup == s.setup && all[k].bottom < s.top - 1e-6 &&
          at_one_place(s, all[k], faced) && (!lowest || all[k].bottom < all[*lowest].bottom))
        lowest = k;
    if (lowest)
      faults[i].push_back({Severity::warning,
                           "surface_is_gone",
                           "top_mm",
                           {{"face", called(job.operations[*lowest])},
                            {"number", static_cast<double>(*lowest + 1)},
                            {"top_mm", s.top},
                            {"faced_mm", all[*lowest].bottom},
                            {"short_mm", s.top - all[*lowest].bottom}}});
  }
  return faults;
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
