// Possible duplicates.
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "core/cutter/cutter.h"

namespace pecorra {

enum class Likeness { order_code, sizes };

// Same maker and order code; or same kind, flutes and tool material with every size that both state equal within 0.5 %
// or 0.01 mm (angles 0.5°). A size stated by only one does not count unless the kind needs it. Nothing if they differ,
// or if somebody has marked them as not duplicates.
std::optional<Likeness> likeness(const Cutter& a, const Cutter& b);

struct LikePair {
  std::size_t first = 0, second = 0;  // indices into the list, first < second
  Likeness why = Likeness::sizes;
};
// All pairs of a list, in its order. Near-linear: cutters are compared within their kind by neighbouring diameters.
std::vector<LikePair> like_pairs(std::span<const Cutter> cutters);

// The key in Cutter::accepted that marks another cutter as not a duplicate.
std::string told_apart_key(const Id& other);

}  // namespace pecorra
