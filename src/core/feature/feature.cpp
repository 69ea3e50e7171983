#include "core/feature/feature.h"

#include <algorithm>
#include <array>

#include "core/thread/thread.h"

namespace pecorra {
namespace {

using enum Quantity;
using F = Feature;

constexpr Choice kind_choices[] = {
    {"line", "Line"},           {"pocket", "Pocket"}, {"holes", "Holes"},     {"face", "Face"},
    {"rectangle", "Rectangle"}, {"circle", "Circle"}, {"slot", "Slot shape"}, {"text", "Text"}};
constexpr Choice hole_pattern_choices[] = {
    {"places", "at places"}, {"row", "row"}, {"grid", "grid"}, {"circle", "circle of holes"}};

Value outline_of(const F& f) { return f.outline.key; }
bool set_outline(F& f, const Value& value) {
  const std::string* key = std::get_if<std::string>(&value);
  if (!key) return false;
  if (*key != f.outline.key) f.outline = {*key, {}};
  return true;
}

constexpr Property<F> outline_property{{"outline", "", "Outline", Quantity::text, "The closed line around the pocket"},
                                       Property<F>::OtherAccess{&outline_of, &set_outline}};

constexpr std::array feature_list{
    field<&F::job>("job", "", "Job", id, ""),
    field<&F::rank>("rank", "", "Place", number, "In the order of the job"),
    field<&F::key>("key", "", "Name", Quantity::text, "Each once in a job"),
    field<&F::kind>("kind", "", "Kind", choice, ""),
    field<&F::text>("text", "", "Text", Quantity::text, "Engraved in lines of one stroke"),
    field<&F::pattern>("pattern", "", "Pattern", choice, "How the holes are spaced"),
    field<&F::x_mm>("x_mm", "X", "X", length, "Of the middle, the first hole, or the left end of a text; empty: 0"),
    field<&F::y_mm>("y_mm", "Y", "Y", length, "Of the middle, the first hole, or the baseline of a text; empty: 0"),
    field<&F::length_mm>("length_mm", "L", "Length", length, "Along X before it is turned; of a slot over its ends")
        .above(0),
    field<&F::width_mm>("width_mm", "W", "Width", length, "Along Y before it is turned").above(0),
    field<&F::corner_radius_mm>("corner_radius_mm", "R", "Corner radius", length, "Empty: sharp corners")
        .within(0, 1e5),
    field<&F::height_mm>("height_mm", "H", "Letter height", length, "Of capital letters").above(0),
    field<&F::count>("count", "", "Holes", Quantity::count, "In the row, along X, or on the circle")
        .within(1, most_holes),
    field<&F::pitch_mm>("pitch_mm", "", "Pitch", length, "From hole to hole, along X before it is turned").above(0),
    field<&F::count_y>("count_y", "", "Rows", Quantity::count, "Of a grid, along Y").within(1, most_holes),
    field<&F::pitch_y_mm>("pitch_y_mm", "", "Row pitch", length, "From row to row").above(0),
    field<&F::circle_mm>("circle_mm", "", "Pitch circle", length, "Diameter of the circle of holes").above(0),
    field<&F::angle_deg>("angle_deg", "", "Angle", angle, "Turned counter-clockwise; of the first hole on a circle")
        .within(-360, 360),
    field<&F::diameter_mm>("diameter_mm", "D", "Diameter", length, "").above(0),
    outline_property,
    field<&F::depth_mm>("depth_mm", "", "Depth", length, "Below the top of the stock").above(0),
    field<&F::through>("through", "", "Through", flag, "All the way through the stock"),
    field<&F::thread>("thread", "", "Thread", Quantity::text, "M10, M10×1, 1/4-20 …"),
    field<&F::tolerance>("tolerance", "", "Tolerance", Quantity::text, "H7, H8 …; empty: none stated"),
    field<&F::chamfer_mm>("chamfer_mm", "", "Chamfer", length, "Width of the chamfer at the top edge").above(0)};

constexpr std::string_view line_fields[] = {"depth_mm", "through"};
constexpr std::string_view pocket_fields[] = {"outline", "depth_mm", "through"};
constexpr std::string_view hole_fields[] = {"pattern",  "x_mm",       "y_mm",      "count",     "pitch_mm",
                                            "count_y",  "pitch_y_mm", "circle_mm", "angle_deg", "diameter_mm",
                                            "depth_mm", "through",    "thread",    "tolerance", "chamfer_mm"};
constexpr std::string_view face_fields[] = {"depth_mm"};
constexpr std::string_view rectangle_fields[] = {"x_mm",      "y_mm",     "length_mm", "width_mm", "corner_radius_mm",
                                                 "angle_deg", "depth_mm", "through"};
constexpr std::string_view circle_fields[] = {"x_mm", "y_mm", "diameter_mm", "depth_mm", "through"};
constexpr std::string_view slot_fields[] = {"x_mm",      "y_mm",     "length_mm", "width_mm",
                                            "angle_deg", "depth_mm", "through"};
constexpr std::string_view text_fields[] = {"text", "x_mm", "y_mm", "height_mm", "angle_deg", "depth_mm"};

// What a pattern does not need, of all that holes are asked.
constexpr std::string_view of_places[] = {"pattern"};
constexpr std::string_view of_row[] = {"pattern", "x_mm", "y_mm", "count", "pitch_mm", "angle_deg"};
constexpr std::string_view of_grid[] = {"pattern",  "x_mm",    "y_mm",       "count",
                                        "pitch_mm", "count_y", "pitch_y_mm", "angle_deg"};
constexpr std::string_view of_circle[] = {"pattern", "x_mm", "y_mm", "count", "circle_mm", "angle_deg"};

std::span<const std::string_view> fields_of(HolePattern pattern) {
  switch (pattern) {
    case HolePattern::places: return of_places;
    case HolePattern::row: return of_row;
    case HolePattern::grid: return of_grid;
    case HolePattern::circle: return of_circle;
  }
  return of_places;
}

bool has(std::span<const std::string_view> keys, std::string_view key) {
  return std::find(keys.begin(), keys.end(), key) != keys.end();
}

}  // namespace

template <>
std::span<const Choice> choices_of<FeatureKind>() {
  return kind_choices;
}
template <>
std::span<const Choice> choices_of<HolePattern>() {
  return hole_pattern_choices;
}
template <>
std::span<const Property<Feature>> properties<Feature>() {
  return feature_list;
}

std::span<const std::string_view> fields_of(FeatureKind kind) {
  switch (kind) {
    case FeatureKind::line: return line_fields;
    case FeatureKind::pocket: return pocket_fields;
    case FeatureKind::holes: return hole_fields;
    case FeatureKind::face: return face_fields;
    case FeatureKind::rectangle: return rectangle_fields;
    case FeatureKind::circle: return circle_fields;
    case FeatureKind::slot: return slot_fields;
    case FeatureKind::text: return text_fields;
  }
  return line_fields;
}

std::span<const std::string_view> geometry_of(FeatureKind kind) {
  static constexpr std::string_view of_line[] = {"closed", "points"}, of_pocket[] = {"islands"},
                                    of_holes[] = {"at", "circles"}, of_text[] = {"at"};
  switch (kind) {
    case FeatureKind::line: return of_line;
    case FeatureKind::pocket: return of_pocket;
    case FeatureKind::holes: return of_holes;
    case FeatureKind::text: return of_text;
    case FeatureKind::face:
    case FeatureKind::rectangle:
    case FeatureKind::circle:
    case FeatureKind::slot: break;
  }
  return {};
}

std::optional<double> drilled_mm(const Feature& f) {
  if (f.diameter_mm || f.thread.empty()) return f.diameter_mm;
  const auto thread = parse_thread(f.thread);
  return thread ? std::optional(thread->tapping_drill_mm) : std::nullopt;
}

bool asks_for(const Feature& f, std::string_view key) {
  if (!has(fields_of(f.kind), key)) return false;
  if (f.kind != FeatureKind::holes) return true;
  const bool of_a_pattern = has(of_grid, key) || has(of_circle, key);
  return !of_a_pattern || (f.circles.empty() && has(fields_of(f.pattern), key));
}

}  // namespace pecorra
