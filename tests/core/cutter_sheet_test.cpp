// The drawing as data: texts never over each other, over the outline or outside the paper, for random cutters of every
// kind and several sizes of paper; the grips move what they say; zoom and pan keep all of that.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "../support/random_cutters.h"
#include "core/cutter/name_pattern.h"
#include "core/drawing/cutter_sheet.h"

using namespace pecorra;

namespace {

struct Paper {
  double width, height;
};
constexpr Paper papers[] = {{360, 200}, {620, 420}, {1250, 780}};

Holder holder_for(const Cutter& c) {
  Holder holder;
  const double d = *c.shank_diameter_mm;
  holder.stations = {{0, d * 1.8}, {d, d * 1.8}, {d, d * 2.5}, {d * 3, d * 2.5}};
  return holder;
}

// The box round the visible outline.
DrawBox outline_box(const CutterSheet& sheet) {
  DrawBox box{1e9, 1e9, -1e9, -1e9};
  for (const ProfileSegment& s : sheet.profile)
    for (const double share : {0.0, 0.25, 0.5, 0.75, 1.0}) {
      const ProfilePoint p = point_on(s, share);
      for (const double side : {-1.0, 1.0}) {
        const DrawPoint q = sheet.px(side * p.x, std::min(p.y, sheet.seen_to_mm));
        box = {std::min(box.left, q.x), std::min(box.top, q.y), std::max(box.right, q.x), std::max(box.bottom, q.y)};
      }
    }
  return box;
}

// The first thing that is wrong with the texts of a sheet.
std::string fault_of(const CutterSheet& sheet, const Paper& paper) {
  const DrawBox whole = outline_box(sheet);
  const DrawBox outline{std::max(whole.left, sheet.window.left), std::max(whole.top, sheet.window.top),
                        std::min(whole.right, sheet.window.right), std::min(whole.bottom, sheet.window.bottom)};
  std::vector<std::pair<std::string, DrawBox>> texts;
  for (const DimensionMark& m : sheet.marks) texts.emplace_back(m.text, m.box);
  texts.emplace_back(sheet.bar_text, sheet.bar_box);
  for (std::size_t i = 0; i < texts.size(); ++i) {
    const DrawBox& b = texts[i].second;
    if (b.left < 0 || b.top < 0 || b.right > paper.width || b.bottom > paper.height)
      return texts[i].first + " leaves the paper";
    if (outline.width() > 0 && outline.height() > 0 && b.overlaps(outline))
      return texts[i].first + " is over the outline";
    for (std::size_t k = i + 1; k < texts.size(); ++k)
      if (b.overlaps(texts[k].second)) return texts[i].first + " is over " + texts[k].first;
  }
  return {};
}

}  // namespace

TEST_CASE("dimension texts never stand over each other, over the outline or outside the paper") {
  std::mt19937 random(1);
  for (const CutterKind kind : cutter_kinds()) {
    int wrong = 0;
    for (int i = 0; i < 1000; ++i) {
      Cutter c = random_cutter(kind, random);
      const Holder holder = holder_for(c);
      for (const Paper& paper : papers) {
        SheetWish wish;
        wish.width = paper.width;
        wish.height = paper.height;
        if (i % 2) {
          wish.holder = &holder;
          wish.stickout_mm = proposed_stickout_mm(c, &holder);
        }
        if (i % 3 == 0) wish.cut = {*c.diameter_mm * 0.8, *c.diameter_mm * 0.3, i % 2 == 0, false};
        if (i % 5 == 0) wish.units = UnitSystem::inch;
        const CutterSheet sheet = lay_out(c, silhouette(c), wish);
        const std::string fault = fault_of(sheet, paper);
        if (fault.empty() || ++wrong > 3) continue;
        FAIL_CHECK(suggested_name(c) << " on " << paper.width << " × " << paper.height << ": " << fault);
      }
    }
    INFO(label_of(kind));
    CHECK(wrong == 0);
  }
}

TEST_CASE("at rest the whole outline is seen, and zoomed nothing leaves its window") {
  std::mt19937 random(2);
  std::uniform_real_distribution<double> any(-1, 1);
  for (const CutterKind kind : cutter_kinds())
    for (int i = 0; i < 30; ++i) {
      const Cutter c = random_cutter(kind, random);
      SheetWish wish;
      wish.width = 620;
      wish.height = 420;
      const CutterSheet rest = lay_out(c, silhouette(c), wish);
      const DrawBox box = outline_box(rest);
      INFO(suggested_name(c));
      CHECK(box.left >= rest.window.left - 1e-6);
      CHECK(box.right <= rest.window.right + 1e-6);
      CHECK(box.top >= rest.window.top - 1e-6);
      CHECK(box.bottom <= rest.window.bottom + 1e-6);
      wish.zoom = std::exp(2 * any(random));
      wish.pan_x_mm = any(random) * *c.diameter_mm;
      wish.pan_y_mm = any(random) * *c.overall_length_mm;
      const CutterSheet zoomed = lay_out(c, silhouette(c), wish);
      CHECK(zoomed.scale == Approx(rest.scale * wish.zoom));
      CHECK(fault_of(zoomed, {620, 420}) == "");
      for (const DimensionMark& m : zoomed.marks) {
        if (m.is_leader) CHECK(zoomed.window.contains(m.from));
        else CHECK((m.from.x == m.to.x || m.from.y == m.to.y));
      }
    }
}

