// Stepped cantilevers against CalculiX, a general finite-element program (tests/data/beam/make_samples.py), and against
// closed forms: F·L³/(3·E·I) and 1.8751²/(2π·L²)·√(E·I/(ρ·A)), as any text on vibrations has them.
#include <catch2/catch.hpp>
#include <cmath>
#include <fstream>
#include <numbers>
#include <sstream>

#include "core/cutter/kinds.h"
#include "core/mechanics/beam.h"

using namespace pecorra;

namespace {

using std::numbers::pi;

}  // namespace

TEST_CASE("deflection within 1 % and frequency within 3 % of a finite-element program, for stepped assemblies") {
  std::ifstream file(PECORRA_TEST_DATA "/beam/stepped.expected");
  REQUIRE(file);
  std::string line;
  int beams = 0;
  while (std::getline(file, line)) {
    std::istringstream parts(line);
    std::string name, sections, deflection, frequency;
    std::getline(parts, name, ';');
    std::getline(parts, sections, ';');
    std::getline(parts, deflection, ';');
    std::getline(parts, frequency, ';');
    std::vector<BeamSection> beam;
    std::istringstream words(sections);
    BeamSection s;
    char slash = 0;
    while (words >> s.length_mm >> slash >> s.diameter_mm >> slash >> s.youngs_modulus_n_mm2 >> slash >>
           s.density_g_cm3)
      beam.push_back(s);
    INFO(name);
    REQUIRE_FALSE(beam.empty());
    CHECK(tip_deflection_mm(beam, 100, 0) == Approx(std::stod(deflection)).epsilon(0.01));
    CHECK(first_mode(beam).frequency_hz == Approx(std::stod(frequency)).epsilon(0.03));
    ++beams;
  }
  CHECK(beams == 6);
}

TEST_CASE("a plain cantilever is the one in the books") {
  const double l = 50, d = 10, e = 600e3, rho = 14.5, i = pi / 64 * std::pow(d, 4), area = pi / 4 * d * d;
  const std::vector<BeamSection> whole{{l, d, e, rho}}, pieces{{10, d, e, rho}, {15, d, e, rho}, {25, d, e, rho}};
  for (const auto& beam : {whole, pieces}) {
    CHECK(tip_deflection_mm(beam, 200, 0) == Approx(200 * l * l * l / (3 * e * i)));
    CHECK(tip_stiffness_n_mm(beam) == Approx(3 * e * i / (l * l * l)));
    // A load at a from the tip: F·(L−a)²·(2L+a)/(6EI) at the tip.
    CHECK(tip_deflection_mm(beam, 200, 8) == Approx(200 * 42 * 42 * (2 * l + 8) / (6 * e * i)));
    // Units: N/mm² and g/cm³ give √(10¹²) mm²/s².
    CHECK(first_mode(beam).frequency_hz ==
          Approx(1.875104 * 1.875104 / (2 * pi * l * l) * std::sqrt(e * i / (rho * 1e-9 * area))).epsilon(1e-4));
  }
  // Half a diameter more of stick-out matters: 10 % more is 33 % more deflection.
  CHECK(tip_deflection_mm({{55, d, e, rho}}, 1, 0) / tip_deflection_mm({{50, d, e, rho}}, 1, 0) == Approx(1.331));
  CHECK(first_mode({}).frequency_hz == 0);
  CHECK(tip_stiffness_n_mm({}) == 0);
}

TEST_CASE("a cutter's beam is its flutes at their equivalent diameter, neck, cones, shank and extension") {
  Cutter c = proposed_cutter(CutterKind::end_mill, 10);
  c.shank_sections = {{8, 9.5, 10}};
  Assembly a;
  CHECK(beam_of(c, a).empty());
  a.stickout_mm = 60;
  a.extension_diameter_mm = 20;
  a.extension_length_mm = 15;
  const auto beam = beam_of(c, a);
  double length = 0;
  for (const BeamSection& s : beam) length += s.length_mm;
  CHECK(length == Approx(60));
  CHECK(beam.front().diameter_mm == Approx(8));
  CHECK(beam.back().diameter_mm == 20);
  CHECK(beam.back().youngs_modulus_n_mm2 == 210e3);
  CHECK(beam.size() == 2 + 8 + 1 + 1);
  c.core_ratio = 0.6;
  CHECK(tip_stiffness_n_mm(beam_of(c, a)) < tip_stiffness_n_mm(beam));
  c.core_ratio.reset();
  c.tool_material = ToolMaterial::hss;
  CHECK(first_mode(beam_of(c, a)).frequency_hz < first_mode(beam).frequency_hz);
}

TEST_CASE("the mode of an assembly is that of its beam, whichever others were asked for before") {
  Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  c.tool_material = ToolMaterial::carbide;
  for (int round = 0; round < 3; ++round)
    for (int i = 0; i < 12; ++i) {  // more than are remembered
      Assembly a;
      a.stickout_mm = 40 + i % 6;
      if (i >= 6) a.holding_stiffness_n_um = 30 + round;
      const auto tip = tip_dynamics(c, a);
      REQUIRE(tip);
      const BeamMode mode = mode_of(*tip, a), alone = first_mode(tip->beam, tip->holding_n_mm);
      CHECK(mode.frequency_hz == alone.frequency_hz);
      CHECK(mode.stiffness_n_mm == alone.stiffness_n_mm);
    }
}
