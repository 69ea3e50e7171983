// Programs, read again by a reader that shares no code with the writer, and compared move by move.
#include <catch2/catch.hpp>
#include <cmath>
#include <sstream>

#include "../support/dialects.h"
#include "../support/program_reader.h"
#include "../support/sample_job.h"
#include "core/iso/block_writer.h"
#include "core/program/program.h"
#include "core/quantity/print.h"

using namespace pecorra;

namespace {

struct Written {
  Job job;
  std::vector<Toolpath> paths;
  std::string text;
};

Written write(UnitSystem units, Dialect dialect = test::plain_dialect()) {
  Written w;
  w.job = test::plate_job();
  w.job.operations = {test::profile_operation(), test::drilling_operation()};
  std::vector<ProgramOperation> list;
  for (const Operation& o : w.job.operations) w.paths.push_back(test::planned(w.job, o).path);
  for (std::size_t i = 0; i < w.paths.size(); ++i) list.push_back(test::entry(w.job.operations[i], w.paths[i]));
  w.text = write_program({w.job.name, "42CrMo4 +QT", "Fettler 6", units}, list, dialect).text;
  return w;
}

void compare(const Written& w, const test::Reading& r, double position_tolerance, double feed_tolerance, bool cycles) {
  std::size_t at = 0;
  for (std::size_t o = 0; o < w.paths.size(); ++o) {
    const Operation& operation = w.job.operations[o];
    if (cycles && !w.paths[o].cycles.empty()) {
      while (at < r.steps.size() && r.steps[at].kind != 'd') ++at;  // the way there
      for (const CycleCall& hole : w.paths[o].cycles) {
        REQUIRE(at < r.steps.size());
        CHECK(r.steps[at].kind == 'd');
        CHECK(r.steps[at].x == Approx(hole.at.x).margin(position_tolerance));
        CHECK(r.steps[at].y == Approx(hole.at.y).margin(position_tolerance));
        CHECK(r.steps[at].bottom == Approx(hole.bottom_z).margin(position_tolerance));
        CHECK(r.steps[at].feed == Approx(hole.feed_mm_min).margin(feed_tolerance));
        CHECK(r.steps[at].speed == *operation.taken.n_rpm);
        ++at;
      }
      continue;
    }
    ++at;  // the first move is written in the plane first
    for (const Move& m : w.paths[o].moves) {
      REQUIRE(at < r.steps.size());
      const test::Step& s = r.steps[at++];
      INFO("operation " << o << " step " << at);
      CHECK(s.kind == (m.feed_mm_min <= 0                ? 'r'
                       : m.shape == MoveShape::line      ? 'l'
                       : m.shape == MoveShape::clockwise ? 'c'
                                                         : 'a'));
      CHECK(s.x == Approx(m.x).margin(position_tolerance));
      CHECK(s.y == Approx(m.y).margin(position_tolerance));
      CHECK(s.z == Approx(m.z).margin(position_tolerance));
      CHECK(s.feed == Approx(m.feed_mm_min).margin(feed_tolerance));
      if (m.shape != MoveShape::line) CHECK(s.radius_start == Approx(s.radius_end).margin(3 * position_tolerance));
      CHECK(s.speed == *operation.taken.n_rpm);
      CHECK(s.turning);
      CHECK(s.tool == operation.cutter.number);
      CHECK(s.coolant == (operation.taken.coolant != Coolant::off));
    }
  }
}

}  // namespace

TEST_CASE("every position and feed comes back, in millimetres and in inches") {
  const Written mm = write(UnitSystem::metric);
  const test::Reading r = test::read_program(mm.text);
  CHECK_FALSE(r.inch);
  CHECK(r.ended);
  compare(mm, r, 0.0006, 0.06, true);
  const Written inch = write(UnitSystem::inch);
  const test::Reading i = test::read_program(inch.text);
  CHECK(i.inch);
  compare(inch, i, 0.0014, 0.3, true);
}

TEST_CASE("without cycles the moves are written out, with the hand's change of cutter") {
  Dialect d = test::without_cycles(test::plain_dialect());
  d.length_offset.clear();
  d.before = "{unit} G90 G17 G94\n";
  d.tool_change = "M0 (PUT IN T{t} {name})\n";
  d.after = "M2\n";
  const Written w = write(UnitSystem::metric, d);
  CHECK(w.text.find("G81") == std::string::npos);
  CHECK(w.text.find("G43") == std::string::npos);
  const test::Reading r = test::read_program(w.text);
  CHECK(r.ended);
  bool asked = false;
  for (const std::string& c : r.comments) asked = asked || c.find("PUT IN T7 DRILL D8.5 X 61") != std::string::npos;
  CHECK(asked);
}

TEST_CASE("the program says what it does, in upper-case ASCII") {
  const Written w = write(UnitSystem::metric);
  const test::Reading r = test::read_program(w.text);  // refuses anything else
  auto said = [&](const char* text) {
    for (const std::string& c : r.comments)
      if (c.find(text) != std::string::npos) return true;
    return false;
  };
  CHECK(said("OP 1 OUTSIDE"));
  CHECK(said("OP 2 BOLT HOLES"));
  CHECK(said("42CRMO4 +QT"));
  CHECK(w.text.find("S3000 M3") != std::string::npos);
  CHECK(w.text.find("M8") != std::string::npos);
  CHECK(w.text.find("T4 M6") < w.text.find("T7 M6"));
  CHECK(w.text.find("F400") != std::string::npos);  // the drill's
  CHECK(w.text.find("F600") != std::string::npos);
}

