// Features stated by numbers: their lines, places and letters, what is missing, and how operations take them.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "../support/sample_job.h"
#include "core/feature/lettering.h"

using namespace pecorra;
using Catch::Detail::Approx;

namespace {

Feature stated(FeatureKind kind) {
  Feature f;
  f.key = "f";
  f.kind = kind;
  return f;
}

bool wants(const Feature& f, const std::string& code, const std::string& property) {
  const auto messages = check_feature(f);
  return std::any_of(messages.begin(), messages.end(),
                     [&](const Message& m) { return m.code == code && m.property == property; });
}

double area_of(const Contour& line) { return signed_area(flattened(line, 1e-4)); }

}  // namespace

TEST_CASE("rectangles, circles and slots have the outline that their numbers say") {
  Feature f = stated(FeatureKind::rectangle);
  CHECK(wants(f, "missing", "length_mm"));
  f.x_mm = 50, f.y_mm = 20, f.length_mm = 40, f.width_mm = 30;
  shape(f);
  CHECK(f.line.closed);
  CHECK(area_of(f.line) == Approx(1200));
  const Box box = bounds(f.line);
  CHECK(box.low_x == Approx(30));
  CHECK(box.high_y == Approx(35));
  f.corner_radius_mm = 5;
  shape(f);
  CHECK(f.line.vertices.size() == 8);
  CHECK(area_of(f.line) == Approx(1200 - (4 - std::numbers::pi) * 25).epsilon(1e-5));
  f.corner_radius_mm = 15;  // half circles at the ends
  shape(f);
  CHECK(area_of(f.line) == Approx(10 * 30 + std::numbers::pi * 225).epsilon(1e-5));
  f.corner_radius_mm = 15.1;
  CHECK(wants(f, "corner_radius_too_large", "corner_radius_mm"));
  shape(f);
  CHECK(f.line.vertices.empty());
  f.corner_radius_mm.reset();
  f.angle_deg = 90;
  shape(f);
  CHECK(bounds(f.line).width() == Approx(30));

  Feature circle = stated(FeatureKind::circle);
  circle.diameter_mm = 20;
  shape(circle);
  CHECK(area_of(circle.line) == Approx(std::numbers::pi * 100).epsilon(1e-4));

  Feature slot = stated(FeatureKind::slot);
  slot.length_mm = 40, slot.width_mm = 10;
  shape(slot);
  CHECK(area_of(slot.line) == Approx(300 + std::numbers::pi * 25).epsilon(1e-4));
  slot.length_mm = 10;
  CHECK(wants(slot, "slot_no_longer_than_wide", "length_mm"));
}

TEST_CASE("holes in a row, a grid and on a circle stand where geometry puts them") {
  Feature f = stated(FeatureKind::holes);
  f.diameter_mm = 8;
  CHECK(wants(f, "no_places", "pattern"));
  f.pattern = HolePattern::row;
  f.x_mm = 10, f.y_mm = 5, f.count = 4, f.pitch_mm = 20, f.angle_deg = 30;
  shape(f);
  REQUIRE(f.at.size() == 4);
  CHECK(f.at[3].x == Approx(10 + 60 * std::cos(std::numbers::pi / 6)));
  CHECK(f.at[3].y == Approx(5 + 30));
  f.pattern = HolePattern::grid;
  f.angle_deg.reset();
  CHECK(wants(f, "missing", "count_y"));
  f.count_y = 3, f.pitch_y_mm = 15;
  shape(f);
  REQUIRE(f.at.size() == 12);
  CHECK(f.at.back().x == Approx(70));
  CHECK(f.at.back().y == Approx(35));
  f.pattern = HolePattern::circle;
  f.circle_mm = 60, f.count = 6, f.angle_deg = 90;
  shape(f);
  REQUIRE(f.at.size() == 6);
  for (const Point2& p : f.at) CHECK(std::hypot(p.x - 10, p.y - 5) == Approx(30));
  CHECK(f.at[0].x == Approx(10));
  CHECK(f.at[0].y == Approx(35));
  f.pattern = HolePattern::grid;
  f.count = 1000, f.count_y = 101;
  CHECK(wants(f, "too_many_holes", "count"));
  // What people mistype is a doubt, no reason to refuse the feature.
  f.count_y = 1;
  f.tolerance = "H 7 fit";
  CHECK(wants(f, "tolerance_unknown", "tolerance"));
  CHECK_FALSE(has_error(check_feature(f)));
  f.tolerance = "JS9";
  f.thread = "M10";
  CHECK(check_feature(f).empty());
  f.thread = "M11x9";
  CHECK(wants(f, "thread_unknown", "thread"));
}

