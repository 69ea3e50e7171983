#include "formats/json/objects.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/whole.h"
#include "core/quantity/print.h"
#include "formats/json/body.h"
#include "formats/json/quick_read.h"
#include "formats/json/quick_write.h"

namespace pecorra {
namespace {

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

Json drawing_json(const Drawing& drawing) {
  Json json{{"source", drawing.source}, {"contours", Json::array()}, {"circles", Json::array()}};
  for (const Contour& contour : drawing.contours) {
    json["contours"].push_back({{"closed", contour.closed}, {"vertices", vertices_json(contour.vertices)}});
  }
  for (const Circle& c : drawing.circles) json["circles"].push_back(Json{c.x, c.y, c.diameter_mm});
  return json;
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

void read_drawing(Drawing& drawing, const Json& json) {
  drawing = {};
  if (!json.is_object()) return;
  if (json.contains("source") && json["source"].is_string()) drawing.source = json["source"].get<std::string>();
  if (json.contains("contours") && json["contours"].is_array())
    for (const Json& entry : json["contours"]) {
      if (!entry.is_object()) continue;
      Contour contour;
      contour.closed = entry.contains("closed") && entry["closed"].is_boolean() && entry["closed"].get<bool>();
      if (entry.contains("vertices")) read_vertices(contour.vertices, entry["vertices"]);
      drawing.contours.push_back(std::move(contour));
    }
  if (json.contains("circles") && json["circles"].is_array())
    for (const Json& entry : json["circles"]) {
      const auto c = numbers(entry);
      if (c.size() == 3) drawing.circles.push_back({c[0], c[1], c[2]});
    }
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

void read_trail(Trail& trail, const Json& taken) {
  trail.clear();
  const auto found = taken.find("trail");
  if (found == taken.end() || !found->is_array()) return;
  for (const Json& entry : *found) {
    if (!entry.is_object() || !entry.contains("step") || !entry["step"].is_string()) continue;
    TrailStep step;
    step.step = entry["step"].get<std::string>();
    if (entry.contains("values") && entry["values"].is_object())
      for (const auto& [name, value] : entry["values"].items()) {
        if (value.is_number()) step.values.emplace_back(name, value.get<double>());
        else if (value.is_string()) step.values.emplace_back(name, value.get<std::string>());
      }
    auto id = [&](const char* key) {
      return entry.contains(key) && entry[key].is_string() ? Id::parse(entry[key].get<std::string>()).value_or(Id{})
                                                           : Id{};
    };
    step.target = {id("table"), id("row")};
    trail.push_back(std::move(step));
  }
}

}  // namespace

template <>
Json to_json(const Job& job) {
  Json json = headed(job);
  json["drawing"] = drawing_json(job.drawing);
  json["operations"] = Json::array();
  for (const Operation& o : job.operations) {
    Json entry = write_properties(o, properties<Operation>());
    entry["contours"] = o.contours;
    if (!o.cutter.id.is_null()) entry["cutter"] = to_json(o.cutter);
    entry["taken"] = write_properties(o.taken, properties<TakenConditions>());
    entry["taken"]["trail"] = trail_json(o.taken.trail);
    if (!o.typed.empty()) entry["typed"] = typed_json(o.typed);
    json["operations"].push_back(std::move(entry));
  }
  return json;
}

template <>
void from_json(Job& job, const Json& json, FormatFaults& faults) {
  read_header(job.id, job.revision, json, faults);
  read_all(job, json, faults);
  job.drawing = {};
  job.operations.clear();
  if (!json.is_object()) return;
  if (json.contains("drawing")) read_drawing(job.drawing, json["drawing"]);
  if (!json.contains("operations") || !json["operations"].is_array()) return;
  for (const Json& entry : json["operations"]) {
    if (!entry.is_object()) continue;
    Operation o;
    const std::string path = fmt::format("operations[{}]", job.operations.size());
    read_all(o, entry, faults, path);
    if (entry.contains("contours"))
      for (const double index : numbers(entry["contours"]))
        o.contours.push_back(whole_within(index, -1, 1'000'000'000));
    if (entry.contains("cutter")) from_json(o.cutter, entry["cutter"], faults);
    if (entry.contains("taken") && entry["taken"].is_object()) {
      read_all(o.taken, entry["taken"], faults, path + ".taken");
      read_trail(o.taken.trail, entry["taken"]);
    }
    read_typed(o.typed, entry);
    job.operations.push_back(std::move(o));
  }
}

template <>
Json to_json(const Dialect& d) {
  return write_properties(d, properties<Dialect>());
}
template <>
void from_json(Dialect& d, const Json& json, FormatFaults& faults) {
  read_all(d, json, faults);
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
  if (std::optional<T> object(std::in_place); quick_read(*object, body)) return object;
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

#define PECORRA_INSTANTIATE(kind, Type, list, label)                \
  template Json to_json<Type>(const Type&);                         \
  template void from_json<Type>(Type&, const Json&, FormatFaults&); \
  template std::string body_of<Type>(const Type&);                  \
  template std::optional<Type> object_from_body<Type>(std::string_view, FormatFaults&);
PECORRA_STORED_KINDS(PECORRA_INSTANTIATE)
#undef PECORRA_INSTANTIATE

}  // namespace pecorra
