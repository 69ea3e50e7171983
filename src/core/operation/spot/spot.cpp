// Spots that guide the drill, and chamfer its hole where they are wide enough.
#include "core/cutter/kinds.h"
#include "core/operation/cone_holes.h"

namespace pecorra {
namespace {

constexpr std::string_view parameters[] = {"name",        "depth_mm", "top_mm", "diameter_mm",
                                           "dwell_s",     "pace",     "source", "own_coolant",
                                           "tool_number", "comment",  "stop",   "stickout_mm"};
constexpr Role roles[] = {Role::hole};

std::optional<WantedCutter> wanted(const Operation& o, const OperationInput& input, const std::vector<Room>&) {
  double widest = 0;
  for (const BoundHole& hole : input.holes) widest = std::max(widest, cone_mm(o, hole).value_or(edge_mm(hole)));
  if (!(widest > 0)) return std::nullopt;
  return WantedCutter{CutterKind::spot_drill, widest, {}, 0};
}

// A flat tip leaves nothing that guides a drill.
void misfits(const Operation& o, const OperationInput& input, const Cutter& cutter, std::vector<Message>& messages) {
  if (cutter.tip_diameter_mm.value_or(0) > 0 || !cuts_to_centre(cutter))
    messages.push_back({Severity::error,
                        "spot_not_to_centre",
                        "cutter",
                        {{"name", cutter.name}, {"tip_mm", cutter.tip_diameter_mm.value_or(0)}}});
  else misfits_cones(o, input, cutter, messages);
}

void check(const Operation& o, const OperationInput& input, std::vector<Message>& messages) {
  misfits(o, input, o.cutter, messages);
  if (!has_error(messages)) check_cones(o, input, messages);
}

}  // namespace

namespace kinds {
const OperationDeclaration spot{.kind = PathKind::spot,
                                .about = "guides drills and chamfers their holes",
                                .manners = set_of(OperationKind::spot),
                                .usual = OperationKind::spot,
                                .parameters = parameters,
                                .roles = roles,
                                .milling = false,
                                .stage = 2,
                                .leaves = [](const Operation&) { return marked; },
                                .meets_skin = [](const Operation&) { return true; },
                                .margin_mm = half_the_cutter,
                                .propose = [](const Offer& offer, Operation&) { return holes_offered(offer); },
                                .depth = cone_depth,
                                .cleared_mm = cone_cleared_mm,
                                .wanted = wanted,
                                .misfits = misfits,
                                .check = check,
                                .trace = trace_cones};
}  // namespace kinds

}  // namespace pecorra
