#include "shop/planning.h"

#include <algorithm>
#include <set>

#include "core/job/order.h"
#include "core/job/thin_wall.h"
#include "core/mechanics/chip.h"
#include "core/motion/engagement.h"
#include "core/operation/holes.h"
#include "shop/evaluation.h"
#include "shop/program_file.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// What no path depends on is left out.
Operation shape_of(const Operation& o) {
  Operation shape = o;
  shape.revision = 0;
  shape.rank = 0;
  shape.name.clear();
  shape.comment.clear();
  shape.stop = ProgramStop::none;
  shape.tool_number.reset();
  shape.permitted_deflection_mm.reset();
  shape.typed.clear();
  for (TakenConditions* t : {&shape.taken, &shape.taken_slot, &shape.taken_finish, &shape.taken_floor}) {
    t->trail.clear();
    t->kept.clear();
    t->source_text.clear();
    t->coolant = Coolant::off;
    t->dial_position.reset();
    t->proven = t->guess = false;
    t->table = t->row = {};
  }
  shape.own_coolant.reset();
  shape.cutter.name.clear();
  shape.cutter.notes.clear();
  return shape;
}

// At inner corners of the path exactly; where the stock itself is wider than a pass, as found on the grid, which is not
// believed within a few degrees.
double growth_of(const Operation& o, const PlannedPath& planned) {
  const double d = o.cutter.diameter_mm.value_or(0), ae = std::min(d, o.taken.ae_mm.value_or(0));
  if (!declaration(o.path).milling || !(d > 0) || !(ae > 0)) return 0;
  constexpr double grid_error_rad = 0.3;
  const double more = planned.tightest_rad - side_engagement(ae, d).angle();
  return std::max(declaration(o.path).walls ? corner_rad(planned.path, climbs_with_m3(o), d, ae) : 0,
                  more > grid_error_rad ? more : 0);
}

// What most of the path runs at, as sheets and lists say it.
PathFacts as_cut(const Operation& o, const OperationInput& input, const PlannedPath& planned) {
  PathFacts facts;
  const OperationDeclaration& kind = declaration(o.path);
  facts.growth_rad = growth_of(o, planned);
  facts.depth_mm = depth_of(o, input);
  facts.full_width_mm = planned.full_width_mm;
  facts.full_depth_mm = planned.full_depth_mm;
  if (planned.path.moves.empty()) return facts;
  std::map<std::pair<double, double>, double> lengths;  // by speed and feed
  double x = 0, y = 0, z = planned.path.safe_z, cut_mm = 0, low = 0, high = 0;
  double n = planned.path.start_rpm > 0 ? planned.path.start_rpm : o.taken.n_rpm.value_or(0);
  std::size_t event = 0;
  for (std::size_t i = 0; i < planned.path.moves.size(); ++i) {
    const Move& m = planned.path.moves[i];
    const auto& events = planned.path.events;
    for (; event < events.size() && events[event].before <= i; ++event)
      if (events[event].kind == MotionEvent::spindle_speed) n = events[event].value;
    const bool counts = m.kind == MoveKind::cut || m.kind == MoveKind::link || m.kind == MoveKind::cycle ||
                        (kind.circular && m.kind == MoveKind::ramp);
    if (counts && m.feed_mm_min > 0) {
      const double flat = m.shape == MoveShape::line
                              ? std::hypot(m.x - x, m.y - y)
                              : std::hypot(x - m.centre_x, y - m.centre_y) * std::abs(swept_rad(x, y, m));
      const double length = std::hypot(flat, m.z - z);
      lengths[{n, m.feed_mm_min}] += length;
      cut_mm += length;
      low = low == 0 ? m.feed_mm_min : std::min(low, m.feed_mm_min);
      high = std::max(high, m.feed_mm_min);
    }
    x = m.x, y = m.y, z = m.z;
  }
  if (kind.circular) {
    facts.vf_low_mm_min = low;
    facts.vf_high_mm_min = high;
  } else if (const auto most = std::max_element(lengths.begin(), lengths.end(),
                                                [](const auto& a, const auto& b) { return a.second < b.second; });
             most != lengths.end() && kind.milling) {
    facts.n_rpm = most->first.first;
    facts.vf_mm_min = most->first.second;
  }
  if (planned.ap_mm > 0) facts.ap_mm = planned.ap_mm;
  if (kind.milling && o.operation != OperationKind::slot && planned.full_width_mm > 0.5 * cut_mm) {
    facts.ae_mm = o.cutter.diameter_mm;
    facts.growth_rad = 0;
    if (planned.full_depth_mm > 0) facts.ap_mm = std::min(planned.ap_mm, planned.full_depth_mm);
  }
  return facts;
}

