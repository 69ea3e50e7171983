#include "shop/limit_check.h"

#include <algorithm>

#include "core/operation/ring.h"

namespace pecorra {
namespace {

double number_in(const Message& m, std::string_view key) {
  for (const auto& [name, value] : m.values)
    if (const double* n = std::get_if<double>(&value); n && name == key) return *n;
  return 0;
}

// Of two that say the same, the one with more of the limit used.
void add(std::vector<Message>& messages, Message m) {
  for (Message& known : messages)
    if (known.code == m.code) {
      if (number_in(m, "used") > number_in(known, "used")) known = std::move(m);
      return;
    }
  messages.push_back(std::move(m));
}

}  // namespace

LimitCheck::LimitCheck(const ShopState& state, const JobHead& job, const std::vector<Operation>& operations)
    : settings_(state.shop_settings()) {
  if (const WorkMaterial* material = state.materials.find(job.material)) material_ = *material;
  if (const Machine* machine = state.machines.find(job.machine)) machine_ = *machine;
  for (const Operation& o : operations)
    if (const Assembly* held = o.cutter.id.is_null() ? nullptr : state.assembly_of(o.cutter.id))
      held_.emplace(o.cutter.id, *held);
}

std::vector<Message> LimitCheck::of(const Operation& o, const PathFacts& path) const {
  std::vector<Message> messages;
  if (!material_ || !machine_ || !o.taken.n_rpm || !o.taken.vf_mm_min) return messages;
  const auto held = held_.find(o.cutter.id);
  const HeldCutter as = as_held(o.cutter, held == held_.end() ? nullptr : &held->second, o.stickout_mm);
  const CutModel model(as.cutter, as.assembly, *material_, *machine_);
  const auto judge = [&](const Cut& cut) {
    if (!check_cut(as.cutter, cut).empty()) return;
    const CutReport report = model.at(cut, Extent::limits);
    for (const Message& m : report.messages)
      if (m.severity != Severity::note) add(messages, m);
    for (const Headroom& h : report.headroom)
      if (h.used <= 1 + 1e-9 && h.tightest() > 1 + 1e-6)
        add(messages,
            {Severity::warning,
             "over_limit_at_tightest",
             "taken",
             {{"limit", std::string(label_of(h.limit))}, {"used", h.tightest()}, {"percent", h.tightest() * 100}}});
  };
  const Cut main = cut_of(settings_, o, path);
  judge(main);
  const double d = o.cutter.diameter_mm.value_or(0);
  if (path.full_width_mm > d && o.taken_slot.n_rpm && !o.is_own()) {
    Cut slot = main;
    slot.operation = OperationKind::slot;
    slot.n_rpm = o.taken_slot.n_rpm;
    slot.vf_mm_min = o.taken_slot.vf_mm_min;
    slot.ap_mm = path.full_depth_mm > 0 ? path.full_depth_mm : o.taken_slot.ap_mm;
    slot.ae_mm = d;
    slot.corner_rad = 0;
    judge(slot);
  }
  if (o.finish_pass_mm && o.taken_finish.n_rpm && !o.has_own_speed()) {
    Cut finish = main;
    finish.operation = OperationKind::side_finish;
    finish.n_rpm = o.taken_finish.n_rpm;
    finish.vf_mm_min = o.taken_finish.vf_mm_min;
    finish.ap_mm = std::min(path.depth_mm.value_or(1e9), finishing_step(o, path.depth_mm.value_or(1e9)));
    finish.ae_mm = std::min(*o.finish_pass_mm, d);
    finish.corner_rad = 0;
    finish.permitted_deflection_mm = o.permitted_deflection_mm
                                         ? *o.permitted_deflection_mm
                                         : permitted_deflection_mm(settings_, OperationKind::side_finish, o.cutter);
    judge(finish);
  }
  return messages;
}

}  // namespace pecorra
