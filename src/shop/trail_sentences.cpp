#include <QtGlobal>

#include "shop/sentences.h"

namespace pecorra {
namespace {

// Conditions of sentence parts, named after what they test.
template <bool wanted>
bool proven(const Figures& f) {
  return f.is_set("proven") == wanted;
}
template <bool wanted>
bool several_differ(const Figures& f) {
  return (f.text("failed").find(',') != std::string_view::npos) == wanted;
}
bool by_group_row(const Figures& f) { return f.number("this_material") == 0; }
bool has_depth(const Figures& f) { return f.has("ap_mm"); }
bool has_width(const Figures& f) { return f.has("ae_mm"); }
bool has_scaled_depth(const Figures& f) { return has_depth(f) && f.has("ap_per_d"); }
bool has_plain_depth(const Figures& f) { return has_depth(f) && !f.has("ap_per_d"); }
bool has_scaled_width(const Figures& f) { return has_width(f) && f.has("ae_per_d"); }
bool has_plain_width(const Figures& f) { return has_width(f) && !f.has("ae_per_d"); }
bool has_author(const Figures& f) { return !f.text("author").empty(); }
bool has_date(const Figures& f) { return !f.text("date").empty(); }
bool has_source(const Figures& f) { return !f.text("source").empty(); }
bool has_origin(const Figures& f) { return has_author(f) || has_source(f) || has_date(f); }
bool has_only_source(const Figures& f) { return !has_author(f) && has_source(f); }
bool beaten_by_level(const Figures& f) { return f.says("why", "level"); }
bool is_starter(const Figures& f) { return beaten_by_level(f) && f.says("level", "starter"); }
bool is_for_group(const Figures& f) { return beaten_by_level(f) && !is_starter(f) && by_group_row(f); }
bool is_of_maker(const Figures& f) {
  return beaten_by_level(f) && !is_starter(f) && !by_group_row(f) && f.says("level", "maker");
}
bool is_of_later_level(const Figures& f) {
  return beaten_by_level(f) && !is_starter(f) && !by_group_row(f) && !f.says("level", "maker");
}
bool paces_cut(const Figures& f) { return f.number("pace") < 100; }
bool knows_tool_material(const Figures& f) { return !f.text("tool_material").empty(); }
bool feeds_per_revolution(const Figures& f) { return f.says("feed_kind", "per_revolution"); }

constexpr Sentence trail_table[] = {
    {"source",
     {{QT_TRANSLATE_NOOP("Words",
                         "{table}, proven row Ø{diameter_mm}: vc {vc_m_min}, {feed_mm:feed} "
                         "{feed_kind:feed_kind}"),
       proven<true>},
      {QT_TRANSLATE_NOOP("Words", "{table}, row Ø{diameter_mm}: vc {vc_m_min}, {feed_mm:feed} {feed_kind:feed_kind}"),
       proven<false>},
      {QT_TRANSLATE_NOOP("Words", " (for the whole group {group})"), by_group_row},
      {QT_TRANSLATE_NOOP("Words", ". "), has_origin},
      {QT_TRANSLATE_NOOP("Words", "{author}"), has_author, true},
      {QT_TRANSLATE_NOOP("Words", "{source}"), has_only_source, true},
      {QT_TRANSLATE_NOOP("Words", "{date}"), has_date, true},
      {QT_TRANSLATE_NOOP("Words", "; its finish values"), [](const Figures& f) { return f.is_set("finish"); }},
      {QT_TRANSLATE_NOOP("Words", ". Note: {note}"), [](const Figures& f) { return !f.text("note").empty(); }}}},
    {"beaten",
     {{QT_TRANSLATE_NOOP("Words", "Preferred to {table} (vc {vc_m_min}, feed {feed_mm:feed}): ")},
      {QT_TRANSLATE_NOOP("Words", "starter values come last"), is_starter},
      {QT_TRANSLATE_NOOP("Words", "it is for the whole group"), is_for_group},
      {QT_TRANSLATE_NOOP("Words", "shop tables come before maker tables"), is_of_maker},
      {QT_TRANSLATE_NOOP("Words", "its source comes later in the order"), is_of_later_level},
      {QT_TRANSLATE_NOOP("Words", "its row is less specific"),
       [](const Figures& f) { return f.says("why", "narrower"); }},
      {QT_TRANSLATE_NOOP("Words", "its rows are farther away, {distance_mm}"),
       [](const Figures& f) { return !beaten_by_level(f) && !f.says("why", "narrower"); }}}},
    {"beaten_more", {{QT_TRANSLATE_NOOP("Words", "and {count:0} more that would fit")}}},
    {"recipe",
     {{QT_TRANSLATE_NOOP("Words",
                         "Recipe {name} of this cutter, proven: vc {vc_m_min}, {feed_mm:feed} "
                         "{feed_kind:feed_kind}"),
       proven<true>},
      {QT_TRANSLATE_NOOP("Words", "Recipe {name} of this cutter: vc {vc_m_min}, {feed_mm:feed} {feed_kind:feed_kind}"),
       proven<false>},
      {QT_TRANSLATE_NOOP("Words", "; it is for any material"),
       [](const Figures& f) { return f.is_set("any_material"); }},
      {QT_TRANSLATE_NOOP("Words", "; it is for another material"),
       [](const Figures& f) { return f.is_set("other_material"); }},
      {QT_TRANSLATE_NOOP("Words", "; made in {made_in}, so a guess here"),
       [](const Figures& f) { return !f.text("made_in").empty(); }},
      {QT_TRANSLATE_NOOP("Words", "; expected {removal_cm3_min:removal}"),
       [](const Figures& f) { return f.has("removal_cm3_min"); }},
      {QT_TRANSLATE_NOOP("Words", ". "), has_origin},
      {QT_TRANSLATE_NOOP("Words", "{author}"), has_author, true},
      {QT_TRANSLATE_NOOP("Words", "{date}"), has_date, true},
      {QT_TRANSLATE_NOOP("Words", "{source}"), has_source, true},
      {QT_TRANSLATE_NOOP("Words", "; there are also {others}"),
       [](const Figures& f) { return !f.text("others").empty(); }}}},
    {"subgroup",
     {{QT_TRANSLATE_NOOP("Words", "× {speed_factor:2} on speed: {subgroup:within}: vc {vc_m_min}")},
      {QT_TRANSLATE_NOOP("Words", "; × {feed_factor:2} on feed: {feed_mm:feed}"),
       [](const Figures& f) { return f.number("feed_factor") != 1; }}}},
    {"hardness",
     {{QT_TRANSLATE_NOOP("Words",
                         "× {factor:2} on speed: {hb:0} HB, where starter values are for {usual_hb:0} HB: vc "
                         "{vc_m_min}")},
      {QT_TRANSLATE_NOOP("Words", "; × {feed_factor:2} on feed: {feed_mm:feed}"),
       [](const Figures& f) { return f.number("feed_factor") != 1; }},
      {QT_TRANSLATE_NOOP("Words", "; × {depth_factor:2} on depth"),
       [](const Figures& f) { return f.number("depth_factor") != 1; }}}},
    {"skin",
     {{QT_TRANSLATE_NOOP("Words", "× {factor:2} on speed: the skin of a casting or forging is cut: vc {vc_m_min}")}}},
    {"not_proven",
     {{QT_TRANSLATE_NOOP("Words", "Not proven: proven at ")},
      {QT_TRANSLATE_NOOP("Words", "ap {ap_mm}"), has_depth, true},
      {QT_TRANSLATE_NOOP("Words", "ae {ae_mm}"), has_width, true},
      {QT_TRANSLATE_NOOP("Words", "in {material}"), [](const Figures& f) { return !f.text("material").empty(); }, true},
      {QT_TRANSLATE_NOOP("Words", "{hb:0} HB"), [](const Figures& f) { return f.has("hb"); }, true},
      {QT_TRANSLATE_NOOP("Words", "on {machine}"), [](const Figures& f) { return !f.text("machine").empty(); }, true},
      {QT_TRANSLATE_NOOP("Words", "in the holder {holder}"), [](const Figures& f) { return !f.text("holder").empty(); },
       true},
      {QT_TRANSLATE_NOOP("Words", "stick-out {stickout_mm}"), [](const Figures& f) { return f.has("stickout_mm"); },
       true}}},
    {"fitted_engagement",
     {{QT_TRANSLATE_NOOP("Words", "Fitted to cutter and material: ")},
      {QT_TRANSLATE_NOOP("Words", "ap {ap_before_mm} → {ap_mm}"),
       [](const Figures& f) { return f.differ("ap_before_mm", "ap_mm"); }, true},
      {QT_TRANSLATE_NOOP("Words", "ae {ae_before_mm} → {ae_mm}"),
       [](const Figures& f) { return f.differ("ae_before_mm", "ae_mm"); }, true}}},
    {"chip_raised",
     {{QT_TRANSLATE_NOOP("Words",
                         "The chip of {chip_mm:feed} would rub on an edge rounded by {edge_radius_mm:feed}: feed → "
                         "{feed_mm:feed}")}}},
    {"power_fitted",
     {{QT_TRANSLATE_NOOP("Words", "Would take {used:0} % of the machine’s power: ")},
      {QT_TRANSLATE_NOOP("Words", "ap {ap_before_mm} → {ap_mm}"),
       [](const Figures& f) { return f.has("ap_before_mm"); }, true},
      {QT_TRANSLATE_NOOP("Words", "feed {feed_before_mm:feed} → {feed_mm:feed}"),
       [](const Figures& f) { return f.has("feed_before_mm"); }, true},
      {QT_TRANSLATE_NOOP("Words", "vc {vc_before_m_min} → {vc_m_min}"),
       [](const Figures& f) { return f.has("vc_before_m_min"); }, true}}},
    {"slowest_speed",
     {{QT_TRANSLATE_NOOP("Words",
                         "{asked_rpm:rpm} is below the machine’s {min_rpm:rpm}, which is still within the usual range: "
                         "vc {vc_m_min}")}}},
    {"centre_feed",
     {{QT_TRANSLATE_NOOP("Words",
                         "On a circle: {vf_mm_min} at the edge is {vf_centre_mm_min} at the centre, Ø{diameter_mm} in "
                         "Ø{path_mm}")},
      {QT_TRANSLATE_NOOP("Words", " (assumed)"), [](const Figures& f) { return f.is_set("assumed"); }}}},
    {"long_stickout",
     {{QT_TRANSLATE_NOOP("Words",
                         "× {factor:2} on feed: at stick-out {stickout_mm} it bends {bending:1} times as much as at "
                         "{usual_per_d:0} × D, the usual for starter values: feed {feed_mm:feed}")}}},
    {"conventional",
     {{QT_TRANSLATE_NOOP("Words",
                         "× {factor:2} on speed: conventional milling, where starter values are for climb: vc "
                         "{vc_m_min}")}}},
    {"factor",
     {{QT_TRANSLATE_NOOP("Words",
                         "No row fits. × {speed_factor:2} on speed, × {feed_factor:2} on feed from this one, by the "
                         "ratio of starter values: vc {vc_m_min}, feed {feed_mm:feed}; a guess")}}},
    {"dial", {{QT_TRANSLATE_NOOP("Words", "Dial position {position:0}, the nearest: {asked_rpm} → {n_rpm}")}}},
    {"details",
     {{QT_TRANSLATE_NOOP("Words", "As the row states: plunging {plunge_mm_min}, ramping {ramp_mm_min}")},
      {QT_TRANSLATE_NOOP("Words", " at S {ramp_n_rpm}"), [](const Figures& f) { return f.has("ramp_n_rpm"); }},
      {QT_TRANSLATE_NOOP("Words", ", leading in and out {lead_mm_min}"),
       [](const Figures& f) { return f.has("lead_mm_min"); }}}},
    {"own_coolant", {{QT_TRANSLATE_NOOP("Words", "Coolant chosen in this operation: {coolant}")}}},
    {"near_row",
     {{QT_TRANSLATE_NOOP("Words",
                         "Next: {table}, Ø{nearest_mm} ({nearest_tool_material}, group {nearest_group}); {failed} ")},
      {QT_TRANSLATE_NOOP("Words", "differ"), several_differ<true>},
      {QT_TRANSLATE_NOOP("Words", "differs"), several_differ<false>}}},
    {"starter_rule",
     {{QT_TRANSLATE_NOOP("Words",
                         "No row fits. Starter rule for {kind:within}, tool material not stated and taken as "
                         "HSS, in {group}, {operation}: vc {vc_m_min}, {feed_mm:feed} {feed_kind:feed_kind}; "
                         "a guess, not proven"),
       [](const Figures& f) { return !knows_tool_material(f); }},
      {QT_TRANSLATE_NOOP("Words",
                         "No row fits. Starter rule for {kind:within} of {tool_material:within} in {group}, "
                         "{operation}: vc {vc_m_min}, {feed_mm:feed} {feed_kind:feed_kind}; a guess, not "
                         "proven"),
       knows_tool_material}}},
    {"no_starter", {{QT_TRANSLATE_NOOP("Words", "{tool_material} does not cut {group}")}}},
    {"no_starter_pitch", {{QT_TRANSLATE_NOOP("Words", "The pitch is not stated: a tap feeds by its pitch")}}},
    {"edge",
     {{QT_TRANSLATE_NOOP("Words",
                         "× {speed_factor:3} on speed, × {feed_factor:3} on feed, because starter rows do not cover "
                         "{from}: vc {vc_m_min}, feed {feed_mm:feed}")}}},
    {"set_diameter", {{QT_TRANSLATE_NOOP("Words", "Set to Ø{diameter_mm} in its assembly; it is a Ø{nominal_mm}")}}},
    {"interpolated",
     {{QT_TRANSLATE_NOOP("Words", "Between the rows Ø{low_mm} and Ø{high_mm}: vc {vc_m_min}, feed {feed_mm:feed}")}}},
    {"beyond_rows",
     {{QT_TRANSLATE_NOOP("Words",
                         "Ø{diameter_mm} is beyond the last row, Ø{row_mm}: a guess from it, vc {vc_m_min}, "
                         "feed {feed_mm:feed}")}}},
    {"depth_width",
     {{QT_TRANSLATE_NOOP("Words", "Depth {ap_per_d:2} × D = {ap_mm}"), has_scaled_depth, true},
      {QT_TRANSLATE_NOOP("Words", "Depth {ap_mm}"), has_plain_depth, true},
      {QT_TRANSLATE_NOOP("Words", "Width {ae_per_d:2} × D = {ae_mm}"),
       [](const Figures& f) { return has_scaled_width(f) && !has_depth(f); }, true},
      {QT_TRANSLATE_NOOP("Words", "Width {ae_mm}"),
       [](const Figures& f) { return has_plain_width(f) && !has_depth(f); }, true},
      {QT_TRANSLATE_NOOP("Words", "width {ae_per_d:2} × D = {ae_mm}"),
       [](const Figures& f) { return has_scaled_width(f) && has_depth(f); }, true},
      {QT_TRANSLATE_NOOP("Words", "width {ae_mm}"), [](const Figures& f) { return has_plain_width(f) && has_depth(f); },
       true}}},
    {"asked",
     {{QT_TRANSLATE_NOOP("Words", "Asked for: ")},
      {QT_TRANSLATE_NOOP("Words", "depth {ap_mm}"), has_depth, true},
      {QT_TRANSLATE_NOOP("Words", "width {ae_mm}"), has_width, true}}},
    {"coolant_hazard",
     {{QT_TRANSLATE_NOOP("Words", "{wanted:capital} asked for, {used} instead: ")},
      {QT_TRANSLATE_NOOP("Words", "the material burns, and water feeds the fire"),
       [](const Figures& f) { return f.says("hazard", "burning_metal"); }},
      {QT_TRANSLATE_NOOP("Words", "the dust is abrasive and is extracted dry"),
       [](const Figures& f) { return f.says("hazard", "abrasive_dust"); }},
      {QT_TRANSLATE_NOOP("Words", "wood is cut dry, with extraction"),
       [](const Figures& f) { return f.says("hazard", "wood_dust"); }},
      {QT_TRANSLATE_NOOP("Words", "oil cracks it"),
       [](const Figures& f) { return f.says("hazard", "stress_cracking"); }},
      {QT_TRANSLATE_NOOP("Words", "it is cut dry or with air"),
       [](const Figures& f) { return f.says("hazard", "dry_only"); }},
      {QT_TRANSLATE_NOOP("Words", "ceramic cracks in liquid"),
       [](const Figures& f) { return f.says("hazard", "ceramic"); }}}},
    {"never_rule",
     {{QT_TRANSLATE_NOOP("Words", "Never: {rule}. {reason:capital}")},
      {QT_TRANSLATE_NOOP("Words", ". Instead: {instead}"), [](const Figures& f) { return !f.text("instead").empty(); }},
      {QT_TRANSLATE_NOOP("Words", " ({source})"), has_source}}},
    {"never_warning",
     {{QT_TRANSLATE_NOOP("Words", "Not advised: {rule}. {reason:capital}")},
      {QT_TRANSLATE_NOOP("Words", ". Instead: {instead}"), [](const Figures& f) { return !f.text("instead").empty(); }},
      {QT_TRANSLATE_NOOP("Words", " ({source})"), has_source}}},
    {"recipe_far",
     {{QT_TRANSLATE_NOOP("Words", "Recipe {name} was made in {made_in}; that says nothing about {group}")}}},
    {"coolant_no_channels",
     {{QT_TRANSLATE_NOOP("Words", "{wanted:capital} asked for; cutter or holder does not lead it: {used}")}}},
    {"coolant", {{QT_TRANSLATE_NOOP("Words", "{wanted:capital} asked for; this machine has {used}")}}},
    {"proven_step", {{QT_TRANSLATE_NOOP("Words", "Proven step {name}, saved from {where}: its values, unchanged")}}},
    {"proven_step_other", {{QT_TRANSLATE_NOOP("Words", "Not proven here: it was proven with another {what}")}}},
    {"proven_step_pace",
     {{QT_TRANSLATE_NOOP("Words", "Pace {pace:0} was asked for: speed and feeds by that part, and no longer proven")}}},
    {"pace",
     {{QT_TRANSLATE_NOOP("Words", "Pace {pace:0}: vc {vc_before_m_min} → {vc_m_min}")},
      {QT_TRANSLATE_NOOP("Words", ", feed {feed_before_mm:feed} → {feed_mm:feed}"),
       [](const Figures& f) { return f.differ("feed_before_mm", "feed_mm"); }},
      {QT_TRANSLATE_NOOP("Words", "; "),
       [](const Figures& f) { return paces_cut(f) && (has_depth(f) || has_width(f)); }},
      {QT_TRANSLATE_NOOP("Words", "depth {ap_per_d:2} × D = {ap_mm}"),
       [](const Figures& f) { return paces_cut(f) && has_scaled_depth(f); }, true},
      {QT_TRANSLATE_NOOP("Words", "depth {ap_mm}"), [](const Figures& f) { return paces_cut(f) && has_plain_depth(f); },
       true},
      {QT_TRANSLATE_NOOP("Words", "width {ae_per_d:2} × D = {ae_mm}"),
       [](const Figures& f) { return paces_cut(f) && has_scaled_width(f); }, true},
      {QT_TRANSLATE_NOOP("Words", "width {ae_mm}"), [](const Figures& f) { return paces_cut(f) && has_plain_width(f); },
       true}}},
    {"effective_diameter", {{QT_TRANSLATE_NOOP("Words", "At depth {ap_mm} the cutter works at Ø{d_eff_mm}")}}},
    {"chip_thinning",
     {{QT_TRANSLATE_NOOP("Words",
                         "Chip thinning at this width, limited to 3 times: {hex_mm:feed} → {fz_mm:feed} per tooth"),
       [](const Figures& f) { return f.is_set("capped"); }},
      {QT_TRANSLATE_NOOP("Words", "Chip thinning at this width: {hex_mm:feed} → {fz_mm:feed} per tooth"),
       [](const Figures& f) { return !f.is_set("capped"); }}}},
    {"own", {{QT_TRANSLATE_NOOP("Words", "Typed in this operation: S {n_rpm}, F {vf_mm_min}")}}},
    {"speed", {{QT_TRANSLATE_NOOP("Words", "vc {vc_m_min} on Ø{d_eff_mm}: n {n_rpm}")}}},
    {"cutter_below_least_speed",
     {{QT_TRANSLATE_NOOP(
         "Words", "The cutter is permitted {n_rpm} rpm, which is below the spindle's minimum speed, {min_rpm}")}}},
    {"axis_below_least_speed",
     {{QT_TRANSLATE_NOOP("Words",
                         "The axis keeps up with the pitch only to {n_rpm} rpm, which is below the spindle's minimum "
                         "speed, {min_rpm}")}}},
    {"ramp_below_least_speed",
     {{QT_TRANSLATE_NOOP(
         "Words", "Ramps at the speed of the cut: {n_rpm} rpm is below the spindle's minimum speed, {min_rpm}")}}},
    {"peck_depth", {{QT_TRANSLATE_NOOP("Words", "Depth of a peck {ap_mm}, one diameter: no row states it")}}},
    {"below_least_speed",
     {{QT_TRANSLATE_NOOP("Words", "{n_rpm} rpm is below the spindle's minimum speed, {min_rpm}")}}},
    {"held_speed",
     {{QT_TRANSLATE_NOOP("Words", "Limited by the cutter to {n_rpm} rpm: {asked_rpm} → {n_rpm}, feed per tooth kept"),
       [](const Figures& f) { return f.says("by", "cutter"); }},
      {QT_TRANSLATE_NOOP("Words", "Limited by the spindle to {n_rpm} rpm: {asked_rpm} → {n_rpm}, feed per tooth kept"),
       [](const Figures& f) { return !f.says("by", "cutter"); }}}},
    {"feed",
     {{QT_TRANSLATE_NOOP("Words", "{n_rpm} rpm × {fn_mm:feed} per revolution = {vf_mm_min}"), feeds_per_revolution},
      {QT_TRANSLATE_NOOP("Words", "{n_rpm} rpm × {flutes:0} flutes × {fz_mm:feed} = {vf_mm_min}"),
       [](const Figures& f) { return !feeds_per_revolution(f); }}}},
    {"held_feed",
     {{QT_TRANSLATE_NOOP("Words", "Limited by the axis to {vf_mm_min}: {asked_mm_min} → {vf_mm_min}"),
       [](const Figures& f) { return f.says("by", "axis"); }},
      {QT_TRANSLATE_NOOP("Words", "Limited by the feed cap in {group} to {vf_mm_min}: {asked_mm_min} → {vf_mm_min}"),
       [](const Figures& f) { return f.says("by", "group"); }},
      {QT_TRANSLATE_NOOP("Words", "Limited by the machine to {vf_mm_min}: {asked_mm_min} → {vf_mm_min}"),
       [](const Figures& f) { return !f.says("by", "axis") && !f.says("by", "group"); }}}},
    {"rounded",
     {{QT_TRANSLATE_NOOP("Words", "Rounded down: ")},
      {QT_TRANSLATE_NOOP("Words", "n {n_asked_rpm:1} → {n_rpm}"),
       [](const Figures& f) { return f.differ("n_asked_rpm", "n_rpm"); }, true},
      {QT_TRANSLATE_NOOP("Words", "vf {vf_asked_mm_min:fine_table_feed} → {vf_mm_min:bare_table_feed}"),
       [](const Figures& f) { return f.differ("vf_asked_mm_min", "vf_mm_min"); }, true}}},
    {"plunge",
     {{QT_TRANSLATE_NOOP("Words",
                         "Plunging at {plunge_mm_min} (× {plunge_factor:2}), ramping at {ramp_mm_min} (× "
                         "{ramp_factor:2})")},
      {QT_TRANSLATE_NOOP("Words", ", by the machine's factors"),
       [](const Figures& f) { return f.is_set("by_machine"); }}}},
    {"path_helix",
     {{QT_TRANSLATE_NOOP(
         "Words",
         "Goes down in a helix of Ø{helix_mm} at {ramp_deg:1}°: diameter by the shop's settings, angle by "
         "the cutter or the settings")}}},
    {"path_ramp", {{QT_TRANSLATE_NOOP("Words", "Ramps down at {ramp_deg:1}°: by the cutter or the shop's settings")}}},
    {"finish_depth",
     {{QT_TRANSLATE_NOOP("Words",
                         "Walls are finished {ap_mm} deep at once, where the source has {stated_mm}: as deep as the "
                         "flutes, {flutes_mm}, and every limit allow")}}},
    {"path_lead",
     {{QT_TRANSLATE_NOOP("Words",
                         "Arcs in and out of radius {lead_mm}: by the shop's settings, where there is room")}}},
    {"path_overrun", {{QT_TRANSLATE_NOOP("Words", "Runs {overrun_mm} past the edges: by the shop's settings")}}},
    {"path_heights",
     {{QT_TRANSLATE_NOOP("Words", "Retract plane at Z {retract_mm}: by the setup or the shop's settings")},
      {QT_TRANSLATE_NOOP("Words", "; rapids end {feed_height_mm} above material"),
       [](const Figures& f) { return f.number("feed_height_mm") > 0; }}}},
    {"force",
     {{QT_TRANSLATE_NOOP("Words",
                         "Specific force {kc_n_mm2:stress}: from {low_kc_n_mm2:stress} with a sharp edge to "
                         "{high_kc_n_mm2:stress} with a worn one (× {factor:2})")},
      {QT_TRANSLATE_NOOP("Words", "; constants for milling say {kienzle_n_mm2:stress}"),
       [](const Figures& f) { return f.has("kienzle_n_mm2") && !f.is_set("turning"); }},
      {QT_TRANSLATE_NOOP("Words", "; constants for turning say {kienzle_n_mm2:stress}"),
       [](const Figures& f) { return f.has("kienzle_n_mm2") && f.is_set("turning"); }},
      {QT_TRANSLATE_NOOP("Words", "; unit power says {unit_power_n_mm2:stress}"),
       [](const Figures& f) { return f.has("unit_power_n_mm2"); }},
      {QT_TRANSLATE_NOOP("Words",
                         "; the mean chip of {chip_mm:feed} is outside the range of the constants, which go on as the "
                         "feed factor of unit power does"),
       [](const Figures& f) { return f.is_set("outside"); }}}},
    {"full_web", {{QT_TRANSLATE_NOOP("Words", "Web not thinned: thrust × {factor:1}")}}},
    {"tapping_friction", {{QT_TRANSLATE_NOOP("Words", "Friction and a worn tap: torque × {factor:1}")}}},
    {"tried",
     {{QT_TRANSLATE_NOOP("Words", "Trial values: ")},
      {QT_TRANSLATE_NOOP("Words", "vc {vc_m_min}"), [](const Figures& f) { return f.has("vc_m_min"); }, true},
      {QT_TRANSLATE_NOOP("Words", "fz {fz_mm:feed}"), [](const Figures& f) { return f.has("fz_mm"); }, true},
      {QT_TRANSLATE_NOOP("Words", "ap {ap_mm}"), has_depth, true},
      {QT_TRANSLATE_NOOP("Words", "ae {ae_mm}"), has_width, true},
      {QT_TRANSLATE_NOOP("Words", "stick-out {stickout_mm}"), [](const Figures& f) { return f.has("stickout_mm"); },
       true}}},
    {"result", {{QT_TRANSLATE_NOOP("Words", "S {n_rpm}  F {vf_mm_min:bare_table_feed}")}}},
    {"no_row_for_kind",
     {{QT_TRANSLATE_NOOP("Words",
                         "No table has a row for a {kind:within} in {operation}. Add one under Tables, or type "
                         "speed and feed in the operation.")}}},
    {"no_row",
     {{QT_TRANSLATE_NOOP("Words",
                         "No row fits: {failed} differ. The nearest is in {table}, from Ø{nearest_mm} "
                         "({nearest_tool_material}, group {nearest_group})."),
       several_differ<true>},
      {QT_TRANSLATE_NOOP("Words",
                         "No row fits: {failed} differs. The nearest is in {table}, from Ø{nearest_mm} "
                         "({nearest_tool_material}, group {nearest_group})."),
       several_differ<false>}}},
};

}  // namespace

std::span<const Sentence> trail_sentences() { return trail_table; }

}  // namespace pecorra
