#include "shop/operation_edit.h"

#include <QObject>
#include <algorithm>
#include <cmath>
#include <map>

#include "core/job/order.h"
#include "core/operation/holes.h"
#include "core/quantity/print.h"
#include "shop/cutter_match.h"
#include "shop/edit.h"
#include "shop/feature_edit.h"
#include "shop/job_objects.h"
#include "shop/planning.h"
#include "shop/program_file.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

const Operation& operation_at(const Job& job, int at) { return job.operations[static_cast<std::size_t>(at)]; }

// "Outside profile" or "3 operations"
QString name_of(const Job& job, const Places& at) {
  return at.size() == 1 ? text_of(operation_at(job, at.front()).name)
                        : QObject::tr("%1 operations").arg(static_cast<int>(at.size()));
}

// `edit` done to each of the operations; nothing else of the job changes.
template <class Edit>
Change change_operations(const Job& job, const Places& at, const QString& label, Edit&& edit) {
  Change change;
  change.label = label;
  for (const int i : at) {
    const Operation& before = operation_at(job, i);
    Operation after = before;
    edit(after);
    edit_operation(change, before, after);
  }
  return change;
}

bool asks_tables_anew(std::string_view key) {
  return key == "operation" || key == "stickout_mm" || key == "climb" || key == "finish_pass_mm" ||
         key == "finish_floor_mm" || key == "pace" || key == "source" || key.starts_with("own_");
}

Change with_features(const Job& job, int at, const QString& label, const std::vector<std::string>& keys) {
  return change_operations(job, at, label, [&](Operation& o) {
    o.features.clear();
    for (const std::string& key : keys) o.features.push_back(use_of(job, key));
  });
}

Change with_holes_of(const Job& job, int at, double diameter_mm, UnitSystem units) {
  const QString size = text_of(shown(diameter_mm, Quantity::length, units));
  return with_features(job, at, QObject::tr("%1: circles of Ø%2 picked").arg(text_of(operation_at(job, at).name), size),
                       circles_of(job, diameter_mm));
}

bool inside(const Job& job, const Places& at) {
  return !at.empty() && at.front() >= 0 && at.back() < static_cast<int>(job.operations.size());
}

}  // namespace

NewJob new_job(const ShopState& state, const Drawing& drawing, const QString& note, const Id& machine,
               const Id& material) {
  NewJob made;
  Job job = proposed_job(state, drawing, machine, material);
  made.job = job.id = new_id();
  add_guessed_features(job);
  made.change.label = QObject::tr("New job %1: %2 lines, %3 circles, %4")
                          .arg(text_of(job.name))
                          .arg(drawing.lines.size() - drawing.circles())
                          .arg(drawing.circles())
                          .arg(note);
  add_job(made.change, std::move(job));
  return made;
}

NewJob copied_job(const ShopState& state, const Job& job) {
  NewJob made;
  Job copy = job;
  made.job = copy.id = new_id();
  for (int i = 2; state.jobs.named(copy.name); ++i) copy.name = job.name + " " + std::to_string(i);
  const auto anew = [](auto& list) {
    for (auto& item : list) item.id = new_id();
  };
  std::map<Id, Id> setups;
  for (Setup& setup : copy.setups) {
    const Id before = setup.id;
    setups[before] = setup.id = new_id();
  }
  anew(copy.features);
  anew(copy.operations);
  copy.program_number = next_program_number(state);
  std::map<Id, Id> operations;
  for (std::size_t i = 0; i < copy.operations.size(); ++i) operations[job.operations[i].id] = copy.operations[i].id;
  for (Operation& o : copy.operations)
    if (const auto now = operations.find(o.behind); now != operations.end()) o.behind = now->second;
  for (Operation& o : copy.operations)
    if (const auto now = setups.find(o.setup); now != setups.end()) o.setup = now->second;
  if (copy.part) {
    Part part = *copy.part;
    part.id = {};
    copy.part = std::make_shared<const Part>(std::move(part));
  }
  made.change.label = QObject::tr("Copied job %1: %2").arg(text_of(job.name), text_of(copy.name));
  add_job(made.change, std::move(copy));
  return made;
}

Change with_drawing(const Job& job, const Drawing& drawing, const QString& note) {
  if (job.part && !drawing.print.empty() && job.part->drawing.print == drawing.print) return {};
  Job changed = job;
  Part part = job.part ? *job.part : Part{};
  part.drawing = drawing;
  changed.part = std::make_shared<const Part>(std::move(part));
  rebind(changed);
  return job_change(QObject::tr("Drawing of %1: %2, %3").arg(text_of(job.name), text_of(drawing.source), note), job,
                    changed);
}

