// What people write into a length field, as rows {text, unit, printed} with many that are refused.
#include <catch2/catch.hpp>

#include "core/quantity/value_text.h"

using namespace pecorra;

namespace {

struct Accepted {
  const char* text;
  LengthUnit as;
  const char* printed;
};

std::string printed(const char* text, LengthUnit as, LengthUnit bare = LengthUnit::mm) {
  const auto value = parse_length(text, bare);
  INFO(text);
  REQUIRE(value.has_value());
  return rounded_text(*value, as, 6);
}

}  // namespace

TEST_CASE("lengths are understood as people write them") {
  const Accepted rows[] = {
      {"12", LengthUnit::mm, "12.000000"},           {"12.5 mm", LengthUnit::mm, "12.500000"},
      {"12,5 mm", LengthUnit::mm, "12.500000"},      {"1,125 in", LengthUnit::inch, "1.125000"},
      {"1/2\"", LengthUnit::mm, "12.700000"},        {"7/16\"", LengthUnit::mm, "11.112500"},
      {"1-1/8 in", LengthUnit::mm, "28.575000"},     {"1 1/8 in", LengthUnit::mm, "28.575000"},
      {"1\xC2\xBD in", LengthUnit::mm, "38.100000"}, {"\xC2\xBC\xE2\x80\xB3", LengthUnit::mm, "6.350000"},
      {"10 thou", LengthUnit::mm, "0.254000"},       {"3 mil", LengthUnit::um, "76.200000"},
      {"3/4*25.4", LengthUnit::mm, "19.050000"},     {"1 ft", LengthUnit::mm, "304.800000"},
      {"2'", LengthUnit::inch, "24.000000"},         {"5 \xC2\xB5m", LengthUnit::mm, "0.005000"},
      {"(1+2)/4 in", LengthUnit::inch, "0.750000"},  {"10-4", LengthUnit::mm, "6.000000"},
      {"3-1/2", LengthUnit::mm, "3.500000"},         {"3 - 1/2", LengthUnit::mm, "2.500000"},
      {"2 * 3 mm", LengthUnit::mm, "6.000000"},      {"1 in + 1 mm", LengthUnit::mm, "26.400000"},
      {"-0.5", LengthUnit::mm, "-0.500000"},         {"1 000 mm", LengthUnit::mm, "1000.000000"},
      {"1/3 in", LengthUnit::inch, "0.333333"},      {"0,0000005", LengthUnit::mm, "0.000001"}};  // half away from zero
  for (const Accepted& row : rows) {
    INFO(row.text);
    CHECK(printed(row.text, row.as) == row.printed);
  }
}

TEST_CASE("a bare number is read in the unit of its field") {
  CHECK(printed("0.5", LengthUnit::mm, LengthUnit::inch) == "12.700000");
  CHECK(printed("0.5 mm", LengthUnit::mm, LengthUnit::inch) == "0.500000");
}

TEST_CASE("sixty-fourths of an inch come back as the same fraction") {
  for (int k = 1; k <= 256; ++k) {
    const std::string text = std::to_string(k) + "/64\"";
    const auto value = parse_length(text, LengthUnit::mm);
    REQUIRE(value.has_value());
    CHECK(value->mm() == Approx(k * 25.4 / 64).margin(1e-12));
    const auto exact = parse_length(std::to_string(k) + "/64 in * 64", LengthUnit::mm);
    REQUIRE(exact.has_value());
    CHECK(rounded_text(*exact, LengthUnit::inch, 6) == std::to_string(k) + ".000000");
  }
}

TEST_CASE("what cannot be understood is refused with its place") {
  const char* texts[] = {"",   "abc",    "12 kg",   "1/0",      "2 mm * 3 mm", "1 + 2 mm", "12,5,3",      "1.2.3", "(1",
                         "1)", "1//2",   "*2",      "12 12",    "1/2/",        "++",       "1e",          "0x10",  "--",
                         "mm", "1 in 2", "1/2 1/2", "\xFF\xFE", "nan",         "inf",      "1,000,000 mm"};
  for (const char* text : texts) {
    INFO(text);
    const auto value = parse_length(text, LengthUnit::mm);
    REQUIRE_FALSE(value.has_value());
    CHECK_FALSE(value.error().code.empty());
    CHECK(value.error().place <= std::string(text).size());
    CHECK_FALSE(sentence(value.error()).empty());
  }
}

TEST_CASE("very long and very deep text ends in an answer, not in a crash") {
  CHECK_FALSE(parse_length(std::string(200000, '('), LengthUnit::mm).has_value());
  CHECK_FALSE(parse_length(std::string(200000, '-'), LengthUnit::mm).has_value());
  std::string nines(5000, '9');
  const auto huge = parse_length(nines, LengthUnit::mm);
  if (huge) CHECK_FALSE(rounded_text(*huge, LengthUnit::mm, 6).empty());
  std::string product = "1";
  for (int i = 0; i < 3000; ++i) product += "*9";
  static_cast<void>(parse_length(product, LengthUnit::mm));
}
