#include "shop/job_edit.h"

#include <algorithm>
#include <cmath>

#include "core/job/order.h"
#include "shop/planning.h"
#include "shop/program_file.h"

namespace pecorra {
namespace {

double up_to(double value, double step) { return std::ceil(value / step - 1e-9) * step; }

}  // namespace

Job proposed_job(const ShopState& state, const Drawing& drawing, const Id& machine, const Id& material) {
  Job job;
  job.machine = machine;
  job.material = material;
  job.program_number = next_program_number(state);
  Setup setup;
  if (!drawing.lines.empty() || !drawing.texts.empty()) {
    auto part = std::make_shared<Part>();
    part->drawing = drawing;
    job.part = std::move(part);
  }
  const Box box = bounds(drawing);
  const double beside = 5, x = up_to(box.width() + 2 * beside, 1), y = up_to(box.depth() + 2 * beside, 1);
  setup.x_low_mm = (box.low_x + box.high_x - x) / 2;
  setup.x_high_mm = *setup.x_low_mm + x;
  setup.y_low_mm = (box.low_y + box.high_y - y) / 2;
  setup.y_high_mm = *setup.y_low_mm + y;
  setup.z_low_mm = -20;
  setup.z_high_mm = 0;
  setup.clearance_mm = 15;
  setup.work_offset = "G54";
  job.setups.push_back(std::move(setup));
  std::string name = drawing.source.substr(0, drawing.source.find_last_of('.'));
  std::replace(name.begin(), name.end(), '_', ' ');
  if (name.empty()) name = "Job";
  job.name = name;
  for (int i = 2; state.jobs.named(job.name); ++i) job.name = name + " " + std::to_string(i);
  return job;
}

void count_from_faced(const Job& job, Operation& o) {
  if (declaration(o.path).leaves(o) & faced) return;
  std::vector<Message> unused;
  const Setup* setup = setup_of(job, o);
  const OperationInput input = input_of(job, JobIndex(job), o, PathRules{}, unused);
  const auto top = faced_top(job, setup, input, job.operations.size());
  const double from = top_of(o, input);
  if (!top || *top >= from - 1e-6) return;
  o.top_mm = *top;
  // What was to reach the underside of the stock still does.
  if (o.depth_mm && input.stock_top > input.stock_bottom && std::abs(from - *o.depth_mm - input.stock_bottom) < 1e-6)
    o.depth_mm = *top - input.stock_bottom;
}

Operation proposed_operation(const Job& job, PathKind path, const std::vector<std::string>& features) {
  Operation o;
  o.path = path;
  const OperationDeclaration& kind = declaration(path);
  o.operation = kind.usual;
  o.name = std::string(label_of(path));
  Offer offer = offer_of(job);
  if (!features.empty()) {
    // Just these, worked on already or not.
    const auto chosen = [&](const std::string& key) {
      return std::find(features.begin(), features.end(), key) != features.end();
    };
    std::erase_if(offer.lines, [&](const OfferedLine& line) { return !chosen(line.key); });
    if (!chosen(offer.outermost)) offer.outermost.clear();
    offer.features.clear();
    for (const Feature& f : job.features)
      if (chosen(f.key)) offer.features.push_back(&f);
  }
  const std::vector<std::string> proposed = kind.propose(offer, o);
  for (const std::string& key : features.empty() ? proposed : features) o.features.push_back(use_of(job, key));
  count_from_faced(job, o);
  return o;
}

void pick_cutter(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o, const Cutter& cutter) {
  o.cutter = state.as_used(cutter);
  o.generic_cutter = false;
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
