#include "core/conditions/resolver.h"

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
constexpr int kind_count = 29;
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

double round_down(double value, double step) {
  if (!(value > 0) || !(step > 0)) return value;
  while (value < 10 * step && step > 1e-3) step /= 10;
  return std::floor(value / step * (1 + 1e-12)) * step;
}

Resolver::Resolver(const std::vector<ConditionTable>& tables) : tables_(&tables) {
  std::vector<std::uint32_t> keys;  // kind and operation of each curve
  for (std::size_t t = 0; t < tables.size(); ++t) {
    const ConditionTable& table = tables[t];
    std::vector<char> used(table.rows.size(), 0);
    for (std::size_t i = 0; i < table.rows.size(); ++i) {
      const ConditionRow& key = table.rows[i];
      if (used[i] || has_error(check_row(key))) continue;
      Curve curve{};
      curve.first = static_cast<std::uint32_t>(points_.size());
      if (key.material.is_null()) curve.material = -1;
      else curve.material = materials_.try_emplace(key.material, static_cast<int>(materials_.size())).first->second;
      curve.group = key.group;
      curve.hardness_from = key.hardness_from_hb.value_or(0);
      curve.hardness_to = key.hardness_to_hb.value_or(std::numeric_limits<double>::infinity());
      curve.tool_material = key.tool_material ? static_cast<int>(*key.tool_material) : -1;
      curve.coating = intern(key.coating);
      curve.maker = table.level == TableLevel::maker ? intern(table.maker) : -1;
      curve.series = table.level == TableLevel::maker ? intern(table.series) : -1;
      curve.flutes = key.flutes.value_or(0);
      curve.feed_kind = key.feed_kind;
      curve.coolant = key.coolant;
      curve.level = table.level;
      curve.table = static_cast<int>(t);
      const bool ranged = key.hardness_from_hb || key.hardness_to_hb;
      const double range = curve.hardness_to - curve.hardness_from;
      curve.narrowness = static_cast<std::uint32_t>(ranged ? std::min(range, 999.0) : 1000.0) << 8 |
                         (curve.series < 0 ? 1u << 5 : 0u) | (curve.maker < 0 ? 1u << 4 : 0u) |
                         (curve.coating < 0 ? 1u << 3 : 0u) | (curve.tool_material < 0 ? 1u << 2 : 0u) |
                         (curve.flutes == 0 ? 1u << 1 : 0u);
      for (std::size_t j = i; j < table.rows.size(); ++j) {
        const ConditionRow& row = table.rows[j];
        if (used[j] || !same_curve(key, row) || has_error(check_row(row))) continue;
        used[j] = 1;
        auto or_none = [](const std::optional<double>& v) { return v.value_or(not_given); };
        const double feed_scale = row.feed_kind == curve.feed_kind ? 1 : not_given;
        points_.push_back({*row.diameter_mm, *row.vc_m_min, or_none(row.vc_low_m_min), or_none(row.vc_high_m_min),
                           *row.feed_mm * feed_scale, or_none(row.feed_low_mm), or_none(row.feed_high_mm),
                           or_none(row.ap_mm), or_none(row.ap_per_d), or_none(row.ae_mm), or_none(row.ae_per_d),
                           row.plunge_factor.value_or(0.4), row.ramp_factor.value_or(0.5), static_cast<int>(j),
                           row.proven});
      }
      const auto start = points_.begin() + curve.first;
      std::stable_sort(start, points_.end(), [](const Point& a, const Point& b) { return a.diameter_mm < b.diameter_mm; });
      // Of two rows for one diameter the first counts; check_table says so at the second.
      points_.erase(std::unique(start, points_.end(), [](const Point& a, const Point& b) { return a.diameter_mm == b.diameter_mm; }),
                    points_.end());
      curve.count = static_cast<std::uint32_t>(points_.size()) - curve.first;
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
    return std::tuple(slot(a), level_rank(curves_[a].level, true), curves_[a].narrowness) < std::tuple(slot(b), level_rank(curves_[b].level, true), curves_[b].narrowness);
  });
  first_curve_.assign(kind_count * operation_count * slots_ + 1, 0);
  std::vector<Curve> sorted;
  for (const std::uint32_t i : order) {
    ++first_curve_[slot(i) + 1];
    sorted.push_back(curves_[i]);
  }
  std::partial_sum(first_curve_.begin(), first_curve_.end(), first_curve_.begin());
  curves_ = std::move(sorted);
}

