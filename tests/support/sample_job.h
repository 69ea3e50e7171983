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
  Setup setup;
  setup.id = Id{1, 2};
  setup.x_low_mm = -5, setup.x_high_mm = 105;
  setup.y_low_mm = -5, setup.y_high_mm = 65;
  setup.z_low_mm = -12, setup.z_high_mm = 0;
  setup.clearance_mm = 15;
  job.setups = {setup};
  Part part;
  part.id = Id{1, 3};
  part.drawing.add_line(rounded_plate(100, 60, 8));
  part.drawing.add_circle({20, 20}, 8.5);
  part.drawing.add_circle({80, 40}, 8.5);
  part.drawing.add_circle({50, 30}, 12);
  job.part = std::make_shared<const Part>(std::move(part));
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
  o.features = {{"0/1", {}}};
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
  o.path = PathKind::drill;
  o.operation = OperationKind::drill;
  o.name = "Bolt holes";
  o.cutter = proposed_cutter(CutterKind::drill, 8.5);
  o.cutter.id = Id{3, 2};
  o.cutter.number = 7;
  o.cutter.name = "Drill Ø8.5 × 61";
  o.depth_to = DepthTo::full_diameter;
  o.features = {{"0/2", {}}, {"0/3", {}}};
  o.depth_mm = 12;
  o.breakthrough_mm = 1;
  o.taken.n_rpm = 2800;
  o.taken.vf_mm_min = 400;
  o.taken.source = SourceKind::shop_table;
  return o;
}

// Of an operation of a job, planned by itself.
inline pecorra::PlannedPath planned(const pecorra::Job& job, const pecorra::Operation& o) {
  using namespace pecorra;
  std::vector<Message> binding;
  const OperationInput input = input_of(job, JobIndex(job), o, PathRules{}, binding);
  StockField stock(input.stock, input.stock_top, o.cutter.diameter_mm.value_or(1));
  PlannedPath path;
  if (!has_error(binding)) path = plan_operation(o, input, stock);
  path.messages.insert(path.messages.begin(), binding.begin(), binding.end());
  return path;
}

}  // namespace test
