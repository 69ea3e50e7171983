#include "core/cutter/form_profile.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace pecorra {
namespace {

// Centre of the arc that leads from a to b.
ProfilePoint centre_of(const Vertex& a, double bx, double by) {
  const double dx = bx - a.x, dy = by - a.y, b = a.bulge;
  const double k = (1 - b * b) / (4 * b);
  return {(a.x + bx) / 2 - dy * k, (a.y + by) / 2 + dx * k};
}

bool is_finite(const Vertex& v) {
  return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.bulge) && std::abs(v.bulge) < 1e6;
}

struct Chord {
  double x0, y0, x1, y1;
  std::size_t of;  // segment
};

// Arcs as chords of at most 3°, fine enough to find self-intersections.
std::vector<Chord> chords_of(const Profile& profile) {
  std::vector<Chord> chords;
  for (std::size_t i = 0; i < profile.size(); ++i) {
    const ProfileSegment& s = profile[i];
    const int parts =
        s.arc ? std::max(1, static_cast<int>(std::ceil(std::abs(swept_angle(s)) / (std::numbers::pi / 60)))) : 1;
    ProfilePoint from = s.from;
    for (int k = 1; k <= parts; ++k) {
      const ProfilePoint to = k == parts ? s.to : point_on(s, static_cast<double>(k) / parts);
      chords.push_back({from.x, from.y, to.x, to.y, i});
      from = to;
    }
  }
  return chords;
}

// Where two chords cross inside both.
bool crossing(const Chord& a, const Chord& b, double& x, double& y) {
  if (std::max(a.x0, a.x1) < std::min(b.x0, b.x1) || std::max(b.x0, b.x1) < std::min(a.x0, a.x1) ||
      std::max(a.y0, a.y1) < std::min(b.y0, b.y1) || std::max(b.y0, b.y1) < std::min(a.y0, a.y1))
    return false;
  const double ax = a.x1 - a.x0, ay = a.y1 - a.y0, bx = b.x1 - b.x0, by = b.y1 - b.y0;
  const double cross = ax * by - ay * bx;
  if (std::abs(cross) < 1e-15) return false;
  const double t = ((b.x0 - a.x0) * by - (b.y0 - a.y0) * bx) / cross,
               u = ((b.x0 - a.x0) * ay - (b.y0 - a.y0) * ax) / cross;
  if (t < 1e-9 || t > 1 - 1e-9 || u < 1e-9 || u > 1 - 1e-9) return false;
  x = a.x0 + t * ax;
  y = a.y0 + t * ay;
  return true;
}

Message at(std::string code, double x, double y) {
  return {Severity::error, std::move(code), "outline", {{"x_mm", x}, {"y_mm", y}}};
}

}  // namespace

Profile profile_of_outline(const std::vector<Vertex>& outline) {
  Profile profile;
  if (outline.size() < 2 || !std::all_of(outline.begin(), outline.end(), is_finite)) return profile;
  const auto add = [&](ProfilePoint from, ProfilePoint to, bool arc, ProfilePoint centre) {
    if (from.x != to.x || from.y != to.y) profile.push_back({from, to, arc, centre, ProfileRole::cutting});
  };
  if (outline.front().x > 0) add({0, outline.front().y}, {outline.front().x, outline.front().y}, false, {});
  for (std::size_t i = 0; i + 1 < outline.size(); ++i) {
    const Vertex& a = outline[i];
    const ProfilePoint from{a.x, a.y}, to{outline[i + 1].x, outline[i + 1].y};
    if (a.bulge == 0 || (from.x == to.x && from.y == to.y)) {
      add(from, to, false, {});
      continue;
    }
    const ProfilePoint centre = centre_of(a, to.x, to.y);
    if (std::abs(a.bulge) < 0.99) {
      add(from, to, true, centre);
      continue;
    }
    // Half a turn or more: the minor arc would be the wrong one.
    const double start = std::atan2(from.y - centre.y, from.x - centre.x),
                 r = std::hypot(from.x - centre.x, from.y - centre.y);
    const double half = 2 * std::atan(a.bulge);
    const ProfilePoint middle{centre.x + r * std::cos(start + half), centre.y + r * std::sin(start + half)};
    add(from, middle, true, centre);
    add(middle, to, true, centre);
  }
  return profile;
}

