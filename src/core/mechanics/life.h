// Tool life after Taylor (formula 20; Taylor 1907) and the speeds that cost least and are fastest (formula 21; Gilbert
// 1950).
#pragma once

#include <optional>

#include "core/tables/condition_table.h"

namespace pecorra {

// vc·T^m·f^a·ap^b = const, pinned where the life is known.
struct Taylor {
  double vc_m_min = 0, feed_mm = 0, ap_mm = 0, life_min = 0;  // known here; ap 0: the depth does not count
  double m = 0.25, feed_exponent = 0, depth_exponent = 0;
  bool usual_m = false;  // m is what is usual for the tool material, not of the row

  double life(double vc, double feed, double ap) const;
  double speed_for(double life, double feed, double ap) const;
};
// m if it was not measured: high-speed steel 0.125, carbide and cermet 0.25, ceramic and harder 0.5; textbook values,
// from memory.
double usual_taylor_m(std::optional<ToolMaterial> material);
// Nothing where the row states no life.
std::optional<Taylor> taylor_of(const ConditionRow& row, const Cutter& cutter);

// What an edge costs: the cutter's price, or that of the inserts in it over their edges. `change_min` is the time the
// machine stands for it, `machine_rate_h` its cost an hour.
struct EdgeEconomy {
  double change_min = 0, edge_cost = 0, machine_rate_h = 0;
};
// The life at the least cost per part and at the most parts per hour, minutes: (1/m − 1)·(t + cost/rate) and (1/m −
// 1)·t.
double least_cost_life_min(double m, const EdgeEconomy& e);
double fastest_life_min(double m, double change_min);

}  // namespace pecorra
