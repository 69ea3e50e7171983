// Where a program moves and how fast, as it is and as it becomes, for pictures. Arcs are broken into chords. Lengths in
// mm, feeds in mm/min.
#pragma once

#include <cstdint>
#include <vector>

#include "core/geometry/contour.h"
#include "core/retune/retune.h"

namespace pecorra {

struct ProgramMove {
  float x = 0, y = 0, z = 0;  // where it ends
  std::uint32_t block = 0;
  std::int16_t section = -1;  // of the reading's
  RunMove kind = RunMove::rapid;
  bool jump = false;             // it begins elsewhere than the one before ended
  float feed_was = 0, feed = 0;  // 0: a rapid, or not known
};

struct ProgramMoves {
  std::vector<ProgramMove> moves;
  Box plan;                        // of what is fed
  float slowest = 0, fastest = 0;  // of all feeds, before and after
  bool cut_short = false;          // there are more
};

inline constexpr std::size_t most_program_moves = 4000000;

// `after`: the program as it becomes, block by block the same.
ProgramMoves moves_of(const ProgramText& before, const ProgramText& after, const ProgramReading& reading,
                      const ReadProgress& go_on = {});

}  // namespace pecorra
