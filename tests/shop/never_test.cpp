// What must never be done, and which coolants a material bears, over the whole grid of the demo. The facts are common
// practice, no source; they are written down here a second time, apart from data/never.json.
#include <catch2/catch.hpp>

#include "core/cutter/kinds.h"
#include "core/material/hazard.h"
#include "core/never/never_rule.h"
#include "demo_copy.h"
#include "shop/evaluation.h"
#include "shop/words.h"

using namespace pecorra;

namespace {

bool is_wet(Coolant c) { return c != Coolant::off && c != Coolant::air && c != Coolant::through_air; }
bool is_hss(const Cutter& c) {
  return c.tool_material == ToolMaterial::hss || c.tool_material == ToolMaterial::hss_co ||
         c.tool_material == ToolMaterial::hss_pm;
}
bool starts(const std::string& text, const char* with) { return text.rfind(with, 0) == 0; }

// By names and groups alone, as a machinist would say it.
bool is_forbidden(const Cutter& c, const WorkMaterial& m) {
  using enum MaterialGroup;
  const bool metal_with_iron = m.group == P || m.group == M || m.group == K || m.group == H,
             titanium = starts(m.name, "Ti"), nickel = m.group == S && !titanium;
  if (c.kind == CutterKind::tap && c.tap_form == TapForm::form &&
      (m.group == K || m.group == H || m.group == wood || m.group == composite || m.group == foam ||
       m.name == "CuZn39Pb3" || starts(m.name, "Graphite") || m.name == "HPL" || starts(m.name, "PF ")))
    return true;
  if (is_hss(c) && m.hardness_hb && *m.hardness_hb > 490) return true;
  if (c.kind == CutterKind::tap && is_hss(c) && m.hardness_hb && *m.hardness_hb > 450) return true;
  if (c.tool_material == ToolMaterial::ceramic && (titanium || m.group == N || m.group == wood)) return true;
  if ((c.tool_material == ToolMaterial::pcd || c.coating == "Diamond (CVD)") && (metal_with_iron || nickel))
    return true;
  return c.made_for == MadeFor::wood_plastics && (metal_with_iron || m.group == S);
}

Cutter made(CutterKind kind, double diameter_mm, ToolMaterial of, std::uint64_t id) {
  Cutter c = proposed_cutter(kind, diameter_mm);
  c.id = Id{77, id};
  c.tool_material = of;
  return c;
}

// The demo's cutters and those that the list is about.
ShopState grid() {
  ShopState s = the_demo();
  Cutter former = made(CutterKind::tap, 8, ToolMaterial::hss_pm, 1);
  former.tap_form = TapForm::form;
  s.cutters.put(former);
  s.cutters.put(made(CutterKind::end_mill, 12, ToolMaterial::ceramic, 2));
  s.cutters.put(made(CutterKind::end_mill, 12, ToolMaterial::pcd, 3));
  Cutter diamond = made(CutterKind::end_mill, 6, ToolMaterial::carbide, 4);
  diamond.coating = "Diamond (CVD)";
  s.cutters.put(diamond);
  Cutter router = made(CutterKind::end_mill, 6, ToolMaterial::carbide, 5);
  router.made_for = MadeFor::wood_plastics;
  s.cutters.put(router);
  return s;
}

Evaluation asked(const ShopState& s, const Cutter& c, const char* material, OperationKind operation,
                 double ae_mm = not_given) {
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  Query query;
  query.operation = operation;
  query.ae_mm = ae_mm;
  return evaluate(s, resolver, c, *s.materials.named(material), s.machines[0], query, nullptr);
}

}  // namespace

