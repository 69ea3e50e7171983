// Other speeds and feeds in programs made elsewhere: what is a speed or a feed, and that nothing else changes.
#include <fmt/format.h>

#include <catch2/catch.hpp>
#include <random>
#include <regex>

#include "core/library/work_words.h"
#include "core/retune/program_moves.h"

using namespace pecorra;

namespace {

const NewConditions usual = [] {
  NewConditions c;
  c.n_rpm = 2000, c.vf_mm_min = 500, c.plunge_mm_min = 150, c.ramp_mm_min = 250;
  return c;
}();

struct Done {
  ProgramReading reading;
  Retuned retuned;
};

Done done(const std::string& text, std::vector<NewConditions> conditions = {}) {
  const ProgramText program = ProgramText::read(text);
  Done out;
  out.reading = read_program(program, {10000});
  conditions.resize(out.reading.sections.size(), conditions.empty() ? usual : conditions.back());
  out.retuned = retune(program, out.reading, conditions, {10000});
  return out;
}
std::string tuned(const std::string& text, std::vector<NewConditions> conditions = {}) {
  return done(text, std::move(conditions)).retuned.text;
}

// Written apart from the reader: blocks without their S and F words, comments as they are.
std::string without_words(const std::string& text) {
  static const std::regex word(R"([ \t]*[SFsf][ \t]*[-+]?([0-9]+\.?[0-9]*|\.[0-9]+|#[0-9]+))");
  std::string out;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find('\n', at), text.size());
    std::string line = text.substr(at, end - at);
    for (std::size_t from = 0; from < line.size();) {
      const std::size_t comment = std::min(line.find_first_of("(;", from), line.size());
      const std::size_t close = comment < line.size() && line[comment] == '(' ? line.find(')', comment) : line.npos;
      const std::size_t behind = close == line.npos ? line.size() : close + 1;
      out += std::regex_replace(line.substr(from, comment - from), word, "") + line.substr(comment, behind - comment);
      from = behind;
    }
    out += "\n";
    at = end + 1;
  }
  return out;
}

int count(const ProgramSection& s, RunMove move) { return static_cast<int>(s.moves[static_cast<std::size_t>(move)]); }

}  // namespace

TEST_CASE("speed, cutting feed and plunge are replaced in the file's own way of writing") {
  CHECK(tuned("T5 M6\nS1000 M3\nG0 X0 Y0\nG1 Z-2. F100\nX50. F300\nX60.\nG0 Z5.\nM30\n") ==
        "T5 M6\nS2000 M3\nG0 X0 Y0\nG1 Z-2. F150\nX50. F500\nX60.\nG0 Z5.\nM30\n");
  CHECK(tuned("T5M6\r\nS01000M3\r\nG1Z-2.F100.\r\nX50F300.\r\nM30") ==
        "T5M6\r\nS02000M3\r\nG1Z-2.F150.\r\nX50F500.\r\nM30");
  // One F for plunge and cut: each gets its own, at the end of the block and before a comment.
  CHECK(tuned("T5 M6\nS1000 M3\nG1 Z-2. F300\nX50. (cut)\nX60.\n") ==
        "T5 M6\nS2000 M3\nG1 Z-2. F150\nX50. F500 (cut)\nX60.\n");
  CHECK(tuned("T5 M6\nM3\nS1000\nG1Z-2.F300\nX50.Y2.;cut\n") == "T5 M6\nM3\nS2000\nG1Z-2.F150\nX50.Y2.F500;cut\n");
  // An F by itself counts for what comes.
  CHECK(tuned("T5 M6\nS1000 M3\nF300\nG1 X50.\n") == "T5 M6\nS2000 M3\nF500\nG1 X50.\n");
}

TEST_CASE("numbers keep point, decimals and leading zeros") {
  CHECK(in_manner_of("F300", 512.7, false, WordKind::feed) == "F512");
  CHECK(in_manner_of("F300.", 512.0, false, WordKind::feed) == "F512.");
  CHECK(in_manner_of("F300.", 512.77, false, WordKind::feed) == "F512.7");
  CHECK(in_manner_of("F300.00", 512.0, false, WordKind::feed) == "F512.00");
  CHECK(in_manner_of("F 12.5", 20.0, true, WordKind::feed) == "F 20.0");
  CHECK(in_manner_of("F12.", 20.128, true, WordKind::feed) == "F20.12");
  CHECK(in_manner_of("F.5", 0.75, true, WordKind::feed) == "F.75");
  CHECK(in_manner_of("f0.5", 0.75, true, WordKind::feed) == "f0.75");
  CHECK(in_manner_of("S0500", 800, false, WordKind::speed) == "S0800");
  CHECK(in_manner_of("S500.", 799.6, false, WordKind::speed) == "S800.");
  CHECK(in_manner_of("F200", 337.5, false, WordKind::tap_feed) == "F337.5");
  CHECK(in_manner_of("F200", 337, false, WordKind::tap_feed) == "F337");
  CHECK(in_manner_of("F#101", 500, false, WordKind::feed) == "F500");
  // No feed becomes nothing.
  CHECK(in_manner_of("F5", 0.4, true, WordKind::feed) == "F0.4");
}

