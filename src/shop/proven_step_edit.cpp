#include "shop/proven_step_edit.h"

#include <QObject>
#include <algorithm>
#include <cmath>

#include "shop/job_edit.h"
#include "shop/job_objects.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// As it is kept: of no job, on no features.
Operation kept_operation(Operation o) {
  o.job = o.setup = o.behind = o.proven_step = {};
  o.revision = 0;
  o.rank = 0;
  o.features.clear();
  o.tool_number.reset();
  o.tabs_at.clear();
  for (TakenConditions* t : {&o.taken, &o.taken_slot, &o.taken_finish, &o.taken_floor}) {
    t->trail.clear();
    t->kept.clear();
  }
  return o;
}

std::string made_in_words(const Job& job, const Places& operations) {
  for (const int i : operations)
    for (const FeatureUse& use : job.operations[static_cast<std::size_t>(i)].features)
      if (const Feature* f = find_feature(job, use.key)) {
        std::string text = label_text(label_of(f->kind)).toStdString();
        if (!f->thread.empty()) text += " " + f->thread;
        return text;
      }
  return label_text(label_of(job.operations[static_cast<std::size_t>(operations.front())].path)).toStdString();
}

bool can_take(const Job& job, const Operation& o, const std::vector<std::string>& features) {
  const OperationDeclaration& kind = declaration(o.path);
  return std::all_of(features.begin(), features.end(), [&](const std::string& key) {
    const Feature* f = find_feature(job, key);
    if (!f) return kind.takes(Role::closed_line) || kind.takes(Role::any_line) || kind.takes(Role::hole);
    if (f->kind == FeatureKind::holes) return kind.takes(Role::hole);
    if (f->kind == FeatureKind::pocket) return kind.takes(Role::pocket);
    return !kind.takes(Role::hole);
  });
}

const Cutter* cutter_for(const ShopState& state, const ProvenStep& step, const Operation& o) {
  if (const Cutter* same = state.cutters.find(o.cutter.id)) return same;
  if (!step.any_cutter) return nullptr;
  for (const Cutter& c : state.cutters)
    if (stands_for(c, o.cutter)) return &c;
  return nullptr;
}

}  // namespace

std::string proposed_step_name(const ShopState& state, const Job& job, const Places& operations) {
  const Operation& first = job.operations[static_cast<std::size_t>(operations.front())];
  std::string name = operations.size() > 1 ? made_in_words(job, operations)
                     : first.name.empty()  ? std::string(label_of(first.path))
                                           : first.name;
  if (const WorkMaterial* material = state.materials.find(job.material)) name += ", " + material->name;
  const auto taken = [&](const std::string& text) {
    return std::any_of(state.proven_steps.begin(), state.proven_steps.end(),
                       [&](const ProvenStep& s) { return s.name == text; });
  };
  std::string free = name;
  for (int i = 2; taken(free); ++i) free = name + " " + std::to_string(i);
  return free;
}

Change saved_step(const ShopState& state, const Job& job, const Places& operations, const std::string& name) {
  ProvenStep step;
  step.id = new_id();
  step.name = name;
  step.material = job.material;
  step.machine = job.machine;
  step.feature = made_in_words(job, operations);
  step.source = job.name;
  Job after = job;
  for (const int i : operations) {
    Operation& o = after.operations[static_cast<std::size_t>(i)];
    step.operations.push_back(kept_operation(o));
    o.proven_step = step.id;
    take_from_step(state, job, o);
    o.taken.source = SourceKind::proven_step;
    o.taken.source_text = name;
    o.taken.proven = true;
    o.taken.guess = false;
  }
  Change change = job_change(QObject::tr("Proven step saved: %1").arg(text_of(name)), job, after);
  change.add(step);
  return change;
}

std::vector<const ProvenStep*> steps_for(const ShopState& state, const Job& job,
                                         const std::vector<std::string>& features) {
  std::vector<const ProvenStep*> found;
  for (const ProvenStep& step : state.proven_steps)
    if (!step.operations.empty() && std::all_of(step.operations.begin(), step.operations.end(),
                                                [&](const Operation& o) { return can_take(job, o, features); }))
      found.push_back(&step);
  std::stable_sort(found.begin(), found.end(), [&](const ProvenStep* a, const ProvenStep* b) {
    return (a->material == job.material) > (b->material == job.material);
  });
  return found;
}

