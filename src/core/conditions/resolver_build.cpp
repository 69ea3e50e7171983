// Building a resolver: rows compiled into curves, recipes put in order, and cutters, materials and machines as keys.
#include <algorithm>
#include <bit>
#include <numbers>
#include <numeric>
#include <tuple>

#include "core/conditions/reporters.h"
#include "core/conditions/resolver.h"
#include "core/cutter/kinds/threads.h"
#include "core/mechanics/beam.h"
#include "core/mechanics/cut_model.h"
#include "core/tables/starter_rules.h"

namespace pecorra {
namespace {

// Deflection at the tip at this stick-out relative to the same cutter at the usual one.
double bending_of(const Cutter& cutter, double stickout_mm) {
  const auto stiffness = [&](double length_mm) {
    Assembly assembly;
    assembly.stickout_mm = length_mm;
    return tip_stiffness_n_mm(beam_of(cutter, assembly));
  };
  const double held = stiffness(stickout_mm);
  return held > 0 ? std::max(1.0, stiffness(usual_stickout_per_d * *cutter.diameter_mm) / held) : 1;
}

using std::numbers::pi;
constexpr double any = std::numeric_limits<double>::infinity();

// Shop and maker tables for this very material, then for its group, then the starter table.
unsigned level_rank(TableLevel level, bool this_material) {
  if (level == TableLevel::starter) return this_material ? 4 : 5;
  return (this_material ? 0u : 2u) + (level == TableLevel::maker ? 1u : 0u);
}

// The operation that finishes after a roughing one.
std::optional<OperationKind> finishing_after(OperationKind operation) {
  switch (operation) {
    case OperationKind::side_rough:
    case OperationKind::constant_engagement: return OperationKind::side_finish;
    case OperationKind::pocket_rough: return OperationKind::floor_finish;
    default: return std::nullopt;
  }
}

// How narrowly a row is limited in depth, width or length: smaller is narrower, 1000: not limited.
std::uint32_t looseness(const ConditionRow& row) {
  double bound = 1000;
  const double d = row.diameter_mm.value_or(10);
  for (const auto& per_d : {row.holds_ap_per_d, row.holds_ae_per_d, row.holds_length_per_d})
    if (per_d) bound = std::min(bound, *per_d * 100);
  for (const auto& mm : {row.holds_ap_mm, row.holds_ae_mm, row.holds_length_mm})
    if (mm) bound = std::min(bound, *mm / d * 100);
  return is_conditional(row) ? static_cast<std::uint32_t>(std::clamp(bound, 1.0, 999.0)) : 1000;
}

}  // namespace

Resolver::Resolver(Tables from, ResolverOptions options) : tables_(std::move(from)), options_(std::move(options)) {
  const std::vector<ConditionTable>& tables = *tables_;
  std::vector<std::uint32_t> keys;  // kind and operation of each curve
  for (std::size_t t = 0; t < tables.size(); ++t) {
    const ConditionTable& table = tables[t];
    if (table.level == TableLevel::starter && !options_.starters) continue;
    for (std::vector<std::size_t>& members : pecorra::curves_of(table)) {
      std::erase_if(members, [&](std::size_t i) { return has_error(check_row(table.rows[i])); });
      if (members.empty()) continue;
      add_curve(static_cast<int>(t), table, members, false, keys);
      std::erase_if(members,
                    [&](std::size_t i) { return !table.rows[i].finish_vc_m_min && !table.rows[i].finish_feed_mm; });
      if (!members.empty() && finishing_after(table.rows[members.front()].operation))
        add_curve(static_cast<int>(t), table, members, true, keys);
    }
  }
  // Curves are sorted by kind and operation, then by material or group, then by rank.
  slots_ = material_group_count + static_cast<std::uint32_t>(materials_.size());
  std::vector<std::uint32_t> order(curves_.size());
  std::iota(order.begin(), order.end(), 0u);
  const auto slot = [&](std::uint32_t i) {
    const Curve& c = curves_[i];
    return keys[i] * slots_ + (c.material >= 0 ? material_group_count + static_cast<std::uint32_t>(c.material)
                                               : static_cast<std::uint32_t>(c.group));
  };
  std::stable_sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
    return std::pair(slot(a), curves_[a].rank) < std::pair(slot(b), curves_[b].rank);
  });
  first_curve_.assign(cutter_kind_count * operation_count * slots_ + 1, 0);
  std::vector<Curve> sorted;
  for (const std::uint32_t i : order) {
    ++first_curve_[slot(i) + 1];
    sorted.push_back(curves_[i]);
  }
  std::partial_sum(first_curve_.begin(), first_curve_.end(), first_curve_.begin());
  curves_ = std::move(sorted);
  for (const ConditionTable& table : tables) table_ids_.push_back(table.id);
  row_ids_.resize(points_.size());
  for (const Curve& curve : curves_)
    for (std::uint32_t i = curve.first; i < curve.first + curve.count; ++i) row_ids_[i] = row_of(curve, points_[i]).id;
  if (!options_.recipes) return;
  // The usual ones first, those for one material before those for any, then by name.
  const std::vector<Recipe>& recipes = *options_.recipes;
  for (std::size_t i = 0; i < recipes.size(); ++i)
    if (recipes[i].vc_m_min && recipes[i].feed_mm) recipes_.push_back(static_cast<std::uint32_t>(i));
  std::stable_sort(recipes_.begin(), recipes_.end(), [&](std::uint32_t a, std::uint32_t b) {
    const auto key = [&](std::uint32_t k) {
      return std::tuple(recipes[k].cutter, recipes[k].material.is_null(), !recipes[k].usual,
                        std::string_view(recipes[k].name));
    };
    return key(a) < key(b);
  });
  for (std::uint32_t i = 0; i < recipes_.size(); ++i) {
    auto& range = recipes_of_.try_emplace(recipes[recipes_[i]].cutter, i, 0).first->second;
    ++range.second;
  }
}

