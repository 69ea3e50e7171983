// The silhouette of a cutter or holder: the right-hand side of the axial section, from the tip upwards, as exact lines
// and arcs. x is the distance from the axis, y the height above the tip, both in mm.
#pragma once

#include <vector>

namespace pecorra {

enum class ProfileRole { cutting, neck, shank };

struct ProfilePoint {
  double x = 0;
  double y = 0;
};

// A line, or an arc about `centre` that bulges away from it (the shorter way round).
struct ProfileSegment {
  ProfilePoint from;
  ProfilePoint to;
  bool arc = false;
  ProfilePoint centre;
  ProfileRole role = ProfileRole::cutting;
};

using Profile = std::vector<ProfileSegment>;

double length_of(const ProfileSegment& segment);
// Area of the half section between the axis and the profile, mm².
double half_area(const Profile& profile);

}  // namespace pecorra
