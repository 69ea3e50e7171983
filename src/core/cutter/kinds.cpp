#include "core/cutter/kinds.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/cutter/kinds/cones.h"
#include "core/cutter/kinds/drills.h"
#include "core/cutter/kinds/end_mills.h"
#include "core/cutter/kinds/faces.h"
#include "core/cutter/kinds/holes.h"
#include "core/cutter/kinds/others.h"
#include "core/cutter/kinds/rounders.h"
#include "core/cutter/kinds/shaft.h"
#include "core/cutter/kinds/threads.h"
#include "core/cutter/kinds/undercutters.h"
#include "core/quantity/print.h"

#include "core/base/check.h"

namespace pecorra {
namespace {

// In the order of CutterKind.
constexpr std::array<const KindDeclaration*, cutter_kind_count> declarations{&end_mill_kind,
                                                                             &bull_nose_kind,
                                                                             &ball_kind,
                                                                             &rougher_kind,
                                                                             &high_feed_kind,
                                                                             &face_mill_kind,
                                                                             &fly_cutter_kind,
                                                                             &tapered_kind,
                                                                             &chamfer_mill_kind,
                                                                             &engraver_kind,
                                                                             &corner_rounding_kind,
                                                                             &t_slot_kind,
                                                                             &dovetail_kind,
                                                                             &undercut_ball_kind,
                                                                             &barrel_kind,
                                                                             &thread_mill_kind,
                                                                             &form_kind,
                                                                             &drill_kind,
                                                                             &spot_drill_kind,
                                                                             &centre_drill_kind,
                                                                             &step_drill_kind,
                                                                             &countersink_kind,
                                                                             &counterbore_kind,
                                                                             &reamer_kind,
                                                                             &tap_kind,
                                                                             &boring_bar_kind,
                                                                             &back_boring_bar_kind,
                                                                             &drag_knife_kind,
                                                                             &probe_kind};

// A ratio of lengths that is 25.4 times off what is usual was almost always typed in the wrong unit.
void check_unit(const Cutter& c, const KindDeclaration& kind, std::vector<Message>& messages) {
  if (!c.diameter_mm || !c.flute_length_mm || kind.flutes_to <= 0) return;
  const double ratio = *c.flute_length_mm / *c.diameter_mm;
  const auto usual = [&](double r) { return r >= kind.flutes_from && r <= kind.flutes_to; };
  if (usual(ratio)) return;
  const Details values{{"ratio", ratio}, {"from", kind.flutes_from}, {"to", kind.flutes_to}};
  if (usual(ratio / mm_per_inch) && !usual(ratio * mm_per_inch))
    messages.push_back(fault(Severity::warning, "diameter_looks_like_inch", "diameter_mm", values));
  else if (usual(ratio * mm_per_inch))
    messages.push_back(fault(Severity::warning, "flutes_look_like_inch", "flute_length_mm", values));
  else messages.push_back(fault(Severity::warning, "flute_length_unusual", "flute_length_mm", values));
}

}  // namespace

const KindDeclaration& declaration(CutterKind kind) { return *declarations[static_cast<std::size_t>(kind)]; }

std::vector<CutterKind> cutter_kinds() {
  std::vector<CutterKind> kinds;
  for (const KindDeclaration* kind : declarations) kinds.push_back(kind->kind);
  return kinds;
}

const ParameterUse* parameter_use(CutterKind kind, std::string_view key) {
  for (const ParameterUse& use : declaration(kind).parameters)
    if (use.key == key) return &use;
  return nullptr;
}

double round_proposal(double value_mm, UnitSystem units) {
  if (is_inch(units)) {
    const double inches = value_mm / mm_per_inch;
    const double step = inches >= 0.5 ? 1.0 / 16 : inches >= 0.125 ? 1.0 / 32 : inches >= 0.02 ? 0.005 : 0.0005;
    return std::round(std::round(inches / step) * step * mm_per_inch * 1e6) / 1e6;
  }
  const double step = value_mm >= 5 ? 0.5 : value_mm >= 1 ? 0.1 : value_mm >= 0.1 ? 0.01 : 0.001;
  return std::round(std::round(value_mm / step) * step * 1e6) / 1e6;
}

Cutter proposed_cutter(CutterKind kind, double diameter_mm, UnitSystem units) {
  Cutter cutter;
  cutter.kind = kind;
  cutter.tool_material = ToolMaterial::carbide;
  for (const ParameterUse& use : declaration(kind).parameters) {
    const double value = use.per_diameter * diameter_mm + use.fixed;
    if (value <= 0) continue;
    const Property<Cutter>& property = *find_property<Cutter>(use.key);
    const bool whole = use.per_diameter == 0 || use.per_diameter == 1;
    property.set(cutter, whole || property.quantity != Quantity::length ? value : round_proposal(value, units));
  }
  if (const auto propose = declaration(kind).propose) propose(cutter);
  return cutter;
}

std::vector<Message> check_cutter(const Cutter& cutter) {
  std::vector<Message> messages;
  const KindDeclaration& kind = declaration(cutter.kind);
  for (const Property<Cutter>& property : size_properties()) {
    const auto number = number_of(cutter, property);
    if (!number) {
      const ParameterUse* use = parameter_use(cutter.kind, property.key);
      if (use && use->required) messages.push_back(fault(Severity::error, "missing", std::string(property.key), {}));
    } else {
      check_range(property, *number, messages);
    }
  }
  if (!cutter.tool_material && kind.operations != 0)
    messages.push_back(fault(Severity::warning, "tool_material_missing", "tool_material", {}));
  if (has_error(messages)) return messages;
  if (kind.check) kind.check(cutter, messages);
  check_unit(cutter, kind, messages);
  return messages;
}

bool is_open(const Cutter& cutter, const Message& m) {
  return m.severity == Severity::warning && !cutter.accepted.contains(m.code);
}

std::vector<Message> open_warnings(const Cutter& cutter) {
  std::vector<Message> messages = check_cutter(cutter);
  std::erase_if(messages, [&](const Message& m) { return !is_open(cutter, m); });
  return messages;
}

bool to_look_at(const Cutter& cutter) {
  if (!cutter.guesses.empty()) return true;
  const std::vector<Message> messages = check_cutter(cutter);
  return std::any_of(messages.begin(), messages.end(),
                     [&](const Message& m) { return m.severity == Severity::error || is_open(cutter, m); });
}

Profile silhouette(const Cutter& cutter) {
  const KindDeclaration& kind = declaration(cutter.kind);
  if (!kind.silhouette || has_error(check_cutter(cutter))) return {};
  return kind.silhouette(cutter);
}

std::string size_text(const Cutter& c, UnitSystem units) {
  if (!c.diameter_mm) return {};
  std::string text = "Ø" + shown(*c.diameter_mm, Quantity::length, units);
  if (c.flute_length_mm) text += " × " + shown(*c.flute_length_mm, Quantity::length, units);
  return text;
}

int effective_teeth(const Cutter& c) { return declaration(c.kind).operations == 0 ? 0 : c.flutes.value_or(0); }

std::optional<double> half_angle_deg(const Cutter& c) {
  if (c.taper_half_angle_deg) return c.taper_half_angle_deg;
  if (c.point_angle_deg) return *c.point_angle_deg / 2;
  if (c.cutting_edge_angle_deg) return 90 - *c.cutting_edge_angle_deg;
  return std::nullopt;
}

std::optional<double> edge_angle_deg(const Cutter& c) {
  switch (declaration(c.kind).form) {
    case CuttingForm::cone:
      if (const auto half = half_angle_deg(c)) return 90 - *half;
      return std::nullopt;
    case CuttingForm::point:
      if (c.point_angle_deg) return *c.point_angle_deg / 2;
      return c.cutting_edge_angle_deg;
    default: return c.cutting_edge_angle_deg.value_or(90);
  }
}

bool cuts_to_centre(const Cutter& c) {
  if (c.centre_cut) return *c.centre_cut == CentreCut::yes;
  switch (c.kind) {
    case CutterKind::face_mill:
    case CutterKind::high_feed:
    case CutterKind::fly_cutter:
    case CutterKind::t_slot:
    case CutterKind::dovetail:
    case CutterKind::thread_mill:
    case CutterKind::reamer:
    case CutterKind::boring_bar:
    case CutterKind::back_boring_bar: return false;
    default: break;
  }
  const bool mills = c.kind == CutterKind::end_mill || c.kind == CutterKind::bull_nose || c.kind == CutterKind::rougher;
  return !(mills && c.tool_material == ToolMaterial::carbide_insert);
}

double plunge_reach_mm(const Cutter& c) { return c.diameter_mm.value_or(0) / 5; }

std::optional<MadeFor> made_for(const Cutter& c) {
  if (c.made_for) return c.made_for;
  if (c.edge_direction == EdgeDirection::down || c.edge_direction == EdgeDirection::compression)
    return MadeFor::wood_plastics;
  return std::nullopt;
}

}  // namespace pecorra