void Resolver::add_curve(int table_place, const ConditionTable& table, const std::vector<std::size_t>& members,
                         bool finish, std::vector<std::uint32_t>& keys) {
  const ConditionRow& key = table.rows[members.front()];
  const OperationKind operation = finish ? *finishing_after(key.operation) : key.operation;
  Curve curve{};
  curve.first = static_cast<std::uint32_t>(points_.size());
  if (key.material.is_null()) curve.material = -1;
  else curve.material = materials_.try_emplace(key.material, static_cast<int>(materials_.size())).first->second;
  curve.group = key.group;
  curve.ranged = key.hardness_from_hb || key.hardness_to_hb;
  curve.hardness_from = key.hardness_from_hb.value_or(0);
  curve.hardness_to = key.hardness_to_hb.value_or(any);
  const bool maker = table.level == TableLevel::maker && !table.maker.empty(),
             series = table.level == TableLevel::maker && !table.series.empty();
  curve.match = match_of(maker ? intern(table.maker) : 0, series ? intern(table.series) : 0, intern(key.coating),
                         key.tool_material ? static_cast<std::uint32_t>(*key.tool_material) + 1 : 0,
                         static_cast<std::uint32_t>(key.flutes.value_or(0)));
  curve.mask = match_of(maker ? ~0u : 0, series ? ~0u : 0, key.coating.empty() ? 0 : ~0u, key.tool_material ? ~0u : 0,
                        key.flutes ? ~0u : 0);
  curve.feed_kind = key.feed_kind;
  curve.coolant = key.coolant;
  curve.level = table.level;
  curve.table = table_place;
  curve.finish = finish;
  curve.no_factors = table.no_factors;
  curve.duty = key.duty ? static_cast<std::uint8_t>(static_cast<int>(*key.duty) + 1) : 0;
  curve.conditional = is_conditional(key);
  curve.special = curve.conditional || curve.duty != 0;
  if (curve.conditional) {
    curve.bounds = static_cast<std::uint32_t>(bounds_.size());
    bounds_.push_back({key.holds_ap_mm.value_or(any), key.holds_ap_per_d.value_or(any), key.holds_ae_mm.value_or(any),
                       key.holds_ae_per_d.value_or(any), key.holds_length_mm.value_or(any),
                       key.holds_length_per_d.value_or(any)});
  }
  // Narrowness: hardness range, series, maker, coating, tool material, duty, flutes, then what it holds up to. Finish
  // values of a roughing row stand behind every row that is for finishing.
  const double range = curve.hardness_to - curve.hardness_from;
  const std::uint32_t narrowness =
      (finish ? 1u << 30 : 0) | static_cast<std::uint32_t>(curve.ranged ? std::min(range, 999.0) : 1000.0) << 17 |
      (series ? 0 : 1u << 16) | (maker ? 0 : 1u << 15) | (key.coating.empty() ? 1u << 14 : 0) |
      (key.tool_material ? 0 : 1u << 13) | (key.duty ? 0 : 1u << 12) | (key.flutes ? 0 : 1u << 11) | looseness(key);
  curve.rank = static_cast<std::uint64_t>(level_rank(curve.level, curve.material >= 0)) << 32 | narrowness;
  for (const std::size_t j : members) {
    const ConditionRow& row = table.rows[j];
    curve.detailed = curve.detailed || has_detail_feeds(row);
    const auto or_none = [](const std::optional<double>& v) { return v.value_or(not_given); };
    const auto point = points_.insert(
        points_.end(),
        {*row.diameter_mm,
         {*row.vc_m_min, *row.feed_mm, or_none(row.ap_mm), or_none(row.ap_per_d), or_none(row.ae_mm),
          or_none(row.ae_per_d), or_none(row.plunge_factor), or_none(row.ramp_factor), or_none(row.vc_low_m_min),
          or_none(row.vc_high_m_min), or_none(row.feed_low_mm), or_none(row.feed_high_mm)},
         {},
         0,
         false,
         static_cast<int>(j),
         row.proven});
    if (!finish) continue;
    Values& v = point->values;
    v[vc] = row.finish_vc_m_min.value_or(v[vc]);
    v[feed] = row.finish_feed_mm.value_or(v[feed]);
    v[vc_low] = v[vc_high] = v[feed_low] = v[feed_high] = not_given;
    // A finishing pass takes the depth and width of starter values: a few tenths.
    StarterQuestion q{key.kind, key.tool_material, key.group, operation, *row.diameter_mm, 0, 0};
    if (!q.tool_material) q.tool_material = ToolMaterial::carbide;
    const auto usual = starter_values(q);
    v[ae_per_d] = not_given;
    v[ae_mm] = usual && usual->ae_mm ? *usual->ae_mm : not_given;
    if (operation == OperationKind::floor_finish) {
      v[ap_per_d] = not_given;
      v[ap_mm] = usual && usual->ap_mm ? *usual->ap_mm : not_given;
    }
  }
  link(curve);
  keys.push_back(static_cast<std::uint32_t>(key.kind) * operation_count + static_cast<std::uint32_t>(operation));
  curves_.push_back(curve);
}

