#include "core/operation/ring.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

using std::numbers::pi;
constexpr std::size_t most_candidates = 24;
constexpr double least_lead_mm = 0.1;

Point2 begin_of(const Contour& c) { return {c.vertices.front().x, c.vertices.front().y}; }
Point2 finish_of(const Contour& c) { return c.closed ? begin_of(c) : Point2{c.vertices.back().x, c.vertices.back().y}; }
double distance(Point2 a, Point2 b) { return std::hypot(a.x - b.x, a.y - b.y); }
double length_of_segment(const Contour& c, std::size_t i) {
  return length_of({false, {c.vertices[i], {c.end_of(i).x, c.end_of(i).y, 0}}});
}

// A closed contour begun so far along.
Contour begun_at(const Contour& ring, double length) {
  double gone = 0;
  for (std::size_t i = 0; i < ring.segments(); ++i) {
    const double l = length_of_segment(ring, i);
    if (l > 0 && gone + l >= length - 1e-12) return started_at(ring, i, std::clamp((length - gone) / l, 0.0, 1.0));
    gone += l;
  }
  return ring;
}

// The first so many millimetres of a closed contour.
Contour first_part(const Contour& ring, double length) {
  Contour out{false, {}};
  double gone = 0;
  for (std::size_t i = 0; i < ring.segments() && gone < length - 1e-9; ++i) {
    const double l = length_of_segment(ring, i), share = std::min(1.0, l > 0 ? (length - gone) / l : 1);
    Vertex v = ring.vertices[i];
    if (v.bulge != 0) v.bulge = std::tan(std::atan(v.bulge) * share);
    const Point2 end = share < 1 ? point_on(ring, i, share) : ring.end_of(i);
    out.vertices.push_back(v);
    gone += l * share;
    if (gone >= length - 1e-9 || i + 1 == ring.segments()) out.vertices.push_back({end.x, end.y, 0});
  }
  return out;
}

}  // namespace

double ramp_rad(const Operation& o, const PathRules& rules) {
  const double usual = cuts_to_centre(o.cutter) ? rules.ramp_deg : rules.ramp_not_to_centre_deg;
  return std::min(usual, o.cutter.max_ramp_deg.value_or(usual)) * pi / 180;
}

bool may_plunge(PathContext& c) {
  if (cuts_to_centre(c.operation.cutter)) return true;
  if (!has_error(c.messages))
    c.messages.push_back({Severity::error, "plunges_into_solid", "cutter", {{"name", c.operation.cutter.name}}});
  return false;
}

double finishing_step(const Operation& o, double depth) {
  return std::max(0.01, std::min(o.taken_finish.ap_mm.value_or(depth), o.cutter.flute_length_mm.value_or(depth)));
}

void take_feeds(PathContext& c, const TakenConditions& t) {
  if (!t.vf_mm_min || !t.n_rpm || c.operation.has_own_speed()) return;
  PathFeeds feeds{feed_set(t), c.tracer.feeds().slot};
  if (c.operation.own_plunge_mm_min) feeds.plunge = *c.operation.own_plunge_mm_min;
  if (c.operation.own_ramp_mm_min) feeds.ramp = *c.operation.own_ramp_mm_min;
  c.tracer.set_feeds(feeds);
}

Lead RingCutter::lead_at(Point2 start, Point2 t) const {
  const double side = clear_left_ ? 1 : -1;
  for (double r = c_.input.rules.lead_per_d * 2 * c_.radius; r >= least_lead_mm; r /= 2) {
    const Point2 centre{start.x - t.y * side * r, start.y + t.x * side * r};
    bool free = true;
    for (int i = 0; i <= 8 && free; ++i) {
      const double a = pi / 2 * i / 8;  // from the ring to the far end of either arc
      const double along = std::sin(a) * r, away = r - std::cos(a) * r;
      for (const double way : {-1.0, 1.0})
        free = free && allowed_({start.x + t.x * along * way - t.y * side * away,
                                 start.y + t.y * along * way + t.x * side * away});
    }
    if (!free) continue;
    return {true,        {centre.x - t.x * r, centre.y - t.y * r}, {centre.x + t.x * r, centre.y + t.y * r}, centre, r,
            std::nullopt};
  }
  return {};
}

