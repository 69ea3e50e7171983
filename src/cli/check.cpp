// What is wrong in any file that Pecorra reads.
#include <QFile>
#include <QFileInfo>
#include <algorithm>
#include <iostream>
#include <map>

#include "cli/lookup.h"
#include "core/cutter/form_profile.h"
#include "core/cutter/kinds.h"
#include "core/holder/collet.h"
#include "core/insert/insert.h"
#include "core/tables/condition_table.h"
#include "shop/drawing_file.h"
#include "shop/library_file.h"
#include "shop/missing_references.h"
#include "shop/never_check.h"
#include "shop/planning.h"
#include "shop/table_sheet.h"
#include "shop/words.h"

namespace pecorra::cli {
namespace {

class Findings {
 public:
  void add(const std::string& where, const Message& m) {
    static constexpr const char* severities[] = {"note", "warning", "error"};
    put(severities[static_cast<std::size_t>(m.severity)], where + (m.property.empty() ? "" : "." + m.property), m.code,
        sentence(m, UnitSystem::metric).toStdString());
  }
  void add(const std::string& where, const std::vector<Message>& messages) {
    for (const Message& m : messages) add(where, m);
  }
  void add(const std::string& where, const FormatFaults& faults) {
    for (const FormatFault& f : faults)
      put("error", where + (where.empty() || f.key.empty() ? "" : ".") + f.key, "format", f.text);
  }
  void put(const char* severity, const std::string& key, const std::string& code, const std::string& text) {
    errors_ += std::string_view(severity) == "error";
    if (list_.size() >= most_listed) {
      ++more_;
      return;
    }
    list_.push_back({{"severity", severity}, {"key", key}, {"code", code}, {"text", text}});
  }
  int tell(const char* kind) const {
    Json answer{{"kind", kind}, {"errors", errors_}, {"findings", list_}};
    if (more_ > 0) answer["more_findings"] = more_;
    std::cout << answer.dump(2) << "\n";
    return answered;
  }

