// A small job for tests: a rounded plate 100 × 60 with two holes.
#pragma once

#include "core/cutter/kinds.h"
#include "core/cutter/name_pattern.h"
#include "core/job/job.h"

namespace test {

inline pecorra::Contour rounded_plate(double w, double h, double r) {
  const double b = 0.41421356237309503;  // quarter circle
  return {true,
          {{r, 0, 0}, {w - r, 0, b}, {w, r, 0}, {w, h - r, b}, {w - r, h, 0}, {r, h, b}, {0, h - r, 0}, {0, r, b}}};
}

inline pecorra::Job plate_job() {
  using namespace pecorra;
  Job job;
  job.id = Id{1, 1};
  job.name = "Plate";
  job.stock_width_mm = 110;
  job.stock_depth_mm = 70;
  job.stock_height_mm = 12;
  job.clearance_mm = 15;
  job.drawing.contours = {rounded_plate(100, 60, 8)};
  job.drawing.circles = {{20, 20, 8.5}, {80, 40, 8.5}, {50, 30, 12}};
  return job;
}

inline pecorra::Operation profile_operation(double depth = 10) {
  using namespace pecorra;
  Operation o;
  o.id = Id{2, 1};
  o.name = "Outside";
  o.cutter = proposed_cutter(CutterKind::end_mill, 12);
  o.cutter.id = Id{3, 1};
  o.cutter.number = 4;
  o.cutter.name = suggested_name(o.cutter);
  o.contours = {0};
  o.depth_mm = depth;
  o.side_stock_mm = 5;
  o.taken.n_rpm = 3000;
  o.taken.vf_mm_min = 600;
  o.taken.plunge_mm_min = 200;
  o.taken.ramp_mm_min = 300;
  o.taken.ap_mm = 6;
  o.taken.ae_mm = 3;
  o.taken.coolant = Coolant::flood;
  o.taken.source = SourceKind::shop_table;
  return o;
}

inline pecorra::Operation drilling_operation() {
  using namespace pecorra;
  Operation o;
  o.id = Id{2, 2};
  o.path = PathKind::drilling;
  o.operation = OperationKind::drill;
  o.name = "Bolt holes";
  o.cutter = proposed_cutter(CutterKind::drill, 8.5);
  o.cutter.id = Id{3, 2};
  o.cutter.number = 7;
  o.cutter.name = "Drill Ø8.5 × 61";
  o.hole_diameter_mm = 8.5;
  o.depth_mm = 12;
  o.breakthrough_mm = 1;
  o.taken.n_rpm = 2800;
  o.taken.vf_mm_min = 400;
  o.taken.source = SourceKind::shop_table;
  return o;
}

}  // namespace test