// Up to a diameter behind the arc, where the stock does not reach.
std::optional<Point2> RingCutter::clear_entry(const Lead& lead, Point2 begin, double z) const {
  const double dx = begin.x - lead.centre.x, dy = begin.y - lead.centre.y, length = std::hypot(dx, dy);
  for (int i = 0; i <= 8; ++i) {
    const double back = 2 * c_.radius * i / 8;
    const Point2 p{lead.in.x - dx / length * back, lead.in.y - dy / length * back};
    if (!allowed_(p)) return std::nullopt;
    if (c_.tracer.is_clear(p, z)) return p;
  }
  return std::nullopt;
}

Contour RingCutter::with_lead(const Contour& ring, double z, const TabsAlong& tabs, Lead& lead) const {
  // The longest segments first: arcs leave no mark on a straight line.
  std::vector<std::pair<double, std::size_t>> order;
  std::vector<double> middles;  // of the segments, along the ring
  double whole = 0;
  for (std::size_t i = 0; i < ring.segments(); ++i) {
    const double l = length_of_segment(ring, i);
    middles.push_back(whole + l / 2);
    whole += l;
  }
  for (std::size_t i = 0; i < ring.segments(); ++i)
    order.emplace_back(-distance({ring.vertices[i].x, ring.vertices[i].y}, ring.end_of(i)), i);
  std::sort(order.begin(), order.end());
  if (order.size() > most_candidates) order.resize(most_candidates);
  double best = -1;
  Contour chosen = ring;
  for (const auto& [length, i] : order) {
    if (tabs.covers(middles[i], whole)) continue;
    const Contour begun = started_at(ring, i, 0.5);
    Lead here = lead_at(begin_of(begun), heading_at(begun, 0));
    if (!here.found) continue;
    here.from = clear_entry(here, begin_of(begun), z);
    // Where it can go down freely is best, then a large arc.
    const double score = (here.from ? 1000 : 0) + here.radius - 1e-3 * length;
    if (score <= best) continue;
    best = score;
    lead = here;
    chosen = begun;
    if (score >= 1000 && here.radius > c_.radius * 0.3) break;
  }
  return chosen;
}

bool RingCutter::way_is_clear(Point2 to) const {
  const Point2 from = c_.tracer.at();
  const double length = distance(from, to);
  const int steps = std::max(1, static_cast<int>(std::ceil(std::min(length / (c_.radius / 2), 1e4))));
  for (int i = 0; i <= steps; ++i) {
    const double t = static_cast<double>(i) / steps;
    const Point2 p{from.x + (to.x - from.x) * t, from.y + (to.y - from.y) * t};
    if (!allowed_(p) || !c_.tracer.is_cut(p, c_.tracer.z())) return false;
  }
  return true;
}

void RingCutter::travel(Point2 to) {
  const bool down = c_.tracer.z() < c_.top + 1e-9;
  if (down && distance(c_.tracer.at(), to) < 1e-9) return;
  if (down && distance(c_.tracer.at(), to) < 8 * c_.radius && way_is_clear(to))
    c_.tracer.line(MoveKind::link, to, c_.tracer.z());
  else c_.tracer.move_above(to);
}

