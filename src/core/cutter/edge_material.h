// Tool materials and coatings named by the shop, and their factors on starter values, which do not know them.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/base/message.h"
#include "core/cutter/cutter.h"

namespace pecorra {

enum class EdgePart { tool_material, coating };
template <>
std::span<const Choice> choices_of<EdgePart>();

struct EdgeMaterial {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  EdgePart part = EdgePart::coating;
  std::optional<ToolMaterial> like;  // of a tool material: the one whose rows it uses
  double speed_factor = 1;           // on the cutting speed of a starter row
  double feed_factor = 1;            // on its feed
  std::string source;                // source of the factors
  std::string notes;
  bool operator==(const EdgeMaterial&) const = default;
};
template <>
std::span<const Property<EdgeMaterial>> properties<EdgeMaterial>();

std::vector<Message> check_edge_material(const EdgeMaterial& material);

// Factors for one cutter and their origin: "premium, coating TiN".
struct EdgeFactor {
  double speed = 1, feed = 1;
  std::string from;
};

// Looked up by the names used on cutters.
class EdgeFactors {
 public:
  EdgeFactors() = default;
  EdgeFactors(std::span<const EdgeMaterial> materials, double premium, double standard, double plain);
  EdgeFactor of(const Cutter& cutter) const;

 private:
  std::unordered_map<std::string, std::pair<double, double>> tool_materials_, coatings_;
  double quality_[3] = {1, 1, 1};
};

}  // namespace pecorra
