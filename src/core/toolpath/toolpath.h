// Toolpaths: geometry + taken conditions -> moves of the cutter's tip, each with its feed. Lengths in mm, feeds mm/min.
#pragma once

#include <tl/expected.hpp>
#include <vector>

#include "core/job/job.h"

namespace pecorra {

enum class MoveKind { rapid, plunge, ramp, lead, cut, retract, cycle };
enum class MoveShape { line, clockwise, counter_clockwise };

struct Move {
  MoveKind kind = MoveKind::rapid;
  MoveShape shape = MoveShape::line;
  double x = 0, y = 0, z = 0;         // where it ends
  double centre_x = 0, centre_y = 0;  // of an arc
  double feed_mm_min = 0;             // 0 for rapids
};

// Drilling stays a cycle, as the program writes it.
struct DrillCycle {
  std::vector<Point2> holes;
  double retract_z = 0;
  double bottom_z = 0;
  double peck_mm = 0;  // 0: in one go
  double feed_mm_min = 0;
};

struct Toolpath {
  std::vector<Move> moves;  // for a cycle: what the cutter does, in full
  std::vector<DrillCycle> cycles;
  double safe_z = 0;
};

// Fails with the messages of check_operation, or "path_empty" where the cutter does not fit.
tl::expected<Toolpath, std::vector<Message>> make_toolpath(const Job& job, const Operation& operation);

// Length cut (feeds only) in mm and time in minutes, without acceleration.
struct PathFigures {
  double cut_mm = 0;
  double minutes = 0;
};
// In the plane, and up and down; both axes go at once. 0: not known.
struct Rapids {
  double plane_mm_min = 0, z_mm_min = 0;
};
PathFigures figures_of(const Toolpath& path, const Rapids& rapids);

// The job's holes of that diameter in an order that keeps the way short (nearest next).
std::vector<Point2> ordered_holes(const Drawing& drawing, double diameter_mm);

}  // namespace pecorra
