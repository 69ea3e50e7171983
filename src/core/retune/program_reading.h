// What a program made elsewhere is found to do, section by section.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/cutter/operation_kind.h"
#include "core/retune/cut_evidence.h"
#include "core/retune/run_record.h"

namespace pecorra {

// What one cutter does between two changes, or one piece of its work.
struct ProgramSection {
  int tool = 0;
  std::size_t first = 0, last = 0;                    // blocks
  std::array<std::uint32_t, run_move_count> moves{};  // by kind
  std::vector<std::string> comments;                  // before its first move
  std::optional<int> operation;                       // number of an operation that Pecorra wrote
  double n_rpm = 0;                                   // the first in force at a feed
  double cut_mm_min = 0;     // of its cuts, without what is fed through the air; else of its cycles
  double plunge_mm_min = 0;  // of the first into material
  double helix_mm_min = 0;
  double hole_mm_min = 0;  // of its cycles, but for taps
  double tap_mm_min = 0;
  double minutes = 0;  // of its moves as they are; rapids at what the machine has
  bool per_turn = false, inverse_time = false, surface_speed = false, inch = false;
  bool whole_feeds = false;  // some F has no point
  // Of its moves: ramps that wind down and cuts that wind up, cuts along arcs, cuts into and out of the contour,
  // plunges that a slower one goes on from.
  std::uint32_t helices = 0, arcs = 0, leads = 0, air_plunges = 0;
  double lead_mm_min = 0;     // of most leads, where it is another than the cuts'; else 0
  std::uint32_t fed() const;  // moves at a feed
  // Those of subprograms in files of their own, and of them those whose feed is said there.
  std::uint32_t fed_elsewhere = 0, feeds_elsewhere = 0;
  // Of its cuts, else of its holes or taps; 0: none.
  double main_mm_min() const { return cut_mm_min > 0 ? cut_mm_min : hole_mm_min > 0 ? hole_mm_min : tap_mm_min; }
  // What is dangerous in it as it is: the first block of each kind.
  std::optional<std::size_t> rapid_at_depth;  // sideways, no higher than a level on which it cuts
  std::optional<std::size_t> no_spindle, no_feed;
  std::optional<std::size_t> flood, mist;  // M8, M7
  int cycle = 0;                           // its first, but for taps: 73, 81 …
  // Feeds of its level cuts with their lengths.
  std::vector<std::pair<double, double>> cuts;
  CutEvidence::Found cut_sizes;        // what its moves say of depth and width
  std::optional<OperationKind> named;  // the work that a comment names
  std::string named_by;                // that comment
};

struct NotUnderstood {
  std::size_t block = 0;
  std::string why;
};

struct ProgramReading {
  std::vector<ProgramSection> sections;  // without those that move nothing
  std::vector<int> section_of;           // of a run's sections: place above, or -1
  std::vector<std::size_t> splits;       // for ProgramRun: where other work begins with the same cutter and speed
  std::vector<NotUnderstood> not_understood;
  std::map<int, std::size_t> attached;  // subprograms in files of their own that say S or F, with the block that calls
  std::map<int, std::vector<int>> tools_of_subprogram;  // by its number
  std::map<int, std::size_t> subprogram_block;          // where it begins
  bool own = false;                                     // written by Pecorra
  RunRecord record;                                     // empty where reading was stopped
};

struct Rapid {
  double mm_min = 0;  // 0: rapids take no time
};
// `go_on` is asked now and then with the share done; false stops.
using ReadProgress = std::function<bool(double)>;
inline constexpr std::size_t asked_every = 4096;  // blocks or moves
// A move's time at a feed, in mm/min or mm per revolution.
double minutes_at(const RunBlock& b, double feed, double n_rpm, bool per_turn, Rapid rapid);
ProgramReading read_program(const ProgramText& program, Rapid rapid = {}, const ReadProgress& go_on = {});

}  // namespace pecorra
