// Along lines: around a part, inside an opening, or on the line itself.
#include <algorithm>
#include <cmath>

#include "core/operation/ring.h"

namespace pecorra {
namespace {

constexpr double arc_tolerance_mm = 0.001, flat_tolerance_mm = 0.0005;

Ring flat(const Contour& line) { return flattened(line, flat_tolerance_mm); }

// How far the stock reaches beyond what a part leaves of it.
double stock_beside(const Region& part, const std::vector<BoundLine>& lines, const Box& stock) {
  std::vector<Point2> edge;
  for (const BoundLine& line : lines)
    for (const Point2& p : flattened(line.contour, 0.05)) edge.push_back(p);
  const auto away = [&](Point2 p) {
    if (part.contains(p)) return 0.0;
    return std::min(1e300, distance_to_ring(p, edge));
  };
  double most = 0;
  constexpr int places = 24;
  for (int i = 0; i <= places; ++i) {
    const double x = stock.low_x + stock.width() * i / places, y = stock.low_y + stock.depth() * i / places;
    for (const Point2 p : {Point2{x, stock.low_y}, {x, stock.high_y}, {stock.low_x, y}, {stock.high_x, y}})
      most = std::max(most, away(p));
  }
  return most;
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  if (input.lines.empty()) messages.push_back({Severity::error, "no_contour", "features", {}});
  for (const BoundLine& line : input.lines) {
    if (o.where != ProfileWhere::along && !line.contour.closed)
      messages.push_back({Severity::error, "contour_open", "features", {{"contour", line.key}}});
    else if (o.where != ProfileWhere::along && !Region::simple(flat(line.contour)))
      messages.push_back({Severity::error, "contour_crosses_itself", "features", {{"contour", line.key}}});
  }
  const bool any_tab = o.tab_count.value_or(0) > 0 || !o.tabs_at.empty();
  if (any_tab && (!o.tab_width_mm || !o.tab_height_mm))
    messages.push_back({Severity::error, "missing", o.tab_width_mm ? "tab_height_mm" : "tab_width_mm", {}});
  if (any_tab && o.where == ProfileWhere::along)
    messages.push_back({Severity::warning, "no_tabs_along", "tab_count", {}});
  if (o.side_stock_mm && o.taken.ae_mm && *o.side_stock_mm / *o.taken.ae_mm > 10000)
    messages.push_back({Severity::error,
                        "too_many_passes",
                        "side_stock_mm",
                        {{"whole_mm", *o.side_stock_mm}, {"each_mm", *o.taken.ae_mm}}});
}

class Profile {
 public:
  explicit Profile(PathContext& c) : c_(c), climb_(climbs_with_m3(c.operation)) {
    for (const BoundLine& line : c.input.lines) rings_.push_back(flat(line.contour));
  }

  void run() {
    const Operation& o = c_.operation;
    if (o.where == ProfileWhere::along) return along();
    // Lines inside others are openings in the part, or islands in an opening.
    around_ = o.where == ProfileWhere::around;
    area_ = nested();
    const double width = std::max(0.01, std::min(o.taken.ae_mm.value_or(c_.radius), 2 * c_.radius));
    const double beside = around_ ? stock_beside(area_, c_.input.lines, c_.input.stock) : 0;
    const double stock =
        o.side_stock_mm.value_or(only_finishes(o) ? width : std::max(width, beside <= 2 * c_.radius ? beside : 0));
    const int passes = std::max(1, static_cast<int>(std::ceil(stock / width - 1e-9)));
    const double wall = o.leave_wall_mm.value_or(0), finish = o.finish_pass_mm.value_or(0);
    nearest_ = c_.radius + wall;
    if (rings_at(nearest_).empty()) return say_empty();
    const double depth = c_.depth - o.leave_floor_mm.value_or(0);
    const int levels = levels_of(depth, c_.depth_step_mm);
    const auto height = [&](int level, int of) { return c_.top - depth * level / of; };
    const bool finishes = o.operation == OperationKind::side_finish && finish <= 0 && passes == 1;
    for (int level = 0; level < levels; ++level)
      for (int pass = passes - 1; pass >= 0; --pass)
        if (!cut_at(nearest_ + finish + stock / passes * pass, height(level, levels), height(level + 1, levels),
                    finishes))
          return;
    if (finish <= 0 && o.spring_passes.value_or(0) == 0) return;
    const PathFeeds rough = c_.tracer.feeds();
    if (finish > 0) take_feeds(c_, o.taken_finish);
    const double step = finishing_step(o, depth);
    const int steps = levels_of(depth, std::max(step, 0.01));
    for (int pass = finish > 0 ? 0 : 1; pass <= o.spring_passes.value_or(0); ++pass)
      for (int level = 0; level < steps; ++level)
        if (!cut_at(nearest_, height(level, steps), height(level + 1, steps), true)) return;
    c_.tracer.set_feeds(rough);
  }