// The stock of one setup, and whose cuts are out of it.
struct SetupStock {
  StockField field;
  double grid_mm = 0;
  std::vector<bool> cut;
};

class Planner {
 public:
  Planner(const PlanRequest& request, const PlanProgress& go_on)
      : request_(request), job_(*request.job), index_(job_), go_on_(go_on) {
    if (request.cache) known_ = request.cache->known();
    same_ground_ = is_same_ground();
    same_check_ = request.limit_check && known_->limit_check &&
                  (request.limit_check == known_->limit_check || *request.limit_check == *known_->limit_check);
    for (const Operation& o : job_.operations) setups_.push_back(setup_of(job_, o));
  }

  JobPlan run() {
    JobPlan plan;
    for (std::size_t i = 0; i < job_.operations.size(); ++i) {
      const Operation& o = job_.operations[i];
      if (is_unchanged(i, plan.operations)) {
        keep(i, known_->operations.at(o.id), plan);
        continue;
      }
      changed_holes_ = changed_holes_ || declaration(o.path).takes(Role::hole);
      auto now = std::make_shared<PlannedOperation>();
      std::vector<Message> binding;
      now->input = input_of(job_, index_, o, request_.rules, binding);
      if (const auto held = request_.holders.find(o.id); held != request_.holders.end())
        now->input.holder = held->second;
      now->input.limits = request_.limits;
      now->input.first_pecks = !request_.dialect.first_peck_word.empty();
      if (const auto straight = request_.straight_mm.find(o.id); straight != request_.straight_mm.end())
        now->input.straight_mm = straight->second;
      now->operation = shape_of(o);
      SetupStock& stock = stock_of_setup(i);
      now->grid_mm = stock.grid_mm;
      now->reach = reach_of(o, now->input);
      for (std::size_t k = 0; k < i; ++k)
        if (same_setup(k, i) && plan.operations[k]->reach.meets(now->reach)) now->after.push_back(plan.operations[k]);
      const auto before = known_->operations.find(o.id);
      if (before != known_->operations.end() && same(*before->second, *now)) {
        keep(i, before->second, plan);
        continue;
      }
      done_ = static_cast<double>(i) / static_cast<double>(job_.operations.size());
      if (!stopped_ && go_on_) stopped_ = !go_on_(done_);
      if (stopped_) now->messages.push_back({Severity::error, "path_stopped", "features", {}});
      else if (!has_error(binding)) make(plan.operations, i, stock, *now);
      now->messages.insert(now->messages.begin(), binding.begin(), binding.end());
      ++plan.planned_anew;
      keep(i, std::move(now), plan);
    }
    if (request_.cache && !stopped_) {
      PlanCache::Known known{{},
                             {},
                             request_.job,
                             request_.rules,
                             request_.limits,
                             request_.holders,
                             request_.limit_check,
                             std::move(exceeded_)};
      for (std::size_t i = 0; i < job_.operations.size(); ++i) {
        known.operations[job_.operations[i].id] = plan.operations[i];
        known.times[job_.operations[i].id] = plan.paths[i];
      }
      request_.cache->keep(std::move(known));
    }
    order(plan);
    time(plan);
    return plan;
  }

