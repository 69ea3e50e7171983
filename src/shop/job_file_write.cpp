#include <algorithm>

#include "core/operation/holes.h"
#include "shop/job_file.h"
#include "shop/job_file_keys.h"

namespace pecorra {
namespace {

Json points_json(const Contour& line) {
  Json points = Json::array();
  for (const Vertex& v : line.vertices) points.push_back(v.bulge == 0 ? Json{v.x, v.y} : Json{v.x, v.y, v.bulge});
  return points;
}

void put_range(Json& json, const char* key, const std::optional<double>& low, const std::optional<double>& high) {
  if (low && high) json[key] = {*low, *high};
}

Json setup_json(const Setup& s) {
  Json json = Json::object();
  if (!s.name.empty()) json["name"] = s.name;
  Json stock = Json::object();
  put_range(stock, "x_mm", s.x_low_mm, s.x_high_mm);
  put_range(stock, "y_mm", s.y_low_mm, s.y_high_mm);
  put_range(stock, "z_mm", s.z_low_mm, s.z_high_mm);
  if (!stock.empty()) json["stock"] = stock;
  if (s.zero_x_mm || s.zero_y_mm || s.zero_z_mm)
    json["zero"] = {s.zero_x_mm.value_or(0), s.zero_y_mm.value_or(0), s.zero_z_mm.value_or(0)};
  if (!s.work_offset.empty()) json["work_offset"] = s.work_offset;
  if (s.clearance_mm) json["clearance_mm"] = *s.clearance_mm;
  if (s.skin != StockSkin::none) json["skin"] = key_of(s.skin);
  if (s.under != UnderStock::free) json["under"] = key_of(s.under);
  for (const Clamp& c : s.clamps) json["clamps"].push_back({{"outline", c.outline.key}, {"top_mm", c.top_mm}});
  return json;
}

Json text_json(const DrawnText& t) {
  return {{"text", t.text}, {"at", {t.at.x, t.at.y}}, {"height_mm", t.height_mm}, {"angle_deg", t.angle_deg}};
}

Json keys_json(const std::vector<FeatureUse>& uses) {
  Json list = Json::array();
  for (const FeatureUse& use : uses) list.push_back(use.key);
  return list;
}

Json feature_json(const Feature& f) {
  Json json{{"id", f.key}, {"kind", key_of(f.kind)}};
  if (f.kind == FeatureKind::line) {
    json["closed"] = f.line.closed;
    json["points"] = points_json(f.line);
  }
  if (!f.islands.empty()) json["islands"] = keys_json(f.islands);
  if (!f.circles.empty()) json["circles"] = keys_json(f.circles);
  if (f.kind == FeatureKind::holes && f.pattern == HolePattern::places && f.circles.empty()) {
    json["at"] = Json::array();
    for (const Point2& p : f.at) json["at"].push_back(Json{p.x, p.y});
  }
  const bool at = f.kind == FeatureKind::text;
  if (at) json["at"] = {f.x_mm.value_or(0), f.y_mm.value_or(0)};
  for (const std::string_view key : fields_of(f.kind)) {
    if (!asks_for(f, key) || (at && (key == "x_mm" || key == "y_mm"))) continue;
    const Property<Feature>& p = *find_property<Feature>(key);
    if (p.get(f) == p.get(Feature{})) continue;
    json.update(write_properties(f, std::span<const Property<Feature>>(&p, 1)));
  }
  return json;
}

Json operation_json(const ShopState& state, const Job& job, const Operation& o) {
  Json json{{"kind", key_of(o.path)}, {"name", o.name}};
  json["features"] = Json::array();
  for (const FeatureUse& use : o.features) json["features"].push_back(use.key);
  const Library* library = state.libraries.find(o.cutter.library);
  if (library) json["cutter"] = {{"library", library->name}, {"number", o.cutter.number}};
  else if (o.generic_cutter) json["cutter"] = {{"generic", write_properties(o.cutter, generic_properties())}};
  else json["cutter"] = "auto";
  if (const Setup* setup = setup_of(job, o); setup && job.setups.size() > 1 && !setup->name.empty())
    json["setup"] = setup->name;
  std::vector<std::string_view> keys(declaration(o.path).parameters.begin(), declaration(o.path).parameters.end());
  keys.insert(keys.end(), {"leave_wall_mm", "leave_floor_mm", "climb"});
  for (const Property<Operation>& p : properties<Operation>()) {
    if (p.key == "name" || p.key.starts_with("tab_") || p.key.starts_with("own_")) continue;
    if (std::find(keys.begin(), keys.end(), p.key) == keys.end()) continue;
    if (p.key == "operation" && follows_cycle(o)) continue;
    json.update(write_properties(o, std::span<const Property<Operation>>(&p, 1)));
  }
  for (std::size_t i = 0; i < job.operations.size(); ++i)
    if (!o.behind.is_null() && job.operations[i].id == o.behind) json["behind"] = i + 1;
  if (const ProvenStep* step = state.proven_steps.find(o.proven_step)) json["proven_step"] = step->name;
  if (o.tab_count || !o.tabs_at.empty()) {
    Json& tabs = json["tabs"];
    if (o.tab_count) tabs["count"] = *o.tab_count;
    if (o.tab_width_mm) tabs["width_mm"] = *o.tab_width_mm;
    if (o.tab_height_mm) tabs["height_mm"] = *o.tab_height_mm;
    for (const Point2& p : o.tabs_at) tabs["at"].push_back(Json{p.x, p.y});
  }
  Json own = Json::object();
  for (const OwnKey& k : own_keys)
    if (o.*k.member) own[k.key] = *(o.*k.member);
  if (o.own_coolant) own["coolant"] = key_of(*o.own_coolant);
  if (!own.empty()) json["own"] = own;
  return json;
}

}  // namespace

Json job_file(const ShopState& state, const Job& job) {
  Json json{{"format_version", format_version}, {"name", job.name}};
  if (const Machine* machine = state.machines.find(job.machine)) json["machine"] = machine->name;
  if (const WorkMaterial* material = state.materials.find(job.material)) json["material"] = material->name;
  if (job.pace) json["pace"] = *job.pace;
  if (job.rapid_mm_min) json["rapid_mm_min"] = *job.rapid_mm_min;
  if (job.program_unit != UnitSystem::metric) json["program_unit"] = key_of(job.program_unit);
  if (job.program_number) json["program_number"] = *job.program_number;
  if (job.setups.size() == 1 && job.setups.front().name.empty()) json.update(setup_json(job.setups.front()));
  else
    for (const Setup& s : job.setups) json["setups"].push_back(setup_json(s));
  for (const DrawnLine& line : job.drawing().lines) {
    Json one = Json::object();
    if (!line.layer.empty()) one["layer"] = line.layer;
    if (line.is_circle()) {
      one["circle"] = {line.centre().x, line.centre().y, line.diameter_mm};
    } else {
      one["closed"] = line.contour.closed;
      one["points"] = points_json(line.contour);
    }
    json["drawing_lines"].push_back(std::move(one));
  }
  for (const DrawnText& t : job.drawing().texts) {
    Json one = text_json(t);
    if (!t.layer.empty()) one["layer"] = t.layer;
    json["drawing_texts"].push_back(std::move(one));
  }
  json["features"] = Json::array();
  for (const Feature& f : job.features) json["features"].push_back(feature_json(f));
  for (const CutterValues& values : job.cutters) {
    const Cutter* cutter = state.cutters.find(values.cutter);
    const Library* library = cutter ? state.libraries.find(cutter->library) : nullptr;
    if (!library) continue;
    Json one{{"library", library->name}, {"number", cutter->number}};
    one.update(write_properties(values, properties<CutterValues>().subspan(1)));
    json["cutters"].push_back(std::move(one));
  }
  json["operations"] = Json::array();
  for (const Operation& o : job.operations) json["operations"].push_back(operation_json(state, job, o));
  return json;
}

Json features_of(const Drawing& drawing) {
  Json list = Json::array();
  const std::vector<std::string> keys = keys_of(drawing);
  for (std::size_t i = 0; i < keys.size(); ++i) {
    const DrawnLine& line = drawing.lines[i];
    Json one{{"id", keys[i]}, {"kind", "line"}, {"closed", line.contour.closed}};
    if (line.is_circle()) one["diameter_mm"] = line.diameter_mm;
    one["points"] = points_json(line.contour);
    list.push_back(std::move(one));
  }
  const std::vector<std::string> texts = text_keys_of(drawing);
  for (std::size_t i = 0; i < texts.size(); ++i) {
    Json one{{"id", texts[i]}, {"kind", "text"}};
    one.update(text_json(drawing.texts[i]));
    list.push_back(std::move(one));
  }
  return list;
}

}  // namespace pecorra
