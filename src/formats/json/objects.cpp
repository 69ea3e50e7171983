#include "formats/json/objects.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>

#include "core/quantity/print.h"
#include "formats/json/body.h"
#include "formats/json/quick_read.h"
#include "formats/json/quick_write.h"

namespace pecorra {
namespace {

constexpr std::size_t most_step_operations = 200;

Json typed_json(const std::map<std::string, std::string, std::less<>>& typed) {
  Json json = Json::object();
  for (const auto& [key, text] : typed) json[key] = text;
  return json;
}

void read_typed(std::map<std::string, std::string, std::less<>>& typed, const Json& json,
                const char* key_of_map = "typed") {
  typed.clear();
  if (!json.is_object()) return;
  const auto found = json.find(key_of_map);
  if (found == json.end() || !found->is_object()) return;
  for (const auto& [key, text] : found->items())
    if (text.is_string()) typed[key] = text.get<std::string>();
}

void read_header(Id& id, std::int64_t& revision, const Json& json, FormatFaults& faults) {
  if (!json.is_object()) {
    faults.push_back({"", "expected an object here"});
    return;
  }
  const auto found = json.find("id");
  const auto parsed =
      found != json.end() && found->is_string() ? Id::parse(found->get_ref<const std::string&>()) : std::nullopt;
  if (parsed) id = *parsed;
  else if (found != json.end()) faults.push_back({"id", "is not a UUID; expected 8-4-4-4-12 hexadecimal digits"});
  const auto rev = json.find("revision");
  if (rev != json.end() && rev->is_number_integer()) revision = rev->get<std::int64_t>();
}

template <class T>
Json headed(const T& object) {
  Json json{{"id", object.id.text()}};
  json.update(write_properties(object, properties<T>()));
  return json;
}

template <class T>
void read_all(T& object, const Json& json, FormatFaults& faults, const std::string& path = "") {
  if (json.is_object()) read_properties(object, properties<T>(), json, path, {}, faults);
}

template <class T>
Json plain_json(const T& object) {
  Json json = headed(object);
  if constexpr (requires { object.typed; })
    if (!object.typed.empty()) json["typed"] = typed_json(object.typed);
  return json;
}

template <class T>
void read_plain(T& object, const Json& json, FormatFaults& faults) {
  read_header(object.id, object.revision, json, faults);
  read_all(object, json, faults);
  if constexpr (requires { object.typed; }) read_typed(object.typed, json);
}

// [x, y] or [x, y, bulge] each.
Json vertices_json(const std::vector<Vertex>& vertices) {
  Json list = Json::array();
  for (const Vertex& v : vertices) list.push_back(v.bulge == 0 ? Json{v.x, v.y} : Json{v.x, v.y, v.bulge});
  return list;
}

Json points_json(const std::vector<Point2>& points) {
  Json list = Json::array();
  for (const Point2& p : points) list.push_back(Json{p.x, p.y});
  return list;
}

std::vector<double> numbers(const Json& json) {
  std::vector<double> list;
  if (json.is_array())
    for (const Json& value : json)
      if (value.is_number()) list.push_back(value.get<double>());
  return list;
}

void read_vertices(std::vector<Vertex>& vertices, const Json& json) {
  if (!json.is_array()) return;
  for (const Json& vertex : json) {
    const auto v = numbers(vertex);
    if (v.size() >= 2) vertices.push_back({v[0], v[1], v.size() > 2 ? v[2] : 0});
  }
}

void read_points(std::vector<Point2>& points, const Json& json) {
  points.clear();
  if (!json.is_array()) return;
  for (const Json& point : json)
    if (const auto p = numbers(point); p.size() == 2) points.push_back({p[0], p[1]});
}

std::string text_at(const Json& json, const char* key) {
  const auto found = json.find(key);
  return found != json.end() && found->is_string() ? found->get<std::string>() : std::string();
}
bool flag_at(const Json& json, const char* key) {
  const auto found = json.find(key);
  return found != json.end() && found->is_boolean() && found->get<bool>();
}

}  // namespace

template <class T>
Json to_json(const T& object) {
  return plain_json(object);
}
template <class T>
void from_json(T& object, const Json& json, FormatFaults& faults) {
  read_plain(object, json, faults);
}

template <>
Json to_json(const Cutter& c) {
  Json json = headed(c);
  for (const ShankSection& s : c.shank_sections)
    json["shank_sections"].push_back(Json{s.length_mm, s.lower_mm, s.upper_mm});
  if (!c.outline.empty()) json["outline"] = vertices_json(c.outline);
  if (!c.guesses.empty()) json["guesses"] = c.guesses;
  if (!c.accepted.empty()) json["accepted"] = typed_json(c.accepted);
  if (!c.typed.empty()) json["typed"] = typed_json(c.typed);
  return json;
}

template <>
void from_json(Cutter& c, const Json& json, FormatFaults& faults) {
  read_header(c.id, c.revision, json, faults);
  read_all(c, json, faults);
  read_typed(c.typed, json);
  read_typed(c.accepted, json, "accepted");
  c.shank_sections.clear();
  c.outline.clear();
  c.guesses.clear();
  if (!json.is_object()) return;
  if (const auto found = json.find("shank_sections"); found != json.end() && found->is_array())
    for (const Json& entry : *found) {
      const auto s = numbers(entry);
      if (s.size() == 3) c.shank_sections.push_back({s[0], s[1], s[2]});
      else faults.push_back({"shank_sections", "each is [length, lower diameter, upper diameter] in mm"});
    }
  if (const auto found = json.find("outline"); found != json.end()) read_vertices(c.outline, *found);
  if (const auto found = json.find("guesses"); found != json.end() && found->is_array())
    for (const Json& key : *found)
      if (key.is_string()) c.guesses.insert(key.get<std::string>());
}

template <>
Json to_json(const Holder& h) {
  Json json = plain_json(h);
  json["stations"] = Json::array();
  for (const Station& s : h.stations) json["stations"].push_back(Json{s.distance_mm, s.diameter_mm});
  return json;
}

template <>
void from_json(Holder& h, const Json& json, FormatFaults& faults) {
  read_plain(h, json, faults);
  h.stations.clear();
  if (json.is_object() && json.contains("stations") && json["stations"].is_array())
    for (const Json& entry : json["stations"]) {
      const auto s = numbers(entry);
      if (s.size() == 2) h.stations.push_back({s[0], s[1]});
      else faults.push_back({"stations", "each is [distance, diameter] in mm"});
    }
}

template <>
Json to_json(const Machine& m) {
  Json json = plain_json(m);
  for (const auto& [curve, key] :
       {std::pair{&m.power_curve, "power_curve_rpm_kw"}, {&m.peak_curve, "peak_curve_rpm_kw"}})
    for (const PowerPoint& p : *curve) json[key].push_back(Json{p.rpm, p.kw});
  if (!m.dial_rpm.empty()) json["dial_rpm"] = m.dial_rpm;
  return json;
}

void read_power_curve(std::vector<PowerPoint>& curve, const Json& json, const std::string& path, FormatFaults& faults) {
  curve.clear();
  if (!json.is_array() || json.empty()) {
    faults.push_back({path, "is not a curve; expected a list of [rpm, kW]"});
    return;
  }
  for (const Json& entry : json) {
    if (!entry.is_array() || entry.size() != 2 || !entry[0].is_number() || !entry[1].is_number()) {
      faults.push_back({path, "each point is [rpm, kW], two numbers"});
      return;
    }
    curve.push_back({entry[0].get<double>(), entry[1].get<double>()});
  }
  for (const Message& m : check_power_curve(curve)) {
    faults.push_back({path, m.code == "curve_not_rising" ? "the speeds must rise"
                                                         : "a point is negative or not finite; expected 0 or more"});
    return;
  }
}

template <>
void from_json(Machine& m, const Json& json, FormatFaults& faults) {
  read_plain(m, json, faults);
  for (const auto& [curve, key] :
       {std::pair{&m.power_curve, "power_curve_rpm_kw"}, {&m.peak_curve, "peak_curve_rpm_kw"}}) {
    curve->clear();
    if (json.is_object() && json.contains(key)) read_power_curve(*curve, json[key], key, faults);
  }
  m.dial_rpm.clear();
  if (!json.is_object() || !json.contains("dial_rpm")) return;
  m.dial_rpm = numbers(json["dial_rpm"]);
  if (!json["dial_rpm"].is_array() || m.dial_rpm.size() != json["dial_rpm"].size())
    faults.push_back({"dial_rpm", "is not a list of speeds; expected rising numbers in rpm"});
}

template <>
Json to_json(const ConditionTable& t) {
  Json json = headed(t);
  json["rows"] = Json::array();
  for (const ConditionRow& row : t.rows) {
    Json entry{{"id", row.id.text()}};
    entry.update(write_properties(row, properties<ConditionRow>()));
    if (!row.typed.empty()) entry["typed"] = typed_json(row.typed);
    json["rows"].push_back(std::move(entry));
  }
  return json;
}

template <>
void from_json(ConditionTable& t, const Json& json, FormatFaults& faults) {
  read_header(t.id, t.revision, json, faults);
  read_all(t, json, faults);
  t.rows.clear();
  if (!json.is_object() || !json.contains("rows") || !json["rows"].is_array()) return;
  for (const Json& entry : json["rows"]) {
    ConditionRow row;
    std::int64_t none = 0;
    read_header(row.id, none, entry, faults);
    read_all(row, entry, faults, fmt::format("rows[{}]", t.rows.size()));
    read_typed(row.typed, entry);
    t.rows.push_back(std::move(row));
  }
}

Json details_json(const Details& details) {
  Json values = Json::object();
  for (const auto& [name, detail] : details) {
    if (const std::string* text = std::get_if<std::string>(&detail)) {
      if (!text->empty()) values[name] = *text;
    } else if (const double number = std::get<double>(detail); std::isfinite(number)) {
      values[name] = number;
    }
  }
  return values;
}

Json trail_json(const Trail& trail) {
  Json list = Json::array();
  for (const TrailStep& step : trail) {
    Json entry{{"step", step.step}, {"values", details_json(step.values)}};
    if (!step.target.table.is_null()) entry["table"] = step.target.table.text();
    if (!step.target.row.is_null()) entry["row"] = step.target.row.text();
    list.push_back(std::move(entry));
  }
  return list;
}

namespace {

void read_trail(SharedTrail& into, const Json& json, const char* key) {
  into.clear();
  Trail trail;
  const auto found = json.find(key);
  if (found == json.end() || !found->is_array()) return;
  for (const Json& entry : *found) {
    if (!entry.is_object() || !entry.contains("step") || !entry["step"].is_string()) continue;
    TrailStep step;
    step.step = entry["step"].get<std::string>();
    if (entry.contains("values") && entry["values"].is_object())
      for (const auto& [name, value] : entry["values"].items()) {
        if (value.is_number()) step.values.emplace_back(name, value.get<double>());
        else if (value.is_string()) step.values.emplace_back(name, value.get<std::string>());
      }
    auto id = [&](const char* of) {
      return entry.contains(of) && entry[of].is_string() ? Id::parse(entry[of].get<std::string>()).value_or(Id{})
                                                         : Id{};
    };
    step.target = {id("table"), id("row")};
    trail.push_back(std::move(step));
  }
  into = std::move(trail);
}

// With its print where it has one: ["EDGE/1", "print"].
Json use_json(const FeatureUse& use) { return use.print.empty() ? Json{use.key} : Json{use.key, use.print}; }
Json uses_json(const std::vector<FeatureUse>& uses) {
  Json list = Json::array();
  for (const FeatureUse& use : uses) list.push_back(use_json(use));
  return list;
}
// A key alone as well.
std::optional<FeatureUse> use_in(const Json& json) {
  if (json.is_string()) return FeatureUse{json.get<std::string>(), {}};
  if (!json.is_array() || json.empty() || !json[0].is_string()) return std::nullopt;
  const bool printed = json.size() > 1 && json[1].is_string();
  return FeatureUse{json[0].get<std::string>(), printed ? json[1].get<std::string>() : std::string()};
}
void read_uses(std::vector<FeatureUse>& uses, const Json& json, const char* key) {
  uses.clear();
  if (!json.contains(key) || !json[key].is_array()) return;
  for (const Json& entry : json[key])
    if (auto use = use_in(entry)) uses.push_back(std::move(*use));
}

}  // namespace

template <>
Json to_json(const JobHead& job) {
  Json json = plain_json(job);
  for (const CutterValues& values : job.cutters)
    json["cutters"].push_back(write_properties(values, properties<CutterValues>()));
  return json;
}

template <>
void from_json(JobHead& job, const Json& json, FormatFaults& faults) {
  read_plain(job, json, faults);
  job.cutters.clear();
  if (!json.is_object() || !json.contains("cutters") || !json["cutters"].is_array()) return;
  for (const Json& entry : json["cutters"]) {
    CutterValues values;
    read_all(values, entry, faults, "cutters");
    if (!values.cutter.is_null() && !values.empty()) job.cutters.push_back(values);
  }
}

template <>
Json to_json(const Setup& setup) {
  Json json = plain_json(setup);
  for (const Clamp& clamp : setup.clamps)
    json["clamps"].push_back({{"outline", use_json(clamp.outline)}, {"top_mm", clamp.top_mm}});
  return json;
}

template <>
void from_json(Setup& setup, const Json& json, FormatFaults& faults) {
  read_plain(setup, json, faults);
  setup.clamps.clear();
  if (!json.is_object() || !json.contains("clamps") || !json["clamps"].is_array()) return;
  for (const Json& entry : json["clamps"]) {
    if (!entry.is_object() || !entry.contains("outline")) continue;
    if (!entry.contains("top_mm") || !entry["top_mm"].is_number()) continue;
    if (auto use = use_in(entry["outline"])) setup.clamps.push_back({std::move(*use), entry["top_mm"].get<double>()});
  }
}

template <>
Json to_json(const Part& part) {
  Json json = plain_json(part);
  json["source"] = part.drawing.source;
  json["print"] = part.drawing.print;
  json["lines"] = Json::array();
  for (const DrawnLine& line : part.drawing.lines) {
    Json entry{{"layer", line.layer}};
    if (line.is_circle()) {
      entry["circle"] = Json{line.centre().x, line.centre().y, line.diameter_mm};
    } else {
      if (line.contour.closed) entry["closed"] = true;
      entry["vertices"] = vertices_json(line.contour.vertices);
    }
    json["lines"].push_back(std::move(entry));
  }
  for (const DrawnText& text : part.drawing.texts)
    json["texts"].push_back({{"layer", text.layer},
                             {"text", text.text},
                             {"at", Json{text.at.x, text.at.y}},
                             {"height_mm", text.height_mm},
                             {"angle_deg", text.angle_deg}});
  return json;
}

template <>
void from_json(Part& part, const Json& json, FormatFaults& faults) {
  read_plain(part, json, faults);
  part.drawing = {};
  if (!json.is_object()) return;
  part.drawing.source = text_at(json, "source");
  part.drawing.print = text_at(json, "print");
  if (json.contains("texts") && json["texts"].is_array())
    for (const Json& entry : json["texts"]) {
      if (!entry.is_object()) continue;
      const auto number = [&](const char* key) {
        return entry.contains(key) && entry[key].is_number() ? entry[key].get<double>() : 0.0;
      };
      const auto at = entry.contains("at") ? numbers(entry["at"]) : std::vector<double>{};
      if (at.size() != 2 || !(number("height_mm") > 0)) continue;
      part.drawing.texts.push_back(
          {text_at(entry, "layer"), text_at(entry, "text"), {at[0], at[1]}, number("height_mm"), number("angle_deg")});
    }
  if (!json.contains("lines") || !json["lines"].is_array()) return;
  for (const Json& entry : json["lines"]) {
    if (!entry.is_object()) continue;
    if (entry.contains("circle")) {
      const auto c = numbers(entry["circle"]);
      if (c.size() == 3 && c[2] > 0) part.drawing.add_circle({c[0], c[1]}, c[2], text_at(entry, "layer"));
      else faults.push_back({"lines", "a circle is [x, y, diameter] in mm"});
      continue;
    }
    Contour contour;
    contour.closed = flag_at(entry, "closed");
    if (entry.contains("vertices")) read_vertices(contour.vertices, entry["vertices"]);
    part.drawing.add_line(std::move(contour), text_at(entry, "layer"));
  }
}

template <>
Json to_json(const Feature& feature) {
  Json json = plain_json(feature);
  if (feature.kind == FeatureKind::line) {
    if (feature.line.closed) json["closed"] = true;
    json["points"] = vertices_json(feature.line.vertices);
  }
  if (feature.kind == FeatureKind::holes && feature.pattern == HolePattern::places && !feature.at.empty())
    json["at"] = points_json(feature.at);
  if (!feature.outline.print.empty()) json["outline_print"] = feature.outline.print;
  if (!feature.islands.empty()) json["islands"] = uses_json(feature.islands);
  if (!feature.circles.empty()) json["circles"] = uses_json(feature.circles);
  return json;
}

template <>
void from_json(Feature& feature, const Json& json, FormatFaults& faults) {
  read_plain(feature, json, faults);
  feature.line = {};
  feature.at.clear();
  if (json.is_object()) {
    feature.line.closed = flag_at(json, "closed");
    if (json.contains("points")) read_vertices(feature.line.vertices, json["points"]);
    if (json.contains("at")) read_points(feature.at, json["at"]);
    feature.outline.print = text_at(json, "outline_print");
    read_uses(feature.islands, json, "islands");
    read_uses(feature.circles, json, "circles");
  }
  shape(feature);
}

namespace {

Json taken_json(const TakenConditions& taken) { return write_properties(taken, properties<TakenConditions>()); }

}  // namespace

// The trails are objects of their own.
template <>
Json to_json(const Operation& o) {
  Json json = plain_json(o);
  json["features"] = uses_json(o.features);
  if (!o.tabs_at.empty()) json["tabs_at"] = points_json(o.tabs_at);
  if (!o.cutter.id.is_null()) json["cutter"] = to_json(o.cutter);
  json["taken"] = taken_json(o.taken);
  if (o.taken_slot.source != SourceKind::none) json["taken_slot"] = taken_json(o.taken_slot);
  if (o.taken_finish.source != SourceKind::none) json["taken_finish"] = taken_json(o.taken_finish);
  if (o.taken_floor.source != SourceKind::none) json["taken_floor"] = taken_json(o.taken_floor);
  return json;
}

template <>
void from_json(Operation& o, const Json& json, FormatFaults& faults) {
  read_plain(o, json, faults);
  o.features.clear();
  o.tabs_at.clear();
  o.cutter = {};
  if (!json.is_object()) return;
  read_uses(o.features, json, "features");
  if (json.contains("tabs_at")) read_points(o.tabs_at, json["tabs_at"]);
  if (json.contains("cutter")) from_json(o.cutter, json["cutter"], faults);
  const std::pair<const char*, TakenConditions*> all[] = {{"taken", &o.taken},
                                                          {"taken_slot", &o.taken_slot},
                                                          {"taken_finish", &o.taken_finish},
                                                          {"taken_floor", &o.taken_floor}};
  for (const auto& [key, taken] : all) {
    *taken = {};
    if (json.contains(key) && json[key].is_object()) read_all(*taken, json[key], faults, key);
  }
}

template <>
Json to_json(const ProvenStep& s) {
  Json json = plain_json(s);
  json["operations"] = Json::array();
  for (const Operation& o : s.operations) json["operations"].push_back(to_json(o));
  return json;
}
template <>
void from_json(ProvenStep& s, const Json& json, FormatFaults& faults) {
  read_plain(s, json, faults);
  s.operations.clear();
  if (!json.is_object() || !json.contains("operations") || !json["operations"].is_array()) return;
  for (const Json& one : json["operations"]) {
    if (s.operations.size() >= most_step_operations) break;
    s.operations.emplace_back();
    from_json(s.operations.back(), one, faults);
  }
}

template <>
Json to_json(const RetunedProgram& p) {
  Json json = plain_json(p);
  json["tools"] = Json::array();
  for (const ToolPairing& tool : p.tools) json["tools"].push_back(write_properties(tool, properties<ToolPairing>()));
  return json;
}
template <>
void from_json(RetunedProgram& p, const Json& json, FormatFaults& faults) {
  read_plain(p, json, faults);
  p.tools.clear();
  if (!json.is_object() || !json.contains("tools") || !json["tools"].is_array()) return;
  for (const Json& one : json["tools"]) {
    ToolPairing tool;
    read_all(tool, one, faults, "tools");
    if (tool.t && !p.pairing(*tool.t, tool.part) && p.tools.size() < most_pairings) p.tools.push_back(tool);
  }
}

template <>
Json to_json(const OperationTrail& t) {
  Json json = headed(t);
  json["cut"] = trail_json(t.cut);
  if (!t.slot.empty()) json["slot"] = trail_json(t.slot);
  if (!t.finish.empty()) json["finish"] = trail_json(t.finish);
  if (!t.floor.empty()) json["floor"] = trail_json(t.floor);
  return json;
}

template <>
void from_json(OperationTrail& t, const Json& json, FormatFaults& faults) {
  read_plain(t, json, faults);
  if (!json.is_object()) return;
  read_trail(t.cut, json, "cut");
  read_trail(t.slot, json, "slot");
  read_trail(t.finish, json, "finish");
  read_trail(t.floor, json, "floor");
}

std::string json_text(const Json& value) {
  if (value.is_null()) return "—";
  if (value.is_string()) return value.get<std::string>();
  if (value.is_number_float()) return plain(value.get<double>(), 4);
  return value.dump();
}

template <class T>
std::string body_of(const T& object) {
  if constexpr (std::is_same_v<T, Cutter>) {
    // Written into a large buffer, then stored at its exact size.
    thread_local std::string room;
    room.clear();
    quick_write(room, object);
    return room;
  } else {
    return to_json(object).dump();
  }
}

template <class T>
std::optional<T> object_from_body(std::string_view body, FormatFaults& faults) {
  if (std::optional<T> object(std::in_place); quick_read(*object, body)) {
    if constexpr (std::is_same_v<T, Feature>) shape(*object);  // its geometry follows from its numbers
    return object;
  }
  // The store's own text is parsed without checking for duplicate keys. Anything large is scanned first.
  if (body.size() > (1u << 18))
    if (const auto strict = parse_json(body); !strict) {
      faults.push_back(strict.error());
      return std::nullopt;
    }
  const Json json = Json::parse(body, nullptr, false);
  if (json.is_discarded()) {
    const auto strict = parse_json(body);
    faults.push_back(strict ? FormatFault{"", "invalid JSON; expected an object in {}"} : strict.error());
    return std::nullopt;
  }
  T object;
  try {
    from_json(object, json, faults);
  } catch (const Json::exception&) {
    faults.push_back({"", "holds a value of the wrong type"});
    return std::nullopt;
  }
  return json.is_object() ? std::optional(std::move(object)) : std::nullopt;
}

#define PECORRA_INSTANTIATE(kind, Type, list, label)                                                         \
  template Json to_json<Type>(const Type&);                                                                  \
  template void from_json<Type>(Type&, const Json&, FormatFaults&); /* NOLINT(bugprone-macro-parentheses) */ \
  template std::string body_of<Type>(const Type&);                                                           \
  template std::optional<Type> object_from_body<Type>(std::string_view, FormatFaults&);
PECORRA_STORED_KINDS(PECORRA_INSTANTIATE)
#undef PECORRA_INSTANTIATE

}  // namespace pecorra
