#include <fmt/format.h>
#include <QFile>
#include <algorithm>
#include <cmath>
#include <iostream>
#include <numbers>

#include "cli/lookup.h"
#include "core/motion/motion.h"
#include "core/program/program.h"
#include "formats/sheet/sheet_file.h"
#include "shop/demo.h"
#include "shop/evaluation.h"
#include "shop/planning.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra::cli {
namespace {

void put(Json& json, const char* key, double value) {
  if (!std::isnan(value)) json[key] = value;
}

Json conditions_json(const Evaluation& e) {
  Json json = write_properties(e.cut.results, properties<CutResults>());
  const Conditions& c = e.resolution.conditions;
  put(json, "n_rpm", c.n_rpm);
  put(json, "vf_mm_min", c.vf_mm_min);
  put(json, "vf_edge_mm_min", c.vf_edge_mm_min);
  put(json, "vc_m_min", c.vc_m_min);
  put(json, "fz_mm", c.fz_mm);
  put(json, "fn_mm", c.fn_mm);
  put(json, "d_eff_mm", c.d_eff_mm);
  put(json, "ap_mm", c.ap_mm);
  put(json, "ae_mm", c.ae_mm);
  put(json, "plunge_mm_min", c.plunge_mm_min);
  put(json, "ramp_mm_min", c.ramp_mm_min);
  put(json, "ramp_n_rpm", c.ramp_n_rpm);
  if (c.lead_mm_min != c.vf_mm_min) put(json, "lead_mm_min", c.lead_mm_min);  // where it is one of its own
  if (c.dial_position > 0) json["dial_position"] = c.dial_position;
  json["coolant"] = key_of(c.coolant);
  const CutResults& r = e.cut.results;
  if (const auto& band = e.cut.band)
    for (const auto& [low, high, value] : {std::tuple{"motor_power_low_kw", "motor_power_high_kw", r.motor_power_kw},
                                           {"mc_low_nm", "mc_high_nm", r.mc_nm},
                                           {"force_peak_low_n", "force_peak_high_n", r.force_peak_n},
                                           {"deflection_low_mm", "deflection_high_mm", r.deflection_mm},
                                           {"thrust_low_n", "thrust_high_n", r.thrust_n}})
      if (value) json[low] = *value * band->low, json[high] = *value * band->high;
  return json;
}

Json spoken_trail_json(const Trail& trail) {
  Json list = Json::array();
  for (const TrailStep& step : trail)
    list.push_back({{"step", step.step},
                    {"text", sentence(step, UnitSystem::metric).toStdString()},
                    {"values", details_json(step.values)}});
  return list;
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

int resolve(const ResolveOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
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
  if (!faults.empty()) return say(faults);

  Context context;
  context.operation = *operation;
  context.pace = options.pace.value_or(100);
  Query query = query_for(state, context);
  query.ap_mm = options.ap_mm.value_or(not_given);
  query.ae_mm = options.ae_mm.value_or(not_given);
  query.only = source;
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  if (recipe) query.recipe = resolver.recipe_place(recipe->id);
  const Evaluation e = evaluate(state, resolver, *cutter, *material, *machine, query, state.assembly_of(cutter->id));

  Json answer = Json::object();
  answer["conditions"] = e.resolution.found() ? conditions_json(e) : Json::object();
  answer["source"] = key_of(e.resolution.source);
  answer["guess"] = e.resolution.guess;
  answer["trail"] = spoken_trail_json(e.trail);
  answer["headroom"] = headroom_json(e.cut.headroom);
  answer["messages"] = messages_json(e.cut.messages);
  if (const auto hazard = hazard_message(*material)) answer["messages"].push_back(messages_json({*hazard})[0]);
  if (!e.resolution.found()) {
    const bool grave = e.resolution.reason == NoAnswer::below_least_speed || e.resolution.reason == NoAnswer::never;
    const std::string text = no_answer_text(e, *cutter, *operation);
    if (e.resolution.reason == NoAnswer::draft)
      for (const Message& m : check_cutter(*cutter)) answer["messages"].push_back(messages_json({m})[0]);
    const Json first{{"severity", grave ? "error" : "warning"}, {"code", key_of(e.resolution.reason)}, {"text", text}};
    answer["messages"].insert(answer["messages"].begin(), first);
  }
  std::cout << answer.dump(2) << "\n";
  return answered;
}

int chart(const ChartOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const Machine* machine = find_named(state.machines, options.machine, "machine", faults);
  const auto operation = find_choice<OperationKind>(options.operation, "operation", faults);
  if (options.format != "json" && options.format != "csv") faults.push_back({"format", "expected json or csv"});
  if (!faults.empty()) return say(faults);
  Context context;
  context.operation = *operation;
  const Query query = query_for(state, context);
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  const MachineKey machine_key = resolver.key_of(*machine);
  const bool csv = options.format == "csv";
  Json rows = Json::array();
  Sheet sheet;
  sheet.lines.push_back(
      {"library", "number", "name", "material", "n_rpm", "vf_mm_min", "ap_mm", "ae_mm", "source", "guess"});
  // For people to read: 1.8 and not 1.7999999999999998.
  auto figure = [](double v) { return std::isnan(v) ? std::string() : fmt::format("{:.12g}", v); };
  for (const Cutter& cutter : state.cutters) {
    const CutterKey key = key_as_used(state, resolver, cutter);
    const Library* library = state.libraries.find(cutter.library);
    const std::string library_name = library ? library->name : "";
    for (const WorkMaterial& material : state.materials) {
      const Resolution r = resolver.resolve(key, resolver.key_of(material), machine_key, query);
      const Conditions& c = r.conditions;
      if (csv) {
        sheet.lines.push_back({library_name, std::to_string(cutter.number), cutter.name, material.name, figure(c.n_rpm),
                               figure(c.vf_mm_min), figure(c.ap_mm), figure(c.ae_mm), std::string(key_of(r.source)),
                               r.guess ? "true" : "false"});
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
      if (!r.found()) row["reason"] = key_of(r.reason);
      rows.push_back(std::move(row));
    }
  }
  if (csv) std::cout << csv_text(sheet, "\n");
  else std::cout << Json{{"chart", std::move(rows)}}.dump(1) << "\n";
  return answered;
}

int program(const ProgramOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const JobHead* head = find_named(state.jobs, options.job, "job", faults);
  const std::optional<Job> job = head ? state.job(head->id) : std::nullopt;
  std::string dialect = job ? dialect_of(state, *job).key : std::string();
  if (!options.dialect.empty()) {
    std::vector<std::string> keys;
    for (const Dialect& d : shipped_dialects()) keys.push_back(d.key);
    if (std::find(keys.begin(), keys.end(), options.dialect) == keys.end()) {
      std::string text = "“" + options.dialect + "” is not known; there are:";
      for (std::size_t i = 0; i < keys.size(); ++i) text += (i ? ", " : " ") + keys[i];
      faults.push_back({"dialect", text});
    }
    dialect = options.dialect;
  }
  if (!faults.empty()) return say(faults);

  PlanRequest request = plan_request(state, *job);
  request.dialect = dialect_named(dialect);
  const JobPlan plan = plan_job(request);
  for (std::size_t i = 0; i < plan.faults.size(); ++i)
    for (const Message& m : plan.faults[i])
      if (m.severity == Severity::error)
        std::cerr << "operation " << i + 1 << " " << job->operations[i].name << ": " << m.property << ": "
                  << sentence(m, UnitSystem::metric).toStdString() << "\n";
  if (plan.has_faults() && !options.skip_faulty) return failed;
  if (const QString fault =
          write_file(QString::fromStdString(options.out), QByteArray::fromStdString(program_of(request, plan)));
      !fault.isEmpty()) {
    std::cerr << "o: " << fault.toStdString() << "\n";
    return failed;
  }
  // What the window shows beside each operation.
  Json report{{"operations", Json::array()}, {"minutes", 0.0}};
  double minutes = 0;
  for (std::size_t i = 0; i < plan.figures.size(); ++i) {
    const Operation& o = job->operations[i];
    const PathFigures& f = plan.figures[i];
    Json entry{{"name", o.name.empty() ? std::string(label_of(o.path)) : o.name}, {"kind", key_of(o.path)}};
    if (!has_error(plan.faults[i])) {
      put(entry, "minutes", f.minutes);
      if (const double growth = plan.operations[i]->growth_rad; growth > 0)
        put(entry, "corner_engagement_deg", growth * 180 / std::numbers::pi);
      minutes += f.minutes;
    }
    report["operations"].push_back(std::move(entry));
  }
  report["minutes"] = minutes;
  std::cout << report.dump(1) << "\n";
  return answered;
}

int demo(const std::string& out) {
  const auto written = write_shop(demo_state(), QString::fromStdString(out), QStringLiteral("Demo shop made"));
  if (written) return answered;
  std::cerr << "OUT: " << written.error().sentence().toStdString() << "\n";
  return failed;
}

}  // namespace pecorra::cli
