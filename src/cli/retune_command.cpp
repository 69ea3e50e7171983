// Programs made elsewhere get S and F by the tables.
#include <QFile>
#include <QFileInfo>
#include <charconv>
#include <iostream>

#include "cli/lookup.h"
#include "shop/retune_file.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra::cli {
namespace {

// "5=…": the T and what is said of it.
std::optional<std::pair<int, std::string>> tool_and(const std::string& text, const char* key, const std::string& wanted,
                                                    FormatFaults& faults) {
  const std::size_t equals = text.find('=');
  int t = 0;
  const char* end = text.data() + std::min(equals, text.size());
  const auto [stop, fault] = std::from_chars(text.data() + (text.starts_with('T') ? 1 : 0), end, t);
  const bool needs_more = !wanted.empty();
  if (fault == std::errc() && stop == end && t >= 0 && (equals != std::string::npos) == needs_more)
    return std::pair(t, needs_more ? text.substr(equals + 1) : std::string());
  faults.push_back({key, "“" + text + "” is not understood; expected T" + (needs_more ? "=" + wanted : "") +
                             ", such as 5" + (needs_more ? "=" + wanted : "")});
  return std::nullopt;
}

void take_tools(const ShopState& state, const RetuneOptions& options, RetuneRequest& request, FormatFaults& faults) {
  for (const std::string& text : options.tools) {
    const auto said = tool_and(text, "tool", "LIBRARY/NUMBER", faults);
    if (!said) continue;
    const std::size_t slash = said->second.rfind('/');
    int number = 0;
    const std::string digits = slash == std::string::npos ? "" : said->second.substr(slash + 1);
    const auto [end, fault] = std::from_chars(digits.data(), digits.data() + digits.size(), number);
    if (fault != std::errc() || end != digits.data() + digits.size()) {
      faults.push_back({"tool", "“" + said->second + "” is not understood; expected LIBRARY/NUMBER"});
      continue;
    }
    const Library* library = find_named(state.libraries, said->second.substr(0, slash), "tool", faults);
    if (const Cutter* c = find_cutter(state, library, number, "tool", faults))
      request.tools[said->first].cutter = c->id;
  }
  for (const std::string& text : options.operations)
    if (const auto said = tool_and(text, "operation", "OPERATION", faults))
      if (const auto kind = find_choice<OperationKind>(said->second, "operation", faults))
        request.tools[said->first].operation = kind;
  const auto lengths = [&](const std::vector<std::string>& all, const char* key,
                           std::optional<double> ToolSaid::*into) {
    for (const std::string& text : all) {
      const auto said = tool_and(text, key, "MM", faults);
      if (!said) continue;
      double mm = 0;
      const char* last = said->second.data() + said->second.size();
      const auto [end, fault] = std::from_chars(said->second.data(), last, mm);
      if (fault != std::errc() || end != last || !(mm > 0 && mm < 1e6)) {
        faults.push_back({key, "“" + said->second + "” is no length in mm above 0"});
        continue;
      }
      request.tools[said->first].*into = mm;
    }
  };
  lengths(options.ap, "ap", &ToolSaid::ap_mm);
  lengths(options.ae, "ae", &ToolSaid::ae_mm);
  for (const std::string& text : options.skip)
    if (const auto said = tool_and(text, "skip", "", faults)) request.tools[said->first].skip = true;
}

Json section_json(const ShopState& state, const ProgramSection& s, const RetunedSection& plan,
                  const Retuned::Section& done) {
  Json cutter = {{"library", ""}, {"number", 0}, {"why", plan.found.why}};
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
                {"changed_words", done.changed_words},
                {"messages", messages_json(plan.messages)},
                {"as_it_is", messages_json(plan.as_it_is)}};
  if (plan.conditions.n_rpm)
    entry["new"] = {{"n_rpm", *plan.conditions.n_rpm},
                    {"vf_mm_min", plan.conditions.vf_mm_min},
                    {"plunge_mm_min", plan.conditions.plunge_mm_min}};
  return entry;
}

}  // namespace

