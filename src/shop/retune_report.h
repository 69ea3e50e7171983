// The report on a program made elsewhere, as it is and as it becomes: a page of HTML with nothing from outside, which
// can be put on paper.
#pragma once

#include <QString>

#include "shop/retune_file.h"

namespace pecorra {

QString retune_report(const ShopState& state, const RetunedFile& program, UnitSystem units);
// On paper where the name ends in .pdf. Writes the disk; returns the fault, or nothing.
QString save_retune_report(const ShopState& state, const RetunedFile& program, const QString& file, UnitSystem units);

}  // namespace pecorra
