// Cutters whose edge is a cone: tapered end mills, chamfer mills, engravers, spot drills, countersinks.
#include "core/cutter/kinds/cones.h"

#include <cmath>
#include <numbers>

#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum OperationKind;
using enum Dimension;

double half_rad(const Cutter& c) { return half_angle_deg(c).value_or(45) * std::numbers::pi / 180; }
double tip_mm(const Cutter& c) { return c.tip_diameter_mm.value_or(0); }

// Where the cone reaches the diameter.
double cone_height(const Cutter& c) { return (*c.diameter_mm - tip_mm(c)) / 2 / std::tan(half_rad(c)); }

Profile cone_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2;
  return Outline().to(tip_mm(c) / 2, 0).to(r, cone_height(c)).flank_and_shaft(c).done();
}

// A ball tip is the largest radius that fits on the flat at the tip: r·(1 − sin α)/cos α on each side.
double greatest_rounding(const Cutter& c) {
  const double a = half_rad(c);
  return tip_mm(c) / 2 * std::cos(a) / (1 - std::sin(a));
}

Profile tapered_silhouette(const Cutter& c) {
  const double a = half_rad(c), tip = tip_mm(c) / 2, r = *c.diameter_mm / 2, flutes = *c.flute_length_mm;
  const double rounding = std::min(c.corner_radius_mm.value_or(0), greatest_rounding(c));
  Outline outline;
  if (rounding > 0) {
    const double centre = tip - rounding * (1 - std::sin(a)) / std::cos(a);
    outline.to(centre, 0).arc(centre + rounding * std::cos(a), rounding * (1 - std::sin(a)), {centre, rounding});
  } else {
    outline.to(tip, 0);
  }
  const double top = std::min(flutes, cone_height(c));
  return outline.to(tip + top * std::tan(a), top).to(top < flutes ? r : outline.at().x, flutes).shaft(c, flutes).done();
}

void check_cone(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  if (tip_mm(c) > *c.diameter_mm)
    messages.push_back(fault(Severity::error, "tip_over_diameter", "tip_diameter_mm",
                             {{"tip_mm", tip_mm(c)}, {"diameter_mm", *c.diameter_mm}}));
  else if (cone_height(c) > *c.flute_length_mm * (1 + 1e-9))
    messages.push_back(fault(Severity::error, "point_longer_than_flutes", "flute_length_mm",
                             {{"part_mm", cone_height(c)}, {"whole_mm", *c.flute_length_mm}}));
}

void check_tapered(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  if (tip_mm(c) >= *c.diameter_mm)
    messages.push_back(fault(Severity::error, "tip_over_diameter", "tip_diameter_mm",
                             {{"tip_mm", tip_mm(c)}, {"diameter_mm", *c.diameter_mm}}));
  if (half_rad(c) <= 0) messages.push_back(fault(Severity::warning, "sizes_fit_square", "taper_half_angle_deg", {}));
  const double end = tip_mm(c) + 2 * *c.flute_length_mm * std::tan(half_rad(c));
  if (std::abs(end - *c.diameter_mm) > 0.02 * *c.diameter_mm)
    messages.push_back(fault(Severity::warning, end < *c.diameter_mm ? "taper_ends_below" : "taper_ends_early",
                             "diameter_mm",
                             {{"end_mm", end}, {"diameter_mm", *c.diameter_mm}, {"flutes_mm", *c.flute_length_mm}}));
  if (c.corner_radius_mm && *c.corner_radius_mm > greatest_rounding(c) * (1 + 1e-6))
    messages.push_back(fault(Severity::error, "rounding_over_tip", "corner_radius_mm",
                             {{"radius_mm", *c.corner_radius_mm}, {"most_mm", greatest_rounding(c)}}));
}

constexpr ParameterUse tapered_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                               {"flutes", true, 0, 3},
                                               {"tip_diameter_mm", true, 0.4, 0, across_end},
                                               {"taper_half_angle_deg", true, 0, 5.71, flank_angle},
                                               {"corner_radius_mm", false, 0, 0, corner},
                                               {"flute_length_mm", true, 3, 0, along_axis},
                                               {"overall_length_mm", true, 5, 30, along_axis},
                                               {"shank_diameter_mm", true, 1, 0, across_shank},
                                               {"reach_mm", false, 3.5, 0, along_axis},
                                               {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                               {"helix_deg", false, 0, 30},
                                               {"rake_deg"},
                                               {"edge_radius_mm"},
                                               {"max_chip_mm"},
                                               {"max_rpm"}};
