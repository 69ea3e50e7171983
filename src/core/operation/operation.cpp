#include "core/operation/operation_trail.h"

#include <fmt/format.h>
#include <array>

namespace pecorra {
namespace {

constexpr Choice path_choices[] = {{"profile", "Profile"},
                                   {"drill", "Drilling"},
                                   {"face", "Face"},
                                   {"slot", "Slot"},
                                   {"pocket", "Pocket"},
                                   {"helical_bore", "Helical bore"},
                                   {"spot", "Spot drilling"},
                                   {"centre", "Centre drilling"},
                                   {"ream", "Reaming"},
                                   {"bore", "Boring"},
                                   {"back_bore", "Back boring"},
                                   {"countersink", "Countersink"},
                                   {"counterbore", "Counterbore"},
                                   {"tap", "Tapping"}};
constexpr Choice cycle_choices[] = {
    {"auto", "automatic"}, {"straight", "in one go"}, {"peck", "pecking"}, {"chip_break", "breaking chips"}};
constexpr Choice bore_choices[] = {{"feed", "at the feed"}, {"orientated", "point off the wall"}};
constexpr Choice stop_choices[] = {{"none", "none"}, {"optional", "optional"}, {"always", "always"}};
constexpr Choice tapping_choices[] = {{"rigid", "rigid"}, {"floating", "floating holder"}};
constexpr Choice where_choices[] = {
    {"around", "around the line"}, {"within", "inside the line"}, {"along", "along the line"}};
constexpr Choice depth_choices[] = {{"full_diameter", "to the full diameter"}, {"tip", "to the tip"}};
constexpr Choice entry_choices[] = {{"auto", "automatic"},
                                    {"plunge", "straight down"},
                                    {"ramp", "ramp"},
                                    {"helix", "helix"},
                                    {"predrilled", "into a drilled hole"}};
constexpr Choice compensation_choices[] = {{"path", "in the path"}, {"control", "in the control"}};
constexpr Choice pattern_choices[] = {{"to_and_fro", "to and fro"}, {"one_way", "one way"}, {"spiral", "spiral"}};

using enum Quantity;
using T = TakenConditions;
using O = Operation;

const std::array taken_list{field<&T::n_rpm>("n_rpm", "S", "Spindle speed", spindle_speed, "").above(0),
                            field<&T::vf_mm_min>("vf_mm_min", "F", "Table feed", table_feed, "").above(0),
                            field<&T::plunge_mm_min>("plunge_mm_min", "", "Plunge feed", table_feed, "").above(0),
                            field<&T::ramp_mm_min>("ramp_mm_min", "", "Ramp feed", table_feed, "").above(0),
                            field<&T::ramp_n_rpm>("ramp_n_rpm", "", "Ramp speed", spindle_speed, "").above(0),
                            field<&T::lead_mm_min>("lead_mm_min", "", "Lead feed", table_feed, "").above(0),
                            field<&T::dial_position>("dial_position", "", "Dial", count, ""),
                            field<&T::ap_mm>("ap_mm", "ap", "Depth of cut", length, "").above(0),
                            field<&T::ae_mm>("ae_mm", "ae", "Width of cut", length, "").above(0),
                            field<&T::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, ""),
                            field<&T::fz_mm>("fz_mm", "fz", "Feed per tooth", feed_per_tooth, ""),
                            field<&T::coolant>("coolant", "", "Coolant", choice, ""),
                            field<&T::source>("source", "", "Follows", choice, ""),
                            field<&T::guess>("guess", "", "Guess", flag, ""),
                            field<&T::proven>("proven", "", "Proven", flag, ""),
                            field<&T::table>("table", "", "Table", id, ""),
                            field<&T::row>("row", "", "Row", id, ""),
                            field<&T::source_text>("source_text", "", "Source", text, ""),
                            field<&T::kept>("kept", "", "Kept instead of", text, "")};

constexpr std::array operation_list{
    field<&O::job>("job", "", "Job", Quantity::id, ""),
    field<&O::setup>("setup", "", "Setup", Quantity::id, ""),
    field<&O::rank>("rank", "", "Place", number, "In the order of the job"),
    field<&O::path>("path", "", "Path", choice, ""),
    field<&O::operation>("operation", "", "Operation type", choice, "Operation to look up in the tables"),
    field<&O::name>("name", "", "Name", text, "In the program's comment"),
    field<&O::comment>("comment", "", "Comment", text, "For the operator, in the program and on the setup sheet"),
    field<&O::stop>("stop", "", "Program stop", choice, "Before the operation: M1 if optional, else M0"),
    field<&O::behind>("behind", "", "Not before", Quantity::id, "An operation that has to be done first"),
    field<&O::proven_step>("proven_step", "", "Proven step", Quantity::id, "Used exactly as it was saved"),
    field<&O::pace>("pace", "", "Pace", number, "100 is the target; empty: the job's").within(1, 1000),
    field<&O::source>("source", "", "Follows only", choice, "One kind of source; empty: the best there is"),
    field<&O::stickout_mm>("stickout_mm", "", "Stick-out", length, "").above(0),
    field<&O::tool_number>("tool_number", "T", "Tool number", count, "T in the program").within(1, 99999999),
    field<&O::top_mm>("top_mm", "", "Top", length, "Height where it begins; empty: top of the stock"),
    field<&O::depth_mm>("depth_mm", "", "Depth", length, "Below the top; empty: the feature's").above(0),
    field<&O::leave_wall_mm>("leave_wall_mm", "", "Leave on the wall", length, "Left for a later operation")
        .within(0, 1000),
    field<&O::leave_floor_mm>("leave_floor_mm", "", "Leave on the floor", length, "Left for a later operation")
        .within(0, 1000),
    field<&O::permitted_deflection_mm>("permitted_deflection_mm", "", "Permitted deflection", length,
                                       "Permitted by the tolerance of the wall; empty: shop setting")
        .above(0),
    field<&O::climb>("climb", "", "Climb milling", flag, "Off: conventional milling"),
    field<&O::where>("where", "", "Cuts", choice, "Side of the line"),
    field<&O::side_stock_mm>("side_stock_mm", "", "Stock beside the line", length,
                             "Removed in passes of the width of cut")
        .above(0),
    field<&O::finish_pass_mm>("finish_pass_mm", "", "Finishing pass", length,
                              "Width of a last pass at finishing conditions; empty: none")
        .above(0),
    field<&O::finish_floor_mm>("finish_floor_mm", "", "Floor finish", length,
                               "Left on the floor for a last level at floor finishing conditions; empty: none")
        .above(0),
    field<&O::spring_passes>("spring_passes", "", "Spring passes", count, "Last pass repeated without a new width")
        .within(0, 10),
    field<&O::tab_count>("tab_count", "", "Tabs", count, "That hold the part, at equal distances").within(0, 100),
    field<&O::tab_width_mm>("tab_width_mm", "", "Tab width", length, "Of the material that stays").above(0),
    field<&O::tab_height_mm>("tab_height_mm", "", "Tab height", length, "Above the bottom of the cut").above(0),
    field<&O::compensation>("compensation", "", "Radius compensation", choice,
                            "In the control: G41 or G42 with the cutter's number, for its wear"),
    field<&O::pattern>("pattern", "", "Pattern", choice, "How the face is covered"),
    field<&O::width_mm>("width_mm", "", "Width", length, "Empty: the cutter's diameter, or the outline's width")
        .above(0),
    field<&O::entry>("entry", "", "Entry", choice, "Into solid material"),
    field<&O::cycle>("cycle", "", "Cycle", choice, "Automatic: by depth, drill and material"),
    field<&O::peck_mm>("peck_mm", "", "Peck", length, "Depth of each peck; empty: of the row, else the diameter")
        .above(0),
    field<&O::breakthrough_mm>("breakthrough_mm", "", "Breakthrough", length, "Added below the depth").within(0, 1000),
    field<&O::diameter_mm>("diameter_mm", "D", "Diameter", length,
                           "Of the bore, or of the cone at the top; empty: the feature's")
        .above(0),
    field<&O::bore_retract>("bore_retract", "", "Retract", choice, "How the boring bar leaves the hole"),
    field<&O::shift_mm>("shift_mm", "", "Shift", length, "Off the axis with the spindle stopped").above(0),
    field<&O::tapping>("tapping", "", "Tapping", choice, "Rigid: spindle and feed in step"),
    field<&O::slow_entry_mm>("slow_entry_mm", "", "Slow entry", length, "On a slope: so far at the slow feed").above(0),
    field<&O::slow_exit_mm>("slow_exit_mm", "", "Slow exit", length,
                            "Into a cross hole: the last part at the slow feed")
        .above(0),
    field<&O::slow_feed_pct>("slow_feed_pct", "", "Slow feed", number, "Percent of the feed; empty: 50").within(1, 100),
    field<&O::kept_cutter>("kept_cutter", "", "Kept cutter", text, "Instead of the library's"),
    field<&O::generic_cutter>("generic_cutter", "", "Generic cutter", flag, "Of no library, made for this job"),
    field<&O::dwell_s>("dwell_s", "", "Dwell", number, "Seconds at the bottom").within(0, 1000),
    field<&O::depth_to>("depth_to", "", "Depth to", choice, ""),
    field<&O::own_n_rpm>("own_n_rpm", "S", "Spindle speed", spindle_speed, "Typed here").above(0),
    field<&O::own_vf_mm_min>("own_vf_mm_min", "F", "Table feed", table_feed, "Typed here").above(0),
    field<&O::own_plunge_mm_min>("own_plunge_mm_min", "", "Plunge feed", table_feed, "Typed here").above(0),
    field<&O::own_ramp_mm_min>("own_ramp_mm_min", "", "Ramp feed", table_feed, "Typed here").above(0),
    field<&O::own_ap_mm>("own_ap_mm", "ap", "Depth of cut", length, "Typed here").above(0),
    field<&O::own_ae_mm>("own_ae_mm", "ae", "Width of cut", length, "Typed here").above(0),
    field<&O::own_coolant>("own_coolant", "", "Coolant", choice, "Chosen here; only what the machine has")};

constexpr std::array trail_list{field<&OperationTrail::operation>("operation", "", "Operation", Quantity::id, "")};

}  // namespace

