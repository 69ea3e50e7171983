#include "core/shop_settings/settings.h"

#include <array>

namespace pecorra {
namespace {

using enum Quantity;
constexpr std::array list{
    field<&ShopSettings::name>("name", "", "Name of the shop", text, ""),
    field<&ShopSettings::n_step_rpm>("n_step_rpm", "", "Round speeds down to", spindle_speed, "").above(0),
    field<&ShopSettings::vf_step_mm_min>("vf_step_mm_min", "", "Round feeds down to", table_feed, "").above(0),
    field<&ShopSettings::wear_factor>("wear_factor", "", "Wear factor on force", number, "1 for a sharp edge")
        .above(0)
        .within(0, 3),
    field<&ShopSettings::name_pattern>("name_pattern", "", "Pattern", text,
                                       "Properties in braces by symbol or label; a part in square brackets is skipped "
                                       "where one of its properties is not given"),
    field<&ShopSettings::premium_factor>("premium_factor", "", "Speed, premium quality", number,
                                         "Factor on the cutting speed of starter rows")
        .above(0)
        .within(0, 3),
    field<&ShopSettings::standard_factor>("standard_factor", "", "Speed, standard quality", number,
                                          "Factor on the cutting speed of starter rows")
        .above(0)
        .within(0, 3),
    field<&ShopSettings::plain_factor>("plain_factor", "", "Speed, plain quality", number,
                                       "Factor on the cutting speed of starter rows")
        .above(0)
        .within(0, 3),
    field<&ShopSettings::permitted_rough_per_d>("permitted_rough_per_d", "", "Deflection, roughing × D", number,
                                                "Permitted tip deflection over D, up to Ø5 mm and no less than 0.02 mm")
        .above(0),
    field<&ShopSettings::permitted_finish_mm>("permitted_finish_mm", "", "Deflection, finishing", length,
                                              "Permitted tip deflection; an estimate, no source")
        .above(0),
    field<&ShopSettings::bending_safety>("bending_safety", "", "Safety against breaking", number,
                                         "Bending strength of the tool material over the permitted stress")
        .within(1, 20),
    field<&ShopSettings::edge_change_min>("edge_change_min", "", "Changing an edge", duration,
                                          "Downtime to change a worn edge; an estimate")
        .above(0),
    field<&ShopSettings::ramp_deg>("ramp_deg", "", "Ramp angle", angle,
                                   "Of slopes and helices, where the cutter states no greatest one")
        .above(0)
        .within(0, 45),
    field<&ShopSettings::ramp_not_to_centre_deg>("ramp_not_to_centre_deg", "", "Ramp, not to centre", angle,
                                                 "The same for cutters that do not cut to the centre")
        .above(0)
        .within(0, 45),
    field<&ShopSettings::helix_per_d>("helix_per_d", "", "Helix × D", number, "Diameter of a helix's path over D")
        .above(0)
        .within(0, 1),
    field<&ShopSettings::lead_per_d>("lead_per_d", "", "Lead × D", number, "Radius of arcs in and out over D")
        .above(0)
        .within(0, 2),
    field<&ShopSettings::feed_height_mm>("feed_height_mm", "", "Feed height", length,
                                         "Rapids end this far above material")
        .above(0),
    field<&ShopSettings::overrun_mm>("overrun_mm", "", "Overrun", length, "Of facing, past the edges of the stock")
        .above(0),
    field<&ShopSettings::full_width_deg>("full_width_deg", "", "Full width from", angle,
                                         "Engagement from which a cut has the conditions of a slot")
        .within(90, 180),
    field<&ShopSettings::clearance_mm>("clearance_mm", "", "Retract plane", length,
                                       "Above the stock, where the setup states none")
        .above(0),
    field<&ShopSettings::overlap_mm>("overlap_mm", "", "Overlap", length,
                                     "Of a finishing pass: so far it goes on past where it began")
        .within(0, 50),
    field<&ShopSettings::dwell_turns>("dwell_turns", "", "Dwell, turns", number,
                                      "At the bottom of spots, sinks and counterbores, where no time is typed")
        .within(0, 100),
    field<&ShopSettings::breakthrough_mm>("breakthrough_mm", "", "Breakthrough", length,
                                          "Of mills, past the underside of what goes through")
        .within(0, 50),
    field<&ShopSettings::use_starters>("use_starters", "", "Starter values", flag,
                                       "Use shipped values where no shop or maker row fits"),
    field<&ShopSettings::use_factors>(
        "use_factors", "", "Factors", flag,
        "Scale by hardness, tool material, coating and quality where no row fits; proven values are never scaled")};

}  // namespace

template <>
std::span<const Property<ShopSettings>> properties<ShopSettings>() {
  return list;
}

}  // namespace pecorra
