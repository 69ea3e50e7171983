#include "core/cutter/kinds/drills.h"

#include <cmath>
#include <numbers>

#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum Dimension;

// Proportions of jobber drills near ISO 235 around 8 to 12 mm, from memory: flutes about 9 × D, overall about 13 × D.
constexpr ParameterUse drill_parameters[] = {{"flutes", true, 0, 2},
                                             {"diameter_mm", true, 1, 0, across_tip},
                                             {"point_angle_deg", true, 0, 140, point_angle},
                                             {"flute_length_mm", true, 6, 12, along_axis},
                                             {"reach_mm", false, 6, 16, along_axis},
                                             {"shank_diameter_mm", true, 1, 0, across_shank},
                                             {"overall_length_mm", true, 8, 30, along_axis},
                                             {"helix_deg", false, 0, 30},
                                             {"edge_radius_mm"},
                                             {"max_rpm"}};

Profile drill_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2;
  const double height = *point_height_mm(c);
  Profile profile{{{0, 0}, {r, height}, false, {}, ProfileRole::cutting}};
  append_shaft(profile, c, {r, height});
  return profile;
}

void check_drill(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  const auto height = point_height_mm(c);
  if (height && c.flute_length_mm && *height > *c.flute_length_mm)
    messages.push_back(fault(Severity::error, "point_longer_than_flutes", "flute_length_mm",
                             {{"part_mm", *height}, {"whole_mm", *c.flute_length_mm}}));
  if (c.point_angle_deg && (*c.point_angle_deg < 60))
    messages.push_back(fault(Severity::warning, "point_angle_unusual",
                             "point_angle_deg", {{"angle_deg", *c.point_angle_deg}}));
}

}  // namespace

std::optional<double> point_height_mm(const Cutter& c) {
  if (!c.diameter_mm || !c.point_angle_deg || *c.point_angle_deg <= 0) return std::nullopt;
  return *c.diameter_mm / 2 / std::tan(*c.point_angle_deg * std::numbers::pi / 360);
}

const KindDeclaration drill_kind{
    CutterKind::drill, CuttingForm::point, set_of(OperationKind::drill, OperationKind::peck), OperationKind::drill,
    drill_parameters, 1.5, 40, drill_silhouette, check_drill};

}  // namespace pecorra