TEST_CASE("only what a kind and a pattern need is asked") {
  Feature f = stated(FeatureKind::holes);
  CHECK_FALSE(asks_for(f, "pitch_mm"));
  f.pattern = HolePattern::circle;
  CHECK(asks_for(f, "circle_mm"));
  CHECK_FALSE(asks_for(f, "pitch_y_mm"));
  CHECK(asks_for(f, "thread"));
  f.circles = {{"HOLES/1", {}}};
  CHECK_FALSE(asks_for(f, "circle_mm"));
  for (std::size_t i = 0; i < choices_of<FeatureKind>().size(); ++i)
    for (const std::string_view key : fields_of(static_cast<FeatureKind>(i))) {
      INFO(key);
      CHECK(find_property<Feature>(key));
    }
}

TEST_CASE("letters are as high as stated, along their baseline, and what has no strokes is named") {
  const Lettering plain = lettering("H", {10, 5}, 6, 0);
  CHECK(plain.lines.size() == 3);
  double low = 1e9, high = -1e9;
  for (const Contour& line : plain.lines)
    for (const Vertex& v : line.vertices) low = std::min(low, v.y), high = std::max(high, v.y);
  CHECK(low == Approx(5));
  CHECK(high == Approx(11));
  CHECK(plain.lines[0].vertices[0].x == Approx(10));
  // Turned by a quarter, what went to the right goes up.
  const Lettering turned = lettering("L", {0, 0}, 6, 90);
  CHECK(turned.lines[0].vertices.back().y == Approx(4));
  // Every letter and digit has strokes; letters stand apart.
  for (const std::string_view text :
       {"ABCDEFGHIJKLMNOPQRSTUVWXYZ", "abcdefghijklmnopqrstuvwxyz", "0123456789", "Ø12 ±0.1°"})
    CHECK(lettering(text, {}, 5, 0).unknown.empty());
  CHECK(lettering("AA", {}, 6, 0).width_mm > 2 * lettering("A", {}, 6, 0).width_mm);
  CHECK(lettering("A漢B漢", {}, 5, 0).unknown == "漢");
  Feature f = stated(FeatureKind::text);
  f.text = "A漢", f.height_mm = 5;
  CHECK(wants(f, "letter_unknown", "text"));
}

TEST_CASE("operations take stated features: a pocket of a rectangle, holes of a circle, an engraved text") {
  Job job = test::plate_job();
  Feature window = stated(FeatureKind::rectangle);
  window.key = "window";
  window.x_mm = 50, window.y_mm = 30, window.length_mm = 60, window.width_mm = 30, window.corner_radius_mm = 8;
  window.depth_mm = 4;
  shape(window);
  Feature bolts = stated(FeatureKind::holes);
  bolts.key = "bolts";
  bolts.pattern = HolePattern::circle;
  bolts.x_mm = 50, bolts.y_mm = 30, bolts.circle_mm = 40, bolts.count = 5, bolts.diameter_mm = 8.5;
  bolts.through = true;
  shape(bolts);
  Feature word = stated(FeatureKind::text);
  word.key = "word";
  word.text = "A 12", word.height_mm = 6, word.x_mm = 30, word.y_mm = 40, word.depth_mm = 0.3;
  shape(word);
  job.features = {window, bolts, word};

  Operation pocket = test::profile_operation();
  pocket.path = PathKind::pocket;
  pocket.depth_mm.reset();
  pocket.features = {{"window", {}}};
  std::vector<Message> messages;
  OperationInput input = input_of(job, JobIndex(job), pocket, {}, messages);
  CHECK(messages.empty());
  REQUIRE(input.pockets.size() == 1);
  CHECK(depth_of(pocket, input) == 4);

  Operation drill = test::drilling_operation();
  drill.depth_mm.reset();
  drill.features = {{"bolts", {}}};
  input = input_of(job, JobIndex(job), drill, {}, messages);
  REQUIRE(input.holes.size() == 5);
  CHECK(depth_of(drill, input) == 12);  // through the stock

  Operation engrave = test::profile_operation();
  engrave.where = ProfileWhere::along;
  engrave.depth_mm.reset();
  engrave.features = {{"word", {}}};
  input = input_of(job, JobIndex(job), engrave, {}, messages);
  CHECK(messages.empty());
  CHECK(input.lines.size() == 4);
  CHECK(depth_of(engrave, input) == 0.3);
  CHECK_FALSE(has_error(test::planned(job, engrave).messages));
  // A pocket of a text is refused with the reason.
  pocket.features = {{"word", {}}};
  input_of(job, JobIndex(job), pocket, {}, messages);
  REQUIRE(messages.size() == 1);
  CHECK(messages[0].code == "text_is_followed");
  // So is what is not complete.
  job.features[0].length_mm.reset();
  shape(job.features[0]);
  pocket.features = {{"window", {}}};
  messages.clear();
  input_of(job, JobIndex(job), pocket, {}, messages);
  CHECK(messages[0].code == "feature_incomplete");
}

