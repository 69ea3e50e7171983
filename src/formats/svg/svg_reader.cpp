#include "formats/svg/svg_reader.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>
#include <pugixml.hpp>
#include <sstream>

#include "core/base/affine.h"
#include "core/base/whole.h"

namespace pecorra {
namespace {

using std::numbers::pi;

constexpr std::size_t largest_file = 16u << 20;
constexpr int deepest = 64;
constexpr std::size_t most_svg_vertices = 200000;

// Numbers of a list, separated by blanks or commas, run together where SVG allows it ("1-2", ".5.5").
class Numbers {
 public:
  explicit Numbers(std::string_view text) : text_(text) {}
  void skip() {
    while (at_ < text_.size() && (std::isspace(static_cast<unsigned char>(text_[at_])) || text_[at_] == ',')) ++at_;
  }
  bool done() {
    skip();
    return at_ >= text_.size();
  }
  char letter() {
    skip();
    return at_ < text_.size() && std::isalpha(static_cast<unsigned char>(text_[at_])) ? text_[at_++] : '\0';
  }
  bool at_number() {
    skip();
    return at_ < text_.size() && (std::isdigit(static_cast<unsigned char>(text_[at_])) || text_[at_] == '-' ||
                                  text_[at_] == '+' || text_[at_] == '.');
  }
  std::optional<double> number() {
    skip();
    std::size_t end = at_;
    if (end < text_.size() && (text_[end] == '-' || text_[end] == '+')) ++end;
    bool point = false, digits = false;
    while (end < text_.size() &&
           (std::isdigit(static_cast<unsigned char>(text_[end])) || (text_[end] == '.' && !point))) {
      point = point || text_[end] == '.';
      digits = digits || text_[end] != '.';
      ++end;
    }
    if (!digits) return std::nullopt;
    if (end + 1 < text_.size() && (text_[end] == 'e' || text_[end] == 'E') &&
        (std::isdigit(static_cast<unsigned char>(text_[end + 1])) ||
         ((text_[end + 1] == '-' || text_[end + 1] == '+') && end + 2 < text_.size() &&
          std::isdigit(static_cast<unsigned char>(text_[end + 2]))))) {
      end += 2;
      while (end < text_.size() && std::isdigit(static_cast<unsigned char>(text_[end]))) ++end;
    }
    std::istringstream in{std::string(text_.substr(at_, end - at_))};
    in.imbue(std::locale::classic());
    double value = 0;
    in >> value;
    at_ = end;
    return std::isfinite(value) && !in.fail() ? std::optional(value) : std::nullopt;
  }
  // An arc's flag: a single 0 or 1, perhaps with nothing behind it.
  std::optional<bool> flag() {
    skip();
    if (at_ >= text_.size() || (text_[at_] != '0' && text_[at_] != '1')) return std::nullopt;
    return text_[at_++] == '1';
  }

 private:
  std::string_view text_;
  std::size_t at_ = 0;
};

// Without a prefix, as some programs write one.
std::string_view local_name(const pugi::xml_node& node) {
  const std::string_view name = node.name();
  const std::size_t colon = name.find(':');
  return colon == std::string_view::npos ? name : name.substr(colon + 1);
}

class SvgReader {
 public:
  explicit SvgReader(double tolerance) : tolerance_(tolerance) {}
  std::string fault;
  Drawing drawing;

