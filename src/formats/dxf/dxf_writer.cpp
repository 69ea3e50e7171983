#include "formats/dxf/dxf_writer.h"

#include <fmt/format.h>
#include <cmath>
#include <numbers>

namespace pecorra {

namespace {

// Text of a file without line ends, and with what is not ASCII as AC1009 writes it.
std::string dxf_text(const std::string& text) {
  std::string out;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    const std::size_t more = c >= 0xf0 ? 3 : c >= 0xe0 ? 2 : c >= 0xc0 ? 1 : 0;
    if (c < 0x20 || (c >= 0x80 && (more == 0 || i + more >= text.size()))) continue;
    if (more == 0) {
      out += text[i];
      continue;
    }
    unsigned code = c & (0x3fu >> more);
    for (std::size_t k = 1; k <= more; ++k) code = code << 6 | (static_cast<unsigned char>(text[i + k]) & 0x3fu);
    out += fmt::format("\\U+{:04X}", code);
    i += more;
  }
  return out;
}

}  // namespace

std::string dxf_of_profile(const Profile& profile) { return dxf_of_profiles({{profile, 0, {}}}); }

std::string dxf_of_profiles(const std::vector<PlacedProfile>& profiles) {
  static constexpr const char* layers[] = {"CUTTING", "NECK", "SHANK"};
  std::string dxf =
      "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n";
  for (const PlacedProfile& placed : profiles) {
    const double x = placed.x_mm;
    for (const ProfileSegment& s : placed.profile) {
      const char* layer = layers[static_cast<std::size_t>(s.role)];
      if (!s.arc) {
        dxf += fmt::format("0\nLINE\n8\n{}\n10\n{:.9f}\n20\n{:.9f}\n11\n{:.9f}\n21\n{:.9f}\n", layer, x + s.from.x,
                           s.from.y, x + s.to.x, s.to.y);
        continue;
      }
      // DXF arcs run anticlockwise from the first angle to the second.
      const double a = angle_at(s, s.from) * 180 / std::numbers::pi;
      const double b = a + swept_angle(s) * 180 / std::numbers::pi;
      dxf += fmt::format("0\nARC\n8\n{}\n10\n{:.9f}\n20\n{:.9f}\n40\n{:.9f}\n50\n{:.9f}\n51\n{:.9f}\n", layer,
                         x + s.centre.x, s.centre.y, radius_of(s), std::min(a, b), std::max(a, b));
    }
    if (!placed.label.empty())
      dxf += fmt::format("0\nTEXT\n8\nLABELS\n10\n{:.9f}\n20\n-5.0\n40\n2.5\n1\n{}\n", x, dxf_text(placed.label));
  }
  return dxf + "0\nENDSEC\n0\nEOF\n";
}

}  // namespace pecorra
