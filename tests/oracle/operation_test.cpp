// Toolpaths of every kind of operation against the part, checked with another geometry library than the one that makes
// them (Boost.Geometry) and with plain distances.
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/point_xy.hpp>
#include <boost/geometry/geometries/polygon.hpp>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "../support/cutters.h"
#include "core/job/job.h"
#include "core/operation/declaration.h"

using namespace pecorra;
namespace bg = boost::geometry;

namespace {

using std::numbers::pi;
using Point = bg::model::d2::point_xy<double>;
using Polygon = bg::model::polygon<Point, false>;

constexpr double gouge_mm = 0.005;  // the most that may be missing from the part

Polygon polygon_of(const Contour& outline, const std::vector<Contour>& islands = {}) {
  Polygon polygon;
  const auto ring = [](const Contour& c, auto& to) {
    for (const Point2& p : flattened(c, 0.0005)) to.push_back(Point(p.x, p.y));
  };
  ring(outline, polygon.outer());
  polygon.inners().resize(islands.size());
  for (std::size_t i = 0; i < islands.size(); ++i) ring(islands[i], polygon.inners()[i]);
  bg::correct(polygon);
  return polygon;
}

// Signed: negative inside.
double distance_to(const Polygon& polygon, Point2 p) {
  const Point at(p.x, p.y);
  double edge = 1e300;
  const auto near = [&](const auto& ring) {
    bg::model::linestring<Point> line(ring.begin(), ring.end());
    edge = std::min(edge, bg::distance(at, line));
  };
  near(polygon.outer());
  for (const auto& inner : polygon.inners()) near(inner);
  return bg::within(at, polygon) ? -edge : edge;
}

// Calls call(place, z, move) along every move.
template <class Call>
void walk(const Toolpath& path, double step, Call&& call) {
  double x = 0, y = 0, z = path.safe_z;
  bool first = true;
  for (const Move& m : path.moves) {
    if (!first) {
      const double r = std::hypot(x - m.centre_x, y - m.centre_y), swept = swept_rad(x, y, m);
      const double from = std::atan2(y - m.centre_y, x - m.centre_x);
      const bool arc = m.shape != MoveShape::line;
      const double length = arc ? r * std::abs(swept) : std::hypot(m.x - x, m.y - y);
      const int n = std::max(1, static_cast<int>(std::ceil(std::max(length, std::abs(m.z - z)) / step)));
      for (int i = 0; i <= n; ++i) {
        const double t = static_cast<double>(i) / n;
        const Point2 p =
            arc ? Point2{m.centre_x + r * std::cos(from + swept * t), m.centre_y + r * std::sin(from + swept * t)}
                : Point2{x + (m.x - x) * t, y + (m.y - y) * t};
        call(p, z + (m.z - z) * t, m);
      }
    }
    first = false;
    x = m.x, y = m.y, z = m.z;
  }
}

Operation operation_of(PathKind kind, double diameter_mm, double ap_mm, double ae_mm) {
  Operation o;
  o.id = Id::from_name("operation");
  o.path = kind;
  o.operation = declaration(kind).usual;
  o.cutter = test::end_mill(diameter_mm);
  o.taken.n_rpm = 3000;
  o.taken.vf_mm_min = 600;
  o.taken.plunge_mm_min = 200;
  o.taken.ramp_mm_min = 300;
  o.taken.lead_mm_min = 500;
  o.taken.ap_mm = ap_mm;
  o.taken.ae_mm = ae_mm;
  o.taken_slot = o.taken;
  o.taken_slot.vf_mm_min = 400;
  return o;
}

// A star of lines and arcs around a place; radii between these.
Contour random_outline(std::mt19937& random, Point2 centre, double least, double most) {
  std::uniform_real_distribution<double> radius(least, most), bulge(-0.25, 0.4);
  const int n = 4 + static_cast<int>(random() % 7);
  Contour c{true, {}};
  for (int i = 0; i < n; ++i) {
    const double a = 2 * pi * i / n, r = radius(random);
    c.vertices.push_back({centre.x + r * std::cos(a), centre.y + r * std::sin(a), random() % 2 ? bulge(random) : 0.0});
  }
  return c;
}

bool is_simple(const Contour& c) {
  const Polygon polygon = polygon_of(c);
  return bg::is_valid(polygon) && !bg::intersects(polygon.outer());
}

struct Planned {
  PlannedPath plan;
  StockField stock;
};
Planned plan(const Operation& o, const OperationInput& input) {
  Planned out{{}, StockField(input.stock, input.stock_top, o.cutter.diameter_mm.value_or(1))};
  out.plan = plan_operation(o, input, out.stock);
  return out;
}

OperationInput input_for(const Box& stock) {
  OperationInput input;
  input.stock = stock;
  input.stock_top = 0;
  input.stock_bottom = -20;
  input.safe_z = 10;
  input.slot_conditions = true;
  return input;
}

std::string codes(const std::vector<Message>& messages) {
  std::string text;
  for (const Message& m : messages) text += m.code + " ";
  return text;
}

// What holds for every path of an end mill.
void check_moves(const Operation& o, const OperationInput& input, const PlannedPath& planned) {
  const Toolpath& path = planned.path;
  REQUIRE_FALSE(path.moves.empty());
  CHECK(path.moves.front().z == Approx(input.safe_z));
  CHECK(path.moves.back().z == Approx(input.safe_z));
  const double steepest = std::tan(input.rules.ramp_deg * pi / 180) * (1 + 1e-6);
  StockField stock(input.stock, input.stock_top, *o.cutter.diameter_mm);
  const double r = *o.cutter.diameter_mm / 2;
  double x = path.moves[0].x, y = path.moves[0].y, z = path.moves[0].z;
  for (std::size_t i = 1; i < path.moves.size(); ++i) {
    const Move& m = path.moves[i];
    INFO("move " << i << " to " << m.x << " " << m.y << " " << m.z << " " << key_of(m.kind));
    if (m.shape != MoveShape::line)
      CHECK(std::hypot(x - m.centre_x, y - m.centre_y) ==
            Approx(std::hypot(m.x - m.centre_x, m.y - m.centre_y)).margin(0.001));
    const double flat = m.shape == MoveShape::line
                            ? std::hypot(m.x - x, m.y - y)
                            : std::hypot(x - m.centre_x, y - m.centre_y) * std::abs(swept_rad(x, y, m));
    switch (m.kind) {
      case MoveKind::rapid:
        CHECK(m.feed_mm_min == 0);
        // A rapid only goes where nothing stands; the grid is exact to a cell.
        if (m.z < input.stock_top && flat < 1e-9)
          CHECK(stock.highest({m.x, m.y}, r - 1.5 * stock.cell()) <= m.z + 1e-3);
        if (flat > 1e-9) CHECK(std::min(z, m.z) >= input.stock_top);
        break;
      case MoveKind::plunge: CHECK(flat < 1e-9); break;
      case MoveKind::ramp:
        CHECK(m.z < z);
        CHECK((z - m.z) <= flat * steepest + 1e-9);
        CHECK(m.feed_mm_min == Approx(300));
        break;
      case MoveKind::retract: CHECK(m.z > z); break;
      case MoveKind::lead: CHECK((m.feed_mm_min == Approx(500))); break;
      default: CHECK((m.feed_mm_min == Approx(600) || m.feed_mm_min == Approx(400))); break;
    }
    if (!m.is_rapid()) stock.cut(x, y, z, m, r);
    x = m.x, y = m.y, z = m.z;
  }
}

}  // namespace

