// Drills, step drills and centre drills.
#include "core/cutter/kinds/drills.h"

#include <cmath>

#include "core/base/angle.h"
#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum Dimension;

Profile drill_silhouette(const Cutter& c) {
  return Outline().to(*c.diameter_mm / 2, *point_height_mm(c)).flank_and_shaft(c).done();
}

// Height of the cone from the step up to the full diameter.
double step_rise(const Cutter& c) {
  return (*c.diameter_mm - *c.step_diameter_mm) / 2 / std::tan(radians(c.step_angle_deg.value_or(90) / 2));
}

Profile stepped_silhouette(const Cutter& c) {
  const double step = *c.step_diameter_mm / 2, length = *c.step_length_mm;
  return Outline()
      .to(step, *point_height_mm(c))
      .to(step, length)
      .to(*c.diameter_mm / 2, length + step_rise(c))
      .flank_and_shaft(c)
      .done();
}

void check_point(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  const double height = *point_height_mm(c);
  if (height > *c.flute_length_mm)
    messages.push_back(fault(Severity::error, "point_longer_than_flutes", "flute_length_mm",
                             {{"part_mm", height}, {"whole_mm", *c.flute_length_mm}}));
  if (*c.point_angle_deg < 60)
    messages.push_back(
        fault(Severity::warning, "point_angle_unusual", "point_angle_deg", {{"angle_deg", *c.point_angle_deg}}));
}

void check_stepped(const Cutter& c, std::vector<Message>& messages) {
  check_step(c, messages);
  if (has_error(messages)) return;
  check_point(c, messages);
  if (*point_height_mm(c) > *c.step_length_mm)
    messages.push_back(fault(Severity::error, "point_longer_than_step", "step_length_mm",
                             {{"part_mm", *point_height_mm(c)}, {"whole_mm", *c.step_length_mm}}));
  const double top = *c.step_length_mm + step_rise(c);
  if (top > *c.flute_length_mm * (1 + 1e-9))
    messages.push_back(fault(Severity::error, "step_longer_than_flutes", "flute_length_mm",
                             {{"part_mm", top}, {"whole_mm", *c.flute_length_mm}}));
}

// Proportions of jobber drills near ISO 235 around 8 to 12 mm, from memory: flutes about 9 × D, overall about 13 × D.
constexpr ParameterUse drill_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                             {"flutes", true, 0, 2},
                                             {"point_angle_deg", true, 0, 140, point_angle},
                                             {"flute_length_mm", true, 6, 12, along_axis},
                                             {"overall_length_mm", true, 8, 30, along_axis},
                                             {"shank_diameter_mm", true, 1, 0, across_shank},
                                             {"reach_mm", false, 6, 16, along_axis},
                                             {"helix_deg", false, 0, 30},
                                             {"edge_radius_mm"},
                                             {"max_rpm"}};
constexpr ParameterUse step_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                            {"flutes", true, 0, 2},
                                            {"step_diameter_mm", true, 0.65, 0, across_step},
                                            {"step_length_mm", true, 1.5, 2, along_axis},
                                            {"step_angle_deg", true, 0, 90, flank_angle},
                                            {"point_angle_deg", true, 0, 140, point_angle},
                                            {"flute_length_mm", true, 5, 12, along_axis},
                                            {"overall_length_mm", true, 7, 30, along_axis},
                                            {"shank_diameter_mm", true, 1, 0, across_shank},
                                            {"reach_mm", false, 5, 16, along_axis},
                                            {"helix_deg", false, 0, 30},
                                            {"edge_radius_mm"},
                                            {"max_rpm"}};
// ISO 866 form A: a pilot of about 0.4 × D in a 60° countersink, from memory.
constexpr ParameterUse centre_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                              {"flutes", true, 0, 2},
                                              {"step_diameter_mm", true, 0.4, 0, across_step},
                                              {"step_length_mm", true, 0.5, 0, along_axis},
                                              {"step_angle_deg", true, 0, 60, flank_angle},
                                              {"point_angle_deg", true, 0, 118, point_angle},
                                              {"flute_length_mm", true, 1.2, 0, along_axis},
                                              {"overall_length_mm", true, 4, 20, along_axis},
                                              {"shank_diameter_mm", true, 1, 0, across_shank},
                                              {"edge_radius_mm"},
                                              {"max_rpm"}};

}  // namespace

std::optional<double> point_height_mm(const Cutter& c) {
  const bool stepped = (c.kind == CutterKind::step_drill || c.kind == CutterKind::centre_drill) && c.step_diameter_mm;
  const std::optional<double>& diameter = stepped ? c.step_diameter_mm : c.diameter_mm;
  if (!diameter || !c.point_angle_deg || *c.point_angle_deg <= 0) return std::nullopt;
  return *diameter / 2 / std::tan(radians(*c.point_angle_deg / 2));
}

const KindDeclaration drill_kind{CutterKind::drill,
                                 CuttingForm::point,
                                 set_of(OperationKind::drill, OperationKind::peck),
                                 OperationKind::drill,
                                 drill_parameters,
                                 1.5,
                                 40,
                                 drill_silhouette,
                                 check_point};
const KindDeclaration step_drill_kind{CutterKind::step_drill,
                                      CuttingForm::point,
                                      set_of(OperationKind::drill, OperationKind::peck),
                                      OperationKind::drill,
                                      step_parameters,
                                      1.2,
                                      30,
                                      stepped_silhouette,
                                      check_stepped};
const KindDeclaration centre_drill_kind{CutterKind::centre_drill,
                                        CuttingForm::other,
                                        set_of(OperationKind::centre),
                                        OperationKind::centre,
                                        centre_parameters,
                                        0.7,
                                        4,
                                        stepped_silhouette,
                                        check_stepped};

}  // namespace pecorra