 private:
  // What stands in the wrong order.
  void order(JobPlan& plan) const {
    std::vector<const OperationInput*> inputs;
    for (const auto& planned : plan.operations) inputs.push_back(&planned->input);
    std::vector<std::vector<Message>> faults = order_faults(job_, inputs);
    const std::vector<std::vector<Message>> walls = thin_walls(job_, inputs);
    for (std::size_t i = 0; i < faults.size(); ++i) {
      for (Message& m : faults[i]) plan.faults[i].push_back(std::move(m));
      plan.faults[i].insert(plan.faults[i].end(), walls[i].begin(), walls[i].end());
    }
  }

  // Worked out again only where the operation, its path or what it is held against differs.
  void exceeded(std::size_t i, const std::shared_ptr<const PlannedOperation>& planned, std::vector<Message>& faults) {
    const Operation& o = job_.operations[i];
    if (!request_.limit_check || planned->path.moves.empty()) return;
    std::vector<Message>& mine = exceeded_[o.id];
    const Job* last = known_->job.get();
    const auto before = known_->operations.find(o.id);
    const auto told = known_->exceeded.find(o.id);
    const bool same = last && told != known_->exceeded.end() && before != known_->operations.end() &&
                      before->second == planned && i < last->operations.size() && last->operations[i] == o &&
                      same_check_;
    mine = same ? told->second : request_.limit_check->of(o, planned->as_cut);
    faults.insert(faults.end(), mine.begin(), mine.end());
  }

  // Changes, run-up and checks as the program has them.
  void time(JobPlan& plan) const {
    const MachineTimes& m = request_.times;
    int t = 0;
    double speed = 0;
    std::set<int> measured;
    const auto run_up = [&](double to) {
      return m.max_rpm > 0 ? m.spindle_up_s * std::abs(to - speed) / m.max_rpm : 0;
    };
    for (std::size_t i = 0; i < job_.operations.size(); ++i) {
      OperationTime time;
      time.simple_s = plan.figures[i].minutes * 60;
      time.path_s = plan.paths[i].seconds();
      const ProgramTool tool = i < request_.tools.size() ? request_.tools[i] : ProgramTool{};
      if (!has_error(plan.faults[i]) && tool.t > 0) {
        if (tool.t != t) {
          time.change_s = m.change_s;
          time.spindle_s += run_up(0);
          speed = 0;
          const Dialect& d = request_.dialect;
          if (measured.insert(tool.t).second || d.measure_when == MeasureWhen::every_change)
            time.measuring_s += m.measure_s * (tool.measures_length + tool.measures_radius);
          if (tool.checks_breakage) time.measuring_s += m.measure_s * (d.breakage_when == BreakageWhen::both ? 2 : 1);
          t = tool.t;
        }
        const double start = plan.operations[i]->path.start_rpm;
        double n = start > 0 ? start : job_.operations[i].taken.n_rpm.value_or(0);
        const auto turn = [&](double to) {
          time.spindle_s += run_up(to);
          speed = to;
        };
        turn(n);
        for (const MotionEvent& e : plan.operations[i]->path.events) {
          switch (e.kind) {
            case MotionEvent::spindle_speed: turn(n = e.value); break;
            case MotionEvent::spindle_reverses: turn(-n); break;
            case MotionEvent::spindle_turns_again: turn(n); break;
            case MotionEvent::spindle_stops_orientated: turn(0); break;
            default: break;
          }
        }
      }
      plan.times.push_back(time);
    }
  }