TEST_CASE("pockets with islands: the part is never cut into, and nothing is left that the cutter can reach", "[many]") {
  std::mt19937 random(7);
  int made = 0;
  for (int round = 0; made < 100 && round < 400; ++round) {
    const Contour outline = random_outline(random, {0, 0}, 18, 40);
    std::vector<Contour> islands;
    if (round % 3 == 0) islands.push_back(random_outline(random, {2, -1}, 3, 7));
    if (!is_simple(outline) || (!islands.empty() && !is_simple(islands[0]))) continue;
    if (!islands.empty() && !bg::within(polygon_of(islands[0]), polygon_of(outline))) continue;
    ++made;
    const double d = 4 + static_cast<double>(random() % 5), r = d / 2;
    Operation o = operation_of(PathKind::pocket, d, 5, d * (0.3 + 0.1 * static_cast<double>(random() % 6)));
    o.depth_mm = 8;
    o.climb = random() % 2 == 0;
    if (round % 5 == 2) {  // a last level on the floor, in narrower rings
      o.finish_floor_mm = 0.3;
      o.taken_floor = o.taken;
      o.taken_floor.ae_mm = *o.taken.ae_mm * 0.7;
    }
    OperationInput input = input_for(bounds(outline).grown(5));
    BoundPocket pocket{"p", outline, {}, {}};
    for (const Contour& island : islands) pocket.islands.push_back({"i", island});
    input.pockets.push_back(pocket);
    const Planned planned = plan(o, input);
    INFO("round " << round << " D " << d << " ae " << *o.taken.ae_mm << " " << codes(planned.plan.messages));
    if (has_error(planned.plan.messages)) {
      CHECK(codes(planned.plan.messages).find("path_empty") != std::string::npos);
      continue;
    }
    check_moves(o, input, planned.plan);
    const Polygon part = polygon_of(outline, islands);
    double worst = -1e300;
    std::vector<Point2> floor;
    walk(planned.plan.path, 0.5, [&](Point2 p, double z, const Move& m) {
      if (z > -1e-6) return;
      worst = std::max(worst, distance_to(part, p) + r);
      if (z < -8 + 1e-6 && !m.is_rapid()) floor.push_back(p);
    });
    CHECK(worst < gouge_mm);
    // What a disc of the cutter can reach is reached: every place at least a radius from all walls lies under a cut.
    int left = 0, wanted = 0;
    const Box box = bounds(outline);
    for (double x = box.low_x; x < box.high_x; x += 1.3)
      for (double y = box.low_y; y < box.high_y; y += 1.3) {
        if (distance_to(part, {x, y}) > -r) continue;
        ++wanted;
        bool covered = false;
        for (std::size_t i = 0; i < floor.size() && !covered; ++i)
          covered = std::hypot(floor[i].x - x, floor[i].y - y) <= r + 0.03;
        left += !covered;
      }
    CHECK(left <= wanted * 0.001);
  }
  CHECK(made == 100);
}

