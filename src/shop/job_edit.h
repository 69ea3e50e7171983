// Edits of jobs: proposing an operation for a drawing, finding cutters that can do it, resolving conditions.
#pragma once

#include <vector>

#include "shop/evaluation.h"

namespace pecorra {

// A job on this drawing, with stock around it and no operations.
Job proposed_job(const ShopState& state, const Drawing& drawing, const Id& machine, const Id& material);

// An operation of this kind with what the drawing and the stock suggest, or for these features; no cutter yet.
Operation proposed_operation(const Job& job, PathKind path, const std::vector<std::string>& features = {});

// A new operation counts its depth from the surface that earlier ones have faced.
void count_from_faced(const Job& job, Operation& operation);

// Puts a copy of the cutter and its stick-out into the operation and resolves its conditions.
void pick_cutter(const ShopState& state, const Resolver& resolver, const Job& job, Operation& operation,
                 const Cutter& cutter);

// Turns followed values into own values, and back.
void make_own(const ShopState& state, const Resolver& resolver, const Job& job, Operation& operation);
// Applies trial values to an operation: depth, width and stick-out directly; a speed or fz as S and F, rounded down to
// the shop's steps.
void take_tried(const ShopState& state, const Resolver& resolver, const Job& job, Operation& operation,
                const WhatIf& tried, const CutResults& results);
void follow_again(const ShopState& state, const Resolver& resolver, const Job& job, Operation& operation);

}  // namespace pecorra
