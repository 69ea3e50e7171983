// Where a program goes on to other work with the same cutter at the same speed: holes behind cuts, or other work named
// in a comment. Other feeds alone do not tell: they may be slower with reason, and new ones would change what they
// tell.
#pragma once

#include <cstddef>
#include <map>
#include <optional>
#include <string_view>
#include <vector>

#include "core/cutter/operation_kind.h"
#include "core/retune/program_run.h"

namespace pecorra {

class WorkSplits {
 public:
  // Blocks in the order in which they are run, the comments of each first. Nothing is split within a subprogram.
  void comment(std::string_view inside, const RunBlock& b, bool in_main);
  void add(const RunBlock& b, bool in_main);
  // Blocks at which other work begins, rising. A section that goes to and fro between two kinds has none.
  std::vector<std::size_t> found();

 private:
  enum class Family { none, cuts, holes, taps };
  // What is cut between two times up in the air.
  struct Approach {
    std::size_t begin = 0;
    int section = -1;
    Family family = Family::none;
    std::optional<OperationKind> named;
    bool fed = false;
  };
  void close();

  Approach now_;
  std::optional<Approach> before_;              // the last that was closed in this section
  std::map<int, std::vector<std::size_t>> at_;  // by section
};

}  // namespace pecorra
