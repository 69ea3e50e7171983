// The curves around one cut, as data: what changes when one input does, with the working point on them. Drawn by the
// window, printed on the cut sheet, written as CSV.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include "core/mechanics/cut_model.h"
#include "core/mechanics/stability.h"

namespace pecorra {

enum class CurveKind { power, torque, deflection, chip, force, stability };
template <>
std::span<const Choice> choices_of<CurveKind>();

enum class SeriesRole { main, second, limit, short_time, tooth };

struct CurvePoint {
  double x = 0, y = 0;
  bool operator==(const CurvePoint&) const = default;
};

struct CurveSeries {
  SeriesRole role = SeriesRole::main;
  std::string_view label;  // source text for translation
  int tooth = 0;           // of a tooth, from 1
  std::vector<CurvePoint> points;
};

struct Curve {
  CurveKind kind = CurveKind::power;
  std::string_view x_label, x_symbol;
  Quantity x = Quantity::number, y = Quantity::number;
  double from_x = 0, to_x = 1, to_y = 1;  // worth showing; y starts at 0
  std::vector<CurveSeries> series;
  std::optional<CurvePoint> working;
  std::optional<ForceBand> band;   // of the main series: from a sharp to a worn edge, over its values
  std::optional<double> better_x;  // the nearest good point, if this one is not
  double damped_to_x = 0;          // of stability: below this speed the curve is pessimistic
  std::string_view property;       // the input that x is, for dragging the working point; empty: none
};

// The curves known for this cut; `now` is its report.
std::vector<Curve> curves_of(const CutModel& model, const Cut& cut, const CutReport& now);
// One kind; nothing if it is not known.
std::optional<Curve> curve_of(CurveKind kind, const CutModel& model, const Cut& cut, const CutReport& now);

}  // namespace pecorra
