#include "core/mechanics/life.h"

#include <cmath>

namespace pecorra {

double Taylor::life(double vc, double feed, double ap) const {
  double factor = vc_m_min / vc;
  if (feed_exponent != 0 && feed_mm > 0 && feed > 0) factor *= std::pow(feed_mm / feed, feed_exponent);
  if (depth_exponent != 0 && ap_mm > 0 && ap > 0) factor *= std::pow(ap_mm / ap, depth_exponent);
  return life_min * std::pow(factor, 1 / m);
}

double Taylor::speed_for(double wanted, double feed, double ap) const {
  return vc_m_min * std::pow(life(vc_m_min, feed, ap) / wanted, m);
}

double usual_taylor_m(std::optional<ToolMaterial> material) {
  switch (material.value_or(ToolMaterial::hss)) {
    case ToolMaterial::hss:
    case ToolMaterial::hss_co:
    case ToolMaterial::hss_pm: return 0.125;
    case ToolMaterial::carbide:
    case ToolMaterial::carbide_insert:
    case ToolMaterial::cermet: return 0.25;
    case ToolMaterial::ceramic:
    case ToolMaterial::cbn:
    case ToolMaterial::pcd: return 0.5;
  }
  return 0.25;
}

std::optional<Taylor> taylor_of(const ConditionRow& row, const Cutter& c) {
  if (!row.life_min || !row.vc_m_min) return std::nullopt;
  Taylor t;
  t.life_min = *row.life_min;
  t.vc_m_min = *row.vc_m_min;
  t.feed_mm = row.feed_mm.value_or(0);
  t.ap_mm = row.ap_mm ? *row.ap_mm : row.ap_per_d.value_or(0) * c.diameter_mm.value_or(0);
  t.m = row.taylor_m.value_or(usual_taylor_m(c.tool_material));
  t.usual_m = !row.taylor_m;
  t.feed_exponent = row.taylor_feed.value_or(0);
  t.depth_exponent = row.taylor_depth.value_or(0);
  return t;
}

double fastest_life_min(double m, double change_min) { return (1 / m - 1) * change_min; }
double least_cost_life_min(double m, const EdgeEconomy& e) {
  return (1 / m - 1) * (e.change_min + (e.machine_rate_h > 0 ? e.edge_cost / (e.machine_rate_h / 60) : 0));
}

}  // namespace pecorra
