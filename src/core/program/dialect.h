// How a control wants its programs, as data: shipped as data/dialects/*.json, and the shop's own beside them.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/id.h"
#include "core/base/message.h"
#include "core/base/property.h"
#include "core/machine/machine.h"
#include "core/motion/motion.h"

namespace pecorra {

enum class LineEnd { lf, crlf };
template <>
std::span<const Choice> choices_of<LineEnd>();

// How a number without a fraction is written: 5. or 5 or 5.000
enum class NumberPoint { always, where_needed, full };
template <>
std::span<const Choice> choices_of<NumberPoint>();

// How an arc's centre is said: from its start, from the zero point, by the radius, or not at all (as lines).
enum class ArcForm { incremental, absolute, radius, none };
template <>
std::span<const Choice> choices_of<ArcForm>();

// When a cutter is measured: before its first cut, or whenever it comes into the spindle.
enum class MeasureWhen { first_use, every_change };
template <>
std::span<const Choice> choices_of<MeasureWhen>();
// When it is checked for breakage.
enum class BreakageWhen { after, before, both };
template <>
std::span<const Choice> choices_of<BreakageWhen>();

// Texts are lines of the program; what stands in braces is filled in. An empty text: the control has no such thing, and
// it is written out or left out, as said beside each.
struct Dialect {
  Id id;  // null: shipped
  std::int64_t revision = 0;
  std::string key = "plain";  // what a machine names
  std::string name;
  std::string about;  // what it does, for people

  // Start and end
  std::string before;          // {program} {name} {unit}
  std::string after;           // {program}
  std::string safe_retract;    // before the first rapid, around a change, at the end; {plane}
  std::string program_letter;  // before the program's number
  int program_digits = 4;
  int program_first = 1, program_last = 9999;

  // Cutters
  std::string tool_change;                           // {t} {next} {name}
  std::string preselect;                             // the next cutter, behind the change; {next}
  std::string optional_stop;                         // before a change
  std::string setup_stop;                            // before another setup
  std::string operation_start;                       // so that each can be started at; empty: they follow on
  std::string length_offset;                         // with the first move down, {z} {h}; empty: none
  int length_offset_add = 0, radius_offset_add = 0;  // H = T + …, D = T + …
  std::string first_work_offset;                     // where the setup states none; empty: no work offsets at all
  std::string measure_length, measure_radius;        // {t} {h} {d} {tolerance}
  std::string check_breakage;                        // {t} {h} {tolerance}
  MeasureWhen measure_when = MeasureWhen::first_use;
  BreakageWhen breakage_when = BreakageWhen::after;  // its last cut before another cutter comes, or its first

  // Motion
  ArcForm arcs = ArcForm::incremental;
  double greatest_arc_deg = 360;
  bool helices = true, other_planes = true;
  double chord_mm = 0.005;  // how far lines may stray where they stand for an arc
  std::string compensation_left = "G41 D{d}", compensation_right = "G42 D{d}", compensation_off = "G40";
  std::string dwell = "G4 P{s}";  // {s} {ms}

  // Spindle, feed, coolant
  std::string spindle_on = "S{n} {m}", clockwise = "M3", counter_clockwise = "M4", spindle_off = "M5",
              orientated_stop = "M19";
  std::string dial = "DIAL POSITION {position} = {n} RPM";  // a comment
  std::string per_minute = "G94", per_turn = "G95";
  bool hole_feed_per_turn = false;  // of drilling and tapping cycles
  std::string flood, mist, mist_oil, air, through_liquid, through_air, coolant_off;

  // Cycles; empty: written out
  std::string cycle_drill, cycle_dwell, cycle_peck, cycle_chip_break, cycle_feed_out, cycle_feed_out_dwell, cycle_bore,
      cycle_back_bore, cycle_tap, cycle_tap_left;
  std::string cycle_off = "G80", return_high = "G98", return_low = "G99";  // both empty: always to the retract plane
  std::string peck_word = "Q", dwell_word = "P";
  std::string first_peck_word;                  // empty: all pecks are alike
  bool dwell_in_ms = true;                      // of cycles
  bool repeat_on_positions = true;              // the place alone where the same cycle is on
  std::string rigid_tapping, floating_tapping;  // before the cycle; {n}

  // Words and lines
  std::string metric = "G21", inch = "G20";
  int decimals_mm = 3, decimals_inch = 4, feed_decimals_mm = 1, feed_decimals_inch = 2;
  NumberPoint position_point = NumberPoint::always, feed_point = NumberPoint::where_needed;
  bool leading_zero = true;      // 0.5 and not .5
  bool two_digit_codes = false;  // G01
  bool blanks = true;
  LineEnd line_end = LineEnd::lf;
  std::string block_letter;  // empty: no block numbers
  int block_first = 10, block_step = 10, block_last = 99990;
  std::string comment_open = "(", comment_close = ")";
  int longest_comment = 0;  // letters; 0: any. Longer ones go on in another
  bool upper_case = true;

  std::string source, notes;
  std::map<std::string, std::string, std::less<>> typed;

  // What turns it on; empty: it cannot.
  const std::string& code_of(Coolant coolant) const;
  const std::string& code_of(CycleKind kind, bool dwells, bool left_hand) const;
  bool operator==(const Dialect&) const = default;
};
template <>
std::span<const Property<Dialect>> properties<Dialect>();

// Unknown fields in braces, ranges turned round, what makes a program that no control reads.
std::vector<Message> check_dialect(const Dialect& dialect);
// What may stand in braces in that property's text; empty: nothing.
std::vector<std::string_view> fields_in(std::string_view property);

}  // namespace pecorra
