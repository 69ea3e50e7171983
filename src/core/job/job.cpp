#include "core/job/job.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/cutter/kinds.h"
#include "core/quantity/print.h"

#include "core/base/check.h"

namespace pecorra {
namespace {

constexpr Choice path_choices[] = {{"profile", "Profile"}, {"drilling", "Drilling"}};
constexpr Choice where_choices[] = {
    {"around", "around the line"}, {"within", "inside the line"}, {"along", "along the line"}};
constexpr Choice depth_choices[] = {{"tip", "to the tip"}, {"full_diameter", "to the full diameter"}};
using enum Quantity;
using T = TakenConditions;
using O = Operation;

const std::array taken_list{field<&T::n_rpm>("n_rpm", "S", "Spindle speed", spindle_speed, "").above(0),
                            field<&T::vf_mm_min>("vf_mm_min", "F", "Table feed", table_feed, "").above(0),
                            field<&T::plunge_mm_min>("plunge_mm_min", "", "Plunge feed", table_feed, "").above(0),
                            field<&T::ramp_mm_min>("ramp_mm_min", "", "Ramp feed", table_feed, "").above(0),
                            field<&T::ramp_n_rpm>("ramp_n_rpm", "", "Ramp speed", spindle_speed, "").above(0),
                            field<&T::lead_mm_min>("lead_mm_min", "", "Lead feed", table_feed, "").above(0),
                            field<&T::dial_position>("dial_position", "", "Dial", count, ""),
                            field<&T::ap_mm>("ap_mm", "ap", "Depth of cut", length, "").above(0),
                            field<&T::ae_mm>("ae_mm", "ae", "Width of cut", length, "").above(0),
                            field<&T::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, ""),
                            field<&T::fz_mm>("fz_mm", "fz", "Feed per tooth", feed_per_tooth, ""),
                            field<&T::coolant>("coolant", "", "Coolant", choice, ""),
                            field<&T::source>("source", "", "Follows", choice, ""),
                            field<&T::guess>("guess", "", "Guess", flag, ""),
                            field<&T::proven>("proven", "", "Proven", flag, ""),
                            field<&T::table>("table", "", "Table", id, ""),
                            field<&T::row>("row", "", "Row", id, ""),
                            field<&T::source_text>("source_text", "", "Source", text, ""),
                            field<&T::kept>("kept", "", "Kept instead of", text, "")};

constexpr std::array operation_list{
    field<&O::id>("id", "", "Id", Quantity::id, ""),
    field<&O::path>("path", "", "Path", choice, ""),
    field<&O::operation>("operation", "", "Operation type", choice, "Operation to look up in the tables"),
    field<&O::name>("name", "", "Name", text, "In the program's comment"),
    field<&O::stickout_mm>("stickout_mm", "", "Stick-out", length, "").above(0),
    field<&O::tool_number>("tool_number", "T", "Tool number", count, "T in the program").within(1, 99999999),
    field<&O::where>("where", "", "Cuts", choice, "Side of the line"),
    field<&O::depth_mm>("depth_mm", "", "Depth", length, "Below the top of the stock").above(0),
    field<&O::side_stock_mm>("side_stock_mm", "", "Stock beside the line", length,
                             "Removed in passes of the width of cut")
        .above(0),
    field<&O::leave_mm>("leave_mm", "", "Leave on the wall", length, "Left for a later pass").within(0, 1000),
    field<&O::permitted_deflection_mm>("permitted_deflection_mm", "", "Permitted deflection", length,
                                       "Permitted by the tolerance of the wall; empty: shop setting")
        .above(0),
    field<&O::climb>("climb", "", "Climb milling", flag, "Off: conventional milling"),
    field<&O::hole_diameter_mm>("hole_diameter_mm", "", "Holes of diameter", length, "Circles of the drawing").above(0),
    field<&O::depth_to>("depth_to", "", "Depth to", choice, ""),
    field<&O::breakthrough_mm>("breakthrough_mm", "", "Breakthrough", length, "Added below the depth").within(0, 1000),
    field<&O::peck_mm>("peck_mm", "", "Peck", length, "Depth of each peck; empty: no pecking").above(0),
    field<&O::own_n_rpm>("own_n_rpm", "S", "Spindle speed", spindle_speed, "Typed here").above(0),
    field<&O::own_vf_mm_min>("own_vf_mm_min", "F", "Table feed", table_feed, "Typed here").above(0),
    field<&O::own_ap_mm>("own_ap_mm", "ap", "Depth of cut", length, "Typed here").above(0),
    field<&O::own_ae_mm>("own_ae_mm", "ae", "Width of cut", length, "Typed here").above(0),
    field<&O::own_coolant>("own_coolant", "", "Coolant", choice, "Chosen here; only what the machine has")};

constexpr std::array job_list{
    field<&Job::name>("name", "", "Name", text, ""),
    field<&Job::machine>("machine", "", "Machine", id, ""),
    field<&Job::material>("material", "", "Material", id, ""),
    field<&Job::pace>("pace", "", "Pace", number, "100 is the target").within(1, 1000),
    field<&Job::stock_width_mm>("stock_width_mm", "X", "Stock, X", length, "").above(0),
    field<&Job::stock_depth_mm>("stock_depth_mm", "Y", "Stock, Y", length, "").above(0),
    field<&Job::stock_height_mm>("stock_height_mm", "Z", "Stock, Z", length, "").above(0),
    field<&Job::clearance_mm>("clearance_mm", "", "Retract plane", length, "Above the stock").above(0),
    field<&Job::rapid_mm_min>("rapid_mm_min", "", "Rapid", table_feed, "Empty: the machine's; used for cycle times")
        .above(0),
    field<&Job::program_unit>("program_unit", "", "Program units", choice, "")};

}  // namespace

