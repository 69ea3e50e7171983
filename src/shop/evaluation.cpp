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

std::vector<std::size_t> materials_in_order(const ShopState& state, bool only_cut_here) {
  std::vector<std::size_t> places;
  for (const bool cut_here : {true, false}) {
    if (!cut_here && only_cut_here && !places.empty()) break;
    for (std::size_t i = 0; i < state.materials.size(); ++i)
      if (state.materials[i].cut_here == cut_here) places.push_back(i);
  }
  return places;
}

CutterKey key_as_used(const ShopState& state, const Resolver& resolver, const Cutter& cutter) {
  const Assembly* held = state.assembly_of(cutter.id);
  if (!held) return resolver.key_of(cutter);
  const double stickout = or_none(stickout_of(*held));
  return held->set_diameter_mm ? resolver.key_of(as_set(cutter, *held), stickout) : resolver.key_of(cutter, stickout);
}

Evaluation evaluate(const ShopState& state, const Resolver& resolver, const Cutter& at_rest,
                    const WorkMaterial& material, const Machine& machine, const Query& query, const Assembly* held) {
  Evaluation out;
  const Cutter cutter = held ? as_set(at_rest, *held) : at_rest;
  const std::optional<double> stickout_mm = held ? stickout_of(*held) : std::nullopt;
  out.resolution = resolver.resolve(resolver.key_of(cutter, or_none(stickout_mm)), resolver.key_of(material), resolver.key_of(machine), query, out.trail);
  if (held && held->set_diameter_mm && at_rest.diameter_mm && *held->set_diameter_mm != *at_rest.diameter_mm)
    out.trail.insert(out.trail.begin(), TrailStep{"set_diameter", {{"diameter_mm", *held->set_diameter_mm}, {"nominal_mm", *at_rest.diameter_mm}}, {}});
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
  const Holder* holder = held ? state.holders.find(held->holder) : nullptr;
  if (holder && holder->machine_side && machine.interface && *holder->machine_side != *machine.interface)
    out.cut.messages.push_back({Severity::warning, "holder_not_for_machine", "", {{"holder", holder->name}, {"side", std::string(label_of(*holder->machine_side))}, {"machine", machine.name}, {"takes", std::string(label_of(*machine.interface))}}});
  if (out.resolution.recipe >= 0)
    for (Message& m : check_recipe(state.recipes[static_cast<std::size_t>(out.resolution.recipe)], at_rest)) out.cut.messages.push_back(std::move(m));
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
  query.own_coolant = o.own_coolant;
  query.conventional = o.path == PathKind::profile && !o.climb;
  const ShopSettings settings = state.shop_settings();
  query.rounding = {settings.n_step_rpm, settings.vf_step_mm_min};
  return query;
}

TakenConditions taken_from(const ShopState& state, const Resolution& r, Trail trail) {
  TakenConditions taken;
  taken.source = r.source;
  taken.trail = std::move(trail);
  if (!r.found()) return taken;
  const Conditions& c = r.conditions;
  taken.n_rpm = known(c.n_rpm);
  taken.vf_mm_min = known(c.vf_mm_min);
  taken.plunge_mm_min = known(c.plunge_mm_min);
  taken.ramp_mm_min = known(c.ramp_mm_min);
  taken.ramp_n_rpm = known(c.ramp_n_rpm);
  taken.lead_mm_min = known(c.lead_mm_min);
  if (c.dial_position > 0) taken.dial_position = c.dial_position;
  taken.ap_mm = known(c.ap_mm);
  taken.ae_mm = known(c.ae_mm);
  taken.vc_m_min = known(c.vc_m_min);
  taken.fz_mm = known(c.fz_mm);
  taken.coolant = c.coolant;
  taken.guess = r.guess;
  taken.proven = r.proven;
  if (r.recipe >= 0) {
    const Recipe& recipe = state.recipes[static_cast<std::size_t>(r.recipe)];
    taken.row = recipe.id;
    taken.source_text = "recipe " + recipe.name;
  } else if (r.table >= 0) {
    const ConditionTable& table = state.tables[static_cast<std::size_t>(r.table)];
    taken.table = table.id;
    taken.row = table.rows[static_cast<std::size_t>(r.row)].id;
    taken.source_text = table.name;
  } else {
    taken.source_text = r.source == SourceKind::starter_table ? "starter rules" : std::string(label_of(r.source));
  }
  return taken;
}

void retake(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o) {
  const WorkMaterial* material = state.materials.find(job.material);
  const Machine* machine = state.machines.find(job.machine);
  if (!material || !machine || o.cutter.id.is_null()) {
    o.taken = {};
    return;
  }
  Trail trail;
  const Resolution r = resolver.resolve(resolver.key_of(o.cutter, or_none(o.stickout_mm)), resolver.key_of(*material), resolver.key_of(*machine), query_for(state, job, o), trail);
  o.taken = taken_from(state, r, std::move(trail));
}

Job retaken(const ShopState& state, const Resolver& resolver, Job job) {
  for (Operation& o : job.operations) retake(state, resolver, job, o);
  return job;
}

Cut cut_of(const ShopState& state, const Operation& o) {
  Cut cut;
  cut.operation = o.operation;
  cut.n_rpm = o.taken.n_rpm;
  cut.vf_mm_min = o.taken.vf_mm_min;
  cut.ap_mm = o.taken.ap_mm;
  cut.ae_mm = o.taken.ae_mm;
  cut.wear_factor = state.shop_settings().wear_factor;
  return cut;
}

CutReport report_of(const ShopState& state, const Job& job, const Operation& o) {
  const WorkMaterial* material = state.materials.find(job.material);
  const Machine* machine = state.machines.find(job.machine);
  if (!material || !machine || !o.taken.n_rpm || !o.taken.vf_mm_min) return {};
  return compute_cut(o.cutter, o.stickout_mm, *material, *machine, cut_of(state, o));
}

bool source_moved(const Operation& job_copy, const Operation& now) {
  const std::string news = fingerprint(now.taken);
  return news != fingerprint(job_copy.taken) && news != job_copy.taken.kept;
}

}  // namespace pecorra
