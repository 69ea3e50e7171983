// Cutters that cut with edges at their face: face mills, high-feed mills, fly cutters.
#include "core/cutter/kinds/faces.h"

#include <cmath>
#include <numbers>

#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum OperationKind;
using enum Dimension;

// How far an inclined edge reaches out beyond the diameter at this height.
double beyond(const Cutter& c, double height) {
  const double kappa = c.cutting_edge_angle_deg.value_or(90);
  return kappa >= 90 ? 0 : height / std::tan(kappa * std::numbers::pi / 180);
}

Profile face_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, depth = *c.flute_length_mm, rounding = c.corner_radius_mm.value_or(0);
  Outline outline;
  if (c.cutting_edge_angle_deg.value_or(90) >= 90 && rounding > 0)
    outline.to(r - rounding, 0).arc(r, rounding, {r - rounding, rounding});
  else outline.to(r, 0);
  return outline.to(r + beyond(c, depth), depth).shaft(c, depth).done();
}

void check_face(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  const double rounding = c.corner_radius_mm.value_or(0);
  if (rounding > *c.flute_length_mm || rounding > *c.diameter_mm / 2)
    messages.push_back(fault(Severity::error, "rounding_over_edge", "corner_radius_mm",
                             {{"radius_mm", rounding}, {"most_mm", std::min(*c.flute_length_mm, *c.diameter_mm / 2)}}));
}

void check_high_feed(const Cutter& c, std::vector<Message>& messages) {
  check_face(c, messages);
  if (c.cutting_edge_angle_deg.value_or(90) > 30)
    messages.push_back(fault(Severity::warning, "edge_angle_not_high_feed", "cutting_edge_angle_deg",
                             {{"angle_deg", *c.cutting_edge_angle_deg}}));
}

void check_fly(const Cutter& c, std::vector<Message>& messages) {
  check_face(c, messages);
  check_range(c, messages);
}

// DC is measured at the lower end of the edges; the flute length is the greatest depth of cut (APMX). The shank is the
// arbor end of the body.
constexpr ParameterUse face_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                            {"flutes", true, 0, 5},
                                            {"cutting_edge_angle_deg", true, 0, 45, flank_angle},
                                            {"corner_radius_mm", false, 0, 0, corner},
                                            {"flute_length_mm", true, 0.08, 1, along_axis},
                                            {"overall_length_mm", true, 0.6, 14, along_axis},
                                            {"shank_diameter_mm", true, 0.5, 0, across_shank},
                                            {"reach_mm", false, 0.5, 4, along_axis},
                                            {"neck_diameter_mm", false, 0.9, 0, across_neck},
                                            {"rake_deg"},
                                            {"edge_radius_mm"},
                                            {"max_chip_mm"},
                                            {"max_rpm"}};
constexpr ParameterUse high_feed_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                                 {"flutes", true, 0, 3},
                                                 {"cutting_edge_angle_deg", true, 0, 12, flank_angle},
                                                 {"flute_length_mm", true, 0.04, 0, along_axis},
                                                 {"overall_length_mm", true, 6, 30, along_axis},
                                                 {"shank_diameter_mm", true, 1.3, 0, across_shank},
                                                 {"reach_mm", false, 3, 0, along_axis},
                                                 {"neck_diameter_mm", false, 1.25, 0, across_neck},
                                                 {"rake_deg"},
                                                 {"edge_radius_mm"},
                                                 {"max_chip_mm"},
                                                 {"max_rpm"}};
constexpr ParameterUse fly_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                           {"flutes", true, 0, 1},
                                           {"diameter_from_mm"},
                                           {"diameter_to_mm"},
                                           {"corner_radius_mm", false, 0.01, 0, corner},
                                           {"flute_length_mm", true, 0.05, 1, along_axis},
                                           {"overall_length_mm", true, 0.8, 40, along_axis},
                                           {"shank_diameter_mm", true, 0.3, 0, across_shank},
                                           {"reach_mm", false, 0.4, 4, along_axis},
                                           {"neck_diameter_mm", false, 0.8, 0, across_neck},
                                           {"rake_deg"},
                                           {"edge_radius_mm"},
                                           {"max_chip_mm"},
                                           {"max_rpm"}};

}  // namespace

const KindDeclaration high_feed_kind{CutterKind::high_feed,
                                     CuttingForm::face,
                                     set_of(face, pocket_rough, ramp, helix, plunge),
                                     face,
                                     high_feed_parameters,
                                     0.01,
                                     0.4,
                                     face_silhouette,
                                     check_high_feed};
const KindDeclaration face_mill_kind{
    CutterKind::face_mill, CuttingForm::face, set_of(face, side_rough, side_finish), face, face_parameters, 0.02, 1.5,
    face_silhouette,       check_face};
const KindDeclaration fly_cutter_kind{CutterKind::fly_cutter,
                                      CuttingForm::cylinder,
                                      set_of(face),
                                      face,
                                      fly_parameters,
                                      0.02,
                                      1.2,
                                      face_silhouette,
                                      check_fly};

}  // namespace pecorra
