#include "formats/mtconnect/assets.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <pugixml.hpp>
#include <sstream>
#include <unordered_map>

#include "core/library/trade_words.h"
#include "formats/encoding.h"

namespace pecorra {
namespace {

// A measurement of the standard, its ISO 13399 symbol and our property. Those of the body stand at the cutter, those of
// the edges at its cutting item.
struct Measure {
  const char* element;
  const char* code;
  std::string_view key;
  bool of_edge;
};
constexpr std::array measures{Measure{"CuttingDiameterMax", "DC", "diameter_mm", false},
                              Measure{"OverallToolLength", "OAL", "overall_length_mm", false},
                              Measure{"ShankDiameter", "DMM", "shank_diameter_mm", false},
                              Measure{"DepthOfCutMax", "APMX", "flute_length_mm", false},
                              Measure{"UsableLengthMax", "LUX", "reach_mm", false},
                              Measure{"BodyDiameterMax", "BDX", "neck_diameter_mm", false},
                              Measure{"CornerRadius", "RE", "corner_radius_mm", true},
                              Measure{"PointAngle", "SIG", "point_angle_deg", true},
                              Measure{"ToolCuttingEdgeAngle", "KAPR", "cutting_edge_angle_deg", true},
                              Measure{"StepDiameterLength", "SDL", "step_length_mm", true},
                              Measure{"StepIncludedAngle", "STA1", "step_angle_deg", true}};
// Of the assembly: ISO 13399 has them of the tool item.
constexpr const char *protruding = "ProtrudingLength", *functional = "FunctionalLength", *weight = "Weight";

const Property<Cutter>& property(std::string_view key) { return *find_property<Cutter>(key); }

std::string figure(double value) { return fmt::format("{}", value); }

// Properties without an element in the standard, as JSON.
Json further_of(const Cutter& cutter) {
  Json json = to_json(cutter);
  for (const char* key : {"id", "number", "name", "maker", "library", "insert", "flutes", "max_rpm"}) json.erase(key);
  for (const Measure& m : measures) json.erase(std::string(m.key));
  return json;
}

void write_measure(pugi::xml_node into, const Measure& m, double value) {
  pugi::xml_node node = into.append_child(m.element);
  node.append_attribute("code") = m.code;
  node.append_attribute("nominal") = figure(value).c_str();
  node.append_attribute("units") = property(m.key).quantity == Quantity::angle ? "DEGREE" : "MILLIMETER";
}

void write_extra(pugi::xml_node into, const char* element, const char* code, const char* units,
                 const std::optional<double>& value) {
  if (!value) return;
  pugi::xml_node node = into.append_child(element);
  node.append_attribute("code") = code;
  node.append_attribute("nominal") = figure(*value).c_str();
  node.append_attribute("units") = units;
}

// Elements by their local names, whatever the prefix.
std::string_view local(const pugi::xml_node& node) {
  const std::string_view name = node.name();
  const auto colon = name.find(':');
  return colon == std::string_view::npos ? name : name.substr(colon + 1);
}
pugi::xml_node child(const pugi::xml_node& node, std::string_view name) {
  for (const pugi::xml_node& c : node.children())
    if (local(c) == name) return c;
  return {};
}

std::optional<double> number_in(const char* text) {
  double value = 0;
  std::string_view t(text);
  while (!t.empty() && (t.front() == ' ' || t.front() == '\n' || t.front() == '\t')) t.remove_prefix(1);
  while (!t.empty() && (t.back() == ' ' || t.back() == '\n' || t.back() == '\t' || t.back() == '\r'))
    t.remove_suffix(1);
  const auto [end, fault] = std::from_chars(t.data(), t.data() + t.size(), value);
  return fault == std::errc() && end == t.data() + t.size() && std::isfinite(value) ? std::optional(value)
                                                                                    : std::nullopt;
}

// The nominal value, else what was measured, in mm or degrees.
std::optional<double> measured(const pugi::xml_node& node) {
  auto value = number_in(node.attribute("nominal").as_string());
  if (!value) value = number_in(node.text().get());
  const std::string_view units = node.attribute("units").as_string("MILLIMETER"),
                         native = node.attribute("nativeUnits").as_string();
  if (value && (units == "INCH" || (units.empty() && native == "INCH"))) *value *= mm_per_inch;
  return value;
}

void read_measures(const pugi::xml_node& list, Cutter& c, AssetExtra& extra, bool of_edge, FormatFaults& faults) {
  for (const pugi::xml_node& node : list.children()) {
    const std::string_view name = local(node), code = node.attribute("code").as_string();
    const auto take = [&](std::string_view key) {
      const auto value = measured(node);
      if (!value)
        return faults.push_back({as_utf8(name), fmt::format("“{}” is not a number", as_utf8(node.text().get()))});
      if (!property(key).accepts(*value))
        return faults.push_back({as_utf8(name), fmt::format("{} is not possible", figure(*value))});
      property(key).set(c, *value);
    };
    bool known = false;
    for (const Measure& m : measures) {
      // By the symbol, which stands for the same in any element; else by the element.
      if (code.empty() ? name != m.element : code != m.code) continue;
      if (of_edge && !m.of_edge && property(m.key).get(c) != Value{}) continue;
      take(m.key);
      known = true;
    }
    if (known) continue;
    if (code == "DCX" && !c.diameter_mm) take("diameter_mm");
    else if (code == "PSIR" || name == "ToolLeadAngle") {
      if (const auto lead = measured(node); lead && *lead >= 0 && *lead < 90) c.cutting_edge_angle_deg = 90 - *lead;
    } else if (name == protruding || code == "LPR") extra.stickout_mm = measured(node);
    else if (name == functional || code == "LF") extra.gauge_length_mm = measured(node);
    else if (name == weight || code == "WT") extra.weight_kg = number_in(node.attribute("nominal").as_string());
    else if (name == "CuttingDiameter" && !c.diameter_mm) take("diameter_mm");
  }
}

}  // namespace

std::string mtconnect_text(const LibraryFile& file, const std::vector<AssetExtra>& extras, const std::string& created) {
  pugi::xml_document document;
  pugi::xml_node declaration = document.append_child(pugi::node_declaration);
  declaration.append_attribute("version") = "1.0";
  declaration.append_attribute("encoding") = "UTF-8";
  pugi::xml_node root = document.append_child("MTConnectAssets");
  root.append_attribute("xmlns") = "urn:mtconnect.org:MTConnectAssets:1.4";
  pugi::xml_node header = root.append_child("Header");
  header.append_attribute("creationTime") = created.c_str();
  header.append_attribute("sender") = file.shop.empty() ? "Pecorra" : xml_text(file.shop).c_str();
  header.append_attribute("instanceId") = "1";
  header.append_attribute("version") = "1.4";
  header.append_attribute("assetBufferSize") =
      static_cast<unsigned long long>(std::max<std::size_t>(1, file.cutters.size()));
  header.append_attribute("assetCount") = static_cast<unsigned long long>(file.cutters.size());
  pugi::xml_node assets = root.append_child("Assets");
  std::unordered_map<Id, const AssetExtra*> extra_of;
  for (const AssetExtra& e : extras) extra_of[e.cutter] = &e;
  for (const Cutter& c : file.cutters) {
    const auto found = extra_of.find(c.id);
    const AssetExtra* extra = found == extra_of.end() ? nullptr : found->second;
    pugi::xml_node asset = assets.append_child("CuttingToolArchetype");
    asset.append_attribute("assetId") = c.id.text().c_str();
    asset.append_attribute("timestamp") = created.c_str();
    asset.append_attribute("toolId") = xml_text(c.order_code.empty() ? std::to_string(c.number) : c.order_code).c_str();
    if (!c.maker.empty()) asset.append_attribute("manufacturers") = xml_text(c.maker).c_str();
    asset.append_child("Description").text() = xml_text(c.name).c_str();
    Json further = further_of(c);
    for (const Insert& insert : file.inserts)
      if (insert.id == c.insert) further["insert"] = insert.name;
    if (extra && !extra->holder.empty()) further["holder"] = extra->holder;
    pugi::xml_node definition = asset.append_child("CuttingToolDefinition");
    definition.append_attribute("format") = "TEXT";
    definition.text() = further.dump().c_str();
    pugi::xml_node life = asset.append_child("CuttingToolLifeCycle");
    if (c.number > 0) life.append_child("ProgramToolNumber").text() = c.number;
    if (c.max_rpm) {
      pugi::xml_node speed = life.append_child("ProcessSpindleSpeed");
      speed.append_attribute("maximum") = figure(*c.max_rpm).c_str();
    }
    pugi::xml_node body = life.append_child("Measurements");
    for (const Measure& m : measures)
      if (const auto value = number_of(c, property(m.key)); value && !m.of_edge) write_measure(body, m, *value);
    if (extra) {
      write_extra(body, protruding, "LPR", "MILLIMETER", extra->stickout_mm);
      write_extra(body, functional, "LF", "MILLIMETER", extra->gauge_length_mm);
      write_extra(body, weight, "WT", "KILOGRAM", extra->weight_kg);
    }
    if (body.first_child().empty()) life.remove_child(body);
    const bool edges = c.flutes || std::any_of(measures.begin(), measures.end(), [&](const Measure& m) {
                         return m.of_edge && number_of(c, property(m.key));
                       });
    if (!edges) continue;
    pugi::xml_node items = life.append_child("CuttingItems");
    items.append_attribute("count") = c.flutes.value_or(1);
    pugi::xml_node item = items.append_child("CuttingItem");
    item.append_attribute("indices") = c.flutes.value_or(1) > 1 ? fmt::format("1-{}", *c.flutes).c_str() : "1";
    if (c.flutes) item.append_attribute("itemId") = "edges";
    pugi::xml_node edge = item.append_child("Measurements");
    for (const Measure& m : measures)
      if (const auto value = number_of(c, property(m.key)); value && m.of_edge) write_measure(edge, m, *value);
    if (edge.first_child().empty()) item.remove_child(edge);
  }
  std::ostringstream out;
  document.save(out, " ");
  return out.str();
}

tl::expected<ReadAssets, FormatFault> read_mtconnect(std::string_view text, const InsertNamed& insert_named) {
  // Entities are never expanded or fetched.
  if (text.substr(0, 4096).find("<!DOCTYPE") != std::string_view::npos ||
      text.find("<!ENTITY") != std::string_view::npos)
    return tl::unexpected(FormatFault{
        "", "has a DOCTYPE or entities of its own, which are not supported; expected a plain asset document"});
  pugi::xml_document document;
  const pugi::xml_parse_result read = document.load_buffer(text.data(), text.size());
  if (!read)
    return tl::unexpected(
        FormatFault{"", fmt::format("is not well-formed XML: {} at byte {}", read.description(), read.offset)});
  const pugi::xml_node root = document.document_element();
  pugi::xml_node assets = local(root) == "Assets" ? root : child(root, "Assets");
  if (!assets && (local(root) == "CuttingTool" || local(root) == "CuttingToolArchetype")) assets = document;
  if (!assets)
    return tl::unexpected(FormatFault{"", "is not an MTConnect asset document; expected MTConnectAssets with Assets"});
  ReadAssets out;
  std::vector<pugi::xml_node> tools;
  for (const pugi::xml_node& node : assets.children()) {
    if (local(node) == "CuttingTool" || local(node) == "CuttingToolArchetype") tools.push_back(node);
    // Some versions keep them one level deeper.
    if (local(node) == "CuttingTools" || local(node) == "CuttingToolArchetypes")
      for (const pugi::xml_node& inner : node.children()) tools.push_back(inner);
  }
  for (const pugi::xml_node& asset : tools) {
    Cutter c;
    AssetExtra extra;
    FormatFaults faults;
    const auto id = Id::parse(asset.attribute("assetId").as_string());
    c.maker = as_utf8(asset.attribute("manufacturers").as_string());
    c.name = as_utf8(child(asset, "Description").text().get());
    bool has_kind = false, has_code = false;
    const pugi::xml_node definition = child(asset, "CuttingToolDefinition");
    if (std::string_view(definition.attribute("format").as_string()) == "TEXT")
      if (auto json = parse_json(definition.text().get()); json && json->is_object()) {
        if (json->contains("holder") && (*json)["holder"].is_string())
          extra.holder = (*json)["holder"].get<std::string>();
        const auto insert = json->find("insert");
        const auto known = insert != json->end() && insert->is_string() && insert_named
                               ? insert_named(insert->get_ref<const std::string&>())
                               : std::nullopt;
        for (const char* key : {"holder", "insert", "library", "id"}) json->erase(key);
        has_kind = json->contains("kind");
        has_code = json->contains("order_code");
        const std::string maker = c.maker, name = c.name;
        from_json(c, *json, faults);
        c.maker = maker;
        c.name = name;
        c.insert = known.value_or(Id{});
        for (const Property<Cutter>& p : properties<Cutter>())
          if (const auto number = number_of(c, p); number && p.key != "number" && !p.accepts(*number))
            faults.push_back({std::string(p.key), "is out of range"});
      }
    const pugi::xml_node life = child(asset, "CuttingToolLifeCycle");
    if (const char* number = child(life, "ProgramToolNumber").text().get(); *number) {
      if (const auto value = number_in(number);
          value && *value >= 1 && *value <= 99999999 && *value == std::floor(*value))
        c.number = static_cast<int>(*value);
      else
        faults.push_back(
            {"ProgramToolNumber", fmt::format("“{}” is not a tool number; use 1 or more", as_utf8(number))});
    }
    if (const auto speed = number_in(child(life, "ProcessSpindleSpeed").attribute("maximum").as_string());
        speed && *speed > 0)
      c.max_rpm = speed;
    // What no definition of ours says is kept as the order code, where it is not the number again.
    const std::string tool_id = as_utf8(asset.attribute("toolId").as_string());
    if (!has_code && !has_kind && tool_id != std::to_string(c.number)) c.order_code = tool_id;
    read_measures(child(life, "Measurements"), c, extra, false, faults);
    const pugi::xml_node items = child(life, "CuttingItems");
    if (const auto count = number_in(items.attribute("count").as_string());
        count && *count >= 1 && *count <= 1000 && *count == std::floor(*count) &&
        (!has_kind || *child(items, "CuttingItem").attribute("itemId").as_string()))
      c.flutes = static_cast<int>(*count);
    for (const pugi::xml_node& item : items.children())
      if (local(item) == "CuttingItem") read_measures(child(item, "Measurements"), c, extra, true, faults);
    if (!has_kind) {
      const auto kind = kind_in_words(c.name);
      if (kind) c.kind = *kind;
      else
        faults.push_back({"Description", "its description does not name a kind of cutter, such as end mill or drill"});
    }
    if (id) c.id = *id;
    out.has_id.push_back(id.has_value());
    extra.cutter = c.id;
    out.cutters.push_back(std::move(c));
    out.faults.push_back(std::move(faults));
    out.extras.push_back(std::move(extra));
  }
  return out;
}

}  // namespace pecorra