void RingCutter::cut_closed(const Contour& ring, double z, const Tabs* tabs, double overlap_mm) {
  Tracer& t = c_.tracer;
  if (t.too_long()) return;
  Lead lead;
  Contour begun = with_lead(ring, z, along(ring, z, tabs), lead);
  const bool compensated = c_.operation.compensation == Compensation::control;
  // With the wall on its right the cutter is on the left of it: G41.
  const auto on = clear_left_ ? MotionEvent::compensate_left : MotionEvent::compensate_right;
  const auto no_room = [&] {
    c_.messages.push_back({Severity::warning, "no_room_for_compensation", "compensation", {}});
  };
  if (lead.from) {
    // The straight line on which a control takes up its correction, before the arc.
    const Point2 begin = begin_of(begun), inwards{begin.x - lead.centre.x, begin.y - lead.centre.y};
    Point2 far{lead.in.x - inwards.x, lead.in.y - inwards.y};
    if (!allowed_(far) || !t.is_clear(far, z)) far = *lead.from;
    const bool straight = compensated && distance(far, lead.in) > 0.1;
    if (compensated && !straight) no_room();
    travel(straight ? far : *lead.from);
    t.go_down(z);
    if (straight) t.compensate(on);
    t.line(MoveKind::lead, lead.in, z);
    t.arc(MoveKind::lead, clear_left_, begin, z, lead.centre);
    follow_over(begun, z, along(begun, z, tabs));
    t.distances().lead_mm = lead.radius;
    Lead out = lead;
    if (overlap_mm > 0) {
      // On over the beginning, so that no mark is left where it ended.
      const Contour over = first_part(begun, std::min(overlap_mm, 0.25 * length_of(begun)));
      const Contour on_ring = begun_at(begun, length_of(over));
      if (const Lead there = lead_at(begin_of(on_ring), heading_at(on_ring, 0)); there.found) {
        t.follow(MoveKind::cut, over);
        out = there;
      }
    }
    const Point2 from = t.at(), away{from.x - out.centre.x, from.y - out.centre.y};
    t.arc(MoveKind::lead, clear_left_, out.out, z, out.centre);
    if (straight) {
      t.compensate(MotionEvent::compensate_off);
      t.line(MoveKind::lead, {out.out.x - away.x, out.out.y - away.y}, z);
    }
    return;
  }
  // In solid material: down along the line itself, then all the way round.
  if (compensated) no_room();
  double gap = length_of(begun);
  const TabsAlong under = along(begun, z, tabs);
  if (under.any()) begun = between_tabs(begun, under, gap);
  travel(begin_of(begun));
  if (c_.operation.entry == EntryKind::plunge) {
    if (!t.is_clear(t.at(), z) && !may_plunge(c_)) return;
    t.go_down(z);
  } else {
    const double top = std::min(c_.top, std::max(z, t.stock().empty() ? c_.top : t.stock().highest(t.at(), c_.radius)));
    t.go_down(top);
    const double slope = ramp_rad(c_.operation, c_.input.rules);
    if (under.any()) {
      // To and fro where no tab is, and back to where the ring begins.
      const Contour way = first_part(begun, gap / 2);
      const Contour now = t.ramp_along(way, z, slope);
      if (distance(begin_of(now), begin_of(way)) > 1e-6) t.follow(MoveKind::cut, now);
    } else {
      begun = t.ramp_along(begun, z, slope);
    }
  }
  follow_over(begun, z, under.any() ? along(begun, z, tabs) : under);
  const Lead out = lead_at(begin_of(begun), heading_at(begun, 0));
  if (!out.found) return;
  t.distances().lead_mm = out.radius;
  t.arc(MoveKind::lead, clear_left_, out.out, z, out.centre);
}

void RingCutter::cut_open(const Contour& given, double z) {
  Tracer& t = c_.tracer;
  if (t.too_long()) return;
  Contour line = given;
  if (distance(t.at(), finish_of(line)) < distance(t.at(), begin_of(line))) line = reversed(line);
  // From outside the stock if one of the ends is there.
  if (!t.is_clear(begin_of(line), z) && t.is_clear(finish_of(line), z)) line = reversed(line);
  travel(begin_of(line));
  if (t.is_clear(begin_of(line), z)) {
    t.go_down(z);
  } else if (c_.operation.entry == EntryKind::plunge) {
    if (!may_plunge(c_)) return;
    t.go_down(z);
  } else {
    t.go_down(std::max(z, std::min(c_.top, t.stock().highest(t.at(), c_.radius))));
    line = t.ramp_along(line, z, ramp_rad(c_.operation, c_.input.rules));
  }
  t.follow(MoveKind::cut, line);
}

bool RingCutter::TabsAlong::covers(double at, double whole) const {
  return std::any_of(spans.begin(), spans.end(), [&](const TabSpan& s) {
    for (const double turn : {-whole, 0.0, whole})
      if (at + turn > s.rises - 1e-9 && at + turn < s.ends + 1e-9) return true;
    return false;
  });
}

