#include "core/material/hazard.h"

namespace pecorra {

Hazard hazard_of(const WorkMaterial& material) {
  if (material.hazard) return *material.hazard;
  const auto subgroup = subgroup_of(material);
  if (!subgroup) return Hazard::none;
  switch (*subgroup) {
    case Subgroup::magnesium: return Hazard::burning_metal;
    case Subgroup::beryllium_copper: return Hazard::toxic_dust;
    case Subgroup::graphite:
    case Subgroup::cfrp:
    case Subgroup::gfrp:
    case Subgroup::aramid: return Hazard::abrasive_dust;
    case Subgroup::softwood:
    case Subgroup::hardwood:
    case Subgroup::board: return Hazard::wood_dust;
    case Subgroup::titanium: return Hazard::burning_chips;
    case Subgroup::foam:
    case Subgroup::tooling_board: return Hazard::dry_only;
    default: return Hazard::none;
  }
}

CoolantSet coolants_of(Hazard hazard) {
  switch (hazard) {
    case Hazard::burning_metal: return dry_or_air | bit(Coolant::mist_oil);  // water and hot magnesium give hydrogen
    case Hazard::abrasive_dust:
    case Hazard::wood_dust:
    case Hazard::dry_only: return dry_or_air;
    case Hazard::stress_cracking: return dry_or_air | bit(Coolant::mist);  // oils and emulsions craze it
    case Hazard::none:
    case Hazard::toxic_dust:
    case Hazard::burning_chips: break;
  }
  return every_coolant;
}

CoolantSet coolants_of(std::optional<ToolMaterial> tool_material) {
  return tool_material == ToolMaterial::ceramic ? dry_or_air : every_coolant;
}

}  // namespace pecorra
