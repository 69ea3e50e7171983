// Toolpaths: where the cutter goes, how deep, how fast, and that it never cuts into the part.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <numbers>
#include <set>

#include "../support/sample_job.h"
#include "../support/says.h"
#include "core/cutter/kinds/drills.h"
#include "core/motion/motion.h"
#include "core/motion/stock_field.h"

using namespace pecorra;
using test::says;

namespace {

// Points every tenth of a millimetre along the path, with the move they lie on.
template <class Visit>
void walk(const Toolpath& path, Visit visit) {
  for (std::size_t i = 1; i < path.moves.size(); ++i) {
    const Move &a = path.moves[i - 1], &m = path.moves[i];
    constexpr int pieces = 60;
    double start = 0, swept = 0, r = 0;
    if (m.shape != MoveShape::line) {
      r = std::hypot(a.x - m.centre_x, a.y - m.centre_y);
      start = std::atan2(a.y - m.centre_y, a.x - m.centre_x);
      swept = std::atan2(m.y - m.centre_y, m.x - m.centre_x) - start;
      if (m.shape == MoveShape::counter_clockwise && swept <= 0) swept += 2 * std::numbers::pi;
      if (m.shape == MoveShape::clockwise && swept >= 0) swept -= 2 * std::numbers::pi;
    }
    for (int k = 0; k <= pieces; ++k) {
      const double t = static_cast<double>(k) / pieces;
      const Point2 at = m.shape == MoveShape::line ? Point2{a.x + (m.x - a.x) * t, a.y + (m.y - a.y) * t}
                                                   : Point2{m.centre_x + r * std::cos(start + swept * t),
                                                            m.centre_y + r * std::sin(start + swept * t)};
      visit(m, at, a.z + (m.z - a.z) * t);
    }
  }
}

// Distance of a point from the outline; negative inside.
double distance_outside(const Contour& outline, Point2 p) {
  std::vector<Point2> ring = flattened(outline, 0.0005);
  double nearest = 1e9;
  bool inside = false;
  for (std::size_t i = 0; i < ring.size(); ++i) {
    const Point2 a = ring[i], b = ring[(i + 1) % ring.size()];
    const double dx = b.x - a.x, dy = b.y - a.y,
                 t = std::clamp(((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    nearest = std::min(nearest, std::hypot(p.x - a.x - t * dx, p.y - a.y - t * dy));
    if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (p.y - a.y) / (b.y - a.y) * dx) inside = !inside;
  }
  return inside ? -nearest : nearest;
}

Toolpath made(const Job& job, const Operation& o) {
  const PlannedPath planned = test::planned(job, o);
  INFO((planned.messages.empty() ? std::string() : planned.messages[0].code));
  REQUIRE_FALSE(has_error(planned.messages));
  return planned.path;
}

bool refused(const Job& job, const Operation& o, const char* code) {
  return says(test::planned(job, o).messages, code, Severity::error);
}

// The plate's drawing with other lines.
Job with_lines(std::initializer_list<Contour> lines) {
  Job job = test::plate_job();
  Part part = *job.part;
  part.drawing.lines.clear();
  for (const Contour& line : lines) part.drawing.add_line(line);
  job.part = std::make_shared<const Part>(std::move(part));
  return job;
}
const Contour& line_of(const Job& job, std::size_t i) { return job.drawing().lines[i].contour; }

void put_stock(Job& job, double low_x, double high_x, double low_y, double high_y) {
  Setup& s = job.setups[0];
  s.x_low_mm = low_x, s.x_high_mm = high_x, s.y_low_mm = low_y, s.y_high_mm = high_y;
}

double flat_length(double x, double y, const Move& m) {
  return m.shape == MoveShape::line ? std::hypot(m.x - x, m.y - y)
                                    : std::hypot(x - m.centre_x, y - m.centre_y) * std::abs(swept_rad(x, y, m));
}

Move move(MoveKind kind, double x, double y, double z, double feed) {
  Move m;
  m.kind = kind;
  m.x = x, m.y = y, m.z = z;
  m.feed_mm_min = feed;
  return m;
}

}  // namespace

TEST_CASE("around a line the cutter touches the part and never enters it") {
  const Job job = test::plate_job();
  const Operation o = test::profile_operation();
  const Toolpath path = made(job, o);
  double nearest = 1e9;
  walk(path, [&](const Move& m, Point2 at, double z) {
    if (z >= 0 || m.feed_mm_min <= 0) return;
    const double gap = distance_outside(line_of(job, 0), at) - 6;
    nearest = std::min(nearest, gap);
    CHECK(gap > -0.002);
  });
  CHECK(nearest < 0.002);
}

TEST_CASE("passes divide depth and stock evenly and stay within the conditions") {
  const Toolpath path = made(test::plate_job(), test::profile_operation(10));
  std::set<double> depths;
  std::map<double, int> leads;
  for (const Move& m : path.moves) {
    if (m.kind == MoveKind::cut) depths.insert(m.z);
    if (m.kind == MoveKind::lead) ++leads[m.z];
  }
  CHECK(depths == std::set<double>{-10, -5});              // ap 6 → two levels of 5
  for (const auto& [z, count] : leads) CHECK(count == 4);  // 5 of stock at ae 3 → two passes, in and out
}

TEST_CASE("climb milling keeps the part on the right, conventional on the left") {
  const Job job = test::plate_job();
  for (const bool climb : {true, false}) {
    Operation o = test::profile_operation();
    o.climb = climb;
    const Toolpath path = made(job, o);
    double area = 0;
    for (std::size_t i = 1; i < path.moves.size(); ++i)
      if (path.moves[i].kind == MoveKind::cut)
        area += path.moves[i - 1].x * path.moves[i].y - path.moves[i].x * path.moves[i - 1].y;
    CHECK((area < 0) == climb);  // clockwise around the part
  }
}

TEST_CASE("around a round part in square stock the cutter goes down beside the stock, not into it") {
  Job job = with_lines({{true, {{-50, 0, 1}, {50, 0, 1}}}});
  put_stock(job, -55, 55, -55, 55);
  const Toolpath path = made(job, test::profile_operation());
  int plunges = 0;
  for (const Move& m : path.moves) {
    if (m.kind != MoveKind::plunge) continue;
    ++plunges;
    // A whole radius clear of the block; where the outer pass has been the inner one goes on without going up.
    CHECK(std::max(std::abs(m.x), std::abs(m.y)) >= 55 + 6 - 0.01);
  }
  CHECK(plunges > 0);
  CHECK(std::any_of(path.moves.begin(), path.moves.end(), [](const Move& m) { return m.kind == MoveKind::link; }));
  // Swinging in and out, the cutter touches the part and never enters it.
  double nearest = 1e9;
  walk(path, [&](const Move& m, Point2 at, double z) {
    if (z < 0 && m.feed_mm_min > 0) nearest = std::min(nearest, std::hypot(at.x, at.y) - 50 - 6);
  });
  CHECK(nearest > -0.002);
  CHECK(nearest < 0.002);
}

TEST_CASE("every kind of move has its own feed") {
  const Toolpath path = made(test::plate_job(), test::profile_operation());
  for (const Move& m : path.moves) {
    if (m.kind == MoveKind::plunge) CHECK(m.feed_mm_min == 600);  // beside the stock, in air
    if (m.kind == MoveKind::cut || m.kind == MoveKind::lead) CHECK(m.feed_mm_min == 600);
    if (m.kind == MoveKind::rapid || m.kind == MoveKind::retract) CHECK(m.feed_mm_min == 0);
  }
}

TEST_CASE("rapids stay above the stock or where the material is gone") {
  const Toolpath path = made(test::plate_job(), test::profile_operation());
  CHECK(path.moves.front().z == path.safe_z);
  CHECK(path.moves.back().z == path.safe_z);
  for (std::size_t i = 1; i < path.moves.size(); ++i) {
    const Move &a = path.moves[i - 1], &m = path.moves[i];
    if (m.feed_mm_min > 0) continue;
    if (std::hypot(m.x - a.x, m.y - a.y) > 1e-9) CHECK(std::min(a.z, m.z) >= path.safe_z - 1e-9);
  }
}

TEST_CASE("inside a line the path ramps down and clears the wall") {
  const Job job = with_lines({test::rounded_plate(60, 20, 10)});
  Operation o = test::profile_operation(8);
  o.where = ProfileWhere::within;
  o.operation = OperationKind::slot;
  o.taken.ap_mm = 4;
  const Toolpath path = made(job, o);
  double deepest = 0, steepest = 0;
  walk(path, [&](const Move& m, Point2 at, double z) {
    if (z >= -1e-9 || m.feed_mm_min <= 0) return;
    CHECK(distance_outside(line_of(job, 0), at) < -6 + 0.004);
    deepest = std::min(deepest, z);
  });
  for (std::size_t i = 1; i < path.moves.size(); ++i) {
    const Move &a = path.moves[i - 1], &m = path.moves[i];
    if (m.kind != MoveKind::ramp) continue;
    const double flat = flat_length(a.x, a.y, m);
    if (flat > 1e-9) steepest = std::max(steepest, std::atan((a.z - m.z) / flat));
    CHECK(m.feed_mm_min == 300);
  }
  CHECK(deepest == Approx(-8));
  CHECK(steepest * 180 / std::numbers::pi < 3.01);
  // A cutter that does not fit says so.
  o.cutter = proposed_cutter(CutterKind::end_mill, 25);
  o.cutter.id = Id{3, 9};
  CHECK(refused(job, o, "path_empty"));
}

TEST_CASE("along an open line, down and back") {
  const Job job = with_lines({test::rounded_plate(100, 60, 8), {false, {{10, 10, 0}, {60, 10, 0.3}, {60, 40, 0}}}});
  Operation o = test::profile_operation(3);
  o.where = ProfileWhere::along;
  o.features = {{"0/2", {}}};
  const Toolpath path = made(job, o);
  walk(path, [&](const Move& m, Point2 at, double z) {
    if (z >= -1e-9 || m.feed_mm_min <= 0) return;
    double nearest = 1e9;
    const auto points = flattened(line_of(job, 1), 0.001);
    for (std::size_t i = 1; i < points.size(); ++i) {
      const double dx = points[i].x - points[i - 1].x, dy = points[i].y - points[i - 1].y;
      const double t =
          std::clamp(((at.x - points[i - 1].x) * dx + (at.y - points[i - 1].y) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
      nearest = std::min(nearest, std::hypot(at.x - points[i - 1].x - t * dx, at.y - points[i - 1].y - t * dy));
    }
    CHECK(nearest < 0.01);
  });
  o.where = ProfileWhere::around;
  CHECK(refused(job, o, "contour_open"));
}

TEST_CASE("drilling goes to the full diameter, through, and pecks") {
  const Job job = test::plate_job();
  Operation o = test::drilling_operation();
  Toolpath path = made(job, o);
  REQUIRE(path.cycles.size() == 2);
  CHECK(path.cycles[0].bottom_z == Approx(-13 - *point_height_mm(o.cutter)));
  o.depth_to = DepthTo::tip;
  CHECK(made(job, o).cycles[0].bottom_z == Approx(-13));
  o.peck_mm = 4;
  int strokes = 0;
  for (const Move& m : made(job, o).moves) strokes += m.kind == MoveKind::cycle;
  CHECK(strokes == 8);  // from 2 above the top, 15 in strokes of 4
  const auto features = o.features;
  o.features.clear();
  CHECK(refused(job, o, "no_holes"));
  o.features = {{"0/1", {}}};
  CHECK(refused(job, o, "not_a_hole"));
  o.features = features;
  o.cutter.diameter_mm = 9;
  CHECK(refused(job, o, "cutter_over_hole"));
}

TEST_CASE("depth beyond the stick-out, the clear length or, in one pass, the flutes is an error") {
  const Job job = test::plate_job();
  Operation o = test::profile_operation();
  const auto has = [&](const char* code) { return refused(job, o, code); };
  o.cutter.flute_length_mm = 20;
  o.cutter.reach_mm = 25;
  o.cutter.shank_diameter_mm = o.cutter.diameter_mm;
  o.stickout_mm = 42;
  o.depth_mm = 30;
  o.taken.ap_mm = 10;
  CHECK_FALSE(has("deeper_than_reach"));  // the shank is clear of the wall
  CHECK_FALSE(has("deeper_than_stickout"));
  CHECK_FALSE(has("pass_over_flutes"));
  o.cutter.shank_diameter_mm = *o.cutter.diameter_mm + 4;
  CHECK(has("deeper_than_reach"));
  o.depth_mm = 24;
  CHECK_FALSE(has("deeper_than_reach"));
  o.taken.ap_mm = 22;
  CHECK(has("pass_over_flutes"));
  o.depth_mm = 80;
  CHECK(has("deeper_than_stickout"));
}

TEST_CASE("engagement counts the stock: full width where a pass meets more than it takes, at the feed of a slot") {
  Job job = with_lines({{true, {{0, 0, 0}, {60, 0, 0}, {60, 40, 0}, {0, 40, 0}}}});
  Operation o = test::profile_operation();
  o.cutter.diameter_mm = 10;
  o.depth_mm = 5;
  o.taken.ap_mm = 5;
  o.taken.ae_mm = 3;
  o.side_stock_mm = 3;
  o.taken_slot = o.taken;
  o.taken_slot.vf_mm_min = 350;
  o.taken_slot.ap_mm = 2.5;
  const double degrees = std::numbers::pi / 180;
  // Stock as wide as the pass takes: the arc of a straight wall, 66.4° (formula 4).
  put_stock(job, -3, 63, -3, 43);
  const PlannedPath straight = test::planned(job, o);
  CHECK(straight.tightest_rad > 60 * degrees);
  CHECK(straight.tightest_rad < 85 * degrees);
  for (const Move& m : straight.path.moves)
    if (m.kind == MoveKind::cut) CHECK(m.feed_mm_min == 600);
  // Much larger stock: a slot, at its feed and no deeper than one.
  put_stock(job, -30, 90, -30, 70);
  const PlannedPath slot = test::planned(job, o);
  CHECK(slot.full_width_mm > 150);
  CHECK(slot.full_depth_mm < 2.5 + 0.02);
  CHECK(says(slot.messages, "slot_depth", Severity::note));
  int slow = 0, all = 0;
  for (const Move& m : slot.path.moves)
    if (m.kind == MoveKind::cut) ++all, slow += m.feed_mm_min == 350;
  CHECK(slow > all / 2);
  // Own values hold as typed.
  o.own_n_rpm = 3000, o.own_vf_mm_min = 600, o.own_ap_mm = 5;
  for (const Move& m : test::planned(job, o).path.moves)
    if (m.kind == MoveKind::cut) CHECK(m.feed_mm_min == 600);
  // What was cut before is gone.
  StockField field(job.setups.empty() ? Box{} : stock_of(job, &job.setups[0]).plan, 0, 10);
  const StockField::Part whole = field.part(stock_of(job, &job.setups[0]).plan);
  const auto widest = [&] {
    double most = 0, x = 0, y = 0, z = slot.path.safe_z;
    for (const Move& m : slot.path.moves) {
      if (!m.is_rapid()) most = std::max(most, field.cut(x, y, z, m, 5));
      x = m.x, y = m.y, z = m.z;
    }
    return most;
  };
  field.take_away(slot.path, 10);
  CHECK(widest() < 15 * degrees);
  field.put_back(whole);
  CHECK(widest() > 150 * degrees);
}

TEST_CASE("cutter properties decide entries, and a cutter that turns with M4 climbs on the other side") {
  const Job job = test::plate_job();
  Operation o = test::profile_operation();
  o.where = ProfileWhere::within;
  const auto ramps = [&] {
    double steepest = 0, x = 0, y = 0, z = 0;
    for (const Move& m : made(job, o).moves) {
      if (m.kind == MoveKind::ramp) steepest = std::max(steepest, std::atan2(z - m.z, flat_length(x, y, m)));
      x = m.x, y = m.y, z = m.z;
    }
    return steepest * 180 / std::numbers::pi;
  };
  CHECK(ramps() == Approx(3).epsilon(1e-3));
  o.cutter.max_ramp_deg = 1.5;
  CHECK(ramps() == Approx(1.5).epsilon(1e-3));
  o.cutter.max_ramp_deg.reset();
  o.cutter.centre_cut = CentreCut::no;
  CHECK(ramps() == Approx(1).epsilon(1e-3));
  // Around, in stock that leaves no room beside the part.
  o.where = ProfileWhere::around;
  Job large = job;
  put_stock(large, -400, 500, -400, 500);
  CHECK_FALSE(has_error(test::planned(large, o).messages));  // it ramps down along the line
  o.entry = EntryKind::plunge;
  CHECK(refused(large, o, "plunges_into_solid"));
  o.cutter.centre_cut = CentreCut::yes;
  CHECK_FALSE(has_error(test::planned(large, o).messages));

  const auto turns_left = [&] {
    std::vector<Point2> lap;
    for (const Move& m : made(job, o).moves)
      if (m.kind == MoveKind::cut) lap.push_back({m.x, m.y});
    return signed_area(lap) > 0;
  };
  const bool with_m3 = turns_left();
  o.cutter.rotation = Rotation::counter_clockwise;
  CHECK(turns_left() != with_m3);
  o.climb = false;
  CHECK(turns_left() == with_m3);
}

TEST_CASE("time is length over feed") {
  Toolpath path;
  path.moves = {move(MoveKind::rapid, 0, 0, 0, 0), move(MoveKind::cut, 100, 0, 0, 200),
                move(MoveKind::rapid, 100, 50, 0, 0)};
  CHECK(figures_of(path, {5000, 0}).minutes == Approx(0.5 + 0.01));
  CHECK(figures_of(path, {5000, 0}).cut_mm == Approx(100));
  // Up and down goes at a speed of its own, at the same time as the plane: the slower of the two counts.
  path.moves.push_back(move(MoveKind::rapid, 100, 50, 30, 0));
  CHECK(figures_of(path, {5000, 1000}).minutes == Approx(0.5 + 0.01 + 0.03));
  CHECK(figures_of(path, {5000, 0}).minutes == Approx(0.5 + 0.01 + 0.006));
}

TEST_CASE("drawings know their lines, bounds and holes") {
  const Job job = test::plate_job();
  CHECK(keys_of(job.drawing()) == std::vector<std::string>{"0/1", "0/2", "0/3", "0/4"});
  CHECK(outermost_line(job) == "0/1");
  CHECK(hole_diameters(job) == std::vector<double>{8.5, 12});
  CHECK(circles_of(job, 8.5) == std::vector<std::string>{"0/2", "0/3"});
  const Box b = bounds(job.drawing());
  CHECK(b.high_x == Approx(100));
  CHECK(b.high_y == Approx(60));
  CHECK(signed_area(flattened(line_of(job, 0), 0.001)) == Approx(100 * 60 - (4 - std::numbers::pi) * 64).epsilon(1e-4));
}

TEST_CASE("no move enters a clamp below its top") {
  Job job = test::plate_job();
  Feature clamp;
  clamp.key = "clamp";
  clamp.line = {true, {{40, -30, 0}, {60, -30, 0}, {60, 5, 0}, {40, 5, 0}}};
  job.features = {clamp};
  job.setups[0].clamps = {{{"clamp", {}}, 8}};
  Operation o = test::profile_operation();
  CHECK(refused(job, o, "enters_clamp"));
  job.setups[0].clamps[0].top_mm = -11;  // below the deepest cut
  CHECK_FALSE(has_error(test::planned(job, o).messages));
  job.setups[0].clamps = {{{"gone", {}}, 8}};
  CHECK(refused(job, o, "feature_gone"));
}

TEST_CASE("a lead feed of its own is used into and out of the cut, and nowhere else") {
  const Job job = test::plate_job();
  Operation o = test::profile_operation();
  o.taken.lead_mm_min = 250;
  const Toolpath path = made(job, o);
  int leads = 0;
  for (const Move& m : path.moves) {
    if (m.kind == MoveKind::lead) {
      CHECK(m.feed_mm_min == 250);
      ++leads;
    }
    if (m.kind == MoveKind::cut) CHECK(m.feed_mm_min == 600);
  }
  CHECK(leads > 0);
  // It counts when the source is compared with the job's copy.
  TakenConditions other = o.taken;
  other.lead_mm_min = o.taken.vf_mm_min;
  CHECK(fingerprint(other) != fingerprint(o.taken));
  other.lead_mm_min.reset();  // as an older copy has it
  TakenConditions usual = other;
  usual.lead_mm_min = usual.vf_mm_min;
  CHECK(fingerprint(other) == fingerprint(usual));
}

TEST_CASE("a holder that would meet standing stock is an error") {
  const Job job = test::plate_job();
  Operation o = test::profile_operation();
  std::vector<Message> unused;
  OperationInput input = input_of(job, JobIndex(job), o, PathRules{}, unused);
  const auto planned = [&](double above_tip) {
    input.holder = {{above_tip, 25}};
    StockField stock(input.stock, input.stock_top, 12);
    return plan_operation(o, input, stock);
  };
  CHECK(says(planned(8).messages, "holder_meets_stock", Severity::error));  // 10 deep beside a part that stands 10 high
  CHECK_FALSE(has_error(planned(10.5).messages));
}

TEST_CASE("the skin of a casting is met by faces, profiles around and holes, not inside") {
  Job job = test::plate_job();
  Operation o = test::profile_operation();
  CHECK_FALSE(meets_skin(job, o));
  job.setups[0].skin = StockSkin::casting;
  CHECK(meets_skin(job, o));
  o.where = ProfileWhere::within;
  CHECK_FALSE(meets_skin(job, o));
  o.path = PathKind::face;
  CHECK(meets_skin(job, o));
}
