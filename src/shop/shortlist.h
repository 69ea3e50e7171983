// Which cutters can do one operation, by what it takes and costs, and why the others cannot.
#pragma once

#include <vector>

#include "core/job/job.h"
#include "shop/evaluation.h"

namespace pecorra {

struct ShortlistEntry {
  const Cutter* cutter = nullptr;
  const Assembly* assembly = nullptr;  // the one it usually stands in; none: bare
  Operation operation;                 // with this cutter and its conditions
  double minutes = 0;                  // of the path, without the cutter's change
  std::optional<double> edges;         // edges, or whole cutters, that are used up: time at a feed over tool life
  std::optional<double> cost;          // machine and edges; nothing without the machine's hourly rate
  bool edges_in_cost = false;          // the price of an edge and its life are known
  std::vector<Message> messages;       // warnings of the planned path
};
struct ShortlistRefusal {
  const Cutter* cutter = nullptr;
  Message reason;
};
struct Shortlist {
  std::vector<ShortlistEntry> ranked;      // the best first
  std::vector<ShortlistRefusal> excluded;  // every other cutter of the shop, as the shop lists them
};

enum class RankBy { cost, time };
// Of a job with one operation, whose own cutter does not count. Every cutter that fits gets its path planned. By cost,
// those whose cost is not known come last, by time. `go_on` is asked before each of them; false stops with what is
// ranked so far.
Shortlist shortlist(const ShopState& state, const Resolver& resolver, const Job& job, RankBy by,
                    std::optional<ToolMaterial> tool_material = {}, const std::function<bool(double done)>& go_on = {});

}  // namespace pecorra
