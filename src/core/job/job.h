// A job: machine, work material, stock and operations in order. An operation keeps copies of its cutter and conditions
// and remembers which source it follows; nothing in a library changes them silently.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/conditions/conditions.h"
#include "core/cutter/cutter.h"
#include "core/cutter/operation_kind.h"
#include "core/toolpath/geometry.h"

namespace pecorra {

enum class PathKind { profile, drilling };
template <>
std::span<const Choice> choices_of<PathKind>();

enum class ProfileWhere { around, within, along };
template <>
std::span<const Choice> choices_of<ProfileWhere>();

enum class DepthTo { tip, full_diameter };
template <>
std::span<const Choice> choices_of<DepthTo>();

// The values an operation took, and from where.
struct TakenConditions {
  std::optional<double> n_rpm, vf_mm_min, plunge_mm_min, ramp_mm_min, ramp_n_rpm, lead_mm_min, ap_mm, ae_mm, vc_m_min,
      fz_mm;
  std::optional<int> dial_position;  // of a machine with a dial
  Coolant coolant = Coolant::off;
  SourceKind source = SourceKind::none;
  bool guess = false;
  bool proven = false;
  Id table;
  Id row;                   // of the table, or a recipe
  std::string source_text;  // as it was called when taken
  std::string kept;         // values of the source that were seen and not taken, see fingerprint()
  Trail trail;              // how they came about
  bool operator==(const TakenConditions&) const = default;
};
template <>
std::span<const Property<TakenConditions>> properties<TakenConditions>();

struct Operation {
  Id id;
  PathKind path = PathKind::profile;
  OperationKind operation = OperationKind::side_rough;  // what the tables are asked for
  std::string name;
  Cutter cutter;  // copy; null id: none picked yet
  std::optional<double> stickout_mm;
  std::optional<int> tool_number;
  // Profile
  ProfileWhere where = ProfileWhere::around;
  std::vector<int> contours;  // lines of the drawing, see line_at
  std::optional<double> depth_mm;
  std::optional<double> side_stock_mm;            // material beside the line before the cut
  std::optional<double> leave_mm;                 // material left on the wall
  std::optional<double> permitted_deflection_mm;  // how much the tip may deflect for the wall's tolerance
  bool climb = true;
  // Drilling
  std::optional<double> hole_diameter_mm;  // circles of this diameter in the drawing
  DepthTo depth_to = DepthTo::full_diameter;
  std::optional<double> breakthrough_mm;
  std::optional<double> peck_mm;
  // Own values, typed here
  std::optional<double> own_n_rpm, own_vf_mm_min, own_ap_mm, own_ae_mm;
  std::optional<Coolant> own_coolant;
  TakenConditions taken;
  std::map<std::string, std::string, std::less<>> typed;

  bool has_own_speed() const { return own_n_rpm && own_vf_mm_min; }
  bool operator==(const Operation&) const = default;
};
template <>
std::span<const Property<Operation>> properties<Operation>();

struct Job {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  Id machine;
  Id material;
  std::optional<double> pace;
  std::optional<double> stock_width_mm, stock_depth_mm, stock_height_mm;  // x, y, z
  std::optional<double> clearance_mm;                                     // retract plane above the stock
  std::optional<double> rapid_mm_min;                                     // instead of the machine's
  UnitSystem program_unit = UnitSystem::metric;
  Drawing drawing;
  std::vector<Operation> operations;
  bool operator==(const Job&) const = default;
};
template <>
std::span<const Property<Job>> properties<Job>();

// One declaration for each kind of path: what is asked for it, and which types of it there are.
struct PathDeclaration {
  PathKind kind;
  OperationSet manners;
  OperationKind usual;
  std::span<const std::string_view> parameters;  // keys of properties<Operation>(), in the order they are asked
};
const PathDeclaration& declaration(PathKind kind);

// The values that matter to a program in one text: S, F, plunge, ramp, ap, ae, coolant.
std::string fingerprint(const TakenConditions& taken);

// Errors keep an operation out of the program; each names the property.
std::vector<Message> check_operation(const Job& job, const Operation& operation);
// Whether its path leads as a climbing cutter with M3 does: one that turns with M4 climbs on the other side.
bool climbs_with_m3(const Operation& operation);

// The line that encloses the most, -1 without a closed one.
int outermost_line(const Drawing& drawing);
// Diameters of circles that occur, each once, rising.
std::vector<double> hole_diameters(const Drawing& drawing);

}  // namespace pecorra
