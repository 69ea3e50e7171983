// Real drills and end mills against the published standards: ISO 235 (drills with parallel shank, jobber series: flute
// length l and overall length L for steps of the diameter) and ISO 1641-1 (end mills with parallel shank, standard and
// long series). Figures from memory of the standards. Every one must pass our checks without a word.
#include <catch2/catch.hpp>
#include <numbers>
#include <tuple>

#include "core/cutter/kinds.h"
#include "core/cutter/kinds/threads.h"
#include "core/cutter/name_pattern.h"

using namespace pecorra;

namespace {

struct Size {
  double d, flutes, overall;
};

// ISO 235: d over … up to and including; the row of the exact diameter.
constexpr Size jobber[] = {{1, 12, 34},    {1.5, 18, 40},  {2, 24, 49},    {2.5, 30, 57},  {3, 33, 61},
                           {3.3, 36, 65},  {4, 43, 75},    {4.2, 43, 75},  {5, 52, 86},    {6, 57, 93},
                           {6.8, 69, 109}, {8, 75, 117},   {8.5, 75, 117}, {10, 87, 133},  {10.2, 87, 133},
                           {12, 101, 151}, {13, 101, 151}, {14, 108, 160}, {16, 120, 178}, {20, 140, 205}};

// ISO 1641-1, standard series: l, L.
constexpr Size end_mills[] = {{3, 8, 40},   {4, 11, 43},  {5, 13, 47},  {6, 13, 57},  {8, 19, 63},
                              {10, 22, 72}, {12, 26, 83}, {16, 32, 92}, {20, 38, 104}};
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

namespace {

// Right by its own checks, warnings and all, except for what the table leaves open.
void expect_fine(const Cutter& c) {
  INFO(suggested_name(c));
  CHECK_FALSE(silhouette(c).empty());
  for (const Message& m : check_cutter(c)) {
    INFO(m.code);
    CHECK(m.severity == Severity::note);
  }
}

}  // namespace

TEST_CASE("centre drills of ISO 866 form A stand, and their proportions are those proposed (sizes from memory)") {
  struct Size {
    double pilot, body, pilot_length, overall;
  };
  for (const Size& s : {Size{1, 3.15, 1.3, 31.5},
                        {1.6, 4, 2, 35.5},
                        {2, 5, 2.5, 40},
                        {2.5, 6.3, 3.1, 45},
                        {3.15, 8, 3.9, 50},
                        {4, 10, 5, 56},
                        {5, 12.5, 6.3, 63},
                        {6.3, 16, 8, 71},
                        {8, 20, 10.1, 80},
                        {10, 25, 12.8, 100}}) {
    Cutter c = proposed_cutter(CutterKind::centre_drill, s.body);
    CHECK(*c.step_diameter_mm == Approx(s.pilot).epsilon(0.32));
    CHECK(*c.step_length_mm == Approx(s.pilot_length).epsilon(0.35));
    c.step_diameter_mm = s.pilot;
    c.step_length_mm = s.pilot_length;
    c.flute_length_mm = s.pilot_length + (s.body - s.pilot) / 2 / std::tan(std::numbers::pi / 6) + 0.5;
    c.overall_length_mm = s.overall;
    expect_fine(c);
    // The 60° countersink ends at the body.
    CHECK(2 * largest_radius_mm(silhouette(c), 1e9) == Approx(s.body));
    CHECK(edge_angle_deg(silhouette(c), s.pilot_length + 0.1) == Approx(60));
  }
}

TEST_CASE("solid carbide end mills of DIN 6527 L stand, and proposals lie near them (sizes from memory)") {
  struct Size {
    double d, flutes, overall, shank;
  };
  for (const Size& s : {Size{3, 8, 57, 6},
                        {4, 11, 57, 6},
                        {5, 13, 57, 6},
                        {6, 13, 57, 6},
                        {8, 19, 63, 8},
                        {10, 22, 72, 10},
                        {12, 26, 83, 12},
                        {16, 32, 92, 16},
                        {20, 38, 104, 20}}) {
    Cutter c = proposed_cutter(CutterKind::end_mill, s.d);
    if (s.d >= 6) {
      CHECK(*c.flute_length_mm == Approx(s.flutes).epsilon(0.18));
      CHECK(*c.overall_length_mm == Approx(s.overall).epsilon(0.21));
    }
    c.flute_length_mm = s.flutes;
    c.reach_mm.reset();
    c.neck_diameter_mm.reset();
    c.shank_diameter_mm = s.shank;
    c.overall_length_mm = s.overall;
    expect_fine(c);
  }
}

TEST_CASE("machine taps of DIN 371 and DIN 376 stand, with their threads and tapping drills (sizes from memory)") {
  struct Size {
    const char* thread;
    double thread_length, overall, shank, drill;
    bool strengthened;  // DIN 371: the shank is no thinner than the thread
  };
  for (const Size& s : {Size{"M3", 9, 56, 3.5, 2.5, true},
                        {"M4", 12, 63, 4.5, 3.3, true},
                        {"M5", 13, 70, 6, 4.2, true},
                        {"M6", 15, 80, 6, 5, true},
                        {"M8", 18, 90, 8, 6.8, true},
                        {"M10", 20, 100, 10, 8.5, true},
                        {"M12", 23, 110, 9, 10.2, false},
                        {"M16", 25, 110, 12, 14, false},
                        {"M20", 30, 140, 16, 17.5, false},
                        {"M24", 36, 160, 18, 21, false}}) {
    const Thread thread = *parse_thread(s.thread);
    Cutter c = proposed_cutter(CutterKind::tap, thread.major_mm);
    CHECK(c.thread == s.thread);
    c.flute_length_mm = s.thread_length;
    c.reach_mm = s.overall * 0.4;
    c.neck_diameter_mm = std::min(thread.minor_mm() * 0.95, s.strengthened ? 1e9 : s.shank);
    c.shank_diameter_mm = s.shank;
    c.overall_length_mm = s.overall;
    expect_fine(c);
    CHECK(tapping_drill_mm(c) == Approx(s.drill));
    CHECK((s.shank >= thread.major_mm) == s.strengthened);
  }
}

TEST_CASE(
    "reamers, countersinks and dovetails of the common sizes stand (sizes near DIN 212, DIN 335 and DIN 1833, from "
    "memory)") {
  for (const auto& [d, flutes, overall] : {std::tuple{4.0, 19.0, 75.0},
                                           {5.0, 23.0, 86.0},
                                           {6.0, 26.0, 93.0},
                                           {8.0, 33.0, 117.0},
                                           {10.0, 38.0, 133.0},
                                           {12.0, 44.0, 151.0},
                                           {16.0, 52.0, 170.0},
                                           {20.0, 60.0, 195.0}}) {
    Cutter c = proposed_cutter(CutterKind::reamer, d);
    c.flute_length_mm = flutes;
    c.reach_mm = overall * 0.6;
    c.overall_length_mm = overall;
    expect_fine(c);
  }
  for (const auto& [d, shank, overall] : {std::tuple{6.3, 5.0, 45.0},
                                          {10.4, 6.0, 50.0},
                                          {16.5, 10.0, 60.0},
                                          {20.5, 10.0, 63.0},
                                          {25.0, 10.0, 67.0},
                                          {31.0, 12.0, 71.0}}) {
    Cutter c = proposed_cutter(CutterKind::countersink, d);
    c.shank_diameter_mm = shank;
    c.overall_length_mm = overall;
    c.reach_mm.reset();
    c.neck_diameter_mm.reset();
    INFO(d);
    CHECK_FALSE(has_error(check_cutter(c)));
    CHECK(edge_angle_deg(silhouette(c), 0.5) == Approx(45));
  }
  for (const auto& [d, angle, width] : {std::tuple{16.0, 45.0, 4.0},
                                        {20.0, 45.0, 5.0},
                                        {25.0, 45.0, 6.3},
                                        {16.0, 30.0, 6.3},
                                        {20.0, 30.0, 8.0},
                                        {25.0, 30.0, 10.0}}) {
    Cutter c = proposed_cutter(CutterKind::dovetail, d);
    c.taper_half_angle_deg = angle;
    c.flute_length_mm = width;
    c.neck_diameter_mm = std::min(*c.neck_diameter_mm, d - 2 * width * std::tan(angle * std::numbers::pi / 180) - 0.2);
    INFO(d << " " << angle);
    CHECK_FALSE(has_error(check_cutter(c)));
  }
}
