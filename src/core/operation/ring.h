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

// From here on at these speed and feeds, where there are any and none are typed: of a finishing pass.
void take_feeds(PathContext& context, const TakenConditions& taken);

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

  // A closed line at `z`, in the direction it runs; `tabs` leaves the operation's tabs standing.
  void cut_closed(const Contour& ring, double z, bool tabs);
  // An open line, from where it begins or ends, whichever is nearer.
  void cut_open(const Contour& line, double z);
  // Over there without going up if nothing stands in the way, else by the retract plane.
  void travel(Point2 to);

 private:
  // The same ring begun in the middle of a segment where there is room for arcs, outside the stock if possible.
  Contour with_lead(const Contour& ring, double z, Lead& lead) const;
  Lead lead_at(Point2 start, Point2 heading) const;
  std::optional<Point2> clear_entry(const Lead& lead, Point2 begin, double z) const;
  bool way_is_clear(Point2 to) const;
  void follow_over_tabs(const Contour& ring, double z);

  PathContext& c_;
  Allowed allowed_;
  bool clear_left_;
};

}  // namespace pecorra