int retune(const RetuneOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const WorkMaterial* material = find_named(state.materials, options.material, "material", faults);
  const Machine* machine = find_named(state.machines, options.machine, "machine", faults);
  RetuneRequest request;
  take_tools(state, options, request, faults);
  const QString in = QString::fromStdString(options.in), out = QString::fromStdString(options.out);
  QFile file(in);
  constexpr qint64 most = longest_program;
  if (!file.exists()) faults.push_back({"IN", "there is no file " + options.in});
  else if (QFileInfo(in).isDir()) faults.push_back({"IN", options.in + " is a folder"});
  else if (file.size() > most) faults.push_back({"IN", "has more than 1 GB; programs up to that are read"});
  if (!options.check) {
    if (options.out.empty()) faults.push_back({"o", "say where to write: -o OUT, or --check"});
    else if (QFileInfo(out).exists() && QFileInfo(out).canonicalFilePath() == QFileInfo(in).canonicalFilePath())
      faults.push_back({"o", "is the program itself; write beside it"});
    else if (const QString fault = fault_of_target(out); !fault.isEmpty()) faults.push_back({"o", fault.toStdString()});
  }
  if (!faults.empty()) return say(faults);
  if (!file.open(QIODevice::ReadOnly)) {
    std::cerr << "IN: cannot be read: " << file.errorString().toStdString() << "\n";
    return failed;
  }
  request.material = material->id;
  request.machine = machine->id;
  const ProgramText program = ProgramText::read(file.readAll().toStdString());
  file.close();
  const Rapid rapid{machine->rapid_mm_min.value_or(0)};
  const ProgramReading reading = read_program(program, rapid);
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  const std::vector<RetunedSection> plan = plan_retune(state, resolver, program, reading, request);
  std::vector<NewConditions> conditions;
  for (const RetunedSection& s : plan) conditions.push_back(s.conditions);
  const Retuned done = pecorra::retune(program, reading, conditions, rapid);

  Json tools = Json::array();
  double old_minutes = 0, new_minutes = 0;
  for (std::size_t i = 0; i < plan.size(); ++i) {
    tools.push_back(section_json(state, reading.sections[i], plan[i], done.sections[i]));
    old_minutes += reading.sections[i].minutes;
    new_minutes += done.sections[i].minutes;
  }
  Json not_understood = Json::array();
  for (const NotUnderstood& n : reading.not_understood)
    not_understood.push_back(
        {{"line", n.block + 1}, {"text", std::string(program.line(n.block).substr(0, 200))}, {"why", n.why}});
  for (const auto& [number, used_by] : done.kept_subprograms) {
    std::string list;
    for (const int t : used_by) list += (list.empty() ? "T" : ", T") + std::to_string(t);
    not_understood.push_back({{"line", reading.subprogram_block.at(number) + 1},
                              {"text", "O" + std::to_string(number)},
                              {"why", "a subprogram of several tools, " + list + "; its S and F stay"}});
  }
  if (!options.check) {
    QString aside;
    if (const QString fault = put_aside(out, aside); !fault.isEmpty()) {
      std::cerr << "o: the file that is there cannot be renamed: " << fault.toStdString() << "\n";
      return failed;
    }
    if (const QString fault =
            write_file(out, QByteArray::fromRawData(done.text.data(), static_cast<qsizetype>(done.text.size())));
        !fault.isEmpty()) {
      if (!aside.isEmpty()) QFile::rename(aside, out);  // as it was
      std::cerr << "o: not written: " << fault.toStdString() << "\n";
      return failed;
    }
  }
  const Json answer = {{"tools", std::move(tools)},
                       {"not_understood", std::move(not_understood)},
                       {"minutes", {{"old", old_minutes}, {"new", new_minutes}}}};
  std::cout << answer.dump(1, ' ', false, Json::error_handler_t::replace) << "\n";
  return answered;
}

}  // namespace pecorra::cli
