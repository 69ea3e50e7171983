// Hole-making: cycles, heights and depths, the order of holes, chains against published sizes, and what is refused.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "../support/sample_job.h"
#include "../support/says.h"
#include "core/cutter/kinds/drills.h"
#include "core/cutter/kinds/threads.h"
#include "core/job/chain.h"
#include "core/operation/generic_cutter.h"
#include "core/operation/holes.h"
#include "core/thread/thread.h"

using namespace pecorra;

namespace {

Job block_job() {
  Job job;
  job.id = Id{1, 1};
  Setup setup;
  setup.id = Id{1, 2};
  setup.x_low_mm = -50, setup.x_high_mm = 50, setup.y_low_mm = -50, setup.y_high_mm = 50;
  setup.z_low_mm = -20, setup.z_high_mm = 0;
  setup.clearance_mm = 15;
  job.setups = {setup};
  return job;
}

Feature holes_at(const char* key, std::vector<Point2> at, double diameter_mm, double depth_mm) {
  Feature f;
  f.kind = FeatureKind::holes;
  f.key = key;
  f.at = std::move(at);
  if (diameter_mm > 0) f.diameter_mm = diameter_mm;
  if (depth_mm > 0) f.depth_mm = depth_mm;
  shape(f);
  return f;
}

Operation operation(const OperationDeclaration& kind, Cutter cutter, const char* feature, std::uint64_t id = 1) {
  Operation o;
  o.id = Id{2, id};
  o.path = kind.kind;
  o.operation = kind.usual;
  o.cutter = std::move(cutter);
  o.cutter.id = Id{3, id};
  o.features = {{feature, {}}};
  o.taken.n_rpm = 1000;
  o.taken.vf_mm_min = 200;
  o.taken.plunge_mm_min = 100;
  o.taken.ap_mm = 4;
  o.taken.ae_mm = 4;
  o.taken.source = SourceKind::shop_table;
  return o;
}

Operation tapping(const char* thread, const char* feature, std::uint64_t id = 1) {
  Cutter tap = proposed_cutter(CutterKind::tap, parse_thread(thread)->major_mm);
  tap.thread = thread;
  follow_thread(tap);
  Operation o = operation(kinds::tap, tap, feature, id);
  o.taken.vf_mm_min = 1000 * *tap.pitch_mm;
  return o;
}

Toolpath made(const Job& job, const Operation& o) {
  const PlannedPath planned = test::planned(job, o);
  for (const Message& m : planned.messages) INFO(m.code);
  REQUIRE_FALSE(has_error(planned.messages));
  return planned.path;
}
bool says(const Job& job, const Operation& o, const char* code, Severity severity = Severity::error) {
  return test::says(test::planned(job, o).messages, code, severity);
}
double lowest(const Toolpath& path) {
  double z = 1e9;
  for (const Move& m : path.moves) z = std::min(z, m.z);
  return z;
}

}  // namespace

TEST_CASE("a spot goes as deep as its cone is wide, by depth, diameter or the feature's chamfer") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 8.5, 15)};
  Operation o = operation(kinds::spot, proposed_cutter(CutterKind::spot_drill, 12), "h");  // 90°
  o.depth_mm = 2;
  CHECK(lowest(made(job, o)) == Approx(-2));
  o.depth_mm.reset();
  o.diameter_mm = 9;
  CHECK(lowest(made(job, o)) == Approx(-4.5));
  o.diameter_mm.reset();
  CHECK(lowest(made(job, o)) == Approx(-4.25));  // no wider than the hole
  job.features[0].chamfer_mm = 0.5;
  CHECK(lowest(made(job, o)) == Approx(-4.75));
  job.features[0].thread = "M10";
  CHECK(lowest(made(job, o)) == Approx(-5.5));  // the chamfer counts from the thread
  job.features[0].chamfer_mm.reset();
  job.features[0].diameter_mm.reset();
  CHECK(lowest(made(job, o)) == Approx(-5));  // as wide as the thread, where nothing else is said
  o.diameter_mm = 13;
  CHECK(says(job, o, "cone_too_small"));
}

