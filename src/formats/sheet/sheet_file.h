// Sheets in and out as CSV (RFC 4180; comma, semicolon or tab, found by itself) and XLSX.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "core/transfer/sheet.h"
#include "formats/format_fault.h"

namespace pecorra {

// UTF-8 and UTF-16, with or without a mark; anything else is read as Windows-1252. Also what a spreadsheet puts on the
// clipboard. Cells that a spreadsheet would run as a formula are written with an apostrophe in front, which reading
// takes off.
tl::expected<Sheet, FormatFault> read_csv(std::string_view text);
std::string csv_text(const Sheet& sheet, std::string_view line_end = "\r\n");

// The first sheet with anything in it. Numbers as they are stored, dates as YYYY-MM-DD. Files whose parts unpack to
// more than 200 MB are refused.
tl::expected<Sheet, FormatFault> read_xlsx(const std::string& file);
// The bytes of a workbook. Cells that read as numbers are numbers.
tl::expected<std::string, FormatFault> xlsx_of(const Sheet& sheet);

}  // namespace pecorra
