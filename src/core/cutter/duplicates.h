// Possible duplicates.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "core/cutter/cutter.h"

namespace pecorra {

enum class Likeness { order_code, sizes };

// The same maker and order code; or the same kind, flutes and tool material with every size that both state within
// 0.5 % or 0.01 mm (angles 0.5°), a size that only one states not counting unless the kind needs it. Nothing when they
// differ, or when somebody has said on one of them that they are two.
std::optional<Likeness> likeness(const Cutter& a, const Cutter& b);

struct LikePair {
  std::size_t first = 0, second = 0;  // places in the list, first < second
  Likeness why = Likeness::sizes;
};
// All pairs of a list, in its order. Near-linear: cutters are compared within their kind by neighbouring diameters.
std::vector<LikePair> like_pairs(std::span<const Cutter> cutters);

// Marks another cutter as no duplicate of this one: the key in Cutter::accepted.
std::string told_apart_key(const Id& other);

}  // namespace pecorra
