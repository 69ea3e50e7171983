// Cutting along a line: where to go down, tangential arcs in and out, tabs, and the way to the next one.
#pragma once

#include <functional>
#include <optional>

#include "core/geometry/region.h"
#include "core/operation/declaration.h"

namespace pecorra {

// Where the tip may be, in the plane.
using Allowed = std::function<bool(Point2)>;

// Angle at which the cutter may go down a slope.
double ramp_rad(const Operation& operation, const PathRules& rules);
// Says `plunges_into_solid` once and returns false where a cutter that cannot would have to go straight down.
bool may_plunge(PathContext& context);

// How deep a finishing pass of a wall cuts: all of the depth where its values and the flutes allow.
double finishing_step(const Operation& operation, double depth_mm);

// From here on at these speed and feeds, where there are any and none are typed: of a finishing pass.
void take_feeds(PathContext& context, const TakenConditions& taken);

// Pieces that are left standing under a closed line.
struct Tabs {
  double bottom_z = 0;  // of what they hold on to
  int count = 0;        // at equal distances, or
  std::vector<Point2> at{};
};

struct Lead {
  bool found = false;
  Point2 in, out, centre;  // of quarter arcs around one centre
  double radius = 0;
  std::optional<Point2> from;  // where it can go down freely: `in`, or straight behind it
};

class RingCutter {
 public:
  // `clear_left`: the side away from the wall is on the left of the line.
  RingCutter(PathContext& context, Allowed allowed, bool clear_left)
      : c_(context), allowed_(std::move(allowed)), clear_left_(clear_left) {}

  // A closed line at `z`, in the direction it runs. `overlap_mm`: so far on beyond where it began.
  void cut_closed(const Contour& ring, double z, const Tabs* tabs = nullptr, double overlap_mm = 0);
  // An open line, from where it begins or ends, whichever is nearer.
  void cut_open(const Contour& line, double z);
  // Over there without going up if nothing stands in the way, else by the retract plane.
  void travel(Point2 to);

 private:
  // A tab along a ring, with its slopes; lengths from where the ring begins.
  struct TabSpan {
    double rises = 0, from = 0, to = 0, ends = 0;
  };
  struct TabsAlong {
    double up_z = 0;
    std::vector<TabSpan> spans;
    bool any() const { return !spans.empty(); }
    bool covers(double length, double whole) const;
  };
  TabsAlong along(const Contour& ring, double z, const Tabs* tabs) const;
  // The same ring begun in the middle of the widest gap between tabs; how wide that is.
  Contour between_tabs(const Contour& ring, const TabsAlong& tabs, double& gap) const;
  // The same ring begun in the middle of a segment where there is room for arcs, outside the stock if possible, and
  // where no tab is.
  Contour with_lead(const Contour& ring, double z, const TabsAlong& tabs, Lead& lead) const;
  Lead lead_at(Point2 start, Point2 heading) const;
  std::optional<Point2> clear_entry(const Lead& lead, Point2 begin, double z) const;
  bool way_is_clear(Point2 to) const;
  void follow_over(const Contour& ring, double z, const TabsAlong& tabs);
  bool left_out_said_ = false;

  PathContext& c_;
  Allowed allowed_;
  bool clear_left_;
};

}  // namespace pecorra
