#include "shop/source_changes.h"

#include <fmt/format.h>
#include <QObject>
#include <algorithm>
#include <cmath>

#include "core/library/cutter_rows.h"
#include "core/quantity/print.h"
#include "formats/json/objects.h"
#include "shop/job_objects.h"
#include "shop/operation_edit.h"
#include "shop/recipe_edit.h"
#include "shop/row_edit.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// What neither a path nor its conditions depend on.
Cutter shape_alone(Cutter c) {
  const Cutter none;
  c.id = {};
  c.revision = 0;
  c.library = {};
  c.number = 0;
  for (std::string Cutter::*text :
       {&Cutter::name, &Cutter::message, &Cutter::notes, &Cutter::order_code, &Cutter::link})
    (c.*text).clear();
  c.in_stock = c.wanted = c.on_order = {};
  c.price.reset();
  c.retired = none.retired;
  c.guesses = none.guesses;
  c.typed.clear();
  return c;
}

QStringList sizes_between(const Cutter& before, const Cutter& after, UnitSystem units) {
  QStringList list;
  const Cutter a = shape_alone(before), b = shape_alone(after);
  for (const Property<Cutter>& p : properties<Cutter>())
    if (p.quantity != Quantity::id && !same_value(p.get(a), p.get(b)))
      list << property_change_text(label_text(p.label), p.get(a), p.get(b), p.quantity, p.choices, units);
  if (list.isEmpty()) list << QObject::tr("its outline");
  return list;
}

SourceChange change_of_operation(const ShopState& state, const Resolver& resolver, const Job& job, int place,
                                 UnitSystem units) {
  const Operation& o = job.operations[static_cast<std::size_t>(place)];
  SourceChange change;
  change.operation = place;
  change.now = o;
  const Cutter* kept = o.generic_cutter ? nullptr : state.cutters.find(o.cutter.id);
  if (kept) {
    if (cutter_moved(state, o)) {
      change.cutter = true;
      change.now.cutter = *kept;
      change.what << QObject::tr("cutter: %1").arg(sizes_between(o.cutter, *kept, units).join(QStringLiteral(", ")));
    }
    const Assembly* held = state.assembly_of(kept->id);
    const auto out = held ? std::optional(stickout_of(*held)) : std::nullopt;
    if (out && o.stickout_mm && std::abs(*out - *o.stickout_mm) > 1e-9 && !o.typed.contains("stickout_mm") &&
        !o.kept_cutter.ends_with(fmt::format(" out {:.4g}", *out))) {
      change.stickout = true;
      change.now.stickout_mm = out;
      change.what << QObject::tr("stick-out %1 → %2")
                         .arg(text_of(shown(*o.stickout_mm, Quantity::length, units)),
                              quantity_text(*out, Quantity::length, units));
    }
  }
  retake(state, resolver, job, change.now);
  if (source_moved(o, change.now)) {
    change.conditions = true;
    const TakenConditions &was = o.taken, &is = change.now.taken;
    if (was.row != is.row || was.table != is.table || was.source != is.source)
      change.what << QObject::tr("%1 → %2").arg(
          was.source_text.empty() ? label_text(label_of(was.source)) : text_of(was.source_text),
          is.source_text.empty() ? label_text(label_of(is.source)) : text_of(is.source_text));
    else
      change.what << QObject::tr("values of %1")
                         .arg(is.source_text.empty() ? label_text(label_of(is.source)) : text_of(is.source_text));
  }
  return change;
}

bool is_among(const Places& places, int place) {
  return std::find(places.begin(), places.end(), place) != places.end();
}

}  // namespace

std::string cutter_print(const Cutter& cutter) {
  std::uint64_t sum = 1469598103934665603u;  // FNV-1a
  for (const char c : to_json(shape_alone(cutter)).dump()) sum = (sum ^ static_cast<unsigned char>(c)) * 1099511628211u;
  return fmt::format("{:016x}", sum);
}

bool cutter_moved(const ShopState& state, const Operation& o) {
  const Cutter* now = o.generic_cutter ? nullptr : state.cutters.find(o.cutter.id);
  if (!now || shape_alone(*now) == shape_alone(o.cutter)) return false;
  return !o.kept_cutter.starts_with(cutter_print(*now));
}

std::vector<SourceChange> source_changes(const ShopState& state, const Resolver& resolver, const Job& job,
                                         UnitSystem units) {
  std::vector<SourceChange> changes;
  for (int i = 0; i < static_cast<int>(job.operations.size()); ++i) {
    if (job.operations[static_cast<std::size_t>(i)].cutter.id.is_null()) continue;
    SourceChange change = change_of_operation(state, resolver, job, i, units);
    if (change.cutter || change.conditions || change.stickout) changes.push_back(std::move(change));
  }
  return changes;
}

