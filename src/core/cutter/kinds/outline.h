// Draws a silhouette from the tip upwards as lines and arcs with their roles. Segments shorter than a millionth of a
// millimetre are left out.
#pragma once

#include <cmath>

#include "core/cutter/kinds.h"

namespace pecorra {

class Outline {
 public:
  explicit Outline(ProfilePoint start = {}) : at_(start) {}

  Outline& to(double x, double y, ProfileRole role = ProfileRole::cutting) {
    if (!is_step(x, y)) return *this;
    profile_.push_back({at_, {x, y}, false, {}, role});
    at_ = {x, y};
    return *this;
  }
  // The shorter way round the centre.
  Outline& arc(double x, double y, ProfilePoint centre, ProfileRole role = ProfileRole::cutting) {
    if (!is_step(x, y)) return *this;
    profile_.push_back({at_, {x, y}, true, centre, role});
    at_ = {x, y};
    return *this;
  }
  // Neck, conical sections and shank above `top`, the upper end of the cutting part.
  Outline& shaft(const Cutter& cutter, double top);
  // The same from the end of the flutes, reached along the flank.
  Outline& flank_and_shaft(const Cutter& cutter) {
    return to(at_.x, *cutter.flute_length_mm).shaft(cutter, *cutter.flute_length_mm);
  }

  ProfilePoint at() const { return at_; }
  Profile done() { return std::move(profile_); }

 private:
  bool is_step(double x, double y) const { return std::abs(x - at_.x) > 1e-6 || std::abs(y - at_.y) > 1e-6; }

  ProfilePoint at_;
  Profile profile_;
};

}  // namespace pecorra
