// Every dialect that ships, in both units, for every job of the demo and for random ones: read again by a reader that
// shares no code with the writer. Dialects as files, and what a program says of its job.
#include <QCoreApplication>
#include <QFile>
#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <random>

#include "../support/program_compare.h"
#include "core/iso/program_text.h"
#include "core/quantity/units.h"
#include "demo_copy.h"
#include "shop/job_objects.h"
#include "shop/planning.h"
#include "shop/program_file.h"
#include "shop/shop.h"
#include "shop/words.h"

using namespace pecorra;

namespace {

struct Planned {
  PlanRequest request;
  JobPlan plan;
};
Planned planned(const ShopState& state, const Job& job) {
  Planned p{plan_request(state, job), {}};
  p.plan = plan_job(p.request);
  return p;
}

std::string compared(Planned p, const Dialect& dialect, UnitSystem units) {
  p.request.dialect = dialect;
  p.request.head.units = units;
  const std::string text = program_of(p.request, p.plan).text;
  test::Control control;
  control.absolute_centres = dialect.arcs == ArcForm::absolute;
  const test::Reading r = test::read_program(text, control);
  std::vector<test::Wanted> wanted;
  for (std::size_t i = 0; i < p.plan.operations.size(); ++i) {
    if (has_error(p.plan.faults[i])) continue;
    const Operation& o = p.request.job->operations[i];
    const Setup& s = *setup_of(*p.request.job, o);
    const bool changer =
        dialect.tool_change.find("M6") != std::string::npos || dialect.tool_change.find("M06") != std::string::npos;
    wanted.push_back({&o, &p.plan.operations[i]->path, s.zero_x_mm.value_or(0), s.zero_y_mm.value_or(0),
                      s.zero_z_mm.value_or(0), changer ? p.request.tools[i].t : 0});
  }
  const bool inch = units == UnitSystem::inch;
  const double unit = inch ? mm_per_inch : 1;
  const double step = unit * std::pow(10, -(inch ? dialect.decimals_inch : dialect.decimals_mm)),
               feed = unit * std::pow(10, -(inch ? dialect.feed_decimals_inch : dialect.feed_decimals_mm));
  if (r.inch != inch) return "other unit";
  if (!r.ended) return "has no end";
  // What is read and printed again is the same.
  if (ProgramText::read(text).print() != text) return "does not come back byte for byte";
  return test::difference(wanted, r, dialect, step, feed,
                          dialect.arcs == ArcForm::none || !dialect.helices ? dialect.chord_mm : 0);
}

// Variants that no shipped dialect is.
std::vector<Dialect> all_dialects() {
  std::vector<Dialect> all = shipped_dialects();
  Dialect absolute = all.front();
  absolute.name = "absolute centres, no blanks";
  absolute.arcs = ArcForm::absolute;
  absolute.blanks = false;
  absolute.leading_zero = false;
  absolute.repeat_on_positions = false;
  absolute.return_low.clear();
  all.push_back(absolute);
  Dialect radius = all.front();
  radius.name = "arcs by radius, full numbers";
  radius.arcs = ArcForm::radius;
  radius.position_point = NumberPoint::full;
  radius.hole_feed_per_turn = true;
  all.push_back(radius);
  return all;
}

}  // namespace

TEST_CASE("every dialect writes every job of the demo as it was planned, in both units") {
  for (const Job& job : the_demo().whole_jobs()) {
    const Planned p = planned(the_demo(), job);
    for (const Dialect& d : all_dialects())
      for (const UnitSystem units : {UnitSystem::metric, UnitSystem::inch}) {
        INFO(job.name << " in " << d.name << (units == UnitSystem::inch ? " in inches" : " in mm"));
        CHECK(compared(p, d, units) == "");
      }
  }
}

