#include "app/workspace.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "app/cutters/catalogue.h"
#include "app/look/look.h"
#include "shop/job_objects.h"

namespace pecorra {
namespace {

constexpr std::size_t soon_done = 64;  // operations that are resolved in no time

}  // namespace

Mark mark_of(const Resolution& r) {
  if (!r.found()) return Mark::none;
  if (r.source == SourceKind::own) return Mark::typed;
  return r.guess ? Mark::guess : r.proven ? Mark::proven : Mark::table;
}

Mark mark_of(const TakenConditions& t) {
  if (!t.n_rpm) return Mark::none;
  if (t.source == SourceKind::own || t.source == SourceKind::own_for_cutter) return Mark::typed;
  return t.guess ? Mark::guess : t.proven ? Mark::proven : Mark::table;
}

QString cutter_mime_type() { return QStringLiteral("application/x-pecorra-cutters"); }

Workspace::Workspace(Shop& shop, QObject* parent)
    : QObject(parent), shop_(shop), catalogue_(new CutterCatalogue(shop, this)) {
  if (!state().materials.empty()) context_.material = state().materials[materials_in_order(state(), false).front()].id;
  if (!state().machines.empty()) context_.machine = state().machines[0].id;
  if (!state().jobs.empty()) job_ = state().jobs[0].id;
  check_selection();
  connect(&shop_, &Shop::changed, this, [this] {
    check_selection();
    emit data_changed();
  });
  connect(&more_, &QTimer::timeout, this, [this] {
    more_.setInterval(0);
    const auto before = tried_;
    // Of a trial that holds no longer nothing more is wanted.
    if (is_trying() && shown_job() == before) resolve_more();
    spares_.refill();
    if (!is_trying() || unresolved_.empty()) more_.stop();
    if (is_trying() && unresolved_.empty()) emit context_changed();
  });
}

void Workspace::check_selection() {
  if (!material() && !state().materials.empty())
    context_.material = state().materials[materials_in_order(state(), false).front()].id;
  if (!machine() && !state().machines.empty()) context_.machine = state().machines[0].id;
  if (!cutter()) cutter_ = state().cutters.empty() ? Id{} : state().cutters[0].id;
  if (!job()) job_ = state().jobs.empty() ? Id{} : state().jobs[0].id;
  const int operations = job() ? static_cast<int>(job()->operations.size()) : 0;
  operation_ = std::clamp(operation_, 0, std::max(0, operations - 1));
  std::erase_if(operations_, [&](int i) { return i >= operations; });
  if (std::find(operations_.begin(), operations_.end(), operation_) == operations_.end()) {
    operations_.clear();
    if (operations > 0) operations_.push_back(operation_);
  }
}

std::shared_ptr<const Job> Workspace::kept_job() const {
  const ShopState& s = state();
  const decltype(whole_of_) now{s.jobs.version(),     s.setups.version(),     s.parts.version(),
                                s.features.version(), s.operations.version(), s.trails.version()};
  if (!whole_ || whole_->id != job_ || whole_of_ != now) {
    auto job = s.job(job_);
    whole_ = job ? std::make_shared<const Job>(std::move(*job)) : nullptr;
    whole_of_ = now;
    spares_.prepare(whole_ && whole_->operations.size() > soon_done ? whole_ : nullptr);
  }
  return whole_;
}

const Job* Workspace::job() const { return kept_job().get(); }

// What conditions are resolved from, besides the job.
std::vector<std::uint64_t> Workspace::sources() const {
  const ShopState& s = state();
  return {s.settings.version(),       s.libraries.version(),   s.materials.version(),  s.machines.version(),
          s.edge_materials.version(), s.never_rules.version(), s.inserts.version(),    s.collets.version(),
          s.holders.version(),        s.cutters.version(),     s.assemblies.version(), s.recipes.version(),
          s.tables.version(),         s.pockets.version()};
}

void Workspace::set_context(const Context& context) {
  if (context == context_) return;
  // Trial sizes hold for any material; a trial speed was for the previous one.
  if (context.operation != context_.operation || context.usual_work != context_.usual_work) what_if_ = {};
  else if (context.material != context_.material || context.machine != context_.machine)
    what_if_.vc_m_min.reset(), what_if_.fz_mm.reset();
  context_ = context;
  emit context_changed();
}

void Workspace::select_cutter(const Id& id) {
  if (id == cutter_) return;
  cutter_ = id;
  what_if_ = {};
  emit selection_changed();
}

void Workspace::select_job(const Id& id) {
  if (id == job_) return;
  job_ = id;
  what_if_ = {};
  operation_ = 0;
  operations_.clear();
  tried_material_.reset();
  tried_machine_.reset();
  tried_pace_.reset();
  check_selection();
  emit job_changed();
  emit context_changed();
}

void Workspace::select_operation(int index) {
  if (index == operation_) return;
  operation_ = index;
  operations_.clear();
  what_if_ = {};
  check_selection();
  emit job_changed();
}

void Workspace::select_operations(Places places, int front) {
  std::sort(places.begin(), places.end());
  if (places == operations_ && front == operation_) return;
  if (front != operation_) what_if_ = {};
  operations_ = std::move(places);
  operation_ = front;
  check_selection();
  emit job_changed();
}

void Workspace::try_what_if(const WhatIf& tried) {
  if (tried == what_if_) return;
  what_if_ = tried;
  emit what_if_changed();
}

void Workspace::set_job_in_front(bool front) {
  if (front != job_in_front_) what_if_ = {};
  job_in_front_ = front;
  emit context_changed();
}

void Workspace::select_program(const Id& id) {
  if (id == program_) return;
  program_ = id;
  if (program_in_front_) emit context_changed();
}

void Workspace::set_program_in_front(bool front) {
  if (front == program_in_front_) return;
  program_in_front_ = front;
  emit context_changed();
}

void Workspace::change_program(const RetunedProgram& after, const QString& what) {
  Change change;
  change.label = tr("%1: %2").arg(QString::fromStdString(after.name), what);
  change.edit(*program(), after);
  if (change.empty()) return;
  shop_.apply(std::move(change));
  emit context_changed();
}

void Workspace::take_material(const Id& id) {
  const WorkMaterial* chosen = state().materials.find(id);
  if (program_in_front() && chosen) {
    RetunedProgram after = *program();
    after.material = id;
    return change_program(after, tr("for %1").arg(QString::fromStdString(chosen->name)));
  }
  if (job_in_front()) return try_material(id);
  Context context = context_;
  context.material = id;
  set_context(context);
}

void Workspace::take_machine(const Id& id) {
  const Machine* chosen = state().machines.find(id);
  if (program_in_front() && chosen) {
    RetunedProgram after = *program();
    after.machine = id;
    return change_program(after, tr("on %1").arg(QString::fromStdString(chosen->name)));
  }
  if (job_in_front()) return try_machine(id);
  Context context = context_;
  context.machine = id;
  set_context(context);
}

void Workspace::take_pace(double pace) {
  if (program_in_front()) {
    RetunedProgram after = *program();
    after.pace = pace == 100 ? std::nullopt : std::optional(pace);
    return change_program(after, tr("pace %1").arg(pace));
  }
  if (job_in_front()) return try_pace(pace);
  Context context = context_;
  context.pace = pace;
  set_context(context);
}

Id Workspace::shown_material() const {
  if (program_in_front()) return program()->material;
  return job_in_front() ? tried_material_.value_or(job()->material) : context_.material;
}
Id Workspace::shown_machine() const {
  if (program_in_front()) return program()->machine;
  return job_in_front() ? tried_machine_.value_or(job()->machine) : context_.machine;
}
double Workspace::shown_pace() const {
  if (program_in_front()) return program()->pace.value_or(100);
  return job_in_front() ? tried_pace_.value_or(job()->pace.value_or(100)) : context_.pace;
}

bool Workspace::is_trying() const {
  if (!job()) return false;
  return (tried_material_ && *tried_material_ != job()->material) ||
         (tried_machine_ && *tried_machine_ != job()->machine) ||
         (tried_pace_ && *tried_pace_ != job()->pace.value_or(100));
}

std::shared_ptr<const Job> Workspace::shown_job() const {
  auto whole = kept_job();
  if (!whole || !is_trying()) return whole;
  std::vector<std::uint64_t> now_from = sources();
  if (tried_ && tried_of_ == whole && tried_with_material_ == tried_material_ &&
      tried_with_machine_ == tried_machine_ && tried_with_pace_ == tried_pace_ && tried_from_ == now_from)
    return tried_;
  const std::shared_ptr<Job> tried = spares_.take(whole);
  if (tried_material_) tried->material = *tried_material_;
  if (tried_machine_) tried->machine = *tried_machine_;
  if (tried_pace_) tried->pace = *tried_pace_ == 100 ? std::nullopt : tried_pace_;
  spares_.discard(std::move(growing_));
  spares_.discard(std::move(tried_));
  unresolved_.clear();
  const bool all = tried->operations.size() <= soon_done;
  for (std::size_t i = 0; i < tried->operations.size(); ++i) {
    const int row = static_cast<int>(i);
    if (all || row == operation_ || (row >= first_in_view_ && row <= last_in_view_))
      retake(state(), shop_.resolver(), *tried, tried->operations[i]);
    else unresolved_.push_back(i);
  }
  if (all) spares_.refill();
  else more_.start(two_frames_ms);  // what is in view is painted first
  tried_ = tried;
  tried_of_ = whole;
  tried_with_material_ = tried_material_;
  tried_with_machine_ = tried_machine_;
  tried_with_pace_ = tried_pace_;
  tried_from_ = std::move(now_from);
  return tried_;
}

void Workspace::resolve_more() const {
  if (!tried_ || unresolved_.empty()) return;
  if (!growing_) {
    growing_ = spares_.take(tried_of_);
    growing_->head() = tried_->head();
    std::size_t next = 0;  // rises, as the unresolved do
    for (std::size_t i = 0; i < growing_->operations.size(); ++i) {
      if (next < unresolved_.size() && unresolved_[next] == i) ++next;
      else growing_->operations[i] = tried_->operations[i];
    }
  }
  constexpr std::size_t at_once = 40;  // a few ms
  for (std::size_t n = 0; n < at_once && !unresolved_.empty(); ++n, unresolved_.pop_back())
    retake(state(), shop_.resolver(), *growing_, growing_->operations[unresolved_.back()]);
  if (!unresolved_.empty()) return;
  spares_.discard(std::exchange(tried_, std::exchange(growing_, nullptr)));
}

const ToolPlan& Workspace::tools() const {
  const auto kept = kept_job(), shown = shown_job();
  const ShopState& s = state();
  std::vector<std::uint64_t> from{s.machines.version(), s.assemblies.version(), s.holders.version(),
                                  s.pockets.version(),  s.cutters.version(),    s.settings.version()};
  // Of the trial only the machine counts.
  if (!shown || tools_of_ != kept || tools_on_ != shown->machine || tools_from_ != from) {
    tools_ = shown ? tool_plan(s, *shown) : ToolPlan{};
    tools_from_ = std::move(from);
    tools_of_ = kept;
    tools_on_ = shown ? shown->machine : Id{};
  }
  return tools_;
}

std::shared_ptr<const Job> Workspace::moved_job() const {
  const auto whole = kept_job();
  if (!whole) return nullptr;
  std::vector<std::uint64_t> now_from = sources();
  const bool same_sources =
      moved_of_ && moved_from_ == now_from && moved_of_->head() == whole->head() && moved_of_->setups == whole->setups;
  if (!(same_sources && moved_of_ == whole)) {
    std::unordered_map<Id, std::size_t> before;
    if (same_sources)
      for (std::size_t i = 0; i < moved_of_->operations.size(); ++i) before.emplace(moved_of_->operations[i].id, i);
    std::vector<std::pair<std::size_t, Operation>> moved;
    for (std::size_t i = 0; i < whole->operations.size(); ++i) {
      const Operation& kept = whole->operations[i];
      const auto known = before.find(kept.id);
      if (known != before.end() && moved_of_->operations[known->second] == kept) {
        if (moved_ && source_moved(kept, moved_->operations[known->second]))
          moved.emplace_back(i, moved_->operations[known->second]);
        continue;
      }
      Operation now = kept;
      retake(state(), shop_.resolver(), *whole, now);
      if (source_moved(kept, now)) moved.emplace_back(i, std::move(now));
    }
    moved_.reset();
    if (!moved.empty()) {
      Job anew = *whole;
      for (auto& [i, now] : moved) anew.operations[i] = std::move(now);
      moved_ = std::make_shared<const Job>(std::move(anew));
    }
    moved_of_ = whole;
    moved_from_ = std::move(now_from);
  }
  return moved_;
}

void Workspace::accept_trial() {
  if (!is_trying()) return;
  shown_job();
  while (!unresolved_.empty()) resolve_more();
  const auto tried = tried_;
  Change change;
  change.label = tr("%1: new speeds and feeds accepted").arg(QString::fromStdString(tried->name));
  edit_job(change, *job(), *tried);
  tried_material_.reset();
  tried_machine_.reset();
  tried_pace_.reset();
  shop_.apply(std::move(change));
  emit context_changed();
}

void Workspace::drop_trial() {
  tried_material_.reset();
  tried_machine_.reset();
  tried_pace_.reset();
  emit context_changed();
}

void Workspace::try_material(const Id& id) {
  tried_material_ = id;
  emit context_changed();
}
void Workspace::try_machine(const Id& id) {
  tried_machine_ = id;
  emit context_changed();
}
void Workspace::try_pace(double pace) {
  tried_pace_ = pace;
  emit context_changed();
}

std::optional<Evaluation> Workspace::evaluation_of(const Cutter& cutter, const Assembly* held,
                                                   const std::optional<Id>& follow, const WhatIf& tried) const {
  if (!material() || !machine()) return std::nullopt;
  Query query = query_for(state(), context_for(context_, cutter.kind));
  if (follow) {
    query.no_recipes = follow->is_null();
    query.recipe = shop_.resolver().recipe_place(*follow);
  }
  return evaluate(state(), shop_.resolver(), cutter, *material(), *machine(), query,
                  held ? held : state().assembly_of(cutter.id), tried);
}

Resolution Workspace::resolution_of(const Cutter& cutter, const WorkMaterial& material) const {
  if (!machine()) return {};
  const Resolver& resolver = shop_.resolver();
  return resolver.resolve(key_as_used(state(), resolver, cutter), resolver.key_of(material),
                          resolver.key_of(*machine()), query_for(state(), context_for(context_, cutter.kind)));
}

}  // namespace pecorra

#include "moc_workspace.cpp"