QString drawing_news(const Job& job) {
  const JobIndex index(job);
  std::vector<Message> messages;
  const auto look = [&](const std::vector<FeatureUse>& uses) {
    for (const FeatureUse& use : uses) index.stands(use, messages);
  };
  for (const Operation& o : job.operations) look(o.features);
  for (const Feature& f : job.features) {
    if (!f.outline.key.empty()) look({f.outline});
    look(f.islands);
    look(f.circles);
  }
  for (const Setup& s : job.setups)
    for (const Clamp& clamp : s.clamps) look({clamp.outline});
  QStringList news;
  for (const Message& m : messages) {
    const bool gone = m.code == "feature_gone";
    if (!gone && m.code != "feature_changed") continue;
    const QString key = text_of(std::get<std::string>(m.values.front().second));
    const QString says = gone ? QObject::tr("%1 is gone").arg(key) : QObject::tr("%1 has changed").arg(key);
    if (!news.contains(says)) news << says;
  }
  constexpr qsizetype most = 12;
  const qsizetype more = news.size() - most;
  if (more > 0) news = news.mid(0, most) << QObject::tr("%1 more").arg(more);
  return news.join(QStringLiteral(", "));
}

Change without_job(const Job& job) {
  Change change;
  change.label = QObject::tr("Deleted job %1").arg(text_of(job.name));
  remove_job(change, job);
  return change;
}

Change added_operation(const ShopState& state, const Resolver& resolver, const Job& job, PathKind path,
                       const std::vector<std::string>& features) {
  Job changed = job;
  Operation o = proposed_operation(changed, path, features);
  o.id = new_id();
  // Another cutter is only a click away.
  match_cutter(state, resolver, changed, o);
  changed.operations.push_back(o);
  const QString kind = label_text(label_of(path));
  return job_change(o.cutter.id.is_null() ? QObject::tr("New operation: %1").arg(kind)
                                          : QObject::tr("New operation: %1 with %2").arg(kind, text_of(o.cutter.name)),
                    job, changed);
}

Change copied_operation(const Job& job, const Places& at) {
  if (!inside(job, at)) return {};
  Job changed = job;
  int behind = at.back() + 1;
  for (const int i : at) {
    Operation copy = operation_at(job, i);
    copy.id = new_id();
    copy.rank = 0;
    changed.operations.insert(changed.operations.begin() + behind++, std::move(copy));
  }
  return job_change(at.size() == 1 ? QObject::tr("Copied operation %1, %2").arg(at.front() + 1).arg(name_of(job, at))
                                   : QObject::tr("Copied %1").arg(name_of(job, at)),
                    job, changed);
}

Change operations_put(const Job& job, const Places& from, int before) {
  if (!inside(job, from) || before < 0 || before > static_cast<int>(job.operations.size())) return {};
  Job changed = job;
  changed.operations.clear();
  std::vector<Operation> moved;
  for (const int i : from) moved.push_back(operation_at(job, i));
  int first = 0;
  for (int i = 0; i <= static_cast<int>(job.operations.size()); ++i) {
    if (i == before) {
      first = static_cast<int>(changed.operations.size());
      changed.operations.insert(changed.operations.end(), moved.begin(), moved.end());
    }
    if (i < static_cast<int>(job.operations.size()) && std::find(from.begin(), from.end(), i) == from.end())
      changed.operations.push_back(operation_at(job, i));
  }
  if (changed.operations == job.operations) return {};
  return job_change(from.size() == 1 ? QObject::tr("%1 is now operation %2").arg(name_of(job, from)).arg(first + 1)
                                     : QObject::tr("%1 moved to position %2").arg(name_of(job, from)).arg(first + 1),
                    job, changed);
}

Change reordered(const Job& job, const std::vector<std::size_t>& order, int changes_before, int changes) {
  if (order.size() != job.operations.size()) return {};
  Job changed = job;
  for (std::size_t i = 0; i < order.size(); ++i) {
    changed.operations[i] = job.operations[order[i]];
    changed.operations[i].rank = job.operations[i].rank;
  }
  // Ranks rise with the new places.
  for (std::size_t i = 1; i < changed.operations.size(); ++i)
    if (changed.operations[i].rank <= changed.operations[i - 1].rank)
      changed.operations[i].rank = changed.operations[i - 1].rank + 1;
  return job_change(QObject::tr("Operations ordered: %1 cutter changes → %2").arg(changes_before).arg(changes), job,
                    changed);
}

