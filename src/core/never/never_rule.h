// What must never be done, as data: this tool on that work, whatever speed a table offers. A list ships
// (data/never.json); a shop adds its own.
#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <vector>

#include "core/cutter/cutter.h"
#include "core/cutter/operation_kind.h"
#include "core/material/work_material.h"

namespace pecorra {

enum class Verdict { never, warning };
template <>
std::span<const Choice> choices_of<Verdict>();

// Applies where everything that it states fits; what it leaves empty fits anything.
struct NeverRule {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  Verdict verdict = Verdict::never;
  std::optional<CutterKind> kind;
  std::optional<ToolMaterial> tool_material;
  std::string coating;  // part of its name: "tialn"
  std::optional<TapForm> tap_form;
  std::optional<MadeFor> made_for;
  bool not_to_centre = false;  // only cutters that do not cut to the centre
  std::optional<OperationKind> operation;
  std::optional<MaterialGroup> group;
  std::optional<Subgroup> subgroup;
  std::string alloy;  // any designation of the material
  std::optional<double> hardness_from_hb, hardness_to_hb;
  std::string why, instead, source;
  bool operator==(const NeverRule&) const = default;
};
template <>
std::span<const Property<NeverRule>> properties<NeverRule>();

// A rule without a reason, one that nothing limits, a range that is reversed.
std::vector<Message> check_never_rule(const NeverRule& rule);

bool fits(const NeverRule& rule, const WorkMaterial& material);

// The rules as bit masks: a combination is forbidden if a bit is set in the masks of cutter, material and operation.
class NeverRules {
 public:
  static constexpr std::size_t most = 256;  // further rules do not count
  using Mask = std::array<std::uint64_t, most / 64>;

  NeverRules() = default;
  explicit NeverRules(std::vector<NeverRule> rules);

  Mask of(const Cutter& cutter) const;
  Mask of(const WorkMaterial& material) const;
  static bool meet(const Mask& a, const Mask& b) {
    return ((a[0] & b[0]) | (a[1] & b[1]) | (a[2] & b[2]) | (a[3] & b[3])) != 0;
  }
  // The rules that forbid or warn here, those that forbid first.
  std::vector<const NeverRule*> broken(const Mask& cutter, const Mask& material, OperationKind operation) const;
  const std::vector<NeverRule>& rules() const { return rules_; }

 private:
  std::vector<NeverRule> rules_;
};

}  // namespace pecorra
