// Machines: what is wrong with their curves and ranges.
#include <catch2/catch.hpp>

#include <algorithm>

#include "../support/says.h"
#include "core/machine/machine.h"

using namespace pecorra;

namespace {

bool says(const Machine& m, const char* code) { return test::says(check_machine(m), code); }

}  // namespace

TEST_CASE("a machine's curves rise, are not negative, and the short-time one is not below the continuous one") {
  Machine m;
  m.min_rpm = 50;
  m.max_rpm = 12000;
  m.power_curve = {{1500, 11}, {12000, 11}};
  m.max_torque_nm = 70;  // 9550 · 11 / 1500
  CHECK(check_machine(m).empty());
  m.peak_curve = {{1500, 15}, {8000, 15}, {12000, 12}};
  CHECK(check_machine(m).empty());
  m.peak_curve[2].kw = 9;
  CHECK(says(m, "peak_under_continuous"));
  m.peak_curve.clear();
  m.max_torque_nm = 700;
  CHECK(says(m, "torque_not_of_curve"));
  m.max_torque_nm.reset();
  m.power_curve = {{3000, 11}, {3000, 12}};
  CHECK(says(m, "curve_not_rising"));
  m.power_curve = {{3000, -1}};
  CHECK(says(m, "curve_negative"));
  m.power_curve.clear();
  m.min_rpm = 20000;
  CHECK(says(m, "values_reversed"));
  m.min_rpm = -5;
  CHECK(says(m, "out_of_range"));
}
