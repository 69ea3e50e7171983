// The setup sheet of a job: what the setter needs at the machine, put into words.
#pragma once

#include "formats/paper/setup_sheet.h"
#include "shop/planning.h"

namespace pecorra {

// In the unit of `units`. Each setup that has operations is one, in the job's order. Reads the shop's file for the
// revision.
SetupSheet setup_sheet_of(const ShopState& state, const PlanRequest& request, const JobPlan& plan, UnitSystem units);

}  // namespace pecorra
