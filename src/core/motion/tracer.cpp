#include "core/motion/tracer.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/whole.h"

namespace pecorra {
namespace {

using std::numbers::pi;

double length_of_segment(const Contour& contour, std::size_t i) {
  return length_of(Contour{false, {contour.vertices[i], {contour.end_of(i).x, contour.end_of(i).y, 0}}});
}

constexpr double most_turn_rad = 0.35;

std::uint16_t in_e4(double rad) { return static_cast<std::uint16_t>(whole_within(rad * 1e4, 0, 0xFFFF)); }

}  // namespace

Point2 point_on(const Contour& contour, std::size_t i, double fraction) {
  const Vertex& v = contour.vertices[i];
  const Point2 to = contour.end_of(i);
  if (v.bulge == 0) return {v.x + (to.x - v.x) * fraction, v.y + (to.y - v.y) * fraction};
  const ArcShape arc = arc_of(v, to);
  const double angle = std::atan2(v.y - arc.centre.y, v.x - arc.centre.x) + 4 * std::atan(v.bulge) * fraction;
  return {arc.centre.x + arc.radius * std::cos(angle), arc.centre.y + arc.radius * std::sin(angle)};
}

Point2 heading_at(const Contour& contour, std::size_t i) {
  const Vertex& v = contour.vertices[i];
  const Point2 to = contour.end_of(i);
  const double angle = std::atan2(to.y - v.y, to.x - v.x) - 2 * std::atan(v.bulge);
  return {std::cos(angle), std::sin(angle)};
}

Contour started_at(const Contour& contour, std::size_t i, double fraction) {
  if (!contour.closed || (i == 0 && fraction <= 0)) return contour;
  Contour out{true, {}};
  const std::size_t n = contour.vertices.size();
  const Point2 p = point_on(contour, i, fraction);
  const double angle = std::atan(contour.vertices[i].bulge);
  const bool whole = fraction >= 1 - 1e-9;
  if (!whole) out.vertices.push_back({p.x, p.y, std::tan(angle * (1 - fraction))});
  for (std::size_t k = 1; k < n; ++k) out.vertices.push_back(contour.vertices[(i + k) % n]);
  const Vertex& cut = contour.vertices[i];
  if (fraction > 1e-9) out.vertices.push_back({cut.x, cut.y, whole ? cut.bulge : std::tan(angle * fraction)});
  return out;
}

void Tracer::settle() const {
  if (pending_mm_ <= 0) return;
  pending_mm_ = 0;
  stock_.take_away({x_, y_}, z_, radius_);
}

void Tracer::push(const Move& move, const Said& said) {
  path_.moves.push_back(move);
  said_.push_back(said);
  x_ = move.x, y_ = move.y, z_ = move.z;
}

void Tracer::put(Move move, bool fixed) {
  settle();
  Said said{static_cast<std::uint32_t>(sets_.size() - 1), false, fixed, 0, 0};
  if (move.kind != MoveKind::rapid && move.kind != MoveKind::retract) {
    const bool arc = move.shape != MoveShape::line;
    const double swept = swept_rad(x_, y_, move),
                 flat = arc ? std::hypot(x_ - move.centre_x, y_ - move.centre_y) * std::abs(swept)
                            : std::hypot(move.x - x_, move.y - y_);
    said.length = static_cast<float>(std::hypot(flat, move.z - z_));
    // Down into solid is as wide as the cutter.
    if (move.kind == MoveKind::plunge) said.full = !fixed;
    if (move.kind == MoveKind::ramp && !stock_.empty()) {
      const double limit = rules_.full_width_deg * pi / 180;
      const auto full_at = [&](double t) {
        Point2 p{x_ + (move.x - x_) * t, y_ + (move.y - y_) * t};
        double heading = std::atan2(move.y - y_, move.x - x_);
        if (arc) {
          const double angle = std::atan2(y_ - move.centre_y, x_ - move.centre_x) + swept * t,
                       r = std::hypot(x_ - move.centre_x, y_ - move.centre_y);
          p = {move.centre_x + r * std::cos(angle), move.centre_y + r * std::sin(angle)};
          heading = angle + (swept > 0 ? pi / 2 : -pi / 2);
        }
        return stock_.engaged(p, heading, z_ + (move.z - z_) * t, radius_) >= limit;
      };
      said.full = full_at(1) || full_at(0.5);
    }
    const double most = stock_.cut(x_, y_, z_, move, cleared_);
    move.engaged_e4 = in_e4(most);
  }
  push(move, said);
}

// Split where the width becomes full or ceases to be, so that each part has its own feed.
void Tracer::put_cut(Move move) {
  const bool arc = move.shape != MoveShape::line;
  const double r = arc ? std::hypot(x_ - move.centre_x, y_ - move.centre_y) : 0,
               from = std::atan2(y_ - move.centre_y, x_ - move.centre_x), swept = swept_rad(x_, y_, move);
  const double length = arc ? r * std::abs(swept) : std::hypot(move.x - x_, move.y - y_);
  const double step = std::max(stock_.cell(), radius_ / 4);
  const int steps = std::max(1, whole_within(std::ceil(length / step), 1, 1 << 16));
  if (stock_.empty() || length <= 0) return put(move);
  const auto set = static_cast<std::uint32_t>(sets_.size() - 1);
  // On a line of short pieces the next one is as the last, until they add up or turn.
  const double turned = std::remainder(std::atan2(move.y - y_, move.x - x_) - looked_heading_, 2 * pi);
  if (!arc && move.z == z_ && !path_.moves.empty() && path_.moves.back().kind == move.kind &&
      said_.back().feeds == set && pending_mm_ + length < step && std::abs(turned) < most_turn_rad) {
    pending_mm_ += length;
    move.engaged_e4 = looked_engaged_;
    return push(move, {set, looked_full_, false, looked_deep_, static_cast<float>(length)});
  }
  settle();
  const auto place = [&](double t) {
    if (!arc) return Point2{x_ + (move.x - x_) * t, y_ + (move.y - y_) * t};
    const double angle = from + swept * t;
    return Point2{move.centre_x + r * std::cos(angle), move.centre_y + r * std::sin(angle)};
  };
  const double limit = rules_.full_width_deg * pi / 180;
  std::vector<char> full(static_cast<std::size_t>(steps), 0);
  std::vector<double> engagement(static_cast<std::size_t>(steps), 0), deep(static_cast<std::size_t>(steps), 0);
  const Point2 start{x_, y_};
  for (int i = 0; i < steps; ++i) {
    const double t = (i + 1.0) / steps;
    const Point2 p = place(t), before = i == 0 ? start : place(static_cast<double>(i) / steps);
    const double heading = std::atan2(p.y - before.y, p.x - before.x), z = z_ + (move.z - z_) * t;
    const double engaged = stock_.engaged(p, heading, z, radius_);
    engagement[static_cast<std::size_t>(i)] = engaged;
    if (engaged >= limit) {
      full[static_cast<std::size_t>(i)] = 1;
      // Well inside the rim, where no sliver between two places stands.
      deep[static_cast<std::size_t>(i)] = stock_.highest(p, 0.8 * radius_) - z;
    }
    stock_.take_away(p, z, radius_);
  }
  const auto is_full = [&](int i) {
    for (const int k : {i - 1, i, i + 1})
      if (k >= 0 && k < steps && full[static_cast<std::size_t>(k)]) return true;
    return false;
  };
  std::vector<std::pair<int, bool>> ends;  // after which step each part ends, and whether it is full
  for (int i = 0; i < steps; ++i)
    if (const bool now = is_full(i); ends.empty() || ends.back().second != now) ends.emplace_back(i + 1, now);
    else ends.back().first = i + 1;
  const double z_from = z_;
  std::vector<Point2> places;
  for (const auto& [end, now] : ends)
    places.push_back(end == steps ? Point2{move.x, move.y} : place(static_cast<double>(end) / steps));
  int before = 0;
  for (std::size_t k = 0; k < ends.size(); ++k) {
    const auto& [end, now] = ends[k];
    Move part = move;
    part.x = places[k].x;
    part.y = places[k].y;
    part.z = end == steps ? move.z : z_from + (move.z - z_from) * end / steps;
    part.engaged_e4 = in_e4(*std::max_element(engagement.begin() + before, engagement.begin() + end));
    const auto deepest = static_cast<float>(*std::max_element(deep.begin() + before, deep.begin() + end));
    push(part, {set, now, false, deepest, static_cast<float>(length * (end - before) / steps)});
    before = end;
  }
  const Point2 last = steps > 1 ? place((steps - 1.0) / steps) : start;
  looked_heading_ = std::atan2(move.y - last.y, move.x - last.x);
  looked_full_ = ends.back().second;
  looked_deep_ = said_.back().deep;
  looked_engaged_ = path_.moves.back().engaged_e4;
}

void Tracer::move_above(Point2 p) {
  if (!path_.moves.empty() && z_ < path_.safe_z) retract();
  Move move;
  move.x = p.x, move.y = p.y, move.z = path_.safe_z;
  if (path_.moves.empty() || p.x != x_ || p.y != y_) put(move);
}

void Tracer::go_down(double z) {
  const double top = stock().highest({x_, y_}, reach());
  const bool clear = top <= z + 1e-3;
  const double rapid_z = std::min(z_, (clear ? z : top) + rules_.feed_height_mm);
  distances_.feed_height_mm = rules_.feed_height_mm;
  Move move;
  move.x = x_, move.y = y_, move.z = rapid_z;
  if (rapid_z < z_) put(move);
  if (z >= z_) return;
  move.z = z;
  move.kind = MoveKind::plunge;
  move.feed_mm_min = feeds_.cut;  // in air
  // Where it has been before it meets nothing, though the grid may not be sure of that.
  put(move, clear || (!stock_.empty() && is_cut({x_, y_}, z)));
}

void Tracer::retract() {
  if (z_ >= path_.safe_z) return;
  Move move;
  move.kind = MoveKind::retract;
  move.x = x_, move.y = y_, move.z = path_.safe_z;
  put(move);
}

void Tracer::line(MoveKind kind, Point2 to, double z) {
  if (std::hypot(to.x - x_, to.y - y_, z - z_) < 1e-7) return;
  Move move;
  move.kind = kind;
  move.x = to.x, move.y = to.y, move.z = z;
  move.feed_mm_min = feeds_.cut;
  if (kind == MoveKind::cut || kind == MoveKind::link || kind == MoveKind::lead) put_cut(move);
  else put(move);
}

void Tracer::arc(MoveKind kind, bool counter_clockwise, Point2 to, double z, Point2 centre, int circles) {
  Move move;
  move.kind = kind;
  move.shape = counter_clockwise ? MoveShape::counter_clockwise : MoveShape::clockwise;
  move.x = to.x, move.y = to.y, move.z = z;
  move.centre_x = centre.x, move.centre_y = centre.y;
  move.turns = static_cast<std::uint16_t>(whole_within(circles - 1, 0, 0xFFFF));
  move.feed_mm_min = feeds_.cut;
  if (kind == MoveKind::cut || kind == MoveKind::link || kind == MoveKind::lead) put_cut(move);
  else put(move);
}

void Tracer::follow(MoveKind kind, const Contour& contour) {
  for (std::size_t i = 0; i < contour.segments() && !too_long(); ++i) {
    const Vertex& v = contour.vertices[i];
    const Point2 to = contour.end_of(i);
    // An arc too short for its centre to mean anything is a line.
    if (v.bulge == 0 || std::hypot(to.x - v.x, to.y - v.y) < 2e-3) line(kind, to, z_);
    else arc(kind, v.bulge > 0, to, z_, arc_of(v, to).centre);
  }
}

Contour Tracer::ramp_along(const Contour& contour, double to_z, double angle_rad) {
  Contour now = contour;
  const double slope = std::tan(angle_rad);
  if (!(slope > 0) || !(length_of(contour) > 1e-6)) return now;
  if (z_ > to_z + 1e-9) distances_.ramp_deg = angle_rad * 180 / pi;
  while (z_ > to_z + 1e-9 && !too_long()) {
    for (std::size_t i = 0; i < now.segments(); ++i) {
      const double length = length_of_segment(now, i), left = (z_ - to_z) / slope;
      const double part = length > left ? left / length : 1;
      const Vertex& v = now.vertices[i];
      const Point2 to = part < 1 ? point_on(now, i, part) : now.end_of(i);
      const double z = part < 1 ? to_z : std::max(to_z, z_ - length * slope);
      if (v.bulge == 0 || std::hypot(to.x - v.x, to.y - v.y) < 2e-3) line(MoveKind::ramp, to, z);
      else arc(MoveKind::ramp, v.bulge > 0, to, z, arc_of(v, now.end_of(i)).centre);
      if (z > to_z + 1e-9) continue;
      z_ = to_z;
      if (now.closed) return started_at(now, i, part);
      // Back to where the line began, level, so that all of it is cut from end to end.
      Contour back{false, {}};
      back.vertices.assign(now.vertices.begin(), now.vertices.begin() + static_cast<std::ptrdiff_t>(i + 1));
      back.vertices.back().bulge = std::tan(std::atan(now.vertices[i].bulge) * part);
      back.vertices.push_back({to.x, to.y, 0});
      follow(MoveKind::cut, reversed(back));
      return now;
    }
    if (!now.closed) now = reversed(now);
  }
  return now;
}

void Tracer::helix(Point2 centre, double radius, double to_z, double angle_rad) {
  const double drop = pi * radius * std::tan(angle_rad);
  distances_.ramp_deg = angle_rad * 180 / pi;
  distances_.helix_mm = 2 * radius;
  bool right = true;
  const auto half_turn = [&](MoveKind kind, double z) {
    right = !right;
    arc(kind, true, {centre.x + (right ? radius : -radius), centre.y}, z, centre);
  };
  while (z_ > to_z + 1e-9 && drop > 0 && !too_long()) half_turn(MoveKind::ramp, std::max(to_z, z_ - drop));
  half_turn(MoveKind::cut, to_z);
  half_turn(MoveKind::cut, to_z);
}

void Tracer::happen(MotionEvent::Kind kind, double value) {
  path_.events.push_back({static_cast<std::uint32_t>(path_.moves.size()), kind, value});
}

void Tracer::dwell(double seconds) {
  if (seconds > 0) happen(MotionEvent::dwell, seconds);
}

void Tracer::move_over(Point2 p) {
  if (p.x != x_ || p.y != y_) go(MoveKind::rapid, p, z_, 0);
}

void Tracer::go(MoveKind kind, Point2 to, double z, double feed) {
  Move move;
  move.kind = kind;
  move.x = to.x, move.y = to.y, move.z = z;
  move.feed_mm_min = feed;
  put(move, true);
}

Tracer::Answer Tracer::answer_of(std::size_t i, bool slot) const {
  const PathFeeds& feeds = sets_[said_[i].feeds];
  const FeedSet& set = slot && feeds.slot.n > 0 ? feeds.slot : feeds;
  const Move& m = path_.moves[i];
  if (said_[i].fixed) return {feeds.n, m.feed_mm_min};
  switch (m.kind) {
    case MoveKind::plunge: return {set.n, set.plunge};
    case MoveKind::ramp: return {set.ramp_n > 0 ? set.ramp_n : set.n, set.ramp};
    case MoveKind::lead: return {set.n, set.lead};
    default: return {set.n, set.cut};
  }
}

// No axis goes faster than it can.
double Tracer::held(std::size_t i, double feed) const {
  const Move& m = path_.moves[i];
  const Move* before = i > 0 ? &path_.moves[i - 1] : nullptr;
  const double dz = before ? m.z - before->z : 0, length = said_[i].length;
  feed = std::min(feed, limits_.any);
  if (!(length > 0)) return feed;
  const auto hold = [&](double along, double most) {
    if (std::abs(along) > 1e-9 * length) feed = std::min(feed, most * length / std::abs(along));
  };
  hold(dz, limits_.z);
  if (m.shape == MoveShape::line) {
    hold(before ? m.x - before->x : 0, limits_.x);
    hold(before ? m.y - before->y : 0, limits_.y);
  } else {
    const double flat = std::sqrt(std::max(0.0, length * length - dz * dz));
    hold(flat, std::min(limits_.x, limits_.y));
  }
  return feed;
}

namespace {
constexpr double shortest_turn_s = 1;  // a change of speed that lasts less is left out

bool is_fed(const Move& m) { return m.kind != MoveKind::rapid && m.kind != MoveKind::retract && m.feed_mm_min > 0; }
}  // namespace

// Faster for less than a second between two slower stretches: there the slower answer holds.
void Tracer::slow_down_short_runs(std::vector<Answer>& answers) const {
  struct Run {
    std::size_t from, to;
    double n, seconds;
  };
  std::vector<Run> runs;
  for (std::size_t i = 0; i < answers.size(); ++i) {
    if (!is_fed(path_.moves[i])) continue;
    const double s = answers[i].feed > 0 ? said_[i].length / answers[i].feed * 60 : 0;
    if (runs.empty() || runs.back().n != answers[i].n) runs.push_back({i, i + 1, answers[i].n, s});
    else runs.back().to = i + 1, runs.back().seconds += s;
  }
  for (std::size_t k = 0; k < runs.size(); ++k) {
    Run& run = runs[k];
    if (run.seconds >= shortest_turn_s) continue;
    const double behind = k > 0 ? runs[k - 1].n : 0, ahead = k + 1 < runs.size() ? runs[k + 1].n : 0;
    for (const double slower : {behind, ahead}) {
      if (!(slower > 0) || slower >= run.n) continue;
      bool both = true;
      for (std::size_t i = run.from; i < run.to && both; ++i)
        both = !is_fed(path_.moves[i]) || answer_of(i, true).n == slower || said_[i].fixed;
      if (!both) continue;
      for (std::size_t i = run.from; i < run.to; ++i)
        if (is_fed(path_.moves[i]))
          answers[i] = {slower, said_[i].fixed ? std::min(answers[i].feed, sets_[said_[i].feeds].slot.cut)
                                               : answer_of(i, true).feed};
      run.n = slower;
      break;
    }
  }
}

// The slowest between two visits to the retract plane, each feed per turn kept or less.
void Tracer::turn_between_retracts(std::vector<Answer>& answers) const {
  for (std::size_t first = 0; first < answers.size();) {
    std::size_t end = first;
    double slowest = 0;
    for (; end < answers.size(); ++end) {
      if (end > first && !is_fed(path_.moves[end]) && path_.moves[end].z >= path_.safe_z - 1e-9 && slowest > 0) break;
      if (is_fed(path_.moves[end]) && (slowest == 0 || answers[end].n < slowest)) slowest = answers[end].n;
    }
    for (std::size_t i = first; i < end; ++i)
      if (is_fed(path_.moves[i]) && answers[i].n > slowest)
        answers[i] = {slowest, said_[i].fixed ? answers[i].feed : answers[i].feed * slowest / answers[i].n};
    first = std::max(end, first + 1);
  }
}

void Tracer::finish() {
  settle();
  std::vector<Answer> answers(path_.moves.size());
  const std::vector<Move>& moves = path_.moves;
  const auto cuts = [&](std::size_t i) {
    return moves[i].kind == MoveKind::cut || moves[i].kind == MoveKind::link || moves[i].kind == MoveKind::lead;
  };
  for (std::size_t i = 0; i < moves.size();) {
    if (!is_fed(moves[i])) {
      ++i;
      continue;
    }
    if (!said_[i].full || !cuts(i)) {
      answers[i] = answer_of(i, said_[i].full);
      ++i;
      continue;
    }
    // All of a stretch at full width: a corner where it is shorter than the cutter is wide.
    std::size_t end = i;
    double length = 0, deepest = 0;
    for (; end < moves.size() && said_[end].full && cuts(end); ++end) {
      length += said_[end].length;
      deepest = std::max(deepest, static_cast<double>(said_[end].deep));
    }
    const bool corner = length < 2 * radius_;
    if (!corner) full_mm_ += length, full_depth_ = std::max(full_depth_, deepest);
    const bool turns_so = i > 0 && is_fed(moves[i - 1]) && answers[i - 1].n == sets_[said_[i].feeds].slot.n;
    for (; i < end; ++i) {
      const Answer slot = answer_of(i, true), usual = answer_of(i, false);
      answers[i] = corner && !turns_so && slot.n != usual.n && slot.n > 0
                       ? Answer{usual.n, std::min({usual.feed, slot.feed, slot.feed / slot.n * usual.n})}
                       : slot;
      if (corner && slot.n == usual.n) answers[i].feed = std::min(usual.feed, slot.feed);
    }
  }
  if (limits_.stops_for_speed) turn_between_retracts(answers);
  else slow_down_short_runs(answers);
  tightest_ = 0;
  for (std::size_t i = 0; i < moves.size(); ++i)
    if ((moves[i].kind == MoveKind::cut || moves[i].kind == MoveKind::link) &&
        !(said_[i].full && sets_[said_[i].feeds].slot.n > 0))
      tightest_ = std::max(tightest_, moves[i].engaged_rad());
  double n = 0;
  std::vector<MotionEvent> turns;
  std::size_t after_feed = 0;  // of the rapids that lead here, the first that does not go up
  for (std::size_t i = 0; i < answers.size(); ++i) {
    if (!is_fed(moves[i])) {
      if (moves[i].kind == MoveKind::retract) after_feed = i + 1;
      continue;
    }
    if (moves[i].kind != MoveKind::cycle) path_.moves[i].feed_mm_min = held(i, answers[i].feed);
    if (answers[i].n > 0 && answers[i].n != n) {
      if (n > 0) turns.push_back({static_cast<std::uint32_t>(after_feed), MotionEvent::spindle_speed, answers[i].n});
      else path_.start_rpm = answers[i].n;
      n = answers[i].n;
    }
    after_feed = i + 1;
  }
  path_.events.insert(path_.events.begin(), turns.begin(), turns.end());
  std::stable_sort(path_.events.begin(), path_.events.end(),
                   [](const MotionEvent& a, const MotionEvent& b) { return a.before < b.before; });
}

// Slower where the cycle says so.
void Tracer::feed_down(const CycleCall& c, double z) {
  const Point2 at{x_, y_};
  const double entered = std::min(c.surface_z, c.retract_z) - c.slow_entry_mm, leaving = c.bottom_z + c.slow_exit_mm;
  if (c.slow_entry_mm > 0 && z_ > entered + 1e-9) go(MoveKind::cycle, at, std::max(z, entered), c.slow_feed_mm_min);
  if (z_ > z + 1e-9 && z_ > leaving + 1e-9)
    go(MoveKind::cycle, at, c.slow_exit_mm > 0 ? std::max(z, leaving) : z, c.feed_mm_min);
  if (z_ > z + 1e-9) go(MoveKind::cycle, at, z, c.slow_feed_mm_min);
}

void Tracer::bore_hole(const CycleCall& c) {
  const Point2 at{x_, y_};
  if (z_ != c.retract_z) go(MoveKind::rapid, at, c.retract_z, 0);
  const bool pecks = (c.kind == CycleKind::peck || c.kind == CycleKind::chip_break) && c.peck_mm > 0;
  double reached = z_;
  while (reached > c.bottom_z + 1e-9 && !too_long()) {
    const double peck = reached == c.retract_z && c.first_peck_mm > 0 ? c.first_peck_mm : c.peck_mm;
    reached = pecks ? std::max(c.bottom_z, reached - peck) : c.bottom_z;
    feed_down(c, reached);
    if (reached <= c.bottom_z + 1e-9) break;
    const double above = std::min(reached + rules_.feed_height_mm, c.retract_z);
    if (c.kind == CycleKind::peck) go(MoveKind::retract, at, c.retract_z, 0);
    go(c.kind == CycleKind::peck ? MoveKind::rapid : MoveKind::retract, at, above, 0);
  }
  dwell(c.dwell_s);
  if (c.kind == CycleKind::tap) happen(MotionEvent::spindle_reverses);
  if (c.kind == CycleKind::tap || c.kind == CycleKind::feed_out) {
    go(MoveKind::cycle, at, c.retract_z, c.feed_mm_min);
    if (c.kind == CycleKind::tap) happen(MotionEvent::spindle_turns_again);
  } else if (c.kind == CycleKind::bore) {
    happen(MotionEvent::spindle_stops_orientated);
    go(MoveKind::retract, {at.x + c.shift_mm, at.y}, z_, 0);
    go(MoveKind::retract, {at.x + c.shift_mm, at.y}, c.retract_z, 0);
    go(MoveKind::rapid, at, c.retract_z, 0);
    happen(MotionEvent::spindle_turns_again);
  }
}

void Tracer::bore_back(const CycleCall& c) {
  const Point2 at{x_, y_}, beside{at.x + c.shift_mm, at.y};
  const double above = z_;
  happen(MotionEvent::spindle_stops_orientated);
  go(MoveKind::rapid, beside, above, 0);
  go(MoveKind::rapid, beside, c.retract_z, 0);
  go(MoveKind::rapid, at, c.retract_z, 0);
  happen(MotionEvent::spindle_turns_again);
  go(MoveKind::cycle, at, c.bottom_z, c.feed_mm_min);
  dwell(c.dwell_s);
  go(MoveKind::retract, at, c.retract_z, 0);
  happen(MotionEvent::spindle_stops_orientated);
  go(MoveKind::retract, beside, c.retract_z, 0);
  go(MoveKind::retract, beside, above, 0);
  go(MoveKind::rapid, at, above, 0);
  happen(MotionEvent::spindle_turns_again);
}

void Tracer::cycle(const CycleCall& given) {
  CycleCall call = given;
  call.at = {x_, y_};
  call.first = static_cast<std::uint32_t>(path_.moves.size());
  distances_.feed_height_mm = rules_.feed_height_mm;
  if (call.kind == CycleKind::back_bore) bore_back(call);
  else bore_hole(call);
  if (call.return_z > z_) go(MoveKind::retract, call.at, call.return_z, 0);
  call.return_z = z_;
  call.moves = static_cast<std::uint32_t>(path_.moves.size()) - call.first;
  if (!call.written_out()) path_.cycles.push_back(call);
}

}  // namespace pecorra
