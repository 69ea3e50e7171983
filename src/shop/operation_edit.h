// The edits of the Jobs page as changes: which lines are cut, what an edit requires to be resolved again, what is
// accepted from the library.
#pragma once

#include "shop/change.h"
#include "shop/job_edit.h"

namespace pecorra {

struct NewJob {
  Change change;
  Id job;
};
// `note`: what the reader noted about the drawing, for instance its unit.
NewJob new_job(const ShopState& state, const Drawing& drawing, const QString& note, const Id& machine,
               const Id& material);
Change with_drawing(const Job& job, const Drawing& drawing, const QString& note);
Change without_job(const Job& job);

// Adds an operation at the end, with the first cutter that fits and has conditions.
Change added_operation(const ShopState& state, const Resolver& resolver, const Job& job, PathKind path);
// A copy behind it.
Change copied_operation(const Job& job, int at);
// Empty if it would leave the list.
Change moved_operation(const Job& job, int from, int by);
Change without_operation(const Job& job, int at);

// Picks a feature for the operation, or drops it again; drilling takes all circles of the same diameter, or with
// `alone` just this one. Fails with the reason.
tl::expected<Change, QString> feature_clicked(const Job& job, int operation, const std::string& key, bool alone,
                                              UnitSystem units);
// Takes the next line or diameter instead; empty if there is none.
Change next_line(const Job& job, int operation, UnitSystem units);
// Takes features that have changed since they were picked as they are now.
Change features_accepted(const Job& job, int operation);

// Sets one property of a setup or of the job itself, as typed.
Change edited_setup(const ShopState& state, const Resolver& resolver, const Job& job, std::size_t setup,
                    const Property<Setup>& property, const Value& value, const std::string& typed, UnitSystem units);
Change edited_job(const Job& job, const Property<JobHead>& property, const Value& value, const std::string& typed,
                  UnitSystem units);
// Sets one property of an operation, as typed. Properties that the tables depend on resolve the conditions again.
Change edited_operation(const ShopState& state, const Resolver& resolver, const Job& job, int operation,
                        const Property<Operation>& property, const Value& value, const std::string& typed,
                        UnitSystem units);
// Changes the cutter, with its conditions and a new tool number.
Change with_cutter(const ShopState& state, const Resolver& resolver, const Job& job, int operation,
                   const Cutter& cutter);
// Makes the trial values of the cut the operation's own; `results`: of that cut.
Change with_tried(const ShopState& state, const Resolver& resolver, const Job& job, int operation, const WhatIf& tried,
                  const CutResults& results);
// Own values instead of followed ones, and back.
Change toggled_own(const ShopState& state, const Resolver& resolver, const Job& job, int operation);

// Where sources differ from the job's copy: `anew` is the job with everything resolved again.
Change updated_from_library(const Job& job, const Job& anew);
Change kept_copy(const Job& job, const Job& anew);

}  // namespace pecorra