TEST_CASE("moves are told apart") {
  const Done d = done(
      "G90 G21\nT1 M6\nS1000 M3\nG0 X0 Y0\nZ5.\nG1 Z-1. F100\nX10. F200\nG2 X20. I5. J0\nG3 X20. Y0 Z-2. I5. J0\n"
      "X10. Z-3.\nG1 Z5.\nG0 X0\nG81 X5. Y5. Z-10. R2. F80\nX10.\nG80\nG91 G28 Z0\nG53 X0\nM30\n");
  REQUIRE(d.reading.sections.size() == 2);  // the holes are other work
  const ProgramSection& s = d.reading.sections[0];
  CHECK(s.tool == 1);
  CHECK(count(s, RunMove::rapid) == 2);
  CHECK(count(s, RunMove::plunge) == 1);
  CHECK(count(s, RunMove::cut) == 2);
  CHECK(count(s, RunMove::ramp) == 2);
  CHECK(count(s, RunMove::retract) == 1);
  CHECK(s.arcs == 1);
  CHECK(s.helices == 2);
  CHECK(s.cut_mm_min == 200);
  CHECK(s.plunge_mm_min == 100);
  CHECK(s.n_rpm == 1000);
  const ProgramSection& holes = d.reading.sections[1];
  CHECK(holes.tool == 1);
  CHECK(count(holes, RunMove::rapid) == 1);
  CHECK(count(holes, RunMove::cycle) == 2);
  CHECK(holes.hole_mm_min == 80);
}

TEST_CASE("one tool that does other work at the same speed has a section for each, and each its own speed") {
  NewConditions holes = usual;
  holes.n_rpm = 900, holes.vf_mm_min = 120;
  // The holes' speed is said where the cutter is up in the air.
  CHECK(
      tuned("T1 M6\nS1000 M3\nG0 X0 Y0\nG1 Z-1. F100\nX10. F200\nG0 Z5.\nX5.\nG81 X5. Z-10. R2. F80\nX9.\nG80\nM30\n",
            {usual, holes}) ==
      "T1 M6\nS2000 M3\nG0 X0 Y0\nG1 Z-1. F150\nX10. F500\nG0 Z5. S900\nX5.\nG81 X5. Z-10. R2. F120\nX9.\nG80\nM30\n");
  // Work that a comment names; a comment that names nothing splits nothing, nor does a cutter's name.
  const std::string pass = "G0 Z5.\nG1 Z-1. F100\nX10. F200\n";
  const auto parts = [&](const std::string& comment) {
    return done("(T1 ROUGHING END MILL)\nT1 M6\nS1000 M3\n" + pass + comment + "\n" + pass + "M30\n").reading.sections;
  };
  CHECK(parts("(LEVEL 2)").size() == 1);
  CHECK(parts("(FINISH MILL)").size() == 1);
  const auto finished = parts("(FINISH WALLS)");
  REQUIRE(finished.size() == 2);
  CHECK_FALSE(finished[0].named);
  CHECK(finished[1].named == OperationKind::side_finish);
  CHECK(finished[1].named_by == "FINISH WALLS");
  // To and fro many times: one piece of work.
  std::string often = "T1 M6\nS1000 M3\n";
  for (int i = 0; i < 40; ++i) often += pass + "G0 Z5.\nG81 X5. Z-10. R2. F80\nG80\n";
  CHECK(done(often + "M30\n").reading.sections.size() == 1);
}

TEST_CASE("leads are told by their feed at the ends of passes, or by the compensation that they switch") {
  NewConditions c = usual;
  c.lead_mm_min = 300;
  std::string text = "T1 M6\nS1000 M3\n", expected = "T1 M6\nS2000 M3\n";
  for (int i = 0; i < 3; ++i) {
    text += "G0 X0 Y0\nG1 Z-1. F100\nG1 X2. F150\nX90. F200\nX92. F150\nG0 Z5.\n";
    expected += "G0 X0 Y0\nG1 Z-1. F150\nG1 X2. F300\nX90. F500\nX92. F300\nG0 Z5.\n";
  }
  const Done d = done(text + "M30\n", {c});
  REQUIRE(d.reading.sections.size() == 1);
  CHECK(d.reading.sections[0].leads == 6);
  CHECK(d.reading.sections[0].lead_mm_min == 150);
  CHECK(d.retuned.text == expected + "M30\n");
  CHECK(tuned(expected + "M30\n", {c}) == expected + "M30\n");
  // In proportion they keep their share: 3/4 of 500.
  c.in_proportion = true;
  CHECK(tuned(text + "M30\n", {c}).find("G1 X2. F375\n") != std::string::npos);
  c.in_proportion = false;
  CHECK(tuned("T1 M6\nS1000 M3\nG0 X0 Y0\nG1 Z-1. F100\nG41 D1 X2. F200\nX90.\nG40 X95.\nG0 Z5.\nM30\n", {c}) ==
        "T1 M6\nS2000 M3\nG0 X0 Y0\nG1 Z-1. F150\nG41 D1 X2. F300\nX90. F500\nG40 X95. F300\nG0 Z5.\nM30\n");
}

