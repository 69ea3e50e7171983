#include "core/operation/holes.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <map>
#include <numbers>
#include <unordered_map>

#include "core/base/whole.h"
#include "core/cutter/kinds.h"
#include "core/geometry/region.h"

namespace pecorra {
namespace {

constexpr int neighbours = 8;
constexpr std::uint32_t nobody = 0xFFFFFFFF;

double between(Point2 a, Point2 b) { return std::hypot(a.x - b.x, a.y - b.y); }

// Places sorted into square cells, about two in each.
class Cells {
 public:
  explicit Cells(const std::vector<Point2>& places) : places_(places) {
    low_ = {places[0].x, places[0].y};
    Point2 high = low_;
    for (const Point2& p : places) {
      low_ = {std::min(low_.x, p.x), std::min(low_.y, p.y)};
      high = {std::max(high.x, p.x), std::max(high.y, p.y)};
    }
    const double n = static_cast<double>(places.size()), wide = high.x - low_.x, deep = high.y - low_.y;
    size_ = std::max({std::sqrt(wide * deep * 2 / n), std::max(wide, deep) * 2 / n, 1e-9});
    columns_ = 1 + whole_within(wide / size_, 0, 1 << 20);
    rows_ = 1 + whole_within(deep / size_, 0, 1 << 20);
    cells_.resize(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_));
    for (std::uint32_t i = 0; i < places.size(); ++i) cell_of(places[i]).push_back(i);
  }

  void remove(std::uint32_t i) { std::erase(cell_of(places_[i]), i); }

  // Calls for all in rings of cells around a place until `enough(least distance of the next ring)`.
  template <class Call, class Enough>
  void around(Point2 p, Call&& call, Enough&& enough) const {
    const int column = column_of(p), row = row_of(p);
    for (int ring = 0; ring <= std::max(columns_, rows_); ++ring) {
      for (int y = std::max(0, row - ring); y <= std::min(rows_ - 1, row + ring); ++y) {
        const bool edge = y == row - ring || y == row + ring;
        for (int x = column - ring; x <= column + ring; x += edge || ring == 0 ? 1 : 2 * ring)
          if (x >= 0 && x < columns_)
            for (const std::uint32_t i : cells_[at(x, y)]) call(i);
      }
      if (enough(ring * size_)) return;
    }
  }

 private:
  int column_of(Point2 p) const { return whole_within((p.x - low_.x) / size_, 0, columns_ - 1); }
  int row_of(Point2 p) const { return whole_within((p.y - low_.y) / size_, 0, rows_ - 1); }
  std::size_t at(int x, int y) const {
    return static_cast<std::size_t>(y) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(x);
  }
  std::vector<std::uint32_t>& cell_of(Point2 p) { return cells_[at(column_of(p), row_of(p))]; }

  const std::vector<Point2>& places_;
  Point2 low_;
  double size_ = 1;
  int columns_ = 1, rows_ = 1;
  std::vector<std::vector<std::uint32_t>> cells_;
};

// The way as a ring that is closed by a place which is nowhere: no distance leads to it or from it, so that the ends
// are free.
class Shortener {
 public:
  Shortener(const std::vector<Point2>& places, std::vector<std::uint32_t> order)
      : places_(places), ring_(std::move(order)), n_(static_cast<std::uint32_t>(places.size()) + 1) {
    ring_.push_back(n_ - 1);
    place_.resize(n_);
    for (std::uint32_t i = 0; i < n_; ++i) place_[ring_[i]] = i;
    const Cells cells(places);
    near_.assign(static_cast<std::size_t>(n_) * neighbours, nobody);
    std::vector<std::pair<double, std::uint32_t>> found;
    for (std::uint32_t i = 0; i + 1 < n_; ++i) {
      found.clear();
      cells.around(
          places[i],
          [&](std::uint32_t k) {
            if (k != i) found.emplace_back(between(places[i], places[k]), k);
          },
          [&](double least) {
            return found.size() >= neighbours && std::count_if(found.begin(), found.end(), [&](const auto& f) {
                                                   return f.first <= least;
                                                 }) >= neighbours;
          });
      const std::size_t count = std::min<std::size_t>(neighbours, found.size());
      std::partial_sort(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(count), found.end());
      for (std::size_t k = 0; k < count; ++k) near_[std::size_t{i} * neighbours + k] = found[k].second;
    }
  }

