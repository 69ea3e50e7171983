// One declaration for each kind of operation: what is asked for, what it works on, which cutters fit, what is wrong
// with it, and its path. A new kind is its own folder, an enumerator and a line in declaration.cpp; no other file asks
// which kind it is.
#pragma once

#include <algorithm>
#include <functional>
#include <span>
#include <string_view>
#include <vector>

#include "core/base/message.h"
#include "core/motion/tracer.h"
#include "core/operation/operation.h"

namespace pecorra {

// A line that an operation works on, as found by its key.
struct BoundLine {
  std::string key;
  Contour contour;
  std::optional<double> depth_mm{};  // of its feature
  bool through = false;
  bool operator==(const BoundLine&) const = default;
};
struct BoundHole {
  std::string key;
  Point2 at;
  double diameter_mm = 0;
  std::optional<double> depth_mm{};
  bool through = false;
  std::string thread{}, tolerance{};
  std::optional<double> chamfer_mm{};
  bool operator==(const BoundHole&) const = default;
};
// What an earlier operation of the setup made there.
struct DrilledHole {
  Point2 at;
  double diameter_mm = 0;
  double bottom_z = 0;  // of its full diameter
  bool operator==(const DrilledHole&) const = default;
};
struct BoundPocket {
  std::string key;
  Contour outline;
  std::vector<BoundLine> islands;
  std::optional<double> depth_mm;
  bool through = false;
  bool operator==(const BoundPocket&) const = default;
};
// What no move enters below its top.
struct KeepOut {
  std::string key;
  Contour outline;
  double top_z = 0;
  bool operator==(const KeepOut&) const = default;
};

// The holder from its nose upwards: as wide as `radius_mm` from so far above the tip.
struct HolderStep {
  double above_tip_mm = 0, radius_mm = 0;
  bool operator==(const HolderStep&) const = default;
};

// Everything a path depends on besides the operation itself and the stock that stands.
struct OperationInput {
  std::vector<BoundLine> lines;
  std::vector<BoundHole> holes;
  std::vector<BoundPocket> pockets;
  std::optional<double> feature_depth_mm;  // the deepest of the others among the features
  Box stock;
  double stock_top = 0, stock_bottom = 0;
  double safe_z = 10;
  PathRules rules;
  std::vector<DrilledHole> drilled;  // where this one works
  std::vector<KeepOut> keep_outs;
  std::vector<HolderStep> holder;     // what of it could meet the stock; empty: not known
  bool slot_conditions = false;       // full width takes values of its own
  FeedLimits limits;                  // of the machine, in this material
  bool on_table = false;              // nothing may be cut below the stock
  std::optional<double> straight_mm;  // how deep this drill goes in this material without clearing its chips
  bool first_pecks = false;           // the control takes a first peck of its own

