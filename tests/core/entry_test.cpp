// Fields of every quantity: what is stored and what is repeated beside the field.
#include <catch2/catch.hpp>

#include "core/quantity/entry.h"
#include "core/quantity/print.h"

using namespace pecorra;
using enum Quantity;

namespace {
double stored(const char* text, Quantity quantity, UnitSystem units = UnitSystem::metric) {
  const auto entry = parse_entry(text, quantity, units);
  INFO(text);
  REQUIRE(entry.has_value());
  return entry->stored;
}
std::string understood(const char* text, Quantity quantity, UnitSystem units = UnitSystem::metric) {
  return parse_entry(text, quantity, units)->understood;
}
std::string fault(const char* text, Quantity quantity) {
  const auto entry = parse_entry(text, quantity, UnitSystem::metric);
  INFO(text);
  REQUIRE_FALSE(entry.has_value());
  return entry.error().text;
}
}  // namespace

TEST_CASE("quantities are read in their own units") {
  CHECK(stored("180", cutting_speed) == Approx(180));
  CHECK(stored("600 ft/min", cutting_speed) == Approx(182.88));
  CHECK(stored("600", cutting_speed, UnitSystem::inch) == Approx(182.88));
  CHECK(stored("3500 rpm", spindle_speed) == 3500);
  CHECK(stored("10 in/min", table_feed) == Approx(254));
  CHECK(stored("5 mm/s", table_feed) == Approx(300));
  CHECK(stored("2 m/min", table_feed) == Approx(2000));
  CHECK(stored("4 thou", feed_per_tooth) == Approx(0.1016));
  CHECK(stored("118°", angle) == 118);
  CHECK(stored("4", count) == 4);
  CHECK(stored("1/3", number) == Approx(1.0 / 3));
}

TEST_CASE("the understood value stands beside what was typed") {
  CHECK(understood("7/16\"", length) == "= 11.113 mm");
  CHECK(understood("26", length) == "= 1.0236 in");
  CHECK(understood("26 mm", length) == "= 1.0236 in");
  CHECK(understood("0.5", length, UnitSystem::inch) == "= 12.7 mm");
  CHECK(understood("600 ft/min", cutting_speed) == "= 183 m/min");
  CHECK(understood("180", cutting_speed).empty());
}

TEST_CASE("a fault names what is wrong") {
  CHECK(fault("abc", spindle_speed).find("rpm") != std::string::npos);
  CHECK(fault("2.5", count).find("whole number") != std::string::npos);
  CHECK_FALSE(fault("12 kg", length).empty());
  CHECK_FALSE(fault("12 mm", table_feed).empty());
}

TEST_CASE("printing drops zeros, never digits that count") {
  CHECK(shown(12, length, UnitSystem::metric) == "12");
  CHECK(shown(11.1125, length, UnitSystem::inch) == "0.4375");
  CHECK(shown(0.05, feed_per_tooth, UnitSystem::metric) == "0.05");
  CHECK(shown(1145.916, table_feed, UnitSystem::metric) == "1146");
  CHECK(shown(270 * 1.25, table_feed, UnitSystem::metric) == "337.5");  // of a tap, as the program has it
  CHECK(shown(254, table_feed, UnitSystem::inch) == "10");
  CHECK(plain(-0.00001) == "0");
  CHECK(shown_with_unit(90, angle, UnitSystem::metric) == "90°");
}
