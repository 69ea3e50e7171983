// What of the plan is under the pointer.
#include <algorithm>
#include <cmath>

#include "app/jobs/path_view.h"

namespace pecorra {
namespace {

constexpr double grab_pixels = 7, move_pixels = 4;

double distance_to(QPointF p, QPointF a, QPointF b) {
  const QPointF ab = b - a;
  const double square = QPointF::dotProduct(ab, ab);
  const double s = square > 0 ? std::clamp(QPointF::dotProduct(p - a, ab) / square, 0.0, 1.0) : 0.0;
  const QPointF gap = p - (a + s * ab);
  return std::hypot(gap.x(), gap.y());
}

}  // namespace

QString PathView::feature_at(QPointF point) const {
  if (!job_ || !plan_rect().contains(point.toPoint())) return {};
  const QTransform t = to_screen();
  QString best;
  double nearest = grab_pixels;
  for (const FeatureOutline& o : outlines_) {
    const QPolygonF points = t.map(o.points);
    for (int k = 1; k < points.size(); ++k)
      if (const double distance = distance_to(point, points[k - 1], points[k]); distance < nearest) {
        nearest = distance;
        best = o.key;
      }
  }
  return best;
}

std::vector<std::pair<int, int>> PathView::moves_at(QPointF point) const {
  if (!plan_rect().contains(point.toPoint())) return {};
  const QTransform t = to_screen();
  std::vector<std::pair<int, int>> cuts, rapids;
  const auto look = [&](std::size_t i) {
    const std::vector<PathTrace::Chord>& chords = traces_[i]->chords;
    QPointF from;
    for (std::size_t k = 0; k < chords.size(); ++k) {
      const QPointF to = t.map(QPointF(static_cast<double>(chords[k].x), static_cast<double>(chords[k].y)));
      if (k > 0 && distance_to(point, from, to) <= move_pixels) {
        std::vector<std::pair<int, int>>& found = chords[k].feed > 0 ? cuts : rapids;
        const std::pair<int, int> move(static_cast<int>(i), static_cast<int>(chords[k].move));
        if (found.empty() || found.back() != move) found.push_back(move);
      }
      from = to;
    }
  };
  for (const bool chosen : {true, false}) {
    for (std::size_t i = 0; i < traces_.size(); ++i)
      if (is_chosen(i) == chosen) look(i);
    if (!cuts.empty()) return cuts;
  }
  return rapids;
}

}  // namespace pecorra