  bool operator==(const OperationInput&) const = default;
};

struct PathContext {
  const Operation& operation;
  const OperationInput& input;
  Tracer& tracer;
  double top = 0, depth = 0;  // both known and possible
  double radius = 0;
  double depth_step_mm = 0;  // of one pass
  std::vector<Message>& messages;
};

// What an operation finds at its place, and what it leaves there, as bits. Whoever needs something that a later
// operation of the same place leaves, and no earlier one, comes too early.
using WorkStates = unsigned;
inline constexpr WorkStates faced = 1, marked = 2, hole_made = 4, roughed = 8;

enum class Role { closed_line, any_line, hole, pocket, whole_stock };

// Portions of a path at the cutter's full width.
enum class FullWidth {
  usual,    // nothing special: it is a slot, or it has no width
  slotted,  // followed values are the slot's there; own ones hold, which is told
};

// What a job offers to a new operation.
struct OfferedLine {
  std::string key;
  bool closed = false;
  double diameter_mm = 0;  // of a circle
};
struct Offer {
  std::vector<OfferedLine> lines;
  std::string outermost;                 // key of the closed line around the most; empty: none is closed
  std::vector<const Feature*> features;  // typed ones that no operation works on yet
  double stock_height_mm = 0;            // 0: not known
};

struct Opening {
  std::string key;
  const Contour* outline = nullptr;
  const std::vector<BoundLine>* islands = nullptr;
};
using Outlines = std::vector<Opening>;

// How large a cutter goes into an outline.
struct Room {
  std::string key;
  double largest_mm = 0;
};

// What a cutter has to be for an operation, as far as that is known.
struct WantedCutter {
  CutterKind kind = CutterKind::end_mill;
  double diameter_mm = 0;
  std::string thread{};  // of a tap
  double reach_mm = 0;
};

std::optional<double> stated_depth(const Operation& operation, const OperationInput& input);
// How far mills go past the underside of what goes through; never into a table.
double past_underside_mm(const Operation& operation, const OperationInput& input);
// Of one of its features, a line or a pocket: what is typed for the operation holds for all of them. Past the underside
// where it goes through.
template <class Shape>
double depth_of_feature(const Operation& o, const OperationInput& input, const Shape& shape, double deepest_mm) {
  if (o.depth_mm) return *o.depth_mm;
  return shape.depth_mm.value_or(deepest_mm) + (shape.depth_mm && shape.through ? past_underside_mm(o, input) : 0);
}

OperationKind declaration_usual(const Operation& operation);
struct OperationDeclaration {
  PathKind kind;
  std::string_view about;  // what it does, where a kind is chosen
  OperationSet manners;    // types of it that the tables know
  OperationKind usual;
  std::span<const std::string_view> parameters;  // keys of properties<Operation>(), in the order they are asked
  std::span<const Role> roles;                   // what it works on
  bool milling = true;
  int stage = 1;          // when at one place, among what else is done there; 5 is for finishing
  bool circular = false;  // its path is of circles: the feed holds at the edge, the centre's follows from each circle
  bool walls = false;     // each line is a wall of its own: those of a pocket's islands count, corners tighten the cut
  FullWidth full_width = FullWidth::usual;
  // What the tables are asked for where nobody says it.
  OperationKind (*manner)(const Operation&) = [](const Operation& o) { return declaration_usual(o); };
  WorkStates (*needs)(const Operation&) = [](const Operation&) { return faced; };
  WorkStates (*leaves)(const Operation&) = [](const Operation&) { return WorkStates{0}; };
  // Whether it cuts the outside of stock that has a skin.
  bool (*meets_skin)(const Operation&) = [](const Operation&) { return false; };
  // How far beyond its geometry the path may lead.
  double (*margin_mm)(const Operation&, const OperationInput&);
  // Of a new one: depth, manner and the keys of what it works on.
  std::vector<std::string> (*propose)(const Offer&, Operation&);
  // Outlines that the cutter has to go into. They belong to the input.
  Outlines (*must_go_in)(const Operation&, const OperationInput&) = [](const Operation&, const OperationInput&) {
    return Outlines();
  };
  // How deep it goes below its top; nothing where that is not known. Of most kinds typed, else the feature's.
  std::optional<double> (*depth)(const Operation&, const OperationInput&) = stated_depth;
  // How far the tip goes beyond that.
  double (*beyond_depth_mm)(const Operation&, const OperationInput&) = [](const Operation&, const OperationInput&) {
    return 0.0;
  };
  // Of a hole it makes: how deep the full diameter goes. Nothing of kinds that make none.
  std::optional<double> (*hole_bottom)(const Operation&, const BoundHole&, double top, double depth) =
      [](const Operation&, const BoundHole&, double, double) { return std::optional<double>(); };
  // Of a hole it makes: its diameter.
  double (*hole_mm)(const Operation&, const BoundHole&) = [](const Operation& o, const BoundHole&) {
    return o.cutter.diameter_mm.value_or(0);
  };
  // Diameter of what is certainly gone from the stock in all its depth.
  double (*cleared_mm)(const Operation&) = [](const Operation& o) { return o.cutter.diameter_mm.value_or(0); };
  // The kind of cutter, with the size that counts, that would be right; for a generic one. Nothing: not known.
  std::optional<WantedCutter> (*wanted)(const Operation&, const OperationInput&, const std::vector<Room>&) =
      [](const Operation&, const OperationInput&, const std::vector<Room>&) { return std::optional<WantedCutter>(); };
  // Other reasons why a cutter that does this manner of work does not fit the size, each with what would.
  void (*misfits)(const Operation&, const OperationInput&, const Cutter&, std::vector<Message>&) =
      [](const Operation&, const OperationInput&, const Cutter&, std::vector<Message>&) {};
  // Errors and warnings of its own, beside those that all share.
  void (*check)(const Operation&, const OperationInput&, std::vector<Message>&);
  // Adds to the tracer; a message of severity error leaves the operation without a path.
  void (*trace)(PathContext&);

