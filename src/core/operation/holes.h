// What all kinds of hole-making share: the order of the holes, the heights of their cycles, and what is checked.
#pragma once

#include <cmath>
#include <functional>
#include <map>

#include "core/base/whole.h"
#include "core/material/work_material.h"
#include "core/operation/declaration.h"

namespace pecorra {

// Sizes closer than this are the same: of a drill and its hole, say.
inline constexpr double hole_size_tolerance_mm = 0.06;

// A short way from place to place: nearest next, then made shorter by 2-opt and or-opt moves among neighbours until
// none helps, or for very many places until so many have been tried. Both ends are free.
std::vector<std::uint32_t> short_way(const std::vector<Point2>& places);
// Nearest next, beginning at the place nearest to the origin.
std::vector<std::uint32_t> nearest_next(const std::vector<Point2>& places);
double length_of_way(const std::vector<Point2>& places, const std::vector<std::uint32_t>& order);

// Cuts all holes of the operation in a short order: `cycle_at` says what happens at each; heights of entry and return
// are found here. From hole to hole the tip stays low where nothing stands in the way.
void trace_holes(PathContext& context, const std::function<CycleCall(const BoundHole&)>& cycle_at);

// Of one hole: typed, else the feature's, else of the operation; less what is left on the floor.
double depth_at(const Operation& operation, const BoundHole& hole, double depth_mm);

// A size less what is left on the wall.
inline double left_of(const Operation& operation, double size_mm) {
  return size_mm - 2 * operation.leave_wall_mm.value_or(0);
}

// That there are holes, and no two at one place.
void check_places(const OperationInput& input, std::vector<Message>& messages);
// Places of holes; two within a hundredth of a millimetre are one.
class HolePlaces {
 public:
  HolePlaces() = default;
  explicit HolePlaces(const std::vector<BoundHole>& holes) {
    for (std::size_t i = 0; i < holes.size(); ++i) add(holes[i].at, i);
  }
  void add(Point2 at, std::size_t which) { cells_.emplace(cell(at.x, at.y), std::pair{at, which}); }
  // Calls for each that is there.
  template <class Call>
  void at(Point2 p, Call&& call) const {
    const auto [x, y] = cell(p.x, p.y);
    for (long long i = x - 1; i <= x + 1; ++i)
      for (long long k = y - 1; k <= y + 1; ++k)
        for (auto [from, to] = cells_.equal_range({i, k}); from != to; ++from)
          if (const auto& [there, which] = from->second; std::hypot(there.x - p.x, there.y - p.y) <= same_mm)
            call(which);
  }
  bool any_at(Point2 p) const {
    bool any = false;
    at(p, [&](std::size_t) { any = true; });
    return any;
  }

 private:
  static constexpr double same_mm = 0.01;
  static constexpr int farthest = 2'000'000'000;
  static std::pair<long long, long long> cell(double x, double y) {
    // Places come from files: one beyond any machine is as far as a cell goes.
    return {whole_within(std::floor(x / same_mm), -farthest, farthest),
            whole_within(std::floor(y / same_mm), -farthest, farthest)};
  }
  std::multimap<std::pair<long long, long long>, std::pair<Point2, std::size_t>> cells_;
};

// The deepest hole that was made at a place before, in this setup; none: taken as deep enough. Points into the input.
class HolesBefore {
 public:
  explicit HolesBefore(const OperationInput& input);
  const DrilledHole* at(Point2 place) const;

 private:
  const std::vector<DrilledHole>& drilled_;
  HolePlaces places_;
};
// `bottom_z` of the tip against the hole before: `deeper_than_hole`, with the depth that would be right.
void check_hole_before(const OperationInput& input, const BoundHole& hole, const DrilledHole* before, double bottom_z,
                       double lead_mm, std::vector<Message>& messages);

// A cone that is to be so wide at the top: how far its tip goes below. Nothing while angle or size is missing.
std::optional<double> cone_depth_mm(const Cutter& cutter, double diameter_mm);

// Deeper ones begin in a pilot hole so deep (common practice, no source).
inline constexpr double deepest_without_pilot_d = 10, pilot_d = 2;

// So many diameters deep a drill goes without clearing or breaking its chips (common practice, no source).
double straight_depth_per_d(const Cutter& cutter, const WorkMaterial& material);
// Whether depth, drill and material choose the cycle.
bool follows_cycle(const Operation& operation);
// The cycle that goes with a type somebody chose.
void follow_manner(Operation& operation);
// What an automatic cycle is at this depth: in one go as far as that goes, breaking chips for two diameters more, then
// pecking (common practice, no source).
DrillCycle cycle_for(double depth_mm, double diameter_mm, const std::optional<double>& straight_mm);

// At the bottom of a cone or a flat: typed, else so many turns, in tenths of a second.
double bottom_dwell_s(const PathContext& context);

// The size of the cutter against what is wanted, for automatic match: `cutter_over_hole` and `cutter_under_hole`.
void misfits_size(const Cutter& cutter, double wanted_mm, double tolerance_mm, std::vector<Message>& messages);

// Whether a hole of this tolerance is reamed or bored after drilling: up to grade 9 (common practice, no source).
bool is_fine(const std::string& tolerance);

// Holes that a proposal takes: the first feature of holes that nothing works on yet, else circles of the most frequent
// diameter.
std::vector<std::string> holes_offered(const Offer& offer, const Feature** feature = nullptr);

// The same, and how deep: through the stock, where the feature does not say.
std::vector<std::string> holes_to_depth(const Offer& offer, Operation& operation);

// How far beyond its places the path of a hole leads.
double half_the_cutter(const Operation& operation, const OperationInput& input);

}  // namespace pecorra
