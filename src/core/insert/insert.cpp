#include "core/insert/insert.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <numbers>

#include "core/base/check.h"
#include "core/base/stock.h"
#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array own{
    field<&Insert::name>("name", "", "Designation", text, "By ISO 1832, as APKT 160408; any other name will do"),
    field<&Insert::grade>("grade", "", "Grade", text, "The maker's name for the grade"),
    field<&Insert::corner_radius_mm>("corner_radius_mm", "RE", "Corner radius", length, "0 is sharp").within(0, 1e3),
    field<&Insert::edges>("edges", "CEDC", "Edges", count, "Number of usable cutting edges").within(1, 100),
    field<&Insert::inscribed_mm>("inscribed_mm", "IC", "Inscribed circle", length, "Diameter of the circle inside")
        .above(0),
    field<&Insert::edge_length_mm>("edge_length_mm", "L", "Edge length", length, "Of one cutting edge").above(0),
    field<&Insert::thickness_mm>("thickness_mm", "S", "Thickness", length, "From the seat to the edge").above(0),
    field<&Insert::tool_material>("tool_material", "", "Tool material", choice, "Material of the cutting edges"),
    field<&Insert::coating>("coating", "", "Coating", text, "Of the cutting edges"),
    field<&Insert::edge_radius_mm>("edge_radius_mm", "", "Edge radius", feed_per_tooth,
                                   "Rounding of the cutting edge; thinner chips rub")
        .above(0),
    field<&Insert::max_chip_mm>("max_chip_mm", "", "Permitted chip", feed_per_tooth,
                                "Maximum chip thickness the edge can take")
        .above(0),
    field<&Insert::maker>("maker", "", "Maker", text, "Manufacturer"),
    field<&Insert::order_code>("order_code", "", "Order code", text, "For reordering"),
    field<&Insert::link>("link", "", "Link", text, "Where it is described or sold"),
    field<&Insert::price>("price", "", "Price", number, "Each, in the shop's currency").within(0, 1e9),
    field<&Insert::notes>("notes", "", "Notes", text, "For the programmer")};
constexpr auto insert_fields = joined(own, stock_properties<Insert>());

struct Shape {
  char letter;
  double angle_deg;        // at the corner; 0: round
  int corners;             // that cut
  double edge_per_circle;  // edge length over inscribed circle; 0: not tied to it
};
double rhombic(double angle_deg) { return 1 / std::sin(angle_deg * std::numbers::pi / 180); }
const Shape shapes[] = {{'A', 85, 2, 0},
                        {'B', 82, 2, 0},
                        {'K', 55, 2, 0},
                        {'L', 90, 4, 0},
                        {'C', 80, 2, rhombic(80)},
                        {'D', 55, 2, rhombic(55)},
                        {'E', 75, 2, rhombic(75)},
                        {'F', 50, 2, rhombic(50)},
                        {'M', 86, 2, rhombic(86)},
                        {'V', 35, 2, rhombic(35)},
                        {'S', 90, 4, 1},
                        {'T', 60, 3, std::sqrt(3.0)},
                        {'W', 80, 3, 0.6842},
                        {'P', 108, 5, std::tan(std::numbers::pi / 5)},
                        {'H', 120, 6, std::tan(std::numbers::pi / 6)},
                        {'O', 135, 8, std::tan(std::numbers::pi / 8)},
                        {'R', 0, 0, 1}};
constexpr std::pair<char, double> clearances[] = {{'A', 3},  {'B', 5},  {'C', 7}, {'D', 15}, {'E', 20},
                                                  {'F', 25}, {'G', 30}, {'N', 0}, {'P', 11}, {'O', -1}};
