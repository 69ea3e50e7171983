// The hazard of a work material, and the coolants it permits.
#pragma once

#include <optional>

#include "core/cutter/cutter.h"
#include "core/machine/machine.h"
#include "core/material/work_material.h"

namespace pecorra {

// A bit per Coolant.
using CoolantSet = std::uint8_t;
constexpr CoolantSet bit(Coolant coolant) { return static_cast<CoolantSet>(1u << static_cast<unsigned>(coolant)); }
inline constexpr CoolantSet every_coolant = (1u << coolant_count) - 1;
// Of a cutter without channels.
inline constexpr CoolantSet from_outside =
    every_coolant & static_cast<CoolantSet>(~(bit(Coolant::through_liquid) | bit(Coolant::through_air)));
inline constexpr CoolantSet dry_or_air = bit(Coolant::off) | bit(Coolant::air) | bit(Coolant::through_air);

// As stated, else that of its subgroup. Common practice, no source, unless the material states one.
Hazard hazard_of(const WorkMaterial& material);
// Coolants that the hazard permits; everything for none.
CoolantSet coolants_of(Hazard hazard);
// Coolants that the cutting edge tolerates: ceramic cracks in any liquid (common practice, no source).
CoolantSet coolants_of(std::optional<ToolMaterial> tool_material);

}  // namespace pecorra