TEST_CASE("countersinks take the diameter at the top, less what the tip's flat is wide") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 6.6, 15)};
  Cutter sink = proposed_cutter(CutterKind::countersink, 16.5);
  sink.tip_diameter_mm = 3.2;
  Operation o = operation(kinds::countersink, sink, "h");
  // Heads of ISO 15065, 90°, greatest theoretical diameter at the top (from memory): M3 to M10.
  for (const double head : {6.72, 8.96, 11.2, 13.44, 17.92, 22.4}) {
    if (head > 16.5) {
      Operation large = operation(kinds::countersink, proposed_cutter(CutterKind::countersink, 25), "h");
      large.cutter.tip_diameter_mm = 3.2;
      large.diameter_mm = head;
      CHECK(lowest(made(job, large)) == Approx(-(head - 3.2) / 2));
      continue;
    }
    if (head < 6.6 + 0.2) continue;  // no wider than the hole
    o.diameter_mm = head;
    CHECK(lowest(made(job, o)) == Approx(-(head - 3.2) / 2));
  }
  o.diameter_mm = 6;
  CHECK(says(job, o, "sink_under_hole"));
  o.diameter_mm.reset();
  CHECK(says(job, o, "missing"));
}

TEST_CASE("a counterbore's depth is its flat's, whatever its pilot") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 6.6, 15)};
  Cutter c = proposed_cutter(CutterKind::counterbore, 11);  // M6, DIN 974-1 series 1 (from memory)
  c.step_diameter_mm = 6.6;
  c.step_length_mm = 5;
  Operation o = operation(kinds::counterbore, c, "h");
  o.depth_mm = 6.4;
  CHECK(lowest(made(job, o)) == Approx(-11.4));
  o.cutter.step_diameter_mm.reset();
  CHECK(lowest(made(job, o)) == Approx(-6.4));
  // DIN 974-1 series 1 (from memory): d1 by the clearance hole of ISO 273 medium; depth is head plus 0.4.
  struct Bore {
    double clearance, wide, head;
  };
  for (const Bore& b :
       {Bore{3.4, 6.5, 3}, {4.5, 8, 4}, {5.5, 10, 5}, {6.6, 11, 6}, {9, 15, 8}, {11, 18, 10}, {13.5, 20, 12}}) {
    INFO(b.wide);
    Job screw = block_job();
    screw.features = {holes_at("h", {{0, 0}}, b.clearance, 15)};
    Operation bore = operation(kinds::counterbore, proposed_cutter(CutterKind::counterbore, b.wide), "h");
    bore.cutter.step_diameter_mm.reset();
    bore.diameter_mm = b.wide;
    bore.depth_mm = b.head + 0.4;
    CHECK_FALSE(says(screw, bore, "cutter_under_hole"));
    CHECK(lowest(made(screw, bore)) == Approx(-(b.head + 0.4)));
  }
  o.diameter_mm = 14;
  CHECK(says(job, o, "cutter_under_hole"));
}

TEST_CASE("a centre hole's cone is as wide as ISO 6411 wants it") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 8, 15)};
  Cutter c = proposed_cutter(CutterKind::centre_drill, 8);
  // ISO 866 A 3.15 × 8, pilot 3.9 long (from memory).
  c.step_diameter_mm = 3.15;
  c.step_length_mm = 3.9;
  const Operation o = operation(kinds::centre, c, "h");
  // ISO 6411 A 3.15: cone 6.7 wide.
  const double z = lowest(made(job, o)), wide = 3.15 + 2 * (-z - 3.9) * std::tan(30 * std::numbers::pi / 180);
  CHECK(wide == Approx(6.7).margin(0.05));
}

