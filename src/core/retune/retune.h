// Another S and F for the sections of a program, every other byte as it was.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/retune/program_reading.h"

namespace pecorra {

// What a section is to run at. Without n_rpm it keeps what it has.
struct NewConditions {
  std::optional<double> n_rpm;
  double vf_mm_min = 0, plunge_mm_min = 0, ramp_mm_min = 0, lead_mm_min = 0;
  std::optional<double> was_vf_mm_min;  // the feed that vf replaces; else the section's
  std::optional<double> pitch_mm;       // of a tap; else as the program has it
  bool in_proportion = false;           // plunges, ramps and leads too keep their share of the cutting feed
  // Radius of the cutter: F of inside arcs in XY is then the centre's, so that the edge has vf (formula 14). Without it
  // arcs are fed as lines are. Where no compensation says on which side the part is, the cut is taken to be a climb.
  std::optional<double> arc_radius_mm;
  bool cuts_threads = false;  // helices down are cuts too, and around a part the centre goes faster than the edge
  std::optional<double> stock_top_mm;  // plunges that end no lower are through the air
};

struct Retuned {
  std::string text;
  struct Section {
    std::size_t changed_words = 0;
    double minutes = 0;
  };
  std::vector<Section> sections;                                   // of the reading's
  std::vector<std::pair<int, std::vector<int>>> kept_subprograms;  // that several cutters use
};
Retuned retune(const ProgramText& program, const ProgramReading& reading, const std::vector<NewConditions>& conditions,
               Rapid rapid = {}, const ReadProgress& go_on = {});

// What a word's number is: a tap's feed is exact, with as many decimals as it takes; a speed is the nearest; other
// feeds are never more than the value.
enum class WordKind { speed, feed, feed_per_turn, tap_feed };
// A number in the way that another word has it: its point, its decimals, its leading zeros.
std::string in_manner_of(std::string_view word, double value, bool inch, WordKind kind);

}  // namespace pecorra
