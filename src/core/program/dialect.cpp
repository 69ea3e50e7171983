#include "core/program/dialect.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace pecorra {
namespace {

using enum Quantity;

constexpr Choice line_ends[] = {{"lf", "Line feed"}, {"crlf", "Carriage return and line feed"}};
constexpr Choice measure_choices[] = {{"first_use", "before its first cut"}, {"every_change", "at every change"}};
constexpr Choice breakage_choices[] = {
    {"after", "behind its last cut"}, {"before", "before its first cut"}, {"both", "before and behind"}};
constexpr Choice point_styles[] = {{"always", "5."}, {"where_needed", "5"}, {"full", "5.000"}};
constexpr Choice arc_forms[] = {{"incremental", "Centre from the start (I, J, K)"},
                                {"absolute", "Centre from the zero point (I, J, K)"},
                                {"radius", "Radius (R)"},
                                {"none", "As lines"}};

constexpr std::array dialect_fields{
    field<&Dialect::name>("name", "", "Name", text, "What it does, never whose it is"),
    field<&Dialect::key>("key", "", "Key", text, "What machines and the command line call it"),
    field<&Dialect::about>("about", "", "About", text, "What it is for"),
    field<&Dialect::before>("before", "", "Start of program", text, "{program} {name} {unit}"),
    field<&Dialect::after>("after", "", "End of program", text, "{program}"),
    field<&Dialect::safe_retract>("safe_retract", "", "Safe retract", text,
                                  "Before the first rapid, around a change, at the end; {plane} is the retract plane"),
    field<&Dialect::program_letter>("program_letter", "", "Program letter", text, "Before the program's number"),
    field<&Dialect::program_digits>("program_digits", "", "Program digits", count, "Filled with zeros").within(1, 8),
    field<&Dialect::program_first>("program_first", "", "Lowest program number", count, "").within(0, 99999999),
    field<&Dialect::program_last>("program_last", "", "Highest program number", count, "").within(1, 99999999),
    field<&Dialect::tool_change>("tool_change", "", "Cutter change", text, "{t} {next} {name}"),
    field<&Dialect::preselect>("preselect", "", "Preselection", text,
                               "Calls the next cutter behind the change; {next}"),
    field<&Dialect::optional_stop>("optional_stop", "", "Optional stop", text, "M1: where an operation asks for it"),
    field<&Dialect::setup_stop>("setup_stop", "", "Stop between setups", text, "Before the part is clamped anew"),
    field<&Dialect::operation_start>("operation_start", "", "Start of operation", text,
                                     "So that the program can be started there: retract, these codes, then work "
                                     "offset, speed, coolant and length offset. Empty: operations follow on"),
    field<&Dialect::length_offset>("length_offset", "", "Length offset", text,
                                   "With the first move down; {z} {h}. Empty: none"),
    field<&Dialect::length_offset_add>("length_offset_add", "", "H is T plus", count, "").within(0, 1000),
    field<&Dialect::radius_offset_add>("radius_offset_add", "", "D is T plus", count, "").within(0, 1000),
    field<&Dialect::first_work_offset>("first_work_offset", "", "Work offset", text,
                                       "Where a setup states none. Empty: the control has no work offsets"),
    field<&Dialect::measure_length>("measure_length", "", "Measure the length", text,
                                    "{t} {h} {tolerance}. Empty: not by the program"),
    field<&Dialect::measure_radius>("measure_radius", "", "Measure the radius", text,
                                    "{t} {d} {tolerance}. Empty: not by the program"),
    field<&Dialect::check_breakage>("check_breakage", "", "Check for breakage", text,
                                    "{t} {h} {tolerance}. Empty: not by the program"),
    field<&Dialect::measure_when>("measure_when", "", "Measured", choice, "When length and radius are measured"),
    field<&Dialect::breakage_when>("breakage_when", "", "Checked", choice, "When it is checked for breakage"),
    field<&Dialect::arcs>("arcs", "", "Arcs", choice, ""),
    field<&Dialect::greatest_arc_deg>("greatest_arc_deg", "", "Greatest arc", angle, "In one block; 360 for a circle")
        .within(30, 360),
    field<&Dialect::helices>("helices", "", "Helices", flag, "Arcs that go up or down; else as lines"),
    field<&Dialect::other_planes>("other_planes", "", "Planes ZX and YZ", flag, "G18, G19; else as lines"),
    field<&Dialect::chord_mm>("chord_mm", "", "Lines for arcs, within", length, "How far they may stray from the arc")
        .within(0.0001, 1),
    field<&Dialect::compensation_left>("compensation_left", "", "Radius offset left", text, "{d}"),
    field<&Dialect::compensation_right>("compensation_right", "", "Radius offset right", text, "{d}"),
    field<&Dialect::compensation_off>("compensation_off", "", "Radius offset off", text, ""),
    field<&Dialect::dwell>("dwell", "", "Dwell", text, "{s} seconds or {ms} milliseconds"),
    field<&Dialect::spindle_on>("spindle_on", "", "Spindle on", text,
                                "{n} is the speed or {position} that of a dial, {m} the direction"),
    field<&Dialect::clockwise>("clockwise", "", "Clockwise", text, ""),
    field<&Dialect::counter_clockwise>("counter_clockwise", "", "Counter-clockwise", text, ""),
    field<&Dialect::spindle_off>("spindle_off", "", "Spindle off", text, ""),
    field<&Dialect::orientated_stop>("orientated_stop", "", "Orientated spindle stop", text, ""),
    field<&Dialect::dial>("dial", "", "Position of a dial", text, "A comment; {position} {n}"),
    field<&Dialect::per_minute>("per_minute", "", "Feed per minute", text, ""),
    field<&Dialect::per_turn>("per_turn", "", "Feed per revolution", text, "Empty: the control has none"),
    field<&Dialect::hole_feed_per_turn>("hole_feed_per_turn", "", "Cycles with feed per revolution", flag, ""),
    field<&Dialect::flood>("flood", "", "Flood on", text, ""),
    field<&Dialect::mist>("mist", "", "Mist on", text, ""),
    field<&Dialect::mist_oil>("mist_oil", "", "Oil mist on", text, ""),
    field<&Dialect::air>("air", "", "Air on", text, ""),
    field<&Dialect::through_liquid>("through_liquid", "", "Liquid through the spindle on", text, ""),
    field<&Dialect::through_air>("through_air", "", "Air through the spindle on", text, ""),
    field<&Dialect::coolant_off>("coolant_off", "", "Coolant off", text, ""),
    field<&Dialect::cycle_drill>("cycle_drill", "", "Drill", text, "Empty: written out"),
    field<&Dialect::cycle_dwell>("cycle_dwell", "", "Drill with dwell", text, "Empty: written out"),
    field<&Dialect::cycle_peck>("cycle_peck", "", "Peck", text, "Empty: written out"),
    field<&Dialect::cycle_chip_break>("cycle_chip_break", "", "Chip break", text, "Empty: written out"),
    field<&Dialect::cycle_feed_out>("cycle_feed_out", "", "Out at the feed", text, "Empty: written out"),
    field<&Dialect::cycle_feed_out_dwell>("cycle_feed_out_dwell", "", "Out at the feed, with dwell", text,
                                          "Empty: written out"),
    field<&Dialect::cycle_bore>("cycle_bore", "", "Bore with orientation", text, "Empty: written out"),
    field<&Dialect::cycle_back_bore>("cycle_back_bore", "", "Back bore", text, "Empty: written out"),
    field<&Dialect::cycle_tap>("cycle_tap", "", "Tap", text, "Empty: written out"),
    field<&Dialect::cycle_tap_left>("cycle_tap_left", "", "Tap, left-hand", text, "Empty: written out"),
    field<&Dialect::cycle_off>("cycle_off", "", "Cycle off", text, ""),
    field<&Dialect::return_high>("return_high", "", "Return to the retract plane", text, ""),
    field<&Dialect::return_low>("return_low", "", "Return to R", text, "Empty: it always returns to the retract plane"),
    field<&Dialect::peck_word>("peck_word", "", "Letter of the peck", text, ""),
    field<&Dialect::first_peck_word>("first_peck_word", "", "Letter of the first peck", text,
                                     "Empty: all pecks are alike"),
    field<&Dialect::dwell_word>("dwell_word", "", "Letter of the dwell", text, ""),
    field<&Dialect::dwell_in_ms>("dwell_in_ms", "", "Dwell of cycles in milliseconds", flag, "Else in seconds"),
    field<&Dialect::repeat_on_positions>("repeat_on_positions", "", "Cycles repeat on positions", flag,
                                         "Else the whole call stands at every hole"),
    field<&Dialect::rigid_tapping>("rigid_tapping", "", "Rigid tapping", text, "Before the cycle; {n} is the speed"),
    field<&Dialect::floating_tapping>("floating_tapping", "", "Floating tapping", text,
                                      "Before the cycle; {n} is the speed"),
    field<&Dialect::metric>("metric", "", "Millimetres", text, ""),
    field<&Dialect::inch>("inch", "", "Inches", text, ""),
    field<&Dialect::decimals_mm>("decimals_mm", "", "Decimals of a millimetre", count, "").within(0, 6),
    field<&Dialect::decimals_inch>("decimals_inch", "", "Decimals of an inch", count, "").within(0, 7),
    field<&Dialect::feed_decimals_mm>("feed_decimals_mm", "", "Decimals of a feed in mm", count, "").within(0, 4),
    field<&Dialect::feed_decimals_inch>("feed_decimals_inch", "", "Decimals of a feed in inches", count, "")
        .within(0, 5),
    field<&Dialect::position_point>("position_point", "", "Whole positions", choice, ""),
    field<&Dialect::feed_point>("feed_point", "", "Whole feeds", choice, ""),
    field<&Dialect::leading_zero>("leading_zero", "", "Leading zero", flag, "0.5, else .5"),
    field<&Dialect::two_digit_codes>("two_digit_codes", "", "Codes with two digits", flag, "G01, else G1"),
    field<&Dialect::blanks>("blanks", "", "Blanks between words", flag, ""),
    field<&Dialect::line_end>("line_end", "", "Lines end with", choice, ""),
    field<&Dialect::block_letter>("block_letter", "", "Letter of block numbers", text, "N; empty: no block numbers"),
    field<&Dialect::block_first>("block_first", "", "First block number", count, "").within(0, 9999999),
    field<&Dialect::block_step>("block_step", "", "Block numbers in steps of", count, "").within(1, 1000),
    field<&Dialect::block_last>("block_last", "", "Highest block number", count, "Then they start again")
        .within(1, 99999999),
    field<&Dialect::comment_open>("comment_open", "", "Comment begins with", text, ""),
    field<&Dialect::comment_close>("comment_close", "", "Comment ends with", text, "Empty: at the end of the line"),
    field<&Dialect::longest_comment>("longest_comment", "", "Longest comment", count,
                                     "Letters; 0 for any. A longer one goes on in another")
        .within(0, 1000),
    field<&Dialect::upper_case>("upper_case", "", "Comments in capitals", flag, "ASCII they are always"),
    field<&Dialect::source>("source", "", "Source", text, "Where its codes are from"),
    field<&Dialect::notes>("notes", "", "Notes", text, "")};

struct Fields {
  std::string_view property;
  std::array<std::string_view, 4> names;
};
constexpr Fields fields[] = {{"before", {"program", "name", "unit"}},
                             {"after", {"program"}},
                             {"safe_retract", {"plane"}},
                             {"tool_change", {"t", "next", "name"}},
                             {"preselect", {"next"}},
                             {"length_offset", {"z", "h"}},
                             {"measure_length", {"t", "h", "tolerance"}},
                             {"measure_radius", {"t", "d", "tolerance"}},
                             {"check_breakage", {"t", "h", "tolerance"}},
                             {"compensation_left", {"d"}},
                             {"compensation_right", {"d"}},
                             {"dwell", {"s", "ms"}},
                             {"spindle_on", {"n", "m", "position"}},
                             {"dial", {"position", "n"}},
                             {"rigid_tapping", {"n"}},
                             {"floating_tapping", {"n"}}};
// Without these a program runs into something.
constexpr Fields needed[] = {{"tool_change", {"t"}},
                             {"length_offset", {"z", "h"}},
                             {"spindle_on", {"m"}},
                             {"compensation_left", {"d"}},
                             {"compensation_right", {"d"}}};
// Texts that may not be empty, as no program does without.
constexpr std::string_view always[] = {"tool_change", "spindle_on",  "clockwise",    "counter_clockwise", "spindle_off",
                                       "dwell",       "coolant_off", "comment_open", "compensation_off"};

std::string known_text(const std::vector<std::string_view>& names) {
  std::string out;
  for (const std::string_view name : names) out += (out.empty() ? "{" : ", {") + std::string(name) + "}";
  return out;
}

void check_fields(const Property<Dialect>& property, std::string_view text, std::vector<Message>& messages) {
  const auto known = fields_in(property.key);
  const auto wrong = [&](std::string what) {
    messages.push_back({Severity::error,
                        known.empty() ? "dialect_field_none" : "dialect_field_unknown",
                        std::string(property.key),
                        {{"field", std::move(what)}, {"known", known_text(known)}}});
  };
  for (std::size_t at = text.find_first_of("{}"); at != std::string_view::npos;) {
    const std::size_t end = text[at] == '{' ? text.find('}', at) : std::string_view::npos;
    if (end == std::string_view::npos) return wrong(std::string(text.substr(at)));
    const std::string_view name = text.substr(at + 1, end - at - 1);
    if (std::find(known.begin(), known.end(), name) == known.end()) wrong("{" + std::string(name) + "}");
    at = text.find_first_of("{}", end + 1);
  }
}

}  // namespace