TEST_CASE("a left-hand cutter turns the other way, and the operator's message stands at its change") {
  Job job = test::plate_job();
  job.operations = {test::profile_operation(), test::profile_operation(), test::drilling_operation()};
  job.operations[1].cutter.rotation = Rotation::counter_clockwise;  // the same number and speed
  job.operations[1].cutter.id = Id::from_name("left hand");
  job.operations[1].cutter.message = "mind the clamp (left)";
  job.operations[2].taken.n_rpm = job.operations[0].taken.n_rpm;
  std::vector<Toolpath> paths;
  for (const Operation& o : job.operations) paths.push_back(test::planned(job, o).path);
  const Dialect dialect = test::plain_dialect();
  std::vector<ProgramOperation> list;
  for (std::size_t i = 0; i < paths.size(); ++i) list.push_back(test::entry(job.operations[i], paths[i]));
  list[1].tool.t = 9;  // another cutter
  const std::string text = write_program({job.name, "C45", "Fettler 6", UnitSystem::metric}, list, dialect).text;
  const auto speed = plain(*job.operations[0].taken.n_rpm, 0);
  std::vector<std::string> spindle;
  std::istringstream lines(text);
  for (std::string line; std::getline(lines, line);)
    if (line.rfind("S" + speed, 0) == 0) spindle.push_back(line.substr(line.find(' ') + 1));
  CHECK(spindle == std::vector<std::string>{"M3", "M4", "M3"});
  const std::size_t message = text.find("(MIND THE CLAMP  LEFT)");
  REQUIRE(message != std::string::npos);
  CHECK(message < text.find(" M4"));
  CHECK(message > text.find(" M3"));
  // The same cutter one way and then the other: never both at once without a word.
  job.operations.resize(2);
  job.operations[1].cutter.id = job.operations[0].cutter.id;
  list = {test::entry(job.operations[0], paths[0]), test::entry(job.operations[1], paths[1])};
  CHECK(
      write_program({job.name, "C45", "Fettler 6", UnitSystem::metric}, list, dialect).text.find("S" + speed + " M4") !=
      std::string::npos);
}

TEST_CASE("a ramp runs at its own speed, and the cut after it at the cut's") {
  Job job = test::plate_job();
  Operation o = test::profile_operation();
  o.where = ProfileWhere::within;
  o.taken.ramp_n_rpm = *o.taken.n_rpm / 2;
  const Toolpath path = test::planned(job, o).path;
  const std::string text =
      write_program({job.name, "C45", "Fettler 6", UnitSystem::metric}, {test::entry(o, path)}, test::plain_dialect())
          .text;
  // It begins with the ramp, so the spindle starts at its speed.
  const std::size_t ramp = text.find("\nS" + plain(*o.taken.ramp_n_rpm, 0) + " M3"),
                    cut = text.find("\nS" + plain(*o.taken.n_rpm, 0) + "\n");
  REQUIRE(ramp != std::string::npos);
  REQUIRE(cut != std::string::npos);
  CHECK(ramp < cut);
}

TEST_CASE("comments cannot break out of their brackets") {
  CHECK(comment_text("a) G0 Z-99 (Ø12 × 3°") == "A  G0 Z-99  D12 X 3 DEG");
  CHECK(comment_text("größe %;\n") == "GROESSE PCT  ");
  for (const char c : comment_text("\xE6\x97\xA5\xE6\x9C\xAC \x01\x7F")) CHECK((c == ' ' || (c > 31 && c < 127)));
}

TEST_CASE("where a dial sets the speed the program names its position, once for each change") {
  Job job = test::plate_job();
  job.operations = {test::profile_operation(), test::profile_operation(), test::drilling_operation()};
  for (Operation& o : job.operations) o.taken.dial_position = 4;
  job.operations[2].taken.n_rpm = 1500;
  job.operations[2].taken.dial_position = 3;
  std::vector<Toolpath> paths;
  for (const Operation& o : job.operations) paths.push_back(test::planned(job, o).path);
  std::vector<ProgramOperation> list;
  for (std::size_t i = 0; i < paths.size(); ++i) list.push_back(test::entry(job.operations[i], paths[i]));
  const std::string text =
      write_program({job.name, "C45", "Knee mill", UnitSystem::metric}, list, test::plain_dialect()).text;
  const std::size_t first = text.find("(DIAL POSITION 4 = 3000 RPM)");
  REQUIRE(first != std::string::npos);
  CHECK(text.find("(DIAL POSITION 4", first + 1) == std::string::npos);
  CHECK(text.find("(DIAL POSITION 3 = 1500 RPM)") != std::string::npos);
  CHECK(first < text.find("S3000"));
  // Where the control takes the position itself.
  Dialect by_position = test::plain_dialect();
  by_position.spindle_on = "S{position} {m}";
  const std::string positions =
      write_program({job.name, "C45", "Knee mill", UnitSystem::metric}, list, by_position).text;
  CHECK(positions.find("\nS4 M3\n") != std::string::npos);
  CHECK(positions.find("\nS3 M3\n") != std::string::npos);
  by_position.key = "dial", by_position.name = "Dial";
  for (const Message& m : check_dialect(by_position)) {
    INFO(m.code << " " << m.property);
    CHECK(m.severity == Severity::warning);  // nothing brings the spindle up
  }
  by_position.spindle_on = "{m}";
  CHECK(has_error(check_dialect(by_position)));
}
