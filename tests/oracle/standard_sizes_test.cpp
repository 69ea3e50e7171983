// Real drills and end mills against the published standards: ISO 235 (drills with parallel shank, jobber series: flute
// length l and overall length L for steps of the diameter) and ISO 1641-1 (end mills with parallel shank, standard and
// long series). Figures from memory of the standards. Every one must pass our checks without a word.
#include <catch2/catch.hpp>

#include "core/cutter/kinds.h"

using namespace pecorra;

namespace {

struct Size {
  double d, flutes, overall;
};

// ISO 235: d over … up to and including; the row of the exact diameter.
constexpr Size jobber[] = {{1, 12, 34},  {1.5, 18, 40},  {2, 24, 49},   {2.5, 30, 57},  {3, 33, 61},    {3.3, 36, 65},  {4, 43, 75},   {4.2, 43, 75},
                           {5, 52, 86},  {6, 57, 93},    {6.8, 69, 109}, {8, 75, 117},  {8.5, 75, 117}, {10, 87, 133},  {10.2, 87, 133}, {12, 101, 151},
                           {13, 101, 151}, {14, 108, 160}, {16, 120, 178}, {20, 140, 205}};

// ISO 1641-1, standard series: l, L.
constexpr Size end_mills[] = {{3, 8, 40}, {4, 11, 43}, {5, 13, 47}, {6, 13, 57}, {8, 19, 63}, {10, 22, 72}, {12, 26, 83}, {16, 32, 92}, {20, 38, 104}};
// Long series.
constexpr Size long_end_mills[] = {{6, 24, 68}, {8, 38, 82}, {10, 45, 95}, {12, 53, 110}, {16, 63, 123}, {20, 75, 141}};

void expect_clean(CutterKind kind, const Size& s) {
  Cutter c = proposed_cutter(kind, s.d);
  c.flute_length_mm = s.flutes;
  c.overall_length_mm = s.overall;
  c.reach_mm.reset();
  c.neck_diameter_mm.reset();
  c.tool_material = ToolMaterial::hss;
  INFO(suggested_name(c));
  CHECK(check_cutter(c).empty());
  CHECK_FALSE(silhouette(c).empty());
}

}  // namespace

TEST_CASE("jobber drills of ISO 235 pass without a warning") {
  for (const Size& s : jobber) expect_clean(CutterKind::drill, s);
}

TEST_CASE("end mills of ISO 1641-1 pass without a warning") {
  for (const Size& s : end_mills) expect_clean(CutterKind::end_mill, s);
  for (const Size& s : long_end_mills) expect_clean(CutterKind::end_mill, s);
}

TEST_CASE("the same sizes typed in the wrong unit do not pass") {
  for (const Size& s : end_mills) {
    Cutter c = proposed_cutter(CutterKind::end_mill, s.d * 25.4);
    c.flute_length_mm = s.flutes;
    c.overall_length_mm = s.overall;
    c.reach_mm.reset();
    CHECK_FALSE(check_cutter(c).empty());
  }
}

TEST_CASE("proposed sizes lie near the standards") {
  for (const Size& s : end_mills) {
    if (s.d < 6) continue;
    const Cutter c = proposed_cutter(CutterKind::end_mill, s.d);
    CHECK(*c.flute_length_mm == Approx(s.flutes).epsilon(0.25));
    CHECK(*c.overall_length_mm == Approx(s.overall).epsilon(0.25));
  }
}
