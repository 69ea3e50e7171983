#include "formats/dxf/dxf_reader.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <numbers>
#include <optional>
#include <set>

#include "core/base/affine.h"
#include "core/base/whole.h"

// A reader of our own: the packaged DXF library keeps coordinates as 32-bit floats, which is too coarse far from the
// origin.

namespace pecorra {
namespace {

using std::numbers::pi;
constexpr int deepest_insert = 16;
constexpr std::size_t most_pieces = 500000, most_vertices = 2000000, most_curve_points = 6000000;

struct Tag {
  int code;
  std::string_view value;
};
using Tags = std::vector<Tag>;

std::string_view trimmed(std::string_view s) {
  while (!s.empty() && (s.front() == ' ' || s.front() == '\t')) s.remove_prefix(1);
  while (!s.empty() && (s.back() == ' ' || s.back() == '\t' || s.back() == '\r')) s.remove_suffix(1);
  return s;
}

double to_number(std::string_view text) {
  text = trimmed(text);
  if (!text.empty() && text.front() == '+') text.remove_prefix(1);
  double value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  return error == std::errc() && std::isfinite(value) && std::abs(value) < 1e9 ? value : 0;
}
int to_whole(std::string_view text) { return whole_within(to_number(text), -1000000000, 1000000000); }

std::optional<Tags> parse_tags(std::string_view text) {
  if (text.find('\0') != std::string_view::npos) return std::nullopt;
  Tags tags;
  std::size_t at = 0;
  auto next_line = [&]() -> std::optional<std::string_view> {
    if (at >= text.size()) return std::nullopt;
    const std::size_t end = std::min(text.find('\n', at), text.size());
    const std::string_view line = trimmed(text.substr(at, end - at));
    at = end + 1;
    return line;
  };
  while (const auto code = next_line()) {
    const auto value = next_line();
    if (code->empty() && !value) break;
    int number = 0;
    const auto [end, error] = std::from_chars(code->data(), code->data() + code->size(), number);
    if (error != std::errc() || end != code->data() + code->size()) return std::nullopt;
    if (!value) break;
    tags.push_back({number, *value});
  }
  return tags;
}

struct Entity {
  std::string_view type;
  std::size_t first = 0, last = 0;  // its tags, without the leading 0
  std::vector<Entity> vertices;     // of a POLYLINE
};

class Reader {
 public:
  Reader(const Tags& tags, const DxfOptions& options, DxfReading& out) : tags_(tags), options_(options), out_(out) {}

  void run() {
    scan();
    Affine scale;
    scale.a = scale.d = unit_mm_;
    for (const Entity& entity : entities_) {
      layer_ = text(entity, 8);
      add(entity, scale, 0);
    }
    join();
    find_gaps();
  }

 private:
  void scan() {
    std::string_view section;
    std::string block;
    std::vector<Entity>* target = nullptr;
    for (std::size_t i = 0; i < tags_.size(); ++i) {
      if (tags_[i].code == 9 && tags_[i].value == "$INSUNITS" && i + 1 < tags_.size())
        unit(to_whole(tags_[i + 1].value));
      if (tags_[i].code != 0) continue;
      const std::string_view type = tags_[i].value;
      std::size_t last = i + 1;
      while (last < tags_.size() && tags_[last].code != 0) ++last;
      Entity entity{type, i + 1, last, {}};
      if (type == "SECTION") {
        section = text(entity, 2);
        target = section == "ENTITIES" ? &entities_ : nullptr;
      } else if (type == "ENDSEC") {
        target = nullptr;
      } else if (section == "TABLES" && type == "LAYER") {
        // A negative colour: off. The first flag: frozen.
        if (number(entity, 62) < 0 || (whole_within(number(entity, 70), 0, 0xFFFF) & 1))
          hidden_layers_.insert(std::string(text(entity, 2)));
      } else if (section == "BLOCKS" && type == "BLOCK") {
        block = std::string(text(entity, 2));
        Block& made = blocks_[block];
        made.base = {number(entity, 10), number(entity, 20)};
        target = &made.entities;
      } else if (section == "BLOCKS" && type == "ENDBLK") {
        target = nullptr;
      } else if (target && (type == "VERTEX" || type == "SEQEND")) {
        if (type == "VERTEX" && !target->empty() && target->back().type == "POLYLINE")
          target->back().vertices.push_back(entity);
      } else if (target) {
        target->push_back(std::move(entity));
      }
    }
  }