  bool takes(Role role) const { return std::find(roles.begin(), roles.end(), role) != roles.end(); }
};
const OperationDeclaration& declaration(PathKind kind);
bool has_parameter(PathKind kind, std::string_view key);

// Whether it only finishes what another operation roughed.
bool only_finishes(const Operation& operation);
// Of mills: finishing needs roughing.
inline WorkStates needed_by_mill(const Operation& o) { return faced | (only_finishes(o) ? roughed : 0); }
inline WorkStates left_by_mill(const Operation& o) { return only_finishes(o) ? 0 : roughed; }
inline WorkStates needs_hole(const Operation&) { return faced | hole_made; }

// Of values that were taken.
FeedSet feed_set(const TakenConditions& taken);

// The smallest radius of the inner corners of outlines that a cutter goes into; 0: they have none that is rounded.
double inner_corner_mm(const Operation& operation, const OperationInput& input);
// The end mill that suits outlines it goes into: with room to move, and no larger than their corners.
std::optional<WantedCutter> wanted_inside(const Operation& operation, const OperationInput& input,
                                          const std::vector<Room>& rooms);

// Once for all cutters that are asked about.
std::vector<Room> rooms_of(const Operation& operation, const OperationInput& input);
// Why the size of this cutter is not one for the operation; empty: it fits.
std::vector<Message> misfits_of(const Operation& operation, const OperationInput& input, const std::vector<Room>& rooms,
                                const Cutter& cutter);

// The first closed line within the outermost that is no circle, for proposals; none where there is none.
std::vector<std::string> first_opening(const Offer& offer);

// How deep it goes below its top: typed, else the feature's.
std::optional<double> depth_of(const Operation& operation, const OperationInput& input);
double top_of(const Operation& operation, const OperationInput& input);
// Of a milling pass: the depth of cut it took, or the slot's where that is less and most of the path is a slot.
int levels_of(double depth_mm, double step_mm);

// Errors keep an operation out of the program; each names the property.
std::vector<Message> check_operation(const Operation& operation, const OperationInput& input);

struct PlannedPath {
  Toolpath path;  // empty where there is an error
  std::vector<Message> messages;
  double ap_mm = 0;                             // of its passes, all alike; 0: it has none
  double tightest_rad = 0;                      // greatest engagement on its cuts
  double full_width_mm = 0, full_depth_mm = 0;  // of what it cuts as wide as the cutter is: how long, and the deepest
  PathDistances distances;                      // it took from the rules
};
// Traces the path and takes its cuts away from the stock. `stop` is asked now and then; where it says so the path is
// empty.
PlannedPath plan_operation(const Operation& operation, const OperationInput& input, StockField& stock,
                           const std::function<bool()>& stop = {});
// Where the path may lead, without planning it: no cut is outside.
Box reach_of(const Operation& operation, const OperationInput& input);

namespace kinds {
extern const OperationDeclaration face, profile, slot, pocket, helical_bore, spot, centre, drill, ream, bore, back_bore,
    countersink, counterbore, tap;
}

}  // namespace pecorra
