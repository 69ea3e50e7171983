// What is done with a job and its operations on their page, as changes: which lines are cut, what an edit makes
// necessary to take anew, what is accepted from the library.
#pragma once

#include "shop/change.h"
#include "shop/job_edit.h"

namespace pecorra {

struct NewJob {
  Change change;
  Id job;
};
// `note`: what reading the drawing has to say, as its unit.
NewJob new_job(const ShopState& state, const Drawing& drawing, const QString& note, const Id& machine,
               const Id& material);
Change with_drawing(const Job& job, const Drawing& drawing, const QString& note);
Change without_job(const Job& job);

// Behind the others, with the first cutter that fits and has numbers.
Change added_operation(const ShopState& state, const Resolver& resolver, const Job& job, PathKind path);
// Empty where it would leave the list.
Change moved_operation(const Job& job, int from, int by);
Change without_operation(const Job& job, int at);

// A line of the drawing (see line_at) is picked for the operation, or left out again; drilling takes the circles of its
// diameter. The reason where it cannot be.
tl::expected<Change, QString> line_clicked(const Job& job, int operation, int line, UnitSystem units);
// The next line or diameter of the drawing instead; empty where there is none.
Change next_line(const Job& job, int operation, UnitSystem units);

// One property of an operation, as typed. What the tables are asked for takes the conditions anew.
Change edited_operation(const ShopState& state, const Resolver& resolver, const Job& job, int operation,
                        const Property<Operation>& property, const Value& value, const std::string& typed,
                        UnitSystem units);
// Another cutter, with its conditions; its tool number is given anew.
Change with_cutter(const ShopState& state, const Resolver& resolver, const Job& job, int operation,
                   const Cutter& cutter);
// What is tried on the cut becomes the operation's own; `results`: of that cut.
Change with_tried(const ShopState& state, const Resolver& resolver, const Job& job, int operation, const WhatIf& tried,
                  const CutResults& results);
// Own values instead of followed ones, and back.
Change toggled_own(const ShopState& state, const Resolver& resolver, const Job& job, int operation);

// Where sources say something else than the job's copy: `anew` is the job with everything taken anew.
Change updated_from_library(const Job& job, const Job& anew);
Change kept_copy(const Job& job, const Job& anew);

}  // namespace pecorra
