#include "core/motion/path_time.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>

namespace pecorra {
namespace {

constexpr double unlimited = std::numeric_limits<double>::infinity();
using Direction = std::array<double, 3>;

// Axes of an arc's plane and the one across it.
std::array<std::size_t, 3> axes_of(Plane plane) {
  return plane == Plane::xy   ? std::array<std::size_t, 3>{0, 1, 2}
         : plane == Plane::zx ? std::array<std::size_t, 3>{2, 0, 1}
                              : std::array<std::size_t, 3>{1, 2, 0};
}

struct Arc {
  double radius = 0, start = 0, swept = 0, rise = 0;
  double length() const { return std::hypot(radius * swept, rise); }
};

Arc arc_of(const Direction& from, const Move& m) {
  const auto [a, b, c] = axes_of(m.plane);
  const Direction to{m.x, m.y, m.z};
  Arc arc;
  arc.radius = std::hypot(from[a] - m.centre_x, from[b] - m.centre_y);
  arc.start = std::atan2(from[b] - m.centre_y, from[a] - m.centre_x);
  arc.swept = std::atan2(to[b] - m.centre_y, to[a] - m.centre_x) - arc.start;
  constexpr double turn = 2 * std::numbers::pi;
  if (m.shape == MoveShape::counter_clockwise) {
    if (arc.swept <= 1e-9) arc.swept += turn;
    arc.swept += turn * m.turns;
  } else {
    if (arc.swept >= -1e-9) arc.swept -= turn;
    arc.swept -= turn * m.turns;
  }
  arc.rise = to[c] - from[c];
  return arc;
}

Direction tangent(const Arc& arc, Plane plane, double part) {
  const auto [a, b, c] = axes_of(plane);
  const double angle = arc.start + arc.swept * part, along = arc.radius * arc.swept, length = arc.length();
  Direction d{};
  if (length <= 0) return d;
  d[a] = -std::sin(angle) * along / length;
  d[b] = std::cos(angle) * along / length;
  d[c] = arc.rise / length;
  return d;
}

// A move as the control sees it.
struct Segment {
  double length = 0, speed = 0, acceleration = 0;  // mm, mm/s, mm/s²
  Direction begins{}, ends{};
  double waits_s = 0;        // before it
  bool stops_after = false;  // at rest where it ends
};

double over(double limit, double share) { return share > 1e-12 ? limit / share : unlimited; }

class Timer {
 public:
  Timer(const Toolpath& path, const MachineDynamics& machine) : path_(path), machine_(machine) {
    a_[0] = a_[1] = machine.acceleration;
    a_[2] = machine.acceleration_z > 0 ? machine.acceleration_z : machine.acceleration;
  }

  std::vector<double> run() {
    std::vector<Segment> segments = cut_up();
    std::vector<double> ends(segments.size());
    double at = 0;
    if (!machine_.known()) {
      for (std::size_t i = 0; i < segments.size(); ++i) {
        const Segment& s = segments[i];
        at += s.waits_s + (s.speed > 0 && s.length > 0 ? s.length / s.speed : 0);
        ends[i] = at;
      }
      return ends;
    }
    // Greatest speed where each begins; the last ends at rest.
    std::vector<double> entry(segments.size() + 1, 0);
    for (std::size_t i = 1; i < segments.size(); ++i) entry[i] = corner(segments[i - 1], segments[i]);
    look_ahead(segments, entry);
    for (std::size_t i = segments.size(); i-- > 0;)  // can slow down in time
      entry[i] = std::min(entry[i], reached(entry[i + 1], segments[i]));
    for (std::size_t i = 0; i < segments.size(); ++i)  // and has come up to it
      entry[i + 1] = std::min(entry[i + 1], reached(entry[i], segments[i]));
    for (std::size_t i = 0; i < segments.size(); ++i) {
      const Segment& s = segments[i];
      at += s.waits_s + std::max(time_of(s, entry[i], entry[i + 1]), s.length > 0 ? machine_.block_s : 0);
      ends[i] = at;
    }
    return ends;
  }

 private:
  std::vector<Segment> cut_up() const {
    std::vector<Segment> out;
    out.reserve(path_.moves.size());
    Direction at{};
    bool first = true;
    std::size_t event = 0;
    for (std::size_t i = 0; i < path_.moves.size(); ++i) {
      const Move& m = path_.moves[i];
      Segment s;
      for (; event < path_.events.size() && path_.events[event].before <= i; ++event) {
        const MotionEvent& e = path_.events[event];
        if (e.kind == MotionEvent::dwell) s.waits_s += e.value;
        const bool stands = e.kind == MotionEvent::dwell || e.kind == MotionEvent::spindle_reverses ||
                            e.kind == MotionEvent::spindle_turns_again ||
                            e.kind == MotionEvent::spindle_stops_orientated;
        if (stands && !out.empty()) out.back().stops_after = true;
      }
      if (first) at = {m.x, m.y, m.z};  // from the change to here is no part of the path
      first = false;
      const Direction to{m.x, m.y, m.z};
      if (m.shape == MoveShape::line) line(s, at, to, m);
      else arc(s, at, m);
      out.push_back(s);
      at = to;
    }
    return out;
  }