TEST_CASE("what must never be done has no answer, and no coolant is used that the material does not bear",
          "[whole_grid]") {
  const ShopState s = grid();
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  int forbidden = 0, answered = 0, wrong_coolant = 0;
  for (const Machine& machine : s.machines) {
    const MachineKey on = resolver.key_of(machine);
    for (const Cutter& c : s.cutters) {
      const CutterKey cutter = key_as_used(s, resolver, c);
      for (const WorkMaterial& m : s.materials) {
        const MaterialKey material = resolver.key_of(m);
        for (int k = 0; k < operation_count; ++k) {
          Query query;
          query.operation = static_cast<OperationKind>(k);
          const Resolution r = resolver.resolve(cutter, material, on, query);
          if (is_forbidden(c, m)) {
            ++forbidden;
            if (r.found() || (r.reason != NoAnswer::never && r.reason != NoAnswer::cannot_do &&
                              r.reason != NoAnswer::draft && r.reason != NoAnswer::no_speed))
              FAIL_CHECK(c.name << " in " << m.name << ", " << label_of(query.operation));
          }
          if (!r.found()) continue;
          ++answered;
          const bool dry = m.name == "AZ91" || starts(m.name, "Graphite") || m.group == MaterialGroup::wood ||
                           m.group == MaterialGroup::foam || starts(m.name, "CFRP") || starts(m.name, "GFRP") ||
                           c.tool_material == ToolMaterial::ceramic;
          const Coolant used = r.conditions.coolant;
          const bool fine = !(dry && is_wet(used) && !(m.name == "AZ91" && used == Coolant::mist_oil)) &&
                            !((m.name == "PMMA" || m.name == "PC") && is_wet(used) && used != Coolant::mist);
          wrong_coolant += fine ? 0 : 1;
        }
      }
    }
  }
  CHECK(forbidden > 10000);
  CHECK(answered > 100000);
  CHECK(wrong_coolant == 0);
}

TEST_CASE("a never names its reason and what would do instead; a warning answers") {
  const ShopState s = grid();
  const Cutter& former = *s.cutters.find(Id{77, 1});
  const Evaluation iron = asked(s, former, "EN-GJL-250", OperationKind::tap);
  CHECK(iron.resolution.reason == NoAnswer::never);
  REQUIRE(!iron.trail.empty());
  const QString text = sentence(iron.trail.back(), UnitSystem::metric);
  CHECK(text.startsWith("Never: Forming taps in cast iron"));
  CHECK(text.contains("Instead: use a cutting tap"));
  CHECK(asked(s, former, "C45", OperationKind::tap).resolution.reason != NoAnswer::never);

  Cutter coated = made(CutterKind::end_mill, 10, ToolMaterial::carbide, 9);
  coated.coating = "AlTiN";
  const Evaluation warned = asked(s, coated, "EN AW-6082", OperationKind::side_rough);
  CHECK(warned.resolution.found());
  bool said = false;
  for (const Message& m : warned.cut.messages)
    said = said || (m.code == "never_warning" && m.severity == Severity::warning);
  CHECK(said);
}

TEST_CASE("plunging without cutting to the centre: only in steps within the reach of the edges") {
  const ShopState s = grid();
  Cutter body = made(CutterKind::bull_nose, 25, ToolMaterial::carbide_insert, 10);
  REQUIRE(declaration(body.kind).operations & bit(OperationKind::plunge));
  CHECK_FALSE(cuts_to_centre(body));
  CHECK(asked(s, body, "C45", OperationKind::plunge).resolution.reason == NoAnswer::never);
  CHECK(asked(s, body, "C45", OperationKind::plunge, 10).resolution.reason == NoAnswer::never);
  CHECK(asked(s, body, "C45", OperationKind::plunge, 5).resolution.reason != NoAnswer::never);
  body.centre_cut = CentreCut::yes;
  CHECK(asked(s, body, "C45", OperationKind::plunge).resolution.reason != NoAnswer::never);
}

