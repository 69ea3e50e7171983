// Starter values for what no row of any table fits: by tool material and group of the work material, by the family of
// the cutter and the operation. In the lower half of the ranges that handbooks share, from memory; never proven, always
// a guess.
#pragma once

#include <optional>
#include <string_view>

#include "core/cutter/cutter.h"
#include "core/cutter/operation_kind.h"
#include "core/machine/machine.h"
#include "core/material/work_material.h"
#include "core/tables/condition_table.h"

namespace pecorra {

struct StarterValues {
  double vc_m_min = 0;
  double feed_mm = 0;  // per tooth for milling, per revolution for holes
  FeedKind feed_kind = FeedKind::per_tooth;
  std::optional<double> ap_mm, ae_mm;  // milling; the depth no more than the flutes
  double plunge_factor = 0.3, ramp_factor = 0.4;
  Coolant coolant = Coolant::flood;
};

// What the rules look at.
struct StarterQuestion {
  CutterKind kind = CutterKind::end_mill;
  std::optional<ToolMaterial> tool_material;  // not stated: as the most careful, HSS
  MaterialGroup group = MaterialGroup::P;
  OperationKind operation = OperationKind::side_rough;
  double diameter_mm = 0;
  double flute_length_mm = 0;  // 0: not known
  double pitch_mm = 0;         // of taps; 0: not known
};

// Why there is none: a stable code, for a sentence.
enum class NoStarter { none, tool_material_does_not_cut, kind_cannot, pitch_missing };

// Values, or the reason why not.
std::optional<StarterValues> starter_values(const StarterQuestion& question, NoStarter* why = nullptr);

// Starter values are for this hardness of a group, HB; 0: hardness says nothing there. Harder work is cut slower in
// proportion, softer work no faster: about what handbook tables of speed over hardness show for steel, from memory.
inline constexpr double usual_stickout_per_d = 4;
double usual_hardness_hb(MaterialGroup group);
double hardness_factor(MaterialGroup group, double hardness_hb);

// The rules written out as rows, for every kind, tool material, group and operation that they answer, at two diameters:
// to be looked at and copied, tens of thousands of rows.
inline constexpr Id starter_rules_id{0x7374617274657273ull, 0x72756c6573ull};
ConditionTable starter_rules_table();
// Its row for this question, the nearer diameter of the two.
Id starter_row_id(const StarterQuestion& question);

}  // namespace pecorra
