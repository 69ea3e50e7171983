// Cutters with arcs of their own: corner-rounding cutters and barrels.
#include "core/cutter/kinds/rounders.h"

#include <algorithm>
#include <cmath>

#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum OperationKind;
using enum Dimension;

// The concave quarter starts at the tip diameter and reaches the full diameter.
Profile corner_rounding_silhouette(const Cutter& c) {
  const double tip = c.tip_diameter_mm.value_or(0) / 2, round = *c.profile_radius_mm;
  return Outline()
      .to(tip, 0)
      .arc(tip + round, round, {tip + round, 0})
      .to(std::max(*c.diameter_mm / 2, tip + round), round)
      .flank_and_shaft(c)
      .done();
}

void check_corner_rounding(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  const double tip = c.tip_diameter_mm.value_or(0), needed = tip + 2 * *c.profile_radius_mm;
  const Details values{{"needed_mm", needed}, {"diameter_mm", *c.diameter_mm}};
  if (needed > *c.diameter_mm * (1 + 1e-6))
    messages.push_back(fault(Severity::error, "rounding_over_diameter", "profile_radius_mm", values));
  else if (needed < *c.diameter_mm * 0.7)
    messages.push_back(fault(Severity::warning, "rounding_under_diameter", "profile_radius_mm", values));
  if (*c.profile_radius_mm > *c.flute_length_mm)
    messages.push_back(fault(Severity::error, "flutes_shorter_than_radius", "flute_length_mm",
                             {{"part_mm", *c.profile_radius_mm}, {"whole_mm", *c.flute_length_mm}}));
}

// The flank is one arc whose largest diameter lies in the middle of the flutes; the tip is rounded into it.
struct Barrel {
  double r, big, half, tip;  // of the cutter, of the arc, half the flutes, of the tip
  double axis_x;             // centre of the big arc
  double end_x;              // where the arc ends, at both ends
  double tip_centre, touch_x, touch_y;
  explicit Barrel(const Cutter& c)
      : r(*c.diameter_mm / 2),
        big(*c.profile_radius_mm),
        half(*c.flute_length_mm / 2),
        tip(c.corner_radius_mm.value_or(0)),
        axis_x(r - big),
        end_x(axis_x + std::sqrt(std::max(0.0, big * big - half * half))) {
    const double across = std::sqrt(std::max(0.0, (big - tip) * (big - tip) - (half - tip) * (half - tip)));
    tip_centre = axis_x + across;
    touch_x = axis_x + across * big / (big - tip);
    touch_y = half + (tip - half) * big / (big - tip);
  }
};

Profile barrel_silhouette(const Cutter& c) {
  const Barrel b(c);
  Outline outline;
  if (b.tip > 0) outline.to(b.tip_centre, 0).arc(b.touch_x, b.touch_y, {b.tip_centre, b.tip});
  else outline.to(b.end_x, 0);
  return outline.arc(b.end_x, 2 * b.half, {b.axis_x, b.half}).shaft(c, 2 * b.half).done();
}

void check_barrel(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  const double big = *c.profile_radius_mm, tip = c.corner_radius_mm.value_or(0);
  if (big <= *c.diameter_mm / 2) {
    messages.push_back(fault(Severity::error, "barrel_radius_small", "profile_radius_mm",
                             {{"radius_mm", big}, {"half_mm", *c.diameter_mm / 2}}));
    return;
  }
  if (big <= *c.flute_length_mm / 2 || Barrel(c).end_x <= 0) {
    messages.push_back(
        fault(Severity::error, "barrel_flutes_long", "flute_length_mm",
              {{"flutes_mm", *c.flute_length_mm},
               {"most_mm", 2 * std::sqrt(big * big - (big - *c.diameter_mm / 2) * (big - *c.diameter_mm / 2))}}));
    return;
  }
  const double most = std::min(*c.flute_length_mm / 2, *c.diameter_mm / 2);
  if (tip > most || (tip > 0 && Barrel(c).tip_centre < 0))
    messages.push_back(fault(Severity::error, "rounding_over_edge", "corner_radius_mm",
                             {{"radius_mm", tip}, {"most_mm", std::min(most, Barrel(c).end_x)}}));
}

void propose_corner_rounding(Cutter& c) { c.profile_radius_mm = (*c.diameter_mm - *c.tip_diameter_mm) / 2; }

constexpr ParameterUse rounding_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                                {"flutes", true, 0, 4},
                                                {"profile_radius_mm", true, 0.25, 0, profile_radius},
                                                {"tip_diameter_mm", true, 0.5, 0, across_end},
                                                {"flute_length_mm", true, 0.8, 0, along_axis},
                                                {"overall_length_mm", true, 4, 30, along_axis},
                                                {"shank_diameter_mm", true, 1, 0, across_shank},
                                                {"reach_mm", false, 1.5, 0, along_axis},
                                                {"neck_diameter_mm", false, 0.95, 0, across_neck},
                                                {"rake_deg"},
                                                {"edge_radius_mm"},
                                                {"max_chip_mm"},
                                                {"max_rpm"}};
constexpr ParameterUse barrel_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                              {"flutes", true, 0, 4},
                                              {"profile_radius_mm", true, 8.5, 0, profile_radius},
                                              {"corner_radius_mm", false, 0.1, 0, corner},
                                              {"flute_length_mm", true, 2, 0, along_axis},
                                              {"overall_length_mm", true, 5, 30, along_axis},
                                              {"shank_diameter_mm", true, 1, 0, across_shank},
                                              {"reach_mm", false, 3, 0, along_axis},
                                              {"neck_diameter_mm", false, 0.85, 0, across_neck},
                                              {"helix_deg", false, 0, 35},
                                              {"rake_deg"},
                                              {"edge_radius_mm"},
                                              {"max_chip_mm"},
                                              {"max_rpm"}};

}  // namespace

const KindDeclaration corner_rounding_kind{CutterKind::corner_rounding,
                                           CuttingForm::outline,
                                           set_of(side_finish, chamfer),
                                           side_finish,
                                           rounding_parameters,
                                           0.15,
                                           4,
                                           corner_rounding_silhouette,
                                           check_corner_rounding,
                                           propose_corner_rounding};
const KindDeclaration barrel_kind{CutterKind::barrel,
                                  CuttingForm::outline,
                                  set_of(side_finish, surface_finish),
                                  surface_finish,
                                  barrel_parameters,
                                  0.5,
                                  6,
                                  barrel_silhouette,
                                  check_barrel};

}  // namespace pecorra