  void element(const pugi::xml_node& node, const Affine& outer, int depth) {
    if (depth > deepest) fault = fmt::format("The SVG file is nested more than {} levels deep.", deepest);
    if (!fault.empty()) return;
    const std::string_view name = local_name(node);
    for (const char* unseen : {"defs", "clipPath", "mask", "symbol", "metadata"})
      if (name == unseen) return;
    Affine m = outer;
    if (const auto text = attribute(node, "transform")) m = outer * transform(*text);
    matrix_ = m;
    if (name == "path") path(attribute(node, "d").value_or(""));
    else if (name == "line")
      lines({{number(node, "x1"), number(node, "y1")}, {number(node, "x2"), number(node, "y2")}}, false);
    else if (name == "polyline" || name == "polygon") points(attribute(node, "points").value_or(""), name == "polygon");
    else if (name == "rect") {
      const double x = number(node, "x"), y = number(node, "y"), w = number(node, "width"), h = number(node, "height");
      if (w > 0 && h > 0) lines({{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}, true);
    } else if (name == "circle") {
      const Point2 centre = m(number(node, "cx"), number(node, "cy"));
      if (const double r = number(node, "r"); r > 0) drawing.add_circle(centre, 2 * r * m.scale());
    }
    for (const pugi::xml_node& child : node.children())
      if (child.type() == pugi::node_element) element(child, m, depth + 1);
  }

 private:
  static std::optional<std::string> attribute(const pugi::xml_node& node, const char* key) {
    const pugi::xml_attribute found = node.attribute(key);
    return found ? std::optional<std::string>(found.value()) : std::nullopt;
  }
  static double number(const pugi::xml_node& node, const char* key) {
    return Numbers(node.attribute(key).as_string("0")).number().value_or(0);
  }

  static Affine transform(const std::string& text) {
    Affine m;
    std::size_t at = 0;
    while (at < text.size()) {
      const std::size_t open = text.find('(', at), close = text.find(')', at);
      if (open == std::string::npos || close == std::string::npos || close < open) break;
      std::string name = text.substr(at, open - at);
      std::erase_if(name, [](char c) { return !std::isalpha(static_cast<unsigned char>(c)); });
      Numbers list(std::string_view(text).substr(open + 1, close - open - 1));
      std::vector<double> v;
      while (list.at_number()) {
        const auto n = list.number();
        if (!n) break;
        v.push_back(*n);
      }
      Affine one;
      if (name == "matrix" && v.size() == 6) one = {v[0], v[1], v[2], v[3], v[4], v[5]};
      else if (name == "translate" && !v.empty()) one.e = v[0], one.f = v.size() > 1 ? v[1] : 0;
      else if (name == "scale" && !v.empty()) one.a = v[0], one.d = v.size() > 1 ? v[1] : v[0];
      else if (name == "rotate" && !v.empty()) {
        const double c = std::cos(v[0] * pi / 180), s = std::sin(v[0] * pi / 180);
        one = {c, s, -s, c, 0, 0};
        if (v.size() == 3) one = Affine{1, 0, 0, 1, v[1], v[2]} * one * Affine{1, 0, 0, 1, -v[1], -v[2]};
      } else if (name == "skewX" && v.size() == 1) one.c = std::tan(v[0] * pi / 180);
      else if (name == "skewY" && v.size() == 1) one.b = std::tan(v[0] * pi / 180);
      m = m * one;
      at = close + 1;
    }
    return m;
  }

  void lines(const std::vector<Point2>& list, bool closed) {
    Contour contour;
    contour.closed = closed;
    for (const Point2& p : list) {
      const Point2 q = matrix_(p.x, p.y);
      contour.vertices.push_back({q.x, q.y, 0});
    }
    keep(std::move(contour));
  }

  void points(const std::string& text, bool closed) {
    Numbers list(text);
    std::vector<Point2> all;
    while (list.at_number()) {
      const auto x = list.number(), y = list.number();
      if (!x || !y) break;
      all.push_back({*x, *y});
    }
    lines(all, closed);
  }

  void keep(Contour contour) {
    if (contour.vertices.size() < 2) return;
    vertices_ += contour.vertices.size();
    if (vertices_ > most_svg_vertices)
      fault = "The SVG file has more points than an outline needs; at most 200000 are read.";
    else drawing.add_line(std::move(contour));
  }

  void line_to(Contour& c, Point2 p) {
    if (c.vertices.size() > most_svg_vertices) return;  // told when the line is kept
    const Point2 q = matrix_(p.x, p.y);
    c.vertices.push_back({q.x, q.y, 0});
  }

  void cubic(Contour& contour, Point2 p0, Point2 p1, Point2 p2, Point2 p3) {
    // Enough chords: the second differences bound the distance from the curve.
    const double dx = std::max(std::abs(p0.x - 2 * p1.x + p2.x), std::abs(p1.x - 2 * p2.x + p3.x)),
                 dy = std::max(std::abs(p0.y - 2 * p1.y + p2.y), std::abs(p1.y - 2 * p2.y + p3.y));
    if (contour.vertices.size() > most_svg_vertices) return;
    const int parts =
        whole_within(std::ceil(std::sqrt(0.75 * std::hypot(dx, dy) * matrix_.scale() / tolerance_)), 1, 2000);
    for (int i = 1; i <= parts; ++i) {
      const double t = static_cast<double>(i) / parts, s = 1 - t;
      line_to(contour, {s * s * s * p0.x + 3 * s * s * t * p1.x + 3 * s * t * t * p2.x + t * t * t * p3.x,
                        s * s * s * p0.y + 3 * s * s * t * p1.y + 3 * s * t * t * p2.y + t * t * t * p3.y});
    }
  }

  // Endpoint form to centre form, as the SVG specification has it (appendix on elliptical arcs).
  void arc(Contour& contour, Point2 from, double rx, double ry, double turn_deg, bool large, bool sweep, Point2 to) {
    rx = std::abs(rx);
    ry = std::abs(ry);
    if (rx == 0 || ry == 0 || (from.x == to.x && from.y == to.y)) return line_to(contour, to);
    const double phi = turn_deg * pi / 180, c = std::cos(phi), s = std::sin(phi);
    const double x = c * (from.x - to.x) / 2 + s * (from.y - to.y) / 2,
                 y = -s * (from.x - to.x) / 2 + c * (from.y - to.y) / 2;
    const double grow = x * x / (rx * rx) + y * y / (ry * ry);
    if (grow > 1) {
      rx *= std::sqrt(grow);
      ry *= std::sqrt(grow);
    }
    const double square =
        std::max(0.0, (rx * rx * ry * ry - rx * rx * y * y - ry * ry * x * x) / (rx * rx * y * y + ry * ry * x * x));
    const double factor = (large != sweep ? 1 : -1) * std::sqrt(square);
    const double cx1 = factor * rx * y / ry, cy1 = -factor * ry * x / rx;
    const double cx = c * cx1 - s * cy1 + (from.x + to.x) / 2, cy = s * cx1 + c * cy1 + (from.y + to.y) / 2;
    const double a0 = std::atan2((y - cy1) / ry, (x - cx1) / rx);
    double way = std::atan2((-y - cy1) / ry, (-x - cx1) / rx) - a0;
    if (sweep && way < 0) way += 2 * pi;
    if (!sweep && way > 0) way -= 2 * pi;
    const bool circle = std::abs(rx - ry) < 1e-9 * rx && matrix_.keeps_arcs();
    const int parts =
        circle ? (std::abs(way) > pi * 0.999 ? 2 : 1)
               : whole_within(
                     std::ceil(std::abs(way) /
                               (2 * std::acos(std::max(
                                        0.0, 1 - std::min(1.0, tolerance_ / (std::max(rx, ry) * matrix_.scale())))))),
                     2, 2000);
    for (int i = 1; i <= parts; ++i) {
      if (circle) contour.vertices.back().bulge = std::tan(way / parts / 4) * (matrix_.mirrors() ? -1 : 1);
      const double a = a0 + way * i / parts;
      if (i == parts) line_to(contour, to);
      else
        line_to(contour,
                {cx + c * rx * std::cos(a) - s * ry * std::sin(a), cy + s * rx * std::cos(a) + c * ry * std::sin(a)});
    }
  }

  void path(const std::string& text) {
    Numbers list(text);
    Contour contour;
    Point2 at, start, control;
    char command = '\0', before = '\0';
    const auto finish = [&](bool closed) {
      if (closed && contour.vertices.size() > 2) {
        const Vertex &a = contour.vertices.front(), &b = contour.vertices.back();
        if (std::hypot(a.x - b.x, a.y - b.y) < 1e-9) contour.vertices.pop_back();
        contour.closed = true;
      }
      keep(std::move(contour));
      contour = {};
    };
    while (!list.done() && fault.empty()) {
      if (const char letter = list.letter()) command = letter;
      else if (command == '\0' || !list.at_number()) break;
      else if (command == 'M') command = 'L';  // more pairs behind a move are lines
      else if (command == 'm') command = 'l';
      const bool relative = command >= 'a';
      const char kind = static_cast<char>(std::toupper(command));
      const auto pair = [&]() -> std::optional<Point2> {
        const auto x = list.number(), y = list.number();
        if (!x || !y) return std::nullopt;
        return relative ? Point2{at.x + *x, at.y + *y} : Point2{*x, *y};
      };
      if (kind == 'Z') {
        finish(true);
        at = start;
        command = '\0';
        before = 'Z';
        continue;
      }
      if (kind == 'M') {
        const auto p = pair();
        if (!p) break;
        finish(false);
        at = start = *p;
        before = kind;
        continue;
      }
      if (contour.vertices.empty()) line_to(contour, at);
      if (kind == 'L') {
        const auto p = pair();
        if (!p) break;
        line_to(contour, at = *p);
      } else if (kind == 'H' || kind == 'V') {
        const auto v = list.number();
        if (!v) break;
        if (kind == 'H') at.x = relative ? at.x + *v : *v;
        else at.y = relative ? at.y + *v : *v;
        line_to(contour, at);
      } else if (kind == 'C' || kind == 'S') {
        Point2 first = before == 'C' || before == 'S' ? Point2{2 * at.x - control.x, 2 * at.y - control.y} : at;
        if (kind == 'C') {
          const auto p = pair();
          if (!p) break;
          first = *p;
        }
        const auto second = pair(), end = pair();
        if (!second || !end) break;
        cubic(contour, at, first, *second, *end);
        control = *second;
        at = *end;
      } else if (kind == 'Q' || kind == 'T') {
        Point2 middle = before == 'Q' || before == 'T' ? Point2{2 * at.x - control.x, 2 * at.y - control.y} : at;
        if (kind == 'Q') {
          const auto p = pair();
          if (!p) break;
          middle = *p;
        }
        const auto end = pair();
        if (!end) break;
        cubic(contour, at, {at.x + (middle.x - at.x) * 2 / 3, at.y + (middle.y - at.y) * 2 / 3},
              {end->x + (middle.x - end->x) * 2 / 3, end->y + (middle.y - end->y) * 2 / 3}, *end);
        control = middle;
        at = *end;
      } else if (kind == 'A') {
        const auto rx = list.number(), ry = list.number(), turn = list.number();
        const auto large = list.flag(), sweep = list.flag();
        const auto end = pair();
        if (!rx || !ry || !turn || !large || !sweep || !end) break;
        arc(contour, at, *rx, *ry, *turn, *large, *sweep, *end);
        at = *end;
      } else {
        fault =
            std::string("A path has the unknown command “") + command + "”; M, L, H, V, C, S, Q, T, A and Z are read.";
        return;
      }
      before = kind;
    }
    finish(false);
  }

  double tolerance_;
  Affine matrix_;
  std::size_t vertices_ = 0;
};

// Millimetres per unit of a length such as “120mm”; nothing without a unit that has a size.
std::optional<double> length_mm(const std::string& text) {
  Numbers number(text);
  const auto value = number.number();
  if (!value || *value <= 0) return std::nullopt;
  const std::size_t at = text.find_last_not_of("abcdefghijklmnopqrstuvwxyz% ");
  std::string unit = text.substr(at + 1);
  std::erase(unit, ' ');
  if (unit == "mm") return *value;
  if (unit == "cm") return *value * 10;
  if (unit == "in") return *value * 25.4;
  if (unit == "pt") return *value * 25.4 / 72;
  return std::nullopt;
}

}  // namespace

tl::expected<SvgReading, SvgFault> read_svg(std::string_view text, double tolerance_mm) {
  if (text.size() > largest_file)
    return tl::unexpected(SvgFault{"The file is larger than 16 MB; save only the outline."});
  pugi::xml_document document;
  if (!document.load_buffer(text.data(), text.size()))
    return tl::unexpected(SvgFault{"This is not an SVG file: its XML is broken."});
  const pugi::xml_node svg = document.document_element();
  if (local_name(svg) != "svg") return tl::unexpected(SvgFault{"This is not an SVG file: it has no svg element."});
  // A user unit's size follows from width and viewBox.
  SvgReading reading;
  double size = 1;
  const auto width = length_mm(svg.attribute("width").value());
  const std::string box = svg.attribute("viewBox").value();
  if (width) {
    Numbers list(box);
    list.number();
    list.number();
    const auto across = list.number();
    if (across && *across > 0) {
      size = *width / *across;
      reading.unit_known = true;
    } else {
      size = 25.4 / 96;  // without a viewBox a user unit is a pixel of 1/96 inch
      reading.unit_known = true;
    }
  }
  SvgReader reader(tolerance_mm);
  reader.element(svg, {size, 0, 0, -size, 0, 0}, 0);
  if (!reader.fault.empty()) return tl::unexpected(SvgFault{reader.fault});
  if (reader.drawing.lines.empty())
    return tl::unexpected(
        SvgFault{"The SVG file has no outline; paths, lines, polylines, polygons, rectangles and circles are read."});
  reading.drawing = std::move(reader.drawing);
  return reading;
}

}  // namespace pecorra
