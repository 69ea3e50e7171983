#include "shop/operation_edit.h"

#include <QObject>
#include <algorithm>
#include <cmath>

#include "core/quantity/print.h"
#include "shop/edit.h"
#include "shop/job_objects.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

const Operation& operation_at(const Job& job, int at) { return job.operations[static_cast<std::size_t>(at)]; }

// The job with `edit` done to the operation; `edit` gets the job it is in as well.
template <class Edit>
Change change_operation(const Job& job, int at, const QString& label, Edit&& edit) {
  Job changed = job;
  edit(changed, changed.operations[static_cast<std::size_t>(at)]);
  return job_change(label, job, changed);
}

bool asks_tables_anew(std::string_view key) {
  return key == "operation" || key == "stickout_mm" || key == "climb" || key == "finish_pass_mm" ||
         key.starts_with("own_");
}

Change with_features(const Job& job, int at, const QString& label, const std::vector<std::string>& keys) {
  return change_operation(job, at, label, [&](Job& changed, Operation& o) {
    o.features.clear();
    for (const std::string& key : keys) o.features.push_back(use_of(changed, key));
  });
}

Change with_holes_of(const Job& job, int at, double diameter_mm, UnitSystem units) {
  const QString size = text_of(shown(diameter_mm, Quantity::length, units));
  return with_features(job, at, QObject::tr("%1: circles of Ø%2 picked").arg(text_of(operation_at(job, at).name), size),
                       circles_of(job, diameter_mm));
}

}  // namespace

NewJob new_job(const ShopState& state, const Drawing& drawing, const QString& note, const Id& machine,
               const Id& material) {
  NewJob made;
  Job job = proposed_job(state, drawing, machine, material);
  made.job = job.id = new_id();
  made.change.label = QObject::tr("New job %1: %2 lines, %3 circles, %4")
                          .arg(text_of(job.name))
                          .arg(drawing.lines.size() - drawing.circles())
                          .arg(drawing.circles())
                          .arg(note);
  add_job(made.change, std::move(job));
  return made;
}

Change with_drawing(const Job& job, const Drawing& drawing, const QString& note) {
  Job changed = job;
  Part part = job.part ? *job.part : Part{};
  part.drawing = drawing;
  changed.part = std::make_shared<const Part>(std::move(part));
  rebind(changed);
  return job_change(QObject::tr("Drawing of %1: %2, %3").arg(text_of(job.name), text_of(drawing.source), note), job,
                    changed);
}

Change without_job(const Job& job) {
  Change change;
  change.label = QObject::tr("Deleted job %1").arg(text_of(job.name));
  remove_job(change, job);
  return change;
}

Change added_operation(const ShopState& state, const Resolver& resolver, const Job& job, PathKind path) {
  Job changed = job;
  Operation o = proposed_operation(changed, path);
  o.id = new_id();
  // Another cutter is only a click away.
  const auto options = cutters_for(state, resolver, changed, o);
  if (!options.empty() && options.front().fits && options.front().resolution.found())
    pick_cutter(state, resolver, changed, o, *options.front().cutter);
  changed.operations.push_back(o);
  const QString kind = label_text(label_of(path));
  return job_change(o.cutter.id.is_null() ? QObject::tr("New operation: %1").arg(kind)
                                          : QObject::tr("New operation: %1 with %2").arg(kind, text_of(o.cutter.name)),
                    job, changed);
}

Change copied_operation(const Job& job, int at) {
  Job changed = job;
  Operation copy = operation_at(job, at);
  copy.id = new_id();
  copy.rank = 0;
  changed.operations.insert(changed.operations.begin() + at + 1, std::move(copy));
  return job_change(QObject::tr("Copied operation %1, %2").arg(at + 1).arg(text_of(operation_at(job, at).name)), job,
                    changed);
}

Change moved_operation(const Job& job, int from, int by) {
  const int to = from + by;
  if (from < 0 || to < 0 || std::max(from, to) >= static_cast<int>(job.operations.size())) return {};
  Job changed = job;
  std::swap(changed.operations[static_cast<std::size_t>(from)], changed.operations[static_cast<std::size_t>(to)]);
  return job_change(QObject::tr("%1 is now operation %2").arg(text_of(operation_at(job, from).name)).arg(to + 1), job,
                    changed);
}

Change without_operation(const Job& job, int at) {
  if (at < 0 || at >= static_cast<int>(job.operations.size())) return {};
  Job changed = job;
  changed.operations.erase(changed.operations.begin() + at);
  return job_change(QObject::tr("Deleted operation %1, %2").arg(at + 1).arg(text_of(operation_at(job, at).name)), job,
                    changed);
}

tl::expected<Change, QString> feature_clicked(const Job& job, int at, const std::string& key, bool alone,
                                              UnitSystem units) {
  const Operation& o = operation_at(job, at);
  const auto uses = [&](const FeatureUse& use) { return use.key == key; };
  const bool picked = std::any_of(o.features.begin(), o.features.end(), uses);
  const JobIndex index(job);
  const JobLine* line = index.line(key);
  const auto& roles = declaration(o.path).roles;
  const auto takes = [&](Role role) { return std::find(roles.begin(), roles.end(), role) != roles.end(); };
  if (takes(Role::hole)) {
    const Feature* feature = index.feature(key);
    if (!(line && line->is_circle()) && !(feature && feature->kind == FeatureKind::holes))
      return tl::unexpected(QObject::tr("Holes are drilled at circles; this is a line."));
    if (line && !alone) return with_holes_of(job, at, line->diameter_mm, units);
  } else if (line && !line->contour->closed && !takes(Role::any_line)) {
    return tl::unexpected(QObject::tr("This line is open; pick a closed one."));
  }
  const QString name = text_of(o.name), what = text_of(key);
  return change_operation(
      job, at,
      picked ? QObject::tr("%1: %2 deselected").arg(name, what) : QObject::tr("%1: %2 selected").arg(name, what),
      [&](Job& changed, Operation& target) {
        if (picked) std::erase_if(target.features, uses);
        else target.features.push_back(use_of(changed, key));
      });
}

