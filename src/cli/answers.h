// What `resolve`, `chart` and `shortlist` answer, as text, from a shop that is loaded.
#pragma once

#include <tl/expected.hpp>
#include <unordered_map>

#include "cli/commands.h"
#include "shop/state.h"

namespace pecorra::cli {

// Trail steps as they were written before: from one cut to the next most of them are the same. For one thread at a
// time.
class WrittenSteps {
 public:
  void write(JsonText& out, const TrailStep& step);

 private:
  std::unordered_map<std::string, std::string> written_;
  std::size_t bytes_ = 0;
  std::string key_;
};

tl::expected<std::string, FormatFaults> resolve_answer(const ShopState& state, const Resolver& resolver,
                                                       const ResolveOptions& options, WrittenSteps& steps);
// JSON, or CSV where that is asked for.
tl::expected<std::string, FormatFaults> chart_answer(const ShopState& state, const Resolver& resolver,
                                                     const ChartOptions& options);
// `feature`: JSON, one feature as in a job file, with `operation`.
tl::expected<std::string, FormatFaults> shortlist_answer(const ShopState& state, const Resolver& resolver,
                                                         const ShortlistOptions& options, std::string_view feature);

}  // namespace pecorra::cli
