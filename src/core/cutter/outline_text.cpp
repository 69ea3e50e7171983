#include "core/cutter/outline_text.h"

#include <fmt/format.h>
#include <cmath>

#include "core/quantity/entry.h"
#include "core/quantity/print.h"

namespace pecorra {
namespace {

constexpr std::size_t most_points = 5000;

std::vector<std::string_view> parts_of(std::string_view line) {
  std::vector<std::string_view> parts;
  const bool marked = line.find(';') != std::string_view::npos;
  const std::string_view between = marked ? ";" : " \t";
  std::size_t at = 0;
  while (at <= line.size()) {
    const std::size_t end = std::min(line.find_first_of(between, at), line.size());
    std::string_view part = line.substr(at, end - at);
    while (!part.empty() && (part.front() == ' ' || part.front() == '\t')) part.remove_prefix(1);
    while (!part.empty() && (part.back() == ' ' || part.back() == '\t' || part.back() == '\r')) part.remove_suffix(1);
    if (!part.empty()) parts.push_back(part);
    at = end + 1;
  }
  return parts;
}

}  // namespace

tl::expected<std::vector<Vertex>, OutlineTextFault> parse_outline(std::string_view text, UnitSystem units) {
  std::vector<Vertex> outline;
  int number = 0;
  std::size_t at = 0;
  while (at <= text.size()) {
    const std::size_t end = std::min(text.find('\n', at), text.size());
    std::string_view line = text.substr(at, end - at);
    at = end + 1;
    ++number;
    line = line.substr(0, line.find('#'));
    const auto parts = parts_of(line);
    if (parts.empty()) continue;
    const auto fault = [&](std::string what) { return tl::unexpected(OutlineTextFault{number, std::move(what)}); };
    if (parts.size() > 3)
      return fault("has more than distance, height and radius; separate numbers that contain spaces with ;");
    if (parts.size() < 2) return fault("needs a distance from the axis and a height above the tip");
    double values[3] = {};
    for (std::size_t i = 0; i < parts.size(); ++i) {
      const auto entry = parse_entry(parts[i], Quantity::length, units);
      if (!entry) return fault(fmt::format("“{}”: {}", parts[i], entry.error().text));
      values[i] = entry->stored;
    }
    if (outline.size() == most_points)
      return fault(fmt::format("is one point too many; an outline has at most {} points", most_points));
    if (parts.size() == 3 && values[2] != 0) {
      if (outline.empty()) return fault("has a radius, but no arc leads to the first point");
      const double chord = std::hypot(values[0] - outline.back().x, values[1] - outline.back().y),
                   r = std::abs(values[2]);
      if (chord <= 0) return fault("is the same point as the one before; an arc needs two points");
      if (r < chord / 2 * (1 - 1e-9))
        return fault(fmt::format("radius {} is too small for this arc; at least {} is needed",
                                 shown(r, Quantity::length, units), shown(chord / 2, Quantity::length, units)));
      outline.back().bulge = std::copysign(std::tan(std::asin(std::min(1.0, chord / 2 / r)) / 2), values[2]);
    }
    outline.push_back({values[0], values[1], 0});
  }
  return outline;
}

std::string outline_text(const std::vector<Vertex>& outline, UnitSystem units) {
  std::string text;
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const auto mm = [&](double v) { return plain(v / stored_per_shown(Quantity::length, units), 6); };
    text += mm(outline[i].x) + "  " + mm(outline[i].y);
    if (i > 0 && outline[i - 1].bulge != 0) {
      const double chord = std::hypot(outline[i].x - outline[i - 1].x, outline[i].y - outline[i - 1].y),
                   b = outline[i - 1].bulge;
      text += "  " + mm(std::copysign(chord / 2 / std::sin(2 * std::atan(std::abs(b))), b));
    }
    text += "\n";
  }
  return text;
}

}  // namespace pecorra