TEST_CASE("a pocket made of drawn lines is in error when one of them changes, until it is accepted") {
  Job job = test::plate_job();
  Feature f = stated(FeatureKind::pocket);
  f.key = "opening";
  f.outline = use_of(job, "0/1");
  f.islands = {use_of(job, "0/4")};
  f.depth_mm = 3;
  job.features = {f};
  Operation o = test::profile_operation();
  o.path = PathKind::pocket;
  o.features = {{"opening", {}}};
  std::vector<Message> messages;
  input_of(job, JobIndex(job), o, {}, messages);
  CHECK(messages.empty());
  Part part = *job.part;
  part.drawing.lines[3].contour.vertices[0].x += 0.5;
  job.part = std::make_shared<const Part>(part);
  input_of(job, JobIndex(job), o, {}, messages);
  REQUIRE(messages.size() == 1);
  CHECK(messages[0].code == "feature_changed");
  accept_lines(job, job.features[0]);
  messages.clear();
  input_of(job, JobIndex(job), o, {}, messages);
  CHECK(messages.empty());
}

TEST_CASE("a hole that is pulled ends where it is put, and takes its pattern along") {
  const auto near = [](Point2 a, Point2 b) { return std::hypot(a.x - b.x, a.y - b.y) < 1e-9; };
  Feature f;
  f.kind = FeatureKind::holes;
  f.key = "h";
  f.diameter_mm = 5;
  f.x_mm = 10, f.y_mm = -4;
  f.count = 4;
  f.pitch_mm = 12;
  f.count_y = 3;
  f.pitch_y_mm = 9;
  f.circle_mm = 50;
  f.angle_deg = 15;
  f.typed["pitch_mm"] = "12";
  for (const HolePattern pattern : {HolePattern::row, HolePattern::grid, HolePattern::circle}) {
    f.pattern = pattern;
    shape(f);
    const Point2 to{33, 21};
    const Feature row = with_hole_at(f, 2, to, false);
    CHECK(near(row.at[2], to));
    CHECK(row.at.size() == f.at.size());
    if (pattern != HolePattern::circle) CHECK(near(row.at[0], f.at[0]));
    if (pattern == HolePattern::row) CHECK_FALSE(row.typed.contains("pitch_mm"));
    // All of it, by as much.
    const Feature moved = with_hole_at(f, 1, {f.at[1].x + 3, f.at[1].y - 7}, true);
    for (std::size_t i = 0; i < f.at.size(); ++i) CHECK(near(moved.at[i], {f.at[i].x + 3, f.at[i].y - 7}));
  }
  // Inside a grid the pitches follow, not the angle.
  f.pattern = HolePattern::grid;
  shape(f);
  const Feature wider = with_hole_at(f, 5, {f.at[5].x + 2, f.at[5].y + 1}, false);
  CHECK(near(wider.at[5], {f.at[5].x + 2, f.at[5].y + 1}));
  CHECK(wider.angle_deg == 15);
  f.pattern = HolePattern::places;
  f.at = {{0, 0}, {5, 5}};
  CHECK(near(with_hole_at(f, 1, {7, 8}, false).at[1], {7, 8}));
  CHECK(near(with_hole_at(f, 1, {7, 8}, false).at[0], {0, 0}));
}