TEST_CASE("a thread's helices are fed by the centre, inside slower and outside faster than the edge") {
  // Formula 14: an inside path of radius 5 with a cutter of radius 5 has 5/10 of the edge's feed, an outside one 15/10.
  NewConditions c = usual;
  c.cuts_threads = true;
  c.arc_radius_mm = 5;
  CHECK(tuned("T1 M6\nS1000 M3\nG0 X5. Y0\nG1 Z-9. F900\nG3 X5. Y0 Z-7.5 I-5. J0 F200\nG0 Z5.\nM30\n", {c})
            .find("I-5. J0 F250\n") != std::string::npos);
  CHECK(tuned("T1 M6\nS1000 M3\nG0 X15. Y0\nG1 Z-9. F900\nG2 X15. Y0 Z-10.5 I-15. J0 F200\nG0 Z5.\nM30\n", {c})
            .find("I-15. J0 F750\n") != std::string::npos);
}

TEST_CASE("a plunge through the air is not slowed down to one into material") {
  NewConditions c = usual;
  // The program slows down only further on: up to there it was air.
  const std::string slows = "T1 M6\nS1000 M3\nG0 Z5.\nG1 Z1. F200\nG1 Z-1. F100\nX10. F200\nM30\n";
  const std::string after = tuned(slows, {c});
  CHECK(after == "T1 M6\nS2000 M3\nG0 Z5.\nG1 Z1. F500\nG1 Z-1. F150\nX10. F500\nM30\n");
  CHECK(tuned(after, {c}) == after);
  const ProgramReading reading = read_program(ProgramText::read(slows), {10000});
  REQUIRE(reading.sections.size() == 1);
  CHECK(reading.sections[0].air_plunges == 1);
  CHECK(reading.sections[0].plunge_mm_min == 100);
  // Nothing tells by itself; the top of the stock does.
  const std::string alike = "T1 M6\nS1000 M3\nG0 Z5.\nG1 Z1. F100\nG1 Z-1.\nX10. F200\nM30\n";
  CHECK(tuned(alike, {c}) == "T1 M6\nS2000 M3\nG0 Z5.\nG1 Z1. F150\nG1 Z-1.\nX10. F500\nM30\n");
  c.stock_top_mm = 0;
  CHECK(tuned(alike, {c}) == "T1 M6\nS2000 M3\nG0 Z5.\nG1 Z1. F250\nG1 Z-1. F150\nX10. F500\nM30\n");
  c.stock_top_mm.reset();
  // Never slower in the air than in material, and not through another section or a move between.
  const std::string crawls = "T1 M6\nS1000 M3\nG0 Z5.\nG1 Z1. F20\nG1 Z-1. F10\nX10. F200\nM30\n";
  CHECK(tuned(crawls, {c}) == "T1 M6\nS2000 M3\nG0 Z5.\nG1 Z1. F150\nG1 Z-1. F150\nX10. F500\nM30\n");
  // What slows down in the hole that it drills, or in a level that it cuts, was not in the air.
  const std::string drills = "T1 M6\nS1000 M3\nG0 Z5.\nG1 Z-5. F200\nG1 Z-20. F100\nG0 Z5.\nM30\n";
  CHECK(read_program(ProgramText::read(drills), {10000}).sections[0].air_plunges == 0);
  const std::string below = "T1 M6\nS1000 M3\nG1 Z-1. F100\nX10. F200\nG1 Z-2. F200\nG1 Z-3. F100\nX0 F200\nM30\n";
  CHECK(tuned(below, {c}).find("G1 Z-2. F150\n") != std::string::npos);
  // 200 mm/min, and 0.3 mm a turn at 1000: faster, though its number is smaller.
  const std::string turns = "T1 M6\nS1000 M3\nG0 Z5.\nG1 Z1. F200\nG95 G1 Z-1. F0.3\nG94 X10. F200\nM30\n";
  CHECK(read_program(ProgramText::read(turns), {10000}).sections[0].air_plunges == 0);
  const std::string apart = "T1 M6\nS1000 M3\nG1 Z-1. F200\nX10.\nG1 Z-2. F100\nX20. F200\nM30\n";
  CHECK(tuned(apart, {c}) == "T1 M6\nS2000 M3\nG1 Z-1. F150\nX10. F500\nG1 Z-2. F150\nX20. F500\nM30\n");
}

