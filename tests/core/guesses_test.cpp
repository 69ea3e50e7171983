// Guessed sizes of a cutter follow what is typed and never contradict it.
#include <catch2/catch.hpp>
#include <random>

#include "core/cutter/guesses.h"
#include "core/cutter/kinds.h"

using namespace pecorra;

namespace {

Cutter typed(Cutter c, const char* key, double mm) {
  REQUIRE(find_property<Cutter>(key)->set(c, mm));
  c.guesses.erase(key);
  return follow_guesses(c);
}

std::string faults_of(const Cutter& c) {
  std::string text;
  for (const Message& m : check_cutter(c)) text += m.code + " (" + m.property + ") ";
  return text;
}

}  // namespace

TEST_CASE("an end mill typed from its data sheet in inches has no fault at any step") {
  Cutter c = guessed_cutter(CutterKind::end_mill, 0.375 * 25.4, UnitSystem::inch);
  CHECK(check_cutter(c).empty());
  const std::pair<const char*, double> sheet[] = {
      {"diameter_mm", 3.175}, {"flute_length_mm", 12.7}, {"shank_diameter_mm", 6.35}, {"overall_length_mm", 50.8}};
  for (const auto& [key, mm] : sheet) {
    c = typed(c, key, mm);
    INFO(key << ": " << faults_of(c));
    CHECK_FALSE(has_error(check_cutter(c)));
  }
  for (const auto& [key, mm] : sheet) CHECK(number_of(c, *find_property<Cutter>(key)) == mm);
  CHECK(*c.reach_mm >= 12.7);
  CHECK(*c.reach_mm <= 50.8);
}

TEST_CASE("a guess follows the diameter for every kind, and stays when it was typed") {
  for (const CutterKind kind : cutter_kinds())
    for (const double d : {6.0, 12.0, 20.0}) {
      INFO(label_of(kind) << " " << d);
      const Cutter c = typed(guessed_cutter(kind, 10, UnitSystem::metric), "diameter_mm", d);
      const Cutter wanted = guessed_cutter(kind, d, UnitSystem::metric);
      for (const ParameterUse& use : declaration(kind).parameters) {
        INFO(use.key);
        CHECK(find_property<Cutter>(use.key)->get(c) == find_property<Cutter>(use.key)->get(wanted));
      }
      if (c.overall_length_mm) CHECK(typed(c, "overall_length_mm", 333).overall_length_mm == 333);
    }
}

// Some sizes of a cutter that fits together, in any order: whatever is still guessed on the way, nothing clashes.
TEST_CASE("guesses never contradict sizes that fit together") {
  std::mt19937 random(7);
  for (const CutterKind kind : cutter_kinds())
    for (int round = 0; round < 40; ++round) {
      const double d = std::uniform_real_distribution(1.0, 40.0)(random);
      const Cutter sheet = proposed_cutter(kind, d);
      if (!check_cutter(sheet).empty()) continue;
      Cutter c = guessed_cutter(kind, 10, UnitSystem::metric);
      std::vector<std::string> keys;
      for (const std::string& key : c.guesses)
        if (const auto* size = find_property<Cutter>(key); size && number_of(sheet, *size)) keys.push_back(key);
      std::shuffle(keys.begin(), keys.end(), random);
      // The diameter first, as the form asks for it.
      c = typed(c, "diameter_mm", d);
      for (const std::string& key : keys) {
        c = typed(c, key.c_str(), *number_of(sheet, *find_property<Cutter>(key)));
        INFO(label_of(kind) << " Ø" << d << ", " << key << ": " << faults_of(c));
        CHECK_FALSE(has_error(check_cutter(c)));
      }
    }
}

TEST_CASE("only typed sizes can clash") {
  Cutter c = guessed_cutter(CutterKind::end_mill, 10, UnitSystem::metric);
  c = typed(c, "flute_length_mm", 60);
  CHECK_FALSE(has_error(check_cutter(c)));
  CHECK(c.guesses.contains("overall_length_mm"));
  c = typed(c, "overall_length_mm", 50);
  CHECK(has_error(check_cutter(c)));
  CHECK(c.flute_length_mm == 60);
}

TEST_CASE("inch cutters are proposed in fractions") {
  const Cutter c = proposed_cutter(CutterKind::end_mill, 0.5 * 25.4, UnitSystem::inch);
  const double sixteenths = *c.flute_length_mm / 25.4 * 16;
  CHECK(sixteenths == Approx(std::round(sixteenths)));
}