TEST_CASE("two hundred random variants of the jobs are written as they were planned") {
  std::mt19937 random(1129);
  const std::vector<Job> jobs = the_demo().whole_jobs();
  const std::vector<Dialect> dialects = all_dialects();
  for (int run = 0; run < 200; ++run) {
    Job job = jobs[random() % jobs.size()];
    // A part of its operations, at other heights, from another zero point.
    std::erase_if(job.operations, [&](const Operation&) { return random() % 3 != 0; });
    for (Operation& o : job.operations) {
      if (o.depth_mm && random() % 2) o.depth_mm = *o.depth_mm * (0.4 + 0.001 * static_cast<double>(random() % 500));
      if (o.taken.n_rpm && process_of(o.operation) != Process::tapping)
        o.taken.n_rpm = 200 + static_cast<double>(random() % 9000);
      o.stop = static_cast<ProgramStop>(random() % 3);
    }
    for (Setup& s : job.setups) {
      s.zero_x_mm = 0.001 * static_cast<double>(random() % 200000) - 100;
      s.zero_z_mm = -0.001 * static_cast<double>(random() % 9000);
    }
    const Dialect& d = dialects[random() % dialects.size()];
    const UnitSystem units = random() % 2 ? UnitSystem::metric : UnitSystem::inch;
    INFO("run " << run << ": " << job.name << " in " << d.name
                << (units == UnitSystem::inch ? " in inches" : " in mm"));
    CHECK(compared(planned(the_demo(), job), d, units) == "");
  }
}

TEST_CASE("a program goes up before its first rapid, around every change and at the end") {
  const Job job = *the_demo().job(the_demo().jobs.named("Roller end cap")->id);
  Planned p = planned(the_demo(), job);
  const std::string text = program_of(p.request, p.plan).text;
  std::size_t changes = 0, retracts = 0;
  for (std::size_t at = text.find(" M6\n"); at != std::string::npos; at = text.find(" M6\n", at + 1)) ++changes;
  for (std::size_t at = text.find("G53 G0 Z0\n"); at != std::string::npos; at = text.find("G53", at + 1)) ++retracts;
  CHECK(changes == 5);
  CHECK(retracts == changes + 1);
  CHECK(text.find("G53 G0 Z0") < text.find("G0 X"));
  CHECK(text.find("G54\n") < text.find("G0 X"));
  CHECK(text.find("M5\nG53 G0 Z0\nT17 M6") != std::string::npos);
  // By hand: up to the plane, and up again before it moves over the part.
  for (const Dialect& d : shipped_dialects())
    if (d.key == "by_hand") p.request.dialect = d;
  const std::string by_hand = program_of(p.request, p.plan).text;
  std::size_t stops = 0;
  for (std::size_t at = by_hand.find("M0 ("); at != std::string::npos; at = by_hand.find("M0 (", at + 1)) {
    ++stops;
    const std::size_t before = by_hand.rfind('\n', by_hand.rfind('\n', at - 1) - 1);
    INFO(by_hand.substr(before, 300));
    CHECK(by_hand.rfind("G0 Z15.", at) != std::string::npos);
    const std::size_t up = by_hand.find("G0 Z15.\nX", at);
    CHECK(up != std::string::npos);
    CHECK(by_hand.find('X', by_hand.find(')', at)) > up);
  }
  CHECK(stops == 5);
}