TEST_CASE("comments name work, cutters' names do not") {
  using O = OperationKind;
  for (const auto& [text, work] :
       std::initializer_list<std::pair<const char*, std::optional<O>>>{{"FINISH POCKET WALL", O::side_finish},
                                                                       {"Finish floor", O::floor_finish},
                                                                       {"2ND ROUGHING", O::side_rough},
                                                                       {"ROUGH POCKET 1", O::pocket_rough},
                                                                       {"FACE TOP", O::face},
                                                                       {"CHAMFER EDGES", O::chamfer},
                                                                       {"SLOT 8 WIDE", O::slot},
                                                                       {"FACE MILL D50", std::nullopt},
                                                                       {"ROUGHING END MILL", std::nullopt},
                                                                       {"SLOT DRILL 8", std::nullopt},
                                                                       {"SURFACE 3", std::nullopt},
                                                                       {"", std::nullopt}}) {
    INFO(text);
    CHECK(work_in_words(text) == work);
  }
}

TEST_CASE("what is remembered of a program is exact enough, however its lines are") {
  // At the very top of the stock, wherever that is.
  NewConditions c = usual;
  for (const double top : {0.7, 0.1, 123.457, -0.3}) {
    c.stock_top_mm = top;
    const std::string z = fmt::format("{:.3f}", top);
    INFO(z);
    CHECK(tuned("T1 M6\nS1000 M3\nG0 Z200.\nG1 Z" + z + " F200\nG1 Z-9. F100\nX10. F200\nM30\n", {c})
              .find("Z" + z + " F500\n") != std::string::npos);
  }
  // S and F behind more words than a short number counts, and from a variable.
  std::string line = "X1.";
  for (int i = 0; i < 70000; ++i) line += " A1";
  CHECK(tuned("T1 M6\nS1000 M3\nG1 Z-1. F100\n" + line + " F200 S1000\nM30\n") ==
        "T1 M6\nS2000 M3\nG1 Z-1. F150\n" + line + " F500 S2000\nM30\n");
  CHECK(tuned("#1=200\nT1 M6\nS1000 M3\nG1 Z-1. F100\nX1. F#1\nM30\n") ==
        "#1=200\nT1 M6\nS2000 M3\nG1 Z-1. F150\nX1. F500\nM30\n");
}

TEST_CASE("subprograms in files of their own are run where they are called, and stay as they are") {
  const std::string text = "T1 M6\nS1000 M3\nG0 X0 Y0\nG1 Z-1. F100\nG91\nM98 P1000 L3\nG90\nX10. F200\nM30\n";
  ProgramText program = ProgramText::read(text);
  CHECK(missing_subprograms(program) == std::vector<int>{1000});
  REQUIRE(program.attach(1000, "G1 X5. F200\nY5.\nM98 P2\nM99\n"));
  CHECK(missing_subprograms(program) == std::vector<int>{2});
  REQUIRE(program.attach(2, "Y1.\n"));  // ends with its file
  CHECK(missing_subprograms(program).empty());
  CHECK(program.size() == 9);
  CHECK(program.print() == text);
  const ProgramReading reading = read_program(program, {10000});
  REQUIRE(reading.sections.size() == 1);
  CHECK(reading.not_understood.empty());
  CHECK(reading.attached == std::map<int, std::size_t>{{1000, 5}});
  CHECK(count(reading.sections[0], RunMove::cut) == 1);  // those of the file itself
  const Retuned done = retune(program, reading, {usual}, {10000});
  CHECK(done.text == "T1 M6\nS2000 M3\nG0 X0 Y0\nG1 Z-1. F150\nG91\nM98 P1000 L3\nG90\nX10. F500\nM30\n");
  // Three times 11 mm at 200, and 5 mm back in X from 15 at the new feed.
  ProgramText after = ProgramText::read(done.text);
  after.attach_those_of(program);
  const ProgramMoves moves = moves_of(program, after, reading);
  CHECK(moves.moves.back().x == Approx(10));
  CHECK(moves.moves.back().y == Approx(18));
  CHECK(std::count_if(moves.moves.begin(), moves.moves.end(), [](const ProgramMove& m) { return m.block == 5; }) == 9);
  const double own = 5.0 / 500, of_file = 33.0 / 200;
  CHECK(done.sections[0].minutes - reading.sections[0].minutes == Approx(own - 5.0 / 200).margin(0.01));
  CHECK(done.sections[0].minutes > of_file);
}

TEST_CASE("a subprogram that is run again takes its time again, before and after") {
  const auto minutes = [](const char* call) {
    const Done d =
        done("T1 M6\nS1000 M3\nG0 X0 Y0\nG91 G1 Z-1. F100\n" + std::string(call) + "\nM30\nO1000\nX100. F200\nM99\n");
    return std::pair(d.reading.sections[0].minutes, d.retuned.sections[0].minutes);
  };
  for (const char* thrice : {"M98 P1000 L3", "M98 P31000", "M98 P1000\nM98 P1000\nM98 P1000"}) {
    INFO(thrice);
    CHECK(minutes(thrice).first - minutes("M98 P1000").first == Approx(2 * 100.0 / 200));
    CHECK(minutes(thrice).second - minutes("M98 P1000").second == Approx(2 * 100.0 / 500));
  }
}

