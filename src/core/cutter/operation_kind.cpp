#include "core/cutter/operation_kind.h"

namespace pecorra {
namespace {

constexpr Choice operation_choices[] = {{"face", "facing"},
                                        {"slot", "slotting"},
                                        {"side_rough", "side roughing"},
                                        {"side_finish", "side finishing"},
                                        {"pocket_rough", "pocket roughing"},
                                        {"constant_engagement", "constant-engagement roughing"},
                                        {"floor_finish", "floor finishing"},
                                        {"surface_finish", "surface finishing"},
                                        {"plunge", "plunging"},
                                        {"ramp", "ramping"},
                                        {"helix", "helical boring"},
                                        {"drill", "drilling"},
                                        {"peck", "peck drilling"},
                                        {"spot", "spot drilling"},
                                        {"centre", "centre drilling"},
                                        {"ream", "reaming"},
                                        {"bore", "boring"},
                                        {"back_bore", "back boring"},
                                        {"countersink", "countersinking"},
                                        {"counterbore", "counterboring"},
                                        {"tap", "tapping"},
                                        {"thread_mill", "thread milling"},
                                        {"chamfer", "chamfering"},
                                        {"engrave", "engraving"},
                                        {"t_slot", "T-slots"},
                                        {"dovetail", "dovetails"},
                                        {"undercut", "undercutting"}};

}  // namespace

template <>
std::span<const Choice> choices_of<OperationKind>() {
  return operation_choices;
}

}  // namespace pecorra