  std::vector<std::uint32_t> run() {
    std::vector<std::uint32_t> waiting(ring_.begin(), ring_.end());
    std::vector<bool> waits(n_, true);
    // Turning round long stretches costs most of the time with very many places.
    longest_ = n_ > 20000 ? 1000 : n_;
    for (std::size_t at = 0; at < waiting.size() && waiting.size() < std::size_t{60} * n_; ++at) {
      const std::uint32_t a = waiting[at];
      waits[a] = false;
      touched_.clear();
      while (a != n_ - 1 && (reverse_better(a) || move_better(a))) {
      }
      for (const std::uint32_t t : touched_)
        if (!waits[t]) waits[t] = true, waiting.push_back(t);
    }
    std::vector<std::uint32_t> order;
    for (std::uint32_t i = 1; i < n_; ++i) order.push_back(ring_[(place_[n_ - 1] + i) % n_]);
    return order;
  }

 private:
  double d(std::uint32_t a, std::uint32_t b) const {
    return a == n_ - 1 || b == n_ - 1 ? 0 : between(places_[a], places_[b]);
  }
  std::uint32_t after(std::uint32_t a) const { return ring_[place_[a] + 1 == n_ ? 0 : place_[a] + 1]; }
  std::uint32_t before(std::uint32_t a) const { return ring_[place_[a] == 0 ? n_ - 1 : place_[a] - 1]; }
  void touch(std::initializer_list<std::uint32_t> list) { touched_.insert(touched_.end(), list); }

  // Turns round the stretch from place i to place j of the ring, or what is left of it, whichever is shorter.
  bool turn(std::uint32_t i, std::uint32_t j) {
    std::uint32_t inside = (j + n_ - i) % n_ + 1;
    if (2 * inside > n_) {
      const std::uint32_t k = i;
      i = (j + 1) % n_;
      j = (k + n_ - 1) % n_;
      inside = n_ - inside;
    }
    if (inside > longest_) return false;
    for (std::uint32_t k = 0; k < inside / 2; ++k) {
      std::swap(ring_[i], ring_[j]);
      place_[ring_[i]] = i;
      place_[ring_[j]] = j;
      i = i + 1 == n_ ? 0 : i + 1;
      j = j == 0 ? n_ - 1 : j - 1;
    }
    return true;
  }

  // 2-opt: a joined with a neighbour, on either side.
  bool reverse_better(std::uint32_t a) {
    for (const bool forward : {true, false}) {
      const std::uint32_t b = forward ? after(a) : before(a);
      const double ab = d(a, b);
      for (int k = 0; k < neighbours; ++k) {
        const std::uint32_t c = near_[std::size_t{a} * neighbours + static_cast<std::size_t>(k)];
        if (c == nobody) break;
        const double ac = d(a, c);
        // The way may end at `a`: then any neighbour can be joined to it.
        if (ac >= ab && b != n_ - 1) break;
        const std::uint32_t e = forward ? after(c) : before(c);
        if (e == a || c == b) continue;
        if (ab + d(c, e) - ac - d(b, e) < 1e-9) continue;
        const bool done = forward ? turn(place_[b], place_[c]) : turn(place_[c], place_[b]);
        if (!done) continue;
        touch({a, b, c, e});
        return true;
      }
    }
    return false;
  }

  // Or-opt: one to three places that begin or end at `a`, moved to beside a neighbour.
  bool move_better(std::uint32_t a) {
    for (std::uint32_t length = 1; length <= 3; ++length)
      for (const bool forward : {true, false}) {
        std::uint32_t far = a;
        bool whole = true;
        for (std::uint32_t k = 1; k < length && whole; ++k) {
          far = forward ? after(far) : before(far);
          whole = far != n_ - 1;
        }
        if (!whole) continue;
        const std::uint32_t outer = forward ? before(a) : after(a), beyond = forward ? after(far) : before(far);
        if (outer == far || beyond == a || outer == beyond) continue;
        const double saved = d(outer, a) + d(far, beyond) - d(outer, beyond);
        if (saved < 1e-9) continue;
        for (int k = 0; k < neighbours; ++k) {
          const std::uint32_t c = near_[std::size_t{a} * neighbours + static_cast<std::size_t>(k)];
          if (c == nobody || d(a, c) >= saved) break;
          if (in_stretch(c, a, far, forward)) continue;
          for (const bool behind : {true, false}) {
            // Between c and e, with `a` beside c.
            const std::uint32_t e = behind ? after(c) : before(c);
            if (in_stretch(e, a, far, forward)) continue;
            if (saved - (d(c, a) + d(far, e) - d(c, e)) < 1e-9) continue;
            if (!put_between(a, far, forward, c, e, behind)) continue;
            touch({a, far, outer, beyond, c, e});
            return true;
          }
        }
      }
    return false;
  }