TEST_CASE("the T of a program is the pocket in which its cutter stands") {
  ShopState state = the_demo();
  const Job job = *state.job(state.jobs.named("Roller end cap")->id);
  ToolPlan plan = tool_plan(state, job);
  CHECK(plan.has_magazine);
  CHECK(plan.numbers() == std::vector<int>{1, 17, 17, 3, 18, 8});
  CHECK(plan.to_load() == std::vector<std::size_t>{1, 4});
  CHECK(plan.messages.empty());
  // Typed numbers are taken or refused, never changed.
  const auto said = [&](std::size_t i, int t) {
    Job typed = job;
    typed.operations[i].tool_number = t;
    const ToolPlan now = tool_plan(state, typed);
    std::vector<std::string> codes;
    for (const auto& [id, messages] : now.messages)
      for (const Message& m : messages) codes.push_back(m.code);
    return codes;
  };
  using Codes = std::vector<std::string>;
  CHECK(said(1, 20) == Codes{});
  CHECK(said(1, 2) == Codes{"pocket_holds_other"});
  CHECK(said(1, 25) == Codes{"pocket_beyond_magazine"});
  CHECK(said(0, 5) == Codes{"cutter_stands_elsewhere"});
  Job twice = job;
  twice.operations[1].tool_number = twice.operations[4].tool_number = 20;
  CHECK(tool_plan(state, twice).messages.at(twice.operations[4].id)[0].code == "number_of_other_cutter");
  // A holder of another spindle.
  Machine other = *state.machines.named("Fettler 6");
  other.interface = MachineInterface::hollow_63;
  state.machines.put(other);
  plan = tool_plan(state, job);
  CHECK(plan.messages.at(job.operations[0].id)[0].code == "holder_of_other_spindle");
  // Without a magazine the cutter's number, as far as there are pockets.
  ShopState bare = the_demo();
  std::vector<Id> pockets;
  for (const Pocket& pocket : bare.pockets) pockets.push_back(pocket.id);
  bare.pockets.remove(pockets);
  CHECK(tool_plan(bare, job).numbers() == std::vector<int>{1, 2, 2, 3, 4, 8});
  CHECK(tool_plan(bare, job).to_load().empty());
}

TEST_CASE("a full magazine says so at the operation") {
  ShopState state = the_demo();
  Machine machine = *state.machines.named("Fettler 6");
  machine.pockets = 17;
  state.machines.put(machine);
  const Job job = *state.job(state.jobs.named("Roller end cap")->id);
  const ToolPlan plan = tool_plan(state, job);
  REQUIRE(plan.messages.contains(job.operations[4].id));
  CHECK(plan.messages.at(job.operations[4].id)[0].code == "no_pocket_left");
}

TEST_CASE(
    "checks of a cutter stand in the program where assembly, machine and dialect have them, and are missed else") {
  ShopState state = the_demo();
  const Job job = *state.job(state.jobs.named("Roller end cap")->id);
  Assembly held = *state.assembly_of(job.operations[1].cutter.id);
  held.measuring = CutterMeasuring::length_and_radius;
  held.checked_for_breakage = true;
  state.assemblies.put(held);
  Planned p = planned(state, job);
  const auto& messages = p.plan.faults[1];
  const auto count = [&](const char* code) {
    return std::count_if(messages.begin(), messages.end(), [&](const Message& m) { return m.code == code; });
  };
  CHECK(count("dialect_does_not_measure") == 2);  // length and breakage
  CHECK(count("machine_does_not_measure") == 1);  // the radius
  for (const Dialect& d : shipped_dialects())
    if (d.key == "block_numbers") p.request.dialect = d;
  const test::Reading r = test::read_program(program_of(p.request, p.plan).text);
  REQUIRE(r.calls.size() == 2);
  CHECK(r.calls[0].find("M98 P8001 (LENGTH OF T17 INTO H17 WITHIN 0.05)") != std::string::npos);
  CHECK(r.calls[1].find("M98 P8003 (BREAKAGE OF T17 BEYOND 0.3)") != std::string::npos);
}