TEST_CASE("a tap feeds its pitch, goes deeper by its lead, and turns back before it comes out") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}, {20, 0}}, 0, 12)};
  job.features[0].thread = "M8";
  Operation o = tapping("M8", "h");
  const double lead = o.cutter.lead_threads.value_or(3) * 1.25;
  Toolpath path = made(job, o);
  REQUIRE(path.cycles.size() == 2);
  CHECK(path.cycles[0].kind == CycleKind::tap);
  CHECK(path.cycles[0].bottom_z == Approx(-12 - lead));
  CHECK(path.cycles[0].feed_mm_min == Approx(1000 * 1.25));
  CHECK_FALSE(path.cycles[0].left_hand);
  for (const Move& m : path.moves)
    if (m.z < 0) CHECK(m.kind == MoveKind::cycle);  // out as well as in
  std::vector<MotionEvent::Kind> events;
  for (const MotionEvent& e : path.events) events.push_back(e.kind);
  using enum MotionEvent::Kind;
  CHECK(events ==
        std::vector<MotionEvent::Kind>{spindle_reverses, spindle_turns_again, spindle_reverses, spindle_turns_again});
  o.cutter.rotation = Rotation::counter_clockwise;
  CHECK(made(job, o).cycles[0].left_hand);
  o.cutter.rotation = Rotation::clockwise;
  o.taken.vf_mm_min = 1200;
  CHECK(says(job, o, "tap_out_of_step"));
  CHECK(says(job, tapping("M10", "h"), "tap_not_of_thread"));
}

TEST_CASE("a tap needs a hole that is deep and wide enough, where the job drills it") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 0, 10)};
  job.features[0].thread = "M8";
  Operation drill = operation(kinds::drill, proposed_cutter(CutterKind::drill, 6.8), "h", 1);
  Operation tap = tapping("M8", "h", 2);
  job.operations = {tap};
  CHECK_FALSE(says(job, tap, "deeper_than_hole"));  // nobody knows who drilled it
  job.operations = {drill, tap};
  CHECK(says(job, tap, "deeper_than_hole"));
  // The message says by how much.
  const auto messages = test::planned(job, tap).messages;
  const auto m =
      std::find_if(messages.begin(), messages.end(), [](const auto& x) { return x.code == "deeper_than_hole"; });
  double most = 0;
  for (const auto& [name, value] : m->values)
    if (name == "most_mm") most = std::get<double>(value);
  tap.depth_mm = most;
  CHECK_FALSE(says(job, tap, "deeper_than_hole"));
  tap.depth_mm.reset();
  job.operations[0].depth_to = DepthTo::full_diameter;
  job.operations[0].depth_mm = 10 + 3.75;
  CHECK_FALSE(says(job, tap, "deeper_than_hole"));
  job.operations[0].cutter.diameter_mm = 6;
  CHECK(says(job, tap, "hole_under_thread"));
}

TEST_CASE("a drill too wide or too tight for its thread is named with the one that is right") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 0, 10)};
  job.features[0].thread = "M10";
  const auto with = [&](double d) { return operation(kinds::drill, proposed_cutter(CutterKind::drill, d), "h"); };
  CHECK_FALSE(says(job, with(8.5), "drill_over_thread"));  // ISO 2306
  CHECK_FALSE(says(job, with(8.5), "drill_under_thread", Severity::warning));
  CHECK(says(job, with(9.5), "drill_over_thread"));
  CHECK_FALSE(says(job, with(9.3), "drill_over_thread"));  // for a forming tap (common practice, no source)
  CHECK(says(job, with(8), "drill_under_thread", Severity::warning));
}

