// Threads by designation: what is understood, what is refused, and the figures against the formulas of the standards.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/cutter/kinds.h"
#include "core/cutter/kinds/threads.h"
#include "core/thread/thread.h"

using namespace pecorra;

namespace {

Thread thread(const char* text) {
  const auto found = parse_thread(text);
  INFO(text);
  REQUIRE(found.has_value());
  return *found;
}

}  // namespace

TEST_CASE("threads are known by the ways people write them") {
  struct Written {
    const char* text;
    const char* designation;
    double major, pitch;
  };
  for (const Written& w : {Written{"M8", "M8", 8, 1.25},
                           {"m8", "M8", 8, 1.25},
                           {" M 8 ", "M8", 8, 1.25},
                           {"M8x1.25", "M8", 8, 1.25},
                           {"M10x1", "M10×1", 10, 1},
                           {"M10×1", "M10×1", 10, 1},
                           {"M10X1,25", "M10×1.25", 10, 1.25},
                           {"M2.5", "M2.5", 2.5, 0.45},
                           {"M2,5", "M2.5", 2.5, 0.45},
                           {"M1.6", "M1.6", 1.6, 0.35},
                           {"M64", "M64", 64, 6},
                           {"1/4-20 UNC", "1/4-20 UNC", 6.35, 1.27},
                           {"1/4-20", "1/4-20 UNC", 6.35, 1.27},
                           {"1/4 UNC", "1/4-20 UNC", 6.35, 1.27},
                           {"1/4-28", "1/4-28 UNF", 6.35, 25.4 / 28},
                           {"#10-32", "#10-32 UNF", 4.826, 25.4 / 32},
                           {"#10-24 UNC", "#10-24 UNC", 4.826, 25.4 / 24},
                           {"1-1/8-7 unc", "1-1/8-7 UNC", 28.575, 25.4 / 7},
                           {"1-8", "1-8 UNC", 25.4, 25.4 / 8},
                           {"1/4-32 UNEF", "1/4-32 UNEF", 6.35, 25.4 / 32},
                           {"G1/2", "G1/2", 20.955, 25.4 / 14},
                           {"g 1/2", "G1/2", 20.955, 25.4 / 14},
                           {"G1-1/4", "G1-1/4", 41.91, 25.4 / 11},
                           {"Rc 3/8", "Rc 3/8", 16.662, 25.4 / 19},
                           {"R1/2", "Rc 1/2", 20.955, 25.4 / 14},
                           {"1/2 NPT", "1/2 NPT", 21.336, 25.4 / 14},
                           {"1/2-14 NPT", "1/2 NPT", 21.336, 25.4 / 14},
                           {"1-11.5NPT", "1 NPT", 33.401, 25.4 / 11.5}}) {
    const Thread t = thread(w.text);
    INFO(w.text);
    CHECK(t.designation == w.designation);
    CHECK(t.major_mm == Approx(w.major));
    CHECK(t.pitch_mm == Approx(w.pitch));
    CHECK(parse_thread(t.designation)->designation == t.designation);
  }
  CHECK(thread("Rc 1/2").tapped_taper);
  CHECK(thread("1/2 NPT").tapped_taper);
  CHECK_FALSE(thread("G1/2").tapped_taper);
  CHECK(thread("G1/2").flank_angle_deg == 55);
}

TEST_CASE("what is no thread is refused with what would be right") {
  for (const auto& [text, says] : {std::pair{"M13", "nearest is M12"},
                                   {"M8x2", "1.25, 1, 0.75"},
                                   {"M15", "1.5, 1"},
                                   {"M", "M8"},
                                   {"Mx1", "M8"},
                                   {"M8x", "pitch"},
                                   {"M8xx1", "pitch"},
                                   {"G1/3", "1/2"},
                                   {"1/4-21", "1/4-20 UNC"},
                                   {"1/4", "1/4-28 UNF"},
                                   {"", "M8"},
                                   {"thread", "M8"},
                                   {"W1/2", "M8"},
                                   {"1/5-20 UNC", "M8"},
                                   {"1/4-20 UNF", "1/4-28 UNF"},
                                   {"M1e3", "M8"},
                                   {"Rc 5/8", "1/2"},
                                   {"#10", "#10-24 UNC"}}) {
    const auto found = parse_thread(text);
    INFO(text);
    REQUIRE_FALSE(found.has_value());
    CHECK(found.error().text.find(says) != std::string::npos);
  }
  CHECK_FALSE(parse_thread(std::string(100000, 'M')).has_value());
}

