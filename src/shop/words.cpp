#include "shop/words.h"

#include <QCoreApplication>
#include <cmath>

#include "core/quantity/print.h"

namespace pecorra {
namespace {

QString tr(const char* source) { return QCoreApplication::translate("Words", source); }

// The named figures of a message or step.
class Figures {
 public:
  Figures(const Details& details, UnitSystem units) : details_(details), units_(units) {}
  double number(const char* key) const {
    for (const auto& [name, value] : details_)
      if (name == key)
        if (const double* d = std::get_if<double>(&value)) return *d;
    return not_given;
  }
  QString text(const char* key) const {
    for (const auto& [name, value] : details_)
      if (name == key)
        if (const std::string* s = std::get_if<std::string>(&value)) return QString::fromStdString(*s);
    return {};
  }
  bool has(const char* key) const { return !std::isnan(number(key)); }
  QString mm(const char* key) const { return quantity_text(number(key), Quantity::length, units_); }
  QString feed(const char* key) const { return quantity_text(number(key), Quantity::feed_per_tooth, units_); }
  QString table_feed(const char* key) const { return quantity_text(number(key), Quantity::table_feed, units_); }
  QString fine_feed(const char* key) const { return QString::fromStdString(plain(number(key) / stored_per_shown(Quantity::table_feed, units_), 1)); }
  QString speed(const char* key) const { return quantity_text(number(key), Quantity::cutting_speed, units_); }
  QString rpm(const char* key) const { return QString::fromStdString(plain(number(key), 0)); }
  QString bare(const char* key, int decimals = 2) const { return QString::fromStdString(plain(number(key), decimals)); }

