// Outlines in and out of files: SVG read against figures that follow from the SVG specification, DXF written and read
// back, the drawing as SVG, and broken files.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "../support/random_cutters.h"
#include "core/cutter/form_profile.h"
#include "core/cutter/name_pattern.h"
#include "formats/dxf/dxf_reader.h"
#include "formats/dxf/dxf_writer.h"
#include "formats/svg/sheet_svg.h"
#include "formats/svg/svg_reader.h"

#include "../support/drawings.h"

using namespace pecorra;

namespace {

SvgReading svg(const std::string& inside, const std::string& head = "width=\"100mm\" viewBox=\"0 0 100 100\"") {
  auto reading = read_svg("<svg xmlns=\"http://www.w3.org/2000/svg\" " + head + ">" + inside + "</svg>");
  INFO(inside);
  if (!reading) FAIL(reading.error().text);
  return *reading;
}

double area(const Contour& contour) { return std::abs(signed_area(flattened(contour, 1e-4))); }

double length(const Contour& contour) {
  const auto points = flattened(contour, 1e-4);
  double sum = 0;
  for (std::size_t i = 1; i < points.size(); ++i)
    sum += std::hypot(points[i].x - points[i - 1].x, points[i].y - points[i - 1].y);
  return sum;
}

constexpr double pi = std::numbers::pi;

}  // namespace

TEST_CASE("SVG paths are read as the specification has them") {
  // A square, absolute and relative, run together as SVG allows it.
  for (const char* path :
       {"M0 0 L10 0 L10 10 L0 10 Z", "M0,0h10v10h-10z", "m0 0 10 0 0 10-10 0z", "M 0 0 H 10 V 10 H 0 Z"}) {
    const auto reading = svg(std::string("<path d=\"") + path + "\"/>");
    REQUIRE(test::lines_in(reading.drawing).size() == 1);
    CHECK(test::lines_in(reading.drawing)[0].closed);
    CHECK(area(test::lines_in(reading.drawing)[0]) == Approx(100));
  }
  // y is turned upwards.
  CHECK(test::lines_in(svg("<line x1=\"0\" y1=\"0\" x2=\"0\" y2=\"5\"/>").drawing)[0].vertices[1].y == Approx(-5));
  // Arcs stay arcs: a half circle of radius 5 either way round.
  const auto half = test::lines_in(svg("<path d=\"M0 0A5 5 0 0 1 10 0\"/>").drawing)[0];
  CHECK(length(half) == Approx(5 * pi).epsilon(1e-4));
  CHECK(half.vertices.front().bulge != 0);
  CHECK(half.vertices[1].y == Approx(5));  // above, with y upwards: sweep 1 goes over the top
  CHECK(length(test::lines_in(svg("<path d=\"M0 0a5 5 0 1 0 5 5\"/>").drawing)[0]) == Approx(7.5 * pi).epsilon(1e-4));
  // Radii too small are scaled up to reach.
  CHECK(length(test::lines_in(svg("<path d=\"M0 0A1 1 0 0 1 10 0\"/>").drawing)[0]) == Approx(5 * pi).epsilon(1e-4));
  // Ellipse by chords within the tolerance; π·a·b.
  CHECK(area(test::lines_in(svg("<path d=\"M-10 0A10 4 0 0 1 10 0A10 4 0 0 1-10 0Z\"/>").drawing)[0]) ==
        Approx(pi * 40).epsilon(2e-3));
  // A cubic that is nearly a quarter circle (0.5523), and a parabola of area 2/3.
  CHECK(length(test::lines_in(svg("<path d=\"M10 0C10 5.523 5.523 10 0 10\"/>").drawing)[0]) ==
        Approx(5 * pi).epsilon(1e-3));
  CHECK(area(test::lines_in(svg("<path d=\"M0 0Q5 10 10 0Z\"/>").drawing)[0]) ==
        Approx(10 * 5 * 2.0 / 3).epsilon(3e-3));
  CHECK(test::lines_in(svg("<path d=\"M0 0C1 1 2 1 3 0S5-1 6 0T9 0\"/>").drawing)[0].vertices.back().x == Approx(9));
  // Several pieces in one path.
  CHECK(test::lines_in(svg("<path d=\"M0 0L1 0M5 5L6 5L6 6\"/>").drawing).size() == 2);
}