constexpr std::string_view tolerances = "AFCHEGJKLMNU", types = "NRFAMGWTQUBHCJX";
constexpr std::pair<std::string_view, double> thicknesses[] = {
    {"01", 1.59}, {"T0", 1.79}, {"T1", 1.98}, {"02", 2.38}, {"T2", 2.78}, {"03", 3.18},  {"T3", 3.97},
    {"04", 4.76}, {"05", 5.56}, {"06", 6.35}, {"07", 7.94}, {"09", 9.52}, {"11", 11.11}, {"12", 12.7}};
constexpr double circles_mm[] = {3.97, 4.76, 5.56, 6.35, 7.94, 9.525, 12.7, 15.875, 19.05, 25.4, 31.75};

constexpr std::string_view decided[] = {"corner_radius_mm", "tool_material", "coating", "edge_radius_mm",
                                        "max_chip_mm"};

bool is_digit(char c) { return std::isdigit(static_cast<unsigned char>(c)) != 0; }

}  // namespace

template <>
std::span<const Property<Insert>> properties<Insert>() {
  return insert_fields;
}

tl::expected<InsertDesignation, std::string> read_designation(std::string_view given) {
  std::string text;
  for (const char c : given)
    if (c != ' ' && c != '-') text += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
  const auto wrong = [&](std::size_t place, const std::string& right) {
    return tl::unexpected(place < text.size()
                              ? fmt::format("place {}, “{}”, is not known; {}", place + 1, text[place], right)
                              : fmt::format("place {} is missing; {}", place + 1, right));
  };
  InsertDesignation out;
  const Shape* shape = nullptr;
  for (const Shape& s : shapes)
    if (!text.empty() && s.letter == text[0]) shape = &s;
  if (!shape) return wrong(0, "expected a letter for the shape, such as C, S, T or R");
  out.corner_angle_deg = shape->angle_deg;
  const auto clearance = std::find_if(std::begin(clearances), std::end(clearances),
                                      [&](const auto& c) { return text.size() > 1 && c.first == text[1]; });
  if (clearance == std::end(clearances))
    return wrong(1, "expected a letter for the clearance angle, such as N, P or E");
  out.clearance_known = clearance->second >= 0;
  out.clearance_angle_deg = std::max(0.0, clearance->second);
  if (text.size() < 3 || tolerances.find(text[2]) == std::string_view::npos)
    return wrong(2, "expected a letter for the tolerance, such as M, G or K");
  if (text.size() < 4 || types.find(text[3]) == std::string_view::npos)
    return wrong(3, "expected a letter for hole and chip groove, such as T, G or N");
  if (text.size() < 6 || !is_digit(text[4]) || !is_digit(text[5]))
    return wrong(text.size() > 4 && is_digit(text[4]) ? 5 : 4, "expected two digits for the edge length, such as 12");
  const int size = (text[4] - '0') * 10 + (text[5] - '0');
  const auto thickness = std::find_if(std::begin(thicknesses), std::end(thicknesses), [&](const auto& t) {
    return text.compare(6, 2, t.first) == 0 && text.size() >= 8;
  });
  if (thickness == std::end(thicknesses)) return wrong(6, "expected the thickness, such as 03, T3 or 04");
  out.thickness_mm = thickness->second;
  const std::string corner = text.size() >= 10 ? text.substr(8, 2) : std::string();
  if (!corner.empty() && is_digit(corner[0]) && is_digit(corner[1]))
    out.corner_radius_mm = ((corner[0] - '0') * 10 + (corner[1] - '0')) * 0.1;
  else if (corner.empty() || !(std::isalpha(static_cast<unsigned char>(corner[0]))))
    return wrong(8, "expected the corner: two digits in tenths of a millimetre, M0, or two letters for a facet");
  if (shape->angle_deg == 0) {  // round: half its diameter, in whole millimetres where M0 says so
    double circle = size;
    if (corner == "00")
      for (const double c : circles_mm)
        if (static_cast<int>(c) == size) circle = c;
    out.inscribed_mm = circle;
    out.edge_length_mm = circle;
    out.corner_radius_mm = circle / 2;
    return out;
  }
  out.edge_length_mm = size;
  if (shape->edge_per_circle > 0)
    for (const double c : circles_mm)
      if (static_cast<int>(c * shape->edge_per_circle + 0.01) == size) {
        out.inscribed_mm = c;
        out.edge_length_mm = c * shape->edge_per_circle;
      }
  // Both faces cut where nothing is relieved and the form is the same on both.
  const bool both = out.clearance_known && out.clearance_angle_deg == 0 &&
                    std::string_view("NAGFQU").find(text[3]) != std::string_view::npos;
  out.edges = shape->corners * (both ? 2 : 1);
  return out;
}

