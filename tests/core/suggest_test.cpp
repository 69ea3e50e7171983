// The changes that get inside a limit: they do, they are the smallest, and they break nothing else.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/mechanics/suggest.h"

using namespace pecorra;

namespace {

const Assembly unheld;  // a model keeps no copies

Cutter mill(double d) {
  Cutter c;
  c.diameter_mm = d;
  c.flutes = 4;
  c.helix_deg = 35;
  c.tool_material = ToolMaterial::carbide;
  c.flute_length_mm = 2.2 * d;
  c.reach_mm = 3 * d;
  c.shank_diameter_mm = d;
  c.max_chip_mm = 0.02 * d;
  return c;
}
WorkMaterial usual_steel() {
  WorkMaterial m;
  m.kc11_n_mm2 = 2500;
  m.mc = 0.26;
  return m;
}
Machine strong_machine() {
  Machine m;
  m.min_rpm = 100;
  m.max_rpm = 12000;
  m.max_feed_mm_min = 8000;
  m.efficiency = 0.85;
  m.max_torque_nm = 60;
  m.max_holding_n = 9000;
  m.power_curve = {{1500, 9}, {12000, 9}};
  return m;
}
const Headroom* find(const CutReport& r, Limit limit) {
  for (const Headroom& h : r.headroom)
    if (h.limit == limit) return &h;
  return nullptr;
}

}  // namespace

TEST_CASE("for random cuts each change gets inside, is the smallest of its input, and breaks nothing else") {
  std::mt19937 random(7);
  const auto between = [&](double a, double b) { return std::uniform_real_distribution<>(a, b)(random); };
  const WorkMaterial m = usual_steel();
  const Machine on = strong_machine();
  int offered = 0;
  std::set<std::string> inputs;
  for (int i = 0; i < 150; ++i) {
    const double d = between(4, 25);
    const Cutter c = mill(d);
    Assembly held;
    held.stickout_mm = d * between(2.6, 5);
    Cut cut;
    cut.operation = OperationKind::side_rough;
    cut.vc_m_min = between(40, 600);
    cut.fz_mm = d * between(0.0003, 0.03);
    cut.ap_mm = d * between(0.2, 2.6);
    cut.ae_mm = d * between(0.02, 1);
    cut.permitted_deflection_mm = 0.01 * d;
    if (i % 3 == 0) cut.corner_rad = std::numbers::pi / 2;
    const CutModel model(c, held, m, on);
    const CutReport now = model.at(cut);
    for (const Headroom& h : now.headroom) {
      if (!wants_change(h)) continue;
      const double target = h.tightest() > 1 + 1e-9 ? 1 : close_to_limit;
      double before = 0;
      for (const Suggestion& s : suggestions(model, cut, h.limit)) {
        INFO("cut " << i << " limit " << key_of(h.limit) << " input " << s.property << " " << s.value);
        CHECK(s.change >= before);
        before = s.change;
        Cut changed = cut;
        Assembly changed_held = held;
        put(s.property, s.value, now.results, changed, changed_held);
        const CutReport there = CutModel(c, changed_held, m, on).at(changed);
        CHECK(find(there, h.limit)->tightest() <= target + 1e-6);
        for (const Headroom& other : there.headroom)
          CHECK(other.tightest() <= std::max(1.0, find(now, other.limit)->tightest()) + 1e-6);
        // Half of the change would not do.
        const auto from = s.property == "stickout_mm" ? held.stickout_mm
                          : s.property == "ae_mm"     ? cut.ae_mm
                          : s.property == "ap_mm"     ? cut.ap_mm
                          : s.property == "fz_mm"     ? now.results.fz_mm
                                                      : now.results.vc_m_min;
        if (std::abs(s.value - *from) > 0.2) {
          Cut half = cut;
          Assembly half_held = held;
          put(s.property, (s.value + *from) / 2, now.results, half, half_held);
          CHECK(find(CutModel(c, half_held, m, on).at(half), h.limit)->tightest() > target - 1e-6);
        }
        inputs.insert(std::string(s.property));
        ++offered;
      }
    }
  }
  CHECK(offered > 150);
  CHECK(inputs.size() == 5);
}

TEST_CASE("a chip that rubs wants more feed or more width; a spindle held at its top wants nothing") {
  const Cutter c = mill(10);
  const WorkMaterial m = usual_steel();
  const Machine on = strong_machine();
  Cut cut;
  cut.operation = OperationKind::side_finish;
  cut.vc_m_min = 120;
  cut.fz_mm = 0.006;
  cut.ap_mm = 8;
  cut.ae_mm = 0.2;
  const CutModel model(c, unheld, m, on);
  REQUIRE(find(model.at(cut), Limit::chip_min)->used > 1);
  const auto changes = suggestions(model, cut, Limit::chip_min);
  REQUIRE(changes.size() == 2);
  for (const Suggestion& s : changes) {
    CHECK(s.upwards);
    CHECK(s.value > (s.property == "fz_mm" ? 0.006 : 0.2));
  }
  cut.vc_m_min.reset();
  cut.n_rpm = 12000;
  cut.fz_mm = 0.05;
  CHECK_FALSE(wants_change(*find(model.at(cut), Limit::spindle_speed)));
}

TEST_CASE("the worst place of the path counts: a cut that is fine beside a wall is not in its corner") {
  const Cutter c = mill(12);
  const WorkMaterial m = usual_steel();
  const Machine on = strong_machine();
  Cut cut;
  cut.operation = OperationKind::side_rough;
  cut.vc_m_min = 120;
  cut.fz_mm = 0.08;
  cut.ap_mm = 18;
  cut.ae_mm = 4;
  const CutModel model(c, unheld, m, on);
  const CutReport wall = model.at(cut);
  CHECK(find(wall, Limit::spindle_power)->used < 1);
  cut.corner_rad = std::numbers::pi / 2;
  const CutReport corner = model.at(cut);
  const Headroom& h = *find(corner, Limit::spindle_power);
  CHECK(h.used == Approx(find(wall, Limit::spindle_power)->used));
  REQUIRE(h.worst_value);
  Cut alone = cut;
  alone.corner_rad = 0;
  alone.ae_mm = width_in_corner_mm(12, 4, std::numbers::pi / 2);
  CHECK(h.worst_used == Approx(find(model.at(alone), Limit::spindle_power)->used));
  CHECK(corner.results.pc_kw == wall.results.pc_kw);
  for (std::size_t i = 1; i < corner.headroom.size(); ++i)
    CHECK(corner.headroom[i - 1].tightest() >= corner.headroom[i].tightest());
}