TEST_CASE("reamers go down and up at the feed, into holes that leave the right allowance") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 10, 12)};
  job.features[0].tolerance = "H7";
  Cutter reamer = proposed_cutter(CutterKind::reamer, 10);
  Operation ream = operation(kinds::ream, reamer, "h", 2);
  const Toolpath path = made(job, ream);
  CHECK(path.cycles[0].kind == CycleKind::feed_out);
  CHECK(lowest(path) == Approx(-12));
  for (const Move& m : path.moves)
    if (m.z < 0) CHECK(m.feed_mm_min == 200);
  ream.depth_to = DepthTo::full_diameter;
  CHECK(lowest(made(job, ream)) == Approx(-12 - *reamer.lead_length_mm));
  ream.depth_to = DepthTo::tip;
  Operation drill = operation(kinds::drill, proposed_cutter(CutterKind::drill, 9.8), "h", 1);
  drill.depth_to = DepthTo::full_diameter;
  job.operations = {drill, ream};
  CHECK_FALSE(says(job, ream, "reaming_allowance", Severity::warning));
  job.operations[0].cutter.diameter_mm = 9;
  CHECK(says(job, ream, "reaming_allowance", Severity::warning));
  job.operations[0].cutter.diameter_mm = 10;
  CHECK(says(job, ream, "reaming_allowance"));
  ream.cutter.diameter_mm = 10.5;
  CHECK(says(job, ream, "cutter_over_hole"));
}

TEST_CASE("boring leaves at the feed, or with the point off the wall") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 32, 12)};
  Operation o = operation(kinds::bore, proposed_cutter(CutterKind::boring_bar, 32), "h");
  CHECK(made(job, o).cycles[0].kind == CycleKind::feed_out);
  o.bore_retract = BoreRetract::orientated;
  o.shift_mm = 0.3;
  const Toolpath path = made(job, o);
  CHECK(path.cycles[0].kind == CycleKind::bore);
  CHECK(path.cycles[0].shift_mm == 0.3);
  double aside = 0;
  for (const Move& m : path.moves) aside = std::max(aside, m.x);
  CHECK(aside == Approx(0.3));
  o.cutter.diameter_mm = 30;
  CHECK(says(job, o, "cutter_under_hole"));
  o.cutter.diameter_from_mm = 28;
  o.cutter.diameter_to_mm = 36;
  CHECK(says(job, o, "bar_to_be_set", Severity::warning));
}

TEST_CASE("back boring goes in beside the axis, and its upper edge makes the shoulder") {
  Job job = block_job();
  job.features = {holes_at("h", {{5, 5}}, 12, 0)};
  job.features[0].through = true;
  Cutter bar = proposed_cutter(CutterKind::back_boring_bar, 16);
  bar.neck_diameter_mm = 7;
  bar.flute_length_mm = 4;
  Operation o = operation(kinds::back_bore, bar, "h");
  o.depth_mm = 15;
  const Toolpath path = made(job, o);
  double top_of_head = -1e9;
  for (const Move& m : path.moves)
    if (m.kind == MoveKind::cycle) top_of_head = std::max(top_of_head, m.z + 4);
  CHECK(top_of_head == Approx(-15));
  // Inside the hole it stands aside, so that neither edge nor neck meets the wall: 16/2 + 7/2 = 11.5 in 12.
  const double shift = (16.0 - 7) / 4;
  for (const Move& m : path.moves)
    if (m.z < 0 && m.z > -20) CHECK((m.kind == MoveKind::cycle || std::abs(m.x - 5 - shift) < 1e-9));
  o.cutter.neck_diameter_mm = 9;
  CHECK(says(job, o, "bar_does_not_pass"));
  o.cutter.neck_diameter_mm = 7;
  o.depth_mm = 20;
  CHECK(says(job, o, "back_bore_below_stock"));
}

