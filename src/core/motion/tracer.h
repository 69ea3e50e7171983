// Puts a path together move by move while the stock goes away under it: every kind of operation enters, leads, links
// and retracts with these.
#pragma once

#include <functional>
#include <limits>
#include <optional>

#include "core/motion/motion.h"
#include "core/motion/stock_field.h"

namespace pecorra {

// Spindle speed and feeds of one answer of the tables, rev/min and mm/min.
struct FeedSet {
  double n = 0, cut = 0, plunge = 0, ramp = 0, lead = 0;
  double ramp_n = 0;  // of ramps; 0: as the cut
};
// Speed and feed at one place always come from one of both answers.
struct PathFeeds : FeedSet {
  FeedSet slot;  // where the width is full; n 0: the same there
};

// The greatest feeds of the axes, and of any move; mm/min.
struct FeedLimits {
  double x = std::numeric_limits<double>::infinity(), y = x, z = x, any = x;
  bool stops_for_speed = false;  // another speed is set by hand: only on the retract plane
  bool operator==(const FeedLimits&) const = default;
};

// Distances and angles that nobody types for each operation; the shop's settings own them.
struct PathRules {
  double ramp_deg = 3;                // where the cutter states no greatest ramp
  double ramp_not_to_centre_deg = 1;  // likewise, of one that does not cut to the centre
  double helix_per_d = 0.8;           // diameter of a helix's path, by the cutter's
  double lead_per_d = 0.25;           // radius of arcs in and out, by the cutter's diameter
  double feed_height_mm = 1;          // rapids end this far above material
  double overrun_mm = 2;              // past the edges of the stock
  double full_width_deg = 150;        // from this engagement on a cut is a slot
  double clearance_mm = 10;           // of the retract plane above the stock, where the setup states none
  double overlap_mm = 1;              // of the end of a finishing pass over its beginning
  double dwell_turns = 2;             // at the bottom of spots, sinks and counterbores
  double breakthrough_mm = 0.5;       // of mills, past the underside of what goes through
  bool operator==(const PathRules&) const = default;
};

// Distances and angles that a path took from the rules; 0: it needed none.
struct PathDistances {
  double ramp_deg = 0, helix_mm = 0, lead_mm = 0, feed_height_mm = 0, overrun_mm = 0;
};

class Tracer {
 public:
  // `cleared_mm`: radius of what the cutter takes away in all its depth, where that is not its own.
  Tracer(Toolpath& path, StockField& stock, const PathFeeds& feeds, const FeedLimits& limits, const PathRules& rules,
         double radius_mm, double safe_z, std::optional<double> cleared_mm = {})
      : path_(path),
        stock_(stock),
        feeds_(feeds),
        limits_(limits),
        rules_(rules),
        radius_(radius_mm),
        cleared_(cleared_mm.value_or(radius_mm)) {
    path_.safe_z = z_ = safe_z;
    sets_.push_back(feeds);
  }

  const PathFeeds& feeds() const { return feeds_; }
  // Of the moves from here on; the speed goes with them.
  void set_feeds(const PathFeeds& feeds) {
    feeds_ = feeds;
    sets_.push_back(feeds);
  }
  const StockField& stock() const {
    settle();
    return stock_;
  }
  Point2 at() const { return {x_, y_}; }
  double z() const { return z_; }