// Sorts the curve's points, drops duplicates and prepares the interpolation.
void Resolver::link(Curve& curve) {
  const auto start = points_.begin() + curve.first;
  std::stable_sort(start, points_.end(), [](const Point& a, const Point& b) { return a.diameter_mm < b.diameter_mm; });
  // Of two rows for one diameter the first counts; check_table says so at the second.
  points_.erase(
      std::unique(start, points_.end(), [](const Point& a, const Point& b) { return a.diameter_mm == b.diameter_mm; }),
      points_.end());
  curve.count = static_cast<std::uint32_t>(points_.size()) - curve.first;
  curve.low_mm = points_[curve.first].diameter_mm;
  curve.high_mm = points_.back().diameter_mm;
  for (std::size_t i = curve.first; i + 1 < points_.size(); ++i) {
    Point& p = points_[i];
    const Point& next = points_[i + 1];
    p.half_way_mm = (p.diameter_mm + next.diameter_mm) / 2;
    for (int k = 0; k < value_count; ++k) {
      p.one_sided = p.one_sided || given(p.values[k]) != given(next.values[k]);
      p.slopes[k] = (next.values[k] - p.values[k]) / (next.diameter_mm - p.diameter_mm);
    }
  }
}

// 0: not stated. No row asks for it, and a cutter without it matches no row that does.
std::uint32_t Resolver::intern(const std::string& text) {
  if (text.empty()) return 0;
  return names_.try_emplace(text, static_cast<std::uint32_t>(names_.size()) + 1).first->second;
}