  void keep(std::size_t i, std::shared_ptr<const PlannedOperation> planned, JobPlan& plan) {
    const Operation& o = job_.operations[i];
    std::vector<Message> faults = planned->messages;
    if (const auto lacks = request_.of_machine.find(o.id); lacks != request_.of_machine.end())
      faults.insert(faults.end(), lacks->second.begin(), lacks->second.end());
    for (Message& m : never_messages(o.taken.trail, o.taken.source_text)) faults.push_back(std::move(m));
    exceeded(i, planned, faults);
    plan.faults.push_back(std::move(faults));
    plan.figures.push_back(figures_of(planned->path, request_.dynamics.rapids));
    const auto timed = known_->times.find(o.id);
    const bool same_time =
        timed != known_->times.end() && timed->second.of == planned && timed->second.dynamics == request_.dynamics;
    if (same_time) plan.paths.push_back(timed->second);
    else
      plan.paths.push_back({planned, request_.dynamics,
                            std::make_shared<const std::vector<double>>(path_times(planned->path, request_.dynamics))});
    plan.operations.push_back(std::move(planned));
  }

  // Whether drawing, features, setups, rules and the order of the operations are those of what was planned last.
  bool is_same_ground() const {
    const Job* last = known_->job.get();
    return last && last->part == job_.part && known_->rules == request_.rules && known_->limits == request_.limits &&
           last->features == job_.features && last->setups == job_.setups &&
           std::equal(last->operations.begin(), last->operations.end(), job_.operations.begin(), job_.operations.end(),
                      [](const Operation& a, const Operation& b) { return a.id == b.id; });
  }

  static const std::vector<HolderStep>& holder_in(const std::map<Id, std::vector<HolderStep>>& holders, const Id& id) {
    static const std::vector<HolderStep> none;
    const auto found = holders.find(id);
    return found == holders.end() ? none : found->second;
  }

  // The same operation on the same ground, behind the same cuts.
  bool is_unchanged(std::size_t i, const PlannedOperations& before) {
    const Operation& o = job_.operations[i];
    if (!same_ground_ || !(known_->job->operations[i] == o)) return false;
    const auto found = known_->operations.find(o.id);
    if (found == known_->operations.end()) return false;
    const PlannedOperation& known = *found->second;
    // What is drilled before belongs to its ground.
    const OperationDeclaration& kind = declaration(o.path);
    if (changed_holes_ && (kind.takes(Role::hole) || kind.takes(Role::pocket))) return false;
    if (holder_in(known_->holders, o.id) != holder_in(request_.holders, o.id)) return false;
    if (kind.takes(Role::hole)) {
      const auto straight = request_.straight_mm.find(o.id);
      if (known.input.first_pecks == request_.dialect.first_peck_word.empty() ||
          known.input.straight_mm !=
              (straight == request_.straight_mm.end() ? std::nullopt : std::optional(straight->second)))
        return false;
    }
    if (stock_of_setup(i).grid_mm != known.grid_mm) return false;
    std::size_t at = 0;
    for (std::size_t k = 0; k < i; ++k) {
      if (!same_setup(k, i) || !before[k]->reach.meets(known.reach)) continue;
      if (at >= known.after.size() || !cut_alike(known.after[at], before[k])) return false;
      ++at;
    }
    return at == known.after.size();
  }

  bool same_setup(std::size_t a, std::size_t b) const { return setups_[a] == setups_[b]; }

  static bool same(const PlannedOperation& a, const PlannedOperation& b) {
    return a.grid_mm == b.grid_mm && a.operation == b.operation && a.input == b.input &&
           std::equal(a.after.begin(), a.after.end(), b.after.begin(), b.after.end(), cut_alike);
  }

  // What is planned anew and comes out the same leaves the same stock.
  static bool cut_alike(const std::shared_ptr<const PlannedOperation>& a,
                        const std::shared_ptr<const PlannedOperation>& b) {
    const auto alike = [](const Move& m, const Move& n) {
      return m.kind == n.kind && m.shape == n.shape && m.x == n.x && m.y == n.y && m.z == n.z &&
             m.centre_x == n.centre_x && m.centre_y == n.centre_y;
    };
    return a == b ||
           (declaration(a->operation.path).cleared_mm(a->operation) ==
                declaration(b->operation.path).cleared_mm(b->operation) &&
            std::equal(a->path.moves.begin(), a->path.moves.end(), b->path.moves.begin(), b->path.moves.end(), alike));
  }

