#include "app/jobs/path_trace.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/whole.h"
#include "core/feature/lettering.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr double chord_mm = 0.02;

QColor colour_of(const PathTrace& trace, const PathTrace::Chord& c, PathColours colouring, const Colours& d) {
  if (c.feed <= 0) return d.quiet;
  if (colouring != PathColours::by_move) {
    const PathTrace::Range& range = colouring == PathColours::by_feed ? trace.feeds : trace.chips;
    const float value = colouring == PathColours::by_feed ? c.feed : c.chip, width = range.most - range.least;
    // In steps, so that neighbours are drawn together.
    const double share = width > 0 ? std::round(static_cast<double>((value - range.least) / width) * 16) / 16 : 1;
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
  const auto add = [&](const std::string& key, const Contour& line) {
    QPolygonF points = polygon_of(line);
    const QRectF box = points.boundingRect().adjusted(-0.01, -0.01, 0.01, 0.01);
    outlines.push_back({text_of(key), std::move(points), box});
  };
  const auto add_round = [&](const std::string& key, Point2 p, double r) {
    constexpr double at_45 = 0.70710678118654752;
    static constexpr double corners[][2] = {{1, 0},           {at_45, at_45}, {0, 1},          {-at_45, at_45}, {-1, 0},
                                            {-at_45, -at_45}, {0, -1},        {at_45, -at_45}, {1, 0}};
    QPolygonF points;
    for (const auto& [x, y] : corners) points << QPointF(p.x + r * x, p.y + r * y);
    outlines.push_back({text_of(key), std::move(points), QRectF(p.x - r, p.y - r, 2 * r, 2 * r)});
  };
  for (const JobLine& line : lines_of(job)) add(line.key, *line.contour);
  const std::vector<DrawnText>& texts = job.drawing().texts;
  const std::vector<std::string> keys = text_keys_of(job.drawing());
  for (std::size_t i = 0; i < texts.size(); ++i)
    for (const Contour& letter : lettering(texts[i].text, texts[i].at, texts[i].height_mm, texts[i].angle_deg).lines)
      add(keys[i], letter);
  for (const Feature& f : job.features) {
    for (const Contour& letter : f.letters) add(f.key, letter);
    // Very many are seen as a whole only: eight corners each.
    constexpr std::size_t very_many = 2000;
    const double d = drilled_mm(f).value_or(1);
    for (const Point2& p : f.at)
      if (f.at.size() <= very_many) add(f.key, circle_contour(p, d));
      else add_round(f.key, p, d / 2);
  }
  return outlines;
}

QStringList lines_of_feature(const Job& job, const std::string& key) {
  QStringList keys{text_of(key)};
  if (const Feature* f = find_feature(job, key)) {
    if (!f->outline.key.empty()) keys << text_of(f->outline.key);
    for (const std::vector<FeatureUse>* uses : {&f->islands, &f->circles})
      for (const FeatureUse& use : *uses) keys << text_of(use.key);
  }
  return keys;
}

void PathTrace::Range::take(float value) {
  least = least > 0 ? std::min(least, value) : value;
  most = std::max(most, value);
}

std::shared_ptr<const PathTrace> trace_of(std::shared_ptr<const PlannedOperation> planned) {
  auto made = std::make_shared<PathTrace>();
  PathTrace& trace = *made;
  trace.of = std::move(planned);
  const Operation& o = trace.of->operation;
  const double teeth = std::max(1, o.cutter.flutes.value_or(1));
  const double edge_angle = o.cutter.cutting_edge_angle_deg.value_or(90) * std::numbers::pi / 180;
  double n = trace.of->path.start_rpm > 0 ? trace.of->path.start_rpm : o.taken.n_rpm.value_or(0);
  // Formula 5: hex = fz · sin κ · sin φ, the whole fz from 90° on.
  const auto chip_of = [&](const Move& m) {
    if (m.engaged_e4 == 0 || !(n > 0) || m.kind == MoveKind::cycle) return 0.0;
    return m.feed_mm_min / (n * teeth) * std::sin(edge_angle) *
           std::sin(std::min(m.engaged_rad(), std::numbers::pi / 2));
  };
  std::uint32_t move = 0;
  const auto put = [&](double x, double y, double z, const Move& m, double chip) {
    trace.chords.push_back({static_cast<float>(x), static_cast<float>(y), static_cast<float>(z),
                            static_cast<float>(m.feed_mm_min), static_cast<float>(chip), m.kind, move});
    trace.lowest = std::min(trace.lowest, static_cast<float>(z));
    trace.highest = std::max(trace.highest, static_cast<float>(z));
  };
  double x = 0, y = 0, z = 0;
  std::size_t event = 0;
  const auto& events = trace.of->path.events;
  for (std::size_t i = 0; i < trace.of->path.moves.size(); ++i) {
    const Move& m = trace.of->path.moves[i];
    for (; event < events.size() && events[event].before <= i; ++event)
      if (events[event].kind == MotionEvent::spindle_speed) n = events[event].value;
    const double chip = chip_of(m);
    move = static_cast<std::uint32_t>(i);
    if (m.shape != MoveShape::line) {
      const double r = std::hypot(x - m.centre_x, y - m.centre_y), swept = swept_rad(x, y, m);
      const double from = std::atan2(y - m.centre_y, x - m.centre_x);
      const double step = 2 * std::acos(std::clamp(1 - chord_mm / std::max(r, chord_mm), -1.0, 1.0));
      const int pieces = whole_within(std::ceil(std::abs(swept) / std::max(step, 0.02)), 1, 2000);
      for (int k = 1; k < pieces; ++k) {
        const double t = static_cast<double>(k) / pieces, a = from + swept * t;
        put(m.centre_x + r * std::cos(a), m.centre_y + r * std::sin(a), z + (m.z - z) * t, m, chip);
      }
    }
    put(m.x, m.y, m.z, m, chip);
    x = m.x, y = m.y, z = m.z;
    if (!m.is_rapid()) trace.feeds.take(static_cast<float>(m.feed_mm_min));
    if (chip > 0) trace.chips.take(static_cast<float>(chip));
  }
  return made;
}

void draw_trace(QPainter& p, const PathTrace& trace, bool chosen, PathColours colouring, const Colours& colours,
                const Projection& project, const std::atomic<bool>* stop) {
  if (trace.chords.empty()) return;
  const QRectF seen = QRectF(p.clipBoundingRect()).adjusted(-50, -50, 50, 50);
  // So many that nobody sees single lines: thin ones, and larger steps.
  const bool dense = trace.chords.size() > dense_chords;
  const double least = dense ? 1.5 : 0.7;
  QPolygonF run;
  QColor colour;
  MoveKind kind = MoveKind::rapid;
  float feed = -1, chip = -1;
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
  const auto alike = [&](const PathTrace::Chord& a, const PathTrace::Chord& b) {
    return a.kind == b.kind && a.feed == b.feed && (colouring != PathColours::by_chip || a.chip == b.chip);
  };
  for (std::size_t i = 1; i < trace.chords.size(); ++i) {
    if (stop && i % 4096 == 0 && *stop) return;
    const PathTrace::Chord& c = trace.chords[i];
    const QPointF at = project(c);
    if (c.kind != kind || c.feed != feed || c.chip != chip) {
      kind = c.kind;
      feed = c.feed;
      chip = c.chip;
      if (const QColor now = colour_of(trace, c, colouring, colours); now != colour || (c.feed <= 0) != rapid) {
        flush();
        colour = now;
        rapid = c.feed <= 0;
      }
    }
    // Nobody sees a step below a pixel, nor what is outside.
    const bool small = std::abs(at.x() - last.x()) < least && std::abs(at.y() - last.y()) < least;
    const bool goes_on = i + 1 < trace.chords.size() && alike(trace.chords[i + 1], c);
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