TEST_CASE("a dialect says when a cutter is checked, and the times follow") {
  ShopState state = the_demo();
  Job job = *state.job(state.jobs.named("Roller end cap")->id);
  // The rim's end mill, then another cutter, then the end mill again.
  std::swap(job.operations[2], job.operations[3]);
  Assembly held = *state.assembly_of(job.operations[1].cutter.id);
  held.measuring = CutterMeasuring::length;
  held.checked_for_breakage = true;
  state.assemblies.put(held);
  PlanRequest request = plan_request(state, job);
  for (const Dialect& d : shipped_dialects())
    if (d.key == "block_numbers") request.dialect = d;
  const auto count = [&](MeasureWhen measured, BreakageWhen checked) {
    request.dialect.measure_when = measured;
    request.dialect.breakage_when = checked;
    const JobPlan plan = plan_job(request);
    const test::Reading r = test::read_program(program_of(request, plan).text);
    std::pair<int, int> calls;
    for (const std::string& call : r.calls) ++(call.find("P8001") != std::string::npos ? calls.first : calls.second);
    double seconds = 0;
    for (const OperationTime& t : plan.times) seconds += t.measuring_s;
    CHECK(seconds == Approx(12.0 * (calls.first + calls.second)));
    return calls;
  };
  CHECK(count(MeasureWhen::first_use, BreakageWhen::after) == std::pair(1, 2));
  CHECK(count(MeasureWhen::every_change, BreakageWhen::before) == std::pair(2, 2));
  CHECK(count(MeasureWhen::first_use, BreakageWhen::both) == std::pair(1, 4));
}

TEST_CASE("each operation says its comment, its cutter, and where its conditions are from") {
  Job job = *the_demo().job(the_demo().jobs.named("Roller end cap")->id);
  job.operations[1].comment = "Clamp from inside";
  const Planned p = planned(the_demo(), job);
  const std::string text = program_of(p.request, p.plan).text;
  CHECK(
      text.find(
          "(OP 2 RIM  OUTLINE/1)\n(CLAMP FROM INSIDE)\n(T17 END MILL D20 X 38  NO 225  STICK-OUT 58 MM  SIDE-LOCK 20)\n"
          "(EN-GJL-250  CARBIDE END MILLS, OUR OWN  PROVEN)\n") != std::string::npos);
  CHECK(text.find("(EN-GJL-250  STARTER RULES  GUESS)") != std::string::npos);
}

TEST_CASE("a dialect's file is refused with line and reason, and read as it was written") {
  for (const Dialect& d : shipped_dialects()) {
    INFO(d.key);
    CHECK(check_dialect(d).empty());
    const auto read = read_dialect(dialect_text(d));
    REQUIRE(read);
    CHECK(*read == d);
  }
  const auto fault = [](std::string text) {
    const auto read = read_dialect(text);
    return read ? std::string() : read.error().front().line();
  };
  const std::string right =
      "{\n \"format_version\": 1,\n \"key\": \"mine\",\n \"name\": \"Mine\",\n \"tool_change\": \"T{t} M6\",\n "
      "\"coolant_off\": \"M9\"\n}\n";
  CHECK(fault(right) == "");
  const auto with = [&](const std::string& from, const std::string& to) {
    std::string text = right;
    text.replace(text.find(from), from.size(), to);
    return fault(text);
  };
  CHECK(with("T{t} M6", "T{tool} M6").find("line 5") != std::string::npos);
  CHECK(with("T{t} M6", "T{tool} M6").find("{tool} cannot be filled in here; what can is {t}, {next}, {name}") !=
        std::string::npos);
  CHECK(with("T{t} M6", "M6").find("{t} is missing") != std::string::npos);
  CHECK(with("\"coolant_off\": \"M9\"", "\"coolent_off\": \"M9\"").find("coolant_off") != std::string::npos);
  CHECK(with("\"coolant_off\": \"M9\"", "\"decimals_mm\": 12").find("out of range") != std::string::npos);
  CHECK(with("M9", "M9ä").find("ASCII") != std::string::npos);
  CHECK(fault("{\n \"key\": \n").find("line") != std::string::npos);
  CHECK(fault("[]") != "");
}

