#include "core/cutter/cutter.h"

#include <array>

namespace pecorra {
namespace {

constexpr Choice kind_choices[] = {{"end_mill", "End mill"}, {"bull_nose", "Bull-nose end mill"},
                                   {"ball", "Ball end mill"}, {"rougher", "Roughing end mill"},
                                   {"high_feed", "High-feed mill"}, {"face_mill", "Face mill"},
                                   {"fly_cutter", "Fly cutter"}, {"tapered", "Tapered end mill"},
                                   {"chamfer_mill", "Chamfer mill"}, {"engraver", "Engraving cutter"},
                                   {"corner_rounding", "Corner-rounding cutter"}, {"t_slot", "T-slot cutter"},
                                   {"dovetail", "Dovetail cutter"}, {"undercut_ball", "Undercut ball cutter"},
                                   {"barrel", "Barrel cutter"}, {"thread_mill", "Thread mill"},
                                   {"form", "Form cutter"}, {"drill", "Drill"}, {"spot_drill", "Spot drill"},
                                   {"centre_drill", "Centre drill"}, {"step_drill", "Step drill"},
                                   {"countersink", "Countersink"}, {"counterbore", "Counterbore"},
                                   {"reamer", "Reamer"}, {"tap", "Tap"}, {"boring_bar", "Boring bar"},
                                   {"back_boring_bar", "Back-boring bar"}, {"drag_knife", "Drag knife"},
                                   {"probe", "Touch probe"}};
constexpr Choice material_choices[] = {{"hss", "HSS"}, {"hss_co", "Cobalt HSS"}, {"hss_pm", "Powder-metal HSS"},
                                       {"carbide", "Carbide"}, {"carbide_insert", "Carbide inserts"},
                                       {"cermet", "Cermet"}, {"ceramic", "Ceramic"}, {"cbn", "CBN"}, {"pcd", "PCD"}};
constexpr Choice tap_choices[] = {{"cut", "Cutting tap"}, {"form", "Forming tap"}};
constexpr Choice unit_choices[] = {{"mm", "mm"}, {"inch", "inch"}};

using enum Quantity;

const std::array body{
    field<&Cutter::kind>("kind", "", "Kind", choice, "What the cutter is"),
    field<&Cutter::diameter_mm>("diameter_mm", "DC", "Diameter", length, "Largest diameter that cuts").above(0),
    field<&Cutter::corner_radius_mm>("corner_radius_mm", "RE", "Corner radius", length,
                                     "Radius between the side and the end; 0 is sharp").within(0, 1e6),
    field<&Cutter::flutes>("flutes", "NOF", "Flutes", count, "Number of cutting edges around").within(1, 1000),
    field<&Cutter::helix_deg>("helix_deg", "FHA", "Helix angle", angle, "Between the flute and the axis")
        .within(0, 89.999999),
    field<&Cutter::rake_deg>("rake_deg", "GAMF", "Rake angle", angle,
                             "Radial rake; left empty, no correction of the force is made").within(-60, 60),
    field<&Cutter::cutting_edge_angle_deg>("cutting_edge_angle_deg", "KAPR", "Cutting edge angle", angle,
                                           "Between the edge and the direction of feed; 90 is a square shoulder")
        .above(0).within(0, 90),
    field<&Cutter::point_angle_deg>("point_angle_deg", "SIG", "Point angle", angle, "Full angle of the point")
        .above(0).within(0, 180),
    field<&Cutter::tip_diameter_mm>("tip_diameter_mm", "DCX1", "Tip diameter", length, "Flat at the tip; 0 is a point")
        .within(0, 1e6),
    field<&Cutter::taper_half_angle_deg>("taper_half_angle_deg", "TA", "Half angle", angle,
                                         "Between the flank and the axis").within(0, 89.999999),
    field<&Cutter::flute_length_mm>("flute_length_mm", "LCF", "Flute length", length,
                                    "From the tip to the end of the cutting edges").above(0),
    field<&Cutter::reach_mm>("reach_mm", "LU", "Reach", length, "From the tip to where the shank begins").above(0),
    field<&Cutter::neck_diameter_mm>("neck_diameter_mm", "DN", "Neck diameter", length,
                                     "Between the flutes and the shank; empty counts as the diameter").above(0),
    field<&Cutter::shank_diameter_mm>("shank_diameter_mm", "DCONMS", "Shank diameter", length,
                                      "What the holder clamps").above(0),
    field<&Cutter::overall_length_mm>("overall_length_mm", "OAL", "Overall length", length, "Tip to end of shank")
        .above(0),
    field<&Cutter::tool_material>("tool_material", "", "Made of", choice, "Material of the cutting edges"),
    field<&Cutter::core_ratio>("core_ratio", "", "Core ratio", number,
                               "Equivalent diameter of the fluted part over the diameter, 0.8 if not stated")
        .above(0).within(0, 1),
    field<&Cutter::pitch_mm>("pitch_mm", "TP", "Pitch", length, "Distance between two threads").above(0),
    field<&Cutter::max_rpm>("max_rpm", "RPMX", "Permitted speed", spindle_speed, "As marked on the cutter").above(0),
    field<&Cutter::tap_form>("tap_form", "", "Tap form", choice, "Cutting or forming"),
    field<&Cutter::max_chip_mm>("max_chip_mm", "", "Permitted chip", feed_per_tooth,
                                "Greatest chip thickness the edge bears").above(0),
    field<&Cutter::edge_radius_mm>("edge_radius_mm", "", "Edge radius", feed_per_tooth,
                                   "Rounding of the cutting edge; thinner chips rub").above(0)};

const std::array rest{
    field<&Cutter::number>("number", "", "Number", count, "Number within its library").within(1, 99999999),
    field<&Cutter::name>("name", "", "Name", text, "What people call it; on sheets and in comments"),
    field<&Cutter::library>("library", "", "Library", Quantity::id, "Where it is kept"),
    field<&Cutter::maker>("maker", "", "Maker", text, "Who made it"),
    field<&Cutter::series>("series", "", "Series", text, "The maker's series; maker tables are keyed to it"),
    field<&Cutter::order_code>("order_code", "", "Order code", text, "To buy it again"),
    field<&Cutter::coating>("coating", "", "Coating", text, "Of the cutting edges"),
    field<&Cutter::notes>("notes", "", "Notes", text, "For the programmer"),
    field<&Cutter::unit>("unit", "", "Bought in", choice, "The unit a bare number is read in")};

const auto all = [] {
  std::array<Property<Cutter>, body.size() + rest.size()> joined;
  std::copy(body.begin(), body.end(), joined.begin());
  std::copy(rest.begin(), rest.end(), joined.begin() + body.size());
  return joined;
}();

}  // namespace

template <> std::span<const Choice> choices_of<CutterKind>() { return kind_choices; }
template <> std::span<const Choice> choices_of<ToolMaterial>() { return material_choices; }
template <> std::span<const Choice> choices_of<TapForm>() { return tap_choices; }
template <> std::span<const Choice> choices_of<UnitSystem>() { return unit_choices; }

template <> std::span<const Property<Cutter>> properties<Cutter>() { return all; }
std::span<const Property<Cutter>> body_properties() { return body; }

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

std::optional<double> usual_edge_radius_mm(std::optional<ToolMaterial> material) {
  if (!material) return std::nullopt;
  switch (*material) {
    case ToolMaterial::carbide_insert:
    case ToolMaterial::cermet:
    case ToolMaterial::ceramic:
    case ToolMaterial::cbn: return 0.02;  // honed or chamfered edges
    default: return 0.005;
  }
}

}  // namespace pecorra