  SetupStock& stock_of_setup(std::size_t of) {
    const Setup* setup = setups_[of];
    SetupStock& stock = stocks_[setup];
    if (stock.grid_mm > 0) return stock;
    const StockBlock block = stock_of(job_, setup);
    double smallest = std::max(block.plan.width(), block.plan.depth());
    for (std::size_t i = 0; i < job_.operations.size(); ++i) {
      const Operation& other = job_.operations[i];
      if (same_setup(i, of) && declaration(other.path).milling && other.cutter.diameter_mm)
        smallest = std::min(smallest, *other.cutter.diameter_mm);
    }
    stock.grid_mm = std::max(smallest, 1e-3);
    stock.cut.assign(job_.operations.size(), false);
    return stock;
  }

  void make(const PlannedOperations& before, std::size_t i, SetupStock& stock, PlannedOperation& now) {
    const Operation& o = job_.operations[i];
    if (stock.field.empty()) {
      const StockBlock block = stock_of(job_, setups_[i]);
      stock.field = StockField(block.plan, block.top, stock.grid_mm);
    }
    for (std::size_t k = 0; k < i; ++k) {
      if (stock.cut[k] || !same_setup(k, i) || !before[k]->reach.meets(now.reach)) continue;
      stock.field.take_away(before[k]->path, declaration(job_.operations[k].path).cleared_mm(job_.operations[k]));
      stock.cut[k] = true;
    }
    PlannedPath planned = plan_operation(o, now.input, stock.field, [this] {
      if (!stopped_ && go_on_ && ++asked_ % 64 == 0) stopped_ = !go_on_(done_);
      return stopped_;
    });
    stock.cut[i] = true;
    now.as_cut = as_cut(o, now.input, planned);
    now.distances = planned.distances;
    now.path = std::move(planned.path);
    now.messages = std::move(planned.messages);
  }

  const PlanRequest& request_;
  const Job& job_;
  JobIndex index_;
  const PlanProgress& go_on_;
  std::shared_ptr<const PlanCache::Known> known_ = std::make_shared<const PlanCache::Known>();
  std::vector<const Setup*> setups_;  // of each operation
  std::map<const Setup*, SetupStock> stocks_;
  std::map<Id, std::vector<Message>> exceeded_;
  bool same_ground_ = false, changed_holes_ = false, same_check_ = false;
  double done_ = 0;
  unsigned asked_ = 0;
  bool stopped_ = false;
};

}  // namespace

std::shared_ptr<const PlanCache::Known> PlanCache::known() const {
  const std::lock_guard lock(mutex_);
  return known_;
}
void PlanCache::keep(Known known) {
  auto kept = std::make_shared<const Known>(std::move(known));
  const std::lock_guard lock(mutex_);
  known_ = std::move(kept);
}

Trail PlannedOperation::trail() const {
  Trail steps;
  if (path.moves.empty()) return steps;
  const auto add = [&](const char* step, Details values) { steps.push_back({step, std::move(values), {}}); };
  const PathDistances& d = distances;
  if (d.helix_mm > 0) add("path_helix", {{"helix_mm", d.helix_mm}, {"ramp_deg", d.ramp_deg}});
  else if (d.ramp_deg > 0) add("path_ramp", {{"ramp_deg", d.ramp_deg}});
  if (d.lead_mm > 0) add("path_lead", {{"lead_mm", d.lead_mm}});
  if (d.overrun_mm > 0) add("path_overrun", {{"overrun_mm", d.overrun_mm}});
  add("path_heights", {{"retract_mm", path.safe_z}, {"feed_height_mm", d.feed_height_mm}});
  return steps;
}