template <>
std::span<const Property<OperationTrail>> properties<OperationTrail>() {
  return trail_list;
}
template <>
std::span<const Choice> choices_of<PathKind>() {
  return path_choices;
}
template <>
std::span<const Choice> choices_of<ProfileWhere>() {
  return where_choices;
}
template <>
std::span<const Choice> choices_of<DepthTo>() {
  return depth_choices;
}
template <>
std::span<const Choice> choices_of<DrillCycle>() {
  return cycle_choices;
}
template <>
std::span<const Choice> choices_of<BoreRetract>() {
  return bore_choices;
}
template <>
std::span<const Choice> choices_of<ProgramStop>() {
  return stop_choices;
}
template <>
std::span<const Choice> choices_of<TappingKind>() {
  return tapping_choices;
}
template <>
std::span<const Choice> choices_of<EntryKind>() {
  return entry_choices;
}
template <>
std::span<const Choice> choices_of<Compensation>() {
  return compensation_choices;
}
template <>
std::span<const Choice> choices_of<FacePattern>() {
  return pattern_choices;
}
template <>
std::span<const Property<T>> properties<T>() {
  return taken_list;
}
template <>
std::span<const Property<O>> properties<O>() {
  return operation_list;
}

std::string fingerprint(const TakenConditions& t) {
  std::string text;
  for (const auto& value : {t.n_rpm, t.vf_mm_min, t.plunge_mm_min, t.ramp_mm_min, t.ap_mm, t.ae_mm})
    text += value ? fmt::format("{:.6g} ", *value) : "- ";
  // Only if they differ from the default, so that copies made by earlier versions compare equal.
  if (t.lead_mm_min && t.lead_mm_min != t.vf_mm_min) text += fmt::format("lead {:.6g} ", *t.lead_mm_min);
  if (t.ramp_n_rpm) text += fmt::format("ramp at {:.6g} ", *t.ramp_n_rpm);
  return text + std::string(key_of(t.coolant));
}

std::string fingerprint(const Operation& o) {
  std::string text = fingerprint(o.taken);
  if (o.taken_slot.vf_mm_min) text += " slot " + fingerprint(o.taken_slot);
  if (o.taken_finish.vf_mm_min) text += " finish " + fingerprint(o.taken_finish);
  if (o.taken_floor.vf_mm_min) text += " floor " + fingerprint(o.taken_floor);
  return text;
}

bool climbs_with_m3(const Operation& o) { return o.climb == (o.cutter.rotation == Rotation::clockwise); }

OperationTrail trail_of(const Operation& o) {
  OperationTrail trail;
  trail.id = trail_id(o.id);
  trail.operation = o.id;
  trail.cut = o.taken.trail;
  trail.slot = o.taken_slot.trail;
  trail.finish = o.taken_finish.trail;
  trail.floor = o.taken_floor.trail;
  return trail;
}

void put_trail(Operation& o, const OperationTrail& trail) {
  o.taken.trail = trail.cut;
  o.taken_slot.trail = trail.slot;
  o.taken_finish.trail = trail.finish;
  o.taken_floor.trail = trail.floor;
}

Id trail_id(const Id& operation) { return Id::from_name("trail/" + operation.text()); }

}  // namespace pecorra
