#include "core/tables/starter_rules.h"

#include <algorithm>
#include <cmath>

#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

using enum OperationKind;

// Cutting speed for roughing beside an edge, m/min; 0: it does not cut this. Columns: P, M, K, N, S, H, wood, plastic,
// composite, foam. Lower half of the ranges common in handbooks, from memory; composites and foam: estimates.
constexpr double speeds[][material_group_count] = {{24, 14, 22, 70, 7, 0, 200, 110, 40, 200},        // HSS
                                                   {28, 16, 25, 80, 8, 6, 230, 126, 45, 230},        // cobalt HSS
                                                   {30, 18, 27, 85, 9, 8, 240, 130, 50, 240},        // powder-metal HSS
                                                   {110, 60, 100, 240, 28, 55, 420, 200, 100, 400},  // carbide
                                                   {150, 100, 140, 350, 30, 60, 500, 240, 110, 450},  // carbide inserts
                                                   {160, 110, 140, 0, 0, 60, 0, 0, 0, 0},             // cermet
                                                   {0, 0, 350, 0, 150, 90, 0, 0, 0, 0},               // ceramic
                                                   {0, 0, 400, 0, 0, 110, 0, 0, 0, 0},                // CBN
                                                   {0, 0, 0, 500, 0, 0, 600, 350, 180, 500}};         // PCD

// Feed per tooth against that in steel.
constexpr double chips[material_group_count] = {1, 0.82, 1.18, 1.41, 0.59, 0.47, 2.94, 1.65, 0.9, 3.5};
// Feed of hole tools per revolution against that in steel.
constexpr double hole_feeds[material_group_count] = {1, 0.8, 1.28, 1.4, 0.48, 0.45, 1.6, 1, 0.6, 2};

bool is_hss(ToolMaterial tool) {
  return tool == ToolMaterial::hss || tool == ToolMaterial::hss_co || tool == ToolMaterial::hss_pm;
}

constexpr double hard_hb = 425;  // 45 HRC

// Deep holes are drilled slower and with less feed, by steps of their depth over the diameter. What is not known is
// taken from the flutes, which stand out of the hole by two diameters. Common practice, no source.
StarterFactor deep_hole_factor(const StarterQuestion& q) {
  const double deep = q.flute_length_mm > 0 ? q.flute_length_mm / q.diameter_mm - 2 : 0;
  if (deep <= 3) return {};
  if (deep <= 5) return {0.95, 0.95, 1};
  if (deep <= 8) return {0.9, 0.9, 1};
  if (deep <= 12) return {0.8, 0.85, 1};
  return {0.7, 0.75, 1};
}

double speed_share(OperationKind operation, ToolMaterial tool) {
  switch (operation) {
    case face: return 1.05;
    case slot: return 0.8;
    case side_finish: return 1.15;
    case pocket_rough: return 0.9;
    case constant_engagement: return 1.25;
    case floor_finish: return 1.1;
    case surface_finish: return 1.2;
    case plunge: return 0.7;
    case ramp: return 0.75;
    case helix: return 0.8;
    case chamfer: return 0.9;
    case engrave: return 0.9;
    case t_slot: return 0.6;
    case dovetail: return 0.5;
    case undercut: return 0.7;
    case thread_mill: return 0.8;
    case drill:
    case peck: return is_hss(tool) ? 0.85 : 0.6;
    case spot: return 0.5;
    case centre: return 0.45;
    case ream: return is_hss(tool) ? 0.2 : 0.18;
    case bore: return 0.85;
    case back_bore: return 0.6;
    case countersink: return 0.4;
    case counterbore: return 0.45;
    case tap: return 0.28;
    default: return 1;
  }
}

double chip_share(OperationKind operation) {
  switch (operation) {
    case slot: return 0.75;
    case side_finish: return 0.7;
    case pocket_rough: return 0.9;
    case constant_engagement: return 0.75;
    case floor_finish: return 0.8;
    case surface_finish: return 0.8;
    case plunge: return 0.6;
    case ramp:
    case helix: return 0.7;
    case chamfer: return 0.8;
    case engrave: return 0.8;
    case t_slot:
    case undercut: return 0.6;
    case dovetail: return 0.4;
    case thread_mill: return 0.5;
    default: return 1;
  }
}

