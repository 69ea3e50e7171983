// A program made elsewhere in words. The report on it, as it is and as it becomes: a page of HTML with nothing from
// outside, which can be put on paper.
#pragma once

#include <QString>

#include "shop/retune_file.h"

namespace pecorra {

// "8:50 → 12:28 min, 88 words change"
QString retune_summary(const RetunedFile& program);
QString retune_report(const ShopState& state, const RetunedFile& program, UnitSystem units);
// On paper where the name ends in .pdf. Writes the disk; returns the fault, or nothing.
QString save_retune_report(const ShopState& state, const RetunedFile& program, const QString& file, UnitSystem units);

}  // namespace pecorra
