// Hardness scales against each other, and typed in any of them.
#include <catch2/catch.hpp>

#include "core/material/hardness.h"
#include "core/material/work_material.h"
#include "core/quantity/entry.h"

using namespace pecorra;

// ISO 18265, table A.1, from memory.
TEST_CASE("points of ISO 18265: HV, HB, HRC and tensile strength") {
  struct Known {
    double rm, hv, hb, hrc;
  };
  for (const Known& k : {Known{320, 100, 95, 0},
                         {480, 150, 143, 0},
                         {640, 200, 190, 0},
                         {800, 250, 238, 22.2},
                         {965, 300, 285, 29.8},
                         {1125, 350, 333, 35.5},
                         {1290, 400, 380, 40.8},
                         {1455, 450, 428, 45.3},
                         {1630, 500, 475, 49.1},
                         {1995, 600, 570, 55.2},
                         {2180, 650, 618, 57.8}}) {
    CHECK(*convert_hardness(k.hv, HardnessScale::hv, HardnessScale::hb) == Approx(k.hb));
    CHECK(*convert_hardness(k.hb, HardnessScale::hb, HardnessScale::rm) == Approx(k.rm));
    CHECK(*convert_hardness(k.rm, HardnessScale::rm, HardnessScale::hv) == Approx(k.hv));
    if (k.hrc > 0) {
      CHECK(*convert_hardness(k.hrc, HardnessScale::hrc, HardnessScale::hv) == Approx(k.hv));
      CHECK(*convert_hardness(k.hb, HardnessScale::hb, HardnessScale::hrc) == Approx(k.hrc));
    } else {
      CHECK_FALSE(convert_hardness(k.hv, HardnessScale::hv, HardnessScale::hrc).has_value());
    }
  }
  CHECK(*convert_hardness(700, HardnessScale::hv, HardnessScale::hrc) == Approx(60.1));
  CHECK(*convert_hardness(800, HardnessScale::hv, HardnessScale::hrc) == Approx(64.0));
}

TEST_CASE("every scale rises with every other, there and back is the same, and nothing is invented outside the table") {
  for (const HardnessScale from : {HardnessScale::hb, HardnessScale::hv, HardnessScale::hrc, HardnessScale::rm})
    for (const HardnessScale to : {HardnessScale::hb, HardnessScale::hv, HardnessScale::hrc, HardnessScale::rm}) {
      const auto [low, high] = hardness_range(from);
      double last = -1;
      for (int i = 0; i <= 200; ++i) {
        const double value = low + (high - low) * i / 200;
        const auto there = convert_hardness(value, from, to);
        if (!there) continue;
        CHECK(*there > last);
        last = *there;
        CHECK(*convert_hardness(*there, to, from) == Approx(value).epsilon(1e-9));
      }
      CHECK_FALSE(convert_hardness(low - 1, from, to).has_value());
      CHECK_FALSE(convert_hardness(high * 1.5, from, to).has_value());
    }
}

TEST_CASE("a hardness is typed in any scale; outside the table it is refused with the range") {
  const auto hb = [](const char* text) {
    const auto entry = parse_entry(text, Quantity::hardness, UnitSystem::metric);
    INFO(text);
    REQUIRE(entry.has_value());
    return entry->stored;
  };
  CHECK(hb("300") == 300);
  CHECK(hb("300 HB") == 300);
  CHECK(hb("285HBW") == 285);
  CHECK(hb("300 HV") == Approx(285));
  CHECK(hb("300 HV10") == Approx(285));
  CHECK(hb("40,8 HRC") == Approx(380));
  CHECK(hb("Rm 800") == Approx(238));
  CHECK(hb("800 N/mm²") == Approx(238));
  CHECK(hb("Rm 800 MPa") == Approx(238));
  CHECK(parse_entry("55.2 HRC", Quantity::hardness, UnitSystem::metric)->understood == "= 570 HB");
  const auto beyond = parse_entry("75 HRC", Quantity::hardness, UnitSystem::metric);
  REQUIRE_FALSE(beyond.has_value());
  CHECK(beyond.error().text == "75 HRC is outside the table of ISO 18265; 20.3 to 68 can be converted");
  for (const char* text : {"hard", "30 HRB", "", "12 mm HV"})
    CHECK_FALSE(parse_entry(text, Quantity::hardness, UnitSystem::metric).has_value());
}

TEST_CASE("a material says what does not go together, and is found by any of its names") {
  WorkMaterial m;
  m.name = "42CrMo4 +QT";
  m.designations = "1.7225, AISI 4140";
  m.group = MaterialGroup::P;
  m.hardness_hb = 300;
  m.hardness_from_hb = 265;
  m.hardness_to_hb = 330;
  m.strength_n_mm2 = 1000;
  m.kc11_n_mm2 = 2500;
  m.mc = 0.26;
  CHECK(check_material(m).empty());
  m.hardness_hb = 380;
  REQUIRE(check_material(m).size() == 1);
  CHECK(check_material(m)[0].code == "usual_outside_range");
  m.hardness_from_hb = 400;
  CHECK(check_material(m)[0].code == "values_reversed");
  m.hardness_from_hb = m.hardness_to_hb = std::nullopt;
  m.hardness_hb = 500;  // 1720 N/mm² by ISO 18265
  CHECK(check_material(m)[0].code == "hardness_not_of_strength");
  m.hardness_hb.reset();
  m.mc.reset();
  CHECK(check_material(m)[0].code == "force_half_known");
  for (const char* name : {"42crmo4 +qt", "42CrMo4+QT", "1.7225", "17225", "aisi4140", "AISI 4140"})
    CHECK(is_called(m, name));
  for (const char* name : {"", "42CrMo", "4140", "1.722"}) CHECK_FALSE(is_called(m, name));
}