  void unit(int code) {
    static constexpr std::pair<int, double> known[] = {{1, 25.4},    {2, 304.8},   {4, 1},     {5, 10},  {6, 1000},
                                                       {8, 25.4e-6}, {9, 25.4e-3}, {13, 1e-3}, {14, 100}};
    for (const auto& [number, mm] : known)
      if (number == code) {
        unit_mm_ = mm;
        out_.unit = code == 1 ? "inch" : code == 4 ? "mm" : "other";
      }
  }

  const Tag* find(const Entity& e, int code) const {
    for (std::size_t i = e.first; i < e.last; ++i)
      if (tags_[i].code == code) return &tags_[i];
    return nullptr;
  }
  double number(const Entity& e, int code, double otherwise = 0) const {
    const Tag* tag = find(e, code);
    return tag ? to_number(tag->value) : otherwise;
  }
  std::string_view text(const Entity& e, int code) const {
    const Tag* tag = find(e, code);
    return tag ? tag->value : std::string_view();
  }

  void add(const Entity& e, const Affine& where, int depth) {
    ++out_.entities[std::string(e.type)];
    // What is on layer 0 of a block has the layer of its place.
    const std::string_view own = text(e, 8);
    if (whole_within(number(e, 67), 0, 1) == 1 || (depth == 0 && hidden_layers_.contains(std::string(own))) ||
        (depth > 0 && own != "0" && hidden_layers_.contains(std::string(own)))) {
      ++out_.hidden;
      return;
    }
    const std::string before = layer_;
    if (!own.empty() && (depth == 0 || own != "0")) layer_ = own;
    add_shown(e, where, depth);
    layer_ = before;
  }

  void add_shown(const Entity& e, const Affine& where, int depth) {
    // The only extrusion of flat drawings is upside down: it mirrors x.
    Affine placed = where;
    const double up = number(e, 230, 1), tilt = std::hypot(number(e, 210), number(e, 220));
    const bool own_plane = e.type != "LINE" && e.type != "SPLINE" && e.type != "ELLIPSE";
    if (own_plane && tilt > 1e-6) return unused(e);
    if (own_plane && up < 0) placed = where * Affine{-1, 0, 0, 1, 0, 0};
    if (is_full()) return unused(e);
    if (e.type == "LINE") piece({{number(e, 10), number(e, 20), 0}, {number(e, 11), number(e, 21), 0}}, false, where);
    else if (e.type == "ARC") arc(e, placed);
    else if (e.type == "CIRCLE") circle(e, placed);
    else if (e.type == "LWPOLYLINE") light_polyline(e, placed);
    else if (e.type == "POLYLINE") polyline(e, placed);
    else if (e.type == "ELLIPSE") ellipse(e, where);
    else if (e.type == "SPLINE") spline(e, where);
    else if (e.type == "INSERT") insert(e, placed, depth);
    else if (e.type == "TEXT") text_line(e, placed);
    else unused(e);
  }

  void unused(const Entity& e) { ++out_.unused[std::string(e.type)]; }

  // What comes after that is left out: blocks within blocks can stand for any number of lines.
  bool is_full() const {
    return pieces_.size() + out_.drawing.lines.size() + out_.drawing.texts.size() > most_pieces ||
           vertices_ > most_vertices;
  }