Insert with_designation(Insert insert, bool replace) {
  const auto read = read_designation(insert.name);
  if (!read) return insert;
  const auto put = [&](auto& member, auto value, const char* key) {
    if (member && !replace) return;
    member = value;
    insert.typed.erase(key);
  };
  const auto hundredths = [](double v) { return std::round(v * 100) / 100; };
  if (read->corner_radius_mm) put(insert.corner_radius_mm, *read->corner_radius_mm, "corner_radius_mm");
  if (read->edges > 0) put(insert.edges, read->edges, "edges");
  if (read->inscribed_mm > 0) put(insert.inscribed_mm, read->inscribed_mm, "inscribed_mm");
  put(insert.edge_length_mm, hundredths(read->edge_length_mm), "edge_length_mm");
  put(insert.thickness_mm, read->thickness_mm, "thickness_mm");
  return insert;
}

std::vector<Message> check_insert(const Insert& insert) {
  std::vector<Message> messages;
  check_ranges(insert, messages);
  if (insert.corner_radius_mm && insert.inscribed_mm && *insert.corner_radius_mm > *insert.inscribed_mm / 2 + 1e-9)
    messages.push_back({Severity::error,
                        "corner_radius_over_half",
                        "corner_radius_mm",
                        {{"radius_mm", *insert.corner_radius_mm}, {"half_mm", *insert.inscribed_mm / 2}}});
  if (const auto read = read_designation(insert.name);
      read && read->corner_radius_mm && insert.corner_radius_mm &&
      std::abs(*read->corner_radius_mm - *insert.corner_radius_mm) > 0.01)
    messages.push_back({Severity::warning,
                        "not_as_designated",
                        "corner_radius_mm",
                        {{"designated_mm", *read->corner_radius_mm},
                         {"value_mm", *insert.corner_radius_mm},
                         {"designation", insert.name}}});
  return messages;
}

Cutter fitted(const Cutter& cutter, const Insert& insert) {
  Cutter after = cutter;
  after.insert = insert.id;
  const auto put = [&](auto& member, const auto& value, const char* key) {
    if (!value) return;
    member = value;
    after.guesses.erase(key);
    after.typed.erase(key);
  };
  // Round inserts make the radius of a bull nose; on face mills it is said by the angle of the edge.
  if (parameter_use(cutter.kind, "corner_radius_mm"))
    put(after.corner_radius_mm, insert.corner_radius_mm, "corner_radius_mm");
  put(after.tool_material, insert.tool_material ? insert.tool_material : std::optional(ToolMaterial::carbide_insert),
      "tool_material");
  put(after.edge_radius_mm, insert.edge_radius_mm, "edge_radius_mm");
  put(after.max_chip_mm, insert.max_chip_mm, "max_chip_mm");
  if (!insert.coating.empty()) after.coating = insert.coating;
  return after;
}

std::span<const std::string_view> fitted_properties() { return decided; }

bool takes_inserts(CutterKind kind) {
  switch (kind) {
    case CutterKind::tap:
    case CutterKind::engraver:
    case CutterKind::centre_drill:
    case CutterKind::drag_knife:
    case CutterKind::probe:
    case CutterKind::undercut_ball: return false;
    default: return true;
  }
}

}  // namespace pecorra
