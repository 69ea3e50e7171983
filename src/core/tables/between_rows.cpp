#include "core/tables/between_rows.h"

namespace pecorra {

std::optional<double> value_of(const ConditionRow& row, CurveValue value) {
  return value == CurveValue::speed ? row.vc_m_min : row.feed_mm;
}

std::optional<double> value_between(std::span<const ConditionRow> rows, CurveValue value, double d) {
  const ConditionRow *lo = nullptr, *hi = nullptr;
  for (const ConditionRow& r : rows) {
    if (!value_of(r, value)) continue;
    if (*r.diameter_mm <= d) lo = &r;
    else if (!hi) hi = &r;
  }
  if (!lo && !hi) return std::nullopt;
  if (!lo) return *value_of(*hi, value) * (value == CurveValue::speed ? 1 : d / *hi->diameter_mm);
  if (!hi) return value_of(*lo, value);
  const double a = *value_of(*lo, value), b = *value_of(*hi, value);
  return a + (b - a) * (d - *lo->diameter_mm) / (*hi->diameter_mm - *lo->diameter_mm);
}

}  // namespace pecorra