Change next_line(const Job& job, int at, UnitSystem units) {
  const Operation& o = operation_at(job, at);
  const std::vector<JobLine> lines = lines_of(job);
  if (o.path == PathKind::drill) {
    const std::vector<double> diameters = hole_diameters(job);
    if (diameters.empty()) return {};
    double now = 0;
    for (const JobLine& line : lines)
      if (line.is_circle() && !o.features.empty() && line.key == o.features.back().key) now = line.diameter_mm;
    const auto after = std::upper_bound(diameters.begin(), diameters.end(), now + 1e-4);
    return with_holes_of(job, at, after == diameters.end() ? diameters.front() : *after, units);
  }
  if (lines.empty()) return {};
  std::size_t next = 0;
  for (std::size_t i = 0; i < lines.size(); ++i)
    if (!o.features.empty() && lines[i].key == o.features.back().key) next = (i + 1) % lines.size();
  return with_features(job, at,
                       QObject::tr("%1: %2, line %3 of %4")
                           .arg(text_of(o.name), text_of(lines[next].key))
                           .arg(next + 1)
                           .arg(lines.size()),
                       {lines[next].key});
}

Change features_accepted(const Job& job, int at) {
  return change_operation(job, at, QObject::tr("%1: changed lines accepted").arg(text_of(operation_at(job, at).name)),
                          [&](Job& changed, Operation& o) {
                            for (FeatureUse& use : o.features) use = use_of(changed, use.key);
                          });
}

Change edited_setup(const ShopState& state, const Resolver& resolver, const Job& job, std::size_t at,
                    const Property<Setup>& property, const Value& value, const std::string& typed, UnitSystem units) {
  Job changed = job;
  if (changed.setups.empty()) changed.setups.emplace_back();
  Setup& setup = changed.setups[std::min(at, changed.setups.size() - 1)];
  const Setup before = setup;
  setup = edited(before, property, value, typed, units);
  if (property.key == "skin") changed = retaken(state, resolver, std::move(changed));
  return job_change(text_of(job.name) + QStringLiteral(": ") + edit_label(before, setup, property, units), job,
                    changed);
}

Change edited_job(const Job& job, const Property<JobHead>& property, const Value& value, const std::string& typed,
                  UnitSystem units) {
  Job changed = job;
  changed.head() = edited(job.head(), property, value, typed, units);
  if (changed.name.empty()) return {};
  return job_change(text_of(job.name) + QStringLiteral(": ") + edit_label(job.head(), changed.head(), property, units),
                    job, changed);
}

Change edited_operation(const ShopState& state, const Resolver& resolver, const Job& job, int at,
                        const Property<Operation>& property, const Value& value, const std::string& typed,
                        UnitSystem units) {
  const Operation& before = operation_at(job, at);
  const Operation after = edited(before, property, value, typed, units);
  const QString label = text_of(before.name) + QStringLiteral(": ") + edit_label(before, after, property, units);
  return change_operation(job, at, label, [&](Job& changed, Operation& target) {
    target = after;
    if (asks_tables_anew(property.key)) retake(state, resolver, changed, target);
  });
}

Change with_cutter(const ShopState& state, const Resolver& resolver, const Job& job, int at, const Cutter& cutter) {
  return change_operation(job, at, QObject::tr("Cutter: %1").arg(text_of(cutter.name)),
                          [&](Job& changed, Operation& target) {
                            target.tool_number.reset();
                            pick_cutter(state, resolver, changed, target, cutter);
                          });
}

Change with_tried(const ShopState& state, const Resolver& resolver, const Job& job, int at, const WhatIf& tried,
                  const CutResults& results) {
  return change_operation(
      job, at, QObject::tr("%1: trial values applied").arg(text_of(operation_at(job, at).name)),
      [&](Job& changed, Operation& target) { take_tried(state, resolver, changed, target, tried, results); });
}

Change toggled_own(const ShopState& state, const Resolver& resolver, const Job& job, int at) {
  const Operation& o = operation_at(job, at);
  const bool own = o.has_own_speed();
  if (!own && !o.taken.n_rpm) return {};
  const QString name = text_of(o.name);
  return change_operation(
      job, at, own ? QObject::tr("%1 follows the tables again").arg(name) : QObject::tr("%1 has own values").arg(name),
      [&](Job& changed, Operation& target) {
        if (own) follow_again(state, resolver, changed, target);
        else make_own(state, resolver, changed, target);
      });
}

Change updated_from_library(const Job& job, const Job& anew) {
  return job_change(QObject::tr("%1: updated from the library").arg(text_of(job.name)), job, anew);
}

Change kept_copy(const Job& job, const Job& anew) {
  Job changed = job;
  for (std::size_t i = 0; i < changed.operations.size(); ++i)
    if (source_moved(changed.operations[i], anew.operations[i]))
      changed.operations[i].taken.kept = fingerprint(anew.operations[i]);
  return job_change(QObject::tr("%1 keeps its copy of the values").arg(text_of(job.name)), job, changed);
}

}  // namespace pecorra