  // Up to the retract plane and over there.
  void move_above(Point2 p);
  // Whether the cutter can go straight down to `z` there without meeting material.
  bool is_clear(Point2 p, double z) const {
    settle();
    return stock_.is_clear(p, reach(), z);
  }
  // The same where the cutter has been exactly here: the grid's error is not held against it. For moves at a feed.
  bool is_cut(Point2 p, double z) const {
    settle();
    return stock_.is_clear(p, std::max(radius_ / 2, radius_ - 1.5 * stock_.cell()), z);
  }
  // Straight down: at rapid to just above what stands, then at a feed; in material at the plunge feed.
  void go_down(double z);
  void retract();
  void line(MoveKind kind, Point2 to, double z);
  // `circles`: of an arc that ends above or below where it began.
  void arc(MoveKind kind, bool counter_clockwise, Point2 to, double z, Point2 centre, int circles = 1);
  void note_ramp(double angle_deg, double helix_mm) {
    distances_.ramp_deg = angle_deg;
    distances_.helix_mm = helix_mm;
  }
  // Along a contour from where it begins, which is where the tip is; level.
  void follow(MoveKind kind, const Contour& contour);
  // Down along a contour from its beginning, as often round (or to and fro) as the angle needs. Returns the contour
  // from where the ramp ended: a closed one turned, an open one perhaps reversed.
  Contour ramp_along(const Contour& contour, double to_z, double angle_rad);
  // Down a helix from beside its centre, ending with a level circle.
  void helix(Point2 centre, double radius, double to_z, double angle_rad);
  void dwell(double seconds);
  void compensate(MotionEvent::Kind kind) { happen(kind); }
  // A hole at the present place; the tip ends up where the cycle returns to.
  void cycle(const CycleCall& cycle);
  // Over there at the height where the tip is; the way has to be free.
  void move_over(Point2 p);

  // Asked now and then; true stops the tracing.
  void stop_when(std::function<bool()> stop) { stop_ = std::move(stop); }
  bool is_stopped() const { return stop_ && stop_(); }
  // Or stopped: whoever traces gives up.
  bool too_long() const { return path_.moves.size() > most_moves || is_stopped(); }
  PathDistances& distances() { return distances_; }
  // Decides for every move which answer its speed and feed come from, and holds the limits of the axes. Once, at the
  // end; the figures below are known then.
  void finish();
  double tightest_rad() const { return tightest_; }  // engagement on cuts, but for those that a slot's answer holds for
  double full_width_mm() const { return full_mm_; }  // length of cuts at full width, but for corners
  double full_depth_mm() const { return full_depth_; }  // the deepest of them
  static constexpr std::size_t most_moves = 3'000'000;

 private:
  double reach() const { return radius_ + stock_.cell() * 0.75; }
  // What is known of a move until finish() gives it speed and feed.
  struct Said {
    std::uint32_t feeds = 0;  // place in sets_
    bool full = false;        // at full width, or into solid material
    bool fixed = false;       // its feed is given
    float deep = 0;           // of the material met at full width
    float length = 0;
  };
  struct Answer {
    double n = 0, feed = 0;
  };
  Answer answer_of(std::size_t move, bool slot) const;
  double held(std::size_t move, double feed_mm_min) const;
  void slow_down_short_runs(std::vector<Answer>& answers) const;
  void turn_between_retracts(std::vector<Answer>& answers) const;
  void put(Move move, bool fixed = false);
  void push(const Move& move, const Said& said);
  void happen(MotionEvent::Kind kind, double value = 0);
  void bore_hole(const CycleCall& cycle);
  void bore_back(const CycleCall& cycle);
  void go(MoveKind kind, Point2 to, double z, double feed_mm_min);
  void feed_down(const CycleCall& cycle, double z);
  void put_cut(Move move);
  // Of many short cuts in a row only every so often is taken away; this catches up.
  void settle() const;

  Toolpath& path_;
  StockField& stock_;
  PathFeeds feeds_;
  FeedLimits limits_;
  const PathRules& rules_;
  std::function<bool()> stop_;
  double radius_ = 0, cleared_ = 0, x_ = 0, y_ = 0, z_ = 0;
  PathDistances distances_;
  std::vector<PathFeeds> sets_;
  std::vector<Said> said_;  // of each move
  double tightest_ = 0, full_mm_ = 0, full_depth_ = 0;
  mutable double pending_mm_ = 0;  // cut since the stock was last looked at
  double looked_heading_ = 0;
  bool looked_full_ = false;
  float looked_deep_ = 0;
  std::uint16_t looked_engaged_ = 0;
};

// A closed contour that begins `fraction` along segment `i`.
Contour started_at(const Contour& contour, std::size_t i, double fraction);
// The place `fraction` along segment `i`.
Point2 point_on(const Contour& contour, std::size_t i, double fraction);
// Direction at the start of segment `i`, as a unit vector.
Point2 heading_at(const Contour& contour, std::size_t i);

}  // namespace pecorra
