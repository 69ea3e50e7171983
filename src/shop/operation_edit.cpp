#include "shop/operation_edit.h"

#include <QObject>
#include <algorithm>
#include <cmath>

#include "core/quantity/print.h"
#include "shop/edit.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

Change change_of(const QString& label, const Job& before, const Job& after) {
  Change change;
  change.label = label;
  change.edit(before, after);
  return change;
}

const Operation& operation_at(const Job& job, int at) { return job.operations[static_cast<std::size_t>(at)]; }

// The job with `edit` done to the operation; `edit` gets the job it is in as well.
template <class Edit>
Change change_operation(const Job& job, int at, const QString& label, Edit&& edit) {
  Job changed = job;
  edit(changed, changed.operations[static_cast<std::size_t>(at)]);
  return change_of(label, job, changed);
}

bool asks_tables_anew(std::string_view key) {
  return key == "operation" || key == "stickout_mm" || key == "climb" || key.starts_with("own_");
}

Change with_holes_of(const Job& job, int at, double diameter_mm, UnitSystem units) {
  const QString size = text_of(shown(diameter_mm, Quantity::length, units));
  return change_operation(job, at,
                          QObject::tr("%1: circles of Ø%2 picked").arg(text_of(operation_at(job, at).name), size),
                          [&](Job&, Operation& o) {
                            o.hole_diameter_mm = diameter_mm;
                            o.typed.erase("hole_diameter_mm");
                          });
}

}  // namespace

NewJob new_job(const ShopState& state, const Drawing& drawing, const QString& note, const Id& machine,
               const Id& material) {
  NewJob made;
  Job job = proposed_job(state, drawing, machine, material);
  made.job = job.id = new_id();
  made.change.label = QObject::tr("New job %1: %2 lines, %3 circles, %4")
                          .arg(text_of(job.name))
                          .arg(job.drawing.contours.size())
                          .arg(job.drawing.circles.size())
                          .arg(note);
  made.change.add(job);
  return made;
}

Change with_drawing(const Job& job, const Drawing& drawing, const QString& note) {
  Job changed = job;
  changed.drawing = drawing;
  return change_of(QObject::tr("Drawing of %1: %2, %3").arg(text_of(job.name), text_of(drawing.source), note), job,
                   changed);
}

Change without_job(const Job& job) {
  Change change;
  change.label = QObject::tr("Deleted job %1").arg(text_of(job.name));
  change.remove(job);
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
  return change_of(o.cutter.id.is_null() ? QObject::tr("New operation: %1").arg(kind)
                                         : QObject::tr("New operation: %1 with %2").arg(kind, text_of(o.cutter.name)),
                   job, changed);
}

Change moved_operation(const Job& job, int from, int by) {
  const int to = from + by;
  if (from < 0 || to < 0 || std::max(from, to) >= static_cast<int>(job.operations.size())) return {};
  Job changed = job;
  std::swap(changed.operations[static_cast<std::size_t>(from)], changed.operations[static_cast<std::size_t>(to)]);
  return change_of(QObject::tr("%1 is now operation %2").arg(text_of(operation_at(job, from).name)).arg(to + 1), job,
                   changed);
}

Change without_operation(const Job& job, int at) {
  if (at < 0 || at >= static_cast<int>(job.operations.size())) return {};
  Job changed = job;
  changed.operations.erase(changed.operations.begin() + at);
  return change_of(QObject::tr("Deleted operation %1, %2").arg(at + 1).arg(text_of(operation_at(job, at).name)), job,
                   changed);
}

tl::expected<Change, QString> line_clicked(const Job& job, int at, int line, UnitSystem units) {
  const Operation& o = operation_at(job, at);
  if (o.path == PathKind::profile) {
    const bool picked = std::find(o.contours.begin(), o.contours.end(), line) != o.contours.end();
    const QString name = text_of(o.name);
    return change_operation(job, at,
                            picked ? QObject::tr("%1: line %2 deselected").arg(name).arg(line + 1)
                                   : QObject::tr("%1: line %2 selected").arg(name).arg(line + 1),
                            [&](Job&, Operation& target) {
                              if (picked) std::erase(target.contours, line);
                              else target.contours.push_back(line);
                            });
  }
  const int circle = line - static_cast<int>(job.drawing.contours.size());
  if (circle < 0) return tl::unexpected(QObject::tr("Holes are drilled at circles; this is a line."));
  return with_holes_of(job, at, job.drawing.circles[static_cast<std::size_t>(circle)].diameter_mm, units);
}

Change next_line(const Job& job, int at, UnitSystem units) {
  const Operation& o = operation_at(job, at);
  if (o.path == PathKind::profile) {
    const int lines = line_count(job.drawing);
    if (lines == 0) return {};
    const int next = o.contours.empty() ? 0 : (o.contours.back() + 1) % lines;
    return change_operation(job, at, QObject::tr("%1: line %2 of %3").arg(text_of(o.name)).arg(next + 1).arg(lines),
                            [&](Job&, Operation& target) { target.contours = {next}; });
  }
  const std::vector<double> diameters = hole_diameters(job.drawing);
  if (diameters.empty()) return {};
  const auto after = std::upper_bound(diameters.begin(), diameters.end(), o.hole_diameter_mm.value_or(0) + 1e-4);
  return with_holes_of(job, at, after == diameters.end() ? diameters.front() : *after, units);
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
  return change_of(QObject::tr("%1: updated from the library").arg(text_of(job.name)), job, anew);
}

Change kept_copy(const Job& job, const Job& anew) {
  Job changed = job;
  for (std::size_t i = 0; i < changed.operations.size(); ++i)
    if (source_moved(changed.operations[i], anew.operations[i]))
      changed.operations[i].taken.kept = fingerprint(anew.operations[i].taken);
  return change_of(QObject::tr("%1 keeps its copy of the values").arg(text_of(job.name)), job, changed);
}

}  // namespace pecorra