PathRules path_rules(const ShopSettings& s) {
  return {s.ramp_deg,       s.ramp_not_to_centre_deg, s.helix_per_d, s.lead_per_d,  s.feed_height_mm, s.overrun_mm,
          s.full_width_deg, s.clearance_mm,           s.overlap_mm,  s.dwell_turns, s.breakthrough_mm};
}

ProgramHead head_of(const ShopState& state, const JobHead& job) {
  ProgramHead head;
  head.job = job.name;
  head.units = job.program_unit;
  head.shop = state.shop_settings().name;
  head.number = program_number(job);
  if (const WorkMaterial* material = state.materials.find(job.material)) {
    head.material = material->name;
    if (const auto hazard = hazard_message(*material)) head.hazard = sentence(*hazard, head.units).toStdString();
  }
  if (const Machine* machine = state.machines.find(job.machine)) head.machine = machine->name;
  return head;
}

namespace {

MachineDynamics dynamics_of(const Machine* m) {
  MachineDynamics d;
  if (!m) return d;
  d.acceleration = m->acceleration_mm_s2.value_or(0);
  d.acceleration_z = m->acceleration_z_mm_s2.value_or(0);
  d.corner_jump = m->corner_jump_mm_min.value_or(0) / 60;
  d.look_ahead = m->look_ahead.value_or(0);
  d.block_s = m->block_ms.value_or(0) / 1000;
  return d;
}

FeedLimits feed_limits(const Machine& m, const WorkMaterial* material) {
  FeedLimits out;
  const auto hold = [](double& most, const std::optional<double>& limit) {
    most = std::min(most, limit.value_or(most));
  };
  hold(out.x, m.feed_x_mm_min);
  hold(out.y, m.feed_y_mm_min);
  hold(out.z, m.feed_z_mm_min);
  hold(out.any, m.max_feed_mm_min);
  if (material) hold(out.any, group_cap_mm_min(m, material->group));
  out.stops_for_speed = !m.dial_rpm.empty();
  return out;
}

// Common practice, no source, where the machine states nothing.
MachineTimes times_of(const Machine* m) {
  MachineTimes t;
  if (!m) return t;
  const ChangerKind changer = m->changer.value_or(m->automatic_changer ? ChangerKind::arm : ChangerKind::by_hand);
  const double usual = changer == ChangerKind::arm ? 5 : changer == ChangerKind::carousel ? 10 : 120;
  t.change_s = m->change_s.value_or(usual);
  t.spindle_up_s = m->spindle_up_s.value_or(0);
  t.max_rpm = m->max_rpm.value_or(0);
  t.measure_s = m->measure_s.value_or(15);
  return t;
}

}  // namespace

namespace {

// What a cutter is called, and what it says to the operator, follows its library at once; its sizes and values do not.
std::shared_ptr<const Job> with_names_of_now(const ShopState& state, const std::shared_ptr<const Job>& job) {
  std::shared_ptr<Job> fresh;
  for (std::size_t i = 0; i < job->operations.size(); ++i) {
    const Operation& o = job->operations[i];
    const Cutter* now = o.generic_cutter ? nullptr : state.cutters.find(o.cutter.id);
    if (!now || (now->name == o.cutter.name && now->message == o.cutter.message && now->number == o.cutter.number))
      continue;
    if (!fresh) fresh = std::make_shared<Job>(*job);
    Cutter& shown = fresh->operations[i].cutter;
    shown.name = now->name;
    shown.message = now->message;
    shown.number = now->number;
    shown.library = now->library;
  }
  return fresh ? fresh : job;
}

}  // namespace

