// Cones at the top of holes, by their diameter there.
#include "core/operation/cone_holes.h"

namespace pecorra {
namespace {

constexpr std::string_view parameters[] = {"name",   "diameter_mm", "depth_mm",    "top_mm",  "dwell_s", "pace",
                                           "source", "own_coolant", "tool_number", "comment", "stop",    "stickout_mm"};
constexpr Role roles[] = {Role::hole};

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  check_cones(o, input, messages);
  for (const BoundHole& hole : input.holes)
    if (const auto wide = cone_mm(o, hole); wide && hole.diameter_mm > 0 && *wide <= hole.diameter_mm) {
      messages.push_back(
          {Severity::error, "sink_under_hole", "diameter_mm", {{"sink_mm", *wide}, {"hole_mm", hole.diameter_mm}}});
      return;
    }
}

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  double widest = 0;
  for (const BoundHole& hole : input.holes) widest = std::max(widest, cone_mm(o, hole).value_or(0));
  if (!(widest > 0)) return std::nullopt;
  return WantedCutter{CutterKind::countersink, widest, {}, 0};
}

}  // namespace

namespace kinds {
const OperationDeclaration countersink{.kind = PathKind::countersink,
                                       .about = "cones at the top of holes",
                                       .manners = set_of(OperationKind::countersink),
                                       .usual = OperationKind::countersink,
                                       .parameters = parameters,
                                       .roles = roles,
                                       .milling = false,
                                       .stage = 6,
                                       .needs = needs_hole,
                                       .margin_mm = half_the_cutter,
                                       .propose =
                                           [](const Offer& offer, Operation& o) {
                                             const Feature* f = nullptr;
                                             std::vector<std::string> holes = holes_offered(offer, &f);
                                             // As for a countersunk screw in its clearance hole: twice as wide (near
                                             // ISO 15065, from memory).
                                             if (f && !f->chamfer_mm && f->diameter_mm)
                                               o.diameter_mm = 2 * *f->diameter_mm;
                                             return holes;
                                           },
                                       .depth = cone_depth,
                                       .cleared_mm = cone_cleared_mm,
                                       .wanted = wanted,
                                       .misfits = misfits_cones,
                                       .check = check,
                                       .trace = trace_cones};
}  // namespace kinds

}  // namespace pecorra
