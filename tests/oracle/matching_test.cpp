// The one order of sources, found again by a plain search over all rows: no sorting, no ranges, no curves prepared.
// Random tables, cutters and materials; both must come to the same table, speed and feed.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <optional>
#include <random>
#include <tuple>

#include "core/conditions/resolver.h"

using namespace pecorra;

namespace {

struct Answer {
  int table = -1;
  double vc = 0, feed = 0;
  bool beyond = false;
};

// What is asked besides cutter and material.
struct Asked {
  std::optional<DutyClass> duty;
  double ap = not_given, stickout = not_given;
};

bool fits(const ConditionTable& t, const ConditionRow& r, const Cutter& c, const WorkMaterial& m, const Asked& asked) {
  if (r.kind != c.kind || r.operation != OperationKind::side_rough) return false;
  if (r.material.is_null() ? r.group != m.group : r.material != m.id) return false;
  if (r.tool_material && r.tool_material != c.tool_material) return false;
  if (!r.coating.empty() && r.coating != c.coating) return false;
  if (r.flutes && r.flutes != c.flutes) return false;
  if (r.duty && r.duty != asked.duty) return false;
  if (r.holds_ap_per_d && asked.ap > *r.holds_ap_per_d * *c.diameter_mm) return false;
  if (r.holds_length_mm && asked.stickout > *r.holds_length_mm) return false;
  if (t.level == TableLevel::maker && c.no_maker_tables && !(t.maker.empty() && t.series.empty())) return false;
  if (t.level == TableLevel::maker &&
      ((!t.maker.empty() && t.maker != c.maker) || (!t.series.empty() && t.series != c.series)))
    return false;
  if (r.hardness_from_hb || r.hardness_to_hb)
    if (!m.hardness_hb || *m.hardness_hb < r.hardness_from_hb.value_or(0) ||
        *m.hardness_hb > r.hardness_to_hb.value_or(1e9))
      return false;
  return true;
}

// Smaller goes first: level and material, then the narrower key.
auto order(const ConditionTable& t, const ConditionRow& r) {
  const bool named = !r.material.is_null(), maker = t.level == TableLevel::maker;
  const int level = t.level == TableLevel::starter ? (named ? 4 : 5) : (named ? 0 : 2) + (maker ? 1 : 0);
  const double width = r.hardness_from_hb || r.hardness_to_hb
                           ? std::min(999.0, r.hardness_to_hb.value_or(1e9) - r.hardness_from_hb.value_or(0))
                           : 1000;
  return std::tuple(level, static_cast<int>(width), !(maker && !t.series.empty()), !(maker && !t.maker.empty()),
                    r.coating.empty(), !r.tool_material, !r.duty, !r.flutes,
                    r.holds_ap_per_d    ? *r.holds_ap_per_d * 100
                    : r.holds_length_mm ? *r.holds_length_mm / *r.diameter_mm * 100
                                        : 1000.0);
}

std::optional<Answer> search(const std::vector<ConditionTable>& tables, const Cutter& c, const WorkMaterial& m,
                             const Asked& asked) {
  // The best key there is …
  const ConditionTable* table = nullptr;
  const ConditionRow* best = nullptr;
  for (const ConditionTable& t : tables)
    for (const ConditionRow& r : t.rows)
      if (fits(t, r, c, m, asked) && (!best || order(t, r) < order(*table, *best))) table = &t, best = &r;
  if (!best) return std::nullopt;
  // … and the rows of that very key around the diameter.
  const double d = *c.diameter_mm;
  const ConditionRow *below = nullptr, *above = nullptr;
  for (const ConditionRow& r : table->rows) {
    if (!fits(*table, r, c, m, asked) || order(*table, r) != order(*table, *best) ||
        r.hardness_from_hb != best->hardness_from_hb)
      continue;
    if (*r.diameter_mm <= d && (!below || *r.diameter_mm > *below->diameter_mm)) below = &r;
    if (*r.diameter_mm >= d && (!above || *r.diameter_mm < *above->diameter_mm)) above = &r;
  }
  Answer a;
  a.table = static_cast<int>(table - tables.data());
  a.beyond = !below || !above;
  const ConditionRow &lo = below ? *below : *above, &hi = above ? *above : *below;
  const double t = hi.diameter_mm == lo.diameter_mm ? 0 : (d - *lo.diameter_mm) / (*hi.diameter_mm - *lo.diameter_mm);
  a.vc = *lo.vc_m_min + (*hi.vc_m_min - *lo.vc_m_min) * t;
  a.feed = *lo.feed_mm + (*hi.feed_mm - *lo.feed_mm) * t;
  if (!below) a.feed *= d / *above->diameter_mm;  // a smaller cutter bears a smaller chip
  return a;
}

}  // namespace