 private:
  const Details& details_;
  UnitSystem units_;
};

QString feed_word(const QString& kind) {
  if (kind == QLatin1String("per_revolution")) return tr("per revolution");
  return kind == QLatin1String("chip_thickness") ? tr("chip thickness") : tr("per tooth");
}

QString depth_width(const Figures& f) {
  QStringList parts;
  if (f.has("ap_mm")) parts << (f.has("ap_per_d") ? tr("depth %1 × D = %2").arg(f.bare("ap_per_d"), f.mm("ap_mm")) : tr("depth %1").arg(f.mm("ap_mm")));
  if (f.has("ae_mm")) parts << (f.has("ae_per_d") ? tr("width %1 × D = %2").arg(f.bare("ae_per_d"), f.mm("ae_mm")) : tr("width %1").arg(f.mm("ae_mm")));
  return parts.join(QStringLiteral(", "));
}

QString capitalised(QString text) {
  if (!text.isEmpty()) text[0] = text[0].toUpper();
  return text;
}

}  // namespace

QString text_of(std::string_view view) { return QString::fromUtf8(view.data(), static_cast<qsizetype>(view.size())); }

QString quantity_text(double stored, Quantity quantity, UnitSystem units) {
  if (std::isnan(stored)) return QStringLiteral("—");
  return QString::fromStdString(shown_with_unit(stored, quantity, units));
}

QString property_change_text(const QString& label, const Value& before, const Value& after, Quantity quantity, std::span<const Choice> choices, UnitSystem units) {
  auto said = [&](const Value& value) -> QString {
    if (const double* number = std::get_if<double>(&value)) return text_of(shown(*number, quantity, units));
    if (const bool* flag = std::get_if<bool>(&value)) return *flag ? tr("yes") : tr("no");
    if (const std::string* text = std::get_if<std::string>(&value)) {
      for (const Choice& c : choices)
        if (c.key == *text) return text_of(c.label);
      return text->empty() ? tr("not given") : text_of(*text);
    }
    return tr("not given");
  };
  QString unit;
  if (std::holds_alternative<double>(after)) unit = text_of(unit_text(quantity, units));
  if (!unit.isEmpty() && quantity != Quantity::angle) unit.prepend(QLatin1Char(' '));
  return QStringLiteral("%1 %2 → %3%4").arg(label, said(before), said(after), unit);
}

QString within_sentence(const QString& label) {
  QString out = label;
  for (qsizetype i = 0; i < out.size(); ++i) {
    const bool starts = i == 0 || out[i - 1] == QLatin1Char(' ');
    if (starts && i + 1 < out.size() && out[i + 1].isLower()) out[i] = out[i].toLower();
  }
  return out;
}

QString sentence(const Message& m, UnitSystem units) {
  const Figures f(m.values, units);
  const std::string& c = m.code;
  if (c == "guessed") return tr("○ guess");
  if (c == "missing") return tr("Needed: without it nothing can be calculated");
  if (c == "out_of_range") {
    const double low = f.number("low"), high = f.number("high");
    if (std::isfinite(low) && std::isfinite(high) && high < 1e5) return tr("Between %1 and %2 is possible").arg(f.bare("low", 4), f.bare("high", 4));
    return low == 0 ? tr("More than 0 is needed") : tr("At least %1 is needed").arg(f.bare("low", 4));
  }
  if (c == "tool_material_missing") return tr("Not stated: only rows for any tool material apply");
  if (c == "flutes_longer_than_overall") return tr("Flutes %1 are longer than the whole cutter, %2").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "flutes_longer_than_reach") return tr("Reach %2 ends inside the flutes, %1; at least %1 is right").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "reach_longer_than_overall") return tr("Reach %1 is longer than the whole cutter, %2").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "neck_thicker_than_cutter") return tr("Neck %1 is thicker than the cutter, %2: it would rub").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "shank_very_thin") return tr("Shank %1 is less than half the diameter, %2").arg(f.mm("shank_mm"), f.mm("diameter_mm"));
  if (c == "corner_radius_over_half") return tr("Radius %1 is over half the diameter; at most %2").arg(f.mm("radius_mm"), f.mm("half_mm"));
  if (c == "sizes_fit_bull_nose") return tr("Radius %1 is not half the diameter, %2: these sizes fit a bull-nose end mill").arg(f.mm("radius_mm"), f.mm("half_mm"));
  if (c == "sizes_fit_ball_only") return tr("Flutes %1 end at or below the middle of the ball, %2: these sizes fit a ball end mill").arg(f.mm("flutes_mm"), f.mm("half_mm"));
  if (c == "rounding_over_edge") return tr("Radius %1 is too large here; at most %2").arg(f.mm("radius_mm"), f.mm("most_mm"));
  if (c == "rounding_over_tip") return tr("Radius %1 does not fit on this tip; %2 makes a ball").arg(f.mm("radius_mm"), f.mm("most_mm"));
  if (c == "rounding_over_diameter") return tr("Tip and radius need Ø%1; the diameter is %2").arg(f.mm("needed_mm"), f.mm("diameter_mm"));
  if (c == "rounding_under_diameter") return tr("Tip and radius reach Ø%1 of %2: a broad step is left above them").arg(f.mm("needed_mm"), f.mm("diameter_mm"));
  if (c == "edge_angle_not_high_feed") return tr("%1° is no high-feed edge; 10 to 20° is common").arg(f.bare("angle_deg", 1));
  if (c == "taper_ends_below") return tr("The taper ends at Ø%1 above flutes of %3; the diameter is %2").arg(f.mm("end_mm"), f.mm("diameter_mm"), f.mm("flutes_mm"));
  if (c == "taper_ends_early") return tr("The taper would reach Ø%1 at the end of the flutes; it stops at %2").arg(f.mm("end_mm"), f.mm("diameter_mm"));
  if (c == "neck_not_thinner") return tr("Neck %1 must be thinner than the cutter, %2").arg(f.mm("neck_mm"), f.mm("diameter_mm"));
  if (c == "flank_under_neck") return tr("The flank ends at Ø%1, inside the neck, %2; flutes of at most %3 are right").arg(f.mm("top_mm"), f.mm("neck_mm"), f.mm("most_mm"));
  if (c == "flutes_over_ball") return tr("The ball meets the neck at %2; flutes of %1 go beyond").arg(f.mm("flutes_mm"), f.mm("most_mm"));
  if (c == "barrel_radius_small") return tr("Radius %1 is no more than half the diameter, %2: that would be a ball").arg(f.mm("radius_mm"), f.mm("half_mm"));
  if (c == "barrel_flutes_long") return tr("An arc of this radius ends before flutes of %1; less than %2 is right").arg(f.mm("flutes_mm"), f.mm("most_mm"));
  if (c == "pitch_over_diameter") return tr("A pitch of %1 does not fit on Ø%2").arg(f.mm("pitch_mm"), f.mm("diameter_mm"));
  if (c == "flutes_under_pitch") return tr("Flutes %1 are shorter than one tooth of pitch %2").arg(f.mm("flutes_mm"), f.mm("pitch_mm"));
  if (c == "thread_unknown") return capitalised(f.text("why"));
  if (c == "pitch_not_of_thread") return tr("%1 has a pitch of %2, not %3").arg(f.text("thread"), f.mm("right_mm"), f.mm("pitch_mm"));
  if (c == "diameter_not_of_thread") return tr("%1 has Ø%2, not %3").arg(f.text("thread"), f.mm("right_mm"), f.mm("diameter_mm"));
  if (c == "thread_mill_over_minor") return tr("Ø%1 does not go into %2, whose minor diameter is %3").arg(f.mm("diameter_mm"), f.text("thread"), f.mm("minor_mm"));
  if (c == "lead_over_flutes") return tr("A lead of %1 leaves nothing of %2").arg(f.mm("lead_mm"), f.mm("flutes_mm"));
  if (c == "step_over_diameter") return tr("Step %1 must be less than the diameter, %2").arg(f.mm("step_mm"), f.mm("diameter_mm"));
  if (c == "step_longer_than_flutes") return tr("The step ends at %1, beyond the flutes, %2").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "point_longer_than_step") return tr("The point alone is %1 high; the step is only %2").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "range_reversed") return tr("From %1 to %2 runs backwards").arg(f.mm("from_mm"), f.mm("to_mm"));
  if (c == "outside_range") return tr("Ø%1 is outside what it can be set to, %2 to %3").arg(f.mm("diameter_mm"), f.mm("from_mm"), f.mm("to_mm"));
  if (c == "section_without_size") return tr("Section %1 of the shank needs a length and two diameters of more than 0").arg(f.bare("section", 0));
  if (c == "sections_over_overall") return tr("The sections end at %1, beyond the whole cutter, %2").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "sections_leave_no_shank") return tr("The sections take the whole length, %1: nothing is left to clamp").arg(f.mm("whole_mm"));
  if (c == "trail_over_blade") return tr("A trail of %1 is outside the blade, which is %2 from axis to edge").arg(f.mm("trail_mm"), f.mm("half_mm"));
  if (c == "stem_not_thinner") return tr("Stem %1 must be thinner than the ball, %2").arg(f.mm("neck_mm"), f.mm("diameter_mm"));
  if (c == "stem_under_ball") return tr("A reach of %1 ends inside the ball, %2").arg(f.mm("reach_mm"), f.mm("diameter_mm"));
  if (c == "outline_missing") return tr("No profile yet: read one from DXF or SVG, or type its points");
  if (c == "outline_not_finite") return tr("The profile has a point that is no number");
  if (c == "outline_beyond_axis") return tr("The profile crosses the axis at %1, %2; it stands on one side").arg(f.mm("x_mm"), f.mm("y_mm"));
  if (c == "outline_start_off_tip") return tr("The profile starts at height %2; the tip is 0").arg(f.mm("x_mm"), f.mm("y_mm"));
  if (c == "outline_below_tip") return tr("The profile goes below the tip at %1, %2").arg(f.mm("x_mm"), f.mm("y_mm"));
  if (c == "outline_on_axis") return tr("The profile stays on the axis: it has no diameter");
  if (c == "outline_crosses_itself") return tr("The profile crosses itself at %1, %2").arg(f.mm("x_mm"), f.mm("y_mm"));
  if (c == "diameter_not_of_outline") return tr("The profile is Ø%2 wide, not %1").arg(f.mm("diameter_mm"), f.mm("right_mm"));
  if (c == "flutes_not_of_outline") return tr("The profile is %2 high, not %1").arg(f.mm("flutes_mm"), f.mm("right_mm"));
  if (c == "sizes_fit_ball") return tr("Half the diameter: these sizes fit a ball end mill");
  if (c == "sizes_fit_square") return tr("No radius: these sizes fit a square end mill");
  if (c == "flutes_shorter_than_radius") return tr("Flutes %2 are shorter than the radius, %1").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "point_longer_than_flutes") return tr("The point alone is %1 high; the flutes are only %2").arg(f.mm("part_mm"), f.mm("whole_mm"));
  if (c == "point_angle_unusual") return tr("%1° is unusually pointed; 118 to 140° is common").arg(f.bare("angle_deg", 1));
  if (c == "diameter_looks_like_inch") return tr("Flutes are %1 times the diameter, 25.4 times the usual: is the diameter in inches?").arg(f.bare("ratio", 0));
  if (c == "flutes_look_like_inch") return tr("1/25.4 of the usual flute length for this diameter: is it in inches?");
  if (c == "flute_length_unusual") return tr("%1 × D of flutes; %2 to %3 × D is usual").arg(f.bare("ratio", 2), f.bare("from", 1), f.bare("to", 0));
  if (c == "number_twice") return f.has("free") ? tr("%1 has this number already in this library; %2 is free").arg(f.text("name"), f.bare("free", 0)) : tr("%1 has this number already in this library").arg(f.text("name"));
  if (c == "shank_not_in_holder") return tr("%1 clamps shanks %2 to %3; this one is %4").arg(f.text("holder"), f.bare("from_mm"), f.bare("to_mm"), f.mm("shank_mm"));
  if (c == "shank_form_not_for_holder") return tr("%1 does not hold a shank of this form: %2").arg(f.text("holder"), within_sentence(f.text("form")));
  if (c == "shank_not_in_collet") return tr("%1 takes shanks %2 to %3; this one is %4").arg(f.text("collet"), f.bare("from_mm"), f.bare("to_mm"), f.mm("shank_mm"));
  if (c == "holder_takes_no_collet") return tr("%1 holds without a collet").arg(f.text("holder"));
  if (c == "not_as_designated") return tr("%1 has a corner of %2, not %3").arg(f.text("designation"), f.mm("designated_mm"), f.mm("value_mm"));
  if (c == "values_reversed") return tr("From %1 to %2 runs backwards").arg(f.bare("from", 1), f.bare("to", 1));
  if (c == "usual_outside_range") return tr("%1 is outside its own range, %2 to %3").arg(f.bare("usual", 1), f.bare("from", 1), f.bare("to", 1));
  if (c == "dialect_unknown") return tr("“%1” is not known; there are %2").arg(f.text("dialect"), f.text("known"));
  if (c == "curve_negative") return tr("Point %1 is negative: speed and power are 0 or more").arg(f.bare("point", 0));
  if (c == "curve_not_rising") return tr("Point %1 at %2 rpm is not above the one before; speeds rise").arg(f.bare("point", 0), f.rpm("rpm"));
  if (c == "peak_under_continuous") return tr("At %1 rpm the short-time power, %2 kW, is less than the continuous, %3 kW").arg(f.rpm("rpm"), f.bare("kw"), f.bare("steady_kw"));
  if (c == "torque_not_of_curve") return tr("%1 N·m does not go with the curve: %2 N·m at %3 rpm").arg(f.bare("torque", 0), f.bare("curve", 0), f.rpm("rpm"));
  if (c == "force_half_known") return tr("kc1.1 and mc belong together: without both no force is calculated");
  if (c == "hardness_not_of_strength") return tr("%1 HB goes with about %3 N/mm² (ISO 18265), not %2").arg(f.bare("hb", 0), f.bare("strength", 0), f.bare("right", 0));
  if (c == "no_designation") return tr("no designation of ISO 1832: %1").arg(f.text("why"));
  if (c == "cuts_like_missing") return tr("Say which tool material it cuts like: its rows are used");
  if (c == "pattern_fault") return tr("At %1: %2").arg(f.bare("place", 0), f.text("why"));
  if (c == "holder_slower_than_cutter") return tr("The holder bears %1 rpm, the cutter %2").arg(f.rpm("holder_rpm"), f.rpm("cutter_rpm"));
  if (c == "extension_over_stickout") return tr("The extension alone is %1; the stick-out is only %2").arg(f.mm("extension_mm"), f.mm("stickout_mm"));
  if (c == "measured_off_planned") return tr("Measured %1, planned %2").arg(f.mm("measured_mm"), f.mm("stickout_mm"));
  if (c == "holder_without_profile") return tr("No profile yet: reach beside a wall cannot be judged");
  if (c == "station_without_size") return tr("Station %1 needs a distance of 0 or more and a diameter").arg(f.bare("station", 0));
  if (c == "stations_not_rising") return tr("Station %1 at %3 is below the one before, %2; distances rise").arg(f.bare("station", 0), f.mm("before_mm"), f.mm("at_mm"));
  if (c == "stickout_missing") return tr("Not stated: reach and bending are unknown");
  if (c == "stickout_over_overall") return tr("%1 is more than the whole cutter, %2").arg(f.mm("stickout_mm"), f.mm("overall_mm"));
  if (c == "stickout_leaves_no_clamping") return tr("Leaves less than %2 to clamp; at most %1").arg(f.mm("most_mm"), f.mm("clamp_mm"));
  if (c == "flutes_in_holder") return tr("The flutes, %1, reach into the holder").arg(f.mm("flutes_mm"));
  if (c == "low_over_high") return tr("%1 is above %2: low, target and high must rise").arg(f.bare("low", 4), f.bare("high", 4));
  if (c == "feed_very_large") return tr("%1 is over a quarter of the diameter: per tooth or per minute?").arg(f.feed("feed_mm"));
  if (c == "recipe_other_kind") return tr("Made for a %1; this is a %2").arg(within_sentence(f.text("made_for")), within_sentence(f.text("cutter")));
  if (c == "recipe_other_size") return tr("Made for Ø%1; this is Ø%2").arg(f.mm("made_for_mm"), f.mm("diameter_mm"));
  if (c == "recipe_other_tool_material") return tr("Made for %1; this is %2").arg(within_sentence(f.text("made_for")), within_sentence(f.text("cutter")));
  if (c == "holder_not_for_machine") return tr("%1 is for %2; %3 takes %4").arg(f.text("holder"), within_sentence(f.text("side")), f.text("machine"), within_sentence(f.text("takes")));
  if (c == "over_workholding") return tr("Pushes with %1 N, the workholding bears %2 N").arg(f.bare("value", 0), f.bare("limit", 0));
  if (c == "over_deflection") return tr("The tip is pushed aside by %1; %2 is permitted").arg(f.mm("value"), f.mm("limit"));
  if (c == "dial_not_rising") return tr("Position %1 at %2 rpm is not above the one before; speeds rise").arg(f.bare("position", 0), f.rpm("rpm"));
  if (c == "feed_over_rapid") return tr("%1 is faster than the rapid, %2").arg(f.table_feed("feed_mm_min"), f.table_feed("rapid_mm_min"));
  if (c == "changer_contradicts") return tr("“Cutter changer” above says otherwise");
  if (c == "pockets_by_hand") return tr("Cutters are changed by hand: no pockets");
  if (c == "tolerance_without_device") return tr("Not used: the machine does not measure or check this");
  if (c == "rapid_of_machine") return tr("%1, as %2 has it").arg(f.table_feed("rapid_mm_min"), f.text("machine"));
  if (c == "rapid_instead") return tr("Instead of %1 of %2").arg(f.table_feed("rapid_mm_min"), f.text("machine"));
  if (c == "maker_missing") return tr("Without a maker it applies to every cutter, behind the shop's own tables");
  if (c == "maker_not_used") return tr("Only a maker table is keyed to a maker");
  if (c == "row_contradicts") return tr("Ø%1 stands here twice with other values; the first row counts, vc %2, feed %3").arg(f.mm("diameter_mm"), f.speed("vc_m_min"), f.feed("feed_mm"));
  if (c == "rows_overlap") return tr("%1 to %2 HB is in another row too; the narrower range counts").arg(f.bare("from", 0), f.bare("to", 0));
  if (c == "rows_gap") return tr("No row for %1 to %2 HB").arg(f.bare("gap_from", 0), f.bare("gap_to", 0));
  if (c == "diameter_gap") return tr("Nothing between Ø%1 and Ø%2: values there are interpolated far").arg(f.mm("from_mm"), f.mm("to_mm"));
  if (c == "feed_over_depth") return tr("%1 per tooth is more than the depth of cut, %2: per tooth or per revolution?").arg(f.feed("feed_mm"), f.mm("ap_mm"));
  if (c == "depth_twice") return tr("The depth also stands as %1; that one counts").arg(f.mm("ap_mm"));
  if (c == "width_twice") return tr("The width also stands as %1; that one counts").arg(f.mm("ae_mm"));
  if (c == "feed_looks_per_revolution") return tr("Ø%1: feed is %2 times its neighbour's, the number of flutes: per tooth or per revolution?").arg(f.mm("diameter_mm"), f.bare("ratio"));
  if (c == "row_twice") return tr("Ø%1 stands here twice; the first row counts").arg(f.mm("diameter_mm"));
  if (c == "speed_looks_like_feet") return tr("Ø%1: speed is %2 times its neighbour's: feet per minute?").arg(f.mm("diameter_mm"), f.bare("ratio"));
  if (c == "feed_looks_like_inch") return tr("Ø%1: feed is %2 times its neighbour's: inches?").arg(f.mm("diameter_mm"), f.bare("ratio"));
  if (c == "no_cutter") return tr("No cutter picked");
  if (c == "cutter_is_draft") return tr("%1 is a draft: its sizes have errors").arg(f.text("name"));
  if (c == "cutter_cannot") return tr("A %1 does no %2").arg(within_sentence(f.text("kind")), f.text("operation"));
  if (c == "no_conditions") return tr("No speed and feed: no row fits, and none is typed here");
  if (c == "deeper_than_stock") return tr("%1 deep goes through the stock, %2").arg(f.mm("depth_mm"), f.mm("stock_mm"));
  if (c == "deeper_than_reach") return tr("%1 deep is beyond the cutter's reach, %2").arg(f.mm("depth_mm"), f.mm("reach_mm"));
  if (c == "no_contour") return tr("No line picked in the drawing");
  if (c == "contour_open") return tr("Line %1 is open; only along the line can be cut").arg(f.bare("contour", 0));
  if (c == "no_holes") return f.text("there").isEmpty() ? tr("The drawing has no circles") : tr("The drawing has no such circles; it has %1 mm").arg(f.text("there"));
  if (c == "cutter_over_hole") return tr("Ø%1 does not go into a hole of Ø%2").arg(f.mm("cutter_mm"), f.mm("hole_mm"));
  if (c == "cutter_under_hole") return tr("Ø%1 leaves a hole of Ø%2 too small").arg(f.mm("cutter_mm"), f.mm("hole_mm"));
  if (c == "path_empty") return tr("Ø%1 does not fit inside line %2").arg(f.mm("diameter_mm"), f.bare("contour", 0));
  // Of one cut
  if (c == "below_min_chip") return tr("The chip, %1, is thinner than the edge can cut, %2: it rubs").arg(f.feed("value"), f.feed("limit"));
  if (c == "depth_over_flutes") return tr("Depth %1 is more than the flute length, %2").arg(f.mm("value"), f.mm("limit"));
  if (c == "depth_over_reach") return tr("Depth %1 is more than the reach, %2").arg(f.mm("value"), f.mm("limit"));
  if (c == "over_power") return tr("Needs %1 kW, the spindle has %2 kW at this speed").arg(f.bare("value"), f.bare("limit"));
  if (c == "over_continuous_power") return tr("Needs %1 kW: more than the %2 kW it gives all day, within the %3 kW it bears for a short time").arg(f.bare("value"), f.bare("limit"), f.bare("peak"));
  if (c == "over_torque") return tr("Needs %1 N·m, the spindle bears %2 N·m").arg(f.bare("value"), f.bare("limit"));
  if (c == "runout_over_chip") return tr("Runout %1 is more than the chip, %2: one edge does all the work").arg(f.feed("runout_mm"), f.feed("chip_mm"));
  if (c == "over_max_chip") return tr("The chip, %1, is thicker than permitted, %2").arg(f.feed("value"), f.feed("limit"));
  if (c == "outside_spindle_speed") return tr("%1 rpm is outside the spindle's range, limit %2").arg(f.rpm("value"), f.rpm("limit"));
  if (c == "over_cutter_speed") return tr("%1 rpm is more than the cutter's %2").arg(f.rpm("value"), f.rpm("limit"));
  if (c == "over_table_feed") return tr("%1 is more than the machine's %2").arg(f.table_feed("value"), f.table_feed("limit"));
  if (c == "face_wider_than_cutter") return tr("The cutter does not reach across: width %1, offset %2, diameter %3").arg(f.mm("ae_mm"), f.mm("offset_mm"), f.mm("diameter_mm"));
  // Contradicting input
  if (c == "speed_missing") return tr("no speed is given; one of vc_m_min, n_rpm is expected");
  if (c == "speed_twice") return tr("two speeds are given; one of vc_m_min, n_rpm is expected");
  if (c == "feed_missing") return tr("no feed is given; one of fz_mm, fn_mm, vf_mm_min, hex_mm is expected");
  if (c == "feed_twice") return tr("several feeds are given; one of fz_mm, fn_mm, vf_mm_min, hex_mm is expected");
  if (c == "angles_contradict") return tr("half angles of %1° and %2° contradict each other; state one").arg(f.bare("first_deg", 4), f.bare("second_deg", 4));
  if (c == "cone_is_flat") return tr("a half angle of %1° is no cone; less than 90° is right").arg(f.bare("half_deg", 4));
  if (c == "width_over_diameter") return tr("%1 is more than the diameter; at most %2").arg(f.mm("ae_mm"), f.mm("diameter_mm"));
  if (c == "path_too_narrow") return tr("%1 is no wider than the cutter; more than %2 is right").arg(f.mm("path_mm"), f.mm("diameter_mm"));
  if (c == "tip_over_diameter") return tr("tip %1 is over the diameter; at most %2").arg(f.mm("tip_mm"), f.mm("diameter_mm"));
  if (c == "feed_is_not_pitch") return tr("%1 per revolution is not the pitch; a tap feeds %2").arg(f.feed("fn_mm"), f.feed("pitch_mm"));
  return text_of(c);
}

