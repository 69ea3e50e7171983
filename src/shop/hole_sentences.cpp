// Holes, and how a cutter is found for an operation.
#include <QtGlobal>

#include "shop/sentences.h"

namespace pecorra {
namespace {

constexpr Sentence hole_table[] = {
    {"holes_at_one_place",
     {{QT_TRANSLATE_NOOP("Words", "{feature} and {other} have a hole at the same place, X {x_mm} Y {y_mm}")}}},
    {"hole_made_already",
     {{QT_TRANSLATE_NOOP("Words",
                         "An earlier operation has made the hole of {feature} at X {x_mm} Y {y_mm} already")}}},
    {"deeper_than_hole",
     {{QT_TRANSLATE_NOOP("Words",
                         "The tip would reach {bottom_mm} below the top of the stock, but the hole ends at {hole_mm}: "
                         "drill deeper, or stay above {most_mm}")}}},
    {"deeper_than_flutes",
     {{QT_TRANSLATE_NOOP(
         "Words", "The hole is {depth_mm} deep with the point, the flutes are {flutes_mm}: chips cannot get out")}}},
    {"drill_over_thread",
     {{QT_TRANSLATE_NOOP("Words",
                         "Ø{cutter_mm} leaves too little thread for {thread}; its tapping drill is Ø{right_mm}")}}},
    {"drill_under_thread",
     {{QT_TRANSLATE_NOOP("Words", "Ø{cutter_mm} is tight for {thread}; its tapping drill is Ø{right_mm}")}}},
    {"reaming_allowance",
     {{QT_TRANSLATE_NOOP(
         "Words",
         "{left_mm} is left for the reamer by the hole of Ø{hole_mm}; a drill of Ø{drill_mm} would be right")}}},
    {"bar_to_be_set", {{QT_TRANSLATE_NOOP("Words", "The boring bar is set to Ø{cutter_mm}; set it to Ø{hole_mm}")}}},
    {"bar_does_not_pass",
     {{QT_TRANSLATE_NOOP("Words", "Edge and neck need Ø{bar_mm} to pass; the hole is Ø{hole_mm}")}}},
    {"stock_height_unknown", {{QT_TRANSLATE_NOOP("Words", "The stock has no bottom; type its height under Setups")}}},
    {"back_bore_below_stock",
     {{QT_TRANSLATE_NOOP("Words", "The shoulder at {depth_mm} is not inside the stock, {stock_mm}")}}},
    {"tap_not_of_thread", {{QT_TRANSLATE_NOOP("Words", "{tap} does not cut {thread}, pitch {pitch_mm}")}}},
    {"hole_under_thread",
     {{QT_TRANSLATE_NOOP("Words", "The hole of Ø{hole_mm} is too small for this tap; drill Ø{right_mm}")}}},
    {"tap_out_of_step",
     {{QT_TRANSLATE_NOOP(
         "Words",
         "F {vf_mm_min:table_feed} is not the pitch, {pitch_mm}, times S; F {right_mm_min:table_feed} would be")}}},
    {"pilot_over_hole",
     {{QT_TRANSLATE_NOOP("Words", "The pilot, Ø{pilot_mm}, does not go into the hole of Ø{hole_mm}")}}},
    {"cone_too_small", {{QT_TRANSLATE_NOOP("Words", "Ø{cutter_mm} does not reach the cone of Ø{wanted_mm}")}}},
    {"cone_tip_too_large",
     {{QT_TRANSLATE_NOOP("Words", "The tip, Ø{tip_mm}, is wider than the cone of Ø{wanted_mm}")}}},
    {"deeper_than_cone",
     {{QT_TRANSLATE_NOOP("Words",
                         "Depth {depth_mm} is more than the height of the cone, {most_mm}: the side would rub")}}},
    {"without_effect", {{QT_TRANSLATE_NOOP("Words", "Has no effect on this operation")}}},
    {"sink_under_hole",
     {{QT_TRANSLATE_NOOP("Words", "A countersink of Ø{sink_mm} is not wider than its hole, Ø{hole_mm}")}}},
    {"generic",
     {{QT_TRANSLATE_NOOP(
         "Words", "{name}: a generic cutter that no library has. Pick a real one, or add this one to a library")}}},
    {"cutter_passed_over", {{QT_TRANSLATE_NOOP("Words", "{name} not taken: {why}")}}},
    {"no_conditions_for", {{QT_TRANSLATE_NOOP("Words", "No conditions here")}}},
    {"library_off", {{QT_TRANSLATE_NOOP("Words", "The library {library} is switched off")}}},
    {"is_retired", {{QT_TRANSLATE_NOOP("Words", "Retired")}}},
    {"kind_cannot_do", {{QT_TRANSLATE_NOOP("Words", "{kind} is not for {operation}")}}},
    {"other_tool_material",
     {{QT_TRANSLATE_NOOP("Words", "Tool material is {has}, not {wanted}"),
       [](const Figures& f) { return !f.text("has").empty(); }},
      {QT_TRANSLATE_NOOP("Words", "Tool material is not stated; {wanted} is wanted"),
       [](const Figures& f) { return f.text("has").empty(); }}}},
    {"not_in_stock", {{QT_TRANSLATE_NOOP("Words", "None in stock")}}},
    {"holder_of_other_machine", {{QT_TRANSLATE_NOOP("Words", "Stands in {holder}, which does not fit this machine")}}},
    {"another_is_in_job", {{QT_TRANSLATE_NOOP("Words", "{name} is in this job already")}}},
    {"size_further_off", {{QT_TRANSLATE_NOOP("Words", "Ø{cutter_mm} is further from Ø{wanted_mm}")}}},
    {"less_advised", {{QT_TRANSLATE_NOOP("Words", "Not advised here, unlike {name}")}}},
    {"longer_than_needed",
     {{QT_TRANSLATE_NOOP("Words", "Flutes {cutter_mm} are longer than needed; {taken_mm} is stiffer")}}},
    {"later_in_library", {{QT_TRANSLATE_NOOP("Words", "{name} comes first in its library")}}},
    {"cutter_chosen",
     {{QT_TRANSLATE_NOOP("Words", "{name}: fits and has conditions here"),
       [](const Figures& f) { return !f.is_set("in_job"); }},
      {QT_TRANSLATE_NOOP("Words", "{name}: in this job already, fits and has conditions here"),
       [](const Figures& f) { return f.is_set("in_job"); }},
      {QT_TRANSLATE_NOOP("Words", "; nearest to Ø{wanted_mm}"),
       [](const Figures& f) { return f.number("wanted_mm") > 0; }}}},
    {"generic_chosen",
     {{QT_TRANSLATE_NOOP("Words", "No suitable cutter in the libraries: {name} made for this job"),
       [](const Figures& f) { return !f.is_set("again"); }},
      {QT_TRANSLATE_NOOP("Words", "No suitable cutter in the libraries: {name} of this job used again"),
       [](const Figures& f) { return f.is_set("again"); }}}},
};

}  // namespace

std::span<const Sentence> hole_sentences() { return hole_table; }

}  // namespace pecorra