template <>
std::span<const Choice> choices_of<PathKind>() {
  return path_choices;
}
template <>
std::span<const Choice> choices_of<ProfileWhere>() {
  return where_choices;
}
template <>
std::span<const Choice> choices_of<DepthTo>() {
  return depth_choices;
}
template <>
std::span<const Property<T>> properties<T>() {
  return taken_list;
}
template <>
std::span<const Property<O>> properties<O>() {
  return operation_list;
}
template <>
std::span<const Property<Job>> properties<Job>() {
  return job_list;
}

const PathDeclaration& declaration(PathKind kind) {
  using enum OperationKind;
  static constexpr std::string_view profile[] = {
      "name",  "operation",   "where",       "depth_mm",   "side_stock_mm", "leave_mm", "permitted_deflection_mm",
      "climb", "own_coolant", "tool_number", "stickout_mm"};
  static constexpr std::string_view drilling[] = {"name",        "operation",       "hole_diameter_mm", "depth_mm",
                                                  "depth_to",    "breakthrough_mm", "peck_mm",          "own_coolant",
                                                  "tool_number", "stickout_mm"};
  static constexpr PathDeclaration all[] = {
      {PathKind::profile, set_of(side_rough, side_finish, slot, pocket_rough, constant_engagement), side_rough,
       profile},
      {PathKind::drilling, set_of(drill, peck), drill, drilling}};
  return all[static_cast<std::size_t>(kind)];
}

std::string fingerprint(const TakenConditions& t) {
  std::string text;
  for (const auto& value : {t.n_rpm, t.vf_mm_min, t.plunge_mm_min, t.ramp_mm_min, t.ap_mm, t.ae_mm})
    text += value ? fmt::format("{:.6g} ", *value) : "- ";
  // Only if they differ from the default, so that copies made by earlier versions compare equal.
  if (t.lead_mm_min && t.lead_mm_min != t.vf_mm_min) text += fmt::format("lead {:.6g} ", *t.lead_mm_min);
  if (t.ramp_n_rpm) text += fmt::format("ramp at {:.6g} ", *t.ramp_n_rpm);
  return text + std::string(key_of(t.coolant));
}