TEST_CASE("every size that is measured on the cutter has its dimension, at its true length") {
  for (const CutterKind kind : cutter_kinds()) {
    const Cutter c = proposed_cutter(kind, 12);
    SheetWish wish;
    wish.width = 900;
    wish.height = 700;
    const CutterSheet sheet = lay_out(c, silhouette(c), wish);
    for (const ParameterUse& use : declaration(kind).parameters) {
      if (use.dimension == Dimension::none) continue;
      const auto value = number_of(c, *find_property<Cutter>(use.key));
      if (!value) continue;
      // An edge at a right angle is a cylinder: there is no slope to point at.
      const auto mark = std::find_if(sheet.marks.begin(), sheet.marks.end(),
                                     [&](const DimensionMark& m) { return m.key == use.key; });
      INFO(label_of(kind) << " " << use.key);
      REQUIRE(mark != sheet.marks.end());
      if (use.dimension == Dimension::along_axis) CHECK(mark->from.y - mark->to.y == Approx(*value * sheet.scale));
      if (use.dimension == Dimension::across_tip) CHECK(mark->to.x - mark->from.x == Approx(*value * sheet.scale));
      if (use.dimension == Dimension::across_shank)
        CHECK(mark->from.x == Approx(sheet.axis_x + *value / 2 * sheet.scale));
    }
  }
}

TEST_CASE("a grip that is dragged to where the changed cutter has it gives the changed value") {
  const Cutter before = proposed_cutter(CutterKind::bull_nose, 20);
  SheetWish wish;
  wish.width = 620;
  wish.height = 420;
  const CutterSheet sheet = lay_out(before, silhouette(before), wish);
  for (const DimensionMark& m : sheet.marks) {
    if (m.mm_per_pixel == 0) continue;
    const Property<Cutter>& property = *find_property<Cutter>(m.key);
    Cutter after = before;
    property.set(after, *number_of(before, property) * 1.05);
    if (m.key == "diameter_mm") after.corner_radius_mm = before.corner_radius_mm;
    INFO(m.key);
    REQUIRE_FALSE(silhouette(after).empty());
    // On the same scale the grip stands elsewhere by the change.
    const double moved = (*number_of(after, property) - *number_of(before, property)) / m.mm_per_pixel;
    CHECK(std::abs(moved) > 0.01);
    CHECK((moved < 0) == m.grip_vertical);  // larger is further up, or further out
  }
  CHECK(snapped_mm(12.34, 0.02, UnitSystem::metric) == Approx(12.35));
  CHECK(snapped_mm(12.34, 0.2, UnitSystem::metric) == Approx(12.5));
  CHECK(snapped_mm(12.34, 0.4, UnitSystem::metric) == Approx(12));
  CHECK(snapped_mm(0.001, 0.4, UnitSystem::metric) == Approx(1));
  CHECK(snapped_mm(11.0, 0.1, UnitSystem::inch) == Approx(25.4 * 7 / 16));
}

TEST_CASE("flutes are drawn at the true helix angle, on the outline, leaning the way they pull") {
  Cutter c = proposed_cutter(CutterKind::end_mill, 20);
  c.helix_deg = 30;
  SheetWish wish;
  const auto slope = [&](const CutterSheet& sheet) {
    // Where an edge passes the axis: x over y there is the tangent of the helix angle.
    for (const auto& line : sheet.helix)
      for (std::size_t i = 1; i < line.size(); ++i)
        if (line[i - 1].x * line[i].x < 0) return (line[i].x - line[i - 1].x) / (line[i].y - line[i - 1].y);
    return 0.0;
  };
  CHECK(slope(lay_out(c, silhouette(c), wish)) == Approx(std::tan(std::numbers::pi / 6)).epsilon(0.03));
  c.edge_direction = EdgeDirection::down;
  CHECK(slope(lay_out(c, silhouette(c), wish)) == Approx(-std::tan(std::numbers::pi / 6)).epsilon(0.03));
  c.rotation = Rotation::counter_clockwise;  // left-hand cutting: the other way round
  CHECK(slope(lay_out(c, silhouette(c), wish)) > 0);
  const Cutter ball = proposed_cutter(CutterKind::ball, 20);
  for (const auto& line : lay_out(ball, silhouette(ball), wish).helix)
    for (const DrawPoint& p : line)
      CHECK(std::abs(p.x) <= (p.y < 10 ? std::sqrt(100 - (10 - p.y) * (10 - p.y)) : 10) + 1e-6);
}

TEST_CASE("nothing but a scale bar is laid out for a draft") {
  Cutter c = proposed_cutter(CutterKind::end_mill, 12);
  c.flute_length_mm = 1000;
  const CutterSheet sheet = lay_out(c, silhouette(c), {});
  CHECK(sheet.marks.empty());
  CHECK(sheet.helix.empty());
}
