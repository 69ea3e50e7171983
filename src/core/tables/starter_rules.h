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
  int flutes = 0;              // 0: not known
  double tip_mm = 0;           // diameter of a ball tip; 0: none
};

// Why there is none: a stable code, for a sentence.
enum class NoStarter { none, tool_material_does_not_cut, kind_cannot, pitch_missing };

// Values, or the reason why not.
std::optional<StarterValues> starter_values(const StarterQuestion& question, NoStarter* why = nullptr);

inline constexpr double usual_stickout_per_d = 4;

// What the material itself does to starter values, which are for a whole group at its usual hardness.
struct StarterFactor {
  double speed = 1, feed = 1, depth = 1;
  bool is_one() const { return speed == 1 && feed == 1 && depth == 1; }
};
// HB; 0: hardness changes nothing there.
double usual_hardness_hb(MaterialGroup group, std::optional<Subgroup> subgroup);
// Up to 45 HRC the speed falls in proportion to the hardness, softer work is cut no faster; above, speed, feed and
// depth fall along curves: 55 HRC takes 0.65 of the speed at 45, 62 HRC 0.65 of that (common practice, no source).
StarterFactor hardness_factor(MaterialGroup group, std::optional<Subgroup> subgroup, double hardness_hb);
// Against the group: titanium against nickel alloys, bronze against aluminium (common practice, no source).
StarterFactor subgroup_factor(std::optional<Subgroup> subgroup, std::optional<ToolMaterial> tool);

// Depth and width that suit the size and shape of the cutter: micro cutters, fly cutters, ball tips, and heads that cut
// over their whole height on both sides. Common practice, no source.
void fit_engagement(const StarterQuestion& question, double& ap_mm, double& ae_mm);
// Whether it cuts with its whole head, however little the machine bears.
bool cuts_whole_head(OperationKind operation);
// Of the diameter: what is left for the reamer or the boring bar (handbooks, from memory); 0 for others.
double allowance_mm(OperationKind operation, double diameter_mm);

// The rules written out as rows, for every kind, tool material, group and operation that they answer, at two diameters:
// to be looked at and copied, tens of thousands of rows.
inline constexpr Id starter_rules_id{0x7374617274657273ull, 0x72756c6573ull};
ConditionTable starter_rules_table();
// Its row for this question, the nearer diameter of the two.
Id starter_row_id(const StarterQuestion& question);

}  // namespace pecorra