RingCutter::TabsAlong RingCutter::along(const Contour& ring, double z, const Tabs* tabs) const {
  TabsAlong out;
  const Operation& o = c_.operation;
  if (!tabs) return out;
  const double height = o.tab_height_mm.value_or(0), width = o.tab_width_mm.value_or(0) + 2 * c_.radius;
  out.up_z = tabs->bottom_z + height;
  if (height <= 0 || out.up_z <= z + 1e-6) return out;
  const double whole = length_of(ring);
  std::vector<double> middles;
  for (const Point2& p : tabs->at) {
    double gone = 0, best = 1e300, at = 0;
    for (std::size_t i = 0; i < ring.segments(); ++i) {
      const double l = length_of_segment(ring, i);
      for (int k = 0; k <= 32; ++k)
        if (const double d = distance(p, point_on(ring, i, k / 32.0)); d < best) best = d, at = gone + l * k / 32;
      gone += l;
    }
    middles.push_back(at);
  }
  for (int i = 0; i < tabs->count; ++i) middles.push_back(whole * (i + 0.5) / tabs->count);
  std::sort(middles.begin(), middles.end());
  const double rise = out.up_z - z, slope = std::tan(ramp_rad(o, c_.input.rules));
  const bool steep = cuts_to_centre(o.cutter) && rise / slope > 2 * width;
  const double down = steep ? 0 : rise / slope;
  for (const double m : middles)
    out.spans.push_back({m - width / 2 - rise, m - width / 2, m + width / 2, m + width / 2 + down});
  return out;
}

Contour RingCutter::between_tabs(const Contour& ring, const TabsAlong& tabs, double& gap) const {
  const double whole = length_of(ring);
  double middle = 0;
  gap = 0;
  for (std::size_t i = 0; i < tabs.spans.size(); ++i) {
    const bool last = i + 1 == tabs.spans.size();
    const double from = tabs.spans[i].ends, to = last ? tabs.spans[0].rises + whole : tabs.spans[i + 1].rises;
    if (to - from > gap) gap = to - from, middle = std::fmod((from + to) / 2 + whole, whole);
  }
  return gap > 0 ? begun_at(ring, middle) : ring;
}

// Over each tab: up a slope, level, and down again.
void RingCutter::follow_over(const Contour& ring, double z, const TabsAlong& tabs) {
  if (!tabs.any()) return c_.tracer.follow(MoveKind::cut, ring);
  const double up_z = tabs.up_z, whole = length_of(ring);
  // The height along the way, as corners of a line: (length gone, z).
  std::vector<std::pair<double, double>> profile{{0, z}};
  for (const TabSpan& s : tabs.spans) {
    if (s.rises < profile.back().first - 1e-6 || s.ends > whole + 1e-6) {
      if (!left_out_said_)
        c_.messages.push_back({Severity::warning, "tab_left_out", "tab_count", {{"width_mm", s.to - s.from}}});
      left_out_said_ = true;
      continue;
    }
    profile.insert(profile.end(), {{s.rises, z}, {s.from, up_z}, {s.to, up_z}, {std::min(s.ends, whole), z}});
  }
  profile.emplace_back(whole, z);
  double gone = 0;
  std::size_t next = 1;
  for (std::size_t i = 0; i < ring.segments(); ++i) {
    const double l = length_of({false, {ring.vertices[i], {ring.end_of(i).x, ring.end_of(i).y, 0}}});
    double begun = 0;  // fraction of the segment done
    const auto go = [&](double fraction, double to_z) {
      const Vertex& v = ring.vertices[i];
      const Point2 to = point_on(ring, i, fraction);
      const MoveKind kind = to_z < c_.tracer.z() - 1e-9 ? MoveKind::ramp : MoveKind::cut;
      if (v.bulge == 0 || distance(c_.tracer.at(), to) < 2e-3) c_.tracer.line(kind, to, to_z);
      else c_.tracer.arc(kind, v.bulge > 0, to, to_z, arc_of(v, ring.end_of(i)).centre);
      begun = fraction;
    };
    while (next < profile.size() && profile[next].first < gone + l - 1e-9) {
      const auto& [at, to_z] = profile[next];
      const double fraction = std::clamp((at - gone) / l, begun, 1.0);
      if (fraction > begun + 1e-9)
        go(fraction, profile[next - 1].second == to_z || at > profile[next - 1].first ? to_z : c_.tracer.z());
      if (at - profile[next - 1].first < 1e-9 && to_z < c_.tracer.z()) c_.tracer.go_down(to_z);
      ++next;
    }
    // The rest of the segment, on the line between two corners.
    if (l > 0 && begun < 1 - 1e-9) {
      const std::size_t k = std::min(next, profile.size() - 1);
      const auto& [a, za] = profile[k - 1];
      const auto& [b, zb] = profile[k];
      const double share = b > a ? std::clamp((gone + l - a) / (b - a), 0.0, 1.0) : 1;
      go(1, za + (zb - za) * share);
    }
    gone += l;
  }
}

}  // namespace pecorra
