// A cut on paper and in files: the cut sheet as PDF, the curves as PNG, PDF or CSV.
#pragma once

#include <QByteArray>
#include <QString>
#include <tl/expected.hpp>

#include "app/cutting/curve_painter.h"
#include "core/transfer/sheet.h"
#include "shop/cut_in_front.h"

namespace pecorra {

// All curves that can be told, beside each other; as "csv" their points.
tl::expected<QByteArray, QString> curves_file(const CutInFront& cut, const QString& ending, const CurveLook& look);
// One line for each point: curve, line, x, y, with units.
Sheet curves_sheet(const CutInFront& cut);

// One page: the context, the drawing of the cut, every figure in mm and in inch, limits, trail, curves, and the
// formulas with their sources.
QByteArray cut_sheet_pdf(const CutInFront& cut, const QString& shop, const CurveLook& look);

}  // namespace pecorra
