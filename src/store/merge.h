// Merges two changes of one object: ours, and what another writer has saved meanwhile.
#pragma once

#include <string>
#include <tl/expected.hpp>

namespace pecorra {

// A value that both sides changed, each to something else.
struct Clash {
  std::string property;      // its key; of a list's entry "rows/ID/key"
  std::string ours, theirs;  // as JSON; empty: deleted there
};

// All three are JSON objects. `before` to `after` is our change, `theirs` is what is stored now. Objects are merged
// property by property. Lists whose entries have an id (the rows of a table) are merged entry by entry and keep their
// order; any other list counts as one value. Fails where both sides changed a value differently.
tl::expected<std::string, Clash> merged_body(const std::string& before, const std::string& after,
                                             const std::string& theirs);

}  // namespace pecorra