TEST_CASE("tapping drills leave a minor diameter within the limits of ISO 965 for 6H") {
  // D1 basic = D − 1.082532·P (ISO 724); its tolerance TD1 at grade 6 is 433·P − 190·P^1.22 µm up to 0.8 mm pitch, else
  // 230·P^0.7 µm (ISO 965-1, formulas from memory). ISO 2306 lets the drill stand a little under the basic minor
  // diameter of the finest threads, where no drill of a tenth fits.
  for (const Thread& t : coarse_metric_threads()) {
    const double p = t.pitch_mm, basic = t.major_mm - 1.082532 * p;
    const double tolerance = (p <= 0.8 ? 433 * p - 190 * std::pow(p, 1.22) : 230 * std::pow(p, 0.7)) / 1000;
    INFO(t.designation);
    CHECK(t.tapping_drill_mm > basic - 0.02);
    CHECK(t.tapping_drill_mm <= basic + tolerance + 0.02);
    CHECK(t.minor_mm() == Approx(basic).margin(1e-4));
  }
}

TEST_CASE("a thread's class says how wide its hole may be") {
  // Minor diameters of ISO 965-2 (from memory): M10 6H 8.376 to 8.676, 6G 8.408 to 8.708; M6 6H 4.917 to 5.153 (tables
  // round the formula).
  const Thread ten = thread("M10"), h = thread("M10-6H"), g = thread("M10 6G"), fine = thread("M10x1 - 6G");
  CHECK(ten.tolerance_class.empty());
  CHECK(h.tolerance_class == "6H");
  CHECK(h.designation == "M10");
  CHECK(h.minor_mm() + h.minor_tolerance_mm == Approx(8.676).margin(0.006));
  CHECK(g.minor_mm() + g.deviation_mm == Approx(8.408).margin(0.001));
  CHECK(g.deviation_mm == Approx(0.0315).margin(1e-6));
  CHECK(fine.designation == "M10×1");
  CHECK(fine.tolerance_class == "6G");
  CHECK(thread("M6 6H").minor_mm() + thread("M6 6H").minor_tolerance_mm == Approx(5.153).margin(0.007));
  // The usual drill where the class permits it, else the widest that it does; formed ones go with the class.
  CHECK(h.tapping_drill_mm == 8.5);
  CHECK(g.tapping_drill_mm == 8.5);
  CHECK(thread("M10 4H").tapping_drill_mm == 8.5);
  for (const Thread& t : coarse_metric_threads())
    for (const char* of_class : {"4H", "5H", "6H", "7H", "6G"}) {
      const Thread now = thread((t.designation + " " + of_class).c_str());
      INFO(t.designation << " " << of_class);
      CHECK(now.tapping_drill_mm <= now.minor_mm() + now.deviation_mm + now.minor_tolerance_mm + 1e-9);
      CHECK(now.tapping_drill_mm >= now.minor_mm() + now.deviation_mm - 0.1 * now.pitch_mm - 1e-9);
    }
  CHECK(g.forming_drill_mm() == Approx(9.25 + 0.0315));
  CHECK(thread("M8 5H6H").tolerance_class == "5H6H");
  CHECK(thread("1/4-20 UNC-3B").tolerance_class == "3B");
  CHECK(thread("1/4-20 UNC-3B").tapping_drill_mm == thread("1/4-20 UNC").tapping_drill_mm);
  CHECK(thread("M8 6g").is_of_bolt());
  CHECK_FALSE(thread("M8 6G").is_of_bolt());
  CHECK_FALSE(parse_thread("M10 6X").has_value());
}

TEST_CASE(
    "pitches are those of ISO 261 and ASME B1.1, tapping drills those of ISO 2306 (typed from memory of the tables)") {
  for (const auto& [text, drill] :
       {std::pair{"M3", 2.5}, {"M4", 3.3},        {"M5", 4.2},       {"M6", 5.0},       {"M8", 6.8},
        {"M10", 8.5},         {"M12", 10.2},      {"M14", 12.0},     {"M16", 14.0},     {"M20", 17.5},
        {"M24", 21.0},        {"M30", 26.5},      {"M36", 32.0},     {"M8x1", 7.0},     {"M10x1", 9.0},
        {"M10x1.25", 8.8},    {"M12x1.25", 10.8}, {"M12x1.5", 10.5}, {"M16x1.5", 14.5}, {"M20x1.5", 18.5}})
    CHECK(thread(text).tapping_drill_mm == Approx(drill).margin(0.051));
  // Unified drills lie near major − pitch, as for metric threads (common practice, no source).
  for (const char* text : {"#4-40", "#6-32", "#8-32", "#10-24", "#10-32", "1/4-20", "1/4-28", "5/16-18", "3/8-16",
                           "7/16-14", "1/2-13", "5/8-11", "3/4-10", "7/8-9", "1-8", "1-1/4-7", "1-1/2-6"}) {
    const Thread t = thread(text);
    INFO(text);
    CHECK(t.tapping_drill_mm == Approx(t.major_mm - t.pitch_mm).margin(0.06 * t.major_mm));
    CHECK(t.tapping_drill_mm > t.minor_mm() * 0.985);
    CHECK(t.tapping_drill_mm < t.major_mm - 0.6 * t.pitch_mm);
  }
}

