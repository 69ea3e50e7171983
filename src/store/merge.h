// Two changes of one object brought together: what one writer changed, put into what another made of it meanwhile.
#pragma once

#include <string>
#include <tl/expected.hpp>

namespace pecorra {

// The value that both changed, each to something else.
struct Clash {
  std::string property;      // its key; of a list's entry "rows/ID/key"
  std::string ours, theirs;  // as JSON; empty: it is gone there
};

// All three are JSON objects. `before` to `after` is our change, `theirs` is what stands. Brought together property by
// property, and lists whose entries have an id (the rows of a table) entry by entry, in their order; every other list
// is one value. Fails where both changed one value differently.
tl::expected<std::string, Clash> merged_body(const std::string& before, const std::string& after,
                                             const std::string& theirs);

}  // namespace pecorra
