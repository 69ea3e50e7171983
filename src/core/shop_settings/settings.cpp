#include "core/shop_settings/settings.h"

#include <array>

namespace pecorra {
namespace {

using enum Quantity;
constexpr std::array list{
    field<&ShopSettings::name>("name", "", "Name of the shop", text, ""),
    field<&ShopSettings::n_step_rpm>("n_step_rpm", "", "Speeds rounded down to", spindle_speed, "").above(0),
    field<&ShopSettings::vf_step_mm_min>("vf_step_mm_min", "", "Feeds rounded down to", table_feed, "").above(0),
    field<&ShopSettings::wear_factor>("wear_factor", "", "Force of worn edges", number, "1 is a sharp edge")
        .above(0)
        .within(0, 3),
    field<&ShopSettings::name_pattern>("name_pattern", "", "Pattern", text,
                                       "Properties in braces by symbol or label; a part in square brackets is left out "
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
    field<&ShopSettings::permitted_rough_per_d>(
        "permitted_rough_per_d", "", "Deflection, roughing × D", number,
        "What the tip may be pushed aside, in diameters; an estimate, no source")
        .above(0),
    field<&ShopSettings::permitted_finish_mm>("permitted_finish_mm", "", "Deflection, finishing", length,
                                              "What the tip may be pushed aside; an estimate, no source")
        .above(0),
    field<&ShopSettings::edge_change_min>("edge_change_min", "", "Changing an edge", duration,
                                          "Time the machine stands for a worn edge; an estimate")
        .above(0),
    field<&ShopSettings::use_starters>("use_starters", "", "Starter values", flag,
                                       "Shipped values where no row of the shop or a maker fits"),
    field<&ShopSettings::use_factors>(
        "use_factors", "", "Factors", flag,
        "On values where no real row fits: hardness, tool material, coating, quality; a proven value is never scaled")};

}  // namespace

template <>
std::span<const Property<ShopSettings>> properties<ShopSettings>() {
  return list;
}

}  // namespace pecorra
