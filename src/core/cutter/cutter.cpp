#include "core/cutter/cutter.h"

#include <array>

#include "core/base/stock.h"

namespace pecorra {
namespace {

constexpr Choice kind_choices[] = {{"end_mill", "End mill"},
                                   {"bull_nose", "Bull-nose end mill"},
                                   {"ball", "Ball end mill"},
                                   {"rougher", "Roughing end mill"},
                                   {"high_feed", "High-feed mill"},
                                   {"face_mill", "Face mill"},
                                   {"fly_cutter", "Fly cutter"},
                                   {"tapered", "Tapered end mill"},
                                   {"chamfer_mill", "Chamfer mill"},
                                   {"engraver", "Engraving cutter"},
                                   {"corner_rounding", "Corner-rounding cutter"},
                                   {"t_slot", "T-slot cutter"},
                                   {"dovetail", "Dovetail cutter"},
                                   {"undercut_ball", "Undercut ball cutter"},
                                   {"barrel", "Barrel cutter"},
                                   {"thread_mill", "Thread mill"},
                                   {"form", "Form cutter"},
                                   {"drill", "Drill"},
                                   {"spot_drill", "Spot drill"},
                                   {"centre_drill", "Centre drill"},
                                   {"step_drill", "Step drill"},
                                   {"countersink", "Countersink"},
                                   {"counterbore", "Counterbore"},
                                   {"reamer", "Reamer"},
                                   {"tap", "Tap"},
                                   {"boring_bar", "Boring bar"},
                                   {"back_boring_bar", "Back-boring bar"},
                                   {"drag_knife", "Drag knife"},
                                   {"probe", "Touch probe"}};
constexpr Choice material_choices[] = {{"hss", "HSS"},
                                       {"hss_co", "Cobalt HSS"},
                                       {"hss_pm", "Powder-metal HSS"},
                                       {"carbide", "Carbide"},
                                       {"carbide_insert", "Carbide inserts"},
                                       {"cermet", "Cermet"},
                                       {"ceramic", "Ceramic"},
                                       {"cbn", "CBN"},
                                       {"pcd", "PCD"}};
constexpr Choice tap_choices[] = {{"cut", "Cutting tap"}, {"form", "Forming tap"}};
constexpr Choice direction_choices[] = {{"up", "Up-cut"}, {"down", "Down-cut"}, {"compression", "Compression"}};
constexpr Choice rotation_choices[] = {{"clockwise", "Clockwise (M3)"},
                                       {"counter_clockwise", "Counter-clockwise (M4)"}};
constexpr Choice shank_choices[] = {{"plain", "Plain"},       {"flat", "Flat"}, {"inclined_flat", "Inclined flat"},
                                    {"threaded", "Threaded"}, {"bore", "Bore"}, {"taper", "Taper"}};
constexpr Choice quality_choices[] = {{"premium", "Premium"}, {"standard", "Standard"}, {"plain", "Plain"}};
constexpr Choice made_for_choices[] = {
    {"metal", "metal"}, {"non_ferrous", "non-ferrous metals"}, {"wood_plastics", "wood and plastics"}};
constexpr Choice web_choices[] = {{"thinned", "thinned"}, {"full", "not thinned"}};
constexpr Choice centre_choices[] = {{"yes", "cuts to the centre"}, {"no", "does not"}};
constexpr Choice unit_choices[] = {{"mm", "mm"}, {"inch", "inch"}};

using enum Quantity;

constexpr std::array body{
    field<&Cutter::kind>("kind", "", "Kind", choice, "Kind of cutter"),
    field<&Cutter::diameter_mm>("diameter_mm", "DC", "Diameter", length, "Largest diameter that cuts").above(0),
    field<&Cutter::corner_radius_mm>("corner_radius_mm", "RE", "Corner radius", length,
                                     "Radius between the side and the end; 0 is sharp")
        .within(0, 1e6),
    field<&Cutter::flutes>("flutes", "NOF", "Flutes", count, "Number of cutting edges around").within(1, 1000),
    field<&Cutter::helix_deg>("helix_deg", "FHA", "Helix angle", angle, "Between the flute and the axis")
        .within(0, 89.999999),
    field<&Cutter::rake_deg>("rake_deg", "GAMF", "Rake angle", angle, "Radial rake; empty: force is not corrected")
        .within(-60, 60),
    field<&Cutter::cutting_edge_angle_deg>("cutting_edge_angle_deg", "KAPR", "Cutting edge angle", angle,
                                           "Between the edge and the direction of feed; 90 is a square shoulder")
        .above(0)
        .within(0, 90),
    field<&Cutter::point_angle_deg>("point_angle_deg", "SIG", "Point angle", angle, "Included angle of the point")
        .above(0)
        .within(0, 180),
    field<&Cutter::tip_diameter_mm>("tip_diameter_mm", "DCX1", "Tip diameter", length, "Flat at the tip; 0 is a point")
        .within(0, 1e6),
    field<&Cutter::taper_half_angle_deg>("taper_half_angle_deg", "TA", "Half angle", angle,
                                         "Between the flank and the axis")
        .within(0, 89.999999),
    field<&Cutter::flute_length_mm>("flute_length_mm", "LCF", "Flute length", length,
                                    "From the tip to the end of the cutting edges")
        .above(0),
    field<&Cutter::reach_mm>("reach_mm", "LU", "Reach", length, "From the tip to where the shank begins").above(0),
    field<&Cutter::neck_diameter_mm>("neck_diameter_mm", "DN", "Neck diameter", length,
                                     "Between the flutes and the shank; empty: same as the diameter")
        .above(0),
    field<&Cutter::shank_diameter_mm>("shank_diameter_mm", "DCONMS", "Shank diameter", length,
                                      "Diameter the holder clamps")
        .above(0),
    field<&Cutter::overall_length_mm>("overall_length_mm", "OAL", "Overall length", length, "Tip to end of shank")
        .above(0),
    field<&Cutter::tool_material>("tool_material", "", "Tool material", choice, "Material of the cutting edges"),
    field<&Cutter::core_ratio>("core_ratio", "", "Core ratio", number,
                               "Equivalent diameter of the fluted part over the diameter; 0.8 if empty")
        .above(0)
        .within(0, 1),
    field<&Cutter::pitch_mm>("pitch_mm", "TP", "Pitch", length,
                             "From one thread, or wave of a roughing flank, to the next")
        .above(0),
    field<&Cutter::max_rpm>("max_rpm", "RPMX", "Permitted speed", spindle_speed, "As marked on the cutter").above(0),
    field<&Cutter::tap_form>("tap_form", "", "Tap form", choice, "Cutting or forming"),
    field<&Cutter::max_chip_mm>("max_chip_mm", "", "Permitted chip", feed_per_tooth,
                                "Maximum chip thickness the edge can take")
        .above(0),
    field<&Cutter::edge_radius_mm>("edge_radius_mm", "", "Edge radius", feed_per_tooth,
                                   "Rounding of the cutting edge; thinner chips rub")
        .above(0)};

constexpr std::array further{
    field<&Cutter::thread>("thread", "THID", "Thread", text, "Designation, as M8, M10x1, 1/4-20 UNC or G1/2"),
    field<&Cutter::profile_radius_mm>("profile_radius_mm", "PRFRAD", "Profile radius", length,
                                      "Of the arc that makes the shape")
        .above(0),
    field<&Cutter::step_diameter_mm>("step_diameter_mm", "SD", "Step diameter", length, "Of the first step or pilot")
        .above(0),
    field<&Cutter::step_length_mm>("step_length_mm", "SDL", "Step length", length,
                                   "From the tip to the end of the first step")
        .above(0),
    field<&Cutter::step_angle_deg>("step_angle_deg", "STA", "Step angle", angle,
                                   "Included angle of the cone above the step")
        .above(0)
        .within(0, 180),
    field<&Cutter::diameter_from_mm>("diameter_from_mm", "DCN", "Smallest diameter", length,
                                     "End of the adjustment range")
        .above(0),
    field<&Cutter::diameter_to_mm>("diameter_to_mm", "DCX", "Largest diameter", length, "End of the adjustment range")
        .above(0),
    field<&Cutter::lead_length_mm>("lead_length_mm", "LPR", "Lead", length, "Length of the chamfer that cuts")
        .within(0, 1e6),
    field<&Cutter::lead_threads>("lead_threads", "THCHT", "Chamfer", number,
                                 "Threads of the lead: 2 to 3 bottoming, 4 to 5 through")
        .above(0)
        .within(0, 30),
    field<&Cutter::trail_mm>("trail_mm", "", "Trail", length, "Distance of the blade tip behind the axis")
        .within(0, 1e6)};

constexpr std::array rest{
    field<&Cutter::number>("number", "", "Number", count, "Number within its library").within(1, 99999999),
    field<&Cutter::name>("name", "", "Name", text, "Everyday name, printed on sheets and in comments"),
    field<&Cutter::library>("library", "", "Library", Quantity::id, "Storage place"),
    field<&Cutter::maker>("maker", "", "Maker", text, "Manufacturer"),
    field<&Cutter::series>("series", "", "Series", text, "The maker's series; maker tables are keyed to it"),
    field<&Cutter::order_code>("order_code", "", "Order code", text, "For reordering"),
    field<&Cutter::link>("link", "", "Link", text, "Where it is described or sold"),
    field<&Cutter::price>("price", "", "Price", number, "Each, in the shop's currency").within(0, 1e9),
    field<&Cutter::own_material>("own_material", "", "Own tool material", text, "Defined by the shop"),
    field<&Cutter::coating>("coating", "", "Coating", text, "Of the cutting edges"),
    field<&Cutter::quality>("quality", "", "Quality", choice,
                            "Quality grade; scales starter rows where nothing better is known"),
    field<&Cutter::insert>("insert", "", "Insert", Quantity::id,
                           "On this body; decides corner radius, tool material and coating"),
    field<&Cutter::notes>("notes", "", "Notes", text, "For the programmer"),
    field<&Cutter::message>("message", "", "For the operator", text, "Printed on the setup sheet and in the program"),
    field<&Cutter::edge_direction>("edge_direction", "", "Edge direction", choice,
                                   "Direction in which the helix pulls chips"),
    field<&Cutter::rotation>("rotation", "HAND", "Turns", choice, "Direction of the spindle"),
    field<&Cutter::through_coolant>("through_coolant", "CSP", "Coolant through", flag,
                                    "Coolant holes to the cutting edges"),
    field<&Cutter::max_ramp_deg>("max_ramp_deg", "RMPX", "Maximum ramp", angle, "Steepest ramp into solid material")
        .above(0)
        .within(0, 90),
    field<&Cutter::centre_cut>("centre_cut", "", "Centre-cutting", choice, "Whether it can be plunged into solid"),
    field<&Cutter::web>("web", "", "Web", choice, "Of a drill: thinned at the point, it takes about half the thrust"),
    field<&Cutter::made_for>("made_for", "", "Made for", choice, "What its edges are ground for"),
    field<&Cutter::runout_mm>("runout_mm", "", "Runout", feed_per_tooth, "Measured at the edges").within(0, 10),
    field<&Cutter::shank_form>("shank_form", "", "Shank form", choice, "Must suit the holder"),
    field<&Cutter::favourite>("favourite", "", "Favourite", flag, "Always at the top of the list"),
    field<&Cutter::no_maker_tables>("no_maker_tables", "", "Without maker tables", flag,
                                    "Tables of its maker do not apply"),
    field<&Cutter::no_factors>("no_factors", "", "Do not scale", flag, "No factors are applied to its values"),
    field<&Cutter::unit>("unit", "", "Bought in", choice, "Unit of numbers typed without one")};

constexpr auto sizes = joined(body, further);
constexpr auto all = joined(joined(sizes, rest), stock_properties<Cutter>());

}  // namespace

template <>
std::span<const Choice> choices_of<CutterKind>() {
  return kind_choices;
}
template <>
std::span<const Choice> choices_of<ToolMaterial>() {
  return material_choices;
}
template <>
std::span<const Choice> choices_of<TapForm>() {
  return tap_choices;
}
template <>
std::span<const Choice> choices_of<EdgeDirection>() {
  return direction_choices;
}
template <>
std::span<const Choice> choices_of<Rotation>() {
  return rotation_choices;
}
template <>
std::span<const Choice> choices_of<ShankForm>() {
  return shank_choices;
}
template <>
std::span<const Choice> choices_of<Quality>() {
  return quality_choices;
}
template <>
std::span<const Choice> choices_of<MadeFor>() {
  return made_for_choices;
}
template <>
std::span<const Choice> choices_of<Web>() {
  return web_choices;
}
template <>
std::span<const Choice> choices_of<CentreCut>() {
  return centre_choices;
}
template <>
std::span<const Choice> choices_of<UnitSystem>() {
  return unit_choices;
}

template <>
std::span<const Property<Cutter>> properties<Cutter>() {
  return all;
}
std::span<const Property<Cutter>> body_properties() { return body; }
std::span<const Property<Cutter>> size_properties() { return sizes; }

bool is_web_thinned(const Cutter& c) {
  return c.web ? *c.web == Web::thinned : c.tool_material == ToolMaterial::carbide;
}

double bending_strength_n_mm2(const Cutter& cutter) {
  switch (cutter.tool_material.value_or(ToolMaterial::hss)) {
    case ToolMaterial::carbide: return 3500;
    case ToolMaterial::hss:
    case ToolMaterial::hss_co: return 3800;
    case ToolMaterial::hss_pm: return 4000;
    default: return 1000;  // steel bodies
  }
}

double youngs_modulus_n_mm2(ToolMaterial material) {
  switch (material) {
    case ToolMaterial::carbide: return 600e3;
    case ToolMaterial::cermet: return 450e3;
    default: return 210e3;  // HSS, and the steel bodies of insert cutters
  }
}

double density_g_cm3(ToolMaterial material) {
  switch (material) {
    case ToolMaterial::carbide: return 14.5;
    case ToolMaterial::hss:
    case ToolMaterial::hss_co:
    case ToolMaterial::hss_pm: return 8.1;
    default: return 7.85;
  }
}

std::optional<double> usual_edge_radius_mm(const Cutter& cutter) {
  if (!cutter.tool_material) return std::nullopt;
  switch (*cutter.tool_material) {
    case ToolMaterial::carbide_insert:
    case ToolMaterial::cermet:
    case ToolMaterial::ceramic:
    case ToolMaterial::cbn: return 0.02;  // honed or chamfered edges
    default: {
      const bool tapered = cutter.kind == CutterKind::tapered && cutter.corner_radius_mm.value_or(0) > 0;
      const double size = tapered ? 2 * *cutter.corner_radius_mm : cutter.diameter_mm.value_or(10);
      return std::clamp(0.0015 * size, 0.001, 0.005);
    }
  }
}

}  // namespace pecorra
