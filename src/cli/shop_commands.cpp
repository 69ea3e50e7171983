#include <fmt/format.h>
#include <QFile>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <iostream>
#include <numbers>
#include <sstream>

#include "cli/lookup.h"
#include "core/motion/motion.h"
#include "formats/paper/paper.h"
#include "formats/sheet/sheet_file.h"
#include "shop/demo.h"
#include "shop/evaluation.h"
#include "shop/planning.h"
#include "shop/program_file.h"
#include "shop/setup_sheet.h"
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

namespace {

std::string known_dialects(const ShopState& state) {
  std::string keys;
  for (const Dialect* d : dialects_of(state)) keys += (keys.empty() ? "" : ", ") + d->key;
  return keys;
}

// Operations in error, a line each.
void tell_faults(const Job& job, const JobPlan& plan) {
  for (std::size_t i = 0; i < plan.faults.size(); ++i)
    for (const Message& m : plan.faults[i])
      if (m.severity == Severity::error)
        std::cerr << "operation " << i + 1 << " " << job.operations[i].name << ": " << m.property << ": "
                  << sentence(m, UnitSystem::metric).toStdString() << "\n";
}

// Of a setup, by its number from 1 or its name.
std::optional<std::size_t> find_setup(const Job& job, const std::string& named, FormatFaults& faults) {
  for (std::size_t i = 0; i < job.setups.size(); ++i)
    if (job.setups[i].name == named || std::to_string(i + 1) == named) return i;
  std::string known;
  for (std::size_t i = 0; i < job.setups.size(); ++i)
    known += (i ? ", " : "") + std::to_string(i + 1) + (job.setups[i].name.empty() ? "" : " " + job.setups[i].name);
  faults.push_back({"setup", "“" + named + "” is not a setup of this job; there are: " + known});
  return {};
}

int verify(const std::string& file, const std::string& wanted) {
  std::ifstream in(file, std::ios::binary);
  if (!in) {
    std::cerr << "verify: " << file << " cannot be read\n";
    return wrong_input;
  }
  std::ostringstream found;
  found << in.rdbuf();
  const auto differences = program_differences(found.str(), wanted);
  std::cout << Json{{"same", differences.empty()}, {"differences", differences}}.dump(1) << "\n";
  return answered;
}

}  // namespace

int program(const ProgramOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const JobHead* head = find_named(state.jobs, options.job, "job", faults);
  std::optional<Job> job = head ? state.job(head->id) : std::nullopt;
  if (!options.dialect.empty() && !dialect_named(state, options.dialect))
    faults.push_back({"dialect", "“" + options.dialect + "” is not known; there are: " + known_dialects(state)});
  if (!options.unit.empty() && options.unit != "mm" && options.unit != "inch")
    faults.push_back({"unit", "“" + options.unit + "” is no unit of a program; expected mm or inch"});
  std::optional<std::size_t> setup;
  if (job && !options.setup.empty()) setup = find_setup(*job, options.setup, faults);
  if (options.out.empty() && !options.verify) faults.push_back({"o", "is missing; -o names the file to write"});
  if (options.verify && options.verify->empty() && options.out.empty())
    faults.push_back({"verify", "names no file; expected --verify FILE"});
  if (!faults.empty()) return say(faults);

  if (!options.unit.empty()) job->program_unit = options.unit == "inch" ? UnitSystem::inch : UnitSystem::metric;
  PlanRequest request = plan_request(state, *job);
  request.shop_file = QString::fromStdString(options.shop);
  if (!options.dialect.empty()) request.dialect = *dialect_named(state, options.dialect);
  const JobPlan plan = plan_job(request);
  tell_faults(*job, plan);
  if (plan.has_faults() && !options.skip_faulty && !options.verify) return failed;
  const std::string text = program_of(request, plan, setup).text;
  if (options.verify) return verify(options.verify->empty() ? options.out : *options.verify, text);
  if (const QString fault = write_file(QString::fromStdString(options.out), QByteArray::fromStdString(text));
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
    entry["t"] = request.tools[i].t;
    if (!has_error(plan.faults[i])) {
      put(entry, "minutes", f.minutes);
      if (const double growth = plan.operations[i]->growth_rad; growth > 0)
        put(entry, "corner_engagement_deg", growth * 180 / std::numbers::pi);
      minutes += f.minutes;
    }
    report["operations"].push_back(std::move(entry));
  }
  // Cutters that have to be put into the magazine first.
  const ToolPlan tools = tool_plan(state, *job);
  report["load"] = Json::array();
  for (const std::size_t i : tools.to_load())
    report["load"].push_back({{"t", tools.of[i].t}, {"cutter", job->operations[i].cutter.name}});
  report["minutes"] = minutes;
  std::cout << report.dump(1) << "\n";
  return answered;
}

