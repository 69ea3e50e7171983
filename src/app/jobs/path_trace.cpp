#include "app/jobs/path_trace.h"

#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "core/base/whole.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr double chord_mm = 0.02;

QColor colour_of(const PathTrace& trace, const PathTrace::Chord& c, PathColours colouring) {
  const Colours& d = colours();
  if (c.feed <= 0) return d.quiet;
  if (colouring == PathColours::by_feed) {
    const double range = static_cast<double>(trace.most_feed - trace.least_feed);
    const double share = range > 0 ? static_cast<double>(c.feed - trace.least_feed) / range : 1;
    const auto mixed = [&](int a, int b) { return static_cast<int>(std::lround(a + (b - a) * share)); };
    return QColor(mixed(d.warning.red(), d.accent.red()), mixed(d.warning.green(), d.accent.green()),
                  mixed(d.warning.blue(), d.accent.blue()));
  }
  switch (c.kind) {
    case MoveKind::cut: return d.accent;
    case MoveKind::lead:
    case MoveKind::link: return d.good;
    default: return d.warning;
  }
}

QPolygonF polygon_of(const Contour& contour) {
  QPolygonF points;
  for (const Point2& p : flattened(contour, 0.05)) points << QPointF(p.x, p.y);
  if (contour.closed && !points.isEmpty()) points << points.front();
  return points;
}

}  // namespace

std::vector<FeatureOutline> outlines_of(const Job& job) {
  std::vector<FeatureOutline> outlines;
  for (const JobLine& line : lines_of(job)) outlines.push_back({text_of(line.key), polygon_of(*line.contour)});
  for (const Feature& f : job.features)
    if (f.kind == FeatureKind::holes)
      for (const Point2& p : f.at)
        outlines.push_back({text_of(f.key), polygon_of(circle_contour(p, f.diameter_mm.value_or(1)))});
  return outlines;
}

PathTrace trace_of(std::shared_ptr<const PlannedOperation> planned) {
  PathTrace trace;
  trace.of = std::move(planned);
  const auto put = [&](double x, double y, double z, const Move& m) {
    trace.chords.push_back({static_cast<float>(x), static_cast<float>(y), static_cast<float>(z),
                            static_cast<float>(m.feed_mm_min), m.kind});
  };
  double x = 0, y = 0, z = 0;
  for (const Move& m : trace.of->path.moves) {
    if (m.shape != MoveShape::line) {
      const double r = std::hypot(x - m.centre_x, y - m.centre_y), swept = swept_rad(x, y, m);
      const double from = std::atan2(y - m.centre_y, x - m.centre_x);
      const double step = 2 * std::acos(std::clamp(1 - chord_mm / std::max(r, chord_mm), -1.0, 1.0));
      const int pieces = whole_within(std::ceil(std::abs(swept) / std::max(step, 0.02)), 1, 2000);
      for (int i = 1; i < pieces; ++i) {
        const double t = static_cast<double>(i) / pieces, a = from + swept * t;
        put(m.centre_x + r * std::cos(a), m.centre_y + r * std::sin(a), z + (m.z - z) * t, m);
      }
    }
    put(m.x, m.y, m.z, m);
    x = m.x, y = m.y, z = m.z;
    const float feed = static_cast<float>(m.feed_mm_min);
    if (feed <= 0) continue;
    trace.least_feed = trace.least_feed > 0 ? std::min(trace.least_feed, feed) : feed;
    trace.most_feed = std::max(trace.most_feed, feed);
  }
  return trace;
}

void draw_trace(QPainter& p, const PathTrace& trace, bool chosen, PathColours colouring,
                const std::function<QPointF(const PathTrace::Chord&)>& project) {
  if (trace.chords.empty()) return;
  const QRectF seen = QRectF(p.clipBoundingRect()).adjusted(-50, -50, 50, 50);
  // So many that nobody sees single lines: thin ones, and larger steps.
  const bool dense = trace.chords.size() > 20000;
  const double least = dense ? 1.5 : 0.7;
  QPolygonF run;
  QColor colour;
  MoveKind kind = MoveKind::rapid;
  float feed = -1;
  bool rapid = false;
  const auto flush = [&] {
    if (run.size() > 1) {
      QColor c = colour;
      c.setAlpha(chosen ? 255 : 70);
      QPen pen(c, dense ? 0 : rapid ? 0.8 : chosen ? 1.5 : 1);
      if (rapid) pen.setStyle(Qt::DotLine);
      p.setPen(pen);
      p.drawPolyline(run);
    }
    if (!run.isEmpty()) run = QPolygonF{run.back()};
  };
  QPointF last = project(trace.chords.front());
  run << last;
  for (std::size_t i = 1; i < trace.chords.size(); ++i) {
    const PathTrace::Chord& c = trace.chords[i];
    const QPointF at = project(c);
    if (c.kind != kind || c.feed != feed) {
      kind = c.kind;
      feed = c.feed;
      if (const QColor now = colour_of(trace, c, colouring); now != colour || (c.feed <= 0) != rapid) {
        flush();
        colour = now;
        rapid = c.feed <= 0;
      }
    }
    // Nobody sees a step below a pixel, nor what is outside.
    const bool small = std::abs(at.x() - last.x()) < least && std::abs(at.y() - last.y()) < least;
    const bool goes_on =
        i + 1 < trace.chords.size() && trace.chords[i + 1].kind == c.kind && trace.chords[i + 1].feed == c.feed;
    if (small && goes_on) continue;
    if (!QRectF(last, at).normalized().adjusted(-1, -1, 1, 1).intersects(seen)) {
      flush();
      run = QPolygonF{at};
    } else {
      run << at;
    }
    last = at;
  }
  flush();
}

}  // namespace pecorra