TEST_CASE("time is length over feed, before and after") {
  const Done d = done("T1 M6\nS1000 M3\nG0 X0 Y0 Z0\nG1 X100. F200\nG3 X100. Y0 I-10. J0\nM30\n");
  constexpr double circle = 2 * 3.14159265358979 * 10;
  CHECK(d.reading.sections[0].minutes == Approx((100 + circle) / 200));
  CHECK(d.retuned.sections[0].minutes == Approx((100 + circle) / 500));
}

TEST_CASE("a tool that is left out keeps what it inherited and would now inherit otherwise") {
  // T2 has no F and no S of its own.
  const std::string text = "T1 M6\nS1000 M3\nG1 X10. F300\nM5\nT2 M6\nM3\nG1 X20.\nX30.\nM30\n";
  CHECK(tuned(text, {usual, {}}) == "T1 M6\nS2000 M3\nG1 X10. F500\nM5\nT2 M6\nM3 S1000\nG1 X20. F300\nX30.\nM30\n");
  // And the other way round.
  CHECK(tuned(text, {{}, usual}) == "T1 M6\nS1000 M3\nG1 X10. F300\nM5\nT2 M6\nM3 S2000\nG1 X20. F500\nX30.\nM30\n");
}

TEST_CASE("what is no speed or feed stays: dwell, clamp of speed, orientation, probing, macros, data") {
  for (const char* line : {"G4 P500", "G4 F2.", "G92 S6000", "G50 S6000", "M19 S90", "G31 Z-10. F50",
                           "G65 P9810 Z-1. F200", "G10 L2 P1 X0 F5"}) {
    const std::string text = std::string("T1 M6\nS1000 M3\nG1 X10. F300\n") + line + "\nM30\n";
    INFO(line);
    const std::string out = tuned(text);
    CHECK(out.find(line) != std::string::npos);
    CHECK(out.find("F500") != std::string::npos);
  }
}

TEST_CASE("tapping is fed pitch by speed, wherever the number needs a decimal") {
  NewConditions tap = usual;
  tap.n_rpm = 270;
  tap.pitch_mm = 1.25;
  CHECK(tuned("T8 M6\nS400 M3\nM29 S400\nG84 X0 Z-10. R2. F500\nX10.\nG80\nM30\n", {tap}) ==
        "T8 M6\nS270 M3\nM29 S270\nG84 X0 Z-10. R2. F337.5\nX10.\nG80\nM30\n");
  // Its pitch as the program has it, where nobody knows better; per revolution it stays.
  tap.pitch_mm.reset();
  CHECK(tuned("T8 M6\nS400 M3\nG84 X0 Z-10. R2. F500\nM30\n", {tap}).find("F337.5") != std::string::npos);
  CHECK(tuned("T8 M6\nS400 M3\nG95 G84 X0 Z-10. R2. F1.25\nM30\n", {tap}).find("F1.25") != std::string::npos);
}

TEST_CASE("inches, feed per revolution, inverse time, surface speed") {
  NewConditions c = usual;
  c.vf_mm_min = 635;  // 25 in/min
  CHECK(tuned("G20\nT1 M6\nS1000 M3\nG1 X1. F10.\n", {c}) == "G20\nT1 M6\nS2000 M3\nG1 X1. F25.\n");
  CHECK(tuned("T1 M6\nS1000 M3\nG95 G1 X10. F0.3\n") == "T1 M6\nS2000 M3\nG95 G1 X10. F0.25\n");
  CHECK(tuned("T1 M6\nS1000 M3\nG93 G1 X10. F5\n") == "T1 M6\nS2000 M3\nG93 G1 X10. F5\n");
  CHECK(tuned("T1 M6\nG96 S100 M3\nG1 X10. F300\n") == "T1 M6\nG96 S100 M3\nG1 X10. F500\n");
}

TEST_CASE("deletable blocks are never relied on") {
  CHECK(tuned("T1 M6\nS1000 M3\nG1 X10. F300\n/X20. F200\nX30.\nX40.\nM30\n") ==
        "T1 M6\nS2000 M3\nG1 X10. F500\n/X20. F333\nX30. F333\nX40.\nM30\n");
}

TEST_CASE("what is not understood is listed with its reason, and keeps its words") {
  const Done d = done(
      "T1 M6\nS1000 M3\nG1 X10. F300\nG1 X20. F200 (open\nG777 X30. F200\nX1.2.3 F200\nIF [#1 EQ 2] GOTO "
      "5\nX40.\nM30\n");
  REQUIRE(d.reading.not_understood.size() == 4);
  CHECK(d.reading.not_understood[0].block == 3);
  CHECK(d.reading.not_understood[1].block == 4);
  CHECK(d.reading.not_understood[2].block == 5);
  CHECK(d.reading.not_understood[3].block == 6);
  CHECK(d.retuned.text.find("G1 X20. F200 (open") != std::string::npos);
  CHECK(d.retuned.text.find("G777 X30. F200") != std::string::npos);
  // Behind a jump the feed is said anew.
  INFO(d.retuned.text);
  CHECK(d.retuned.text.find("X40. S2000 F") != std::string::npos);
}

