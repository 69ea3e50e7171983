// Programs made elsewhere get S and F by the tables.
#include <QFile>
#include <QFileInfo>
#include <QThread>
#include <charconv>
#include <iostream>

#include "cli/lookup.h"
#include "shop/retune_folder.h"
#include "shop/retune_report.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra::cli {
namespace {

// "5=…", "5#2=…": the T, which of its sections, and what is said of it.
struct SaidOfTool {
  int t = 0;
  std::optional<int> part;
  std::string said;
};
std::optional<SaidOfTool> tool_and(const std::string& text, const char* key, const std::string& wanted,
                                   FormatFaults& faults) {
  const std::size_t equals = text.find('=');
  SaidOfTool out;
  const char* end = text.data() + std::min(equals, text.size());
  auto read = std::from_chars(text.data() + (text.starts_with('T') ? 1 : 0), end, out.t);
  bool good = read.ec == std::errc() && out.t >= 0;
  if (good && read.ptr != end && *read.ptr == '#') {
    read = std::from_chars(read.ptr + 1, end, out.part.emplace());
    good = read.ec == std::errc() && *out.part >= 1;
  }
  const bool needs_more = !wanted.empty();
  if (good && read.ptr == end && (equals != std::string::npos) == needs_more) {
    if (needs_more) out.said = text.substr(equals + 1);
    return out;
  }
  faults.push_back({key, "“" + text + "” is not understood; expected T" + (needs_more ? "=" + wanted : "") +
                             ", such as 5" + (needs_more ? "=" + wanted : "")});
  return std::nullopt;
}

void take_tools(const ShopState& state, const RetuneOptions& options, RetunedProgram& into, FormatFaults& faults) {
  for (const std::string& text : options.tools) {
    const auto said = tool_and(text, "tool", "LIBRARY/NUMBER", faults);
    if (!said) continue;
    if (said->part) {
      faults.push_back({"tool", "“" + text + "” names a section; a T has one cutter, in all its sections"});
      continue;
    }
    const std::size_t slash = said->said.rfind('/');
    int number = 0;
    const std::string digits = slash == std::string::npos ? "" : said->said.substr(slash + 1);
    const auto [end, fault] = std::from_chars(digits.data(), digits.data() + digits.size(), number);
    if (fault != std::errc() || end != digits.data() + digits.size()) {
      faults.push_back({"tool", "“" + said->said + "” is not understood; expected LIBRARY/NUMBER"});
      continue;
    }
    const Library* library = find_named(state.libraries, said->said.substr(0, slash), "tool", faults);
    if (const Cutter* c = find_cutter(state, library, number, "tool", faults)) into.pairing_for(said->t).cutter = c->id;
  }
  for (const std::string& text : options.operations)
    if (const auto said = tool_and(text, "operation", "OPERATION", faults))
      if (const auto kind = find_choice<OperationKind>(said->said, "operation", faults))
        into.pairing_for(said->t, said->part).operation = kind;
  const auto lengths = [&](const std::vector<std::string>& all, const char* key,
                           std::optional<double> ToolPairing::*length) {
    for (const std::string& text : all) {
      const auto said = tool_and(text, key, "MM", faults);
      if (!said) continue;
      double mm = 0;
      const char* last = said->said.data() + said->said.size();
      const auto [end, fault] = std::from_chars(said->said.data(), last, mm);
      if (fault != std::errc() || end != last || !(mm > 0 && mm < 1e6)) {
        faults.push_back({key, "“" + said->said + "” is no length in mm above 0"});
        continue;
      }
      into.pairing_for(said->t, said->part).*length = mm;
    }
  };
  lengths(options.ap, "ap", &ToolPairing::ap_mm);
  lengths(options.ae, "ae", &ToolPairing::ae_mm);
  for (const std::string& text : options.skip)
    if (const auto said = tool_and(text, "skip", "", faults)) into.pairing_for(said->t, said->part).skip = true;
}

Json section_json(const ShopState& state, const ProgramSection& s, const RetunedSection& plan,
                  const Retuned::Section& done) {
  Json cutter = {{"library", ""}, {"number", 0}, {"why", (plan.left_out ? "left out; " : "") + plan.found.why}};
  if (plan.found.cutter) {
    const Library* library = state.libraries.find(plan.found.cutter->library);
    cutter["library"] = library ? library->name : "";
    cutter["number"] = plan.found.cutter->number;
  }
  const auto count = [&](RunMove m) { return s.moves[static_cast<std::size_t>(m)]; };
  Json moves = {{"rapid", count(RunMove::rapid)},     {"plunge", count(RunMove::plunge)},
                {"ramp", count(RunMove::ramp)},       {"cut", count(RunMove::cut)},
                {"retract", count(RunMove::retract)}, {"cycle", count(RunMove::cycle) + count(RunMove::tap)}};
  Json entry = {{"tool", s.tool},
                {"cutter", std::move(cutter)},
                {"operation", plan.found.cutter ? key_of(plan.operation) : ""},
                {"lines", {s.first + 1, s.last + 1}},
                {"old", {{"n_rpm", s.n_rpm}, {"vf_mm_min", s.cut_mm_min}, {"plunge_mm_min", s.plunge_mm_min}}},
                {"new", Json::object()},
                {"source", key_of(plan.source)},
                {"guess", plan.guess},
                {"moves", std::move(moves)},
                {"of_them",
                 {{"helix", s.helices},
                  {"arc", s.arcs},
                  {"lead", s.leads},
                  {"air", s.air_plunges},
                  {"tap", count(RunMove::tap)}}},
                {"section", {plan.part, plan.parts}},
                {"changed_words", done.changed_words},
                {"cut", Json::object()},
                {"messages", messages_json(plan.messages)},
                {"as_it_is", messages_json(plan.as_it_is)}};
  if (plan.ap_mm) entry["cut"]["ap_mm"] = *plan.ap_mm;
  if (plan.ae_mm) entry["cut"]["ae_mm"] = *plan.ae_mm;
  if (plan.conditions.n_rpm)
    entry["new"] = {{"n_rpm", *plan.conditions.n_rpm},
                    {"vf_mm_min", plan.conditions.vf_mm_min},
                    {"plunge_mm_min", plan.conditions.plunge_mm_min}};
  return entry;
}

Json report_json(const ShopState& state, const RetunedFile& made) {
  Json tools = Json::array();
  for (std::size_t i = 0; i < made.sections.size(); ++i)
    tools.push_back(section_json(state, made.reading->sections[i], made.sections[i], made.done.sections[i]));
  Json not_understood = Json::array();
  for (const RetunedFile::LeftAlone& n : made.left_alone())
    not_understood.push_back({{"line", n.block + 1}, {"text", n.text}, {"why", n.why}});
  return {{"tools", std::move(tools)},
          {"not_understood", std::move(not_understood)},
          {"minutes", {{"old", made.minutes_was}, {"new", made.minutes}}}};
}

void print(const Json& answer) { std::cout << answer.dump(1, ' ', false, Json::error_handler_t::replace) << "\n"; }

int failed_at(const char* key, const QString& fault) {
  std::cerr << key << ": " << fault.toStdString() << "\n";
  return failed;
}

int retune_one(const ShopState& state, RetunedProgram program, const QString& in, const RetuneOptions& options) {
  program.file = QFileInfo(in).absoluteFilePath().toStdString();
  program.name = QFileInfo(in).fileName().toStdString();
  QFile file(in);
  if (!file.open(QIODevice::ReadOnly)) return failed_at("IN", "cannot be read: " + file.errorString());
  ForeignProgram read;
  read.file = in;
  std::string bytes(static_cast<std::size_t>(file.size()), '\0');
  bytes.resize(static_cast<std::size_t>(std::max<qint64>(0, file.read(bytes.data(), file.size()))));
  file.close();
  ProgramText text = ProgramText::read(std::move(bytes));
  attach_subprograms(text, QFileInfo(in));
  read.text = std::make_shared<const ProgramText>(std::move(text));
  const auto made = retune_file(state, program, std::move(read), {}, {}, RetuneParts::text);
  if (!options.check) {
    const QString out = QString::fromStdString(options.out);
    QString aside;
    if (const QString fault = put_text(made->done.text, out, aside); !fault.isEmpty())
      return failed_at("o", "not written: " + fault);
  }
  if (!options.report.empty())
    if (const QString fault =
            save_retune_report(state, *made, QString::fromStdString(options.report), UnitSystem::metric);
        !fault.isEmpty())
      return failed_at("report", fault);
  print(report_json(state, *made));
  return answered;
}

Json line_json(const ShopState& state, const FolderLine& line) {
  Json entry = line.made ? report_json(state, *line.made) : Json::object();
  entry["file"] = line.file.toStdString();
  entry["out"] = line.is_written() ? line.out.toStdString() : "";
  entry["fault"] = line.fault.toStdString();
  return entry;
}

int retune_folder(const ShopState& state, const QString& from, const FolderWish& wish) {
  Json answer = {{"programs", Json::array()}};
  double was = 0, now = 0;
  bool any_fault = false;
  for (const QString& file : programs_in(from)) {
    const FolderLine line = retune_into(state, file, wish);
    any_fault = any_fault || !line.fault.isEmpty();
    if (line.made) was += line.made->minutes_was, now += line.made->minutes;
    answer["programs"].push_back(line_json(state, line));
  }
  answer["minutes"] = {{"old", was}, {"new", now}};
  print(answer);
  return any_fault ? failed : answered;
}

// Until interrupted: a line of JSON for each program.
int watch_folder(const QString& shop, const QString& from, const FolderWish& wish) {
  constexpr unsigned long every_ms = 500;
  FolderWatch watch(from, wish.to);
  std::cerr << "watching " << from.toStdString() << "\n";
  while (true) {
    for (const QString& file : watch.due()) {
      // As the shop is now.
      const auto loaded = load_shop(shop);
      if (!loaded) return say(loaded.error());
      const FolderLine line = retune_into(loaded->state, file, wish);
      watch.done(file);
      std::cout << line_json(loaded->state, line).dump(-1, ' ', false, Json::error_handler_t::replace) << std::endl;
    }
    QThread::msleep(every_ms);
  }
}

}  // namespace