std::vector<Vertex> outline_from(const std::vector<Vertex>& line, bool closed) {
  std::vector<Vertex> out = line;
  if (out.size() < 2) return {};
  const auto on_axis = [](const Vertex& v) { return std::abs(v.x) < 1e-6; };
  const auto reverse = [](std::vector<Vertex>& v) {  // each bulge leads the other way
    std::reverse(v.begin(), v.end());
    for (std::size_t i = 0; i + 1 < v.size(); ++i) v[i].bulge = -v[i + 1].bulge;
    v.back().bulge = 0;
  };
  if (closed) {
    // Opens it at its lowest point on the axis, leading away from the axis.
    out.push_back(out.front());
    out.back().bulge = 0;
    std::size_t lowest = out.size();
    for (std::size_t i = 0; i + 1 < out.size(); ++i)
      if (on_axis(out[i]) && (lowest == out.size() || out[i].y < out[lowest].y)) lowest = i;
    if (lowest == out.size()) return {};
    out.pop_back();
    std::rotate(out.begin(), out.begin() + static_cast<std::ptrdiff_t>(lowest), out.end());
    out.push_back(out.front());
    out.back().bulge = 0;
    if (on_axis(out[1]) && out.size() > 2) reverse(out);
    // Up to where it returns to the axis.
    for (std::size_t i = 1; i < out.size(); ++i)
      if (on_axis(out[i])) {
        out.resize(i + 1);
        break;
      }
  } else if (out.front().y > out.back().y) {
    reverse(out);
  }
  // The line back to the axis across the top is not part of the outline.
  while (out.size() > 2 && on_axis(out.back()) && std::abs(out.back().y - out[out.size() - 2].y) < 1e-6) out.pop_back();
  out.back().bulge = 0;
  const double low = out.front().y;
  for (Vertex& v : out) {
    v.y -= low;
    if (on_axis(v)) v.x = 0;
  }
  return out;
}

namespace {

// Only chords at the same height can cross: a sweep from below tests each against those that reach it.
void check_crossings(const std::vector<Chord>& chords, std::vector<Message>& messages) {
  constexpr std::size_t most_pairs = 20'000'000;
  const auto low = [&](std::size_t i) { return std::min(chords[i].y0, chords[i].y1); };
  std::vector<std::size_t> rising(chords.size()), open;
  for (std::size_t i = 0; i < rising.size(); ++i) rising[i] = i;
  std::stable_sort(rising.begin(), rising.end(), [&](std::size_t a, std::size_t b) { return low(a) < low(b); });
  std::size_t pairs = 0;
  for (const std::size_t i : rising) {
    std::erase_if(open, [&](std::size_t j) { return std::max(chords[j].y0, chords[j].y1) < low(i); });
    pairs += open.size();
    if (pairs > most_pairs) {
      messages.push_back({Severity::error, "outline_too_fine", "outline", {}});
      return;
    }
    for (const std::size_t j : open) {
      double x = 0, y = 0;
      if ((i > j ? i - j : j - i) < 2 || !crossing(chords[std::min(i, j)], chords[std::max(i, j)], x, y)) continue;
      messages.push_back(at("outline_crosses_itself", x, y));
      return;
    }
    open.push_back(i);
  }
}

}  // namespace

std::vector<Message> check_outline(const std::vector<Vertex>& outline) {
  std::vector<Message> messages;
  if (outline.size() < 2) {
    messages.push_back({Severity::error, "outline_missing", "outline", {}});
    return messages;
  }
  for (const Vertex& v : outline)
    if (!is_finite(v)) {
      messages.push_back({Severity::error, "outline_not_finite", "outline", {}});
      return messages;
    }
  const Profile profile = profile_of_outline(outline);
  if (profile.empty()) {
    messages.push_back({Severity::error, "outline_missing", "outline", {}});
    return messages;
  }
  double lowest = std::numeric_limits<double>::infinity();
  ProfilePoint low;
  bool beyond_axis = false;
  for (const Chord& c : chords_of(profile))
    for (const ProfilePoint p : {ProfilePoint{c.x0, c.y0}, ProfilePoint{c.x1, c.y1}}) {
      if (p.y < lowest) {
        lowest = p.y;
        low = p;
      }
      if (p.x < -1e-9 && !beyond_axis) {
        beyond_axis = true;
        messages.push_back(at("outline_beyond_axis", p.x, p.y));
      }
    }
  if (std::abs(outline.front().y) > 1e-6)
    messages.push_back(at("outline_start_off_tip", outline.front().x, outline.front().y));
  else if (lowest < -1e-6) messages.push_back(at("outline_below_tip", low.x, low.y));
  if (largest_radius_mm(profile, std::numeric_limits<double>::infinity()) <= 0)
    messages.push_back(at("outline_on_axis", 0, 0));
  check_crossings(chords_of(profile), messages);
  return messages;
}

}  // namespace pecorra
