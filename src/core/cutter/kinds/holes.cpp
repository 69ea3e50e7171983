// Cutters that finish a hole that is there: counterbores, reamers, boring bars.
#include "core/cutter/kinds/holes.h"

#include <cmath>
#include <numbers>

#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum Dimension;

// The pilot guides and does not cut.
Profile counterbore_silhouette(const Cutter& c) {
  const double pilot = c.step_diameter_mm.value_or(0) / 2, length = pilot > 0 ? c.step_length_mm.value_or(0) : 0;
  Outline outline;
  if (length > 0) outline.to(pilot, 0, ProfileRole::neck).to(pilot, length, ProfileRole::neck);
  return outline.to(*c.diameter_mm / 2, length).flank_and_shaft(c).done();
}

void check_counterbore(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  check_step(c, messages);
}

// Angle of the lead against the axis: the feed is axial.
double lead_slope(const Cutter& c) { return std::tan(c.cutting_edge_angle_deg.value_or(45) * std::numbers::pi / 180); }

Profile reamer_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, lead = c.lead_length_mm.value_or(0);
  return Outline().to(r - lead * lead_slope(c), 0).to(r, lead).flank_and_shaft(c).done();
}

void check_reamer(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  const double lead = c.lead_length_mm.value_or(0);
  const double most = std::min(*c.flute_length_mm, *c.diameter_mm / 2 / lead_slope(c));
  if (lead >= most)
    messages.push_back(
        fault(Severity::error, "lead_over_flutes", "lead_length_mm", {{"lead_mm", lead}, {"flutes_mm", most}}));
}

Profile boring_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, rounding = c.corner_radius_mm.value_or(0),
               bar = std::min(neck_mm(c) / 2, r - rounding);
  Outline outline;
  outline.to(bar, 0, ProfileRole::neck).to(r - rounding, 0);
  if (rounding > 0) outline.arc(r, rounding, {r - rounding, rounding});
  return outline.flank_and_shaft(c).done();
}

void check_boring(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  check_range(c, messages);
  const double rounding = c.corner_radius_mm.value_or(0), most = std::min(*c.flute_length_mm, *c.diameter_mm / 2);
  if (rounding >= most)
    messages.push_back(
        fault(Severity::error, "rounding_over_edge", "corner_radius_mm", {{"radius_mm", rounding}, {"most_mm", most}}));
}

constexpr ParameterUse counterbore_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                                   {"flutes", true, 0, 3},
                                                   {"step_diameter_mm", false, 0.5, 0, across_step},
                                                   {"step_length_mm", false, 0.4, 0, along_axis},
                                                   {"flute_length_mm", true, 1.5, 0, along_axis},
                                                   {"overall_length_mm", true, 4, 30, along_axis},
                                                   {"shank_diameter_mm", true, 0.8, 0, across_shank},
                                                   {"reach_mm", false, 2, 0, along_axis},
                                                   {"neck_diameter_mm", false, 0.9, 0, across_neck},
                                                   {"helix_deg", false, 0, 15},
                                                   {"edge_radius_mm"},
                                                   {"max_rpm"}};
constexpr ParameterUse reamer_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                              {"flutes", true, 0, 6},
                                              {"lead_length_mm", false, 0.1, 0, none},
                                              {"cutting_edge_angle_deg", false, 0, 45, none},
                                              {"flute_length_mm", true, 2, 12, along_axis},
                                              {"overall_length_mm", true, 8, 60, along_axis},
                                              {"shank_diameter_mm", true, 1, 0, across_shank},
                                              {"reach_mm", false, 5, 30, along_axis},
                                              {"neck_diameter_mm", false, 0.8, 0, across_neck},
                                              {"helix_deg", false, 0, 7},
                                              {"edge_radius_mm"},
                                              {"max_rpm"}};
constexpr ParameterUse boring_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                              {"flutes", true, 0, 1},
                                              {"diameter_from_mm"},
                                              {"diameter_to_mm"},
                                              {"corner_radius_mm", false, 0.02, 0, corner},
                                              {"cutting_edge_angle_deg", false, 0, 90, none},
                                              {"flute_length_mm", true, 0.25, 0, along_axis},
                                              {"overall_length_mm", true, 5, 40, along_axis},
                                              {"shank_diameter_mm", true, 0.8, 0, across_shank},
                                              {"neck_diameter_mm", false, 0.75, 0, across_neck},
                                              {"reach_mm", true, 3.5, 0, along_axis},
                                              {"rake_deg"},
                                              {"edge_radius_mm"},
                                              {"max_rpm"}};

}  // namespace

const KindDeclaration counterbore_kind{CutterKind::counterbore,
                                       CuttingForm::other,
                                       set_of(OperationKind::counterbore),
                                       OperationKind::counterbore,
                                       counterbore_parameters,
                                       0.3,
                                       6,
                                       counterbore_silhouette,
                                       check_counterbore};
const KindDeclaration reamer_kind{CutterKind::reamer,
                                  CuttingForm::other,
                                  set_of(OperationKind::ream),
                                  OperationKind::ream,
                                  reamer_parameters,
                                  0.8,
                                  20,
                                  reamer_silhouette,
                                  check_reamer};
const KindDeclaration boring_bar_kind{CutterKind::boring_bar,
                                      CuttingForm::other,
                                      set_of(OperationKind::bore),
                                      OperationKind::bore,
                                      boring_parameters,
                                      0.03,
                                      2,
                                      boring_silhouette,
                                      check_boring};

}  // namespace pecorra