  void piece(std::vector<Vertex> vertices, bool closed, const Affine& where) {
    Contour contour{closed, std::move(vertices)};
    if (!where.keeps_arcs()) {
      const double scale =
          std::max({std::abs(where.a) + std::abs(where.c), std::abs(where.b) + std::abs(where.d), 1e-9});
      std::vector<Vertex> chords;
      for (const Point2& p : flattened(contour, options_.spline_tolerance_mm / scale)) chords.push_back({p.x, p.y, 0});
      if (!closed && !contour.vertices.empty())
        chords.push_back({contour.vertices.back().x, contour.vertices.back().y, 0});
      contour.vertices = std::move(chords);
    }
    const double turn = where.mirrors() ? -1 : 1;
    std::vector<Vertex> clean;
    for (const Vertex& v : contour.vertices) {
      const Point2 p = where(v.x, v.y);
      // Vertices on top of each other are one.
      if (!clean.empty() && std::hypot(clean.back().x - p.x, clean.back().y - p.y) < 1e-7) clean.pop_back();
      clean.push_back({p.x, p.y, v.bulge * turn});
    }
    if (closed && clean.size() > 1 && std::hypot(clean.back().x - clean[0].x, clean.back().y - clean[0].y) < 1e-7)
      clean.pop_back();
    vertices_ += clean.size();
    contour.vertices = std::move(clean);
    if (contour.vertices.size() < 2) return;
    // Two half circles are a circle.
    if (closed && contour.vertices.size() == 2 && std::abs(std::abs(contour.vertices[0].bulge) - 1) < 1e-9 &&
        std::abs(contour.vertices[0].bulge - contour.vertices[1].bulge) < 1e-9) {
      const Vertex &a = contour.vertices[0], &b = contour.vertices[1];
      out_.drawing.add_circle({(a.x + b.x) / 2, (a.y + b.y) / 2}, std::hypot(b.x - a.x, b.y - a.y), layer_);
      return;
    }
    if (closed) out_.drawing.add_line(std::move(contour), layer_);
    else pieces_.push_back({std::move(contour), layer_});
  }

  void arc(const Entity& e, const Affine& where) {
    const double x = number(e, 10), y = number(e, 20), r = number(e, 40);
    const double from = number(e, 50) * pi / 180;
    double swept = std::remainder(number(e, 51) * pi / 180 - from, 2 * pi);
    if (swept <= 0) swept += 2 * pi;
    if (r <= 0) return unused(e);
    auto at = [&](double angle, double bulge) {
      return Vertex{x + r * std::cos(angle), y + r * std::sin(angle), bulge};
    };
    // Half the angle twice: a bulge near a full circle would lose precision.
    const double bulge = std::tan(swept / 8);
    piece({at(from, bulge), at(from + swept / 2, bulge), at(from + swept, 0)}, false, where);
  }

  void circle(const Entity& e, const Affine& where) {
    const double x = number(e, 10), y = number(e, 20), r = number(e, 40);
    if (r <= 0) return unused(e);
    if (!where.keeps_arcs()) return piece({{x + r, y, 1}, {x - r, y, 1}, {x + r, y, 0}}, false, where);
    const Point2 centre = where(x, y);
    out_.drawing.add_circle(centre, 2 * r * where.scale(), layer_);
  }

  void light_polyline(const Entity& e, const Affine& where) {
    std::vector<Vertex> vertices;
    for (std::size_t i = e.first; i < e.last; ++i) {
      const Tag& tag = tags_[i];
      if (tag.code == 10) vertices.push_back({to_number(tag.value), 0, 0});
      else if (tag.code == 20 && !vertices.empty()) vertices.back().y = to_number(tag.value);
      else if (tag.code == 42 && !vertices.empty()) vertices.back().bulge = to_number(tag.value);
    }
    piece(std::move(vertices), to_whole(text(e, 70)) & 1, where);
  }

  void polyline(const Entity& e, const Affine& where) {
    const int flags = whole_within(number(e, 70), 0, 0xFFFF);
    if (flags & (8 | 16 | 64)) return unused(e);  // in space, or a mesh
    std::vector<Vertex> vertices;
    for (const Entity& v : e.vertices) {
      if (whole_within(number(v, 70), 0, 0xFFFF) & 16) continue;  // control point of a curve, not on it
      vertices.push_back({number(v, 10), number(v, 20), number(v, 42)});
    }
    piece(std::move(vertices), flags & 1, where);
  }

