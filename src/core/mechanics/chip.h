// Geometry of the chip in milling: effective diameter, engagement, chip thickness. Pure functions; lengths in mm,
// angles in radians unless the name says otherwise.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "core/cutter/cutter.h"
#include "core/cutter/kinds.h"

namespace pecorra {

// The cutting edge as used by the chip formulas.
struct EdgeShape {
  CuttingForm form = CuttingForm::cylinder;
  double diameter_mm = 0;                  // DC
  double corner_radius_mm = 0;             // corner and ball (there D/2)
  double tip_diameter_mm = 0;              // cone
  double half_angle_rad = 0;               // cone
  double kappa_rad = 0;                    // straight edges; face mills
  std::shared_ptr<const Profile> outline;  // of the form `outline`, where all sizes are there
};
// The shape a chip is cut with; nothing while a size that it needs is missing.
std::optional<EdgeShape> edge_shape(const Cutter& cutter);

// Formula 3. `ap` missing: the diameter where it does not depend on the depth, else nothing. `tilt` of a ball from the
// surface normal. `tip_offset_mm` is the axial distance from the tip to the lower end of the contact of a cone.
std::optional<double> effective_diameter_mm(const EdgeShape& edge, std::optional<double> ap_mm, double tilt_rad,
                                            double tip_offset_mm);

// Entry and exit angle of the engaged arc, measured from the normal to the feed; formula 4. 0 … π is a slot.
struct Engagement {
  double from_rad = 0;
  double to_rad = 0;
  double angle() const { return to_rad - from_rad; }
};
// 0 ≤ ae ≤ D. Side milling engages from the edge of the cut.
Engagement side_engagement(double ae_mm, double diameter_mm);
// Facing: the cut is `ae` wide, its middle `offset` beside the cutter's centre; the part beyond the cutter is not cut.
Engagement face_engagement(double ae_mm, double offset_mm, double diameter_mm);

// Chip thicknesses for a feed of 1 mm per tooth; they are proportional to the feed (formula 5).
struct ChipRatio {
  double greatest = 0;  // hex / fz
  double mean = 0;      // hm / fz, chip area over engaged edge length, averaged over the engaged arc
};
// Straight edges use the closed form; round edges, cones and outlines are integrated along the edge with the local
// angle and the local diameter, the chip being `ae` wide at every height (parallel passes of the same cutter).
ChipRatio chip_ratio(const EdgeShape& edge, const Engagement& engagement, double ap_mm, double ae_mm, bool facing);

// The cutting edge up to the depth of cut, in pieces short enough for radius and angle to count as constant; heights
// above the lower end of the contact. A straight edge is one piece, however deep. Parts across the axis cut nothing
// when fed sideways and are left out.
struct EdgePiece {
  double from_mm = 0, to_mm = 0;
  double radius_mm = 0;
  double sin_kappa = 1;
};
std::vector<EdgePiece> edge_pieces(const EdgeShape& edge, double ap_mm);
// Whether the chip depends on the depth of cut: round edges and cones.
bool depth_shapes_chip(const EdgeShape& edge);

}  // namespace pecorra