  void line(Segment& s, const Direction& from, const Direction& to, const Move& m) const {
    Direction d{to[0] - from[0], to[1] - from[1], to[2] - from[2]};
    s.length = std::sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
    if (s.length <= 0) return;
    for (double& part : d) part /= s.length;
    s.begins = s.ends = d;
    s.acceleration = unlimited;
    for (std::size_t k = 0; k < 3; ++k) s.acceleration = std::min(s.acceleration, over(a_[k], std::abs(d[k])));
    s.speed = m.is_rapid() ? rapid(d) : m.feed_mm_min / 60;
  }
  double rapid(const Direction& d) const {
    const double plane = machine_.rapids.plane_mm_min / 60,
                 z = machine_.rapids.z_mm_min > 0 ? machine_.rapids.z_mm_min / 60 : plane;
    if (plane <= 0 && z <= 0) return 0;
    const double speed = std::min(plane > 0 ? over(plane, std::hypot(d[0], d[1])) : unlimited,
                                  z > 0 ? over(z, std::abs(d[2])) : unlimited);
    return std::isfinite(speed) ? speed : 0;
  }
  void arc(Segment& s, const Direction& from, const Move& m) const {
    const Arc arc = arc_of(from, m);
    s.length = arc.length();
    if (s.length <= 0) return;
    s.begins = tangent(arc, m.plane, 0);
    s.ends = tangent(arc, m.plane, 1);
    const auto [a, b, c] = axes_of(m.plane);
    const double in_plane = std::min(a_[a], a_[b]), share = std::abs(arc.radius * arc.swept) / s.length;
    s.acceleration = std::min(over(in_plane, share), over(a_[c], std::abs(arc.rise) / s.length));
    s.speed = m.is_rapid() ? rapid(s.begins) : m.feed_mm_min / 60;
    if (machine_.known() && share > 0) s.speed = std::min(s.speed, std::sqrt(in_plane * arc.radius) / share);
  }

  double corner(const Segment& before, const Segment& after) const {
    if (before.stops_after || after.waits_s > 0) return 0;
    // A move without length changes no direction.
    if (before.length <= 0 || after.length <= 0) return std::min(speed_of(before), speed_of(after));
    double change = 0;
    for (std::size_t k = 0; k < 3; ++k) change = std::max(change, std::abs(after.begins[k] - before.ends[k]));
    return std::min({speed_of(before), speed_of(after), over(machine_.corner_jump, change > 1e-6 ? change : 0)});
  }
  static double speed_of(const Segment& s) { return s.length > 0 ? s.speed : unlimited; }

  // No faster than can be stopped within the blocks that are known.
  void look_ahead(const std::vector<Segment>& segments, std::vector<double>& entry) const {
    if (machine_.look_ahead <= 0) return;
    const auto seen = static_cast<std::size_t>(machine_.look_ahead);
    std::vector<double> sum(segments.size() + 1, 0);  // of v² that each block can take off
    for (std::size_t i = 0; i < segments.size(); ++i)
      sum[i + 1] =
          sum[i] + (segments[i].length > 0 ? 2 * std::min(segments[i].acceleration, 1e9) * segments[i].length : 0);
    for (std::size_t i = 0; i < segments.size(); ++i)
      entry[i] = std::min(entry[i], std::sqrt(sum[std::min(i + seen, segments.size())] - sum[i]));
  }

  static double reached(double from, const Segment& s) {
    if (s.length <= 0) return from;
    return std::min(s.speed, std::sqrt(from * from + 2 * s.acceleration * s.length));
  }
  static double time_of(const Segment& s, double v0, double v1) {
    if (s.length <= 0 || s.speed <= 0) return 0;
    const double a = s.acceleration, v = s.speed;
    if (!std::isfinite(a)) return s.length / v;
    const double up = (v * v - v0 * v0) / (2 * a), down = (v * v - v1 * v1) / (2 * a);
    if (up + down <= s.length) return (2 * v - v0 - v1) / a + (s.length - up - down) / v;
    const double top = std::sqrt(a * s.length + (v0 * v0 + v1 * v1) / 2);
    return std::max(0.0, (2 * top - v0 - v1) / a);
  }

  const Toolpath& path_;
  const MachineDynamics& machine_;
  Direction a_{};
};

}  // namespace

std::vector<double> path_times(const Toolpath& path, const MachineDynamics& machine) {
  return Timer(path, machine).run();
}

double length_of(double x, double y, double z, const Move& m) {
  if (m.shape != MoveShape::line) return arc_of({x, y, z}, m).length();
  return std::sqrt((m.x - x) * (m.x - x) + (m.y - y) * (m.y - y) + (m.z - z) * (m.z - z));
}

Place3 place_on(double x, double y, double z, const Move& m, double part) {
  if (m.shape == MoveShape::line) return {x + (m.x - x) * part, y + (m.y - y) * part, z + (m.z - z) * part};
  const Direction from{x, y, z};
  const Arc arc = arc_of(from, m);
  const auto [a, b, c] = axes_of(m.plane);
  const double angle = arc.start + arc.swept * part;
  Direction at{};
  at[a] = m.centre_x + arc.radius * std::cos(angle);
  at[b] = m.centre_y + arc.radius * std::sin(angle);
  at[c] = from[c] + arc.rise * part;
  return {at[0], at[1], at[2]};
}

}  // namespace pecorra
