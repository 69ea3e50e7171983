// A rotating cutter: what it is, its sizes, who made it. Lengths in mm, angles in degrees.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/id.h"
#include "core/base/property.h"
#include "core/base/vertex.h"
#include "core/quantity/units.h"

namespace pecorra {

enum class CutterKind {
  end_mill,
  bull_nose,
  ball,
  rougher,
  high_feed,
  face_mill,
  fly_cutter,
  tapered,
  chamfer_mill,
  engraver,
  corner_rounding,
  t_slot,
  dovetail,
  undercut_ball,
  barrel,
  thread_mill,
  form,
  drill,
  spot_drill,
  centre_drill,
  step_drill,
  countersink,
  counterbore,
  reamer,
  tap,
  boring_bar,
  back_boring_bar,
  drag_knife,
  probe
};

enum class ToolMaterial { hss, hss_co, hss_pm, carbide, carbide_insert, cermet, ceramic, cbn, pcd };

enum class TapForm { cut, form };

enum class EdgeDirection { up, down, compression };

enum class Rotation { clockwise, counter_clockwise };

enum class ShankForm { plain, flat, inclined_flat, threaded, bore, taper };

// Quality grade; used where nothing better is known.
enum class Quality { premium, standard, plain };
// What its edges are ground for.
enum class MadeFor { metal, non_ferrous, wood_plastics };
enum class CentreCut { yes, no };
// Whether the web of a drill is thinned at the point.
enum class Web { thinned, full };

// A conical part of the shank above the neck; sections are stacked from the reach upwards.
struct ShankSection {
  double length_mm = 0;
  double lower_mm = 0, upper_mm = 0;  // diameters
  bool operator==(const ShankSection&) const = default;
};

template <>
std::span<const Choice> choices_of<CutterKind>();
template <>
std::span<const Choice> choices_of<ToolMaterial>();
template <>
std::span<const Choice> choices_of<TapForm>();
template <>
std::span<const Choice> choices_of<EdgeDirection>();
template <>
std::span<const Choice> choices_of<Rotation>();
template <>
std::span<const Choice> choices_of<ShankForm>();
template <>
std::span<const Choice> choices_of<Quality>();
template <>
std::span<const Choice> choices_of<MadeFor>();
template <>
std::span<const Choice> choices_of<Web>();
template <>
std::span<const Choice> choices_of<CentreCut>();
template <>
std::span<const Choice> choices_of<UnitSystem>();

struct Cutter {
  Id id;
  std::int64_t revision = 0;
  Id library;
  int number = 0;

  CutterKind kind = CutterKind::end_mill;
  std::optional<double> diameter_mm;
  std::optional<double> corner_radius_mm;
  std::optional<int> flutes;
  std::optional<double> helix_deg;
  std::optional<double> rake_deg;
  std::optional<double> cutting_edge_angle_deg;
  std::optional<double> point_angle_deg;
  std::optional<double> tip_diameter_mm;
  std::optional<double> taper_half_angle_deg;
  std::optional<double> flute_length_mm;
  std::optional<double> reach_mm;
  std::optional<double> neck_diameter_mm;
  std::optional<double> shank_diameter_mm;
  std::optional<double> overall_length_mm;
  std::optional<ToolMaterial> tool_material;
  std::optional<double> core_ratio;
  std::optional<double> pitch_mm;
  std::optional<double> max_rpm;
  std::optional<TapForm> tap_form;
  std::optional<double> max_chip_mm;
  std::optional<double> edge_radius_mm;
  // Sizes that only some kinds have.
  std::optional<double> profile_radius_mm;
  std::optional<double> step_diameter_mm, step_length_mm, step_angle_deg;
  std::optional<double> diameter_from_mm, diameter_to_mm;  // adjustable
  std::optional<double> lead_length_mm, lead_threads;
  std::optional<double> trail_mm;
  std::string thread;  // designation
  std::vector<ShankSection> shank_sections;
  std::vector<Vertex> outline;  // form cutters: x from the axis, y above the tip

  std::optional<EdgeDirection> edge_direction;
  Rotation rotation = Rotation::clockwise;
  bool through_coolant = false;
  std::optional<double> max_ramp_deg;
  std::optional<CentreCut> centre_cut;
  std::optional<Web> web;
  std::optional<MadeFor> made_for;
  std::optional<double> runout_mm;
  std::optional<ShankForm> shank_form;

  std::string name;
  std::string maker;
  std::string series;
  std::string order_code;
  std::string link;
  std::optional<double> price;
  std::string own_material;  // a tool material that the shop has named, see edge_material.h
  std::string coating;
  std::optional<Quality> quality;
  Id insert;  // on a body for inserts
  std::string notes;
  std::string message;  // for the operator: on sheets and in programs
  std::optional<int> in_stock, wanted, on_order;
  bool retired = false;
  bool favourite = false;        // stays on top of lists
  bool no_maker_tables = false;  // its maker's tables do not apply
  bool no_factors = false;       // factors do not apply to it
  // Keys of guessed values not yet confirmed.
  std::set<std::string, std::less<>> guesses;
  // Warnings that somebody accepted: code -> reason.
  std::map<std::string, std::string, std::less<>> accepted;
  UnitSystem unit = UnitSystem::metric;  // the unit it was bought in
  // What was typed for a property, kept as typed: key -> text.
  std::map<std::string, std::string, std::less<>> typed;

  bool operator==(const Cutter&) const = default;
};

template <>
std::span<const Property<Cutter>> properties<Cutter>();
// The properties that describe the body: what `compute` accepts as a cutter.
std::span<const Property<Cutter>> body_properties();
// The body and the sizes that only some kinds have.
std::span<const Property<Cutter>> size_properties();

// As stated; else carbide drills are thinned and others are not (common practice, no source).
bool is_web_thinned(const Cutter& cutter);
// Bending strength of the weakest part, N/mm²: transverse rupture strength of carbide (ISO 3327) and high-speed steel,
// or that of the steel body of an insert cutter; from memory.
double bending_strength_n_mm2(const Cutter& cutter);
// Modulus of elasticity (N/mm²) and density (g/cm³) of the body; common practice, no source.
double youngs_modulus_n_mm2(ToolMaterial material);
double density_g_cm3(ToolMaterial material);
// Radius of a usual cutting edge in mm when the cutter states none: honed for inserts, sharper for small solid ones. An
// estimate; nothing for an unknown material.
std::optional<double> usual_edge_radius_mm(const Cutter& cutter);

}  // namespace pecorra