std::uint32_t Resolver::find_interned(const std::string& text) const {
  const auto found = names_.find(text);
  return found == names_.end() ? 0 : found->second;
}

KeyMatch Resolver::match_of(std::uint32_t maker, std::uint32_t series, std::uint32_t coating,
                            std::uint32_t tool_material, std::uint32_t flutes) {
  return {static_cast<std::uint64_t>(maker) << 32 | series, static_cast<std::uint64_t>(coating) << 32 |
                                                                static_cast<std::uint64_t>(tool_material & 0xff) << 16 |
                                                                (flutes & 0xffff)};
}

CutterKey Resolver::key_of(const Cutter& cutter, double stickout_mm) const {
  CutterKey key;
  key.kind = cutter.kind;
  key.operations = declaration(cutter.kind).operations;
  key.draft = has_error(check_cutter(cutter)) || !cutter.diameter_mm;
  if (key.draft) return key;
  if (options_.never) key.never = options_.never->of(cutter);
  key.coolants = coolants_of(cutter.tool_material);
  if (!cutter.through_coolant) key.led = from_outside;
  key.plunge_reach_mm = pecorra::plunge_reach_mm(cutter);
  key.flutes = cutter.flutes.value_or(0);
  // A cutter that ignores maker tables counts as having no maker.
  key.match = match_of(cutter.no_maker_tables ? 0 : find_interned(cutter.maker),
                       cutter.no_maker_tables ? 0 : find_interned(cutter.series), find_interned(cutter.coating),
                       cutter.tool_material ? static_cast<std::uint32_t>(*cutter.tool_material) + 1 : 0,
                       static_cast<std::uint32_t>(key.flutes));
  key.diameter_mm = *cutter.diameter_mm;
  key.rpm_per_speed = 1000 / (pi * key.diameter_mm);
  key.speed_per_rpm = pi * key.diameter_mm / 1000;
  if (key.flutes > 0) key.per_flute = 1.0 / key.flutes;
  if (cutter.tip_diameter_mm.value_or(0) > 0) key.operations &= ~bit(OperationKind::spot);  // it guides no drill
  key.max_rpm = cutter.max_rpm.value_or(std::numeric_limits<double>::infinity());
  key.edge_radius_mm = cutter.edge_radius_mm.value_or(usual_edge_radius_mm(cutter).value_or(0));
  key.flute_length_mm = cutter.flute_length_mm.value_or(0);
  key.pitch_mm = cutter.pitch_mm.value_or(0);
  key.stickout_mm = stickout_mm;
  if (stickout_mm > usual_stickout_per_d * key.diameter_mm) key.bending = bending_of(cutter, stickout_mm);
  key.no_factors = cutter.no_factors || !options_.factors;
  if (const auto found = recipes_of_.find(cutter.id); found != recipes_of_.end())
    std::tie(key.first_recipe, key.recipes) = found->second;
  if (EdgeFactor factor = options_.edge.of(cutter); !key.no_factors && !factor.from.empty())
    key.edge_factor = std::make_shared<const EdgeFactor>(std::move(factor));
  if (const auto edge = edge_shape(cutter)) key.edge = *edge;
  else key.draft = true;
  key.rake_deg = cutter.rake_deg.value_or(not_given);
  if (const auto kappa = axial_angle_deg(cutter)) key.axial_sine = std::sin(*kappa * pi / 180);
  if (cutter.kind == CutterKind::thread_mill)
    if (const auto thread = thread_of(cutter)) key.thread_mm = thread->major_mm;
  if (cutter.kind == CutterKind::ball || cutter.kind == CutterKind::tapered)
    key.tip_mm = cutter.kind == CutterKind::ball ? key.diameter_mm : 2 * cutter.corner_radius_mm.value_or(0);
  key.depth_counts = key.edge.form != CuttingForm::cylinder && key.edge.form != CuttingForm::point &&
                     key.edge.form != CuttingForm::other;
  return key;
}

