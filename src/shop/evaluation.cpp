#include "shop/evaluation.h"

#include <QObject>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <tuple>

#include "core/base/parallel.h"
#include "core/operation/holes.h"
#include "shop/proven_step_edit.h"
#include "shop/words.h"

namespace pecorra {
namespace {

std::optional<double> known(double value) { return std::isnan(value) ? std::nullopt : std::optional(value); }
double or_none(const std::optional<double>& value) { return value.value_or(not_given); }

using enum Quantity;
constexpr std::array what_if_list{
    field<&WhatIf::ap_mm>("ap_mm", "ap", "Depth of cut", length, "Along the axis").above(0),
    field<&WhatIf::ae_mm>("ae_mm", "ae", "Width of cut", length, "Beside a straight wall").above(0),
    field<&WhatIf::vc_m_min>("vc_m_min", "vc", "Cutting speed", cutting_speed, "At the effective diameter").above(0),
    field<&WhatIf::fz_mm>("fz_mm", "fz", "Feed per tooth", feed_per_tooth, "Feed per tooth").above(0),
    field<&WhatIf::stickout_mm>("stickout_mm", "LPR", "Stick-out", length, "From the tip to the face of the holder")
        .above(0)};

}  // namespace

template <>
std::span<const Property<WhatIf>> properties<WhatIf>() {
  return what_if_list;
}

Context context_for(const Context& context, CutterKind kind) {
  Context out = context;
  if (context.usual_work) out.operation = declaration(kind).usual_operation;
  out.usual_work = false;
  return out;
}

OperationKind operation_for(const Context& context, CutterKind kind) {
  const OperationKind asked = context_for(context, kind).operation;
  return can_do(kind, asked) ? asked : declaration(kind).usual_operation;
}

QString operation_text(const Context& context) {
  return context.usual_work ? QObject::tr("each at its usual work") : label_text(label_of(context.operation));
}

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

CutterKey key_in(const ShopState& state, const Resolver& resolver, const Cutter& cutter, double stickout_mm,
                 const Assembly* held) {
  CutterKey key = resolver.key_of(cutter, stickout_mm);
  if (const Holder* holder = held ? state.holders.find(held->holder) : nullptr) {
    key.holder = holder->name;
    if (!holder->leads_coolant) key.led &= from_outside;
  }
  return key;
}

CutterKey key_as_used(const ShopState& state, const Resolver& resolver, const Cutter& cutter) {
  const Assembly* held = state.assembly_of(cutter.id);
  if (!held) return resolver.key_of(cutter);
  const double stickout = or_none(stickout_of(*held));
  return key_in(state, resolver, held->set_diameter_mm ? as_set(cutter, *held) : cutter, stickout, held);
}

HeldCutter as_held(const Cutter& at_rest, const Assembly* held, const std::optional<double>& stickout_mm) {
  HeldCutter out{held ? as_set(at_rest, *held) : at_rest, held ? *held : Assembly{}};
  if (stickout_mm) {
    out.assembly.stickout_mm = stickout_mm;
    out.assembly.measured_stickout_mm.reset();
    // A stiffness measured at a different stick-out does not apply.
    out.assembly.tip_stiffness_n_um.reset();
    out.assembly.measured_frequency_hz.reset();
  }
  return out;
}

double permitted_deflection_mm(const ShopSettings& settings, OperationKind operation, const Cutter& cutter) {
  const bool finish = operation == OperationKind::side_finish || operation == OperationKind::floor_finish ||
                      operation == OperationKind::surface_finish || operation == OperationKind::bore;
  return finish ? settings.permitted_finish_mm
                : std::max(0.02, settings.permitted_rough_per_d * std::min(5.0, cutter.diameter_mm.value_or(0)));
}

void put_tried(const WhatIf& tried, const CutResults& before, Cut& cut) {
  Assembly unused;
  for (const Property<WhatIf>& p : properties<WhatIf>())
    if (const auto value = number_of(tried, p); value && p.key != "stickout_mm")
      put(p.key, *value, before, cut, unused);
  // Each trial value keeps the others; values tried together apply together.
  if (tried.vc_m_min) cut.vc_m_min = tried.vc_m_min, cut.n_rpm.reset();
  if (tried.fz_mm) cut.fz_mm = tried.fz_mm;
}

namespace {

// By which rules the forces of a cut are told, before the last `behind` steps.
void add_force_steps(const CutReport& cut, double worn, Trail& trail, int behind) {
  const auto put = [&](TrailStep step) { trail.insert(trail.end() - behind, std::move(step)); };
  if (const auto& f = cut.force; f && cut.band)
    put({"force",
         {{"low_kc_n_mm2", f->low},
          {"kc_n_mm2", f->middle},
          {"high_kc_n_mm2", f->high},
          {"kienzle_n_mm2", f->kienzle},
          {"unit_power_n_mm2", f->unit_power},
          {"chip_mm", or_none(cut.results.h_m_mm)},
          {"turning", f->turning ? 1.0 : 0.0},
          {"outside", f->outside ? 1.0 : 0.0},
          {"factor", worn}},
         {}});
  if (cut.thrust_factor != 1) put({"full_web", {{"factor", cut.thrust_factor}}, {}});
  if (cut.torque_factor != 1) put({"tapping_friction", {{"factor", cut.torque_factor}}, {}});
}

}  // namespace

Evaluation evaluate(const ShopState& state, const Resolver& resolver, const Cutter& at_rest,
                    const WorkMaterial& material, const Machine& machine, const Query& query, const Assembly* held,
                    const WhatIf& tried, Extent extent) {
  Evaluation out;
  const HeldCutter as = as_held(at_rest, held, tried.stickout_mm);
  const Cutter& cutter = as.cutter;
  const std::optional<double> stickout_mm = stickout_of(as.assembly);
  out.resolution = resolver.resolve(key_in(state, resolver, cutter, or_none(stickout_mm), held),
                                    resolver.key_of(material), resolver.key_of(machine), query, out.trail);
  if (held && held->set_diameter_mm && at_rest.diameter_mm && *held->set_diameter_mm != *at_rest.diameter_mm)
    out.trail.insert(
        out.trail.begin(),
        TrailStep{"set_diameter", {{"diameter_mm", *held->set_diameter_mm}, {"nominal_mm", *at_rest.diameter_mm}}, {}});
  const bool all_tried = tried.vc_m_min && tried.fz_mm && out.resolution.reason != NoAnswer::never;
  if (!out.resolution.found() && !all_tried) return out;
  const ShopSettings settings = state.shop_settings();
  const Conditions& c = out.resolution.conditions;
  Cut cut;
  cut.operation = query.operation;
  cut.n_rpm = known(c.n_rpm);
  // Chip and power follow the edge.
  cut.vf_mm_min = known(std::isnan(c.vf_edge_mm_min) ? c.vf_mm_min : c.vf_edge_mm_min);
  cut.path_diameter_mm = known(c.path_diameter_mm);
  cut.ap_mm = known(c.ap_mm);
  cut.ae_mm = known(c.ae_mm);
  cut.worn_factor = settings.wear_factor;
  cut.bending_safety = settings.bending_safety;
  cut.permitted_deflection_mm = permitted_deflection_mm(settings, query.operation, cutter);
  cut.conventional = query.conventional;
  // A pocket begins with a cut as wide as the cutter.
  if (query.operation == OperationKind::pocket_rough) cut.corner_rad = std::numbers::pi;
  const CutModel model(cutter, as.assembly, material, machine);
  if (tried.any()) {
    put_tried(tried, model.at(cut, Extent::closed).results, cut);
    out.trail.push_back(TrailStep{"tried",
                                  {{"ap_mm", or_none(tried.ap_mm)},
                                   {"ae_mm", or_none(tried.ae_mm)},
                                   {"stickout_mm", or_none(tried.stickout_mm)},
                                   {"vc_m_min", or_none(tried.vc_m_min)},
                                   {"fz_mm", or_none(tried.fz_mm)}},
                                  {}});
  }
  out.asked = cut;
  out.cut = model.at(cut, extent);
  if (out.resolution.found()) add_force_steps(out.cut, *cut.worn_factor, out.trail, tried.any() ? 2 : 1);
  if (tried.any() && out.cut.results.n_rpm && out.cut.results.vf_mm_min)
    out.trail.push_back(
        TrailStep{"result", {{"n_rpm", *out.cut.results.n_rpm}, {"vf_mm_min", *out.cut.results.vf_mm_min}}, {}});
  const Holder* holder = held ? state.holders.find(held->holder) : nullptr;
  if (holder && holder->machine_side && machine.interface && *holder->machine_side != *machine.interface)
    out.cut.messages.push_back({Severity::warning,
                                "holder_not_for_machine",
                                "",
                                {{"holder", holder->name},
                                 {"side", std::string(label_of(*holder->machine_side))},
                                 {"machine", machine.name},
                                 {"takes", std::string(label_of(*machine.interface))}}});
  if (const Recipe* recipe = recipe_of(state, out.resolution))
    for (Message& m : check_recipe(*recipe, at_rest)) out.cut.messages.push_back(std::move(m));
  for (Message& m : never_messages(out.trail, taken_from(state, out.resolution, {}).source_text))
    out.cut.messages.push_back(std::move(m));
  return out;
}

std::vector<Message> never_messages(const Trail& trail, const std::string& by) {
  std::vector<Message> messages;
  for (const TrailStep& step : trail) {
    if (step.step == "never_rule" || step.step == "never_warning")
      messages.push_back(
          {step.step == "never_rule" ? Severity::error : Severity::warning, step.step, "operation", step.values});
    if (step.step != "coolant_hazard" || step.values.front() != std::pair<std::string, Detail>("refused", 1.0))
      continue;
    Message m{Severity::error, {}, "coolant", step.values};
    m.code = "hazard_coolant";
    m.values.emplace_back("by", by);
    messages.push_back(std::move(m));
  }
  return messages;
}

std::optional<Message> hazard_message(const WorkMaterial& material) {
  const Hazard hazard = hazard_of(material);
  if (hazard == Hazard::none) return std::nullopt;
  static constexpr const char* codes[] = {"",
                                          "hazard_burning_metal",
                                          "hazard_toxic_dust",
                                          "hazard_abrasive_dust",
                                          "hazard_wood_dust",
                                          "hazard_burning_chips",
                                          "hazard_stress_cracking",
                                          "hazard_dry_only"};
  return Message{Severity::note,
                 codes[static_cast<std::size_t>(hazard)],
                 "material",
                 {{"material", material.name}, {"source", material.hazard_source}}};
}

Advice advise(const ShopState& state, const CutModel& model, const Cut& cut, const CutReport& report,
              UnitSystem units) {
  Advice out;
  const auto first =
      std::find_if(report.headroom.begin(), report.headroom.end(), [](const Headroom& h) { return wants_change(h); });
  if (first == report.headroom.end()) return out;
  out.limit = first->limit;
  out.changes = suggestions(model, cut, first->limit, units);
  if (first->tightest() <= 1 + 1e-6 || !cut.operation || !report.results.fz_mm || !report.results.vc_m_min) return out;
  // Alternatives of the same kind and maker for the same cut: the next larger ones, or those with less stick-out.
  const Cutter& mine = model.cutter();
  std::vector<const Cutter*> others;
  for (const Cutter& c : state.cutters)
    if (c.id != mine.id && !c.retired && c.kind == mine.kind && c.tool_material == mine.tool_material &&
        c.diameter_mm && *c.diameter_mm >= *mine.diameter_mm * (1 - 1e-9))
      others.push_back(&c);
  constexpr std::size_t looked_at = 12;
  const std::size_t count = std::min(looked_at, others.size());
  std::partial_sort(others.begin(), others.begin() + static_cast<std::ptrdiff_t>(count), others.end(),
                    [](const Cutter* a, const Cutter* b) {
                      return std::tie(*a->diameter_mm, a->number) < std::tie(*b->diameter_mm, b->number);
                    });
  for (std::size_t i = 0; i < count; ++i) {
    const HeldCutter other = as_held(*others[i], state.assembly_of(others[i]->id));
    Cut same = cut;
    same.n_rpm.reset(), same.fn_mm.reset(), same.vf_mm_min.reset(), same.hex_mm.reset();
    same.vc_m_min = report.results.vc_m_min;
    same.fz_mm = report.results.fz_mm;
    if (!check_cut(other.cutter, same).empty()) continue;
    const CutReport there =
        CutModel(other.cutter, other.assembly, model.material(), model.machine()).at(same, Extent::limits);
    const bool told = std::any_of(there.headroom.begin(), there.headroom.end(),
                                  [&](const Headroom& h) { return h.limit == first->limit; });
    if (!told || std::any_of(there.headroom.begin(), there.headroom.end(),
                             [](const Headroom& h) { return h.tightest() > 1 + 1e-6; }))
      continue;
    out.cutter = others[i]->id;
    break;
  }
  return out;
}

const Recipe* recipe_of(const ShopState& state, const Resolution& r) {
  return r.table.is_null() && !r.row.is_null() ? state.recipes.find(r.row) : nullptr;
}

const ConditionRow* row_of(const ShopState& state, const Resolution& r) {
  if (const Recipe* recipe = recipe_of(state, r)) return recipe;
  const ConditionTable* table = state.tables.find(r.table);
  return table ? find_row(*table, r.row) : nullptr;
}

std::optional<double> edge_cost_of(const ShopState& state, const Cutter& cutter) {
  const Insert* insert = state.inserts.find(cutter.insert);
  if (!insert) return cutter.price;
  if (!insert->price || insert->edges.value_or(0) <= 0) return std::nullopt;
  return *insert->price / *insert->edges * cutter.flutes.value_or(1);
}

std::optional<LifeFigures> life_of(const ShopState& state, const Cutter& cutter, const Machine& machine,
                                   const Resolution& r, const CutReport& report, const Cut& cut) {
  const ConditionRow* row = row_of(state, r);
  const auto taylor = row ? taylor_of(*row, cutter) : std::nullopt;
  const CutResults& now = report.results;
  if (!taylor || !now.vc_m_min) return std::nullopt;
  const double feed = (row->feed_kind == FeedKind::per_revolution   ? now.fn_mm
                       : row->feed_kind == FeedKind::chip_thickness ? now.h_ex_mm
                                                                    : now.fz_mm)
                          .value_or(0),
               ap = cut.ap_mm.value_or(0);
  LifeFigures out;
  out.taylor = *taylor;
  out.life_min = taylor->life(*now.vc_m_min, feed, ap);
  const double change = state.shop_settings().edge_change_min;
  out.fastest_life_min = fastest_life_min(taylor->m, change);
  out.fastest_vc_m_min = taylor->speed_for(out.fastest_life_min, feed, ap);
  if (const auto edge_cost = edge_cost_of(state, cutter); machine.hourly_rate && edge_cost) {
    out.cheapest_life_min = least_cost_life_min(taylor->m, {change, *edge_cost, *machine.hourly_rate});
    out.cheapest_vc_m_min = taylor->speed_for(*out.cheapest_life_min, feed, ap);
  }
  if (!std::isfinite(out.life_min) || !std::isfinite(out.fastest_vc_m_min)) return std::nullopt;
  return out;
}

Query query_for(const ShopState& state, const Job& job, const Operation& o) {
  Query query;
  query.operation = o.operation;
  query.pace = o.pace.value_or(job.pace.value_or(100));
  query.only = o.source;
  const CutterValues typed = values_for(job, o.cutter.id);
  const bool own_speed = o.own_n_rpm || o.own_vf_mm_min;
  query.own_n_rpm = or_none(own_speed ? o.own_n_rpm : typed.n_rpm);
  query.own_vf_mm_min = or_none(own_speed ? o.own_vf_mm_min : typed.vf_mm_min);
  query.ap_mm = or_none(o.own_ap_mm ? o.own_ap_mm : typed.ap_mm);
  query.ae_mm = or_none(o.own_ae_mm ? o.own_ae_mm : typed.ae_mm);
  query.own_coolant = o.own_coolant;
  query.conventional = declaration(o.path).milling && !o.climb;
  query.skin = meets_skin(job, o);
  query.at_edge = declaration(o.path).circular;
  if (!declaration(o.path).milling) query.hole_depth_mm = or_none(hole_depth_mm(job, o));
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
  taken.table = r.table;
  taken.row = r.row;
  if (const Recipe* recipe = recipe_of(state, r)) {
    taken.source_text = "recipe " + recipe->name;
  } else if (const ConditionTable* table = state.tables.find(r.table)) {
    taken.source_text = table->name;
  } else {
    taken.source_text = r.source == SourceKind::starter_table ? "starter rules" : std::string(label_of(r.source));
  }
  return taken;
}

namespace {

// A drill whose cycle is automatic asks the tables for what it does at its depth.
void follow_cycle(const WorkMaterial& material, const Job& job, Operation& o) {
  const auto depth = hole_depth_mm(job, o);
  if (!follows_cycle(o) || !depth || !o.cutter.diameter_mm) return;
  const double d = *o.cutter.diameter_mm;
  const bool straight = cycle_for(*depth, d, straight_depth_per_d(o.cutter, material) * d) == DrillCycle::straight;
  o.operation = straight ? OperationKind::drill : OperationKind::peck;
}

// Walls are finished as deep at once as the flutes and every limit allow: nothing may show where two levels meet.
void deepen_finish(const ShopSettings& settings, const HeldCutter& as, const WorkMaterial& material,
                   const Machine& machine, const Operation& o, double width_mm, TakenConditions& taken) {
  const double flutes = o.cutter.flute_length_mm.value_or(0), stated = taken.ap_mm.value_or(0);
  if (!taken.n_rpm || !taken.vf_mm_min || taken.proven || !(width_mm > 0) || !(stated > 0) || !(flutes > 0)) return;
  const CutModel model(as.cutter, as.assembly, material, machine);
  const auto allows = [&](double ap) {
    Cut cut;
    cut.operation = OperationKind::side_finish;
    cut.n_rpm = taken.n_rpm;
    cut.vf_mm_min = taken.vf_mm_min;
    cut.ap_mm = ap;
    cut.ae_mm = std::min(width_mm, o.cutter.diameter_mm.value_or(width_mm));
    cut.worn_factor = settings.wear_factor;
    cut.bending_safety = settings.bending_safety;
    cut.permitted_deflection_mm = o.permitted_deflection_mm
                                      ? *o.permitted_deflection_mm
                                      : permitted_deflection_mm(settings, OperationKind::side_finish, o.cutter);
    cut.conventional = !o.climb;
    // In an inner corner there is a wall ahead as well.
    if (!has_parameter(o.path, "where") || o.where == ProfileWhere::within) cut.corner_rad = std::numbers::pi / 2;
    if (!check_cut(as.cutter, cut).empty()) return false;
    const CutReport report = model.at(cut, Extent::limits);
    return std::all_of(report.headroom.begin(), report.headroom.end(),
                       [](const Headroom& h) { return h.tightest() <= 1 + 1e-6; });
  };
  double deepest = flutes;
  if (!allows(flutes)) {
    double low = 0.1 * o.cutter.diameter_mm.value_or(0), high = flutes;
    if (!allows(low)) return;
    constexpr double near_mm = 0.1;
    while (high - low > near_mm) (allows((low + high) / 2) ? low : high) = (low + high) / 2;
    deepest = std::floor(low * 10) / 10;
  }
  if (!(deepest > 0) || std::abs(deepest - stated) < 1e-6) return;
  taken.ap_mm = deepest;
  Trail trail = taken.trail;
  trail.push_back({"finish_depth", {{"ap_mm", deepest}, {"stated_mm", stated}, {"flutes_mm", flutes}}, {}});
  taken.trail = std::move(trail);
}

}  // namespace

void retake(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o) {
  const WorkMaterial* material = state.materials.find(job.material);
  const Machine* machine = state.machines.find(job.machine);
  o.taken_slot = o.taken_finish = o.taken_floor = {};
  if (!material || !machine || o.cutter.id.is_null()) {
    o.taken = {};
    return;
  }
  if (take_from_step(state, job, o)) return;
  follow_cycle(*material, job, o);
  const CutterKey cutter = key_in(state, resolver, o.cutter, or_none(o.stickout_mm), state.assembly_of(o.cutter.id));
  const MaterialKey in = resolver.key_of(*material);
  const MachineKey on = resolver.key_of(*machine);
  const auto take = [&](const Query& query) {
    Trail trail;
    const Resolution r = resolver.resolve(cutter, in, on, query, trail);
    return taken_from(state, r, std::move(trail));
  };
  Query query = query_for(state, job, o);
  const std::string kept = o.taken.kept;
  const bool n_given = !std::isnan(query.own_n_rpm), vf_given = !std::isnan(query.own_vf_mm_min);
  if (n_given != vf_given) {
    // One of the two alone: the other as the source has it, the feed per revolution kept where the speed is typed.
    Query followed = query;
    followed.own_n_rpm = followed.own_vf_mm_min = not_given;
    if (const TakenConditions t = take(followed); t.n_rpm && t.vf_mm_min) {
      if (!n_given) query.own_n_rpm = *t.n_rpm;
      if (!vf_given) query.own_vf_mm_min = *t.vf_mm_min / *t.n_rpm * query.own_n_rpm;
    }
  }
  o.taken = take(query);
  o.taken.kept = kept;
  if (o.taken.source == SourceKind::own && !o.own_n_rpm && !o.own_vf_mm_min) {
    o.taken.source = SourceKind::own_for_cutter;
    o.taken.source_text = std::string(label_of(SourceKind::own_for_cutter));
  }
  if (o.own_plunge_mm_min) o.taken.plunge_mm_min = o.own_plunge_mm_min;
  if (o.own_ramp_mm_min) o.taken.ramp_mm_min = o.own_ramp_mm_min;
  if (!declaration(o.path).milling || !o.taken.n_rpm) return;
  const bool walls = has_parameter(o.path, "finish_pass_mm") && !declaration(o.path).circular;
  const auto deepen = [&](double width_mm, TakenConditions& taken) {
    deepen_finish(state.shop_settings(), as_held(state, o), *material, *machine, o, width_mm, taken);
  };
  if (walls && o.operation == OperationKind::side_finish && std::isnan(query.ap_mm))
    deepen(o.taken.ae_mm.value_or(0), o.taken);
  if (o.is_own()) return;
  query.own_n_rpm = query.own_vf_mm_min = query.ap_mm = query.ae_mm = not_given;
  query.own_coolant = o.taken.coolant;
  const auto also = [&](OperationKind kind, TakenConditions& taken) {
    if (o.operation == kind || !can_do(o.cutter.kind, kind)) return;
    query.operation = kind;
    taken = take(query);
    if (!taken.n_rpm) taken = {};
  };
  if (declaration(o.path).full_width == FullWidth::slotted) also(OperationKind::slot, o.taken_slot);
  if (o.finish_pass_mm && has_parameter(o.path, "finish_pass_mm")) {
    also(OperationKind::side_finish, o.taken_finish);
    if (walls) deepen(*o.finish_pass_mm, o.taken_finish);
  }
  if (o.finish_floor_mm && has_parameter(o.path, "finish_floor_mm")) also(OperationKind::floor_finish, o.taken_floor);
}

Job retaken(const ShopState& state, const Resolver& resolver, Job job) {
  std::vector<Operation> anew = job.operations;
  constexpr std::size_t in_one_part = 100;
  in_parts(anew.size(), in_one_part, [&](std::size_t first, std::size_t last) {
    for (std::size_t i = first; i < last; ++i) retake(state, resolver, job, anew[i]);
  });
  job.operations = std::move(anew);
  return job;
}

RunsAt runs_at(const Operation& o, const PathFacts& path) {
  RunsAt r{path.n_rpm ? path.n_rpm : o.taken.n_rpm,
           path.vf_mm_min ? path.vf_mm_min : o.taken.vf_mm_min,
           {},
           path.ap_mm ? path.ap_mm : o.taken.ap_mm,
           path.ae_mm ? path.ae_mm : o.taken.ae_mm};
  if (path.vf_low_mm_min > 0) r.vf_mm_min = path.vf_low_mm_min;
  if (path.vf_high_mm_min > path.vf_low_mm_min * 1.005) r.vf_high_mm_min = path.vf_high_mm_min;
  return r;
}

Cut cut_of(const ShopSettings& settings, const Operation& o, const PathFacts& path) {
  Cut cut;
  cut.operation = o.operation;
  cut.n_rpm = path.n_rpm ? path.n_rpm : o.taken.n_rpm;
  cut.vf_mm_min = path.vf_mm_min ? path.vf_mm_min : o.taken.vf_mm_min;
  cut.ap_mm = path.ap_mm ? path.ap_mm : o.taken.ap_mm;
  cut.ae_mm = path.ae_mm ? path.ae_mm : o.taken.ae_mm;
  cut.worn_factor = settings.wear_factor;
  cut.bending_safety = settings.bending_safety;
  cut.permitted_deflection_mm =
      o.permitted_deflection_mm ? *o.permitted_deflection_mm : permitted_deflection_mm(settings, o.operation, o.cutter);
  if (!declaration(o.path).milling) return cut;
  cut.whole_depth_mm = path.depth_mm ? path.depth_mm : o.depth_mm;
  cut.conventional = !o.climb;
  if (o.operation != OperationKind::slot) cut.corner_rad = path.growth_rad;
  return cut;
}

HeldCutter as_held(const ShopState& state, const Operation& o) {
  return as_held(o.cutter, state.assembly_of(o.cutter.id), o.stickout_mm);
}

CutReport report_of(const ShopState& state, const JobHead& job, const Operation& o, const PathFacts& path) {
  const WorkMaterial* material = state.materials.find(job.material);
  const Machine* machine = state.machines.find(job.machine);
  if (!material || !machine || !o.taken.n_rpm || !o.taken.vf_mm_min) return {};
  const HeldCutter as = as_held(state, o);
  return compute_cut(as.cutter, as.assembly, *material, *machine, cut_of(state, o, path));
}

bool source_moved(const Operation& job_copy, const Operation& now) {
  const std::string news = fingerprint(now);
  return news != fingerprint(job_copy) && news != job_copy.taken.kept;
}

}  // namespace pecorra