 private:
  // Even-odd: a line within a line is a hole.
  Region nested() const {
    std::vector<std::pair<double, Region>> all;
    for (const Ring& ring : rings_) {
      Region region = Region::inside({ring});
      all.emplace_back(-region.area(), std::move(region));
    }
    std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    Region out;
    for (const auto& [area, region] : all) out = out.empty() ? region : out.without(region).with(region.without(out));
    return out;
  }

  // As the tip goes, with the wall on the side that the way of milling wants.
  std::vector<Contour> rings_at(double distance) const {
    std::vector<Contour> out;
    for (Ring& ring : area_.offset(around_ ? distance : -distance).rings()) {
      // Along a ring the area is on the left: around a part that is conventional milling.
      if (around_ == climb_) std::reverse(ring.begin(), ring.end());
      out.push_back(with_arcs(ring, true, arc_tolerance_mm));
    }
    return out;
  }

  // Where a ring that lies so far from its line ends: as deep as the deepest that it goes along.
  double bottom_of(const Contour& ring, double distance) const {
    const Operation& o = c_.operation;
    std::optional<double> deepest;
    for (std::size_t i = 0; i < rings_.size() && !o.depth_mm; ++i)
      if (touches(ring, rings_[i], distance))
        deepest = std::max(deepest.value_or(0), depth_of_feature(o, c_.input, c_.input.lines[i], c_.depth));
    return c_.top - deepest.value_or(c_.depth) + o.leave_floor_mm.value_or(0);
  }
  static bool touches(const Contour& ring, const Ring& line, double distance) {
    return std::any_of(ring.vertices.begin(), ring.vertices.end(), [&](const Vertex& v) {
      return distance_to_ring({v.x, v.y}, line) < distance + 0.02;
    });
  }

  // Each tab stands on the ring it is nearest to.
  std::vector<Tabs> tabs_of(const std::vector<Contour>& rings) const {
    const Operation& o = c_.operation;
    std::vector<Tabs> all(rings.size());
    if (o.tabs_at.empty())
      for (Tabs& tabs : all) tabs.count = o.tab_count.value_or(0);
    for (const Point2& p : o.tabs_at) {
      std::size_t nearest = 0;
      double least = 1e300;
      for (std::size_t i = 0; i < rings.size(); ++i)
        for (std::size_t k = 0; k < rings[i].segments(); ++k)
          for (int n = 0; n <= 16; ++n) {
            const Point2 at = point_on(rings[i], k, n / 16.0);
            if (const double d = std::hypot(at.x - p.x, at.y - p.y); d < least) least = d, nearest = i;
          }
      if (nearest < all.size()) all[nearest].at.push_back(p);
    }
    return all;
  }

  // From one level to the next, each ring no deeper than its own bottom.
  bool cut_at(double distance, double z_before, double z, bool finishes) {
    const Region keep = area_.offset(around_ ? nearest_ - 0.002 : -nearest_ + 0.002);
    RingCutter cutter(
        c_, [&](Point2 p) { return keep.contains(p) != around_; }, climb_);
    std::vector<Contour> rings = rings_at(distance);
    if (rings.empty() && around_) return say_empty(), false;
    std::vector<Tabs> tabs = tabs_of(rings);
    while (!rings.empty()) {
      // The nearest next.
      const Point2 at = c_.tracer.at();
      const auto next = std::min_element(rings.begin(), rings.end(), [&](const Contour& a, const Contour& b) {
        return std::hypot(a.vertices[0].x - at.x, a.vertices[0].y - at.y) <
               std::hypot(b.vertices[0].x - at.x, b.vertices[0].y - at.y);
      });
      const auto its_tabs = tabs.begin() + (next - rings.begin());
      const double bottom = bottom_of(*next, distance);
      // What holds the part reaches up from its underside, also where the cut goes on into the table.
      its_tabs->bottom_z =
          c_.input.stock_top > c_.input.stock_bottom ? std::max(bottom, c_.input.stock_bottom) : bottom;
      if (z_before > bottom + 1e-9)
        cutter.cut_closed(*next, std::max(z, bottom),
                          its_tabs->count > 0 || !its_tabs->at.empty() ? &*its_tabs : nullptr,
                          finishes ? c_.input.rules.overlap_mm : 0);
      rings.erase(next);
      tabs.erase(its_tabs);
      if (c_.tracer.too_long() || has_error(c_.messages)) return false;
    }
    return true;
  }

