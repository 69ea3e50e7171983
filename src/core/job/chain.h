// The operations that make a feature from solid to finished, in one step: a threaded hole is spotted, drilled and
// tapped, a pocket roughed and its floor and walls finished.
#pragma once

#include "core/job/job.h"

namespace pecorra {

// What follows from the cutters that are found: known only when they are.
struct ChainCutters {
  double tap_lead_mm = 0;       // of a tap; 0: three pitches
  double tapping_drill_mm = 0;  // 0: of a cutting tap
  double reamer_lead_mm = 0;
};

// In their order, without cutters; empty where the features have no chain: only holes and pockets have one, and only
// those that are alike are made together.
std::vector<Operation> chain_of(const Job& job, const std::vector<std::string>& features,
                                const ChainCutters& cutters = {});

}  // namespace pecorra