  bool in_stretch(std::uint32_t x, std::uint32_t a, std::uint32_t far, bool forward) const {
    const std::uint32_t from = place_[forward ? a : far], to = place_[forward ? far : a];
    return (place_[x] + n_ - from) % n_ <= (to + n_ - from) % n_;
  }

  // By turning stretches round: what lies between is short for a neighbour, or it is not done.
  bool put_between(std::uint32_t a, std::uint32_t far, bool forward, std::uint32_t c, std::uint32_t e, bool behind) {
    const std::uint32_t first = forward ? a : far, last = forward ? far : a;  // of the stretch, along the ring
    const std::uint32_t left = behind ? c : e, right = behind ? e : c;        // where it goes, along the ring
    const bool beside_left = left == c;                                       // `a` is to stand beside `left`
    const auto length = [&](std::uint32_t from, std::uint32_t to) { return (place_[to] + n_ - place_[from]) % n_ + 1; };
    if (last == left || first == right) return false;
    const bool right_of = length(last, left) <= length(right, first);
    const std::uint32_t mid_first = right_of ? after(last) : right, mid_last = right_of ? left : before(first);
    if (length(mid_first, mid_last) > longest_) return false;
    // Stretch and what lies between change places: all of it turned round, then each part.
    const std::uint32_t i = place_[right_of ? first : mid_first], j = place_[right_of ? mid_last : last];
    turn_exactly(i, j);
    turn_exactly(place_[mid_last], place_[mid_first]);
    // Now the stretch runs backwards, `last` beside `left`.
    if ((last == a) != beside_left) turn_exactly(place_[last], place_[first]);
    return true;
  }

  // Exactly this stretch, so that the places of what is around it stay.
  void turn_exactly(std::uint32_t i, std::uint32_t j) {
    for (std::uint32_t k = ((j + n_ - i) % n_ + 1) / 2; k > 0; --k) {
      std::swap(ring_[i], ring_[j]);
      place_[ring_[i]] = i;
      place_[ring_[j]] = j;
      i = i + 1 == n_ ? 0 : i + 1;
      j = j == 0 ? n_ - 1 : j - 1;
    }
  }

  const std::vector<Point2>& places_;
  std::vector<std::uint32_t> ring_, place_, near_, touched_;
  std::uint32_t n_, longest_ = 0;
};

// Where a straight way at some height meets a clamp.
class KeepOuts {
 public:
  KeepOuts(const OperationInput& input, double radius) : step_(std::max(0.2, radius / 2)) {
    for (const KeepOut& clamp : input.keep_outs) {
      Area area{Region::inside({flattened(clamp.outline, 0.01)}).offset(radius), bounds(clamp.outline), clamp.top_z};
      area.box = area.box.grown(radius);
      areas_.push_back(std::move(area));
    }
  }
  bool free(Point2 a, Point2 b, double z) const {
    const Box way{std::min(a.x, b.x), std::min(a.y, b.y), std::max(a.x, b.x), std::max(a.y, b.y)};
    for (const Area& area : areas_) {
      if (z >= area.top_z || !area.box.meets(way)) continue;
      const int steps = whole_within(std::ceil(between(a, b) / step_), 1, 1 << 16);
      for (int i = 0; i <= steps; ++i) {
        const double t = static_cast<double>(i) / steps;
        if (area.region.contains({a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t})) return false;
      }
    }
    return true;
  }

 private:
  struct Area {
    Region region;
    Box box;
    double top_z;
  };
  double step_;
  std::vector<Area> areas_;
};

}  // namespace

std::vector<std::uint32_t> nearest_next(const std::vector<Point2>& places) {
  std::vector<std::uint32_t> order;
  if (places.empty()) return order;
  Cells left(places);
  Point2 at{0, 0};
  order.reserve(places.size());
  while (order.size() < places.size()) {
    std::uint32_t best = nobody;
    double least = 0;
    left.around(
        at,
        [&](std::uint32_t i) {
          const double here = between(at, places[i]);
          if (best != nobody && (here > least || (here == least && i > best))) return;
          best = i;
          least = here;
        },
        [&](double beyond) { return best != nobody && (least <= beyond || order.empty()); });
    order.push_back(best);
    left.remove(best);
    at = places[best];
  }
  return order;
}

double length_of_way(const std::vector<Point2>& places, const std::vector<std::uint32_t>& order) {
  double length = 0;
  for (std::size_t i = 1; i < order.size(); ++i) length += between(places[order[i - 1]], places[order[i]]);
  return length;
}

