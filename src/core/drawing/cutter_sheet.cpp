#include "core/drawing/cutter_sheet.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <utility>

#include "core/quantity/print.h"

namespace pecorra {
namespace {

using std::numbers::pi;

constexpr double gap = 4;               // between items that must not touch
constexpr double most_of_width = 0.45;  // that lanes of level text may take

// The outline's radius at rising heights, in one pass.
class Radii {
 public:
  explicit Radii(const Profile& profile) : profile_(profile) {}
  double at(double y) {
    while (i_ + 1 < profile_.size() && std::max(profile_[i_].from.y, profile_[i_].to.y) < y) ++i_;
    const ProfileSegment& s = profile_[i_];
    const double dy = s.to.y - s.from.y;
    if (!s.arc) return dy == 0 ? s.to.x : s.from.x + (s.to.x - s.from.x) * std::clamp((y - s.from.y) / dy, 0.0, 1.0);
    const double r2 =
        (s.from.x - s.centre.x) * (s.from.x - s.centre.x) + (s.from.y - s.centre.y) * (s.from.y - s.centre.y);
    const double across = std::sqrt(std::max(0.0, r2 - (y - s.centre.y) * (y - s.centre.y)));
    return (s.from.x + s.to.x) / 2 >= s.centre.x ? s.centre.x + across : s.centre.x - across;
  }