namespace {

// Typed speeds that the spindle does not have or the cutter is not made for.
std::vector<Message> speed_faults(const Machine& machine, const Operation& o) {
  std::vector<Message> faults;
  const double n = *o.taken.n_rpm;
  const auto add = [&](const char* code, Details values) {
    values.insert(values.begin(), {"n_rpm", n});
    faults.push_back({Severity::error, code, o.own_n_rpm ? "own_n_rpm" : "taken", std::move(values)});
  };
  if (machine.max_rpm && n > *machine.max_rpm * (1 + 1e-9))
    add("speed_over_spindle", {{"most_rpm", *machine.max_rpm}, {"machine", machine.name}});
  if (machine.min_rpm && n < *machine.min_rpm * (1 - 1e-9))
    add("speed_under_spindle", {{"least_rpm", *machine.min_rpm}, {"machine", machine.name}});
  if (o.cutter.max_rpm && n > *o.cutter.max_rpm * (1 + 1e-9))
    add("speed_over_cutter", {{"most_rpm", *o.cutter.max_rpm}, {"cutter", o.cutter.name}});
  const auto& dial = machine.dial_rpm;
  if (!dial.empty() &&
      std::none_of(dial.begin(), dial.end(), [&](double speed) { return std::abs(speed - n) < 0.5; })) {
    const int nearest = nearest_dial_position(dial, n, dial.back());
    add("speed_not_on_dial",
        {{"position", static_cast<double>(nearest)}, {"right_rpm", dial[static_cast<std::size_t>(nearest) - 1]}});
  }
  return faults;
}

// What becomes of a hole by this control and in this material.
std::vector<Message> hole_doubts(const Job& job, const Operation& o, const WorkMaterial* material,
                                 const Dialect& dialect) {
  std::vector<Message> messages;
  const Process process = process_of(o.operation);
  if (process == Process::tapping) {
    const bool left = o.cutter.rotation == Rotation::counter_clockwise;
    if (dialect.code_of(CycleKind::tap, o.dwell_s.value_or(0) > 0, left).empty())
      messages.push_back({o.tapping == TappingKind::rigid ? Severity::error : Severity::warning,
                          o.tapping == TappingKind::rigid ? "dialect_cannot_tap" : "tap_written_out",
                          "tapping",
                          {{"dialect", dialect.name}}});
  } else if (declaration(o.path).takes(Role::hole) && !declaration(o.path).milling &&
             dialect.code_of(CycleKind::drill, false, false).empty()) {
    messages.push_back({Severity::note, "dialect_without_cycles", "cycle", {{"dialect", dialect.name}}});
  }
  const double d = o.cutter.diameter_mm.value_or(0);
  if (o.operation == OperationKind::drill && o.cutter.kind == CutterKind::drill && o.cycle == DrillCycle::straight &&
      !o.peck_mm && material && d > 0)
    if (const double most = straight_depth_per_d(o.cutter, *material) * d, depth = hole_depth_mm(job, o).value_or(0);
        depth > most * (1 + 1e-6))
      messages.push_back(
          {Severity::warning,
           "chips_not_cleared",
           "cycle",
           {{"depth_mm", depth}, {"per_d", depth / d}, {"most_mm", most}, {"material", material->name}}});
  return messages;
}

}  // namespace