// Feed per tooth in steel at side roughing, by the strength of the edges of a kind.
double tooth_feed_mm(CutterKind kind, ToolMaterial tool, double d) {
  const double mill = (is_hss(tool) ? 0.00405 : 0.0049) * std::pow(std::min(d, 32.0), 0.95);
  switch (kind) {
    case CutterKind::face_mill: return 0.1;  // the chip of an insert does not depend on the cutter's diameter
    case CutterKind::fly_cutter: return 0.06;
    case CutterKind::high_feed: return std::min(0.5, 0.04 * d);
    case CutterKind::rougher: return mill * 0.9;
    case CutterKind::engraver: return mill * 0.5;
    case CutterKind::chamfer_mill:
    case CutterKind::corner_rounding: return mill * 0.7;
    case CutterKind::t_slot: return std::min(mill, 0.05);
    case CutterKind::dovetail: return std::min(mill, 0.03);
    case CutterKind::thread_mill: return std::min(mill, 0.06);
    case CutterKind::form: return mill * 0.6;
    default: return mill;
  }
}

// Feed per revolution in steel.
double hole_feed_mm(CutterKind kind, double d) {
  const double drill_feed = 0.0227 * std::pow(std::min(d, 32.0), 0.8);
  switch (kind) {
    case CutterKind::spot_drill: return drill_feed * 0.5;
    case CutterKind::centre_drill: return drill_feed * 0.3;
    case CutterKind::step_drill: return drill_feed * 0.8;
    case CutterKind::reamer: return 0.03 * std::pow(std::min(d, 40.0), 0.8);
    case CutterKind::countersink: return 0.03 * std::pow(std::min(d, 40.0), 0.5);
    case CutterKind::counterbore: return 0.025 * std::pow(std::min(d, 40.0), 0.5);
    case CutterKind::boring_bar: return 0.07;
    case CutterKind::back_boring_bar: return 0.04;
    default: return drill_feed;
  }
}

// Depth and width over the diameter.
std::pair<double, double> engagement(OperationKind operation) {
  switch (operation) {
    case face: return {0.1, 0.7};
    case slot: return {0.5, 1};
    case side_finish: return {1, 0.03};
    case pocket_rough: return {0.5, 0.5};
    case constant_engagement: return {1.5, 0.08};
    case floor_finish: return {0.02, 0.6};
    case surface_finish: return {0.03, 0.05};
    case plunge: return {0.5, 0.3};
    case ramp:
    case helix: return {0.3, 1};
    case chamfer: return {0.08, 0.08};
    case engrave: return {0.05, 0.1};
    case t_slot: return {0.3, 0.2};
    case dovetail: return {0.2, 0.03};
    case undercut: return {0.1, 0.05};
    case thread_mill: return {1, 0.06};
    default: return {1, 0.3};
  }
}

}  // namespace

std::optional<StarterValues> starter_values(const StarterQuestion& q, NoStarter* why) {
  const auto refuse = [&](NoStarter reason) {
    if (why) *why = reason;
    return std::nullopt;
  };
  if (why) *why = NoStarter::none;
  if (!can_do(q.kind, q.operation) || !(q.diameter_mm > 0)) return refuse(NoStarter::kind_cannot);
  const ToolMaterial tool = q.tool_material.value_or(ToolMaterial::hss);
  const auto group = static_cast<std::size_t>(q.group);
  const double base = speeds[static_cast<std::size_t>(tool)][group];
  if (base <= 0) return refuse(NoStarter::tool_material_does_not_cut);
  StarterValues out;
  out.vc_m_min = base * speed_share(q.operation, tool);
  const bool dry = q.group == MaterialGroup::wood || q.group == MaterialGroup::composite ||
                   q.group == MaterialGroup::foam || q.group == MaterialGroup::plastic;
  const bool edge_of_ceramic = tool == ToolMaterial::ceramic || tool == ToolMaterial::cbn;
  out.coolant = dry || edge_of_ceramic ? Coolant::air : Coolant::flood;
  if (process_of(q.operation) != Process::milling) {
    out.feed_kind = FeedKind::per_revolution;
    if (q.operation == tap) {
      if (!(q.pitch_mm > 0)) return refuse(NoStarter::pitch_missing);
      out.feed_mm = q.pitch_mm;
    } else {
      out.feed_mm = hole_feed_mm(q.kind, q.diameter_mm) * hole_feeds[group] * (q.operation == peck ? 0.85 : 1);
    }
    if (process_of(q.operation) == Process::drilling) {
      const StarterFactor deep = deep_hole_factor(q);
      out.vc_m_min *= deep.speed;
      out.feed_mm *= deep.feed;
    }
    // Taps in wood and plastics are held by the chips, not by heat.
    if (q.operation == tap && q.group >= MaterialGroup::wood) out.vc_m_min = std::min(out.vc_m_min, 15.0);
    if (const double allowance = allowance_mm(q.operation, q.diameter_mm); allowance > 0) out.ap_mm = allowance / 2;
    return out;
  }
  out.feed_mm = tooth_feed_mm(q.kind, tool, q.diameter_mm) * chips[group] * chip_share(q.operation);
  if (q.flutes == 1 && q.group != MaterialGroup::H && q.group != MaterialGroup::S) out.feed_mm *= 1.3;
  if (q.group == MaterialGroup::plastic) {
    // A thin chip does not carry the heat away and melts; so does speed.
    out.feed_mm = std::clamp(out.feed_mm, std::min(0.03, 0.01 * q.diameter_mm), 0.2);
    out.vc_m_min = std::min(out.vc_m_min, 300.0);
  }
  auto [depth, width] = engagement(q.operation);
  const bool tough = q.group == MaterialGroup::S || q.group == MaterialGroup::H;
  if (tough) width *= width < 1 ? 0.5 : 1;
  double ap = depth * q.diameter_mm;
  if (q.kind == CutterKind::high_feed) ap = std::min(ap, 0.03 * q.diameter_mm);
  if (q.kind == CutterKind::face_mill) ap = std::min(ap, q.operation == floor_finish ? 0.3 : 2.0);
  double ae = width * q.diameter_mm;
  fit_engagement(q, ap, ae);
  out.ap_mm = ap;
  out.ae_mm = ae;
  return out;
}