 private:
  const Profile& profile_;
  std::size_t i_ = 0;
};

// Each flute's edge rises one lead per turn; what is in front is drawn, at the helix angle where it passes the axis.
void add_helix(CutterSheet& sheet, const Cutter& c, double cutting_low, double cutting_high) {
  const double helix = c.helix_deg.value_or(0), r = *c.diameter_mm / 2;
  if (helix <= 0 || helix > 80 || cutting_high <= cutting_low) return;
  const double lead = 2 * pi * r / std::tan(helix * pi / 180);
  const int flutes = std::clamp(c.flutes.value_or(2), 1, 12);
  constexpr int steps = 14;
  std::array<double, 8 * steps + 1> heights, radii;
  const double turns = (cutting_high - cutting_low) / lead;
  const int samples = std::clamp(static_cast<int>(turns * 2 * steps) + 4, 6, 8 * steps);
  Radii outline(sheet.profile);
  for (int i = 0; i <= samples; ++i) {
    heights[static_cast<std::size_t>(i)] = cutting_low + (cutting_high - cutting_low) * i / samples;
    radii[static_cast<std::size_t>(i)] = std::min(outline.at(heights[static_cast<std::size_t>(i)]), 4 * r);
  }
  const bool left = (c.edge_direction == EdgeDirection::down) != (c.rotation == Rotation::counter_clockwise);
  for (int flute = 0; flute < flutes; ++flute) {
    // Turn the edge by recurrence: one sine and cosine for all samples of a flute.
    const double step = 2 * pi * turns / samples,
                 start = 2 * pi * (cutting_low / lead + static_cast<double>(flute) / flutes);
    double sine = std::sin(start), cosine = std::cos(start);
    const double ds = std::sin(step), dc = std::cos(step);
    std::vector<DrawPoint> line;
    for (int i = 0; i <= samples; ++i) {
      const double y = heights[static_cast<std::size_t>(i)];
      const bool mirrored =
          left != (c.edge_direction == EdgeDirection::compression && y > (cutting_low + 2 * cutting_high) / 3);
      if (sine >= 0) line.push_back({radii[static_cast<std::size_t>(i)] * (mirrored ? cosine : -cosine), y});
      if ((sine < 0 || i == samples) && line.size() > 1) sheet.helix.push_back(std::exchange(line, {}));
      if (sine < 0) line.clear();
      const double next = sine * dc + cosine * ds;
      cosine = cosine * dc - sine * ds;
      sine = next;
    }
  }
}

// The work: a wall with its floor, a hole, or what is left beside and below a cut of this depth and width.
void add_material(CutterSheet& sheet, const Cutter& c, const SheetWish& wish) {
  const DrawBox& w = sheet.window;
  const double r = *c.diameter_mm / 2, right = (w.right + 4 - sheet.axis_x) / sheet.scale;
  const double left = std::max(-1.8 * r, (w.left - 4 - sheet.axis_x) / sheet.scale),
               bottom = std::min(0.0, (sheet.tip_y - w.bottom - 4) / sheet.scale);
  if (wish.wall) {
    const double h = wish.wall->height_mm, top_x = r + h * std::tan(wish.wall->draft_deg * pi / 180);
    sheet.material.push_back(
        {{{r, 0}, {top_x, h}, {std::max(right, top_x), h}, {right, bottom}, {left, bottom}, {left, 0}}});
  } else if (wish.cut.hole) {
    const double depth = std::min(r * 4, c.flute_length_mm.value_or(r) * 0.7);
    sheet.material.push_back(
        {{{r, depth}, {right, depth}, {right, bottom}, {left, bottom}, {left, depth}, {-r, depth}, {-r, 0}, {r, 0}}});
  } else if (wish.cut.ap_mm && wish.cut.ae_mm) {
    const double ap = *wish.cut.ap_mm, ae = *wish.cut.ae_mm;
    sheet.material.push_back({{{r, ap}, {right, ap}, {right, bottom}, {left, bottom}, {left, 0}, {r, 0}}});
    if (wish.cut.both_sides) sheet.material.push_back({{{left, ap}, {-r, ap}, {-r, 0}, {left, 0}}});
    sheet.material.push_back({{{r - ae, ap}, {r, ap}, {r, 0}, {r - ae, 0}}, true});
  }
}

struct Label {
  std::string_view key;
  std::string text;
  DrawPoint at;  // in mm
  double mm_per_pixel_x = 0, mm_per_pixel_y = 0;
};

// Where the leader of a parameter touches the outline.
std::optional<DrawPoint> anchor(const Cutter& c, const Profile& profile, Dimension dimension, double value,
                                double seen) {
  const double flutes = c.flute_length_mm.value_or(0), reach = std::max(flutes, c.reach_mm.value_or(flutes));
  double sections = reach;
  for (const ShankSection& s : c.shank_sections) sections += s.length_mm;
  const ProfileSegment* found = nullptr;
  switch (dimension) {
    case Dimension::across_end: return DrawPoint{value / 2, 0};
    case Dimension::across_step: return DrawPoint{value / 2, c.step_length_mm.value_or(0) * 0.7};
    case Dimension::across_neck:
      return reach > flutes ? std::optional(DrawPoint{value / 2, (flutes + std::min(reach, seen)) / 2}) : std::nullopt;
    case Dimension::across_shank:
      return sections < seen ? std::optional(DrawPoint{value / 2, (sections + seen) / 2}) : std::nullopt;
    case Dimension::corner:
      for (const ProfileSegment& s : profile)
        if (s.arc && s.role == ProfileRole::cutting && (!found || length_of(s) < length_of(*found))) found = &s;
      break;
    case Dimension::profile_radius:
      for (const ProfileSegment& s : profile)
        if (s.arc && s.role == ProfileRole::cutting && (!found || length_of(s) > length_of(*found))) found = &s;
      break;
    case Dimension::point_angle:
    case Dimension::flank_angle:
      // The lowest or the highest slope of the cutting part.
      for (const ProfileSegment& s : profile)
        if (!s.arc && s.role == ProfileRole::cutting && s.from.x != s.to.x && s.from.y != s.to.y &&
            (!found || dimension == Dimension::flank_angle))
          found = &s;
      break;
    case Dimension::pitch:
      for (const ProfileSegment& s : profile)
        if (!s.arc && s.role == ProfileRole::cutting && s.from.x != s.to.x && s.from.y != s.to.y &&
            s.from.y > flutes * 0.5 && !found)
          found = &s;
      break;
    default: return std::nullopt;
  }
  if (!found) return std::nullopt;
  const ProfilePoint p = point_on(*found, 0.5);
  return DrawPoint{p.x, p.y};
}

// Labels top down, none nearer than `spacing`, all between `top` and `bottom` while there is room.
void stack(std::vector<double>& y, double spacing, double top, double bottom) {
  double next = top;
  for (double& at : y) next = (at = std::max(at, next)) + spacing;
  double last = bottom;
  for (auto at = y.rbegin(); at != y.rend(); ++at) last = (*at = std::min(*at, last)) - spacing;
}

}  // namespace

double nice_length(double longest) {
  const double power = std::pow(10, std::floor(std::log10(longest)));
  for (const double step : {5.0, 2.0, 1.0})
    if (step * power <= longest) return step * power;
  return power;
}

double snapped_mm(double value, double mm_per_pixel, UnitSystem units) {
  const double least = 2 * std::abs(mm_per_pixel);
  double step = 0.01;
  if (is_inch(units)) {
    step = mm_per_inch / 4;
    while (step > least && step > mm_per_inch / 128) step /= 2;
    if (step < least) step *= 2;
  } else {
    for (const double s : {0.01, 0.05, 0.1, 0.5, 1.0, 5.0, 10.0})
      if ((step = s) >= least) break;
  }
  return std::max(step, std::round(value / step) * step);
}

CutterSheet lay_out(const Cutter& c, Profile profile, const SheetWish& wish) {
  CutterSheet sheet;
  sheet.profile = std::move(profile);
  const double letter = wish.letter_height;
  const auto width_of = [&](std::string_view text) {
    return wish.text_width ? wish.text_width(text) : 0.6 * letter * static_cast<double>(text.size());
  };
  const auto print = [&](const Property<Cutter>& property, double value) {
    std::string text(property.symbol);
    text += ' ';
    text += shown(value, property.quantity, wish.units);
    if (property.quantity == Quantity::angle) text += "°";
    return text;
  };
  const bool empty = sheet.profile.empty();
  const double overall = c.overall_length_mm.value_or(0);
  const bool held = !empty && wish.holder && wish.holder->stations.size() > 1 && wish.stickout_mm;
  const bool extended =
      held && wish.extension_diameter_mm && wish.extension_length_mm && *wish.extension_length_mm < *wish.stickout_mm;
  const double stickout =
      held ? std::min(*wish.stickout_mm, overall + (extended ? *wish.extension_length_mm : 0)) : overall;
  const double seen = extended ? stickout - *wish.extension_length_mm : stickout;
  sheet.seen_to_mm = seen;

  // The dimensions: lengths, and labels with a leader.
  struct Along {
    std::string_view key;
    std::string text;
    double length, width;
  };
  std::vector<Along> along;
  std::vector<Label> labels;
  double widest = 0, cutting_low = 1e9, cutting_high = 0;
  for (const ProfileSegment& s : sheet.profile) {
    widest = std::max({widest, s.from.x, s.to.x});
    if (s.role == ProfileRole::cutting) {
      cutting_low = std::min({cutting_low, s.from.y, s.to.y});
      cutting_high = std::max({cutting_high, s.from.y, s.to.y});
    }
  }
  const KindDeclaration& kind = declaration(c.kind);
  if (!empty)
    for (const ParameterUse& use : kind.parameters) {
      if (use.dimension == Dimension::none || use.dimension == Dimension::across_tip) continue;
      const Property<Cutter>& property = *find_property<Cutter>(use.key);
      const auto value = number_of(c, property);
      if (!value) continue;
      if (use.dimension == Dimension::along_axis) {
        if (held && *value > seen) continue;
        std::string text = print(property, *value);
        const double w = width_of(text);
        along.push_back({property.key, std::move(text), *value, w});
      } else if (const auto at = anchor(c, sheet.profile, use.dimension, *value, seen); at && at->y <= seen) {
        Label label{property.key, print(property, *value), *at, 0, 0};
        if (use.dimension == Dimension::across_neck || use.dimension == Dimension::across_shank ||
            use.dimension == Dimension::across_end || use.dimension == Dimension::across_step)
          label.mm_per_pixel_x = 2;
        else if (use.dimension == Dimension::corner)
          label.mm_per_pixel_y = 1 / 0.293;  // the middle of the arc rises by 1 − cos 45°
        labels.push_back(std::move(label));
      }
    }
  if (held) {
    std::string text = "LPR " + shown(stickout, Quantity::length, wish.units);
    const double w = width_of(text);
    along.push_back({"stickout_mm", std::move(text), stickout, w});
  }
  if (!empty && wish.wall) {
    std::string text = wish.wall_word + " " + shown(wish.wall->height_mm, Quantity::length, wish.units);
    const double w = width_of(text);
    along.push_back({"wall_height_mm", std::move(text), wish.wall->height_mm, w});
  }
  std::stable_sort(along.begin(), along.end(), [](const Along& a, const Along& b) { return a.length < b.length; });
  if (!empty && wish.cut.ap_mm && wish.cut.ae_mm && !wish.cut.hole) {
    const double r = c.diameter_mm.value_or(0) / 2, ap = std::min(*wish.cut.ap_mm, seen);
    labels.push_back({"ap_mm", "ap " + shown(*wish.cut.ap_mm, Quantity::length, wish.units), {r, ap}, 0, 1});
    labels.push_back({"ae_mm",
                      "ae " + shown(*wish.cut.ae_mm, Quantity::length, wish.units),
                      {r - std::min(*wish.cut.ae_mm, 2 * r), ap * 0.25},
                      wish.cut.both_sides ? 0.0 : -1.0,
                      0});
  }

  // Margins. Level text where it leaves enough width, else it runs upwards along its line.
  double level = gap, label_width = 0;
  for (const Along& a : along) level += a.width + 16;
  for (const Label& l : labels) label_width = std::max(label_width, width_of(l.text));
  const bool upright = level > std::min(wish.width * most_of_width, wish.width - label_width - 140);
  const double lane = letter + 6;
  const double left = upright ? gap + lane * static_cast<double>(along.size()) + 6 : level + 6;
  const double right = label_width > 0 ? label_width + 26 : 12;
  const double bottom = 2 * letter + 16, top = 6;
  sheet.window = {std::min(left, wish.width - 20), top, std::max(left + 10, wish.width - right),
                  std::max(top + 10, wish.height - bottom)};

  // Scale.
  const double seen_above =
      held ? std::min(wish.holder->stations.back().distance_mm, std::max(8.0, stickout * 0.3)) : 0;
  if (held) {
    double last = 0;
    if (extended) {
      const double r = *wish.extension_diameter_mm / 2;
      sheet.holder = {{r, seen}, {r, stickout}};
      widest = std::max(widest, r);
    }
    for (const Station& s : wish.holder->stations) {
      if (s.distance_mm > seen_above) break;
      sheet.holder.push_back({s.diameter_mm / 2, stickout + s.distance_mm});
      widest = std::max(widest, s.diameter_mm / 2);
      last = s.diameter_mm / 2;
    }
    // Its first station may lie above the visible part.
    if (!sheet.holder.empty() && sheet.holder.back().y < stickout + seen_above - 1e-9)
      sheet.holder.push_back({last, stickout + seen_above});
  }
  double beside = widest;
  if (wish.wall)
    beside = std::max(
        beside, c.diameter_mm.value_or(0) / 2 + wish.wall->height_mm * std::tan(wish.wall->draft_deg * pi / 180) + 4);
  else if (wish.cut.ap_mm || wish.cut.hole) beside = std::max(beside, c.diameter_mm.value_or(0) * 0.8);
  const double tall = std::max(stickout + seen_above, wish.wall ? wish.wall->height_mm : 0);
  if (tall > 0 && widest > 0) {
    const double floor_room = std::min(12.0, sheet.window.height() * 0.1);
    const double fit = std::min((sheet.window.height() - floor_room) / tall, sheet.window.width() / (widest + beside));
    sheet.scale = fit * std::max(0.05, wish.zoom);
    const double middle_x = (beside - widest) / 2 + wish.pan_x_mm,
                 middle_y = tall / 2 - floor_room / fit / 2 + wish.pan_y_mm;
    sheet.axis_x = (sheet.window.left + sheet.window.right) / 2 - middle_x * sheet.scale;
    sheet.tip_y = (sheet.window.top + sheet.window.bottom) / 2 + middle_y * sheet.scale;
  }
  const DrawBox& w = sheet.window;
  const auto inside_y = [&](double y) { return std::clamp(y, w.top, w.bottom); };
  const auto inside_x = [&](double x) { return std::clamp(x, w.left, w.right); };

  // Lengths, the shortest nearest to the cutter.
  double lane_x = w.left - 8;
  for (Along& a : along) {
    DimensionMark mark;
    mark.key = a.key;
    mark.from = {lane_x, inside_y(sheet.tip_y)};
    mark.to = {lane_x, inside_y(sheet.px(0, a.length).y)};
    mark.grip = mark.to;
    mark.grip_vertical = true;
    mark.mm_per_pixel = -1 / sheet.scale;
    const double middle = std::max((mark.from.y + mark.to.y) / 2, letter / 2 + 1);
    mark.upright = upright;
    if (upright) {
      const double y = std::clamp(middle, a.width / 2 + 2, std::max(a.width / 2 + 2, w.bottom - a.width / 2));
      mark.box = {lane_x - 3 - letter, y - a.width / 2, lane_x - 3, y + a.width / 2};
      lane_x -= lane;
    } else {
      mark.box = {lane_x - 5 - a.width, middle - letter / 2, lane_x - 5, middle + letter / 2};
      lane_x -= a.width + 16;
    }
    mark.text = std::move(a.text);
    sheet.marks.push_back(std::move(mark));
  }

  // Labels, from the top down.
  std::stable_sort(labels.begin(), labels.end(), [](const Label& a, const Label& b) { return a.at.y > b.at.y; });
  std::vector<double> heights;
  for (const Label& l : labels) heights.push_back(inside_y(sheet.px(0, l.at.y).y));
  stack(heights, letter + 3, w.top + letter / 2, w.bottom - letter / 2);
  for (std::size_t i = 0; i < labels.size(); ++i) {
    Label& l = labels[i];
    DimensionMark mark;
    mark.key = l.key;
    mark.is_leader = true;
    const DrawPoint at = sheet.px(l.at.x, l.at.y);
    mark.from = {inside_x(at.x), inside_y(at.y)};
    mark.to = {w.right + 14, heights[i]};
    mark.box = {w.right + 18, heights[i] - letter / 2, w.right + 18 + width_of(l.text), heights[i] + letter / 2};
    mark.grip = mark.from;
    mark.grip_vertical = l.mm_per_pixel_y != 0;
    mark.mm_per_pixel = mark.grip_vertical ? -l.mm_per_pixel_y / sheet.scale : l.mm_per_pixel_x / sheet.scale;
    mark.text = std::move(l.text);
    sheet.marks.push_back(std::move(mark));
  }

  // The diameter below.
  if (!empty) {
    const double r = *c.diameter_mm / 2, y = w.bottom + 6;
    DimensionMark mark;
    mark.key = "diameter_mm";
    mark.text = print(*find_property<Cutter>("diameter_mm"), 2 * r);
    mark.from = {inside_x(sheet.px(-r, 0).x), y};
    mark.to = {inside_x(sheet.px(r, 0).x), y};
    const double length = width_of(mark.text), middle = (mark.from.x + mark.to.x) / 2;
    const double x = std::clamp(middle - length / 2, 2.0, std::max(2.0, wish.width - length - 2));
    mark.box = {x, y + 4, x + length, y + 4 + letter};
    mark.grip = mark.to;
    mark.mm_per_pixel = 2 / sheet.scale;
    sheet.marks.push_back(std::move(mark));
  }
  if (!empty) add_helix(sheet, c, std::max(0.0, cutting_low), std::min(cutting_high, seen));
  if (!empty) add_material(sheet, c, wish);

  // The scale bar goes into the last line.
  const double unit = is_inch(wish.units) ? mm_per_inch : 1;
  sheet.bar_mm = nice_length(std::max(30.0, std::min(60.0, wish.width / 5)) / sheet.scale / unit) * unit;
  sheet.bar = {8, wish.height - 4};
  sheet.bar_text = shown_with_unit(sheet.bar_mm, Quantity::length, wish.units);
  const double bar_end = sheet.bar.x + sheet.bar_mm * sheet.scale + 5;
  sheet.bar_box = {bar_end, wish.height - 2 - letter, bar_end + width_of(sheet.bar_text), wish.height - 2};
  return sheet;
}

}  // namespace pecorra
