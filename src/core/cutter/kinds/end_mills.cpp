// Square, bull-nose and ball end mills, and roughing end mills with a waved flank.
#include "core/cutter/kinds/end_mills.h"

#include <algorithm>
#include <cmath>

#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum OperationKind;
using enum Dimension;

// Proportions near those of ISO 1641-1 and DIN 6527 L for 6 to 20 mm, from memory.
constexpr ParameterUse square_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                              {"flutes", true, 0, 4},
                                              {"flute_length_mm", true, 2.2, 0, along_axis},
                                              {"overall_length_mm", true, 5, 25, along_axis},
                                              {"shank_diameter_mm", true, 1, 0, across_shank},
                                              {"reach_mm", false, 3.1, 0, along_axis},
                                              {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                              {"helix_deg", false, 0, 38},
                                              {"rake_deg"},
                                              {"edge_radius_mm"},
                                              {"max_chip_mm"},
                                              {"max_rpm"}};
constexpr ParameterUse bull_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                            {"flutes", true, 0, 4},
                                            {"corner_radius_mm", true, 0.1, 0, corner},
                                            {"flute_length_mm", true, 2.2, 0, along_axis},
                                            {"overall_length_mm", true, 5, 25, along_axis},
                                            {"shank_diameter_mm", true, 1, 0, across_shank},
                                            {"reach_mm", false, 3.1, 0, along_axis},
                                            {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                            {"helix_deg", false, 0, 38},
                                            {"rake_deg"},
                                            {"edge_radius_mm"},
                                            {"max_chip_mm"},
                                            {"max_rpm"}};
constexpr ParameterUse ball_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                            {"flutes", true, 0, 2},
                                            {"flute_length_mm", true, 1.8, 0, along_axis},
                                            {"overall_length_mm", true, 5, 25, along_axis},
                                            {"shank_diameter_mm", true, 1, 0, across_shank},
                                            {"reach_mm", false, 3.1, 0, along_axis},
                                            {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                            {"helix_deg", false, 0, 30},
                                            {"rake_deg"},
                                            {"edge_radius_mm"},
                                            {"max_chip_mm"},
                                            {"max_rpm"}};

constexpr ParameterUse rougher_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                               {"flutes", true, 0, 4},
                                               {"corner_radius_mm", false, 0, 0, corner},
                                               {"pitch_mm", false, 0.12, 0, pitch},
                                               {"flute_length_mm", true, 2.2, 0, along_axis},
                                               {"overall_length_mm", true, 5, 25, along_axis},
                                               {"shank_diameter_mm", true, 1, 0, across_shank},
                                               {"reach_mm", false, 3.1, 0, along_axis},
                                               {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                               {"helix_deg", false, 0, 30},
                                               {"rake_deg"},
                                               {"edge_radius_mm"},
                                               {"max_chip_mm"},
                                               {"max_rpm"}};

constexpr OperationSet side_work =
    set_of(slot, side_rough, side_finish, pocket_rough, constant_engagement, floor_finish, plunge, ramp, helix, face);

Profile rounded_silhouette(const Cutter& c, double corner) {
  const double r = *c.diameter_mm / 2;
  Outline outline;
  outline.to(r - corner, 0);
  if (corner > 0) outline.arc(r, corner, {r - corner, corner});
  return outline.flank_and_shaft(c).done();
}

// The waves of the flank break the chip; their crests lie on the diameter. Depth a sixth of the pitch, common practice,
// no source.
Profile rougher_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, corner = c.corner_radius_mm.value_or(0), flutes = *c.flute_length_mm;
  Outline outline;
  outline.to(r - corner, 0);
  if (corner > 0) outline.arc(r, corner, {r - corner, corner});
  if (const double p = c.pitch_mm.value_or(0); p > 0 && flutes / p < 200)
    for (double y = corner; y + p < flutes; y += p) outline.to(r, y + 0.2 * p).to(r - p / 6, y + 0.6 * p).to(r, y + p);
  return outline.flank_and_shaft(c).done();
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

void check_rougher(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  const double corner = c.corner_radius_mm.value_or(0), most = std::min(*c.diameter_mm / 2, *c.flute_length_mm);
  if (corner > most)
    messages.push_back(
        fault(Severity::error, "rounding_over_edge", "corner_radius_mm", {{"radius_mm", corner}, {"most_mm", most}}));
  if (c.pitch_mm && *c.pitch_mm > *c.diameter_mm / 2)
    messages.push_back(fault(Severity::error, "pitch_over_diameter", "pitch_mm",
                             {{"pitch_mm", *c.pitch_mm}, {"diameter_mm", *c.diameter_mm}}));
}

void check_ball(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  if (c.corner_radius_mm && std::abs(*c.corner_radius_mm - *c.diameter_mm / 2) > 1e-3)
    messages.push_back(fault(Severity::warning, *c.corner_radius_mm > 0 ? "sizes_fit_bull_nose" : "sizes_fit_square",
                             "corner_radius_mm",
                             {{"radius_mm", *c.corner_radius_mm}, {"half_mm", *c.diameter_mm / 2}}));
  if (c.diameter_mm && c.flute_length_mm && *c.diameter_mm / 2 > *c.flute_length_mm)
    messages.push_back(fault(Severity::error, "flutes_shorter_than_radius", "flute_length_mm",
                             {{"part_mm", *c.diameter_mm / 2}, {"whole_mm", *c.flute_length_mm}}));
}

}  // namespace

const KindDeclaration end_mill_kind{CutterKind::end_mill,
                                    CuttingForm::cylinder,
                                    side_work,
                                    side_rough,
                                    square_parameters,
                                    0.5,
                                    7,
                                    [](const Cutter& c) { return rounded_silhouette(c, 0); },
                                    check_shaft};

const KindDeclaration bull_nose_kind{CutterKind::bull_nose,
                                     CuttingForm::corner,
                                     side_work | bit(surface_finish),
                                     side_rough,
                                     bull_parameters,
                                     0.5,
                                     7,
                                     [](const Cutter& c) { return rounded_silhouette(c, *c.corner_radius_mm); },
                                     check_corner};

const KindDeclaration ball_kind{CutterKind::ball,
                                CuttingForm::ball,
                                set_of(slot, side_rough, side_finish, surface_finish, plunge, ramp, helix, engrave),
                                surface_finish,
                                ball_parameters,
                                0.5,
                                7,
                                [](const Cutter& c) { return rounded_silhouette(c, *c.diameter_mm / 2); },
                                check_ball};

const KindDeclaration rougher_kind{CutterKind::rougher,
                                   CuttingForm::cylinder,
                                   set_of(slot, side_rough, pocket_rough, constant_engagement, plunge, ramp, helix),
                                   side_rough,
                                   rougher_parameters,
                                   0.5,
                                   7,
                                   rougher_silhouette,
                                   check_rougher};

}  // namespace pecorra
