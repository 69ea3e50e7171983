// Times of paths against closed forms: uniformly accelerated motion (any textbook of mechanics).
#include <catch2/catch.hpp>
#include <cmath>

#include "core/motion/path_time.h"

using namespace pecorra;

namespace {

Toolpath path_of(std::initializer_list<Move> moves) {
  Toolpath path;
  path.moves.push_back({});
  for (const Move& m : moves) path.moves.push_back(m);
  return path;
}
Move to(double x, double y, double z, double feed) {
  Move m;
  m.kind = feed > 0 ? MoveKind::cut : MoveKind::rapid;
  m.x = x, m.y = y, m.z = z;
  m.feed_mm_min = feed;
  return m;
}
double seconds(const Toolpath& path, const MachineDynamics& machine) { return path_times(path, machine).back(); }

MachineDynamics dynamics(double a = 1000, double jump_mm_min = 0) {
  MachineDynamics m;
  m.acceleration = a;
  m.corner_jump = jump_mm_min / 60;
  m.rapids = {30000, 30000};
  return m;
}

}  // namespace

TEST_CASE("a line speeds up, runs and slows down") {
  // s/v + v/a, where there is room to reach v.
  CHECK(seconds(path_of({to(100, 0, 0, 6000)}), dynamics()) == Approx(100 / 100.0 + 100 / 1000.0));
  // 2·√(s/a) where there is not.
  CHECK(seconds(path_of({to(4, 0, 0, 12000)}), dynamics()) == Approx(2 * std::sqrt(4 / 1000.0)));
  // Without acceleration: length over feed, and rapids at the slower of both.
  MachineDynamics none;
  none.rapids = {6000, 3000};
  CHECK(seconds(path_of({to(100, 0, 0, 6000)}), none) == Approx(1.0));
  CHECK(seconds(path_of({to(0, 0, 50, 0)}), none) == Approx(1.0));
  CHECK(seconds(path_of({to(30, 40, 0, 0)}), none) == Approx(0.5));
  // Along a diagonal both axes help: √2 times the acceleration.
  CHECK(seconds(path_of({to(1, 1, 0, 60000)}), dynamics()) ==
        Approx(2 * std::sqrt(std::sqrt(2.0) / (1000 * std::sqrt(2.0)))));
  // Z has its own.
  MachineDynamics slow_z = dynamics();
  slow_z.acceleration_z = 250;
  CHECK(seconds(path_of({to(0, 0, -4, 60000)}), slow_z) == Approx(2 * std::sqrt(4 / 250.0)));
}

TEST_CASE("a line in two parts takes as long as in one, a corner stops or slows it") {
  CHECK(seconds(path_of({to(50, 0, 0, 6000), to(100, 0, 0, 6000)}), dynamics()) ==
        Approx(seconds(path_of({to(100, 0, 0, 6000)}), dynamics())));
  // Square corner, no jump permitted: two lines from rest to rest.
  CHECK(seconds(path_of({to(100, 0, 0, 6000), to(100, 100, 0, 6000)}), dynamics()) == Approx(2 * (1.0 + 0.1)));
  // With a jump of v_c on each axis: through the corner at v_c.
  const double vc = 20, v = 100, a = 1000, s = 100;
  const double one = (v - 0) / a + (v - vc) / a + (s - v * v / (2 * a) - (v * v - vc * vc) / (2 * a)) / v;
  CHECK(seconds(path_of({to(100, 0, 0, 6000), to(100, 100, 0, 6000)}), dynamics(1000, 1200)) == Approx(2 * one));
  // Back where it came from: the direction changes by two.
  const double half = vc / 2;
  const double back = v / a + (v - half) / a + (s - v * v / (2 * a) - (v * v - half * half) / (2 * a)) / v;
  CHECK(seconds(path_of({to(100, 0, 0, 6000), to(0, 0, 0, 6000)}), dynamics(1000, 1200)) == Approx(2 * back));
}

TEST_CASE("an arc runs no faster than its centripetal acceleration permits") {
  Move arc = to(0, 20, 0, 60000);
  arc.shape = MoveShape::counter_clockwise;
  arc.centre_x = 0, arc.centre_y = 10;
  const double v = std::sqrt(1000 * 10.0), length = M_PI * 10;
  CHECK(seconds(path_of({arc}), dynamics()) == Approx(length / v + v / 1000).epsilon(0.01));
  // A helix is as long as its thread.
  Move helix = to(0, 0, -3, 600);
  helix.shape = MoveShape::counter_clockwise;
  helix.centre_x = 0, helix.centre_y = 10;
  helix.turns = 1;
  CHECK(length_of(0, 0, 0, helix) == Approx(std::hypot(4 * M_PI * 10, 3)));
  const Place3 half = place_on(0, 0, 0, helix, 0.25);
  CHECK(half.x == Approx(0).margin(1e-9));
  CHECK(half.y == Approx(20));
  CHECK(half.z == Approx(-0.75));
}

TEST_CASE("short blocks meet the look-ahead and the least time of a block") {
  Toolpath many;
  many.moves.push_back({});
  for (int i = 1; i <= 1000; ++i) many.moves.push_back(to(0.1 * i, 0, 0, 6000));
  CHECK(seconds(many, dynamics()) == Approx(1.1));
  // Ten blocks seen: never faster than what stops within a millimetre, √(2·a·s).
  MachineDynamics near_sighted = dynamics();
  near_sighted.look_ahead = 10;
  const double v = std::sqrt(2 * 1000 * 1.0);
  CHECK(seconds(many, near_sighted) == Approx(100 / v).epsilon(0.03));
  MachineDynamics slow = dynamics();
  slow.block_s = 0.004;
  CHECK(seconds(many, slow) == Approx(1000 * 0.004).epsilon(0.01));
}

TEST_CASE("a dwell waits at rest") {
  Toolpath path = path_of({to(50, 0, 0, 6000), to(100, 0, 0, 6000)});
  path.events.push_back({2, MotionEvent::dwell, 0.5});
  CHECK(seconds(path, dynamics()) == Approx(2 * (0.5 + 0.1) + 0.5));
}
