// The state of the window: the shop, the context, the selection. Shared by pages and bench.
#pragma once

#include <QObject>
#include <QTimer>
#include <array>
#include <optional>

#include "app/jobs/spare_jobs.h"
#include "shop/evaluation.h"
#include "shop/operation_edit.h"
#include "shop/shop.h"
#include "shop/task.h"
#include "shop/tool_plan.h"

namespace pecorra {

// The mark of a resolution or of values taken from one.
enum class Mark;
Mark mark_of(const Resolution& resolution);
Mark mark_of(const TakenConditions& taken);

class CutterCatalogue;

// Cutters that are dragged: their UUIDs, one on each line.
QString cutter_mime_type();

// After what is seen first.
inline constexpr int two_frames_ms = 33;

class Workspace : public QObject {
  Q_OBJECT
 public:
  explicit Workspace(Shop& shop, QObject* parent = nullptr);

  Shop& shop() const { return shop_; }
  // What runs off this thread for the window.
  Tasks& tasks() { return tasks_; }
  CutterCatalogue& catalogue() const { return *catalogue_; }
  const ShopState& state() const { return shop_.state(); }

  const Context& context() const { return context_; }
  void set_context(const Context& context);
  const WorkMaterial* material() const { return state().materials.find(context_.material); }
  const Machine* machine() const { return state().machines.find(context_.machine); }
  UnitSystem units() const { return context_.units; }

  Id cutter_id() const { return cutter_; }
  const Cutter* cutter() const { return state().cutters.find(cutter_); }
  void select_cutter(const Id& id);

  Id job_id() const { return job_; }
  // The job in front with everything that belongs to it.
  const Job* job() const;
  void select_job(const Id& id);
  int operation_index() const { return operation_; }
  void select_operation(int index);
  // Several at once, edited together; the one in front is among them. None where the job has no operation.
  const Places& operations() const { return operations_; }
  void select_operations(Places places, int front);

  // On the jobs page the context line belongs to the job: a choice there is a trial until accepted.
  void set_job_in_front(bool front);
  bool job_in_front() const { return job_in_front_ && !program_in_front() && job() != nullptr; }
  bool is_trying() const;
  void try_material(const Id& id);
  void try_machine(const Id& id);
  void try_pace(double pace);
  // As stored, whole. None without a job. Holds until something changes.
  std::shared_ptr<const Job> kept_job() const;
  // The job as shown: with trial material, machine and pace and its conditions resolved again, else as kept. Of a long
  // job, what is in view comes first; context_changed() follows when the rest is resolved too.
  std::shared_ptr<const Job> shown_job() const;
  bool is_shown_whole() const { return !is_trying() || unresolved_.empty(); }
  // Rows of operations on the screen.
  void set_operations_in_view(int first, int last) { first_in_view_ = first, last_in_view_ = last; }
  // Which T the cutters of the job as shown have.
  const ToolPlan& tools() const;
  // The job with conditions resolved again where they differ from its copy; none where none do.
  std::shared_ptr<const Job> moved_job() const;
  // Of the job in front, else of the context.
  Id shown_material() const;
  Id shown_machine() const;
  double shown_pace() const;
  void accept_trial();
  void drop_trial();

  // A program that is being retuned. In front, the context line belongs to it; what is chosen there is kept at once.
  Id program_id() const { return program_; }
  const RetunedProgram* program() const { return state().programs.find(program_); }
  void select_program(const Id& id);
  void set_program_in_front(bool front);
  bool program_in_front() const { return program_in_front_ && job_in_front_ && program() != nullptr; }
  // For the program or the job in front, else for the context.
  void take_material(const Id& id);
  void take_machine(const Id& id);
  void take_pace(double pace);
  // Versions of what conditions are resolved from.
  std::vector<std::uint64_t> sources() const;

  // Trial values of the current cut; discarded when another cutter, operation or job is selected.
  const WhatIf& what_if() const { return what_if_; }
  void try_what_if(const WhatIf& tried);

  // The cutter's numbers in the context; `held`: in this assembly, else in its usual one.
  // `follow`: this recipe of it; the null id: tables only; nothing: automatic.
  std::optional<Evaluation> evaluation_of(const Cutter& cutter, const Assembly* held = nullptr,
                                          const std::optional<Id>& follow = std::nullopt,
                                          const WhatIf& tried = {}) const;
  Resolution resolution_of(const Cutter& cutter, const WorkMaterial& material) const;

 signals:
  void context_changed();
  void selection_changed();
  void job_changed();  // another job or operation, or another trial
  void what_if_changed();
  void data_changed();  // the shop's objects

 private:
  void check_selection();
  void change_program(const RetunedProgram& after, const QString& what);
  void resolve_more() const;  // of the trial

  Shop& shop_;
  Tasks tasks_;
  CutterCatalogue* catalogue_;
  Context context_;
  Id cutter_, job_, program_;
  int operation_ = 0;
  Places operations_;
  bool job_in_front_ = false, program_in_front_ = false;
  std::optional<Id> tried_material_, tried_machine_;
  std::optional<double> tried_pace_;
  // Put together once for each state of the shop.
  mutable std::shared_ptr<const Job> whole_;
  mutable std::array<std::uint64_t, 6> whole_of_{};
  mutable SpareJobs spares_;
  // The job resolved again, as long as neither it nor any source has changed.
  mutable std::shared_ptr<const Job> tried_, tried_of_;
  mutable std::optional<Id> tried_with_material_, tried_with_machine_;
  mutable std::optional<double> tried_with_pace_;
  mutable std::vector<std::uint64_t> tried_from_;
  // Operations of it that are still to be resolved, and the copy in which they are.
  mutable std::vector<std::size_t> unresolved_;
  mutable std::shared_ptr<Job> growing_;
  mutable QTimer more_;
  int first_in_view_ = 0, last_in_view_ = 30;
  mutable ToolPlan tools_;
  mutable std::shared_ptr<const Job> tools_of_;
  mutable Id tools_on_;
  mutable std::vector<std::uint64_t> tools_from_;
  // Which of its operations come out otherwise, as far as known: unchanged ones need not be resolved again.
  mutable std::shared_ptr<const Job> moved_, moved_of_;
  mutable std::vector<std::uint64_t> moved_from_;
  WhatIf what_if_;
};

}  // namespace pecorra
