// Indexable inserts, as objects apart from the cutter body. Lengths in mm.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "core/base/message.h"
#include "core/cutter/cutter.h"

namespace pecorra {

struct Insert {
  Id id;
  std::int64_t revision = 0;
  std::string name;   // designation, by ISO 1832 where it has one
  std::string grade;  // the maker's name of what it is made of
  std::optional<double> corner_radius_mm;
  std::optional<int> edges;
  std::optional<double> inscribed_mm, edge_length_mm, thickness_mm;
  std::optional<ToolMaterial> tool_material;
  std::string coating;
  std::optional<double> edge_radius_mm, max_chip_mm;
  std::string maker, order_code, link;
  std::optional<double> price;
  std::string notes;
  std::optional<int> in_stock, wanted, on_order;
  bool retired = false;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Insert&) const = default;
};
template <>
std::span<const Property<Insert>> properties<Insert>();

// What a designation says. Letters and sizes of ISO 1832, from memory.
struct InsertDesignation {
  double corner_angle_deg = 0;  // 0: round
  double clearance_angle_deg = 0;
  bool clearance_known = true;  // "O" names another angle
  double inscribed_mm = 0;      // 0: not to be told from the designation
  double edge_length_mm = 0;
  double thickness_mm = 0;
  std::optional<double> corner_radius_mm;  // none where a facet is named instead
  int edges = 0;                           // 0: round, it is turned as far as it is worn
};
// "CNMG 120408", "RPMT1204M0", "SEKT 1204AFN". Faults say which place of the designation is wrong and what would be
// right.
tl::expected<InsertDesignation, std::string> read_designation(std::string_view text);
// Fills fields that are empty or to be `replace`d from the designation; does nothing if it is not understood.
Insert with_designation(Insert insert, bool replace);

std::vector<Message> check_insert(const Insert& insert);

// The cutter with this insert on it: corner radius, what it is made of, coating, edge rounding, permitted chip.
Cutter fitted(const Cutter& cutter, const Insert& insert);
// Properties of a cutter that the insert decides.
std::span<const std::string_view> fitted_properties();
// Whether this kind of cutter can be a body for inserts.
bool takes_inserts(CutterKind kind);

}  // namespace pecorra
