// The edits of a job and its operations as changes: which lines are cut, what an edit requires to be resolved again,
// what is accepted from the library.
#pragma once

#include "shop/change.h"
#include "shop/job_edit.h"

namespace pecorra {

// Operations of a job by their places, rising.
struct Places : std::vector<int> {
  using std::vector<int>::vector;
  Places(int one) : vector{one} {}
};

struct NewJob {
  Change change;
  Id job;
};
// With pockets and holes guessed from the drawing. `note`: what the reader noted about it, for instance its unit.
NewJob new_job(const ShopState& state, const Drawing& drawing, const QString& note, const Id& machine,
               const Id& material);
// Another one with all that belongs to it.
NewJob copied_job(const ShopState& state, const Job& job);
// Empty where it is the same drawing.
Change with_drawing(const Job& job, const Drawing& drawing, const QString& note);
// Lines of the drawing that something uses and that have changed or are gone, feature by feature; empty: none.
QString drawing_news(const Job& job);
Change without_job(const Job& job);

// Adds an operation at the end, for these features if there are any, with the first cutter that fits and has
// conditions.
Change added_operation(const ShopState& state, const Resolver& resolver, const Job& job, PathKind path,
                       const std::vector<std::string>& features = {});
// Copies behind the last of them.
Change copied_operation(const Job& job, const Places& at);
// Together, in their order; empty if they would leave the list.
// All of them in this order, by their places now.
Change reordered(const Job& job, const std::vector<std::size_t>& order, int changes_before, int changes);
// Behind another: what comes too early. Empty where it stands behind it already.
Change moved_behind(const Job& job, int at, int other);
// The depths of these count from the faced surface, as far as they start above it; of one setup at a time.
Change counted_from_faced(const ShopState& state, const Resolver& resolver, const Job& job, const Places& operations);
Change moved_operation(const Job& job, const Places& from, int by);
// To stand before what is at this place now, or at the end.
Change operations_put(const Job& job, const Places& from, int before);
Change without_operation(const Job& job, const Places& at);

// Picks a feature for the operation, or drops it again; drilling takes all circles of the same diameter, or with
// `alone` just this one. Fails with the reason.
tl::expected<Change, QString> feature_clicked(const Job& job, int operation, const std::string& key, bool alone,
                                              UnitSystem units);
// Takes the next line or diameter instead; empty if there is none.
Change next_line(const Job& job, int operation, UnitSystem units);
// Takes features that have changed since they were picked as they are now, with what they are made of.
Change features_accepted(const Job& job, const Places& operations);
// A tab of the profile there, or none where one is near.
Change tab_clicked(const Job& job, int operation, Point2 at, UnitSystem units);

// Sets one property of the job itself, as typed.
Change edited_job(const Job& job, const Property<JobHead>& property, const Value& value, const std::string& typed,
                  UnitSystem units);
// Sets one property of operations, as typed, where their kind has it. Properties that the tables depend on resolve the
// conditions again.
Change edited_operation(const ShopState& state, const Resolver& resolver, const Job& job, const Places& operations,
                        const Property<Operation>& property, const Value& value, const std::string& typed,
                        UnitSystem units);
// Sets one value for every operation with this cutter that has none of its own.
Change edited_cutter_values(const ShopState& state, const Resolver& resolver, const Job& job, const Id& cutter,
                            const Property<CutterValues>& property, const Value& value, UnitSystem units);
// The operation's own values for every operation with its cutter, or the cutter's for this operation alone.
Change with_own_for_cutter(const ShopState& state, const Resolver& resolver, const Job& job, int operation, bool on);
// Changes the cutter, with its conditions and a new tool number.
Change with_cutter(const ShopState& state, const Resolver& resolver, const Job& job, const Places& operations,
                   const Cutter& cutter);
// The generic cutter of an operation becomes one of this library, for every operation of the job that has it.
Change generic_put_into_library(const ShopState& state, const Resolver& resolver, const Job& job, int operation,
                                const Id& library);
// Makes the trial values of the cut the operation's own; `results`: of that cut.
Change with_tried(const ShopState& state, const Resolver& resolver, const Job& job, int operation, const WhatIf& tried,
                  const CutResults& results);
// Own values instead of followed ones, and back; as the first of them is not.
Change toggled_own(const ShopState& state, const Resolver& resolver, const Job& job, const Places& operations);

// Where sources differ from the job's copy: `anew` is the job with everything resolved again.
Change updated_from_library(const Job& job, const Job& anew);
Change kept_copy(const Job& job, const Job& anew);
// The job as it is, its copies said to be kept in `after`.
Change kept_change(const Job& job, Job after);

}  // namespace pecorra
