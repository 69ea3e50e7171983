// What `resolve`, `chart` and `shortlist` answer, for the command and for the service.
#include <fmt/format.h>
#include <cmath>

#include "cli/answers.h"
#include "cli/lookup.h"
#include "formats/json/json_text.h"
#include "formats/sheet/sheet_file.h"
#include "shop/evaluation.h"
#include "shop/job_file.h"
#include "shop/shortlist.h"
#include "shop/words.h"

namespace pecorra::cli {
namespace {

// Figures by name: what is put later replaces what stands there.
class NamedFigures {
 public:
  // A whole number as one without a point, where it is wanted so.
  void put(std::string_view key, double value, bool whole = false) {
    if (std::isnan(value)) return;
    for (Figure& f : figures_)
      if (f.key == key) return void(f = {key, value, whole});
    figures_.push_back({key, value, whole});
  }
  void write(JsonText& out) const {
    for (const Figure& f : figures_)
      if (f.whole && std::abs(f.value) < 1e15 && f.value == std::floor(f.value))
        out.put(f.key, static_cast<std::int64_t>(f.value));
      else out.put_known(f.key, f.value);
  }

 private:
  struct Figure {
    std::string_view key;
    double value;
    bool whole;
  };
  std::vector<Figure> figures_;
};

void write_conditions(JsonText& out, const Evaluation& e) {
  NamedFigures figures;
  const CutResults& r = e.cut.results;
  for (const Property<CutResults>& p : properties<CutResults>())
    if (const auto number = p.get_number(r)) figures.put(p.key, *number, true);
  const Conditions& c = e.resolution.conditions;
  for (const auto& [key, value] : {std::pair{"n_rpm", c.n_rpm},
                                   {"vf_mm_min", c.vf_mm_min},
                                   {"vf_edge_mm_min", c.vf_edge_mm_min},
                                   {"vc_m_min", c.vc_m_min},
                                   {"fz_mm", c.fz_mm},
                                   {"fn_mm", c.fn_mm},
                                   {"d_eff_mm", c.d_eff_mm},
                                   {"ap_mm", c.ap_mm},
                                   {"ae_mm", c.ae_mm},
                                   {"plunge_mm_min", c.plunge_mm_min},
                                   {"ramp_mm_min", c.ramp_mm_min},
                                   {"ramp_n_rpm", c.ramp_n_rpm}})
    figures.put(key, value);
  if (c.lead_mm_min != c.vf_mm_min) figures.put("lead_mm_min", c.lead_mm_min);  // where it is one of its own
  figures.write(out);
  if (c.dial_position > 0) out.put("dial_position", c.dial_position);
  out.put("coolant", key_of(c.coolant));
  if (const auto& band = e.cut.band)
    for (const auto& [low, high, value] : {std::tuple{"motor_power_low_kw", "motor_power_high_kw", r.motor_power_kw},
                                           {"mc_low_nm", "mc_high_nm", r.mc_nm},
                                           {"force_peak_low_n", "force_peak_high_n", r.force_peak_n},
                                           {"deflection_low_mm", "deflection_high_mm", r.deflection_mm},
                                           {"thrust_low_n", "thrust_high_n", r.thrust_n}})
      if (value) {
        out.put_known(low, *value * band->low);
        out.put_known(high, *value * band->high);
      }
}

// Where no row fits the trail says why, then which keys failed, then what is near; else its last step is the reason.
std::string no_answer_text(const Evaluation& e, const Cutter& cutter, OperationKind operation) {
  const NoAnswer reason = e.resolution.reason;
  std::string text;
  for (const TrailStep& step : e.trail)
    if (reason == NoAnswer::no_row  ? step.step != "near_row"
        : reason == NoAnswer::never ? step.step == "never_rule"
                                    : &step == &e.trail.back())
      text += (text.empty() ? "" : " ") + sentence(step, UnitSystem::metric).toStdString();
  if (!text.empty()) return text;
  if (reason == NoAnswer::cannot_do)
    return "a " + std::string(label_of(cutter.kind)) + " cannot do " + std::string(label_of(operation)) + "; it is " +
           reason_text(reason, cutter.kind).toStdString();
  return reason_text(reason, cutter.kind).toStdString();
}

}  // namespace

void WrittenSteps::write(JsonText& out, const TrailStep& step) {
  constexpr std::size_t most_bytes = 4u << 20;
  write_key(key_, step.step, step.values);
  if (const auto found = written_.find(key_); found != written_.end()) return out.put_written(found->second);
  const std::size_t from = out.begin_object();
  out.put("step", step.step);
  out.put("text", sentence(step, UnitSystem::metric).toStdString());
  out.put("values", step.values);
  out.end_object();
  if (bytes_ > most_bytes) written_.clear(), bytes_ = 0;
  bytes_ += key_.size() + out.text().size() - from;
  written_.emplace(key_, out.text().substr(from));
}

tl::expected<std::string, FormatFaults> resolve_answer(const ShopState& state, const Resolver& resolver,
                                                       const ResolveOptions& options, WrittenSteps& steps) {
  FormatFaults faults;
  const Library* library = find_named(state.libraries, options.library, "library", faults);
  const WorkMaterial* material = find_named(state.materials, options.material, "material", faults);
  const Machine* machine = find_named(state.machines, options.machine, "machine", faults);
  const auto operation = find_choice<OperationKind>(options.operation, "operation", faults);
  const Cutter* cutter = find_cutter(state, library, options.number, "number", faults);
  std::optional<SourceKind> source;
  if (!options.source.empty()) source = find_choice<SourceKind>(options.source, "source", faults);
  const Recipe* recipe = nullptr;
  if (!options.recipe.empty() && cutter) {
    recipe = state.recipe_named(cutter->id, options.recipe);
    std::vector<std::string> names;
    for (const std::size_t i : state.recipes.of_cutter(cutter->id)) names.push_back(state.recipes[i].name);
    const std::string near = nearest_text(options.recipe, names);
    if (!recipe)
      faults.push_back({"recipe", "“" + options.recipe + "” is not known; " +
                                      (names.empty()  ? "this cutter has no recipes"
                                       : near.empty() ? "this cutter has " + names.front()
                                                      : "“" + near + "” is the nearest")});
    else if (operation && recipe->operation != *operation)
      faults.push_back({"recipe", "“" + recipe->name + "” is for " + std::string(label_of(recipe->operation)) +
                                      "; choose one of its operations"});
  }
  auto positive = [&](const std::optional<double>& number, const char* key) {
    if (number && !(std::isfinite(*number) && *number > 0)) faults.push_back({key, "must be more than 0"});
  };
  positive(options.ap_mm, "ap");
  positive(options.ae_mm, "ae");
  if (options.pace && !(*options.pace >= 1 && *options.pace <= 1000))
    faults.push_back({"pace", "must be between 1 and 1000"});
  if (cutter && cutter->diameter_mm && options.ae_mm && *options.ae_mm > *cutter->diameter_mm)
    faults.push_back(
        {"ae", "is more than the diameter; at most " + std::to_string(*cutter->diameter_mm) + " is expected"});
  if (!faults.empty()) return tl::unexpected(std::move(faults));

  Context context;
  context.operation = *operation;
  context.pace = options.pace.value_or(100);
  Query query = query_for(state, context);
  query.ap_mm = options.ap_mm.value_or(not_given);
  query.ae_mm = options.ae_mm.value_or(not_given);
  query.only = source;
  if (recipe) query.recipe = resolver.recipe_place(recipe->id);
  const Evaluation e = evaluate(state, resolver, *cutter, *material, *machine, query, state.assembly_of(cutter->id));

  JsonText out;
  out.begin_object();
  out.key("conditions");
  out.begin_object();
  if (e.resolution.found()) write_conditions(out, e);
  out.end_object();
  out.put("source", key_of(e.resolution.source));
  out.put("guess", e.resolution.guess);
  out.key("trail");
  out.begin_array();
  for (const TrailStep& step : e.trail) steps.write(out, step);
  out.end_array();
  out.key("headroom");
  write_headroom(out, e.cut.headroom);
  out.key("messages");
  out.begin_array();
  if (!e.resolution.found()) {
    const bool grave = e.resolution.reason == NoAnswer::below_least_speed || e.resolution.reason == NoAnswer::never;
    write_message(out, grave ? Severity::error : Severity::warning, key_of(e.resolution.reason),
                  no_answer_text(e, *cutter, *operation));
  }
  for (const Message& m : e.cut.messages) write_message(out, m);
  if (const auto hazard = hazard_message(*material)) write_message(out, *hazard);
  if (e.resolution.reason == NoAnswer::draft)
    for (const Message& m : check_cutter(*cutter)) write_message(out, m);
  out.end_array();
  out.end_object();
  std::string answer;
  answer.reserve(out.text().size() + 1);
  answer += out.text();
  return answer += '\n';
}

tl::expected<std::string, FormatFaults> chart_answer(const ShopState& state, const Resolver& resolver,
                                                     const ChartOptions& options) {
  FormatFaults faults;
  const Machine* machine = find_named(state.machines, options.machine, "machine", faults);
  const auto operation = find_choice<OperationKind>(options.operation, "operation", faults);
  if (options.format != "json" && options.format != "csv") faults.push_back({"format", "expected json or csv"});
  if (!faults.empty()) return tl::unexpected(std::move(faults));
  Context context;
  context.operation = *operation;
  const Query query = query_for(state, context);
  const MachineKey machine_key = resolver.key_of(*machine);
  const bool csv = options.format == "csv";
  Json rows = Json::array();
  Sheet sheet;
  sheet.lines.push_back({"library", "number", "name", "material", "n_rpm", "vf_mm_min", "ap_mm", "ae_mm", "source",
                         "guess", "used", "limit"});
  // For people to read: 1.8 and not 1.7999999999999998.
  auto figure = [](double v) { return std::isnan(v) ? std::string() : fmt::format("{:.12g}", v); };
  for (const Cutter& cutter : state.cutters) {
    const CutterKey key = key_as_used(state, resolver, cutter);
    const Library* library = state.libraries.find(cutter.library);
    const std::string library_name = library ? library->name : "";
    for (const WorkMaterial& material : state.materials) {
      const Resolution r = resolver.resolve(key, resolver.key_of(material), machine_key, query);
      const Conditions& c = r.conditions;
      // The tightest limit at the worst place, as the window marks it.
      double used = not_given;
      std::string_view limit;
      if (r.found()) {
        const Evaluation e = evaluate(state, resolver, cutter, material, *machine, query, state.assembly_of(cutter.id),
                                      {}, Extent::limits);
        if (!e.cut.headroom.empty())
          used = e.cut.headroom.front().tightest(), limit = key_of(e.cut.headroom.front().limit);
      }
      if (csv) {
        sheet.lines.push_back({library_name, std::to_string(cutter.number), cutter.name, material.name, figure(c.n_rpm),
                               figure(c.vf_mm_min), figure(c.ap_mm), figure(c.ae_mm), std::string(key_of(r.source)),
                               r.guess ? "true" : "false", figure(used), std::string(limit)});
        continue;
      }
      Json row{
          {"library", library_name}, {"number", cutter.number}, {"name", cutter.name}, {"material", material.name}};
      put(row, "n_rpm", c.n_rpm);
      put(row, "vf_mm_min", c.vf_mm_min);
      put(row, "ap_mm", c.ap_mm);
      put(row, "ae_mm", c.ae_mm);
      row["source"] = key_of(r.source);
      row["guess"] = r.guess;
      put(row, "used", used);
      if (!limit.empty()) row["limit"] = limit;
      if (!r.found()) row["reason"] = key_of(r.reason);
      rows.push_back(std::move(row));
    }
  }
  return csv ? csv_text(sheet, "\n") : Json{{"chart", std::move(rows)}}.dump(1) + "\n";
}

namespace {

// A feature as in a job file, with what is to be done to it, as a job of one operation.
Json job_of(const Json& feature, const ShortlistOptions& options, FormatFaults& faults) {
  Json job = {{"format_version", 1},
              {"name", "shortlist"},
              {"machine", options.machine},
              {"material", options.material},
              {"features", Json::array()}};
  Json kept = feature;
  const auto hoist = [&](Json& line, const std::string& id) {
    if (!line.is_object()) return;
    line["id"] = id;
    job["features"].push_back(line);
    line = id;
  };
  if (!kept.contains("id")) kept["id"] = "feature";
  if (kept.contains("outline")) hoist(kept["outline"], "outline of it");
  if (kept.contains("islands") && kept["islands"].is_array())
    for (std::size_t i = 0; i < kept["islands"].size(); ++i)
      hoist(kept["islands"][i], "island " + std::to_string(i + 1) + " of it");
  if (kept.contains("features") && kept["features"].is_array())
    for (const Json& other : kept["features"]) job["features"].push_back(other);
  for (const char* key : {"stock", "clearance_mm"})
    if (kept.contains(key)) job[key] = kept[key];
  Json operation = kept.contains("operation") ? kept["operation"] : Json();
  for (const char* key : {"operation", "features", "stock", "clearance_mm"}) kept.erase(key);
  if (operation.is_string()) operation = Json{{"kind", operation}};
  if (!operation.is_object() || !operation.contains("kind"))
    faults.push_back({"operation",
                      "is missing; expected a kind of operation, such as \"pocket\" or {\"kind\": "
                      "\"drill\", \"cycle\": \"peck\"}"});
  else
    for (const char* key : {"cutter", "features"})
      if (operation.contains(key)) faults.push_back({std::string("operation.") + key, "is found here; leave it out"});
  operation["features"] = Json::array({kept["id"]});
  operation["cutter"] = "auto";
  job["features"].push_back(std::move(kept));
  job["operations"] = Json::array({std::move(operation)});
  return job;
}

Json taken_json(const TakenConditions& t) {
  Json json = Json::object();
  for (const auto& [key, value] : {std::pair{"n_rpm", &t.n_rpm},
                                   {"vf_mm_min", &t.vf_mm_min},
                                   {"plunge_mm_min", &t.plunge_mm_min},
                                   {"ramp_mm_min", &t.ramp_mm_min},
                                   {"ap_mm", &t.ap_mm},
                                   {"ae_mm", &t.ae_mm},
                                   {"vc_m_min", &t.vc_m_min},
                                   {"fz_mm", &t.fz_mm}})
    if (*value) json[key] = **value;
  json["coolant"] = key_of(t.coolant);
  return json;
}

Json cutter_json(const ShopState& state, const Cutter& cutter) {
  const Library* library = state.libraries.find(cutter.library);
  return {{"library", library ? library->name : ""}, {"number", cutter.number}};
}

}  // namespace

tl::expected<std::string, FormatFaults> shortlist_answer(const ShopState& state, const Resolver& resolver,
                                                         const ShortlistOptions& options, std::string_view text) {
  FormatFaults faults;
  const WorkMaterial* material = find_named(state.materials, options.material, "material", faults);
  const Machine* machine = find_named(state.machines, options.machine, "machine", faults);
  std::optional<ToolMaterial> tool_material;
  if (!options.tool_material.empty())
    tool_material = find_choice<ToolMaterial>(options.tool_material, "tool-material", faults);
  if (options.by != "cost" && options.by != "time") faults.push_back({"by", "expected cost or time"});
  const auto feature = parse_json(text);
  if (!feature) faults.push_back(feature.error());
  else if (!feature->is_object()) faults.push_back({"", "is not an object; expected one feature, {…}"});
  if (!material || !machine || !faults.empty()) return tl::unexpected(std::move(faults));
  ShortlistOptions ids = options;
  ids.material = material->name;
  ids.machine = machine->name;
  const Json job_text = job_of(*feature, ids, faults);
  if (!faults.empty()) return tl::unexpected(std::move(faults));
  const auto read = read_job_file(state, resolver, job_text.dump(), {});
  if (!read) return tl::unexpected(read.error());
  const Shortlist list =
      shortlist(state, resolver, read->job, options.by == "time" ? RankBy::time : RankBy::cost, tool_material);
  Json ranked = Json::array(), excluded = Json::array();
  for (const ShortlistEntry& e : list.ranked) {
    Json entry = cutter_json(state, *e.cutter);
    entry["name"] = e.cutter->name;
    const Holder* holder = e.assembly ? state.holders.find(e.assembly->holder) : nullptr;
    entry["assembly"] = e.assembly && !e.assembly->name.empty() ? e.assembly->name : holder ? holder->name : "";
    entry["minutes"] = e.minutes;
    entry["cost"] = e.cost ? Json(*e.cost) : Json();
    entry["edges"] = e.edges ? Json(*e.edges) : Json();
    entry["edges_in_cost"] = e.edges_in_cost;
    entry["conditions"] = taken_json(e.operation.taken);
    entry["source"] = key_of(e.operation.taken.source);
    entry["guess"] = e.operation.taken.guess;
    entry["messages"] = messages_json(e.messages);
    ranked.push_back(std::move(entry));
  }
  for (const ShortlistRefusal& r : list.excluded) {
    Json entry = cutter_json(state, *r.cutter);
    entry["reason"] = {{"code", r.reason.code}, {"text", sentence(r.reason, UnitSystem::metric).toStdString()}};
    excluded.push_back(std::move(entry));
  }
  return Json{{"ranked", std::move(ranked)}, {"excluded", std::move(excluded)}}.dump(1) + "\n";
}

}  // namespace pecorra::cli
