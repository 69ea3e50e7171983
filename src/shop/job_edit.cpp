#include "shop/job_edit.h"

#include <algorithm>
#include <cmath>

#include "core/toolpath/toolpath.h"

namespace pecorra {
namespace {

double up_to(double value, double step) { return std::ceil(value / step - 1e-9) * step; }

// The largest diameter that fits into the lines picked; nothing if any does.
bool size_fits(const Job& job, const Operation& o, const Cutter& cutter) {
  if (!cutter.diameter_mm) return false;
  if (o.path == PathKind::drilling)
    return o.hole_diameter_mm && std::abs(*cutter.diameter_mm - *o.hole_diameter_mm) <= 0.06;
  if (o.depth_mm && cutter.reach_mm.value_or(cutter.flute_length_mm.value_or(0)) < *o.depth_mm) return false;
  if (o.where != ProfileWhere::within) return true;
  return std::all_of(o.contours.begin(), o.contours.end(), [&](int index) {
    const auto line = line_at(job.drawing, index);
    return line && line->closed && !offset_rings({flattened(*line, 0.01)}, -*cutter.diameter_mm / 2).empty();
  });
}

}  // namespace

Job proposed_job(const ShopState& state, const Drawing& drawing, const Id& machine, const Id& material) {
  Job job;
  job.machine = machine;
  job.material = material;
  job.drawing = drawing;
  const Box box = bounds(drawing);
  job.stock_width_mm = up_to(box.high_x - box.low_x + 10, 1);
  job.stock_depth_mm = up_to(box.high_y - box.low_y + 10, 1);
  job.stock_height_mm = 20;
  job.clearance_mm = 15;
  std::string name = drawing.source.substr(0, drawing.source.find_last_of('.'));
  std::replace(name.begin(), name.end(), '_', ' ');
  if (name.empty()) name = "Job";
  job.name = name;
  for (int i = 2; state.jobs.named(job.name); ++i) job.name = name + " " + std::to_string(i);
  return job;
}

Operation proposed_operation(const Job& job, PathKind path) {
  Operation o;
  o.path = path;
  o.operation = declaration(path).usual;
  o.depth_mm = job.stock_height_mm;
  if (path == PathKind::profile) {
    if (const int outer = outermost_line(job.drawing); outer >= 0) {
      o.contours = {outer};
      o.side_stock_mm = 5;
    } else if (line_count(job.drawing) > 0) {
      o.contours = {0};
      o.where = ProfileWhere::along;
    }
    o.name = "Profile";
  } else {
    // The most frequent diameter.
    int most = 0;
    for (const double d : hole_diameters(job.drawing)) {
      const int count = static_cast<int>(ordered_holes(job.drawing, d).size());
      if (count > most) {
        most = count;
        o.hole_diameter_mm = d;
      }
    }
    o.breakthrough_mm = 1;
    o.name = "Holes";
  }
  return o;
}

std::vector<CutterOption> cutters_for(const ShopState& state, const Resolver& resolver, const Job& job,
                                      const Operation& o) {
  std::vector<CutterOption> options;
  const WorkMaterial* material = state.materials.find(job.material);
  const Machine* machine = state.machines.find(job.machine);
  for (const Cutter& cutter : state.cutters) {
    if (cutter.retired || !can_do(cutter.kind, o.operation) || has_error(check_cutter(cutter))) continue;
    CutterOption option;
    option.cutter = &cutter;
    if (material && machine) {
      Query query = query_for(state, job, o);
      query.own_n_rpm = query.own_vf_mm_min = not_given;
      option.resolution = resolver.resolve(key_as_used(state, resolver, cutter), resolver.key_of(*material),
                                           resolver.key_of(*machine), query);
    }
    option.in_job = std::any_of(job.operations.begin(), job.operations.end(),
                                [&](const Operation& other) { return other.cutter.id == cutter.id; });
    option.fits = size_fits(job, o, state.as_used(cutter));
    option.here = !cutter.in_stock || *cutter.in_stock > 0;
    options.push_back(option);
  }
  const double wanted = o.hole_diameter_mm.value_or(0);
  std::stable_sort(options.begin(), options.end(), [&](const CutterOption& a, const CutterOption& b) {
    if (a.fits != b.fits) return a.fits;
    if (a.here != b.here) return a.here;
    if (a.in_job != b.in_job) return a.in_job;
    if (a.resolution.found() != b.resolution.found()) return a.resolution.found();
    if (o.path != PathKind::drilling) return false;
    return std::abs(*a.cutter->diameter_mm - wanted) < std::abs(*b.cutter->diameter_mm - wanted);
  });
  return options;
}

void pick_cutter(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o, const Cutter& cutter) {
  o.cutter = state.as_used(cutter);
  o.own_n_rpm.reset();
  o.own_vf_mm_min.reset();
  const Assembly* assembly = state.assembly_of(cutter.id);
  o.stickout_mm = assembly ? stickout_of(*assembly) : std::nullopt;
  retake(state, resolver, job, o);
}

void make_own(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o) {
  o.own_n_rpm = o.taken.n_rpm;
  o.own_vf_mm_min = o.taken.vf_mm_min;
  o.own_ap_mm = o.taken.ap_mm;
  o.own_ae_mm = o.taken.ae_mm;
  retake(state, resolver, job, o);
}

void take_tried(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o, const WhatIf& tried,
                const CutResults& r) {
  const ShopSettings settings = state.shop_settings();
  const Rounding steps(settings.n_step_rpm, settings.vf_step_mm_min);
  const auto own = [&](const char* key, std::optional<double> Operation::*member, const std::optional<double>& value) {
    o.*member = value;
    o.typed.erase(key);
  };
  if (tried.stickout_mm) own("stickout_mm", &Operation::stickout_mm, tried.stickout_mm);
  if (tried.ap_mm) own("own_ap_mm", &Operation::own_ap_mm, tried.ap_mm);
  if (tried.ae_mm) own("own_ae_mm", &Operation::own_ae_mm, tried.ae_mm);
  if ((tried.vc_m_min || tried.fz_mm) && r.n_rpm && r.fn_mm) {
    const double n = round_down(*r.n_rpm, steps.n);
    own("own_n_rpm", &Operation::own_n_rpm, n);
    own("own_vf_mm_min", &Operation::own_vf_mm_min, round_down(n * *r.fn_mm, steps.vf));
  }
  retake(state, resolver, job, o);
}

void follow_again(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o) {
  for (auto member : {&Operation::own_n_rpm, &Operation::own_vf_mm_min, &Operation::own_ap_mm, &Operation::own_ae_mm})
    (o.*member).reset();
  for (const char* key : {"own_n_rpm", "own_vf_mm_min", "own_ap_mm", "own_ae_mm"}) o.typed.erase(key);
  retake(state, resolver, job, o);
}

}  // namespace pecorra