TEST_CASE("a recipe for any material is a guess in another group, and says nothing of what is far") {
  ShopState s = grid();
  const Cutter& cutter = *s.cutter_numbered(s.libraries[0].id, 219);
  Recipe r;
  r.id = Id{77, 20};
  r.cutter = cutter.id;
  r.kind = cutter.kind;
  r.name = "anywhere";
  r.operation = OperationKind::side_rough;
  r.group = MaterialGroup::P;
  r.vc_m_min = 100;
  r.feed_mm = 0.05;
  r.coolant = Coolant::flood;
  for (const std::size_t i : s.recipes.of_cutter(cutter.id)) {
    Recipe other = s.recipes[i];
    other.operation = OperationKind::engrave;
    s.recipes.put(other);
  }
  s.recipes.put(r);
  const auto source = [&](const char* material) {
    const Resolution out = asked(s, cutter, material, OperationKind::side_rough).resolution;
    return std::pair(out.source == SourceKind::recipe, out.guess);
  };
  CHECK(source("C45") == std::pair(true, false));
  CHECK(source("EN-GJL-250") == std::pair(true, true));
  CHECK_FALSE(source("Beech").first);
  CHECK_FALSE(source("100Cr6 62 HRC").first);
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  Query query;
  query.recipe = resolver.recipe_place(r.id);
  REQUIRE(query.recipe >= 0);
  const Evaluation far = evaluate(s, resolver, cutter, *s.materials.named("Beech"), s.machines[0], query, nullptr);
  CHECK_FALSE(far.resolution.found());

  // A recipe for magnesium that asks for flood: never used, and both are named.
  r.material = s.materials.named("AZ91")->id;
  r.group = MaterialGroup::N;
  s.recipes.put(r);
  const Evaluation fire = asked(s, cutter, "AZ91", OperationKind::side_rough);
  CHECK(fire.resolution.source == SourceKind::recipe);
  CHECK_FALSE(is_wet(fire.resolution.conditions.coolant));
  bool named = false;
  for (const Message& m : fire.cut.messages)
    if (m.code == "hazard_coolant") {
      const QString text = sentence(m, UnitSystem::metric);
      named = m.severity == Severity::error && text.contains("anywhere") && text.contains("burns");
    }
  CHECK(named);
}

TEST_CASE("a shop adds rules of its own and softens a shipped one; a rule in error forbids nothing") {
  ShopState s = grid();
  const Cutter& cutter = *s.cutter_numbered(s.libraries[0].id, 219);
  CHECK(asked(s, cutter, "C45", OperationKind::slot).resolution.found());
  NeverRule own;
  own.id = Id{77, 30};
  own.name = "Slots with the long cutters";
  own.kind = CutterKind::end_mill;
  own.operation = OperationKind::slot;
  own.why = "they chatter in our vices";
  s.never_rules.put(own);
  CHECK(asked(s, cutter, "C45", OperationKind::slot).resolution.reason == NoAnswer::never);
  CHECK(asked(s, cutter, "C45", OperationKind::side_rough).resolution.found());
  own.operation.reset();  // it would forbid every end mill
  REQUIRE(has_error(check_never_rule(own)));
  s.never_rules.put(own);
  CHECK(asked(s, cutter, "C45", OperationKind::slot).resolution.found());

  const Cutter& former = *s.cutters.find(Id{77, 1});
  for (NeverRule rule : shipped_never_rules())
    if (rule.name == "Forming taps in cast iron") {
      rule.verdict = Verdict::warning;
      s.never_rules.put(rule);
    }
  CHECK(asked(s, former, "EN-GJL-250", OperationKind::tap).resolution.reason != NoAnswer::never);
  // A shop from before has no rules of its own: the shipped ones hold.
  ShopState before = grid();
  std::vector<Id> all;
  for (const NeverRule& rule : before.never_rules) all.push_back(rule.id);
  for (const Id& id : all) before.never_rules.remove(id);
  CHECK(asked(before, former, "EN-GJL-250", OperationKind::tap).resolution.reason == NoAnswer::never);
}

TEST_CASE("every shipped rule is in order, and every shipped material of a dangerous kind says so with its source") {
  for (const NeverRule& rule : shipped_never_rules()) {
    INFO(rule.name);
    CHECK(check_never_rule(rule).empty());
    CHECK_FALSE(rule.source.empty());
    CHECK_FALSE(rule.instead.empty());
  }
  CHECK(shipped_never_rules().size() <= NeverRules::most / 2);
  const ShopState& s = the_demo();
  for (const WorkMaterial& m : s.materials) {
    INFO(m.name);
    CHECK(m.hazard.has_value() == !m.hazard_source.empty());
    const bool expected = m.group == MaterialGroup::wood || m.group == MaterialGroup::foam || m.name == "AZ91" ||
                          m.name == "CuBe2" || starts(m.name, "Ti") || starts(m.name, "Graphite") ||
                          starts(m.name, "CFRP") || starts(m.name, "GFRP") || m.name == "PMMA" || m.name == "PC";
    if (expected) CHECK(hazard_of(m) != Hazard::none);
    if (m.group == MaterialGroup::P || m.group == MaterialGroup::M || m.group == MaterialGroup::K)
      CHECK(hazard_of(m) == Hazard::none);
    if (m.group == MaterialGroup::N || m.group == MaterialGroup::S || m.group > MaterialGroup::H)
      CHECK(subgroup_of(m).has_value());
  }
}