tl::expected<Change, QString> with_step(const ShopState& state, const Job& job, const ProvenStep& step,
                                        const std::vector<std::string>& features) {
  Job after = job;
  for (const Operation& of : step.operations) {
    if (!can_take(job, of, features))
      return tl::unexpected(QObject::tr("%1 does not fit what is selected.").arg(text_of(of.name)));
    Operation o = of;
    o.id = new_id();
    o.job = job.id;
    o.proven_step = step.id;
    if (!job.setups.empty()) o.setup = job.setups.front().id;
    if (!job.operations.empty()) o.setup = job.operations.back().setup;
    o.rank = after.operations.empty() ? 1 : after.operations.back().rank + 1;
    for (const std::string& key : features) o.features.push_back(use_of(job, key));
    if (!of.generic_cutter) {
      const Cutter* cutter = cutter_for(state, step, of);
      if (!cutter)
        return tl::unexpected(
            QObject::tr("%1 needs the cutter %2, which is no longer in any library. Make the step one for any fitting "
                        "cutter, or add it again.")
                .arg(text_of(step.name), text_of(of.cutter.name)));
      o.cutter = *cutter;
    }
    take_from_step(state, job, o);
    after.operations.push_back(std::move(o));
  }
  return job_change(QObject::tr("Proven step used: %1").arg(text_of(step.name)), job, after);
}

tl::expected<Change, QString> updated_step(const ShopState& state, const Job& job, const Places& operations) {
  Change change;
  const ProvenStep* before = nullptr;
  ProvenStep after;
  for (const int i : operations) {
    const Operation& o = job.operations[static_cast<std::size_t>(i)];
    const ProvenStep* step = state.proven_steps.find(o.proven_step);
    if (!step || (before && step != before)) continue;
    if (!before) before = step, after = *step;
    for (Operation& of : after.operations)
      if (&of == origin_in(after, o)) of = kept_operation(o);
  }
  if (!before) return tl::unexpected(QObject::tr("None of the selected operations uses a proven step."));
  after.material = job.material;
  after.machine = job.machine;
  after.source = job.name;
  change.label = QObject::tr("Proven step updated: %1").arg(text_of(before->name));
  change.edit(*before, after);
  return change;
}

QStringList users_of_step(const ShopState& state, const Id& step) {
  QStringList users;
  for (const Operation& o : state.operations)
    if (o.proven_step == step)
      if (const JobHead* job = state.jobs.find(o.job); job && !users.contains(text_of(job->name)))
        users << text_of(job->name);
  return users;
}

bool take_from_step(const ShopState& state, const Job& job, Operation& o) {
  const ProvenStep* step = o.proven_step.is_null() ? nullptr : state.proven_steps.find(o.proven_step);
  const Operation* of = step ? origin_in(*step, o) : nullptr;
  if (!of || o.own_n_rpm || o.own_vf_mm_min || !of->taken.n_rpm) return false;
  const std::string kept = o.taken.kept;
  o.taken = of->taken;
  o.taken_slot = of->taken_slot;
  o.taken_finish = of->taken_finish;
  o.taken_floor = of->taken_floor;
  Trail trail;
  trail.push_back({"proven_step", {{"name", step->name}, {"where", step->source}}, {}});
  bool proven = true;
  const auto otherwise = [&](const char* what) {
    proven = false;
    trail.push_back({"proven_step_other", {{"what", std::string(what)}}, {}});
  };
  if (step->material != job.material) otherwise("material");
  if (step->machine != job.machine) otherwise("machine");
  if (step->any_cutter ? !stands_for(o.cutter, of->cutter) : o.cutter.id != of->cutter.id) otherwise("cutter");
  if (o.stickout_mm && of->stickout_mm && std::abs(*o.stickout_mm - *of->stickout_mm) > 0.01) otherwise("stick-out");
  const double pace = o.pace.value_or(job.pace.value_or(100));
  if (pace != 100) {
    proven = false;
    trail.push_back({"proven_step_pace", {{"pace", pace}}, {}});
  }
  for (TakenConditions* t : {&o.taken, &o.taken_slot, &o.taken_finish, &o.taken_floor}) {
    if (!t->n_rpm) continue;
    for (std::optional<double>* value : {&t->n_rpm, &t->vf_mm_min, &t->plunge_mm_min, &t->ramp_mm_min, &t->lead_mm_min})
      if (*value && pace != 100) **value = std::floor(**value * pace / 100);
    t->source = SourceKind::proven_step;
    t->source_text = step->name;
    t->proven = proven;
    t->guess = false;
  }
  if (o.own_ap_mm) o.taken.ap_mm = o.own_ap_mm;
  if (o.own_ae_mm) o.taken.ae_mm = o.own_ae_mm;
  if (o.own_coolant) o.taken.coolant = *o.own_coolant;
  if (o.own_ap_mm || o.own_ae_mm) o.taken.proven = false;
  o.taken.kept = kept;
  o.taken.trail = std::move(trail);
  return true;
}

}  // namespace pecorra
