#include "formats/svg/sheet_svg.h"

#include <fmt/format.h>
#include <cmath>

namespace pecorra {
namespace {

std::string escaped(std::string_view text) {
  std::string out;
  for (const char c : text) {
    if (c == '<') out += "&lt;";
    else if (c == '&') out += "&amp;";
    else if (c == '"') out += "&quot;";
    else out += c;
  }
  return out;
}

// Lines and arcs from the tip to the shank on the right, and back on the left.
std::string outline_path(const CutterSheet& sheet, const Profile& profile) {
  std::string path;
  const auto point = [&](const ProfilePoint& p, double side) {
    const DrawPoint q = sheet.px(side * p.x, p.y);
    return fmt::format("{:.4f} {:.4f}", q.x, q.y);
  };
  const auto step = [&](const ProfileSegment& s, double side, bool backwards) {
    const ProfilePoint& to = backwards ? s.from : s.to;
    if (!s.arc) {
      path += fmt::format(" L {}", point(to, side));
      return;
    }
    const double r = std::hypot(s.from.x - s.centre.x, s.from.y - s.centre.y) * sheet.scale;
    // Anticlockwise with y upwards is sweep 0 on the screen; mirroring and going back each turn it round.
    const bool anticlockwise = ((swept_angle(s) > 0) != (side < 0)) != backwards;
    path += fmt::format(" A {:.4f} {:.4f} 0 0 {} {}", r, r, anticlockwise ? 0 : 1, point(to, side));
  };
  path = "M " + point(profile.front().from, 1);
  for (const ProfileSegment& s : profile) step(s, 1, false);
  for (auto s = profile.rbegin(); s != profile.rend(); ++s) step(*s, -1, true);
  return path + " Z";
}

}  // namespace

std::string svg_of_sheet(const CutterSheet& sheet, const SheetWish& wish) {
  std::string svg = fmt::format(
      "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0}\" height=\"{1}\" viewBox=\"0 0 {0} {1}\" "
      "font-family=\"sans-serif\" font-size=\"{2:.1f}\">\n",
      wish.width, wish.height, wish.letter_height * 0.8);
  const auto line = [&](DrawPoint a, DrawPoint b) {
    svg += fmt::format("  <line x1=\"{:.2f}\" y1=\"{:.2f}\" x2=\"{:.2f}\" y2=\"{:.2f}\"/>\n", a.x, a.y, b.x, b.y);
  };
  const auto text = [&](std::string_view said, const DrawBox& b, bool upright) {
    const double x = (b.left + b.right) / 2, y = (b.top + b.bottom) / 2;
    svg += fmt::format(
        "  <text x=\"{0:.2f}\" y=\"{1:.2f}\" text-anchor=\"middle\" dominant-baseline=\"central\" stroke=\"none\" "
        "fill=\"#26302F\"{2}>{3}</text>\n",
        x, y, upright ? fmt::format(" transform=\"rotate(-90 {:.2f} {:.2f})\"", x, y) : "", escaped(said));
  };
  if (!sheet.material.empty()) {
    svg += " <g id=\"material\" stroke=\"none\">\n";
    for (const DrawnArea& area : sheet.material) {
      std::string points;
      for (const DrawPoint& q : area.points)
        points += fmt::format("{:.2f},{:.2f} ", sheet.px(q.x, q.y).x, sheet.px(q.x, q.y).y);
      svg += fmt::format("  <polygon points=\"{}\" fill=\"{}\"/>\n", points, area.taken_away ? "#DDB84E" : "#E9DFC8");
    }
    svg += " </g>\n";
  }
  if (sheet.holder.size() > 1) {
    std::string points;
    for (const DrawPoint& q : sheet.holder)
      points += fmt::format("{:.3f},{:.3f} ", sheet.px(q.x, q.y).x, sheet.px(q.x, q.y).y);
    for (auto q = sheet.holder.rbegin(); q != sheet.holder.rend(); ++q)
      points += fmt::format("{:.3f},{:.3f} ", sheet.px(-q->x, q->y).x, sheet.px(-q->x, q->y).y);
    svg += fmt::format(" <g id=\"holder\" fill=\"#E9DFC8\" stroke=\"#6A4E36\">\n  <polygon points=\"{}\"/>\n </g>\n",
                       points);
  }
  if (!sheet.profile.empty()) {
    // What is in the holder is hidden; places that are the same have the same name.
    const double cut_off = sheet.holder.empty() ? -1 : sheet.px(0, sheet.seen_to_mm).y;
    const std::string seen = fmt::format("seen-{:.0f}", cut_off * 100);
    svg += fmt::format(" <clipPath id=\"{}\"><rect x=\"0\" y=\"{:.2f}\" width=\"{}\" height=\"{}\"/></clipPath>\n",
                       seen, cut_off, wish.width, wish.height);
    svg += fmt::format(
        " <g id=\"cutter\" clip-path=\"url(#{})\" fill=\"#FFFDF8\" stroke=\"#26302F\">\n  <path d=\"{}\"/>\n </g>\n <g "
        "id=\"flutes\" fill=\"none\" stroke=\"#2A5A7A\" stroke-opacity=\"0.45\">\n",
        seen, outline_path(sheet, sheet.profile));
    for (const auto& flute : sheet.helix) {
      std::string points;
      for (const DrawPoint& q : flute)
        points += fmt::format("{:.2f},{:.2f} ", sheet.px(q.x, q.y).x, sheet.px(q.x, q.y).y);
      svg += fmt::format("  <polyline points=\"{}\"/>\n", points);
    }
    svg += " </g>\n";
  }
  svg += " <g id=\"axis\" stroke=\"#58605C\" stroke-dasharray=\"12 3 2 3\">\n";
  line({sheet.axis_x, sheet.window.top}, {sheet.axis_x, sheet.window.bottom});
  svg += " </g>\n <g id=\"dimensions\" stroke=\"#58605C\">\n";
  for (const DimensionMark& mark : sheet.marks) {
    line(mark.from, mark.to);
    if (!mark.is_leader) {
      const double dx = mark.from.x == mark.to.x ? 4 : 0, dy = 4 - dx;
      for (const DrawPoint& end : {mark.from, mark.to}) line({end.x - dx, end.y - dy}, {end.x + dx, end.y + dy});
    }
    text(mark.text, mark.box, mark.upright);
  }
  line(sheet.bar, {sheet.bar.x + sheet.bar_mm * sheet.scale, sheet.bar.y});
  text(sheet.bar_text, sheet.bar_box, false);
  return svg + " </g>\n</svg>\n";
}

}  // namespace pecorra
