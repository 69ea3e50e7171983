// Areas, centroids and volumes of silhouettes against Boost.Geometry, a general computational geometry library: random
// cutters of every kind, arcs cut into chords finely enough that the difference stays under the tolerance.
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/point_xy.hpp>
#include <boost/geometry/geometries/polygon.hpp>
#include <catch2/catch.hpp>
#include <numbers>

#include "../support/random_cutters.h"
#include "core/cutter/name_pattern.h"

using namespace pecorra;
namespace bg = boost::geometry;

namespace {

using Point = bg::model::d2::point_xy<double>;
using Polygon = bg::model::polygon<Point, false, true>;  // counter-clockwise, closed

Polygon polygon_of(const Profile& profile) {
  Polygon polygon;
  bg::append(polygon.outer(), Point(0, 0));
  for (const ProfileSegment& s : profile) {
    const int parts = s.arc ? 720 : 1;
    for (int k = 0; k <= parts; ++k) {
      const ProfilePoint p = k == 0 ? s.from : k == parts ? s.to : point_on(s, static_cast<double>(k) / parts);
      bg::append(polygon.outer(), Point(p.x, p.y));
    }
  }
  bg::append(polygon.outer(), Point(0, 0));
  bg::unique(polygon);
  return polygon;
}

}  // namespace

TEST_CASE("areas and centroids of silhouettes are those of Boost.Geometry") {
  std::mt19937 random(20261125);
  for (const CutterKind kind : cutter_kinds())
    for (int i = 0; i < 60; ++i) {
      const Cutter c = random_cutter(kind, random);
      const Profile profile = silhouette(c);
      INFO(suggested_name(c));
      REQUIRE_FALSE(profile.empty());
      const Polygon polygon = polygon_of(profile);
      Point centre(0, 0);
      bg::centroid(polygon, centre);
      const Section section = half_section(profile);
      CHECK(section.area_mm2 == Approx(bg::area(polygon)).epsilon(1e-5));
      CHECK(section.centroid_x_mm == Approx(centre.x()).epsilon(1e-5));
      CHECK(section.centroid_y_mm == Approx(centre.y()).epsilon(1e-5));
      // Pappus: the volume that the section sweeps.
      CHECK(volume_mm3(profile) == Approx(2 * std::numbers::pi * bg::area(polygon) * centre.x()).epsilon(1e-5));
      // Nothing on the other side of the axis, and no line over another.
      std::string why;
      const bool valid = bg::is_valid(polygon, why);
      INFO(why);
      CHECK(valid);
    }
}

TEST_CASE("the largest diameter within a depth is the widest place of the outline below it") {
  std::mt19937 random(7);
  for (const CutterKind kind : cutter_kinds())
    for (int i = 0; i < 20; ++i) {
      const Profile profile = silhouette(random_cutter(kind, random));
      double top = 0;
      for (const ProfileSegment& s : profile)
        if (s.role == ProfileRole::cutting) top = std::max({top, s.from.y, s.to.y});
      for (const double share : {0.05, 0.3, 0.6, 1.0}) {
        const double height = top * share;
        double widest = 0;
        for (const ProfileSegment& s : profile)
          if (s.role == ProfileRole::cutting)
            for (int k = 0; k <= 4000; ++k)
              if (const ProfilePoint p = point_on(s, k / 4000.0); p.y <= height + 1e-12) widest = std::max(widest, p.x);
        INFO(label_of(kind) << " at " << height);
        CHECK(largest_radius_mm(profile, height) == Approx(widest).epsilon(4e-3).margin(1e-6));
      }
    }
}
