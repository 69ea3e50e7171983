#include "formats/json/job_schema.h"

#include <algorithm>

#include "core/job/job.h"
#include "formats/json/value_schema.h"

namespace pecorra {
namespace {

using namespace schema;

Json text() { return {{"type", "string"}}; }
Json number() { return {{"type", "number"}}; }
Json above_zero() { return {{"type", "number"}, {"exclusiveMinimum", 0}}; }
Json closed_object(Json properties, const std::vector<std::string>& required = {}) {
  Json out{{"type", "object"}, {"additionalProperties", false}, {"properties", std::move(properties)}};
  if (!required.empty()) out["required"] = required;
  return out;
}
template <class T>
void take(Json& to, std::initializer_list<std::string_view> keys) {
  for (const std::string_view key : keys) to[std::string(key)] = value_schema(*find_property<T>(key), true);
}

Json setup_properties() {
  Json own = Json::object();
  Json stock = Json::object();
  for (const char* side : {"x_mm", "y_mm", "z_mm"}) stock[side] = numbers(2, 2);
  own["stock"] = closed_object(std::move(stock));
  own["zero"] = {{"oneOf",
                  {numbers(3, 3), Json{{"enum",
                                        {"top_left", "top_right", "bottom_left", "bottom_right", "centre", "top",
                                         "bottom", "left", "right"}}}}}};
  take<Setup>(own, {"clearance_mm", "work_offset", "skin", "under"});
  own["clamps"] = list_of(closed_object({{"outline", text()}, {"top_mm", number()}}, {"outline", "top_mm"}));
  return own;
}

Json feature_schema(FeatureKind kind) {
  Json own{{"id", text()}, {"kind", {{"const", key_of(kind)}}}};
  std::vector<std::string> required{"id", "kind"};
  for (const std::string_view key : fields_of(kind)) take<Feature>(own, {key});
  const bool one_place = kind == FeatureKind::text;
  for (const std::string_view key : geometry_of(kind)) {
    Json& value = own[std::string(key)];
    if (key == "closed") value = {{"type", "boolean"}};
    else if (key == "points") value = reference("points");
    else if (key == "at") value = one_place ? numbers(2, 2) : list_of(numbers(2, 2));
    else value = list_of(text());
  }
  if (kind == FeatureKind::line) required.push_back("points");
  if (kind == FeatureKind::pocket) required.push_back("outline");
  return closed_object(std::move(own), required);
}

// Sizes of a cutter that no library has.
Json generic_cutter() {
  Json own = Json::object();
  for (const Property<Cutter>& p : properties<Cutter>())
    if (p.quantity != Quantity::id && p.key != "number") take<Cutter>(own, {p.key});
  return closed_object(std::move(own), {"kind"});
}

Json operation_schema(PathKind kind) {
  Json own{{"kind", {{"const", key_of(kind)}}},
           {"features", list_of(text())},
           {"cutter",
            {{"oneOf",
              {Json{{"const", "auto"}},
               closed_object({{"library", text()}, {"number", {{"type", "integer"}}}}, {"library", "number"}),
               closed_object({{"generic", reference("generic_cutter")}}, {"generic"})}}}},
           {"behind", {{"type", "integer"}, {"minimum", 1}}},
           {"proven_step", text()},
           {"setup", text()}};
  take<Operation>(own, {"name", "operation", "top_mm", "depth_mm", "leave_wall_mm", "leave_floor_mm", "climb",
                        "tool_number", "stickout_mm", "permitted_deflection_mm"});
  for (const std::string_view key : declaration(kind).parameters)
    if (!key.starts_with("tab_") && key != "own_coolant") take<Operation>(own, {key});
  Json& manners = own["operation"]["enum"];
  manners = Json::array();
  for (int i = 0; i < operation_count; ++i)
    if (declaration(kind).manners & bit(static_cast<OperationKind>(i)))
      manners.push_back(key_of(static_cast<OperationKind>(i)));
  if (has_parameter(kind, "tab_count"))
    own["tabs"] = closed_object({{"count", {{"type", "integer"}, {"minimum", 0}, {"maximum", 100}}},
                                 {"width_mm", above_zero()},
                                 {"height_mm", above_zero()},
                                 {"at", list_of(numbers(2, 2))}});
  Json values = Json::object();
  for (const char* key : {"n_rpm", "vf_mm_min", "plunge_mm_min", "ramp_mm_min", "ap_mm", "ae_mm"})
    values[key] = above_zero();
  for (const Choice& c : choices_of<Coolant>()) values["coolant"]["enum"].push_back(c.key);
  own["own"] = closed_object(std::move(values));
  return closed_object(std::move(own), {"kind", "cutter"});
}

}  // namespace

std::string job_schema_text() {
  Json whole{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
             {"title", "Pecorra job"},
             {"description", "A job with its geometry and operations. Lengths in mm, z up, 0 the top of the stock."}};
  Json own{{"format_version", {{"const", format_version}}}, {"machine", text()}, {"material", text()}};
  take<JobHead>(own, {"name", "pace", "rapid_mm_min", "program_unit", "program_number"});
  const Json setup = setup_properties();
  own.update(setup);
  Json named = setup;
  named["name"] = text();
  own["setups"] = list_of(closed_object(std::move(named)));
  own["drawing"] = {{"type", "string"}, {"description", "A DXF or SVG file, beside this one or absolute"}};
  own["drawing_lines"] = list_of(closed_object({{"layer", text()},
                                                {"closed", {{"type", "boolean"}}},
                                                {"points", reference("points")},
                                                {"circle", numbers(3, 3)}}));
  own["drawing_texts"] = list_of(closed_object({{"layer", text()},
                                                {"text", text()},
                                                {"at", numbers(2, 2)},
                                                {"height_mm", above_zero()},
                                                {"angle_deg", number()}},
                                               {"text", "at", "height_mm"}));
  Json values{{"library", text()}, {"number", {{"type", "integer"}}}};
  take<CutterValues>(values, {"n_rpm", "vf_mm_min", "ap_mm", "ae_mm"});
  own["cutters"] = list_of(closed_object(std::move(values), {"library", "number"}));
  Json features = Json::array(), operations = Json::array();
  for (std::size_t i = 0; i < choices_of<FeatureKind>().size(); ++i)
    features.push_back(feature_schema(static_cast<FeatureKind>(i)));
  for (std::size_t i = 0; i < choices_of<PathKind>().size(); ++i)
    operations.push_back(operation_schema(static_cast<PathKind>(i)));
  own["features"] = list_of({{"oneOf", std::move(features)}});
  own["operations"] = list_of({{"oneOf", std::move(operations)}});
  whole.update(closed_object(std::move(own), {"machine", "material"}));
  whole["$defs"]["points"] = list_of(numbers(2, 3));
  whole["$defs"]["generic_cutter"] = generic_cutter();
  return whole.dump(1) + "\n";
}

}  // namespace pecorra
