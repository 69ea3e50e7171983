// Names by a pattern that the shop can write itself.
#include <catch2/catch.hpp>

#include <random>

#include "core/cutter/kinds.h"
#include "core/cutter/name_pattern.h"

using namespace pecorra;

namespace {

std::string by(std::string_view pattern, const Cutter& c) {
  const auto name = name_by_pattern(pattern, c);
  return name ? *name : "fault at " + std::to_string(name.error().place) + ": " + name.error().text;
}

}  // namespace

TEST_CASE("properties by symbol, key or label; parts that say nothing are left out") {
  Cutter c = proposed_cutter(CutterKind::bull_nose, 12);
  c.corner_radius_mm = 1;
  c.flute_length_mm = 26;
  c.flutes = 4;
  c.maker = "Heddlemoor";
  CHECK(by("{kind} R{RE} Ø{DC} × {LCF}", c) == "Bull-nose end mill R1 Ø12 × 26");
  CHECK(by("D{diameter_mm} Z{flutes} {Made of}", c) == "D12 Z4 Carbide");
  CHECK(by("{diameter} {Corner radius} {flute length}", c) == "12 1 26");
  CHECK(by("[{order code} ]{maker}[ {series}]", c) == "Heddlemoor");
  c.series = "Swift";
  CHECK(by("[{order code} ]{maker}[ {series}]", c) == "Heddlemoor Swift");
  CHECK(by("Ø{DC}[ R{RE}[ {series}]]", c) == "Ø12 R1 Swift");
  c.corner_radius_mm = 0;
  CHECK(by("Ø{DC}[ R{RE}[ {series}]]", c) == "Ø12");
  CHECK(by("\\[{NOF}\\] {series}   {link}  end", c) == "[4] Swift end");
  c.through_coolant = true;
  CHECK(by("{DC}[, {through coolant}]", c) == "12, Coolant through");
  // In the unit it was bought in.
  c.unit = UnitSystem::inch;
  c.diameter_mm = 12.7;
  CHECK(by("{DC}\"", c) == "0.5\"");
}

TEST_CASE("a faulty pattern says where and what would be right; names then go by the usual one") {
  const Cutter c = proposed_cutter(CutterKind::end_mill, 10);
  CHECK(by("Ø{DC", c).find("fault at 2: this brace is not closed") == 0);
  CHECK(by("× {colour}", c).find("fault at 3: “colour” is not a property of a cutter") == 0);
  CHECK(by("{DC}]", c).find("fault at 5: this bracket was not opened") == 0);
  CHECK(by("a[b[c]", c).find("fault at 2: this bracket is not closed") == 0);
  CHECK(by("a}", c).find("fault at 2") == 0);
  CHECK(by("{}", c).find("fault at 1") == 0);
  CHECK(by("{library}", c).find("fault at 1") == 0);
  CHECK(suggested_name(c, "{colour}") == suggested_name(c));
  CHECK(suggested_name(c, "") == suggested_name(c));
  CHECK(suggested_name(c, "[{series}]") == suggested_name(c));  // a name is never empty
}

TEST_CASE("any text is a pattern or a fault, and never anything worse") {
  std::mt19937 random(3);
  const Cutter c = proposed_cutter(CutterKind::drill, 6.8);
  const std::string_view pieces[] = {"{", "}", "[",    "]",      "\\",   "DC",      "kind",
                                     " ", "Ø", "{DC}", "[{RE}]", "\xff", "{flutes}"};
  for (int i = 0; i < 20000; ++i) {
    std::string pattern;
    for (unsigned k = random() % 12; k > 0; --k) pattern += pieces[random() % std::size(pieces)];
    const auto name = name_by_pattern(pattern, c);
    if (!name) CHECK((name.error().place >= 1 && name.error().place <= static_cast<int>(pattern.size()) + 1));
  }
  CHECK_FALSE(name_by_pattern(std::string(5000, '['), c).has_value());
}