  void along() {
    // On the line and nowhere beside it, so without arcs in and out.
    RingCutter cutter(
        c_, [](Point2) { return false; }, climb_);
    for (const BoundLine& line : c_.input.lines) {
      const double depth =
          depth_of_feature(c_.operation, c_.input, line, c_.depth) - c_.operation.leave_floor_mm.value_or(0);
      const int levels = levels_of(depth, c_.depth_step_mm);
      for (int level = 0; level < levels; ++level) {
        const double z = c_.top - depth * (level + 1) / levels;
        if (line.contour.closed) cutter.cut_closed(line.contour, z);
        else cutter.cut_open(line.contour, z);
        if (c_.tracer.too_long() || has_error(c_.messages)) return;
      }
    }
  }

  void say_empty() {
    c_.messages.push_back({Severity::error,
                           "path_empty",
                           "cutter",
                           {{"diameter_mm", 2 * c_.radius},
                            {"contour", c_.input.lines.empty() ? std::string() : c_.input.lines.front().key}}});
  }

  PathContext& c_;
  bool climb_, around_ = true;
  std::vector<Ring> rings_;
  Region area_;
  double nearest_ = 0;
};

constexpr std::string_view parameters[] = {
    "name",          "operation",       "where",          "depth_mm",       "top_mm",        "side_stock_mm",
    "leave_wall_mm", "breakthrough_mm", "leave_floor_mm", "finish_pass_mm", "spring_passes", "climb",
    "entry",         "tab_count",       "tab_width_mm",   "tab_height_mm",  "compensation",  "permitted_deflection_mm",
    "pace",          "source",          "own_coolant",    "tool_number",    "comment",       "stop",
    "stickout_mm"};
constexpr Role roles[] = {Role::any_line};

// A thin part that is cut free moves: tabs hold it (common practice, no source).
void hold_thin(const Offer& offer, Operation& o) {
  constexpr double thin_mm = 12, tab_mm = 5;
  if (!(offer.stock_height_mm > 0) || offer.stock_height_mm > thin_mm) return;
  o.tab_count = 4;
  o.tab_width_mm = tab_mm;
  o.tab_height_mm = std::min(2.0, std::round(offer.stock_height_mm / 3 * 10) / 10);
}

std::vector<std::string> propose(const Offer& offer, Operation& o) {
  if (offer.stock_height_mm > 0) o.depth_mm = offer.stock_height_mm;
  if (!offer.outermost.empty()) {
    hold_thin(offer, o);
    return {offer.outermost};
  }
  if (offer.lines.empty()) return {};
  o.where = ProfileWhere::along;
  return {offer.lines.front().key};
}

Outlines must_go_in(const Operation& o, const OperationInput& input) {
  Outlines outlines;
  if (o.where == ProfileWhere::within)
    for (const BoundLine& line : input.lines) outlines.push_back({line.key, &line.contour});
  return outlines;
}

// Outside, as thick as it cuts deep, so that it does not bend.
std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>& rooms) {
  if (o.where == ProfileWhere::within) return wanted_inside(o, input, rooms);
  const double depth = depth_of(o, input).value_or(0);
  return WantedCutter{CutterKind::end_mill, std::clamp(std::round(depth), 6.0, 20.0), {}, depth};
}

}  // namespace

namespace kinds {
const OperationDeclaration profile{
    .kind = PathKind::profile,
    .about = "around, inside or along a line",
    .manners = set_of(OperationKind::side_rough, OperationKind::side_finish, OperationKind::slot,
                      OperationKind::pocket_rough, OperationKind::constant_engagement),
    .usual = OperationKind::side_rough,
    .parameters = parameters,
    .roles = roles,
    .walls = true,
    .full_width = FullWidth::slotted,
    .needs = needed_by_mill,
    .leaves = left_by_mill,
    .meets_skin = [](const Operation& o) { return o.where == ProfileWhere::around; },
    .margin_mm =
        [](const Operation& o, const OperationInput& input) {
          return 3 * o.cutter.diameter_mm.value_or(0) + input.rules.overrun_mm + o.side_stock_mm.value_or(0);
        },
    .propose = propose,
    .must_go_in = must_go_in,
    .wanted = wanted,
    .check = check,
    .trace = [](PathContext& c) { Profile(c).run(); }};
}  // namespace kinds

}  // namespace pecorra