TEST_CASE("a variable that is a constant is followed") {
  CHECK(tuned("#100=300\nT1 M6\nS1000 M3\nG1 X10. F#100\n") == "#100=300\nT1 M6\nS2000 M3\nG1 X10. F500\n");
  const Done d = done("T1 M6\nS1000 M3\nG1 X10. F#100\nX20.\n");
  REQUIRE(d.reading.not_understood.size() == 1);
  CHECK(d.retuned.text.find("F#100") != std::string::npos);
}

TEST_CASE("subprograms: of one tool they are retuned, of several they stay and are named") {
  const std::string sub = "O1000\nG1 Z-1. F100\nX10. F300\nG0 Z5.\nM99\n";
  const std::string one = "O1\nT1 M6\nS1000 M3\nG0 X0 Y0 Z5.\nM98 P1000\nG0 X50.\nM98 P1000\nM30\n" + sub;
  CHECK(tuned(one) ==
        "O1\nT1 M6\nS2000 M3\nG0 X0 Y0 Z5.\nM98 P1000\nG0 X50.\nM98 P1000\nM30\n"
        "O1000\nG1 Z-1. F150\nX10. F500\nG0 Z5.\nM99\n");
  const std::string two =
      "O1\nT1 M6\nS1000 M3\nM98 P1000\nG1 X1. F300\nT2 M6\nS900 M3\nM98 P1000\nG1 X1. F300\nM30\n" + sub;
  const Done d = done(two);
  REQUIRE(d.retuned.kept_subprograms.size() == 1);
  CHECK(d.retuned.kept_subprograms[0].first == 1000);
  CHECK(d.retuned.kept_subprograms[0].second == std::vector<int>{1, 2});
  CHECK(d.retuned.text.ends_with(sub));
  // One that calls itself, and one that is not there.
  CHECK(done("O1\nM98 P5\nM30\nO5\nM98 P5\nM99\n").reading.not_understood.size() == 1);
  CHECK(done("O1\nT1 M6\nM98 P77\nM30\n").reading.not_understood.size() == 1);
}

TEST_CASE("tools in every order: preselected, T behind M6, T alone, by hand") {
  const auto tools = [](const std::string& text) {
    std::vector<int> out;
    for (const ProgramSection& s : done(text).reading.sections) out.push_back(s.tool);
    return out;
  };
  CHECK(tools("T1 M6\nT2\nS1 M3\nG1 X1. F1\nM6\nT3\nG1 X2.\nM30\n") == std::vector<int>{1, 2});
  CHECK(tools("M6 T4\nS1 M3\nG1 X1. F1\n") == std::vector<int>{4});
  CHECK(tools("T1\nS1 M3\nG1 X1. F1\nT2\nG1 X2.\n") == std::vector<int>{1, 2});
  CHECK(tools("M0 (PUT IN T7 END MILL)\nS1 M3\nG1 X1. F1\nM0 (PUT IN T8)\nG1 X2.\n") == std::vector<int>{7, 8});
  // The same cutter at another speed is another piece of work.
  CHECK(tools("T1 M6\nS1000 M3\nG1 X1. F300\nS2000\nG1 X2.\n") == std::vector<int>{1, 1});
}

TEST_CASE("nothing but S and F changes, and retuning again changes nothing") {
  std::mt19937 random(11);
  const auto pick = [&](std::initializer_list<const char*> all) {
    return std::string(*(all.begin() + static_cast<std::ptrdiff_t>(random() % all.size())));
  };
  for (int run = 0; run < 400; ++run) {
    std::string text = pick({"%\n", "", "O0001 (NAME)\n"}) + pick({"G21 G90 G17\n", "G90\n"});
    const std::string end = pick({"\n", "\r\n"});
    const int tools = 1 + static_cast<int>(random() % 3);
    for (int t = 1; t <= tools; ++t) {
      text += pick({"(", "(FLAT "}) + "D" + std::to_string(4 * t) + ")" + end;
      text += "T" + std::to_string(t) + pick({" M6", "M6", "\nM6"}) + end;
      text += pick({"S1000 M3", "M3 S800", "S1200M4", "M3\nS900", "S500."}) + end;
      const unsigned work = random() % 3;  // mills, drills, taps
      for (unsigned i = random() % 25; i > 0; --i) {
        const std::string x = std::to_string(random() % 100) + ".", f = std::to_string(50 + random() % 400);
        text += pick({"", "", "", "/", "N10 ", "N20"});
        const unsigned other = random() % 3;
        if (other == 0)
          text += pick({"G0 X1. Y2.", "G4 P100", "M8", "; only F9", "#1=5", "G91 G28 Z0", "G90", "M5", "M3", "G777 F5",
                        "IF [#1 EQ 1] GOTO 1", "X1 (open F5", "F222", "S1500"});
        else if (work == 0)
          text += pick({"G1 Z-2. F150", "Z-3.", "G1X10.F200.", "G01 X5 Y5 F0100", "Y7. (side F300 S2)",
                        "G2 X1. Y1. R5.", "G3 X2. I1. J0 F80", "G1 Z5.", "X2. Z-4.", "X9.", "G1 X#1", "G1 X3. F0.2"}) +
                  (random() % 6 == 0 ? " X" + x + " F" + f : "");
        else if (work == 1) text += pick({"G81 X1. Y1. Z-5. R1. F90", "X9.", "Y9. F50", "G80", "G83 Z-9. Q2. F80"});
        else text += pick({"G84 X1. Z-3. R1. F100", "X9.", "G80", "G74 X1. Z-3. R1. F120."});
        text += end;
      }
    }
    text += "M30" + end;
    std::vector<NewConditions> conditions(40, usual);
    for (NewConditions& c : conditions)
      if (random() % 4 == 0) c.n_rpm.reset();
    INFO(text);
    const ProgramText program = ProgramText::read(text);
    const ProgramReading reading = read_program(program);
    conditions.resize(reading.sections.size());
    const std::string once = retune(program, reading, conditions).text;
    REQUIRE(without_words(once) == without_words(text));
    const ProgramText again = ProgramText::read(once);
    const ProgramReading read_again = read_program(again);
    if (read_again.sections.size() != reading.sections.size()) continue;  // two speeds of one tool became the same
    const std::string twice = retune(again, read_again, conditions).text;
    INFO(once);
    INFO(twice);
    REQUIRE(twice == once);
  }
}