 private:
  Json list_ = Json::array();
  int errors_ = 0, more_ = 0;
};

void check_cutters(const ShopState& state, Findings& out) {
  std::map<std::pair<Id, int>, const Cutter*> numbered;
  for (const Cutter& c : state.cutters) {
    const Library* library = state.libraries.find(c.library);
    const std::string where = (library ? library->name + "/" : std::string()) + std::to_string(c.number);
    std::vector<Message> messages = check_cutter(c);
    std::erase_if(messages, [&](const Message& m) { return m.severity == Severity::warning && !is_open(c, m); });
    out.add(where, messages);
    if (const auto [first, fresh] = numbered.try_emplace({c.library, c.number}, &c); !fresh)
      out.add(where, Message{Severity::error, "number_twice", "number", {{"name", first->second->name}}});
  }
}

int check_shop(const QString& name) {
  const auto loaded = load_shop(name);
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  Findings out;
  out.add("", loaded->faults);
  for (const MissingReference& missing : missing_references(state))
    out.put("error", missing.name + "." + missing.key, std::string(key_of(missing.wanted)) + "_missing",
            missing_text(missing).toStdString());
  check_cutters(state, out);
  for (const Holder& h : state.holders) out.add("holder " + h.name, check_holder(h));
  for (const WorkMaterial& m : state.materials) out.add("material " + m.name, check_material(m));
  for (const Machine& m : state.machines) out.add("machine " + m.name, check_machine(m));
  for (const Insert& i : state.inserts) out.add("insert " + i.name, check_insert(i));
  for (const Collet& c : state.collets) out.add("collet " + c.name, check_collet(c));
  for (const NeverRule& r : state.never_rules) out.add("never rule " + r.name, check_never(state, r));
  for (const EdgeMaterial& m : state.edge_materials)
    out.add(std::string(key_of(m.part)) + " " + m.name, check_edge_material(m));
  for (const Assembly& a : state.assemblies) {
    if (const Cutter* c = state.cutters.find(a.cutter))
      out.add("assembly of " + std::to_string(c->number) + " " + c->name,
              check_assembly(*c, state.holders.find(a.holder), a, state.collets.find(a.collet)));
  }
  for (const Recipe& r : state.recipes) {
    if (const Cutter* c = state.cutters.find(r.cutter))
      out.add("recipe " + r.name + " of " + std::to_string(c->number) + " " + c->name, check_recipe(r, *c));
  }
  for (const ConditionTable& t : state.tables) {
    out.add("table " + t.name, check_table(t));
    for (std::size_t i = 0; i < t.rows.size(); ++i)
      out.add("table " + t.name + " row " + std::to_string(i + 1), check_row(t.rows[i]));
  }
  for (const Pocket& p : state.pockets)
    out.add("pocket " + std::to_string(p.number.value_or(0)), check_pocket(state, p));
  for (const Dialect& d : state.dialects) out.add("dialect " + d.key, check_dialect(d));
  for (const Job& job : state.whole_jobs()) {
    for (const Setup& setup : job.setups) out.add("job " + job.name + " setup " + setup.name, check_setup(setup));
    const JobIndex index(job);
    for (std::size_t i = 0; i < job.operations.size(); ++i) {
      std::vector<Message> messages;
      const OperationInput input = input_of(job, index, job.operations[i], path_rules(state.shop_settings()), messages);
      for (Message& m : check_operation(job.operations[i], input)) messages.push_back(std::move(m));
      out.add("job " + job.name + " operation " + std::to_string(i + 1), messages);
    }
  }
  return out.tell("shop");
}

int check_drawing(const QString& name) {
  const DrawingRead read = read_drawing_file(name);
  Findings out;
  if (!read.fault.isEmpty()) {
    out.put("error", "", "format", read.fault.toStdString());
    return out.tell("drawing");
  }
  if (!read.note.isEmpty()) out.put("note", "", "unit", read.note.toStdString());
  if (const Contour* longest = longest_line(read.drawing)) {
    const std::vector<Vertex> outline = outline_from(longest->vertices, longest->closed);
    // Fine as a job's drawing; a cutter profile is checked further.
    for (Message m : outline.empty() ? std::vector<Message>{} : check_outline(outline)) {
      m.severity = Severity::note;
      out.add("as a profile", m);
    }
  } else if (read.drawing.lines.empty()) {
    out.put("error", "", "empty", "It has no lines or circles");
  }
  return out.tell("drawing");
}

// A dialect, if it is one: nothing else has its keys.
std::optional<int> check_dialect_file(const QString& name) {
  QFile file(name);
  if (!file.open(QIODevice::ReadOnly) || file.size() > (1 << 20)) return {};
  const std::string text = file.readAll().toStdString();
  if (text.find("\"tool_change\"") == std::string::npos) return {};
  Findings out;
  if (const auto dialect = read_dialect(text); !dialect) out.add("", dialect.error());
  else out.add("", check_dialect(*dialect));
  return out.tell("dialect");
}

// A file of cutters, by itself: inserts and holders that it only names are not looked for.
int check_cutter_file(const QString& name) {
  Findings out;
  const IncomingCutters read = read_cutter_file(name, UnitSystem::metric, {});
  if (!read.fault.isEmpty()) out.put("error", "", "format", read.fault.toStdString());
  out.add("", read.part_faults);
  for (const SheetLine<Cutter>& line : read.lines) {
    const std::string where =
        read.sheet ? "row " + std::to_string(line.line) : "cutters[" + std::to_string(line.line - 1) + "]";
    for (const CellFault& f : line.faults)
      if (word_of(f.column) != "insert")
        out.put("error", where + (f.column.empty() ? "" : "." + f.column), "format", f.text);
    if (line.faults.empty() || !read.sheet) out.add(where, check_cutter(line.value));
  }
  for (const std::string& heading : read.unknown)
    out.put("note", heading, "unknown_column", "This column is unknown and was skipped");
  return out.tell("library");
}

// Rows of a table; a material is any name, since the sheet belongs to no shop yet.
int check_sheet(const QString& name) {
  const RowFile read = read_row_file(name, {}, UnitSystem::metric, {});
  Findings out;
  const bool rows =
      std::any_of(read.sheet.lines.begin(), read.sheet.lines.end(), [](const SheetLine<ConditionRow>& line) {
        return std::any_of(line.given.begin(), line.given.end(),
                           [](const Property<ConditionRow>* p) { return p->key == "vc_m_min" || p->key == "feed_mm"; });
      });
  if (!rows) return check_cutter_file(name);
  if (!read.fault.isEmpty()) out.put("error", "", "format", read.fault.toStdString());
  for (const SheetLine<ConditionRow>& line : read.sheet.lines)
    for (const CellFault& f : line.faults)
      if (word_of(f.column) != "material" && word_of(f.column) != "workmaterial")
        out.put("error", "row " + std::to_string(f.line) + "." + f.column, "cell", f.text);
  for (const std::string& heading : read.sheet.unknown)
    out.put("note", heading, "unknown_column", "This column is unknown and was skipped");
  return out.tell("rows");
}

}  // namespace

int check(const std::string& file) {
  const QString name = QString::fromStdString(file);
  if (!QFileInfo(name).isFile()) return say(FormatFaults{{"FILE", "“" + file + "” is not a readable file"}});
  const QString ending = QFileInfo(name).suffix().toLower();
  if (ending == QLatin1String("pecorra")) return check_shop(name);
  if (ending == QLatin1String("dxf") || ending == QLatin1String("svg")) return check_drawing(name);
  if (ending == QLatin1String("json"))
    if (const auto told = check_dialect_file(name)) return *told;
  if (ending == QLatin1String("json") || ending == QLatin1String("xml") || ending == QLatin1String("pdf"))
    return check_cutter_file(name);
  if (ending == QLatin1String("csv") || ending == QLatin1String("xlsx")) return check_sheet(name);
  return say(FormatFaults{{"FILE", "“." + ending.toStdString() +
                                       "” is not a supported file type; use .pecorra, .json, .csv, .xlsx, .xml, .dxf, "
                                       ".svg or .pdf (a stock-taking sheet)"}});
}

}  // namespace pecorra::cli