TEST_CASE("profiles around and inside: leads and links keep off the part, and the wall is reached all the way round",
          "[many]") {
  std::mt19937 random(11);
  int made = 0;
  for (int round = 0; made < 100 && round < 400; ++round) {
    const Contour outline = random_outline(random, {0, 0}, 15, 40);
    if (!is_simple(outline)) continue;
    ++made;
    const double d = 4 + static_cast<double>(random() % 7), r = d / 2;
    Operation o = operation_of(PathKind::profile, d, 4, d * 0.3);
    o.depth_mm = 7;
    o.climb = random() % 2 == 0;
    o.where = round % 2 ? ProfileWhere::around : ProfileWhere::within;
    if (round % 4 == 1) o.finish_pass_mm = 0.3, o.taken_finish = o.taken;
    OperationInput input = input_for(bounds(outline).grown(round % 5 == 0 ? 60 : 3));
    input.lines.push_back({"edge", outline});
    const Planned planned = plan(o, input);
    INFO("round " << round << " D " << d << " " << codes(planned.plan.messages));
    if (has_error(planned.plan.messages)) {
      CHECK(codes(planned.plan.messages).find("path_empty") != std::string::npos);
      continue;
    }
    check_moves(o, input, planned.plan);
    const Polygon part = polygon_of(outline);
    const double side = o.where == ProfileWhere::around ? -1 : 1;
    double worst = -1e300;
    std::vector<Point2> floor;
    walk(planned.plan.path, 0.4, [&](Point2 p, double z, const Move& m) {
      if (z > -1e-6) return;
      worst = std::max(worst, side * distance_to(part, p) + r);
      if (z < -7 + 1e-6 && m.kind == MoveKind::cut) floor.push_back(p);
    });
    CHECK(worst < gouge_mm);
    if (o.where == ProfileWhere::within) continue;  // its concave corners keep a rest
    // From outside every convex place of the wall is touched: the nearest cut is a radius away.
    for (std::size_t i = 0; i < outline.vertices.size(); ++i) {
      const Point2 p = {outline.vertices[i].x, outline.vertices[i].y};
      const Point2 out{p.x * (1 + r / std::hypot(p.x, p.y)), p.y * (1 + r / std::hypot(p.x, p.y))};
      if (distance_to(part, out) < r - 1e-3) continue;  // not convex enough there
      double nearest = 1e300;
      for (const Point2& f : floor) nearest = std::min(nearest, std::hypot(f.x - p.x, f.y - p.y));
      CHECK(nearest < r + 0.05);
    }
  }
  CHECK(made == 100);
}

