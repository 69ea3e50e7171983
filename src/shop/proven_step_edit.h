// Proven steps: saved from a job, used exactly in another, brought up to date only when somebody decides so.
#pragma once

#include <QStringList>
#include <vector>

#include "shop/change.h"
#include "shop/evaluation.h"
#include "shop/operation_edit.h"

namespace pecorra {

// Of these operations of the job, with what they took. They use it from now on.
Change saved_step(const ShopState& state, const Job& job, const Places& operations, const std::string& name);
// What a new one would be called: its first operation and the material.
std::string proposed_step_name(const ShopState& state, const Job& job, const Places& operations);

// Those that can work on these features, of this material first; all that have no need of features where none are
// given.
std::vector<const ProvenStep*> steps_for(const ShopState& state, const Job& job,
                                         const std::vector<std::string>& features);
// The job with the step's operations at its end, on these features. One for any cutter takes the first that stands for
// its own; nothing where an operation cannot work on them.
tl::expected<Change, QString> with_step(const ShopState& state, const Job& job, const ProvenStep& step,
                                        const std::vector<std::string>& features);
// The step as these operations, which use it, are now.
tl::expected<Change, QString> updated_step(const ShopState& state, const Job& job, const Places& operations);
// Names of jobs.
QStringList users_of_step(const ShopState& state, const Id& step);

// Conditions of an operation that uses a step: exactly its own, and what of it is otherwise than it was proven.
// False: the operation uses none that is there, or types its own.
bool take_from_step(const ShopState& state, const Job& job, Operation& operation);

}  // namespace pecorra
