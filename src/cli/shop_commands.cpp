#include <fmt/format.h>
#include <QFile>
#include <algorithm>
#include <cmath>
#include <fstream>
#include <iostream>
#include <numbers>
#include <sstream>

#include "cli/answers.h"
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

template <class Answer>
int from_shop(const std::string& file, Answer&& answer) {
  const auto loaded = load_shop(QString::fromStdString(file));
  if (!loaded) return say(loaded.error());
  const Resolver resolver(loaded->state.tables.shared(), loaded->state.resolver_options());
  const tl::expected<std::string, FormatFaults> text = answer(loaded->state, resolver);
  if (!text) return say(text.error());
  std::cout << *text;
  return answered;
}

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

int resolve(const ResolveOptions& options) {
  return from_shop(options.shop, [&](const ShopState& state, const Resolver& resolver) {
    WrittenSteps none;
    return resolve_answer(state, resolver, options, none);
  });
}

int chart(const ChartOptions& options) {
  return from_shop(options.shop, [&](const ShopState& state, const Resolver& resolver) {
    return chart_answer(state, resolver, options);
  });
}

int shortlist(const ShortlistOptions& options) {
  std::string feature(longest_request + 1, '\0');
  std::cin.read(feature.data(), static_cast<std::streamsize>(feature.size()));
  feature.resize(static_cast<std::size_t>(std::cin.gcount()));
  if (feature.size() > longest_request) return say(FormatFaults{{"", "is longer than 4 MB"}});
  return from_shop(options.shop, [&](const ShopState& state, const Resolver& resolver) {
    return shortlist_answer(state, resolver, options, feature);
  });
}

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
      if (const double growth = plan.operations[i]->as_cut.growth_rad; growth > 0)
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
