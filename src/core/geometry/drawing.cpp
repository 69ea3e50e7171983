#include "core/geometry/drawing.h"

#include <fmt/format.h>
#include <algorithm>
#include <limits>
#include <map>

namespace pecorra {

Point2 DrawnLine::centre() const {
  if (contour.vertices.size() != 2) return {};
  const Vertex &a = contour.vertices[0], &b = contour.vertices[1];
  return {(a.x + b.x) / 2, (a.y + b.y) / 2};
}

std::size_t Drawing::circles() const {
  return static_cast<std::size_t>(
      std::count_if(lines.begin(), lines.end(), [](const DrawnLine& l) { return l.is_circle(); }));
}

std::vector<std::string> keys_of(const Drawing& drawing) {
  std::map<std::string, int, std::less<>> count;
  std::vector<std::string> keys;
  keys.reserve(drawing.lines.size());
  for (const DrawnLine& line : drawing.lines) {
    const std::string& layer = line.layer.empty() ? std::string("0") : line.layer;
    keys.push_back(layer + "/" + std::to_string(++count[layer]));
  }
  return keys;
}

std::vector<std::string> text_keys_of(const Drawing& drawing) {
  std::map<std::string, int, std::less<>> count;
  std::vector<std::string> keys;
  for (const DrawnText& text : drawing.texts) {
    const std::string& layer = text.layer.empty() ? std::string("0") : text.layer;
    keys.push_back(layer + "/text/" + std::to_string(++count[layer]));
  }
  return keys;
}

std::string print_of(const DrawnText& t) {
  return fmt::format("{:.4f} {:.4f} {:.4f} {:.4f} {}", t.at.x, t.at.y, t.height_mm, t.angle_deg, t.text);
}

const Contour* longest_line(const Drawing& drawing) {
  const Contour* longest = nullptr;
  double most = -1;
  for (const DrawnLine& line : drawing.lines)
    if (const double length = line.is_circle() ? -1 : length_of(line.contour); length > most) {
      most = length;
      longest = &line.contour;
    }
  return longest;
}

Box bounds(const Drawing& drawing) {
  constexpr double far = std::numeric_limits<double>::infinity();
  Box box{far, far, -far, -far};
  for (const DrawnLine& line : drawing.lines) {
    const Box b = bounds(line.contour);
    box = {std::min(box.low_x, b.low_x), std::min(box.low_y, b.low_y), std::max(box.high_x, b.high_x),
           std::max(box.high_y, b.high_y)};
  }
  return box.low_x > box.high_x ? Box{} : box;
}

}  // namespace pecorra