Change moved_operation(const Job& job, const Places& from, int by) {
  if (!inside(job, from) || by == 0) return {};
  const int first = from.front() + std::min(by, 0), last = from.back() + std::max(by, 0);
  if (first < 0 || last >= static_cast<int>(job.operations.size())) return {};
  return operations_put(job, from, by < 0 ? first : last + 1);
}

Change moved_behind(const Job& job, int at, int other) {
  if (!inside(job, {at}) || !inside(job, {other}) || at > other) return {};
  return operations_put(job, {at}, other + 1);
}

Change counted_from_faced(const ShopState& state, const Resolver& resolver, const Job& job, const Places& operations) {
  if (!inside(job, operations)) return {};
  const JobIndex index(job);
  const PathRules rules = path_rules(state.shop_settings());
  std::map<int, double> tops;
  for (const int i : operations) {
    const Operation& o = operation_at(job, i);
    std::vector<Message> unused;
    const OperationInput input = input_of(job, index, o, rules, unused);
    const auto faced = faced_top(job, setup_of(job, o), input, static_cast<std::size_t>(i));
    if (!(declaration(o.path).leaves(o) & pecorra::faced) && faced && *faced < top_of(o, input) - 1e-6)
      tops[i] = *faced;
  }
  if (tops.empty()) return {};
  Job changed = job;
  for (const auto& [i, top] : tops) {
    Operation& o = changed.operations[static_cast<std::size_t>(i)];
    o.top_mm = top;
    o.typed.erase("top_mm");
    retake(state, resolver, changed, o);
  }
  Places at;
  for (const auto& [i, top] : tops) at.push_back(i);
  return job_change(QObject::tr("%1: depth counts from the faced surface").arg(name_of(job, at)), job, changed);
}

Change without_operation(const Job& job, const Places& at) {
  if (!inside(job, at)) return {};
  Job changed = job;
  for (auto i = at.rbegin(); i != at.rend(); ++i) changed.operations.erase(changed.operations.begin() + *i);
  return job_change(at.size() == 1 ? QObject::tr("Deleted operation %1, %2").arg(at.front() + 1).arg(name_of(job, at))
                                   : QObject::tr("Deleted %1").arg(name_of(job, at)),
                    job, changed);
}

tl::expected<Change, QString> feature_clicked(const Job& job, int at, const std::string& key, bool alone,
                                              UnitSystem units) {
  const Operation& o = operation_at(job, at);
  const auto uses = [&](const FeatureUse& use) { return use.key == key; };
  const bool picked = std::any_of(o.features.begin(), o.features.end(), uses);
  const JobIndex index(job);
  const JobLine* line = index.line(key);
  const OperationDeclaration& kind = declaration(o.path);
  if (kind.takes(Role::hole)) {
    const Feature* feature = index.feature(key);
    if (!(line && line->is_circle()) && !(feature && feature->kind == FeatureKind::holes))
      return tl::unexpected(QObject::tr("Holes are drilled at circles; this is a line."));
    if (line && !feature && !alone) return with_holes_of(job, at, line->diameter_mm, units);
  } else if (line && !line->contour->closed && !kind.takes(Role::any_line)) {
    return tl::unexpected(QObject::tr("This line is open; pick a closed one."));
  }
  const QString name = text_of(o.name), what = text_of(key);
  return change_operations(
      job, at,
      picked ? QObject::tr("%1: %2 deselected").arg(name, what) : QObject::tr("%1: %2 selected").arg(name, what),
      [&](Operation& target) {
        if (picked) std::erase_if(target.features, uses);
        else target.features.push_back(use_of(job, key));
      });
}

