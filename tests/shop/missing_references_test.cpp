#include "shop/missing_references.h"

#include <catch2/catch.hpp>

#include "demo_copy.h"

using namespace pecorra;

TEST_CASE("what refers to something that is gone is found, whatever it is") {
  ShopState s = the_demo();
  CHECK(missing_references(s).empty());
  const Id away{0xdead, 0xbeef};
  Assembly a = s.assemblies[0];
  a.holder = a.collet = away;
  s.assemblies.put(a);
  Cutter c = s.cutters[1];
  c.library = c.insert = away;
  s.cutters.put(c);
  Recipe r = s.recipes[0];
  r.cutter = away;
  s.recipes.put(r);
  ConditionTable t = s.tables[0];
  t.rows[2].material = away;
  s.tables.put(t);
  JobHead j = s.jobs[0];
  j.machine = j.material = away;
  s.jobs.put(j);
  NumberBlock b = s.number_blocks[0];
  b.library = away;
  s.number_blocks.put(b);
  const auto missing = missing_references(s);
  const auto has = [&](const Id& object, const char* key, ObjectKind wanted) {
    return std::any_of(missing.begin(), missing.end(), [&](const MissingReference& m) {
      return m.object == object && m.key == key && m.wanted == wanted;
    });
  };
  CHECK(has(a.id, "holder", ObjectKind::holder));
  CHECK(has(a.id, "collet", ObjectKind::collet));
  CHECK(has(c.id, "library", ObjectKind::library));
  CHECK(has(c.id, "insert", ObjectKind::insert));
  CHECK(has(r.id, "cutter", ObjectKind::cutter));
  CHECK(has(t.id, "material", ObjectKind::material));
  CHECK(has(j.id, "machine", ObjectKind::machine));
  CHECK(has(j.id, "material", ObjectKind::material));
  CHECK(has(b.id, "library", ObjectKind::library));
  CHECK(missing.size() == 9);
  for (const MissingReference& m : missing) {
    CHECK_FALSE(m.name.empty());
    CHECK(missing_text(m).startsWith("Its "));
  }
}
