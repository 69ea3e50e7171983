// DXF files written by a general DXF library (tests/data/dxf/make_samples.py), and files that are broken.
#include <catch2/catch.hpp>
#include <cmath>
#include <fstream>
#include <sstream>

#include "formats/dxf/dxf_reader.h"

#include "../support/drawings.h"

using namespace pecorra;

namespace {

std::string slurp(const std::string& name) {
  std::ifstream file(std::string(PECORRA_TEST_DATA "/dxf/") + name, std::ios::binary);
  REQUIRE(file);
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

double length(const Contour& contour) {
  const auto points = flattened(contour, 0.0001);
  double sum = 0;
  for (std::size_t i = 1; i < points.size(); ++i)
    sum += std::hypot(points[i].x - points[i - 1].x, points[i].y - points[i - 1].y);
  if (contour.closed) sum += std::hypot(points.back().x - points.front().x, points.back().y - points.front().y);
  return sum;
}

}  // namespace

TEST_CASE("what a general DXF library wrote is found, with its sizes") {
  for (const char* name : {"plate", "loose", "inches", "curves", "old", "far"}) {
    INFO(name);
    const auto reading = read_dxf(slurp(std::string(name) + ".dxf"));
    REQUIRE(reading.has_value());
    std::istringstream expected(slurp(std::string(name) + ".expected"));
    std::string line;
    std::size_t contours = 0, circles = 0;
    while (std::getline(expected, line)) {
      std::istringstream words(line);
      std::string what;
      words >> what;
      if (what == "circle") {
        double x, y, d;
        words >> x >> y >> d;
        bool found = false;
        for (const test::Circle& c : test::circles_in(reading->drawing))
          found = found || (std::abs(c.x - x) < 1e-6 && std::abs(c.y - y) < 1e-6 && std::abs(c.diameter_mm - d) < 1e-6);
        INFO(line);
        CHECK(found);
        ++circles;
      } else {
        std::string closed;
        double wanted_length, wanted_area;
        words >> closed >> wanted_length >> wanted_area;
        bool found = false;
        for (const Contour& c : test::lines_in(reading->drawing)) {
          if (c.closed != (closed == "closed")) continue;
          const double area = c.closed ? std::abs(signed_area(flattened(c, 0.0001))) : 0;
          found = found ||
                  (std::abs(length(c) - wanted_length) < 0.02 && std::abs(area - wanted_area) < 0.005 * wanted_length);
        }
        INFO(line);
        CHECK(found);
        ++contours;
      }
    }
    CHECK(test::lines_in(reading->drawing).size() == contours);
    CHECK(test::circles_in(reading->drawing).size() == circles);
  }
}

TEST_CASE("exact bulges stay exact") {
  const auto reading = read_dxf(slurp("plate.dxf"));
  REQUIRE(reading.has_value());
  const Contour c = test::lines_in(reading->drawing).at(0);
  REQUIRE(c.vertices.size() == 8);
  for (const Vertex& v : c.vertices)
    if (v.bulge != 0) CHECK(v.bulge == Approx(0.41421356237309503).epsilon(1e-12));
  CHECK(reading->unit == "mm");
  CHECK(read_dxf(slurp("inches.dxf"))->unit == "inch");
  CHECK(read_dxf(slurp("loose.dxf"))->unit.empty());
}

TEST_CASE("a file without usable outline says which entities it has") {
  const auto reading = read_dxf(slurp("words_only.dxf"));
  REQUIRE_FALSE(reading.has_value());
  CHECK(reading.error().code == "no_outline");
  CHECK(reading.error().entities.at("TEXT") == 1);
  CHECK(reading.error().entities.at("MTEXT") == 1);
  CHECK(reading.error().entities.at("POINT") == 1);
}

TEST_CASE("broken files end in a message") {
  CHECK(read_dxf("").error().code != "");
  CHECK_FALSE(read_dxf("hello\nworld\n").has_value());
  CHECK_FALSE(read_dxf(std::string("binary\r\n\x1a\0\0\0", 12)).has_value());
  CHECK_FALSE(read_dxf("0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n").has_value());
  const std::string plate = slurp("plate.dxf");
  for (std::size_t cut = 0; cut < plate.size(); cut += plate.size() / 97 + 1)
    static_cast<void>(read_dxf(plate.substr(0, cut)));
  // Every 31st byte replaced, one at a time.
  for (std::size_t at = 0; at < plate.size(); at += 31) {
    std::string broken = plate;
    broken[at] = static_cast<char>(broken[at] ^ 0x15);
    const auto reading = read_dxf(broken);
    if (!reading) continue;
    for (const Contour& c : test::lines_in(reading->drawing))
      for (const Vertex& v : c.vertices) CHECK((std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.bulge)));
  }
}

TEST_CASE("blocks inside themselves do not hang") {
  std::string text =
      "0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n2\nA\n10\n0\n20\n0\n0\nINSERT\n2\nA\n10\n1\n20\n1\n0\nCIRCLE\n10\n0\n20\n0\n40"
      "\n2\n0\nENDBLK\n0\nENDSEC\n"
      "0\nSECTION\n2\nENTITIES\n0\nINSERT\n2\nA\n10\n0\n20\n0\n0\nENDSEC\n0\nEOF\n";
  const auto reading = read_dxf(text);
  if (reading) CHECK(test::circles_in(reading->drawing).size() < 100);
}