int sheet(const SheetOptions& options) {
  const QString out = QString::fromStdString(options.out);
  const bool pdf = out.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive),
             html = out.endsWith(QLatin1String(".html"), Qt::CaseInsensitive) ||
                    out.endsWith(QLatin1String(".htm"), Qt::CaseInsensitive);
  FormatFaults faults;
  if (!pdf && !html) faults.push_back({"o", "“" + options.out + "” has no known ending; expected .pdf or .html"});
  if (!options.unit.empty() && options.unit != "mm" && options.unit != "inch")
    faults.push_back({"unit", "“" + options.unit + "” is no unit of lengths; expected mm or inch"});
  if (!faults.empty()) return say(faults);
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  const JobHead* head = find_named(state.jobs, options.job, "job", faults);
  const std::optional<Job> job = head ? state.job(head->id) : std::nullopt;
  if (!faults.empty()) return say(faults);
  PlanRequest request = plan_request(state, *job);
  request.shop_file = QString::fromStdString(options.shop);
  const JobPlan plan = plan_job(request);
  const UnitSystem units = options.unit.empty()     ? job->program_unit
                           : options.unit == "inch" ? UnitSystem::inch
                                                    : UnitSystem::metric;
  const SetupSheet made = setup_sheet_of(state, request, plan, units);
  const auto orientation = options.portrait ? PaperOrientation::portrait : PaperOrientation::landscape;
  tl::expected<QByteArray, FormatFault> bytes =
      pdf ? setup_sheet_pdf(made, orientation) : setup_sheet_html(made, orientation);
  const QString fault = bytes ? write_file(out, *bytes) : QString::fromStdString(bytes.error().line());
  if (!fault.isEmpty()) {
    std::cerr << "o: " << fault.toStdString() << "\n";
    return failed;
  }
  std::cout << Json{{"setups", made.setups.size()}, {"minutes", plan.seconds() / 60}}.dump(1) << "\n";
  return answered;
}

int dialect(const DialectOptions& options) {
  const QString file = QString::fromStdString(options.shop);
  const auto loaded = load_shop(file);
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  if (!options.show.empty()) {
    const Dialect* shown = dialect_named(state, options.show);
    if (!shown)
      return say(FormatFaults{{"show", "“" + options.show + "” is not known; there are: " + known_dialects(state)}});
    std::cout << dialect_text(*shown);
    return answered;
  }
  if (!options.read.empty()) {
    QFile in(QString::fromStdString(options.read));
    if (!in.open(QIODevice::ReadOnly)) return say(FormatFaults{{"read", "“" + options.read + "” cannot be read"}});
    auto dialect = read_dialect(in.read((1 << 20) + 1).toStdString());
    if (!dialect) return say(dialect.error());
    const Change change = with_dialect(state, std::move(*dialect));
    if (const auto written = write_change(file, loaded->seq, change); !written) return say(written.error());
  }
  const auto now = load_shop(file);
  if (!now) return say(now.error());
  Json list = Json::array();
  for (const Dialect* d : dialects_of(now->state))
    list.push_back({{"key", d->key}, {"name", d->name}, {"about", d->about}, {"own", !d->id.is_null()}});
  std::cout << Json{{"dialects", list}}.dump(1) << "\n";
  return answered;
}

int demo(const std::string& out) {
  const auto written = write_shop(demo_state(), QString::fromStdString(out), QStringLiteral("Demo shop made"));
  if (written) return answered;
  std::cerr << "OUT: " << written.error().sentence().toStdString() << "\n";
  return failed;
}

}  // namespace pecorra::cli
