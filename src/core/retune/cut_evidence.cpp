#include "core/retune/cut_evidence.h"

#include <algorithm>
#include <cmath>

namespace pecorra {
namespace {

constexpr std::size_t most_levels = 4096, most_passes = 20000, most_distances = 4096;
constexpr std::size_t looked_back = 24;  // passes: a ring of a pocket and the one before it
constexpr double shortest_pass = 1;
constexpr int fewest_levels = 3, fewest_passes = 3;

}  // namespace

void CutEvidence::add(const RunBlock& b) {
  const double z = b.to[2];
  if (b.length_mm <= 0 || !std::isfinite(z) || std::abs(z) > 1e6 || b.from[2] != z) return;
  if (b.move == RunMove::rapid) {
    if (z < low_rapid_) low_rapid_ = z, low_block_ = b.block;
  } else if (b.move == RunMove::cut) {
    const long level = std::lround(z * 1000);
    if (levels_.size() < most_levels || levels_.contains(level)) levels_[level] += b.length_mm;
    if (b.turn == 0 && b.length_mm >= shortest_pass && passes_ < most_passes) add_pass(b);
  }
}

void CutEvidence::add_pass(const RunBlock& b) {
  double dx = b.to[0] - b.from[0], dy = b.to[1] - b.from[1];
  const double length = std::sqrt(dx * dx + dy * dy);
  if (!(length > 0) || !std::isfinite(length)) return;
  ++passes_;
  dx /= length, dy /= length;
  if (dx < -1e-9 || (dx < 1e-9 && dy < 0)) dx = -dx, dy = -dy;  // to and fro are parallel
  const auto along = [&](const std::array<double, 3>& q) { return q[0] * dx + q[1] * dy; };
  Pass now{dx, dy, b.from[1] * dx - b.from[0] * dy, along(b.from), along(b.to), std::lround(b.to[2] * 1000)};
  if (now.from > now.to) std::swap(now.from, now.to);
  double nearest = std::numeric_limits<double>::infinity();
  for (const Pass& p : latest_) {
    if (p.z != now.z || std::abs(p.along_x * dy - p.along_y * dx) > 1e-4 || p.along_x * dx + p.along_y * dy < 0)
      continue;
    const double shared = std::min(p.to, now.to) - std::max(p.from, now.from);
    const double distance = std::abs(p.offset - now.offset);
    if (shared < length / 2 || distance < 0.001) continue;
    nearest = std::min(nearest, distance);
  }
  if (nearest < 1e4) {
    const long place = std::lround(nearest * 1000);
    if (apart_.size() < most_distances || apart_.contains(place)) {
      auto& [all, count] = apart_[place];
      all += length, ++count;
    }
  }
  if (latest_.size() < looked_back) latest_.push_back(now);
  else latest_[next_++ % looked_back] = now;
}

std::optional<std::size_t> CutEvidence::rapid_at_depth() const {
  // Levels with little length may be moves through the air at a feed.
  double all = 0;
  for (const auto& [z, length] : levels_) all += length;
  for (auto level = levels_.rbegin(); level != levels_.rend(); ++level)
    if (level->second >= 0.1 * all)
      return low_rapid_ * 1000 <= static_cast<double>(level->first) + 1 ? std::optional(low_block_) : std::nullopt;
  return std::nullopt;
}

CutEvidence::Found CutEvidence::found() const {
  Found out;
  // Levels with less than a tenth of the longest are leads, or moves through the air.
  double longest = 0;
  for (const auto& [z, length] : levels_) longest = std::max(longest, length);
  std::vector<long> levels;
  for (const auto& [z, length] : levels_)
    if (length >= 0.1 * longest) levels.push_back(z);
  out.levels = static_cast<int>(levels.size());
  if (!levels.empty()) out.highest_mm = static_cast<double>(levels.back()) / 1000;
  if (out.levels >= fewest_levels) {
    long deepest = 0;
    std::map<long, int> steps;  // within 2 µm, as decimals round
    for (std::size_t i = 1; i < levels.size(); ++i) {
      const long step = levels[i] - levels[i - 1];
      deepest = std::max(deepest, step);
      ++steps[std::lround(static_cast<double>(step) / 2)];
    }
    const int repeated = std::max_element(steps.begin(), steps.end(), [](const auto& a, const auto& b) {
                           return a.second < b.second;
                         })->second;
    // Levels that do not repeat are floors and shoulders, not steps.
    if (2 * repeated >= out.levels - 1) out.ap_mm = static_cast<double>(deepest) / 1000;
  }
  double all = 0, most = 0;
  for (const auto& [distance, had] : apart_) all += had.first;
  for (const auto& [distance, had] : apart_) {
    double near = 0;
    int count = 0;
    for (auto other = apart_.lower_bound(distance - std::max(2L, distance / 100));
         other != apart_.end() && other->first <= distance + std::max(2L, distance / 100); ++other)
      near += other->second.first, count += other->second.second;
    if (near <= most) continue;
    most = near;
    out.passes = count;
    out.ae_mm = static_cast<double>(distance) / 1000;
  }
  // Fewer than half of them say nothing; passes that have no neighbour do not count.
  if (out.passes < fewest_passes || most < all / 2) out.ae_mm.reset(), out.passes = 0;
  return out;
}

}  // namespace pecorra
