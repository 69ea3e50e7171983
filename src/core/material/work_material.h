// A work material: what is cut.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/message.h"
#include "core/base/property.h"

namespace pecorra {

// The groups of ISO 513 by their letters, and groups of our own for what the standard does not cover.
enum class MaterialGroup { P, M, K, N, S, H, wood, plastic, composite, foam };
inline constexpr int material_group_count = 10;
template <>
std::span<const Choice> choices_of<MaterialGroup>();

// Divisions of groups whose materials cut differently: N and S as in VDI 3323, the rest our own.
enum class Subgroup {
  aluminium_wrought,
  aluminium_cast,
  magnesium,
  zinc,
  copper,
  brass,
  brass_free_cutting,
  bronze,
  beryllium_copper,
  graphite,
  heat_resistant,
  titanium,
  thermoplastic,
  thermoplastic_filled,
  thermoset,
  softwood,
  hardwood,
  board,
  cfrp,
  gfrp,
  aramid,
  metal_panel,
  mineral_filled,
  foam,
  tooling_board
};
template <>
std::span<const Choice> choices_of<Subgroup>();

// What is dangerous in cutting it; see hazard.h for the permitted coolants.
enum class Hazard {
  none,
  burning_metal,
  toxic_dust,
  abrasive_dust,
  wood_dust,
  burning_chips,
  stress_cracking,
  dry_only
};
template <>
std::span<const Choice> choices_of<Hazard>();

// Evidence for a value: a named published source, figures common to handbooks, or an estimate. All from memory.
enum class Evidence { published, handbook, estimate };
template <>
std::span<const Choice> choices_of<Evidence>();

struct WorkMaterial {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  std::string designations;  // other names, separated by commas
  MaterialGroup group = MaterialGroup::P;
  std::optional<Subgroup> subgroup;
  std::optional<int> vdi_group;  // VDI 3323, 1 to 41
  std::string condition;
  std::optional<double> hardness_hb, hardness_from_hb, hardness_to_hb;  // usual, and its range
  std::optional<double> strength_n_mm2, strength_from_n_mm2, strength_to_n_mm2;
  std::optional<Evidence> strength_evidence;  // of hardness and strength
  std::optional<double> kc11_n_mm2;           // specific cutting force at 1 × 1 mm of chip
  std::optional<double> mc;                   // exponent of the chip thickness
  std::optional<double> rake_ref_deg;         // rake at which kc1.1 was measured
  std::optional<Evidence> force_evidence;
  // The same law with constants for milling, and the chip thickness they hold for.
  std::optional<double> kc11_milling_n_mm2, mc_milling, milling_from_mm, milling_to_mm;
  std::optional<Evidence> milling_evidence;
  std::optional<double> unit_power_n_mm2;  // energy per volume of chips at 0.3 mm feed (N/mm² = J/cm³)
  std::optional<Evidence> unit_power_evidence;
  std::optional<double> density_g_cm3;
  std::optional<Evidence> density_evidence;
  std::optional<Hazard> hazard;
  std::string hazard_source;
  bool cut_here = false;  // the shop cuts it: it is in the chart, and first in lists
  std::string source;     // of the values above
  std::string notes;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const WorkMaterial&) const = default;
};

template <>
std::span<const Property<WorkMaterial>> properties<WorkMaterial>();
// kc1.1, mc and the reference rake: what `compute` accepts as a material.
std::span<const Property<WorkMaterial>> force_properties();

// Ranges that are reversed or leave the usual value out, half of the force constants, hardness and strength of a steel
// that do not go together (ISO 18265, a third apart).
std::vector<Message> check_material(const WorkMaterial& material);
// As stated; else by its VDI 3323 group, which divides aluminium, copper alloys, heat-resistant alloys and titanium.
std::optional<Subgroup> subgroup_of(const WorkMaterial& material);
// Whether a text names it: by its name or any of its designations, blanks and case aside.
bool is_called(const WorkMaterial& material, std::string_view text);

}  // namespace pecorra