namespace {

// Larger than any machine: a length or position beyond this is a typing mistake or a damaged file.
constexpr double longest_mm = 1e5, farthest_mm = 1e7;
constexpr double most_passes = 10000;

template <class T>
void check_lengths(const T& object, std::vector<Message>& messages) {
  for (const Property<T>& p : properties<T>())
    if (const auto number = number_of(object, p);
        number && p.quantity == Quantity::length && !(*number <= longest_mm) && p.accepts(*number))
      messages.push_back({Severity::error,
                          "out_of_range",
                          std::string(p.key),
                          {{"value", *number}, {"low", p.low}, {"high", longest_mm}}});
}

// A path along a line needs a line that has a length and lies within a machine's reach.
void check_line(const Contour& line, double number, std::vector<Message>& messages) {
  double length = 0, farthest = 0;
  for (std::size_t i = 0; i < line.vertices.size(); ++i) {
    const Vertex& v = line.vertices[i];
    farthest = std::max({farthest, std::abs(v.x), std::abs(v.y), std::abs(v.bulge)});
    if (i > 0) length += std::hypot(v.x - line.vertices[i - 1].x, v.y - line.vertices[i - 1].y);
  }
  if (!(farthest <= farthest_mm))
    messages.push_back({Severity::error, "line_too_far", "contours", {{"contour", number}, {"limit_mm", farthest_mm}}});
  else if (length < 0.001)
    messages.push_back({Severity::error, "line_without_length", "contours", {{"contour", number}}});
}

}  // namespace

namespace {

// The whole depth is cut by what is clear of the wall: the reach, or all that sticks out where the shank is no thicker
// than the cutter. One pass is cut by the flutes.
void check_depth(const Operation& o, std::vector<Message>& messages) {
  if (!o.depth_mm) return;
  const double depth = *o.depth_mm + (o.path == PathKind::drilling ? o.breakthrough_mm.value_or(0) : 0);
  const Cutter& c = o.cutter;
  const auto deeper = [&](const std::optional<double>& limit, double by, const char* code, const char* key) {
    if (limit && by > *limit * (1 + 1e-9))
      messages.push_back({Severity::error, code, "depth_mm", {{"depth_mm", by}, {key, *limit}}});
  };
  deeper(o.stickout_mm, depth, "deeper_than_stickout", "stickout_mm");
  const bool thick = c.shank_diameter_mm && c.diameter_mm && *c.shank_diameter_mm > *c.diameter_mm * (1 + 1e-9);
  if (thick) deeper(c.reach_mm ? c.reach_mm : c.flute_length_mm, depth, "deeper_than_reach", "reach_mm");
  if (o.path == PathKind::profile && o.taken.ap_mm)
    deeper(c.flute_length_mm, std::min(*o.taken.ap_mm, depth), "pass_over_flutes", "flutes_mm");
}

}  // namespace