Change take_sources(const Job& job, const std::vector<SourceChange>& changes, const Places& operations) {
  Job after = job;
  int count = 0;
  for (const SourceChange& c : changes)
    if (is_among(operations, c.operation)) {
      Operation& o = after.operations[static_cast<std::size_t>(c.operation)];
      o = c.now;
      o.kept_cutter.clear();
      ++count;
    }
  return job_change(count == 1
                        ? QObject::tr("%1: one operation updated from its source").arg(text_of(job.name))
                        : QObject::tr("%1: %2 operations updated from their sources").arg(text_of(job.name)).arg(count),
                    job, after);
}

Change keep_copies(const Job& job, const std::vector<SourceChange>& changes, const Places& operations) {
  Job after = job;
  for (const SourceChange& c : changes) {
    if (!is_among(operations, c.operation)) continue;
    Operation& o = after.operations[static_cast<std::size_t>(c.operation)];
    if (c.conditions) o.taken.kept = fingerprint(c.now);
    if (c.cutter) o.kept_cutter = cutter_print(c.now.cutter);
    if (c.stickout && c.now.stickout_mm) o.kept_cutter += fmt::format(" out {:.4g}", *c.now.stickout_mm);
  }
  return kept_change(job, std::move(after));
}

tl::expected<Change, QString> back_to_library(const ShopState& state, const Job& job, int place, BackAs as) {
  const Operation& o = job.operations[static_cast<std::size_t>(place)];
  const Cutter* cutter = o.generic_cutter ? nullptr : state.cutters.find(o.cutter.id);
  const WorkMaterial* material = state.materials.find(job.material);
  if (!cutter) return tl::unexpected(QObject::tr("Its cutter is in no library; add it there first."));
  if (!material || !o.taken.n_rpm || !o.taken.vf_mm_min)
    return tl::unexpected(QObject::tr("The operation has no speed and feed yet."));
  Recipe r;
  r.id = new_id();
  r.cutter = cutter->id;
  r.kind = cutter->kind;
  r.tool_material = cutter->tool_material;
  r.operation = o.operation;
  r.material = material->id;
  r.group = material->group;
  const double d = cutter->diameter_mm.value_or(0), n = *o.taken.n_rpm;
  r.vc_m_min = o.taken.vc_m_min ? *o.taken.vc_m_min : n * d * 3.14159265358979 / 1000;
  const bool per_turn = process_of(o.operation) != Process::milling;
  r.feed_kind = per_turn ? FeedKind::per_revolution : FeedKind::per_tooth;
  r.feed_mm = *o.taken.vf_mm_min / n / (per_turn ? 1 : std::max(1, cutter->flutes.value_or(1)));
  r.ap_mm = o.taken.ap_mm;
  r.ae_mm = o.taken.ae_mm;
  if (o.taken.plunge_mm_min) r.plunge_mm_min = o.taken.plunge_mm_min;
  if (o.taken.ramp_mm_min) r.ramp_mm_min = o.taken.ramp_mm_min;
  r.coolant = o.taken.coolant;
  r.proven = true;
  Context context;
  context.material = job.material;
  context.machine = job.machine;
  note_proof(state, context, cutter, r);
  if (o.stickout_mm) r.proven_stickout_mm = o.stickout_mm;
  r.diameter_mm = cutter->diameter_mm;
  // A row is for the whole series, which this job alone does not prove.
  r.note = QObject::tr("Found good in %1, in %2 on %3")
               .arg(text_of(job.name), text_of(r.proven_in), text_of(r.proven_on))
               .toStdString();
  r.author = current_user();
  r.date = current_time().substr(0, 10);
  r.source = job.name;
  r.name = free_recipe_name(state, cutter->id, o.name.empty() ? std::string(label_of(o.operation)) : o.name);
  const auto places = state.recipes.of_cutter(cutter->id);
  r.usual = std::none_of(places.begin(), places.end(), [&](std::size_t i) {
    const Recipe& other = state.recipes[i];
    return other.operation == r.operation && other.material == r.material;
  });
  if (as == BackAs::row) return recipe_into_table(state, r).change;
  Change change;
  change.label = QObject::tr("Recipe %1 on %2").arg(text_of(r.name), text_of(cutter->name));
  change.add(r);
  return change;
}

}  // namespace pecorra
