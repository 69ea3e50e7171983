#include "core/operation/declaration.h"

#include <algorithm>
#include <cmath>
#include <exception>

#include "core/base/check.h"
#include "core/base/whole.h"
#include "core/cutter/kinds.h"
#include "core/geometry/region.h"
#include "core/operation/ring.h"

namespace pecorra {
namespace {

const OperationDeclaration* const all[] = {
    &kinds::profile,      &kinds::drill,       &kinds::face,        &kinds::slot, &kinds::pocket,
    &kinds::helical_bore, &kinds::spot,        &kinds::centre,      &kinds::ream, &kinds::bore,
    &kinds::back_bore,    &kinds::countersink, &kinds::counterbore, &kinds::tap};

// Larger than any machine: a length or position beyond this is a typing mistake or a damaged file.
constexpr double longest_mm = 1e5, farthest_mm = 1e7;
constexpr double most_passes = 10000;

template <class T>
void check_lengths(const T& object, std::vector<Message>& messages) {
  for (const Property<T>& p : properties<T>())
    if (const auto number = number_of(object, p);
        number && p.quantity == Quantity::length && !(std::abs(*number) <= longest_mm) && p.accepts(*number))
      messages.push_back({Severity::error,
                          "out_of_range",
                          std::string(p.key),
                          {{"value", *number}, {"low", p.low}, {"high", longest_mm}}});
}

// A path along a line needs one that has a length and lies within a machine's reach.
void check_line(const std::string& key, const Contour& line, std::vector<Message>& messages) {
  double length = 0, farthest = 0;
  for (std::size_t i = 0; i < line.vertices.size(); ++i) {
    const Vertex& v = line.vertices[i];
    // Not-a-number fails the comparison below.
    if (!(std::abs(v.x) + std::abs(v.y) + std::abs(v.bulge) <= farthest_mm)) farthest = 2 * farthest_mm;
    if (i > 0) length += std::hypot(v.x - line.vertices[i - 1].x, v.y - line.vertices[i - 1].y);
  }
  if (farthest > 0)
    messages.push_back({Severity::error, "line_too_far", "features", {{"contour", key}, {"limit_mm", farthest_mm}}});
  else if (length < 0.001) messages.push_back({Severity::error, "line_without_length", "features", {{"contour", key}}});
}

// The whole depth is cut by what is clear of the wall: the reach, or all that sticks out where the shank is no thicker
// than the cutter. One pass is cut by the flutes.
void check_depth(const Operation& o, double depth, double whole, bool milling, std::vector<Message>& messages) {
  const Cutter& c = o.cutter;
  const auto deeper = [&](const std::optional<double>& limit, double by, const char* code, const char* key) {
    if (limit && by > *limit * (1 + 1e-9))
      messages.push_back({Severity::error, code, "depth_mm", {{"depth_mm", by}, {key, *limit}}});
  };
  deeper(o.stickout_mm, whole, "deeper_than_stickout", "stickout_mm");
  const bool thick = c.shank_diameter_mm && c.diameter_mm && *c.shank_diameter_mm > *c.diameter_mm * (1 + 1e-9);
  if (thick) deeper(c.reach_mm ? c.reach_mm : c.flute_length_mm, whole, "deeper_than_reach", "reach_mm");
  if (milling && o.taken.ap_mm)
    deeper(c.flute_length_mm, std::min(*o.taken.ap_mm, depth), "pass_over_flutes", "flutes_mm");
}

// A clamp is as wide as its outline all the way up to its top.
void check_keep_outs(const Operation& o, const OperationInput& input, PlannedPath& made) {
  const double radius = o.cutter.diameter_mm.value_or(0) / 2;
  for (const KeepOut& clamp : input.keep_outs) {
    const Region area = Region::inside({flattened(clamp.outline, 0.01)}).offset(radius);
    double x = 0, y = 0, z = input.safe_z;
    for (const Move& m : made.path.moves) {
      const double low = std::min(z, m.z);
      if (low < clamp.top_z - 1e-9) {
        const double r = std::hypot(x - m.centre_x, y - m.centre_y), swept = swept_rad(x, y, m),
                     from = std::atan2(y - m.centre_y, x - m.centre_x);
        const double length = m.shape == MoveShape::line ? std::hypot(m.x - x, m.y - y) : r * std::abs(swept);
        const int steps = whole_within(std::ceil(length / std::max(0.2, radius / 4)), 1, 1 << 16);
        for (int i = 0; i <= steps; ++i) {
          const double t = static_cast<double>(i) / steps;
          if (z + (m.z - z) * t >= clamp.top_z - 1e-9) continue;
          const Point2 p = m.shape == MoveShape::line ? Point2{x + (m.x - x) * t, y + (m.y - y) * t}
                                                      : Point2{m.centre_x + r * std::cos(from + swept * t),
                                                               m.centre_y + r * std::sin(from + swept * t)};
          if (!area.contains(p)) continue;
          made.messages.push_back({Severity::error,
                                   "enters_clamp",
                                   "features",
                                   {{"clamp", clamp.key}, {"x_mm", p.x}, {"y_mm", p.y}, {"top_mm", clamp.top_z}}});
          return;
        }
      }
      x = m.x, y = m.y, z = m.z;
    }
  }
}

// What still stands after the operation must be below the holder wherever the tip has been.
void check_holder(const OperationInput& input, const StockField& stock, PlannedPath& made) {
  if (input.holder.empty() || stock.empty()) return;
  double x = 0, y = 0;
  for (const Move& m : made.path.moves) {
    const bool moved = std::hypot(m.x - x, m.y - y) > 0.5;
    x = m.x, y = m.y;
    if (m.is_rapid() && !moved) continue;
    for (const HolderStep& step : input.holder) {
      const double nose = m.z + step.above_tip_mm;
      if (nose >= input.stock_top - 1e-6) continue;
      if (stock.highest({m.x, m.y}, step.radius_mm) <= nose + 1e-3) continue;
      made.messages.push_back(
          {Severity::error, "holder_meets_stock", "stickout_mm", {{"x_mm", m.x}, {"y_mm", m.y}, {"nose_mm", nose}}});
      return;
    }
  }
}

// Values typed here hold at full width too.
bool follows(const Operation& o) { return !o.is_own(); }

// Cuts up at its tip and down above, so that neither face of a board frays.
bool is_compression(const Operation& o) {
  return declaration(o.path).milling && !declaration(o.path).circular && !only_finishes(o) &&
         o.cutter.edge_direction == EdgeDirection::compression;
}

// All at once, else in equal steps of its flutes: a shallow first pass would be cut by the part that cuts up, about as
// long as the cutter is wide (common practice, no source).
double compression_step(const Operation& o, double depth) {
  const double flutes = o.cutter.flute_length_mm.value_or(depth);
  return std::max(*o.cutter.diameter_mm, std::min(depth, flutes));
}

PathFeeds feeds_of(const Operation& o, const OperationInput& input) {
  PathFeeds f{feed_set(o.taken), {}};
  if (input.slot_conditions && follows(o) && o.taken_slot.vf_mm_min && o.taken_slot.n_rpm) {
    f.slot = feed_set(o.taken_slot);
    if (o.own_plunge_mm_min) f.slot.plunge = *o.own_plunge_mm_min;
    if (o.own_ramp_mm_min) f.slot.ramp = *o.own_ramp_mm_min;
  }
  return f;
}

}  // namespace

static bool goes_through(const OperationInput& input) {
  return std::any_of(input.lines.begin(), input.lines.end(), [](const BoundLine& line) { return line.through; }) ||
         std::any_of(input.pockets.begin(), input.pockets.end(), [](const BoundPocket& p) { return p.through; });
}

FeedSet feed_set(const TakenConditions& t) {
  FeedSet f;
  f.n = t.n_rpm.value_or(0);
  f.cut = t.vf_mm_min.value_or(0);
  f.plunge = t.plunge_mm_min.value_or(f.cut);
  f.ramp = t.ramp_mm_min.value_or(f.cut);
  f.lead = t.lead_mm_min.value_or(f.cut);
  f.ramp_n = t.ramp_n_rpm.value_or(0);
  return f;
}

const OperationDeclaration& declaration(PathKind kind) { return *all[static_cast<std::size_t>(kind)]; }

OperationKind declaration_usual(const Operation& o) { return declaration(o.path).usual; }

bool has_parameter(PathKind kind, std::string_view key) {
  const auto& keys = declaration(kind).parameters;
  return std::find(keys.begin(), keys.end(), key) != keys.end();
}

int levels_of(double depth, double step) {
  return std::max(1, whole_within(std::ceil(depth / std::max(step, 1e-3) - 1e-9), 1, 10000));
}

double top_of(const Operation& o, const OperationInput& input) { return o.top_mm.value_or(input.stock_top); }

std::optional<double> depth_of(const Operation& o, const OperationInput& input) {
  return declaration(o.path).depth(o, input);
}

bool only_finishes(const Operation& o) {
  return o.operation == OperationKind::side_finish || o.operation == OperationKind::floor_finish ||
         o.operation == OperationKind::surface_finish;
}

std::optional<double> stated_depth(const Operation& o, const OperationInput& input) {
  if (o.depth_mm) return o.depth_mm;
  std::optional<double> deepest;
  const auto take = [&](const std::optional<double>& depth) {
    if (depth && (!deepest || *depth > *deepest)) deepest = depth;
  };
  for (const BoundHole& hole : input.holes) take(hole.depth_mm);
  const auto take_shape = [&](const auto& shape) {
    if (shape.depth_mm) take(depth_of_feature(o, input, shape, 0));
  };
  for (const BoundPocket& pocket : input.pockets) take_shape(pocket);
  for (const BoundLine& line : input.lines) take_shape(line);
  take(input.feature_depth_mm);
  return deepest;
}

double past_underside_mm(const Operation& o, const OperationInput& input) {
  if (input.on_table) return 0;
  return o.breakthrough_mm.value_or(input.rules.breakthrough_mm);
}

std::vector<Message> check_operation(const Operation& o, const OperationInput& input) {
  std::vector<Message> messages;
  const OperationDeclaration& kind = declaration(o.path);
  auto add = [&](Severity severity, const char* code, const char* property, Details values = {}) {
    messages.push_back({severity, code, property, std::move(values)});
  };
  for (const TakenConditions* t : {&o.taken, &o.taken_slot, &o.taken_finish, &o.taken_floor}) {
    check_ranges(*t, messages);
    check_lengths(*t, messages);
  }
  check_ranges(o, messages);
  check_lengths(o, messages);
  const auto depth = depth_of(o, input);
  if (o.cutter.id.is_null()) add(Severity::error, "no_cutter", "cutter");
  else if (has_error(check_cutter(o.cutter)))
    add(Severity::error, "cutter_is_draft", "cutter", {{"name", o.cutter.name}});
  else if (!can_do(o.cutter.kind, o.operation))
    add(Severity::error, "cutter_cannot", "cutter",
        {{"kind", std::string(label_of(o.cutter.kind))}, {"operation", std::string(label_of(o.operation))}});
  if (o.generic_cutter) add(Severity::warning, "generic", "cutter", {{"name", o.cutter.name}});
  if (!kind.milling) {
    // Of a hole, the feed along its axis is all there is.
    for (const auto& [key, given] : {std::pair{"own_plunge_mm_min", o.own_plunge_mm_min.has_value()},
                                     {"own_ramp_mm_min", o.own_ramp_mm_min.has_value()},
                                     {"own_ae_mm", o.own_ae_mm.has_value()},
                                     {"climb", !o.climb}})
      if (given) add(Severity::warning, "without_effect", key);
  }
  if (!depth) add(Severity::error, "missing", "depth_mm");
  if (!o.taken.n_rpm || !o.taken.vf_mm_min) add(Severity::error, "no_conditions", "taken");
  if (depth && kind.milling && o.taken.ap_mm && *depth / *o.taken.ap_mm > most_passes)
    add(Severity::error, "too_many_passes", "taken", {{"whole_mm", *depth}, {"each_mm", *o.taken.ap_mm}});
  if (depth) {
    const double stated = *depth + o.breakthrough_mm.value_or(0), bottom = top_of(o, input) - stated;
    const bool through =
        std::any_of(input.holes.begin(), input.holes.end(), [](const BoundHole& hole) { return hole.through; }) ||
        (!o.depth_mm && goes_through(input));
    if (input.stock_top > input.stock_bottom && bottom < input.stock_bottom - 1e-6 && !through)
      add(Severity::warning, "deeper_than_stock", "depth_mm",
          {{"depth_mm", stated}, {"stock_mm", top_of(o, input) - input.stock_bottom}});
    check_depth(o, *depth, *depth + kind.beyond_depth_mm(o, input), kind.milling, messages);
    if (kind.milling && o.leave_floor_mm.value_or(0) + o.finish_floor_mm.value_or(0) >= *depth)
      add(Severity::error, "nothing_to_cut", "leave_floor_mm", {{"depth_mm", *depth}});
  }
  if (input.safe_z <= std::max(input.stock_top, top_of(o, input)))
    add(Severity::error, "retract_in_stock", "top_mm", {{"retract_mm", input.safe_z}});
  for (const BoundLine& line : input.lines) check_line(line.key, line.contour, messages);
  for (const BoundPocket& pocket : input.pockets) {
    check_line(pocket.key, pocket.outline, messages);
    for (const BoundLine& island : pocket.islands) check_line(island.key, island.contour, messages);
  }
  for (const BoundHole& hole : input.holes)
    if (!(std::abs(hole.at.x) + std::abs(hole.at.y) <= farthest_mm)) {
      add(Severity::error, "line_too_far", "features", {{"contour", hole.key}, {"limit_mm", farthest_mm}});
      break;
    }
  if (kind.milling && o.cutter.diameter_mm && (only_finishes(o) || o.finish_pass_mm)) {
    const double corner = inner_corner_mm(o, input), left = *o.cutter.diameter_mm / 2 + o.leave_wall_mm.value_or(0);
    if (corner > 0 && left > corner * (1 + 1e-6) && o.operation != OperationKind::floor_finish)
      add(Severity::warning, "corner_left", "cutter", {{"corner_mm", corner}, {"left_mm", left}});
  }
  if (!has_error(messages)) kind.check(o, input, messages);
  return messages;
}

Box reach_of(const Operation& o, const OperationInput& input) {
  std::optional<Box> box;
  const auto take = [&](const Box& b) {
    box = box ? Box{std::min(box->low_x, b.low_x), std::min(box->low_y, b.low_y), std::max(box->high_x, b.high_x),
                    std::max(box->high_y, b.high_y)}
              : b;
  };
  for (const BoundLine& line : input.lines) take(bounds(line.contour));
  for (const BoundPocket& pocket : input.pockets) take(bounds(pocket.outline));
  for (const BoundHole& hole : input.holes) take({hole.at.x, hole.at.y, hole.at.x, hole.at.y});
  if (!box) box = input.stock;
  return box->grown(declaration(o.path).margin_mm(o, input));
}

std::vector<Room> rooms_of(const Operation& o, const OperationInput& input) {
  std::vector<Room> rooms;
  for (const auto& [key, contour, islands] : declaration(o.path).must_go_in(o, input)) {
    if (!contour->closed || contour->vertices.empty()) continue;
    // A fine outline is coarse enough here for a few offsets to be quick.
    constexpr double tolerance_mm = 0.01;
    Region area = Region::inside({flattened(*contour, tolerance_mm)});
    if (islands)
      for (const BoundLine& island : *islands)
        if (island.contour.closed) area = area.without(Region::inside({flattened(island.contour, tolerance_mm)}));
    const Box box = bounds(*contour);
    double low = 0, high = std::min(box.width(), box.depth()) * (1 + 1e-6);
    while (high - low > tolerance_mm) {
      const double middle = (low + high) / 2;
      (area.offset(-middle / 2).empty() ? high : low) = middle;
    }
    rooms.push_back({key, low});
  }
  return rooms;
}

double inner_corner_mm(const Operation& o, const OperationInput& input) {
  double least = 0;
  for (const auto& [key, contour, islands] : declaration(o.path).must_go_in(o, input)) {
    const double turn = signed_area(flattened(*contour, 0.05)) > 0 ? 1 : -1;
    for (std::size_t i = 0; i < contour->segments(); ++i)
      if (const Vertex& v = contour->vertices[i]; v.bulge * turn > 0)
        if (const double r = arc_of(v, contour->end_of(i)).radius; least == 0 || r < least) least = r;
  }
  return least;
}

std::optional<WantedCutter> wanted_inside(const Operation& o, const OperationInput& input,
                                          const std::vector<Room>& rooms) {
  double room = 0;
  for (const Room& r : rooms) room = room == 0 ? r.largest_mm : std::min(room, r.largest_mm);
  if (!(room > 0)) return std::nullopt;
  // Corners that are very small are left to a smaller cutter, and large end mills are for large machines (common
  // practice, no source).
  constexpr double least_mm = 6, most_mm = 20;
  const double corner = 2 * inner_corner_mm(o, input), roomy = std::min(0.6 * room, most_mm);
  // A cutter as wide as the corner stops in it at full width; a narrower one rolls through.
  constexpr double share_of_corner = 0.8;
  const double d = share_of_corner * corner >= least_mm ? std::min(share_of_corner * corner, roomy) : roomy;
  return WantedCutter{CutterKind::end_mill, d, {}, depth_of(o, input).value_or(0)};
}

std::vector<Message> misfits_of(const Operation& o, const OperationInput& input, const std::vector<Room>& rooms,
                                const Cutter& cutter) {
  std::vector<Message> messages;
  if (!cutter.diameter_mm) {
    messages.push_back({Severity::error, "missing", "diameter_mm", {}});
    return messages;
  }
  const OperationDeclaration& kind = declaration(o.path);
  const double reach = cutter.reach_mm.value_or(cutter.flute_length_mm.value_or(0));
  if (const auto depth = depth_of(o, input); kind.milling && depth && reach < *depth)
    messages.push_back({Severity::error, "deeper_than_reach", "reach_mm", {{"depth_mm", *depth}, {"reach_mm", reach}}});
  // Of a hole, as far as the neck lets it go down.
  if (const auto depth = depth_of(o, input); !kind.milling && depth && cutter.reach_mm && *cutter.reach_mm < *depth)
    messages.push_back(
        {Severity::error, "deeper_than_reach", "reach_mm", {{"depth_mm", *depth}, {"reach_mm", *cutter.reach_mm}}});
  for (const Room& room : rooms)
    if (*cutter.diameter_mm > room.largest_mm)
      messages.push_back({Severity::error,
                          "cutter_over_outline",
                          "diameter_mm",
                          {{"cutter_mm", *cutter.diameter_mm}, {"limit_mm", room.largest_mm}, {"contour", room.key}}});
  // What finishes has to reach into rounded corners.
  const double corner = inner_corner_mm(o, input);
  if (o.operation == OperationKind::side_finish && corner > 0 && *cutter.diameter_mm > 2 * corner * (1 + 1e-6))
    messages.push_back({Severity::error,
                        "cutter_over_corner",
                        "diameter_mm",
                        {{"cutter_mm", *cutter.diameter_mm}, {"corner_mm", corner}, {"limit_mm", 2 * corner}}});
  kind.misfits(o, input, cutter, messages);
  return messages;
}

std::vector<std::string> first_opening(const Offer& offer) {
  for (const OfferedLine& line : offer.lines)
    if (line.closed && line.diameter_mm <= 0 && line.key != offer.outermost) return {line.key};
  return {};
}

PlannedPath plan_operation(const Operation& o, const OperationInput& input, StockField& stock,
                           const std::function<bool()>& stop) {
  PlannedPath out;
  out.messages = check_operation(o, input);
  if (has_error(out.messages)) return out;
  const OperationDeclaration& kind = declaration(o.path);
  const double radius = *o.cutter.diameter_mm / 2, depth = *depth_of(o, input);
  const auto trace = [&](double step, StockField& field) {
    PlannedPath made;
    Tracer tracer(made.path, field, feeds_of(o, input), input.limits, input.rules, radius, input.safe_z,
                  kind.cleared_mm(o) / 2);
    tracer.stop_when(stop);
    PathContext context{o, input, tracer, top_of(o, input), depth, radius, step, made.messages};
    try {
      kind.trace(context);
      tracer.retract();
      tracer.finish();
    } catch (const std::exception&) {  // of the polygon library, where places are too far apart for it
      made.messages.push_back({Severity::error, "path_fails", "features", {}});
    }
    if (tracer.is_stopped()) made.messages.push_back({Severity::error, "path_stopped", "features", {}});
    else if (tracer.too_long())
      made.messages.push_back(
          {Severity::error, "path_too_long", "features", {{"moves", static_cast<double>(Tracer::most_moves)}}});
    if (!has_error(made.messages)) check_keep_outs(o, input, made);
    if (!has_error(made.messages)) check_holder(input, field, made);
    const double passes = depth - o.leave_floor_mm.value_or(0) - o.finish_floor_mm.value_or(0);
    if (kind.milling) made.ap_mm = kind.circular ? std::min(step, passes) : passes / levels_of(passes, step);
    made.full_depth_mm = tracer.full_depth_mm();
    made.full_width_mm = tracer.full_width_mm();
    made.tightest_rad = tracer.tightest_rad();
    made.distances = tracer.distances();
    const bool own = o.is_own() || o.own_ap_mm || o.own_ae_mm;
    if (input.slot_conditions && own && kind.milling && tracer.full_width_mm() > radius)
      made.messages.push_back(
          {Severity::warning, "own_at_full_width", "own_vf_mm_min", {{"length_mm", tracer.full_width_mm()}}});
    else if (input.slot_conditions && !own && !o.taken_slot.n_rpm && tracer.full_width_mm() > 2 * radius)
      made.messages.push_back(
          {Severity::warning, "no_answer_at_full_width", "cutter", {{"length_mm", tracer.full_width_mm()}}});
    // At full width no deeper than a slot.
    const double slot_ap = o.taken_slot.ap_mm.value_or(step);
    const bool shallower = input.slot_conditions && follows(o) && !o.own_ap_mm && slot_ap < step * (1 - 1e-9) &&
                           tracer.full_depth_mm() > slot_ap + 0.01;
    return std::pair{std::move(made), shallower ? slot_ap : step};
  };
  const bool compression = is_compression(o) && follows(o) && !o.own_ap_mm;
  const double step = compression ? compression_step(o, depth) : o.taken.ap_mm.value_or(*o.cutter.diameter_mm);
  // No cut is beyond its reach but by the cutter itself.
  const StockField::Part before = stock.part(reach_of(o, input).grown(2 * radius + stock.cell()));
  auto [made, wanted] = trace(step, stock);
  if (compression) made.messages.push_back({Severity::note, "compression_depth", "depth_mm", {{"ap_mm", made.ap_mm}}});
  if (wanted < step && !compression && !has_error(made.messages)) {
    stock.put_back(before);
    made = trace(wanted, stock).first;
    made.messages.push_back({Severity::note, "slot_depth", "depth_mm", {{"ap_mm", wanted}, {"ap_before_mm", step}}});
  }
  if (has_error(made.messages)) {
    made.path = {};
    stock.put_back(before);
  }
  out.messages.insert(out.messages.end(), made.messages.begin(), made.messages.end());
  out.path = std::move(made.path);
  out.path.safe_z = input.safe_z;
  const double slot_ap = o.taken_slot.ap_mm.value_or(0);
  if (input.slot_conditions && follows(o) && !o.own_ap_mm && slot_ap > 0 && made.full_depth_mm > slot_ap * 1.02 + 0.02)
    out.messages.push_back(
        {Severity::warning, "deeper_than_slot", "own_ap_mm", {{"depth_mm", made.full_depth_mm}, {"ap_mm", slot_ap}}});
  out.tightest_rad = made.tightest_rad;
  out.full_width_mm = made.full_width_mm;
  out.full_depth_mm = made.full_depth_mm;
  out.ap_mm = made.ap_mm;
  out.distances = made.distances;
  return out;
}

}  // namespace pecorra