  void ellipse(const Entity& e, const Affine& where) {
    const double x = number(e, 10), y = number(e, 20), mx = number(e, 11), my = number(e, 21);
    const double ratio = number(e, 40, 1) * (number(e, 230, 1) < 0 ? -1 : 1);
    const double from = number(e, 41);
    double swept = number(e, 42, 2 * pi) - from;
    if (swept <= 0) swept += 2 * pi;
    const double radius = std::hypot(mx, my) * where.scale();
    if (radius <= 0) return unused(e);
    const double step = 2 * std::acos(std::clamp(1 - options_.spline_tolerance_mm / radius, 0.0, 1.0));
    const int n = whole_within(std::ceil(std::min(swept, 2 * pi) / std::max(step, 1e-3)), 8, 5000);
    const bool whole = swept > 2 * pi - 1e-9;
    std::vector<Vertex> vertices;
    for (int i = 0; i < n + (whole ? 0 : 1); ++i) {
      const double u = from + swept * i / n;
      vertices.push_back(
          {x + mx * std::cos(u) - my * ratio * std::sin(u), y + my * std::cos(u) + mx * ratio * std::sin(u), 0});
    }
    piece(std::move(vertices), whole, where);
  }

  void spline(const Entity& e, const Affine& where) {
    const int degree = whole_within(number(e, 71), 0, 1000);
    std::vector<double> knots, weights;
    std::vector<Point2> control, fit;
    for (std::size_t i = e.first; i < e.last; ++i) {
      const Tag& tag = tags_[i];
      if (tag.code == 11) fit.push_back({to_number(tag.value), 0});
      else if (tag.code == 21 && !fit.empty()) fit.back().y = to_number(tag.value);
      if (tag.code == 40) knots.push_back(to_number(tag.value));
      else if (tag.code == 41) weights.push_back(to_number(tag.value));
      else if (tag.code == 10) control.push_back({to_number(tag.value), 0});
      else if (tag.code == 20 && !control.empty()) control.back().y = to_number(tag.value);
    }
    const std::size_t n = control.size();
    if (n == 0 && fit.size() > 1) return fitted_spline(e, fit, where);
    if (degree < 1 || degree > 10 || n < static_cast<std::size_t>(degree) + 1 || n > 20000 ||
        knots.size() != n + degree + 1 || !std::is_sorted(knots.begin(), knots.end()))
      return unused(e);
    if (weights.size() != n) weights.assign(n, 1);
    // De Boor in homogeneous coordinates.
    auto point = [&](double u, std::size_t span) {
      std::array<std::array<double, 3>, 11> d{};
      for (int j = 0; j <= degree; ++j) {
        const std::size_t k = span - degree + j;
        d[j] = {control[k].x * weights[k], control[k].y * weights[k], weights[k]};
      }
      for (int r = 1; r <= degree; ++r)
        for (int j = degree; j >= r; --j) {
          const double low = knots[span - degree + j], high = knots[span + 1 + j - r];
          const double t = high > low ? (u - low) / (high - low) : 0;
          for (int c = 0; c < 3; ++c) d[j][c] = (1 - t) * d[j - 1][c] + t * d[j][c];
        }
      const double w = d[degree][2] != 0 ? d[degree][2] : 1;
      return Point2{d[degree][0] / w, d[degree][1] / w};
    };
    std::vector<Vertex> vertices;
    const double scale = where.scale();
    for (std::size_t span = degree; span + 1 < knots.size() - degree; ++span) {
      const double low = knots[span], high = knots[span + 1];
      if (high <= low) continue;
      // As coarse as the file's budget of points needs it; what is beyond is left out and told.
      if (curve_points_ > most_curve_points) return unused(e);
      // Doubles the chords of a span until their middles are within the tolerance.
      int pieces = 4;
      for (; pieces < 512; pieces *= 2) {
        double worst = 0;
        for (int i = 0; i < pieces; ++i) {
          const Point2 a = point(low + (high - low) * i / pieces, span),
                       b = point(low + (high - low) * (i + 1) / pieces, span);
          const Point2 m = point(low + (high - low) * (i + 0.5) / pieces, span);
          worst = std::max(worst, std::hypot(m.x - (a.x + b.x) / 2, m.y - (a.y + b.y) / 2));
        }
        curve_points_ += 3 * static_cast<std::size_t>(pieces);
        if (worst * scale < options_.spline_tolerance_mm || curve_points_ > most_curve_points) break;
      }
      for (int i = vertices.empty() ? 0 : 1; i <= pieces; ++i) {
        const Point2 p = point(low + (high - low) * i / pieces, span);
        vertices.push_back({p.x, p.y, 0});
      }
    }
    if (vertices.size() < 2) return unused(e);
    const bool closed =
        std::hypot(vertices.front().x - vertices.back().x, vertices.front().y - vertices.back().y) * scale <
        options_.join_mm;
    piece(std::move(vertices), closed, where);
  }

