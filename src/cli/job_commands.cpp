// Jobs: made from files, shown, checked against their sources, and their toolpaths.
#include <QFileInfo>
#include <algorithm>
#include <cmath>
#include <iostream>

#include "cli/write_planned.h"
#include "shop/drawing_file.h"
#include "shop/evaluation.h"
#include "shop/job_file.h"
#include "shop/job_objects.h"
#include "shop/operation_edit.h"
#include "shop/planning.h"
#include "shop/words.h"

namespace pecorra::cli {
namespace {

constexpr const char* severity_names[] = {"note", "warning", "error"};

Json message_json(const Message& m) {
  return {{"severity", severity_names[static_cast<int>(m.severity)]},
          {"code", m.code},
          {"property", m.property},
          {"values", details_json(m.values)},
          {"text", sentence(m, UnitSystem::metric).toStdString()}};
}

Json entry_of(const Operation& o, const std::vector<Message>& messages) {
  Severity worst = Severity::note;
  Json list = Json::array();
  for (const Message& m : messages) {
    worst = std::max(worst, m.severity);
    list.push_back(message_json(m));
  }
  return {{"name", o.name},
          {"kind", key_of(o.path)},
          {"status", worst == Severity::error     ? "error"
                     : worst == Severity::warning ? "warning"
                                                  : "ok"},
          {"messages", std::move(list)}};
}

Json answer_of(const ShopState& state, const Job& job, const std::vector<std::vector<Message>>& notes) {
  const JobPlan plan = plan_job(plan_request(state, job));
  Json list = Json::array();
  for (std::size_t i = 0; i < job.operations.size(); ++i) {
    std::vector<Message> messages = plan.faults[i];
    if (i < notes.size()) messages.insert(messages.end(), notes[i].begin(), notes[i].end());
    list.push_back(entry_of(job.operations[i], messages));
  }
  return list;
}

std::optional<Job> find_job(const ShopState& state, const std::string& name, FormatFaults& faults) {
  const JobHead* head = find_named(state.jobs, name, "job", faults);
  return head ? state.job(head->id) : std::nullopt;
}

// By its number from 1 or its name; nothing is asked for: all of them.
std::optional<std::vector<std::size_t>> chosen(const Job& job, const std::string& operation, FormatFaults& faults) {
  std::vector<std::size_t> places;
  for (std::size_t i = 0; i < job.operations.size(); ++i)
    if (operation.empty() || operation == std::to_string(i + 1) || operation == job.operations[i].name)
      places.push_back(i);
  if (!places.empty() || operation.empty()) return places;
  faults.push_back({"operation", "“" + operation + "” is no operation of this job; it has " +
                                     std::to_string(job.operations.size()) + ", give a number from 1 or a name"});
  return std::nullopt;
}

Json values_of(const Operation& o) {
  Json json = Json::object();
  const auto put = [&](const char* key, const std::optional<double>& value) {
    if (value) json[key] = *value;
  };
  put("n_rpm", o.taken.n_rpm);
  put("vf_mm_min", o.taken.vf_mm_min);
  put("plunge_mm_min", o.taken.plunge_mm_min);
  put("ramp_mm_min", o.taken.ramp_mm_min);
  put("ap_mm", o.taken.ap_mm);
  put("ae_mm", o.taken.ae_mm);
  for (const auto& [of, t] :
       {std::pair{"slot_", &o.taken_slot}, {"finish_", &o.taken_finish}, {"floor_", &o.taken_floor}})
    for (const auto& [key, value] : {std::pair{"n_rpm", &t->n_rpm},
                                     {"vf_mm_min", &t->vf_mm_min},
                                     {"plunge_mm_min", &t->plunge_mm_min},
                                     {"ramp_mm_min", &t->ramp_mm_min},
                                     {"ap_mm", &t->ap_mm}})
      put((std::string(of) + key).c_str(), *value);
  if (o.taken.ramp_n_rpm) json["ramp_n_rpm"] = *o.taken.ramp_n_rpm;
  json["coolant"] = key_of(o.taken.coolant);
  return json;
}

// "slot_vf_mm_min" → "F of slotting"
std::string text_of_key(std::string_view key) {
  std::string of;
  for (const auto& [prefix, name] : {std::pair{std::string_view("slot_"), " of slotting"},
                                     {std::string_view("finish_"), " of the finishing pass"},
                                     {std::string_view("floor_"), " of the floor finish"}})
    if (key.starts_with(prefix)) key.remove_prefix(prefix.size()), of = name;
  static constexpr std::pair<std::string_view, std::string_view> names[] = {
      {"n_rpm", "S"},          {"vf_mm_min", "F"},           {"plunge_mm_min", "plunge"},
      {"ramp_mm_min", "ramp"}, {"ramp_n_rpm", "S of ramps"}, {"ap_mm", "ap"},
      {"ae_mm", "ae"}};
  for (const auto& [known, name] : names)
    if (key == known) return std::string(name) + of;
  return std::string(key) + of;
}

// Which values are no longer those of the source; old and new of each as plain numbers.
Message changed_message(const Operation& was, const Operation& is) {
  const Json old = values_of(was), now = values_of(is);
  std::string what;
  Details others;
  for (const auto& [key, value] : (now.size() >= old.size() ? now : old).items()) {
    if (old.contains(key) && now.contains(key) && old[key] == now[key]) continue;
    if (key == "n_rpm" || key == "vf_mm_min") continue;
    what += (what.empty() ? "" : ", ") + text_of_key(key);
    for (const auto& [name, json] : {std::pair{key, &old}, {"new_" + key, &now}})
      if (json->contains(key) && (*json)[key].is_number()) others.emplace_back(name, (*json)[key].get<double>());
  }
  Message m{Severity::warning,
            "changed_at_source",
            "taken",
            {{"n_rpm", was.taken.n_rpm.value_or(0)},
             {"new_n_rpm", is.taken.n_rpm.value_or(0)},
             {"vf_mm_min", was.taken.vf_mm_min.value_or(0)},
             {"new_vf_mm_min", is.taken.vf_mm_min.value_or(0)},
             {"what", what}}};
  m.values.insert(m.values.end(), others.begin(), others.end());
  return m;
}

}  // namespace

int job_new(const JobOptions& options) {
  QFile file(QString::fromStdString(options.file));
  if (!file.open(QIODevice::ReadOnly)) {
    std::cerr << "FILE: cannot be read: " << file.errorString().toStdString() << "\n";
    return failed;
  }
  const std::string text = file.readAll().toStdString();
  const QString folder = QFileInfo(file).absolutePath();
  return write_planned(options.shop, [&](const LoadedShop& shop) -> tl::expected<Plan, int> {
    const Resolver resolver(shop.state.tables.shared(), shop.state.resolver_options());
    auto read = read_job_file(shop.state, resolver, text, folder);
    if (!read) return tl::unexpected(say(read.error()));
    Plan plan;
    plan.change.label = QObject::tr("New job %1").arg(text_of(read->job.name));
    add_job(plan.change, read->job);
    plan.answer = {{"job", read->job.id.text()}, {"operations", answer_of(shop.state, read->job, read->notes)}};
    return plan;
  });
}

int job_show(const JobOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  FormatFaults faults;
  const auto job = find_job(loaded->state, options.job, faults);
  if (!job) return say(faults);
  std::cout << job_file(loaded->state, *job).dump(1) << "\n";
  return answered;
}

int job_check(const JobOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  FormatFaults faults;
  const auto job = find_job(loaded->state, options.job, faults);
  if (!job) return say(faults);
  const Resolver resolver(loaded->state.tables.shared(), loaded->state.resolver_options());
  const Job anew = retaken(loaded->state, resolver, *job);
  std::vector<std::vector<Message>> notes(job->operations.size());
  for (std::size_t i = 0; i < notes.size(); ++i)
    if (source_moved(job->operations[i], anew.operations[i]))
      notes[i].push_back(changed_message(job->operations[i], anew.operations[i]));
  std::cout << Json{{"job", job->id.text()}, {"operations", answer_of(loaded->state, *job, notes)}}.dump(1) << "\n";
  return answered;
}

int job_update(const JobOptions& options) {
  const auto work = [&](const LoadedShop& shop) -> tl::expected<Plan, int> {
    FormatFaults faults;
    const ShopState& state = shop.state;
    const auto job = find_job(state, options.job, faults);
    const auto places = job ? chosen(*job, options.operation, faults) : std::nullopt;
    const auto behind = job && !options.after.empty() ? chosen(*job, options.after, faults) : std::nullopt;
    if (behind && (options.operation.empty() || places->size() != 1 || behind->size() != 1))
      faults.push_back(
          {"after", "needs one operation to move and one to move it behind; give --operation and --after"});
    Job wanted = job ? *job : Job{};
    if (!options.material.empty())
      if (const WorkMaterial* m = find_named(state.materials, options.material, "material", faults))
        wanted.material = m->id;
    if (!options.machine.empty())
      if (const Machine* m = find_named(state.machines, options.machine, "machine", faults)) wanted.machine = m->id;
    if (options.pace) wanted.pace = options.pace;
    if (!places || !faults.empty()) return tl::unexpected(say(faults));
    const Resolver resolver(state.tables.shared(), state.resolver_options());
    Plan plan;
    if (behind || options.from_faced) {
      const int at = static_cast<int>(places->front());
      Places all;
      for (const std::size_t i : *places) all.push_back(static_cast<int>(i));
      plan.change = behind ? moved_behind(*job, at, static_cast<int>(behind->front()))
                           : counted_from_faced(state, resolver, *job, all);
      plan.answer = {{"job", job->id.text()}, {"changed", !plan.change.empty()}};
      return plan;
    }
    const bool all_anew = !(wanted.head() == job->head());
    const Job anew = retaken(state, resolver, wanted);
    Job after = wanted;
    Json list = Json::array();
    for (std::size_t i = 0; i < job->operations.size(); ++i) {
      const Operation &old = job->operations[i], &now = anew.operations[i];
      const bool asked = std::find(places->begin(), places->end(), i) != places->end();
      if (!(all_anew || asked) || !(all_anew ? fingerprint(old) != fingerprint(now) : source_moved(old, now))) continue;
      list.push_back(
          {{"name", old.name}, {"kind", key_of(old.path)}, {"old", values_of(old)}, {"new", values_of(now)}});
      if (options.keep) after.operations[i].taken.kept = fingerprint(now);
      else after.operations[i] = now;
    }
    plan.change = options.keep ? kept_change(*job, after) : updated_from_library(*job, after);
    plan.answer = {{"job", job->id.text()}, {"kept", options.keep}, {"operations", std::move(list)}};
    return plan;
  };
  if (!options.dry_run) return write_planned(options.shop, work);
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const auto plan = work(*loaded);
  if (!plan) return plan.error();
  std::cout << plan->answer.dump(1) << "\n";
  return answered;
}

int job_features(const JobOptions& options) {
  const DrawingRead read = read_drawing_file(QString::fromStdString(options.file), 1, true);
  if (!read.fault.isEmpty()) {
    std::cerr << "FILE: " << read.fault.toStdString() << "\n";
    return wrong_input;
  }
  std::cout << Json{{"features", features_of(read.drawing)}}.dump(1) << "\n";
  return answered;
}

int toolpath(const JobOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  FormatFaults faults;
  const auto job = find_job(loaded->state, options.job, faults);
  const auto places = job ? chosen(*job, options.operation, faults) : std::nullopt;
  if (!places) return say(faults);
  const JobPlan plan = plan_job(plan_request(loaded->state, *job));
  constexpr const char* planes[] = {"xy", "zx", "yz"};
  Json list = Json::array();
  for (const std::size_t i : *places) {
    const Operation& o = job->operations[i];
    Json entry = entry_of(o, plan.faults[i]);
    Json& cutter = entry["cutter"];
    cutter = {{"kind", key_of(o.cutter.kind)}};
    if (o.cutter.diameter_mm) cutter["diameter_mm"] = *o.cutter.diameter_mm;
    cutter["corner_radius_mm"] = o.cutter.corner_radius_mm.value_or(0);
    if (o.cutter.flutes) cutter["flutes"] = *o.cutter.flutes;
    entry.update(values_of(o));
    // The depth that is cut, not the one that was asked for.
    if (const auto& facts = plan.operations[i]->facts(); facts.ap_mm) entry["ap_mm"] = *facts.ap_mm;
    entry["minutes"] = plan.figures[i].minutes;
    Trail trail = o.taken.trail;
    for (TrailStep& step : plan.operations[i]->trail()) trail.push_back(std::move(step));
    entry["trail"] = trail_json(trail);
    Json& moves = entry["moves"];
    moves = Json::array();
    double x = 0, y = 0;
    // What is in error, whatever the reason, moves nothing.
    const Toolpath none, &path = has_error(plan.faults[i]) ? none : plan.operations[i]->path;
    double n = path.start_rpm > 0 ? path.start_rpm : o.taken.n_rpm.value_or(0);
    std::size_t event = 0;
    for (std::size_t k = 0; k < path.moves.size(); ++k) {
      const Move& m = path.moves[k];
      for (; event < path.events.size() && path.events[event].before <= k; ++event)
        if (path.events[event].kind == MotionEvent::spindle_speed) n = path.events[event].value;
      // Whole circles are counted where it ends beside its start.
      const bool round = std::hypot(m.x - x, m.y - y) < 1e-9;
      x = m.x, y = m.y;
      Json move{{"kind", key_of(m.kind)}, {"to", {m.x, m.y, m.z}}, {"feed", m.feed_mm_min}, {"n_rpm", n}};
      if (m.shape != MoveShape::line)
        move["arc"] = {{"centre", {m.centre_x, m.centre_y}},
                       {"plane", planes[static_cast<int>(m.plane)]},
                       {"cw", m.shape == MoveShape::clockwise},
                       {"turns", m.turns + (round ? 1 : 0)}};
      moves.push_back(std::move(move));
    }
    list.push_back(std::move(entry));
  }
  std::cout << Json{{"operations", std::move(list)}}.dump() << "\n";
  return answered;
}

}  // namespace pecorra::cli
