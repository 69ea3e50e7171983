// A sheet as the fields of a PDF form (ISO 32000-1, 12.7): printed and written on by hand, or filled in in any PDF
// viewer and read back.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "core/transfer/sheet.h"
#include "formats/format_fault.h"

namespace pecorra {

// Where a cell is written, in points from the upper left corner of its page.
struct FormCell {
  int page = 0;
  double x = 0, y = 0, width = 0, height = 0;
  std::size_t line = 0, column = 0;
  bool seen = true;  // false: it is carried along unseen
};

// The pages of `pdf` with a field for each cell, holding what the sheet says there. Needs libqpdf.
tl::expected<std::string, FormatFault> pdf_with_cells(std::string_view pdf, const Sheet& sheet,
                                                      const std::vector<FormCell>& cells);
// What stands in the fields of such a form, wherever it was filled in.
tl::expected<Sheet, FormatFault> read_pdf_form(std::string_view pdf);

}  // namespace pecorra