  // Through its points with a steady curvature (natural cubic over the chord lengths).
  void fitted_spline(const Entity& e, const std::vector<Point2>& p, const Affine& where) {
    const std::size_t n = p.size();
    if (n > 20000) return unused(e);
    std::vector<double> h(n, 0);
    for (std::size_t i = 0; i + 1 < n; ++i) h[i] = std::max(1e-9, std::hypot(p[i + 1].x - p[i].x, p[i + 1].y - p[i].y));
    const auto second = [&](double Point2::*axis) {
      std::vector<double> m(n, 0), c(n, 0), d(n, 0);
      for (std::size_t i = 1; i + 1 < n; ++i) {
        const double a = h[i - 1], b = 2 * (h[i - 1] + h[i]);
        const double r = 6 * ((p[i + 1].*axis - p[i].*axis) / h[i] - (p[i].*axis - p[i - 1].*axis) / h[i - 1]);
        const double w = b - a * c[i - 1];
        c[i] = h[i] / w;
        d[i] = (r - a * d[i - 1]) / w;
      }
      for (std::size_t i = n - 1; i-- > 1;) m[i] = d[i] - c[i] * m[i + 1];
      return m;
    };
    const std::vector<double> mx = second(&Point2::x), my = second(&Point2::y);
    std::vector<Vertex> vertices{{p[0].x, p[0].y, 0}};
    for (std::size_t i = 0; i + 1 < n; ++i) {
      if (curve_points_ > most_curve_points) return unused(e);
      const auto at = [&](double t, double Point2::*axis, const std::vector<double>& m) {
        const double a = 1 - t;
        return a * p[i].*axis + t * p[i + 1].*axis +
               h[i] * h[i] / 6 * ((a * a * a - a) * m[i] + (t * t * t - t) * m[i + 1]);
      };
      const double bend = std::max(std::hypot(mx[i], my[i]), std::hypot(mx[i + 1], my[i + 1])) * h[i] * h[i] / 8;
      const int pieces =
          whole_within(std::ceil(std::sqrt(bend * where.scale() / options_.spline_tolerance_mm)), 1, 512);
      curve_points_ += static_cast<std::size_t>(pieces);
      for (int k = 1; k <= pieces; ++k) {
        const double t = static_cast<double>(k) / pieces;
        vertices.push_back({at(t, &Point2::x, mx), at(t, &Point2::y, my), 0});
      }
    }
    const bool closed =
        std::hypot(p.front().x - p.back().x, p.front().y - p.back().y) * where.scale() < options_.join_mm;
    piece(std::move(vertices), closed, where);
  }

