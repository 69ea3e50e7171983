// What the moves of a section say of its cuts: how deep each level is below the one above, how far parallel passes lie
// apart, and whether a rapid goes where others cut. Lengths in mm.
#pragma once

#include <cstddef>
#include <limits>
#include <map>
#include <optional>
#include <vector>

#include "core/retune/program_run.h"

namespace pecorra {

class CutEvidence {
 public:
  // Takes the moves one by one, in their order.
  void add(const RunBlock& b);

  struct Found {
    std::optional<double> ap_mm;  // the deepest step between levels that repeat
    int levels = 0;
    std::optional<double> highest_mm;  // Z of the highest of them
    std::optional<double> ae_mm;       // how far most parallel passes on one level lie apart
    int passes = 0;
  };
  Found found() const;
  // The first rapid sideways no higher than a level on which it cuts.
  std::optional<std::size_t> rapid_at_depth() const;

 private:
  // A pass along a direction: how far its line is from the origin, and from where to where it goes.
  struct Pass {
    double along_x = 0, along_y = 0, offset = 0, from = 0, to = 0;
    long z = 0;
  };
  void add_pass(const RunBlock& b);

  std::map<long, double> levels_;  // µm, with the length that is cut there
  double low_rapid_ = std::numeric_limits<double>::infinity();
  std::size_t low_block_ = 0;
  std::vector<Pass> latest_;
  std::size_t next_ = 0, passes_ = 0;
  std::map<long, std::pair<double, int>> apart_;  // µm, with length and number of the passes
};

}  // namespace pecorra
