// Whether a program, as a reader of its own understands it, does what the paths say: every place, feed and speed.
#pragma once

#include <fmt/format.h>
#include <string>

#include "core/program/program.h"
#include "program_reader.h"

namespace test {

struct Wanted {
  const pecorra::Operation* operation = nullptr;
  const pecorra::Toolpath* path = nullptr;
  double zero_x = 0, zero_y = 0, zero_z = 0;
  int t = 0;
};

// Empty: it does. `step_mm`: of its last decimal; `chord_mm`: how far lines may stray from an arc.
inline std::string difference(const std::vector<Wanted>& wanted, const Reading& r, const pecorra::Dialect& dialect,
                              double step_mm, double feed_step, double chord_mm) {
  using namespace pecorra;
  std::size_t at = 0;
  const double near = 0.5001 * step_mm + 1e-9;
  for (const Wanted& w : wanted) {
    double n = w.path->start_rpm > 0 ? w.path->start_rpm : *w.operation->taken.n_rpm, x = 1e9, y = 1e9, z = 1e9;
    std::size_t event = 0, cycle = 0;
    const auto where = [&](const char* what, std::size_t move) {
      const int line = at < r.steps.size() ? r.steps[at].line : r.blocks;
      return fmt::format("{}: operation {} move {}, program line {}", what, w.operation->name, move, line);
    };
    const auto is_at = [&](const Step& s, double mx, double my, double mz) {
      return std::abs(s.x + w.zero_x - mx) <= near && std::abs(s.y + w.zero_y - my) <= near &&
             std::abs(s.z + w.zero_z - mz) <= near;
    };
    const auto feed_ok = [&](const Step& s, double feed) {
      return std::abs(s.feed - feed) <= feed_step * 0.5001 + 1e-6 * feed;
    };
    for (std::size_t i = 0; i < w.path->moves.size(); ++i) {
      const Move& m = w.path->moves[i];
      for (; event < w.path->events.size() && w.path->events[event].before <= i; ++event)
        if (w.path->events[event].kind == MotionEvent::spindle_speed) n = w.path->events[event].value;
      if (cycle < w.path->cycles.size() && w.path->cycles[cycle].first == i) {
        const CycleCall& call = w.path->cycles[cycle++];
        if (!call.written_out() && !dialect.code_of(call.kind, call.dwell_s > 0, call.left_hand).empty()) {
          while (at < r.steps.size() && r.steps[at].kind == 'r') ++at;
          if (at == r.steps.size() || r.steps[at].kind != 'd') return where("no hole", i);
          const Step& s = r.steps[at];
          if (std::abs(s.x + w.zero_x - call.at.x) > near || std::abs(s.y + w.zero_y - call.at.y) > near)
            return where("hole elsewhere", i);
          if (std::abs(s.bottom + w.zero_z - call.bottom_z) > near ||
              std::abs(s.clear + w.zero_z - call.retract_z) > near)
            return where("other depth", i);
          const bool tap = call.kind == CycleKind::tap;
          // A tap's is exact; of one revolution there are four decimals of a millimetre.
          const double most = tap                          ? 1e-4 * call.feed_mm_min + 0.005
                              : dialect.hole_feed_per_turn ? 0.51e-4 * n + 1e-6
                                                           : feed_step * 0.5001 + 1e-6 * call.feed_mm_min;
          if (std::abs(s.feed - call.feed_mm_min) > (dialect.hole_feed_per_turn ? std::max(most, 0.51e-4 * n) : most))
            return where("other feed of a hole", i);
          if (std::abs(s.speed - n) > 0.501 || s.tool != w.t) return where("other speed or cutter in a hole", i);
          ++at;
          i += call.moves - 1;
          const Move& last = w.path->moves[i];
          x = last.x, y = last.y, z = last.z;
          continue;
        }
      }
      // The way to the next hole is in its block.
      const bool to_hole = cycle > 0 && cycle < w.path->cycles.size() && w.path->cycles[cycle].first == i + 1 &&
                           m.is_rapid() && at < r.steps.size() && r.steps[at].kind == 'd';
      if (to_hole) {
        x = m.x, y = m.y, z = m.z;
        continue;
      }
      const bool stands =
          std::abs(m.x - x) <= 2 * near && std::abs(m.y - y) <= 2 * near && std::abs(m.z - z) <= 2 * near;
      if (stands && (m.shape == MoveShape::line || std::abs(swept_rad(x, y, m)) < 1) &&
          (at == r.steps.size() || !is_at(r.steps[at], m.x, m.y, m.z)))
        continue;
      bool arrived = false;
      while (!arrived) {
        if (at == r.steps.size()) return where("ends too soon", i);
        const Step& s = r.steps[at];
        arrived = is_at(s, m.x, m.y, m.z);
        if (i == 0) {  // on the way to the first place
          if (s.kind != 'r') return where("cuts before it is there", i);
          ++at;
          // Over there, and once more with the length offset.
          while (arrived && at < r.steps.size() && r.steps[at].kind == 'r' && is_at(r.steps[at], m.x, m.y, m.z)) ++at;
          continue;
        }
        // More than a part of an arc never stands between.
        const bool whole_circle = arrived && m.shape != MoveShape::line && stands;
        if (!arrived && m.shape == MoveShape::line) return where("elsewhere", i);
        if ((s.kind == 'r') != m.is_rapid()) return where("rapid for a cut, or a cut for a rapid", i);
        if (!m.is_rapid() && !feed_ok(s, m.feed_mm_min)) return where("other feed", i);
        if (!m.is_rapid() && (std::abs(s.speed - n) > 0.501 || !s.turning)) return where("other speed", i);
        if (s.tool != w.t && w.t > 0) return where("other cutter", i);
        if (m.shape != MoveShape::line && m.plane == Plane::xy) {
          const double radius = std::hypot(m.x - m.centre_x, m.y - m.centre_y);
          if (std::abs(std::hypot(s.x + w.zero_x - m.centre_x, s.y + w.zero_y - m.centre_y) - radius) > 2 * near)
            return where("off the arc", i);
          if (s.kind == 'c' || s.kind == 'a') {
            if ((s.kind == 'c') != (m.shape == MoveShape::clockwise)) return where("the other way round", i);
            if (std::abs(s.radius_start - s.radius_end) > 3 * step_mm) return where("radii do not agree", i);
            if (std::abs(s.radius_start - radius) > 0.01 + radius * 0.01) return where("other radius", i);
          } else if (chord_mm <= 0) {
            // Only an arc too small for the decimals becomes a line.
            if (radius * std::abs(swept_rad(x, y, m)) > 4 * step_mm) return where("line for an arc", i);
          } else {
            const Step& before = r.steps[at - 1];
            const double half = std::hypot(s.x - before.x, s.y - before.y) / 2;
            if (half < radius && radius - std::sqrt(radius * radius - half * half) > chord_mm + 2 * near)
              return where("chord too long", i);
          }
        }
        ++at;
        if (whole_circle) break;
      }
      x = m.x, y = m.y, z = m.z;
    }
    while (at < r.steps.size() && r.steps[at].kind == 'r' && &w == &wanted.back()) ++at;
    // A retract before what follows.
  }
  return at == r.steps.size() ? std::string() : fmt::format("goes on behind its end, line {}", r.steps[at].line);
}

}  // namespace test
