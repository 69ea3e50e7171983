#include "formats/dxf/dxf_writer.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace pecorra {

std::string dxf_of_profile(const Profile& profile) {
  static constexpr const char* layers[] = {"CUTTING", "NECK", "SHANK"};
  std::string dxf = "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n";
  for (const ProfileSegment& s : profile) {
    const char* layer = layers[static_cast<std::size_t>(s.role)];
    if (!s.arc) {
      dxf += fmt::format("0\nLINE\n8\n{}\n10\n{:.9f}\n20\n{:.9f}\n11\n{:.9f}\n21\n{:.9f}\n", layer, s.from.x, s.from.y, s.to.x, s.to.y);
      continue;
    }
    // DXF arcs run anticlockwise from the first angle to the second.
    const double a = std::atan2(s.from.y - s.centre.y, s.from.x - s.centre.x) * 180 / std::numbers::pi;
    const double b = a + swept_angle(s) * 180 / std::numbers::pi;
    dxf += fmt::format("0\nARC\n8\n{}\n10\n{:.9f}\n20\n{:.9f}\n40\n{:.9f}\n50\n{:.9f}\n51\n{:.9f}\n", layer, s.centre.x, s.centre.y,
                       std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y), std::min(a, b), std::max(a, b));
  }
  return dxf + "0\nENDSEC\n0\nEOF\n";
}

}  // namespace pecorra