TEST_CASE("a helical bore comes out at its diameter, at the feed of its edge, within the cutter's angle") {
  Job job = block_job();
  job.features = {holes_at("h", {{10, -5}}, 24, 12)};
  for (const double d : {6.0, 10.0, 16.0}) {
    Operation o = operation(kinds::helical_bore, proposed_cutter(CutterKind::end_mill, d), "h");
    o.leave_wall_mm = 0.1;
    const Toolpath path = made(job, o);
    double widest = 0, x = 0, y = 0, z = 15;
    for (const Move& m : path.moves) {
      const bool below = m.z < 0 || z < 0;
      if (below) {
        const double r = m.shape == MoveShape::line ? std::hypot(m.x - 10, m.y + 5)
                                                    : std::hypot(m.centre_x - 10, m.centre_y + 5) +
                                                          std::hypot(m.x - m.centre_x, m.y - m.centre_y);
        widest = std::max(widest, r);
      }
      const double length = m.shape == MoveShape::line
                                ? std::hypot(m.x - x, m.y - y)
                                : std::hypot(x - m.centre_x, y - m.centre_y) * std::abs(swept_rad(x, y, m));
      if (m.kind == MoveKind::ramp) CHECK(std::atan2(z - m.z, length) <= 3.001 * std::numbers::pi / 180);
      // Formula 14 on the circle that is being cut.
      if (m.kind == MoveKind::ramp || (m.kind == MoveKind::cut && std::hypot(m.centre_x - 10, m.centre_y + 5) < 1e-9)) {
        const double r = std::hypot(m.x - 10, m.y + 5);
        CHECK(m.feed_mm_min == Approx(200 * r / (r + d / 2)));
      }
      x = m.x, y = m.y, z = m.z;
    }
    CHECK(2 * widest + d == Approx(23.8));
    CHECK(lowest(path) == Approx(-12));
  }
  // With a drilled hole that takes the cutter it goes down there, and else says what is missing.
  Operation o = operation(kinds::helical_bore, proposed_cutter(CutterKind::end_mill, 10), "h", 2);
  o.entry = EntryKind::predrilled;
  CHECK(says(job, o, "no_drilled_hole"));
  Operation drill = operation(kinds::drill, proposed_cutter(CutterKind::drill, 12), "h", 1);
  drill.depth_to = DepthTo::full_diameter;
  job.operations = {drill, o};
  const Toolpath path = made(job, o);
  for (const Move& m : path.moves) CHECK(m.kind != MoveKind::ramp);
  o.cutter.diameter_mm = 24;
  CHECK(says(job, o, "cutter_over_hole"));
}

TEST_CASE("drills go slower where they enter a slope or leave into a cross hole, without a cycle") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 8, 12)};
  Operation o = operation(kinds::drill, proposed_cutter(CutterKind::drill, 8), "h");
  o.slow_entry_mm = 4;
  o.slow_exit_mm = 3;
  o.slow_feed_pct = 40;
  const Toolpath path = made(job, o);
  CHECK(path.cycles.empty());
  std::vector<std::pair<double, double>> strokes;
  for (const Move& m : path.moves)
    if (m.kind == MoveKind::cycle) strokes.emplace_back(m.z, m.feed_mm_min);
  REQUIRE(strokes.size() == 3);
  CHECK(strokes[0].first == Approx(-4));  // counted from the surface, not from where the feed begins
  CHECK(strokes[0].second == Approx(80));
  CHECK(strokes[1].first == Approx(-9));
  CHECK(strokes[1].second == Approx(200));
  CHECK(strokes[2].first == Approx(-12));
  CHECK(strokes[2].second == Approx(80));
}

