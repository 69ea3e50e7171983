#include "shop/holder_outline.h"

#include <QCoreApplication>
#include <algorithm>
#include <cmath>

namespace pecorra {
namespace {

QString tr(const char* text) { return QCoreApplication::translate("HolderOutline", text); }

}  // namespace

tl::expected<std::vector<Station>, QString> stations_of(const Drawing& drawing) {
  const Contour* longest = longest_line(drawing);
  std::vector<Point2> line = longest ? flattened(*longest, 0.02) : std::vector<Point2>{};
  const bool closed = longest && longest->closed;
  if (line.size() < 2) return tl::unexpected(tr("The drawing has no line that could be a holder outline."));
  // Of a symmetrical outline, the right half is used.
  if (closed) {
    const auto lowest = std::min_element(line.begin(), line.end(), [](const Point2& a, const Point2& b) {
      return a.y < b.y || (a.y == b.y && a.x < b.x);
    });
    std::rotate(line.begin(), lowest, line.end());
    if (signed_area(line) < 0) std::reverse(line.begin() + 1, line.end());
  }
  if (line.front().y > line.back().y) std::reverse(line.begin(), line.end());
  std::vector<Station> stations;
  double low = 1e300;
  for (const Point2& p : line)
    if (p.x > 1e-6) low = std::min(low, p.y);
  for (const Point2& p : line) {
    if (p.x <= 1e-6) continue;  // on the axis, or the other half
    const Station s{p.y - low, 2 * p.x};
    if (!stations.empty() && s.distance_mm < stations.back().distance_mm - 1e-6) {
      if (closed) break;  // the way back
      return tl::unexpected(tr("The outline turns back towards the cutter; a holder outline must rise from its face."));
    }
    if (stations.empty() || std::abs(stations.back().distance_mm - s.distance_mm) > 1e-6 ||
        std::abs(stations.back().diameter_mm - s.diameter_mm) > 1e-6)
      stations.push_back(s);
  }
  if (stations.size() < 2 || stations.back().distance_mm <= 0)
    return tl::unexpected(
        tr("The outline is on the wrong side of the axis; the axis is x = 0, with the outline to its right."));
  return stations;
}

}  // namespace pecorra
