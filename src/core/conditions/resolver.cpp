#include "core/conditions/resolver.h"

#include "core/tables/starter_rules.h"

#include <algorithm>
#include <cmath>
#include <bit>
#include <limits>
#include <numbers>
#include <numeric>
#include <tuple>

namespace pecorra {
namespace {

using std::numbers::pi;

constexpr Choice source_choices[] = {{"own", "own values"}, {"own_for_cutter", "own for this cutter"},
                                     {"proven_step", "proven step"}, {"recipe", "recipe"},
                                     {"maker_table", "maker table"}, {"shop_table", "shop table"},
                                     {"starter_table", "starter table"}, {"none", "none"}};
constexpr double greatest_thinning_gain = 3;

bool given(double value) { return !std::isnan(value); }

// Reporters: the resolver is compiled once for each.
struct Silent {
  static constexpr bool on = false;
};
struct Recorder {
  static constexpr bool on = true;
  Trail& trail;
  void add(const char* step, Details values, TrailTarget target = {}) {
    // What is not given is not said.
    std::erase_if(values, [](const auto& entry) {
      const double* number = std::get_if<double>(&entry.second);
      const std::string* text = std::get_if<std::string>(&entry.second);
      return (number && std::isnan(*number)) || (text && text->empty());
    });
    trail.push_back({step, std::move(values), target});
  }
};

SourceKind source_of(TableLevel level) {
  switch (level) {
    case TableLevel::shop: return SourceKind::shop_table;
    case TableLevel::maker: return SourceKind::maker_table;
    case TableLevel::starter: return SourceKind::starter_table;
  }
  return SourceKind::none;
}

// Shop and maker tables for this very material, then for its group, then the starter table.
unsigned level_rank(TableLevel level, bool this_material) {
  if (level == TableLevel::starter) return this_material ? 4 : 5;
  return (this_material ? 0u : 2u) + (level == TableLevel::maker ? 1u : 0u);
}

enum Misfit : unsigned { wrong_material = 1, wrong_tool_material = 2, wrong_maker = 4, wrong_flutes = 8, wrong_hardness = 16, wrong_coating = 32 };

}  // namespace

template <> std::span<const Choice> choices_of<SourceKind>() { return source_choices; }

double round_down_small(double value, const Step& step) {
  if (!(value > 0) || !(step.size > 0) || value * step.inverse >= 1e15) return value;
  double size = step.size;
  while (value < 10 * size && size > 1e-3) size /= 10;
  return std::floor(value / size * (1 + 1e-12)) * size;
}

Resolver::Resolver(const std::vector<ConditionTable>& tables, EdgeFactors factors, bool starter_rules) : tables_(&tables), factors_(std::move(factors)), starter_rules_(starter_rules) {
  std::vector<std::uint32_t> keys;  // kind and operation of each curve
  for (std::size_t t = 0; t < tables.size(); ++t) {
    const ConditionTable& table = tables[t];
    for (std::vector<std::size_t>& members : pecorra::curves_of(table)) {
      std::erase_if(members, [&](std::size_t i) { return has_error(check_row(table.rows[i])); });
      if (members.empty()) continue;
      const ConditionRow& key = table.rows[members.front()];
      Curve curve{};
      curve.first = static_cast<std::uint32_t>(points_.size());
      if (key.material.is_null()) curve.material = -1;
      else curve.material = materials_.try_emplace(key.material, static_cast<int>(materials_.size())).first->second;
      curve.group = key.group;
      curve.ranged = key.hardness_from_hb || key.hardness_to_hb;
      curve.hardness_from = key.hardness_from_hb.value_or(0);
      curve.hardness_to = key.hardness_to_hb.value_or(std::numeric_limits<double>::infinity());
      const bool maker = table.level == TableLevel::maker && !table.maker.empty(), series = table.level == TableLevel::maker && !table.series.empty();
      curve.match = match_of(maker ? intern(table.maker) : 0, series ? intern(table.series) : 0, intern(key.coating),
                             key.tool_material ? static_cast<std::uint32_t>(*key.tool_material) + 1 : 0, static_cast<std::uint32_t>(key.flutes.value_or(0)));
      curve.mask = match_of(maker ? ~0u : 0, series ? ~0u : 0, key.coating.empty() ? 0 : ~0u, key.tool_material ? ~0u : 0, key.flutes ? ~0u : 0);
      curve.feed_kind = key.feed_kind;
      curve.coolant = key.coolant;
      curve.level = table.level;
      curve.table = static_cast<int>(t);
      const double range = curve.hardness_to - curve.hardness_from;
      const std::uint32_t narrowness = static_cast<std::uint32_t>(curve.ranged ? std::min(range, 999.0) : 1000.0) << 8 | (series ? 0 : 1u << 5) |
                                       (maker ? 0 : 1u << 4) | (key.coating.empty() ? 1u << 3 : 0) | (key.tool_material ? 0 : 1u << 2) | (key.flutes ? 0 : 1u << 1);
      curve.rank = static_cast<std::uint64_t>(level_rank(curve.level, curve.material >= 0)) << 32 | narrowness;
      for (const std::size_t j : members) {
        const ConditionRow& row = table.rows[j];
        auto or_none = [](const std::optional<double>& v) { return v.value_or(not_given); };
        points_.push_back({*row.diameter_mm,
                           {*row.vc_m_min, *row.feed_mm, or_none(row.ap_mm), or_none(row.ap_per_d), or_none(row.ae_mm), or_none(row.ae_per_d), row.plunge_factor.value_or(0.4),
                            row.ramp_factor.value_or(0.5), or_none(row.vc_low_m_min), or_none(row.vc_high_m_min), or_none(row.feed_low_mm), or_none(row.feed_high_mm)},
                           {}, 0, false, static_cast<int>(j), row.proven});
      }
      link(curve);
      keys.push_back(static_cast<std::uint32_t>(key.kind) * operation_count + static_cast<std::uint32_t>(key.operation));
      curves_.push_back(curve);
    }
  }
  // Curves lie by kind and operation, then by material or group, the one that wins first.
  slots_ = material_group_count + static_cast<std::uint32_t>(materials_.size());
  std::vector<std::uint32_t> order(curves_.size());
  std::iota(order.begin(), order.end(), 0u);
  const auto slot = [&](std::uint32_t i) {
    const Curve& c = curves_[i];
    return keys[i] * slots_ + (c.material >= 0 ? material_group_count + static_cast<std::uint32_t>(c.material) : static_cast<std::uint32_t>(c.group));
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
}

// Sorts the curve's points, drops what stands there twice, and prepares the way between them.
void Resolver::link(Curve& curve) {
  const auto start = points_.begin() + curve.first;
  std::stable_sort(start, points_.end(), [](const Point& a, const Point& b) { return a.diameter_mm < b.diameter_mm; });
  // Of two rows for one diameter the first counts; check_table says so at the second.
  points_.erase(std::unique(start, points_.end(), [](const Point& a, const Point& b) { return a.diameter_mm == b.diameter_mm; }), points_.end());
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

// 0 is nothing: no row asks for it, and a cutter without it matches no row that asks.
std::uint32_t Resolver::intern(const std::string& text) {
  if (text.empty()) return 0;
  return names_.try_emplace(text, static_cast<std::uint32_t>(names_.size()) + 1).first->second;
}

std::uint32_t Resolver::find_interned(const std::string& text) const {
  const auto found = names_.find(text);
  return found == names_.end() ? 0 : found->second;
}

KeyMatch Resolver::match_of(std::uint32_t maker, std::uint32_t series, std::uint32_t coating, std::uint32_t tool_material, std::uint32_t flutes) {
  return {static_cast<std::uint64_t>(maker) << 32 | series,
          static_cast<std::uint64_t>(coating) << 32 | static_cast<std::uint64_t>(tool_material & 0xff) << 16 | (flutes & 0xffff)};
}

CutterKey Resolver::key_of(const Cutter& cutter) const {
  CutterKey key;
  key.kind = cutter.kind;
  key.operations = declaration(cutter.kind).operations;
  key.draft = has_error(check_cutter(cutter)) || !cutter.diameter_mm;
  if (key.draft) return key;
  key.flutes = cutter.flutes.value_or(0);
  key.match = match_of(find_interned(cutter.maker), find_interned(cutter.series), find_interned(cutter.coating),
                       cutter.tool_material ? static_cast<std::uint32_t>(*cutter.tool_material) + 1 : 0, static_cast<std::uint32_t>(key.flutes));
  key.diameter_mm = *cutter.diameter_mm;
  key.rpm_per_speed = 1000 / (pi * key.diameter_mm);
  key.speed_per_rpm = pi * key.diameter_mm / 1000;
  if (key.flutes > 0) key.per_flute = 1.0 / key.flutes;
  key.max_rpm = cutter.max_rpm.value_or(std::numeric_limits<double>::infinity());
  key.edge_radius_mm = cutter.edge_radius_mm.value_or(usual_edge_radius_mm(cutter.tool_material).value_or(0));
  key.flute_length_mm = cutter.flute_length_mm.value_or(0);
  key.pitch_mm = cutter.pitch_mm.value_or(0);
  if (EdgeFactor factor = factors_.of(cutter); !factor.from.empty()) key.edge_factor = std::make_shared<const EdgeFactor>(std::move(factor));
  if (const auto edge = edge_shape(cutter)) key.edge = *edge;
  else key.draft = true;
  key.depth_counts = key.edge.form != CuttingForm::cylinder && key.edge.form != CuttingForm::point && key.edge.form != CuttingForm::other;
  return key;
}

MaterialKey Resolver::key_of(const WorkMaterial& material) const {
  MaterialKey key;
  const auto found = materials_.find(material.id);
  key.material = found == materials_.end() ? -2 : found->second;
  key.group = material.group;
  key.hardness_hb = material.hardness_hb.value_or(not_given);
  return key;
}

MachineKey Resolver::key_of(const Machine& machine) const {
  MachineKey key;
  key.min_rpm = machine.min_rpm.value_or(0);
  key.max_rpm = machine.max_rpm.value_or(std::numeric_limits<double>::infinity());
  key.max_feed_mm_min = machine.max_feed_mm_min.value_or(std::numeric_limits<double>::infinity());
  for (int i = 0; i < 6; ++i)
    if (has_coolant(machine, static_cast<Coolant>(i))) key.coolants |= static_cast<std::uint8_t>(1 << i);
  return key;
}

std::span<const Resolver::Curve> Resolver::curves_of(CutterKind kind, OperationKind operation, std::uint32_t from_slot, std::uint32_t to_slot) const {
  const std::size_t at = (static_cast<std::size_t>(kind) * operation_count + static_cast<std::size_t>(operation)) * slots_;
  return {curves_.data() + first_curve_[at + from_slot], curves_.data() + first_curve_[at + to_slot]};
}

unsigned Resolver::misfit(const Curve& curve, const CutterKey& c, const MaterialKey& m) {
  unsigned wrong = 0;
  const auto asks = [&](std::uint64_t mask, std::uint64_t curve_value, std::uint64_t cutter_value) { return ((curve_value ^ cutter_value) & mask) != 0; };
  const KeyMatch& cutter = c.match;
  if (curve.material >= 0 ? curve.material != m.material : curve.group != m.group) wrong |= wrong_material;
  if (asks(curve.mask.rest & 0xff0000, curve.match.rest, cutter.rest)) wrong |= wrong_tool_material;
  if (asks(curve.mask.rest & 0xffffffff00000000ull, curve.match.rest, cutter.rest)) wrong |= wrong_coating;
  if (asks(curve.mask.maker_series, curve.match.maker_series, cutter.maker_series)) wrong |= wrong_maker;
  if (asks(curve.mask.rest & 0xffff, curve.match.rest, cutter.rest)) wrong |= wrong_flutes;
  if (curve.ranged && !(m.hardness_hb >= curve.hardness_from && m.hardness_hb <= curve.hardness_to)) wrong |= wrong_hardness;
  return wrong;
}

// One lexicographic key: level, narrowness of the row's key, distance of the diameter. Each range is sorted by the first
// two, so that a search ends where they change behind a hit.
template <class Reporter>
inline Resolver::Found Resolver::find(const CutterKey& c, const MaterialKey& m, const Query& q) const {
  Found found;
  const std::uint32_t group = static_cast<std::uint32_t>(m.group);
  for (std::uint32_t slot = m.material >= 0 ? material_group_count + static_cast<std::uint32_t>(m.material) : group;; slot = group) {
    for (const Curve& curve : curves_of(c.kind, q.operation, slot, slot + 1)) {
      const bool behind = found.curve && curve.rank > found.curve->rank;
      if (!Reporter::on && behind) break;
      if (!curve.match.fits(curve.mask, c.match)) continue;
      if (curve.ranged && !(m.hardness_hb >= curve.hardness_from && m.hardness_hb <= curve.hardness_to)) continue;
      if (q.only && *q.only != source_of(curve.level)) continue;
      if constexpr (Reporter::on) ++found.fitting;
      if (behind) continue;
      const double distance = std::max({0.0, curve.low_mm - c.diameter_mm, c.diameter_mm - curve.high_mm});
      if (found.curve && curve.rank == found.curve->rank && distance >= found.distance_mm) continue;
      found.curve = &curve;
      found.distance_mm = distance;
    }
    if (slot == group) return found;
  }
}

// The first `count` values at this diameter.
template <int count>
inline Resolver::Reading Resolver::read(const Curve& curve, double d) const {
  const Point* p = &points_[curve.first];
  const Point* const last = p + curve.count - 1;
  while (p != last && (p + 1)->diameter_mm <= d) ++p;
  const double offset = p == last ? 0 : std::max(0.0, d - p->diameter_mm);
  Reading out;
  out.lo = p;
  out.hi = offset > 0 ? p + 1 : p;
  if (!p->one_sided) {
    for (int k = 0; k < count; ++k) out.values[k] = p->values[k] + p->slopes[k] * offset;
    return out;
  }
  // A slope that is not given would spoil its value.
  for (int k = 0; k < count; ++k) {
    const double between = p->values[k] + p->slopes[k] * offset;
    out.values[k] = offset > 0 && given(between) ? between : given(p->values[k]) || offset <= 0 ? p->values[k] : out.hi->values[k];
  }
  return out;
}

struct Resolver::Draft {
  const CutterKey& c;
  const MaterialKey& m;
  const MachineKey& machine;
  const Query& q;
  Process process;
  Resolution& out;
  Conditions& v;
  double speed = not_given, speed_low = not_given, speed_high = not_given;
  double load = not_given, load_high = not_given;  // the feed as the row states it
  double fz = not_given;
  double plunge = 0.4, ramp = 0.5;
  FeedKind feed_kind = FeedKind::per_tooth;
  // Written out: left to itself the compiler clears all of it first.
  Draft(const CutterKey& cutter, const MaterialKey& material, const MachineKey& on, const Query& query, Process p, Resolution& result)
      : c(cutter), m(material), machine(on), q(query), process(p), out(result), v(result.conditions) {}
  bool milling() const { return process == Process::milling; }
};


namespace {

// What is wanted, where the machine has it; else another wet or blowing one.
Coolant coolant_on(const MachineKey& machine, Coolant wanted) {
  const auto has = [&](Coolant c) { return (machine.coolants >> static_cast<int>(c) & 1) != 0; };
  if (wanted == Coolant::off || has(wanted)) return wanted;
  if (wanted == Coolant::air) return Coolant::off;
  for (const Coolant other : {Coolant::flood, Coolant::mist, Coolant::air})
    if (has(other)) return other;
  return Coolant::off;
}

StarterQuestion question_of(const CutterKey& c, const MaterialKey& m, OperationKind operation) {
  StarterQuestion q;
  q.kind = c.kind;
  if (const auto tool = (c.match.rest >> 16) & 0xff) q.tool_material = static_cast<ToolMaterial>(tool - 1);
  q.group = m.group;
  q.operation = operation;
  q.diameter_mm = c.diameter_mm;
  q.flute_length_mm = c.flute_length_mm;
  q.pitch_mm = c.pitch_mm;
  return q;
}

}  // namespace

template <class Reporter>
[[gnu::noinline]] bool Resolver::take_rule(Draft& w, Reporter& report) const {
  const StarterQuestion question = question_of(w.c, w.m, w.q.operation);
  const auto rule = starter_values(question);
  if (!rule) return false;
  w.speed = rule->vc_m_min;
  w.load = rule->feed_mm;
  w.feed_kind = rule->feed_kind;
  w.plunge = rule->plunge_factor;
  w.ramp = rule->ramp_factor;
  w.v.ap_mm = rule->ap_mm.value_or(not_given);
  w.v.ae_mm = rule->ae_mm.value_or(not_given);
  w.v.coolant = coolant_on(w.machine, rule->coolant);
  w.out.source = SourceKind::starter_table;
  w.out.guess = true;
  w.out.proven = false;
  if constexpr (Reporter::on) {
    report.add("starter_rule", {{"kind", std::string(label_of(w.c.kind))}, {"tool_material", question.tool_material ? std::string(label_of(*question.tool_material)) : std::string()},
                                {"group", std::string(label_of(w.m.group))}, {"operation", std::string(label_of(w.q.operation))}, {"vc_m_min", w.speed}, {"feed_mm", w.load},
                                {"feed_kind", std::string(pecorra::key_of(w.feed_kind))}});
    if (w.milling()) report.add("depth_width", {{"ap_mm", w.v.ap_mm}, {"ae_mm", w.v.ae_mm}});
  }
  if (w.c.edge_factor) scale_by_edge(w, report);
  return true;
}

template <class Reporter>
[[gnu::noinline]] void Resolver::scale_by_edge(Draft& w, Reporter& report) const {
  const EdgeFactor& factor = *w.c.edge_factor;
  w.speed *= factor.speed;
  w.speed_low *= factor.speed;
  w.speed_high *= factor.speed;
  w.load *= factor.feed;
  w.load_high *= factor.feed;
  if constexpr (Reporter::on)
    report.add("edge", {{"from", factor.from}, {"speed_factor", factor.speed}, {"feed_factor", factor.feed}, {"vc_m_min", w.speed}, {"feed_mm", w.load}});
}

template <class Reporter>
inline bool Resolver::take_row(Draft& w, Reporter& report) const {
  const Found found = find<Reporter>(w.c, w.m, w.q);
  const Curve* curve = found.curve;
  if (!curve) {
    if (starter_rules_ && (!w.q.only || *w.q.only == SourceKind::starter_table) && take_rule(w, report)) return true;
    w.out.reason = NoAnswer::no_row;
    return false;
  }
  const double d = w.c.diameter_mm;
  const bool ranges = Reporter::on || w.q.pace != 100;
  const Reading at = ranges ? read<value_count>(*curve, d) : read<without_ranges>(*curve, d);
  const Values& r = at.values;
  if (ranges) {
    w.speed_low = r[vc_low];
    w.speed_high = r[vc_high];
    w.load_high = r[feed_high];
  }
  w.speed = r[vc];
  w.load = r[feed];
  w.plunge = r[plunge];
  w.ramp = r[ramp];
  w.feed_kind = curve->feed_kind;
  w.v.ap_mm = given(r[ap_mm]) ? r[ap_mm] : r[ap_per_d] * d;
  w.v.ae_mm = given(r[ae_mm]) ? r[ae_mm] : r[ae_per_d] * d;
  const Point& nearest = at.hi != at.lo && d > at.lo->half_way_mm ? *at.hi : *at.lo;
  const bool outside = found.distance_mm > 0;
  w.out.source = source_of(curve->level);
  w.out.table = curve->table;
  w.out.row = nearest.row;
  w.out.guess = curve->level == TableLevel::starter || outside;
  w.out.proven = at.lo->proven && at.hi->proven && !w.out.guess;
  // A smaller cutter than any row knows bears a smaller chip; a larger one is not fed more.
  if (d < curve->low_mm) {
    w.load *= d / curve->low_mm;
    w.load_high *= d / curve->low_mm;
  }
  // A starter row knows nothing of how good the edge is; a value of the shop's or of a maker is never scaled.
  if (w.c.edge_factor && curve->level == TableLevel::starter) scale_by_edge(w, report);
  w.v.coolant = coolant_on(w.machine, curve->coolant);
  if constexpr (Reporter::on) {
    const ConditionTable& table = (*tables_)[static_cast<std::size_t>(curve->table)];
    const ConditionRow& row = table.rows[static_cast<std::size_t>(nearest.row)];
    const TrailTarget target{table.id, row.id};
    report.add("source",
               {{"level", std::string(pecorra::key_of(curve->level))}, {"table", table.name},
                {"diameter_mm", nearest.diameter_mm}, {"vc_m_min", nearest.values[vc]}, {"feed_mm", nearest.values[feed]},
                {"feed_kind", std::string(pecorra::key_of(curve->feed_kind))}, {"this_material", curve->material >= 0 ? 1.0 : 0.0},
                {"group", std::string(pecorra::key_of(curve->group))}, {"proven", row.proven ? 1.0 : 0.0},
                {"author", row.author}, {"date", row.date}, {"note", row.note},
                {"source", row.source.empty() ? table.source : row.source}, {"beaten", static_cast<double>(found.fitting - 1)}},
               target);
    if (outside)
      report.add("beyond_rows", {{"diameter_mm", d}, {"row_mm", nearest.diameter_mm}, {"vc_m_min", w.speed}, {"feed_mm", w.load}}, target);
    else if (at.hi != at.lo)
      report.add("interpolated", {{"low_mm", at.lo->diameter_mm}, {"high_mm", at.hi->diameter_mm}, {"diameter_mm", d}, {"vc_m_min", w.speed}, {"feed_mm", w.load}}, target);
    if (w.milling() && (given(w.v.ap_mm) || given(w.v.ae_mm)))
      report.add("depth_width", {{"ap_mm", w.v.ap_mm}, {"ae_mm", w.v.ae_mm}, {"ap_per_d", given(r[ap_mm]) ? not_given : r[ap_per_d]}, {"ae_per_d", given(r[ae_mm]) ? not_given : r[ae_per_d]}});
    if (curve->coolant != w.v.coolant)
      report.add("coolant", {{"wanted", std::string(label_of(curve->coolant))}, {"used", std::string(label_of(w.v.coolant))}});
  }
  return true;
}

// 100 is the target; the share of removal rate is taken from the speed first, down to the row's low, then from width and
// depth, from the chip last and never under the rubbing limit. Upwards only within the row's range.
template <class Reporter>
[[gnu::noinline]] void Resolver::pace(Draft& w, Reporter& report) const {
  const double share = std::clamp(w.q.pace, 1.0, 1000.0) / 100;
  const double speed_before = w.speed, load_before = w.load, ap_before = w.v.ap_mm, ae_before = w.v.ae_mm;
  if (share < 1) {
    const double floor_speed = given(w.speed_low) ? std::min(w.speed_low, w.speed) : w.speed * 0.6;
    w.speed = std::max(floor_speed, w.speed * share);
    double rest = share / (w.speed / speed_before);
    const auto take_from = [&](double& size) {
      const double part = std::max(rest, 0.5);
      size *= part;
      rest /= part;
    };
    if (rest < 1 && given(w.v.ae_mm) && w.q.operation != OperationKind::slot && !given(w.q.ae_mm)) take_from(w.v.ae_mm);
    if (rest < 1 && given(w.v.ap_mm) && !given(w.q.ap_mm)) take_from(w.v.ap_mm);
    if (rest < 1) {
      const double teeth = w.feed_kind == FeedKind::per_revolution && w.c.flutes > 0 ? w.c.flutes : 1;
      w.load = std::max(w.load * rest, std::min(w.load, w.c.edge_radius_mm * teeth));
    }
  } else {
    if (given(w.speed_high)) w.speed = std::max(w.speed, std::min(w.speed_high, w.speed * share));
    const double rest = share / (w.speed / speed_before);
    if (rest > 1 && given(w.load_high)) w.load = std::max(w.load, std::min(w.load_high, w.load * rest));
  }
  const auto differs = [](double a, double b) { return given(a) && a != b; };
  if (differs(w.speed, speed_before) || differs(w.load, load_before) || differs(w.v.ap_mm, ap_before) || differs(w.v.ae_mm, ae_before)) w.out.proven = false;
  if constexpr (Reporter::on)
    report.add("pace", {{"pace", w.q.pace}, {"vc_before_m_min", speed_before}, {"vc_m_min", w.speed}, {"feed_before_mm", load_before},
                        {"feed_mm", w.load}, {"ap_mm", w.v.ap_mm}, {"ae_mm", w.v.ae_mm}});
}

// Where the row asks for a chip thickness, the feed grows as the cut gets narrow (formula 6).
template <class Reporter>
[[gnu::noinline]] void Resolver::thin_chip(Draft& w, Reporter& report) const {
  if (!w.milling() || !given(w.v.ae_mm) || !given(w.v.ap_mm)) return;
  const bool facing = w.q.operation == OperationKind::face;
  const double d = w.c.diameter_mm;
  const Engagement e = facing ? face_engagement(w.v.ae_mm, 0, d) : side_engagement(w.v.ae_mm, d);
  const double ratio = chip_ratio(w.c.edge, e, w.v.ap_mm, w.v.ae_mm, facing).greatest;
  const double gain = ratio > 0 ? 1 / ratio : greatest_thinning_gain;
  w.fz = w.load * std::min(gain, greatest_thinning_gain);
  if constexpr (Reporter::on)
    report.add("chip_thinning", {{"hex_mm", w.load}, {"fz_mm", w.fz}, {"ae_mm", w.v.ae_mm}, {"capped", gain > greatest_thinning_gain ? 1.0 : 0.0}});
}

// The speed limited, then rounded down; the feed from the rounded speed, limited, then rounded down.
template <class Reporter>
inline bool Resolver::limit_and_round(Draft& w, Reporter& report) const {
  Conditions& v = w.v;
  const double asked = w.c.depth_counts ? 1000 * w.speed / (pi * v.d_eff_mm) : w.speed * w.c.rpm_per_speed;
  double n = asked;
  if constexpr (Reporter::on) report.add("speed", {{"vc_m_min", w.speed}, {"d_eff_mm", v.d_eff_mm}, {"n_rpm", n}});
  if (n < w.machine.min_rpm) {
    if constexpr (Reporter::on) report.add("below_least_speed", {{"n_rpm", n}, {"min_rpm", w.machine.min_rpm}});
    w.out = Resolution{};
    w.out.reason = NoAnswer::below_least_speed;
    return false;
  }
  const double most = std::min(w.machine.max_rpm, w.c.max_rpm);
  if (n > most) {
    n = most;
    w.out.held_speed = true;
    if constexpr (Reporter::on)
      report.add("held_speed", {{"asked_rpm", asked}, {"n_rpm", n}, {"by", std::string(w.c.max_rpm < w.machine.max_rpm ? "cutter" : "machine")}});
  }
  v.n_rpm = round_down(n, w.q.rounding.n);
  if (v.n_rpm < w.machine.min_rpm) v.n_rpm = std::max(w.machine.min_rpm, std::floor(n));
  if (w.feed_kind == FeedKind::per_revolution) v.fn_mm = w.load;
  else if (w.c.flutes > 0) v.fn_mm = w.fz * w.c.flutes;
  const double vf_asked = v.n_rpm * v.fn_mm;
  double vf = vf_asked;
  if (vf > w.machine.max_feed_mm_min) {
    vf = w.machine.max_feed_mm_min;
    w.out.held_feed = true;
  }
  v.vf_mm_min = w.process == Process::tapping ? vf : round_down(vf, w.q.rounding.vf);
  if constexpr (Reporter::on) {
    report.add("feed", {{"n_rpm", v.n_rpm}, {"fz_mm", w.fz}, {"flutes", static_cast<double>(w.c.flutes)}, {"fn_mm", v.fn_mm},
                        {"feed_kind", std::string(pecorra::key_of(w.feed_kind))}, {"vf_mm_min", vf_asked}});
    if (w.out.held_feed) report.add("held_feed", {{"asked_mm_min", vf_asked}, {"vf_mm_min", vf}});
    if (v.n_rpm != n || v.vf_mm_min != vf)
      report.add("rounded", {{"n_asked_rpm", n}, {"n_rpm", v.n_rpm}, {"vf_asked_mm_min", vf}, {"vf_mm_min", v.vf_mm_min}});
  }
  return true;
}

template <class Reporter>
Resolution Resolver::run(const CutterKey& c, const MaterialKey& m, const MachineKey& machine, const Query& q,
                         Reporter& report) const {
  Resolution out;
  if ((c.operations & bit(q.operation)) == 0) {
    out.reason = c.operations == 0 ? NoAnswer::no_speed : NoAnswer::cannot_do;
    return out;
  }
  if (c.draft) {
    out.reason = NoAnswer::draft;
    return out;
  }
  Draft w(c, m, machine, q, process_of(q.operation), out);
  Conditions& v = out.conditions;
  const bool own = given(q.own_n_rpm) && given(q.own_vf_mm_min);
  if (own) out.source = SourceKind::own;
  else if (!take_row(w, report)) return out;

  if (!w.milling()) v.ap_mm = v.ae_mm = not_given;
  if (q.operation == OperationKind::slot) v.ae_mm = c.diameter_mm;
  if (given(q.ap_mm) || given(q.ae_mm)) {
    if (given(q.ap_mm)) v.ap_mm = q.ap_mm;
    if (given(q.ae_mm)) v.ae_mm = std::min(q.ae_mm, c.diameter_mm);
    if constexpr (Reporter::on) report.add("asked", {{"ap_mm", v.ap_mm}, {"ae_mm", v.ae_mm}});
  }
  if (!own && q.pace != 100) pace(w, report);

  v.d_eff_mm = c.diameter_mm;
  if (c.depth_counts && w.milling()) {
    v.d_eff_mm = effective_diameter_mm(c.edge, given(v.ap_mm) ? std::optional(v.ap_mm) : std::nullopt, 0, 0).value_or(c.diameter_mm);
    if constexpr (Reporter::on)
      if (std::abs(v.d_eff_mm - c.diameter_mm) > 1e-9)
        report.add("effective_diameter", {{"d_eff_mm", v.d_eff_mm}, {"ap_mm", v.ap_mm}, {"diameter_mm", c.diameter_mm}});
  }
  if (own) {
    v.n_rpm = q.own_n_rpm;
    v.vf_mm_min = q.own_vf_mm_min;
    if constexpr (Reporter::on) report.add("own", {{"n_rpm", v.n_rpm}, {"vf_mm_min", v.vf_mm_min}});
  } else {
    w.fz = w.feed_kind == FeedKind::per_revolution ? w.load * c.per_flute : w.load;
    if (w.feed_kind == FeedKind::chip_thickness) thin_chip(w, report);
    if (!limit_and_round(w, report)) return out;
  }
  // What the rounded values mean.
  v.vc_m_min = c.depth_counts ? pi * v.d_eff_mm * v.n_rpm / 1000 : v.n_rpm * c.speed_per_rpm;
  v.fn_mm = v.n_rpm > 0 ? v.vf_mm_min / v.n_rpm : not_given;
  v.fz_mm = v.fn_mm * c.per_flute;
  if (w.milling()) {
    v.plunge_mm_min = round_down(v.vf_mm_min * w.plunge, q.rounding.vf);
    v.ramp_mm_min = round_down(v.vf_mm_min * w.ramp, q.rounding.vf);
    if constexpr (Reporter::on)
      report.add("plunge", {{"plunge_mm_min", v.plunge_mm_min}, {"ramp_mm_min", v.ramp_mm_min}, {"plunge_factor", w.plunge}, {"ramp_factor", w.ramp}});
  } else {
    v.plunge_mm_min = v.vf_mm_min;
  }
  if constexpr (Reporter::on) report.add("result", {{"n_rpm", v.n_rpm}, {"vf_mm_min", v.vf_mm_min}});
  return out;
}

Resolution Resolver::resolve(const CutterKey& c, const MaterialKey& m, const MachineKey& machine, const Query& q) const {
  Silent silent;
  return run(c, m, machine, q, silent);
}

Resolution Resolver::resolve(const CutterKey& c, const MaterialKey& m, const MachineKey& machine, const Query& q,
                             Trail& trail) const {
  trail.reserve(12);
  Recorder recorder{trail};
  Resolution out = run(c, m, machine, q, recorder);
  if (out.reason == NoAnswer::no_row) explain_no_row(c, m, q, trail);
  return out;
}

void Resolver::explain_no_row(const CutterKey& c, const MaterialKey& m, const Query& q, Trail& trail) const {
  Recorder report{trail};
  if (starter_rules_) {
    NoStarter why;
    const StarterQuestion question = question_of(c, m, q.operation);
    starter_values(question, &why);
    if (why == NoStarter::tool_material_does_not_cut)
      report.add("no_starter", {{"tool_material", std::string(label_of(question.tool_material.value_or(ToolMaterial::hss)))}, {"group", std::string(label_of(m.group))}});
    else if (why == NoStarter::pitch_missing) report.add("no_starter_pitch", {});
  }
  const std::span<const Curve> curves = curves_of(c.kind, q.operation, 0, slots_);
  if (curves.empty()) {
    report.add("no_row_for_kind", {{"kind", std::string(label_of(c.kind))}, {"operation", std::string(label_of(q.operation))}});
    return;
  }
  static constexpr std::pair<unsigned, const char*> keys[] = {{wrong_material, "material"}, {wrong_hardness, "hardness"},
                                                              {wrong_tool_material, "tool material"}, {wrong_coating, "coating"},
                                                              {wrong_maker, "maker and series"}, {wrong_flutes, "flutes"}};
  // The nearest curve is the one with the fewest keys amiss.
  const Curve* nearest = nullptr;
  unsigned nearest_wrong = ~0u;
  for (const Curve& curve : curves) {
    const unsigned wrong = misfit(curve, c, m);
    if (!nearest || std::popcount(wrong) < std::popcount(nearest_wrong)) {
      nearest = &curve;
      nearest_wrong = wrong;
    }
  }
  std::string failed;
  for (const auto& [flag, name] : keys)
    if (nearest_wrong & flag) failed += (failed.empty() ? "" : ", ") + std::string(name);
  const ConditionTable& table = (*tables_)[nearest->table];
  const Point& point = points_[nearest->first];
  const ConditionRow& row = table.rows[point.row];
  report.add("no_row", {{"failed", failed.empty() ? std::string("source") : failed}, {"table", table.name},
                        {"nearest_mm", point.diameter_mm},
                        {"nearest_group", std::string(pecorra::key_of(row.group))},
                        {"nearest_tool_material", row.tool_material ? std::string(label_of(*row.tool_material)) : std::string("any")}},
             {table.id, row.id});
}

}  // namespace pecorra