std::vector<Message> check_operation(const Job& job, const Operation& o) {
  std::vector<Message> messages;
  auto add = [&](Severity severity, const char* code, const char* property, Details values = {}) {
    messages.push_back({severity, code, property, std::move(values)});
  };
  check_ranges(job, messages);
  check_ranges(o, messages);
  check_ranges(o.taken, messages);
  check_lengths(job, messages);
  check_lengths(o, messages);
  check_lengths(o.taken, messages);
  const auto passes = [&](const std::optional<double>& whole, const std::optional<double>& each, const char* property) {
    if (whole && each && *each > 0 && *whole / *each > most_passes)
      add(Severity::error, "too_many_passes", property, {{"whole_mm", *whole}, {"each_mm", *each}});
  };
  passes(o.depth_mm, o.taken.ap_mm, "taken");
  passes(o.depth_mm, o.peck_mm, "peck_mm");
  passes(o.side_stock_mm, o.taken.ae_mm, "side_stock_mm");
  if (o.cutter.id.is_null()) add(Severity::error, "no_cutter", "cutter");
  else if (has_error(check_cutter(o.cutter)))
    add(Severity::error, "cutter_is_draft", "cutter", {{"name", o.cutter.name}});
  else if (!can_do(o.cutter.kind, o.operation))
    add(Severity::error, "cutter_cannot", "cutter",
        {{"kind", std::string(label_of(o.cutter.kind))}, {"operation", std::string(label_of(o.operation))}});
  if (!o.depth_mm) add(Severity::error, "missing", "depth_mm");
  if (!o.taken.n_rpm || !o.taken.vf_mm_min) add(Severity::error, "no_conditions", "taken");
  if (o.depth_mm && job.stock_height_mm && *o.depth_mm + o.breakthrough_mm.value_or(0) > *job.stock_height_mm + 5)
    add(Severity::warning, "deeper_than_stock", "depth_mm",
        {{"depth_mm", *o.depth_mm}, {"stock_mm", *job.stock_height_mm}});
  check_depth(o, messages);
  if (o.path == PathKind::profile) {
    if (o.contours.empty()) add(Severity::error, "no_contour", "contours");
    for (const int index : o.contours)
      if (const auto line = line_at(job.drawing, index); !line) add(Severity::error, "no_contour", "contours");
      else if (check_line(*line, index + 1, messages); o.where != ProfileWhere::along && !line->closed)
        add(Severity::error, "contour_open", "contours", {{"contour", static_cast<double>(index + 1)}});
  } else {
    const auto holes = std::count_if(job.drawing.circles.begin(), job.drawing.circles.end(), [&](const Circle& c) {
      return o.hole_diameter_mm && std::abs(c.diameter_mm - *o.hole_diameter_mm) < 1e-4;
    });
    if (holes == 0) {
      std::string there;
      for (const double d : hole_diameters(job.drawing)) there += (there.empty() ? "Ø" : ", Ø") + plain(d, 3);
      add(Severity::error, "no_holes", "hole_diameter_mm",
          {{"diameter_mm", o.hole_diameter_mm.value_or(0)}, {"there", there}});
    }
    if (o.cutter.diameter_mm && o.hole_diameter_mm && *o.cutter.diameter_mm > *o.hole_diameter_mm + 1e-6)
      add(Severity::error, "cutter_over_hole", "cutter",
          {{"cutter_mm", *o.cutter.diameter_mm}, {"hole_mm", *o.hole_diameter_mm}});
    else if (o.cutter.diameter_mm && o.hole_diameter_mm && *o.cutter.diameter_mm < *o.hole_diameter_mm - 0.5)
      add(Severity::warning, "cutter_under_hole", "cutter",
          {{"cutter_mm", *o.cutter.diameter_mm}, {"hole_mm", *o.hole_diameter_mm}});
  }
  return messages;
}

bool climbs_with_m3(const Operation& o) { return o.climb == (o.cutter.rotation == Rotation::clockwise); }

int outermost_line(const Drawing& drawing) {
  int best = -1;
  double area = 0;
  for (int i = 0; i < line_count(drawing); ++i) {
    const Contour line = *line_at(drawing, i);
    if (!line.closed) continue;
    const double a = std::abs(signed_area(flattened(line, 0.05)));
    if (a > area) {
      area = a;
      best = i;
    }
  }
  return best;
}

std::vector<double> hole_diameters(const Drawing& drawing) {
  std::vector<double> diameters;
  for (const Circle& c : drawing.circles)
    if (std::none_of(diameters.begin(), diameters.end(), [&](double d) { return std::abs(d - c.diameter_mm) < 1e-4; }))
      diameters.push_back(c.diameter_mm);
  std::sort(diameters.begin(), diameters.end());
  return diameters;
}

}  // namespace pecorra