  // With the signs that the format writes as codes.
  static std::string plain_text(std::string_view coded) {
    std::string out;
    for (std::size_t i = 0; i < coded.size(); ++i) {
      const bool code = coded.substr(i, 2) == "%%" && i + 2 < coded.size();
      const char which = code ? static_cast<char>(coded[i + 2] | 0x20) : '\0';
      if (which != 'c' && which != 'd' && which != 'p') {
        out += coded[i];
        continue;
      }
      out += which == 'c' ? "\u00D8" : which == 'd' ? "\u00B0" : "\u00B1";
      i += 2;
    }
    return out;
  }

  // One that begins at its place; what is centred or fitted has a width that only its own font knows.
  void text_line(const Entity& e, const Affine& where) {
    const bool begins_here = to_whole(text(e, 72)) == 0 && to_whole(text(e, 73)) == 0;
    const double height = number(e, 40) * where.scale();
    if (!begins_here || !where.keeps_arcs() || where.mirrors() || !(height > 0) || text(e, 1).empty()) return unused(e);
    out_.drawing.texts.push_back({layer_, plain_text(text(e, 1)), where(number(e, 10), number(e, 20)), height,
                                  number(e, 50) + std::atan2(where.b, where.a) * 180 / pi});
  }

  void insert(const Entity& e, const Affine& where, int depth) {
    const auto block = blocks_.find(std::string(text(e, 2)));
    if (block == blocks_.end() || block->second.entities.empty() || depth >= deepest_insert) return unused(e);
    const double angle = number(e, 50) * pi / 180, sx = number(e, 41, 1), sy = number(e, 42, 1);
    const int columns = whole_within(number(e, 70, 1), 1, 1000), rows = whole_within(number(e, 71, 1), 1, 1000);
    const Affine turn{std::cos(angle), std::sin(angle), -std::sin(angle),
                      std::cos(angle), number(e, 10),   number(e, 20)};
    const Affine base{1, 0, 0, 1, -block->second.base.x, -block->second.base.y};
    for (int row = 0; row < rows; ++row)
      for (int column = 0; column < columns; ++column) {
        const Affine step{1, 0, 0, 1, column * number(e, 44), row * number(e, 45)};
        const Affine scale{sx, 0, 0, sy, 0, 0};
        for (const Entity& inner : block->second.entities) {
          if (is_full() || ++visited_ > most_pieces) return;
          add(inner, where * turn * step * scale * base, depth + 1);
        }
      }
  }

  static Point2 front(const Contour& c) { return {c.vertices.front().x, c.vertices.front().y}; }
  static Point2 back(const Contour& c) { return {c.vertices.back().x, c.vertices.back().y}; }

  // A line that is drawn twice would end the chain it is in.
  void drop_repeated() {
    std::set<std::string> seen;
    std::erase_if(pieces_, [&](const Piece& piece) {
      if (piece.line.vertices.size() != 2) return false;
      std::string way = print_of(piece.line), back = print_of(reversed(piece.line));
      return !seen.insert(piece.layer + "/" + std::min(way, back)).second;
    });
  }