int Resolver::intern(const std::string& text) {
  if (text.empty()) return -1;
  return names_.try_emplace(text, static_cast<int>(names_.size())).first->second;
}

int Resolver::find_interned(const std::string& text) const {
  const auto found = names_.find(text);
  return text.empty() || found == names_.end() ? -2 : found->second;  // -2 equals no curve's key
}

CutterKey Resolver::key_of(const Cutter& cutter) const {
  CutterKey key;
  key.kind = cutter.kind;
  key.draft = has_error(check_cutter(cutter)) || !cutter.diameter_mm;
  if (key.draft) return key;
  key.tool_material = cutter.tool_material ? static_cast<int>(*cutter.tool_material) : -2;
  key.coating = find_interned(cutter.coating);
  key.maker = find_interned(cutter.maker);
  key.series = find_interned(cutter.series);
  key.flutes = cutter.flutes.value_or(0);
  key.diameter_mm = *cutter.diameter_mm;
  key.max_rpm = cutter.max_rpm.value_or(std::numeric_limits<double>::infinity());
  key.edge_radius_mm = cutter.edge_radius_mm.value_or(usual_edge_radius_mm(cutter.tool_material).value_or(0));
  if (const auto edge = edge_shape(cutter)) key.edge = *edge;
  else key.draft = true;
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

unsigned Resolver::misfit(const Curve& curve, const CutterKey& c, const MaterialKey& m) const {
  unsigned wrong = 0;
  if (curve.material >= 0 ? curve.material != m.material : curve.group != m.group) wrong |= wrong_material;
  if (curve.tool_material >= 0 && curve.tool_material != c.tool_material) wrong |= wrong_tool_material;
  if (curve.coating >= 0 && curve.coating != c.coating) wrong |= wrong_coating;
  if ((curve.maker >= 0 && curve.maker != c.maker) || (curve.series >= 0 && curve.series != c.series))
    wrong |= wrong_maker;
  if (curve.flutes > 0 && curve.flutes != c.flutes) wrong |= wrong_flutes;
  const bool ranged = curve.hardness_from > 0 || std::isfinite(curve.hardness_to);
  if (ranged && !(m.hardness_hb >= curve.hardness_from && m.hardness_hb <= curve.hardness_to)) wrong |= wrong_hardness;
  return wrong;
}

template <class Reporter>
Resolution Resolver::run(const CutterKey& c, const MaterialKey& m, const MachineKey& machine, const Query& q,
                         Reporter& report) const {
  Resolution out;
  Conditions& v = out.conditions;
  if (!can_do(c.kind, q.operation)) {
    out.reason = NoAnswer::cannot_do;
    return out;
  }
  if (c.draft) {
    out.reason = NoAnswer::draft;
    return out;
  }
  const double d = c.diameter_mm;
  const Process process = process_of(q.operation);
  const bool milling = process == Process::milling;
  const bool own = given(q.own_n_rpm) && given(q.own_vf_mm_min);

  double vc = not_given, feed = not_given, vc_low = not_given, vc_high = not_given;
  double feed_low = not_given, feed_high = not_given;
  FeedKind feed_kind = FeedKind::per_tooth;
  double plunge = 0.4, ramp = 0.5;

  if (!own) {
    // One lexicographic key: level, narrowness of the row's key, distance of the diameter. Each range is sorted by the
    // first two, so that a search ends where they change behind a hit.
    const Curve* best = nullptr;
    unsigned best_level = 99;
    double best_distance = 0;
    int fitting = 0;
    const auto search = [&](std::span<const Curve> range) {
      for (const Curve& curve : range) {
        const unsigned level = level_rank(curve.level, curve.material >= 0);
        const bool behind = best && (level > best_level || (level == best_level && curve.narrowness > best->narrowness));
        if (!Reporter::on && behind) return;
        if (misfit(curve, c, m) != 0 || (q.only && *q.only != source_of(curve.level))) continue;
        ++fitting;
        if (behind) continue;
        const double low = points_[curve.first].diameter_mm, high = points_[curve.first + curve.count - 1].diameter_mm;
        const double distance = std::max({0.0, low - d, d - high});
        if (best && level == best_level && curve.narrowness == best->narrowness && distance >= best_distance) continue;
        best = &curve;
        best_level = level;
        best_distance = distance;
      }
    };
    if (m.material >= 0) search(curves_of(c.kind, q.operation, material_group_count + static_cast<std::uint32_t>(m.material), material_group_count + static_cast<std::uint32_t>(m.material) + 1));
    search(curves_of(c.kind, q.operation, static_cast<std::uint32_t>(m.group), static_cast<std::uint32_t>(m.group) + 1));
    if (!best) {
      out.reason = NoAnswer::no_row;
      return out;
    }
    // Between the rows.
    const Point* points = &points_[best->first];
    std::size_t above = 0;
    while (above < best->count && points[above].diameter_mm < d) ++above;
    const Point& hi = points[std::min<std::size_t>(above, best->count - 1)];
    const Point& lo = points[above == 0 ? 0 : above - 1];
    const double t = hi.diameter_mm > lo.diameter_mm
                         ? std::clamp((d - lo.diameter_mm) / (hi.diameter_mm - lo.diameter_mm), 0.0, 1.0)
                         : 0.0;
    auto mix = [&](double Point::*member) {
      const double a = lo.*member, b = hi.*member;
      if (!given(b)) return t < 1 ? a : b;
      if (!given(a)) return t > 0 ? b : a;
      return a + (b - a) * t;
    };
    vc = mix(&Point::vc);
    vc_low = mix(&Point::vc_low);
    vc_high = mix(&Point::vc_high);
    feed = mix(&Point::feed);
    feed_low = mix(&Point::feed_low);
    feed_high = mix(&Point::feed_high);
    plunge = mix(&Point::plunge);
    ramp = mix(&Point::ramp);
    feed_kind = best->feed_kind;
    const double ap_mm = mix(&Point::ap_mm), ap_d = mix(&Point::ap_per_d);
    const double ae_mm = mix(&Point::ae_mm), ae_d = mix(&Point::ae_per_d);
    v.ap_mm = given(ap_mm) ? ap_mm : ap_d * d;
    v.ae_mm = given(ae_mm) ? ae_mm : ae_d * d;
    const Point& nearest = t > 0.5 ? hi : lo;
    out.source = source_of(best->level);
    out.table = best->table;
    out.row = nearest.row;
    out.proven = (t < 1 ? lo.proven : true) && (t > 0 ? hi.proven : true);
    const bool outside = best_distance > 0;
    // A smaller cutter than any row knows bears a smaller chip; a larger one is not fed more.
    if (d < points[0].diameter_mm) {
      const double scale = d / points[0].diameter_mm;
      feed *= scale;
      feed_low *= scale;
      feed_high *= scale;
    }
    out.guess = best->level == TableLevel::starter || outside;
    if (best->level == TableLevel::starter || outside) out.proven = false;
    v.coolant = (machine.coolants >> static_cast<int>(best->coolant) & 1) != 0 ? best->coolant : Coolant::off;
    if (best->coolant != Coolant::off && v.coolant == Coolant::off && best->coolant != Coolant::air)
      for (const Coolant other : {Coolant::flood, Coolant::mist, Coolant::air})
        if (machine.coolants >> static_cast<int>(other) & 1) {
          v.coolant = other;
          break;
        }
    if constexpr (Reporter::on) {
      const ConditionTable& table = (*tables_)[best->table];
      const ConditionRow& row = table.rows[nearest.row];
      const TrailTarget target{table.id, row.id};
      report.add("source",
                 {{"level", std::string(pecorra::key_of(best->level))}, {"table", table.name},
                  {"diameter_mm", nearest.diameter_mm}, {"vc_m_min", nearest.vc}, {"feed_mm", nearest.feed},
                  {"feed_kind", std::string(pecorra::key_of(feed_kind))}, {"this_material", best->material >= 0 ? 1.0 : 0.0},
                  {"group", std::string(pecorra::key_of(best->group))}, {"proven", row.proven ? 1.0 : 0.0},
                  {"author", row.author}, {"date", row.date}, {"note", row.note},
                  {"source", row.source.empty() ? table.source : row.source}, {"beaten", static_cast<double>(fitting - 1)}},
                 target);
      if (outside)
        report.add("beyond_rows", {{"diameter_mm", d}, {"row_mm", nearest.diameter_mm}, {"vc_m_min", vc}, {"feed_mm", feed}}, target);
      else if (t > 0 && t < 1)
        report.add("interpolated", {{"low_mm", lo.diameter_mm}, {"high_mm", hi.diameter_mm}, {"diameter_mm", d}, {"vc_m_min", vc}, {"feed_mm", feed}}, target);
      if (milling && (given(v.ap_mm) || given(v.ae_mm)))
        report.add("depth_width", {{"ap_mm", v.ap_mm}, {"ae_mm", v.ae_mm},
                                   {"ap_per_d", given(ap_mm) ? not_given : ap_d}, {"ae_per_d", given(ae_mm) ? not_given : ae_d}});
      if (best->coolant != v.coolant)
        report.add("coolant", {{"wanted", std::string(label_of(best->coolant))}, {"used", std::string(label_of(v.coolant))}});
    }
  } else {
    out.source = SourceKind::own;
  }

  if (!milling) v.ap_mm = v.ae_mm = not_given;
  if (q.operation == OperationKind::slot) v.ae_mm = d;
  if (given(q.ap_mm) || given(q.ae_mm)) {
    if (given(q.ap_mm)) v.ap_mm = q.ap_mm;
    if (given(q.ae_mm)) v.ae_mm = std::min(q.ae_mm, d);
    if constexpr (Reporter::on) report.add("asked", {{"ap_mm", v.ap_mm}, {"ae_mm", v.ae_mm}});
  }

  // Pace. 100 is the target; the share of removal rate is taken from the speed first, down to the row's low, then from
  // width and depth, from the chip last and never under the rubbing limit. Upwards only within the row's range.
  const double share = std::clamp(q.pace, 1.0, 1000.0) / 100;
  if (!own && share != 1) {
    const double vc_before = vc, feed_before = feed, ap_before = v.ap_mm, ae_before = v.ae_mm;
    if (share < 1) {
      const double floor_vc = given(vc_low) ? std::min(vc_low, vc) : vc * 0.6;
      vc = std::max(floor_vc, vc * share);
      double rest = share / (vc / vc_before);
      if (rest < 1 && given(v.ae_mm) && q.operation != OperationKind::slot && !given(q.ae_mm)) {
        const double part = std::max(rest, 0.5);
        v.ae_mm *= part;
        rest /= part;
      }
      if (rest < 1 && given(v.ap_mm) && !given(q.ap_mm)) {
        const double part = std::max(rest, 0.5);
        v.ap_mm *= part;
        rest /= part;
      }
      if (rest < 1) {
        const double teeth = feed_kind == FeedKind::per_revolution && c.flutes > 0 ? c.flutes : 1;
        feed = std::max(feed * rest, std::min(feed, c.edge_radius_mm * teeth));
      }
    } else {
      if (given(vc_high)) vc = std::max(vc, std::min(vc_high, vc * share));
      const double rest = share / (vc / vc_before);
      if (rest > 1 && given(feed_high)) feed = std::max(feed, std::min(feed_high, feed * rest));
    }
    if (vc != vc_before || feed != feed_before || ap_before != v.ap_mm || ae_before != v.ae_mm) out.proven = false;
    if constexpr (Reporter::on)
      report.add("pace", {{"pace", q.pace}, {"vc_before_m_min", vc_before}, {"vc_m_min", vc}, {"feed_before_mm", feed_before},
                          {"feed_mm", feed}, {"ap_mm", v.ap_mm}, {"ae_mm", v.ae_mm}});
  }

  v.d_eff_mm = d;
  if (milling) {
    const auto ap = given(v.ap_mm) ? std::optional(v.ap_mm) : std::nullopt;
    v.d_eff_mm = effective_diameter_mm(c.edge, ap, 0, 0).value_or(d);
    if constexpr (Reporter::on)
      if (std::abs(v.d_eff_mm - d) > 1e-9)
        report.add("effective_diameter", {{"d_eff_mm", v.d_eff_mm}, {"ap_mm", v.ap_mm}, {"diameter_mm", d}});
  }

  // Chip thinning, where the row asks for a chip thickness.
  double fz = not_given;
  if (!own && feed_kind == FeedKind::chip_thickness) {
    fz = feed;
    if (milling && given(v.ae_mm) && given(v.ap_mm)) {
      const bool facing = q.operation == OperationKind::face;
      const Engagement e = facing ? face_engagement(v.ae_mm, 0, d) : side_engagement(v.ae_mm, d);
      const double ratio = chip_ratio(c.edge, e, v.ap_mm, v.ae_mm, facing).greatest;
      const double gain = ratio > 0 ? 1 / ratio : greatest_thinning_gain;
      fz = feed * std::min(gain, greatest_thinning_gain);
      if constexpr (Reporter::on)
        report.add("chip_thinning", {{"hex_mm", feed}, {"fz_mm", fz}, {"ae_mm", v.ae_mm}, {"capped", gain > greatest_thinning_gain ? 1.0 : 0.0}});
    }
  } else if (!own && feed_kind == FeedKind::per_revolution) {
    v.fn_mm = feed;
    fz = c.flutes > 0 ? feed / c.flutes : not_given;
  } else {
    fz = feed;
  }

  // Speed: limited, then rounded down.
  if (own) {
    v.n_rpm = q.own_n_rpm;
    v.vf_mm_min = q.own_vf_mm_min;
    v.coolant = Coolant::off;
    if constexpr (Reporter::on) report.add("own", {{"n_rpm", v.n_rpm}, {"vf_mm_min", v.vf_mm_min}});
  } else {
    const double asked = 1000 * vc / (pi * v.d_eff_mm);
    double n = asked;
    if constexpr (Reporter::on)
      report.add("speed", {{"vc_m_min", vc}, {"d_eff_mm", v.d_eff_mm}, {"n_rpm", n}});
    if (n < machine.min_rpm) {
      if constexpr (Reporter::on) report.add("below_least_speed", {{"n_rpm", n}, {"min_rpm", machine.min_rpm}});
      out = Resolution{};
      out.reason = NoAnswer::below_least_speed;
      return out;
    }
    const double most = std::min(machine.max_rpm, c.max_rpm);
    if (n > most) {
      n = most;
      out.held_speed = true;
      if constexpr (Reporter::on)
        report.add("held_speed", {{"asked_rpm", asked}, {"n_rpm", n}, {"by", std::string(c.max_rpm < machine.max_rpm ? "cutter" : "machine")}});
    }
    const double rounded = round_down(n, q.rounding.n_step_rpm);
    v.n_rpm = rounded >= machine.min_rpm ? rounded : std::max(machine.min_rpm, std::floor(n));
    if (!given(v.fn_mm) && c.flutes > 0) v.fn_mm = fz * c.flutes;
    const double vf_asked = v.n_rpm * v.fn_mm;
    double vf = vf_asked;
    if (vf > machine.max_feed_mm_min) {
      vf = machine.max_feed_mm_min;
      out.held_feed = true;
    }
    v.vf_mm_min = process == Process::tapping ? vf : round_down(vf, q.rounding.vf_step_mm_min);
    if constexpr (Reporter::on) {
      report.add("feed", {{"n_rpm", v.n_rpm}, {"fz_mm", fz}, {"flutes", static_cast<double>(c.flutes)}, {"fn_mm", v.fn_mm},
                          {"feed_kind", std::string(pecorra::key_of(feed_kind))}, {"vf_mm_min", vf_asked}});
      if (out.held_feed) report.add("held_feed", {{"asked_mm_min", vf_asked}, {"vf_mm_min", vf}});
      if (v.n_rpm != n || v.vf_mm_min != vf)
        report.add("rounded", {{"n_asked_rpm", n}, {"n_rpm", v.n_rpm}, {"vf_asked_mm_min", vf}, {"vf_mm_min", v.vf_mm_min}});
    }
  }
  // What the rounded values mean.
  v.vc_m_min = pi * v.d_eff_mm * v.n_rpm / 1000;
  v.fn_mm = v.n_rpm > 0 ? v.vf_mm_min / v.n_rpm : not_given;
  v.fz_mm = c.flutes > 0 ? v.fn_mm / c.flutes : not_given;
  if (milling) {
    v.plunge_mm_min = round_down(v.vf_mm_min * plunge, q.rounding.vf_step_mm_min);
    v.ramp_mm_min = round_down(v.vf_mm_min * ramp, q.rounding.vf_step_mm_min);
    if constexpr (Reporter::on)
      report.add("plunge", {{"plunge_mm_min", v.plunge_mm_min}, {"ramp_mm_min", v.ramp_mm_min}, {"plunge_factor", plunge}, {"ramp_factor", ramp}});
  } else {
    v.plunge_mm_min = v.vf_mm_min;
  }
  if constexpr (Reporter::on)
    report.add("result", {{"n_rpm", v.n_rpm}, {"vf_mm_min", v.vf_mm_min}});
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
