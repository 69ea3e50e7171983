// One cutter in one context, complete: conditions, trail, limits. And what jobs take from it.
#pragma once

#include <optional>

#include "core/conditions/resolver.h"
#include "core/mechanics/cut.h"
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
  bool operator==(const Context&) const = default;
};

struct Evaluation {
  Resolution resolution;
  Trail trail;
  Cut asked;      // the resolved conditions as a cut
  CutReport cut;  // at the resolved conditions; forces with the shop's wear factor
  std::optional<Suggestion> suggestion;  // for the tightest limit, where it is broken
};

Query query_for(const ShopState& state, const Context& context);

// Fails with nothing: what is missing shows in the resolution's reason and in the trail.
// `held`: the assembly that is looked at, for the set diameter and the stick-out; none: the cutter as it is.
Evaluation evaluate(const ShopState& state, const Resolver& resolver, const Cutter& cutter,
                    const WorkMaterial& material, const Machine& machine, const Query& query, const Assembly* held);
// Places of the materials: those that the shop cuts first. `only_cut_here`: those alone, all where it says of none.
std::vector<std::size_t> materials_in_order(const ShopState& state, bool only_cut_here);
// What the resolver knows of a cutter in its usual assembly.
CutterKey key_as_used(const ShopState& state, const Resolver& resolver, const Cutter& cutter);

// What an operation of a job would take in this material on this machine.
Query query_for(const ShopState& state, const Job& job, const Operation& operation);
TakenConditions taken_from(const ShopState& state, const Resolution& resolution, Trail trail);
// The cut that an operation makes with the values it took, and what it comes to.
Cut cut_of(const ShopState& state, const Operation& operation);
CutReport report_of(const ShopState& state, const Job& job, const Operation& operation);
// Whether the source now says something else than the job's copy, and nobody has decided to keep the copy.
bool source_moved(const Operation& job_copy, const Operation& taken_anew);

// Takes the operation's conditions anew.
void retake(const ShopState& state, const Resolver& resolver, const Job& job, Operation& operation);
// A job with every operation's conditions taken anew, for another material, machine or pace if given.
Job retaken(const ShopState& state, const Resolver& resolver, Job job);

}  // namespace pecorra
