// What is looked at before it is done to a job: another order, what changed at its sources, proven steps.
#include <QFileInfo>
#include <cmath>

#include "app/jobs/jobs_page.h"
#include "app/jobs/operation_model.h"
#include "core/job/order.h"
#include "core/quantity/print.h"
#include "shop/program_file.h"
#include "shop/proven_step_edit.h"
#include "shop/source_changes.h"
#include "shop/words.h"

namespace pecorra {
namespace {

QString value_text(const std::optional<double>& value, Quantity quantity, UnitSystem units) {
  return value ? text_of(shown(*value, quantity, units)) : QStringLiteral("—");
}

QString old_new(const QString& before, const QString& now) {
  return before == now ? before : QStringLiteral("%1 → %2").arg(before, now);
}

}  // namespace

void JobsPage::show_decision(DecisionSheet::Content content) {
  decisions_->show_content(std::move(content));
  is_current_ = false;
  refresh();
}

void JobsPage::propose_order() {
  const auto job = workspace_.shown_job();
  if (!job || job->operations.size() < 2 || workspace_.is_trying()) return;
  const ToolPlan tools = tool_plan(workspace_.state(), *job);
  workspace_.tasks().run(
      this, tr("Looking for an order with few cutter changes"),
      [job, cutters = tools.numbers()](Task&) { return fewest_changes(*job, cutters); },
      [this, job, tools](const OperationOrder& order) {
        if (workspace_.shown_job() != job) return;  // changed meanwhile
        bool same = true;
        for (std::size_t i = 0; i < order.places.size(); ++i) same = same && order.places[i] == i;
        if (same)
          return emit said(order.changes == 1
                               ? tr("One cutter does all of it.")
                               : tr("The order stands: %1 cutter changes are as few as can be.").arg(order.changes),
                           false);
        DecisionSheet::Content c;
        const Machine* machine = workspace_.state().machines.find(job->machine);
        const double each = plan_.times.empty() ? 0 : machine && machine->change_s ? *machine->change_s : 5;
        c.title = tr("%1 cutter changes → %2").arg(order.changes_before).arg(order.changes);
        if (order.changes < order.changes_before)
          c.title += tr(", %1 s less").arg(std::lround(each * (order.changes_before - order.changes)));
        c.note =
            tr("Faces come first; at one place spot, drill, sink, ream and tap keep their order, and roughing comes "
               "before "
               "finishing. “Not before” of an operation adds to that. Pockets of the magazine stay as they are.");
        c.headings = {tr("No."), tr("Was"), tr("Operation"), QStringLiteral("T"), tr("Cutter")};
        c.right_aligned = {0, 1};
        c.stretch = 2;
        int t = 0;
        for (std::size_t i = 0; i < order.places.size(); ++i) {
          const std::size_t was = order.places[i];
          const Operation& o = job->operations[was];
          c.lines.push_back({QString::number(i + 1), QString::number(was + 1), text_of(o.name),
                             QStringLiteral("T%1").arg(tools.of[was].t), text_of(o.cutter.name)});
          if (tools.of[was].t != t) c.lit[{static_cast<int>(i), 3}] = Tone::accent;
          if (was != i) c.lit[{static_cast<int>(i), 1}] = Tone::accent;
          t = tools.of[was].t;
        }
        c.actions.push_back({tr("Use this order"), tr("In one step (Enter)"),
                             [this, order](const std::vector<int>&) {
                               const Job* now = workspace_.job();
                               decisions_->close_sheet();
                               if (now)
                                 workspace_.shop().apply(
                                     reordered(*now, order.places, order.changes_before, order.changes));
                             },
                             true});
        show_decision(std::move(c));
      });
}

void JobsPage::show_source_changes() {
  const Job* kept = workspace_.job();
  if (!kept || workspace_.is_trying()) return;
  const ShopState& state = workspace_.state();
  auto changes = std::make_shared<const std::vector<SourceChange>>(
      source_changes(state, workspace_.shop().resolver(), *kept, workspace_.units()));
  if (changes->empty()) {
    decisions_->close_sheet();
    return emit said(tr("Nothing changed at its sources since this job took its copy."), false);
  }
  // What it does to times and loads is worked out aside, on a copy that has taken everything.
  auto taken = std::make_shared<Job>(*kept);
  for (const SourceChange& c : *changes) taken->operations[static_cast<std::size_t>(c.operation)] = c.now;
  struct Effect {
    std::vector<double> seconds;
    std::vector<PathFacts> facts;
    std::vector<ProgramFile> programs;
  };
  workspace_.tasks().run(
      this, {},
      [request = plan_request(state, std::shared_ptr<const Job>(taken)), file = workspace_.shop().file(),
       id = kept->id](Task& task) {
        const JobPlan plan = plan_job(request, [&task](double done) { return task.report(done); });
        Effect e;
        for (const OperationTime& t : plan.times) e.seconds.push_back(t.total_s());
        e.facts = plan.facts();
        e.programs = programs_written(file, id);
        return e;
      },
      [this, changes, taken, id = kept->id](const Effect& effect) {
        const Job* job = workspace_.job();
        if (!job || job->id != id || job->operations.size() != taken->operations.size()) return;
        const UnitSystem units = workspace_.units();
        DecisionSheet::Content c;
        c.title = changes->size() == 1 ? tr("One operation: changed at source")
                                       : tr("%1 operations: changed at source").arg(changes->size());
        QStringList programs;
        for (const ProgramFile& p : effect.programs) programs << QFileInfo(text_of(p.file)).fileName();
        if (!programs.isEmpty())
          c.note = tr("Programs written from the old values: %1").arg(programs.mid(0, 6).join(QStringLiteral(", ")));
        c.headings = {tr("No."),           tr("Operation"),           tr("What changed"), QStringLiteral("S"),
                      QStringLiteral("F"), QStringLiteral("ap × ae"), tr("Time"),         tr("Tightest")};
        c.right_aligned = {0, 3, 4, 5, 6};
        c.stretch = 2;
        for (const SourceChange& change : *changes) {
          const auto i = static_cast<std::size_t>(change.operation);
          const Operation &was = job->operations[i], &now = change.now;
          const auto cut = [&](const TakenConditions& t) {
            return QStringLiteral("%1 × %2").arg(value_text(t.ap_mm, Quantity::length, units),
                                                 value_text(t.ae_mm, Quantity::length, units));
          };
          const auto load = [&](const Job& in, const Operation& o, const PathFacts& facts) {
            const CutReport report = report_of(workspace_.state(), in, o, facts);
            return report.headroom.empty()
                       ? QStringLiteral("—")
                       : QStringLiteral("%1 %").arg(std::lround(report.headroom.front().tightest() * 100));
          };
          const PathFacts before = i < plan_.operations.size() ? plan_.operations[i]->facts() : PathFacts{};
          c.details << change.what.join(QStringLiteral("; "));
          const bool timed = i < effect.seconds.size() && i < plan_.times.size();
          c.lines.push_back(
              {QString::number(change.operation + 1), text_of(was.name), change.what.join(QStringLiteral("; ")),
               old_new(value_text(was.taken.n_rpm, Quantity::spindle_speed, units),
                       value_text(now.taken.n_rpm, Quantity::spindle_speed, units)),
               old_new(value_text(was.taken.vf_mm_min, Quantity::table_feed, units),
                       value_text(now.taken.vf_mm_min, Quantity::table_feed, units)),
               old_new(cut(was.taken), cut(now.taken)),
               timed ? old_new(duration_text(plan_.times[i].total_s() / 60), duration_text(effect.seconds[i] / 60))
                     : QString(),
               old_new(load(*job, was, before), load(*taken, now, effect.facts[i]))});
        }
        const auto places = [changes](const std::vector<int>& rows) {
          Places out;
          for (const int row : rows) out.push_back((*changes)[static_cast<std::size_t>(row)].operation);
          return out;
        };
        c.actions.push_back({tr("Update"), tr("The selected operations get what is there now (Enter)"),
                             [this, changes, places](const std::vector<int>& rows) {
                               workspace_.shop().apply(take_sources(*workspace_.job(), *changes, places(rows)));
                               show_source_changes();
                             }});
        c.actions.push_back({tr("Keep"), tr("They keep their copy, and it is not asked again"),
                             [this, changes, places](const std::vector<int>& rows) {
                               workspace_.shop().apply(keep_copies(*workspace_.job(), *changes, places(rows)));
                               show_source_changes();
                             }});
        const auto back = [this, places](BackAs as) {
          return [this, places, as](const std::vector<int>& rows) {
            for (const int place : places(rows))
              apply(back_to_library(workspace_.state(), *workspace_.job(), place, as));
            show_source_changes();
          };
        };
        c.actions.push_back({tr("To recipes"),
                             tr("The job's values become recipes of their cutters, proven in this job"),
                             back(BackAs::recipe)});
        c.actions.push_back({tr("To rows"),
                             tr("They become rows of the cutters' tables, with a note where they were found good"),
                             back(BackAs::row)});
        c.look = [this, changes](int row) {
          workspace_.select_operation((*changes)[static_cast<std::size_t>(row)].operation);
        };
        show_decision(std::move(c));
      });
}

void JobsPage::save_proven_step() {
  const Job* job = workspace_.job();
  const Places& at = workspace_.operations();
  if (!job || at.empty() || view_ != operations || workspace_.is_trying()) return;
  for (const int i : at)
    if (!job->operations[static_cast<std::size_t>(i)].taken.n_rpm)
      return emit said(tr("An operation without speed and feed cannot be a proven step."), true);
  const std::string name = proposed_step_name(workspace_.state(), *job, at);
  workspace_.shop().apply(saved_step(workspace_.state(), *job, at, name));
  emit said(tr("Proven step saved as “%1”; its name and notes are on the machines page.").arg(text_of(name)), false);
}

void JobsPage::use_proven_step() {
  const Job* job = workspace_.job();
  if (!job || view_ >= all_jobs || workspace_.is_trying()) return;
  std::vector<std::string> keys;
  if (view_ == features) keys = selected_features();
  else if (const auto at = selected_operation())
    for (const FeatureUse& use : job->operations[static_cast<std::size_t>(*at)].features) keys.push_back(use.key);
  const ShopState& state = workspace_.state();
  const auto found = steps_for(state, *job, keys);
  if (found.empty())
    return emit said(state.proven_steps.empty()
                         ? tr("No proven steps yet. “Save as a proven step” keeps the selected operations.")
                         : tr("No proven step works on what is selected."),
                     true);
  std::vector<PickItem> items;
  for (const ProvenStep* step : found) {
    const WorkMaterial* material = state.materials.find(step->material);
    QStringList about;
    about << (step->operations.size() == 1 ? tr("1 operation") : tr("%1 operations").arg(step->operations.size()));
    if (material) about << text_of(material->name);
    about << text_of(step->operations.front().cutter.name);
    items.push_back({text_of(step->name), about.join(QStringLiteral(" · ")), [this, id = step->id, keys] {
                       const ProvenStep* chosen = workspace_.state().proven_steps.find(id);
                       if (!chosen || !workspace_.job()) return;
                       const int before = static_cast<int>(workspace_.job()->operations.size());
                       apply(with_step(workspace_.state(), *workspace_.job(), *chosen, keys));
                       if (static_cast<int>(workspace_.job()->operations.size()) == before) return;
                       show_view(operations);
                       workspace_.select_operation(before);
                       emit operation_made();
                     }});
  }
  kinds_->open(new_->mapToGlobal(QPoint(new_->width() - 460, new_->height() + 2)), 460, std::move(items), 0,
               tr("A proven step: type its name, material or cutter"));
}

void JobsPage::update_proven_step() {
  if (!workspace_.job() || workspace_.operations().empty()) return;
  apply(updated_step(workspace_.state(), *workspace_.job(), workspace_.operations()));
}

// What is done to a job now and then.
void JobsPage::show_more() {
  if (!workspace_.job()) return;
  std::vector<PickItem> items;
  items.push_back({tr("Save the setup sheet"), tr("A4 landscape"), [this] { emit sheet_wanted(false); }});
  items.push_back({tr("Save the setup sheet, portrait"), tr("A4 portrait"), [this] { emit sheet_wanted(true); }});
  if (workspace_.job()->setups.size() > 1)
    items.push_back({tr("Write a program for each setup"), {}, [this] { emit program_each_setup_wanted(); }});
  items.push_back({tr("Order for few cutter changes"), tr("seen first"), [this] { propose_order(); }});
  items.push_back({tr("What changed at the sources"), tr("one by one"), [this] { show_source_changes(); }});
  items.push_back({tr("Use a proven step"), {}, [this] { use_proven_step(); }});
  items.push_back({tr("Save as a proven step"), tr("the selected operations"), [this] { save_proven_step(); }});
  items.push_back({tr("Update the proven step"), tr("from the selected operations"), [this] { update_proven_step(); }});
  items.push_back({tr("Find in the program"), {}, [this] { find_in_program(); }});
  kinds_->open(more_->mapToGlobal(QPoint(more_->width() - 380, more_->height() + 2)), 380, std::move(items), 0,
               tr("What to do with this job"));
}

}  // namespace pecorra