TEST_CASE("a slot stays within its width, with round ends; a wider one has both walls") {
  for (const double width : {8.0, 9.5, 12.0, 20.0}) {
    Operation o = operation_of(PathKind::slot, 8, 3, 3);
    o.depth_mm = 6;
    o.width_mm = width;
    const Contour line{false, {{0, 0, 0}, {30, 0, 0.3}, {50, 15, 0}, {60, 15, 0}}};
    OperationInput input = input_for({-20, -20, 80, 40});
    input.lines.push_back({"line", line});
    const Planned planned = plan(o, input);
    INFO(width << " " << codes(planned.plan.messages));
    REQUIRE_FALSE(has_error(planned.plan.messages));
    check_moves(o, input, planned.plan);
    bg::model::linestring<Point> middle;
    for (const Point2& p : flattened(line, 0.0002)) middle.push_back(Point(p.x, p.y));
    middle.push_back(Point(60, 15));
    double widest = 0;
    walk(planned.plan.path, 0.1, [&](Point2 p, double z, const Move&) {
      if (z < -1e-6) widest = std::max(widest, bg::distance(Point(p.x, p.y), middle) + 4);
    });
    CHECK(widest < width / 2 + gouge_mm);
    CHECK(widest > width / 2 - 0.01);
  }
  // An outline of two lines and two half circles tells its own width.
  Operation o = operation_of(PathKind::slot, 10, 3, 3);
  o.depth_mm = 5;
  OperationInput input = input_for({-20, -20, 80, 40});
  input.lines.push_back({"slot", {true, {{0, -7, 0}, {40, -7, 1}, {40, 7, 0}, {0, 7, 1}}}});
  const Planned planned = plan(o, input);
  REQUIRE_FALSE(has_error(planned.plan.messages));
  double high = 0, right = 0;
  walk(planned.plan.path, 0.1, [&](Point2 p, double z, const Move&) {
    if (z < 0) high = std::max(high, p.y + 5), right = std::max(right, p.x + 5);
  });
  CHECK(high == Approx(7).margin(0.005));
  CHECK(right == Approx(47).margin(0.005));
  // Too wide a cutter says so.
  o.cutter = test::end_mill(16);
  CHECK(codes(plan(o, input).plan.messages).find("cutter_over_slot") != std::string::npos);
}