PlanRequest plan_request(const ShopState& state, const std::shared_ptr<const Job>& job,
                         std::shared_ptr<PlanCache> cache) {
  const Machine* machine = state.machines.find(job->machine);
  const double plane = machine ? machine->rapid_mm_min.value_or(0) : 0,
               z = machine ? machine->rapid_z_mm_min.value_or(0) : 0;
  PlanRequest request;
  request.job = with_names_of_now(state, job);
  request.rules = path_rules(state.shop_settings());
  request.cache = std::move(cache);
  request.head = head_of(state, *request.job);
  request.dialect = dialect_of(state, *request.job);
  request.limit_check = std::make_shared<const LimitCheck>(state, *request.job, request.job->operations);
  request.dynamics = dynamics_of(machine);
  request.dynamics.rapids = {request.job->rapid_mm_min.value_or(plane), z};
  request.times = times_of(machine);
  if (machine) request.limits = feed_limits(*machine, state.materials.find(job->material));
  const ToolPlan tools = tool_plan(state, *request.job);
  request.of_machine = tools.messages;
  for (std::size_t i = 0; i < tools.of.size(); ++i)
    request.tools.push_back(program_tool(state, *request.job, request.job->operations[i], tools.of[i]));
  for (const Operation& o : request.job->operations) {
    if (o.taken.coolant != Coolant::off && request.dialect.code_of(o.taken.coolant).empty())
      request.of_machine[o.id].push_back(
          {Severity::warning,
           "dialect_lacks_coolant",
           "own_coolant",
           {{"dialect", request.dialect.name}, {"coolant", std::string(label_of(o.taken.coolant))}}});
    if (machine && o.taken.n_rpm)
      for (Message& m : speed_faults(*machine, o)) request.of_machine[o.id].push_back(std::move(m));
    const WorkMaterial* material = state.materials.find(job->material);
    if (material && has_parameter(o.path, "cycle") && o.cutter.diameter_mm)
      request.straight_mm[o.id] = straight_depth_per_d(o.cutter, *material) * *o.cutter.diameter_mm;
    for (Message& m : hole_doubts(*request.job, o, material, request.dialect))
      request.of_machine[o.id].push_back(std::move(m));
    if (machine && o.own_coolant && !has_coolant(*machine, *o.own_coolant))
      request.of_machine[o.id].push_back(
          {Severity::error,
           "machine_lacks_coolant",
           "own_coolant",
           {{"machine", machine->name}, {"coolant", std::string(label_of(*o.own_coolant))}}});
    const Assembly* held = state.assembly_of(o.cutter.id);
    const Holder* holder = held ? state.holders.find(held->holder) : nullptr;
    if (!holder || !o.stickout_mm) continue;
    for (const Station& station : holder->stations)
      request.holders[o.id].push_back({*o.stickout_mm + station.distance_mm, station.diameter_mm / 2});
  }
  return request;
}

JobPlan plan_job(const PlanRequest& request, const PlanProgress& go_on) { return Planner(request, go_on).run(); }

WrittenProgram program_of(const PlanRequest& request, const JobPlan& plan, std::optional<std::size_t> only) {
  const Job& job = *request.job;
  std::vector<ProgramOperation> operations;
  for (std::size_t i = 0; i < job.operations.size(); ++i) {
    if (has_error(plan.faults[i])) continue;
    ProgramOperation entry{&job.operations[i], &plan.operations[i]->path, request.tools[i]};
    entry.number = static_cast<int>(i) + 1;
    for (const Message& m : plan.faults[i])
      if (m.severity == Severity::warning) entry.warnings.push_back(sentence(m, request.head.units).toStdString());
    if (const Setup* setup = setup_of(job, job.operations[i])) {
      const auto place = static_cast<std::size_t>(setup - job.setups.data());
      if (only && place != *only) continue;
      entry.setup = {static_cast<int>(place),      setup->name,
                     setup->zero_x_mm.value_or(0), setup->zero_y_mm.value_or(0),
                     setup->zero_z_mm.value_or(0), setup->work_offset};
    }
    operations.push_back(std::move(entry));
  }
  ProgramHead head = request.head;
  head.revision = revision_text(request.shop_file, job);
  if (only && *only < job.setups.size()) head.setup = "SETUP " + job.setups[*only].name;
  return write_program(head, operations, request.dialect);
}

double JobPlan::seconds() const {
  double sum = 0;
  for (std::size_t i = 0; i < times.size(); ++i)
    if (!has_error(faults[i])) sum += times[i].total_s();
  return sum;
}

bool JobPlan::has_faults() const {
  return std::any_of(faults.begin(), faults.end(), [](const auto& list) { return has_error(list); });
}

std::vector<PathFacts> JobPlan::facts() const {
  std::vector<PathFacts> all;
  for (const auto& o : operations) all.push_back(o->facts());
  return all;
}

}  // namespace pecorra