TEST_CASE("bytes that are no program come back as they are") {
  std::mt19937 random(3);
  for (int run = 0; run < 500; ++run) {
    std::string text;
    for (unsigned i = random() % 300; i > 0; --i)
      text += static_cast<char>(run % 2 ? random() % 256 : " \nGXYZ0123456789.-()FST%M"[random() % 23]);
    const ProgramText program = ProgramText::read(text);
    const ProgramReading reading = read_program(program);
    CHECK(retune(program, reading, std::vector<NewConditions>(reading.sections.size())).text == text);
  }
}

TEST_CASE("what is dangerous in a program is found by its line") {
  const auto section = [](const std::string& text) { return done(text).reading.sections.front(); };
  const std::string head = "G21 G90\nT1 M6\nS1000 M3\nG0 X0 Y0 Z5.\n";
  const ProgramSection fine = section(head + "G1 Z-2. F100\nX50. F300\nG0 Z5.\nX0\nM30\n");
  CHECK_FALSE(fine.rapid_at_depth);
  CHECK_FALSE(fine.no_spindle);
  CHECK_FALSE(fine.no_feed);
  CHECK(section(head + "G1 Z-2. F100\nX50. F300\nG0 X0\nM30\n").rapid_at_depth == 6);
  // A rapid within the part at an upper level, and a way at a feed through the air, which is no level.
  CHECK(section(head + "G1 Z-2. F100\nX50. F300\nZ-4.\nX0\nG0 Z-2.\nX50.\nM30\n").rapid_at_depth == 9);
  CHECK_FALSE(section(head + "G1 X1. F900\nZ-2. F100\nX50. F300\nG0 Z5.\nX0\nM30\n").rapid_at_depth);
  CHECK(section("G21 G90\nT1 M6\nG0 X0 Y0 Z5.\nG1 Z-2. F100\nM30\n").no_spindle == 3);
  CHECK(section("G21 G90\nT1 M6\nS500 M3\nG0 X0 Y0 Z5.\nM5\nG1 Z-2. F100\nM30\n").no_spindle == 5);
  CHECK(section("G21 G90\nT1 M6\nS500 M3\nG0 X0 Y0 Z5.\nG1 Z-2.\nM30\n").no_feed == 4);
  CHECK(section("G21 G90\nT1 M6\nS500 M3\nM8\nG1 Z-2. F10\nM30\n").flood == 3);
}

TEST_CASE("arcs end where they say: by centre, by absolute centre, by radius, whole circles") {
  const auto ends = [](const std::string& text) {
    const ProgramText program = ProgramText::read(text);
    return moves_of(program, program, read_program(program));
  };
  const auto far = [](const ProgramMoves& m, double x, double y, double radius) {
    double worst = 0;
    for (std::size_t i = 2; i < m.moves.size(); ++i)
      if (m.moves[i].kind == RunMove::cut)
        worst = std::max(worst, std::abs(std::hypot(m.moves[i].x - x, m.moves[i].y - y) - radius));
    return worst;
  };
  const std::string head = "G21 G90\nT1 M6\nS1000 M3\nG0 X10. Y0 Z0\n";
  for (const char* arc : {"G3 X0 Y10. I-10. J0 F100", "G3 X0 Y10. R10. F100", "G90.1 G3 X0 Y10. I0 J0 F100",
                          "G3 X10. Y0 I-10. J0 F100", "G2 X0 Y10. R-10. F100", "G2 X0 Y-10. I-10. J0 F100"}) {
    INFO(arc);
    const ProgramMoves m = ends(head + arc + "\nM30\n");
    CHECK(m.moves.size() > 4);
    CHECK(far(m, 0, 0, 10) < 1e-4);
  }
  // The long way round by a negative radius: three quarters, also through the opposite side.
  const ProgramMoves long_way = ends(head + "G2 X0 Y10. R-10. F100\nM30\n");
  CHECK(long_way.plan.low_y < -9.9);
  const ProgramMoves drilled = ends(head + "G81 X5. Y5. Z-9. R2. F80\nX7.\nG80\nM30\n");
  CHECK(std::count_if(drilled.moves.begin(), drilled.moves.end(),
                      [](const ProgramMove& m) { return m.kind == RunMove::cycle && !m.jump; }) == 2);
}