template <>
std::span<const Choice> choices_of<LineEnd>() {
  return line_ends;
}
template <>
std::span<const Choice> choices_of<MeasureWhen>() {
  return measure_choices;
}
template <>
std::span<const Choice> choices_of<BreakageWhen>() {
  return breakage_choices;
}
template <>
std::span<const Choice> choices_of<NumberPoint>() {
  return point_styles;
}
template <>
std::span<const Choice> choices_of<ArcForm>() {
  return arc_forms;
}
template <>
std::span<const Property<Dialect>> properties<Dialect>() {
  return dialect_fields;
}

std::vector<std::string_view> fields_in(std::string_view property) {
  std::vector<std::string_view> names;
  for (const Fields& f : fields)
    if (f.property == property)
      for (const std::string_view name : f.names)
        if (!name.empty()) names.push_back(name);
  return names;
}

std::vector<Message> check_dialect(const Dialect& d) {
  std::vector<Message> messages;
  const auto error = [&](const char* code, std::string_view property, Details values = {}) {
    messages.push_back({Severity::error, code, std::string(property), std::move(values)});
  };
  for (const Property<Dialect>& p : dialect_fields) {
    if (!p.is_text() || !p.choices.empty()) continue;
    const std::string_view text = p.get_text(d);
    if (p.key == "name" || p.key == "about" || p.key == "source" || p.key == "notes" || p.key == "key") continue;
    check_fields(p, text, messages);
    if (std::any_of(text.begin(), text.end(), [](unsigned char c) { return c > 126 || (c < 32 && c != '\n'); }))
      error("dialect_not_ascii", p.key);
    if (text.empty() && std::find(std::begin(always), std::end(always), p.key) != std::end(always))
      error("dialect_text_missing", p.key);
    for (const Fields& f : needed) {
      if (f.property != p.key || text.empty()) continue;
      for (const std::string_view name : f.names)
        if (!name.empty() && text.find("{" + std::string(name) + "}") == std::string_view::npos)
          error("dialect_field_missing", p.key, {{"field", "{" + std::string(name) + "}"}});
    }
  }
  if (!d.spindle_on.empty() && d.spindle_on.find("{n}") == std::string::npos &&
      d.spindle_on.find("{position}") == std::string::npos)
    error("dialect_field_missing", "spindle_on", {{"field", "{n}"}});
  if (d.key.empty() || std::any_of(d.key.begin(), d.key.end(), [](unsigned char c) {
        return !(c >= 'a' && c <= 'z') && !(c >= '0' && c <= '9') && c != '_';
      }))
    error("dialect_key_wrong", "key");
  if (d.name.empty()) error("dialect_text_missing", "name");
  if (d.program_first > d.program_last) error("dialect_range_turned", "program_last");
  if (d.block_first > d.block_last) error("dialect_range_turned", "block_last");
  const auto letter = [](const std::string& text) { return text.size() == 1 && text[0] >= 'A' && text[0] <= 'Z'; };
  if (!letter(d.peck_word) && (!d.cycle_peck.empty() || !d.cycle_chip_break.empty()))
    error("dialect_letter_wrong", "peck_word");
  if (!d.first_peck_word.empty() && !letter(d.first_peck_word)) error("dialect_letter_wrong", "first_peck_word");
  if (!letter(d.dwell_word) && (!d.cycle_dwell.empty() || !d.cycle_feed_out_dwell.empty()))
    error("dialect_letter_wrong", "dwell_word");
  if (!d.block_letter.empty() && !letter(d.block_letter)) error("dialect_letter_wrong", "block_letter");
  if (d.hole_feed_per_turn && (d.per_turn.empty() || d.per_minute.empty()))
    error("dialect_text_missing", d.per_turn.empty() ? "per_turn" : "per_minute");
  if (d.longest_comment > 0 && d.longest_comment < 20) error("dialect_comment_short", "longest_comment");
  if (d.safe_retract.empty()) messages.push_back({Severity::warning, "dialect_no_retract", "safe_retract", {}});
  return messages;
}

const std::string& Dialect::code_of(Coolant coolant) const {
  switch (coolant) {
    case Coolant::flood: return flood;
    case Coolant::mist: return mist;
    case Coolant::mist_oil: return mist_oil;
    case Coolant::air: return air;
    case Coolant::through_liquid: return through_liquid;
    case Coolant::through_air: return through_air;
    case Coolant::off: break;
  }
  return coolant_off;
}

const std::string& Dialect::code_of(CycleKind kind, bool dwells, bool left_hand) const {
  switch (kind) {
    case CycleKind::peck: return cycle_peck;
    case CycleKind::chip_break: return cycle_chip_break;
    case CycleKind::feed_out: return dwells ? cycle_feed_out_dwell : cycle_feed_out;
    case CycleKind::bore: return cycle_bore;
    case CycleKind::back_bore: return cycle_back_bore;
    case CycleKind::tap: return left_hand ? cycle_tap_left : cycle_tap;
    case CycleKind::drill: break;
  }
  return dwells ? cycle_dwell : cycle_drill;
}

}  // namespace pecorra