Change next_line(const Job& job, int at, UnitSystem units) {
  const Operation& o = operation_at(job, at);
  const std::vector<JobLine> lines = lines_of(job);
  if (declaration(o.path).takes(Role::hole)) {
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

Change features_accepted(const Job& job, const Places& at) {
  if (!inside(job, at)) return {};
  Job changed = job;
  for (const int i : at)
    for (FeatureUse& use : changed.operations[static_cast<std::size_t>(i)].features) {
      use = use_of(job, use.key);
      for (Feature& f : changed.features)
        if (f.key == use.key) accept_lines(job, f);
    }
  return job_change(QObject::tr("%1: changed lines accepted").arg(name_of(job, at)), job, changed);
}

Change tab_clicked(const Job& job, int at, Point2 place, UnitSystem units) {
  const Operation& o = operation_at(job, at);
  if (!has_parameter(o.path, "tab_count")) return {};
  constexpr double near_mm = 3;
  const auto near = std::find_if(o.tabs_at.begin(), o.tabs_at.end(), [&](const Point2& p) {
    return std::hypot(p.x - place.x, p.y - place.y) < std::max(near_mm, o.tab_width_mm.value_or(0));
  });
  const bool gone = near != o.tabs_at.end();
  const Point2 of = gone ? *near : place;
  const auto shown_at = [&](double v) { return text_of(shown(v, Quantity::length, units)); };
  return change_operations(job, at,
                           (gone ? QObject::tr("%1: tab at X %2 Y %3 removed") : QObject::tr("%1: tab at X %2 Y %3"))
                               .arg(text_of(o.name), shown_at(of.x), shown_at(of.y)),
                           [&](Operation& target) {
                             if (gone) {
                               target.tabs_at.erase(target.tabs_at.begin() + (near - o.tabs_at.begin()));
                               return;
                             }
                             target.tabs_at.push_back(place);
                             target.tab_count.reset();
                             // Usual sizes where none are stated yet (common practice, no source).
                             if (!target.tab_width_mm) target.tab_width_mm = 5;
                             if (!target.tab_height_mm) target.tab_height_mm = 2;
                           });
}

Change edited_job(const Job& job, const Property<JobHead>& property, const Value& value, const std::string& typed,
                  UnitSystem units) {
  Job changed = job;
  changed.head() = edited(job.head(), property, value, typed, units);
  if (changed.name.empty()) return {};
  return job_change(text_of(job.name) + QStringLiteral(": ") + edit_label(job.head(), changed.head(), property, units),
                    job, changed);
}

Change edited_operation(const ShopState& state, const Resolver& resolver, const Job& job, const Places& at,
                        const Property<Operation>& property, const Value& value, const std::string& typed,
                        UnitSystem units) {
  if (!inside(job, at)) return {};
  const Operation& first = operation_at(job, at.front());
  const QString label = name_of(job, at) + QStringLiteral(": ") +
                        edit_label(first, edited(first, property, value, typed, units), property, units);
  const bool of_kind =
      std::any_of(at.begin(), at.end(), [&](int i) { return has_parameter(operation_at(job, i).path, property.key); });
  return change_operations(job, at, label, [&](Operation& o) {
    if (of_kind && !has_parameter(o.path, property.key)) return;
    Operation after = edited(o, property, value, typed, units);
    // A type that this kind cannot be.
    if (property.key == "operation" && !(declaration(o.path).manners & bit(after.operation))) return;
    // Pecking asks the tables for pecking, where nobody says otherwise.
    const OperationKind followed = declaration(o.path).manner(o), wanted = declaration(o.path).manner(after);
    const bool deeper = property.key == "depth_mm" && follows_cycle(o);
    const bool manner = property.key != "operation" && o.operation == followed && followed != wanted;
    if (manner) after.operation = wanted;
    if (property.key == "operation") follow_manner(after);
    o = std::move(after);
    if (manner || deeper || asks_tables_anew(property.key)) retake(state, resolver, job, o);
  });
}

Change edited_cutter_values(const ShopState& state, const Resolver& resolver, const Job& job, const Id& cutter,
                            const Property<CutterValues>& property, const Value& value, UnitSystem units) {
  Job changed = job;
  CutterValues before = values_for(job, cutter), after = before;
  property.set(after, value);
  std::erase_if(changed.cutters, [&](const CutterValues& v) { return v.cutter == cutter; });
  if (!after.empty()) changed.cutters.push_back(after);
  QString name;
  for (Operation& o : changed.operations)
    if (o.cutter.id == cutter) {
      name = text_of(o.cutter.name);
      retake(state, resolver, changed, o);
    }
  return job_change(QObject::tr("%1 in this job: %2").arg(name, edit_label(before, after, property, units)), job,
                    changed);
}

Change with_own_for_cutter(const ShopState& state, const Resolver& resolver, const Job& job, int at, bool on) {
  Job changed = job;
  Operation& o = changed.operations[static_cast<std::size_t>(at)];
  const Id cutter = o.cutter.id;
  const CutterValues were = values_for(job, cutter);
  std::erase_if(changed.cutters, [&](const CutterValues& v) { return v.cutter == cutter; });
  if (on) {
    CutterValues now{cutter, o.own_n_rpm, o.own_vf_mm_min, o.own_ap_mm, o.own_ae_mm};
    if (now.empty()) return {};
    changed.cutters.push_back(now);
    for (Operation& other : changed.operations)
      if (other.cutter.id == cutter) follow_again(state, resolver, changed, other);
  } else {
    o.own_n_rpm = were.n_rpm;
    o.own_vf_mm_min = were.vf_mm_min;
    o.own_ap_mm = were.ap_mm;
    o.own_ae_mm = were.ae_mm;
    for (Operation& other : changed.operations)
      if (other.cutter.id == cutter) retake(state, resolver, changed, other);
  }
  const QString name = text_of(operation_at(job, at).cutter.name);
  return job_change(on ? QObject::tr("Own values for every operation with %1").arg(name)
                       : QObject::tr("Own values for %1 alone").arg(name_of(job, at)),
                    job, changed);
}

Change with_cutter(const ShopState& state, const Resolver& resolver, const Job& job, const Places& at,
                   const Cutter& cutter) {
  return change_operations(job, at, QObject::tr("Cutter: %1").arg(text_of(cutter.name)), [&](Operation& o) {
    if (!can_do(cutter.kind, o.operation)) return;
    o.tool_number.reset();
    pick_cutter(state, resolver, job, o, cutter);
    // Another generic one of the job stays generic.
    o.generic_cutter = std::any_of(job.operations.begin(), job.operations.end(), [&](const Operation& other) {
      return other.generic_cutter && other.cutter.id == cutter.id;
    });
  });
}

Change generic_put_into_library(const ShopState& state, const Resolver& resolver, const Job& job, int at,
                                const Id& library) {
  if (!inside(job, {at}) || !operation_at(job, at).generic_cutter || !state.libraries.find(library)) return {};
  Cutter made = operation_at(job, at).cutter;
  const Id generic = made.id;
  made.id = new_id();
  made.library = library;
  made.number = TakenNumbers(state.cutters.all(), library).free_for(made, state.number_blocks.all());
  made.name = state.name_for(made);
  Job changed = job;
  for (Operation& o : changed.operations) {
    if (!o.generic_cutter || o.cutter.id != generic) continue;
    o.cutter = made;
    o.generic_cutter = false;
    retake(state, resolver, changed, o);
  }
  for (CutterValues& values : changed.cutters)
    if (values.cutter == generic) values.cutter = made.id;
  Change change = job_change(QObject::tr("%1 added to the library, number %2").arg(text_of(made.name)).arg(made.number),
                             job, changed);
  change.add(made);
  return change;
}

Change with_tried(const ShopState& state, const Resolver& resolver, const Job& job, int at, const WhatIf& tried,
                  const CutResults& results) {
  return change_operations(job, at, QObject::tr("%1: trial values applied").arg(text_of(operation_at(job, at).name)),
                           [&](Operation& o) { take_tried(state, resolver, job, o, tried, results); });
}

Change toggled_own(const ShopState& state, const Resolver& resolver, const Job& job, const Places& at) {
  if (!inside(job, at)) return {};
  if (const Operation& first = operation_at(job, at.front()); first.taken.source == SourceKind::own_for_cutter) {
    Job changed = job;
    std::erase_if(changed.cutters, [&](const CutterValues& v) { return v.cutter == first.cutter.id; });
    for (Operation& o : changed.operations)
      if (o.cutter.id == first.cutter.id) retake(state, resolver, changed, o);
    return job_change(QObject::tr("%1 follows the tables again").arg(text_of(first.cutter.name)), job, changed);
  }
  const bool own = operation_at(job, at.front()).has_own_speed();
  if (!own && !operation_at(job, at.front()).taken.n_rpm) return {};
  const QString name = name_of(job, at);
  const QString label = at.size() > 1 ? (own ? QObject::tr("%1 follow the tables again").arg(name)
                                             : QObject::tr("%1 have own values").arg(name))
                        : own         ? QObject::tr("%1 follows the tables again").arg(name)
                                      : QObject::tr("%1 has own values").arg(name);
  return change_operations(job, at, label, [&](Operation& o) {
    if (own == o.has_own_speed() && own) follow_again(state, resolver, job, o);
    else if (!own && !o.has_own_speed() && o.taken.n_rpm) make_own(state, resolver, job, o);
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
  return kept_change(job, std::move(changed));
}

Change kept_change(const Job& job, Job after) {
  return job_change(QObject::tr("%1 keeps its copy of the values").arg(text_of(job.name)), job, std::move(after));
}

}  // namespace pecorra
