#include "core/motion/motion.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace pecorra {
namespace {

using std::numbers::pi;
constexpr Choice move_choices[] = {{"rapid", "Rapid"},     {"plunge", "Plunge"}, {"ramp", "Ramp"},
                                   {"lead", "Lead"},       {"link", "Link"},     {"cut", "Cut"},
                                   {"retract", "Retract"}, {"cycle", "Drill"}};

}  // namespace

template <>
std::span<const Choice> choices_of<MoveKind>() {
  return move_choices;
}

bool CycleCall::same_as(const CycleCall& o) const {
  return kind == o.kind && retract_z == o.retract_z && bottom_z == o.bottom_z && peck_mm == o.peck_mm &&
         first_peck_mm == o.first_peck_mm && dwell_s == o.dwell_s && feed_mm_min == o.feed_mm_min &&
         shift_mm == o.shift_mm && left_hand == o.left_hand && floating == o.floating;
}

double swept_rad(double x, double y, const Move& m) {
  if (m.shape == MoveShape::line) return 0;
  double swept = std::atan2(m.y - m.centre_y, m.x - m.centre_x) - std::atan2(y - m.centre_y, x - m.centre_x);
  if (m.shape == MoveShape::counter_clockwise) {
    if (swept <= 1e-9) swept += 2 * pi;
    return swept + 2 * pi * m.turns;
  }
  if (swept >= -1e-9) swept -= 2 * pi;
  return swept - 2 * pi * m.turns;
}

PathFigures figures_of(const Toolpath& path, const Rapids& rapids) {
  PathFigures figures;
  for (std::size_t i = 1; i < path.moves.size(); ++i) {
    const Move &a = path.moves[i - 1], &m = path.moves[i];
    const double flat = m.shape == MoveShape::line
                            ? std::hypot(m.x - a.x, m.y - a.y)
                            : std::hypot(a.x - m.centre_x, a.y - m.centre_y) * std::abs(swept_rad(a.x, a.y, m));
    const double length = std::hypot(flat, m.z - a.z);
    if (!m.is_rapid()) {
      figures.cut_mm += length;
      figures.minutes += length / m.feed_mm_min;
    } else if (rapids.plane_mm_min > 0) {
      figures.minutes += std::max(flat / rapids.plane_mm_min,
                                  std::abs(m.z - a.z) / (rapids.z_mm_min > 0 ? rapids.z_mm_min : rapids.plane_mm_min));
    }
  }
  for (const MotionEvent& event : path.events)
    if (event.kind == MotionEvent::dwell) figures.minutes += event.value / 60;
  return figures;
}

}  // namespace pecorra
