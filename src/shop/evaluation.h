// One cutter in one context, complete: conditions, trail, limits. And what jobs take from it.
#pragma once

#include <optional>

#include "core/conditions/resolver.h"
#include "core/mechanics/cut.h"
#include "core/mechanics/life.h"
#include "core/mechanics/suggest.h"
#include "shop/state.h"

namespace pecorra {

// What every number in the window is for.
struct Context {
  Id material;
  Id machine;
  OperationKind operation = OperationKind::side_rough;
  double pace = 100;
  UnitSystem units = UnitSystem::metric;
  bool usual_work = false;  // each cutter at what it is for, instead of `operation`
  bool operator==(const Context&) const = default;
};

// The context as it is for one kind of cutter: its usual operation where the context says so.
Context context_for(const Context& context, CutterKind kind);
// That operation; the kind's usual one where the kind cannot do it.
OperationKind operation_for(const Context& context, CutterKind kind);
// "side roughing", or that each cutter is at its usual work.
QString operation_text(const Context& context);

// What is tried instead of what was resolved.
struct WhatIf {
  std::optional<double> ap_mm, ae_mm, stickout_mm, vc_m_min, fz_mm;
  bool any() const { return ap_mm || ae_mm || stickout_mm || vc_m_min || fz_mm; }
  bool operator==(const WhatIf&) const = default;
};
template <>
std::span<const Property<WhatIf>> properties<WhatIf>();

// Into a cut; what is not tried stays as `before` has it.
void put_tried(const WhatIf& tried, const CutResults& before, Cut& cut);

struct Evaluation {
  Resolution resolution;
  Trail trail;
  Cut asked;      // the resolved conditions as a cut, or what is tried
  CutReport cut;  // of that; forces with the shop's wear factor
};

Query query_for(const ShopState& state, const Context& context);

// A cutter as it is calculated with: at its set diameter, in its assembly, perhaps sticking out as far as is tried.
struct HeldCutter {
  Cutter cutter;
  Assembly assembly;
};
HeldCutter as_held(const Cutter& at_rest, const Assembly* held,
                   const std::optional<double>& stickout_mm = std::nullopt);

// Always returns; what is missing is in the resolution's reason and in the trail.
// `held`: the assembly that is looked at, for the set diameter and the stick-out; none: the cutter as it is.
Evaluation evaluate(const ShopState& state, const Resolver& resolver, const Cutter& cutter,
                    const WorkMaterial& material, const Machine& machine, const Query& query, const Assembly* held,
                    const WhatIf& tried = {}, Extent extent = Extent::all);
// What a trail was warned of or refused, and a coolant that `by` (a table, a recipe, the operation) asks for although
// material or edge do not bear it.
std::vector<Message> never_messages(const Trail& trail, const std::string& by);
// What is dangerous in the material, as a note; code "hazard_…".
std::optional<Message> hazard_message(const WorkMaterial& material);
// The tip deflection the shop permits in this operation.
double permitted_deflection_mm(const ShopSettings& settings, OperationKind operation, const Cutter& cutter);

// What would bring the tightest limit inside: the smallest changes of one input, or another cutter of the shop that
// takes the same cut. Empty where nothing is close.
struct Advice {
  Limit limit = Limit::spindle_speed;
  std::vector<Suggestion> changes;
  Id cutter;  // null: none
  bool empty() const { return changes.empty() && cutter.is_null(); }
};
Advice advise(const ShopState& state, const CutModel& model, const Cut& cut, const CutReport& report, UnitSystem units);

// The recipe, or the row of a table or a recipe, that an answer starts from; nothing for a rule, or where it is gone.
const Recipe* recipe_of(const ShopState& state, const Resolution& resolution);
const ConditionRow* row_of(const ShopState& state, const Resolution& resolution);

// Tool life at a cut, and the speeds that cost least and are fastest; absent where no row says anything of life.
struct LifeFigures {
  Taylor taylor;
  double life_min = 0;
  double fastest_life_min = 0, fastest_vc_m_min = 0;
  std::optional<double> cheapest_life_min, cheapest_vc_m_min;  // need the machine's hourly rate
};
std::optional<LifeFigures> life_of(const ShopState& state, const Cutter& cutter, const Machine& machine,
                                   const Resolution& resolution, const CutReport& report, const Cut& cut);
// Places of the materials: those that the shop cuts first. `only_cut_here`: those alone, all where it says of none.
std::vector<std::size_t> materials_in_order(const ShopState& state, bool only_cut_here);
// What the resolver knows of a cutter in its usual assembly.
CutterKey key_as_used(const ShopState& state, const Resolver& resolver, const Cutter& cutter);

// What an operation of a job would take in this material on this machine.
Query query_for(const ShopState& state, const Job& job, const Operation& operation);
TakenConditions taken_from(const ShopState& state, const Resolution& resolution, Trail trail);
// The cut that an operation makes with the values it took, and what it comes to.
// `corner_rad`: by how much its path engages more at the tightest place, see toolpath/engagement.h.
Cut cut_of(const ShopState& state, const Operation& operation, double corner_rad);
CutReport report_of(const ShopState& state, const Job& job, const Operation& operation, double corner_rad);
HeldCutter as_held(const ShopState& state, const Operation& operation);
// Whether the source now says something else than the job's copy, and nobody has decided to keep the copy.
bool source_moved(const Operation& job_copy, const Operation& taken_anew);

// Takes the operation's conditions anew.
void retake(const ShopState& state, const Resolver& resolver, const Job& job, Operation& operation);
// A job with every operation's conditions taken anew, for another material, machine or pace if given.
Job retaken(const ShopState& state, const Resolver& resolver, Job job);

}  // namespace pecorra
