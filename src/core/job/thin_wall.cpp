#include "core/job/thin_wall.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/geometry/region.h"

namespace pecorra {
namespace {

constexpr double slender = 8, no_wall_mm = 0.05;
constexpr std::size_t most_in_ring = 400;

// An edge that something was cut away beside.
struct Edge {
  std::size_t operation = 0;
  const Setup* setup = nullptr;
  std::string key;
  Ring ring;
  Box box;
  double top = 0, bottom = 0;
  bool inside = true;  // what is inside was cut away
};

Ring few_points(const Contour& contour) {
  Ring ring = flattened(contour, 0.05);
  if (ring.size() <= most_in_ring) return ring;
  Ring few;
  for (std::size_t i = 0; i < most_in_ring; ++i) few.push_back(ring[i * ring.size() / most_in_ring]);
  return few;
}

double distance_between(const Ring& a, const Ring& b) {
  double least = 1e300;
  for (const Point2& p : a) least = std::min(least, distance_to_ring(p, b));
  for (const Point2& p : b) least = std::min(least, distance_to_ring(p, a));
  return least;
}

std::vector<Edge> edges_of(const Job& job, const std::vector<const OperationInput*>& inputs) {
  std::vector<Edge> edges;
  for (std::size_t i = 0; i < inputs.size(); ++i) {
    const Operation& o = job.operations[i];
    const OperationInput& input = *inputs[i];
    const auto depth = depth_of(o, input);
    if (!declaration(o.path).milling || !depth || only_finishes(o)) continue;
    const double top = top_of(o, input);
    const auto add = [&](const std::string& key, const Contour& contour, double deep, bool inside) {
      if (!contour.closed || contour.vertices.empty()) return;
      edges.push_back({i, setup_of(job, o), key, few_points(contour), bounds(contour), top, top - deep, inside});
    };
    for (const BoundPocket& pocket : input.pockets) {
      const double deep = depth_of_feature(o, input, pocket, *depth);
      add(pocket.key, pocket.outline, deep, true);
      for (const BoundLine& island : pocket.islands) add(island.key, island.contour, deep, false);
    }
    if (!has_parameter(o.path, "where") || o.where == ProfileWhere::along) continue;
    for (const BoundLine& line : input.lines)
      add(line.key, line.contour, depth_of_feature(o, input, line, *depth), o.where == ProfileWhere::within);
  }
  return edges;
}

// Between both, where material stands; 0: there is none.
double wall_between(const Edge& a, const Edge& b) {
  if (a.ring.size() < 3 || b.ring.size() < 3) return 0;
  const bool a_in_b = encloses(b.ring, a.ring.front()), b_in_a = encloses(a.ring, b.ring.front());
  const bool solid = a.inside && b.inside    ? !a_in_b && !b_in_a
                     : a.inside && !b.inside ? a_in_b
                     : !a.inside && b.inside ? b_in_a
                                             : false;
  return solid ? distance_between(a.ring, b.ring) : 0;
}

}  // namespace

std::vector<std::vector<Message>> thin_walls(const Job& job, const std::vector<const OperationInput*>& inputs) {
  std::vector<std::vector<Message>> messages(inputs.size());
  const std::vector<Edge> edges = edges_of(job, inputs);
  std::set<std::pair<std::string, std::string>> told;
  for (std::size_t k = 1; k < edges.size(); ++k)
    for (std::size_t i = 0; i < k; ++i) {
      const Edge &a = edges[i], &b = edges[k];
      const double height = std::min(a.top, b.top) - std::max(a.bottom, b.bottom);
      if (a.setup != b.setup || a.key == b.key || !(height > 0) || !a.box.grown(height / slender).meets(b.box))
        continue;
      const double wall = wall_between(a, b);
      if (wall <= no_wall_mm || height <= slender * wall * (1 + 1e-9)) continue;
      if (!told.insert(std::minmax(a.key, b.key)).second) continue;
      messages[b.operation].push_back(
          {Severity::warning,
           "thin_wall",
           "features",
           {{"wall_mm", wall}, {"height_mm", height}, {"first", a.key}, {"then", b.key}, {"times", height / wall}}});
    }
  // A rib or boss is a wall by itself.
  for (const Edge& e : edges) {
    if (e.inside) continue;
    const double wall = std::min(e.box.width(), e.box.depth()), height = e.top - e.bottom;
    if (wall <= no_wall_mm || height <= slender * wall * (1 + 1e-9) || !told.insert({e.key, {}}).second) continue;
    messages[e.operation].push_back(
        {Severity::warning,
         "thin_wall_alone",
         "features",
         {{"wall_mm", wall}, {"height_mm", height}, {"first", e.key}, {"times", height / wall}}});
  }
  return messages;
}

}  // namespace pecorra