TEST_CASE("a face is covered from edge to edge, begun outside the stock, at no more than the width of cut") {
  for (const FacePattern pattern : {FacePattern::to_and_fro, FacePattern::one_way, FacePattern::spiral})
    for (const bool climb : {true, false}) {
      Operation o = operation_of(PathKind::face, 20, 2, 13);
      o.depth_mm = 3;
      o.pattern = pattern;
      o.climb = climb;
      const OperationInput input = input_for({-5, -5, 105, 65});
      const Planned planned = plan(o, input);
      INFO(key_of(pattern) << " " << codes(planned.plan.messages));
      REQUIRE_FALSE(has_error(planned.plan.messages));
      for (const Move& m : planned.plan.path.moves)
        if (m.kind == MoveKind::plunge) CHECK(input.stock.outside({m.x, m.y}) >= 10);
      for (double x = -4.4; x < 104.5; x += 2.3)
        for (double y = -4.4; y < 64.5; y += 2.3) CHECK(planned.stock.highest({x, y}, 0.1) == Approx(-3).margin(0.01));
      // Rows of at most the width of cut never reach full width but at the ends of a spiral's corners.
      if (pattern == FacePattern::to_and_fro) CHECK(planned.plan.tightest_rad < pi * 0.75);
    }
}

TEST_CASE(
    "compensation in the control: on and off on straight leads, left of the wall when climbing; the path is the "
    "tip's") {
  for (const bool climb : {true, false}) {
    Operation o = operation_of(PathKind::profile, 6, 5, 2);
    o.depth_mm = 5;
    o.climb = climb;
    OperationInput input = input_for({-4, -4, 104, 64});
    input.lines.push_back({"edge", {true, {{0, 0, 0}, {100, 0, 0}, {100, 60, 0}, {0, 60, 0}}}});
    const Planned plain = plan(o, input);
    o.compensation = Compensation::control;
    const Planned with = plan(o, input);
    REQUIRE_FALSE(has_error(with.plan.messages));
    CHECK(codes(with.plan.messages).find("no_room_for_compensation") == std::string::npos);
    std::vector<MotionEvent::Kind> kinds;
    for (const MotionEvent& e : with.plan.path.events) {
      kinds.push_back(e.kind);
      const Move& m = with.plan.path.moves[e.before];
      CHECK(m.kind == MoveKind::lead);
      CHECK(m.shape == MoveShape::line);
    }
    // ISO 6983: G41 has the cutter on the left of the contour, seen along the path. Climbing with M3 the wall is on the
    // right, so the cutter is on its left.
    REQUIRE(kinds.size() % 2 == 0);
    REQUIRE_FALSE(kinds.empty());
    for (std::size_t i = 0; i < kinds.size(); i += 2) {
      CHECK(kinds[i] == (climb ? MotionEvent::compensate_left : MotionEvent::compensate_right));
      CHECK(kinds[i + 1] == MotionEvent::compensate_off);
    }
    int cuts = 0, cuts_with = 0;
    for (const Move& m : plain.plan.path.moves) cuts += m.kind == MoveKind::cut;
    for (const Move& m : with.plan.path.moves) cuts_with += m.kind == MoveKind::cut;
    CHECK(cuts == cuts_with);
  }
}

TEST_CASE("tabs stand as wide and as high as asked") {
  Operation o = operation_of(PathKind::profile, 6, 5, 2);
  o.depth_mm = 10;
  o.tab_count = 4;
  o.tab_width_mm = 5;
  o.tab_height_mm = 2;
  OperationInput input = input_for({-10, -10, 110, 70});
  input.lines.push_back({"edge", {true, {{0, 0, 0}, {100, 0, 0}, {100, 60, 0}, {0, 60, 0}}}});
  const Planned planned = plan(o, input);
  REQUIRE_FALSE(has_error(planned.plan.messages));
  double raised = 0, highest = -100;
  double x = 0, y = 0;
  walk(planned.plan.path, 0.05, [&](Point2 p, double z, const Move& m) {
    if (m.kind != MoveKind::cut) return;
    const double step = std::hypot(p.x - x, p.y - y);
    x = p.x, y = p.y;
    if (z > -10 + 1e-6 && z < -5 - 1e-6) highest = std::max(highest, z);
    if (std::abs(z + 8) < 1e-6 && step < 0.06) raised += step;
  });
  CHECK(highest == Approx(-8).margin(1e-6));
  CHECK(raised == Approx(4 * (5 + 6)).margin(1));
}