  // Chains open pieces whose ends meet, of one layer unless all may be joined; ends are found through a grid of the
  // joining distance.
  void join() {
    drop_repeated();
    const double cell = std::max(options_.join_mm, 1e-9);
    constexpr double farthest = 1e17;
    auto key = [&](Point2 p) {
      return std::pair{std::llround(std::clamp(p.x / cell, -farthest, farthest)),
                       std::llround(std::clamp(p.y / cell, -farthest, farthest))};
    };
    std::multimap<std::pair<long long, long long>, std::size_t> ends;
    for (std::size_t i = 0; i < pieces_.size(); ++i) {
      ends.emplace(key(front(pieces_[i].line)), i);
      ends.emplace(key(back(pieces_[i].line)), i);
    }
    std::vector<char> used(pieces_.size(), 0);
    auto next = [&](Point2 p, const std::string& layer) -> std::optional<std::size_t> {
      const auto [kx, ky] = key(p);
      for (long long x = kx - 1; x <= kx + 1; ++x)
        for (long long y = ky - 1; y <= ky + 1; ++y) {
          auto [it, high] = ends.equal_range({x, y});
          while (it != high) {
            // Ends that are joined are in nobody's way any more.
            if (used[it->second]) {
              it = ends.erase(it);
              continue;
            }
            const Contour& c = pieces_[it->second].line;
            if (options_.join_layers || pieces_[it->second].layer == layer)
              for (const Point2 end : {front(c), back(c)})
                if (std::hypot(end.x - p.x, end.y - p.y) <= options_.join_mm) return it->second;
            ++it;
          }
        }
      return std::nullopt;
    };
    for (std::size_t i = 0; i < pieces_.size(); ++i) {
      if (used[i]) continue;
      used[i] = 1;
      const std::string layer = pieces_[i].layer;
      Contour chain = pieces_[i].line;
      for (int way = 0; way < 2; ++way) {
        while (const auto other = next(back(chain), layer)) {
          used[*other] = 1;
          Contour add = pieces_[*other].line;
          const Point2 at = back(chain);
          if (std::hypot(front(add).x - at.x, front(add).y - at.y) > options_.join_mm) add = reversed(add);
          chain.vertices.pop_back();
          add.vertices.front().x = at.x;
          add.vertices.front().y = at.y;
          chain.vertices.insert(chain.vertices.end(), add.vertices.begin(), add.vertices.end());
        }
        chain = reversed(chain);
      }
      const Point2 a = front(chain), b = back(chain);
      if (chain.vertices.size() > 2 && std::hypot(a.x - b.x, a.y - b.y) <= options_.join_mm) {
        chain.closed = true;
        chain.vertices.pop_back();
      }
      // A line drawn twice comes back on itself.
      if (chain.closed && chain.vertices.size() == 2 && chain.vertices[0].bulge == -chain.vertices[1].bulge) {
        chain.closed = false;
        chain.vertices[1].bulge = 0;
      }
      out_.drawing.add_line(std::move(chain), layer);
    }
  }

  // Open ends that nearly meet: the drawing looks closed and is not.
  void find_gaps() {
    std::vector<Point2> ends;
    for (const DrawnLine& line : out_.drawing.lines)
      if (!line.contour.closed) ends.insert(ends.end(), {front(line.contour), back(line.contour)});
    std::sort(ends.begin(), ends.end(), [](Point2 a, Point2 b) { return a.x < b.x; });
    for (std::size_t i = 0; i < ends.size(); ++i)
      for (std::size_t k = i + 1; k < ends.size() && k < i + 200 && ends[k].x - ends[i].x <= options_.gap_mm; ++k)
        if (const double gap = std::hypot(ends[k].x - ends[i].x, ends[k].y - ends[i].y); gap <= options_.gap_mm) {
          ++out_.gaps;
          out_.widest_gap_mm = std::max(out_.widest_gap_mm, gap);
        }
  }

  struct Block {
    Point2 base;
    std::vector<Entity> entities;
  };

  const Tags& tags_;
  const DxfOptions& options_;
  DxfReading& out_;
  double unit_mm_ = options_.unstated_unit_mm;
  std::vector<Entity> entities_;
  std::map<std::string, Block> blocks_;
  struct Piece {
    Contour line;
    std::string layer;
  };
  std::vector<Piece> pieces_;
  std::string layer_;
  std::set<std::string> hidden_layers_;
  std::size_t visited_ = 0, vertices_ = 0, curve_points_ = 0;
};

}  // namespace

tl::expected<DxfReading, DxfFault> read_dxf(const std::string& text, const DxfOptions& options) {
  if (text.size() > largest_dxf_bytes) return tl::unexpected(DxfFault{"too_large", {}});
  const auto tags = parse_tags(text);
  if (!tags || tags->empty()) return tl::unexpected(DxfFault{"no_dxf", {}});
  DxfReading out;
  Reader(*tags, options, out).run();
  if (out.drawing.lines.empty())
    return tl::unexpected(DxfFault{out.entities.empty() ? "no_entities" : "no_outline", out.entities});
  return out;
}

}  // namespace pecorra
