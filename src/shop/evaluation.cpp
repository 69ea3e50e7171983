#include "shop/evaluation.h"

#include <cmath>

namespace pecorra {
namespace {

std::optional<double> known(double value) { return std::isnan(value) ? std::nullopt : std::optional(value); }
double or_none(const std::optional<double>& value) { return value.value_or(not_given); }

}  // namespace

Query query_for(const ShopState& state, const Context& context) {
  Query query;
  query.operation = context.operation;
  query.pace = context.pace;
  const ShopSettings settings = state.shop_settings();
  query.rounding = {settings.n_step_rpm, settings.vf_step_mm_min};
  return query;
}

Evaluation evaluate(const ShopState& state, const Resolver& resolver, const Cutter& cutter,
                    const WorkMaterial& material, const Machine& machine, const Query& query,
                    std::optional<double> stickout_mm) {
  Evaluation out;
  out.resolution = resolver.resolve(resolver.key_of(cutter), resolver.key_of(material), resolver.key_of(machine), query, out.trail);
  if (!out.resolution.found()) return out;
  const Conditions& c = out.resolution.conditions;
  Cut cut;
  cut.operation = query.operation;
  cut.n_rpm = c.n_rpm;
  cut.vf_mm_min = c.vf_mm_min;
  cut.ap_mm = known(c.ap_mm);
  cut.ae_mm = known(c.ae_mm);
  cut.wear_factor = state.shop_settings().wear_factor;
  out.asked = cut;
  if (*cut.wear_factor != 1) out.trail.insert(out.trail.end() - 1, TrailStep{"wear", {{"factor", *cut.wear_factor}}, {}});
  out.cut = compute_cut(cutter, stickout_mm, material, machine, cut);
  if (!out.cut.headroom.empty()) out.suggestion = suggest(out.cut.headroom.front(), cutter, material, machine, cut);
  return out;
}

Query query_for(const ShopState& state, const Job& job, const Operation& o) {
  Query query;
  query.operation = o.operation;
  query.pace = job.pace.value_or(100);
  query.own_n_rpm = or_none(o.own_n_rpm);
  query.own_vf_mm_min = or_none(o.own_vf_mm_min);
  query.ap_mm = or_none(o.own_ap_mm);
  query.ae_mm = or_none(o.own_ae_mm);
  const ShopSettings settings = state.shop_settings();
  query.rounding = {settings.n_step_rpm, settings.vf_step_mm_min};
  return query;
}

TakenConditions taken_from(const ShopState& state, const Resolution& r) {
  TakenConditions taken;
  taken.source = r.source;
  if (!r.found()) return taken;
  const Conditions& c = r.conditions;
  taken.n_rpm = known(c.n_rpm);
  taken.vf_mm_min = known(c.vf_mm_min);
  taken.plunge_mm_min = known(c.plunge_mm_min);
  taken.ramp_mm_min = known(c.ramp_mm_min);
  taken.ap_mm = known(c.ap_mm);
  taken.ae_mm = known(c.ae_mm);
  taken.vc_m_min = known(c.vc_m_min);
  taken.fz_mm = known(c.fz_mm);
  taken.coolant = c.coolant;
  taken.guess = r.guess;
  taken.proven = r.proven;
  if (r.table >= 0) {
    const ConditionTable& table = state.tables[static_cast<std::size_t>(r.table)];
    taken.table = table.id;
    taken.row = table.rows[static_cast<std::size_t>(r.row)].id;
    taken.source_text = table.name;
  } else {
    taken.source_text = std::string(label_of(r.source));
  }
  return taken;
}

bool same_values(const TakenConditions& a, const TakenConditions& b) {
  auto near = [](const std::optional<double>& x, const std::optional<double>& y) {
    return x.has_value() == y.has_value() && (!x || std::abs(*x - *y) < 1e-6 * std::max(1.0, std::abs(*x)));
  };
  return near(a.n_rpm, b.n_rpm) && near(a.vf_mm_min, b.vf_mm_min) && near(a.plunge_mm_min, b.plunge_mm_min) &&
         near(a.ramp_mm_min, b.ramp_mm_min) && near(a.ap_mm, b.ap_mm) && near(a.ae_mm, b.ae_mm) && a.coolant == b.coolant;
}

Job retaken(const ShopState& state, const Resolver& resolver, Job job) {
  const WorkMaterial* material = state.materials.find(job.material);
  const Machine* machine = state.machines.find(job.machine);
  for (Operation& o : job.operations) {
    if (!material || !machine || o.cutter.id.is_null()) continue;
    const Resolution r = resolver.resolve(resolver.key_of(o.cutter), resolver.key_of(*material), resolver.key_of(*machine), query_for(state, job, o));
    o.taken = taken_from(state, r);
  }
  return job;
}

}  // namespace pecorra
