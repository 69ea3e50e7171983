// The stock-taking sheet on paper: A4, a line for each cutter and empty ones for what turns up; every cell is a field
// that can be filled in in a PDF viewer, and the file is read like any other list of cutters.
#pragma once

#include <QByteArray>
#include <QString>
#include <tl/expected.hpp>

#include "app/look/look.h"
#include "core/transfer/sheet.h"
#include "formats/format_fault.h"

namespace pecorra {

// `sheet`: of stock_sheet(). Its last column is carried along unseen.
tl::expected<std::string, FormatFault> stock_sheet_pdf(const Sheet& sheet, const QString& title,
                                                       const QString& subtitle, const PaperLook& look);

}  // namespace pecorra
