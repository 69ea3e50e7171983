// One declaration for each kind of cutter. Forms, columns, checks, drawing, effective diameter and what the kind can do
// all follow from it; a new kind is a new entry here and a test.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/message.h"
#include "core/cutter/cutter.h"
#include "core/cutter/operation_kind.h"
#include "core/cutter/profile.h"

namespace pecorra {

// The shape of the cutting part, which decides the effective diameter and the chip (formulas 3 and 5).
enum class CuttingForm {
  cylinder,  // square end
  corner,    // rounded corner
  ball,
  cone,     // chamfer mills, engravers, tapered cutters, countersinks
  face,     // inclined edges beyond DC (face and high-feed mills)
  point,    // drills
  outline,  // the largest silhouette diameter within the depth (barrels, form cutters, …)
  other     // the largest diameter counts
};

// How a parameter is shown on the drawing.
enum class Dimension {
  none,
  across_tip,  // DC
  across_end,  // at the very tip
  across_step,
  across_neck,
  across_shank,
  along_axis,      // from the tip
  corner,          // a leader to the corner's arc
  profile_radius,  // a leader to the largest arc
  point_angle,     // a leader to the cone at the tip
  flank_angle,     // a leader to the inclined flank
  pitch
};

struct ParameterUse {
  std::string_view key;  // of properties<Cutter>()
  bool required = false;
  double per_diameter = 0;  // default = per_diameter · D + fixed; 0: nothing is proposed
  double fixed = 0;
  Dimension dimension = Dimension::none;
};

struct KindDeclaration {
  CutterKind kind;
  CuttingForm form;
  OperationSet operations;
  OperationKind usual_operation;             // named where a cutter cannot do what the context asks
  std::span<const ParameterUse> parameters;  // in the order in which they are measured
  // Usual range of flute length over diameter, to detect a wrong unit; 0 to 0: not checked.
  double flutes_from = 0, flutes_to = 0;
  Profile (*silhouette)(const Cutter&) = nullptr;
  void (*check)(const Cutter&, std::vector<Message>&) = nullptr;
  void (*propose)(Cutter&) = nullptr;  // what does not follow from the diameter alone
};

const KindDeclaration& declaration(CutterKind kind);
inline constexpr int cutter_kind_count = 29;
// In the order they are offered.
std::vector<CutterKind> cutter_kinds();
const ParameterUse* parameter_use(CutterKind kind, std::string_view key);

inline bool can_do(CutterKind kind, OperationKind operation) {
  return (declaration(kind).operations & bit(operation)) != 0;
}

// A cutter of this kind with sizes in proportion to the diameter, rounded as usual in these units.
Cutter proposed_cutter(CutterKind kind, double diameter_mm, UnitSystem units = UnitSystem::metric);
// Rounds a length as people would state it: two digits for small sizes, halves for large ones; fractions in inches.
double round_proposal(double value_mm, UnitSystem units);

// Errors and warnings about the geometry. Errors make the cutter a draft.
std::vector<Message> check_cutter(const Cutter& cutter);
// Whether it is a warning that nobody has accepted with a reason.
bool is_open(const Cutter& cutter, const Message& message);
// The warnings among them that nobody has accepted with a reason.
std::vector<Message> open_warnings(const Cutter& cutter);
// Whether it is a draft, has an open warning, or a guess that nobody has confirmed.
bool to_look_at(const Cutter& cutter);

// The silhouette; empty while sizes it needs are missing or impossible.
Profile silhouette(const Cutter& cutter);

// Whether it can go straight down into solid: as stated; else end mills and drills do, cutters with inserts and those
// that cut at the face or behind an edge do not (common practice, no source).
bool cuts_to_centre(const Cutter& cutter);
// How far its edges reach inwards at the face: the step that a cutter not cutting to the centre may plunge. A fifth of
// the diameter (common practice, no source).
double plunge_reach_mm(const Cutter& cutter);
// As stated; else compression and down-cut edges are ground for wood and plastics.
std::optional<MadeFor> made_for(const Cutter& cutter);

// "Ø12 × 26"
std::string size_text(const Cutter& cutter, UnitSystem units);

// Half angle between flank and axis of a conical cutter, from any of the three ways to state it; degrees.
std::optional<double> half_angle_deg(const Cutter& cutter);
// Effective teeth at the circumference (ZEFP); 0 for what does not cut.
int effective_teeth(const Cutter& cutter);
// Cutting edge angle κr of drills (half the point angle) and of milling cutters (90 where not stated); degrees.
std::optional<double> edge_angle_deg(const Cutter& cutter);

}  // namespace pecorra