TEST_CASE("from hole to hole the tip stays low, and goes up where a clamp or stock stands between") {
  Job job = block_job();
  job.features = {holes_at("h", {{-30, 0}, {0, 0}, {30, 0}}, 8, 10)};
  Operation o = operation(kinds::drill, proposed_cutter(CutterKind::drill, 8), "h");
  const auto ups = [&] {
    int count = 0;
    for (const CycleCall& c : made(job, o).cycles) count += c.return_z > c.retract_z;
    return count;
  };
  CHECK(ups() == 1);  // after the last
  Feature bar;
  bar.kind = FeatureKind::rectangle;
  bar.key = "bar";
  bar.x_mm = 15, bar.y_mm = 0, bar.length_mm = 6, bar.width_mm = 20;
  shape(bar);
  job.features.push_back(bar);
  job.setups[0].clamps = {{use_of(job, "bar"), 10}};
  CHECK(ups() == 2);
  job.setups[0].clamps[0].top_mm = 1;  // below the height where the feed begins
  CHECK(ups() == 1);
}

TEST_CASE("what is left on floor and wall is left by every kind, and what makes no difference is said") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}}, 12, 10)};
  const std::pair<const OperationDeclaration*, Cutter> all[] = {
      {&kinds::drill, proposed_cutter(CutterKind::drill, 11)},
      {&kinds::ream, proposed_cutter(CutterKind::reamer, 11)},
      {&kinds::bore, proposed_cutter(CutterKind::boring_bar, 11)},
      {&kinds::helical_bore, proposed_cutter(CutterKind::end_mill, 8)},
      {&kinds::spot, proposed_cutter(CutterKind::spot_drill, 14)},
      {&kinds::centre, proposed_cutter(CutterKind::centre_drill, 8)}};
  for (const auto& [kind, cutter] : all) {
    INFO(key_of(kind->kind));
    Operation o = operation(*kind, cutter, "h");
    o.leave_wall_mm = 0.5;  // 11 in a hole of 12
    const double whole = lowest(made(job, o));
    o.leave_floor_mm = 0.7;
    CHECK(lowest(made(job, o)) == Approx(whole + 0.7));
  }
  Operation drill = operation(kinds::drill, proposed_cutter(CutterKind::drill, 12), "h");
  CHECK_FALSE(says(job, drill, "cutter_over_hole"));
  drill.leave_wall_mm = 0.5;
  CHECK(says(job, drill, "cutter_over_hole"));
  drill.leave_wall_mm.reset();
  CHECK_FALSE(says(job, drill, "without_effect", Severity::warning));
  drill.climb = false;
  CHECK(says(job, drill, "without_effect", Severity::warning));
  job.features[0].thread = "M7x9";
  CHECK(says(job, drill, "thread_unknown", Severity::warning));
}

TEST_CASE("two holes at one place are told, and one that is deeper than the stock") {
  Job job = block_job();
  job.features = {holes_at("h", {{0, 0}, {20, 0}, {0, 0}}, 8, 10)};
  CHECK(says(job, operation(kinds::drill, proposed_cutter(CutterKind::drill, 8), "h"), "holes_at_one_place",
             Severity::warning));
  // Two features, each with an operation of its own.
  job.features = {holes_at("h", {{0, 0}, {20, 0}}, 8, 10), holes_at("again", {{20, 0}}, 8, 10)};
  job.operations = {operation(kinds::drill, proposed_cutter(CutterKind::drill, 8), "h", 1),
                    operation(kinds::drill, proposed_cutter(CutterKind::drill, 8), "again", 2)};
  CHECK(says(job, job.operations[1], "hole_made_already", Severity::warning));
  job.operations[1].depth_mm = 15;
  CHECK_FALSE(says(job, job.operations[1], "hole_made_already", Severity::warning));
  job.operations.clear();
  job.features = {holes_at("h", {{0, 0}}, 8, 30)};
  CHECK(says(job, operation(kinds::drill, proposed_cutter(CutterKind::drill, 8), "h"), "deeper_than_stock",
             Severity::warning));
}

