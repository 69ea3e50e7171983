// From the numbers of a feature to its lines and places.
#include <algorithm>
#include <cctype>
#include <cmath>
#include <numbers>

#include "core/base/check.h"
#include "core/feature/feature.h"
#include "core/feature/lettering.h"
#include "core/thread/thread.h"

namespace pecorra {
namespace {

using std::numbers::pi;

// Turned about, and moved to, the feature's place.
class Place {
 public:
  explicit Place(const Feature& f)
      : at_{f.x_mm.value_or(0), f.y_mm.value_or(0)},
        cos_(std::cos(f.angle_deg.value_or(0) * pi / 180)),
        sin_(std::sin(f.angle_deg.value_or(0) * pi / 180)) {}
  Point2 operator()(double x, double y) const { return {at_.x + x * cos_ - y * sin_, at_.y + x * sin_ + y * cos_}; }
  Vertex vertex(double x, double y, double bulge = 0) const {
    const Point2 p = (*this)(x, y);
    return {p.x, p.y, bulge};
  }

 private:
  Point2 at_;
  double cos_, sin_;
};

// Counter-clockwise from the lower left.
Contour rectangle(const Feature& f) {
  const Place place(f);
  const double a = *f.length_mm / 2, b = *f.width_mm / 2, r = f.corner_radius_mm.value_or(0);
  Contour out{true, {}};
  if (r <= 0) {
    out.vertices = {place.vertex(-a, -b), place.vertex(a, -b), place.vertex(a, b), place.vertex(-a, b)};
    return out;
  }
  const double quarter = std::tan(pi / 8);
  const auto side = [&](double x1, double y1, double x2, double y2) {
    if (std::hypot(x2 - x1, y2 - y1) > 1e-9) out.vertices.push_back(place.vertex(x1, y1));
    out.vertices.push_back(place.vertex(x2, y2, quarter));
  };
  side(-a + r, -b, a - r, -b);
  side(a, -b + r, a, b - r);
  side(a - r, b, -a + r, b);
  side(-a, b - r, -a, -b + r);
  return out;
}

Contour slot(const Feature& f) {
  const Place place(f);
  const double a = (*f.length_mm - *f.width_mm) / 2, r = *f.width_mm / 2;
  return {true, {place.vertex(-a, -r), place.vertex(a, -r, 1), place.vertex(a, r), place.vertex(-a, r, 1)}};
}

void space_holes(Feature& f) {
  const Place place(f);
  f.at.clear();
  if (f.pattern == HolePattern::circle) {
    for (int i = 0; i < *f.count; ++i) {
      const double angle = 2 * pi * i / *f.count;
      f.at.push_back(place(*f.circle_mm / 2 * std::cos(angle), *f.circle_mm / 2 * std::sin(angle)));
    }
    return;
  }
  const int rows = f.pattern == HolePattern::grid ? *f.count_y : 1;
  for (int y = 0; y < rows; ++y)
    for (int x = 0; x < *f.count; ++x) f.at.push_back(place(x * f.pitch_mm.value_or(0), y * f.pitch_y_mm.value_or(0)));
}

bool is_tolerance(const std::string& text) {
  std::size_t i = 0;
  while (i < text.size() && std::isalpha(static_cast<unsigned char>(text[i]))) ++i;
  if (i < 1 || i > 2 || i == text.size() || text.size() - i > 2) return false;
  for (std::size_t k = i; k < text.size(); ++k)
    if (!std::isdigit(static_cast<unsigned char>(text[k]))) return false;
  const int grade = std::stoi(text.substr(i));
  return grade >= 1 && grade <= 18;
}

}  // namespace

std::vector<Message> check_feature(const Feature& f) {
  std::vector<Message> messages;
  check_ranges(f, messages);
  const auto fault = [&](const char* code, const char* property, Details values = {}) {
    messages.push_back({Severity::error, code, property, std::move(values)});
  };
  const auto doubt = [&](const char* code, const char* property, Details values) {
    messages.push_back({Severity::warning, code, property, std::move(values)});
  };
  const auto needed = [&](const char* key, bool there) {
    if (!there) fault("missing", key);
  };
  switch (f.kind) {
    case FeatureKind::line:
      if (f.line.vertices.size() < 2) fault("line_without_length", "points", {{"contour", f.key}});
      break;
    case FeatureKind::pocket: needed("outline", !f.outline.key.empty()); break;
    case FeatureKind::face: break;
    case FeatureKind::circle: needed("diameter_mm", f.diameter_mm.has_value()); break;
    case FeatureKind::rectangle:
    case FeatureKind::slot:
      needed("length_mm", f.length_mm.has_value());
      needed("width_mm", f.width_mm.has_value());
      if (!f.length_mm || !f.width_mm) break;
      if (f.kind == FeatureKind::slot && *f.length_mm <= *f.width_mm)
        fault("slot_no_longer_than_wide", "length_mm", {{"length_mm", *f.length_mm}, {"width_mm", *f.width_mm}});
      if (const double most = std::min(*f.length_mm, *f.width_mm) / 2;
          f.kind == FeatureKind::rectangle && f.corner_radius_mm.value_or(0) > most * (1 + 1e-12))
        fault("corner_radius_too_large", "corner_radius_mm", {{"radius_mm", *f.corner_radius_mm}, {"limit_mm", most}});
      break;
    case FeatureKind::holes: {
      if (f.circles.empty()) {
        if (f.pattern == HolePattern::places) {
          if (f.at.empty()) fault("no_places", "pattern");
        } else {
          needed("count", f.count.has_value());
          if (f.pattern == HolePattern::circle) needed("circle_mm", f.circle_mm.has_value());
          else if (f.count.value_or(0) > 1) needed("pitch_mm", f.pitch_mm.has_value());
          if (f.pattern == HolePattern::grid) {
            needed("count_y", f.count_y.has_value());
            if (f.count_y.value_or(0) > 1) needed("pitch_y_mm", f.pitch_y_mm.has_value());
          }
        }
        const double all = f.pattern == HolePattern::places
                               ? static_cast<double>(f.at.size())
                               : static_cast<double>(f.count.value_or(0)) *
                                     (f.pattern == HolePattern::grid ? f.count_y.value_or(1) : 1);
        if (all > most_holes)
          fault("too_many_holes", "count", {{"holes", all}, {"limit", static_cast<double>(most_holes)}});
      }
      if (!f.thread.empty()) {
        const auto thread = parse_thread(f.thread);
        if (!thread) doubt("thread_unknown", "thread", {{"why", thread.error().text}});
        else if (thread->is_of_bolt()) doubt("thread_class_of_bolt", "thread", {{"class", thread->tolerance_class}});
      }
      if (!f.tolerance.empty() && !is_tolerance(f.tolerance))
        doubt("tolerance_unknown", "tolerance", {{"tolerance", f.tolerance}});
      break;
    }
    case FeatureKind::text: {
      needed("text", !f.text.empty());
      needed("height_mm", f.height_mm.has_value());
      if (const std::string unknown = lettering(f.text, {}, 1, 0).unknown; !unknown.empty())
        fault("letter_unknown", "text", {{"letters", unknown}});
      break;
    }
  }
  return messages;
}

void shape(Feature& f) {
  const bool right = !has_error(check_feature(f));
  if (f.kind != FeatureKind::line) f.line = {};
  if (f.kind != FeatureKind::holes || f.pattern != HolePattern::places) f.at.clear();
  f.letters.clear();
  if (!right) return;
  switch (f.kind) {
    case FeatureKind::rectangle: f.line = rectangle(f); break;
    case FeatureKind::circle: f.line = circle_contour({f.x_mm.value_or(0), f.y_mm.value_or(0)}, *f.diameter_mm); break;
    case FeatureKind::slot: f.line = slot(f); break;
    case FeatureKind::holes:
      if (f.circles.empty() && f.pattern != HolePattern::places) space_holes(f);
      break;
    case FeatureKind::text:
      f.letters =
          lettering(f.text, {f.x_mm.value_or(0), f.y_mm.value_or(0)}, *f.height_mm, f.angle_deg.value_or(0)).lines;
      break;
    case FeatureKind::line:
    case FeatureKind::pocket:
    case FeatureKind::face: break;
  }
}

Feature with_hole_at(const Feature& holes, std::size_t hole, Point2 to, bool whole) {
  Feature f = holes;
  if (hole >= holes.at.size()) return f;
  const Point2 from = holes.at[hole];
  const auto move_all = [&] {
    f.x_mm = holes.x_mm.value_or(0) + to.x - from.x;
    f.y_mm = holes.y_mm.value_or(0) + to.y - from.y;
    for (const char* key : {"x_mm", "y_mm"}) f.typed.erase(key);
  };
  const auto put = [&](std::optional<double> Feature::*member, const char* key, double value) {
    f.*member = value;
    f.typed.erase(key);
  };
  const Point2 away{to.x - holes.x_mm.value_or(0), to.y - holes.y_mm.value_or(0)};
  const double far = std::hypot(away.x, away.y), turned = std::atan2(away.y, away.x) * 180 / std::numbers::pi;
  const auto angle = [](double degrees) { return std::remainder(degrees, 360); };
  switch (holes.pattern) {
    case HolePattern::places:
      for (std::size_t i = 0; i < f.at.size(); ++i)
        if (whole || i == hole) f.at[i] = {holes.at[i].x + to.x - from.x, holes.at[i].y + to.y - from.y};
      f.typed.clear();
      return f;
    case HolePattern::row:
      if (whole || hole == 0) move_all();
      else if (far > 0) {
        put(&Feature::pitch_mm, "pitch_mm", far / static_cast<double>(hole));
        put(&Feature::angle_deg, "angle_deg", angle(turned));
      }
      break;
    case HolePattern::grid: {
      const auto columns = static_cast<std::size_t>(std::max(1, holes.count.value_or(1)));
      const std::size_t rows_before = hole / columns;
      const auto column = static_cast<double>(hole % columns), row = static_cast<double>(rows_before);
      if (whole || hole == 0) {
        move_all();
        break;
      }
      // The first row turns the grid; within it the pitches follow.
      if (row == 0 && far > 0) {
        put(&Feature::pitch_mm, "pitch_mm", far / column);
        put(&Feature::angle_deg, "angle_deg", angle(turned));
        break;
      }
      const double a = holes.angle_deg.value_or(0) * std::numbers::pi / 180;
      const double along = away.x * std::cos(a) + away.y * std::sin(a),
                   across = away.y * std::cos(a) - away.x * std::sin(a);
      if (column > 0 && along > 0) put(&Feature::pitch_mm, "pitch_mm", along / column);
      if (row > 0 && across > 0) put(&Feature::pitch_y_mm, "pitch_y_mm", across / row);
      break;
    }
    case HolePattern::circle:
      if (whole) move_all();
      else if (far > 0) {
        put(&Feature::circle_mm, "circle_mm", 2 * far);
        put(&Feature::angle_deg, "angle_deg",
            angle(turned - 360.0 * static_cast<double>(hole) / std::max(1, holes.count.value_or(1))));
      }
      break;
  }
  shape(f);
  return f;
}

}  // namespace pecorra
