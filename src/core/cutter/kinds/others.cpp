// Form cutters with a profile of their own, drag knives and touch probes.
#include "core/cutter/kinds/others.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "core/cutter/form_profile.h"
#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum OperationKind;
using enum Dimension;

Profile form_silhouette(const Cutter& c) {
  Outline outline;
  const Profile own = profile_of_outline(c.outline);
  if (own.empty()) return {};
  outline.to(own.front().from.x, own.front().from.y);
  for (const ProfileSegment& s : own) s.arc ? outline.arc(s.to.x, s.to.y, s.centre) : outline.to(s.to.x, s.to.y);
  return outline.shaft(c, own.back().to.y).done();
}

void check_form(const Cutter& c, std::vector<Message>& messages) {
  for (Message& m : check_outline(c.outline)) messages.push_back(std::move(m));
  check_shaft(c, messages);
  if (has_error(messages)) return;
  const Profile own = profile_of_outline(c.outline);
  const double widest = 2 * largest_radius_mm(own, std::numeric_limits<double>::infinity());
  if (std::abs(widest - *c.diameter_mm) > 1e-3)
    messages.push_back(fault(Severity::error, "diameter_not_of_outline", "diameter_mm",
                             {{"diameter_mm", *c.diameter_mm}, {"right_mm", widest}}));
  if (std::abs(own.back().to.y - *c.flute_length_mm) > 1e-3)
    messages.push_back(fault(Severity::error, "flutes_not_of_outline", "flute_length_mm",
                             {{"flutes_mm", *c.flute_length_mm}, {"right_mm", own.back().to.y}}));
}

// A plain bead until a profile is read or typed.
void propose_form(Cutter& c) {
  const double r = *c.diameter_mm / 2;
  c.outline = {{0, 0, 0},
               {r * 0.5, 0, 0},
               {r * 0.5, r * 0.3, -(std::sqrt(2.0) - 1)},
               {r, r * 0.8, 0},
               {r, *c.flute_length_mm, 0}};
}

// The blade trails behind the axis; turned about it, its tip draws a small circle.
Profile knife_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, trail = c.trail_mm.value_or(0);
  const double rise = (r - trail) / std::tan(*c.point_angle_deg / 2 * std::numbers::pi / 180);
  return Outline().to(trail, 0).to(r, rise).flank_and_shaft(c).done();
}

void check_knife(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  const double r = *c.diameter_mm / 2, trail = c.trail_mm.value_or(0);
  if (trail > r) {
    messages.push_back(fault(Severity::error, "trail_over_blade", "trail_mm", {{"trail_mm", trail}, {"half_mm", r}}));
    return;
  }
  const double rise = (r - trail) / std::tan(*c.point_angle_deg / 2 * std::numbers::pi / 180);
  if (rise > *c.flute_length_mm)
    messages.push_back(fault(Severity::error, "point_longer_than_flutes", "flute_length_mm",
                             {{"part_mm", rise}, {"whole_mm", *c.flute_length_mm}}));
}

Profile probe_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, stem = neck_mm(c) / 2, top = r + std::sqrt(std::max(0.0, r * r - stem * stem));
  return Outline().arc(stem, top, {0, r}, ProfileRole::neck).shaft(c, top).done();
}

void check_probe(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  if (!c.neck_diameter_mm || *c.neck_diameter_mm >= *c.diameter_mm)
    messages.push_back(fault(Severity::error, "stem_not_thinner", "neck_diameter_mm",
                             {{"neck_mm", neck_mm(c)}, {"diameter_mm", *c.diameter_mm}}));
  if (c.reach_mm && *c.reach_mm < *c.diameter_mm)
    messages.push_back(fault(Severity::error, "stem_under_ball", "reach_mm",
                             {{"reach_mm", *c.reach_mm}, {"diameter_mm", *c.diameter_mm}}));
}

constexpr ParameterUse form_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                            {"flutes", true, 0, 3},
                                            {"flute_length_mm", true, 0.8, 0, along_axis},
                                            {"overall_length_mm", true, 4, 30, along_axis},
                                            {"shank_diameter_mm", true, 1, 0, across_shank},
                                            {"reach_mm", false, 1.5, 0, along_axis},
                                            {"neck_diameter_mm", false, 0.9, 0, across_neck},
                                            {"rake_deg"},
                                            {"edge_radius_mm"},
                                            {"max_chip_mm"},
                                            {"max_rpm"}};
constexpr ParameterUse knife_parameters[] = {
    {"diameter_mm", true, 1, 0, across_tip},        {"trail_mm", true, 0.1, 0, none},
    {"point_angle_deg", true, 0, 60, point_angle},  {"flute_length_mm", true, 1, 0, along_axis},
    {"overall_length_mm", true, 3, 20, along_axis}, {"shank_diameter_mm", true, 1, 0, across_shank},
    {"reach_mm", false, 2, 0, along_axis}};
constexpr ParameterUse probe_parameters[] = {{"diameter_mm", true, 1, 0, across_tip},
                                             {"neck_diameter_mm", true, 0.6, 0, across_neck},
                                             {"reach_mm", true, 8, 0, along_axis},
                                             {"shank_diameter_mm", true, 4, 0, across_shank},
                                             {"overall_length_mm", true, 20, 0, along_axis}};

}  // namespace

const KindDeclaration form_kind{CutterKind::form,
                                CuttingForm::outline,
                                set_of(side_rough, side_finish, slot, chamfer, engrave),
                                side_finish,
                                form_parameters,
                                0.05,
                                8,
                                form_silhouette,
                                check_form,
                                propose_form};
const KindDeclaration drag_knife_kind{CutterKind::drag_knife, CuttingForm::other, 0, engrave, knife_parameters, 0.2, 8,
                                      knife_silhouette,       check_knife};
const KindDeclaration probe_kind{CutterKind::probe, CuttingForm::other, 0, engrave, probe_parameters, 0, 0,
                                 probe_silhouette,  check_probe};

}  // namespace pecorra
