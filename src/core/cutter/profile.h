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

// A line, or an arc about `centre` (the shorter way round).
struct ProfileSegment {
  ProfilePoint from;
  ProfilePoint to;
  bool arc = false;
  ProfilePoint centre;
  ProfileRole role = ProfileRole::cutting;
};

using Profile = std::vector<ProfileSegment>;

double length_of(const ProfileSegment& segment);
// Of an arc: its radius; where a point lies about its centre, radians; and from its start to its end, radians, positive
// counter-clockwise.
double radius_of(const ProfileSegment& segment);
double angle_at(const ProfileSegment& segment, const ProfilePoint& point);
double swept_angle(const ProfileSegment& segment);
// The point at the share 0 … 1 of the segment's length.
ProfilePoint point_on(const ProfileSegment& segment, double share);

// Half section between the axis and the profile: area in mm², centroid in mm; exact for lines and arcs (Green's
// theorem).
struct Section {
  double area_mm2 = 0;
  double centroid_x_mm = 0, centroid_y_mm = 0;
};
Section half_section(const Profile& profile);
// Volume of the body of revolution: 2π · area · distance of the centroid (Pappus).
double volume_mm3(const Profile& profile);

// Largest radius of the cutting part up to this height above the tip; 0 if nothing cuts below it.
double largest_radius_mm(const Profile& profile, double height_mm);
// Angle between the edge and the plane across the axis where the cutting part passes this height, degrees: 90 on a
// cylinder, 0 on a flat end. The outermost place counts; 90 where nothing cuts at that height.
double edge_angle_deg(const Profile& profile, double height_mm);

}  // namespace pecorra
