// Jobs as JSON files, see docs/formats/README.md: read into a shop, and written so that reading gives the same job.
#pragma once

#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "formats/json/objects.h"
#include "shop/state.h"

namespace pecorra {

struct ReadJob {
  Job job;
  std::vector<std::vector<Message>> notes;  // of each operation: what was chosen by itself, and why
};
// Conditions are resolved; `folder`: where a drawing named in the file is looked for. Faults name key and what would be
// right; with any, nothing is made.
tl::expected<ReadJob, FormatFaults> read_job_file(const ShopState& state, const Resolver& resolver,
                                                  std::string_view text, const QString& folder);

Json job_file(const ShopState& state, const Job& job);
// The lines of a drawing as features.
Json features_of(const Drawing& drawing);

}  // namespace pecorra