TEST_CASE("the resolver finds what a plain search over all rows finds") {
  std::mt19937 random(20261125);
  const auto pick = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n)); };
  const char* coatings[] = {"", "AlTiN", "TiN"};
  const char* makers[] = {"", "Heddlemoor", "Carrow"};
  int answers = 0, beyond = 0;
  for (int shop = 0; shop < 60; ++shop) {
    std::vector<ConditionTable> tables;
    // One table of each level, so that no two curves are equal in rank but for their diameters.
    for (int level = 0; level < 3; ++level) {
      ConditionTable t;
      t.id = Id{1, static_cast<std::uint64_t>(level + 1)};
      t.level = static_cast<TableLevel>(level);
      if (t.level == TableLevel::maker) t.maker = makers[pick(3)];
      for (int k = 0; k < 8; ++k) {
        ConditionRow key;
        if (pick(2)) key.material = Id{2, static_cast<std::uint64_t>(pick(2) + 1)};
        key.group = static_cast<MaterialGroup>(pick(2));
        if (pick(2)) key.tool_material = pick(2) ? ToolMaterial::carbide : ToolMaterial::hss;
        key.coating = coatings[pick(3)];
        if (pick(3) == 0) key.flutes = 2 + pick(2) * 2;
        if (pick(4) == 0) key.duty = static_cast<DutyClass>(pick(3));
        if (pick(4) == 0) key.holds_ap_per_d = 0.5 + 0.01 * k;  // each another
        if (pick(3) == 0) key.hardness_from_hb = 200, key.hardness_to_hb = 300;
        for (int n = 0; n <= pick(4); ++n) {
          ConditionRow r = key;
          r.id = Id{3, random() + 1};
          r.diameter_mm = 4 + 2 * n + 7 * k;  // no diameter stands twice
          r.vc_m_min = 50 + pick(100);
          r.feed_mm = 0.01 + 0.001 * pick(50);
          t.rows.push_back(r);
        }
      }
      tables.push_back(t);
    }
    ResolverOptions options;
    options.factors = false;
    const Resolver resolver(tables, options);
    for (int n = 0; n < 60; ++n) {
      Cutter c = proposed_cutter(CutterKind::end_mill, 4 + 0.5 * pick(120));
      c.tool_material = pick(2) ? ToolMaterial::carbide : ToolMaterial::hss;
      c.coating = coatings[pick(3)];
      c.maker = makers[pick(3)];
      c.flutes = 2 + pick(2) * 2;
      WorkMaterial m;
      m.id = Id{2, static_cast<std::uint64_t>(pick(3) + 1)};
      m.group = static_cast<MaterialGroup>(pick(2));
      if (pick(4)) m.hardness_hb = 150 + pick(200);
      Query q;
      q.rounding = {1e-6, 1e-6};
      Asked asked;
      Machine machine;
      if (pick(2)) machine.duty = asked.duty = static_cast<DutyClass>(pick(3));
      if (pick(3)) q.ap_mm = asked.ap = *c.diameter_mm * 0.1 * pick(10) + 0.1;
      c.no_maker_tables = pick(4) == 0;
      const auto expected = search(tables, c, m, asked);
      const Resolution found = resolver.resolve(resolver.key_of(c), resolver.key_of(m), resolver.key_of(machine), q);
      REQUIRE(found.found() == expected.has_value());
      if (!expected) continue;
      ++answers;
      beyond += expected->beyond;
      CHECK(found.table == tables[static_cast<std::size_t>(expected->table)].id);
      CHECK(found.conditions.vc_m_min == Approx(expected->vc).epsilon(1e-6));
      CHECK(found.conditions.fz_mm == Approx(expected->feed).epsilon(1e-6));
      CHECK(found.guess ==
            (expected->beyond || tables[static_cast<std::size_t>(expected->table)].level == TableLevel::starter));
    }
  }
  CHECK(answers > 1500);
  CHECK(beyond > 100);
}
