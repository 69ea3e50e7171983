// What needs libraries that only seldom are wanted: forms in PDF (libqpdf) and workbooks written (libxlsxwriter). Each
// library that is linked makes every start later, so these two are linked into a module that is loaded at first use.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "formats/documents/form_sheet.h"

namespace pecorra {

struct Documents {
  tl::expected<std::string, FormatFault> (*form_of)(std::string_view pdf, const Sheet& sheet,
                                                    const std::vector<FormCell>& cells);
  tl::expected<Sheet, FormatFault> (*read_form)(std::string_view pdf);
  tl::expected<std::string, FormatFault> (*workbook_of)(const Sheet& sheet);
};

// Loaded at the first call, from the folder of the program's libraries. Fails when the module is not installed.
tl::expected<const Documents*, FormatFault> documents();

}  // namespace pecorra

// The module's one symbol.
extern "C" {
__attribute__((visibility("default"))) extern const pecorra::Documents pecorra_documents;
}
