#include "formats/json/library_schema.h"

#include "formats/json/library_file.h"
#include "formats/json/value_schema.h"

namespace pecorra {
namespace {

using namespace schema;

template <class T>
Json object_schema(bool ranged, std::initializer_list<std::string_view> left_out = {}) {
  Json properties_of = Json::object();
  properties_of["id"] = reference("uuid");
  for (const Property<T>& p : properties<T>())
    if (std::find(left_out.begin(), left_out.end(), p.key) == left_out.end())
      properties_of[std::string(p.key)] = value_schema(p, ranged);
  if constexpr (requires(T t) { t.typed; }) properties_of["typed"] = texts_by_key();
  return {{"type", "object"}, {"properties", std::move(properties_of)}};
}

}  // namespace

std::string library_schema_text() {
  Json whole{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
             {"title", "Pecorra library"},
             {"description",
              "Cutters with what belongs to them. Lengths in mm, angles in degrees; what is not stated is not given."},
             {"type", "object"},
             {"required", {"cutters"}}};
  Json& own = whole["properties"];
  own["format"] = {{"const", "pecorra-library"}};
  own["format_version"] = {{"type", "integer"}, {"minimum", 1}, {"maximum", format_version}};
  own["shop"] = {{"type", "string"}, {"description", "Where it comes from, for people"}};
  own["library"] = {
      {"type", "object"},
      {"properties", {{"id", reference("uuid")}, {"name", {{"type", "string"}}}, {"notes", {{"type", "string"}}}}}};
  for (const auto& [key, item] : {std::pair{"tool_materials", "tool_material"},
                                  {"inserts", "insert"},
                                  {"collets", "collet"},
                                  {"holders", "holder"},
                                  {"materials", "material"},
                                  {"cutters", "cutter"}})
    own[key] = list_of(reference(item));

  Json& parts = whole["$defs"];
  parts["uuid"] = {{"type", "string"}, {"pattern", "^[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}$"}};
  Json cutter = object_schema<Cutter>(true, {"library", "insert"});
  Json& keys = cutter["properties"];
  keys["number"]["minimum"] = 1;
  keys["revision"] = {{"type", "integer"}};
  keys["insert"] = {{"type", "string"}, {"description", "Name of one of the inserts of the file"}};
  keys["shank_sections"] = list_of(numbers(3, 3));
  keys["shank_sections"]["description"] = "[length, lower diameter, upper diameter] each";
  keys["outline"] = list_of(numbers(2, 3));
  keys["outline"]["description"] = "[x, y] or [x, y, bulge] each; of form cutters";
  keys["guesses"] = list_of({{"type", "string"}});
  keys["accepted"] = texts_by_key();
  keys["assemblies"] = list_of(reference("assembly"));
  keys["recipes"] = list_of(reference("recipe"));
  cutter["required"] = {"kind"};
  cutter["additionalProperties"] = false;
  parts["cutter"] = std::move(cutter);
  parts["assembly"] = object_schema<Assembly>(false, {"cutter"});
  parts["recipe"] = object_schema<Recipe>(false, {"cutter"});
  parts["tool_material"] = object_schema<EdgeMaterial>(false);
  parts["insert"] = object_schema<Insert>(false);
  parts["collet"] = object_schema<Collet>(false);
  parts["holder"] = object_schema<Holder>(false);
  parts["holder"]["properties"]["stations"] = list_of(numbers(2, 2));
  parts["material"] = object_schema<WorkMaterial>(false);
  return whole.dump(1) + "\n";
}

}  // namespace pecorra
