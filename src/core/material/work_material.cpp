#include "core/material/work_material.h"

#include <array>

namespace pecorra {
namespace {

constexpr Choice group_choices[] = {{"P", "steel"}, {"M", "stainless steel"}, {"K", "cast iron"},
                                    {"N", "non-ferrous metals"}, {"S", "heat-resistant alloys"},
                                    {"H", "hardened steel"}, {"wood", "wood and boards"}, {"plastic", "plastics"},
                                    {"composite", "composites"}, {"foam", "foam"}};
using enum Quantity;

const std::array force_list{
    field<&WorkMaterial::kc11_n_mm2>("kc11_n_mm2", "kc1.1", "Specific cutting force", stress,
                                     "For a chip 1 mm thick and 1 mm wide").above(0),
    field<&WorkMaterial::mc>("mc", "mc", "Rise of the force", number, "Exponent of the chip thickness")
        .within(0, 0.999999),
    field<&WorkMaterial::rake_ref_deg>("rake_ref_deg", "γref", "Rake of the constants", angle,
                                       "At which kc1.1 was measured").within(-60, 60)};

const std::array all{
    field<&WorkMaterial::name>("name", "", "Name", text, "Short designation used everywhere"),
    field<&WorkMaterial::designations>("designations", "", "Also known as", text, "Other designations"),
    field<&WorkMaterial::group>("group", "", "Group", choice, "ISO 513 letter, or our own word"),
    field<&WorkMaterial::condition>("condition", "", "Condition", text, "Heat treatment or state"),
    field<&WorkMaterial::hardness_hb>("hardness_hb", "HB", "Hardness", number, "Brinell").above(0),
    field<&WorkMaterial::strength_n_mm2>("strength_n_mm2", "Rm", "Tensile strength", stress, "Typical").above(0),
    force_list[0], force_list[1], force_list[2],
    field<&WorkMaterial::source>("source", "", "Source", text, "Where the values are from")};

}  // namespace

template <> std::span<const Choice> choices_of<MaterialGroup>() { return group_choices; }
template <> std::span<const Property<WorkMaterial>> properties<WorkMaterial>() { return all; }
std::span<const Property<WorkMaterial>> force_properties() { return force_list; }

}  // namespace pecorra