std::vector<std::uint32_t> short_way(const std::vector<Point2>& given) {
  // Those at one place are one.
  std::map<std::pair<double, double>, std::vector<std::uint32_t>> at;
  for (std::uint32_t i = 0; i < given.size(); ++i) at[{given[i].x, given[i].y}].push_back(i);
  std::vector<Point2> places;
  std::vector<const std::vector<std::uint32_t>*> who;
  for (const auto& [place, all] : at) {
    places.push_back({place.first, place.second});
    who.push_back(&all);
  }
  std::vector<std::uint32_t> way = nearest_next(places), order;
  if (places.size() > 2) way = Shortener(places, std::move(way)).run();
  for (const std::uint32_t i : way) order.insert(order.end(), who[i]->begin(), who[i]->end());
  return order;
}

double depth_at(const Operation& o, const BoundHole& hole, double depth) {
  return o.depth_mm.value_or(hole.depth_mm.value_or(depth)) - o.leave_floor_mm.value_or(0);
}

void trace_holes(PathContext& c, const std::function<CycleCall(const BoundHole&)>& cycle_at) {
  const std::vector<BoundHole>& holes = c.input.holes;
  std::vector<Point2> places;
  for (const BoundHole& hole : holes) places.push_back(hole.at);
  const std::vector<std::uint32_t> order = short_way(places);
  const KeepOuts clamps(c.input, c.radius);
  Tracer& t = c.tracer;
  const auto made = [&](const BoundHole& hole) {
    CycleCall call = cycle_at(hole);
    if (call.kind == CycleKind::back_bore) return call;
    const double standing = t.stock().empty() ? c.top : t.stock().highest(hole.at, c.radius);
    call.retract_z = std::min(c.input.safe_z, std::max(c.top, standing) + 2 * c.input.rules.feed_height_mm);
    return call;
  };
  const auto is_free = [&](Point2 a, Point2 b, double z) {
    if (!clamps.free(a, b, z)) return false;
    if (z > c.input.stock_top || t.stock().empty()) return true;
    const int steps = whole_within(std::ceil(between(a, b) / (c.radius / 2)), 1, 1 << 16);
    for (int i = 0; i <= steps; ++i) {
      const double s = static_cast<double>(i) / steps;
      if (!t.is_clear({a.x + (b.x - a.x) * s, a.y + (b.y - a.y) * s}, z - 1e-3)) return false;
    }
    return true;
  };
  std::optional<CycleCall> next;
  for (std::size_t k = 0; k < order.size(); ++k) {
    const BoundHole& hole = holes[order[k]];
    CycleCall call = next ? *next : made(hole);
    next.reset();
    call.return_z = c.input.safe_z;
    if (k + 1 < order.size() && call.kind != CycleKind::back_bore) {
      const BoundHole& following = holes[order[k + 1]];
      next = made(following);
      if (next->retract_z == call.retract_z && is_free(hole.at, following.at, call.retract_z))
        call.return_z = call.retract_z;
    }
    if (k > 0 && t.z() < c.input.safe_z) t.move_over(hole.at);
    else t.move_above(hole.at);
    t.cycle(call);
    if (t.too_long()) return;
  }
}

void check_places(const OperationInput& input, std::vector<Message>& messages) {
  if (input.holes.empty()) messages.push_back({Severity::error, "no_holes", "features", {}});
  std::map<std::pair<long long, long long>, const BoundHole*> taken;
  for (const BoundHole& hole : input.holes) {
    const auto [there, is_new] =
        taken.emplace(std::pair{std::llround(hole.at.x * 1000), std::llround(hole.at.y * 1000)}, &hole);
    if (is_new) continue;
    messages.push_back(
        {Severity::warning,
         "holes_at_one_place",
         "features",
         {{"feature", there->second->key}, {"other", hole.key}, {"x_mm", hole.at.x}, {"y_mm", hole.at.y}}});
    return;
  }
}

HolesBefore::HolesBefore(const OperationInput& input) : drilled_(input.drilled) {
  for (std::size_t i = 0; i < drilled_.size(); ++i) places_.add(drilled_[i].at, i);
}

const DrilledHole* HolesBefore::at(Point2 place) const {
  const DrilledHole* deepest = nullptr;
  places_.at(place, [&](std::size_t i) {
    if (!deepest || drilled_[i].bottom_z < deepest->bottom_z) deepest = &drilled_[i];
  });
  return deepest;
}