QString sentence(const TrailStep& step, UnitSystem units) {
  const Figures f(step.values, units);
  const std::string& s = step.step;
  if (s == "source") {
    QString text = f.number("proven") > 0 ? tr("%1, proven row Ø%2: vc %3, %4 %5") : tr("%1, row Ø%2: vc %3, %4 %5");
    text = text.arg(f.text("table"), f.mm("diameter_mm"), f.speed("vc_m_min"), f.feed("feed_mm"), feed_word(f.text("feed_kind")));
    if (f.number("this_material") == 0) text += tr(" (for the whole group %1)").arg(f.text("group"));
    QStringList origin;
    if (!f.text("author").isEmpty()) origin << f.text("author");
    else if (!f.text("source").isEmpty()) origin << f.text("source");
    if (!f.text("date").isEmpty()) origin << f.text("date");
    if (!origin.isEmpty()) text += QStringLiteral(". ") + origin.join(QStringLiteral(", "));
    if (f.number("finish") > 0) text += tr("; its finish values");
    if (!f.text("note").isEmpty()) text += tr(". Note: %1").arg(f.text("note"));
    return text;
  }
  if (s == "beaten") {
    const QString values = tr("vc %1, feed %2").arg(f.speed("vc_m_min"), f.feed("feed_mm"));
    const QString which = f.text("level") == QLatin1String("starter") ? tr("starter values come last") : f.number("this_material") == 0 ? tr("it is for the whole group") : f.text("level") == QLatin1String("maker") ? tr("the shop's own table goes before the maker's") : tr("its level comes later");
    return (f.text("why") == QLatin1String("level") ? tr("Before %1 (%2): %3") : f.text("why") == QLatin1String("narrower") ? tr("Before %1 (%2): its key is wider") : tr("Before %1 (%2): its rows are farther, %3")).arg(f.text("table"), values, f.text("why") == QLatin1String("level") ? which : f.mm("distance_mm"));
  }
  if (s == "beaten_more") return tr("and %1 more that would fit").arg(f.bare("count", 0));
  if (s == "recipe") {
    QString text = (f.number("proven") > 0 ? tr("Recipe %1 of this cutter, proven: vc %2, %3 %4") : tr("Recipe %1 of this cutter: vc %2, %3 %4")).arg(f.text("name"), f.speed("vc_m_min"), f.feed("feed_mm"), feed_word(f.text("feed_kind")));
    if (f.number("any_material") > 0) text += tr("; it is for any material");
    if (f.number("other_material") > 0) text += tr("; it is for another material");
    if (f.has("removal_cm3_min")) text += tr("; expected %1 cm³/min").arg(f.bare("removal_cm3_min", 1));
    QStringList origin;
    if (!f.text("author").isEmpty()) origin << f.text("author");
    if (!f.text("date").isEmpty()) origin << f.text("date");
    if (!f.text("source").isEmpty()) origin << f.text("source");
    if (!origin.isEmpty()) text += QStringLiteral(". ") + origin.join(QStringLiteral(", "));
    if (!f.text("others").isEmpty()) text += tr("; there are also %1").arg(f.text("others"));
    return text;
  }
  if (s == "hardness") return tr("× %1 on speed: %2 HB, where starter values are for %3 HB: vc %4").arg(f.bare("factor", 2), f.bare("hb", 0), f.bare("usual_hb", 0), f.speed("vc_m_min"));
  if (s == "long_stickout") return tr("× %1 on feed: it sticks out %2, %3 × D, where starter values are for %4 × D: feed %5").arg(f.bare("factor", 2), f.mm("stickout_mm"), f.bare("per_d", 1), f.bare("usual_per_d", 0), f.feed("feed_mm"));
  if (s == "conventional") return tr("× %1 on speed: conventional milling, where starter values are for climb: vc %2").arg(f.bare("factor", 2), f.speed("vc_m_min"));
  if (s == "factor") return tr("No row fits. × %1 on speed, × %2 on feed from this one, by what starter values say of the difference: vc %3, feed %4; a guess").arg(f.bare("speed_factor", 2), f.bare("feed_factor", 2), f.speed("vc_m_min"), f.feed("feed_mm"));
  if (s == "dial") return tr("Dial position %1, the nearest: %2 → %3").arg(f.bare("position", 0), f.rpm("asked_rpm"), f.rpm("n_rpm"));
  if (s == "details") {
    QStringList parts;
    parts << tr("plunging %1").arg(f.table_feed("plunge_mm_min")) << tr("ramping %1").arg(f.table_feed("ramp_mm_min"));
    if (f.has("ramp_n_rpm")) parts.last() += tr(" at S %1").arg(f.rpm("ramp_n_rpm"));
    if (f.has("lead_mm_min")) parts << tr("leading in and out %1").arg(f.table_feed("lead_mm_min"));
    return tr("As the row states: %1").arg(parts.join(QStringLiteral(", ")));
  }
  if (s == "own_coolant") return tr("Coolant chosen in this operation: %1").arg(f.text("coolant"));
  if (s == "near_row") return (f.text("failed").contains(QLatin1Char(',')) ? tr("Next: %2, Ø%3 (%4, group %5); %1 differ") : tr("Next: %2, Ø%3 (%4, group %5); %1 differs")).arg(f.text("failed"), f.text("table"), f.mm("nearest_mm"), f.text("nearest_tool_material"), f.text("nearest_group"));
  if (s == "starter_rule")
    return f.text("tool_material").isEmpty()
               ? tr("No row fits. Starter rule for %1, tool material not stated and taken as HSS, in %2, %3: vc %4, %5 %6; a guess, not proven").arg(within_sentence(f.text("kind")), f.text("group"), f.text("operation"), f.speed("vc_m_min"), f.feed("feed_mm"), feed_word(f.text("feed_kind")))
               : tr("No row fits. Starter rule for %1 of %7 in %2, %3: vc %4, %5 %6; a guess, not proven").arg(within_sentence(f.text("kind")), f.text("group"), f.text("operation"), f.speed("vc_m_min"), f.feed("feed_mm"), feed_word(f.text("feed_kind")), within_sentence(f.text("tool_material")));
  if (s == "no_starter") return tr("%1 does not cut %2").arg(f.text("tool_material"), f.text("group"));
  if (s == "no_starter_pitch") return tr("The pitch is not stated: a tap is fed by its pitch");
  if (s == "edge") return tr("× %1 on speed, × %2 on feed, since a starter row does not know %3: vc %4, feed %5").arg(f.bare("speed_factor", 3), f.bare("feed_factor", 3), f.text("from"), f.speed("vc_m_min"), f.feed("feed_mm"));
  if (s == "set_diameter") return tr("Set to Ø%1 in its assembly; it is a Ø%2").arg(f.mm("diameter_mm"), f.mm("nominal_mm"));
  if (s == "interpolated") return tr("Between the rows Ø%1 and Ø%2: vc %3, feed %4").arg(f.mm("low_mm"), f.mm("high_mm"), f.speed("vc_m_min"), f.feed("feed_mm"));
  if (s == "beyond_rows") return tr("Ø%1 is beyond the last row, Ø%2: a guess from it, vc %3, feed %4").arg(f.mm("diameter_mm"), f.mm("row_mm"), f.speed("vc_m_min"), f.feed("feed_mm"));
  if (s == "depth_width") return capitalised(depth_width(f));
  if (s == "asked") return tr("Asked for: %1").arg(depth_width(f));
  if (s == "coolant") return tr("%1 is wanted; this machine gives %2").arg(capitalised(f.text("wanted")), f.text("used"));
  if (s == "pace") {
    QStringList parts;
    parts << tr("vc %1 → %2").arg(f.speed("vc_before_m_min"), f.speed("vc_m_min"));
    if (f.number("feed_before_mm") != f.number("feed_mm")) parts << tr("feed %1 → %2").arg(f.feed("feed_before_mm"), f.feed("feed_mm"));
    const QString cut = depth_width(f);
    return tr("Pace %1: %2").arg(f.bare("pace", 0), parts.join(QStringLiteral(", "))) + (f.number("pace") < 100 && !cut.isEmpty() ? QStringLiteral("; ") + cut : QString());
  }
  if (s == "effective_diameter") return tr("At depth %1 the cutter works at Ø%2").arg(f.mm("ap_mm"), f.mm("d_eff_mm"));
  if (s == "chip_thinning")
    return (f.number("capped") > 0 ? tr("Chip thinning at this width, held at 3 times: %1 → %2 per tooth") : tr("Chip thinning at this width: %1 → %2 per tooth")).arg(f.feed("hex_mm"), f.feed("fz_mm"));
  if (s == "own") return tr("Typed in this operation: S %1, F %2").arg(f.rpm("n_rpm"), f.table_feed("vf_mm_min"));
  if (s == "speed") return tr("vc %1 on Ø%2: n %3").arg(f.speed("vc_m_min"), f.mm("d_eff_mm"), f.rpm("n_rpm"));
  if (s == "below_least_speed") return tr("%1 rpm would be right; this spindle turns no slower than %2").arg(f.rpm("n_rpm"), f.rpm("min_rpm"));
  if (s == "held_speed")
    return (f.text("by") == QLatin1String("cutter") ? tr("The cutter bears %2 rpm at most: %1 → %2, feed per tooth kept") : tr("The spindle turns %2 at most: %1 → %2, feed per tooth kept")).arg(f.rpm("asked_rpm"), f.rpm("n_rpm"));
  if (s == "feed") {
    if (f.text("feed_kind") == QLatin1String("per_revolution")) return tr("%1 rpm × %2 per revolution = %3").arg(f.rpm("n_rpm"), f.feed("fn_mm"), f.table_feed("vf_mm_min"));
    return tr("%1 rpm × %2 flutes × %3 = %4").arg(f.rpm("n_rpm"), f.bare("flutes", 0), f.feed("fz_mm"), f.table_feed("vf_mm_min"));
  }
  if (s == "held_feed")
    return (f.text("by") == QLatin1String("axis") ? tr("The axis feeds %2 at most: %1 → %2") : f.text("by") == QLatin1String("group") ? tr("The machine is held to %2 in %3: %1 → %2").arg(QStringLiteral("%1"), QStringLiteral("%2"), f.text("group")) : tr("The machine feeds %2 at most: %1 → %2"))
        .arg(f.table_feed("asked_mm_min"), f.table_feed("vf_mm_min"));
  if (s == "rounded") {
    QStringList parts;
    if (f.number("n_asked_rpm") != f.number("n_rpm")) parts << tr("n %1 → %2").arg(f.bare("n_asked_rpm", 1), f.rpm("n_rpm"));
    if (f.number("vf_asked_mm_min") != f.number("vf_mm_min")) parts << tr("vf %1 → %2").arg(f.fine_feed("vf_asked_mm_min"), text_of(shown(f.number("vf_mm_min"), Quantity::table_feed, units)));
    return tr("Rounded down: %1").arg(parts.join(QStringLiteral(", ")));
  }
  if (s == "plunge") {
    const QString text = tr("Plunging at %1 (× %2), ramping at %3 (× %4)").arg(f.table_feed("plunge_mm_min"), f.bare("plunge_factor"), f.table_feed("ramp_mm_min"), f.bare("ramp_factor"));
    return f.number("by_machine") > 0 ? text + tr(", the machine's rule") : text;
  }
  if (s == "wear") return tr("Forces and power for a worn edge: × %1").arg(f.bare("factor"));
  if (s == "tried") {
    QStringList parts;
    if (f.has("vc_m_min")) parts << tr("vc %1").arg(f.speed("vc_m_min"));
    if (f.has("fz_mm")) parts << tr("fz %1").arg(f.feed("fz_mm"));
    if (f.has("ap_mm")) parts << tr("ap %1").arg(f.mm("ap_mm"));
    if (f.has("ae_mm")) parts << tr("ae %1").arg(f.mm("ae_mm"));
    if (f.has("stickout_mm")) parts << tr("stick-out %1").arg(f.mm("stickout_mm"));
    return tr("Tried instead: %1").arg(parts.join(QStringLiteral(", ")));
  }
  if (s == "result") return tr("S %1  F %2").arg(f.rpm("n_rpm"), QString::fromStdString(shown(f.number("vf_mm_min"), Quantity::table_feed, units)));
  if (s == "no_row_for_kind") return tr("No table has a row for a %1 in %2. Add one under Tables, or type speed and feed in the operation.").arg(within_sentence(f.text("kind")), f.text("operation"));
  if (s == "no_row") return (f.text("failed").contains(QLatin1Char(',')) ? tr("No row fits: %1 differ. The nearest is in %2, from Ø%3 (%4, group %5).") : tr("No row fits: %1 differs. The nearest is in %2, from Ø%3 (%4, group %5).")).arg(f.text("failed"), f.text("table"), f.mm("nearest_mm"), f.text("nearest_tool_material"), f.text("nearest_group"));
  return text_of(s);
}

