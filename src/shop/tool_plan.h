// Which T the cutters of a job have: the pocket where each stands in the machine; where no magazine is kept, a number
// of the job's own. A number is never changed without a word.
#pragma once

#include <map>
#include <vector>

#include "core/base/message.h"
#include "core/program/program.h"
#include "shop/state.h"

namespace pecorra {

struct ToolPlace {
  int t = 0;                           // 0: no cutter is picked
  const Assembly* assembly = nullptr;  // in the state; what turns
  bool standing = false;               // already in that pocket
};

struct ToolPlan {
  std::vector<ToolPlace> of;  // each operation
  bool has_magazine = false;  // the machine's is kept
  std::map<Id, std::vector<Message>>
      messages;  // by operation: two cutters with one number, a pocket beyond the
                 // magazine, a holder of another spindle, what the machine cannot measure
  std::vector<int> numbers() const;
  // What has to be put in, by place in the job, once for each cutter; empty without a magazine.
  std::vector<std::size_t> to_load() const;
};
ToolPlan tool_plan(const ShopState& state, const Job& job);
// Of an operation, for its program.
ProgramTool program_tool(const ShopState& state, const Job& job, const Operation& operation, const ToolPlace& place);

// Of a machine's pockets, the one that holds an assembly of this cutter; null where none does.
const Pocket* pocket_of(const ShopState& state, const Id& machine, const Id& cutter);
// Two pockets of one number, beyond the magazine, an assembly in two of them, a holder of another spindle.
std::vector<Message> check_pocket(const ShopState& state, const Pocket& pocket);

}  // namespace pecorra
