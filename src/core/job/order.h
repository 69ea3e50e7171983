// An order of a job's operations with few changes of cutter.
#pragma once

#include <utility>
#include <vector>

#include "core/job/job.h"

namespace pecorra {

// Which operation has to come before which, by their places: faces before what they uncover; whatever works at one
// place or on one feature in the order of its work (spot, drill or bore, sink, ream, tap; rough before finish), else as
// it stands; setups one after the other; and what an operation names itself (`Operation::behind`).
std::vector<std::pair<std::size_t, std::size_t>> dependencies_of(const Job& job);

// What stands in the wrong order, of each operation: `comes_too_early` (error) names the operation that has to come
// first, `surface_is_gone` (warning) the one that took away the surface from which the depth counts. `inputs`: of each
// operation, as bound.
std::vector<std::vector<Message>> order_faults(const Job& job, const std::vector<const OperationInput*>& inputs);
// How low the setup has been faced where these features lie, before the operation at that place of the job; nothing
// where no face is left by then.
std::optional<double> faced_top(const Job& job, const Setup* setup, const OperationInput& input, std::size_t before);

struct OperationOrder {
  std::vector<std::size_t> places;  // of the operations now, in the new order
  int changes_before = 0, changes = 0;
};
// `cutters`: what each operation turns, equal for the same. All that can be done with the cutter in the spindle is done
// first, which never costs anything; which cutter comes next is searched for, all of them as far as there is time. As
// it stands where nothing is better.
OperationOrder fewest_changes(const Job& job, const std::vector<int>& cutters);

// From the first cutter on.
int changes_in(const std::vector<int>& cutters, const std::vector<std::size_t>& order);

}  // namespace pecorra