QString headroom_text(const Headroom& h, UnitSystem units) {
  const auto figure = [&](double value) {
    const bool chip = h.quantity == Quantity::feed_per_tooth && !is_inch(units), small = h.limit == Limit::deflection && !is_inch(units);
    return text_of(chip || small ? plain(value, 3) : shown(value, h.quantity, units));
  };
  QString value = figure(h.value);
  const QString limit = QString::fromStdString(shown_with_unit(h.limit_value, h.quantity, units));
  if (h.limit == Limit::spindle_speed && std::abs(h.used - 1) < 0.002) return tr("held at %1").arg(value);
  // Beside a straight wall, and at the worst place of the path.
  if (h.worst_value && figure(*h.worst_value) != value) value += QStringLiteral("–") + figure(*h.worst_value);
  return h.lower ? tr("%1, at least %2").arg(value, limit) : tr("%1 of %2").arg(value, limit);
}

QString change_text(const Suggestion& s, UnitSystem units) {
  const Property<Cut>* property = find_property<Cut>(s.property);
  return s.property == "stickout_mm" ? tr("stick-out %1").arg(quantity_text(s.value, s.quantity, units)) : QStringLiteral("%1 %2").arg(text_of(property->symbol), quantity_text(s.value, s.quantity, units));
}

QString reason_text(NoAnswer reason, CutterKind kind) {
  switch (reason) {
    case NoAnswer::cannot_do:
      if (declaration(kind).operations == 0) return reason_text(NoAnswer::no_speed, kind);
      return tr("for %1").arg(text_of(label_of(declaration(kind).usual_operation)));
    case NoAnswer::draft: return tr("draft");
    case NoAnswer::no_row: return tr("no row fits");
    case NoAnswer::below_least_speed: return tr("too slow for it");
    case NoAnswer::no_speed: return tr("never turns");
    case NoAnswer::none: break;
  }
  return {};
}

QString sentence(const DxfFault& fault) {
  QStringList found;
  for (const auto& [name, count] : fault.entities) found << QStringLiteral("%1 × %2").arg(count).arg(QString::fromStdString(name));
  if (fault.code == "too_large") return tr("The file is larger than 64 MB; export only the outline.");
  if (fault.code == "no_entities") return tr("The DXF file has no entities. Lines, arcs, circles, polylines, ellipses and splines are used.");
  if (fault.code == "no_outline")
    return tr("No usable outline: found %1. Only lines, arcs, circles, flat polylines, ellipses and splines with control points make one.").arg(found.join(QStringLiteral(", ")));
  return tr("This is no text DXF file.");
}

}  // namespace pecorra
