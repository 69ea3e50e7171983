// What `resolve`, `chart` and `shortlist` answer, as text, from a shop that is loaded.
#pragma once

#include <tl/expected.hpp>

#include "cli/commands.h"
#include "shop/state.h"

namespace pecorra::cli {

tl::expected<std::string, FormatFaults> resolve_answer(const ShopState& state, const Resolver& resolver,
                                                       const ResolveOptions& options);
// JSON, or CSV where that is asked for.
tl::expected<std::string, FormatFaults> chart_answer(const ShopState& state, const Resolver& resolver,
                                                     const ChartOptions& options);
// `feature`: JSON, one feature as in a job file, with `operation`.
tl::expected<std::string, FormatFaults> shortlist_answer(const ShopState& state, const Resolver& resolver,
                                                         const ShortlistOptions& options, std::string_view feature);

}  // namespace pecorra::cli
