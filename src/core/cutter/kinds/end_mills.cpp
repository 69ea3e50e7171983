// Square, bull-nose and ball end mills.
#include "core/cutter/kinds/end_mills.h"

#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum OperationKind;
using enum Dimension;

// Proportions near those of ISO 1641-1 and DIN 6527 L for 6 to 20 mm, from memory.
constexpr ParameterUse square_parameters[] = {{"flutes", true, 0, 4},
                                              {"diameter_mm", true, 1, 0, across_tip},
                                              {"flute_length_mm", true, 2.2, 0, along_axis},
                                              {"reach_mm", false, 3.1, 0, along_axis},
                                              {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                              {"shank_diameter_mm", true, 1, 0, across_shank},
                                              {"overall_length_mm", true, 5, 25, along_axis},
                                              {"helix_deg", false, 0, 38},
                                              {"rake_deg"},
                                              {"edge_radius_mm"},
                                              {"max_chip_mm"},
                                              {"max_rpm"}};
constexpr ParameterUse bull_parameters[] = {{"flutes", true, 0, 4},
                                            {"diameter_mm", true, 1, 0, across_tip},
                                            {"corner_radius_mm", true, 0.1, 0, corner},
                                            {"flute_length_mm", true, 2.2, 0, along_axis},
                                            {"reach_mm", false, 3.1, 0, along_axis},
                                            {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                            {"shank_diameter_mm", true, 1, 0, across_shank},
                                            {"overall_length_mm", true, 5, 25, along_axis},
                                            {"helix_deg", false, 0, 38},
                                            {"rake_deg"},
                                            {"edge_radius_mm"},
                                            {"max_chip_mm"},
                                            {"max_rpm"}};
constexpr ParameterUse ball_parameters[] = {{"flutes", true, 0, 2},
                                            {"diameter_mm", true, 1, 0, across_tip},
                                            {"flute_length_mm", true, 1.8, 0, along_axis},
                                            {"reach_mm", false, 3.1, 0, along_axis},
                                            {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                            {"shank_diameter_mm", true, 1, 0, across_shank},
                                            {"overall_length_mm", true, 5, 25, along_axis},
                                            {"helix_deg", false, 0, 30},
                                            {"rake_deg"},
                                            {"edge_radius_mm"},
                                            {"max_chip_mm"},
                                            {"max_rpm"}};

constexpr OperationSet side_work = set_of(slot, side_rough, side_finish, pocket_rough, constant_engagement,
                                          floor_finish, plunge, ramp, helix, face);

Profile rounded_silhouette(const Cutter& c, double corner) {
  const double r = *c.diameter_mm / 2;
  Profile profile;
  if (corner < r) profile.push_back({{0, 0}, {r - corner, 0}, false, {}, ProfileRole::cutting});
  if (corner > 0)
    profile.push_back({{r - corner, 0}, {r, corner}, true, {r - corner, corner}, ProfileRole::cutting});
  append_shaft(profile, c, {r, corner});
  return profile;
}

void check_corner(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  if (!c.corner_radius_mm || !c.diameter_mm) return;
  const Details values{{"radius_mm", *c.corner_radius_mm}, {"half_mm", *c.diameter_mm / 2}};
  if (*c.corner_radius_mm > *c.diameter_mm / 2)
    messages.push_back(fault(Severity::error, "corner_radius_over_half", "corner_radius_mm", values));
  else if (*c.corner_radius_mm == *c.diameter_mm / 2)
    messages.push_back(fault(Severity::warning, "sizes_fit_ball", "corner_radius_mm", values));
  else if (*c.corner_radius_mm == 0)
    messages.push_back(fault(Severity::warning, "sizes_fit_square", "corner_radius_mm", values));
  if (c.flute_length_mm && *c.corner_radius_mm > *c.flute_length_mm)
    messages.push_back(fault(Severity::error, "flutes_shorter_than_radius", "flute_length_mm",
                             {{"part_mm", *c.corner_radius_mm}, {"whole_mm", *c.flute_length_mm}}));
}

void check_ball(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  if (c.diameter_mm && c.flute_length_mm && *c.diameter_mm / 2 > *c.flute_length_mm)
    messages.push_back(fault(Severity::error, "flutes_shorter_than_radius", "flute_length_mm",
                             {{"part_mm", *c.diameter_mm / 2}, {"whole_mm", *c.flute_length_mm}}));
}

}  // namespace

const KindDeclaration end_mill_kind{
    CutterKind::end_mill, CuttingForm::cylinder, side_work, side_rough, square_parameters, 0.5, 7,
    [](const Cutter& c) { return rounded_silhouette(c, 0); }, check_shaft};

const KindDeclaration bull_nose_kind{
    CutterKind::bull_nose, CuttingForm::corner, side_work | bit(surface_finish), side_rough, bull_parameters, 0.5, 7,
    [](const Cutter& c) { return rounded_silhouette(c, *c.corner_radius_mm); }, check_corner};

const KindDeclaration ball_kind{
    CutterKind::ball, CuttingForm::ball, set_of(slot, side_rough, side_finish, surface_finish, plunge, ramp, helix, engrave),
    surface_finish, ball_parameters, 0.5, 7,
    [](const Cutter& c) { return rounded_silhouette(c, *c.diameter_mm / 2); }, check_ball};

}  // namespace pecorra