TEST_CASE("the shop's own dialect goes before a shipped one of its key") {
  ShopState state = the_demo();
  Dialect own = shipped_dialects().front();
  own.id = Id::from_name("own");
  own.flood = "M108";
  state.dialects.put(own);
  CHECK(dialects_of(state).size() == shipped_dialects().size());
  const Job job = *state.job(state.jobs.named("Roller end cap")->id);
  const Planned p = planned(state, job);
  CHECK(program_of(p.request, p.plan).text.find("M108\n") != std::string::npos);
}

TEST_CASE("a program names shop, job and revision, and is the same whenever it is written") {
  QTemporaryDir folder;
  const QString file = folder.filePath("demo.pecorra");
  REQUIRE(copy_demo_to(file));
  const auto text_now = [&] {
    const auto loaded = load_shop(file);
    REQUIRE(loaded);
    const Job job = *loaded->state.job(loaded->state.jobs.named("Roller end cap")->id);
    PlanRequest request = plan_request(loaded->state, job);
    request.shop_file = file;
    return program_of(request, plan_job(request)).text;
  };
  const std::string first = text_now();
  CHECK(first.find("(TEASEL YARD  ROLLER END CAP)") != std::string::npos);
  CHECK(first.find("(REVISION 1 OF 20") != std::string::npos);
  CHECK(text_now() == first);
  CHECK(program_differences(first, first).empty());
  // Another job changes nothing; this one does.
  const auto change = [&](const char* name, auto&& edit) {
    const auto loaded = load_shop(file);
    Job before = *loaded->state.job(loaded->state.jobs.named(name)->id), after = before;
    edit(after);
    Change c = job_change("edited", before, after);
    REQUIRE(write_change(file, loaded->seq, c));
  };
  change("Two holes", [](Job& job) { job.operations[0].comment = "Other"; });
  CHECK(text_now() == first);
  change("Roller end cap", [](Job& job) { job.operations[1].comment = "Mind the clamp"; });
  const std::string second = text_now();
  CHECK(second.find("(REVISION 3 OF 20") != std::string::npos);
  CHECK(second.find("(MIND THE CLAMP)") != std::string::npos);
  const auto differences = program_differences(first, second);
  CHECK(differences.size() == 2);
  // An operation that is gone is a change of the job, too.
  change("Roller end cap", [](Job& job) { job.operations.pop_back(); });
  CHECK(text_now().find("(REVISION 4 OF 20") != std::string::npos);
}

TEST_CASE("what differs between two programs is said by line") {
  CHECK(program_differences("G0 X1\nG0 X2\n", "G0 X1\nG0 X3\n") ==
        std::vector<std::string>{"line 2: G0 X2, the job would write G0 X3"});
  CHECK(program_differences("A\nB\nC\nD\n", "A\nC\nD\n") ==
        std::vector<std::string>{"line 2: B, the job would not write it"});
  CHECK(program_differences("A\nC\nD\n", "A\nB\nC\nD\n") ==
        std::vector<std::string>{"line 2: the job would write here: B"});
  CHECK(program_differences("A", "A\n") == std::vector<std::string>{"the end of the last line"});
}

TEST_CASE("names with brackets, other letters and five hundred of them come out safe") {
  Job job = *the_demo().job(the_demo().jobs.named("Two holes")->id);
  job.name = "a) G0 Z-99 (日本 " + std::string(500, 'x');
  job.operations[0].name = "pins) M30\nG0 Z-50 (";
  job.operations[0].comment = std::string(500, 'y') + " (z)";
  const Planned p = planned(the_demo(), job);
  for (const Dialect& d : all_dialects()) {
    INFO(d.name);
    CHECK(compared(p, d, UnitSystem::metric) == "");
    if (d.longest_comment == 0) continue;
    PlanRequest request = p.request;
    request.dialect = d;
    const test::Reading r = test::read_program(program_of(request, p.plan).text);
    for (const std::string& c : r.comments)
      if (c.find("PUT IN") == std::string::npos) CHECK(c.size() <= static_cast<std::size_t>(d.longest_comment));
  }
}