double usual_hardness_hb(MaterialGroup group, std::optional<Subgroup> subgroup) {
  switch (group) {
    case MaterialGroup::P:
    case MaterialGroup::M:
    case MaterialGroup::K: return 220;
    case MaterialGroup::S: return 350;
    case MaterialGroup::H: return hard_hb;
    default: break;
  }
  if (subgroup == Subgroup::beryllium_copper) return 200;
  if (subgroup == Subgroup::bronze) return 140;
  return subgroup == Subgroup::copper ? 100 : 0;
}

StarterFactor hardness_factor(MaterialGroup group, std::optional<Subgroup> subgroup, double hardness_hb) {
  StarterFactor f;
  const double usual = usual_hardness_hb(group, subgroup);
  if (!(usual > 0) || !(hardness_hb > usual)) return f;
  f.speed = std::min(1.0, usual / std::min(hardness_hb, std::max(usual, hard_hb)));
  struct Point {
    double hb, speed, feed, depth;
  };
  // 45, 55, 62, 64 and 68 HRC.
  static constexpr Point curve[] = {
      {hard_hb, 1, 1, 1}, {560, 0.65, 0.8, 0.7}, {680, 0.42, 0.65, 0.5}, {720, 0.37, 0.6, 0.45}, {800, 0.3, 0.5, 0.4}};
  if (hardness_hb <= hard_hb) return f;
  const Point* p = curve;
  while (p + 2 != std::end(curve) && p[1].hb < hardness_hb) ++p;
  const double t = std::min(1.0, (hardness_hb - p->hb) / (p[1].hb - p->hb));
  f.speed *= std::lerp(p->speed, p[1].speed, t);
  f.feed = std::lerp(p->feed, p[1].feed, t);
  f.depth = std::lerp(p->depth, p[1].depth, t);
  return f;
}

StarterFactor subgroup_factor(std::optional<Subgroup> subgroup, std::optional<ToolMaterial> tool) {
  if (!subgroup) return {};
  const bool hss = is_hss(tool.value_or(ToolMaterial::hss));
  const auto speed = [&](double with_hss, double with_carbide, double feed) {
    return StarterFactor{hss ? with_hss : with_carbide, feed, 1};
  };
  switch (*subgroup) {
    case Subgroup::aluminium_wrought: break;
    case Subgroup::aluminium_cast: return speed(0.65, 0.65, 0.9);
    case Subgroup::magnesium: return speed(1.1, 1.1, 1);
    case Subgroup::zinc: return speed(0.7, 0.6, 1);
    case Subgroup::copper: return speed(0.6, 0.5, 0.7);
    case Subgroup::brass: return speed(0.7, 0.6, 0.85);
    case Subgroup::brass_free_cutting: return speed(0.9, 0.8, 1);
    case Subgroup::bronze: return speed(0.5, 0.45, 0.75);
    case Subgroup::beryllium_copper: return speed(0.5, 0.6, 0.75);
    case Subgroup::graphite: return speed(0.5, 1, 0.8);
    case Subgroup::titanium: return speed(1.8, 1.8, 1.2);
    case Subgroup::thermoplastic_filled: return speed(0.5, 0.7, 0.9);
    case Subgroup::thermoset: return speed(0.4, 0.6, 0.9);
    case Subgroup::softwood: return speed(1.15, 1.15, 1.1);
    case Subgroup::hardwood: return speed(0.85, 0.9, 0.85);
    case Subgroup::board: return speed(0.4, 0.8, 0.9);
    case Subgroup::gfrp:
    case Subgroup::aramid: return speed(0.8, 0.8, 1);
    case Subgroup::metal_panel: return speed(1.5, 2, 1.2);
    case Subgroup::mineral_filled: return speed(0.8, 1.5, 1.2);
    case Subgroup::tooling_board: return speed(0.8, 0.8, 0.9);
    default: break;
  }
  return {};
}