TEST_CASE("lines that cannot be machined put the operation in error, with the thing named") {
  OperationInput input = input_for({-50, -50, 50, 50});
  const auto codes_with = [&](PathKind kind, const Contour& line, double diameter = 6) {
    Operation o = operation_of(kind, diameter, 3, 2);
    o.depth_mm = 4;
    OperationInput with = input;
    with.lines = {{"edge", line}};
    with.pockets = {{"edge", line, {}, {}}};
    return codes(plan(o, with).plan.messages);
  };
  const Contour bow_tie{true, {{0, 0, 0}, {20, 20, 0}, {20, 0, 0}, {0, 20, 0}}};
  const Contour open{false, {{0, 0, 0}, {20, 0, 0}, {20, 20, 0}}};
  const Contour point{true, {{1, 1, 0}, {1, 1, 0}}}, far{true, {{0, 0, 0}, {1e9, 0, 0}, {0, 1e9, 0}}};
  const Contour nothing{true, {{std::nan(""), 0, 0}, {1, 0, 0}, {0, 1, 0}}};
  const Contour small{true, {{0, 0, 0}, {5, 0, 0}, {5, 5, 0}, {0, 5, 0}}};
  for (const PathKind kind : {PathKind::profile, PathKind::pocket}) {
    CHECK(codes_with(kind, bow_tie).find("contour_crosses_itself") != std::string::npos);
    CHECK(codes_with(kind, open).find("contour_open") != std::string::npos);
    CHECK(codes_with(kind, point).find("line_without_length") != std::string::npos);
    CHECK(codes_with(kind, far).find("line_too_far") != std::string::npos);
    CHECK(codes_with(kind, nothing).find("line_too_far") != std::string::npos);
  }
  CHECK(codes_with(PathKind::pocket, small).find("path_empty") != std::string::npos);
}

TEST_CASE("a change of one operation plans that one path; another drawing keeps the lines that kept their shape") {
  Job job;
  Part part;
  part.drawing.add_line({true, {{0, 0, 0}, {50, 0, 0}, {50, 30, 0}, {0, 30, 0}}}, "EDGE");
  part.drawing.add_circle({10, 10}, 6, "HOLES");
  part.drawing.add_circle({40, 10}, 6, "HOLES");
  job.part = std::make_shared<const Part>(part);
  CHECK(feature_keys(job) == std::vector<std::string>{"EDGE/1", "HOLES/1", "HOLES/2"});
  Operation o = operation_of(PathKind::profile, 6, 5, 2);
  o.features = {use_of(job, "EDGE/1"), use_of(job, "HOLES/2")};
  job.operations = {o};
  // The circles change places in the file, and the edge is another one.
  Part other;
  other.drawing.add_line({true, {{0, 0, 0}, {60, 0, 0}, {60, 30, 0}, {0, 30, 0}}}, "EDGE");
  other.drawing.add_circle({40, 10}, 6, "HOLES");
  other.drawing.add_circle({10, 10}, 6, "HOLES");
  job.part = std::make_shared<const Part>(other);
  rebind(job);
  CHECK(job.operations[0].features[1].key == "HOLES/1");
  std::vector<Message> messages;
  input_of(job, JobIndex(job), job.operations[0], PathRules{}, messages);
  REQUIRE(messages.size() == 1);
  CHECK(messages[0].code == "feature_changed");
}