MaterialKey Resolver::key_of(const WorkMaterial& material) const {
  MaterialKey key;
  key.id = material.id;
  key.name = material.name;
  const auto found = materials_.find(material.id);
  key.material = found == materials_.end() ? -2 : found->second;
  key.group = material.group;
  key.hardness_hb = material.hardness_hb.value_or(not_given);
  if (options_.never) key.never = options_.never->of(material);
  key.subgroup = subgroup_of(material);
  if (const ForceLaw law(material); law.is_known()) key.force = law;
  key.rake_ref_deg = material.rake_ref_deg.value_or(0);
  key.hazard = hazard_of(material);
  key.coolants = coolants_of(key.hazard);
  return key;
}

MachineKey Resolver::key_of(const Machine& machine) const {
  MachineKey key;
  key.name = machine.name;
  key.min_rpm = machine.min_rpm.value_or(0);
  key.max_rpm = machine.max_rpm.value_or(std::numeric_limits<double>::infinity());
  for (int i = 0; i < material_group_count; ++i) {
    const auto group = static_cast<MaterialGroup>(i);
    const auto at = static_cast<std::size_t>(i);
    const GreatestFeed plane = greatest_feed(machine, false, group), axis = greatest_feed(machine, true, group);
    key.plane_feed_mm_min[at] = plane.mm_min;
    key.plane_by[at] = plane.by;
    key.axis_feed_mm_min[at] = axis.mm_min;
    key.axis_by[at] = axis.by;
  }
  key.plunge = machine.plunge_rule.value_or(key.plunge);
  key.ramp = machine.ramp_rule.value_or(key.ramp);
  key.lead = machine.lead_rule.value_or(key.lead);
  key.own_rules = machine.plunge_rule || machine.ramp_rule || machine.lead_rule;
  key.duty = machine.duty ? static_cast<std::uint8_t>(static_cast<int>(*machine.duty) + 1) : 0;
  if (!machine.dial_rpm.empty()) key.dial_rpm = std::make_shared<const std::vector<double>>(machine.dial_rpm);
  if (!machine.power_curve.empty()) key.power = std::make_shared<const std::vector<PowerPoint>>(machine.power_curve);
  key.efficiency = machine.efficiency.value_or(1);
  for (int i = 0; i < coolant_count; ++i)
    if (has_coolant(machine, static_cast<Coolant>(i))) key.coolants |= static_cast<std::uint8_t>(1 << i);
  return key;
}

std::span<const Resolver::Curve> Resolver::curves_of(CutterKind kind, OperationKind operation, std::uint32_t from_slot,
                                                     std::uint32_t to_slot) const {
  const std::size_t at =
      (static_cast<std::size_t>(kind) * operation_count + static_cast<std::size_t>(operation)) * slots_;
  return {curves_.data() + first_curve_[at + from_slot], curves_.data() + first_curve_[at + to_slot]};
}

int Resolver::recipe_place(const Id& recipe) const {
  if (options_.recipes)
    for (std::size_t i = 0; i < options_.recipes->size(); ++i)
      if ((*options_.recipes)[i].id == recipe) return static_cast<int>(i);
  return -1;
}

}  // namespace pecorra