bool cuts_whole_head(OperationKind operation) {
  return operation == OperationKind::t_slot || operation == OperationKind::dovetail;
}

void fit_engagement(const StarterQuestion& q, double& ap, double& ae) {
  const double d = q.diameter_mm;
  if (cuts_whole_head(q.operation)) {
    if (q.flute_length_mm > 0) ap = q.flute_length_mm;
    ae = d;
    return;
  }
  if (q.kind == CutterKind::fly_cutter) ap = std::clamp(ap, 0.2, q.operation == OperationKind::face ? 0.5 : 0.2);
  if (q.tip_mm > 0 && q.operation != OperationKind::slot) {
    // A small ball on a cone works as a cutter of its own size, and is no wider than where it touches.
    if (q.tip_mm < d) ap *= q.tip_mm / d, ae *= q.tip_mm / d;
    ap = std::min(ap, q.tip_mm / 2);
    ae = std::min(ae, 2 * std::sqrt(ap * (q.tip_mm - ap)));
  }
  const bool metal = q.group <= MaterialGroup::H;
  if (const double small = q.tip_mm > 0 ? q.tip_mm : d; metal && small < 3) {
    const bool tough = q.group == MaterialGroup::S || q.group == MaterialGroup::H;
    const double least = tough ? 0.05 : q.group == MaterialGroup::N ? 0.2 : 0.1;
    ap = std::min(ap, small * std::lerp(least, 1.5, std::clamp((small - 1) / 2, 0.0, 1.0)));
  }
  if (q.flute_length_mm > 0) ap = std::min(ap, q.flute_length_mm);
}

double allowance_mm(OperationKind operation, double d) {
  switch (operation) {
    case OperationKind::ream: return d <= 5 ? 0.15 : d <= 10 ? 0.2 : d <= 20 ? 0.25 : d <= 30 ? 0.3 : 0.4;
    case OperationKind::bore:
    case OperationKind::back_bore: return 0.5;
    default: return 0;
  }
}

namespace {
constexpr double shown_diameters[] = {6, 16};
}

Id starter_row_id(const StarterQuestion& q) {
  const std::uint64_t place = q.diameter_mm > 10 ? 1 : 0;
  return Id{starter_rules_id.high, 1 + (((((static_cast<std::uint64_t>(q.kind) * 64 +
                                            static_cast<std::uint64_t>(q.tool_material.value_or(ToolMaterial::hss))) *
                                               64 +
                                           static_cast<std::uint64_t>(q.group)) *
                                              64 +
                                          static_cast<std::uint64_t>(q.operation)) *
                                         2) +
                                        place)};
}

ConditionTable starter_rules_table() {
  ConditionTable table;
  table.id = starter_rules_id;
  table.name = "Starter rules";
  table.level = TableLevel::starter;
  table.source = "Rules in the lower half of common handbook ranges, from memory; not tried at a machine.";
  for (const CutterKind kind : cutter_kinds())
    for (int o = 0; o < operation_count; ++o) {
      if (!can_do(kind, static_cast<OperationKind>(o)) || static_cast<OperationKind>(o) == tap)
        continue;  // a tap is fed by its pitch
      for (int t = 0; t < static_cast<int>(std::size(speeds)); ++t)
        for (int g = 0; g < material_group_count; ++g)
          for (const double d : shown_diameters) {
            const StarterQuestion q{kind,
                                    static_cast<ToolMaterial>(t),
                                    static_cast<MaterialGroup>(g),
                                    static_cast<OperationKind>(o),
                                    d,
                                    0,
                                    0,
                                    0,
                                    0};
            const auto values = starter_values(q);
            if (!values) continue;
            ConditionRow row;
            row.id = starter_row_id(q);
            row.kind = kind;
            row.tool_material = q.tool_material;
            row.operation = q.operation;
            row.group = q.group;
            row.diameter_mm = d;
            row.vc_m_min = values->vc_m_min;
            row.feed_kind = values->feed_kind;
            row.feed_mm = values->feed_mm;
            if (values->ap_mm) row.ap_per_d = *values->ap_mm / d;
            if (values->ae_mm) row.ae_per_d = *values->ae_mm / d;
            row.plunge_factor = values->plunge_factor;
            row.ramp_factor = values->ramp_factor;
            row.coolant = values->coolant;
            table.rows.push_back(std::move(row));
          }
    }
  return table;
}

}  // namespace pecorra
