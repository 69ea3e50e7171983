// Walls that stand thin between what the operations of a job cut away.
#pragma once

#include <vector>

#include "core/job/job.h"

namespace pecorra {

// `thin_wall`, by operation: a wall higher than eight times its thickness (common practice, no source) that this one
// leaves standing, with both sizes. `inputs` in the order of the job.
std::vector<std::vector<Message>> thin_walls(const Job& job, const std::vector<const OperationInput*>& inputs);

}  // namespace pecorra
