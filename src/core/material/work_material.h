// A work material: what is cut.
#pragma once

#include <optional>
#include <string>

#include "core/base/property.h"

namespace pecorra {

// ISO 513 groups by their letters; groups of our own, in words, for what the standard does not cover.
enum class MaterialGroup { P, M, K, N, S, H, wood, plastic, composite, foam };
inline constexpr int material_group_count = 10;
template <> std::span<const Choice> choices_of<MaterialGroup>();

struct WorkMaterial {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  std::string designations;  // other names, parted by commas
  MaterialGroup group = MaterialGroup::P;
  std::string condition;
  std::optional<double> hardness_hb;
  std::optional<double> strength_n_mm2;
  std::optional<double> kc11_n_mm2;   // specific cutting force at 1 × 1 mm of chip
  std::optional<double> mc;           // exponent of the chip thickness
  std::optional<double> rake_ref_deg; // rake at which kc1.1 was measured
  std::string source;                 // of the values above
  bool operator==(const WorkMaterial&) const = default;
};

template <> std::span<const Property<WorkMaterial>> properties<WorkMaterial>();
// kc1.1, mc and the reference rake: what `compute` accepts as a material.
std::span<const Property<WorkMaterial>> force_properties();

}  // namespace pecorra
