// Everything about one cutter in one context: conditions, trail, limits; and what jobs take from it.
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
  bool usual_work = false;  // each cutter at its usual operation instead of `operation`
  bool operator==(const Context&) const = default;
};

// The context as it is for one kind of cutter: its usual operation where the context says so.
Context context_for(const Context& context, CutterKind kind);
// That operation, or the kind's usual one if the kind cannot do it.
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

// Puts trial values into a cut; the others stay as in `before`.
void put_tried(const WhatIf& tried, const CutResults& before, Cut& cut);

struct Evaluation {
  Resolution resolution;
  Trail trail;
  Cut asked;      // the resolved conditions as a cut, or what is tried
  CutReport cut;  // of that; forces with the shop's wear factor
};

Query query_for(const ShopState& state, const Context& context);

// A cutter as calculated: at its set diameter, in its assembly, with the trial stick-out if there is one.
struct HeldCutter {
  Cutter cutter;
  Assembly assembly;
};
HeldCutter as_held(const Cutter& at_rest, const Assembly* held,
                   const std::optional<double>& stickout_mm = std::nullopt);

// Never fails; the resolution's reason and the trail say what is missing. `held`: the assembly in view, for set
// diameter and stick-out; none: the bare cutter.
Evaluation evaluate(const ShopState& state, const Resolver& resolver, const Cutter& cutter,
                    const WorkMaterial& material, const Machine& machine, const Query& query, const Assembly* held,
                    const WhatIf& tried = {}, Extent extent = Extent::all);
// The never rules in a trail, and a coolant that `by` (a table, a recipe, the operation) asks for although material or
// edge do not allow it.
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

// The row or recipe an answer starts from; nothing for a starter rule, or if it no longer exists.
const Recipe* recipe_of(const ShopState& state, const Resolution& resolution);
const ConditionRow* row_of(const ShopState& state, const Resolution& resolution);

// Tool life of a cut, and the speeds for lowest cost and highest output; absent if no row states a tool life.
struct LifeFigures {
  Taylor taylor;
  double life_min = 0;
  double fastest_life_min = 0, fastest_vc_m_min = 0;
  std::optional<double> cheapest_life_min, cheapest_vc_m_min;  // need the machine's hourly rate
};
std::optional<LifeFigures> life_of(const ShopState& state, const Cutter& cutter, const Machine& machine,
                                   const Resolution& resolution, const CutReport& report, const Cut& cut);
// The price of the cutter, or of the inserts' edges in it; nothing where it is not stated.
std::optional<double> edge_cost_of(const ShopState& state, const Cutter& cutter);
// Indices of the materials, those the shop cuts first. `only_cut_here`: only those, or all if none is marked.
std::vector<std::size_t> materials_in_order(const ShopState& state, bool only_cut_here);
// The resolver's key for a cutter in its usual assembly.
// In this assembly, with this stick-out.
CutterKey key_in(const ShopState& state, const Resolver& resolver, const Cutter& cutter, double stickout_mm,
                 const Assembly* held);
CutterKey key_as_used(const ShopState& state, const Resolver& resolver, const Cutter& cutter);

// What an operation of a job would get in this material on this machine.
Query query_for(const ShopState& state, const Job& job, const Operation& operation);
TakenConditions taken_from(const ShopState& state, const Resolution& resolution, Trail trail);
// What only the path of an operation tells.
struct PathFacts {
  double growth_rad = 0;           // of the engagement at the tightest place, over that beside a straight wall
  std::optional<double> depth_mm;  // in all, where it is the feature's
  // As it is cut: by most of the path. Nothing: as taken.
  std::optional<double> n_rpm, vf_mm_min, ap_mm, ae_mm;
  double vf_low_mm_min = 0, vf_high_mm_min = 0;  // of the centre, where circles differ; 0: one feed
  double full_width_mm = 0, full_depth_mm = 0;   // at full width: how long and how deep
  bool operator==(const PathFacts&) const = default;
};
// What an operation runs at by most of its path, as list, sheet and bench say it.
struct RunsAt {
  std::optional<double> n_rpm, vf_mm_min, vf_high_mm_min, ap_mm, ae_mm;  // a range of feeds where circles differ
};
RunsAt runs_at(const Operation& operation, const PathFacts& path);
// The cut an operation makes with its values, and the results.
Cut cut_of(const ShopSettings& settings, const Operation& operation, const PathFacts& path);
inline Cut cut_of(const ShopState& state, const Operation& operation, const PathFacts& path) {
  return cut_of(state.shop_settings(), operation, path);
}
CutReport report_of(const ShopState& state, const JobHead& job, const Operation& operation, const PathFacts& path);
HeldCutter as_held(const ShopState& state, const Operation& operation);
// Whether the source now differs from the job's copy, and nobody has decided to keep the copy.
bool source_moved(const Operation& job_copy, const Operation& taken_anew);

// Resolves the operation's conditions again.
void retake(const ShopState& state, const Resolver& resolver, const Job& job, Operation& operation);
// The job with every operation's conditions resolved again, for another material, machine or pace if given.
Job retaken(const ShopState& state, const Resolver& resolver, Job job);

}  // namespace pecorra
