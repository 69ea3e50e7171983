#include "shop/tool_plan.h"

#include <algorithm>
#include <set>
#include <unordered_map>

#include "shop/dialects.h"

namespace pecorra {
namespace {

const Cutter* cutter_in(const ShopState& state, const Pocket& pocket) {
  const Assembly* held = state.assemblies.find(pocket.assembly);
  return held ? state.cutters.find(held->cutter) : nullptr;
}

std::string named(const Cutter& cutter) { return std::to_string(cutter.number) + " " + cutter.name; }

std::optional<Message> other_spindle(const ShopState& state, const Machine& machine, const Assembly* assembly) {
  const Holder* holder = assembly ? state.holders.find(assembly->holder) : nullptr;
  if (!holder || !holder->machine_side || !machine.interface || *holder->machine_side == *machine.interface) return {};
  return Message{
      Severity::error,
      "holder_of_other_spindle",
      "cutter",
      {{"holder", holder->name}, {"machine", machine.name}, {"spindle", std::string(label_of(*machine.interface))}}};
}

// Gives every cutter of the job its number.
class Numberer {
 public:
  Numberer(const ShopState& state, const Job& job)
      : state_(state), job_(job), machine_(state.machines.find(job.machine)) {
    for (const Pocket& p : state.pockets)
      if (machine_ && p.machine == machine_->id && p.number) pockets_[*p.number] = &p;
    most_ = machine_ ? machine_->pockets : std::nullopt;
  }

  ToolPlan run() {
    plan_.has_magazine = !pockets_.empty();
    plan_.of.resize(job_.operations.size());
    for (const Operation& o : job_.operations) stated(o);
    for (const Operation& o : job_.operations)
      if (!o.cutter.id.is_null() && !numbers_.contains(o.cutter.id)) proposed(o);
    std::unordered_map<Id, Placed> placed;  // by cutter: jobs have many operations with few
    for (std::size_t i = 0; i < job_.operations.size(); ++i) {
      const Operation& o = job_.operations[i];
      if (o.cutter.id.is_null()) continue;
      const auto [known, fresh] = placed.try_emplace(o.cutter.id);
      if (fresh) known->second = place(o);
      plan_.of[i] = known->second.place;
      if (known->second.other_spindle) say(o, *known->second.other_spindle);
      if (fresh) measuring(o, plan_.of[i]);
    }
    return std::move(plan_);
  }

 private:
  struct Placed {
    ToolPlace place;
    std::optional<Message> other_spindle;
  };
  Placed place(const Operation& o) const {
    Placed out;
    out.place.t = numbers_.at(o.cutter.id);
    const auto pocket = pockets_.find(out.place.t);
    const Cutter* there = pocket != pockets_.end() ? cutter_in(state_, *pocket->second) : nullptr;
    out.place.standing = there && there->id == o.cutter.id;
    out.place.assembly = out.place.standing ? state_.assemblies.find(pocket->second->assembly) : fitting(o.cutter.id);
    if (machine_) out.other_spindle = other_spindle(state_, *machine_, out.place.assembly);
    // Where nobody says what stands in the machine, it may well be in another holder.
    if (out.other_spindle && !plan_.has_magazine) out.other_spindle->severity = Severity::warning;
    return out;
  }

  void say(const Operation& o, Message message) { plan_.messages[o.id].push_back(std::move(message)); }
  void error(const Operation& o, const char* code, Details values) {
    say(o, {Severity::error, code, "tool_number", std::move(values)});
  }
  bool is_taken(int t) const {
    return pockets_.contains(t) ||
           std::any_of(numbers_.begin(), numbers_.end(), [t](const auto& entry) { return entry.second == t; });
  }

  // The usual one, unless it does not fit the spindle and another does.
  const Assembly* fitting(const Id& cutter) const {
    const Assembly* usual = state_.assembly_of(cutter);
    if (!machine_ || !other_spindle(state_, *machine_, usual)) return usual;
    for (const std::size_t i : state_.assemblies.of_cutter(cutter))
      if (!other_spindle(state_, *machine_, &state_.assemblies[i])) return &state_.assemblies[i];
    return usual;
  }

  // Where the cutter stands, and what is typed.
  void stated(const Operation& o) {
    const Id& cutter = o.cutter.id;
    if (cutter.is_null()) return;
    if (const auto known = numbers_.find(cutter); known != numbers_.end()) {
      if (o.tool_number && *o.tool_number != known->second)
        error(o, "cutter_has_other_number", {{"t", 1.0 * *o.tool_number}, {"right", 1.0 * known->second}});
      return;
    }
    const Pocket* standing = machine_ ? pocket_of(state_, machine_->id, cutter) : nullptr;
    if (machine_ && standing) {
      numbers_[cutter] = *standing->number;
      if (o.tool_number && *o.tool_number != *standing->number)
        error(o, "cutter_stands_elsewhere",
              {{"t", 1.0 * *o.tool_number}, {"pocket", 1.0 * *standing->number}, {"machine", machine_->name}});
      return;
    }
    if (!o.tool_number) return;
    const int t = *o.tool_number;
    if (machine_ && most_ && t > *most_)
      error(o, "pocket_beyond_magazine", {{"t", 1.0 * t}, {"pockets", 1.0 * *most_}, {"machine", machine_->name}});
    if (const auto pocket = pockets_.find(t); pocket != pockets_.end()) {
      if (const Cutter* there = cutter_in(state_, *pocket->second))
        error(o, "pocket_holds_other", {{"pocket", 1.0 * t}, {"cutter", named(*there)}});
    } else if (is_taken(t)) {
      error(o, "number_of_other_cutter", {{"t", 1.0 * t}});
    }
    numbers_[cutter] = t;
  }

