// Spots and countersinks: a cone that is so wide at the top, or so deep.
#pragma once

#include "core/operation/holes.h"

namespace pecorra {

// How wide the cone is to be at the top of a hole: as typed, else with the feature's chamfer; nothing where none is
// stated.
std::optional<double> cone_mm(const Operation& operation, const BoundHole& hole);
// Diameter of the hole itself: of a thread its nominal size, which the chamfer counts from.
double edge_mm(const BoundHole& hole);

void check_cones(const Operation& operation, const OperationInput& input, std::vector<Message>& messages);
void misfits_cones(const Operation& operation, const OperationInput& input, const Cutter& cutter,
                   std::vector<Message>& messages);
// The tip goes so far below the top at a hole.
std::optional<double> cone_depth_at(const Operation& operation, const BoundHole& hole);
std::optional<double> cone_depth(const Operation& operation, const OperationInput& input);
void trace_cones(PathContext& context);
// Nothing is certainly gone in all its depth but what the tip's flat takes.
double cone_cleared_mm(const Operation& operation);

}  // namespace pecorra