// 2-opt and or-opt over all pairs until nothing helps: slow, and nothing to do with the code under test.
namespace {
double plain_way(std::vector<Point2> p) {
  const auto d = [](Point2 a, Point2 b) { return std::hypot(a.x - b.x, a.y - b.y); };
  const std::size_t n = p.size();
  for (bool better = true; better;) {
    better = false;
    for (std::size_t i = 0; i < n; ++i)
      for (std::size_t k = i + 1; k < n; ++k) {
        const double before = (i > 0 ? d(p[i - 1], p[i]) : 0) + (k + 1 < n ? d(p[k], p[k + 1]) : 0),
                     after = (i > 0 ? d(p[i - 1], p[k]) : 0) + (k + 1 < n ? d(p[i], p[k + 1]) : 0);
        if (after < before - 1e-9)
          std::reverse(p.begin() + static_cast<std::ptrdiff_t>(i), p.begin() + static_cast<std::ptrdiff_t>(k + 1)),
              better = true;
      }
    for (std::size_t length = 1; length <= 3; ++length)
      for (std::size_t i = 1; i + length < n; ++i) {
        const Point2 first = p[i], last = p[i + length - 1];
        const double saved = d(p[i - 1], first) + d(last, p[i + length]) - d(p[i - 1], p[i + length]);
        for (std::size_t k = 0; k + 1 < n; ++k) {
          if (k + 1 >= i && k < i + length) continue;
          if (d(p[k], first) + d(last, p[k + 1]) - d(p[k], p[k + 1]) >= saved - 1e-9) continue;
          std::vector<Point2> moved(p.begin() + static_cast<std::ptrdiff_t>(i),
                                    p.begin() + static_cast<std::ptrdiff_t>(i + length));
          p.erase(p.begin() + static_cast<std::ptrdiff_t>(i), p.begin() + static_cast<std::ptrdiff_t>(i + length));
          p.insert(p.begin() + static_cast<std::ptrdiff_t>(k < i ? k + 1 : k + 1 - length), moved.begin(), moved.end());
          better = true;
          break;
        }
      }
  }
  double length = 0;
  for (std::size_t i = 1; i < n; ++i) length += d(p[i - 1], p[i]);
  return length;
}
}  // namespace

TEST_CASE("the way over the holes is within 5 % of 2-opt and or-opt run to a standstill") {
  std::mt19937 random(7);
  for (const std::size_t n : {std::size_t{3}, std::size_t{12}, std::size_t{150}, std::size_t{600}}) {
    std::vector<Point2> places;
    for (std::size_t i = 0; i < n; ++i)
      places.push_back({static_cast<double>(random() % 4000) / 10, static_cast<double>(random() % 3000) / 10});
    const std::vector<std::uint32_t> order = short_way(places);
    std::vector<std::uint32_t> sorted = order;
    std::sort(sorted.begin(), sorted.end());
    for (std::uint32_t i = 0; i < n; ++i) REQUIRE(sorted[i] == i);  // each once
    std::vector<Point2> begun;
    for (const std::uint32_t i : nearest_next(places)) begun.push_back(places[i]);
    INFO(n << " holes, " << length_of_way(places, order) << " against " << plain_way(begun));
    CHECK(length_of_way(places, order) <= 1.05 * plain_way(begun) + 1e-9);
    CHECK(length_of_way(places, order) <= length_of_way(places, nearest_next(places)) + 1e-9);
  }
  // Rows, and all at one place.
  std::vector<Point2> row(500, Point2{1, 1});
  for (std::size_t i = 0; i < 250; ++i) row[i] = {static_cast<double>((i * 77) % 250), 0};
  CHECK(length_of_way(row, short_way(row)) < 250 + 3);
}

