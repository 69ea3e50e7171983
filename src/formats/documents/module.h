// Inside the module: forms in PDF.
#pragma once

#include "formats/documents/form_sheet.h"

namespace pecorra::module {

tl::expected<std::string, FormatFault> pdf_with_cells(std::string_view pdf, const Sheet& sheet,
                                                      const std::vector<FormCell>& cells);
tl::expected<Sheet, FormatFault> read_pdf_form(std::string_view pdf);
tl::expected<std::string, FormatFault> xlsx_of(const Sheet& sheet);

}  // namespace pecorra::module
