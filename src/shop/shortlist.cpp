#include "shop/shortlist.h"

#include <algorithm>
#include <limits>
#include <map>
#include <set>

#include "shop/cutter_match.h"
#include "shop/job_edit.h"
#include "shop/planning.h"

namespace pecorra {
namespace {

// Why a cutter was not even asked about.
std::optional<Message> never_asked(const ShopState& state, const Cutter& cutter, const Operation& operation,
                                   std::optional<ToolMaterial> tool_material) {
  const Library* library = state.libraries.find(cutter.library);
  if (library && !library->switched_on)
    return Message{Severity::note, "library_off", "library", {{"library", library->name}}};
  if (cutter.retired) return Message{Severity::note, "is_retired", "retired", {}};
  if (!can_do(cutter.kind, operation.operation))
    return Message{
        Severity::note,
        "kind_cannot_do",
        "kind",
        {{"kind", std::string(label_of(cutter.kind))}, {"operation", std::string(label_of(operation.operation))}}};
  for (const Message& m : check_cutter(cutter))
    if (m.severity == Severity::error) return m;
  if (tool_material && cutter.tool_material != tool_material)
    return Message{Severity::note,
                   "other_tool_material",
                   "tool_material",
                   {{"wanted", std::string(label_of(*tool_material))},
                    {"has", cutter.tool_material ? std::string(label_of(*cutter.tool_material)) : std::string()}}};
  return std::nullopt;
}

void take_cost(const ShopState& state, const Job& job, const PlannedOperation& planned, ShortlistEntry& entry) {
  const Machine* machine = state.machines.find(job.machine);
  if (!machine) return;
  const Operation& o = entry.operation;
  Resolution from;  // only its row counts
  from.table = o.taken.table;
  from.row = o.taken.row;
  const auto life = life_of(state, *entry.cutter, *machine, from, report_of(state, job, o, planned.facts()),
                            cut_of(state, o, planned.facts()));
  const Rapids none;  // so that the time at a feed alone remains
  if (life && life->life_min > 0) entry.edges = figures_of(planned.path, none).minutes / life->life_min;
  if (!machine->hourly_rate) return;
  entry.cost = entry.minutes / 60 * *machine->hourly_rate;
  if (const auto price = edge_cost_of(state, *entry.cutter); price && entry.edges) {
    *entry.cost += *price * *entry.edges;
    entry.edges_in_cost = true;
  }
}

}  // namespace

Shortlist shortlist(const ShopState& state, const Resolver& resolver, const Job& job, RankBy by,
                    std::optional<ToolMaterial> tool_material, const std::function<bool(double)>& go_on) {
  Shortlist out;
  Job tried = job;
  Operation& o = tried.operations.front();
  o.cutter = {};
  o.generic_cutter = false;
  std::map<const Cutter*, Message> refused;
  std::vector<const Cutter*> asked;
  for (const Cutter& cutter : state.cutters)
    if (auto why = never_asked(state, cutter, o, tool_material)) refused.emplace(&cutter, std::move(*why));
  CutterSearch search(state, resolver, job, job.operations.front());
  for (const CutterOption& option : search.first(std::numeric_limits<std::size_t>::max())) {
    if (option.generic || refused.contains(option.cutter)) continue;
    if (option.taken() && !option.other_holder) asked.push_back(option.cutter);
    else if (!option.fits()) refused.emplace(option.cutter, option.misfits.front());
    else if (option.other_holder)
      refused.emplace(
          option.cutter,
          Message{Severity::note, "holder_of_other_machine", "cutter", {{"holder", option.other_holder->name}}});
    else refused.emplace(option.cutter, Message{Severity::note, "no_conditions_for", "cutter", {}});
  }
  std::size_t done = 0;
  for (const Cutter* cutter : asked) {
    if (go_on && !go_on(static_cast<double>(done++) / static_cast<double>(asked.size()))) break;
    pick_cutter(state, resolver, tried, o, *cutter);
    const JobPlan plan = plan_job(plan_request(state, tried));
    const auto& faults = plan.faults.front();
    // One that is too large for rounded corners does not make the feature; sharp ones no cutter does.
    const bool rounded = inner_corner_mm(o, plan.operations.front()->input) > 0;
    const auto error = std::find_if(faults.begin(), faults.end(), [rounded](const Message& m) {
      return m.severity == Severity::error || (rounded && m.code == "rest_corners");
    });
    if (error != faults.end()) {
      refused.emplace(cutter, *error);
      continue;
    }
    ShortlistEntry entry;
    entry.cutter = cutter;
    entry.assembly = state.assembly_of(cutter->id);
    entry.operation = o;
    entry.minutes = (plan.times.front().total_s() - plan.times.front().change_s) / 60;
    entry.messages = faults;
    take_cost(state, tried, *plan.operations.front(), entry);
    out.ranked.push_back(std::move(entry));
  }
  const double unknown = std::numeric_limits<double>::infinity();
  std::stable_sort(out.ranked.begin(), out.ranked.end(),
                   [by, unknown](const ShortlistEntry& a, const ShortlistEntry& b) {
                     if (by == RankBy::cost && a.cost.value_or(unknown) != b.cost.value_or(unknown))
                       return a.cost.value_or(unknown) < b.cost.value_or(unknown);
                     return a.minutes < b.minutes;
                   });
  for (const Cutter& cutter : state.cutters)
    if (const auto why = refused.find(&cutter); why != refused.end()) out.excluded.push_back({&cutter, why->second});
  return out;
}

}  // namespace pecorra