void check_hole_before(const OperationInput& input, const BoundHole& hole, const DrilledHole* before, double bottom_z,
                       double lead_mm, std::vector<Message>& messages) {
  if (!before || bottom_z >= before->bottom_z - 1e-6) return;
  if (hole.through && before->bottom_z <= input.stock_bottom + 1e-6) return;
  if (std::any_of(messages.begin(), messages.end(), [](const Message& m) { return m.code == "deeper_than_hole"; }))
    return;
  const double hole_mm = input.stock_top - before->bottom_z;
  messages.push_back(
      {Severity::error,
       "deeper_than_hole",
       "depth_mm",
       {{"bottom_mm", input.stock_top - bottom_z}, {"hole_mm", hole_mm}, {"most_mm", hole_mm - lead_mm}}});
}

std::optional<double> cone_depth_mm(const Cutter& c, double diameter_mm) {
  const auto half = half_angle_deg(c);
  if (!half || !(*half > 0) || !(*half < 90)) return std::nullopt;
  return std::max(0.0, (diameter_mm - c.tip_diameter_mm.value_or(0)) / 2 / std::tan(*half * std::numbers::pi / 180));
}

double straight_depth_per_d(const Cutter& c, const WorkMaterial& material) {
  const bool hss = c.tool_material == ToolMaterial::hss || c.tool_material == ToolMaterial::hss_co ||
                   c.tool_material == ToolMaterial::hss_pm || !c.tool_material;
  const auto subgroup = subgroup_of(material);
  const bool sticky = material.group == MaterialGroup::M || material.group == MaterialGroup::S ||
                      subgroup == Subgroup::aluminium_wrought || subgroup == Subgroup::copper;
  if (c.through_coolant) return hss ? 5 : 12;
  return hss ? (sticky ? 2.5 : 3) : (sticky ? 4 : 5);
}

bool follows_cycle(const Operation& o) {
  return has_parameter(o.path, "cycle") && o.cycle == DrillCycle::automatic && !o.peck_mm;
}

void follow_manner(Operation& o) {
  if (!follows_cycle(o)) return;
  o.cycle = o.operation == OperationKind::peck ? DrillCycle::peck : DrillCycle::straight;
}

DrillCycle cycle_for(double depth, double diameter, const std::optional<double>& straight) {
  constexpr double chips_break_per_d = 2;
  if (!straight || depth <= *straight * (1 + 1e-6)) return DrillCycle::straight;
  return depth <= *straight + chips_break_per_d * diameter + 1e-6 ? DrillCycle::chip_break : DrillCycle::peck;
}

double bottom_dwell_s(const PathContext& c) {
  const double n = c.tracer.feeds().n;
  if (c.operation.dwell_s || !(n > 0)) return c.operation.dwell_s.value_or(0);
  return std::ceil(c.input.rules.dwell_turns * 60 / n * 10 - 1e-9) / 10;
}

void misfits_size(const Cutter& cutter, double wanted_mm, double tolerance_mm, std::vector<Message>& messages) {
  const double over = *cutter.diameter_mm - wanted_mm;
  if (std::abs(over) <= tolerance_mm) return;
  messages.push_back({Severity::error,
                      over > 0 ? "cutter_over_hole" : "cutter_under_hole",
                      "diameter_mm",
                      {{"cutter_mm", *cutter.diameter_mm}, {"hole_mm", wanted_mm}}});
}

bool is_fine(const std::string& tolerance) {
  const auto digit = std::find_if(tolerance.begin(), tolerance.end(), [](char c) { return c >= '0' && c <= '9'; });
  return digit != tolerance.end() && std::atoi(&*digit) <= 9;
}

std::vector<std::string> holes_offered(const Offer& offer, const Feature** feature) {
  for (const Feature* f : offer.features)
    if (f->kind == FeatureKind::holes) {
      if (feature) *feature = f;
      return {f->key};
    }
  std::vector<std::string> most;
  for (const OfferedLine& line : offer.lines) {
    if (line.diameter_mm <= 0) continue;
    std::vector<std::string> alike;
    for (const OfferedLine& other : offer.lines)
      if (std::abs(other.diameter_mm - line.diameter_mm) < 1e-4) alike.push_back(other.key);
    if (alike.size() > most.size()) most = std::move(alike);
  }
  return most;
}

std::vector<std::string> holes_to_depth(const Offer& offer, Operation& o) {
  const Feature* f = nullptr;
  std::vector<std::string> holes = holes_offered(offer, &f);
  if (!(f && (f->depth_mm || f->through)) && offer.stock_height_mm > 0) o.depth_mm = offer.stock_height_mm;
  return holes;
}

double half_the_cutter(const Operation& o, const OperationInput&) { return o.cutter.diameter_mm.value_or(0) / 2; }

}  // namespace pecorra