int retune(const RetuneOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const WorkMaterial* material = find_named(state.materials, options.material, "material", faults);
  const Machine* machine = find_named(state.machines, options.machine, "machine", faults);
  RetunedProgram program;
  take_tools(state, options, program, faults);
  program.arc_centres = options.arc_centres;
  program.in_proportion = options.feeds == "proportion";
  if (!options.feeds.empty() && options.feeds != "table" && options.feeds != "proportion")
    faults.push_back({"feeds", "“" + options.feeds + "” is not known; expected table or proportion"});
  const QString in = QString::fromStdString(options.in), out = QString::fromStdString(options.out);
  const QFileInfo from(in);
  const bool folder = from.isDir();
  if (!from.exists()) faults.push_back({"IN", "there is no file " + options.in});
  else if (!folder && from.size() > longest_program)
    faults.push_back({"IN", "has more than 1 GB; programs up to that are read"});
  if (options.watch && !folder) faults.push_back({"watch", "watches a folder, and IN is none"});
  if (options.watch && options.check) faults.push_back({"watch", "writes what arrives; not with --check"});
  if (!options.report.empty()) {
    const QString report = QString::fromStdString(options.report);
    if (folder) faults.push_back({"report", "is on one program; IN is a folder"});
    else if (!report.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive) &&
             !report.endsWith(QLatin1String(".html"), Qt::CaseInsensitive))
      faults.push_back({"report", "“" + options.report + "” has no known ending; expected .pdf or .html"});
    else if (const QString fault = fault_of_target(report); !fault.isEmpty())
      faults.push_back({"report", fault.toStdString()});
  }
  if (!options.check) {
    if (options.out.empty()) faults.push_back({"o", "say where to write: -o OUT, or --check"});
    else if (folder) {
      if (const QString fault = fault_of_folders(in, out); !fault.isEmpty())
        faults.push_back({"o", fault.toStdString()});
    } else if (QFileInfo(out).exists() && QFileInfo(out).canonicalFilePath() == from.canonicalFilePath()) {
      faults.push_back({"o", "is the program itself; write beside it"});
    } else if (const QString fault = fault_of_target(out); !fault.isEmpty()) {
      faults.push_back({"o", fault.toStdString()});
    }
  }
  if (!faults.empty()) return say(faults);
  program.material = material->id;
  program.machine = machine->id;
  program.stock_top_mm = options.stock_top_mm;
  if (!folder) return retune_one(state, program, in, options);
  FolderWish wish;
  if (!options.check) wish.to = out;
  wish.material = material->id;
  wish.machine = machine->id;
  wish.tools = program.tools;
  wish.in_proportion = program.in_proportion;
  wish.arc_centres = program.arc_centres;
  wish.stock_top_mm = program.stock_top_mm;
  return options.watch ? watch_folder(QString::fromStdString(options.shop), in, wish) : retune_folder(state, in, wish);
}

}  // namespace pecorra::cli