TEST_CASE("a threaded hole is spotted, drilled and tapped, a fine one drilled and reamed") {
  Job job = block_job();
  job.features = {holes_at("m", {{0, 0}}, 0, 0), holes_at("fine", {{20, 0}}, 10, 12),
                  holes_at("plain", {{30, 0}}, 9, 12), holes_at("wide", {{-20, 0}}, 40, 10)};
  job.features[0].thread = "M10";
  job.features[0].through = true;
  job.features[1].tolerance = "H7";
  job.features[3].tolerance = "H7";
  const auto kinds_of = [&](const char* key) {
    std::vector<PathKind> kinds;
    for (const Operation& o : chain_of(job, {key})) kinds.push_back(o.path);
    return kinds;
  };
  using enum PathKind;
  CHECK(kinds_of("m") == std::vector{spot, drill, tap});
  CHECK(kinds_of("fine") == std::vector{spot, drill, ream});
  CHECK(kinds_of("plain") == std::vector{spot, drill});
  CHECK(kinds_of("wide") == std::vector{helical_bore, bore});
  const auto m10 = chain_of(job, {"m"});
  CHECK(m10[1].diameter_mm == 8.5);
  CHECK(chain_of(job, {"fine"})[1].diameter_mm == 9.8);
  // Blind: drilled deeper by the lead of the tap, to its full diameter.
  job.features[0].through = false;
  job.features[0].depth_mm = 12;
  ChainCutters cutters;
  cutters.tap_lead_mm = 3;
  const auto blind = chain_of(job, {"m"}, cutters);
  CHECK(blind[1].depth_mm == 12 + 3 + 1.5);  // and a pitch of room
  CHECK(blind[1].depth_to == DepthTo::full_diameter);
  CHECK(chain_of(job, {"m", "fine"}).empty());  // not alike
}

TEST_CASE("chains drill what the published tables say") {
  // ISO 2306, from memory.
  const std::pair<const char*, double> tapping_drills[] = {{"M3", 2.5},   {"M4", 3.3},  {"M5", 4.2},   {"M6", 5},
                                                           {"M8", 6.8},   {"M10", 8.5}, {"M12", 10.2}, {"M16", 14},
                                                           {"M20", 17.5}, {"M10x1", 9}, {"M8x1", 7}};
  Job job = block_job();
  for (const auto& [thread, drill] : tapping_drills) {
    job.features = {holes_at("h", {{0, 0}}, 0, 10)};
    job.features[0].thread = thread;
    const auto chain = chain_of(job, {"h"});
    INFO(thread);
    REQUIRE(chain.size() >= 3);
    CHECK(chain[1].diameter_mm.value_or(0) == Approx(drill));
  }
  // Clearance holes of ISO 273, medium (from memory), are drilled as they are.
  for (const double clearance : {3.4, 4.5, 5.5, 6.6, 9.0, 11.0, 13.5, 17.5}) {
    job.features = {holes_at("h", {{0, 0}}, clearance, 10)};
    const auto chain = chain_of(job, {"h"});
    REQUIRE(chain.size() == 2);
    CHECK_FALSE(chain[1].diameter_mm);
  }
}

TEST_CASE("generic cutters are whole cutters that fit") {
  for (const WantedCutter& wanted : {WantedCutter{CutterKind::drill, 7.77, {}, 60},
                                     {CutterKind::tap, 10, "M10", 40},
                                     {CutterKind::reamer, 12, {}, 50},
                                     {CutterKind::end_mill, 12, {}, 45},
                                     {CutterKind::spot_drill, 11, {}, 0},
                                     {CutterKind::countersink, 20, {}, 0},
                                     {CutterKind::counterbore, 18, {}, 20},
                                     {CutterKind::boring_bar, 32, {}, 60},
                                     {CutterKind::back_boring_bar, 24, {}, 30},
                                     {CutterKind::centre_drill, 8, {}, 0},
                                     {CutterKind::face_mill, 50, {}, 0}}) {
    const Cutter c = generic_cutter(wanted);
    INFO(c.name);
    CHECK_FALSE(has_error(check_cutter(c)));
    CHECK(c.diameter_mm == wanted.diameter_mm);
    CHECK(c.name.starts_with("Generic "));
    CHECK(std::max(c.reach_mm.value_or(0), c.flute_length_mm.value_or(0)) >= wanted.reach_mm);
  }
}