TEST_CASE("depth and width of cut are read off the moves: levels that repeat, passes beside each other") {
  // To and fro, 5 mm apart, on four levels of 2 mm: what any plan view and side view of it shows.
  const auto levelled = [](double step, double apart, int levels, int passes) {
    std::string text = "G21 G90\nT1 M6\nS1000 M3\nG0 X0 Y0 Z5.\n";
    for (int level = 1; level <= levels; ++level) {
      text += "G0 X0 Y0\nG1 Z" + std::to_string(-step * level) + " F100\n";
      for (int pass = 0; pass < passes; ++pass) {
        text += "G1 Y" + std::to_string(apart * pass) + " F300\n";
        text += std::string("X") + (pass % 2 ? "0." : "80.") + "\n";
      }
      text += "G0 Z5.\n";
    }
    return done(text + "M30\n").reading.sections.at(0).cut_sizes;
  };
  CutEvidence::Found found = levelled(2, 5, 4, 6);
  REQUIRE(found.ap_mm.has_value());
  CHECK(*found.ap_mm == Approx(2));
  CHECK(found.levels == 4);
  REQUIRE(found.ae_mm.has_value());
  CHECK(*found.ae_mm == Approx(5));
  CHECK(found.passes == 20);
  // Two levels or two passes may be anything.
  found = levelled(2, 5, 2, 2);
  CHECK_FALSE(found.ap_mm.has_value());
  CHECK_FALSE(found.ae_mm.has_value());
  // The rings of a pocket: each is 3 mm inside the one before it.
  std::string rings = "G21 G90\nT1 M6\nS1000 M3\nG0 X0 Y0 Z5.\nG1 Z-1. F100\n";
  for (int ring = 0; ring < 5; ++ring) {
    const std::string low = std::to_string(3 * ring), high = std::to_string(60 - 3 * ring);
    rings += "G1 X" + low + " Y" + low + " F300\nX" + high + "\nY" + high + "\nX" + low + "\nY" + low + "\n";
  }
  found = done(rings + "M30\n").reading.sections.at(0).cut_sizes;
  REQUIRE(found.ae_mm.has_value());
  CHECK(*found.ae_mm == Approx(3));
  CHECK_FALSE(found.ap_mm.has_value());
  // Shoulders at heights of their own are no steps.
  std::string steps = "G21 G90\nT1 M6\nS1000 M3\nG0 X0 Y0 Z5.\n";
  for (const char* z : {"-1.", "-1.7", "-6.", "-9.5", "-9.9"})
    steps += std::string("G1 Z") + z + " F100\nX50. F300\nG0 Z5.\nX0\n";
  CHECK_FALSE(done(steps + "M30\n").reading.sections.at(0).cut_sizes.ap_mm.has_value());
}

TEST_CASE("the feed of an inside arc is the centre's where that is asked for") {
  // vf at the edge 500, cutter 10: on a circle of R 15 for its centre the hole has R 20, and the centre moves at
  // 500 · 15 / 20 = 375. Source: geometry, as in VDI 3213 and every handbook of thread milling.
  NewConditions c = usual;
  c.arc_radius_mm = 5;
  const std::string text =
      "G21 G90\nT1 M6\nS1000 M3\nG0 X0 Y0\nG1 Z-1. F100.\nX15. F300.\nG3 I-15.\nG1 X0\nG2 X0 Y30. J15. I0\nM30\n";
  const std::string out = tuned(text, {c});
  CHECK(out.find("G3 I-15. F375.") != std::string::npos);
  CHECK(out.find("G1 X0 F500.") != std::string::npos);
  CHECK(out.find("G2 X0 Y30. J15. I0\n") != std::string::npos);  // outside, as lines
  CHECK(tuned(out, {c}) == out);
  CHECK(tuned(text).find("F375") == std::string::npos);
  // With the control's compensation to the right it is the other way round, and the contour is programmed:
  // 500 · (15 − 5) / 15.
  const std::string right =
      "G21 G90\nT1 M6\nS1000 M3\nG0 X0 Y0\nG1 Z-1. F100.\nG42 X15. F300.\nG2 I-15.\nG40 G1 X0\nM30\n";
  CHECK(tuned(right, {c}).find("G2 I-15. F333.3") != std::string::npos);
}
