#include "core/cutter/kinds/shaft.h"

namespace pecorra {

Message fault(Severity severity, std::string code, std::string property, Details values) {
  return {severity, std::move(code), std::move(property), std::move(values)};
}

double neck_mm(const Cutter& cutter) { return cutter.neck_diameter_mm.value_or(cutter.diameter_mm.value_or(0)); }

void append_shaft(Profile& profile, const Cutter& cutter, ProfilePoint at) {
  auto line_to = [&](double x, double y, ProfileRole role) {
    if (x == at.x && y == at.y) return;
    profile.push_back({at, {x, y}, false, {}, role});
    at = {x, y};
  };
  const double shank = cutter.shank_diameter_mm.value_or(*cutter.diameter_mm) / 2;
  const double neck = neck_mm(cutter) / 2;
  const double flutes = *cutter.flute_length_mm;
  const double reach = cutter.reach_mm.value_or(flutes);
  line_to(at.x, flutes, ProfileRole::cutting);
  if (reach > flutes) {
    line_to(neck, flutes, ProfileRole::neck);
    line_to(neck, reach, ProfileRole::neck);
  }
  line_to(shank, reach, ProfileRole::shank);
  line_to(shank, *cutter.overall_length_mm, ProfileRole::shank);
  line_to(0, *cutter.overall_length_mm, ProfileRole::shank);
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
  too_long(c.neck_diameter_mm, c.diameter_mm, warning, "neck_thicker_than_cutter", "neck_diameter_mm");
  if (!c.neck_diameter_mm && c.reach_mm && c.flute_length_mm && c.shank_diameter_mm && c.diameter_mm &&
      *c.reach_mm < *c.flute_length_mm + 1e-9 && *c.shank_diameter_mm < *c.diameter_mm * 0.5)
    messages.push_back(fault(warning, "shank_very_thin", "shank_diameter_mm",
                             {{"shank_mm", *c.shank_diameter_mm}, {"diameter_mm", *c.diameter_mm}}));
}

}  // namespace pecorra
