// Cutters that cut behind an edge: T-slot, dovetail, undercut ball, back-boring bar.
#include "core/cutter/kinds/undercutters.h"

#include <cmath>
#include <numbers>

#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum Dimension;

Profile t_slot_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, width = *c.flute_length_mm, rounding = c.corner_radius_mm.value_or(0),
               neck = neck_mm(c) / 2;
  Outline outline;
  outline.to(r - rounding, 0);
  if (rounding > 0) outline.arc(r, rounding, {r - rounding, rounding});
  outline.to(r, width - rounding);
  if (rounding > 0) outline.arc(r - rounding, width, {r - rounding, width - rounding});
  return outline.to(neck, width).shaft(c, width).done();
}

Profile dovetail_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, height = *c.flute_length_mm, rounding = c.corner_radius_mm.value_or(0);
  const double a = *c.taper_half_angle_deg * std::numbers::pi / 180;
  Outline outline;
  if (rounding > 0) {
    // Tangent to the floor and to the flank that leans inwards.
    const double centre = r - rounding * (1 + std::sin(a)) / std::cos(a);
    outline.to(centre, 0).arc(centre + rounding * std::cos(a), rounding * (1 + std::sin(a)), {centre, rounding});
  } else {
    outline.to(r, 0);
  }
  return outline.to(r - height * std::tan(a), height).shaft(c, height).done();
}

// The ball goes up to where it meets the neck, or to the end of the flutes before that.
double ball_top(const Cutter& c) {
  const double r = *c.diameter_mm / 2, neck = neck_mm(c) / 2;
  return r + std::sqrt(std::max(0.0, r * r - neck * neck));
}

Profile undercut_ball_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, top = std::min(*c.flute_length_mm, ball_top(c));
  return Outline().arc(std::sqrt(std::max(0.0, r * r - (top - r) * (top - r))), top, {0, r}).shaft(c, top).done();
}

// The edge looks back towards the spindle.
Profile back_boring_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, head = *c.flute_length_mm, rounding = c.corner_radius_mm.value_or(0);
  Outline outline;
  outline.to(r, 0, ProfileRole::neck).to(r, head - rounding, ProfileRole::cutting);
  if (rounding > 0) outline.arc(r - rounding, head, {r - rounding, head - rounding});
  return outline.to(neck_mm(c) / 2, head).shaft(c, head).done();
}

void check_neck(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  if (!c.neck_diameter_mm) messages.push_back(fault(Severity::error, "missing", "neck_diameter_mm", {}));
  else if (*c.neck_diameter_mm >= *c.diameter_mm)
    messages.push_back(fault(Severity::error, "neck_not_thinner", "neck_diameter_mm",
                             {{"neck_mm", *c.neck_diameter_mm}, {"diameter_mm", *c.diameter_mm}}));
}

void check_t_slot(const Cutter& c, std::vector<Message>& messages) {
  check_neck(c, messages);
  const double rounding = c.corner_radius_mm.value_or(0),
               most = std::min(*c.flute_length_mm / 2, (*c.diameter_mm - neck_mm(c)) / 2);
  if (rounding > most)
    messages.push_back(
        fault(Severity::error, "rounding_over_edge", "corner_radius_mm", {{"radius_mm", rounding}, {"most_mm", most}}));
}

void check_dovetail(const Cutter& c, std::vector<Message>& messages) {
  check_neck(c, messages);
  const double a = *c.taper_half_angle_deg * std::numbers::pi / 180;
  const double top = *c.diameter_mm - 2 * *c.flute_length_mm * std::tan(a);
  if (c.neck_diameter_mm && top < *c.neck_diameter_mm - 1e-9)
    messages.push_back(fault(Severity::error, "flank_under_neck", "flute_length_mm",
                             {{"top_mm", top},
                              {"neck_mm", *c.neck_diameter_mm},
                              {"most_mm", (*c.diameter_mm - *c.neck_diameter_mm) / 2 / std::tan(a)}}));
  const double rounding = c.corner_radius_mm.value_or(0), most = *c.flute_length_mm / (1 + std::sin(a));
  if (rounding > most)
    messages.push_back(
        fault(Severity::error, "rounding_over_edge", "corner_radius_mm", {{"radius_mm", rounding}, {"most_mm", most}}));
}

void check_undercut_ball(const Cutter& c, std::vector<Message>& messages) {
  check_neck(c, messages);
  if (*c.flute_length_mm <= *c.diameter_mm / 2)
    messages.push_back(fault(Severity::warning, "sizes_fit_ball_only", "flute_length_mm",
                             {{"flutes_mm", *c.flute_length_mm}, {"half_mm", *c.diameter_mm / 2}}));
  else if (c.neck_diameter_mm && *c.flute_length_mm > ball_top(c) * (1 + 1e-6))
    messages.push_back(fault(Severity::warning, "flutes_over_ball", "flute_length_mm",
                             {{"flutes_mm", *c.flute_length_mm}, {"most_mm", ball_top(c)}}));
}