TEST_CASE("a tap knows its thread and its tapping drill") {
  Cutter tap = proposed_cutter(CutterKind::tap, 8);
  CHECK(tap.thread == "M8");
  CHECK(tap.pitch_mm == Approx(1.25));
  CHECK(tapping_drill_mm(tap) == Approx(6.8));
  tap.tap_form = TapForm::form;
  CHECK(tapping_drill_mm(tap) ==
        Approx(7.375));  // major − pitch/2: 7.4 is what is drilled (common practice, no source)
  tap.thread.clear();
  tap.tap_form = TapForm::cut;
  CHECK(tapping_drill_mm(tap) == Approx(6.75));
  CHECK_FALSE(tapping_drill_mm(proposed_cutter(CutterKind::drill, 8)).has_value());

  const auto codes = [](const Cutter& c) {
    std::string all;
    for (const Message& m : check_cutter(c))
      if (m.severity == Severity::error) all += m.code + " ";
    return all;
  };
  tap.thread = "M9000";
  CHECK(codes(tap) == "thread_unknown ");
  tap.thread = "M8x1";
  CHECK(codes(tap) == "pitch_not_of_thread ");
  tap.thread = "M10x1.25";
  CHECK(codes(tap) == "diameter_not_of_thread ");
  tap.thread = "M8";
  tap.lead_threads = 20;
  CHECK(codes(tap).find("lead_over_flutes") != std::string::npos);

  Cutter mill = proposed_cutter(CutterKind::thread_mill, 6);
  mill.thread = "M8";
  mill.pitch_mm = 1.25;
  CHECK(codes(mill).empty());
  mill.thread = "M6";
  mill.pitch_mm = 1;
  CHECK(codes(mill) == "thread_mill_over_minor ");
}

TEST_CASE("fine threads leave a minor diameter within the limits of ISO 965 for 6H as well") {
  for (const char* text : {"M4x0.5",  "M5x0.5",   "M6x0.75", "M8x1",    "M8x0.75", "M10x1.25", "M10x1",
                           "M12x1.5", "M12x1.25", "M12x1",   "M14x1.5", "M16x1.5", "M18x2",    "M20x1.5",
                           "M24x2",   "M27x2",    "M30x2",   "M36x3",   "M42x3",   "M48x3",    "M64x4"}) {
    const Thread t = thread(text);
    const double p = t.pitch_mm, basic = t.major_mm - 1.082532 * p;
    const double tolerance = (p <= 0.8 ? 433 * p - 190 * std::pow(p, 1.22) : 230 * std::pow(p, 0.7)) / 1000;
    INFO(text);
    CHECK(t.family == ThreadFamily::metric_fine);
    CHECK(t.tapping_drill_mm >= basic - 0.01);
    CHECK(t.tapping_drill_mm <= basic + tolerance + 0.05);
  }
}

TEST_CASE(
    "pipe threads have the diameters and threads per inch of ISO 228-1 and ASME B1.20.1, and drills inside them") {
  // Outside diameters in mm and threads per inch, typed a second time from memory of the tables.
  struct Pipe {
    const char* text;
    double major, tpi;
  };
  for (const Pipe& p : {Pipe{"G1/8", 9.728, 28},
                        {"G1/4", 13.157, 19},
                        {"G3/8", 16.662, 19},
                        {"G1/2", 20.955, 14},
                        {"G3/4", 26.441, 14},
                        {"G1", 33.249, 11},
                        {"G1-1/4", 41.910, 11},
                        {"G1-1/2", 47.803, 11},
                        {"G2", 59.614, 11},
                        {"1/8 NPT", 10.287, 27},
                        {"1/4 NPT", 13.716, 18},
                        {"3/8 NPT", 17.145, 18},
                        {"1/2 NPT", 21.336, 14},
                        {"3/4 NPT", 26.67, 14},
                        {"1 NPT", 33.401, 11.5},
                        {"2 NPT", 60.325, 11.5}}) {
    const Thread t = thread(p.text);
    INFO(p.text);
    CHECK(t.major_mm == Approx(p.major));
    CHECK(t.threads_per_inch == p.tpi);
    CHECK(t.pitch_mm == Approx(25.4 / p.tpi));
    // The drill leaves a thread: less than the pitch line, more than the ground of the thread.
    CHECK(t.tapping_drill_mm < t.major_mm - 0.5 * t.pitch_mm);
    CHECK(t.tapping_drill_mm >
          t.major_mm - (t.tapped_taper ? 2.1 : 1.55) * t.pitch_mm);  // a taper thread narrows below its mouth
  }
}