  void proposed(const Operation& o) {
    int t = plan_.has_magazine ? 0 : o.cutter.number;
    if (t < 1 || is_taken(t) || (most_ && t > *most_)) {
      t = 1;
      while (is_taken(t)) ++t;
    }
    if (machine_ && most_ && t > *most_)
      error(o, "no_pocket_left", {{"machine", machine_->name}, {"pockets", 1.0 * *most_}});
    numbers_[o.cutter.id] = t;
  }

  // What the assembly asks for and the machine or its control cannot.
  void measuring(const Operation& o, const ToolPlace& place) {
    if (!place.assembly || !machine_ || (!place.assembly->measuring && !place.assembly->checked_for_breakage)) return;
    const Dialect& dialect = dialect_of(state_, job_);
    const auto lacks = [&](bool asked, bool has, const std::string& text, const char* what) {
      if (!asked || (has && !text.empty())) return;
      say(o, {Severity::warning,
              has ? "dialect_does_not_measure" : "machine_does_not_measure",
              "cutter",
              {{"machine", machine_->name}, {"dialect", dialect.name}, {"what", std::string(what)}}});
    };
    const auto& wanted = place.assembly->measuring;
    lacks(wanted.has_value(), machine_->measures_length, dialect.measure_length, "length");
    lacks(wanted == CutterMeasuring::length_and_radius, machine_->measures_radius, dialect.measure_radius, "radius");
    lacks(place.assembly->checked_for_breakage, machine_->checks_breakage, dialect.check_breakage, "breakage");
  }

  const ShopState& state_;
  const Job& job_;
  const Machine* machine_;
  std::map<int, const Pocket*> pockets_;
  std::optional<int> most_;
  std::unordered_map<Id, int> numbers_;  // by cutter
  ToolPlan plan_;
};

}  // namespace

std::vector<int> ToolPlan::numbers() const {
  std::vector<int> all;
  for (const ToolPlace& place : of) all.push_back(place.t);
  return all;
}

std::vector<std::size_t> ToolPlan::to_load() const {
  std::vector<std::size_t> places;
  std::set<int> seen;
  if (!has_magazine) return places;
  for (std::size_t i = 0; i < of.size(); ++i)
    if (of[i].t > 0 && !of[i].standing && seen.insert(of[i].t).second) places.push_back(i);
  return places;
}

ToolPlan tool_plan(const ShopState& state, const Job& job) { return Numberer(state, job).run(); }

ProgramTool program_tool(const ShopState& state, const Job& job, const Operation& o, const ToolPlace& place) {
  ProgramTool tool;
  tool.t = place.t;
  tool.number = o.generic_cutter ? 0 : o.cutter.number;
  const Assembly* held = place.assembly;
  const Machine* machine = state.machines.find(job.machine);
  if (!held) return tool;
  if (const Holder* holder = state.holders.find(held->holder)) tool.holder = holder->name;
  tool.stickout_mm = o.stickout_mm;
  // A stick-out that the operation states by itself was not measured.
  if (held->measured_stickout_mm && (!o.stickout_mm || o.stickout_mm == held->measured_stickout_mm)) {
    tool.stickout_mm = held->measured_stickout_mm;
    tool.measured = true;
  }
  if (!machine) return tool;
  tool.measures_length = held->measuring && machine->measures_length;
  tool.measures_radius = held->measuring == CutterMeasuring::length_and_radius && machine->measures_radius;
  tool.checks_breakage = held->checked_for_breakage && machine->checks_breakage;
  tool.length_tolerance_mm = machine->length_tolerance_mm.value_or(0);
  tool.radius_tolerance_mm = machine->radius_tolerance_mm.value_or(0);
  tool.breakage_tolerance_mm = machine->breakage_tolerance_mm.value_or(0);
  return tool;
}

const Pocket* pocket_of(const ShopState& state, const Id& machine, const Id& cutter) {
  const Pocket* found = nullptr;
  for (const Pocket& p : state.pockets) {
    if (p.machine != machine || !p.number) continue;
    const Assembly* held = state.assemblies.find(p.assembly);
    if (held && held->cutter == cutter && (!found || *p.number < *found->number)) found = &p;
  }
  return found;
}

std::vector<Message> check_pocket(const ShopState& state, const Pocket& pocket) {
  std::vector<Message> messages;
  const auto error = [&](const char* code, const char* property, Details values) {
    messages.push_back({Severity::error, code, property, std::move(values)});
  };
  const Machine* machine = state.machines.find(pocket.machine);
  if (!machine) error("pocket_without_machine", "machine", {});
  if (!pocket.number) error("pocket_without_number", "number", {});
  if (!machine || !pocket.number) return messages;
  if (machine->pockets && *pocket.number > *machine->pockets)
    error("pocket_beyond_magazine", "number",
          {{"t", 1.0 * *pocket.number}, {"pockets", 1.0 * *machine->pockets}, {"machine", machine->name}});
  for (const Pocket& other : state.pockets) {
    if (other.id == pocket.id || other.machine != pocket.machine) continue;
    if (other.number == pocket.number) {
      const Cutter* there = cutter_in(state, other);
      error("pocket_twice", "number", {{"pocket", 1.0 * *pocket.number}, {"cutter", there ? named(*there) : "—"}});
    }
    if (!pocket.assembly.is_null() && other.assembly == pocket.assembly && other.number)
      error("assembly_in_two_pockets", "assembly", {{"pocket", 1.0 * *other.number}});
  }
  if (auto spindle = other_spindle(state, *machine, state.assemblies.find(pocket.assembly))) {
    spindle->property = "assembly";
    messages.push_back(std::move(*spindle));
  }
  return messages;
}

}  // namespace pecorra