void check_back_boring(const Cutter& c, std::vector<Message>& messages) {
  check_t_slot(c, messages);
  check_range(c, messages);
}

constexpr ParameterUse t_slot_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                              {"flutes", true, 0, 6},
                                              {"flute_length_mm", true, 0.35, 0, along_axis},
                                              {"overall_length_mm", true, 2.5, 38, along_axis},
                                              {"shank_diameter_mm", true, 0.6, 0, across_shank},
                                              {"corner_radius_mm", false, 0, 0, corner},
                                              {"neck_diameter_mm", true, 0.5, 0, across_neck},
                                              {"reach_mm", true, 1.1, 0, along_axis},
                                              {"rake_deg"},
                                              {"edge_radius_mm"},
                                              {"max_chip_mm"},
                                              {"max_rpm"}};
constexpr ParameterUse dovetail_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                                {"flutes", true, 0, 6},
                                                {"taper_half_angle_deg", true, 0, 30, flank_angle},
                                                {"flute_length_mm", true, 0.35, 0, along_axis},
                                                {"overall_length_mm", true, 2, 40, along_axis},
                                                {"shank_diameter_mm", true, 0.6, 0, across_shank},
                                                {"corner_radius_mm", false, 0, 0, corner},
                                                {"neck_diameter_mm", true, 0.5, 0, across_neck},
                                                {"reach_mm", true, 0.8, 0, along_axis},
                                                {"rake_deg"},
                                                {"edge_radius_mm"},
                                                {"max_chip_mm"},
                                                {"max_rpm"}};
constexpr ParameterUse undercut_ball_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                                     {"flutes", true, 0, 4},
                                                     {"flute_length_mm", true, 0.85, 0, along_axis},
                                                     {"overall_length_mm", true, 5, 30, along_axis},
                                                     {"shank_diameter_mm", true, 1, 0, across_shank},
                                                     {"neck_diameter_mm", true, 0.6, 0, across_neck},
                                                     {"reach_mm", true, 2.5, 0, along_axis},
                                                     {"helix_deg", false, 0, 15},
                                                     {"rake_deg"},
                                                     {"edge_radius_mm"},
                                                     {"max_chip_mm"},
                                                     {"max_rpm"}};
constexpr ParameterUse back_boring_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                                   {"flutes", true, 0, 1},
                                                   {"diameter_from_mm"},
                                                   {"diameter_to_mm"},
                                                   {"corner_radius_mm", false, 0.02, 0, corner},
                                                   {"flute_length_mm", true, 0.3, 0, along_axis},
                                                   {"overall_length_mm", true, 4, 50, along_axis},
                                                   {"shank_diameter_mm", true, 0.8, 0, across_shank},
                                                   {"neck_diameter_mm", true, 0.55, 0, across_neck},
                                                   {"reach_mm", true, 2.5, 0, along_axis},
                                                   {"rake_deg"},
                                                   {"edge_radius_mm"},
                                                   {"max_rpm"}};

}  // namespace

const KindDeclaration t_slot_kind{CutterKind::t_slot,
                                  CuttingForm::other,
                                  set_of(OperationKind::t_slot, OperationKind::undercut, OperationKind::slot),
                                  OperationKind::t_slot,
                                  t_slot_parameters,
                                  0.02,
                                  1.2,
                                  t_slot_silhouette,
                                  check_t_slot};
const KindDeclaration dovetail_kind{CutterKind::dovetail,
                                    CuttingForm::other,
                                    set_of(OperationKind::dovetail, OperationKind::undercut),
                                    OperationKind::dovetail,
                                    dovetail_parameters,
                                    0.1,
                                    1.5,
                                    dovetail_silhouette,
                                    check_dovetail};
const KindDeclaration undercut_ball_kind{CutterKind::undercut_ball,
                                         CuttingForm::outline,
                                         set_of(OperationKind::undercut, OperationKind::surface_finish),
                                         OperationKind::undercut,
                                         undercut_ball_parameters,
                                         0.3,
                                         1,
                                         undercut_ball_silhouette,
                                         check_undercut_ball};
const KindDeclaration back_boring_bar_kind{CutterKind::back_boring_bar,
                                           CuttingForm::other,
                                           set_of(OperationKind::back_bore),
                                           OperationKind::back_bore,
                                           back_boring_parameters,
                                           0.05,
                                           2,
                                           back_boring_silhouette,
                                           check_back_boring};

}  // namespace pecorra
