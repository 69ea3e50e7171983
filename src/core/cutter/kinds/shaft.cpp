#include "core/cutter/kinds/shaft.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/cutter/kinds/outline.h"

namespace pecorra {

Message fault(Severity severity, std::string code, std::string property, Details values) {
  return {severity, std::move(code), std::move(property), std::move(values)};
}

double neck_mm(const Cutter& cutter) { return cutter.neck_diameter_mm.value_or(cutter.diameter_mm.value_or(0)); }

Outline& Outline::shaft(const Cutter& c, double top) {
  const double shank = c.shank_diameter_mm.value_or(*c.diameter_mm) / 2, neck = neck_mm(c) / 2;
  double y = std::max(top, c.reach_mm.value_or(top));
  if (y > top) to(neck, top, ProfileRole::neck).to(neck, y, ProfileRole::neck);
  for (const ShankSection& s : c.shank_sections) {
    to(s.lower_mm / 2, y, ProfileRole::shank).to(s.upper_mm / 2, y + s.length_mm, ProfileRole::shank);
    y += s.length_mm;
  }
  const double end = *c.overall_length_mm;
  if (y < end) to(shank, y, ProfileRole::shank).to(shank, end, ProfileRole::shank);
  return to(0, end, ProfileRole::shank);
}

void check_shaft(const Cutter& c, std::vector<Message>& messages) {
  using enum Severity;
  auto too_long = [&](const std::optional<double>& part, const std::optional<double>& whole, Severity severity,
                      const char* code, const char* property) {
    if (part && whole && *part > *whole)
      messages.push_back(fault(severity, code, property, {{"part_mm", *part}, {"whole_mm", *whole}}));
  };
  too_long(c.flute_length_mm, c.overall_length_mm, error, "flutes_longer_than_overall", "flute_length_mm");
  too_long(c.flute_length_mm, c.reach_mm, error, "flutes_longer_than_reach", "reach_mm");
  too_long(c.reach_mm, c.overall_length_mm, error, "reach_longer_than_overall", "reach_mm");
  // Inclined edges reach out beyond the diameter (formula 3).
  auto widest = c.diameter_mm;
  if (declaration(c.kind).form == CuttingForm::face && widest && c.flute_length_mm &&
      c.cutting_edge_angle_deg.value_or(90) < 90)
    *widest += 2 * *c.flute_length_mm / std::tan(*c.cutting_edge_angle_deg * std::numbers::pi / 180);
  too_long(c.neck_diameter_mm, widest, warning, "neck_thicker_than_cutter", "neck_diameter_mm");
  if (!c.neck_diameter_mm && c.reach_mm && c.flute_length_mm && c.shank_diameter_mm && c.diameter_mm &&
      *c.reach_mm < *c.flute_length_mm + 1e-9 && *c.shank_diameter_mm < *c.diameter_mm * 0.5)
    messages.push_back(fault(warning, "shank_very_thin", "shank_diameter_mm",
                             {{"shank_mm", *c.shank_diameter_mm}, {"diameter_mm", *c.diameter_mm}}));
  if (c.shank_sections.empty() || !c.overall_length_mm) return;
  double top = c.reach_mm.value_or(c.flute_length_mm.value_or(0));
  for (const ShankSection& s : c.shank_sections) {
    if (!(s.length_mm > 0) || !(s.lower_mm > 0) || !(s.upper_mm > 0)) {
      messages.push_back(fault(error, "section_without_size", "shank_sections",
                               {{"section", static_cast<double>(&s - c.shank_sections.data() + 1)}}));
      return;
    }
    top += s.length_mm;
  }
  if (top > *c.overall_length_mm)
    messages.push_back(fault(error, "sections_over_overall", "shank_sections",
                             {{"part_mm", top}, {"whole_mm", *c.overall_length_mm}}));
  else if (top == *c.overall_length_mm)
    messages.push_back(fault(warning, "sections_leave_no_shank", "shank_sections",
                             {{"part_mm", top}, {"whole_mm", *c.overall_length_mm}}));
}

void check_step(const Cutter& c, std::vector<Message>& messages) {
  if (c.step_diameter_mm && *c.step_diameter_mm >= *c.diameter_mm)
    messages.push_back(fault(Severity::error, "step_over_diameter", "step_diameter_mm",
                             {{"step_mm", *c.step_diameter_mm}, {"diameter_mm", *c.diameter_mm}}));
  if (c.step_length_mm && c.flute_length_mm && *c.step_length_mm >= *c.flute_length_mm)
    messages.push_back(fault(Severity::error, "step_longer_than_flutes", "step_length_mm",
                             {{"part_mm", *c.step_length_mm}, {"whole_mm", *c.flute_length_mm}}));
}

void check_range(const Cutter& c, std::vector<Message>& messages) {
  if (c.diameter_from_mm && c.diameter_to_mm && *c.diameter_from_mm > *c.diameter_to_mm)
    messages.push_back(fault(Severity::error, "range_reversed", "diameter_to_mm",
                             {{"from_mm", *c.diameter_from_mm}, {"to_mm", *c.diameter_to_mm}}));
  else if ((c.diameter_from_mm && *c.diameter_mm < *c.diameter_from_mm) ||
           (c.diameter_to_mm && *c.diameter_mm > *c.diameter_to_mm))
    messages.push_back(fault(Severity::error, "outside_range", "diameter_mm",
                             {{"diameter_mm", *c.diameter_mm},
                              {"from_mm", c.diameter_from_mm.value_or(0)},
                              {"to_mm", c.diameter_to_mm.value_or(1e6)}}));
}

}  // namespace pecorra