constexpr ParameterUse chamfer_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                               {"flutes", true, 0, 4},
                                               {"point_angle_deg", true, 0, 90, point_angle},
                                               {"tip_diameter_mm", true, 0.1, 0, across_end},
                                               {"flute_length_mm", true, 0.9, 0, along_axis},
                                               {"overall_length_mm", true, 4, 30, along_axis},
                                               {"shank_diameter_mm", true, 1, 0, across_shank},
                                               {"reach_mm", false, 2, 0, along_axis},
                                               {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                               {"edge_radius_mm"},
                                               {"max_chip_mm"},
                                               {"max_rpm"}};
constexpr ParameterUse engraver_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                                {"flutes", true, 0, 1},
                                                {"point_angle_deg", true, 0, 60, point_angle},
                                                {"tip_diameter_mm", true, 0.03, 0, across_end},
                                                {"flute_length_mm", true, 1.2, 0, along_axis},
                                                {"overall_length_mm", true, 4, 30, along_axis},
                                                {"shank_diameter_mm", true, 1, 0, across_shank},
                                                {"reach_mm", false, 2, 0, along_axis},
                                                {"edge_radius_mm"},
                                                {"max_chip_mm"},
                                                {"max_rpm"}};
constexpr ParameterUse spot_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                            {"flutes", true, 0, 2},
                                            {"point_angle_deg", true, 0, 90, point_angle},
                                            {"flute_length_mm", true, 2.5, 0, along_axis},
                                            {"overall_length_mm", true, 5, 30, along_axis},
                                            {"shank_diameter_mm", true, 1, 0, across_shank},
                                            {"reach_mm", false, 3, 0, along_axis},
                                            {"helix_deg", false, 0, 25},
                                            {"edge_radius_mm"},
                                            {"max_rpm"}};
// Proportions near DIN 335 C, from memory: three edges, a shank about half the diameter.
constexpr ParameterUse countersink_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                                   {"flutes", true, 0, 3},
                                                   {"point_angle_deg", true, 0, 90, point_angle},
                                                   {"tip_diameter_mm", true, 0.2, 0, across_end},
                                                   {"flute_length_mm", true, 0.6, 0, along_axis},
                                                   {"overall_length_mm", true, 1.6, 34, along_axis},
                                                   {"shank_diameter_mm", true, 0.5, 0, across_shank},
                                                   {"reach_mm", false, 1, 0, along_axis},
                                                   {"neck_diameter_mm", false, 0.8, 0, across_neck},
                                                   {"edge_radius_mm"},
                                                   {"max_rpm"}};

}  // namespace

const KindDeclaration tapered_kind{CutterKind::tapered,
                                   CuttingForm::cone,
                                   set_of(side_rough, side_finish, surface_finish, slot, engrave),
                                   side_finish,
                                   tapered_parameters,
                                   0.5,
                                   15,
                                   tapered_silhouette,
                                   check_tapered};
const KindDeclaration chamfer_mill_kind{CutterKind::chamfer_mill,
                                        CuttingForm::cone,
                                        set_of(chamfer, OperationKind::countersink, spot, engrave),
                                        chamfer,
                                        chamfer_parameters,
                                        0.3,
                                        4,
                                        cone_silhouette,
                                        check_cone};
const KindDeclaration engraver_kind{
    CutterKind::engraver, CuttingForm::cone, set_of(engrave, chamfer), engrave, engraver_parameters, 0.3, 12,
    cone_silhouette,      check_cone};
const KindDeclaration spot_drill_kind{CutterKind::spot_drill,
                                      CuttingForm::cone,
                                      set_of(spot, chamfer, OperationKind::countersink),
                                      spot,
                                      spot_parameters,
                                      0.5,
                                      8,
                                      cone_silhouette,
                                      check_cone};
const KindDeclaration countersink_kind{CutterKind::countersink,
                                       CuttingForm::cone,
                                       set_of(OperationKind::countersink, chamfer),
                                       OperationKind::countersink,
                                       countersink_parameters,
                                       0.3,
                                       3,
                                       cone_silhouette,
                                       check_cone};

}  // namespace pecorra
