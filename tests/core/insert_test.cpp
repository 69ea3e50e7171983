// Inserts: what their designations say, and what a cutter becomes with one.
#include <catch2/catch.hpp>

#include "core/cutter/kinds.h"
#include "core/insert/insert.h"

using namespace pecorra;

// Sizes of ISO 1832 and of the insert standards built on it (ISO 3364, ISO 3365, ISO 6987), from memory.
TEST_CASE("designations by ISO 1832 say shape, sizes, corner and number of edges") {
  struct Known {
    const char* text;
    double angle, clearance, circle, length, thickness;
    std::optional<double> corner;
    int edges;
  };
  const Known known[] = {
      {"CNMG 120408", 80, 0, 12.7, 12.9, 4.76, 0.8, 4},   {"CNMG 090304", 80, 0, 9.525, 9.67, 3.18, 0.4, 4},
      {"CCMT 09T308", 80, 7, 9.525, 9.67, 3.97, 0.8, 2},  {"CCMT 060204", 80, 7, 6.35, 6.45, 2.38, 0.4, 2},
      {"DNMG150608", 55, 0, 12.7, 15.5, 6.35, 0.8, 4},    {"DCMT 11T304", 55, 7, 9.525, 11.63, 3.97, 0.4, 2},
      {"VBMT 160404", 35, 5, 9.525, 16.61, 4.76, 0.4, 2}, {"SNMG 120412", 90, 0, 12.7, 12.7, 4.76, 1.2, 8},
      {"TNMG 160404", 60, 0, 9.525, 16.5, 4.76, 0.4, 6},  {"TCMT 110204", 60, 7, 6.35, 11, 2.38, 0.4, 3},
      {"TPMR 160308", 60, 11, 9.525, 16.5, 3.18, 0.8, 3}, {"WNMG 080408", 80, 0, 12.7, 8.69, 4.76, 0.8, 6},
      {"APKT 160408", 85, 11, 0, 16, 4.76, 0.8, 2},       {"RPMT 1204M0", 0, 11, 12, 12, 4.76, 6, 0},
      {"RCMX 1003M0", 0, 7, 10, 10, 3.18, 5, 0},          {"RNMG 120400", 0, 0, 12.7, 12.7, 4.76, 6.35, 0},
      {"SEKT 1204AFSN", 90, 20, 12.7, 12.7, 4.76, {}, 4}, {"spun 120308", 90, 11, 12.7, 12.7, 3.18, 0.8, 4}};
  for (const Known& k : known) {
    INFO(k.text);
    const auto read = read_designation(k.text);
    REQUIRE(read.has_value());
    CHECK(read->corner_angle_deg == k.angle);
    CHECK(read->clearance_angle_deg == k.clearance);
    CHECK(read->inscribed_mm == Approx(k.circle));
    CHECK(read->edge_length_mm == Approx(k.length).margin(0.01));
    CHECK(read->thickness_mm == k.thickness);
    CHECK(read->corner_radius_mm.has_value() == k.corner.has_value());
    if (k.corner) CHECK(*read->corner_radius_mm == Approx(*k.corner));
    CHECK(read->edges == k.edges);
  }
}

TEST_CASE("what is no designation is refused with its place, and nothing is guessed") {
  const std::pair<const char*, const char*> wrong[] = {
      {"", "place 1 is missing"}, {"X", "place 1"},           {"CZMG120408", "place 2"},
      {"CNxG120408", "place 3"},  {"CNMY120408", "place 4"},  {"CNMG1", "place 6 is missing"},
      {"CNMG A2", "place 5"},     {"CNMG 129908", "place 7"}, {"CNMG 1204", "place 9 is missing"},
      {"CNMG 1204?8", "place 9"}, {"my best one", "place 2"}};
  for (const auto& [text, place] : wrong) {
    INFO(text);
    const auto read = read_designation(text);
    REQUIRE_FALSE(read.has_value());
    CHECK(read.error().find(place) == 0);
    CHECK(read.error().find("expected") != std::string::npos);
  }
  Insert named;
  named.name = "my best one";
  named.corner_radius_mm = 0.5;
  CHECK(with_designation(named, true) == named);
}

TEST_CASE("a designation fills what is empty, and replaces only when asked") {
  Insert i;
  i.name = "CNMG 120408";
  i.corner_radius_mm = 0.75;
  i.typed = {{"corner_radius_mm", "0,75"}};
  const Insert kept = with_designation(i, false);
  CHECK(kept.corner_radius_mm == 0.75);
  CHECK(kept.thickness_mm == 4.76);
  CHECK(kept.edges == 4);
  CHECK(check_insert(kept).size() == 1);
  CHECK(check_insert(kept)[0].code == "not_as_designated");
  const Insert replaced = with_designation(i, true);
  CHECK(replaced.corner_radius_mm == Approx(0.8));
  CHECK(replaced.typed.empty());
  CHECK(check_insert(replaced).empty());
  i.inscribed_mm = 1;
  CHECK(has_error(check_insert(i)));
}

TEST_CASE("an insert decides radius, tool material and coating of its body, and nothing else") {
  Cutter body = proposed_cutter(CutterKind::face_mill, 50);
  body.cutting_edge_angle_deg = 90;
  body.guesses = {"corner_radius_mm", "reach_mm"};
  Insert i;
  i.id = Id::from_name("insert");
  i.corner_radius_mm = 0.8;
  i.tool_material = ToolMaterial::cermet;
  i.edge_radius_mm = 0.03;
  const Cutter with = fitted(body, i);
  CHECK(with.insert == i.id);
  CHECK(with.corner_radius_mm == 0.8);
  CHECK(with.tool_material == ToolMaterial::cermet);
  CHECK(with.edge_radius_mm == 0.03);
  CHECK(with.coating == body.coating);
  CHECK(with.guesses.size() == 1);
  CHECK(with.diameter_mm == body.diameter_mm);
  // A kind without a corner radius is not given one.
  CHECK_FALSE(fitted(proposed_cutter(CutterKind::end_mill, 20), i).corner_radius_mm.has_value());
  // Nothing is known of the material: inserts are carbide (common practice, no source).
  i.tool_material.reset();
  CHECK(fitted(body, i).tool_material == ToolMaterial::carbide_insert);
  CHECK(takes_inserts(CutterKind::face_mill));
  CHECK_FALSE(takes_inserts(CutterKind::tap));
}
