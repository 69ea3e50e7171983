#include "core/retune/program_moves.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace pecorra {
namespace {

constexpr double chord_rad = std::numbers::pi / 18;

bool is_known(const std::array<double, 3>& p) { return std::isfinite(p[0]) && std::isfinite(p[1]); }

// Per minute, as far as that is known.
float feed_of(const ProgramRun& run, const RunBlock& b) {
  if (!is_fed(b.move)) return 0;
  const ModalState& m = run.modal();
  if (!m.f || m.feed_mode == FeedMode::inverse_time) return 0;
  const double f = *m.f * run.feed_unit_mm();
  return static_cast<float>(m.feed_mode == FeedMode::per_turn ? f * m.s.value_or(0) : f);
}

}  // namespace

ProgramMoves moves_of(const ProgramText& before, const ProgramText& after, const ProgramReading& reading,
                      const ReadProgress& go_on) {
  ProgramMoves out;
  ProgramRun was(before, reading.splits), becomes(after, reading.splits);
  RunBlock b, now;
  bool first = true;
  std::array<double, 3> last{};
  std::size_t steps = 0;
  const auto put = [&](double x, double y, double z, const RunBlock& of, bool jump) {
    ProgramMove m;
    m.x = static_cast<float>(x), m.y = static_cast<float>(y), m.z = std::isfinite(z) ? static_cast<float>(z) : 0;
    m.block = static_cast<std::uint32_t>(of.block);
    const auto section = static_cast<std::size_t>(of.section);
    m.section = of.section >= 0 && section < reading.section_of.size()
                    ? static_cast<std::int16_t>(std::min(reading.section_of[section], 32767))
                    : std::int16_t(-1);
    m.kind = of.move;
    m.jump = jump;
    m.feed_was = feed_of(was, of);
    m.feed = feed_of(becomes, of);
    out.moves.push_back(m);
  };
  while (was.step(b) && becomes.step(now)) {
    if (++steps % asked_every == 0 && go_on &&
        !go_on(static_cast<double>(b.block) / static_cast<double>(std::max<std::size_t>(1, before.size()))))
      return out;
    if (b.move == RunMove::none) continue;
    if (!is_known(b.to)) {
      first = true;
      continue;
    }
    if (out.moves.size() >= most_program_moves) {
      out.cut_short = true;
      break;
    }
    if (first || !is_known(b.from) || b.from != last) {
      // What is not known before it has no line.
      const auto& begin = is_known(b.from) ? b.from : b.to;
      put(begin[0], begin[1], begin[2], b, true);
      out.moves.back().feed_was = out.moves.back().feed = 0;
    }
    first = false;
    if (b.turn != 0 && is_known(b.from) && std::isfinite(b.centre_x) && std::isfinite(b.centre_y)) {
      const double radius = std::hypot(b.from[0] - b.centre_x, b.from[1] - b.centre_y);
      const double begin = std::atan2(b.from[1] - b.centre_y, b.from[0] - b.centre_x);
      double sweep = std::atan2(b.to[1] - b.centre_y, b.to[0] - b.centre_x) - begin;
      if (b.turn > 0 && sweep <= 1e-9) sweep += 2 * std::numbers::pi;
      if (b.turn < 0 && sweep >= -1e-9) sweep -= 2 * std::numbers::pi;
      const int chords = std::clamp(static_cast<int>(std::ceil(std::abs(sweep) / chord_rad)), 1, 36);
      for (int i = 1; i < chords; ++i) {
        const double part = static_cast<double>(i) / chords, angle = begin + sweep * part;
        put(b.centre_x + radius * std::cos(angle), b.centre_y + radius * std::sin(angle),
            b.from[2] + (b.to[2] - b.from[2]) * part, b, false);
      }
    }
    put(b.to[0], b.to[1], b.to[2], b, false);
    last = b.to;
  }
  bool any = false;
  for (const ProgramMove& m : out.moves) {
    if (!is_fed(m.kind)) continue;
    for (const float f : {m.feed_was, m.feed})
      if (f > 0) {
        out.slowest = out.slowest > 0 ? std::min(out.slowest, f) : f;
        out.fastest = std::max(out.fastest, f);
      }
    const Box at{m.x, m.y, m.x, m.y};
    if (!any) out.plan = at;
    any = true;
    out.plan = {std::min(out.plan.low_x, at.low_x), std::min(out.plan.low_y, at.low_y),
                std::max(out.plan.high_x, at.high_x), std::max(out.plan.high_y, at.high_y)};
  }
  return out;
}

}  // namespace pecorra