TEST_CASE("SVG shapes, transforms and units") {
  CHECK(area(test::lines_in(svg("<rect x=\"1\" y=\"2\" width=\"3\" height=\"4\"/>").drawing)[0]) == Approx(12));
  CHECK(area(test::lines_in(svg("<polygon points=\"0,0 10,0 0,10\"/>").drawing)[0]) == Approx(50));
  CHECK_FALSE(test::lines_in(svg("<polyline points=\"0,0 10,0 0,10\"/>").drawing)[0].closed);
  CHECK(test::circles_in(svg("<circle cx=\"3\" cy=\"4\" r=\"2\"/>").drawing)[0].diameter_mm == Approx(4));
  const auto moved = test::lines_in(
      svg("<g transform=\"translate(10 20) rotate(90) scale(2)\"><line x1=\"1\" y1=\"0\" x2=\"2\" y2=\"0\"/></g>")
          .drawing)[0];
  CHECK(moved.vertices[0].x == Approx(10));
  CHECK(moved.vertices[0].y == Approx(-22));
  CHECK(moved.vertices[1].y == Approx(-24));
  CHECK(test::lines_in(svg("<line x2=\"1\" transform=\"matrix(1 0 0 1 5 0)\"/>").drawing)[0].vertices[0].x ==
        Approx(5));
  CHECK(test::lines_in(svg("<defs><line x2=\"9\"/></defs><line x2=\"1\"/>").drawing).size() == 1);
  // 4 in wide and 400 units: a unit is 0.254 mm.
  const auto inches = svg("<line x2=\"100\"/>", "width=\"4in\" viewBox=\"0 0 400 400\"");
  CHECK(inches.unit_known);
  CHECK(test::lines_in(inches.drawing)[0].vertices[1].x == Approx(25.4));
  CHECK_FALSE(svg("<line x2=\"100\"/>", "viewBox=\"0 0 400 400\"").unit_known);
}

TEST_CASE("broken SVG is refused with what would be right, never a crash") {
  for (const char* text : {"", "<", "<svg", "<html/>", "<svg></svg>", "<svg><path d=\"X 1 2\"/></svg>",
                           "<svg><text>5</text></svg>", "{}", "<svg><path d=\"M\"/></svg>"}) {
    const auto reading = read_svg(text);
    INFO(text);
    REQUIRE_FALSE(reading.has_value());
    CHECK(reading.error().text.size() > 10);
  }
  std::string deep;
  for (int i = 0; i < 100000; ++i) deep += "<g>";
  CHECK_FALSE(read_svg("<svg>" + deep).has_value());
  // Half-written paths give what was whole.
  CHECK(test::lines_in(svg("<path d=\"M0 0L10 0L5\"/>").drawing)[0].vertices.size() == 2);
  std::mt19937 random(5);
  const std::string letters = "MmLlHhVvCcSsQqTtAaZz0123456789.-+eE, ";
  for (int i = 0; i < 3000; ++i) {
    std::string path;
    for (int k = 0; k < 40; ++k) path += letters[random() % letters.size()];
    const auto reading = read_svg("<svg><path d=\"M0 0" + path + "\"/><line x2=\"1\"/></svg>");
    if (!reading) continue;
    for (const Contour& contour : test::lines_in(reading->drawing))
      for (const Vertex& v : contour.vertices)
        CHECK((std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.bulge)));
  }
}

TEST_CASE("a silhouette written as DXF is read back with the same lines, arcs and area") {
  std::mt19937 random(9);
  for (const CutterKind kind : cutter_kinds())
    for (int i = 0; i < 5; ++i) {
      const Cutter c = random_cutter(kind, random);
      const Profile profile = silhouette(c);
      const auto reading = read_dxf(dxf_of_profile(profile));
      INFO(suggested_name(c));
      REQUIRE(reading.has_value());
      CHECK(reading->unit == "mm");
      REQUIRE(test::lines_in(reading->drawing).size() == 1);
      CHECK_FALSE(test::lines_in(reading->drawing)[0].closed);
      double whole = 0;
      for (const ProfileSegment& s : profile) whole += length_of(s);
      CHECK(length(test::lines_in(reading->drawing)[0]) == Approx(whole).epsilon(1e-4));
      // Closed over the axis it is the section again.
      const auto outline = outline_from(test::lines_in(reading->drawing)[0].vertices, false);
      CHECK(half_section(profile_of_outline(outline)).area_mm2 == Approx(half_section(profile).area_mm2).epsilon(1e-4));
    }
}

TEST_CASE("the drawing as SVG holds the outline to scale, with true arcs") {
  Cutter c = proposed_cutter(CutterKind::bull_nose, 12);
  SheetWish wish;
  wish.width = 900;
  wish.height = 620;
  const CutterSheet sheet = lay_out(c, silhouette(c), wish);
  const std::string text = svg_of_sheet(sheet, wish);
  const auto reading = read_svg(text);
  REQUIRE(reading.has_value());
  const Contour* outline = nullptr;
  const std::vector<Contour> lines = test::lines_in(reading->drawing);
  for (const Contour& contour : lines)
    if (contour.closed && (!outline || area(contour) > area(*outline))) outline = &contour;
  REQUIRE(outline);
  CHECK(area(*outline) == Approx(2 * half_section(sheet.profile).area_mm2 * sheet.scale * sheet.scale).epsilon(1e-3));
  CHECK(std::count_if(outline->vertices.begin(), outline->vertices.end(),
                      [](const Vertex& v) { return v.bulge != 0; }) == 2);
  CHECK(text.find("DC 12") != std::string::npos);
}
