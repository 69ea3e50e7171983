// Motion as a control knows it: where the tip goes, move by move, with what happens between the moves. Lengths in mm,
// feeds in mm/min, z up.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/property.h"
#include "core/base/vertex.h"

namespace pecorra {

// `plunge` is straight down, `ramp` down and sideways; `link` goes from one cut to the next without going up; `cycle`
// is fed along the axis of a hole.
enum class MoveKind : std::uint8_t { rapid, plunge, ramp, lead, link, cut, retract, cycle };
template <>
std::span<const Choice> choices_of<MoveKind>();

enum class MoveShape : std::uint8_t { line, clockwise, counter_clockwise };
// Of an arc. An arc's way is as seen from the positive end of the third axis.
enum class Plane : std::uint8_t { xy, zx, yz };

struct Move {
  MoveKind kind = MoveKind::rapid;
  MoveShape shape = MoveShape::line;
  Plane plane = Plane::xy;
  std::uint16_t turns = 0;            // whole turns of an arc besides its angle
  std::uint16_t engaged_e4 = 0;       // widest engagement on a cut, in 1/10000 rad
  double x = 0, y = 0, z = 0;         // where it ends
  double centre_x = 0, centre_y = 0;  // of an arc, in the plane's order (zx: z, x)
  double feed_mm_min = 0;             // 0: rapid

  bool is_rapid() const { return feed_mm_min <= 0; }
  double engaged_rad() const { return engaged_e4 * 1e-4; }
};
static_assert(sizeof(Move) <= 64);

// What happens before a move.
struct MotionEvent {
  enum Kind : std::uint8_t {
    spindle_speed,
    dwell,
    compensate_left,
    compensate_right,
    compensate_off,
    spindle_reverses,     // turns the other way, at the same speed
    spindle_turns_again,  // as the operation does
    spindle_stops_orientated
  };
  std::uint32_t before = 0;  // index of the move
  Kind kind = spindle_speed;
  double value = 0;  // rev/min, or seconds
};

// What a control does at one place, called by one block.
enum class CycleKind : std::uint8_t {
  drill,       // down at the feed, up at rapid
  peck,        // up to the retract height after each peck
  chip_break,  // up a little after each peck
  feed_out,    // down and up at the feed
  bore,        // down at the feed; up at rapid, the point turned away from the wall
  back_bore,   // through the hole beside its axis, then up at the feed
  tap          // down at n·P, the spindle reverses, up at n·P
};

// A hole-making cycle at one place; `moves` of the path, from `first`, are what it does in full.
struct CycleCall {
  CycleKind kind = CycleKind::drill;
  std::uint32_t first = 0, moves = 0;
  Point2 at;
  double retract_z = 0;  // where the feed begins
  double bottom_z = 0;   // where it ends; back boring cuts upwards to it
  double return_z = 0;   // where the tip is afterwards: at `retract_z` or on the retract plane
  double peck_mm = 0, first_peck_mm = 0, dwell_s = 0, feed_mm_min = 0;  // first peck 0: as the others
  double shift_mm = 0;                                                  // beside the axis with a point turned away
  bool left_hand = false;                                               // of a tap
  bool floating = false;                                                // the tap's holder gives
  // Of a drill, where there is something at its entry or exit: so far at this feed. The control knows no such cycle.
  double surface_z = 0;  // from where the entry counts
  double slow_entry_mm = 0, slow_exit_mm = 0, slow_feed_mm_min = 0;
  bool written_out() const { return slow_entry_mm > 0 || slow_exit_mm > 0; }
  // Apart from the place.
  bool same_as(const CycleCall& other) const;
};

struct Toolpath {
  std::vector<Move> moves;
  std::vector<MotionEvent> events;  // in the order of the moves
  std::vector<CycleCall> cycles;    // likewise
  double safe_z = 0;                // starts and ends there
  double start_rpm = 0;             // until an event says otherwise; 0: as the operation's conditions
};

// Angle of an arc that starts at (x, y), with its turns; negative when clockwise.
double swept_rad(double x, double y, const Move& arc);

// Length cut (feeds only) in mm and time in minutes, without acceleration.
struct PathFigures {
  double cut_mm = 0;
  double minutes = 0;
};
// In the plane, and up and down; both axes go at once. 0: not known.
struct Rapids {
  double plane_mm_min = 0, z_mm_min = 0;
  bool operator==(const Rapids&) const = default;
};
PathFigures figures_of(const Toolpath& path, const Rapids& rapids);

}  // namespace pecorra
