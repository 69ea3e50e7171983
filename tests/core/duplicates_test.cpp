// Cutters that are probably one: found against plain comparison of all with all, and not found where something differs.
#include <catch2/catch.hpp>

#include <random>
#include <set>

#include "../support/random_cutters.h"
#include "core/cutter/duplicates.h"
#include "core/cutter/kinds.h"

using namespace pecorra;

namespace {

Cutter named(CutterKind kind, double d, const char* id) {
  Cutter c = proposed_cutter(kind, d);
  c.id = Id::from_name(id);
  return c;
}

}  // namespace

TEST_CASE("the same sizes within tolerance are alike; another size, kind, number of flutes or material is not") {
  const Cutter a = named(CutterKind::end_mill, 12, "a");
  Cutter b = named(CutterKind::end_mill, 12, "b");
  CHECK(likeness(a, b) == Likeness::sizes);
  b.diameter_mm = 12.05;  // within 0.5 %
  CHECK(likeness(a, b) == Likeness::sizes);
  b.diameter_mm = 12.1;
  CHECK_FALSE(likeness(a, b));
  b = named(CutterKind::end_mill, 12, "b");
  b.reach_mm.reset();  // only one states it
  CHECK(likeness(a, b) == Likeness::sizes);
  b.overall_length_mm = 100;
  CHECK_FALSE(likeness(a, b));
  b = named(CutterKind::end_mill, 12, "b");
  b.flutes = 3;
  CHECK_FALSE(likeness(a, b));
  b = named(CutterKind::end_mill, 12, "b");
  b.tool_material = ToolMaterial::hss;
  CHECK_FALSE(likeness(a, b));
  b.tool_material.reset();
  CHECK(likeness(a, b) == Likeness::sizes);
  b.kind = CutterKind::rougher;
  CHECK_FALSE(likeness(a, b));
  Cutter tap = named(CutterKind::tap, 8, "t"), other = named(CutterKind::tap, 8, "u");
  tap.thread = "M8";
  other.thread = "M8x1";
  CHECK_FALSE(likeness(tap, other));
}

TEST_CASE("the same maker and order code is the same thing to buy, whatever its sizes say; told apart it stays apart") {
  Cutter a = named(CutterKind::end_mill, 12, "a"), b = named(CutterKind::ball, 6, "b");
  a.maker = b.maker = "Heddlemoor";
  a.order_code = "HS-1214";
  CHECK_FALSE(likeness(a, b));
  b.order_code = "HS-1214";
  CHECK(likeness(a, b) == Likeness::order_code);
  b.maker = "Carrow";
  CHECK_FALSE(likeness(a, b));
  b.maker = "Heddlemoor";
  b.accepted[told_apart_key(a.id)] = "misprint in the catalogue";
  CHECK_FALSE(likeness(a, b));
  CHECK_FALSE(likeness(b, a));
}

TEST_CASE("the list of pairs is what comparing all with all gives") {
  std::mt19937 random(11);
  std::vector<Cutter> cutters;
  const CutterKind kinds[] = {CutterKind::end_mill, CutterKind::drill, CutterKind::ball, CutterKind::tap,
                              CutterKind::form};
  for (int i = 0; i < 400; ++i) {
    Cutter c =
        i % 3 == 0 ? random_cutter(kinds[i % 5], random) : proposed_cutter(kinds[i % 5], 3 + (random() % 40) * 0.25);
    if (i % 7 == 0 && c.diameter_mm) *c.diameter_mm *= 1.003;
    c.id = Id::from_name("c" + std::to_string(i));
    if (i % 11 == 0) {
      c.maker = "Carrow";
      c.order_code = "X" + std::to_string(i % 5);
    }
    cutters.push_back(c);
  }
  std::set<std::pair<std::size_t, std::size_t>> expected;
  for (std::size_t i = 0; i < cutters.size(); ++i)
    for (std::size_t j = i + 1; j < cutters.size(); ++j)
      if (likeness(cutters[i], cutters[j]) || likeness(cutters[j], cutters[i])) expected.insert({i, j});
  std::set<std::pair<std::size_t, std::size_t>> found;
  for (const LikePair& p : like_pairs(cutters)) CHECK(found.insert({p.first, p.second}).second);
  CHECK(expected.size() > 50);
  CHECK(found == expected);
}
